"""What follows from a job for one channel: its points, the curves on offer, the one in use, its packing, its proof."""

from collections.abc import Callable
from functools import partial, wraps
from typing import Concatenate, NamedTuple, ParamSpec, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from .channel import ContinuousChannel, WiredChannel
from .curves import AnyCurve, Curve, OxygenViewCurve, Table
from .errors import NotApplicable, YardstickError
from .fit import DEGREES, Candidate, Choice, Doubts, FitSpec, Fitted, Worth, candidates, simplest, worth_of
from .fit.fitted import CAPTIONS
from .job import Job, PackRecord
from .model import digest
from .oxygen import OxygenView
from .packing import AnyForm, Around, Named, PackingCost, PackSpec, Shared, TableReport, pack_in_full, packing_cost
from .proof import Proof, prove
from .reading import Amended
from .reading_doubts import doubts_of, instruments_of
from .sensor_fit import fit_through_path, sensor_candidate, sensor_models
from .transducer import Source
from .units import affine, parse_unit

Array = NDArray[np.float64]
P = ParamSpec("P")
R = TypeVar("R")


class Points(NamedTuple):
    """Readings in use: signal at the pin (n,), reference in the channel's unit (n,), and where they come from."""

    rows: tuple[Amended, ...]
    signal: Array
    reference: Array

    def row_of(self, reading_id: str) -> int | None:
        """The row of a reading, if it is in use."""
        return next((i for i, row in enumerate(self.rows) if row.reading.id == reading_id), None)


def once_per_tree(
    function: Callable[Concatenate[Job, ContinuousChannel, P], R],
) -> Callable[Concatenate[Job, ContinuousChannel, P], R]:
    """Reckon once for each tree and channel: a tree never changes, and is asked the same by every part of a window.

    The further arguments are words.
    """

    @wraps(function)
    def remembered(job: Job, channel: ContinuousChannel, /, *args: P.args, **kwargs: P.kwargs) -> R:
        key = (function.__name__, channel.id, *map(str, args), *map(str, kwargs.values()))
        kept = job.memo.get(key)
        if kept is None or kept[0] is not channel:
            kept = job.memo[key] = (channel, function(job, channel, *args, **kwargs))
        return cast(R, kept[1])

    return remembered


def once_per_record(function: Callable[[ContinuousChannel], R]) -> Callable[[ContinuousChannel], R]:
    """Reckon once for each record of a channel: other channels of a new tree are the same records as before."""

    @wraps(function)
    def remembered(channel: ContinuousChannel, /) -> R:
        if function.__name__ not in channel.memo:
            channel.memo[function.__name__] = function(channel)
        return cast(R, channel.memo[function.__name__])

    return remembered


@once_per_tree
def points_of(job: Job, channel: ContinuousChannel) -> Points:
    """The readings a curve is fitted to, without the excluded ones."""
    rows = tuple(row for row in job.amended(channel.id, "gather") if row.is_used)
    signal = [pin_of(channel, row) for row in rows]
    reference = [channel.in_unit(row.reading.reference, row.reading.reference_unit)[0] for row in rows]
    return Points(rows, np.array(signal, dtype=float), np.array(reference, dtype=float))


def pin_of(channel: ContinuousChannel, row: Amended) -> float:
    """The signal at the pin of a reading, in the pin's unit; NaN if only the shown value was seen."""
    raw = row.reading.raw
    return float("nan") if raw is None else raw.at_pin(channel.path, row.reading.conditions)


@once_per_record
def nominal_curve(channel: ContinuousChannel) -> AnyCurve | None:
    """From the signal at the pin to the described value, in the channel's unit; None where nothing is rated."""
    curve = channel.transducer.nominal(channel.around)
    if curve is None:
        return None
    at_pin = channel.path.at_pin(curve, channel.around)
    return curve_in_unit(at_pin, channel.transducer.unit, channel)


