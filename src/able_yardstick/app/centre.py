"""The centre of the window: the Rule, and under it the plots, with one hairline through all of them."""

from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QSplitter, QVBoxLayout, QWidget

from ..core.calibration import CurveInUse, curve_in_use, nominal_curve, pin_of
from ..core.channel import AnyChannel, ConstantChannel, ContinuousChannel, TwoStateChannel
from ..core.errors import YardstickError
from ..core.numerals import fixed
from ..core.scales import Scale, axis_of, quantity_title, scales_of
from .hairline import Hairline
from .rule.widget import Rule, RuleContent
from .sight import Sight
from .steps.fields import Complaint
from .theme import Theme, bold, font
from .workbench import Workbench

if TYPE_CHECKING:
    from .plots.content import Pictured

_LEGEND_FROM = 560
_START = 0.65  # where the hairline first stands, as a share of the pin's span
_LEGENDS = {
    "describe": "▸ ends of the working range   ▨ beyond the described points",
    "gather": "▲ going up   ▽ coming down   ○ not stated   × excluded",
    "fit": "▲ going up   ▽ coming down   × excluded   ▨ extrapolated",
    "pack": "■ knot   ▨ beyond the calibration's reach",
    "prove": "◇ as found   ● as left   ○ of another packing",
}


class Centre(QWidget):
    """Shows the channel looked at."""

    def __init__(self, bench: Workbench, sight: Sight, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("desk")
        self._bench, self._sight, self._theme = bench, sight, theme
        self.rule = Rule(sight, theme)
        self.rule.setObjectName("rule")
        self._plots_ready = False
        self._shown: Pictured | None = None
        self._build()
        self.hairline = Hairline(self, sight, theme)
        self.rule.refused.connect(self._complain)
        sight.ranged.connect(self._place_hairline)

    def _build(self) -> None:
        layout = self._column = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 4)
        layout.setSpacing(6)
        head = QHBoxLayout()
        self._tag, self._name, self._legend = QLabel(), QLabel(), QLabel()
        self._tag.setFont(bold(15))
        self._name.setProperty("role", "muted")
        self._legend.setProperty("role", "muted")
        self._legend.setFont(font(11))
        head.addWidget(self._tag)
        head.addWidget(self._name)
        head.addStretch(1)
        head.addWidget(self._legend)
        layout.addLayout(head)
        self._complaint = Complaint()
        self._complaint.setAccessibleName("Why nothing follows")
        self._rule_card = QFrame()
        self._rule_card.setObjectName("card")
        inside = QVBoxLayout(self._rule_card)
        inside.setContentsMargins(0, 1, 0, 1)
        inside.addWidget(self.rule)
        layout.addWidget(self._rule_card)
        layout.addWidget(self._complaint)
        self._below = QVBoxLayout()
        self._below.setSpacing(6)
        layout.addLayout(self._below, 1)
        self._plain = _PlainCard()
        layout.addWidget(self._plain, 1)
        self._plain.hide()

    def build_plots(self) -> None:
        """Add the plots: they take most of a second to import, so the window is painted before."""
        if self._plots_ready:
            return
        from .plots.jaws import JawsLane
        from .plots.plot import AlignedPlot
        from .plots.strip import AxisStrip

        self._lane = JawsLane(self._sight, self._theme)
        self.curve_plot = AlignedPlot("Curve", self._sight, self._theme)
        self.error_plot = AlignedPlot("Error", self._sight, self._theme)
        self._strip = AxisStrip(self._sight, self._theme)
        self.splitter = QSplitter(Qt.Orientation.Vertical)
        self.splitter.setHandleWidth(6)
        self.splitter.setChildrenCollapsible(False)
        self.splitter.setStyleSheet("QSplitter::handle { background: transparent; }")
        self.splitter.addWidget(self.curve_plot)
        self.splitter.addWidget(self.error_plot)
        self.splitter.setSizes([300, 220])
        self.splitter.splitterMoved.connect(self._place_hairline)
        for widget, stretch in ((self._lane, 0), (self.splitter, 1), (self._strip, 0)):
            self._below.addWidget(widget, stretch)
        self._plots_ready = True
        self.hairline.raise_()
        self.refresh()

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self._theme = theme
        self.rule.dress(theme)
        self.hairline.dress(theme)

    # -- what is shown ----------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel and step looked at, as they now are."""
        channel = self._bench.channel
        continuous = self._bench.continuous
        self._tag.setText(channel.tag if channel else "")
        self._name.setText(channel.name if channel else "")
        self._legend.setText(_LEGENDS[self._bench.step] if continuous else "")
        self._show_plain(channel, continuous is not None)
        if continuous is None:
            return
        try:
            self._show(continuous)
        except YardstickError as error:
            self._complain(str(error))

    def _show_plain(self, channel: AnyChannel | None, has_pin: bool) -> None:
        self._plain.setVisible(not has_pin)
        self._rule_card.setVisible(has_pin)
        self.hairline.setVisible(has_pin)
        for n in range(self._below.count()):
            item = self._below.itemAt(n)
            widget = item.widget() if item else None
            if widget is not None:
                widget.setVisible(has_pin)
        if not has_pin:
            self._complain("")
            self._plain.show_channel(channel)

    def _show(self, channel: ContinuousChannel) -> None:
        from .plots.content import pictured

        job = self._bench.job
        self._shown = pictured(job, channel, self._bench.step, self._bench.candidate)
        looked_at = CurveInUse(self._shown.curve, self._shown.caption, False) if self._shown else None
        use = curve_in_use(job, channel) or looked_at
        scales = scales_of(job, channel, looked_at)
        pins = tuple(pin_of(channel, row) for row in job.amended(channel.id, "gather") if row.is_used)
        self._complain("")
        reach = use.curve.domain if use else None
        self.rule.show_content(RuleContent(channel, scales, reach, _working_range(channel), pins))
        axis = axis_of(channel)
        self._sight.look_at(channel.id, axis, axis[0] + _START * (axis[1] - axis[0]))
        if self._plots_ready:
            self._show_plots(channel, scales)
        self._place_hairline()

    def _show_plots(self, channel: ContinuousChannel, scales: tuple[Scale, ...]) -> None:
        from .plots.content import curve_content, error_content

        job, step = self._bench.job, self._bench.step
        axis = axis_of(channel)
        curve = curve_content(job, channel, step, axis, self._shown)
        errors = error_content(job, channel, step, axis, self._shown)
        self.curve_plot.show_content(curve, quantity_title(channel), channel.unit, self._theme)
        self.error_plot.show_content(errors, "Error", channel.unit, self._theme)
        self._strip.show_scale(next(scale for scale in scales if scale.key == "pin"), self._theme)
        self._lane.setVisible(step == "prove")
        self._lane.show_content(errors, self._theme)

    def _complain(self, text: str) -> None:
        self._complaint.setText(text)

    # -- the hairline -----------------------------------------------------------------------------------------------

    def _marker(self) -> QPointF | None:
        if not self._plots_ready or self._shown is None:
            return None
        value = float(self._shown.curve.value(self._sight.pin))
        point = self.curve_plot.pixel_of(self._sight.pin, value)
        inside = 0 <= point.y() <= self.curve_plot.height()
        return point + QPointF(self.curve_plot.mapTo(self, QPoint(0, 0))) if inside else None

    def _place_hairline(self) -> None:
        left = self.rule.mapTo(self, QPoint(0, 0)).x()
        self.hairline.setGeometry(left, 0, self.rule.width(), self.height())
        top = self.rule.mapTo(self, QPoint(0, 0)).y()
        rule_bottom = top + self.rule.height()
        bottom = self._strip.mapTo(self, QPoint(0, 0)).y() if self._plots_ready else rule_bottom
        self.hairline.span(top, rule_bottom, bottom, self._marker)
        self.hairline.raise_()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._legend.setVisible(self.width() >= _LEGEND_FROM)
        self._column.activate()
        self._place_hairline()


