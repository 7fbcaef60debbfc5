"""The curve that was chosen for a channel."""

from datetime import datetime

from ..regression.fitted import Fitted
from ..words.record import Frozen, Reckoned


class FitRecord(Frozen):
    """The curve chosen for a channel, in `unit`, with the revision of everything it rests on.

    `assumed` says why its shape is only assumed, empty where readings bear it out. `expanded` is U, in `unit`, where it
    is largest within the readings; None where it is not known.
    """

    channel: str
    fitted: Fitted
    unit: str
    assumed: str = ""
    expanded: Reckoned | None = None
    basis: dict[str, str]
    made: datetime
    job_revision: int
