"""What each single break of the wiring would read like: at the pin, in the controller, and whether it can be told."""

from collections.abc import Callable, Iterable, Iterator
from typing import Literal, NamedTuple

import numpy as np

from ..document.channel import ContinuousChannel, TwoStateChannel
from ..document.nominal import nominal_curve
from ..job.in_force import kept_packing, shown_of
from ..job.job import Job
from ..job.nodes import range_pins
from ..stages import Amplifier, ColdJunction, CurrentSource, Divider, Leads, PullUp, PulsePullUp, Shunt
from ..standards import thermocouples
from ..units.electrical import SignalUnit
from ..words.numerals import significant
from .landing import landed

Told = Literal["seen", "not seen", "over-voltage", "not known"]
_SLACK = 0.01  # of the span between the range's ends: nearer than that a break looks like a true value


class Break(NamedTuple):
    """One break: the signal it makes at the pin (None where it floats), the count, and whether it can be told.

    `shows` is the number that the controller would show, in the channel's unit, by its packing or else as described;
    `harm` says what the break does beyond misleading.
    """

    name: str
    pin: float | None
    counts: int | None
    told: Told
    says: str
    shows: float | None = None
    harm: str = ""


class _Case(NamedTuple):
    name: str
    pin: float | None
    cause: str = ""
    harm: str = ""


def breaks_of(job: Job, channel: ContinuousChannel) -> tuple[Break, ...]:
    """Every single break of a channel's wiring that its kind of signal can have."""
    cases = [*_cases(job, channel), *_failing(channel)]
    return tuple(_judged(job, channel, case) for case in cases)


def contact_breaks(channel: TwoStateChannel) -> tuple[Break, ...]:
    """Every single break of a contact's wiring: each reads like one of its two states."""
    closed, opened = channel.pin_levels
    driven = channel.pull_up is not None
    cases = [
        _Case("lead open", opened if driven else 0.0),
        _Case("leads shorted", closed),
        _Case("supply lost", 0.0),
    ]
    unit = channel.signal_unit
    found = []
    for case in cases:
        pin = case.pin or 0.0
        means = channel.closed_means if channel.state(pin, "open") == "closed" else channel.open_means
        says = f"{significant(pin, 4)} {unit}, reads like “{means}”"
        found.append(Break(case.name, pin, int(channel.path.converter.count_of(pin)), "not seen", says))
    return tuple(found)


def _judged(job: Job, channel: ContinuousChannel, case: _Case) -> Break:
    converter, unit = channel.path.converter, channel.path.pin_unit
    if case.pin is None:
        return Break(case.name, None, None, "not known", case.cause, harm=case.harm)
    count = int(converter.count_of(case.pin))
    told, shows = _told(channel, case.pin), _shows(job, channel, case.pin)
    safe_high, safe_low = converter.safe_high_v, converter.safe_low_v
    over = (safe_high is not None and case.pin > safe_high) or (safe_low is not None and case.pin < safe_low)
    if over:
        told = "over-voltage"
    at = f"{significant(case.pin, 4)} {unit}"
    parts = [case.cause] if case.cause.endswith(at) else [case.cause, at] if case.cause else [at]
    if case.pin > converter.end * (1 + 1e-9) and not over:
        parts.append("above the pin's top")
    elif case.pin < converter.start - 1e-9 * abs(converter.end):
        parts.append("below the pin's bottom")
    if shows is not None:
        parts.append(f"shows {significant(shows, 4)} {channel.unit}")
    return Break(case.name, case.pin, count, told, ", ".join(parts), shows, case.harm)


def _shows(job: Job, channel: ContinuousChannel, pin: float) -> float | None:
    """What the controller makes of a signal: by the packing kept, else by the described curve where it is defined."""
    record, converter = kept_packing(job, channel), channel.path.converter
    if record is not None:
        value = channel.in_unit(float(shown_of(record.form, channel, np.array([pin]))[0]), record.unit)[0]
    else:
        curve = nominal_curve(channel)
        read = float(converter.inverse(converter.count_of(pin)))
        if curve is None or not curve.limits[0] <= read <= curve.limits[1]:
            return None
        value = float(curve.value(read))
    return 0.0 if abs(value) < 1e-9 * channel.span else value


def _told(channel: ContinuousChannel, pin: float) -> Told:
    """Whether a signal can be told from those of the range."""
    ends = range_pins(channel)
    if ends is None:
        return "not known"
    low, high = sorted(ends)
    read = float(np.clip(pin, channel.path.converter.start, channel.path.converter.end))
    slack = _SLACK * (high - low)
    return "not seen" if low - slack <= read <= high + slack else "seen"


