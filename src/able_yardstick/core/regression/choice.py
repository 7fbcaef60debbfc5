"""Candidates side by side, and the simplest one that is good enough."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve
from ..words.errors import TooFewReadings, YardstickError
from ..words.numerals import plain_decimals
from .doubt import Doubts
from .fitted import FitSpec, Fitted, student_quantile
from .kinds import DEGREES, TITLES, ModelName
from .models import described, fit
from .repeats import Stops, stops_or_near
from .worth import cross_validated, lack_of_fit_of

Array = NDArray[np.float64]
# An element's own law needs fewer numbers than any curve that follows it as closely.
SIMPLEST_FIRST: tuple[ModelName, ...] = (
    "line", "beta", "platinum", "steinhart-hart", "poly2", "poly3", "poly4", "poly5", "table"
)  # fmt: skip
_SIGNIFICANT = 0.95
_LAST_DIGITS = 1e-12  # of the span of the references: what reckoning leaves
_MANY = 1000


class Candidate(NamedTuple):
    """One model, with its fit or with the reason why there is none."""

    model: ModelName
    fitted: Fitted | None
    refusal: str = ""

    @property
    def title(self) -> str:
        """The model's name for a person."""
        return TITLES[self.model]

    @property
    def usable(self) -> bool:
        """Whether it may become the calibration: it exists and never turns."""
        return self.fitted is not None and self.fitted.curve.is_monotonic


def candidate(
    signal: Array, reference: Array, spec: FitSpec, doubts: Doubts | None = None, stops: Stops | None = None
) -> Candidate:
    """One model tried on points, shape (n,) each; a refusal is kept in words."""
    try:
        fitted = fit(signal, reference, spec, doubts, stops)
    except YardstickError as error:
        return Candidate(spec.model, None, str(error))
    turns = fitted.curve.turning_points()
    if turns:
        reason = (
            f"It turns at a signal of {turns[0]:.4g} inside the readings, so one value would belong to two signals. "
            "Choose a line or a table, or exclude what bends it."
        )
        return Candidate(spec.model, fitted, reason)
    return Candidate(spec.model, fitted)


def candidates(
    signal: Array,
    reference: Array,
    specs: tuple[FitSpec, ...],
    nominal: AnyCurve | None,
    doubts: Doubts | None = None,
    stops: Stops | None = None,
) -> list[Candidate]:
    """Every model on offer for signals (n,) and references (n,), the described curve first."""
    rows = [candidate(signal, reference, spec, doubts, stops) for spec in specs]
    if nominal is not None:
        rows.insert(0, Candidate("nominal", described(nominal, signal, reference)))
    return rows


class Choice(NamedTuple):
    """The candidate that is the simplest adequate one, and why."""

    candidate: Candidate
    reason: str


def choose(
    signal: Array,
    reference: Array,
    tolerance: float | Array | None = None,
    doubts: Doubts | None = None,
    *,
    robust: bool = False,
) -> Choice:
    """The simplest of line, second to fifth order and table, that is good enough for points, shape (n,) each.

    Raises: TooFewReadings if none can be had.
    """
    models: tuple[ModelName, ...] = (*DEGREES, "table")
    specs = [FitSpec(model=model, robust=robust and model != "table") for model in models]
    rows = [candidate(signal, reference, spec, doubts) for spec in specs]
    found = simplest(rows, signal, reference, tolerance)
    if found is None:
        raise TooFewReadings(rows[0].refusal or rows[-1].refusal, needed=2, found=len(np.unique(signal)))
    return found


def simplest(
    rows: Sequence[Candidate],
    signal: Array,
    reference: Array,
    tolerance: float | Array | None = None,
    stops: Stops | None = None,
) -> Choice | None:
    """The simplest adequate candidate with its reason; None if none is usable.

    With a tolerance (one, or (n,) for each reading): the first whose errors all stay within it and which the repeats do
    not speak against; bending further must gain more than chance. Without: the line, unless a further term is more
    than chance (two-sided t-test at 95 %).
    """
    usable = sorted(
        (row for row in rows if row.usable and row.model in SIMPLEST_FIRST),
        key=lambda row: SIMPLEST_FIRST.index(row.model),
    )
    if not usable:
        return None
    if tolerance is None:
        return _by_significance(rows, usable, signal, reference)
    inside = [row for row in usable if _stays_within(row, tolerance)]
    if not inside:
        best = min(usable, key=_largest)
        return Choice(best, f"none stays within {_words(tolerance)}; this one misses least, by {_largest(best):.3g}")
    first = inside[0]
    if _passes_through(first):
        return Choice(first, _untested(first, signal, reference, tolerance, stops))
    said = f"the simplest whose largest error {_largest(first):.3g} is within {_words(tolerance)}"
    return Choice(first, said + _repeats_say(first, stops_or_near(reference, stops)))


