"""The table of causes: one row for each thing that can be wrong with a signal, one column for each look and test.

A cause stays in the set while no cell of its row is contradicted by what was seen, and the next test is told by the
words of the same cells.
"""

from typing import Literal, NamedTuple, get_args

from ..document.channel import ContinuousChannel, WiredChannel
from ..stages import PulsePullUp
from .case import Case
from .columns import burst, level, metered, nudged, pulses, resistance, second_state, shown, supply
from .columns.cell import Cell
from .columns.level import LevelCell
from .columns.nudged import NudgeCell
from .evidence import TestName
from .figures import Texture
from .wiring import Wiring, wiring_of

Cause = Literal[
    "healthy", "open lead", "no supply", "short", "swapped leads", "missing pull-up", "not configured", "stuck",
    "clipped", "chassis-ground offset", "wrong shunt", "hum", "floating", "intermittent", "drifting", "slow",
    "wrong unit or scale", "wrong link settings",
]  # fmt: skip
CAUSES: tuple[Cause, ...] = get_args(Cause)  # the likelier first
_EVERY: tuple[Wiring, ...] = get_args(Wiring)
_STEADY: tuple[Texture, ...] = ("quiet", "constant")


class Meters(NamedTuple):
    """What a meter at the signal terminal reads: usually, of a pulse line, and of a bridge where that is another."""

    usual: Cell
    pulses: Cell
    bridge: Cell | None = None

    def of(self, wiring: Wiring) -> Cell:
        """The cell for a kind of wiring."""
        if wiring == "pulses":
            return self.pulses
        return self.bridge if wiring == "bridge" and self.bridge is not None else self.usual


class CauseRow(NamedTuple):
    """A cause: where it can be, and what it makes of each look and test.

    `of_curves` are causes that only a signal with a curve has, `of_volts` only one whose pin takes volts. `is_a_break`
    makes one level, which a stuck sensor would only meet by chance.
    """

    wirings: tuple[Wiring, ...]
    textures: tuple[Texture, ...]
    level: LevelCell
    nudge: NudgeCell
    shown: Cell
    meters: Meters
    supply: Cell
    resistance: Cell
    second_state: Cell
    burst: Cell
    of_curves: bool = False
    of_volts: bool = False
    is_a_break: bool = False

    def cell(self, test: TestName, case: Case) -> Cell:
        """What the cause foretells of a test."""
        return {
            "nudge": self._nudge(case), "shown": self.shown, "meter": self.meters.of(case.wiring),
            "supply": self.supply, "resistance": self.resistance, "other state": self.second_state,
            "faster sampling": self.burst,
        }[test]  # fmt: skip

    def _nudge(self, case: Case) -> Cell:
        outcomes = self.nudge(case)
        word = "any" if len(outcomes) > 2 else outcomes[0]
        return Cell(word, lambda case: case.evidence.nudge is not None and case.evidence.nudge.outcome in outcomes)


_OPEN = level.broken("lead open", "signal lead open")
_SHORTED = level.broken("leads shorted", "shorted to return", "signal shorted", "shorted")
_SUPPLY_LOST = level.broken("supply lost", "excitation lost", lowest=0.0)
_PULL_UP_OPEN = level.broken("pull-up open")

