"""From live windows to a reading: sensor and reference watched together, and taken together once they are steady."""

from datetime import date, datetime
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..document.reference import Reference
from ..document.stop_plan import Stop
from ..job.pins import pins_of
from ..journal.reading import Direction, Raw, Reading, Stimulated
from ..journal.sample import Series
from ..units.conversion import affine_gain
from ..words.errors import NotApplicable, TooFewReadings, UnitMismatch
from ..words.numerals import counted, significant
from .steady import Steadiness, SteadyRule, steadiness

Array = NDArray[np.float64]
_LEAST_SAMPLES = 3
_LEAST_SHARE = 0.6  # of the window that must have come


class WindowPair(NamedTuple):
    """The two series of a stop as they came: the sensor's as it was met, the reference's in its instrument's unit."""

    raw: Series
    reference: Series | None = None
    reference_unit: str = ""


class Watched(NamedTuple):
    """How steady the sensor is, in the channel's unit, and the reference beside it."""

    sensor: Steadiness
    reference: Steadiness | None

    @property
    def is_steady(self) -> bool:
        """Whether a reading may be taken."""
        return self.sensor.steady and (self.reference is None or self.reference.steady)

    @property
    def mean(self) -> float:
        """What the reference says, or the sensor where none is live, in the channel's unit."""
        return (self.sensor if self.reference is None else self.reference).mean

    @property
    def reason(self) -> str:
        """What is waited for; empty once both are steady."""
        parts = []
        if not self.sensor.steady:
            parts.append(f"sensor: {self.sensor.reason}")
        if self.reference is not None and not self.reference.steady:
            parts.append(f"reference: {self.reference.reason}")
        return "; ".join(parts)


def in_value(channel: ContinuousChannel, series: Series) -> Series:
    """A raw series in the channel's unit by the described curve, held to where it is defined; else at the pin."""
    pins = pins_of(channel, series)
    curve = nominal_curve(channel)
    if curve is None:
        return pins
    low, high = curve.limits
    return pins.scaled(np.asarray(curve.value(np.clip(pins.values, low, high))))


def reference_in_value(channel: ContinuousChannel, series: Series, instrument: Reference | None, unit: str) -> Series:
    """A reference's series in the channel's unit, with its certificate's corrections and its head.

    Raises: UnitMismatch if it measures something else.
    """
    values, written = series.values, unit or channel.unit
    if instrument is not None:
        own = instrument.unit or written
        values = np.array([instrument.corrected(float(value)) for value in _converted(channel, values, written, own)])
        written = own
    return series.scaled(_converted(channel, values, written, channel.unit))


def _converted(channel: ContinuousChannel, values: Array, written: str, wanted: str) -> Array:
    return channel.converted(values, written, wanted).reshape(values.shape)


class Referenced(NamedTuple):
    """A reference's word for a reading: corrected and as it was read, both in `unit`, with what is known of it."""

    value: float
    unit: str
    read: float
    instrument: str | None = None
    standard: float | None = None
    note: str = ""

    @property
    def fields(self) -> dict[str, object]:
        """The reading's fields that it fills."""
        return {
            "reference": self.value, "reference_unit": self.unit, "reference_read": self.read,
            "reference_id": self.instrument, "reference_standard": self.standard, "reference_note": self.note,
        }  # fmt: skip


def referenced(
    channel: ContinuousChannel, read: float, unit: str, instrument: Reference | None, on: date
) -> Referenced:
    """A value read off a reference in a unit, with its instrument's corrections as of a day.

    Raises: UnitMismatch if the instrument measures something else.
    """
    if instrument is None:
        return Referenced(read, unit, read)
    own = instrument.unit or unit
    in_its = float(_converted(channel, np.array([read]), unit, own)[0])
    return Referenced(
        instrument.corrected(in_its), own, in_its, instrument.id, instrument.standard_on(on),
        instrument.overdue_words(on),
    )  # fmt: skip


