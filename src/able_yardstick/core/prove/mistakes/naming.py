"""Which mistake explains what was shown: each alone, with its own unknown, against patterns that name no cause.

Errors e with covariance C are explained by a model m(θ) with χ² = (e − m)ᵀ C⁻¹ (e − m). C holds the uncertainty of each
check, half a count of the converter, and, where the curve is a data sheet's, what the parts' tolerances may do to all
checks at once; a mistake that multiplies what is shown multiplies what is not known of the reference. A model is
believed where its χ² is no rarer than one in a thousand; what comes within `_APART` of the best, its unknowns counted
(Akaike, IEEE Trans. Automatic Control 19 (1974), 716-723), cannot be told from it.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...words.errors import BadTable, YardstickError
from . import MISTAKES
from .base import CheckPlace, Guess, Mistake, MistakeCase, Where
from .tolerances import tolerance_effects

Array = NDArray[np.float64]
BELIEVED = 1e-3
HEALTHY = 5e-3  # how rare a χ² of sound checks may be before something is looked for
_APART = 7.0
_BETTER = 9.0  # a mistake explains this much more than nothing does, or is not named
_GRID = 49
_STEP = 1e-4  # of the span, over which an error curve's rise is taken
_FINE = 1e-7
_ROOT_12 = float(np.sqrt(12))
_NEXT_PLACES = 13
_PLENTY = 30.0


class Checks(NamedTuple):
    """What was shown beside references, (n,) each in the channel's unit, with standard uncertainties."""

    reference: Array
    shown: Array
    standard: Array


class Suspect(NamedTuple):
    """A mistake that could explain the checks.

    `explained` is its share of the weighted squares of the errors, `left` the largest error it leaves unexplained, in
    the channel's unit; `shown` are the values it expects at the checks.
    """

    name: str
    says: str
    where: Where
    parameter: str
    value: float | str | None
    unit: str
    explained: float
    left: float
    cost: float
    shown: tuple[float, ...]
    guess: Guess
    theta: float


class ErrorPattern(NamedTuple):
    """An error curve that names no cause, and how much of the errors it explains."""

    name: str
    explained: float
    left: float
    cost: float
    is_enough: bool


class NextCheck(NamedTuple):
    """The value whose check would tell most of the undecided causes apart, and by how much they differ there."""

    value: float
    apart: float


class Naming(NamedTuple):
    """What the checks say: the causes in order, those of them that cannot be told apart, and what would decide.

    `assumed` is the expanded uncertainty taken for checks of which none is known, in the channel's unit; else 0.
    """

    is_sound: bool
    suspects: tuple[Suspect, ...]
    undecided: tuple[str, ...]
    patterns: tuple[ErrorPattern, ...]
    next_check: NextCheck | None
    assumed: float = 0.0


def named(case: MistakeCase, checks: Checks) -> Naming:
    """The mistakes that explain checks, and how sure that is. Raises: BadTable without a check or an uncertainty."""
    if not len(checks.reference):
        raise BadTable("There is no check to explain. Enter a reference value and what was shown.")
    if not np.all(checks.standard > 0):
        raise BadTable("Without the uncertainty of each check nothing tells a mistake from chance. State it.")
    place = case.at(checks.reference)
    work = _Work(case, checks, place)
    patterns = _patterns(work)
    if work.rarity(work.nothing, 0) >= HEALTHY:
        return Naming(True, (), (), patterns, None)
    found = sorted((one for one in map(work.best_of, MISTAKES) if one is not None), key=lambda cause: cause.cost)
    least = min(*(one.cost for one in patterns), *(one.cost for one in found))
    suspects = tuple(one for one in found if one.cost <= least + _APART)
    undecided = tuple(one.name for one in suspects) if len(suspects) > 1 else ()
    return Naming(False, suspects, undecided, patterns, _next_check(work, suspects) if undecided else None)


