"""What the two plots show for a channel at a step: arrays and words, no drawing."""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ....core.curves import AnyCurve
from ....core.document.channel import ContinuousChannel
from ....core.document.nominal import nominal_curve
from ....core.fit.budget import reach_of
from ....core.fit.inputs import fit_inputs
from ....core.fit.on_offer import candidate_of
from ....core.forms.cost import packing_errors
from ....core.gather.points import Points, pins_of_rows, points_of
from ....core.job.in_force import CurveInUse, believed, caption_of, curve_in_use, packed_curve
from ....core.job.job import Job
from ....core.journal.reading import Amended, Direction
from ....core.pack.inputs import pack_inputs
from ....core.pack.packed import Packed, is_packed, packed_now
from ....core.path.pin import pin_per_raw
from ....core.prove.checks import checks_of
from ....core.regression.fitted import Fitted
from ....core.regression.kinds import ModelName
from ....core.wire.error_budget import along_range
from ....core.words.errors import YardstickError
from ...steps.step import Plots
from .picture import (
    Array,
    Band,
    DrawnLine,
    MarkKind,
    Marks,
    PlotContent,
    Whiskers,
    even_range,
    grouped,
    samples,
    tolerance_band,
)

_NOTHING = 1e-3  # of the span: a scale for what is exact
_UNCERTAIN_SAMPLES = 65


class Pictured(NamedTuple):
    """The curve that is pictured: the candidate looked at, or the one in use."""

    curve: AnyCurve
    fitted: Fitted | None
    caption: str


def pictured(job: Job, channel: ContinuousChannel, plots: Plots, candidate: ModelName | None) -> Pictured | None:
    """The curve to picture at a step; None where there is none yet."""
    if plots.candidate:
        inputs = fit_inputs(job, channel)
        models: tuple[ModelName | None, ...] = (candidate, "line", "nominal")
        for model in models:
            row = candidate_of(inputs, model) if model else None
            if row is not None and row.fitted is not None:
                return Pictured(row.fitted.curve, row.fitted, caption_of(channel, row.model))
    use = curve_in_use(job, channel)
    return None if use is None else Pictured(use.curve, None, use.caption)


def curve_content(
    job: Job, channel: ContinuousChannel, plots: Plots, axis: tuple[float, float], shown: Pictured | None
) -> PlotContent:
    """The curve plot."""
    lines: list[DrawnLine] = []
    marks = _reading_marks(job, channel)
    words = ""
    if shown is not None:
        lines += _curve_lines(shown.curve, axis)
        words = shown.caption
    nominal = nominal_curve(channel)
    if nominal is not None and (shown is None or shown.curve != nominal):
        signal = samples(axis, nominal)
        lines.append(DrawnLine(signal, nominal.value(signal), "described"))
        words += "; dashed: as described"
    if plots.knots:
        marks += _knots(job, channel)
    if plots.checks:
        marks = _check_marks(job, channel)
    if not lines and not marks:
        words = "nothing described and nothing gathered yet: give two rated points, or paste readings (Ctrl+V)"
        if job.amended(channel.id, "gather"):
            words = "no curve in use yet: choose one at Fit"
    low, high = channel.range
    inside = [line.y for line in lines if line.style == "curve"] + [mark.y for mark in marks]
    values = np.concatenate([*inside, np.array([low, high])])
    reach = shown.curve.domain if shown else None
    points = points_of(job, channel)
    whiskers = _whiskers(channel, points, points.reference, None) if plots.whiskers else None
    return PlotContent(
        tuple(lines), tuple(marks), (), reach, _padded(values, 0.06), words.lstrip("; "), whiskers=whiskers
    )


def _whiskers(channel: ContinuousChannel, points: Points, y: Array, curve: AnyCurve | None) -> Whiskers | None:
    """The spread of each reading's window: of the signal across and of the reference upwards; with a curve, which the
    errors are of, both upwards. None where no reading has any.
    """
    signal, value = np.zeros(len(points.rows)), np.zeros(len(points.rows))
    for n, row in enumerate(points.rows):
        reading, raw = row.reading, row.reading.raw
        if raw is not None and raw.spread is not None:
            signal[n] = 2 * raw.spread * pin_per_raw(channel.path, raw.mean, raw.met, channel.around)
        if reading.reference_spread is not None:
            step = channel.step_in_unit(reading.reference_spread, reading.reference_unit)
            value[n] = 2 * step if np.isfinite(step) else 0.0
    if not (signal.any() or value.any()):
        return None
    if curve is None:
        return Whiskers(points.signal, y, signal, value)
    upwards = np.hypot(signal * np.abs(curve.slope(points.signal)), value)
    return Whiskers(points.signal, y, np.zeros(len(y)), upwards)


def _curve_lines(curve: AnyCurve, axis: tuple[float, float]) -> list[DrawnLine]:
    signal = samples(axis, curve)
    inside = signal[curve.within(signal)]
    lines = [DrawnLine(inside, curve.value(inside), "curve")]
    for part in (signal[signal <= curve.domain[0]], signal[signal >= curve.domain[1]]):
        if len(part) > 1:
            lines.append(DrawnLine(part, curve.value(part), "beyond"))
    return lines


