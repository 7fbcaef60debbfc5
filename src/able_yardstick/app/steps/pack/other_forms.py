"""The same calibration in every form side by side, reckoned when it is asked for."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHeaderView, QPushButton, QTableWidgetItem, QVBoxLayout, QWidget

from ....core.curves import Curve
from ....core.curves.bend import bend_of
from ....core.document.channel import ContinuousChannel
from ....core.forms.any_form import FORMS
from ....core.forms.spec import PackSpec
from ....core.job.in_force import curve_in_use
from ....core.pack.packed import Packed, packed_as
from ....core.words.errors import YardstickError
from ....core.words.numerals import fixed
from ...frame.plain_text import tip
from ...frame.theme import font
from ...frame.workbench import Workbench
from ...panel.fields import label
from ...panel.numbers_table import fit_height, plain_table
from .search_box import SearchBox

FORM_TITLES = [(form.model_fields["kind"].default, form.title) for form in FORMS]


class _Mine(NamedTuple):
    """What the packing that is looked at shows at each count where the calibration holds, (n,) each."""

    counts: NDArray[np.int64]
    shown: NDArray[np.float64]


class _Costs(NamedTuple):
    """A form's worst error, and the largest difference to the one looked at, in the channel's unit."""

    worst: float
    off: float


class OtherForms(QWidget):
    """A button, and below it each form with its worst error and how far it is off the one looked at."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self._bench = bench
        self._seen: tuple[ContinuousChannel, Packed | None] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        self.compare = QPushButton("Compare with the other forms")
        self.compare.setCheckable(True)
        self.compare.toggled.connect(lambda _on: self._show())
        self.table = plain_table("The same calibration in other forms")
        self.table.verticalHeader().hide()
        self.equal = label("", "muted", 12)
        self._search = bench.new_search()
        self._search.ended.connect(self._show)
        self.searching = SearchBox(self._search, "the numbers of every form")
        for widget in (self.compare, self.searching, self.table, self.equal):
            column.addWidget(widget)

    def show_packed(self, channel: ContinuousChannel, packed: Packed | None) -> None:
        """Compare with this packing, while that is asked for."""
        self._seen = (channel, packed)
        self._show()

    def _show(self) -> None:
        channel, packed = self._seen or (None, None)
        self.setVisible(packed is not None)
        asked = packed is not None and self.compare.isChecked()
        if channel is None or packed is None or not asked:
            for part in (self.table, self.equal, self.searching):
                part.hide()
            return
        specs = {kind: _spec(channel, kind) for kind, _ in FORM_TITLES}
        there = self._search.made(self._bench.job, channel, tuple(specs.values()))
        self.searching.show_now(channel.unit)
        self.table.setVisible(there)
        self.equal.setVisible(there)
        if not there:
            return
        mine = self._mine(channel, packed)
        found = [(title, self._other(channel, specs[kind], mine)) for kind, title in FORM_TITLES]
        self._fill([(title, *_figures(costs)) for title, costs in found])
        use = curve_in_use(self._bench.job, channel)
        curve = None if use is None else use.curve
        self.equal.setText(_agreement(channel, curve, [costs.off for _, costs in found if costs is not None]))

    def _mine(self, channel: ContinuousChannel, packed: Packed) -> _Mine:
        converter = channel.path.converter
        counts = converter.every_count()
        use = curve_in_use(self._bench.job, channel)
        if use is not None:
            counts = counts[use.curve.within(converter.inverse(counts))]
        return _Mine(counts, packed.form.shown(counts, converter.nominal))

    def _other(self, channel: ContinuousChannel, spec: PackSpec, mine: _Mine) -> _Costs | None:
        """What a form costs; None if it is not possible."""
        try:
            other = packed_as(self._bench.job, channel, spec)
        except YardstickError:
            return None
        shown = other.form.shown(mine.counts, channel.path.converter.nominal)
        return _Costs(abs(other.worst.error), float(np.max(np.abs(shown - mine.shown), initial=0.0)))

    def _fill(self, rows: list[tuple[str, ...]]) -> None:
        table, headings = self.table, ("form", "worst", "off this one")
        table.setColumnCount(len(headings))
        table.setRowCount(len(rows))
        table.setHorizontalHeaderLabels(list(headings))
        for n, row in enumerate(rows):
            for column, text in enumerate(row):
                item = QTableWidgetItem(text)
                item.setFont(font(12))
                side = Qt.AlignmentFlag.AlignRight if column else Qt.AlignmentFlag.AlignLeft
                item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
                item.setToolTip(tip(text))
                table.setItem(n, column, item)
        for column in range(1, len(headings)):
            table.horizontalHeader().setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        fit_height(table)


def _spec(channel: ContinuousChannel, kind: str) -> PackSpec:
    return channel.pack_spec.with_(form=kind, spacing="best" if kind == "knots" else channel.pack_spec.spacing)


def _figures(costs: _Costs | None) -> tuple[str, str]:
    return ("—", "not possible") if costs is None else (fixed(costs.worst, 4), fixed(costs.off, 4))


def _agreement(channel: ContinuousChannel, curve: Curve | None, off: list[float]) -> str:
    """How many forms show the same as the one looked at, within the error allowed where that is stated."""
    said = (
        f"In {channel.unit}. “Off this one”: the largest difference to the numbers above where the calibration holds. "
    )
    if not channel.tolerance.is_stated:
        return f"{said}All forms agree within {fixed(max(off), 4)} {channel.unit}."
    allowed = min(channel.allowed_error(value) for value in channel.range)
    close = [one for one in off if one <= allowed]
    agree = f"{said}{len(close)} of {len(off)} forms agree with them within {fixed(max(close), 4)}"
    if len(close) == len(off):
        return f"{agree}, less than the error allowed ({allowed:g})."
    bent = curve is not None and bend_of(curve) > allowed
    why = "they do not follow the bend" if bent else "their steps are too coarse"
    return f"{agree}; the others differ by more than the error allowed ({allowed:g}): {why}."
