"""Mistakes of the controller's numbers: a unit, a decimal point, a limit, a count, another channel's."""

from collections.abc import Iterator
from typing import get_args

import numpy as np

from ...curves import Curve
from ...units.conditions import STANDARD_ATMOSPHERE_KPA
from ...units.conversion import parse_unit
from ...units.oxygen import Fuel, OxygenView, convert_oxygen, on_other_basis
from ...units.quantity import SUGGESTED_UNITS
from ...words.errors import YardstickError
from ...words.numerals import significant
from .base import Array, CheckPlace, Guess, Mistake, MistakeCase

_PRESSURES = ("Pa", "hPa", "kPa", "MPa", "mbar", "bar", "psi", "atm")
_ALONE = 1e-3  # two units that are closer than this are no slip
_POWERS = (-3, -2, -1, 1, 2, 3)
_COARSE = 2e-3  # of the span: steps that are finer are no truncation anybody sees
_OTHER_AFR = (5.0, 20.0)


def _units(case: MistakeCase) -> Iterator[Guess]:
    """Values shown in another unit than the one beside them, or the other way about."""
    channel = case.channel
    known = SUGGESTED_UNITS[channel.transducer.quantity]
    if "pressure" in channel.transducer.quantity:
        known = (*known, *_PRESSURES)
    found: list[tuple[float, float]] = []
    for unit in known:
        try:
            gain, offset = channel.affine(channel.unit, unit)
        except YardstickError:
            continue
        if not _is_pure(unit, offset):
            continue
        for line, says in (
            ((gain, offset), f"values in {unit} with {channel.unit} beside them"),
            ((1 / gain, -offset / gain), f"values in {channel.unit} taken for {unit}"),
        ):
            if any(np.allclose(line, one, rtol=_ALONE, atol=_ALONE) for one in [*found, (1.0, 0.0)]):
                continue
            found.append(line)
            yield _straight(says, *line, value=unit)


def _straight(says: str, gain: float, offset: float, value: float | str, unit: str = "") -> Guess:
    """What is shown is a straight line of what should be."""
    return Guess(says, lambda place, _found: gain * place.sound + offset, value=value, unit=unit)


def _is_pure(unit: str, offset: float) -> bool:
    """Whether nothing but the unit differs: gauge taken for absolute is another mistake."""
    return offset == 0.0 or parse_unit(unit).canonical.startswith(("deg", "kelvin"))


def _barometers(case: MistakeCase) -> Iterator[Guess]:
    channel = case.channel
    if channel.transducer.quantity not in ("gauge pressure", "absolute pressure"):
        return
    barometer = channel.conditions.barometer_kpa
    air = channel.step_in_unit(STANDARD_ATMOSPHERE_KPA if barometer is None else barometer, "kPa")
    yield _straight("of air pressure added where gauge pressure is meant", 1.0, air, air, channel.unit)
    yield _straight("of air pressure missing where absolute pressure is meant", 1.0, -air, air, channel.unit)


def _decimals(_case: MistakeCase) -> Iterator[Guess]:
    for power in _POWERS:
        places = f"{abs(power)} place{'s' if abs(power) > 1 else ''}"
        yield _straight(f"{places} to the {'right' if power > 0 else 'left'}", 10.0**power, 0.0, float(power))


def _oxygen(case: MistakeCase) -> Iterator[Guess]:
    channel = case.channel
    view = parse_unit(channel.unit).oxygen if channel.transducer.quantity == "oxygen" else None
    if view is None:
        return
    if view == "% O2":
        other = channel.fuel.with_(basis="wet" if channel.fuel.basis == "dry" else "dry")
        yield _basis(channel.fuel, other.basis)
        yield _basis(other, channel.fuel.basis)
    for one in get_args(OxygenView):
        if one != view:
            yield _view(view, one, channel.fuel)


def _basis(fuel: Fuel, value: str) -> Guess:
    """Percent oxygen on one basis that is said to be on the other."""
    says = f"{value} values with {'dry' if value == 'wet' else 'wet'} beside them"
    return Guess(says, lambda place, _found: on_other_basis(place.sound, fuel), value=value)


def _view(view: OxygenView, other: OxygenView, fuel: Fuel) -> Guess:
    says = f"values in {other} with {view} beside them"
    return Guess(says, lambda place, _found: convert_oxygen(place.sound, view, other, fuel), value=other)


def _fuels(case: MistakeCase) -> Iterator[Guess]:
    channel = case.channel
    if channel.transducer.quantity != "oxygen" or parse_unit(channel.unit).oxygen != "AFR":
        return
    air = channel.fuel.stoichiometric_afr
    yield Guess(
        f"is the air-fuel ratio reckoned with, for {significant(air, 4)}",
        lambda place, found: place.sound * found / air, _OTHER_AFR,
    )  # fmt: skip


def _tares(case: MistakeCase) -> Iterator[Guess]:
    if case.channel.transducer.quantity != "force or mass":
        return
    most = case.channel.span
    yield Guess("taken off all values", lambda place, found: place.sound - found, (-most, most), unit=case.channel.unit)


def _limits(case: MistakeCase) -> Iterator[Guess]:
    low, high = case.channel.range
    unit = case.channel.unit
    yield Guess(
        "is the most that is shown", lambda place, found: np.minimum(place.sound, found), (low, high), unit=unit
    )
    yield Guess(
        "is the least that is shown", lambda place, found: np.maximum(place.sound, found), (low, high), unit=unit
    )


def _whole(case: MistakeCase) -> Iterator[Guess]:
    """Values cut to whole steps: half a step is missing in the mean, and each may miss up to one."""
    span = case.channel.span
    first = int(np.ceil(np.log10(_COARSE * span)))
    for power in range(first, first + 2):
        yield _cut(10.0**power, case.channel.unit)


def _cut(step: float, unit: str) -> Guess:
    says = f"to whole steps of {significant(step)} {unit}"
    blur = step / float(np.sqrt(12))
    return Guess(says, lambda place, _found: place.sound - step / 2, value=step, unit=unit, blur=blur, steps=step)


def _counts(case: MistakeCase) -> Iterator[Guess]:
    converter = case.channel.path.converter
    other = converter.other_top()

    def shown(place: CheckPlace, _found: float) -> Array:
        times = converter.counts_at_top / other.counts_at_top
        return case.read(converter.start + (place.pin - converter.start) * times)

    yield Guess(
        f"{other.counts_at_top} taken for {converter.counts_at_top}", shown, value=float(other.counts_at_top),
        unit="counts",
    )  # fmt: skip


def _others(case: MistakeCase) -> Iterator[Guess]:
    for tag, curve in case.others:
        yield _other(tag, curve)


def _other(tag: str, curve: Curve) -> Guess:
    return Guess(
        f"those of {tag}", lambda place, _found: np.asarray(curve.value(np.clip(place.pin, *curve.limits))), value=tag
    )


NUMBERS: tuple[Mistake, ...] = (
    Mistake("unit", "unit", "pack", _units),
    Mistake("gauge for absolute", "air pressure", "describe", _barometers),
    Mistake("decimal point", "places", "pack", _decimals),
    Mistake("oxygen basis or view", "basis", "describe", _oxygen),
    Mistake("another fuel", "air-fuel ratio", "describe", _fuels),
    Mistake("tare left in", "tare", "pack", _tares),
    Mistake("old limits", "limit", "pack", _limits),
    Mistake("cut to whole numbers", "step", "pack", _whole),
    Mistake("top count", "counts at the top", "pack", _counts),
    Mistake("another channel's numbers", "channel", "pack", _others),
)
