"""Describe without a window: standard curves both ways, and constants for registers."""

from pathlib import Path
from typing import Annotated, Any

import typer

from .output import AsJson, print_json
from .quantities import in_unit


def curve(
    kind: Annotated[str, typer.Argument(help="pt100, pt500, pt1000, tc-a to tc-t, ntc.")],
    value: Annotated[str | None, typer.Option(help="A temperature, such as 100degC.")] = None,
    signal: Annotated[str | None, typer.Option(help="A signal, such as 138.5ohm or 4.096mV.")] = None,
    cold_junction: Annotated[str, typer.Option(help="Temperature of a thermocouple's terminals.")] = "0degC",
    r25: Annotated[str, typer.Option(help="A thermistor's resistance at 25 °C.")] = "10kohm",
    beta: Annotated[float, typer.Option(help="A thermistor's beta, in kelvin.")] = 3950.0,
    as_json: AsJson = False,
) -> None:
    """The other side of a standard curve: signal from temperature, or temperature from signal (all of them)."""
    from ..core.words.errors import BadTable

    if (value is None) == (signal is None):
        raise BadTable("Expected one of --value and --signal.")
    law = _law(kind, in_unit(cold_junction, "--cold-junction", "°C"), r25, beta)
    if value is not None:
        celsius = in_unit(value, "--value", "°C")
        found = {"kind": kind, "value": celsius, "signal": law.signal(celsius), "unit": law.unit, "value_unit": "°C"}
    else:
        given = in_unit(signal or "", "--signal", law.unit)
        every = law.values(given)
        found = {"kind": kind, "signal": given, "value": every[-1], "values": every, "unit": law.unit,
                 "value_unit": "°C"}  # fmt: skip
    if as_json:
        print_json(found)
    else:
        side = f"{found['signal']:.6g} {law.unit}"
        print(f"{found['value']:.6g} °C  ↔  {side}")


class _Law:
    """A standard curve both ways, in °C and in its own signal's unit."""

    def __init__(self, unit: str, signal: Any, values: Any) -> None:
        self.unit = unit
        self._signal, self._values = signal, values

    def signal(self, celsius: float) -> float:
        """The signal at a temperature."""
        return float(self._signal(celsius))

    def values(self, signal: float) -> list[float]:
        """Every temperature at a signal. Raises: OutOfRange if there is none."""
        return [float(one) for one in self._values(signal)]


def _law(kind: str, cold_c: float, r25: str, beta: float) -> _Law:
    from ..core.standards import platinum, thermistors, thermocouples
    from ..core.words.errors import BadTable

    name = kind.strip().lower()
    if name in ("pt100", "pt500", "pt1000"):
        r0 = float(name[2:])
        return _Law("Ω", lambda t: platinum.resistance_ohm(t, r0), lambda r: [platinum.temperature_c(r, r0)])
    if name == "ntc":
        terms = thermistors.SteinhartHart.from_beta(in_unit(r25, "--r25", "Ω"), 25.0, beta)
        return _Law(
            "Ω", lambda t: thermistors.resistance_ohm(terms, t), lambda r: [thermistors.temperature_c(terms, r)]
        )
    letter = next((one for one in thermocouples.LETTERS if name == f"tc-{one.lower()}"), None)
    if letter is None:
        known = "pt100, pt500, pt1000, ntc, " + ", ".join(f"tc-{one.lower()}" for one in thermocouples.LETTERS)
        raise BadTable(f"There is no curve “{kind}”. Known: {known}.")
    missing = float(thermocouples.emf_mv(letter, cold_c))

    def temperatures(emf: float) -> list[float]:
        every = list(thermocouples.temperatures_c(letter, emf + missing))
        return every or [float(thermocouples.temperature_c(letter, emf + missing))]  # which says why there is none

    return _Law("mV", lambda t: float(thermocouples.emf_mv(letter, t)) - missing, temperatures)


def constant(
    formula: Annotated[Path, typer.Argument(help="A register's formula, inputs and width as JSON.")],
    as_json: AsJson = False,
) -> None:
    """The integer for a register, in hexadecimal and in words. Exit status 1 if a bit field does not agree."""
    from pydantic import ValidationError

    from ..core.document.register_constant import RegisterConstant, reckon
    from ..core.words.errors import BadTable
    from ..core.words.record import first_complaint
    from ..files.tables import read_text

    try:
        described = RegisterConstant.model_validate_json(read_text(formula))
    except ValidationError as error:
        raise BadTable(f"{formula}: {first_complaint(error)}.") from error
    found = reckon(described)
    if as_json:
        print_json(
            {"value": found.integer, "exact": found.exact, "hex": found.hexadecimal, "words": list(found.words),
             "rounding_error": found.rounding_error, "fields": [field._asdict() for field in found.fields]}
        )  # fmt: skip
    else:
        words = " ".join(f"0x{word:04X}" for word in found.words)
        print(f"{found.integer}  {found.hexadecimal}  {words}  (exactly {found.exact:.12g})")
        for field in found.fields:
            print(("agrees  " if field.agrees else "DIFFERS ") + field.says)
    raise typer.Exit(0 if all(field.agrees for field in found.fields) else 1)
