"""What the centre shows of live signals: at Wake the signal and its spectrum, at Gather sensor and reference."""

import time

import numpy as np
from PySide6.QtWidgets import QVBoxLayout, QWidget

from ...core.document.channel import ContinuousChannel, WiredChannel
from ...core.gather.gathering import in_value, reference_in_value
from ...core.job.pins import pins_of
from ...core.journal.sample import Series
from ...core.wake.figures import allowed_noise
from ...core.words.errors import YardstickError
from ...core.words.numerals import significant
from ..frame.live import LiveBench
from ..frame.theme import Theme
from ..steps.wake.session import WakeSession
from .live_plot import LivePlot, Trace

WAKE_S = 20.0
GATHER_S = 30.0
_SPECTRUM_S = 6.0
_LEAST_SAMPLES = 64
_STRIP = 148  # pixels of the plot at Gather


class LiveView(QWidget):
    """One or two plots of the live channel; drawn only while seen."""

    def __init__(self, live: LiveBench, session: WakeSession, theme: Theme) -> None:
        super().__init__()
        self._live, self._session = live, session
        self._is_whole = True
        self._ticks = 0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.signal = LivePlot("Signal", theme)
        self.spectrum = LivePlot("Spectrum", theme, "Hz")
        column.addWidget(self.signal, 3)
        column.addWidget(self.spectrum, 2)
        live.ticked.connect(self._tick)
        live.connected.connect(lambda _on: self.draw())

    def dress(self, theme: Theme) -> None:
        """Take another theme."""
        self.signal.dress(theme)
        self.spectrum.dress(theme)
        self.draw()

    def show_whole(self, is_whole: bool) -> None:
        """The raw signal with its spectrum and all of the room, or a strip with the signal and its reference."""
        self._is_whole = is_whole
        self.spectrum.setVisible(is_whole)
        self.setMaximumHeight(16_777_215 if is_whole else _STRIP)
        self.setMinimumHeight(0 if is_whole else _STRIP)
        self.draw()

    def _tick(self) -> None:
        self._ticks += 1
        if self.isVisible():
            self._draw_signal()
            if self._ticks % 15 == 0 and self._is_whole:
                self._draw_spectrum()

    def draw(self) -> None:
        """Draw everything anew."""
        if self.isVisible():
            self._draw_signal()
            if self._is_whole:
                self._draw_spectrum()

    def _draw_signal(self) -> None:
        channel = self._session.channel
        if channel is None:
            return
        if self._is_whole or not isinstance(channel, ContinuousChannel):
            self._draw_raw(channel)
        else:
            self._draw_both(channel)

    def _draw_raw(self, channel: WiredChannel) -> None:
        live = self._live.raw(channel)
        unit = channel.path.pin_unit
        series = self._live.window(live, WAKE_S)
        pins = pins_of(channel, series)
        band, words = None, "the raw signal at the pin, unscaled"
        try:
            expected = self._session.expected
        except YardstickError as error:
            expected, words = None, str(error)
        if expected is not None:
            band = (expected.pin - expected.allowed, expected.pin + expected.allowed)
            words += f"; shaded: expected in the state “{expected.name}”"
        stale = live is None or live.is_stale
        self.signal.show_words(f"At the pin, {unit}", _gap_words(live is None, stale, series, words))
        least = 12 * allowed_noise(channel)
        self.signal.show_traces([Trace("raw", pins, "teal", stale)], time.monotonic(), WAKE_S, band, least)

    def _draw_spectrum(self) -> None:
        channel = self._session.channel
        if channel is None:
            return
        good = self._live.window(self._live.raw(channel), _SPECTRUM_S).good
        unit = channel.path.pin_unit
        if len(good) < _LEAST_SAMPLES:
            self.spectrum.show_words(f"Spectrum, {unit}", "waits for enough samples")
            self.spectrum.show_curve(np.zeros(0), np.zeros(0))
            return
        pins = pins_of(channel, good).values
        times = np.linspace(good.times_s[0], good.times_s[-1], len(pins))
        even = np.interp(times, good.times_s, pins) - pins.mean()
        window = np.hanning(len(even))
        amplitude = 2 * np.abs(np.fft.rfft(even * window)) / window.sum()
        frequencies = np.fft.rfftfreq(len(even), (times[-1] - times[0]) / (len(times) - 1))
        rate = f"{good.rate_hz:.0f} samples/s show up to {good.rate_hz / 2:.0f} Hz; faster swings are folded down"
        self.spectrum.show_words(f"Amplitude by frequency, {unit}", rate)
        self.spectrum.show_curve(frequencies[1:], amplitude[1:])

    def _draw_both(self, channel: ContinuousChannel) -> None:
        raw, reference = self._live.raw(channel), self._live.reference(channel)
        traces = []
        if raw is not None:
            series = self._live.window(raw, GATHER_S)
            sensor = in_value(channel, series)
            traces.append(Trace("sensor", sensor, "teal", raw.is_stale))
        if reference is not None:
            series = self._live.window(reference, GATHER_S)
            try:
                values = reference_in_value(channel, series, None, reference.feed.unit)
                traces.append(Trace("reference", values, "accent", reference.is_stale))
            except YardstickError:
                pass
        words = "teal: the sensor by its described curve; amber: the reference as it shows"
        self.signal.show_words(f"Sensor and reference, {channel.unit}", words)
        self.signal.show_traces(traces, time.monotonic(), GATHER_S, None, 0.004 * channel.span)


def _gap_words(is_missing: bool, stale: bool, series: Series, words: str) -> str:
    if is_missing:
        return "no live source of this channel: connect in the sources (F4)"
    if stale and len(series):
        return f"stale: nothing came for {significant(time.monotonic() - float(series.times_s[-1]), 2)} s"
    return words
