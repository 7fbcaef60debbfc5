"""What the fields of each kind of channel share."""

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ....core.document.channel import AnyChannel
from ...panel.lead_box import Headline
from ...panel.section import Section
from ...panel.step_panel import StepPanel


class Fields(QWidget):
    """The fields of one kind of channel."""

    shows: type = object
    noun = ""
    names = "Measures"  # what the channel's name tells

    def __init__(self, panel: StepPanel) -> None:
        super().__init__()
        self.panel = panel
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(7)
        self.top = QWidget()  # stands below the tag
        self._top_column = QVBoxLayout(self.top)
        self._top_column.setContentsMargins(0, 0, 0, 0)
        self._top_column.setSpacing(7)
        self.build()

    def build(self) -> None:
        """Make the fields."""

    def add_to_top(self, *widgets: QWidget) -> None:
        """Put widgets below the tag, one under the other."""
        for widget in widgets:
            self._top_column.addWidget(widget)

    def show_parts(self, seen: bool) -> None:
        """Show all of it, or nothing."""
        self.top.setVisible(seen)
        self.setVisible(seen)

    def section(self, name: str, title: str, *, opened: bool = False) -> Section:
        """A part that folds, below all that stands there already."""
        made = Section(self.panel.bench, f"describe/{name}", title, opened=opened)
        self.column.addWidget(made)
        return made

    def add(self, *widgets: QWidget) -> None:
        """Put widgets one under the other."""
        for widget in widgets:
            self.column.addWidget(widget)

    def lead(self, channel: AnyChannel) -> Headline:
        """What stands now, and what to do next."""
        raise NotImplementedError

    def put(self, what: str, **fields: object) -> None:
        """Send the channel back with some of its own fields changed. Raises: what the edit refuses."""
        channel = self.panel.bench.channel
        if channel is not None:
            self.panel.change(f"{channel.tag}: {what}", channel.with_(**fields))

    def show_channel(self, channel: AnyChannel) -> None:
        """Show a channel's values."""
