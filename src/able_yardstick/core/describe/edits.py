"""Edits of a description: what rates the transducer, its output, its units, and the path usual for it."""

from typing import Any

import numpy as np

from ..curves import Curve
from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..path.converter import Converter
from ..path.signal_path import Path
from ..sensor.rating import (
    RATING_KINDS,
    Formula,
    Platinum,
    Pulses,
    RatedSlope,
    RatedTable,
    RatingBase,
    Root,
    Sensitivity,
    Thermocouple,
    Turns,
    TwoPoints,
    Unrated,
    Zirconia,
)
from ..sensor.transducer import OUTPUT_UNITS, OutputKind, Transducer
from ..stages import Amplifier, AnyStage, ColdJunction, Excitation, Leads, PullUp, PulsePullUp, Shunt
from ..units.electrical import SignalUnit
from ..units.quantity import SUGGESTED_UNITS, Quantity, check_unit
from ..words.errors import UnitMismatch, YardstickError


def with_quantity(channel: ContinuousChannel, quantity: Quantity) -> ContinuousChannel:
    """The channel measuring something else; units that no longer fit give way to the first suggested one."""
    unit = channel.transducer.unit
    measures = channel.transducer.rating.measures
    if measures and measures not in SUGGESTED_UNITS[quantity]:
        channel = channel.with_(transducer=_unrated(channel.transducer))
    try:
        unit = check_unit(unit, quantity)
    except UnitMismatch:
        unit = SUGGESTED_UNITS[quantity][0]
    changed = channel.with_(transducer=channel.transducer.with_(quantity=quantity))
    return with_sheet_unit(changed, unit)


def with_limits(channel: ContinuousChannel, changes: dict[str, Any]) -> ContinuousChannel:
    """The channel with other limits; a bridge is fed by its excitation, which is the same voltage."""
    changed = channel.with_(transducer=channel.transducer.with_(**changes))
    if "supply_v" not in changes:
        return changed
    stages = tuple(
        stage.with_(voltage_v=changes["supply_v"]) if isinstance(stage, Excitation) else stage
        for stage in channel.path.stages
    )
    return changed.with_(path=channel.path.with_(stages=stages))


def with_sheet_unit(channel: ContinuousChannel, unit: str) -> ContinuousChannel:
    """The channel whose data sheet is in another unit: what the sheet says is read anew, not converted.

    The working unit follows if it was the same, or can no longer be reached. Raises: UnitMismatch.
    """
    text = check_unit(unit, channel.transducer.quantity)
    changed = channel.with_(transducer=channel.transducer.with_(unit=text))
    if channel.unit == channel.transducer.unit:
        return changed.with_(unit=text)
    try:
        _ = changed.range
    except UnitMismatch:
        return changed.with_(unit=text)
    return changed


def with_working_unit(channel: ContinuousChannel, unit: str) -> ContinuousChannel:
    """The channel worked in another unit: everything shown is converted, nothing stored changes.

    Raises: UnitMismatch if the sheet's unit cannot be turned into it, OutOfRange if some described value cannot.
    """
    text = check_unit(unit, channel.transducer.quantity)
    changed = channel.with_(unit=text)
    tolerance = channel.tolerance.scaled(_gain(channel.unit, changed))
    _ = changed.range, nominal_curve(changed)  # refuse what cannot be converted
    return changed.with_(tolerance=tolerance)


def _gain(old_unit: str, changed: ContinuousChannel) -> float:
    gain = changed.step_in_unit(1.0, old_unit)
    return gain if gain == gain else 1.0  # the views of oxygen have no common step


def with_output(channel: ContinuousChannel, output: OutputKind) -> ContinuousChannel:
    """The channel with another output signal, and the path and converter usual for it.

    Figures rated in another unit of signal would be misread, so two points start anew and others are dropped.
    """
    unit = OUTPUT_UNITS[output]
    transducer = channel.transducer
    if unit == channel.path.source:
        return channel.with_(transducer=transducer.with_(output=output))
    rated_pair = transducer.rating.kind == "two points"
    bare = transducer.with_(output=output, rating=Unrated(), measured_zero=None, signal_low=None, signal_high=None)
    bare = bare.with_(supply_v=_USUAL_SUPPLY_V.get(unit, 5.0))
    changed = channel.with_(transducer=bare, path=usual_path(bare, channel.path.converter), landing=None)
    return with_rated_pair(changed) if rated_pair else changed


def with_rating(channel: ContinuousChannel, kind: str) -> ContinuousChannel:
    """The channel rated in another way: what is known of its line is kept where the way allows it.

    A way that is about one kind of output, or one quantity, brings them with it. Raises: what the way refuses.
    """
    rating = next(known for known in RATING_KINDS if known.model_fields["kind"].default == kind)
    if rating.measures:
        quantity = next(name for name, units in SUGGESTED_UNITS.items() if rating.measures in units)
        if quantity != channel.transducer.quantity:
            channel = with_quantity(channel.with_(transducer=_unrated(channel.transducer)), quantity)
        if channel.transducer.unit not in SUGGESTED_UNITS[quantity]:
            channel = with_sheet_unit(channel, rating.measures)
    if rating.gives is not None and rating.gives != channel.transducer.output_unit:
        fitting = [name for name, unit in OUTPUT_UNITS.items() if unit == rating.gives]
        output: OutputKind = "alternating current" if rating is Turns else fitting[0]
        channel = with_output(channel.with_(transducer=_unrated(channel.transducer)), output)
    if rating is Zirconia and channel.transducer.range_low <= 0:
        channel = channel.with_(transducer=_unrated(channel.transducer).with_(range_low=0.1, range_high=20.9))
    made = _started(rating, channel)
    before = channel.transducer
    changed = channel.with_(transducer=_unrated(before).with_(rating=made))
    if kind in _PATH_FOLLOWS and channel.path.source == changed.transducer.output_unit:
        changed = changed.with_(path=usual_path(changed.transducer, channel.path.converter))
    _ = nominal_curve(changed)  # refuse what has no curve
    return changed


