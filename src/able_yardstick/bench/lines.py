"""A device that sends lines of text by itself over a serial line, or over a pty that looks like one."""

import time
from collections.abc import Iterator
from contextlib import suppress
from typing import TYPE_CHECKING

import numpy as np

from ..core.document.sources import LinesSource
from .columns import Pattern, found_pattern, is_garbage
from .counter import Counter
from .errors import BadAnswer, NoLink
from .source import LISTEN_S, Batch, OpenSource, SourceClock
from .stream import FAST_CAPACITY

if TYPE_CHECKING:
    import serial

_LOOK_S = 2.0
_FIRST_LINES = 4
_SILENT_S = 2.0
_TELLING_S = 0.5
_AS_STATED = 0.05  # how near the stated rate the lines come
_CHUNK = 1 << 16
_PAUSE_S = 0.02
_LONGEST_LINE = 4096
_FEW_LOST = 100  # lines, however slow they come
_MOST_BEHIND_S = 4.0  # lines that waited in the line


class Lines(OpenSource):
    """Finds the columns in the first lines, then takes every line that follows."""

    capacity = FAST_CAPACITY

    def __init__(self, spec: LinesSource) -> None:
        self.spec: LinesSource = spec
        self._port: serial.Serial | None = None
        self._rest = b""
        self._pattern: Pattern | None = None
        self._sequence = 0
        self._heard_s = 0.0
        self._started: tuple[int, float] | None = None
        self._clock = SourceClock()
        self._counter = Counter()
        self._before_s = 0.0
        self.bad_lines = 0

    @property
    def period_s(self) -> float:
        """Lines come by themselves."""
        return LISTEN_S

    def open(self) -> str:
        """Listen to the first lines and find their columns. Raises: NoLink, BadAnswer."""
        import serial

        line = self.spec.serial
        parity = {"none": "N", "even": "E", "odd": "O"}[line.parity]
        try:
            self._port = serial.Serial(line.device, baudrate=line.baud, parity=parity, timeout=0)
        except (serial.SerialException, OSError, ValueError) as error:
            raise NoLink(f"The port {line.device or '(none)'} cannot be opened: {error}. Check its name.") from error
        self._started, self._counter, self._clock = None, Counter(), SourceClock()
        self._pattern = found_pattern(self._first_lines())
        self._heard_s = self._before_s = time.monotonic()
        return f"columns {', '.join(self._pattern.names)}"

    def _first_lines(self) -> list[str]:
        """Whole lines, the first of which may have been cut off and is dropped."""
        end = time.monotonic() + _LOOK_S
        data = b""
        while time.monotonic() < end and data.count(b"\n") <= _FIRST_LINES:
            time.sleep(_PAUSE_S)
            data += self._read()
            if len(data) > 64 and is_garbage(data):
                self._refuse_garbage()
            self._refuse_endless(data.rpartition(b"\n")[2])
        if is_garbage(data):
            self._refuse_garbage()
        if not data:
            raise NoLink(f"Nothing comes from {self.spec.serial.device} in {_LOOK_S:g} s. Is it on, and sending?")
        whole = data.split(b"\n")
        self._rest = whole[-1]
        return [line.decode("ascii", "replace") for line in whole[1:-1]]

    def _refuse_garbage(self) -> None:
        raise BadAnswer(
            f"What comes from {self.spec.serial.device} at {self.spec.serial.baud} baud is garbage: the two ends do "
            "not agree on speed or parity. Set the speed that the device's manual states."
        )

    def _refuse_endless(self, line: bytes) -> None:
        if len(line) > _LONGEST_LINE:
            raise BadAnswer(
                f"{self.spec.serial.device} has sent {_LONGEST_LINE} characters without ending a line. Expected lines "
                "of text: check that this is the device meant, and how it is set to send."
            )

    def _read(self) -> bytes:
        import serial

        assert self._port is not None  # open first
        try:
            return bytes(self._port.read(_CHUNK))
        except (serial.SerialException, OSError) as error:
            raise NoLink(f"{self.spec.serial.device} is gone: {error}.") from error

    def poll(self) -> Iterator[Batch]:
        """The lines that came since. Raises: NoLink if it has fallen silent, BadAnswer for garbage."""
        data = self._read()
        now = time.monotonic()
        if not data:
            if now - self._heard_s > _SILENT_S:
                raise NoLink(f"{self.spec.name} has sent nothing for {_SILENT_S:g} s.")
            return
        if len(data) > 32 and is_garbage(data):
            self._refuse_garbage()
        self._heard_s = now
        whole = (self._rest + data).split(b"\n")
        self._rest = whole.pop()
        self._refuse_endless(self._rest)
        rows = [row for line in whole if (row := self._row(line)) is not None]
        if rows:
            yield from self._batches(rows, now)

    def _row(self, line: bytes) -> dict[str, float] | None:
        assert self._pattern is not None  # open first
        try:
            return self._pattern.values(line.decode("ascii", "replace"))
        except BadAnswer:
            self.bad_lines += 1
            self._tell()
            return None

    def _tell(self) -> None:
        leaps = self._counter.leaps
        told = [f"{self.bad_lines} lines without its columns were left out"] if self.bad_lines else []
        told += [f"{leaps} line numbers do not follow the one before"] if leaps else []
        self.remark = "; ".join(told)

    def _batches(self, rows: list[dict[str, float]], now_s: float) -> Iterator[Batch]:
        """Every feed's values; lines that came together are spread by the rate that is stated."""
        assert self._pattern is not None  # open first
        counter = self._pattern.counter
        start = self._sequence + 1
        self._sequence += len(rows)
        plain = np.arange(start, self._sequence + 1)
        came = np.array([row.get(counter, plain[n]) for n, row in enumerate(rows)])
        most = max((now_s - self._before_s + _MOST_BEHIND_S) * self.spec.rate_hz * 2, len(rows), _FEW_LOST)
        numbers, leap = self._counter.unwrapped(came, most)
        self._before_s = now_s
        if leap:
            self._tell()
        rate = self._rate_hz(int(numbers[-1]), now_s)
        if abs(rate / self.spec.rate_hz - 1) < _AS_STATED:
            times = self._clock.ours(numbers / self.spec.rate_hz)
        else:
            times = now_s - (numbers[-1] - numbers) / rate
        for feed in self.spec.feeds:
            values = np.array([row.get(feed.column, np.nan) for row in rows])
            if np.isfinite(values).any():
                yield Batch(feed.name, times, values, numbers, leap)

    def _rate_hz(self, newest: int, now_s: float) -> float:
        """Lines a second: as stated until enough have come to tell."""
        if self._started is None:
            self._started = (newest, now_s)
        lines, seconds = newest - self._started[0], now_s - self._started[1]
        return lines / seconds if seconds > _TELLING_S and lines > 0 else self.spec.rate_hz

    def close(self) -> None:
        """Let go of the port."""
        if self._port is not None:
            with suppress(OSError):  # it may be gone already
                self._port.close()
            self._port = None
