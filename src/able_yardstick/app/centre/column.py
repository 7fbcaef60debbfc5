"""The centre of the window: the Rule, and under it the plots, with one hairline through all of them."""

from collections.abc import Callable, MutableMapping
from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray, QEvent, QPoint, QPointF
from PySide6.QtGui import QContextMenuEvent, QGuiApplication, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QMenu, QSizePolicy, QVBoxLayout, QWidget

from ...core.curves.bend import is_straight
from ...core.document.channel import (
    AnyChannel,
    ConstantChannel,
    ContinuousChannel,
    SignableChannel,
    TwoStateChannel,
    WiredChannel,
)
from ...core.document.nominal import nominal_curve
from ...core.document.output import OutputChannel
from ...core.gather.points import points_of
from ...core.job.in_force import CurveInUse, curve_in_use
from ...core.outputs.proving import output_checks
from ...core.state.scales import (
    Scale,
    axis_of,
    contact_scales,
    fault_zones,
    first_place,
    output_scales,
    quantity_title,
    scales_of,
    working_range,
)
from ...core.wire.breaks import breaks_of, contact_breaks
from ...core.words.errors import YardstickError
from ...core.words.numerals import counted
from ..frame.picture_menu import picture_menu
from ..frame.plain_card import PlainCard
from ..frame.plain_text import PlainLabel
from ..frame.theme import Theme, bold, font
from ..frame.workbench import Workbench
from ..panel.fields import Complaint
from ..steps.all_steps import STEPS
from ..steps.pack.knot_drag import KnotDrag
from ..steps.step import Step
from .flags import alarm_flags
from .hairline import Hairline
from .rule.widget import Rule, RuleContent
from .sight import Sight

if TYPE_CHECKING:
    from ...core.sign.chain import LastRecord
    from ..frame.live import LiveBench
    from ..frame.start_view import Beginnings, StartView
    from ..steps.sign.page_view import PageView
    from ..steps.wake.cause_card import CauseCard
    from ..steps.wake.session import WakeSession
    from ..steps.wire.card import WireCard
    from ..steps.wire.lane import BreakLane
    from .live_view import LiveView
    from .output_card import OutputCard
    from .plots.content import Pictured
    from .plots.splitter import Bend

_LEGEND_FROM = 560
_KNOTS_LEGEND = "■ knot: drag it to see what it costs   "