def with_figures(channel: ContinuousChannel, rating: RatingBase) -> ContinuousChannel:
    """The channel with other figures of the same rating; a cold junction follows the thermocouple's type.

    Raises: what the rating refuses.
    """
    changed = channel.with_(transducer=channel.transducer.with_(rating=rating))
    before = channel.transducer.rating
    if isinstance(rating, Thermocouple) and isinstance(before, Thermocouple) and rating.letter != before.letter:
        stages = tuple(
            stage.with_(letter=rating.letter) if isinstance(stage, ColdJunction) else stage
            for stage in channel.path.stages
        )
        changed = changed.with_(path=channel.path.with_(stages=stages))
    _ = nominal_curve(changed)  # refuse what has no curve
    return changed


_PATH_FOLLOWS = ("thermocouple", "platinum", "thermistor", "zirconia")


def _unrated(transducer: Transducer) -> Transducer:
    return transducer.with_(rating=Unrated(), measured_zero=None)


def _started(rating: type[RatingBase], channel: ContinuousChannel) -> RatingBase:
    """A rating of a kind to start from: the present line where it can say it, else its usual figures."""
    part = channel.transducer
    line = _line_of(part) or with_rated_pair(channel).transducer.rated()
    assert line is not None  # a rated pair has a curve
    low, high = line.domain
    at_low, at_high = (float(value) for value in line.value(np.array([low, high])))
    if rating is TwoPoints:
        return TwoPoints(signals=(low, high), values=(at_low, at_high))
    if rating is RatedTable:
        return RatedTable(signals=(low, high), values=(at_low, at_high))
    if rating is RatedSlope:
        slope = (at_high - at_low) / (high - low)
        return RatedSlope(slope=slope, offset=at_low - slope * low)
    if rating is Sensitivity:
        return Sensitivity(capacity=max(abs(part.range_low), abs(part.range_high)))
    if rating is Turns:
        return Turns(primary_a=max(abs(part.range_low), abs(part.range_high)))
    if rating is Pulses:
        return Pulses(pulses=abs((high - low) / (at_high - at_low)))
    if rating is Root:
        return Root(zero_signal=low, top_signal=high, full=max(abs(at_low), abs(at_high)))
    if rating is Formula:
        slope = (at_high - at_low) / (high - low)
        text = f"{slope:.9g} * x + {at_low - slope * low:.9g}".replace("+ -", "- ")
        return Formula(text=text, signal_low=low, signal_high=high)
    return rating()


def _line_of(transducer: Transducer) -> Curve | None:
    """The rated curve, unless what it was rated by does not fit the rest any more."""
    try:
        return transducer.rated()
    except YardstickError:
        return None


_USUAL_SUPPLY_V: dict[SignalUnit, float] = {"mA": 24.0, "Hz": 12.0, "%": 12.0}


def usual_path(transducer: Transducer, before: Converter) -> Path:
    """The path offered for a transducer: what turns its output into something a converter reads."""
    unit = transducer.output_unit
    stages = _usual_stages(transducer)
    pin_unit = stages[-1].gives if stages else unit
    high = _USUAL_TOP.get(pin_unit, 5.0)
    converter = before if before.unit == pin_unit else before.with_(unit=pin_unit, low=0.0, high=high, window_s=None)
    if unit == "counts":
        converter = converter.with_(high=float(converter.full_count), top="full count")
    return Path(source=unit, stages=stages, converter=converter)


_USUAL_TOP: dict[SignalUnit, float] = {"V": 5.0, "mV": 100.0, "mA": 20.0, "Ω": 400.0, "Hz": 1000.0, "%": 100.0}


def _usual_stages(transducer: Transducer) -> tuple[AnyStage, ...]:
    rating, unit = transducer.rating, transducer.output_unit
    if isinstance(rating, Thermocouple):
        return (ColdJunction(letter=rating.letter), Amplifier(stated_gain=100.0))
    if unit == "Ω":
        return (Leads(),) if isinstance(rating, Platinum) else (PullUp(),)
    if unit == "Hz":
        return (PulsePullUp(),) if transducer.open_collector else ()
    usual: dict[SignalUnit, tuple[AnyStage, ...]] = {
        "mA": (Shunt(),),
        "mV": (Amplifier(),),
        "mV/V": (Excitation(), Amplifier(stated_gain=400.0)),
    }
    return usual.get(unit, ())


def with_rated_pair(channel: ContinuousChannel) -> ContinuousChannel:
    """The channel rated by two points at the ends of its range, at the signals usual for its output."""
    low, high = {
        "voltage": (0.0, 5.0),
        "ratiometric voltage": (0.5, 4.5),
        "current loop": (4.0, 20.0),
        "millivolts": (0.0, 100.0),
        "bridge": (0.0, 2.0),
        "resistance": (0.0, 1000.0),
        "alternating current": (0.0, 20.0),
        "frequency": (0.0, 1000.0),
        "duty cycle": (10.0, 90.0),
        "counts": (0.0, float(channel.path.converter.full_count)),
    }[channel.transducer.output]
    transducer = channel.transducer
    rating = TwoPoints(signals=(low, high), values=(transducer.range_low, transducer.range_high))
    return channel.with_(transducer=_unrated(transducer).with_(rating=rating))
