"""A controller over Modbus: its registers as values, its latest scans without a gap."""

import logging
import struct
import time
from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, Any

import numpy as np

from ..core.document.sources import ModbusSource
from ..core.words.numerals import counted
from .errors import BadAnswer, NoLink
from .registers import Words, blocks_of, decoded, ring_blocks
from .source import Batch, OpenSource, SourceClock

if TYPE_CHECKING:
    from pymodbus.client import ModbusSerialClient, ModbusTcpClient

TIMEOUT_S = 1.0
_PARITY = {"none": "N", "even": "E", "odd": "O"}
_HISTORY_POLL_S = 0.04
_MOST_BEHIND = 3  # scans to begin with
_CLOCK_WRAPS_S = 2**32 / 1000  # 32 bits of milliseconds: 49.7 days
_EXCEPTIONS = {
    1: "it does not know this kind of request: choose the other kind of registers",
    2: "there is no such register: check the address",
    3: "it refuses so many registers at once",
    4: "it failed while answering: check the device number",
    6: "it is busy",
    11: "the device behind the gateway does not answer: check the device number",
}


class Modbus(OpenSource):
    """Reads the feeds in as few requests as their addresses allow."""

    def __init__(self, spec: ModbusSource) -> None:
        self.spec: ModbusSource = spec
        self._client: ModbusTcpClient | ModbusSerialClient | None = None
        self._blocks = blocks_of(spec.feeds)
        self._polls = 0
        self._known = -1
        self._clock = SourceClock(wraps_s=_CLOCK_WRAPS_S)
        self._leaps = 0
        self._next_current_s = 0.0

    @property
    def period_s(self) -> float:
        """The controller keeps its scans until they are asked for; without a ring each poll is a reading."""
        return 1 / self.spec.rate_hz if self.spec.history is None else _HISTORY_POLL_S

    def open(self) -> str:
        """Connect and read everything once. Raises: NoLink, BadAnswer."""
        logging.getLogger("pymodbus").setLevel(logging.CRITICAL)  # what it would log is raised here in words
        self._client = self._made()
        if not self._client.connect():
            raise NoLink(f"Nothing answers at {self._where}. Check the address, and that it is switched on.")
        first = self._blocks[0] if self._blocks else None
        if first is not None:
            self.read(first.address, first.length)
        if self.spec.history is not None:
            self._newest()
        requests = len(self._blocks) + (2 if self.spec.history is not None else 0)
        return f"device {self.spec.device_id}, {len(self.spec.every_feed)} values in {requests} requests"

    def _made(self) -> "ModbusTcpClient | ModbusSerialClient":
        from pymodbus.client import ModbusSerialClient, ModbusTcpClient

        spec = self.spec
        common: dict[str, Any] = {"timeout": TIMEOUT_S, "retries": 0, "reconnect_delay": 0, "reconnect_delay_max": 0}
        if spec.link == "tcp":
            return ModbusTcpClient(spec.host, port=spec.port, **common)
        return ModbusSerialClient(
            spec.serial.device, baudrate=spec.serial.baud, parity=_PARITY[spec.serial.parity], **common
        )

    @property
    def _where(self) -> str:
        spec = self.spec
        return f"{spec.host}:{spec.port}" if spec.link == "tcp" else f"{spec.serial.device} ({spec.serial.baud} baud)"

    def poll(self) -> Iterator[Batch]:
        """The scans since the last poll, then the feeds that are read as they stand. Raises: NoLink, BadAnswer."""
        if self.spec.history is not None:
            yield from self._scans()
        if self._blocks and time.monotonic() >= self._next_current_s:
            self._next_current_s = time.monotonic() + 1 / self.spec.rate_hz
            yield from self._current()

    def _current(self) -> Iterator[Batch]:
        self._polls += 1
        for block in self._blocks:
            words = self.read(block.address, block.length)
            now = np.array([time.monotonic()])
            for feed in block.feeds:
                value = decoded(words, feed, feed.address - block.address)
                yield Batch(feed.name, now, np.array([float(value)]), np.array([self._polls]))

    def _newest(self) -> int:
        history = self.spec.history
        assert history is not None  # asked for only where there is one
        words = self.read(history.newest_address, 2)
        return int(words[0]) << 16 | int(words[1])

    def _scans(self) -> Iterator[Batch]:
        history = self.spec.history
        assert history is not None  # asked for only where there is one
        newest = self._newest()
        if self._known < 0 or newest < self._known:  # the first time, or the controller has started anew
            self._known = max(newest - _MOST_BEHIND, 0)  # slots that were never written hold scan 0
        rows = [
            self.read(history.first_address + slot * history.stride, count * history.stride).reshape(count, -1)
            for slot, count in ring_blocks(newest, self._known, history.slots, history.stride)
        ]
        if not rows:
            return
        words = np.concatenate(rows)
        numbers = words[:, 0].astype(np.int64) << 16 | words[:, 1]
        wanted = np.arange(newest - len(words) + 1, newest + 1)
        still = (numbers == wanted) & (numbers > 0)  # a slot may have been written again while it was read
        words, numbers = words[still], numbers[still]
        if not len(numbers):
            return
        self._known = int(numbers[-1])
        times = self._clock.ours((words[:, 2].astype(np.int64) << 16 | words[:, 3]) / 1000)
        if self._clock.leap:
            self._leaps += 1
            self.remark = f"{counted(self._leaps, 'leap')} of its clock, the last of them: {self._clock.leap}"
        for feed in self.spec.history_feeds:
            yield Batch(feed.name, times, decoded(words, feed, feed.address), numbers, self._clock.leap)

    def read(self, address: int, count: int) -> Words:
        """Registers as they are. Raises: NoLink, BadAnswer."""
        client = self._client
        assert client is not None  # open first
        read = client.read_input_registers if self.spec.registers == "input" else client.read_holding_registers
        answer = _asked(lambda: read(address, count=count, device_id=self.spec.device_id), self._where)
        if answer.isError():
            code = getattr(answer, "exception_code", 0)
            why = _EXCEPTIONS.get(code, f"it answered with exception {code}")
            raise BadAnswer(f"{self._where}, registers {address} to {address + count - 1}: {why}.")
        if len(answer.registers) != count:
            raise BadAnswer(f"{self._where} sent {len(answer.registers)} registers where {count} were asked for.")
        return np.array(answer.registers, dtype=np.uint16)

    def write(self, address: int, words: list[int]) -> None:
        """Write registers in one request. Raises: NoLink, BadAnswer."""
        client = self._client
        assert client is not None  # open first
        answer = _asked(
            lambda: client.write_registers(address, words, device_id=self.spec.device_id), self._where
        )  # fmt: skip
        if answer.isError():
            raise BadAnswer(f"{self._where} refused to take registers {address} to {address + len(words) - 1}.")

    def close(self) -> None:
        """Let go of the link."""
        if self._client is not None:
            self._client.close()  # type: ignore[no-untyped-call]
            self._client = None


def _asked(ask: Callable[[], Any], where: str) -> Any:
    from pymodbus.exceptions import ModbusException

    try:
        return ask()
    except (ModbusException, OSError, struct.error) as error:
        raise NoLink(
            f"{where} did not answer within {TIMEOUT_S:g} s. Check the link settings, the device number and the cable."
        ) from error