class _Work:
    """The checks whitened by their covariance, and how each model does on them."""

    def __init__(self, case: MistakeCase, checks: Checks, place: CheckPlace) -> None:
        self.case, self.checks, self.place = case, checks, place
        per_count = case.channel.path.converter.per_count
        self.count = np.abs(np.asarray(case.shows.slope(place.pin))) * per_count / _ROOT_12
        self.shared = tolerance_effects(case, place)
        self.step = _STEP * case.channel.span
        self.beside = case.at(checks.reference + self.step)
        self.plain = self.root(np.ones(len(place.values)), 0.0)
        self.nothing = self.chi(place.sound, self.plain)

    def root(self, gain: Array, blur: float) -> Array:
        """The Cholesky root of the covariance, (n, n) in the channel's unit.

        What is not known of a reference is seen `gain` times as large, (n,), in what a mistake makes of it.
        """
        own = (self.checks.standard**2 + self.count**2) * np.maximum(gain**2, 1.0) + blur**2
        shared = gain[:, None] * self.shared
        return np.asarray(np.linalg.cholesky(np.diag(own) + shared @ shared.T))

    def _root_of(self, guess: Guess, theta: float) -> Array:
        """The root for what a guess makes of the references."""
        rise = (_shown(guess, self.beside, theta) - _shown(guess, self.place, theta)) / self.step
        rise = np.where(np.isfinite(rise), rise, 1.0)
        return self.root(rise, guess.blur)

    def whitened(self, values: Array, root: Array) -> Array:
        """Values (n,) in units of what is not known of them."""
        return np.asarray(np.linalg.solve(root, values))

    def chi(self, shown: Array, root: Array) -> float:
        """χ² of what a model shows, (n,) in the channel's unit; infinite where it shows nothing."""
        if not np.all(np.isfinite(shown)):
            return float("inf")
        off = self.whitened(self.checks.shown - shown, root)
        return float(off @ off)

    def rarity(self, chi: float, unknowns: int) -> float:
        """How rarely a true model does as badly; 1 where there are no more checks than unknowns."""
        from scipy.special import chdtrc

        free = len(self.checks.reference) - unknowns
        if free <= 0:
            return 1.0 if np.isfinite(chi) else 0.0
        return float(chdtrc(free, chi)) if np.isfinite(chi) else 0.0

    def best_of(self, mistake: Mistake) -> Suspect | None:
        """The best form of a mistake; None where none is believed, or explains no more than nothing."""
        found = [one for one in (self._tried(mistake, guess) for guess in mistake.guesses(self.case)) if one]
        return min(found, key=lambda cause: cause.cost) if found else None

    def _tried(self, mistake: Mistake, guess: Guess) -> Suspect | None:
        if guess.steps and not _in_steps(self.checks.shown, guess.steps):
            return None
        theta = self.fitted(guess)
        root = self._root_of(guess, theta)
        shown = _shown(guess, self.place, theta)
        chi, unknowns = self.chi(shown, root), int(guess.between is not None)
        if self.rarity(chi, unknowns) < BELIEVED or chi > self.nothing - _BETTER:
            return None
        value = theta if guess.between is not None else guess.value
        return Suspect(
            mistake.name, guess.says, mistake.where, mistake.parameter, value,
            guess.unit, 1 - chi / self.nothing, float(np.abs(self.checks.shown - shown).max()),
            self._cost(guess, chi, root), tuple(shown.tolist()), guess, theta,
        )  # fmt: skip

    def cost_of(self, guess: Guess, theta: float) -> float:
        """χ² of a guess, its unknowns and its covariance counted."""
        root = self._root_of(guess, theta)
        return self._cost(guess, self.chi(_shown(guess, self.place, theta), root), root)

    def _cost(self, guess: Guess, chi: float, root: Array) -> float:
        return chi + 2 * (guess.between is not None) + self.wider(root)

    def wider(self, root: Array) -> float:
        """What a likelihood loses by a covariance that is wider than that of the checks alone."""
        return 2 * (_log_size(root) - _log_size(self.plain))

    def fitted(self, guess: Guess) -> float:
        """The unknown with the least χ², between its limits; 0 where there is none."""
        from scipy.optimize import minimize_scalar

        if guess.between is None:
            return 0.0
        root = self.plain

        def chi(theta: float) -> float:
            found = self.chi(_shown(guess, self.place, theta), root)
            return found if np.isfinite(found) else 1e300

        grid = (np.geomspace if guess.is_log else np.linspace)(*guess.between, _GRID)
        best = int(np.argmin([chi(float(one)) for one in grid]))
        ends = (float(grid[max(best - 1, 0)]), float(grid[min(best + 1, _GRID - 1)]))
        fine = _FINE * max(abs(ends[0]), abs(ends[1]))
        return float(minimize_scalar(chi, bounds=ends, method="bounded", options={"xatol": fine}).x)


