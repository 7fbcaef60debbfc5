"""Where live values come from: which instrument or controller, over which link, and what each of its numbers is."""

from abc import abstractmethod
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..path.node import Met, Node
from ..words.record import Finite, Frozen, added_later

Role = Literal["raw", "shown", "reference", "meter", "alarms"]
RegisterType = Literal["u16", "s16", "u32", "s32", "f32"]
WordOrder = Literal["high word first", "low word first"]
Parity = Literal["none", "even", "odd"]
MOST_REGISTERS = 125  # in one request: Modbus application protocol V1.1b3, 6.3 and 6.4
WORDS: dict[RegisterType, int] = {"u16": 1, "s16": 1, "u32": 2, "s32": 2, "f32": 2}


class Feed(Frozen):
    """One number that a source gives: what it is, of which channel, in which unit.

    A `raw` one is the signal of a channel at a node of its path, `shown` is what the controller makes of it,
    `reference` is the value of an instrument trusted more, `meter` that of a meter held to any terminal; `alarms` is a
    word of bits that tells which alarms stand (`ALARM_BITS`).
    """

    name: str = Field(min_length=1)
    role: Role = "raw"
    channel: str = ""
    reference: str = ""
    node: Node = "counts"
    unit: str = "counts"

    @property
    def met(self) -> Met:
        """Where its values are met; of anything but a raw signal only the unit says something."""
        return Met(self.node, self.unit)


class RegisterFeed(Feed):
    """A number in Modbus registers: value = register x scale + offset."""

    address: int = Field(ge=0, le=65535)
    type: RegisterType = "u16"
    word_order: WordOrder = "high word first"
    scale: Finite = 1.0
    offset: Finite = 0.0

    @property
    def words(self) -> int:
        """How many registers it takes."""
        return WORDS[self.type]


class QueryFeed(Feed):
    """An answer to a measuring query; `set_command` moves the stimulus where the instrument can: {value} goes in it."""

    query: str = "READ?"
    set_command: str = ""


class ColumnFeed(Feed):
    """A column of a line of text, or of a log, by its heading."""

    column: str = ""


class ScanHistory(Frozen):
    """A ring of the controller's latest scans, so that none is lost between two requests.

    Each slot starts with the scan's number and its time in ms (32 bits each, high word first); the feeds' addresses
    are then offsets within a slot. `newest_address` holds the number of the latest scan; scan n is in slot n mod slots.
    """

    newest_address: int = Field(ge=0, le=65535)
    first_address: int = Field(ge=0, le=65535)
    stride: int = Field(ge=5, le=MOST_REGISTERS)
    slots: int = Field(ge=2, le=4096)


class _SourceBase(Frozen):
    """What every source is: `title` says its kind in words."""

    title: ClassVar[str]
    id: str
    name: str = Field(min_length=1)
    rate_hz: Finite = Field(default=10.0, gt=0, le=1000)
    enabled: bool = True

    @property
    @abstractmethod
    def address(self) -> str:
        """Where it is, in words."""

    @property
    @abstractmethod
    def every_feed(self) -> tuple[Feed, ...]:
        """All that it gives."""

    def asked_hz(self, feed: Feed) -> float | None:
        """How often a number is asked for; None where it comes by itself."""
        return self.rate_hz


class SerialLine(Frozen):
    """What both ends of a serial line must agree on."""

    device: str = ""
    baud: int = Field(default=115200, ge=300, le=4_000_000)
    parity: Parity = "none"

    @property
    def address(self) -> str:
        """The port in words."""
        return f"{self.device or 'no port yet'} at {self.baud} baud"


