"""What needs attention on the bench, newest first, each until it is gone and was acknowledged."""

from collections.abc import Mapping
from typing import NamedTuple

from .standing import ChannelStanding, StandingKind

_LEVELS: dict[StandingKind, str] = {
    "value": "ok", "state": "ok", "fault": "fault", "alarm": "fault", "beyond": "look", "apart": "look",
    "unscaled": "look",
    "stale": "look",
}  # fmt: skip


class AttentionItem(NamedTuple):
    """Something of a channel (its id): in words, since when by the clock in s, until when it lasted, and the state.

    It stays while it lasts, and after that until it is acknowledged.
    """

    channel: str
    kind: StandingKind
    words: str
    says: str
    since_s: float
    until_s: float | None = None
    is_acknowledged: bool = False
    names: str = ""

    @classmethod
    def of(cls, channel: str, standing: ChannelStanding, now_s: float) -> "AttentionItem":
        """What begins to need attention as a channel stands so at a clock time in s."""
        return cls(channel, standing.kind, standing.words, standing.says, now_s, names=standing.names)

    def told_as(self, standing: ChannelStanding) -> "AttentionItem":
        """The same, told as it stands now where that is another thing and not only another number."""
        if (standing.words, standing.names) == (self.words, self.names):
            return self
        return self._replace(words=standing.words, says=standing.says, names=standing.names)

    @property
    def level(self) -> str:
        """The level of its mark."""
        return _LEVELS[self.kind]


def level_of(standing: ChannelStanding) -> str:
    """The level of a channel's mark: ok, look or fault."""
    return _LEVELS[standing.kind]


class Attention(NamedTuple):
    """All that needs attention, newest first. Every change gives another one."""

    items: tuple[AttentionItem, ...] = ()

    def seen(self, standings: Mapping[str, ChannelStanding], now_s: float) -> "Attention":
        """What it becomes as channels (by their ids) stand so at a clock time in s."""
        kept = [_followed(item, standings.get(item.channel), now_s) for item in self.items]
        lasting = {(item.channel, item.kind) for item in kept if item is not None and item.until_s is None}
        new = [
            AttentionItem.of(channel, standing, now_s)
            for channel, standing in standings.items()
            if level_of(standing) != "ok" and (channel, standing.kind) not in lasting
        ]
        rest = [item for item in kept if item is not None]
        return self if not new and rest == list(self.items) else Attention((*new, *rest))

    def acknowledged(self, item: AttentionItem) -> "Attention":
        """With an item acknowledged; one that is over by then is gone."""
        rows = (one._replace(is_acknowledged=True) if one == item else one for one in self.items)
        return Attention(tuple(one for one in rows if one.until_s is None or not one.is_acknowledged))


def _followed(item: AttentionItem, standing: ChannelStanding | None, now_s: float) -> AttentionItem | None:
    """An item as its channel stands now: it goes on, or ends; one that ends acknowledged is gone."""
    if item.until_s is not None:
        return item
    if standing is not None and standing.kind == item.kind:
        return item.told_as(standing)
    return None if item.is_acknowledged else item._replace(until_s=now_s)
