"""The trim of a channel's kept numbers by its checks, what the wiring explains of it, and the look at the terminal."""

from typing import NamedTuple

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.controller import CHASSIS
from ..document.nominal import curve_in_unit
from ..forms.any_form import AnyForm
from ..forms.spec import PackSpec
from ..forms.table import Knots
from ..job.in_force import curve_in_use, packed_curve
from ..job.job import Job
from ..pack.inputs import PackInputs, pack_inputs
from ..stages.base import MILLI
from ..words.errors import BadTable, NotApplicable
from ..words.numerals import significant
from .check_budget import doubt_of
from .checks import Check, checks_of
from .trim import Mismatch, Trim, mismatch_of, trimmed

SHARED_RETURN_V = 0.02  # what a return lead that others share may well put on a signal
_AGREES = 0.35  # of what is missing: nearer than that a meter agrees with one side


def numbers_in_force(job: Job, channel: ContinuousChannel) -> tuple[AnyForm, PackInputs]:
    """The numbers kept for a channel, and what new ones in the same form are made from.

    Raises: NotApplicable without any, or in another unit.
    """
    record = job.pack_of(channel.id)
    if record is None:
        raise NotApplicable(
            f"No numbers are kept for {channel.tag}, so there is nothing to trim. Pack and keep them first."
        )
    if record.unit != channel.unit:
        raise NotApplicable(
            f"{channel.tag} was packed in {record.unit} and is worked in {channel.unit}. Pack it again first."
        )
    return record.form, pack_inputs(job, channel, record.spec.with_(given=()))


def trim_of(job: Job, channel: ContinuousChannel, offset_only: bool = False) -> Trim:
    """What the checks of the numbers in force ask for. Raises: NotApplicable, BadTable as there is nothing to trim."""
    checks = checks_in_force(job, channel)
    if not checks:
        raise BadTable("There is no check to trim by. Enter a reference value and what was shown.")
    form, inputs = numbers_in_force(job, channel)
    mismatch = _mismatch(job, channel, checks, offset_only)
    return trimmed(inputs, form, [one.reference for one in checks], [one.shown for one in checks], mismatch)


def checks_in_force(job: Job, channel: ContinuousChannel) -> list[Check]:
    """The checks of the numbers that are kept now."""
    return [check for check in checks_of(job, channel) if not check.stale]


def _mismatch(job: Job, channel: ContinuousChannel, checks: list[Check], offset_only: bool) -> Mismatch:
    doubts = [doubt_of(job, channel, check.row) for check in checks]
    known = [doubt.standard for doubt in doubts if doubt is not None]
    standards = known if len(known) == len(checks) else None
    return mismatch_of([one.reference for one in checks], [one.shown for one in checks], standards, offset_only)


def spec_with(form: AnyForm, spec: PackSpec) -> PackSpec:
    """Settings that make exactly these numbers. Raises: NotApplicable for a form whose numbers cannot be given."""
    if isinstance(form, Knots):
        return spec.with_(spacing="own", own_knots=tuple(zip(form.signals, form.values, strict=True)), max_error=None)
    if not form.given:
        raise NotApplicable(
            f"“{form.title}” takes no numbers of its own: note what the trim asks for, and fit the readings again."
        )
    return spec.with_(given=tuple((one.name, float(getattr(form, one.name))) for one in form.given))


class WiringLimit(NamedTuple):
    """How much of the signal at the pin the wiring may explain, in the pin's unit, and why so much."""

    signal: float
    why: str


SHARED_RETURN = WiringLimit(SHARED_RETURN_V, "a return lead that others share")


def wiring_limit(channel: ContinuousChannel) -> WiringLimit | None:
    """What the channel's setting says, else what the return lead may put on a voltage; None for another signal."""
    if channel.trim_limit is not None:
        return WiringLimit(channel.trim_limit, "the limit set for a trim")
    if channel.path.pin_unit != "V":
        return None
    landing = channel.landing
    if landing is not None and landing.return_to == CHASSIS:
        return WiringLimit(landing.chassis_offset_mv / MILLI, "its return goes to the chassis")
    return SHARED_RETURN


def trim_advice(
    trim: Trim, count: int, limit: WiringLimit | None, unit: str, offset_only: bool = False
) -> tuple[str, ...]:
    """What so many checks could and could not tell, and that no wiring explains so much, where that is so.

    `limit` is in `unit`, that of the pin.
    """
    said = [_told(trim.mismatch.certainty, count, offset_only)]
    most = max((abs(one) for one in trim.in_signal if one is not None), default=0.0)
    if limit is not None and most > limit.signal:
        off = f"{_small(most, unit)}, more than {_small(limit.signal, unit)} ({limit.why})"
        said.append(
            f"The signal would have to be off by {off}: look at the return lead, and compare with a meter at the "
            "terminal before trimming."
        )
    return tuple(said)


def _told(certainty: float | None, count: int, offset_only: bool) -> str:
    """Whether a gain was told from chance, and if not, what would tell it."""
    if offset_only:
        return "Only the offset is changed, as asked."
    if certainty is None and count == 1:
        return "One mismatch tells an offset; whether the gain is off too it cannot. Check near the other end."
    if certainty is None:
        return "These mismatches cannot tell a gain from chance: state their uncertainty, or check a third value."
    if certainty < 1:
        return "The errors do not tell a gain from chance: only what they share is taken off."
    return "The errors change with the value, more than by chance: offset and gain are both changed."


def _small(signal: float, unit: str) -> str:
    """A difference of signals; of volts in mV where it is small."""
    return _volts(signal) if unit == "V" else f"{significant(signal, 3)} {unit}"


def _volts(volts: float) -> str:
    return f"{significant(MILLI * volts, 3)} mV" if abs(volts) < 1 else f"{significant(volts, 4)} V"


def compared_at_terminal(job: Job, channel: ContinuousChannel, check: Check, meter: float) -> str:
    """What a meter at the signal terminal, against the sensor's own return, tells of a check; in the pin's unit.

    Raises: NotApplicable without a curve or kept numbers.
    """
    use, record = curve_in_use(job, channel), job.pack_of(channel.id)
    if use is None or record is None:
        raise NotApplicable("There is nothing to compare the meter with: describe the sensor and keep numbers first.")
    shows = curve_in_unit(packed_curve(record.form, channel), record.unit, channel)
    wanted, seen = (float(np.asarray(curve.signal(value))) for curve, value in
                    ((use.curve, check.reference), (shows, check.shown)))  # fmt: skip
    unit = channel.path.pin_unit
    told = (
        f"At {significant(check.reference, 5)} {channel.unit} the sensor should give {significant(wanted, 5)} {unit}, "
        f"and the input takes it for {significant(seen, 5)} {unit}. "
    )
    apart = abs(seen - wanted)
    if abs(meter - wanted) <= _AGREES * apart:
        return told + (
            f"The meter agrees with the sensor: the {_volts(seen - wanted)} arise between the terminal and the input. "
            "Look at the return lead and the ground; a trim would only hide them."
        )
    if abs(meter - seen) <= _AGREES * apart:
        return told + (
            "The meter agrees with the input: the wiring from the terminal on is sound, the sensor gives another "
            "signal. A trim sets it right as long as it stays so; fit its readings again for good."
        )
    return told + "The meter agrees with neither: check that it is held to the signal and to the sensor's own return."
