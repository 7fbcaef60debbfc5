"""One output of the simulated controller: the count in its register, and what its terminal truly gives."""

import numpy as np

from ...core.document.output import OutputChannel

_TRUTH = 0.35  # of the driver's tolerance: how far it is off, as one standard deviation
_LEAST_OFF = 1e-3  # of the span, where no tolerance is stated
_NOISE = 2e-5  # of the span


class SimulatedOutput:
    """Written with a count it gives a signal, a little off and a little noisy, as far as its load lets it."""

    def __init__(self, channel: OutputChannel, draw: np.random.Generator) -> None:
        self.channel, self.random = channel, draw
        driver = channel.driver
        span = driver.high - driver.low
        off = (driver.within_percent / 100 or _LEAST_OFF) * _TRUTH
        self._start, self._gain = (float(one) for one in np.clip(draw.normal(0, off, 2), -2 * off, 2 * off))
        self._start *= span
        self._noise = _NOISE * span
        self.written = driver.zero_count

    def write(self, word: int) -> None:
        """Take the register's word; the register holds what it can."""
        driver = self.channel.driver
        number = word - 0x10000 if driver.least_count < 0 and word >= 0x8000 else word
        self.written = min(max(number, driver.least_count), driver.top_count)

    def given(self) -> float:
        """The signal at the terminal, in the driver's unit."""
        driver = self.channel.driver
        ideal = float(driver.signal_of(self.written)) - driver.low
        signal = driver.low + self._start + (1 + self._gain) * ideal
        most, load = driver.most_load_ohm, self.channel.load_ohm
        if driver.unit == "mA" and most is not None and load is not None and load > most:
            signal = min(signal, driver.high * most / load)  # its voltage ends
        return signal + float(self.random.normal(0, self._noise))
