"""The checks of a channel that a mistake is looked for in, and what its controller should make of the pin."""

import numpy as np
from numpy.typing import NDArray

from ...curves import AnyCurve, Curve
from ...document.channel import ContinuousChannel
from ...document.nominal import curve_in_unit, nominal_curve
from ...document.once import once_per_slice
from ...job.in_force import curve_in_use, kept_packing, packed_curve
from ...job.job import Job
from ...words.errors import NotApplicable, YardstickError
from ..check_budget import doubt_of
from ..checks import checks_of, found_rows
from .base import MistakeCase
from .naming import Checks, Naming, Suspect, named

Array = NDArray[np.float64]
_ALONG = 129
_ASSUMED = 0.005  # of the span, k = 2: coarse enough to name only what is plain
_K = 2.0  # of an uncertainty that somebody states


def naming_of(job: Job, channel: ContinuousChannel, expanded: float | None = None) -> Naming:
    """The mistakes that explain a channel's checks of the numbers in force, else what was found while gathering.

    `expanded` is the uncertainty of every check, k = 2, in the channel's unit, in place of what is known of each. Where
    nothing is known half a percent of the span is assumed, and the result says so.

    Raises: NotApplicable without a curve, BadTable without checks.
    """
    return _naming_of(job, channel, expanded, _key_of_others(job, channel))


def _key_of_others(job: Job, channel: ContinuousChannel) -> int:
    """Changes with what is described of other channels, or kept for them: their numbers may be in force here."""
    others = (other for other in job.channels if isinstance(other, ContinuousChannel) and other.id != channel.id)
    packs = ((other, job.pack_of(other.id)) for other in others)
    return hash(tuple((other.json_text, None if pack is None else pack.revision) for other, pack in packs))


@once_per_slice
def _naming_of(job: Job, channel: ContinuousChannel, expanded: float | None, _others: int) -> Naming:
    kept = [row for row in checks_of(job, channel) if not row.stale]
    rows = kept or found_rows(job, channel)
    doubts = [doubt_of(job, channel, one.row) for one in rows]
    assumed = _ASSUMED * channel.span if None in doubts and expanded is None else 0.0
    standards = [assumed / _K if doubt is None else doubt.standard for doubt in doubts]
    checks = Checks(
        np.array([one.reference for one in rows]), np.array([one.shown for one in rows]),
        np.array(standards if expanded is None else [expanded / _K] * len(rows)),
    )  # fmt: skip
    return named(case_of(job, channel, by_packing=bool(kept)), checks)._replace(assumed=assumed)


def expected_errors(job: Job, channel: ContinuousChannel, suspect: Suspect) -> tuple[Array, Array]:
    """The error curve that a mistake makes: signals of the pin and errors, (n,) each in the units of pin and channel.

    Empty where the channel's curve does not reach.
    """
    kept = any(not row.stale for row in checks_of(job, channel))
    case = case_of(job, channel, by_packing=kept)
    try:
        place = case.at(np.linspace(*channel.range, _ALONG))
    except YardstickError:
        return np.array([]), np.array([])
    shown = np.asarray(suspect.guess.shown(place, suspect.theta))
    return place.pin, shown - place.values


def case_of(job: Job, channel: ContinuousChannel, by_packing: bool) -> MistakeCase:
    """A channel with its true curve; read by the numbers kept for it, or by that curve itself.

    Raises: NotApplicable without a curve.
    """
    use = curve_in_use(job, channel)
    if use is None:
        raise NotApplicable(f"{channel.tag} has no curve to tell a mistake from. Describe it, or fit its readings.")
    record = kept_packing(job, channel) if by_packing else None
    shows: AnyCurve = use.curve
    if record is not None:
        shows = curve_in_unit(packed_curve(record.form, channel), record.unit, channel)
    return MistakeCase(
        channel, use.curve, shows, use.chosen and job.amended(channel.id, "gather") != [], _others(job, channel)
    )


def _others(job: Job, channel: ContinuousChannel) -> tuple[tuple[str, Curve], ...]:
    """The curves of other channels whose pins carry the same kind of signal, by tag."""
    found: list[tuple[str, Curve]] = []
    for other in job.channels:
        if not isinstance(other, ContinuousChannel) or other.id == channel.id:
            continue
        if other.path.pin_unit == channel.path.pin_unit:
            curve = _numbers_of(job, other)
            if curve is not None:
                found.append((other.tag, curve))
    return tuple(found)


def _numbers_of(job: Job, channel: ContinuousChannel) -> Curve | None:
    """What a channel's numbers make of its pin, in whatever unit they are."""
    try:
        record = kept_packing(job, channel)
        return nominal_curve(channel) if record is None else packed_curve(record.form, channel)
    except YardstickError:
        return None