def _padded(values: Array, share: float) -> tuple[float, float]:
    low, high = float(np.min(values)), float(np.max(values))
    margin = share * (high - low or 1.0)
    return low - margin, high + margin


def _kind_of(row: Amended) -> MarkKind:
    if not row.is_used:
        return "excluded"
    if row.reading.origin != "measured":
        return row.reading.origin
    kinds: dict[Direction, MarkKind] = {"up": "up", "down": "down", "not stated": "plain"}
    return kinds[row.reading.direction]


def _reading_marks(job: Job, channel: ContinuousChannel) -> list[Marks]:
    points = points_of(job, channel)
    used = zip(points.rows, points.signal.tolist(), points.reference.tolist(), strict=True)
    rows = [(_kind_of(row), pin, value) for row, pin, value in used]
    left_out = [row for row in job.amended(channel.id, "gather") if not row.is_used]
    for row, pin in zip(left_out, pins_of_rows(channel, left_out).tolist(), strict=True):
        try:
            value = channel.in_unit(row.reading.reference, row.reading.reference_unit)[0]
            rows.append((_kind_of(row), pin, value))
        except YardstickError:
            continue  # an excluded reading of something the channel no longer measures
    return grouped(rows)


def _knots(job: Job, channel: ContinuousChannel) -> list[Marks]:
    packed = _packed_if_there(job, channel)
    if packed is None:
        return []
    form = packed.form
    curve = packed_curve(form, channel)
    signals = np.array(getattr(curve, "signals", ()))
    return [Marks("knot", signals, curve.value(signals))] if len(signals) else []


def _packed_if_there(job: Job, channel: ContinuousChannel) -> Packed | None:
    """The numbers, unless they are refused or still being searched for."""
    try:
        return packed_now(job, channel) if is_packed(pack_inputs(job, channel, channel.pack_spec)) else None
    except YardstickError:
        return None


def _check_marks(job: Job, channel: ContinuousChannel) -> list[Marks]:
    rows: list[tuple[MarkKind, float, float]] = [
        ("stale" if check.stale else "left", check.pin, check.reference) for check in checks_of(job, channel)
    ]
    return grouped([row for row in rows if np.isfinite(row[1])])


# -- the error plot -------------------------------------------------------------------------------------------------


def error_content(
    job: Job, channel: ContinuousChannel, plots: Plots, axis: tuple[float, float], shown: Pictured | None
) -> PlotContent:
    """The error plot: of the curve, of packing, or of what the controller shows."""
    return _ERRORS[plots.errors](job, channel, plots, axis, shown)


def _residual_content(
    job: Job, channel: ContinuousChannel, plots: Plots, axis: tuple[float, float], shown: Pictured | None
) -> PlotContent:
    points = points_of(job, channel)
    curve = shown.curve if shown else None
    bands = tolerance_band(channel, axis, curve)
    marks: list[Marks] = []
    whiskers: Whiskers | None = None
    shaded = ""
    if curve is not None and len(points.rows):
        errors = curve.value(points.signal) - points.reference
        marks = grouped([(_kind_of(row), x, e) for row, x, e in zip(points.rows, points.signal, errors, strict=True)])
        whiskers = _whiskers(channel, points, errors, curve)
    if shown is not None and shown.fitted is not None:
        signal = samples(axis, shown.curve)
        half = shown.fitted.band(signal)
        if half is not None:
            times = _magnification(float(np.max(half[shown.curve.within(signal)])), even_range(marks, bands)[1])
            bands.append(Band(signal, -times * half, times * half, "confidence"))
            shaded = "; shaded: 95 % band of the curve"
            shaded += f", drawn {times} times as wide" if times > 1 else ""
    lines: list[DrawnLine] = []
    if plots.uncertainty and shown is not None and shown.fitted is not None:
        lines, said = _uncertainty_lines(job, channel, shown.fitted, axis)
        shaded += said
    if plots.expected:
        expected = _expected_band(channel)
        if expected is not None:
            bands.append(expected)
            shaded = "; shaded: expected before any calibration, 95 %"
    words = ("curve minus reference" if marks else "no readings to compare with yet") + shaded
    words += "; whiskers: 2 × spread" if whiskers is not None else ""
    most = [float(np.max(band.high)) for band in bands] if plots.expected else []
    if not channel.tolerance.is_stated:  # U stands for itself then, and is to be seen
        most += [float(np.max(line.y)) for line in lines if line.style in ("further", "accepted")]
    return PlotContent(
        tuple(lines),
        tuple(marks),
        tuple(bands),
        curve.domain if curve else None,
        even_range(marks, bands, *most),
        words,
        whiskers=whiskers,
    )


