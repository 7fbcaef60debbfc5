"""All that the fits of a channel rest on, as one frozen record: nothing can be used without being listed in it."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve
from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve, zero_of
from ..document.once import once_per_slice
from ..gather.points import Points, points_of
from ..gather.reading_doubts import doubts_of, half_digit_of, reference_rows, reference_standard
from ..job.job import Job
from ..path.signal_path import Path
from ..regression.doubt import Doubts
from ..regression.fitted import FitSettings, FitSpec
from ..regression.kinds import DEGREES, KINDS, ModelName
from ..regression.repeats import Stops, stop_numbers
from ..sensor.rating import Platinum, Thermistor
from ..uncertainty.coverage import Contribution
from ..units.conditions import Conditions
from ..units.electrical import SignalUnit
from ..words.errors import YardstickError
from ..words.record import Frozen, Reckoned

Array = NDArray[np.float64]
_CELSIUS = "°C"
_LEFT_OUT = ("transducer alone", "at the terminal")


class Element(Frozen):
    """A thermistor or platinum element behind a path; value = gain x temperature in °C + offset."""

    models: tuple[ModelName, ...]
    path: Path
    around: Conditions
    gain: Reckoned
    offset: Reckoned


class FitInputs(Frozen):
    """Readings in use, signals at the pin (n,) and references in `unit` (n,), and all else that a fit is made from.

    `stops` (n,) are the stops that the readings repeat; the two doubts are standard uncertainties (n,), None where one
    reading's is not known or none shall count. `two_points` are rows; `zero` is signal and value; `nominal` the
    described curve in `unit`; `assumed_rows` are readings that nobody took. For what U is made of: the rows of the
    least certain reference, half a step of the converter in `pin_unit`, half a step of the last digit typed in the same
    unit, and the channel's parts where some reading did not go through all of them (`left_out`).
    """

    unit: str
    pin_unit: SignalUnit
    signal: tuple[Reckoned, ...] = ()
    reference: tuple[Reckoned, ...] = ()
    stops: tuple[int, ...] = ()
    assumed_rows: tuple[int, ...] = ()
    reference_doubt: tuple[Reckoned, ...] | None = None
    signal_doubt: tuple[Reckoned, ...] | None = None
    settings: FitSettings = FitSettings()
    two_points: tuple[int, int] | None = None
    zero: tuple[Reckoned, Reckoned] = (0.0, 0.0)
    nominal: AnyCurve | None = None
    element: Element | None = None
    reference_rows: tuple[Contribution, ...] | None = None
    half_step: Reckoned = 0.0
    half_digit: Reckoned = 0.0
    left_out: ContinuousChannel | None = None

    @property
    def points(self) -> tuple[Array, Array]:
        """Signals in the pin's unit and references in `unit`, (n,) each."""
        return np.array(self.signal, dtype=float), np.array(self.reference, dtype=float)

    @property
    def repeats(self) -> Stops:
        """The number of the stop of each reading, (n,)."""
        return np.array(self.stops, dtype=np.int64)

    @property
    def doubts(self) -> Doubts | None:
        """What the readings are weighed by; None if all weigh the same."""
        if self.reference_doubt is None or self.signal_doubt is None:
            return None
        return Doubts(reference=np.array(self.reference_doubt), signal=np.array(self.signal_doubt))

    @property
    def specs(self) -> tuple[FitSpec, ...]:
        """The models on offer with their settings, the element's own laws last."""
        first, second = self.two_points or (None, None)
        settings, robust = self.settings, self.settings.robust
        formula = FitSpec(model="formula", formula=settings.formula, start=settings.start, robust=robust)
        laws = self.element.models if self.element is not None else ()
        return (
            FitSpec(model="two-point", first=first, second=second),
            FitSpec(model="terminal"),
            FitSpec(model="through-zero", zero=self.zero, robust=robust),
            *(FitSpec(model=model, robust=robust) for model in DEGREES),
            FitSpec(model="table"),
            FitSpec(model="pchip"),
            *([formula] if settings.formula else []),
            *(FitSpec(model=model, robust=robust) for model in laws),
        )

    def of_model(self, model: ModelName) -> "FitInputs":
        """What a fit of one model is made from: what it does not look at is left at its default."""
        if model == "nominal":
            return FitInputs(unit=self.unit, pin_unit=self.pin_unit, nominal=self.nominal)
        is_law = self.element is not None and model in self.element.models
        through = KINDS[model].through_points
        robust = self.settings.robust and not through
        formula = self.settings.with_(weigh="own uncertainty", robust=robust)
        plain = FitSettings(robust=robust)
        changes: dict[str, object] = {
            "settings": formula if model == "formula" else plain,
            "two_points": self.two_points if model == "two-point" else None,
            "zero": self.zero if model == "through-zero" else (0.0, 0.0),
            "nominal": None,
            "element": self.element if is_law else None,
        }
        if through:
            changes |= {"reference_doubt": None, "signal_doubt": None}
        return self.with_(**changes)


