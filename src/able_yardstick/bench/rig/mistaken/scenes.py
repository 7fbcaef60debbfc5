"""Mistakes as they are made: a plant built otherwise than described, or a controller whose numbers are others.

Written from the wiring and from figures of its own, apart from the error curves that Prove looks for, so that the one
is a test of the other.
"""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ....core.curves import Line
from ....core.document.channel import ContinuousChannel
from ....core.document.nominal import nominal_curve
from ....core.job.job import Job
from ....core.sensor.rating import Platinum, RatedTable, Sensitivity, Thermistor, Thermocouple, TwoPoints
from ....core.stages import Amplifier, AnyStage, ColdJunction, Divider, Excitation, Leads, PullUp, Shunt
from ....core.standards import platinum, thermocouples
from ....core.words.record import InvalidRecord

Array = NDArray[np.float64]
InForceLaw = Callable[[Array], Array]  # what a controller makes of the signals it takes its counts for
_RESISTORS = (0.5, 0.68, 0.75, 0.82, 0.91, 1.1, 1.2, 1.5, 1.8, 2.0)
_SLIPS = {
    "gauge pressure": (0.1450377, 0.0), "differential pressure": (0.01, 0.0), "temperature": (1.8, 32.0),
    "force or mass": (2.2046226, 0.0), "flow": (16.666667, 0.0),
}  # fmt: skip
_AIR = {"kPa": 101.325, "Pa": 101_325.0}
_NITROGEN = 79.054 / 20.946  # and the rest of air, for one of oxygen


class Scene(NamedTuple):
    """A mistake made: the plant as it truly is, and the controller's own reading where its numbers are others.

    `calibrated` says that the controller's numbers were made from this very plant while it was sound.
    """

    plant: ContinuousChannel
    reading: Callable[[InForceLaw], InForceLaw] | None = None
    calibrated: bool = True


Maker = Callable[[Job, ContinuousChannel, np.random.Generator], Scene | None]


def _stage(channel: ContinuousChannel, kind: type, **changes: object) -> ContinuousChannel | None:
    """The channel with one stage of a kind changed; None without one."""
    stages: list[AnyStage] = list(channel.path.stages)
    for n, stage in enumerate(stages):
        if isinstance(stage, kind):
            stages[n] = stage.with_(**changes)
            return channel.with_(path=channel.path.with_(stages=tuple(stages)))
    return None


def _found(channel: ContinuousChannel, kind: type) -> AnyStage | None:
    return next((stage for stage in channel.path.stages if isinstance(stage, kind)), None)


def _plant(channel: ContinuousChannel | None) -> Scene | None:
    return None if channel is None else Scene(channel)


def _shown(channel: ContinuousChannel, change: Callable[[Array], Array]) -> Scene:
    """Sound values, changed once they are reckoned."""
    return Scene(channel, lambda read: lambda pin: change(read(pin)))