def watch(
    channel: ContinuousChannel, pair: WindowPair, instrument: Reference | None, rule: SteadyRule, now_s: float
) -> Watched:
    """How steady both are now; only the last window is looked at."""
    start = now_s - 1.5 * rule.window_s
    sensor = steadiness(in_value(channel, pair.raw.since(start)), rule, now_s)
    if pair.reference is None:
        return Watched(sensor, None)
    values = reference_in_value(channel, pair.reference.since(start), instrument, pair.reference_unit)
    return Watched(sensor, steadiness(values, rule, now_s))


def _step(written: str, wanted: str) -> float:
    """How many of one unit a step of the other is; 1 where the two have no common step."""
    try:
        return affine_gain(written, wanted)
    except UnitMismatch:
        return 1.0


class Circumstances(NamedTuple):
    """What a person says of a reading, beside what was measured."""

    id: str
    captured: datetime
    direction: Direction = "not stated"
    stimulated: Stimulated = "whole loop"
    orientation: str = ""
    source: str = ""
    shown: float | None = None
    shown_unit: str = ""
    typed_reference: float | None = None
    set_value: float | None = None


def reading_of(
    channel: ContinuousChannel,
    pair: WindowPair,
    instrument: Reference | None,
    window_s: tuple[float, float],
    about: Circumstances,
) -> Reading:
    """A reading from the samples of a window of monotonic time: both means, both spreads.

    Raises: TooFewReadings if the source died within the window or too little came: then only this window is lost;
    NotApplicable without a reference; UnitMismatch.
    """
    raw = _whole(pair.raw, "sensor", window_s)
    unit = pair.reference_unit or channel.unit
    if about.typed_reference is not None:
        read, spread, count = about.typed_reference, None, None
    elif pair.reference is not None:
        reference = _whole(pair.reference, "reference", window_s)
        read, spread = float(reference.values.mean()), float(reference.values.std(ddof=1))
        count = len(reference)
    else:
        raise NotApplicable("No reference is live: type what it shows.")
    said = referenced(channel, read, unit, instrument, about.captured.date())
    return Reading(
        id=about.id,
        channel=channel.id,
        captured=about.captured,
        **said.fields,
        reference_spread=spread if spread is None else abs(spread * _step(unit, said.unit)),
        reference_count=count,
        set_value=about.set_value,
        raw=Raw.from_series(raw),
        shown=about.shown,
        shown_unit=about.shown_unit if about.shown is not None else "",
        direction=about.direction,
        stimulated=about.stimulated,
        orientation=about.orientation,
        source=about.source,
        conditions=channel.conditions,
    )


def off_plan(channel: ContinuousChannel, reading: Reading, stop: Stop, at: int) -> str:
    """What is said of a reading that was taken elsewhere than at the stop gone to."""
    value = channel.in_unit(reading.reference, reading.reference_unit)[0]
    return (
        f"Kept at {significant(value, 5)} {channel.unit}, off the plan: stop {at + 1}, {significant(stop.value, 5)} "
        f"{channel.unit}, stays open."
    )


def _whole(series: Series, who: str, window_s: tuple[float, float]) -> Series:
    """The window's good samples. Raises: TooFewReadings if the link dropped within it, or too little came."""
    window = series.since(*window_s)
    if window.spoilt_by:
        raise TooFewReadings(
            f"The {who}'s window is broken, so this one is not taken: {window.spoilt_by}. Wait until it is whole, and "
            "take it again.",
            needed=_LEAST_SAMPLES,
            found=len(window.good),
        )
    good = window.good
    wanted_s = window_s[1] - window_s[0]
    if len(good) >= _LEAST_SAMPLES and good.length_s < _LEAST_SHARE * wanted_s:
        raise TooFewReadings(
            f"The {who} gave only {good.length_s:.1f} s of the {wanted_s:.1f} s that are averaged, so this one is not "
            "taken: wait until the window is filled, and take it again.",
            needed=_LEAST_SAMPLES,
            found=len(good),
        )
    if len(good) < _LEAST_SAMPLES:
        raise TooFewReadings(
            f"Only {counted(len(good), 'sample')} of the {who} came in the window: at least {_LEAST_SAMPLES} are "
            "needed. See whether its source answers.",
            needed=_LEAST_SAMPLES,
            found=len(good),
        )
    return good