class Centre(QWidget):
    """Shows the channel looked at."""

    def __init__(
        self, bench: Workbench, sight: Sight, theme: Theme, begin: "Beginnings",
        last_of: "Callable[[SignableChannel], LastRecord]",
    ) -> None:  # fmt: skip
        super().__init__()
        self._begin, self._last_of = begin, last_of
        self.setObjectName("desk")
        self._bench, self._sight, self._theme = bench, sight, theme
        self.rule = Rule(sight, theme)
        self.rule.setObjectName("rule")
        self.knot_drag = KnotDrag(bench, self)
        self._plots_ready = False
        self.plot_sizes: MutableMapping[Bend, QByteArray] = {}
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
        self._tag, self._name, self._legend = PlainLabel(), PlainLabel(), PlainLabel()
        self._tag.setFont(bold(15))
        self._name.setProperty("role", "muted")
        self._legend.setProperty("role", "muted")
        self._legend.setFont(font(12))
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
        self._wire: tuple[BreakLane, QFrame, WireCard] | None = None
        self._live: LiveBench | None = None
        self._session: WakeSession | None = None
        self.live_view: LiveView | None = None
        self.cause_card: CauseCard | None = None
        self.pins_to_live = False
        self._start: StartView | None = None
        self._output: OutputCard | None = None
        self.page_view: PageView | None = None
        self._plain = PlainCard()
        layout.addWidget(self._plain, 1)
        self._plain.hide()

    def build_plots(self) -> None:
        """Add the plots: they take most of a second to import, so the window is painted before."""
        if self._plots_ready:
            return
        from .plots.jaws import JawsLane
        from .plots.plot import AlignedPlot
        from .plots.splitter import PlotSplitter
        from .plots.strip import AxisStrip

        self._lane = JawsLane(self._sight, self._theme)
        self.curve_plot = AlignedPlot("Curve", self._sight, self._theme)
        self.error_plot = AlignedPlot("Error", self._sight, self._theme)
        self._strip = AxisStrip(self._sight, self._theme)
        self.curve_plot.knot_dragged.connect(self.knot_drag.move)
        self.curve_plot.knot_dropped.connect(self.knot_drag.drop)
        self.knot_drag.drafted.connect(self._show_draft)
        self.splitter = PlotSplitter(self.curve_plot, self.error_plot, self.plot_sizes)
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
        if self.live_view is not None:
            self.live_view.dress(theme)
        if self.cause_card is not None:
            self.cause_card.dress(theme)
        if self.page_view is not None:
            self.page_view.dress(theme)

    @property
    def _step(self) -> Step:
        return STEPS[self._bench.step]

    # -- what is shown ----------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the channel and step looked at, as they now are."""
        channel = self._bench.channel
        continuous = self._bench.continuous
        self._tag.setText(channel.tag if channel else "")
        self._name.setText(channel.name if channel else "")
        self._legend.setText(self._step.legend if continuous else "")
        self._show_parts(channel)
        self._complain("")
        try:
            if continuous is not None:
                self._show(continuous)
            elif isinstance(channel, TwoStateChannel):
                self._show_contact(channel)
            elif isinstance(channel, ConstantChannel):
                self._plain.show_channel(channel, self._theme)
            elif isinstance(channel, OutputChannel):
                self._show_output(channel)
            else:
                self._show_start()
            if isinstance(channel, SignableChannel) and self.page_view is not None and self._step.room == "page":
                self.page_view.show_channel(channel, self._theme)
            if isinstance(channel, ContinuousChannel | TwoStateChannel) and self._step.room == "path":
                self._show_wire(channel)
        except YardstickError as error:
            self._complain(str(error))
        self._place_hairline()

    def _show_parts(self, channel: AnyChannel | None) -> None:
        """Which of the parts below the Rule are seen: the plots, the path, or the words of a channel without a pin."""
        is_output = isinstance(channel, OutputChannel)
        has_pin, wiring = channel is not None and channel.has_pin, self._step.room == "path"
        waking = self._step.room == "live" and has_pin
        has_curve = isinstance(channel, ContinuousChannel)
        on_paper = self._step.room == "page" and isinstance(channel, SignableChannel)
        in_words = channel is not None and not has_curve and not is_output and not on_paper
        self._plain.setVisible(in_words and not (has_pin and wiring) and not waking)
        if self._output is not None:
            self._output.setVisible(is_output and not on_paper)
        if self._start is not None:
            self._start.setVisible(channel is None)
        self._rule_card.setVisible((has_pin or is_output) and not on_paper)
        self.hairline.setVisible((has_pin or is_output) and not on_paper)
        self._show_page(on_paper)
        if self._plots_ready:
            for widget in (self.splitter, self._strip):
                widget.setVisible(has_curve and not wiring and not waking and not on_paper)
            self._lane.setVisible(has_curve and self._step.jaws)
        if has_pin and wiring and self._wire is None:
            self._build_wire()
        for part in self._wire or ():
            part.setVisible(has_pin and wiring)
        self._show_live_view(waking, has_curve)

    def _show_page(self, on_paper: bool) -> None:
        """The page as it will be signed; made when it is first seen."""
        if on_paper and self.page_view is None:
            from ..steps.sign.page_view import PageView

            self.page_view = PageView(self._bench, self._sight, self._theme, self._last_of)
            self._below.addWidget(self.page_view, 1)
        if self.page_view is not None:
            self.page_view.setVisible(on_paper)

    def _show_start(self) -> None:
        """What an empty job begins with; made when it is first seen."""
        if self._start is None:
            from ..frame.start_view import StartView

            self._start = StartView(self._begin)
            self._column.addWidget(self._start, 1)
            self._start.show()
        self._start.show_job(tuple(one.tag for one in self._bench.job.document.set_aside))

    def _show_live_view(self, waking: bool, has_curve: bool) -> None:
        """The live plots: all of the room at Wake, a strip above the others at Gather while something is live."""
        gathering = self._step.live_strip and has_curve and self._live is not None and self._live.is_on
        if (waking or gathering) and self.live_view is None and self._plots_ready and self._session is not None:
            from .live_view import LiveView

            assert self._live is not None  # it comes with the session
            self.live_view = LiveView(self._live, self._session, self._theme)
            self._below.addWidget(self.live_view, 2)
        has_plots = waking and self._live is not None and self._live.raw(self._bench.channel) is not None
        if self.live_view is not None:
            self.live_view.setVisible(gathering or has_plots)
            if gathering or has_plots:
                self.live_view.show_whole(waking)
        self._show_causes(waking, has_plots)

    def _show_causes(self, waking: bool, has_plots: bool) -> None:
        """What can be wrong with the signal, at Wake: below the live plots, or instead of them."""
        if waking and self.cause_card is None and self._session is not None:
            from ..steps.wake.cause_card import CauseCard

            self.cause_card = CauseCard(self._bench, self._session, self._theme)
            self._below.addWidget(self.cause_card, 1)
            self._session.changed.connect(self._causes_changed)
        if self.cause_card is not None:
            self.cause_card.setVisible(waking)
            if waking:
                self.cause_card.show_beside(has_plots)

    def _causes_changed(self) -> None:
        if self._step.room == "live" and self.cause_card is not None:
            live = self._live.raw(self._bench.channel) if self._live is not None else None
            self.cause_card.show_beside(live is not None)

    def follow_live(self, live: "LiveBench", session: "WakeSession") -> None:
        """Show live signals from now on: a triangle on the Rule, and the plots of Wake and Gather."""
        self._live, self._session = live, session
        live.ticked.connect(self._tick)
        live.connected.connect(lambda _on: self._tick())
        live.connected.connect(lambda _on: self.refresh())

    def _tick(self) -> None:
        channel = self._bench.channel
        live = self._live.raw(channel) if self._live is not None else None
        wired = channel if isinstance(channel, ContinuousChannel | TwoStateChannel) else None
        pin = self._live.pin(wired) if self._live is not None and wired is not None else None
        if live is None or pin is None:
            self.hairline.show_live(None, False)
            return
        self.hairline.show_live(pin, live.is_stale)
        if self.pins_to_live and not live.is_stale:
            self._sight.set_pin(pin)

    def _build_wire(self) -> None:
        """The lane of breaks and the drawing of the path, made when Wire is first looked at."""
        from ..steps.wire.card import WireCard
        from ..steps.wire.lane import BreakLane

        lane = BreakLane(self._sight, self._theme)
        frame = QFrame()
        frame.setObjectName("card")
        inside = QVBoxLayout(frame)
        inside.setContentsMargins(0, 1, 0, 1)
        inside.addWidget(lane)
        card = WireCard(self._sight, self._theme)
        frame.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)  # all its rows, whatever happens
        self._below.addWidget(frame)
        self._below.addWidget(card, 1)
        self._wire = (lane, frame, card)
        self.hairline.raise_()

    @property
    def break_lane(self) -> "BreakLane":
        """The lane of what each break would read like."""
        assert self._wire is not None  # made when Wire is first looked at
        return self._wire[0]

    @property
    def wire_card(self) -> "WireCard":
        """The drawing of the path."""
        assert self._wire is not None
        return self._wire[2]

    def _show_wire(self, channel: WiredChannel) -> None:
        job, lane = self._bench.job, self.break_lane
        breaks = contact_breaks(channel) if isinstance(channel, TwoStateChannel) else breaks_of(job, channel)
        lane.show_breaks(breaks, channel.path.pin_unit, self._theme)
        lane.updateGeometry()
        self.wire_card.drawing.show_channel(job, channel, self._theme)

    def _show_contact(self, channel: TwoStateChannel) -> None:
        scales = contact_scales(self._bench.job, channel)
        low, high = sorted(channel.pin_levels)
        self.rule.show_content(RuleContent(channel, scales, None, (low, high), ()))
        axis = axis_of(channel)
        self._sight.look_at(channel.id, axis, first_place(channel))
        self._plain.show_channel(channel, self._theme)

    def _show_output(self, channel: OutputChannel) -> None:
        """The scales of an output, and the table of what it gives; the card is made when it is first seen."""
        if self._output is None:
            from .output_card import OutputCard

            self._output = OutputCard()
            self._column.addWidget(self._output, 1)
            self._output.setVisible(self._step.room != "page")
        axis, ends = axis_of(channel), (channel.signal_low, channel.signal_high)
        pins = tuple(check.signal for check in output_checks(self._bench.job, channel))
        self.rule.show_content(RuleContent(channel, output_scales(self._bench.job, channel), ends, ends, pins))
        self._sight.look_at(channel.id, axis, first_place(channel))
        self._output.show_channel(self._bench.job, channel, self._theme)

    def _show(self, channel: ContinuousChannel) -> None:
        from .plots.content import pictured

        job = self._bench.job
        self._shown = pictured(job, channel, self._step.plots, self._bench.candidate)
        looked_at = CurveInUse(self._shown.curve, self._shown.caption, False) if self._shown else None
        use = curve_in_use(job, channel) or looked_at
        scales = scales_of(job, channel, looked_at)
        pins = tuple(points_of(job, channel).signal.tolist())
        reach = use.curve.domain if use else None
        faults = fault_zones(channel)
        wanted = self._next_pin(channel) if self._step.advises else None
        flags = alarm_flags(job, channel)
        working = working_range(channel)
        self.rule.show_content(RuleContent(channel, scales, reach, working, pins, faults, wanted, flags))
        axis = axis_of(channel)
        self._sight.look_at(channel.id, axis, first_place(channel))
        if self._plots_ready and self._step.room == "plots":
            self._show_plots(channel, scales)

    def _next_pin(self, channel: ContinuousChannel) -> float | None:
        """Where on the axis the next reading would help most."""
        from ...core.gather.advice import next_stop

        stop, curve = next_stop(self._bench.job, channel), nominal_curve(channel)
        return None if stop is None or curve is None else float(curve.signal(stop.value))

    def _show_draft(self, channel: ContinuousChannel) -> None:
        """The plots as a knot that is being dragged would make them."""
        self._show_plots(channel, scales_of(self._bench.job, channel, None))

    def _show_plots(self, channel: ContinuousChannel, scales: tuple[Scale, ...]) -> None:
        from .plots.content import curve_content, error_content

        job, step = self._bench.job, self._step
        axis = axis_of(channel)
        if step.plots.knots:
            self._bench.has_numbers(self._bench.continuous or channel)  # or they are searched for from now on
        curve = curve_content(job, channel, step.plots, axis, self._shown)
        errors = error_content(job, channel, step.plots, axis, self._shown)
        self.curve_plot.knots_move = step.plots.knots
        has_knots = any(marks.kind == "knot" for marks in curve.marks)
        if has_knots:
            self._legend.setText(_KNOTS_LEGEND + step.legend)
        self.curve_plot.show_content(curve, quantity_title(channel), channel.unit, self._theme)
        self.error_plot.show_content(errors, "Error", channel.unit, self._theme)
        for plot in (self.curve_plot, self.error_plot):
            plot.show_flags(alarm_flags(job, channel))
        straight = self._shown is not None and is_straight(self._shown.curve) and not has_knots
        self.splitter.show_bend("straight" if straight else "bent")
        self._strip.show_scale(next(scale for scale in scales if scale.key == "pin"), self._theme)
        self._lane.show_content(errors, self._theme)

    def _complain(self, text: str) -> None:
        self._complaint.setText(text)

    # -- what a right click offers ----------------------------------------------------------------------------------

    def view_menu(self) -> QMenu:
        """The picture of all that is seen; the values at the hairline and the points, as cells."""
        channel = self._bench.channel
        menu = picture_menu(self, f"{channel.tag} {self._bench.step}" if channel else "Able Yardstick", self._say)
        if isinstance(channel, ContinuousChannel):
            menu.addSeparator()
            menu.addAction("Copy the values at the hairline", self.copy_values)
            if self._plots_ready and self.error_plot.isVisible() and self._points():
                menu.addAction("Copy the points of the errors", self.copy_points)
            menu.addSeparator()
            whole = menu.addAction("Show the whole scale", self._sight.show_all)
            whole.setEnabled(not self._sight.is_whole)
        return menu

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if self._bench.channel is not None:
            self.view_menu().popup(event.globalPos())

    def copy_values(self) -> None:
        """Put what every scale reads at the hairline on the clipboard, a scale a row."""
        channel = self._bench.continuous
        if channel is None:
            return
        pin = self._sight.pin
        scales = [one for one in scales_of(self._bench.job, channel) if one.reads(pin)]
        self._copy("\n".join(f"{one.title}\t{one.text(pin)}\t{one.unit}" for one in scales), len(scales), "scale")

    def _points(self) -> list[tuple[str, float, float]]:
        content = self.error_plot.content
        marks = content.marks if content is not None else ()
        return [(one.kind, float(x), float(y)) for one in marks for x, y in zip(one.x, one.y, strict=True)]

    def copy_points(self) -> None:
        """Put the points of the error plot on the clipboard: kind, signal at the pin, error."""
        channel, points = self._bench.continuous, self._points()
        if channel is not None:
            head = f"kind\tpin, {channel.path.pin_unit}\terror, {channel.unit}"
            self._copy("\n".join([head, *(f"{kind}\t{x!r}\t{y!r}" for kind, x, y in points)]), len(points), "point")

    def _copy(self, text: str, count: int, noun: str) -> None:
        QGuiApplication.clipboard().setText(text)
        self._say(f"{counted(count, noun)} copied: paste them into a spreadsheet.", False)

    def _say(self, text: str, is_refusal: bool) -> None:
        self._bench.said.emit(text, is_refusal)

    # -- the hairline -----------------------------------------------------------------------------------------------

    def _marker(self) -> QPointF | None:
        if not self._plots_ready or self._shown is None or not self.curve_plot.isVisible():
            return None
        value = float(self._shown.curve.value(self._sight.pin))
        point = self.curve_plot.pixel_of(self._sight.pin, value)
        inside = 0 <= point.y() <= self.curve_plot.height()
        return point + QPointF(self.curve_plot.mapTo(self, QPoint(0, 0))) if inside else None

    def _place_hairline(self) -> None:
        self._column.activate()
        left = self.rule.mapTo(self, QPoint(0, 0)).x()
        self.hairline.setGeometry(left, 0, self.rule.width(), self.height())
        top = self.rule.mapTo(self, QPoint(0, 0)).y()
        rule_bottom = top + self.rule.height()
        bottom = self._hairline_end(rule_bottom)
        self.hairline.span(top, rule_bottom, bottom, self._marker)
        self.hairline.raise_()

    def _hairline_end(self, rule_bottom: int) -> int:
        """Where the hairline ends: above the strip of the plots, below the lane of breaks, else with the Rule."""
        if self._step.room == "path" and self._wire is not None and self._wire[0].isVisible():
            lane = self._wire[0]
            return lane.mapTo(self, QPoint(0, 0)).y() + lane.height()
        if self._plots_ready and self._bench.continuous is not None and self._step.room != "live":
            return self._strip.mapTo(self, QPoint(0, 0)).y()
        return rule_bottom

    def event(self, event: QEvent) -> bool:
        done = super().event(event)
        if event.type() == QEvent.Type.LayoutRequest:  # a part below the Rule got another height
            self._place_hairline()
        return done

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._legend.setVisible(self.width() >= _LEGEND_FROM)
        self._column.activate()
        self._place_hairline()
