"""Checks of the parts: shunt, supply of the loop, pull-up, leads, cold junction, gains, heat."""

from collections.abc import Iterator

import numpy as np

from ...document.channel import ContinuousChannel
from ...sensor.rating import Thermocouple
from ...stages import (
    Amplifier,
    ColdJunction,
    CurrentSource,
    Excitation,
    Filter,
    Leads,
    PullUp,
    PulsePullUp,
    Shunt,
    ohms,
)
from ...stages.passing import SETTLED
from ..breaks import supply_of
from ..error_budget import follows_reference
from .base import Finding, View, number, off_by

LEAST_LIVE_ZERO = 0.05  # of the converter's span
DERATE = 0.5  # share of a resistor's rating used at most, so that it stays cool
_ALONG = 65  # places of the range that are looked at: a matched sensor takes most amid it
MOST_SELF_HEATING_SHARE = 0.25  # of the tolerance


def live_zero(view: View) -> Iterator[Finding]:
    """Whether the live zero of a loop stands clear of 0 at the pin."""
    if view.part.output != "current loop" or view.ends is None:
        return
    lowest = min(view.output_at(pin) for pin in view.ends)
    pin = float(view.path.pin(lowest, view.channel.around))
    share = (pin - view.converter.start) / (view.converter.end - view.converter.start)
    words = f"{number(lowest, 'mA')} makes {number(pin, view.unit)}, {share:.1%} of the pin's span"
    if lowest <= 0:
        yield Finding(
            "look", "live zero", f"The rated points start at {number(lowest, 'mA')}: a broken loop reads like the "
            "lower range value.", "If the transmitter is 4 to 20 mA, rate it so.", "output",
        )  # fmt: skip
    elif share < LEAST_LIVE_ZERO:
        yield Finding(
            "look", "live zero", f"{words}: too near 0 to tell a broken loop from the lower range value.",
            "The shunt is too small for this input: take a larger one.",
        )  # fmt: skip
    else:
        yield Finding("pass", "live zero", f"{words}: a broken loop reads clearly below it.")


def shunt_heat(view: View) -> Iterator[Finding]:
    """Power in the shunt or burden at the upper range value against its rating."""
    for n, stage in enumerate(view.path.stages):
        if isinstance(stage, Shunt) and view.ends is not None:
            top = max(abs(view.output_at(pin)) for pin in view.ends)
            watts = stage.watts(top)
            words = f"At {number(top, 'mA')} the shunt takes {number(watts, 'W', 3)} of its {stage.rating_w:g} W"
            where = f"node {n + 1}"
            if watts > stage.rating_w:
                yield Finding("fault", "heat", f"{words}.", "Take a resistor of a higher rating.", where)
            elif watts > DERATE * stage.rating_w:
                yield Finding("look", "heat", f"{words}: it runs warm and drifts.", "Take twice the rating.", where)
            else:
                yield Finding("pass", "heat", f"{words}.", node=where)


def loop_supply(view: View) -> Iterator[Finding]:
    """What the loop's supply leaves for the transmitter at the top of its signal."""
    if view.part.output != "current loop" or view.part.supply_least_v is None:
        return
    volts, _ = supply_of(view.job, view.channel)
    top = view.part.signal_high or 20.0
    burden = sum(stage.entry_ohm() for stage in view.path.stages[:1])
    leads = view.place.landing.lead_ohm if view.place else 0.0
    left = volts - top / 1000 * (burden + leads)
    needed = view.part.supply_least_v
    words = (
        f"{number(left, 'V', 3)} left for the transmitter at {number(top, 'mA')} ({volts:g} V less {ohms(burden)} "
        f"and {ohms(leads)} of leads); it needs {needed:g} V"
    )
    if left < needed:
        yield Finding("fault", "loop supply", f"{words}.", "Take a smaller shunt, or a higher supply.", "output")
    else:
        yield Finding("pass", "loop supply", f"{words}.", node="output")


def pull_up(view: View) -> Iterator[Finding]:
    """Whether an open collector has something to pull it up."""
    if not view.part.open_collector:
        return
    stage = next((stage for stage in view.path.stages if isinstance(stage, PulsePullUp)), None)
    if stage is not None:
        yield Finding(
            "pass", "pull-up", f"Pulled up by {ohms(stage.resistance_ohm)} to {stage.supply_v:g} V: the collector "
            f"sinks {number(stage.sink_ma, 'mA', 3)}.", node="node 1",
        )  # fmt: skip
        return
    offered = view.place.terminal.pull_ups_ohm if view.place else ()
    cure = (
        f"The terminal can switch in {', '.join(ohms(one) for one in offered)}: add it to the path."
        if offered
        else ("Add a pull-up of 4.7 kΩ to the input's supply.")
    )
    yield Finding(
        "fault", "pull-up", "An open collector only pulls down; nothing here pulls up, so the line stays flat and no "
        "pulse is counted.", cure, "output",
    )  # fmt: skip


