"""What the fields of each kind of channel share."""

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ....core.document.channel import AnyChannel
from ...panel.step_panel import StepPanel


class Fields(QWidget):
    """The fields of one kind of channel."""

    shows: type = object
    noun = ""

    def __init__(self, panel: StepPanel) -> None:
        super().__init__()
        self.panel = panel
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(7)
        self.build()

    def build(self) -> None:
        """Make the fields."""

    def add(self, *widgets: QWidget) -> None:
        """Put widgets one under the other."""
        for widget in widgets:
            self.column.addWidget(widget)

    def put(self, what: str, **fields: object) -> None:
        """Send the channel back with some of its own fields changed. Raises: what the edit refuses."""
        channel = self.panel.bench.channel
        if channel is not None:
            self.panel.change(f"{channel.tag}: {what}", channel.with_(**fields))

    def show_channel(self, channel: AnyChannel) -> None:
        """Show a channel's values."""
