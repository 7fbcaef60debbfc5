"""What was seen of one channel, with what its wiring makes of it: what the table of causes is held against."""

from collections.abc import Iterable

from ..document.channel import ContinuousChannel, WiredChannel
from ..job.nodes import range_pins
from ..path.converter import Converter
from ..stages import ColdJunction, PullUp, PulsePullUp
from ..standards import thermocouples
from .evidence import Evidence
from .expected import Expected
from .inputs import LookInputs
from .wiring import Wiring, wiring_of

_LEVEL_SHARE = 0.02  # of the pin's span: how near a level must be to that of a break
_METER_SHARE = 0.006  # of the pin's span: how near a meter and the controller should be
_CONTACT_SUPPLY_V = 24.0
_PULSES_HIGH_V = 5.0


class Case:
    """One channel and the evidence of it. Levels are in the pin's unit."""

    def __init__(self, inputs: LookInputs, evidence: Evidence) -> None:
        self.channel: WiredChannel = inputs.channel
        self.evidence = evidence
        self.wiring: Wiring = wiring_of(inputs.channel)
        self.breaks = dict(inputs.breaks)

    @property
    def converter(self) -> Converter:
        """What the signal is read by."""
        return self.channel.path.converter

    @property
    def span(self) -> float:
        """Of the pin."""
        return self.converter.end - self.converter.start

    # -- levels -----------------------------------------------------------------------------------------------------

    @property
    def level(self) -> float:
        """That was seen."""
        return self.evidence.signal.level

    def held(self, pin: float) -> float:
        """A signal as the converter can see it."""
        return min(max(pin, self.converter.start), self.converter.end)

    def near(self, level: float, pin: float, share: float = _LEVEL_SHARE) -> bool:
        """Whether a level is that of a break, as far as the converter sees it."""
        return abs(level - self.held(pin)) <= max(share * self.span, 3 * self.converter.per_count)

    def is_at_start(self, level: float, share: float) -> bool:
        """Whether a level is the lowest there is."""
        return self.near(level, self.converter.start, share)

    def is_at_end(self, level: float, share: float) -> bool:
        """Whether a level is the highest there is."""
        return self.near(level, self.converter.end, share)

    def is_in_range(self, level: float) -> bool:
        """Whether a level lies within the working range; so does any where that is not known."""
        ends = self._range_ends()
        slack = _LEVEL_SHARE * self.span / 2
        return ends is None or min(ends) - slack <= level <= max(ends) + slack

    @property
    def falls(self) -> bool:
        """Whether the signal falls where the quantity rises."""
        ends = self._range_ends()
        return ends is not None and ends[1] < ends[0]

    def _range_ends(self) -> tuple[float, float] | None:
        return range_pins(self.channel) if isinstance(self.channel, ContinuousChannel) else None

    def break_levels(self, names: Iterable[str]) -> list[float]:
        """The levels that breaks of some names make; a loose end is read as the lowest there is."""
        pins = [self.breaks[name] for name in names if name in self.breaks]
        return [self.converter.start if pin is None else pin for pin in pins]

    def swapped_level(self, expected: Expected | None) -> float:
        """What swapped leads make of the signal that is expected."""
        channel = self.channel
        if self.wiring == "loop" or expected is None or not isinstance(channel, ContinuousChannel):
            return float(channel.path.pin(0.0))
        output = float(channel.path.output(expected.pin, channel.around))
        mirrored = 2 * self._terminal_mv() - output if self.wiring == "millivolts" else -output
        return float(channel.path.pin(mirrored, channel.around))

    def _terminal_mv(self) -> float:
        """The emf that the terminal's own warmth stands for."""
        junction = next((stage for stage in self.channel.path.stages if isinstance(stage, ColdJunction)), None)
        return 0.0 if junction is None else float(thermocouples.emf_mv(junction.letter, junction.terminal_c))

    # -- meters -----------------------------------------------------------------------------------------------------

    @property
    def meter(self) -> float:
        """Volts at the signal terminal."""
        assert self.evidence.meter_v is not None  # asked for where it was measured
        return self.evidence.meter_v

    @property
    def meter_agrees(self) -> bool:
        """Whether a meter at the terminal reads what the controller does."""
        doubt = max(_METER_SHARE * self.span, 4 * self.evidence.signal.allowed_noise)
        return abs(self.held(self.meter) - self.level) <= doubt

    @property
    def pulses_high_v(self) -> float:
        """What a pulse line rests at."""
        pull = next((stage for stage in self.channel.path.stages if isinstance(stage, PulsePullUp)), None)
        return pull.supply_v if pull is not None else _PULSES_HIGH_V

    @property
    def supply_wanted_v(self) -> float:
        """What should be at the supply terminal."""
        pull = next((stage for stage in self.channel.path.stages if isinstance(stage, PullUp)), None)
        if pull is not None:
            return pull.supply_v
        return self.channel.transducer.supply_v if isinstance(self.channel, ContinuousChannel) else _CONTACT_SUPPLY_V