def curve_in_unit(curve: Curve, unit: str, channel: ContinuousChannel) -> AnyCurve:
    """A curve of values in `unit`, with values in the channel's.

    Raises: UnitMismatch if the two are no straight line of each other and the curve is no table.
    """
    if unit.strip() in ("", channel.unit.strip()):
        return curve  # type: ignore[return-value]  # every kind there is
    if isinstance(curve, Table):
        return curve.with_(values=tuple(channel.in_unit(list(curve.values), unit)))
    views = parse_unit(unit).oxygen, parse_unit(channel.unit).oxygen
    if views[0] and views[1] and views[0] != views[1]:
        return _in_view(curve, views[0], views[1], channel)
    gain, offset = affine(unit, channel.unit, barometer_kpa=channel.conditions.barometer_kpa)
    return curve.converted(gain, offset)  # type: ignore[return-value]


def _in_view(curve: Curve, source: OxygenView, target: OxygenView, channel: ContinuousChannel) -> AnyCurve:
    """A curve of one view of oxygen in another, trusted where both say something."""
    made = OxygenViewCurve(
        curve=curve,
        source=source,
        target=target,
        fuel=channel.fuel,
        domain=curve.domain,
    )
    low, high = max(curve.domain[0], made.limits[0]), min(curve.domain[1], made.limits[1])
    return made.with_(domain=(low, high))


def believed(channel: ContinuousChannel, curve: Curve) -> AnyCurve:
    """A curve of the true signal at the pin as one of the signal that the controller takes its counts for."""
    factor = channel.path.converter.reference_factor
    return curve if factor == 1.0 else curve.stretched(1 / factor)  # type: ignore[return-value]


def packed_curve(form: AnyForm, channel: ContinuousChannel) -> AnyCurve:
    """The controller's arithmetic without the counts' steps, as a curve of the true signal at the pin."""
    converter = channel.path.converter
    curve = form.continuous(converter.nominal)
    factor = converter.reference_factor
    return curve if factor == 1.0 else curve.stretched(factor)  # type: ignore[return-value]


def shown_of(form: AnyForm, channel: ContinuousChannel, pin: Array) -> Array:
    """What the controller shows at true signals of the pin, shape kept."""
    converter = channel.path.converter
    return np.asarray(form.shown(converter.count_of(pin), converter.nominal))


def zero_of(channel: ContinuousChannel) -> tuple[float, float]:
    """The signal and value a line through a given zero is held to: the channel's own, else where the described
    curve reads 0 (or its lower end, if it never does), else 0 and 0.
    """
    if channel.zero is not None:
        return channel.zero
    curve = nominal_curve(channel)
    if curve is None:
        return 0.0, 0.0
    at_zero = [signal for signal in curve.branches(0.0) if curve.within(signal)]
    signal = at_zero[0] if at_zero else curve.domain[0]
    return signal, float(curve.value(signal))


def specs_of(channel: ContinuousChannel, points: Points) -> tuple[FitSpec, ...]:
    """The models on offer with the channel's settings for them."""
    first, second = (points.row_of(reading) for reading in channel.two_points) if channel.two_points else (None, None)
    settings = channel.fit_settings
    formula = FitSpec(model="formula", formula=settings.formula, start=settings.start, robust=settings.robust)
    return (
        FitSpec(model="two-point", first=first, second=second),
        FitSpec(model="terminal"),
        FitSpec(model="through-zero", zero=zero_of(channel), robust=settings.robust),
        *(FitSpec(model=model, robust=settings.robust) for model in DEGREES),
        FitSpec(model="table"),
        FitSpec(model="pchip"),
        *([formula] if settings.formula else []),
    )


@once_per_tree
def weighing(job: Job, channel: ContinuousChannel) -> Doubts | None:
    """What the readings are weighed by; None if all weigh the same."""
    if channel.fit_settings.weigh == "all the same":
        return None
    return doubts_of(job, channel, points_of(job, channel).rows)


