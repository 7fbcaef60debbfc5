"""The columns of lines of text, found by looking at the first ones; and garbage told from text."""

import re
from collections.abc import Sequence
from typing import NamedTuple

from ..core.words.errors import BadTable
from ..core.words.numerals import parse_number, shortened
from .errors import BadAnswer

SEPARATORS = ("\t", ";", ",", " ")
_NAMED = re.compile(r"^\s*([A-Za-z_][\w\-./% ]*?)\s*[=:]\s*(.+?)\s*$")
_READABLE = 0.9


class Pattern(NamedTuple):
    """How a line falls into columns: their names, what stands between them, and whether each names itself.

    `counter` is the column that numbers the lines, where there is one.
    """

    names: tuple[str, ...]
    separator: str
    named_inside: bool
    counter: str = ""

    def values(self, line: str) -> dict[str, float]:
        """The numbers of a line, by column; words are left out. Raises: BadAnswer for another number of columns."""
        cells = _cells(line, self.separator)
        if len(cells) != len(self.names):
            raise BadAnswer(f"Expected {len(self.names)} columns, found {len(cells)} in “{shortened(line.strip())}”.")
        found = {}
        for place, cell in zip(self.names, cells, strict=True):
            named = _NAMED.match(cell) if self.named_inside else None
            name, text = (named[1].strip(), named[2]) if named else (place, cell)
            number = _number(text)
            if number is not None:
                found[name] = number
        return found


def is_garbage(data: bytes) -> bool:
    """Whether bytes look like text read at the wrong speed: many that no one would print."""
    if not data:
        return False
    readable = sum(32 <= byte < 127 or byte in (9, 10, 13) for byte in data)
    return readable < _READABLE * len(data)


def found_pattern(lines: Sequence[str]) -> Pattern:
    """The pattern of the first lines: a heading, names before each number, or plain columns.

    Raises: BadAnswer if there is no number in the same place of all of them.
    """
    kept = [line for line in lines if line.strip() and not line.lstrip().startswith("#")]
    if not kept:
        raise BadAnswer("No line of text came yet. Check that the device is sending.")
    separator = next(
        (mark for mark in SEPARATORS if len({len(_cells(line, mark)) for line in kept}) == 1
         and len(_cells(kept[0], mark)) > 1), ""
    )  # fmt: skip
    rows = [_cells(line, separator) for line in kept]
    if all(_NAMED.match(cell) for cell in rows[-1]):
        names = tuple(_NAMED.match(cell)[1].strip() for cell in rows[-1])  # type: ignore[index]
        return Pattern(names, separator, True, _counter(names))
    body = rows[1:] if len(rows) > 1 and not any(_number(cell) is not None for cell in rows[0]) else rows
    if not any(_number(cell) is not None for cell in body[-1]):
        raise BadAnswer(
            f"No number was found in “{shortened(kept[-1].strip())}”. Expected lines of columns, or name=value."
        )
    headed = body is not rows
    names = tuple(cell.strip() for cell in rows[0]) if headed else tuple(f"column {n + 1}" for n in range(len(rows[0])))
    return Pattern(names, separator, False, _counter(names))


def _counter(names: Sequence[str]) -> str:
    known = ("n", "no", "number", "seq", "sequence", "scan", "index")
    return next((name for name in names if name.strip().casefold() in known), "")


def _cells(line: str, separator: str) -> list[str]:
    text = line.strip()
    if separator == " ":
        return text.split()
    return text.split(separator) if separator else [text]


def _number(text: str) -> float | None:
    match = re.match(r"\s*([+\-]?[\d.,]+(?:[eE][+\-]?\d+)?)", text)
    if match is None:
        return None
    try:
        return parse_number(match[1])
    except BadTable:
        return None
