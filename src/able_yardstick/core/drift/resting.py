"""A reference instrument is found wrong: how far what rests on it is shifted, and which results would now fail.

What the instrument read was corrected by the certificate of then. Another correction moves the reference, and every
error (shown minus reference) the other way; at an output's terminal it moves what was given, and the error with it.
"""

from collections.abc import Mapping, Sequence
from typing import Any, Literal, NamedTuple

import numpy as np

from ..sign.kinds.read_off import ReadOff
from ..sign.kinds.registry import kind_of_record

ShiftOutcome = Literal["still passes", "no longer sure", "now fails", "failed before", "not judged"]
Corrections = Sequence[tuple[float, float]]  # readings and what is added to them, in the instrument's unit


class ShiftedCheck(NamedTuple):
    """A check as left: its value, its error as signed and as it is now, the error allowed and U, in the unit."""

    value: float
    before: float
    after: float
    allowed: float
    expanded: float

    @property
    def outcome(self) -> ShiftOutcome:
        """How it stands now."""
        if abs(self.before) > self.allowed:
            return "failed before"
        if abs(self.after) > self.allowed:
            return "now fails"
        return "no longer sure" if abs(self.after) + self.expanded > self.allowed else "still passes"


class ShiftedRecord(NamedTuple):
    """A record that rests on the instrument: whose, of when, and its checks as they are now.

    What is not signed has no day and no hash.
    """

    tag: str
    serial: str
    signed: str
    sha256: str
    unit: str
    certificate: str
    checks: tuple[ShiftedCheck, ...]
    readings: int  # of the curve that were read off the instrument

    @property
    def worst(self) -> ShiftedCheck | None:
        """The check that is now nearest to its limit, or furthest beyond it."""
        return max(self.checks, key=lambda one: abs(one.after) / max(one.allowed, 1e-12), default=None)

    @property
    def outcome(self) -> ShiftOutcome:
        """The worst of its checks."""
        order: tuple[ShiftOutcome, ...] = ("now fails", "no longer sure", "failed before", "still passes")
        found = {one.outcome for one in self.checks}
        return next((one for one in order if one in found), "not judged")


def shifted(
    record: Mapping[str, Any], sha256: str, instrument: str, certificate: str, corrections: Corrections
) -> ShiftedRecord:
    """A signed record with the corrections that its instrument (by serial or id) should have had.

    Checks by an instrument of another quantity are not judged.
    """
    channel = record["channel"]
    reference = next(one for one in record["references"] if instrument in (one["serial"], one["id"]))
    own = [row for row in record["readings"] if row["reference_id"] == reference["id"]]
    road = (
        kind_of_record(record).read_off(channel, reference) if any(row["purpose"] == "prove" for row in own) else None
    )
    checks = (record.get("proof") or {}).get("checks", ()) if road is not None else ()
    return ShiftedRecord(
        channel["tag"], (record.get("unit") or {}).get("serial", ""), record["signed"][:10], sha256, channel["unit"],
        certificate,
        tuple(_shifted(check, reference, road, corrections) for check in checks if road is not None),
        sum(row["purpose"] == "gather" for row in own),
    )  # fmt: skip


def _shifted(
    check: Mapping[str, Any], reference: Mapping[str, Any], road: ReadOff, corrections: Corrections
) -> ShiftedCheck:
    reading = road.reading(check)
    before = [(row["reading"], row["correction"]) for row in reference["corrections"]]
    missing = road.gain * (_corrected(corrections, reading) - _corrected(before, reading))
    doubt = check.get("doubt") or {}
    error = float(check["error"])
    return ShiftedCheck(
        float(check["reference"]),
        error,
        error + road.sign * missing,
        float(check["allowed"]),
        float(doubt.get("expanded", 0.0)),
    )


def _corrected(corrections: Corrections, reading: float) -> float:
    """What is added to a reading, between the certificate's lines in proportion; 0 where it has none."""
    if not corrections:
        return 0.0
    readings, added = zip(*sorted(corrections), strict=True)
    return float(np.interp(reading, readings, added))
