"""Mistakes of the plant: the wiring, a part of it, a voltage, that is not as described."""

from collections.abc import Callable, Iterator

import numpy as np

from ...path.signal_path import Path
from ...stages import Amplifier, ColdJunction, Excitation, PullUp
from ...standards import thermocouples
from ...words.numerals import significant
from .base import Array, CheckPlace, Guess, Mistake, MistakeCase

_FAR = (0.4, 2.5)  # times what is described
_SUPPLY = (0.7, 1.3)
_OFFSET_SHARE = 0.2  # of the converter's span
_TERMINALS_C = (1.0, 60.0)
_LEAD_OHM = (0.0, 50.0)
_LOADS_OHM = (1e3, 1e7)
_FELT = 1e-3  # of the signal: a load that takes less is no load
_GAIN_CODES = (0.1, 0.125, 0.2, 0.25, 0.4, 0.5, 2.0, 2.5, 4.0, 5.0, 8.0, 10.0)


def _resistors(case: MistakeCase) -> Iterator[Guess]:
    """Every resistor of the path on its own, and the stated factor of a divider where another was measured."""
    for n, stage in enumerate(case.channel.path.supplied):
        for part in stage.parts(case.channel.around):
            if part.unit == "Ω" and part.value > 0 and stage.kind != "leads":
                described = f"{part.says} of {significant(part.value)} Ω"
                yield _varied(case, n, part.name, described, part.value, _FAR, "Ω")
            if part.name == "measured_factor":
                yield _varied(case, n, part.name, "a divider's factor", part.value, _FAR, "")


def _varied(
    case: MistakeCase, stage: int, part: str, says: str, value: float, times: tuple[float, float], unit: str
) -> Guess:
    """A part of a stage that is another than described."""

    def shown(place: CheckPlace, found: float) -> Array:
        return case.through(place.output, {stage: {part: found}})

    return Guess(f"in place of {says}", shown, (value * times[0], value * times[1]), unit=unit)


def _supplies(case: MistakeCase) -> Iterator[Guess]:
    """A voltage that feeds the sensor, where the converter's reference does not follow it."""
    channel = case.channel
    if channel.path.converter.shares_supply:
        return
    for n, stage in enumerate(channel.path.supplied):
        for part in stage.parts(channel.around):
            if isinstance(stage, PullUp | Excitation) and part.unit == "V":
                yield _varied(
                    case, n, part.name, f"{part.says} of {significant(part.value)} V", part.value, _SUPPLY, "V"
                )
    if channel.transducer.is_ratiometric:
        volts = channel.around.supply_v or channel.transducer.supply_v
        yield Guess(
            f"in place of a supply of {significant(volts)} V",
            lambda place, found: case.through(place.output * (found / volts)),
            (volts * _SUPPLY[0], volts * _SUPPLY[1]), unit="V",
        )  # fmt: skip


def _references(case: MistakeCase) -> Iterator[Guess]:
    """The converter's own reference, where it is a voltage that the sensor does not share."""
    converter = case.channel.path.converter
    if converter.unit != "V" or converter.shares_supply:
        return
    volts = converter.reference_measured_v or converter.reference_v
    yield Guess(
        f"in place of {significant(volts)} V",
        lambda place, found: case.read(place.pin * (volts / found)),
        (volts * _SUPPLY[0], volts * _SUPPLY[1]), unit="V",
    )  # fmt: skip


def _grounds(case: MistakeCase) -> Iterator[Guess]:
    converter = case.channel.path.converter
    if converter.unit != "V":
        return
    most = _OFFSET_SHARE * (converter.end - converter.start)
    yield Guess("on the signal at the pin", lambda place, found: case.read(place.pin + found), (-most, most), unit="V")


def _leads(case: MistakeCase) -> Iterator[Guess]:
    if case.channel.path.source != "Ω" or case.channel.transducer.rating.kind == "thermistor":
        return
    yield Guess(
        "of the leads read with the element", lambda place, found: case.through(place.output + found), _LEAD_OHM,
        unit="Ω",
    )  # fmt: skip


def _junctions(case: MistakeCase) -> Iterator[Guess]:
    """What the terminals are missing, or what is added back twice, by how warm they are."""
    for n, stage in enumerate(case.channel.path.stages):
        if isinstance(stage, ColdJunction):
            for sign, says in ((-1.0, "nothing is added back for them"), (1.0, "they are added back twice")):
                yield Guess(
                    f"of the terminals, and {says}", _junction(case, n, stage.letter, sign), _TERMINALS_C, unit="°C"
                )


def _junction(
    case: MistakeCase, stage: int, letter: thermocouples.Letter, sign: float
) -> Callable[[CheckPlace, float], Array]:
    def shown(place: CheckPlace, found: float) -> Array:
        return case.added(place, stage, sign * float(thermocouples.emf_mv(letter, found)))

    return shown


def _loads(case: MistakeCase) -> Iterator[Guess]:
    path = case.channel.path

    def loaded(ohm: float) -> Path:
        return path.with_(converter=path.converter.with_(input_ohm=ohm))

    middle = np.array([float(np.mean(path.output(np.array(case.curve.domain), case.channel.around)))])
    sound = float(path.pin(middle, case.channel.around)[0])
    if abs(float(loaded(_LOADS_OHM[0]).pin(middle, case.channel.around)[0]) - sound) <= _FELT * abs(sound):
        return
    yield Guess(
        "of input resistance across the signal",
        lambda place, found: case.through(place.output, path=loaded(found)),
        _LOADS_OHM, unit="Ω", is_log=True,
    )  # fmt: skip


def _gain_codes(case: MistakeCase) -> Iterator[Guess]:
    for n, stage in enumerate(case.channel.path.stages):
        if isinstance(stage, Amplifier):
            for times in _GAIN_CODES:
                yield _gain_code(case, n, stage.volts_per_volt, times)


def _gain_code(case: MistakeCase, stage: int, gain: float, times: float) -> Guess:
    def shown(place: CheckPlace, _found: float) -> Array:
        return case.through(place.output, {stage: {"times": gain * times}})

    says = f"a gain of {significant(times * gain)} for the described {significant(gain)}"
    return Guess(says, shown, value=times * gain)


PLANT: tuple[Mistake, ...] = (
    Mistake("ground offset", "offset", "wire", _grounds),
    Mistake("another resistor", "resistance", "wire", _resistors),
    Mistake("supply off nominal", "true supply", "wire", _supplies),
    Mistake("reference off nominal", "true reference", "wire", _references),
    Mistake("lead resistance", "resistance", "wire", _leads),
    Mistake("cold junction", "temperature", "wire", _junctions),
    Mistake("input loading", "input resistance", "wire", _loads),
    Mistake("gain code", "gain", "wire", _gain_codes),
)
