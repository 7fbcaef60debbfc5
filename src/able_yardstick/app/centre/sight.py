"""Where the hairline stands, and which stretch of the pin's axis is seen: shared by the Rule and the plots."""

from PySide6.QtCore import QObject, Signal

MARGIN = 0.045
_CLOSEST_VIEW = 1e-4


class Sight(QObject):
    """The hairline's signal at the pin, and the stretch of the axis in view, both in the pin's unit."""

    moved = Signal(float)
    ranged = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._axis = (0.0, 5.0)
        self._view = self._whole()
        self._pin = 2.5
        self._kept: dict[str, float] = {}
        self._channel = ""

    @property
    def pin(self) -> float:
        """Where the hairline stands."""
        return self._pin

    @property
    def axis(self) -> tuple[float, float]:
        """The pin's whole span."""
        return self._axis

    @property
    def view(self) -> tuple[float, float]:
        """The stretch in view, a little more than the span when all of it is."""
        return self._view

    @property
    def is_whole(self) -> bool:
        """Whether all of the span is in view."""
        return self._view == self._whole()

    def _whole(self) -> tuple[float, float]:
        low, high = self._axis
        margin = MARGIN * (high - low)
        return low - margin, high + margin

    def look_at(self, channel: str, axis: tuple[float, float], start: float) -> None:
        """Turn to a channel's axis; the hairline goes where it last stood there, or to `start`."""
        changed = axis != self._axis
        self._axis = axis
        if channel != self._channel or changed:
            self._view = self._whole()
            if changed and channel == self._channel:
                self._kept.pop(channel, None)  # the pin became another: the old place means nothing on it
            self._channel = channel
            self.ranged.emit()
        self.set_pin(self._kept.get(channel, start))

    def set_pin(self, pin: float) -> None:
        """Move the hairline; it stays on the pin's span."""
        low, high = self._axis
        self._pin = min(max(pin, low), high)
        self._kept[self._channel] = self._pin
        self._follow()
        self.moved.emit(self._pin)

    def step(self, share: float) -> None:
        """Move the hairline by a share of the stretch in view."""
        low, high = self._view
        self.set_pin(self._pin + share * (high - low))

    def zoom(self, factor: float) -> None:
        """Show a narrower stretch about the hairline (a wider one if above 1)."""
        low, high = self._view
        whole = self._whole()
        width = min(max((high - low) * factor, _CLOSEST_VIEW * (whole[1] - whole[0])), whole[1] - whole[0])
        share = (self._pin - low) / (high - low)
        start = min(max(self._pin - share * width, whole[0]), whole[1] - width)
        self._view = (start, start + width)
        self.ranged.emit()

    def show_all(self) -> None:
        """Show the whole span."""
        self._view = self._whole()
        self.ranged.emit()

    def _follow(self) -> None:
        """Shift the stretch in view so that the hairline stays in it."""
        low, high = self._view
        shift = min(self._pin - low, 0.0) + max(self._pin - high, 0.0)
        if shift:
            self._view = (low + shift, high + shift)
            self.ranged.emit()