@once_per_tree
def candidates_of(job: Job, channel: ContinuousChannel) -> list[Candidate]:
    """Every curve on offer for a channel; without readings only the described one, if there is one."""
    points = points_of(job, channel)
    if not len(points.rows):
        return candidates(points.signal, points.reference, (), nominal_curve(channel))
    doubts = weighing(job, channel)
    rows = candidates(points.signal, points.reference, specs_of(channel, points), nominal_curve(channel), doubts)
    laws = [
        sensor_candidate(channel, points.signal, points.reference, model, doubts) for model in sensor_models(channel)
    ]
    return rows + laws


def worth_in(job: Job, channel: ContinuousChannel, fitted: Fitted) -> Worth:
    """What a candidate of a channel is worth."""
    points, doubts = points_of(job, channel), weighing(job, channel)
    if fitted.spec.model in sensor_models(channel):
        refit = partial(fit_through_path, channel)
        return worth_of(points.signal, points.reference, fitted, doubts, refit)
    return worth_of(points.signal, points.reference, fitted, doubts)


@once_per_tree
def recommended(job: Job, channel: ContinuousChannel) -> Choice | None:
    """The simplest adequate candidate with its reason; None while there is nothing fitted."""
    points = points_of(job, channel)
    if not len(points.rows):
        return None
    allowed = channel.tolerance.at(points.reference, channel.span) if channel.tolerance.is_stated else None
    return simplest(candidates_of(job, channel), points.signal, points.reference, allowed)


SOURCE_CAPTIONS: dict[Source, str] = {
    "data sheet of this unit": "own sheet",
    "data sheet of the type": "data sheet",
    "similar part": "similar part",
    "measured": "measured",
    "assumed": "assumed",
}


class CurveInUse(NamedTuple):
    """The curve a channel is worked with, in its unit, and where it comes from."""

    curve: AnyCurve
    caption: str
    chosen: bool


def curve_in_use(job: Job, channel: ContinuousChannel) -> CurveInUse | None:
    """The chosen curve, else the described one, else none."""
    record = job.fit_of(channel.id)
    if record is not None:
        try:
            curve = curve_in_unit(record.fitted.curve, record.unit, channel)
        except YardstickError:
            return None  # a chosen line in % O2 has no counterpart in lambda: the fit is stale and says so
        return CurveInUse(curve, CAPTIONS[record.fitted.spec.model], True)
    nominal = nominal_curve(channel)
    return None if nominal is None else CurveInUse(nominal, SOURCE_CAPTIONS[channel.transducer.source], False)


def kept_packing(job: Job, channel: ContinuousChannel) -> PackRecord | None:
    """The packing kept, unless its unit has no counterpart in the channel's, or the converter no longer reaches it."""
    record = job.pack_of(channel.id)
    if record is None:
        return None
    try:
        affine(record.unit or channel.unit, channel.unit, barometer_kpa=channel.conditions.barometer_kpa)
        record.form.continuous(channel.path.converter.nominal)
    except YardstickError:
        return None
    return record


# -- what results rest on -------------------------------------------------------------------------------------------


@once_per_tree
def fit_basis(job: Job, channel: ContinuousChannel, model: str) -> dict[str, str]:
    """The revisions a fit of this channel rests on, by name."""
    path: dict[str, object] = {
        "source": channel.path.source,
        "stages": [stage.model_dump(mode="json") for stage in channel.path.stages],
    }
    if model == "nominal":
        return {"description": digest(channel.transducer, channel.conditions), "signal path": digest(path)}
    rows = points_of(job, channel).rows
    if any(row.reading.raw is not None and row.reading.raw.node == "counts" for row in rows):
        path["converter"] = channel.path.converter.model_dump(mode="json")
    basis = {"readings": digest(*(_evidence(row) for row in rows)), "signal path": digest(path)}
    if weighing(job, channel) is not None:
        basis["weights"] = digest(*instruments_of(job, rows))
    return basis


