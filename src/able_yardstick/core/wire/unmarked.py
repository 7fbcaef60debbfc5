"""Telling unmarked leads apart with a meter: what to measure, what to expect, and what the readings say.

A bridge of four equal arms R reads R between opposite corners and 3 R / 4 between neighbours (its Thevenin
resistances). Of three wires to a resistor two are one node.
"""

from collections.abc import Mapping
from itertools import combinations
from typing import NamedTuple

from ..document.channel import ContinuousChannel, WiredChannel
from ..sensor.rating import Thermocouple
from ..stages import Excitation
from ..stages.base import ohms
from ..standards import thermocouples
from ..words.errors import BadTable
from ..words.numerals import parse_number, significant

_ROOM_C = 20.0
_WARMER_K = 30.0
_NEIGHBOURS = 0.75  # of a bridge: what two corners beside each other read of what opposite ones do
_ALIKE = 0.08  # readings of one kind lie within this share of each other
Pair = tuple[str, str]


class LeadTest(NamedTuple):
    """A thing to do with a meter, and what it reads if it is as it should be."""

    do: str
    expect: str


def lead_tests(channel: WiredChannel) -> tuple[LeadTest, ...]:
    """What tells the leads of a channel's sensor apart, the first first."""
    if not isinstance(channel, ContinuousChannel):
        return (LeadTest("Ohms across its two leads, closed and open", "near 0 Ω, and no circuit; no polarity"),)
    rating, output = channel.transducer.rating, channel.transducer.output
    if output == "bridge":
        return _bridge_tests(channel)
    if isinstance(rating, Thermocouple):
        warmer = thermocouples.emf_mv(rating.letter, _ROOM_C + _WARMER_K) - thermocouples.emf_mv(rating.letter, _ROOM_C)
        return (
            LeadTest("Ohms across the two leads", "a few ohms; no circuit is a broken wire"),
            LeadTest(
                f"Millivolts across them while the tip is warmed by {_WARMER_K:g} K",
                f"+{significant(float(warmer), 3)} mV: the meter's + is on the positive lead; −: swap them",
            ),
        )
    if output == "resistance":
        return _resistor_tests(channel)
    if output == "current loop":
        return (
            LeadTest("Supply through a resistor, milliamps in the loop", "4 to 20 mA one way round, 0 the other"),
            LeadTest("If it stays 0 both ways", "open lead, or too little supply"),
        )
    return (
        LeadTest(
            "Supply, signal and return cannot be told by ohms: go by the marks or the sheet before power is on",
            f"{significant(channel.transducer.supply_v)} V of supply on any other lead may destroy it",
        ),
    )


def _bridge_tests(channel: ContinuousChannel) -> tuple[LeadTest, ...]:
    stage = next((one for one in channel.path.stages if isinstance(one, Excitation)), None)
    bridge = 350.0 if stage is None else stage.bridge_ohm
    return (
        LeadTest(
            "Ohms between each two of its four leads: six readings",
            f"two of {ohms(bridge)}, which share no lead, and four of {ohms(_NEIGHBOURS * bridge)}",
        ),
        LeadTest("Feed the pair of the higher resistance, and load it", "mV across the other pair rises; else swap it"),
    )


def _resistor_tests(channel: ContinuousChannel) -> tuple[LeadTest, ...]:
    at_room = ""
    part = channel.transducer
    curve = part.rated()
    if curve is not None and part.quantity == "temperature":
        room = float(channel.converted(_ROOM_C, "°C", part.unit))
        at_room = ohms(float(f"{float(curve.signal(room)):.4g}"))
    said = f"{at_room} at {_ROOM_C:g} °C" if at_room else "the element"
    return (
        LeadTest("Ohms between each two of its leads", f"{said} across the element; near 0 Ω between leads of one end"),
        LeadTest("With two leads only", "there is no polarity"),
    )


def pairs_from(text: str) -> dict[Pair, float]:
    """Readings typed a line each: two leads by their colour or number, and the ohms. Raises: BadTable with the line."""
    found: dict[Pair, float] = {}
    for number, line in enumerate(text.splitlines(), 1):
        parts = line.replace("-", " ").replace("\t", " ").split()
        if not parts:
            continue
        if len(parts) != 3:
            raise BadTable(f"Line {number}: expected two leads and the ohms between them, such as red black 350.")
        first, second = sorted(parts[:2])
        found[first, second] = parse_number(parts[2])
    return found


def told_apart(readings: Mapping[Pair, float]) -> str:
    """What resistances between leads say: the two ends of a resistor, or the corners of a bridge."""
    leads = sorted({lead for pair in readings for lead in pair})
    missing = [pair for pair in combinations(leads, 2) if pair not in readings]
    if len(leads) not in (3, 4) or missing:
        wanted = f"Still to measure: {', '.join('–'.join(pair) for pair in missing)}." if missing else ""
        return wanted or "Three leads or four are told apart, each measured against each other."
    return _ends(readings, leads) if len(leads) == 3 else _corners(readings)


def _ends(readings: Mapping[Pair, float], leads: list[str]) -> str:
    joined = min(readings, key=lambda pair: readings[pair])
    others = [value for pair, value in readings.items() if pair != joined]
    if readings[joined] > 0.2 * min(others):
        return "No two of them are one end of the element: look for a broken lead, or another kind of sensor."
    alone = next(lead for lead in leads if lead not in joined)
    return (
        f"{joined[0]} and {joined[1]} are the two wires of one end ({ohms(readings[joined])} of lead), {alone} is the "
        f"other end: {ohms(float(f'{sum(others) / 2 - readings[joined] / 2:.5g}'))} of element between them."
    )


def _corners(readings: Mapping[Pair, float]) -> str:
    for first in readings:
        second = tuple(sorted({lead for pair in readings for lead in pair} - set(first)))
        opposite = [readings[first], readings[second[0], second[1]]]
        rest = [value for pair, value in readings.items() if pair not in (first, second)]
        mean, beside = sum(opposite) / 2, sum(rest) / 4
        if abs(beside / mean - _NEIGHBOURS) < _ALIKE and max(rest) < min(opposite):
            fed, read = (first, second) if opposite[0] >= opposite[1] else (second, first)
            sure = "" if abs(opposite[0] - opposite[1]) > 0.02 * mean else ", or the other way round: they are alike"
            return (
                f"Opposite corners are {first[0]}–{first[1]} and {second[0]}–{second[1]}. Feed {fed[0]}–{fed[1]} and "
                f"read {read[0]}–{read[1]}{sure}. Then load it: if the signal falls, swap {read[0]} and {read[1]}."
            )
    return "These are not the resistances of a whole bridge: look for a broken lead or a compensating resistor."