def _working_range(channel: ContinuousChannel) -> tuple[float, float] | None:
    """Where on the axis the ends of the range lie, by the described curve."""
    nominal = nominal_curve(channel)
    if nominal is None:
        return None
    low, high = sorted(float(pin) for pin in nominal.signal(np.array(channel.range)))
    return low, high


class _PlainCard(QFrame):
    """What a channel without a pin, or without a curve, has to show."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("card")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(28, 28, 28, 28)
        self._value, self._words = QLabel(), QLabel()
        self._value.setFont(bold(34))
        self._words.setWordWrap(True)
        self._words.setFont(font(14))
        layout.addStretch(1)
        layout.addWidget(self._value, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addWidget(self._words)
        layout.addStretch(2)
        self._words.setAlignment(Qt.AlignmentFlag.AlignHCenter)

    def show_channel(self, channel: AnyChannel | None) -> None:
        """The number of a constant, the levels of a contact, or what to do in an empty job."""
        if isinstance(channel, ConstantChannel):
            self._value.setText(f"{fixed(channel.value, channel.decimals)} {channel.unit}")
            why = f"{channel.derivation}.\n\n" if channel.derivation else ""
            self._words.setText(f"{why}A constant for a register: no pin, so nothing to gather or to fit.")
        elif isinstance(channel, TwoStateChannel):
            unit = channel.signal_unit
            self._value.setText(f"{channel.closed_means}  |  {channel.open_means}")
            half = channel.dead_band / 2
            self._words.setText(
                f"Closed at {channel.closed_level:g} {unit}, open at {channel.open_level:g} {unit}. The state changes "
                f"at {fixed(channel.threshold - half, 2)} and {fixed(channel.threshold + half, 2)} {unit}: between the "
                "two it stays what it was.\n\nA contact has two states and no curve: nothing to gather or to fit."
            )
        else:
            self._value.setText("No channel yet")
            self._words.setText("Add one with the button under the tagboard, or press Ctrl+N.")
