"""What a mistake is: a way in which plant or controller differ from the description, and what is then shown.

Its error curve follows from the channel's own description: where the plant differs, the signal at the pin is reckoned
through the path with that part changed and read by the numbers in force; where the numbers differ, the sound signal is
read by other ones. What has one unknown (a resistor, a voltage) leaves it free between limits.
"""

from collections.abc import Callable, Iterator
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...curves import AnyCurve, Curve
from ...document.channel import ContinuousChannel
from ...path.signal_path import Path
from ...stages.chain import Varied, backwards, forwards

Array = NDArray[np.float64]
Where = Literal["describe", "wire", "pack"]


class CheckPlace(NamedTuple):
    """Where checks are: true values (n,) in the channel's unit, with the sound signals there and what is then shown."""

    values: Array
    output: Array  # of the transducer, in its unit
    pin: Array  # in the pin's unit
    sound: Array  # shown by the numbers in force, in the channel's unit


class MistakeCase(NamedTuple):
    """A channel as described, the true curve of its pin, what the controller's numbers make of the pin, and others'.

    `is_measured` says that the curve comes from readings of this very channel: then the tolerances of its parts are in
    it already. `others` are the curves of channels with the same kind of pin, by tag.
    """

    channel: ContinuousChannel
    curve: AnyCurve
    shows: AnyCurve
    is_measured: bool = False
    others: tuple[tuple[str, Curve], ...] = ()

    def at(self, values: Array) -> CheckPlace:
        """Checks at true values (n,) in the channel's unit. Raises: OutOfRange, NotMonotonic as the curve does."""
        pin = np.asarray(self.curve.signal(values))
        around = self.channel.around
        return CheckPlace(values, self.channel.path.output(pin, around), pin, self.read(pin))

    def read(self, pin: Array) -> Array:
        """What the numbers in force show for signals at the pin, held to what is converted; in the channel's unit.

        Shape kept.
        """
        return np.asarray(self.shows.value(self.held(pin)))

    def held(self, pin: Array) -> Array:
        """Signals at the pin as far as the converter reaches, shape kept, in the pin's unit."""
        converter = self.channel.path.converter
        return np.clip(pin, converter.start, converter.end)

    def through(self, output: Array, varied: Varied | None = None, path: Path | None = None) -> Array:
        """What is shown for outputs of the transducer, in its unit, through a path with other parts; shape kept."""
        return self.read((path or self.channel.path).pin(output, self.channel.around, varied or {}))

    def added(self, place: CheckPlace, stage: int, amount: float) -> Array:
        """What is shown where an amount is added to what enters the n-th stage, in its unit; shape (n,)."""
        path, around = self.channel.path, self.channel.around
        stages, loads = path.supplied[stage:], path.loads[stage:]
        entering = backwards(stages, loads, place.pin, around)
        return self.read(forwards(stages, loads, entering + amount, around))


class Guess(NamedTuple):
    """One form of a mistake: what is shown at a place by it, given its unknown, in the channel's unit.

    `between` are the limits of the unknown, None where there is none and `value` says which it is; `is_log` says that
    it may lie in any of several decades. `blur` is a standard
    deviation that the mistake itself adds, in the channel's unit; `steps` that of numbers which are all it can show.
    """

    says: str
    shown: Callable[[CheckPlace, float], Array]
    between: tuple[float, float] | None = None
    value: float | str | None = None
    unit: str = ""
    is_log: bool = False
    blur: float = 0.0
    steps: float = 0.0


class Mistake(NamedTuple):
    """A known mistake: its name, its unknown's, the step where it is set right, and its forms for a channel."""

    name: str
    parameter: str
    where: Where
    guesses: Callable[[MistakeCase], Iterator[Guess]]
