"""One channel of the simulated plant: a true value only it knows, the transducer, the path, the converter, a fault.

Its physics is written from the wiring, not from what the program says a break would read like, so that the one is a
test of the other.
"""

from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...core.curves import Curve, Line
from ...core.document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ...core.document.nominal import nominal_curve
from ...core.stages import Amplifier, ColdJunction, PullUp, PulsePullUp, Shunt
from ...core.standards import thermocouples
from ...core.words.errors import NotApplicable
from .faults import Fault, Front, faults_for, front_of

Array = NDArray[np.float64]
OPEN_CIRCUIT = float("inf")
_LOOP_LIMIT_MA = 30.0
_SENSOR_OHM = {"voltage": 1200.0, "loop": 9000.0, "bridge": 352.0, "pulses": 1.2e6, "millivolts": 6.5, "contact": 0.4}
_OWN_NOISE = 0.3  # counts
_SCAN_S = 0.01
_TABLE = 4001
_LEAST_NOISE, _MOST_NOISE = 0.4, 1.0  # of what is usual: a data sheet states the most
_NOISE_SHARE: dict[Front, float] = {  # of the pin's span, where no data sheet says: amplified signals are the noisier
    "voltage": 3e-4, "loop": 2.5e-4, "pull-up": 2.5e-4, "ohms": 2.5e-4, "millivolts": 4e-4, "bridge": 3.5e-4,
    "pulses": 4e-4, "contact": 5e-4, "other": 3e-4,
}  # fmt: skip
_MIDDLE = (0.1, 0.9)
PLANT_S = 0.4  # until the plant has gone 63 % of the way to where it is sent
_TRUTH = 0.35  # of every tolerance: how far parts are off, as one standard deviation


class SampleBlock(NamedTuple):
    """What a stretch of scans gave: true values, the volts or ohms at the pin, and counts as they are sent."""

    truth: Array
    pin: Array
    counts: NDArray[np.int64]


@dataclass
class _Fault:
    """A fault with the numbers it was drawn with, and how far it has come."""

    cause: Fault = "healthy"
    size: float = 0.0
    rate: float = 0.0
    phase: float = 0.0
    age_s: float = 0.0
    held: float | None = None
    is_open: bool = False