def wake_basis(channel: WiredChannel) -> dict[str, str]:
    """What a look at the raw signal is judged by."""
    described = digest(channel.transducer) if isinstance(channel, ContinuousChannel) else digest(channel)
    return {"description": described, "signal path": digest(channel.path)}


def stale_wake(job: Job, channel: WiredChannel) -> tuple[str, ...]:
    """What has changed since the raw signal was looked at."""
    record = job.wake_of(channel.id)
    return () if record is None else _changes(record.basis, wake_basis(channel))


def _evidence(row: Amended) -> list[object]:
    reading = row.reading
    raw = reading.raw.model_dump(mode="json") if reading.raw else None
    return [reading.id, reading.reference, reading.reference_unit, raw]


def pack_basis(job: Job, channel: ContinuousChannel) -> dict[str, str]:
    """The revisions a packing of this channel rests on, by name."""
    record = job.fit_of(channel.id)
    curve = digest(record.fitted.curve, record.unit) if record else ""
    return {"curve": curve, "converter": digest(channel.path.converter), "unit": digest(channel.unit)}


_WHAT_CHANGED = {
    "readings": "the readings changed",
    "signal path": "the signal path changed",
    "description": "the description changed",
    "weights": "the uncertainty of a reference changed",
    "curve": "another curve is in use",
    "converter": "the converter changed",
    "unit": "the unit changed",
}


def _changes(then: dict[str, str], now: dict[str, str]) -> tuple[str, ...]:
    return tuple(_WHAT_CHANGED[name] for name in then if now.get(name) != then[name])


