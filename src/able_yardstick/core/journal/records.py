"""What events leave in the journal: numbers kept for a controller, a look, a write."""

from datetime import datetime

from pydantic import Field

from ..document.channel import ContinuousChannel
from ..document.chosen import FitRecord
from ..forms.any_form import AnyForm
from ..forms.cost import PackingCost
from ..forms.spec import PackSpec
from ..words.acceptance import DecisionRule
from ..words.record import Finite, Frozen, Reckoned, added_later, digest
from .table_image import TableImage


class PackRecord(Frozen):
    """The packing kept for a channel, in `unit`, with the revision of everything it rests on."""

    channel: str
    spec: PackSpec
    form: AnyForm
    unit: str
    cost: PackingCost
    basis: dict[str, str]
    made: datetime
    job_revision: int
    reason: str = added_later("")  # why numbers other than the calibration's were kept: a trim, as found

    @property
    def revision(self) -> str:
        """Names the numbers in the controller: checks rest on it."""
        return digest(self.form, self.unit)


class WakeRecord(Frozen):
    """What was found when a channel's raw signal was woken: the causes left standing, the likeliest first.

    `level` and `noise` are at the pin, in its unit; `basis` names the description and wiring it was judged by.
    """

    channel: str
    made: datetime
    state: str = ""
    causes: tuple[str, ...] = ()
    says: str = ""
    nudged: bool = False
    level: Reckoned
    noise: Reckoned
    basis: dict[str, str]


class JudgementRecord(Frozen):
    """What checks of the numbers named by `packing` came to by a rule that was then changed for another one."""

    channel: str
    made: datetime
    rule: DecisionRule
    packing: str
    checks: tuple[str, ...]  # ids of the readings
    passed: tuple[bool, ...]

    @property
    def verdict(self) -> str:
        """The outcome in one word."""
        return "pass" if all(self.passed) else "fail"


class RehearsalRecord(Frozen):
    """What was seen of one step of an alarm's rehearsal; `basis` names the numbers, limits and fault rule it was of."""

    channel: str
    made: datetime
    step: str
    expected: str
    as_expected: bool
    delay_s: Finite | None = Field(default=None, ge=0)
    basis: str


class WrittenState(Frozen):
    """What numbers that were written came of: the channel as it was described then, and its curve."""

    channel: ContinuousChannel
    fit: FitRecord | None = None
    form: AnyForm | None = None
    unit: str = ""


class WriteRecord(Frozen):
    """What was written into a controller for a channel: what was there before, what was meant, and where it differed.

    `packing` is the revision of the packing; `done` are the further things that were ticked off. The record is kept
    before the first cell is written; it is not `finished` until the cells were read back.
    """

    id: str
    channel: str
    made: datetime
    source: str
    packing: str
    before: TableImage
    meant: TableImage
    differences: tuple[str, ...] = ()
    is_undoing: bool = False
    finished: bool = True
    done: tuple[str, ...] = ()
    state: WrittenState | None = added_later(None)  # of a program that kept none: not known


class SignedRecord(Frozen):
    """A record that was signed of a channel, named by its SHA-256; `basis` names everything that went into it.

    A second signature enters it again under its hash, with who approved it and when.
    """

    sha256: str
    channel: str
    made: datetime
    name: str
    role: str
    scope: str
    number: int = Field(ge=1)  # of the unit's records, the first is 1
    file: str  # its name in the folder of the job's records
    asks_approval: bool = False
    approver: str = ""
    approved: datetime | None = None
    corrects: str = ""
    basis: dict[str, str]

    @property
    def is_complete(self) -> bool:
        """Whether all have signed who were asked."""
        return self.approved is not None or not self.asks_approval
