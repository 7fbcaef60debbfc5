"""Numbers that a log may be reckoned anew with: those kept for a channel, its curve in use, a formula."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves.formula import FormulaCurve
from ..document.channel import ContinuousChannel
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..words.errors import NotApplicable
from .relogging import values_of_curve, values_of_form

Array = NDArray[np.float64]
CURVE, FORMULA = "curve", "formula"


class NumbersOffered(NamedTuple):
    """Some numbers by a key of their own, in words."""

    key: str
    words: str


def numbers_on_offer(job: Job, channel: ContinuousChannel) -> tuple[NumbersOffered, ...]:
    """What a channel's log may be reckoned anew with, the newest kept first."""
    packs = job.journal.of(channel.id).packs
    kept = [
        NumbersOffered(str(n), f"kept {pack.made:%Y-%m-%d %H:%M}, {pack.form.title.lower()}")
        for n, pack in enumerate(packs, 1)
    ]
    use = curve_in_use(job, channel)
    curve = [] if use is None else [NumbersOffered(CURVE, f"the curve in use: {use.caption}")]
    return (*curve, *kept[::-1], NumbersOffered(FORMULA, "a formula …"))


def values_by(job: Job, channel: ContinuousChannel, key: str, formula: str = "") -> Array:
    """The values of all counts, shape (full count + 1,), in the channel's unit, by numbers on offer.

    A formula is of x, the signal at the pin in its unit. Raises: NotApplicable, FormulaError, ValidationError.
    """
    if key == CURVE:
        use = curve_in_use(job, channel)
        if use is None:
            raise NotApplicable(f"{channel.tag} has no curve yet. Describe it, or choose one at Fit.")
        return values_of_curve(use.curve, channel)
    if key == FORMULA:
        ends = (channel.path.converter.start, channel.path.converter.end)
        return values_of_curve(FormulaCurve(text=formula, low=ends[0], high=ends[1], domain=ends), channel)
    packs = job.journal.of(channel.id).packs
    if not key.isdecimal() or not 1 <= int(key) <= len(packs):
        raise NotApplicable(f"{channel.tag} has no such numbers. It has {len(packs)} kept.")
    record = packs[int(key) - 1]
    return values_of_form(record.form, record.unit, channel)
