"""Generic transducers to start a channel from: each entry is a copy that can be edited, and belongs to no maker."""

from typing import Any, NamedTuple

from ..document.channel import ContinuousChannel
from ..job.channels import new_continuous
from ..sensor.rating import (
    Platinum,
    Pulses,
    RatedTable,
    Rating,
    Root,
    Sensitivity,
    Thermistor,
    Thermocouple,
    Turns,
    TwoPoints,
    Zirconia,
)
from ..sensor.transducer import OUTPUT_UNITS, OutputKind, Transducer
from ..units.quantity import Quantity
from ..words.record import InvalidRecord
from .edits import usual_path


class Starter(NamedTuple):
    """A kind of transducer: its group and title, and the transducer it starts with."""

    group: str
    title: str
    tag: str
    transducer: Transducer

    def channel(self, channel_id: str, device: str, tag: str) -> ContinuousChannel:
        """A channel of this kind, with the path usual for it."""
        started = new_continuous(channel_id, device, tag)
        path = usual_path(self.transducer, started.path.converter)
        if path.source != OUTPUT_UNITS[self.transducer.output]:
            raise InvalidRecord(f"{self.title} has no usual path.")
        return started.with_(transducer=self.transducer, unit=self.transducer.unit, path=path)


def _part(
    quantity: Quantity, unit: str, ends: tuple[float, float], output: OutputKind, rating: Rating, **more: Any
) -> Transducer:
    return Transducer(
        quantity=quantity, unit=unit, range_low=ends[0], range_high=ends[1], output=output, rating=rating,
        source="assumed", **more,
    )  # fmt: skip


def _pair(ends: tuple[float, float], *signals: float) -> TwoPoints:
    return TwoPoints(signals=(signals[0], signals[1]), values=ends)


_LOOP = {"supply_v": 24.0, "supply_least_v": 12.0, "signal_low": 3.6, "signal_high": 21.0}


def _loop(quantity: Quantity, unit: str, low: float, high: float) -> Transducer:
    return _part(quantity, unit, (low, high), "current loop", _pair((low, high), 4.0, 20.0), **_LOOP)


def _ratiometric(quantity: Quantity, unit: str, low: float, high: float) -> Transducer:
    rating = _pair((low, high), 0.5, 4.5)
    return _part(quantity, unit, (low, high), "ratiometric voltage", rating, signal_low=0.25, signal_high=4.75)


def _element(rating: Rating, low: float, high: float, output: OutputKind) -> Transducer:
    matters = output == "millivolts"
    return _part("temperature", "°C", (low, high), output, rating, polarity_matters=matters)


_OXYGEN_ROWS = RatedTable(signals=(0.0, 1.0, 2.0, 3.0, 4.0, 5.0), values=(0.0, 2.5, 5.8, 9.9, 14.9, 21.0))

ENTRIES: tuple[Starter, ...] = (
    Starter("Pressure", "Transmitter, 4 to 20 mA", "PT", _loop("gauge pressure", "kPa", 0, 1000)),
    Starter("Pressure", "Ratiometric, 0.5 to 4.5 V", "PT", _ratiometric("gauge pressure", "kPa", 0, 1000)),
    Starter("Pressure", "Absolute, 4 to 20 mA", "PT", _loop("absolute pressure", "kPa(a)", 0, 200)),
    Starter("Pressure", "Differential, 4 to 20 mA", "PDT", _loop("differential pressure", "Pa", -250, 250)),
    Starter("Temperature", "Pt100", "TE", _element(Platinum(), -50, 250, "resistance")),
    Starter("Temperature", "Pt1000", "TE", _element(Platinum(r0_ohm=1000.0), -50, 250, "resistance")),
    Starter("Temperature", "Thermistor, 10 kΩ at 25 °C", "TE", _element(Thermistor(), -20, 120, "resistance")),
    Starter("Temperature", "Thermocouple, type K", "TT", _element(Thermocouple(), 0, 1200, "millivolts")),
    Starter("Temperature", "Thermocouple, type N", "TT", _element(Thermocouple(letter="N"), 0, 1200, "millivolts")),
    Starter("Temperature", "Thermocouple, type S", "TT", _element(Thermocouple(letter="S"), 0, 1500, "millivolts")),
    Starter("Temperature", "Transmitter, 4 to 20 mA", "TT", _loop("temperature", "°C", 0, 400)),
    Starter(
        "Load", "Load cell, 2 mV/V", "WT",
        _part("force or mass", "kg", (0, 1000), "bridge", Sensitivity(), supply_v=5.0),
    ),
    Starter("Load", "Amplified, 0 to 10 V", "WT",
          _part("force or mass", "kg", (0, 1000), "voltage", _pair((0, 1000), 0, 10), supply_v=24.0)),
    Starter("Current", "Split core, 0 to 5 V", "IT",
          _part("electric current", "A", (0, 50), "voltage", _pair((0, 50), 0, 5),
                responds_to="true root-mean-square")),
    Starter("Current", "Both ways, zero at 2.5 V", "IT",
          _part("electric current", "A", (-50, 50), "ratiometric voltage", _pair((-50, 50), 0.5, 4.5))),
    Starter("Current", "Current transformer on a burden", "IT",
          _part("electric current", "A", (0, 50), "alternating current", Turns(primary_a=50.0, secondary_ma=20.0))),
    Starter("Current", "Shunt, 60 mV", "IT",
          _part("electric current", "A", (0, 100), "millivolts", _pair((0, 100), 0, 60))),
    Starter("Oxygen", "Probe controller, 0 to 5 V, bent", "AT",
          _part("oxygen", "% O2", (0, 21), "voltage", _OXYGEN_ROWS)),
    Starter("Oxygen", "Probe controller, 4 to 20 mA", "AT", _loop("oxygen", "% O2", 0, 21)),
    Starter("Oxygen", "Zirconia cell", "AT", _part("oxygen", "% O2", (0.1, 20.9), "millivolts", Zirconia())),
    Starter("Flow", "Turbine, open collector", "FT",
          _part("flow", "m³/h", (0, 100), "frequency", Pulses(pulses=10_000.0, per="m³"), open_collector=True,
                supply_v=12.0)),
    Starter("Flow", "Differential pressure, 4 to 20 mA", "FT",
          _part("flow", "m³/h", (0, 100), "current loop", Root(full=100.0), **_LOOP)),
    Starter("Other", "Duty cycle, 10 to 90 %", "ZT",
          _part("other", "%", (0, 100), "duty cycle", _pair((0, 100), 10, 90), supply_v=12.0)),
    Starter("Other", "Humidity, 0 to 1 V", "MT", _part("humidity", "% RH", (0, 100), "voltage", _pair((0, 100), 0, 1))),
    Starter("Other", "Level transmitter, 4 to 20 mA", "LT", _loop("level", "mm", 0, 3000)),
)  # fmt: skip


def groups() -> dict[str, list[Starter]]:
    """The entries by group, in their order."""
    found: dict[str, list[Starter]] = {}
    for entry in ENTRIES:
        found.setdefault(entry.group, []).append(entry)
    return found
