"""A controller's terminals: what each is called, takes and survives, and who holds it."""

from typing import Literal, NamedTuple

from pydantic import Field

from ..path.converter import Converter
from ..path.driver import Driver
from ..words.errors import NoSuchThing
from ..words.record import Finite, Frozen, added_later

TerminalRole = Literal["input", "output", "supply", "return", "shield"]
Use = Literal["control", "watched only"]


class InputKind(Frozen):
    """One way a terminal can be set to be read: its name, and the converter behind it.

    `burden_ohm` is the shunt the terminal itself switches in for a current.
    """

    name: str
    converter: Converter
    burden_ohm: Finite | None = Field(default=None, gt=0)
    contact: bool = False


class DriverKind(Frozen):
    """One way an output terminal can be set: its name, and what its counts give."""

    name: str
    driver: Driver


class Terminal(Frozen):
    """One landing place, with every name it has; empty names are those it does not have."""

    id: str
    role: TerminalRole = "input"
    strip: str = ""
    connector: str = ""
    channel: str = ""
    register_address: str = ""
    kinds: tuple[InputKind, ...] = ()
    return_terminal: str = ""
    supply_v: Finite | None = None
    supply_limit_ma: Finite | None = Field(default=None, gt=0)
    pull_ups_ohm: tuple[Finite, ...] = ()
    pull_up_v: Finite | None = Field(default=None, gt=0)
    reserved: str = ""
    use: Use = "control"
    factory_meaning: str = ""
    table_address: int | None = Field(default=None, ge=0, le=65535)  # register of the table its values are scaled by
    outputs: tuple[DriverKind, ...] = added_later(())
    output_address: int | None = added_later(None, ge=0, le=65535)  # register that its count is written to

    @property
    def names(self) -> dict[str, str]:
        """Every name the terminal has, by where it is found."""
        found = {
            "strip": self.strip,
            "connector": self.connector,
            "channel": self.channel,
            "register": self.register_address,
        }
        return {where: name for where, name in found.items() if name}

    @property
    def title(self) -> str:
        """The name a person at the strip reads."""
        return self.strip or self.connector or self.channel or self.id

    @property
    def full_title(self) -> str:
        """All names in one line."""
        return " · ".join(dict.fromkeys(self.names.values())) or self.id


class TableLayout(Frozen):
    """How a controller keeps the table of an input: how many pairs, and whether in two banks with a switch-over."""

    rows: int = Field(default=16, ge=2, le=512)
    banks: Literal[1, 2] = 2
    word_order: Literal["high word first", "low word first"] = "high word first"


class Controller(Frozen):
    """A controller as its manual describes it; each job has its own copy, which can be edited.

    `after_loading` is what else must happen before new numbers are in use.
    """

    id: str
    name: str
    revision: str = ""
    note: str = ""
    terminals: tuple[Terminal, ...] = ()
    tables: TableLayout | None = None
    after_loading: tuple[str, ...] = ()

    def terminal(self, terminal_id: str) -> Terminal:
        """The terminal of an id. Raises: NoSuchThing."""
        for terminal in self.terminals:
            if terminal.id == terminal_id:
                return terminal
        raise NoSuchThing(f"{self.name} has no terminal {terminal_id}.")

    def named(self, name: str) -> Terminal:
        """The terminal that carries a name anywhere, capitals or not. Raises: NoSuchThing."""
        wanted = name.strip().casefold()
        for terminal in self.terminals:
            if wanted in {terminal.id.casefold(), *(known.casefold() for known in terminal.names.values())}:
                return terminal
        raise NoSuchThing(f"{self.name} has no terminal called {name}.")


class Lead(Frozen):
    """One wire of a sensor: what it carries, its colour, and the terminal it lands on."""

    function: str
    colour: str = ""
    terminal: str = ""


class Landing(Frozen):
    """Where a channel is wired to: a terminal in one of its kinds, and where the other leads go.

    `return_to` is a terminal's id, or "chassis". `lead_ohm` is the resistance of the whole way there and back.
    """

    controller: str
    terminal: str
    kind: str
    supply: str = ""
    return_to: str = ""
    leads: tuple[Lead, ...] = ()
    shield: str = "joined at the panel only"
    lead_ohm: Finite = Field(default=0.0, ge=0)
    length_m: Finite = Field(default=0.0, ge=0)
    chassis_offset_mv: Finite = Field(default=50.0, ge=0)
    enabled: bool = True


CHASSIS = "chassis"


class Landed(NamedTuple):
    """A landing with what it names."""

    controller: Controller
    terminal: Terminal
    kind: InputKind
    landing: Landing
    supply: Terminal | None
    return_terminal: Terminal | None
