"""What packing costs, drawn and in words."""

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.document.channel import ContinuousChannel
from ....core.forms.cost import WorstError
from ....core.job.in_force import curve_in_use
from ....core.job.job import Job
from ....core.pack.packed import Packed
from ....core.words.numerals import decimals_for, fixed, signed, significant
from ...frame.theme import Theme, font

_SPACE = 1.15
_LEAST = 1e-9  # of the span: less is the last digits of the reckoning


class Cost(NamedTuple):
    """The figures beside each other, in the channel's unit; None where there is none."""

    reached: float
    allowed: float | None
    bound: float | None
    even: float | None
    is_exact: bool = False

    @property
    def words(self) -> str:
        """The error reached; nothing but the last digits of the reckoning is none."""
        return "exact" if self.is_exact else fixed(self.reached, self.decimals)

    @property
    def decimals(self) -> int:
        """How many tell the figures apart."""
        return telling(self.reached)

    def beside(self, value: float) -> str:
        """A figure beside the one reached, to as many decimals at least, and to its own where it is smaller."""
        return fixed(value, max(self.decimals, telling(value) if value > 0 else 0))


def telling(error: float) -> int:
    """How many decimals tell errors of a size apart."""
    return min(decimals_for(max(abs(error), 1e-9) / 20), 9)


def cost_of(job: Job, channel: ContinuousChannel, packed: Packed) -> Cost:
    """What a packing costs beside what is allowed, what is proven, and evenly spaced knots."""
    worst = packed.worst
    use = curve_in_use(job, channel)
    there = float(use.curve.value(worst.signal)) if use else 0.0
    allowed = float(channel.tolerance.at(there, channel.span))
    even = packed.table.even_error if packed.table is not None else None
    stated = allowed if channel.tolerance.is_stated else None
    bound = packed.bound if (packed.bound or 0.0) > _LEAST * channel.span else None
    return Cost(abs(worst.error), stated, bound, even, packed.is_exact)


class CostBar(QWidget):
    """The worst packing error on one scale with the proven bound, evenly spaced knots and the error allowed."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._cost: Cost | None = None
        self.setFixedHeight(38)
        self.setAccessibleName("The packing error beside what is allowed and what is proven")

    def show_cost(self, cost: Cost, theme: Theme) -> None:
        """Take the figures."""
        self._cost, self._theme = cost, theme
        self.setVisible(not cost.is_exact and (cost.allowed is not None or cost.even is not None))
        self.update()

    @staticmethod
    def _full(cost: Cost) -> float:
        """The end of the scale: the error allowed is left beyond it where it would press all else together."""
        others = max(cost.reached, cost.even or 0.0)
        allowed = cost.allowed or 0.0
        return (max(others, allowed) if allowed <= 8 * others or cost.even is None else others * 1.6) * _SPACE or 1.0

    def paintEvent(self, _event: QPaintEvent) -> None:
        cost = self._cost
        if cost is None:
            return
        painter = QPainter(self)
        painter.setFont(font(12))
        full, width = self._full(cost), self.width() - 2.0
        allowed = cost.allowed if cost.allowed is not None else full
        painter.fillRect(QRectF(0, 6, min(allowed / full, 1.0) * width, 9), self._theme.color("allowed"))
        inside = cost.reached <= allowed
        part = QRectF(0, 6, max(cost.reached / full * width, 2.0), 9)
        painter.fillRect(part, self._theme.color("ink" if inside else "red"))
        marks = [(cost.bound, "green", ""), (cost.even, "accent", "even"), (cost.allowed, "red", "allowed")]
        taken: list[QRectF] = []
        for value, color, words in marks:
            if value is None:
                continue
            beyond = value > full
            x = width - 1 if beyond else value / full * width
            painter.setPen(self._theme.color(color))
            if not beyond:
                painter.fillRect(QRectF(x - 1, 2, 2, 17), self._theme.color(color))
            if words:
                said = significant(value, 3) if words == "allowed" else cost.beside(value)
                self._label(painter, x, f"{words} {said}{' →' if beyond else ''}", taken)
        painter.end()

    def _label(self, painter: QPainter, x: float, text: str, taken: list[QRectF]) -> None:
        size = painter.fontMetrics().horizontalAdvance(text)
        left = min(max(x - size / 2, 0.0), self.width() - size - 1.0)
        place = QRectF(left, 22, size + 1, 15)
        for other in taken:
            if place.intersects(other):
                before, after = other.left() - size - 10, other.right() + 10
                is_before = before >= 0 and (x < other.center().x() or after + size > self.width())
                place.moveLeft(before if is_before else after)
        taken.append(place)
        painter.drawText(QPointF(place.left(), 33), text)


def places_of(channel: ContinuousChannel, packed: Packed) -> str:
    """Where the worst errors lie, in words."""
    unit, pin = channel.unit, channel.path.pin_unit
    if packed.is_exact:
        return f"At every one of {channel.path.converter.full_count + 1} counts it shows the calibration itself."
    decimals = telling(packed.worst.error)

    def place(worst: WorstError) -> str:
        error = signed(worst.error, decimals)
        return f"{error} {unit} at {worst.signal:.4g} {pin}, count {worst.count}"

    free = _inside(channel, packed) + _free_bound(channel, packed)
    overall = f"Over every one of {channel.path.converter.full_count + 1} counts: {place(packed.cost.overall)}."
    if packed.cost.in_reach is None:
        return f"{overall} No count lies where the calibration holds: check the converter's span."
    if packed.cost.in_reach.count == packed.cost.overall.count:
        return overall + free
    return f"Where the calibration holds: {place(packed.cost.in_reach)}. {overall}{free}"


def _inside(channel: ContinuousChannel, packed: Packed) -> str:
    """What a table reaches between its ends, where the calibration holds further than they."""
    table = packed.table
    if table is None or not table.leaves_out:
        return ""
    inside = fixed(table.inside, telling(table.inside))
    return (
        f" Between its ends, for which the bound is proven, the table keeps within {inside} {channel.unit}: "
        "the calibration holds beyond them."
    )


def _free_bound(channel: ContinuousChannel, packed: Packed) -> str:
    """What as many knots come to that may stand anywhere and take any value, where the controller's steps cost more."""
    table = packed.table
    if table is None or table.free_bound > 0.995 * table.bound or table.free_bound < _LEAST * channel.span:
        return ""
    free = fixed(table.free_bound, telling(table.bound))
    return f" Without the controller's steps as many knots would reach {free} {channel.unit}."