class ModbusSource(_SourceBase):
    """A controller over Modbus TCP, or RTU on a serial line."""

    title: ClassVar[str] = "Modbus"
    kind: Literal["modbus"] = "modbus"
    link: Literal["tcp", "serial"] = "tcp"
    host: str = "127.0.0.1"
    port: int = Field(default=502, ge=1, le=65535)
    serial: SerialLine = Field(default_factory=SerialLine)
    device_id: int = Field(default=1, ge=0, le=247)
    registers: Literal["input", "holding"] = "input"
    feeds: tuple[RegisterFeed, ...] = ()
    history: ScanHistory | None = None
    history_feeds: tuple[RegisterFeed, ...] = ()
    controller: str = ""  # whose registers these are

    @model_validator(mode="after")
    def _fits_the_slot(self) -> Self:
        for feed in self.history_feeds:
            if self.history is None or feed.address + feed.words > self.history.stride:
                raise ValueError(
                    f"{feed.name} lies at {feed.address} of a slot, beyond its end. Expected an offset within the slot"
                )
        return self

    def asked_hz(self, feed: Feed) -> float | None:
        """The history gives every scan that the controller kept."""
        return None if feed in self.history_feeds else self.rate_hz

    @property
    def address(self) -> str:
        return self.serial.address if self.link == "serial" else f"{self.host}:{self.port}, device {self.device_id}"

    @property
    def every_feed(self) -> tuple[Feed, ...]:
        return (*self.history_feeds, *self.feeds)


class ScpiSource(_SourceBase):
    """An instrument that takes standard commands as lines of text, over TCP or a serial line."""

    title: ClassVar[str] = "SCPI instrument"
    kind: Literal["scpi"] = "scpi"
    link: Literal["tcp", "serial"] = "tcp"
    host: str = "127.0.0.1"
    port: int = Field(default=5025, ge=1, le=65535)
    serial: SerialLine = Field(default_factory=SerialLine)
    settle_s: Finite = Field(default=0.0, ge=0, le=60)
    feeds: tuple[QueryFeed, ...] = ()

    @property
    def address(self) -> str:
        return self.serial.address if self.link == "serial" else f"{self.host}:{self.port}"

    @property
    def every_feed(self) -> tuple[Feed, ...]:
        return self.feeds


class LinesSource(_SourceBase):
    """A device that sends lines of text by itself; their columns are found by looking at the first ones."""

    title: ClassVar[str] = "lines of text"
    kind: Literal["lines"] = "lines"
    serial: SerialLine = Field(default_factory=SerialLine)
    feeds: tuple[ColumnFeed, ...] = ()

    @property
    def address(self) -> str:
        return self.serial.address

    @property
    def every_feed(self) -> tuple[Feed, ...]:
        return self.feeds


class ReplaySource(_SourceBase):
    """A table or a log played back at a speed; `time_column` holds seconds, else lines come at `rate_hz`.

    Of a log a feed's column is the number of the series.
    """

    title: ClassVar[str] = "replay of a log"
    kind: Literal["replay"] = "replay"
    path: str = ""
    time_column: str = ""
    speed: Finite = Field(default=1.0, gt=0, le=10_000)
    start_s: Finite = added_later(0.0, ge=0)  # from its beginning
    feeds: tuple[ColumnFeed, ...] = ()

    @property
    def address(self) -> str:
        return self.path or "no file yet"

    def asked_hz(self, feed: Feed) -> float | None:
        """A log gives what it holds."""
        return None

    @property
    def every_feed(self) -> tuple[Feed, ...]:
        return self.feeds


class ManualSource(_SourceBase):
    """Values that a person types as they are read off."""

    title: ClassVar[str] = "typed by hand"
    kind: Literal["manual"] = "manual"
    feeds: tuple[Feed, ...] = ()

    @property
    def address(self) -> str:
        return "typed by hand"

    def asked_hz(self, feed: Feed) -> float | None:
        """A person types when there is something to type."""
        return None

    @property
    def every_feed(self) -> tuple[Feed, ...]:
        return self.feeds


AnySource = Annotated[
    ModbusSource | ScpiSource | LinesSource | ReplaySource | ManualSource, Field(discriminator="kind")
]
