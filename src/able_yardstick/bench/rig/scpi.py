"""The rig's two instruments as they answer lines of text: a reference bench that can set, and a meter."""

import math
import re
from collections.abc import Callable

from ...core.words.errors import NoSuchThing
from .plant import Plant

_OVERRANGE = 9.9e37  # SCPI-99 volume 1, 7.2.1.5
_NOT_A_NUMBER = 9.91e37
_CHANNEL = re.compile(r"\(@(\d+)\)")
_MOST_ERRORS = 20
Command = Callable[[str], str | None]


class Instrument:
    """Takes a line, gives an answer or None; what it cannot do goes to its error queue (SCPI-99 volume 1, 19.7)."""

    def __init__(self, identity: str, commands: dict[str, Command]) -> None:
        self._identity = identity
        self._commands = commands
        self._errors: list[str] = []

    def answer(self, line: str) -> str | None:
        """The answer to a line; a command has none."""
        header, _, rest = line.partition(" ")
        name = header.upper()
        if name == "*IDN?":
            return self._identity
        if name == "*CLS":
            self._errors.clear()
            return None
        if name in ("SYST:ERR?", "SYSTEM:ERROR?"):
            return self._errors.pop(0) if self._errors else '0,"No error"'
        command = self._commands.get(name)
        if command is None:
            self._refuse(-113, f"Undefined header; {header}")
            return None
        try:
            return command(rest)
        except (NoSuchThing, ValueError) as error:
            self._refuse(-222, f"Data out of range; {error}")
            return None

    def _refuse(self, code: int, words: str) -> None:
        if len(self._errors) < _MOST_ERRORS:
            self._errors.append(f'{code},"{words.replace(chr(34), chr(39))}"')


def gauge(plant: Plant) -> Instrument:
    """The reference bench: measures beside each channel, and sets the plant."""

    def measure(rest: str) -> str:
        return f"{plant.reference(_number(rest)):.6f}"

    def source(rest: str) -> None:
        value, _, where = rest.partition(",")
        tag = plant.tag_of(_number(where))
        low, high = plant.tagged(tag).ends
        wanted, room = float(value), 0.1 * (high - low)
        if not low - room <= wanted <= high + room:
            raise ValueError(f"{wanted:g} is beyond {low:g} to {high:g}")
        plant.move(tag, wanted)

    return Instrument(
        "Rig,Reference bench,RB-01,1.0", {"MEAS?": measure, "SOUR:LEV": source, "SOURCE:LEVEL": source}
    )  # fmt: skip


def meter(plant: Plant) -> Instrument:
    """The bench meter: volts or ohms wherever its leads are held, milliamps in the loop of an output."""

    def read(_rest: str) -> str:
        return shown(plant.metered())

    def current(_rest: str) -> str:
        return shown(plant.metered_ma())

    def shown(value: float | None) -> str:
        if value is None:
            return f"{_NOT_A_NUMBER:.2E}"
        return f"{_OVERRANGE:.2E}" if math.isinf(value) else f"{value:.6f}"

    return Instrument(
        "Rig,Bench meter,BM-02,1.0", {"READ?": read, "MEAS:VOLT?": read, "MEAS:RES?": read, "MEAS:CURR?": current}
    )


def _number(text: str) -> int:
    match = _CHANNEL.search(text)
    if match is None:
        raise ValueError("expected a channel such as (@201)")
    return int(match[1])
