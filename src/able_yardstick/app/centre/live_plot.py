"""Signals against time as they come: sensor and reference, the band that is expected, gaps left open."""

from typing import NamedTuple

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QVBoxLayout

from ...core.journal.sample import BAD, Series
from ..frame.plain_text import PlainLabel
from ..frame.theme import Theme, bold, font
from .plots.plot import ValueAxis

Array = NDArray[np.float64]
_MOST_POINTS = 1200


class Trace(NamedTuple):
    """One line: its series, its colour's name, and whether it is stale."""

    name: str
    series: Series
    color: str
    is_stale: bool = False


def thinned(times: Array, values: Array, most: int = _MOST_POINTS) -> tuple[Array, Array]:
    """At most so many points that still show every peak and every gap: least and greatest of each stretch.

    A gap is a value that is no number; pyqtgraph's own thinning would drop the stretch around it.
    """
    if len(times) <= most:
        return times, values
    each = -(-len(times) // (most // 2))
    usable = len(times) // each * each
    blocks = values[:usable].reshape(-1, each)
    starts = np.arange(0, usable, each)
    picked = np.sort(np.concatenate([starts + blocks.argmin(axis=1), starts + blocks.argmax(axis=1)]))
    return times[picked], values[picked]


class LivePlot(QFrame):
    """A plot of the last seconds; its right edge is now."""

    def __init__(self, title: str, theme: Theme, bottom: str = "seconds before now") -> None:
        super().__init__()
        self.setObjectName("card")
        self._theme = theme
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 6, 8, 4)
        column.setSpacing(2)
        self._title = PlainLabel(title)
        self._title.setFont(bold(12))
        self._words = PlainLabel("")
        self._words.setFont(font(12))
        self._words.setProperty("role", "muted")
        self._words.setWordWrap(True)
        column.addWidget(self._title)
        column.addWidget(self._words)
        axes = {side: ValueAxis(side) for side in ("left", "bottom")}
        self._view = pg.PlotWidget(axisItems=axes, enableMenu=False)
        self._view.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._view.setMinimumHeight(80)
        column.addWidget(self._view, 1)
        item = self._view.getPlotItem()
        item.hideButtons()
        item.setMouseEnabled(False, False)
        item.setLabel("bottom", bottom)
        item.getAxis("left").setWidth(64)
        self._bottom = bottom
        self._curves: list[pg.PlotDataItem] = []
        self._band = pg.LinearRegionItem((0, 1), orientation="horizontal", movable=False)
        self._band.setZValue(-10)
        item.addItem(self._band)
        self._band.hide()
        self.setAccessibleName(title)
        self.dress(theme)

    def dress(self, theme: Theme) -> None:
        """Take a theme."""
        self._theme = theme
        self._view.setBackground(theme.color("paper"))
        item = self._view.getPlotItem()
        for name in ("left", "bottom"):
            axis = item.getAxis(name)
            axis.setPen(pg.mkPen(theme.color("line")))
            axis.setTextPen(pg.mkPen(theme.color("muted")))
            axis.setTickFont(font(12))
        item.setLabel("bottom", self._bottom, **{"color": theme.muted, "font-size": "11px"})
        item.showGrid(y=True, alpha=0.18)
        self._band.setBrush(theme.color("allowed", 140))
        for line in self._band.lines:
            line.setPen(pg.mkPen(theme.color("green"), width=1))

    def show_words(self, title: str, words: str) -> None:
        """What the plot is of."""
        self._title.setText(title)
        self._words.setText(words)
        self.setAccessibleDescription(words)

    def show_traces(
        self, traces: list[Trace], now_s: float, seconds: float, band: tuple[float, float] | None, least: float
    ) -> None:
        """Draw the last seconds; `least` is the smallest height worth showing, so that noise does not fill it."""
        item = self._view.getPlotItem()
        while len(self._curves) < len(traces):
            self._curves.append(item.plot())
        ends: list[float] = []
        for curve, trace in zip(self._curves, traces, strict=False):
            values = np.where(trace.series.states == BAD, np.nan, trace.series.values)
            x, y = thinned(trace.series.times_s - now_s, values)
            style = Qt.PenStyle.DotLine if trace.is_stale else Qt.PenStyle.SolidLine
            curve.setPen(pg.mkPen(self._theme.color("muted" if trace.is_stale else trace.color), width=1, style=style))
            curve.setData(x, y, connect="finite")
            finite = y[np.isfinite(y)]
            ends += [float(finite.min()), float(finite.max())] if len(finite) else []
        for curve in self._curves[len(traces) :]:
            curve.setData([], [])
        self._show_band(band)
        if band is not None and ends:
            ends += list(band)
        if ends:
            middle, half = (min(ends) + max(ends)) / 2, max((max(ends) - min(ends)) * 0.56, least / 2)
            item.getViewBox().setYRange(middle - half, middle + half, padding=0)
        item.getViewBox().setXRange(-seconds, 0, padding=0)

    def _show_band(self, band: tuple[float, float] | None) -> None:
        self._band.setVisible(band is not None)
        if band is not None:
            self._band.setRegion(band)

    def show_beside(self, x: Array, y: Array) -> None:
        """A second line over the one of `show_curve`."""
        while len(self._curves) < 2:
            self._curves.append(self._view.getPlotItem().plot())
        self._curves[1].setPen(pg.mkPen(self._theme.color("accent"), width=1))
        self._curves[1].setData(*thinned(x, y, 4000))

    def show_curve(self, x: Array, y: Array) -> None:
        """Draw a single line over something other than time: a spectrum, say."""
        item = self._view.getPlotItem()
        if not self._curves:
            self._curves.append(item.plot())
        shown = thinned(x, y, 4000)
        self._curves[0].setPen(pg.mkPen(self._theme.color("teal"), width=1))
        self._curves[0].setData(*shown)
        for curve in self._curves[1:]:
            curve.setData([], [])
        self._band.hide()
        if len(x):
            item.getViewBox().setXRange(float(x[0]), float(x[-1]), padding=0)
            low, high = float(np.nanmin(y)), float(np.nanmax(y))
            room = 0.06 * (high - low) or 1.0
            item.getViewBox().setYRange(low - room, high + room, padding=0)
