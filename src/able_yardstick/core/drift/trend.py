"""Drift: how a unit's errors move from being left to being found, by generalised least squares over all its visits.

Every difference between what was found at a stop and what had been left there before is taken as a zero that moves and
a gain that moves, both in proportion to time. The errors of one visit share that of its reference. What is told of the
next visit follows from the same covariance, so that what the last visit left counts with what it rests on
(JCGM 102:2011, 6.2: y = A x, V_y = A V_x Aᵀ).
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..uncertainty.coverage import two_sided
from ..words.errors import NotApplicable, TooFewReadings
from .visit import StopError, Visit, refuse_without_errors

Array = NDArray[np.float64]
_BEYOND = 0.02  # of the range of stops: so far beyond the last one it still stands for its neighbourhood
_BELIEVED = 0.05  # probability of a chi-square so large: below it, what is stated does not explain the scatter
_LEVEL = 0.95
_LEAST_OWN = 0.5  # of an error's uncertainty: so much is never its reference's alone


class StopDifference(NamedTuple):
    """What was found at a value less what had been left there: with its standard uncertainty, over years; visits."""

    value: float
    difference: float
    standard: float
    years: float
    before: int
    after: int


class DriftTrend(NamedTuple):
    """Rates a year: of the zero at `centre` and of the gain (an error a value); their covariance, shape (2, 2).

    `chi_square` with `dof` judges whether a steady drift is believable; where not, `scale` widens everything.
    """

    visits: tuple[Visit, ...]
    differences: tuple[StopDifference, ...]
    centre: float
    rates: Array
    covariance: Array
    chi_square: float
    dof: int
    scale: float
    gains: Array  # what each observation of the visits adds to the rates, shape (2, m)
    spread: Array  # covariance of those observations, shape (m, m)

    @property
    def quantile(self) -> float:
        """How many standard uncertainties hold 95 %."""
        return two_sided(_LEVEL, max(self.dof, 1)) if self.scale > 1 else two_sided(_LEVEL)

    @property
    def is_steady(self) -> bool:
        """Whether a steady drift explains the differences within what is stated of them."""
        return self.scale == 1.0

    def rate_at(self, value: float) -> tuple[float, float]:
        """The drift a year at a value, and half of its 95 % band."""
        row = self._row(value)
        return float(row @ self.rates), float(self.quantile * self.scale * np.sqrt(row @ self.covariance @ row))

    def _row(self, value: float) -> Array:
        row = np.array([1.0, value - self.centre])
        return row[: len(self.rates)] if len(self.rates) == 2 else row[:1]

    def expected(self, value: float, years: float, reading: float = 0.0) -> tuple[float, float]:
        """The error some years after the last visit at a value where it was left, and half of its 95 % band.

        `reading` is the standard uncertainty of what will be read then; 0 for the true error. Raises: TooFewReadings
        where nothing was left there.
        """
        last = len(self.visits) - 1
        weights = _left_row(self.visits, last, value)
        row = weights + years * (self._row(value) @ self.gains)
        mean = float(row @ _errors(self.visits))
        variance = float(row @ self.spread @ row) * self.scale**2 + reading**2
        return mean, float(self.quantile * np.sqrt(variance))


def trend_of(visits: tuple[Visit, ...]) -> DriftTrend:
    """The drift over visits in the order of their days.

    Raises: TooFewReadings with none that follows another, NotApplicable where U of one is not known.
    """
    refuse_without_errors(visits)
    rows = _difference_rows(visits)
    if not rows:
        raise TooFewReadings(
            "Drift needs two visits: what was left at one, and what was found at the next.", needed=2, found=len(visits)
        )
    if any(np.isnan(stop.standard) for visit in visits for stop in (*visit.found, *visit.left)):
        raise NotApplicable("Of some checks U is not known: state that of their reference, and no drift is guessed.")
    errors, spread = _errors(visits), _spread(visits)
    matrix = np.array([row for row, *_rest in rows])
    values, years = np.array([row[1] for row in rows]), np.array([row[2] for row in rows])
    moved, covariance = matrix @ errors, matrix @ spread @ matrix.T
    centre = float(values.mean())
    design = np.column_stack([years, years * (values - centre)])
    if np.ptp(values) <= 0:
        design = design[:, :1]
    inverse = np.linalg.pinv(covariance, hermitian=True)
    inner = np.linalg.inv(design.T @ inverse @ design)
    solver = inner @ design.T @ inverse
    rates = solver @ moved
    rest = moved - design @ rates
    chi_square, dof = float(rest @ inverse @ rest), len(rows) - design.shape[1]
    found = tuple(
        StopDifference(value, float(step), float(np.sqrt(size)), span, before, before + 1)
        for (_row, value, span, before), step, size in zip(rows, moved, np.diag(covariance), strict=True)
    )
    return DriftTrend(
        visits, found, centre, rates, inner, chi_square, dof, _scale(chi_square, dof), solver @ matrix, spread
    )  # fmt: skip


def _scale(chi_square: float, dof: int) -> float:
    """How much wider everything is where the scatter is not explained (Birge's ratio); 1 where it is."""
    if dof < 1 or chi_square <= 0:
        return 1.0
    from scipy.special import gammaincc  # the upper tail of chi-square

    return 1.0 if gammaincc(dof / 2, chi_square / 2) >= _BELIEVED else float(np.sqrt(chi_square / dof))


# -- the observations: what every visit found and left, one after the other -----------------------------------------


def _observations(visits: tuple[Visit, ...]) -> list[tuple[int, StopError]]:
    return [(n, stop) for n, visit in enumerate(visits) for stop in (*visit.found, *visit.left)]


def _errors(visits: tuple[Visit, ...]) -> Array:
    return np.array([stop.error for _n, stop in _observations(visits)])


def _spread(visits: tuple[Visit, ...]) -> Array:
    """The covariance of all errors: what is common to a visit, and what is each one's own."""
    rows = _observations(visits)
    owner = np.array([n for n, _stop in rows])
    common = np.array([visits[n].common for n in owner])
    standard = np.array([stop.standard for _n, stop in rows])
    own = np.maximum(standard**2 - common**2, (_LEAST_OWN * standard) ** 2)
    shared = np.where(owner[:, None] == owner[None, :], np.outer(common, common), 0.0)
    return shared + np.diag(own)


def _difference_rows(visits: tuple[Visit, ...]) -> list[tuple[Array, float, float, int]]:
    """What is found less what was left, as a row over the observations; its value, years, and the visit before."""
    starts = np.cumsum([0, *(len(visit.found) + len(visit.left) for visit in visits)])
    rows = []
    for after in range(1, len(visits)):
        years = visits[after].years - visits[after - 1].years
        for place, stop in enumerate(visits[after].found):
            try:
                row = -_left_row(visits, after - 1, stop.value)
            except TooFewReadings:
                continue
            row[starts[after] + place] += 1.0
            if years > 0:
                rows.append((row, stop.value, years, after - 1))
    return rows


def _left_row(visits: tuple[Visit, ...], number: int, value: float) -> Array:
    """What a visit left at a value, between its stops in proportion, as a row over the observations (m,).

    Raises: TooFewReadings beyond its stops.
    """
    count = sum(len(visit.found) + len(visit.left) for visit in visits)
    start = sum(len(visit.found) + len(visit.left) for visit in visits[:number]) + len(visits[number].found)
    stops = np.array([stop.value for stop in visits[number].left])
    row = np.zeros(count)
    reach = _BEYOND * (float(np.ptp(stops)) if len(stops) else 0.0)
    if not len(stops) or not stops[0] - reach <= value <= stops[-1] + reach:
        raise TooFewReadings(f"Nothing was left near {value:g} on {visits[number].day}.", needed=1, found=0)
    above = int(np.searchsorted(stops, value))
    if above == 0 or above == len(stops):
        row[start + min(above, len(stops) - 1)] = 1.0
        return row
    share = float((value - stops[above - 1]) / (stops[above] - stops[above - 1]))
    row[start + above - 1], row[start + above] = 1 - share, share
    return row
