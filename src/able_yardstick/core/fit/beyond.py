"""Beyond the readings: how far off a curve with more terms, as well borne out by them, would be there."""

from collections.abc import Iterator

import numpy as np

from ..document.once import once_per_inputs
from ..regression.fitted import FitSpec, Fitted
from ..regression.kinds import DEGREES
from ..regression.models import fit
from ..uncertainty.coverage import Contribution
from ..words.errors import YardstickError
from .inputs import FitInputs

_AS_SMALL = 1.5  # times the scatter about the curve in question
_CHANCE = 0.05


def bend_beyond(inputs: FitInputs, fitted: Fitted, pin: float) -> Contribution | None:
    """What a fit may be off at a signal for want of terms, in the channel's unit; None if no curve tells.

    What counts is how far the two are apart there, or have come apart since the last reading if that is more: a curve
    with a term too few is furthest off at the ends of the readings, and the two may cross beyond them.
    """
    rival = rival_of(inputs, fitted)
    if rival is None:
        return None
    low, high = fitted.curve.domain
    at = np.array([low if pin < low else high, pin])
    at_end, apart = rival.curve.value(at) - fitted.curve.value(at)
    own, its = fitted.curve_spread(at), rival.curve_spread(at)
    more = 0.0 if own is None or its is None else float(np.sqrt(max(its[1] ** 2 - own[1] ** 2, 0.0)))
    standard = float(np.hypot(max(abs(apart), abs(apart - at_end)), more))
    return Contribution("bend beyond the readings", standard, rival.dof, size=standard)


@once_per_inputs
def rival_of(inputs: FitInputs, fitted: Fitted) -> Fitted | None:
    """The polynomial with the fewest terms more whose scatter is about as small as a fit's, or none if none can be had.

    One of still more terms is taken if it scatters less by more than chance: a bend that is even about the middle is
    not seen with one term more.
    """
    best: Fitted | None = None
    for found in _with_more_terms(inputs, fitted):
        if best is None or _scatter(best) > _AS_SMALL * _scatter(fitted) or _scatters_less(found, best):
            best = found
    return best


def _with_more_terms(inputs: FitInputs, fitted: Fitted) -> Iterator[Fitted]:
    fewest = max(min(fitted.numbers, max(DEGREES.values())), 2)
    for model, degree in DEGREES.items():
        if degree < fewest or fitted.residual_sd is None:
            continue
        try:
            found = fit(*inputs.points, FitSpec(model=model))
        except YardstickError:
            return
        if found.residual_sd is None:
            return
        yield found


def _scatter(fitted: Fitted) -> float:
    assert fitted.residual_sd is not None  # others are no rivals
    return fitted.residual_sd


def _scatters_less(found: Fitted, best: Fitted) -> bool:
    """Whether a curve of more terms leaves less by more than chance: the F-test of the terms that it has more.

    N. R. Draper, H. Smith, Applied Regression Analysis, 3rd ed., 1998, 6.1 (extra sum of squares).
    """
    from scipy.special import fdtrc  # a second to import: only where it is asked for

    terms = best.dof - found.dof
    gained = (best.dof * _scatter(best) ** 2 - found.dof * _scatter(found) ** 2) / terms
    left = _scatter(found) ** 2
    return left > 0 and bool(fdtrc(terms, found.dof, max(gained, 0.0) / left) < _CHANCE)
