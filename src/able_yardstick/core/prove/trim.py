"""A trim: the offset, or the offset and gain, that mismatches ask for, and a controller's own numbers with it.

Of errors e at shown values v the line e = a + b (v - m) is taken by least squares, each check weighted by its standard
uncertainty. Its slope counts as a gain error only with the evidence: by Student's t at 95 %, with the uncertainty that
is stated or the one by which the errors scatter about the line, whichever is larger. Else only the mean is taken off.
"""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..forms.any_form import AnyForm
from ..pack.inputs import PackInputs
from ..pack.packed import Packed, packed
from ..words.errors import BadTable

Array = NDArray[np.float64]
CONFIDENCE = 0.95
_NO_ERROR = 1e-9  # of the largest number: what is smaller is the last digits of the reckoning


class Mismatch(NamedTuple):
    """The error that mismatches share: `offset` at the shown value `about`, and `gain` for each unit shown.

    `certainty` is the fitted slope over what it must reach to be told from chance, None where nothing tells; `gain` is
    0 below 1.
    """

    offset: float
    about: float
    gain: float
    certainty: float | None

    def at(self, shown: Array) -> Array:
        """The error at shown values, shape kept, in their unit."""
        return np.asarray(self.offset + self.gain * (shown - self.about))


class Trim(NamedTuple):
    """New numbers for a controller: what they cost, what they leave at each check, and what they change.

    `in_signal` is by how much the signal would have to be off, at each check, to explain the mismatch without a fault
    of the numbers; None where the controller shows no such value.
    """

    packed: Packed
    mismatch: Mismatch
    left: tuple[float, ...]
    in_signal: tuple[float | None, ...]


def mismatch_of(
    reference: Sequence[float], shown: Sequence[float], standards: Sequence[float] | None, offset_only: bool = False
) -> Mismatch:
    """What checks say is wrong, references and shown values (n,) in one unit; `standards` are standard uncertainties.

    Raises: BadTable without a check.
    """
    v, e = np.asarray(shown, dtype=float), np.asarray(shown, dtype=float) - np.asarray(reference, dtype=float)
    if not len(v):
        raise BadTable("There is no check to trim by. Enter a reference value and what was shown.")
    weight = np.ones_like(v) if standards is None else 1 / np.square(np.asarray(standards, dtype=float))
    about, offset = float(np.average(v, weights=weight)), float(np.average(e, weights=weight))
    apart = v - about
    square = float(weight @ apart**2)
    if offset_only or square <= 0:
        return Mismatch(offset, about, 0.0, None)
    slope = float(weight @ (apart * e) / square)
    rest = e - offset - slope * apart
    certainty = _certainty(slope, square, float(weight @ rest**2), len(v) - 2, standards is not None)
    if abs(slope) * float(np.ptp(v)) < _NO_ERROR * float(np.abs(v).max()):
        certainty = 0.0
    return Mismatch(offset, about, slope if certainty is not None and certainty >= 1 else 0.0, certainty)


def _certainty(slope: float, square: float, rest: float, dof: int, stated: bool) -> float | None:
    """A slope over the least that is told from chance; None where neither an uncertainty nor a scatter is known."""
    from scipy.special import stdtrit

    scatter = rest / dof if dof > 0 else 0.0  # of one check with weight 1
    if not stated and dof <= 0:
        return None
    by_scatter = not stated or scatter > 1  # more than the stated uncertainties explain (JCGM 100, H.5)
    free = float(dof) if by_scatter else 1e9
    standard = np.sqrt((scatter if by_scatter else 1.0) / square)
    wanted = float(stdtrit(free, (1 + CONFIDENCE) / 2) * standard)
    return abs(slope) / wanted if wanted > 0 else (float("inf") if slope else 0.0)


def trimmed(
    inputs: PackInputs, old: AnyForm, reference: Sequence[float], shown: Sequence[float], mismatch: Mismatch
) -> Trim:
    """The numbers in force, `old`, without a mismatch, packed as `inputs` ask; checks (n,) are in the unit of both.

    What is left at a check is what the new numbers show at its count, whole arithmetic included, less its reference.
    Raises: what packing refuses.
    """
    converter = inputs.converter
    curve = old.continuous(converter)
    wanted = curve.converted(1 - mismatch.gain, mismatch.gain * mismatch.about - mismatch.offset)
    factor = inputs.reference_factor  # of the true signals over those that the counts are taken for
    found = packed(inputs.with_(curve=wanted if factor == 1.0 else wanted.stretched(factor)))
    counts = converter.every_count()
    before, after = old.shown(counts, converter), found.form.shown(counts, converter)
    at = [int(np.argmin(np.abs(before - one))) for one in shown]
    left = [one + float(after[n] - before[n]) - true for n, one, true in zip(at, shown, reference, strict=True)]
    signals = (_between(curve.branches(true), curve.branches(one)) for true, one in zip(reference, shown, strict=True))
    return Trim(found, mismatch, tuple(left), tuple(None if one is None else one * factor for one in signals))


def _between(true: Sequence[float], shown: Sequence[float]) -> float | None:
    """How far the signals of two values are apart."""
    return shown[0] - true[0] if true and shown else None
