"""What the controller itself shows, against what the raw signal comes to; a contact shows nothing of its own."""

from ...document.channel import ContinuousChannel
from ..case import Case
from .cell import Cell

_SHARE = 0.01  # of the range


def _agrees(case: Case) -> bool | None:
    seen, channel = case.evidence, case.channel
    if seen.shown is None or seen.reckoned is None or not isinstance(channel, ContinuousChannel):
        return None
    return abs(seen.shown - seen.reckoned) <= max(_SHARE * channel.span, channel.allowed_error())


AGREES = Cell("agrees", lambda case: _agrees(case) is not False)
DIFFERS = Cell("differs", lambda case: _agrees(case) is not True)
EITHER = Cell("agrees", lambda _case: True)  # as a rule: the two were not read at the same moment
