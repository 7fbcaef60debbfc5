"""Drift in words: what moved, how fast, and when it leaves what is allowed."""

from ..words.errors import YardstickError
from ..words.numerals import counted, decimals_for, fixed, signed, significant
from .change import change_at_last, kinds_of
from .leaving import leaving
from .trend import DriftTrend, trend_of
from .visit import Visit


def drift_lines(visits: tuple[Visit, ...]) -> list[str]:
    """A unit's drift, a sentence a line; why there is none where nothing follows."""
    try:
        trend = trend_of(visits)
    except YardstickError as error:
        return [str(error)]
    return [rate_words(trend), steadiness_words(trend), change_words(trend), leaving_words(trend)]


def seen_words(last: Visit) -> str:
    """What was seen of a contact at a visit."""
    rows = last.seen or ()
    good = sum(answer is True for _step, answer in rows)
    return f"{good} of {counted(len(rows), 'step')} seen as expected on {last.day}."


def worst_stop(trend: DriftTrend) -> float:
    """The value among those left last at which it drifts most, in the unit."""
    stops = trend.visits[-1].left or trend.visits[-1].found
    return max(stops, key=lambda stop: abs(trend.rate_at(stop.value)[0])).value


def rate_words(trend: DriftTrend) -> str:
    """How fast it drifts where it drifts most, and in which way."""
    value, unit = worst_stop(trend), trend.visits[-1].unit
    rate, half = trend.rate_at(value)
    decimals = decimals_for(half / 10) if half > 0 else 3
    kinds = kinds_of(trend)
    ways = f": {' and '.join(kinds)}" if kinds else ": no way of drifting stands out"
    told = f"{signed(rate, decimals)} ± {fixed(half, decimals)} {unit} a year"
    return f"At {significant(value, 4)} {unit} it drifts {told}{ways}."


def steadiness_words(trend: DriftTrend) -> str:
    """Whether a steady drift explains what was found."""
    judged = f"chi-square {significant(trend.chi_square, 3)} with {trend.dof} degrees of freedom"
    if trend.is_steady:
        return f"A steady drift explains the {counted(len(trend.differences), 'difference')} ({judged})."
    wider = f"the bands are {significant(trend.scale, 2)} times as wide"
    return f"A steady drift does not explain the differences ({judged}): {wider}."


def change_words(trend: DriftTrend) -> str:
    """What changed since the visit before by more than both uncertainties explain."""
    change = change_at_last(trend)
    stops = counted(change.compared, "stop")
    if not change.is_flagged:
        return f"Since the visit before nothing moved by more than both U explain, at {stops}."
    worst = change.moved[0]
    most = f"most at {significant(worst.value, 4)}: {signed(worst.difference, 3)}"
    return f"Since the visit before {len(change.moved)} of {stops} moved by more than both U explain, {most}."


def leaving_words(trend: DriftTrend) -> str:
    """When it leaves what is allowed."""
    try:
        gone = leaving(trend)
    except YardstickError as error:
        return str(error)
    if gone.may is None:
        return "It stays within what is allowed for ten years."
    sure = f"the line itself does on {gone.does}" if gone.does else "the line itself does not within ten years"
    return f"At {significant(gone.value, 4)} it may leave what is allowed from {gone.may}; {sure}."
