"""What each cause foretells of every test, against what was seen of one channel."""

from ..document.channel import ContinuousChannel, TwoStateChannel
from ..job.nodes import range_pins
from ..stages import ColdJunction, PullUp, PulsePullUp
from ..standards import thermocouples
from .causes import Cause, Wiring, wiring_of
from .evidence import Evidence
from .expected import Expected
from .figures import Texture
from .inputs import LookInputs
from .nudge import NudgeOutcome

_LEVEL_SHARE = 0.02  # of the pin's span: how near a level must be to that of a break
_METER_SHARE = 0.006  # of the pin's span: how near a meter and the controller should be
_DEAD_SHARE = 0.02
_GROUND_SHARE = 0.15
_MAINS_HZ = ((48.0, 52.0), (58.0, 62.0), (98.0, 104.0), (118.0, 124.0))
_SHOWN_SHARE = 0.01
_SHORT_OHM = 20.0
OPEN_OHM = 5e6
_TEXTURES: dict[Cause, tuple[Texture, ...]] = {
    "healthy": ("quiet", "constant"),
    "open lead": ("quiet", "constant"),
    "no supply": ("quiet", "constant"),
    "short": ("quiet", "constant"),
    "swapped leads": ("quiet", "constant"),
    "missing pull-up": ("quiet", "constant"),
    "not configured": ("constant",),
    "stuck": ("quiet", "constant"),
    "clipped": ("quiet", "constant"),
    "chassis-ground offset": ("quiet", "constant"),
    "wrong shunt": ("quiet", "constant"),
    "hum": ("line", "noisy"),
    "floating": ("wander", "noisy", "line", "ramp"),
    "intermittent": ("jumps",),
    "drifting": ("ramp",),
    "slow": ("quiet", "constant", "ramp"),
    "wrong unit or scale": ("quiet", "constant"),
    "wrong link settings": ("impossible counts", "constant", "quiet"),
}
_ALIVE: tuple[NudgeOutcome, ...] = ("moved",)
_DEAD: tuple[NudgeOutcome, ...] = ("did not move",)
_ANY: tuple[NudgeOutcome, ...] = ("moved", "moved the wrong way", "moved slowly", "did not move")
_NUDGES: dict[Cause, tuple[NudgeOutcome, ...]] = {
    "healthy": _ALIVE,
    "open lead": _DEAD,
    "no supply": _DEAD,
    "short": _DEAD,
    "swapped leads": (*_DEAD, "moved the wrong way"),
    "missing pull-up": _DEAD,
    "not configured": _DEAD,
    "stuck": _DEAD,
    "clipped": _DEAD,
    "chassis-ground offset": _ALIVE,
    "wrong shunt": _ALIVE,
    "hum": _ANY,
    "floating": _ANY,
    "intermittent": _ANY,
    "drifting": _ANY,
    "slow": ("moved slowly",),
    "wrong unit or scale": _ALIVE,
    "wrong link settings": _ANY,
}
SUPPLIED: tuple[Wiring, ...] = ("voltage", "loop", "pull-up", "bridge", "pulses", "contact")