def _uncertainty_lines(
    job: Job, channel: ContinuousChannel, fitted: Fitted, axis: tuple[float, float]
) -> tuple[list[DrawnLine], str]:
    """What a further reading may miss by, and how much of the tolerance U leaves; without a tolerance U itself."""
    lines: list[DrawnLine] = []
    words = ""
    low, high = fitted.curve.domain
    inside = np.linspace(low, high, _UNCERTAIN_SAMPLES)
    half = fitted.prediction(inside) if fitted.dof > 0 else None
    if half is not None:
        lines += [DrawnLine(inside, sign * half, "further") for sign in (1, -1)]
        words += "; dotted: of a further reading"
    reach = reach_of(job, channel, fitted.spec.model)
    if reach is None:
        return lines, words
    pins = np.unique(np.clip(reach.pins, *axis))
    left = np.interp(pins, reach.pins, reach.expanded)
    if channel.tolerance.is_stated:
        left = np.maximum(channel.tolerance.at(fitted.curve.value(pins), channel.span) - left, 0.0)
    pieces: tuple[tuple[NDArray[np.bool_], Literal["accepted", "accepted beyond"]], ...] = (
        ((pins >= low) & (pins <= high), "accepted"),
        (pins <= low, "accepted beyond"),
        (pins >= high, "accepted beyond"),
    )
    for rows, style in pieces:
        lines += [DrawnLine(pins[rows], sign * left[rows], style) for sign in (1, -1)]
    return lines, words + ("; green: tolerance less U" if channel.tolerance.is_stated else "; green: U")


def _expected_band(channel: ContinuousChannel) -> Band | None:
    """What tolerances and accuracy alone allow, along the range; None where nothing is described."""
    curve = nominal_curve(channel)
    if curve is None:
        return None
    try:
        budgets = along_range(channel)
    except YardstickError:
        return None
    signal = curve.signal(np.array([budget.value for budget in budgets]))
    half = np.array([budget.expanded for budget in budgets])
    order = np.argsort(signal)
    return Band(signal[order], -half[order], half[order], "confidence")


def _magnification(half: float, top: float) -> int:
    """How many times a band is widened so that it can be seen in a plot up to `top`: 1, 10, 100 or 1000."""
    return next((times for times in (1, 10, 100) if times * half >= 0.03 * top), 1000)


def _packing_content(
    job: Job, channel: ContinuousChannel, _plots: Plots, axis: tuple[float, float], _shown: Pictured | None
) -> PlotContent:
    use = curve_in_use(job, channel)
    packed = _packed_if_there(job, channel)
    if use is None or packed is None:
        words = "nothing packed to compare yet" if use is None else "no numbers to compare with the calibration"
        return PlotContent((), (), (), None, (-1.0, 1.0), words)
    if packed.is_exact:
        return _exact_content(channel, axis, use)
    converter = channel.path.converter
    errors = packing_errors(packed.form, believed(channel, use.curve), converter.nominal)
    signal = converter.inverse(converter.every_count())
    lines = [DrawnLine(signal, errors, "error")]
    worst = packed.cost.in_reach or packed.cost.overall
    size = max(abs(worst.error), 1e-12 * channel.span)
    words = f"packed minus calibration at every one of {len(errors)} counts"
    if packed.table is not None:
        inside = use.curve.within(signal)
        even = packing_errors(packed.table.even, believed(channel, use.curve), converter.nominal)
        lines.insert(0, DrawnLine(signal[inside], even[inside], "even"))
        words += "; dashed: evenly spaced, best values too"
        size = max(size, packed.table.even_error)
        if packed.bound is not None:
            lines += [DrawnLine(np.array(axis), np.full(2, sign * packed.bound), "bound") for sign in (1, -1)]
            words += "; dotted: proven bound"
    marks = (Marks("worst", np.array([worst.signal]), np.array([worst.error])),)
    bands = tolerance_band(channel, axis, use.curve)
    if bands and float(np.max(bands[0].high)) > 4 * size:
        bands = []  # the tolerance would flatten the error to a line
    span = max([size] + [float(np.max(band.high)) for band in bands])
    return PlotContent(tuple(lines), marks, tuple(bands), use.curve.domain, (-1.35 * span, 1.35 * span), words)


def _exact_content(channel: ContinuousChannel, axis: tuple[float, float], use: CurveInUse) -> PlotContent:
    """Numbers that show the calibration itself: nothing, on the scale of what is allowed or of the range."""
    bands = tolerance_band(channel, axis, use.curve)
    span = max([float(np.max(band.high)) for band in bands], default=_NOTHING * channel.span)
    line = DrawnLine(np.array(axis), np.zeros(2), "error")
    words = f"exact: packed is the calibration at every one of {channel.path.converter.full_count + 1} counts"
    return PlotContent((line,), (), tuple(bands), use.curve.domain, (-1.35 * span, 1.35 * span), words)


def _proof_content(
    job: Job, channel: ContinuousChannel, plots: Plots, axis: tuple[float, float], shown: Pictured | None
) -> PlotContent:
    from .proof_content import proof_content  # what weighs mistakes is not loaded before it is looked at

    return proof_content(job, channel, plots, axis, shown)


_ERRORS = {"curve": _residual_content, "packing": _packing_content, "proof": _proof_content}