def _passes_through(row: Candidate) -> bool:
    """Whether it cannot but meet every reading, so that its errors say nothing."""
    return row.fitted is not None and row.fitted.dof == 0


def _untested(row: Candidate, signal: Array, reference: Array, tolerance: float | Array, stops: Stops | None) -> str:
    """What is known of a curve that cannot miss: how it misses stops that are left out of it."""
    assert row.fitted is not None  # only usable ones come here
    is_tried = row.model in (*DEGREES, "table")
    missed = cross_validated(signal, reference, row.fitted, repeats=stops) if is_tried else None
    count = len(row.fitted.signals)
    passes = f"it passes through {'both' if count == 2 else f'all {count}'} readings, as it must"
    said = passes if row.model == "line" else f"no simpler curve stays within {_words(tolerance)}; {passes}"
    if missed is None:
        return f"{said}, and nothing tests it yet"
    return f"{said}, but stops left out of it are missed by {missed:.3g}"


def _repeats_say(row: Candidate, stops: Stops) -> str:
    assert row.fitted is not None  # only usable ones come here
    test, _ = lack_of_fit_of(row.fitted, stops)
    if test is None:
        return ""
    if test.is_significant:
        return ", though the repeats show that it misses the stops by more than they scatter"
    return ", and the repeats scatter as much as it misses"


def _words(tolerance: float | Array) -> str:
    return f"{tolerance:g}" if np.ndim(tolerance) == 0 else "the error allowed"


def _stays_within(row: Candidate, tolerance: float | Array) -> bool:
    assert row.fitted is not None  # only usable ones come here
    return bool(np.all(np.abs(np.array(row.fitted.errors)) <= tolerance))


def _largest(row: Candidate) -> float:
    return row.fitted.largest_error if row.fitted else float("inf")


def _by_significance(rows: Sequence[Candidate], usable: list[Candidate], signal: Array, reference: Array) -> Choice:
    """Terms are added while the one more, or the one after it, is more than chance, whether that curve turns or not."""
    orders = sorted((row for row in rows if row.model in DEGREES and row.fitted), key=lambda row: DEGREES[row.model])
    if not orders or orders[0].model != "line":
        return Choice(usable[0], "no straight line can be had to compare it with")
    at, said, floor = 0, "there are too few readings to test for a bend", _least_scatter(reference)
    for n in range(1, len(orders)):
        ratio = _last_term(orders[n], floor)
        if ratio is None or _largest(orders[at]) <= _LAST_DIGITS * float(np.ptp(reference)):
            break
        if ratio[0] > ratio[1]:
            at = n
            what = "bend" if n == 1 else f"{orders[n].title.lower()}'s term"
            said = f"the {what} is {_times(ratio[0])} times its standard error: more than chance"
        elif at == 0 and n == 1:
            said = f"the bend is {_times(ratio[0])} times its standard error: no more than chance"
        if n - at >= 2:
            break
    found = orders[at]
    if found.usable:
        return Choice(found, said)
    others = [row for row in usable if row.model != "line"] or usable
    closest = min(others, key=lambda row: _missed(row, signal, reference))
    return Choice(closest, f"{said}, but that curve turns; of those that do not, this one misses left-out stops least")


def _missed(row: Candidate, signal: Array, reference: Array) -> float:
    """By how much a curve misses stops that are left out of it; its largest error where that cannot be tried."""
    missed = cross_validated(signal, reference, row.fitted) if row.fitted and row.model in (*DEGREES, "table") else None
    return _largest(row) if missed is None else missed


def _times(ratio: float) -> str:
    return f"{ratio:.1f}" if ratio < _MANY else f"over {_MANY}"


def _least_scatter(reference: Array) -> float:
    """What references scatter at least, where they were written to a last decimal (JCGM 100:2008, F.2.2.1)."""
    decimals = max(plain_decimals(float(value)) for value in reference)
    written = 10.0**-decimals / np.sqrt(12) if decimals else 0.0  # of whole numbers nobody knows how whole they are
    return float(max(written, _LAST_DIGITS * np.ptp(reference)))


def _last_term(row: Candidate, floor: float) -> tuple[float, float] | None:
    """The highest term in standard errors, and how many are more than chance; None where that is not known.

    Readings are taken to scatter by `floor` besides what the curve misses them by.
    """
    solution = row.fitted.solution if row.fitted else None
    if row.fitted is None or solution is None or solution.dof < 1:
        return None
    last = np.zeros((1, len(solution.coefficients) - solution.first_power))
    last[0, -1] = 1.0
    spread = solution.spread(last)
    if spread is None:
        return None
    scatter = row.fitted.residual_sd or 0.0
    error = spread[0] * np.hypot(scatter, floor) / scatter if scatter > 0 else 0.0
    ratio = abs(solution.coefficients[-1]) / error if error > 0 else np.inf
    return float(ratio), student_quantile(_SIGNIFICANT, solution.dof)
