"""A knot that is being dragged: what it would cost is shown as it goes, and the job is edited once it is let go."""

from PySide6.QtCore import QObject, Signal

from ....core.document.channel import ContinuousChannel
from ....core.job.channels import change_channel
from ....core.pack.hand_knots import with_moved_knot
from ....core.pack.packed import packed_now
from ....core.words.errors import YardstickError
from ...frame.workbench import Workbench


class KnotDrag(QObject):
    """`drafted` tells of the channel as it would be."""

    drafted = Signal(object)

    def __init__(self, bench: Workbench, parent: QObject) -> None:
        super().__init__(parent)
        self._bench = bench
        self._draft: ContinuousChannel | None = None

    def move(self, knot: int, signal: float, value: float) -> None:
        """Take a knot to a signal at the pin and a value."""
        channel = self._draft or self._bench.continuous
        if channel is None or not self._bench.has_numbers(self._bench.continuous or channel):
            return
        believed = signal / channel.path.converter.reference_factor
        try:
            form = packed_now(self._bench.job, channel).form
            self._draft = with_moved_knot(channel, form, knot, believed, value)
            packed_now(self._bench.job, self._draft)
        except YardstickError as error:
            self._bench.said.emit(str(error), True)
            return
        self.drafted.emit(self._draft)

    def drop(self) -> None:
        """Let go: the knot stays where it is."""
        draft, self._draft = self._draft, None
        if draft is not None:
            self._bench.try_edit(f"{draft.tag}: knot moved", lambda job: change_channel(job, draft))