# -- the breaks of each kind of signal ------------------------------------------------------------------------------


def _through(channel: ContinuousChannel, node: int, value: float) -> float:
    """What the pin sees when the n-th node is at a value, as the parts' limits let it through."""
    signal = value
    for stage, load_ohm in list(channel.path.loaded_stages())[node:]:
        low, high = stage.output_limits
        signal = min(max(float(stage.forward(signal, channel.around, load_ohm)), low), high)
    return signal


def supply_of(job: Job, channel: ContinuousChannel) -> tuple[float, float | None]:
    """The supply's voltage, and the most it gives in mA where that is known."""
    place = landed(job, channel)
    if place is not None and place.supply is not None and place.supply.supply_v is not None:
        return place.supply.supply_v, place.supply.supply_limit_ma
    return channel.transducer.supply_v, None


def _loop(job: Job, channel: ContinuousChannel) -> Iterator[_Case]:
    stages = channel.path.stages
    at = next((n for n, stage in enumerate(stages) if isinstance(stage, Shunt)), None)
    yield _Case("lead open", _through(channel, 0, 0.0), "0 mA")
    yield _Case("supply lost", _through(channel, 0, 0.0), "0 mA")
    yield _Case("leads swapped", _through(channel, 0, 0.0), "the transmitter blocks: 0 mA")
    if at is None:
        return
    shunt = stages[at]
    assert isinstance(shunt, Shunt)
    volts, limit = supply_of(job, channel)
    place = landed(job, channel)
    lead_ohm = place.landing.lead_ohm if place else 0.0
    current = 1000 * volts / (shunt.resistance_ohm + lead_ohm)
    if limit is not None:
        current = min(current, limit)
    watts = shunt.watts(current)
    burns = f"{significant(watts, 3)} W in a shunt of {shunt.rating_w:g} W" if watts > shunt.rating_w else ""
    limited = "" if limit is not None else " unless the supply limits it"
    yield _Case("shunt shorted", _through(channel, at + 1, 0.0), "like an open lead")
    yield _Case("leads shorted", _through(channel, at, current), f"{significant(current, 3)} mA{limited}", burns)
    yield _Case("shunt open", _through(channel, at + 1, volts), "the whole supply")


def _alternating(channel: ContinuousChannel) -> Iterator[_Case]:
    stages = channel.path.stages
    at = next((n for n, stage in enumerate(stages) if isinstance(stage, Shunt)), None)
    yield _Case("lead open", _through(channel, 0, 0.0), "0 mA", "an open secondary of a live transformer is dangerous")
    if at is not None:
        yield _Case("burden shorted", _through(channel, at + 1, 0.0))
        harm = "an open secondary of a live transformer is dangerous"
        yield _Case("burden open", None, "as many volts as the transformer can give", harm)


def _voltage(job: Job, channel: ContinuousChannel) -> Iterator[_Case]:
    converter = channel.path.converter
    held = converter.input_ohm is not None or any(isinstance(stage, Divider) for stage in channel.path.stages)
    floats = "held down by the input's resistance" if held else "the pin floats: any value"
    yield _Case("lead open", _through(channel, 0, 0.0) if held else None, floats)
    yield _Case("shorted to return", _through(channel, 0, 0.0))
    yield _Case("supply lost", _through(channel, 0, 0.0))
    volts, _ = supply_of(job, channel)
    yield _Case("shorted to supply", _through(channel, 0, volts), "the supply itself")
    yield _Case("return open", _through(channel, 0, volts), "the sensor rises to its supply")


def _resistance(channel: ContinuousChannel) -> Iterator[_Case]:
    stages = channel.path.stages
    pull = next((stage for stage in stages if isinstance(stage, PullUp)), None)
    at = next((n for n, stage in enumerate(stages) if isinstance(stage, PullUp | CurrentSource)), None)
    if at is None:
        yield _Case("lead open", channel.path.converter.end * 1.01, "beyond any resistance")
    elif pull is not None:
        yield _Case("lead open", _through(channel, at + 1, pull.supply_v), f"the {pull.supply_v:g} V of the pull-up")
        yield _Case("pull-up open", _through(channel, at + 1, 0.0), "nothing drives a current")
        yield _Case("supply lost", _through(channel, at + 1, 0.0), "nothing drives a current")
    else:
        yield _Case("lead open", _through(channel, at + 1, 1e6), "the source rises to its end")
    leads = next((stage for stage in stages if isinstance(stage, Leads)), None)
    at_zero = "" if channel.path.is_direct else "0 Ω"
    yield _Case("leads shorted", _through(channel, 0, 0.0), at_zero)
    if leads is not None and leads.wires == 3:
        rated = channel.transducer.rated()
        if rated is not None:
            middle = float(rated.signal(sum(channel.range) / 2 if channel.unit == channel.transducer.unit else 0.0))
            yield _Case(
                "third wire open", _through(channel, 0, middle + 2 * leads.wire_ohm),
                f"both leads are read: {significant(2 * leads.wire_ohm, 3)} Ω too much",
            )  # fmt: skip


