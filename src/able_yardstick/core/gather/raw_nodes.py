"""Where along the path a raw value can be read, and in which unit."""

from typing import NamedTuple

from ..document.channel import WiredChannel
from ..journal.reading import Raw
from ..path.node import Node
from ..units.typed import row_in
from ..words.errors import OutOfRange
from ..words.numerals import significant

_SMALLER = {"V": "mV", "Hz": "kHz"}


class NodeChoice(NamedTuple):
    """A node with a unit, and the words for it."""

    node: Node
    unit: str
    words: str
    full_count: int | None = None  # where counts are read

    @property
    def key(self) -> str:
        """Names the choice."""
        return f"{self.node} {self.unit}"

    def typed(self, text: str) -> Raw:
        """What was typed of a raw signal read there: one value, or several in a row. Raises: BadTable, UnitMismatch."""
        row = row_in(text, self.unit)
        return Raw(
            mean=row.mean, node=self.node, unit=self.unit, spread=row.spread, count=row.samples, digit=row.digit
        )  # fmt: skip

    def raw(self, value: float, digit: float | None = None) -> Raw:
        """A raw value read there; `digit` is the step of its last digit, in the same unit."""
        return Raw(mean=value, node=self.node, unit=self.unit, digit=digit)

    def possible(self, raw: Raw) -> Raw:
        """A raw value that may be calibrated with. Raises: OutOfRange for a count that the converter cannot make."""
        value = raw.mean
        if self.full_count is not None and not 0 <= value <= self.full_count:
            raise OutOfRange(
                f"{significant(value, 9)} counts cannot be: the converter ends at {self.full_count}. Check what was "
                "read, or the converter at Wire.",
                found=value,
            )
        return raw


def node_choices(channel: WiredChannel) -> list[NodeChoice]:
    """What a person may have read for this channel: at the transducer, at the pin, or the count."""
    path = channel.path
    places: list[tuple[Node, str, str]] = [("pin", path.pin_unit, "at the pin")]
    if not path.is_direct:
        places.insert(0, ("output", path.source, "output"))
    found = [
        NodeChoice(node, written, f"{written} {words}")
        for node, unit, words in places
        for written in (unit, _SMALLER.get(unit))
        if written and unit != "counts"
    ]
    return [*found, NodeChoice("counts", "counts", "counts", path.converter.full_count)]


def choice_for_unit(choices: list[NodeChoice], unit: str) -> NodeChoice:
    """The choice whose unit a column's heading names, else the first."""
    return next((choice for choice in choices if choice.unit.casefold() == unit.strip().casefold()), choices[0])
