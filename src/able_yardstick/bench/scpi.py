"""An instrument that answers standard commands in lines of text (IEEE 488.2, SCPI-99)."""

import socket
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from typing import TYPE_CHECKING, Any, TypeVar

from ..core.document.sources import QueryFeed, ScpiSource
from ..core.words.errors import BadTable, NotApplicable
from ..core.words.numerals import parse_number, shortened
from .errors import BadAnswer, NoLink
from .source import Batch, OpenSource, one

if TYPE_CHECKING:
    from pyvisa.resources import MessageBasedResource

_Reply = TypeVar("_Reply")
TIMEOUT_MS = 1000
_LONGEST_ANSWER = 4096  # bytes
_OVERRANGE = 9.9e37  # SCPI-99 volume 1, 7.2.1.5
_MOST_ERRORS = 20


class Scpi(OpenSource):
    """Asks each feed's query in turn; a refused command is read from the instrument's error queue."""

    _manager: Any = None

    def __init__(self, spec: ScpiSource) -> None:
        self.spec: ScpiSource = spec
        self._device: MessageBasedResource | None = None
        self._sequence = 0
        self._unasked = 0

    @property
    def period_s(self) -> float:
        """Each poll is a reading."""
        return 1 / self.spec.rate_hz

    def open(self) -> str:
        """Connect and ask who it is. Raises: NoLink, BadAnswer."""
        import pyvisa

        self._look_up()
        if Scpi._manager is None:
            Scpi._manager = pyvisa.ResourceManager("@py")
        try:
            self._device = Scpi._manager.open_resource(
                self._resource, read_termination="\n", write_termination="\n", timeout=TIMEOUT_MS,
                open_timeout=TIMEOUT_MS,
            )  # fmt: skip
            if self.spec.link == "serial":
                self._device.baud_rate = self.spec.serial.baud  # type: ignore[union-attr]
                self._device.parity = pyvisa.constants.Parity[self.spec.serial.parity]  # type: ignore[union-attr]
        except Exception as error:  # the backend raises bare ones
            raise NoLink(f"Nothing answers at {self._where}. Check the address, and that it is switched on.") from error
        try:
            identity = self._ask("*IDN?")
        except NoLink as error:
            raise NoLink(
                f"Nothing answers at {self._where}: *IDN? got no answer within {TIMEOUT_MS / 1000:g} s. Check the "
                "address, and that it is switched on."
            ) from error
        self._errors()  # what was left from before is none of ours
        return identity

    def _look_up(self) -> None:
        """Refuse a host without an address here, in words: the backend leaves a socket open on it. Raises: NoLink."""
        if self.spec.link != "tcp":
            return
        try:
            socket.getaddrinfo(self.spec.host, self.spec.port)
        except (OSError, UnicodeError) as error:
            raise NoLink(
                f"There is no host “{self.spec.host}” on this network. Check the address of {self.spec.name}."
            ) from error

    @property
    def _resource(self) -> str:
        spec = self.spec
        return f"TCPIP::{spec.host}::{spec.port}::SOCKET" if spec.link == "tcp" else f"ASRL{spec.serial.device}::INSTR"

    @property
    def _where(self) -> str:
        spec = self.spec
        return f"{spec.host}:{spec.port}" if spec.link == "tcp" else spec.serial.device

    def poll(self) -> Iterator[Batch]:
        """One value of each feed. Raises: NoLink, BadAnswer."""
        self._sequence += 1
        for feed in self.spec.feeds:
            value = self._measured(feed)
            if value is not None:
                yield one(feed.name, value, self._sequence)

    def _measured(self, feed: QueryFeed) -> float | None:
        text = self._ask(feed.query)
        try:
            value = parse_number(text.split(",")[0], decimal=".")
        except BadTable as error:
            raise BadAnswer(
                f"{self.spec.name} answered “{shortened(text)}” to {feed.query}: expected a number. Check the query."
            ) from error
        return value if abs(value) < _OVERRANGE else None

    def command(self, feed: str, value: float) -> None:
        """Send the feed's command to set a value, wait until it settles, and read the error queue.

        Raises: NoLink, BadAnswer with the instrument's own words, NotApplicable where it has no such command.
        """
        found = next((one for one in self.spec.feeds if one.name == feed), None)
        if found is None or not found.set_command:
            raise NotApplicable(f"{self.spec.name} cannot set {feed}: set it by hand.")
        self.send(found.set_command.replace("{value}", repr(float(value))))
        time.sleep(self.spec.settle_s)

    def send(self, text: str) -> None:
        """Send a command. Raises: NoLink, BadAnswer with what the instrument says of it."""
        self._talk(lambda device: device.write(text))
        errors = self._errors()
        if errors:
            raise BadAnswer(f"{self.spec.name} refused {text}: {shortened('; '.join(errors), 400)}.")

    def _errors(self) -> list[str]:
        found: list[str] = []
        for _ in range(_MOST_ERRORS):
            text = self._ask("SYST:ERR?")
            code, _, words = text.partition(",")
            if code.strip() in ("0", "+0"):
                break
            found.append(words.strip().strip('"') or text)
        return found

    def _ask(self, query: str) -> str:
        self._empty()
        self._talk(lambda device: device.write(query))
        return self._talk(self._line)

    def _line(self, device: "MessageBasedResource") -> str:
        """One line, byte by byte: the backend alone would wait for the end of one that has none."""
        line = bytearray()
        end = time.monotonic() + TIMEOUT_MS / 1000
        while not line.endswith(b"\n"):
            if len(line) > _LONGEST_ANSWER or time.monotonic() > end:
                self._refuse_endless(len(line))
            line += device.read_bytes(1)
        return line.decode("ascii").strip()

    def _refuse_endless(self, count: int) -> None:
        raise NoLink(
            f"{self.spec.name} at {self._where} sends without an end: {count} characters in {TIMEOUT_MS / 1000:g} s "
            "without the end of a line. Check that this is the instrument meant, and its terminator (line feed)."
        )

    def _empty(self) -> None:
        """Drop what came unasked, so that no answer is taken for that to a later question."""
        dropped = self._talk(self._unread)
        if not dropped:
            return
        self._unasked += max(dropped.count(b"\n"), 1)
        self.remark = f"{self._unasked} lines came unasked and were left out: check that each query asks for one value"
        if len(dropped) > _LONGEST_ANSWER:
            self._refuse_endless(len(dropped))

    def _unread(self, device: "MessageBasedResource") -> bytes:
        from pyvisa.errors import VisaIOError

        dropped = bytearray()
        device.timeout = 0
        with suppress(VisaIOError):  # there is no more
            while len(dropped) <= _LONGEST_ANSWER:
                dropped += device.read_bytes(1)
        device.timeout = TIMEOUT_MS
        return bytes(dropped)

    def _talk(self, act: "Callable[[MessageBasedResource], _Reply]") -> _Reply:
        import pyvisa

        assert self._device is not None  # open first
        try:
            return act(self._device)
        except (pyvisa.errors.Error, OSError, UnicodeDecodeError) as error:
            raise NoLink(
                f"{self.spec.name} at {self._where} did not answer within {TIMEOUT_MS / 1000:g} s. "
                "Check the cable and that the query is one it knows."
            ) from error

    def close(self) -> None:
        """Let go of the link."""
        import pyvisa

        if self._device is not None:
            with suppress(pyvisa.errors.Error, OSError):  # it may be gone already
                self._device.close()
            self._device = None
