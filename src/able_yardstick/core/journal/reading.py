"""What was seen, once: never edited, never deleted. A correction is an amendment beside it."""

from collections.abc import Iterable
from datetime import datetime
from functools import cached_property
from typing import Literal, NamedTuple, Self

from pydantic import Field, model_validator

from ..path.node import Met, Node
from ..path.pin import true_pin
from ..path.signal_path import Path
from ..units.conditions import NOMINAL, Conditions
from ..words.errors import TooFewReadings
from ..words.record import Finite, Frozen, added_later
from .sample import Series

Direction = Literal["up", "down", "not stated"]
Purpose = Literal["gather", "prove"]
Origin = Literal["measured", "rated", "assumed"]
Stimulated = Literal["whole loop", "at the terminal", "transducer alone", "not stated"]


class Raw(Frozen):
    """A signal as it was read: mean of `count` samples at one node of the path, in the unit written.

    `digit` is the step of the last digit, where it was typed.
    """

    mean: Finite
    node: Node = "pin"
    unit: str = "V"
    spread: Finite | None = Field(default=None, ge=0)
    count: int = Field(default=1, ge=1)
    digit: Finite | None = added_later(None, gt=0)

    @classmethod
    def from_series(cls, series: Series) -> Self:
        """Mean and standard deviation of the good samples of a window, where they were met.

        Raises: TooFewReadings if none is good.
        """
        good = series.good.values
        if not len(good):
            raise TooFewReadings(
                f"None of {len(series)} samples is good: nothing to take a mean of. See why they are bad.",
                needed=1,
                found=0,
            )
        spread = float(good.std(ddof=1)) if len(good) > 1 else None
        return cls(mean=float(good.mean()), node=series.met.node, unit=series.met.unit, spread=spread, count=len(good))

    def at_pin(self, path: Path, conditions: Conditions = NOMINAL) -> float:
        """The true signal at the pin, in the pin's unit. Raises: UnitMismatch."""
        return float(true_pin(path, self.mean, self.met, conditions))

    @property
    def met(self) -> Met:
        """Where it was read."""
        return Met(self.node, self.unit)


class Reading(Frozen):
    """What the reference said, what the sensor said, and what the controller showed, together.

    `purpose` tells readings a curve is fitted to from checks it is proved with. `basis` names, for a check, the
    revision of the packing that was in the controller when it was taken.
    """

    id: str
    channel: str
    captured: datetime
    purpose: Purpose = "gather"
    reference: Finite
    reference_unit: str
    reference_id: str | None = None
    reference_read: Finite | None = None  # as the instrument showed it, before its corrections
    reference_standard: Finite | None = Field(default=None, ge=0)  # its standard uncertainty, in reference_unit
    reference_note: str = ""  # that it was overdue, say
    reference_spread: Finite | None = Field(default=None, ge=0)
    reference_count: int | None = Field(default=None, ge=1)  # of its own samples; None where it is not known
    set_value: Finite | None = None  # the stop of the plan it was taken at, in the channel's unit then
    raw: Raw | None = None
    shown: Finite | None = None
    shown_unit: str = ""
    shown_by: str = added_later("")  # another device's display, by its name
    reference_rate: Finite | None = added_later(None)  # its movement over the window, in reference_unit a second
    direction: Direction = "not stated"
    stimulated: Stimulated = "not stated"
    origin: Origin = "measured"
    source: str = "typed"
    orientation: str = ""  # of a device with several axes: which one was loaded, and how
    conditions: Conditions = NOMINAL
    basis: str = ""

    @cached_property
    def json_text(self) -> bytes:
        """The reading as JSON on one line, UTF-8, without what is at its default: there may be ten thousand of them."""
        return self.model_dump_json(exclude_defaults=True).encode()

    @model_validator(mode="after")
    def _says_something(self) -> Self:
        if self.raw is None and self.shown is None:
            raise ValueError("a reading needs the raw signal, or what the controller showed, beside the reference")
        if self.purpose == "gather" and self.raw is None:
            raise ValueError("a reading to fit a curve to needs the raw signal beside the reference")
        return self


class NamedReference(Frozen):
    """The instrument that a reference was read off, named afterwards, with what a reading else keeps from the start."""

    instrument: str
    value: Finite
    unit: str
    read: Finite
    standard: Finite | None = Field(default=None, ge=0)
    note: str = ""


class Amendment(Frozen):
    """A change beside a reading: it is left out, taken back in, or some of its figures are corrected."""

    reading: str
    made: datetime
    kind: Literal["exclude", "include", "correct"]
    reason: str = ""
    reference: Finite | None = None
    raw_mean: Finite | None = None
    shown: Finite | None = None
    direction: Direction | None = None
    origin: Origin | None = added_later(None)
    named: NamedReference | None = added_later(None)

    @model_validator(mode="after")
    def _exclusion_has_a_reason(self) -> Self:
        if self.kind == "exclude" and not self.reason.strip():
            raise ValueError("an excluded reading needs a reason: say what was wrong with it")
        return self


class Amended(NamedTuple):
    """A reading as it stands after its amendments."""

    reading: Reading
    excluded: str = ""
    corrected: bool = False

    @property
    def is_used(self) -> bool:
        """Whether it takes part in the fit or the proof."""
        return not self.excluded


def amended(reading: Reading, amendments: Iterable[Amendment]) -> Amended:
    """The reading with its amendments applied in their order."""
    current, excluded, corrected = reading, "", False
    for amendment in amendments:
        if amendment.kind == "correct":
            current, corrected = _corrected(current, amendment), True
        else:
            excluded = amendment.reason if amendment.kind == "exclude" else ""
    return Amended(current, excluded, corrected)


def _corrected(reading: Reading, amendment: Amendment) -> Reading:
    changes: dict[str, object] = {}
    named = amendment.named
    if named is not None:
        changes |= {
            "reference": named.value, "reference_unit": named.unit, "reference_read": named.read,
            "reference_id": named.instrument, "reference_standard": named.standard, "reference_note": named.note,
        }  # fmt: skip
    if amendment.reference is not None:
        changes["reference"] = amendment.reference
    if amendment.shown is not None:
        changes["shown"] = amendment.shown
        changes["shown_unit"] = reading.shown_unit or reading.reference_unit
    if amendment.direction is not None:
        changes["direction"] = amendment.direction
    if amendment.origin is not None:
        changes["origin"] = amendment.origin
    if amendment.raw_mean is not None and reading.raw is not None:
        changes["raw"] = reading.raw.with_(mean=amendment.raw_mean)
    return reading.with_(**changes)