ROWS: dict[Cause, CauseRow] = {
    "healthy": CauseRow(
        wirings=_EVERY, textures=_STEADY, level=level.as_expected, nudge=nudged.alive, shown=shown.AGREES,
        meters=Meters(metered.AGREES, pulses.BETWEEN), supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.as_level("as expected", level.as_expected, _STEADY), burst=burst.NO_LINE,
    ),
    "open lead": CauseRow(
        wirings=_EVERY, textures=_STEADY, level=_OPEN, nudge=nudged.dead, shown=shown.AGREES,
        meters=Meters(metered.AGREES, pulses.HIGH, bridge=metered.NOT_NEGATIVE), supply=supply.PRESENT,
        resistance=resistance.OPEN, second_state=second_state.as_level("same", _OPEN, _STEADY), burst=burst.NO_LINE,
        is_a_break=True,
    ),
    "no supply": CauseRow(
        wirings=("voltage", "loop", "pull-up", "bridge", "pulses", "contact"), textures=_STEADY, level=_SUPPLY_LOST,
        nudge=nudged.dead, shown=shown.AGREES,
        meters=Meters(metered.AGREES, pulses.HIGH, bridge=metered.NOT_NEGATIVE), supply=supply.ABSENT,
        resistance=resistance.A_CIRCUIT, second_state=second_state.as_level("same", _SUPPLY_LOST, _STEADY),
        burst=burst.NO_LINE, is_a_break=True,
    ),
    "short": CauseRow(
        wirings=_EVERY, textures=_STEADY, level=_SHORTED, nudge=nudged.dead, shown=shown.AGREES,
        meters=Meters(metered.AGREES, pulses.LOW, bridge=metered.NOT_NEGATIVE), supply=supply.PRESENT,
        resistance=resistance.SHORT, second_state=second_state.as_level("same", _SHORTED, _STEADY),
        burst=burst.NO_LINE, is_a_break=True,
    ),
    "swapped leads": CauseRow(
        wirings=("loop", "millivolts", "bridge"), textures=_STEADY, level=level.swapped, nudge=nudged.turned_round,
        shown=shown.AGREES, meters=Meters(metered.AGREES, pulses.EITHER, bridge=metered.NEGATIVE),
        supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.as_level("same", level.swapped, _STEADY), burst=burst.NO_LINE, is_a_break=True,
    ),
    "missing pull-up": CauseRow(
        wirings=("pull-up", "pulses"), textures=_STEADY, level=_PULL_UP_OPEN, nudge=nudged.dead, shown=shown.AGREES,
        meters=Meters(metered.AGREES, pulses.LOW), supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.as_level("same", _PULL_UP_OPEN, _STEADY), burst=burst.NO_LINE, is_a_break=True,
    ),
    "not configured": CauseRow(
        wirings=_EVERY, textures=("constant",), level=level.anywhere, nudge=nudged.dead, shown=shown.EITHER,
        meters=Meters(metered.SOUND_THERE, pulses.BETWEEN), supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.SAME, burst=burst.NO_LINE,
    ),
    "stuck": CauseRow(
        wirings=_EVERY, textures=_STEADY, level=level.anywhere, nudge=nudged.dead, shown=shown.AGREES,
        meters=Meters(metered.CLOSE, pulses.AS_SEEN), supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.SAME, burst=burst.NO_LINE,
    ),
    "clipped": CauseRow(
        wirings=_EVERY, textures=_STEADY, level=level.stopped_short, nudge=nudged.held_from_above,
        shown=shown.AGREES, meters=Meters(metered.AGREES, pulses.BETWEEN), supply=supply.PRESENT,
        resistance=resistance.A_CIRCUIT, second_state=second_state.HELD, burst=burst.NO_LINE, of_curves=True,
    ),
    "chassis-ground offset": CauseRow(
        wirings=_EVERY, textures=_STEADY, level=level.offset, nudge=nudged.alive, shown=shown.AGREES,
        meters=Meters(metered.DIFFERS, pulses.EITHER), supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.same_offset(level.offset, _STEADY), burst=burst.NO_LINE,
        of_curves=True, of_volts=True,
    ),
    "wrong shunt": CauseRow(
        wirings=("loop",), textures=_STEADY, level=level.other_factor, nudge=nudged.unless_at_top,
        shown=shown.AGREES, meters=Meters(metered.AGREES, pulses.EITHER), supply=supply.PRESENT,
        resistance=resistance.A_CIRCUIT, second_state=second_state.same_factor(level.other_factor, _STEADY),
        burst=burst.NO_LINE,
    ),
    "hum": CauseRow(
        wirings=_EVERY, textures=("line", "noisy"), level=level.as_expected, nudge=nudged.any_way,
        shown=shown.EITHER, meters=Meters(metered.ABOUT, pulses.EITHER), supply=supply.PRESENT,
        resistance=resistance.A_CIRCUIT, second_state=second_state.ANY, burst=burst.MAINS,
        of_curves=True, of_volts=True,
    ),
    "floating": CauseRow(
        wirings=("voltage",), textures=("wander", "noisy", "line", "ramp"), level=level.anywhere,
        nudge=nudged.any_way, shown=shown.EITHER, meters=Meters(metered.DEAD, pulses.EITHER), supply=supply.PRESENT,
        resistance=resistance.EITHER, second_state=second_state.ANY, burst=burst.RESTLESS,
    ),
    "intermittent": CauseRow(
        wirings=_EVERY, textures=("jumps",), level=level.anywhere, nudge=nudged.any_way, shown=shown.EITHER,
        meters=Meters(metered.EITHER, pulses.EITHER), supply=supply.PRESENT, resistance=resistance.EITHER,
        second_state=second_state.ANY, burst=burst.NO_LINE,
    ),
    "drifting": CauseRow(
        wirings=_EVERY, textures=("ramp",), level=level.anywhere, nudge=nudged.any_way, shown=shown.AGREES,
        meters=Meters(metered.EITHER, pulses.BETWEEN), supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.ANY, burst=burst.NO_LINE, of_curves=True,
    ),
    "slow": CauseRow(
        wirings=_EVERY, textures=("quiet", "constant", "ramp"), level=level.creeping, nudge=nudged.slowly,
        shown=shown.AGREES, meters=Meters(metered.AGREES, pulses.BETWEEN), supply=supply.PRESENT,
        resistance=resistance.A_CIRCUIT, second_state=second_state.EVENTUALLY, burst=burst.NO_LINE, of_curves=True,
    ),
    "wrong unit or scale": CauseRow(
        wirings=_EVERY, textures=_STEADY, level=level.as_expected, nudge=nudged.alive, shown=shown.DIFFERS,
        meters=Meters(metered.AGREES, pulses.BETWEEN), supply=supply.PRESENT, resistance=resistance.A_CIRCUIT,
        second_state=second_state.as_level("as expected", level.as_expected, _STEADY), burst=burst.NO_LINE,
        of_curves=True,
    ),
    "wrong link settings": CauseRow(
        wirings=_EVERY, textures=("impossible counts", "constant", "quiet"), level=level.wrong_words,
        nudge=nudged.any_way, shown=shown.EITHER, meters=Meters(metered.EITHER, pulses.EITHER),
        supply=supply.PRESENT, resistance=resistance.A_CIRCUIT, second_state=second_state.ANY, burst=burst.NO_LINE,
    ),
}  # fmt: skip


def causes_for(channel: WiredChannel) -> tuple[Cause, ...]:
    """What a channel can suffer from, the likelier first; healthy leads."""
    return tuple(cause for cause in CAUSES if _is_possible(ROWS[cause], channel) and not _is_wired(cause, channel))


def _is_possible(row: CauseRow, channel: WiredChannel) -> bool:
    is_curve = isinstance(channel, ContinuousChannel)
    takes_volts = channel.path.pin_unit == "V"
    return wiring_of(channel) in row.wirings and (is_curve or not row.of_curves) and (takes_volts or not row.of_volts)


def _is_wired(cause: Cause, channel: WiredChannel) -> bool:
    """Whether there is nothing that could be missing: no pull-up was described on a pulse line."""
    has_pull_up = any(isinstance(stage, PulsePullUp) for stage in channel.path.stages)
    return cause == "missing pull-up" and wiring_of(channel) == "pulses" and not has_pull_up
