"""A transducer of the shop's own: kept once with where its figures are from and who vouches, started from as a copy."""

from pydantic import Field

from ..document.channel import ContinuousChannel
from ..job.channels import new_continuous
from ..path.signal_path import Path
from ..sensor.transducer import FigureOrigin, Transducer
from ..words.record import Frozen, InvalidRecord
from ..words.tolerance import Tolerance

_HOLDS_FOR_ALL: tuple[FigureOrigin, ...] = ("data sheet of the type", "similar part", "assumed")


class ShopEntry(Frozen):
    """What a channel is started from: its transducer with its points, its path, the error allowed, and its story."""

    title: str = Field(min_length=1, max_length=120)
    tag: str = "NEW"
    transducer: Transducer
    unit: str
    path: Path
    tolerance: Tolerance
    source: str = Field(min_length=1, max_length=300)  # the document or the work that the figures are from
    vouched_by: str = Field(min_length=1, max_length=120)

    def channel(self, channel_id: str, device: str, tag: str) -> ContinuousChannel:
        """A channel that starts as a copy; figures that were of one unit are those of a similar part in another."""
        origin = self.transducer.source
        transducer = self.transducer if origin in _HOLDS_FOR_ALL else self.transducer.with_(source="similar part")
        started = new_continuous(channel_id, device, tag)
        note = f"From the shop's library: {self.title}. Source: {self.source}. Vouched for by {self.vouched_by}."
        return started.with_(
            transducer=transducer.with_(measured_zero=None), unit=self.unit, path=self.path, tolerance=self.tolerance,
            note=note,
        )  # fmt: skip


def entry_of(channel: ContinuousChannel, title: str, source: str, vouched_by: str) -> ShopEntry:
    """An entry made of a channel. Raises: InvalidRecord where a title, a source or a name is missing."""
    said = {"what it is called": title, "where its figures are from": source, "who vouches for it": vouched_by}
    missing = next((what for what, text in said.items() if not text.strip()), "")
    if missing:
        raise InvalidRecord(f"Say {missing}: an entry without it would be worth nothing to others.")
    return ShopEntry(
        title=title.strip(), tag=channel.tag.split("-")[0] or "NEW", transducer=channel.transducer, unit=channel.unit,
        path=channel.path, tolerance=channel.tolerance, source=source.strip(), vouched_by=vouched_by.strip(),
    )  # fmt: skip
