"""What a printed record is made of: blocks of words that a page shows one below the other, in an order that is kept."""

from collections.abc import Iterator
from typing import Literal, NamedTuple


class Facts(NamedTuple):
    """A heading with names and what each is."""

    heading: str
    rows: tuple[tuple[str, str], ...]


class Words(NamedTuple):
    """A heading with a text that is broken into lines where they are full."""

    heading: str
    text: str


class SideBySide(NamedTuple):
    """Two blocks, one beside the other."""

    left: Facts | Words
    right: Facts | Words


class Tabled(NamedTuple):
    """A heading, the names of columns, and rows; the first column is set to the left and the others to the right.

    One that `is_tall` has room to write in.
    """

    heading: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    is_tall: bool = False


VerdictMark = Literal["good", "bad", "open"]


class PrintedVerdict(NamedTuple):
    """An outcome in a few words with its mark, and what stands behind it."""

    mark: VerdictMark
    says: str
    more: str


class Verdicts(NamedTuple):
    """As left and as found."""

    rows: tuple[PrintedVerdict, ...]


class Graduation(NamedTuple):
    """A place on an axis, as a share of it, and what stands there."""

    at: float
    text: str


class ScaleRow(NamedTuple):
    """One scale of the Rule on the axis of the pin: its graduations, and what it reads at the hairline."""

    title: str
    unit: str
    graduations: tuple[Graduation, ...]
    reads: str


class ErrorMark(NamedTuple):
    """An error at a place on the axis (a share of it), with U, both in the channel's unit; `is_found`: as found."""

    at: float
    error: float
    expanded: float
    is_found: bool
    passed: bool


class RulePicture(NamedTuple):
    """The Rule with its hairline, and the errors under it.

    What is at a hairline or a level can be compared with the record; graduations stand where there is room for them.
    `allowed` is the error allowed along the axis (shares of it, then the unit); `levels` graduate the errors. Without
    a legend there are no errors to show.
    """

    heading: str
    at: float
    scales: tuple[ScaleRow, ...]
    unit: str
    errors: tuple[ErrorMark, ...]
    allowed: tuple[tuple[float, float], ...]
    levels: tuple[tuple[float, str], ...]
    extent: float  # of the errors' axis either way, in the unit
    legend: str


Block = Facts | Words | SideBySide | Tabled | Verdicts | RulePicture


class PrintedSheet(NamedTuple):
    """All that is printed: the head of the first page, the blocks in order, and the foot of every page."""

    title: str
    subtitle: str
    aside: tuple[str, ...]
    blocks: tuple[Block, ...]
    foot: str

    @property
    def texts(self) -> tuple[str, ...]:
        """What is printed whatever the paper and its fonts are, in words and in the order in which it is drawn."""
        found = (self.title, self.subtitle, *self.aside, *(text for block in self.blocks for text in texts_of(block)))
        return tuple(text for text in found if text)


def texts_of(block: Block) -> Iterator[str]:
    """The words of a block, each as it is printed and in that order."""
    match block:
        case Facts(heading, rows):
            yield from (heading, *(text for row in rows for text in row))
        case Words(heading, text):
            yield from (heading, text)
        case SideBySide(left, right):
            yield from (*texts_of(left), *texts_of(right))
        case Tabled(heading, columns, grid, _is_tall):
            yield from (heading, *columns, *(text for line in grid for text in line))
        case Verdicts(verdicts):
            yield from (text for one in verdicts for text in (one.says, one.more))
        case RulePicture():
            yield block.heading
            yield from (text for scale in block.scales for text in (scale.title, scale.unit))
            yield from (text for _at, text in block.levels)
            yield from (*(scale.reads for scale in block.scales), block.legend)
