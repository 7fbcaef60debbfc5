"""How long until the next visit, by named methods, each with the figures that it rests on.

The methods are those of OIML D 10 (ILAC-G24): the staircase (method 1) and the control chart (method 2).
"""

from collections.abc import Callable
from datetime import date
from typing import NamedTuple

from ..words.errors import NotApplicable, TooFewReadings, YardstickError
from ..words.numerals import fixed, significant
from .leaving import allowed_at
from .trend import trend_of
from .visit import Visit, refuse_without_errors

LADDER = (1, 2, 3, 4, 6, 9, 12, 18, 24, 36, 48, 60)  # months
_EXTENDS_WITHIN = 0.8  # of the error allowed: OIML D 10's own example
_FIRST_MONTHS = 12
_MONTHS_A_YEAR = 12


class Advice(NamedTuple):
    """An interval in months, and in words why."""

    months: int
    why: str


class IntervalMethod(NamedTuple):
    """A method by its name, where it is from, and what it advises after an interval in months."""

    title: str
    source: str
    advise: Callable[[tuple[Visit, ...], int], Advice]


def _staircase(visits: tuple[Visit, ...], months: int) -> Advice:
    """A step longer where all was found well within what is allowed, a step shorter where something was outside."""
    last = _last_of(visits)
    if not last.found:
        raise NotApplicable("What it showed before it was adjusted was not seen at the last visit.")
    share, worst = max((abs(stop.error) / allowed_at(last.allowed, stop.value), stop) for stop in last.found)
    told = f"found {significant(100 * share, 2)} % of the error allowed at {significant(worst.value, 4)} {last.unit}"
    if share > 1:
        return Advice(next((one for one in reversed(LADDER) if one < months), LADDER[0]), f"{told}: a step shorter")
    if share <= _EXTENDS_WITHIN:
        return Advice(next((one for one in LADDER if one > months), LADDER[-1]), f"{told}: a step longer")
    return Advice(months, f"{told}: as it is")


def _last_of(visits: tuple[Visit, ...]) -> Visit:
    """The last visit, of which something can be told."""
    refuse_without_errors(visits)
    last = visits[-1]
    if not last.allowed:
        raise NotApplicable("No error allowed is stated: nothing says how far it may drift. State one at Describe.")
    return last


def _control_chart(visits: tuple[Visit, ...], _months: int) -> Advice:
    """The most whole months for which the 95 % band of the drift stays within what is allowed at every stop."""
    last = _last_of(visits)
    trend = trend_of(visits)
    if not last.left:
        raise TooFewReadings("Nothing was left at the last visit: nothing follows for the next.", needed=1, found=0)

    def holds(months: int) -> bool:
        for stop in last.left:
            mean, half = trend.expected(stop.value, months / _MONTHS_A_YEAR)
            if abs(mean) + half > allowed_at(last.allowed, stop.value):
                return False
        return True

    months = 0
    while months < LADDER[-1] and holds(months + 1):
        months += 1
    worst = max(last.left, key=lambda stop: abs(trend.rate_at(stop.value)[0]))
    rate, half = trend.rate_at(worst.value)
    told = f"{fixed(rate, 3)} ± {fixed(half, 3)} {last.unit} a year at {significant(worst.value, 4)}"
    if not months:
        raise NotApplicable(
            f"The band of its drift ({told}) leaves what is allowed within a month: adjust it, or tell U."
        )
    return Advice(months, f"drift {told}, over {len(visits)} visits")


METHODS: dict[str, IntervalMethod] = {
    "staircase": IntervalMethod("Staircase", "OIML D 10, method 1", _staircase),
    "control chart": IntervalMethod("Control chart", "OIML D 10, method 2", _control_chart),
}


def advised(visits: tuple[Visit, ...], months: int = _FIRST_MONTHS) -> dict[str, Advice | str]:
    """What every method advises after an interval in months; in words why one says nothing."""
    found: dict[str, Advice | str] = {}
    for name, method in METHODS.items():
        try:
            found[name] = method.advise(visits, months)
        except YardstickError as error:
            found[name] = str(error)
    return found


def interval_before(visits: tuple[Visit, ...]) -> int:
    """The months between the last two visits; twelve where there was only one."""
    if len(visits) < 2:
        return _FIRST_MONTHS
    return max(round((visits[-1].years - visits[-2].years) * _MONTHS_A_YEAR), 1)


def later(day: date, months: int) -> date:
    """The same day so many months later, or the last of that month."""
    month = day.month - 1 + months
    year, month = day.year + month // _MONTHS_A_YEAR, month % _MONTHS_A_YEAR + 1
    for last in (day.day, 30, 29, 28):
        try:
            return date(year, month, last)
        except ValueError:
            continue
    raise AssertionError("every month has a 28th")