def bridge_supply(view: View) -> Iterator[Finding]:
    """Whether the data sheet's supply of a bridge is the excitation it is wired to."""
    stage = next((one for one in view.path.stages if isinstance(one, Excitation)), None)
    if stage is None or view.part.output != "bridge":
        return
    off = stage.voltage_v / view.part.supply_v - 1
    if abs(off) > 0.01:
        yield Finding(
            "look", "supply", f"Described with {view.part.supply_v:g} V of supply, wired to {stage.voltage_v:g} V of "
            "excitation: the sums go by the excitation.", "Type the supply anew at Describe: both are set by it.",
            "output",
        )  # fmt: skip


def ratiometric_supply(view: View) -> Iterator[Finding]:
    """Whether a ratiometric output's supply is the one it is rated at, and shared with the converter."""
    part, converter = view.part, view.converter
    if not part.is_ratiometric:
        return
    volts, _ = supply_of(view.job, view.channel)
    if abs(volts / part.supply_v - 1) > 0.1:
        yield Finding(
            "fault", "supply", f"The output is rated at {part.supply_v:g} V but the terminal supplies {volts:g} V.",
            "Take the supply it is rated at.", "output",
        )  # fmt: skip
    elif converter.shares_supply:
        yield Finding(
            "pass",
            "supply",
            "Sensor and converter share one reference: its error falls out of the counts.",
            node="output",
        )
    else:
        measured = view.channel.conditions.supply_v
        step = view.channel.span * 0.01
        if measured is None:
            yield Finding(
                "look", "supply", "The output follows a supply that the converter does not share: 1 % of supply is "
                f"{number(step, view.channel.unit, 3)} at the top.", "Measure the supply and type it, or share it.",
                "output",
            )  # fmt: skip
        else:
            off = measured / part.supply_v - 1
            yield Finding(
                "pass", "supply", f"Supply measured at {measured:g} V, {off_by(off)} off nominal, and reckoned with.",
                node="output",
            )  # fmt: skip


def supply_within(view: View) -> Iterator[Finding]:
    """The supply against what the transducer needs and survives."""
    part = view.part
    if part.output == "current loop" or (part.supply_least_v is None and part.supply_most_v is None):
        return
    volts, _ = supply_of(view.job, view.channel)
    low, high = part.supply_least_v, part.supply_most_v
    if low is not None and volts < low:
        yield Finding("fault", "supply", f"{volts:g} V supplies a transducer that needs {low:g} V.",
                      "Take a higher supply.", "output")  # fmt: skip
    elif high is not None and volts > high:
        yield Finding("fault", "supply", f"{volts:g} V supplies a transducer that survives {high:g} V.",
                      "Take a lower supply before connecting it.", "output")  # fmt: skip


def reference(view: View) -> Iterator[Finding]:
    """A converter's reference that was measured off its nominal value."""
    converter = view.converter
    if converter.reference_measured_v is None or view.curve is None or view.ends is None:
        return
    off = converter.reference_factor - 1
    if follows_reference(view.channel):
        yield Finding(
            "pass", "reference", f"The reference is {off_by(off)} off nominal; the sensor shares it, so it falls out.",
            node="counts",
        )  # fmt: skip
        return
    top = max(view.ends, key=abs)
    wrong = abs(float(view.curve.value(top)) - float(view.curve.value(top / converter.reference_factor)))
    words = (
        f"Reference measured at {converter.reference_measured_v:g} V, {off_by(off)} off nominal: "
        f"{number(wrong, view.channel.unit, 3)} at the top if it were not reckoned with"
    )
    level = "look" if abs(off) > 0.002 else "pass"
    do = "Readings in volts by the controller are off by as much." if level == "look" else ""
    yield Finding(level, "reference", f"{words}.", do, "counts")  # type: ignore[arg-type]


def self_heating(view: View) -> Iterator[Finding]:
    """How much the measuring current warms a resistive thermometer."""
    part = view.part
    if part.quantity != "temperature" or part.output != "resistance" or view.ends is None:
        return
    driver = next((stage for stage in view.path.stages if isinstance(stage, PullUp | CurrentSource)), None)
    if driver is None:
        return
    watts = max(driver.sensor_watts(view.output_at(float(pin))) for pin in np.linspace(*view.ends, _ALONG))
    milliwatts = 1000 * watts
    if part.dissipation_mw_k is None:
        if milliwatts > 0.05:
            yield Finding(
                "look", "self-heating", f"The sensor takes {number(milliwatts, 'mW', 3)}; how much that warms it is "
                "not stated.", "Type its dissipation constant in mW/K from the data sheet.", "output",
            )  # fmt: skip
        return
    kelvin = milliwatts / part.dissipation_mw_k
    allowed = float(view.channel.tolerance.at(0.0, view.channel.span)) if view.channel.tolerance.is_stated else np.inf
    over = f"{number(milliwatts, 'mW', 3)} over {part.dissipation_mw_k:g} mW/K"
    words = f"{over} warms the sensor by {number(kelvin, 'K', 2)}"
    if kelvin > MOST_SELF_HEATING_SHARE * allowed:
        yield Finding(
            "look", "self-heating", f"{words}, more than a quarter of the error allowed.",
            "Take a larger pull-up or a smaller current.", "output",
        )  # fmt: skip
    else:
        yield Finding("pass", "self-heating", f"{words}.", node="output")