def resistor(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """A resistor of another value is fitted."""
    times = float(draw.choice(_RESISTORS))
    for kind, part in ((Shunt, "resistance_ohm"), (Divider, "bottom_ohm"), (PullUp, "resistance_ohm")):
        stage = _found(channel, kind)
        if stage is not None:
            return _plant(_stage(channel, kind, **{part: getattr(stage, part) * times}))
    return None


def supply(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """The bridge's supply is another."""
    stage = _found(channel, Excitation)
    if not isinstance(stage, Excitation):
        return None
    return _plant(_stage(channel, Excitation, voltage_v=stage.voltage_v * _off(draw, 0.02, 0.15)))


def reference(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """The converter's reference is off."""
    converter = channel.path.converter
    if converter.unit != "V" or converter.shares_supply:
        return None
    off = converter.with_(reference_measured_v=converter.reference_v * _off(draw, 0.02, 0.1))
    return _plant(channel.with_(path=channel.path.with_(converter=off)))


def _off(draw: np.random.Generator, least: float, most: float) -> float:
    return 1 + float(draw.choice([-1, 1]) * draw.uniform(least, most))


def ground(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """The return stands off the input's zero."""
    if channel.path.pin_unit != "V":
        return None
    span = channel.path.converter.end - channel.path.converter.start
    offset = span * (_off(draw, 0.01, 0.06) - 1)
    return Scene(channel, lambda read: lambda pin: read(pin + offset))


def leads(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """Two wires where three are described."""
    if not isinstance(channel.transducer.rating, Platinum):
        return None
    return _plant(_stage(channel, Leads, wires=2, wire_ohm=float(draw.uniform(0.4, 4.0))))


def junction(_job: Job, channel: ContinuousChannel, _draw: np.random.Generator) -> Scene | None:
    """Nothing is added back for the terminals."""
    return _plant(_stage(channel, ColdJunction, compensated=False))


def loading(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """An input of some kilohms hangs on the signal."""
    if not any(isinstance(stage, PullUp | Divider) for stage in channel.path.stages):
        return None
    ohm = float(np.exp(draw.uniform(np.log(10e3), np.log(200e3))))
    return _plant(channel.with_(path=channel.path.with_(converter=channel.path.converter.with_(input_ohm=ohm))))


def gain_code(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """The amplifier is set to another of its gains."""
    stage = _found(channel, Amplifier)
    if not isinstance(stage, Amplifier):
        return None
    times = float(draw.choice([0.1, 0.2, 0.25, 0.5]))
    return _plant(_stage(channel, Amplifier, resistor="", stated_gain=stage.volts_per_volt * times))


def thermocouple(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """The controller is set to another type."""
    if not isinstance(channel.transducer.rating, Thermocouple):
        return None
    letter: thermocouples.Letter = draw.choice(["J", "N", "E", "T"])
    top_c = {"J": 1200.0, "N": 1300.0, "E": 1000.0, "T": 400.0}[letter]
    celsius = np.linspace(-40, top_c, 600)
    emfs = thermocouples.emf_mv(letter, celsius)
    path = channel.path
    return Scene(
        channel, lambda _read: lambda pin: np.interp(path.output(pin, channel.around), emfs, celsius), calibrated=False
    )


def element(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """The fitted element has another coefficient."""
    part = channel.transducer
    if isinstance(part.rating, Thermistor):
        changed = part.rating.with_(beta_k=part.rating.beta_k * _off(draw, 0.01, 0.12))
        return _plant(channel.with_(transducer=part.with_(rating=changed)))
    if not isinstance(part.rating, Platinum):
        return None
    alpha = float(draw.choice([3.75e-3, 3.916e-3, 3.92e-3]))
    celsius = np.linspace(part.range_low - 5, part.range_high + 5, 200)
    ratio = platinum.resistance_ohm(celsius, 1.0)
    ohms = part.rating.r0_ohm * (1 + (ratio - 1) * alpha / 3.851e-3)
    table = RatedTable(signals=tuple(ohms.tolist()), values=tuple(celsius.tolist()), between="a monotone cubic")
    return Scene(channel.with_(transducer=part.with_(rating=table)), calibrated=False)  # it has tolerances of its own


def model(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """A sensor of another size."""
    part = channel.transducer
    if isinstance(part.rating, Sensitivity):
        changed = part.rating.with_(mv_per_v=part.rating.mv_per_v * float(draw.choice([0.5, 0.75, 1.25, 1.5])))
        return _plant(channel.with_(transducer=part.with_(rating=changed)))
    if not isinstance(part.rating, TwoPoints):
        return None
    low = channel.range[0]
    times = float(draw.choice([0.4, 0.64, 1.6, 2.4]))
    return _shown(channel, lambda values: low + (values - low) * times)


def live_zero(_job: Job, channel: ContinuousChannel, _draw: np.random.Generator) -> Scene | None:
    """0 to the top is reckoned with where the signal starts above 0."""
    rating, path = channel.transducer.rating, channel.path
    if not isinstance(rating, TwoPoints) or min(rating.signals) <= 0:
        return None
    line = Line.through((0.0, rating.values[0]), (rating.signals[1], rating.values[1]), (0.0, rating.signals[1]))
    return Scene(channel, lambda _read: lambda pin: line.value(path.output(pin, channel.around)), calibrated=False)


def root(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """A root is taken once too often, or not at all."""
    if channel.transducer.quantity != "flow":
        return None
    low, high = channel.range
    power = float(draw.choice([0.5, 2.0]))
    return _shown(channel, lambda values: low + (high - low) * np.clip((values - low) / (high - low), 0, None) ** power)


def swapped(_job: Job, channel: ContinuousChannel, _draw: np.random.Generator) -> Scene | None:
    """The ends of the range are swapped."""
    low, high = channel.range
    return _shown(channel, lambda values: high - (values - low))


def unit(_job: Job, channel: ContinuousChannel, _draw: np.random.Generator) -> Scene | None:
    """Another unit is shown."""
    slip = _SLIPS.get(channel.transducer.quantity)
    return None if slip is None else _shown(channel, lambda values: slip[0] * values + slip[1])


def gauge(_job: Job, channel: ContinuousChannel, _draw: np.random.Generator) -> Scene | None:
    """Absolute pressure is shown for gauge pressure."""
    if channel.transducer.quantity != "gauge pressure":
        return None
    return _shown(channel, lambda values: values + _AIR[channel.unit])


def decimal(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """The decimal point is elsewhere."""
    power = int(draw.choice([-2, -1, 1, 2]))
    return _shown(channel, lambda values: values * 10.0**power)


def wet(_job: Job, channel: ContinuousChannel, _draw: np.random.Generator) -> Scene | None:
    """Wet oxygen of burnt methane is shown for dry: two of water for each of carbon."""
    if channel.transducer.quantity != "oxygen" or channel.unit != "% O2":
        return None

    def wetted(dry: Array) -> Array:
        share = np.clip(dry, 0, 20.94) / 100
        excess = (2 + share * (1 - 2)) / (2 - 2 * share * (1 + _NITROGEN))
        gas = 1 + 2 * (excess - 1) + 2 * excess * _NITROGEN
        return 100 * share * gas / (gas + 2)

    return _shown(channel, wetted)


def tare(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """A tare is still taken off."""
    if channel.transducer.quantity != "force or mass":
        return None
    kept = channel.span * float(draw.uniform(0.02, 0.3))
    return _shown(channel, lambda values: values - kept)


def limits(_job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """An old limit stops the values."""
    low, high = channel.range
    end = low + (high - low) * float(draw.uniform(0.3, 0.85))
    return _shown(channel, lambda values: np.minimum(values, end))


def cut(_job: Job, channel: ContinuousChannel, _draw: np.random.Generator) -> Scene | None:
    """Values are cut to whole steps."""
    step = 10.0 ** np.ceil(np.log10(5e-3 * channel.span))
    return _shown(channel, lambda values: np.floor(values / step) * step)


def another(job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """InForceLaw of another channel are in force."""
    mates = [
        other for other in job.channels
        if isinstance(other, ContinuousChannel) and other.id != channel.id
        and other.path.pin_unit == channel.path.pin_unit and nominal_curve(other) is not None
    ]  # fmt: skip
    if not mates:
        return None
    curve = nominal_curve(mates[int(draw.integers(len(mates)))])
    assert curve is not None
    low, high = curve.limits
    return Scene(channel, lambda _read: lambda pin: np.asarray(curve.value(np.clip(pin, low, high))))


SCENES: dict[str, Maker] = {
    "ground offset": ground, "another resistor": resistor, "supply off nominal": supply,
    "reference off nominal": reference, "lead resistance": leads, "cold junction": junction, "input loading": loading,
    "gain code": gain_code, "another thermocouple type": thermocouple, "another element": element,
    "another model": model, "live zero": live_zero, "square root": root, "swapped ends": swapped, "unit": unit,
    "gauge for absolute": gauge, "decimal point": decimal, "oxygen basis or view": wet, "tare left in": tare,
    "old limits": limits, "cut to whole numbers": cut, "another channel's numbers": another,
}  # fmt: skip


def scene_of(name: str, job: Job, channel: ContinuousChannel, draw: np.random.Generator) -> Scene | None:
    """A mistake made on a channel; None where it cannot be made there."""
    if name == "healthy":
        return Scene(channel)
    try:
        return SCENES[name](job, channel, draw)
    except InvalidRecord:
        return None
