"""Mistakes about the sensor: numbers made for another one than is fitted, or another fitted than is described."""

from collections.abc import Iterator
from typing import NamedTuple, get_args

import numpy as np

from ...curves import Line
from ...sensor.rating import Platinum, Pulses, Rating, Root, Sensitivity, Sheet, Thermistor, Thermocouple, Turns
from ...standards import platinum, thermocouples
from ...units.conversion import affine
from ...words.numerals import significant
from .base import Array, CheckPlace, Guess, Mistake, MistakeCase

_ICE_K = 273.15
_LIVE_SHARE = 0.2  # 4 of 20, 1 of 5
_ALPHAS = (3.65e-3, 4.05e-3)
_BETAS = (0.85, 1.15)
_TIMES = (0.2, 5.0)
_ZERO = 1e-9


def _letters(case: MistakeCase) -> Iterator[Guess]:
    rating = case.channel.transducer.rating
    if not isinstance(rating, Thermocouple):
        return
    for letter in get_args(thermocouples.Letter):
        if letter != rating.letter:
            yield _letter(case, letter, rating.letter)


def _letter(case: MistakeCase, letter: thermocouples.Letter, wired: thermocouples.Letter) -> Guess:
    says = f"read as type {letter}, wired as type {wired}"
    return Guess(says, lambda place, _found: _as_type(case, place, letter), value=letter)


def _as_type(case: MistakeCase, place: CheckPlace, letter: thermocouples.Letter) -> Array:
    """The temperature that another type has at the emfs that arrive, in the channel's unit, shape (n,).

    Beyond what that type can tell it stays at the last it tells.
    """
    gain, offset = affine("°C", case.channel.transducer.unit or "°C")
    least, most = thermocouples.emf_mv(letter, np.array(thermocouples.one_to_one_c(letter)))
    read = gain * thermocouples.temperature_c(letter, np.clip(place.output, least, most)) + offset
    return np.asarray(case.channel.in_unit(read.tolist(), case.channel.transducer.unit))


def _elements(case: MistakeCase) -> Iterator[Guess]:
    """Another element: its temperature coefficient, or its beta, left free."""
    rating = case.channel.transducer.rating
    if isinstance(rating, Platinum):
        r0 = rating.r0_ohm
        standard = platinum.A + 100 * platinum.B
        yield Guess(
            "per K is the element's mean coefficient from 0 to 100 °C",
            lambda place, found: case.through(r0 * (1 + (place.output / r0 - 1) * found / standard)), _ALPHAS,
            unit="1/K",
        )  # fmt: skip
    if isinstance(rating, Thermistor):
        yield _beta(case, rating)


def _beta(case: MistakeCase, rating: Thermistor) -> Guess:
    beta = 1 / rating.terms.b if rating.given_by == "beta" else _mean_beta(rating)

    def shown(place: CheckPlace, found: float) -> Array:
        return case.through(place.output * np.exp((found - beta) * _inverse_from(case, place, rating)))

    says = f"is the element's beta, for {significant(beta, 4)} K"
    return Guess(says, shown, (beta * _BETAS[0], beta * _BETAS[1]), unit="K")


def _mean_beta(rating: Thermistor) -> float:
    """Beta between 25 and 85 °C, in K."""
    ohms = rating.curve(Sheet(0.0, 100.0, "°C", "Ω")).signal(np.array([25.0, 85.0]))
    return float(np.log(ohms[0] / ohms[1]) / (1 / (25 + _ICE_K) - 1 / (85 + _ICE_K)))


def _inverse_from(case: MistakeCase, place: CheckPlace, rating: Thermistor) -> Array:
    """1/T less 1/T0 of the true temperatures, in 1/K, shape (n,)."""
    kelvin = case.channel.converted(place.values, case.channel.unit, "°C") + _ICE_K
    return np.asarray(1 / kelvin - 1 / (rating.at_c + _ICE_K))