def stale_fit(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """Why the chosen curve no longer stands; empty if it does, or if there is none."""
    record = job.fit_of(channel.id)
    if record is None:
        return ()
    reasons = _changes(record.basis, fit_basis(job, channel, record.fitted.spec.model))
    return reasons if curve_in_use(job, channel) else (*reasons, "the unit changed")


def stale_pack(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """Why the kept packing no longer stands; empty if it does, or if there is none."""
    record = job.pack_of(channel.id)
    if record is None:
        return ()
    reasons = _changes(record.basis, pack_basis(job, channel))
    return reasons or (("its curve is out of date",) if stale_fit(job, channel) else ())


# -- packing and proof ----------------------------------------------------------------------------------------------


class Packed(NamedTuple):
    """Numbers for the controller as the channel's settings make them now, with their exact cost.

    `bound` is what no numbers of that form and grid go below, where that is known; `table` what plainer tables cost.
    """

    form: AnyForm
    cost: PackingCost
    bound: float | None = None
    table: TableReport | None = None


def packed_now(job: Job, channel: ContinuousChannel) -> Packed:
    """The curve in use in the form the channel's settings ask for.

    Raises: NotApplicable without a curve, or what packing refuses.
    """
    found = _packed_or_refused(job, channel)
    if isinstance(found, YardstickError):
        raise found
    return found


@once_per_tree
def _packed_or_refused(job: Job, channel: ContinuousChannel) -> Packed | YardstickError:
    try:
        return packed_as(job, channel, channel.pack_spec)
    except YardstickError as error:
        return error


_kept_packings: dict[str, Packed] = {}
_MOST_KEPT = 256


def packed_as(job: Job, channel: ContinuousChannel, spec: PackSpec) -> Packed:
    """The curve in use in any form.

    Raises: NotApplicable without a curve, or what packing refuses.
    """
    use = curve_in_use(job, channel)
    if use is None:
        raise NotApplicable("There is no curve to pack yet. Describe the transducer, or gather readings and fit one.")
    curve, converter = believed(channel, use.curve), channel.path.converter.nominal
    around = Around(channel.range, shared_curves(job, channel, spec), _named(channel))
    key = digest(curve, converter, spec, [*(around.limits or ()), *around.named], *(one.curve for one in around.shared))
    if key not in _kept_packings:
        if len(_kept_packings) >= _MOST_KEPT:
            _kept_packings.clear()
        made = pack_in_full(curve, converter, spec, around)
        cost = packing_cost(made.form, curve, converter, channel.span)
        _kept_packings[key] = Packed(made.form, cost, made.bound, made.table)
    return _kept_packings[key]


def _named(channel: ContinuousChannel) -> Named:
    about = f"{channel.tag}: {channel.name}" if channel.name else channel.tag
    return Named(channel.tag, about, channel.unit, channel.path.pin_unit)


def shared_curves(job: Job, channel: ContinuousChannel, spec: PackSpec) -> tuple[Shared, ...]:
    """The curves of other channels that use the same table, over the signals of their own reach.

    Raises: NotApplicable for a channel whose counts or unit mean something else.
    """
    found = []
    for other_id in spec.shared_with:
        other = job.continuous(other_id)
        use = curve_in_use(job, other)
        if use is None:
            raise NotApplicable(f"{other.tag} has no curve yet, so it cannot share a table. Choose its curve first.")
        if other.path.converter.nominal != channel.path.converter.nominal:
            raise NotApplicable(
                f"{other.tag} is read by another kind of input than {channel.tag}: the same count means another "
                "signal there. Only channels on equal inputs can share a table."
            )
        curve = believed(other, curve_in_unit(use.curve, other.unit, channel))
        found.append(Shared(curve, curve.domain))
    return tuple(found)


class Check(NamedTuple):
    """A check as it stands: what was shown, in the channel's unit, and whether it is of the packing in force."""

    row: Amended
    reference: float
    shown: float
    reckoned: bool
    stale: bool
    pin: float


def checks_of(job: Job, channel: ContinuousChannel) -> list[Check]:
    """The checks of a channel that are not excluded; those only read raw are reckoned with the packing kept."""
    record = kept_packing(job, channel)
    found = []
    for row in job.amended(channel.id, "prove"):
        if row.is_used:
            check = _check(channel, row, record)
            if check is not None:
                found.append(check)
    return found


def _check(channel: ContinuousChannel, row: Amended, record: PackRecord | None) -> Check | None:
    reading = row.reading
    reference = channel.in_unit(reading.reference, reading.reference_unit)[0]
    if reading.shown is not None:
        shown = channel.in_unit(reading.shown, reading.shown_unit or reading.reference_unit)[0]
        stale = record is None or reading.basis != record.revision
        return Check(row, reference, shown, False, stale, _pin_of_check(channel, row, record, shown))
    if record is None:
        return None
    pin = pin_of(channel, row)
    shown = float(shown_of(record.form, channel, np.array([pin]))[0])
    return Check(row, reference, channel.in_unit(shown, record.unit)[0], True, False, pin)


def _pin_of_check(channel: ContinuousChannel, row: Amended, record: PackRecord | None, shown: float) -> float:
    """Where a check stands on the axis: at its signal if it was read, else where the packing shows that number."""
    if row.reading.raw is not None or record is None:
        return pin_of(channel, row)
    curve = curve_in_unit(packed_curve(record.form, channel), record.unit, channel)
    found = curve.branches(shown)
    return found[0] if found else float("nan")


def proof_of(job: Job, channel: ContinuousChannel) -> Proof:
    """The judgement of the checks that belong to the packing in force.

    Raises: TooFewReadings without such a check or without a tolerance.
    """
    checks = [check for check in checks_of(job, channel) if not check.stale]
    return prove([c.reference for c in checks], [c.shown for c in checks], channel.tolerance, channel.span)


def as_found(job: Job, channel: ContinuousChannel) -> Proof | None:
    """What the controller showed while readings were gathered, judged by the same rule; None if it was not seen."""
    rows = [row.reading for row in job.amended(channel.id, "gather") if row.is_used and row.reading.shown is not None]
    if not rows or not channel.tolerance.is_stated:
        return None
    reference = [channel.in_unit(row.reference, row.reference_unit)[0] for row in rows]
    shown = [channel.in_unit(float(row.shown or 0.0), row.shown_unit or row.reference_unit)[0] for row in rows]
    return prove(reference, shown, channel.tolerance, channel.span)