def _shown(guess: Guess, place: CheckPlace, theta: float) -> Array:
    """What a guess shows; NaN where its law says nothing."""
    try:
        with np.errstate(all="ignore"):
            return np.asarray(guess.shown(place, theta), dtype=float)
    except YardstickError:
        return np.full(len(place.values), np.nan)


def _log_size(root: Array) -> float:
    """The logarithm of a root's determinant."""
    return float(np.log(np.diag(root)).sum())


def _in_steps(shown: Array, step: float) -> bool:
    """Whether all shown values are whole steps."""
    return bool(np.all(np.abs(shown / step - np.round(shown / step)) < 1e-6))


def _patterns(work: _Work) -> tuple[ErrorPattern, ...]:
    """An offset, and an offset with a gain, by weighted least squares."""
    errors, values = work.checks.shown - work.place.sound, work.checks.reference
    white = work.whitened(errors, work.plain)
    found = []
    columns: list[Array] = []
    for name, column in (("an offset", np.ones_like(values)), ("an offset and gain", values - values.mean())):
        columns.append(column)
        design = np.stack(columns, axis=1)
        answer = np.linalg.lstsq(work.whitened(design, work.plain), white, rcond=None)[0]
        pattern = design @ answer
        rise = 1.0 + (float(answer[1]) if len(answer) > 1 else 0.0)
        root = work.root(np.full(len(values), rise), 0.0)
        chi = work.chi(work.place.sound + pattern, root)
        explained = 1 - chi / work.nothing if work.nothing > 0 else 0.0
        enough = work.rarity(chi, len(columns)) >= BELIEVED
        cost = chi + 2 * len(columns) + work.wider(root)
        found.append(ErrorPattern(name, explained, float(np.abs(errors - pattern).max()), cost, enough))
    return tuple(found)


def _next_check(work: _Work, suspects: tuple[Suspect, ...]) -> NextCheck | None:
    """The check that would tell most of the other causes from the first, if that one is true; None where none would.

    Each other one is fitted anew with the further check among the others.
    """
    first, others = suspects[0], suspects[1:]
    best: NextCheck | None = None
    most = _APART
    for value in np.linspace(*work.case.channel.range, _NEXT_PLACES).tolist():
        gap = _gap_with(work, first, others, value)
        if gap is not None and gap.told > most:
            best, most = NextCheck(value, gap.apart), gap.told
    return best


class _Gap(NamedTuple):
    """How much worse the others become by a further check (the mean, each up to what is enough), and what it shows."""

    told: float
    apart: float


def _gap_with(work: _Work, first: Suspect, others: tuple[Suspect, ...], value: float) -> _Gap | None:
    try:
        place = work.case.at(np.array([value]))
    except YardstickError:
        return None
    shown = _shown(first.guess, place, first.theta)
    if not np.all(np.isfinite(shown)):
        return None
    checks = work.checks
    more = Checks(
        np.append(checks.reference, value), np.append(checks.shown, shown),
        np.append(checks.standard, np.median(checks.standard)),
    )  # fmt: skip
    further = _Work(work.case, more, work.case.at(more.reference))
    own = further.cost_of(first.guess, first.theta)
    costs = [further.cost_of(one.guess, further.fitted(one.guess)) for one in others]
    apart = [abs(float(_shown(one.guess, place, one.theta)[0] - shown[0])) for one in others]
    seen = [one for one in apart if np.isfinite(one)]
    return _Gap(float(np.mean([min(one - own, _PLENTY) for one in costs])), max(seen, default=0.0))
