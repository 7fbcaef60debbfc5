"""What an empty job begins with: paste a table, start from a kind of transducer, or open a job."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ..panel.fields import heading, label
from .plain_text import caption, tip

if TYPE_CHECKING:
    from ...core.describe.catalogue import Starter

_MOST_RECENT = 5
_DEMO = "Quillstone Tileworks, Kiln 2: a made-up plant with its readings, faults and a rig to connect to."
_PASTE = "Paste a table   Ctrl+V\nSignal and value, from a data sheet, a certificate or a spreadsheet"


class Beginnings(NamedTuple):
    """What can be done from here: each is a command of the window."""

    paste: Callable[[], None]
    add: Callable[[str], None]
    add_from: Callable[["Starter"], None]
    ask_open: Callable[[], None]
    open_job: Callable[[Path], None]
    open_demo: Callable[[], None]
    recent: Callable[[], list[Path]]


class Tile(NamedTuple):
    """A kind of transducer to start from: its words, and the title of the entry it starts as, or a kind of channel."""

    title: str
    hint: str
    entry: str = ""
    kind: str = ""


TILES = (
    Tile("Two rated points", "0.5 V is 0 kPa …", "Ratiometric, 0.5 to 4.5 V"),
    Tile("Current loop", "4 to 20 mA", "Transmitter, 4 to 20 mA"),
    Tile("Load cell", "2 mV/V at full load", "Load cell, 2 mV/V"),
    Tile("Thermocouple", "type K, and others", "Thermocouple, type K"),
    Tile("Platinum", "Pt100, 2 to 4 wires", "Pt100"),
    Tile("Thermistor", "10 kΩ at 25 °C", "Thermistor, 10 kΩ at 25 °C"),
    Tile("Pulses", "so many per m³", "Turbine, open collector"),
    Tile("Contact", "open or closed", kind="two-state"),
    Tile("Output", "mA or V to a device", kind="output"),
    Tile("Nothing known", "measured pairs only", kind="continuous"),
)


class StartView(QFrame):
    """One quiet place for every beginning."""

    def __init__(self, begin: Beginnings) -> None:
        super().__init__()
        self.setObjectName("card")
        self._begin = begin
        row = QHBoxLayout(self)
        row.setContentsMargins(36, 28, 36, 28)
        row.setSpacing(44)
        row.addLayout(self._build_starts(), 3)
        row.addLayout(self._build_jobs(), 2)

    def _build_starts(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(10)
        column.addWidget(heading("Start with what you have in hand", 22))
        column.addWidget(label("Nothing has to be set up first. Every figure keeps a note of where it came from."))
        column.addSpacing(6)
        paste = QPushButton(_PASTE)
        paste.setObjectName("tile")
        paste.setMinimumHeight(64)
        paste.clicked.connect(lambda: self._begin.paste())
        column.addWidget(paste)
        column.addSpacing(8)
        column.addWidget(heading("or start from a kind of channel", 13))
        grid = QGridLayout()
        grid.setSpacing(10)
        for place, tile in enumerate(TILES):
            button = QPushButton(f"{tile.title}\n{tile.hint}")
            button.setObjectName("tile")
            button.setMinimumHeight(64)
            button.clicked.connect(partial(self._start, tile))
            grid.addWidget(button, place // 3, place % 3)
        column.addLayout(grid)
        column.addWidget(label("The button under the tagboard lists all kinds, and constants.", "muted", 12))
        column.addStretch(1)
        return column

    def _build_jobs(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(8)
        column.addWidget(heading("Go on with a job", 15))
        opens = QPushButton("Open a job …   Ctrl+O")
        opens.clicked.connect(lambda: self._begin.ask_open())
        column.addWidget(opens)
        self._shown: list[Path] | None = None
        self._recent_list = QWidget()
        self._recent_room = QVBoxLayout()
        column.addLayout(self._recent_room)
        column.addSpacing(18)
        column.addWidget(heading("See a finished one", 15))
        column.addWidget(label(_DEMO))
        demo = QPushButton("Open the demo job")
        demo.clicked.connect(lambda: self._begin.open_demo())
        column.addWidget(demo)
        self._aside = label("", "look", 12)
        column.addSpacing(18)
        column.addWidget(self._aside)
        column.addStretch(1)
        return column

    def show_job(self, aside: tuple[str, ...]) -> None:
        """Show the jobs opened before, and which channels of this one were set aside."""
        paths = self._begin.recent()[:_MOST_RECENT]
        if paths != self._shown:
            self._shown = paths
            self._show_recent(paths)
        names = ", ".join(aside)
        self._aside.setText(
            f"Set aside with a history: {names}. The button under the tagboard brings it back." if aside else ""
        )

    def _show_recent(self, paths: list[Path]) -> None:
        """A list of its own each time, which takes the place of the last."""
        self._recent_list.hide()
        self._recent_list.deleteLater()
        self._recent_list = QWidget()
        column = QVBoxLayout(self._recent_list)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label("Opened before" if paths else "None was opened here before.", size=12))
        for path in paths:
            column.addWidget(self._recent(path))
        self._recent_room.addWidget(self._recent_list)

    def _recent(self, path: Path) -> QWidget:
        button = QPushButton(caption(path.name.removesuffix(".yardstick.json")))
        button.setToolTip(tip(str(path)))
        button.clicked.connect(lambda: self._begin.open_job(path))
        return button

    def _start(self, tile: Tile) -> None:
        if tile.kind:
            self._begin.add(tile.kind)
            return
        from ...core.describe.catalogue import ENTRIES

        self._begin.add_from(next(entry for entry in ENTRIES if entry.title == tile.entry))
