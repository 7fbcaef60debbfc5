"""A cell of the table: what a cause foretells of a test."""

from collections.abc import Callable
from typing import NamedTuple

from ..case import Case


class Cell(NamedTuple):
    """What a test shows in a word, and whether what was seen fits; asked only where the test was made."""

    word: str
    fits: Callable[[Case], bool]
