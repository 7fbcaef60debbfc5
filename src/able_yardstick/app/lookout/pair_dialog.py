"""Which sensors of one quantity are compared, and how far they may be apart."""

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QWidget

from ...core.document.channel import ContinuousChannel
from ...core.document.watched import SensorPair
from ...core.job.watching import change_pair
from ...core.lookout.watchable import Watchable, in_unit_of, watchable, watchables
from ...core.units.typed import typed_in
from ...core.words.errors import NotApplicable, YardstickError
from ...core.words.numerals import significant
from ..frame.workbench import Workbench, new_id
from ..panel.ask_dialog import AskDialog


class ChannelList(QListWidget):
    """Channels to tick off."""

    def __init__(self, channels: Sequence[Watchable], ticked: tuple[str, ...]) -> None:
        super().__init__()
        for channel in channels:
            item = QListWidgetItem(f"{channel.tag}  {channel.name}  ({channel.unit})")
            item.setData(Qt.ItemDataRole.UserRole, channel.id)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if channel.id in ticked else Qt.CheckState.Unchecked)
            self.addItem(item)
        self.setMaximumHeight(190)

    @property
    def ticked(self) -> tuple[str, ...]:
        """The ids of those ticked, in their order."""
        items = [self.item(n) for n in range(self.count())]
        return tuple(
            one.data(Qt.ItemDataRole.UserRole) for one in items if one.checkState() == Qt.CheckState.Checked
        )  # fmt: skip

    def tick(self, channel_id: str) -> None:
        """Tick one off."""
        for n in range(self.count()):
            if self.item(n).data(Qt.ItemDataRole.UserRole) == channel_id:
                self.item(n).setCheckState(Qt.CheckState.Checked)


class PairDialog(AskDialog):
    """Describes a pair, a new one or one that is there."""

    def __init__(self, bench: Workbench, pair: SensorPair | None, near: str, parent: QWidget) -> None:
        about = "Tick the sensors that measure the same quantity. Their difference is watched, live and in every log."
        super().__init__("Compare sensors of one quantity", about, self._keep_pair, parent)
        self._bench, self._pair = bench, pair
        channels = watchables(bench.job)
        ticked = pair.channels if pair is not None else _likely(channels, near)
        self.sensors = ChannelList(channels, ticked)
        self.add("Sensors", self.sensors)
        allowed = "" if pair is None or pair.allowed is None else significant(pair.allowed, 6)
        self.allowed = self.add_line("Allowed", allowed, "as the U of both explains")

    def _keep_pair(self) -> None:
        chosen = self.sensors.ticked
        if len(chosen) < 2:
            raise NotApplicable(f"At least two sensors are compared, found {len(chosen)} ticked. Tick two.")
        job = self._bench.job
        first = watchable(job, chosen[0])
        for other in chosen[1:]:
            _refuse_unlike(first, watchable(job, other))
        text = self.allowed.text().strip()
        allowed = typed_in(text, first.unit).value if text else None
        made = SensorPair(id=self._pair.id if self._pair else new_id(), channels=chosen, allowed=allowed)
        self._bench.edit("sensors compared", lambda job: change_pair(job, made))


def _refuse_unlike(first: Watchable, other: Watchable) -> None:
    """Raises: NotApplicable where two do not measure the same."""
    try:
        middle = 0.5 * sum(other.range) if isinstance(other, ContinuousChannel) else 1.0
        in_unit_of(first, other.unit, np.array([middle]))
    except YardstickError as error:
        raise NotApplicable(
            f"{first.tag} in {first.unit} and {other.tag} in {other.unit} do not measure the same: untick one of them."
        ) from error


def _likely(channels: Sequence[Watchable], near: str) -> tuple[str, ...]:
    """A channel with another one of its quantity and unit; empty where there is none."""
    first = next((one for one in channels if one.id == near), None)
    for one in [first] if first is not None else channels:
        mate = next((other for other in channels if other.id != one.id and _alike(one, other)), None)
        if mate is not None:
            return (one.id, mate.id)
    return () if first is None else (first.id,)


def _alike(one: Watchable, other: Watchable) -> bool:
    if not (isinstance(one, ContinuousChannel) and isinstance(other, ContinuousChannel)):
        return False
    return one.unit == other.unit and one.range == other.range