@once_per_slice
def fit_inputs(job: Job, channel: ContinuousChannel) -> FitInputs:
    """What the fits of a channel are made from now, in its unit."""
    points = points_of(job, channel)
    known = [reference_standard(job, channel, row) for row in points.rows]
    doubts = None if channel.fit_settings.weigh == "all the same" else doubts_of(channel, points.rows, known)
    return FitInputs(
        unit=channel.unit,
        pin_unit=channel.path.pin_unit,
        signal=tuple(points.signal.tolist()),
        reference=tuple(points.reference.tolist()),
        stops=tuple(repeats_of(channel, points).tolist()),
        assumed_rows=tuple(n for n, row in enumerate(points.rows) if row.reading.origin == "assumed"),
        reference_doubt=_column(None if doubts is None else doubts.reference),
        signal_doubt=_column(None if doubts is None else doubts.signal),
        settings=channel.fit_settings.with_(weigh="own uncertainty"),  # which the doubts say already
        two_points=_rows_of(channel, points),
        zero=zero_of(channel),
        nominal=nominal_curve(channel),
        element=_element(channel),
        reference_rows=_reference_rows(job, channel, points, known),
        half_step=channel.path.converter.resolution / 2,
        half_digit=half_digit_of(channel, points.rows),
        left_out=channel.bare if any(row.reading.stimulated in _LEFT_OUT for row in points.rows) else None,
    )


def inputs_in_unit(job: Job, channel: ContinuousChannel, unit: str) -> FitInputs:
    """The same with the channel worked in another unit: that in which a curve was chosen. Raises: UnitMismatch."""
    return fit_inputs(job, channel if unit == channel.unit else channel.with_(unit=unit))


def repeats_of(channel: ContinuousChannel, points: Points) -> Stops:
    """The stop of each reading in use, (n,): by its set value, else by what the reference can tell apart."""
    readings = [row.reading for row in points.rows]
    set_values = [float("nan") if one.set_value is None else one.set_value for one in readings]
    spreads = [
        0.0 if one.reference_spread is None else channel.step_in_unit(one.reference_spread, one.reference_unit)
        for one in readings
    ]
    return stop_numbers(points.reference, np.array(spreads, dtype=float), np.array(set_values, dtype=float))


def _column(numbers: Array | None) -> tuple[float, ...] | None:
    return None if numbers is None else tuple(numbers.tolist())


def _rows_of(channel: ContinuousChannel, points: Points) -> tuple[int, int] | None:
    if channel.two_points is None:
        return None
    first, second = (points.row_of(reading) for reading in channel.two_points)
    return None if first is None or second is None else (first, second)


def _element(channel: ContinuousChannel) -> Element | None:
    rating = channel.transducer.rating
    if not isinstance(rating, Thermistor | Platinum):
        return None
    try:
        gain, offset = channel.affine(_CELSIUS, channel.unit)
    except YardstickError:
        return None
    models: tuple[ModelName, ...] = ("steinhart-hart", "beta") if isinstance(rating, Thermistor) else ("platinum",)
    return Element(models=models, path=channel.path.bare, around=channel.around, gain=gain, offset=offset)


def _reference_rows(
    job: Job, channel: ContinuousChannel, points: Points, known: Sequence[float | None]
) -> tuple[Contribution, ...] | None:
    """The rows of the least certain reference that was read; None if that of one reading is not known."""
    standards = [one for one in known if one is not None]
    if not standards or len(standards) < len(known):
        return None
    return reference_rows(job, channel, points.rows[standards.index(max(standards))])
