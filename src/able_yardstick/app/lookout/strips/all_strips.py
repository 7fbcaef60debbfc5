"""The painters of all kinds of rows."""

from ....core.lookout.rows import RowKind
from .channel_strip import ChannelStrip
from .pair_strip import PairStrip
from .strip import Strip
from .value_strip import GroupStrip, ValueStrip


def all_strips() -> dict[RowKind, Strip]:
    """A painter for each kind of row, with pictures of its own."""
    return {"channel": ChannelStrip(), "pair": PairStrip(), "value": ValueStrip(), "group": GroupStrip()}
