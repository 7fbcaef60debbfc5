"""What a record of one kind of channel holds and prints, beside what every record does."""

from collections.abc import Callable, Iterator, Mapping
from typing import Any, NamedTuple

from ...job.job import Job
from ...state.progress import StepName
from ...state.scales import Scale
from ..blocks import Block, PrintedVerdict
from .read_off import ReadOff

RecordData = Mapping[str, Any]
FactRows = tuple[tuple[str, str], ...]
SignedPart = Callable[[Job, Any], Any]


class OpenPoint(NamedTuple):
    """One thing to know before signing: in words, and the step where it is mended."""

    says: str
    step: StepName
    must: bool = False  # nothing that is said makes up for it


class SignedKind(NamedTuple):
    """One kind of channel, as it is signed.

    `parts` are reckoned of a job and a channel of the kind, by their names in the record: every kind has the same
    names. `scales` are those of the Rule; `points` what would be weak, beside the steps. The others are made of the
    record alone: `verdicts` its outcomes, `checked` what was checked, `described` facts of the unit, `derived` what it
    came of, `error` what an error is, `ends` the range in the channel's unit (None: it has none), `quantity` what it
    measures or gives, of the channel's plain data, `read_off` how an instrument stands to its errors (None: not at
    all), of the channel's data and the instrument's.
    """

    kind: str
    parts: Mapping[str, SignedPart]
    scales: Callable[[Job, Any], tuple[Scale, ...]]
    points: Callable[[Job, Any], Iterator[OpenPoint]]
    verdicts: Callable[[RecordData], tuple[PrintedVerdict, ...]]
    checked: Callable[[RecordData], Iterator[Block]]
    described: Callable[[RecordData], FactRows]
    derived: Callable[[RecordData], Iterator[Block]]
    error: str
    ends: Callable[[RecordData], tuple[float, float] | None]
    quantity: Callable[[RecordData], str]
    read_off: Callable[[RecordData, RecordData], ReadOff | None]