def _millivolts(channel: ContinuousChannel) -> Iterator[_Case]:
    stages = channel.path.stages
    amplifier = next((stage for stage in stages if isinstance(stage, Amplifier)), None)
    if amplifier is not None:
        at = stages.index(amplifier) + 1
        yield _Case("lead open", _through(channel, at, amplifier.high_v), "with an amplifier that drives up on a break")
    junction = next((stage for stage in stages if isinstance(stage, ColdJunction)), None)
    if junction is None:
        yield _Case("leads shorted", _through(channel, 0, 0.0), "0 mV")
        return
    at_terminals = float(thermocouples.emf_mv(junction.letter, junction.terminal_c))
    cause = f"it reads its own terminals, {junction.terminal_c:g} °C"
    yield _Case("leads shorted", _through(channel, 0, at_terminals), cause)
    rated = channel.transducer.rated()
    if rated is not None:
        high = rated.domain[1]
        swapped = 2 * at_terminals - high
        yield _Case("leads swapped", _through(channel, 0, swapped), "at the upper end the emf turns round")


def _bridge(channel: ContinuousChannel) -> Iterator[_Case]:
    stages = channel.path.stages
    amplifier = next((stage for stage in stages if isinstance(stage, Amplifier)), None)
    yield _Case("excitation lost", _through(channel, 0, 0.0), "0 mV/V")
    yield _Case("signal shorted", _through(channel, 0, 0.0), "0 mV")
    if amplifier is not None:
        at = stages.index(amplifier) + 1
        yield _Case("signal lead open", _through(channel, at, amplifier.high_v), "the amplifier goes to its end")
    rated = channel.transducer.rated()
    if rated is not None:
        yield _Case("signal swapped", _through(channel, 0, -rated.domain[1]), "at capacity the signal turns round")


def _frequency(channel: ContinuousChannel) -> Iterator[_Case]:
    pull = next((stage for stage in channel.path.stages if isinstance(stage, PulsePullUp)), None)
    yield _Case("lead open", _through(channel, 0, 0.0), "the line stays high: 0 Hz")
    yield _Case("shorted", _through(channel, 0, 0.0), "the line stays low: 0 Hz")
    yield _Case("supply lost", _through(channel, 0, 0.0), "0 Hz")
    if pull is not None:
        yield _Case("pull-up open", _through(channel, 0, 0.0), "the line never rises: 0 Hz")


_DUTY = (_Case("lead open", 100.0, "the line stays high: 100 %"), _Case("shorted", 0.0, "the line stays low: 0 %"))


def _failing(channel: ContinuousChannel) -> Iterator[_Case]:
    """What the transducer itself puts out when it reports a fault, or has run out of signal."""
    part, unit = channel.transducer, channel.path.source
    name = "transmitter" if part.output == "current loop" else "transducer"
    rated = part.nominal(channel.around)
    low, high = rated.domain if rated is not None else (np.inf, -np.inf)
    for end, signal in (("low", part.signal_low), ("high", part.signal_high)):
        if signal is not None and not low <= signal <= high:
            cause = "" if channel.path.is_direct else f"{significant(signal, 4)} {unit}"
            yield _Case(f"{name} fails {end}", _through(channel, 0, signal), cause)


def _cases(job: Job, channel: ContinuousChannel) -> Iterable[_Case]:
    if channel.transducer.output == "current loop":
        return _loop(job, channel)
    if channel.path.source == "V":
        return _voltage(job, channel)
    cases = _CASES.get(channel.path.source)
    return () if cases is None else cases(channel)


_CASES: dict[SignalUnit, Callable[[ContinuousChannel], Iterable[_Case]]] = {
    "mA": _alternating,
    "Ω": _resistance,
    "mV": _millivolts,
    "mV/V": _bridge,
    "Hz": _frequency,
    "%": lambda _channel: _DUTY,
}