def lead_error(view: View) -> Iterator[Finding]:
    """What the leads of a resistive sensor add."""
    for n, stage in enumerate(view.path.stages):
        if not isinstance(stage, Leads) or view.ends is None or view.curve is None:
            continue
        bare = view.path.with_(stages=tuple(one for one in view.path.stages if one is not stage))
        pin = min(view.ends)
        output = view.output_at(pin)
        without = float(bare.pin(output, view.channel.around))
        added = abs(float(view.curve.value(pin)) - float(view.curve.value(without)))
        per_ohm = abs(
            float(view.curve.value(float(view.path.pin(output + 1, view.channel.around))))
            - float(view.curve.value(pin))
        )
        where = f"node {n + 1}"
        if stage.wires == 2:
            yield Finding(
                "look" if _matters(view, added) else "pass", "leads",
                f"Two wires of {ohms(stage.wire_ohm)} read {number(added, view.channel.unit, 3)} too much, which is "
                "taken off as stated; a change of the leads is not.", "A third wire would take them out.", where,
            )  # fmt: skip
        elif stage.wires == 3:
            off = per_ohm * stage.mismatch_ohm
            yield Finding(
                "look" if _matters(view, off) else "pass", "leads",
                f"Three wires: their mismatch of {ohms(stage.mismatch_ohm)} is ±{number(off, view.channel.unit, 2)}.",
                node=where,
            )  # fmt: skip
        else:
            yield Finding("pass", "leads", "Four wires: the leads do not enter.", node=where)


def _matters(view: View, error: float) -> bool:
    tolerance = view.channel.tolerance
    return tolerance.is_stated and error > 0.25 * float(tolerance.at(0.0, view.channel.span))


def cold_junction(view: View) -> Iterator[Finding]:
    """Whether a thermocouple's cold junction is dealt with, and by the right type."""
    rating = view.part.rating
    if not isinstance(rating, Thermocouple):
        return
    at = next((n for n, stage in enumerate(view.path.stages) if isinstance(stage, ColdJunction)), None)
    if at is None:
        yield Finding(
            "fault", "cold junction", "The thermocouple's wires end somewhere, but no cold junction is stated: the "
            "reading is low by the temperature of the terminals.", "Add a cold junction to the path.", "output",
        )  # fmt: skip
        return
    stage = view.path.stages[at]
    assert isinstance(stage, ColdJunction)
    if stage.letter != rating.letter:
        yield Finding(
            "fault", "cold junction", f"The thermocouple is of type {rating.letter}, the compensation of type "
            f"{stage.letter}.", f"Set both to type {rating.letter}.", f"node {at + 1}",
        )  # fmt: skip
    elif stage.compensated:
        yield Finding(
            "pass", "cold junction", f"Type {stage.letter} terminals at {stage.terminal_c:g} °C "
            f"±{stage.tolerance_k:g} K, added back in emf.", node=f"node {at + 1}",
        )  # fmt: skip
    else:
        yield Finding(
            "look", "cold junction", f"Nothing is added back: the curve holds only while the terminals stand at "
            f"{stage.terminal_c:g} °C.", "Measure them and type it, or take an amplifier that compensates.",
            f"node {at + 1}",
        )  # fmt: skip


def gains_agree(view: View) -> Iterator[Finding]:
    """Amplifiers of channels of one device, which must be set alike."""
    own = _gain_of(view.channel)
    if own is None:
        return
    for other in view.job.channels:
        if not isinstance(other, ContinuousChannel) or other.id == view.channel.id:
            continue
        gain = _gain_of(other) if other.device == view.channel.device else None
        if gain is not None and abs(gain / own - 1) > 1e-6:
            yield Finding(
                "fault", "gains", f"{view.channel.tag} is amplified × {number(own, '')}, {other.tag} of the same "
                f"device × {number(gain, '')}.", "They must agree: correct one of them.",
            )  # fmt: skip
        elif gain is not None:
            yield Finding("pass", "gains", f"Amplified × {number(own, '')}, as {other.tag} of the same device.")


def _gain_of(channel: ContinuousChannel) -> float | None:
    stage = next((stage for stage in channel.path.stages if isinstance(stage, Amplifier)), None)
    return None if stage is None else stage.volts_per_volt


def slowness(view: View) -> Iterator[Finding]:
    """What a filter hides."""
    for n, stage in enumerate(view.path.stages):
        if isinstance(stage, Filter):
            settled = stage.delay_s + SETTLED * stage.time_constant_s
            yield Finding(
                "pass", "filter", f"Settled {number(settled, 's', 3)} after a step; what is faster than "
                f"{number(stage.corner_hz, 'Hz', 3)} is hidden.", node=f"node {n + 1}",
            )  # fmt: skip
