"""Every state of the channel that was written into its controller, compared with the present one."""

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ....core.document.channel import ContinuousChannel
from ....core.job.entries import written_state
from ....core.sign.versions import differences, writes_of
from ....core.words.numerals import counted
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.fields import ChoiceField, label
from ...panel.figures import FigureRow, FigureTable

_SHOWN = 40


class VersionsBox(QWidget):
    """The writes by their days, and what is another since the chosen one."""

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__()
        self._bench, self._theme, self._chosen = bench, theme, ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.write = ChoiceField("Written", (), self._put)
        self.says = label("", "", 12)
        self.table = FigureTable("Then against now")
        for widget in (self.write, self.says, self.table):
            column.addWidget(widget)

    def _put(self, key: str) -> None:
        self._chosen = key
        channel = self._bench.continuous
        if channel is not None:
            self.show_channel(channel, self._theme)

    def show_channel(self, channel: ContinuousChannel, theme: Theme) -> str:
        """Show a channel's writes; gives in a few words how many there are."""
        job, self._theme = self._bench.job, theme
        writes = writes_of(job, channel)
        self.write.setVisible(bool(writes))
        self.table.setVisible(False)
        if not writes:
            self.says.setText("Nothing was written from here yet: at Pack the numbers are put into the controller.")
            return "nothing written"
        self.write.offer([(one.id, f"{one.made:%Y-%m-%d %H:%M} by {one.source}") for one in writes])
        one = next((one for one in writes if one.id == self._chosen), writes[0])
        self.write.show_value(one.id)
        if one.state is None:
            self.says.setText(
                "An earlier version of the program wrote it and kept no state: only its numbers are known."
            )
            return counted(len(writes), "write")
        found = differences(one.state, written_state(job, channel))
        self.says.setText(f"{counted(len(found), 'figure')} differ since." if found else "All is as it was written.")
        self.table.setVisible(bool(found))
        rows = [FigureRow(_name(row.path), row.then or "–", row.now or "–") for row in found[:_SHOWN]]
        self.table.show_rows(("", "then", "now"), rows, theme)
        return counted(len(writes), "write")


def _name(path: str) -> str:
    """A figure's path as a person reads it."""
    return path.removeprefix("channel.").removeprefix("form.").replace("_", " ").replace(".", ": ")
