"""The level in a second known state of the plant."""

from collections.abc import Callable

from ..case import Case
from ..expected import Expected
from ..figures import Figures, Texture, may_be
from .cell import Cell
from .level import LevelCell

_METER_SHARE = 0.006  # of the pin's span
_AT_TOP = 0.002
_Both = Callable[[Case, Expected, Expected, Figures], bool]


def _second(case: Case) -> tuple[Expected, Figures]:
    assert case.evidence.other is not None  # asked for where it was looked at
    return case.evidence.other


def _is_the_same(case: Case) -> bool:
    first, (_, figures) = case.evidence.signal, _second(case)
    return abs(figures.level - first.level) <= max(3 * first.allowed_noise, 2 * case.converter.per_count)


def _is_held(case: Case) -> bool:
    """At its ceiling, or where it should be below it."""
    expected, figures = _second(case)
    wanted = min(case.held(expected.pin), case.level)
    return abs(figures.level - wanted) <= max(expected.allowed, _METER_SHARE * case.span)


SAME = Cell("same", _is_the_same)
HELD = Cell("as expected", _is_held)
ANY = Cell("any", lambda _case: True)
EVENTUALLY = Cell("as expected", lambda _case: True)  # it may not have got there yet


def as_level(word: str, level: LevelCell, textures: tuple[Texture, ...]) -> Cell:
    """What a cause makes of any state."""

    def fits(case: Case) -> bool:
        expected, figures = _second(case)
        return may_be(figures.texture, textures) and level(case, figures.level, expected)

    return Cell(word, fits)


def _told_by_both(word: str, level: LevelCell, textures: tuple[Texture, ...], both: _Both) -> Cell:
    """By both states together, where the first is known; else as it makes of any."""
    alone = as_level(word, level, textures)

    def fits(case: Case) -> bool:
        first = case.evidence.expected
        return alone.fits(case) if first is None else both(case, first, *_second(case))

    return Cell(word, fits)


def same_offset(level: LevelCell, textures: tuple[Texture, ...]) -> Cell:
    """Off by the same number in both states."""

    def both(case: Case, one: Expected, two: Expected, figures: Figures) -> bool:
        return abs((figures.level - two.pin) - (case.level - one.pin)) <= max(one.allowed, two.allowed)

    return _told_by_both("offset", level, textures, both)


def same_factor(level: LevelCell, textures: tuple[Texture, ...]) -> Cell:
    """The same share of what is expected in both states, unless one is at the top."""

    def both(case: Case, one: Expected, two: Expected, figures: Figures) -> bool:
        if case.is_at_end(case.level, _AT_TOP) or case.is_at_end(figures.level, _AT_TOP):
            return True
        factor = case.level / one.pin if one.pin else 1.0
        return abs(figures.level - factor * two.pin) <= max(one.allowed, two.allowed) * max(factor, 1.0)

    return _told_by_both("factor", level, textures, both)