@dataclass
class SimulatedChannel:
    """`target` is where the plant goes, `plant` where it is, `truth` what the transducer feels of it.

    All randomness comes from `random`.
    """

    channel: WiredChannel
    random: np.random.Generator
    target: float = 0.0
    truth: float = 0.0
    plant: float = 0.0
    falling: bool = False
    fault: _Fault = field(default_factory=_Fault)
    injected: float | None = None  # a calibrator at the terminal: so much at the pin, whatever the sensor gives

    def __post_init__(self) -> None:
        draw = self.random
        self.wiring = front_of(self.channel)
        self.noise = self._noise() * draw.uniform(_LEAST_NOISE, _MOST_NOISE)
        self.response_s = 0.3
        self._varied: dict[int, dict[str, float]] = {}
        self._gain, self._offset, self._bend, self._wander = 1.0, 0.0, 0.0, 0.0
        if isinstance(self.channel, ContinuousChannel):
            self._draw_parts(self.channel)
        low, high = self.ends
        start = low if isinstance(self.channel, TwoStateChannel) else low + 0.4 * (high - low)
        self.target = self.truth = self.plant = start

    def _draw_parts(self, channel: ContinuousChannel) -> None:
        draw, part = self.random, channel.transducer
        self.response_s = part.response_s or 0.3
        span = channel.span
        off = (
            float(
                part.half_width(
                    np.array([part.range_high]),
                ).max()
            )
            if part.rating.kind != "unrated"
            else 0.0
        )
        share = off / part.span if np.isfinite(off) else 0.0
        self._gain = 1 + float(np.clip(draw.normal(0, _TRUTH * share), -share, share)) / 2
        self._offset = float(np.clip(draw.normal(0, _TRUTH * share), -share, share)) * span / 2
        self._bend = share * span / 6
        for n, stage in enumerate(channel.path.stages):
            parts = [one for one in stage.parts(channel.around) if one.half_width > 0]
            self._varied[n] = {
                one.name: one.value + float(np.clip(draw.normal(0, _TRUTH), -1, 1)) * one.half_width for one in parts
            }
        self._varied = {n: parts for n, parts in self._varied.items() if parts}

    @property
    def ends(self) -> tuple[float, float]:
        """Between which true values the plant can go."""
        return self.channel.range if isinstance(self.channel, ContinuousChannel) else (0.0, 1.0)

    def _noise(self) -> float:
        """Standard deviation of the noise at the pin, in its unit: the transducer's, or what such wires pick up."""
        part, converter = self.channel, self.channel.path.converter
        stated = part.transducer.noise if isinstance(part, ContinuousChannel) else None
        if stated is None or not isinstance(part, ContinuousChannel):
            return _NOISE_SHARE[self.wiring] * (converter.end - converter.start)
        curve = part.transducer.nominal(part.around)
        middle = 0.0 if curve is None else sum(curve.domain) / 2
        return stated * abs(float(part.path.slope(middle, part.around)))

    @property
    def causes(self) -> tuple[Fault, ...]:
        """The faults it can have."""
        return faults_for(self.channel)

    def move(self, value: float) -> None:
        """Set where the plant goes."""
        self.falling = value < self.plant
        self.target = value

    def settle(self) -> None:
        """Be there at once, as after a long wait."""
        self.truth = self.plant = self.target

    def break_by(self, cause: Fault) -> None:
        """Switch a fault on, with numbers drawn for it; healthy mends all. Raises: NotApplicable."""
        if cause not in self.causes:
            raise NotApplicable(
                f"{self.channel.tag} cannot have the fault “{cause}”. It can have {', '.join(self.causes[1:])}."
            )
        draw, span = self.random, self._pin_span
        fault = _Fault(cause, phase=float(draw.uniform(0, 2 * np.pi)))
        if cause == "chassis-ground offset":
            fault.size = max(float(draw.uniform(0.022, 0.06)) * span, 0.02 * span)
        elif cause == "hum":
            fault.size, fault.rate = float(draw.uniform(12, 60)) * self.noise, 50 + float(draw.uniform(-0.06, 0.06))
        elif cause == "wrong shunt":
            fault.size = float(draw.choice([100.0, 120.0, 500.0])) / 250.0
        elif cause == "drifting":
            fault.rate = float(draw.choice([-1, 1]) * draw.uniform(0.03, 0.15)) * span / 60
        elif cause == "clipped":
            fault.size = float(draw.uniform(0.05, 0.3))
        elif cause == "intermittent":
            fault.rate = float(draw.uniform(0.1, 0.3))
        elif cause == "floating":
            fault.size = float(draw.uniform(0.25, 0.6)) * span
            fault.held = float(draw.uniform(0.1, 0.5)) * span
        elif cause == "wrong unit or scale":
            fault.size = float(draw.choice([0.1, 10.0, 0.1450377, 1.8]))
        self.fault = fault

    @property
    def _pin_span(self) -> float:
        converter = self.channel.path.converter
        return converter.end - converter.start

    # -- a stretch of time ------------------------------------------------------------------------------------------

    def run(self, times_s: Array, speed: float = 1.0) -> SampleBlock:
        """Scans at rising wall times, shape (n,); the plant goes `speed` times as fast as they do."""
        steps = np.empty(len(times_s))
        steps[1:] = (times_s[1:] - times_s[:-1]) * speed
        steps[0] = steps[1] if len(steps) > 1 else _SCAN_S * speed
        truth = self._followed(steps)
        pin = self._pin_of(truth) + self.random.normal(0, self.noise, len(truth))
        pin = self._broken(pin, times_s, steps)
        self.fault.age_s += float(steps.sum())
        converter = self.channel.path.converter
        if self.injected is not None:
            pin = np.full(len(pin), self.injected)
            return SampleBlock(truth, pin, converter.count_of(pin))
        own = self.random.normal(0, _OWN_NOISE, len(pin))
        counts = converter.quantiser.whole(converter.forward(pin) + own)
        return SampleBlock(truth, pin, self._sent(counts))

    def _followed(self, steps_s: Array) -> Array:
        """The plant on its way to the target, as the transducer feels it: one lag after the other."""
        if isinstance(self.channel, TwoStateChannel):
            self.plant = self.truth = round(self.target)
            return np.full(len(steps_s), float(self.truth))
        lag_s = self.response_s * (40.0 if self.fault.cause == "slow" else 1.0)
        plant = self.target + (self.plant - self.target) * np.exp(-np.cumsum(steps_s) / PLANT_S)
        shares = 1 - np.exp(-steps_s / lag_s)
        felt, truth = np.empty(len(plant)), self.truth
        for n, (value, share) in enumerate(zip(plant.tolist(), shares.tolist(), strict=True)):
            truth += share * (value - truth)
            felt[n] = truth
        self.plant, self.truth = float(plant[-1]), truth
        return felt

    def _pin_of(self, truth: Array) -> Array:
        """The pin of a sound channel at true values, its parts off as drawn, without noise."""
        channel = self.channel
        if isinstance(channel, TwoStateChannel):
            closed, opened = channel.pin_levels
            return np.where(truth < 0.5, closed, opened)
        values, pins = self._table[self.falling]
        return np.interp(truth, values, pins)

    @cached_property
    def _table(self) -> dict[bool, tuple[Array, Array]]:
        """The pin over the range, going up and coming down: the laws of standards take too long for every scan."""
        assert isinstance(self.channel, ContinuousChannel)
        values = np.linspace(*self.channel.range, _TABLE)
        return {falling: (values, self._reckoned(self.channel, values, falling)) for falling in (False, True)}

    def _reckoned(self, channel: ContinuousChannel, truth: Array, falling: bool) -> Array:
        low, high = channel.range
        share = np.clip((truth - low) / (high - low), 0, 1)
        felt = low + (truth - low) * self._gain + self._offset
        felt = felt + (4 * share * (1 - share) * self._bend if falling else 0.0)
        curve = _curve_of(channel)
        inside = np.clip(felt, low, high)
        pins = np.asarray(curve.signal(inside))
        pins = pins + (felt - inside) / np.asarray(curve.slope(pins))  # a little beyond the range it goes on straight
        output = channel.path.output(pins, channel.around)
        return channel.path.pin(output, channel.around, self._varied)

    # -- faults -----------------------------------------------------------------------------------------------------

    def _broken(self, pin: Array, times_s: Array, steps_s: Array) -> Array:
        """The signal at the pin with the fault in it, shape (n,)."""
        fault = self.fault
        still = self._still(fault.cause)
        if still is not None:
            return still + self.random.normal(0, 0.2 * self.noise, len(pin))
        if fault.cause in ("stuck", "clipped"):
            return self._stopped(pin)
        if fault.cause == "swapped leads":
            return self._swapped(pin)
        if fault.cause == "wrong shunt":
            return pin * fault.size
        if fault.cause == "chassis-ground offset":
            return pin + fault.size
        if fault.cause == "hum":
            return pin + fault.size * np.sin(2 * np.pi * fault.rate * times_s + fault.phase)
        if fault.cause == "drifting":
            return pin + fault.rate * (fault.age_s + np.cumsum(steps_s))
        if fault.cause == "floating":
            return self._floating(times_s, steps_s)
        if fault.cause == "intermittent":
            return np.where(self._contacts(np.diff(times_s, prepend=times_s[0])), self._open_pin, pin)
        return pin

    def _still(self, cause: Fault) -> float | None:
        """The signal of a break that nothing moves any more."""
        if cause == "open lead":
            return self._open_pin
        if cause == "short":
            return self._short_pin()
        if cause == "no supply":
            return self._through(0.0) if self.wiring == "bridge" else 0.0
        if cause == "missing pull-up":
            return 0.0
        return None

    @property
    def _open_pin(self) -> float:
        """Where the pin goes when the signal lead hangs free."""
        path = self.channel.path
        amplifier = next((stage for stage in path.stages if isinstance(stage, Amplifier)), None)
        if self.wiring in ("bridge", "millivolts"):
            return amplifier.high_v if amplifier is not None else path.converter.end
        pull = next((stage for stage in path.stages if isinstance(stage, PullUp)), None)
        if pull is not None:
            return pull.supply_v
        return path.converter.end * 1.02 if self.wiring == "ohms" else 0.0

    def _short_pin(self) -> float:
        """Where the pin goes when the two leads touch."""
        channel, path = self.channel, self.channel.path
        if isinstance(channel, TwoStateChannel):
            return channel.pin_levels[0]
        if self.wiring == "loop":
            shunt = next(stage for stage in path.stages if isinstance(stage, Shunt))
            current_ma = min(_LOOP_LIMIT_MA, 1000 * channel.transducer.supply_v / shunt.resistance_ohm)
            return current_ma * shunt.resistance_ohm / 1000
        if self.wiring == "millivolts":
            junction = next((stage for stage in path.stages if isinstance(stage, ColdJunction)), None)
            own = 0.0 if junction is None else float(thermocouples.emf_mv(junction.letter, junction.terminal_c))
            return self._through(own)
        return self._through(0.0) if self.wiring in ("bridge", "ohms") else 0.0

    def _through(self, output: float) -> float:
        assert isinstance(self.channel, ContinuousChannel)
        return float(self.channel.path.pin(output, self.channel.around, self._varied))

    def _stopped(self, pin: Array) -> Array:
        """A value that stays, or that cannot rise above a ceiling that lies under the present one."""
        fault, low = self.fault, self.channel.path.converter.start
        if fault.held is None:
            now = float(np.median(pin))
            fault.held = now if fault.cause == "stuck" else low + (now - low) * (1 - max(fault.size, 0.08))
        if fault.cause == "stuck":
            return np.full(len(pin), fault.held)
        return np.minimum(pin, fault.held)

    def _swapped(self, pin: Array) -> Array:
        channel = self.channel
        assert isinstance(channel, ContinuousChannel)
        if self.wiring == "loop":
            return self.random.normal(0, 0.2 * self.noise, len(pin))
        output = np.asarray(channel.path.output(pin, channel.around))
        if self.wiring == "millivolts":
            junction = next((stage for stage in channel.path.stages if isinstance(stage, ColdJunction)), None)
            own = 0.0 if junction is None else float(thermocouples.emf_mv(junction.letter, junction.terminal_c))
            output = 2 * own - output
        else:
            output = -output
        return np.asarray(channel.path.pin(output, channel.around, self._varied))

    def _floating(self, times_s: Array, steps_s: Array) -> Array:
        """A slow random walk held by leakage, and the mains that it picks up."""
        fault = self.fault
        assert fault.held is not None  # drawn when it was switched on
        walk = np.empty(len(times_s))
        level, kick = self._wander, 0.18 * fault.size
        for n, step in enumerate(np.abs(steps_s)):
            level += -level * min(step / 1.5, 1.0) + kick * np.sqrt(min(step, 1.0)) * float(self.random.normal())
            walk[n] = level
        self._wander = level
        picked_up = 0.05 * fault.size * np.sin(2 * np.pi * 50.02 * times_s + fault.phase)
        return fault.held + walk + picked_up

    def _contacts(self, steps_s: Array) -> NDArray[np.bool_]:
        """When a loose contact is open: it opens and closes at random, open for `rate` of the time."""
        share, mean_open_s = self.fault.rate, 0.12
        opens_hz, closes_hz = share / (1 - share) / mean_open_s, 1 / mean_open_s
        drawn = self.random.uniform(0, 1, len(steps_s))
        found = np.empty(len(steps_s), dtype=bool)
        for n, step in enumerate(np.abs(steps_s)):
            changes = drawn[n] < 1 - np.exp(-step * (closes_hz if self.fault.is_open else opens_hz))
            self.fault.is_open ^= bool(changes)
            found[n] = self.fault.is_open
        return found

    def _sent(self, counts: NDArray[np.int64]) -> NDArray[np.int64]:
        """The counts as the controller sends them."""
        if self.fault.cause == "not configured":
            return np.zeros_like(counts)
        if self.fault.cause == "wrong link settings":
            return (counts & 0xFF) << 8 | counts >> 8
        return counts

    # -- what a meter would say -------------------------------------------------------------------------------------

    def meter_v(self) -> float | None:
        """Mean volts at the signal terminal against its return; None where there is nothing a voltmeter could tell."""
        cause = self.fault.cause
        if self.wiring == "pulses":
            pull = next((stage for stage in self.channel.path.stages if isinstance(stage, PulsePullUp)), None)
            high = pull.supply_v if pull is not None else 5.0
            return {"open lead": high, "no supply": high, "short": 0.0, "missing pull-up": 0.0}.get(cause, high / 2)
        if self.channel.path.pin_unit != "V":
            return None
        if cause == "floating":
            return 0.0
        sound = self._pin_of(np.array([self.truth]))
        if cause in ("chassis-ground offset", "hum", "not configured", "wrong link settings", "intermittent"):
            return float(sound[0])
        seen = self._broken(sound, np.array([0.0]), np.array([0.0]))
        return float(seen[0])

    def supply_v(self) -> float | None:
        """Volts at the supply terminal; None for a sensor without a supply."""
        pull = next((stage for stage in self.channel.path.stages if isinstance(stage, PullUp)), None)
        if self.wiring in ("millivolts", "ohms", "other"):
            return None
        wanted = pull.supply_v if pull is not None else 24.0
        if pull is None and isinstance(self.channel, ContinuousChannel):
            wanted = self.channel.transducer.supply_v
        return 0.0 if self.fault.cause == "no supply" else wanted * 1.002

    def leads_ohm(self) -> float:
        """Ohms across the signal leads, taken off the terminal and without supply; infinite for an open circuit."""
        if self.fault.cause in ("open lead", "floating"):
            return OPEN_CIRCUIT
        if self.fault.cause == "short":
            return 0.6
        if self.wiring in ("pull-up", "ohms") and isinstance(self.channel, ContinuousChannel):
            pin = self._pin_of(np.array([self.truth]))
            return float(np.asarray(self.channel.path.output(pin, self.channel.around))[0])
        return _SENSOR_OHM.get(self.wiring, 1000.0)


def _curve_of(channel: ContinuousChannel) -> Curve:
    """The described curve; of an undescribed transducer a straight line over the middle of the pin's span."""
    curve = nominal_curve(channel)
    if curve is not None:
        return curve
    start, end = channel.path.converter.start, channel.path.converter.end
    ends = [start + share * (end - start) for share in _MIDDLE]
    low, high = channel.range
    return Line.through((ends[0], low), (ends[1], high), (ends[0], ends[1]))