class _Size(NamedTuple):
    """The number by which models of a series differ; the output less its zero rises with it, or falls."""

    number: float
    unit: str
    says: str
    zero: float = 0.0
    falls: bool = False

    def share(self, found: float) -> float:
        """The output of a model of another number, as a share of this one's."""
        return self.number / found if self.falls else found / self.number


def _size_of(rating: Rating) -> _Size | None:
    """What the plate of a sensor states; None where models differ by their upper range value."""
    if isinstance(rating, Sensitivity):
        return _Size(rating.mv_per_v, "mV/V", "sensitivity", rating.zero_mv_per_v)
    if isinstance(rating, Pulses):
        return _Size(rating.pulses, f"pulses per {rating.per}" if rating.per else "Hz per unit", "pulse number")
    if isinstance(rating, Turns):
        return _Size(rating.primary_a, "A", "primary current", falls=True)
    return None


def _models(case: MistakeCase) -> Iterator[Guess]:
    """A straight sensor of another size: by the number of its plate, else its upper range value."""
    part = case.channel.transducer
    if not isinstance(part.rated(), Line):
        return
    low, high = case.channel.range
    size = _size_of(part.rating)
    if size is not None:
        yield Guess(
            f"is the fitted one's {size.says}, for {significant(size.number)} {size.unit}",
            lambda place, found: case.through(size.zero + (place.output - size.zero) * size.share(found)),
            (size.number * _TIMES[0], size.number * _TIMES[1]), unit=size.unit,
        )  # fmt: skip
        return
    yield Guess(
        f"is the upper range value of the fitted one, for {significant(high)} {case.channel.unit}",
        lambda place, found: low + (place.sound - low) * (high - low) / (found - low),
        (low + (high - low) * _TIMES[0], low + (high - low) * _TIMES[1]), unit=case.channel.unit,
    )  # fmt: skip


def _live_zeros(case: MistakeCase) -> Iterator[Guess]:
    """A live zero that is not reckoned with, or one that is where there is none."""
    part = case.channel.transducer
    line = part.rated()
    if not isinstance(line, Line) or part.output_unit not in ("V", "mA"):
        return
    low, high = case.channel.range
    sheet = (part.range_low, part.range_high)
    first, top = (float(one) for one in line.signal(np.array(sheet)))
    if top <= 0:
        return
    if first > _ZERO * top:
        yield Guess(
            f"0 to {significant(top)} {part.output_unit} taken for {significant(first)} to {significant(top)}",
            lambda place, _found: low + (high - low) * place.output / top, value=0.0, unit=part.output_unit,
        )  # fmt: skip
    elif abs(first) <= _ZERO * top:
        start = _LIVE_SHARE * top
        yield Guess(
            f"{significant(start)} to {significant(top)} {part.output_unit} taken for 0 to {significant(top)}",
            lambda place, _found: low + (high - low) * (place.output - start) / (top - start), value=start,
            unit=part.output_unit,
        )  # fmt: skip


def _roots(case: MistakeCase) -> Iterator[Guess]:
    if case.channel.transducer.quantity != "flow" and not isinstance(case.channel.transducer.rating, Root):
        return
    low, high = case.channel.range

    def share(place: CheckPlace) -> Array:
        return np.clip((place.sound - low) / (high - low), 0, None)

    yield Guess("not taken", lambda place, _found: low + (high - low) * share(place) ** 2, value="not taken")
    yield Guess("taken twice", lambda place, _found: low + (high - low) * np.sqrt(share(place)), value="taken twice")


def _ends(case: MistakeCase) -> Iterator[Guess]:
    low, high = case.channel.range
    yield Guess("the lower end shown at the upper", lambda place, _found: low + high - place.sound)


SENSOR: tuple[Mistake, ...] = (
    Mistake("another thermocouple type", "type", "describe", _letters),
    Mistake("another element", "coefficient", "describe", _elements),
    Mistake("another model", "size", "describe", _models),
    Mistake("live zero", "lower signal", "describe", _live_zeros),
    Mistake("square root", "root", "describe", _roots),
    Mistake("swapped ends", "", "describe", _ends),
)
