"""Writes a table into a controller so that no half-written one is ever in force, and reads it back cell by cell."""

from collections.abc import Callable
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from ..core.document.controller import TableLayout
from ..core.journal.table_image import HEAD, TableImage, bank_words, table_words
from .errors import BadAnswer

MOST_WORDS = 120  # in one request
_IN_FORCE, _NOT_TRUSTED = 0, 1


class Registers(Protocol):
    """What a writer needs of a link."""

    def read(self, address: int, count: int) -> "NDArray[np.uint16]":
        """Registers as they are. Raises: NoLink, BadAnswer."""

    def write(self, address: int, words: list[int]) -> None:
        """Write registers in one request. Raises: NoLink, BadAnswer."""


class Place(NamedTuple):
    """Where a channel's table lies."""

    address: int
    layout: TableLayout


class Written(NamedTuple):
    """What was there before, what is there now, and where that is not what was meant."""

    before: TableImage
    after: TableImage
    differences: tuple[str, ...]
    steps: tuple[str, ...]


def read_table(link: Registers, place: Place) -> tuple[TableImage, int]:
    """The table in force, and in which bank it lies. Raises: NoLink, BadAnswer."""
    words = _read_part(link, place.address, table_words(place.layout))
    bank = _bank_in_force(words, place)
    start = HEAD + bank * bank_words(place.layout)
    return TableImage.from_words(words[start : start + bank_words(place.layout)], place.layout), bank


def _bank_in_force(words: "NDArray[np.uint16]", place: Place) -> int:
    bank = int(words[_IN_FORCE]) if place.layout.banks == 2 else 0
    if bank not in (0, 1):
        raise BadAnswer(
            f"Register {place.address} should say which bank is in force, 0 or 1, but holds {bank}. "
            "Check the address of the table in the controller's description."
        )
    return bank


def write_table(
    link: Registers, place: Place, meant: TableImage, keep: Callable[[TableImage], None] = lambda _before: None
) -> Written:
    """Write a table in the order that leaves no half-written one in force, and read it back.

    `keep` is given the copy of what is there before the first cell is written. With two banks the idle one is written
    and read back, and one register switches over. With one, the values are marked as not to be trusted meanwhile.
    Raises: NoLink, BadAnswer, NotApplicable, and BadTable if what is there cannot be copied.
    """
    words = meant.words(place.layout)
    before, bank = read_table(link, place)
    keep(before)
    if place.layout.banks == 2:
        return _through_the_idle_bank(link, place, meant, words, before, 1 - bank)
    return _marked_meanwhile(link, place, meant, words, before)


def _through_the_idle_bank(
    link: Registers, place: Place, meant: TableImage, words: list[int], before: TableImage, idle: int
) -> Written:
    start = place.address + HEAD + idle * bank_words(place.layout)
    steps = ["copied what was there", f"wrote bank {idle}, which was idle"]
    _write_all(link, start, words)
    there = TableImage.from_words(_read_part(link, start, len(words)), place.layout)
    wrong = meant.differences(there)
    if wrong:
        steps.append("read it back: not as meant, so the old table stays in force")
        return Written(before, before, wrong, tuple(steps))
    link.write(place.address + _IN_FORCE, [idle])
    steps += ["read it back: equal", f"switched over to bank {idle}"]
    after, _ = read_table(link, place)
    return Written(before, after, meant.differences(after), (*steps, "read the table in force"))


def _marked_meanwhile(
    link: Registers, place: Place, meant: TableImage, words: list[int], before: TableImage
) -> Written:
    link.write(place.address + _NOT_TRUSTED, [1])
    _write_all(link, place.address + HEAD, words)
    after, _ = read_table(link, place)
    wrong = meant.differences(after)
    steps = ["copied what was there", "marked the values as not to be trusted", "wrote the table", "read it back"]
    if not wrong:
        link.write(place.address + _NOT_TRUSTED, [0])
        steps.append("took the mark away")
    return Written(before, after, wrong, tuple(steps))


def _write_all(link: Registers, address: int, words: list[int]) -> None:
    for start in range(0, len(words), MOST_WORDS):
        link.write(address + start, words[start : start + MOST_WORDS])


def _read_part(link: Registers, address: int, count: int) -> "NDArray[np.uint16]":
    parts = [link.read(address + start, min(MOST_WORDS, count - start)) for start in range(0, count, MOST_WORDS)]
    return np.concatenate(parts)