class Case:
    """One channel's evidence, and what each cause foretells of it."""

    def __init__(self, inputs: LookInputs, evidence: Evidence) -> None:
        channel = inputs.channel
        self.channel, self.evidence = channel, evidence
        self.wiring = wiring_of(channel)
        converter = channel.path.converter
        self.start, self.end = converter.start, converter.end
        self.span = converter.end - converter.start
        self.breaks = dict(inputs.breaks)

    def fits(self, cause: Cause) -> bool:
        """Whether nothing seen contradicts a cause."""
        seen = self.evidence
        if seen.signal.texture not in _TEXTURES[cause] or not self._level_fits(cause, seen.signal.level):
            return False
        if seen.nudge is not None and seen.nudge.outcome not in self.nudges(cause):
            return False
        return (
            self._shown_fits(cause)
            and self._meter_fits(cause)
            and self._supply_fits(cause)
            and self._leads_fit(cause)
            and self._other_fits(cause)
            and self._burst_fits(cause)
        )

    def without_coincidence(self, standing: list[Cause]) -> list[Cause]:
        """Drop a sensor that stuck at just the level of a break that stands too, where no test would tell.

        A contact has only two levels, so there it is no coincidence.
        """
        broken = {"open lead", "short", "no supply", "swapped leads", "missing pull-up"} & set(standing)
        if self.evidence.signal.level_count < 1 and self.wiring != "contact":  # the count of an input that is off
            broken |= {"not configured"} & set(standing)
        if self.wiring == "contact" or not broken:
            return standing
        return [cause for cause in standing if cause not in ("stuck", "clipped")]

    # -- the level --------------------------------------------------------------------------------------------------

    def held(self, pin: float) -> float:
        """A signal as the converter can see it."""
        return min(max(pin, self.start), self.end)

    def near(self, level: float, pin: float, share: float = _LEVEL_SHARE) -> bool:
        """Whether a level is that of a break, as far as the converter sees it."""
        return abs(level - self.held(pin)) <= max(share * self.span, 3 * self.channel.path.converter.per_count)

    def _level_fits(self, cause: Cause, level: float, expected: Expected | None = None) -> bool:
        expected = expected or self.evidence.expected
        broken = self._broken_levels(cause, expected)
        if broken is not None:
            return any(self.near(level, pin) for pin in broken)
        if cause == "wrong link settings":
            impossible = self.evidence.signal.texture == "impossible counts"
            return impossible or (expected is not None and not expected.holds(level) and self._swaps_right(expected))
        if cause in ("not configured", "stuck", "floating", "intermittent", "drifting"):
            return True
        if expected is None:
            return self._fits_anywhere(cause, level)
        return self._working_level_fits(cause, level, expected)

    def _fits_anywhere(self, cause: Cause, level: float) -> bool:
        """Without an expected state: a sound signal lies within the working range, and an offset cannot be seen."""
        if cause in ("chassis-ground offset", "wrong shunt", "clipped"):
            return False
        ends = range_pins(self.channel) if isinstance(self.channel, ContinuousChannel) else None
        if ends is None:
            return True
        slack = _LEVEL_SHARE * self.span / 2
        return min(ends) - slack <= level <= max(ends) + slack

    def _working_level_fits(self, cause: Cause, level: float, expected: Expected) -> bool:
        """The level of a cause that leaves the signal alive, or stopped on its way."""
        off = level - self.held(expected.pin)
        if cause == "chassis-ground offset":
            return expected.allowed / 3 < abs(off) <= max(_GROUND_SHARE * self.span, expected.allowed)
        if cause == "wrong shunt":
            ratio = level / expected.pin if expected.pin else 0.0
            return 0.1 < ratio < 0.93 or ratio > 1.07
        if cause == "clipped":
            return off < -expected.allowed / 2 and not self.near(level, self.start, 0.005)
        if cause == "slow" and self.evidence.signal.texture == "ramp":
            return off * self.evidence.signal.drift_per_minute < 0  # it still creeps towards what is expected
        return abs(off) <= expected.allowed

    def _swaps_right(self, expected: Expected) -> bool:
        return expected.holds(self.evidence.signal.swapped_level)

    def _broken_levels(self, cause: Cause, expected: Expected | None) -> list[float] | None:
        """The levels that a break makes; None for a cause that is no break."""
        names: dict[Cause, tuple[str, ...]] = {
            "open lead": ("lead open", "signal lead open"),
            "short": ("leads shorted", "shorted to return", "signal shorted", "shorted"),
            "no supply": ("supply lost", "excitation lost"),
            "missing pull-up": ("pull-up open",),
        }
        if cause in names:
            pins = [self.breaks[name] for name in names[cause] if name in self.breaks]
            if cause == "no supply" and not pins:
                pins = [0.0]
            return [self.start if pin is None else pin for pin in pins]
        if cause == "swapped leads":
            return self._swapped_levels(expected)
        return None

    def _swapped_levels(self, expected: Expected | None) -> list[float]:
        channel = self.channel
        if self.wiring == "loop" or expected is None or not isinstance(channel, ContinuousChannel):
            return [float(channel.path.pin(0.0))]
        output = float(channel.path.output(expected.pin, channel.around))
        if self.wiring == "millivolts":
            junction = next((stage for stage in channel.path.stages if isinstance(stage, ColdJunction)), None)
            terminal_mv = 0.0 if junction is None else float(
                thermocouples.emf_mv(junction.letter, junction.terminal_c)
            )  # fmt: skip
            output = 2 * terminal_mv - output
        else:
            output = -output
        return [float(channel.path.pin(output, channel.around))]

    def _falls(self) -> bool:
        """Whether the signal falls where the quantity rises."""
        ends = range_pins(self.channel) if isinstance(self.channel, ContinuousChannel) else None
        return ends is not None and ends[1] < ends[0]

    def nudges(self, cause: Cause) -> tuple[NudgeOutcome, ...]:
        if cause == "swapped leads" and self.wiring == "millivolts":
            expected = self.evidence.expected
            levels = self._swapped_levels(expected)
            return ("moved the wrong way",) if levels[0] > self.start else (*_DEAD, "moved the wrong way")
        if cause == "wrong shunt" and self.near(self.evidence.signal.level, self.end, 0.002):
            return (*_ALIVE, *_DEAD)  # too large a shunt may have driven the pin to its top
        if cause == "clipped" and (self.evidence.expected is None or self._falls()):
            return _ANY
        return _NUDGES[cause]

    # -- the meter --------------------------------------------------------------------------------------------------

    def _shown_fits(self, cause: Cause) -> bool:
        seen = self.evidence
        if seen.shown is None or seen.reckoned is None or not isinstance(self.channel, ContinuousChannel):
            return True
        agrees = abs(seen.shown - seen.reckoned) <= max(_SHOWN_SHARE * self.channel.span, self.channel.allowed_error())
        if cause == "wrong unit or scale":
            return not agrees
        return agrees or cause in ("wrong link settings", "intermittent", "floating", "not configured", "hum")

    def _meter_fits(self, cause: Cause) -> bool:
        """The volts at the signal terminal, against what the controller sees there."""
        meter, expected = self.evidence.meter_v, self.evidence.expected
        if meter is None:
            return True
        if self.wiring == "pulses":
            return self._pulse_meter_fits(cause, meter)
        level = self.evidence.signal.level
        agrees = abs(self.held(meter) - level) <= max(_METER_SHARE * self.span, 4 * self.evidence.signal.allowed_noise)
        if cause == "chassis-ground offset":
            return not agrees
        if cause == "not configured":
            return expected is None or expected.holds(meter) or not agrees
        if cause == "floating":
            return abs(meter) <= _DEAD_SHARE * self.span
        if cause in ("wrong link settings", "intermittent", "drifting"):
            return True
        if cause == "hum":
            return abs(self.held(meter) - level) <= _LEVEL_SHARE * self.span
        if cause == "stuck":
            return agrees and abs(meter - level) <= _LEVEL_SHARE * self.span
        if cause == "swapped leads" and self.wiring == "bridge":
            return meter < -_METER_SHARE * self.span
        if cause in ("short", "no supply", "open lead") and self.wiring == "bridge" and meter < -0.02 * self.span:
            return False
        return agrees

    def _pulse_meter_fits(self, cause: Cause, meter: float) -> bool:
        """The mean volts of a pulse line: high at rest, low when nothing pulls it up, in between while it runs."""
        pull = next((stage for stage in self.channel.path.stages if isinstance(stage, PulsePullUp)), None)
        high = pull.supply_v if pull is not None else 5.0
        if cause in ("open lead", "no supply"):
            return meter > 0.8 * high
        if cause in ("short", "missing pull-up"):
            return meter < 0.2 * high
        runs = self.evidence.signal.level > 0.01 * self.span
        if cause in ("healthy", "not configured", "slow", "wrong unit or scale", "clipped", "drifting") or (
            cause == "stuck" and runs
        ):
            return 0.15 * high < meter < 0.85 * high
        return cause != "stuck" or not 0.15 * high < meter < 0.85 * high

    def _supply_fits(self, cause: Cause) -> bool:
        volts = self.evidence.supply_v
        if volts is None or self.wiring not in SUPPLIED:
            return True
        present = volts > 0.5 * self._supply_wanted()
        return present != (cause == "no supply")

    def _supply_wanted(self) -> float:
        pull = next((stage for stage in self.channel.path.stages if isinstance(stage, PullUp)), None)
        if pull is not None:
            return pull.supply_v
        return self.channel.transducer.supply_v if isinstance(self.channel, ContinuousChannel) else 24.0

    def _leads_fit(self, cause: Cause) -> bool:
        ohm = self.evidence.leads_ohm
        if ohm is None:
            return True
        if cause == "open lead":
            return ohm > OPEN_OHM
        if cause == "short":
            return ohm < _SHORT_OHM
        if cause in ("floating", "intermittent"):
            return True
        closed = isinstance(self.channel, TwoStateChannel) or self.wiring == "millivolts"
        return ohm <= OPEN_OHM and (closed or ohm >= _SHORT_OHM)

    # -- further looks ----------------------------------------------------------------------------------------------

    def _other_fits(self, cause: Cause) -> bool:
        """The level in a second known state."""
        if self.evidence.other is None:
            return True
        expected, figures = self.evidence.other
        first, level = self.evidence.signal, figures.level
        if cause in ("not configured", "stuck"):
            return abs(level - first.level) <= max(3 * first.allowed_noise, 2 * self.channel.path.converter.per_count)
        if cause == "clipped":
            ceiling = first.level
            held = min(self.held(expected.pin), ceiling)
            return abs(level - held) <= max(expected.allowed, _METER_SHARE * self.span)
        if self.evidence.expected is not None and cause in ("chassis-ground offset", "wrong shunt"):
            return self._same_error(cause, self.evidence.expected, expected, level)
        if figures.texture not in _TEXTURES[cause]:
            return cause in ("hum", "floating", "intermittent", "drifting", "slow", "wrong link settings")
        if cause in ("hum", "drifting", "slow", "floating", "intermittent", "wrong link settings"):
            return True
        return self._level_fits(cause, level, expected)

    def _same_error(self, cause: Cause, one: Expected, two: Expected, level: float) -> bool:
        """An offset is the same number in both states, a wrong shunt the same factor."""
        doubt = max(one.allowed, two.allowed)
        first = self.evidence.signal.level
        if cause == "chassis-ground offset":
            return abs((level - two.pin) - (first - one.pin)) <= doubt
        at_top = self.near(first, self.end, 0.002) or self.near(level, self.end, 0.002)
        factor = first / one.pin if one.pin else 1.0
        return at_top or abs(level - factor * two.pin) <= doubt * max(factor, 1.0)

    def _burst_fits(self, cause: Cause) -> bool:
        burst = self.evidence.burst
        if burst is None:
            return True
        line = burst.line if burst.texture == "line" else None
        mains = line is not None and any(low <= line.frequency_hz <= high for low, high in _MAINS_HZ)
        if cause == "hum":
            return mains
        if cause == "floating":
            return burst.texture in ("wander", "noisy", "ramp") or (
                mains and not (self.evidence.expected is not None and self.evidence.expected.holds(burst.level))
            )
        return not mains
