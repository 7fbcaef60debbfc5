"""The checks of a channel as they stand, and what they come to."""

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.nominal import curve_in_unit
from ..gather.points import pin_of
from ..job.in_force import kept_packing, packed_curve, shown_of
from ..job.job import Job
from ..journal.reading import Amended
from ..journal.records import PackRecord
from .check_budget import doubt_of
from .missed import Missed, PlannedCheck, missed_by
from .proof import Proof, prove
from .rule import limit_of
from .weak import weaknesses

Array = NDArray[np.float64]


class Check(NamedTuple):
    """A check as it stands: what was shown, in the channel's unit, and whether it is of the packing in force."""

    row: Amended
    reference: float
    shown: float
    reckoned: bool
    stale: bool
    pin: float


def checks_of(job: Job, channel: ContinuousChannel) -> list[Check]:
    """The checks of a channel that are not excluded; those only read raw are reckoned with the packing kept."""
    record = kept_packing(job, channel)
    found = []
    for row in job.amended(channel.id, "prove"):
        if row.is_used:
            check = _check(channel, row, record)
            if check is not None:
                found.append(check)
    return found


def _check(channel: ContinuousChannel, row: Amended, record: PackRecord | None) -> Check | None:
    reading = row.reading
    reference = channel.in_unit(reading.reference, reading.reference_unit)[0]
    if reading.shown is not None:
        shown = channel.in_unit(reading.shown, reading.shown_unit or reading.reference_unit)[0]
        stale = record is None or reading.basis != record.revision
        return Check(row, reference, shown, False, stale, _pin_of_check(channel, row, record, reference))
    if record is None:
        return None
    pin = pin_of(channel, row)
    shown = float(shown_of(record.form, channel, np.array([pin]))[0])
    return Check(row, reference, channel.in_unit(shown, record.unit)[0], True, False, pin)


def _pin_of_check(channel: ContinuousChannel, row: Amended, record: PackRecord | None, reference: float) -> float:
    """Where a check stands on the axis: at its signal if it was read, else where the packing shows the reference.

    What was shown says nothing of the place where the numbers in the controller are others.
    """
    if row.reading.raw is not None or record is None:
        return pin_of(channel, row)
    curve = curve_in_unit(packed_curve(record.form, channel), record.unit, channel)
    found = curve.branches(reference)
    return found[0] if found else float("nan")


def proof_of(job: Job, channel: ContinuousChannel) -> Proof:
    """The judgement of the checks that belong to the packing in force.

    Raises: TooFewReadings without such a check or without a tolerance.
    """
    checks = [check for check in checks_of(job, channel) if not check.stale]
    doubts = [doubt_of(job, channel, check.row) for check in checks]
    return prove(
        [c.reference for c in checks], [c.shown for c in checks], channel.tolerance, channel.span, channel.decision,
        doubts,
    )  # fmt: skip


def missed_of(job: Job, channel: ContinuousChannel) -> tuple[Missed, ...]:
    """What the checks of the packing in force would miss; none where an uncertainty is not known.

    Raises: TooFewReadings as `proof_of`.
    """
    planned = taken_checks(job, channel)
    return missed_by(planned, *channel.range) if planned else ()


def taken_checks(job: Job, channel: ContinuousChannel) -> tuple[PlannedCheck, ...]:
    """The checks of the packing in force, as a proof sees them; none where an uncertainty is not known.

    Raises: TooFewReadings as `proof_of`.
    """
    checks = [check for check in checks_of(job, channel) if not check.stale]
    proof = proof_of(job, channel)
    planned = tuple(
        PlannedCheck(
            result.reference, limit_of(proof.rule, result.allowed, result.doubt), result.doubt.standard,
            check.row.reading.direction,
        )
        for check, result in zip(checks, proof.checks, strict=True) if result.doubt is not None
    )  # fmt: skip
    return planned if len(planned) == len(checks) else ()


def weaknesses_of(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """Why the checks of the packing in force are worth little; none where nothing speaks against them."""
    checks = [check for check in checks_of(job, channel) if not check.stale]
    rows = (row.reading for row in job.amended(channel.id, "gather") if row.is_used)
    stops = {(row.reference, row.reference_unit) for row in rows}
    gathered = [channel.in_unit(value, unit)[0] for value, unit in stops]
    ways = [check.row.reading.direction for check in checks]
    return weaknesses([check.reference for check in checks], ways, gathered, *channel.range)


def was_shown(job: Job, channel: ContinuousChannel) -> bool:
    """Whether it was seen what the controller showed before its numbers were changed."""
    return next(_shown_while_gathered(job, channel), None) is not None or bool(_last_run(job, channel))


def as_found(job: Job, channel: ContinuousChannel) -> Proof | None:
    """What the controller showed before anything was changed, judged by the same rule; None if it was not seen."""
    rows = found_rows(job, channel)
    if not rows or not channel.tolerance.is_stated:
        return None
    doubts = [doubt_of(job, channel, one.row) for one in rows]
    shown = [one.shown for one in rows]
    return prove([one.reference for one in rows], shown, channel.tolerance, channel.span, channel.decision, doubts)


class FoundRow(NamedTuple):
    """A reading with which it was seen what the controller showed, in the channel's unit."""

    row: Amended
    reference: float
    shown: float


def found_rows(job: Job, channel: ContinuousChannel) -> list[FoundRow]:
    """What the controller showed before anything was changed: while readings were gathered, else in the last run.

    That is the one taken with the numbers that were in force before those of now.
    """
    return list(_shown_while_gathered(job, channel)) or _last_run(job, channel)


def _shown_while_gathered(job: Job, channel: ContinuousChannel) -> Iterator[FoundRow]:
    for row in job.amended(channel.id, "gather"):
        reading = row.reading
        if row.is_used and reading.shown is not None:
            shown = channel.in_unit(reading.shown, reading.shown_unit or reading.reference_unit)[0]
            yield FoundRow(row, channel.in_unit(reading.reference, reading.reference_unit)[0], shown)


def _last_run(job: Job, channel: ContinuousChannel) -> list[FoundRow]:
    """The checks of the latest earlier numbers that were checked at all."""
    stale = [check for check in checks_of(job, channel) if check.stale]
    for record in reversed(job.journal.of(channel.id).packs[:-1]):
        rows = [check for check in stale if check.row.reading.basis == record.revision]
        if rows:
            return [FoundRow(check.row, check.reference, check.shown) for check in rows]
    return []
