"""Every edit of a job: a pure function from the old tree to the new one. Times and ids come from the caller."""

from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Any

import numpy as np

from .assumed import standing_of
from .calibration import candidates_of, curve_in_use, fit_basis, nominal_curve, pack_basis, packed_now
from .channel import (
    AnyChannel,
    ConstantChannel,
    ContinuousChannel,
    Device,
    TwoStateChannel,
    WiredChannel,
)
from .controller import Controller, InputKind
from .converter import Converter
from .curves import Curve
from .electrical import SignalUnit
from .errors import NotApplicable, UnitMismatch, YardstickError
from .fit import ModelName
from .fit_budget import reach_of
from .job import FitRecord, Job, PackRecord, WakeRecord, WriteRecord
from .landing import landing_on, offers
from .path import Path
from .quantity import SUGGESTED_UNITS, Quantity, check_unit
from .rating import (
    RATING_KINDS,
    Formula,
    Platinum,
    Pulses,
    RatedTable,
    RatingBase,
    Root,
    Sensitivity,
    SlopeOffset,
    Thermocouple,
    Turns,
    TwoPoints,
    Unrated,
    Zirconia,
)
from .reading import Amendment, Reading
from .reference import Reference
from .resistors import SERIES, SeriesName, solve_divider, solve_shunt
from .sources import AnySource
from .stages import Amplifier, AnyStage, ColdJunction, Divider, Excitation, Leads, PullUp, PulsePullUp, Shunt, Stage
from .transducer import OUTPUT_UNITS, OutputKind, Transducer


def _next(job: Job, **changes: Any) -> Job:
    return job.with_(revision=job.revision + 1, **changes)


def rename(job: Job, title: str) -> Job:
    """The job under another title."""
    return _next(job, title=title.strip() or job.title)


# -- channels -------------------------------------------------------------------------------------------------------


def free_tag(job: Job, wanted: str) -> str:
    """`wanted`, with a number behind it if the tag is taken."""
    tags = {channel.tag.casefold() for channel in job.channels}
    if wanted.casefold() not in tags:
        return wanted
    return next(tag for n in range(2, len(tags) + 3) if (tag := f"{wanted}-{n}").casefold() not in tags)


def add_channel(job: Job, channel: AnyChannel, device: Device | None = None) -> Job:
    """The job with a channel at its end, and its device if that is new. Raises: InvalidRecord on a used tag."""
    devices = job.devices
    if channel.device not in {known.id for known in devices}:
        devices = (*devices, device or Device(id=channel.device, name=channel.name))
    return _next(job, devices=devices, channels=(*job.channels, channel))


def duplicate_channel(job: Job, channel_id: str, new_id: str, new_device: str) -> Job:
    """The job with a copy of a channel's description behind it; readings and results stay with the first."""
    channel = job.channel(channel_id)
    copy = channel.with_(id=new_id, device=new_device, tag=free_tag(job, f"{channel.tag}-copy"))
    at = job.channels.index(channel) + 1
    devices = (*job.devices, Device(id=new_device, name=channel.name))
    return _next(job, devices=devices, channels=(*job.channels[:at], copy, *job.channels[at:]))


AXES = ("X", "Y", "Z")


def add_axis(job: Job, channel_id: str, new_id: str) -> Job:
    """The job with another axis of a channel's device: described alike, with a tag and readings of its own.

    Raises: NotApplicable for a channel without a curve, or once the device has all its axes.
    """
    channel = job.continuous(channel_id)
    mates = [one for one in job.channels if isinstance(one, ContinuousChannel) and one.device == channel.device]
    first = channel if channel.axis else channel.with_(axis=AXES[0])
    taken = {one.axis for one in mates} | {first.axis}
    free = next((axis for axis in AXES if axis not in taken), None)
    if free is None:
        raise NotApplicable(f"The device of {channel.tag} has its {len(AXES)} axes already.")
    job = job if first is channel else change_channel(job, first)
    tag = free_tag(job, f"{channel.tag.removesuffix(f'-{first.axis}')}-{free}")
    copy = first.with_(id=new_id, tag=tag, axis=free, landing=None)
    at = [one.id for one in job.channels].index(channel_id) + 1
    return _next(job, channels=(*job.channels[:at], copy, *job.channels[at:]))


def axes_of(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """The axes of a channel's device, its own first; empty for a device with one channel."""
    mates = [
        one.axis for one in job.channels
        if isinstance(one, ContinuousChannel) and one.device == channel.device and one.id != channel.id and one.axis
    ]  # fmt: skip
    return (channel.axis, *mates) if channel.axis and mates else ()


def move_channel(job: Job, channel_id: str, places: int) -> Job:
    """The job with a channel moved down by so many places (up if below 0), as far as there is room."""
    rows = list(job.channels)
    channel = job.channel(channel_id)
    at = rows.index(channel)
    rows.pop(at)
    rows.insert(min(max(at + places, 0), len(rows)), channel)
    return _next(job, channels=tuple(rows))


def remove_channel(job: Job, channel_id: str) -> Job:
    """The job without a channel. Its readings stay in the file, so that undoing brings all back."""
    job.channel(channel_id)
    return _next(job, channels=tuple(channel for channel in job.channels if channel.id != channel_id))


def change_channel(job: Job, channel: AnyChannel) -> Job:
    """The job with a channel's record replaced by one of the same id.

    Raises: UnitMismatch if readings in use are of something that the channel would no longer measure.
    """
    job.channel(channel.id)
    if isinstance(channel, ContinuousChannel):
        _refuse_orphans(job, channel)
    return _next(job, channels=tuple(channel if old.id == channel.id else old for old in job.channels))


def _refuse_orphans(job: Job, channel: ContinuousChannel) -> None:
    rows = [*job.amended(channel.id, "gather"), *job.amended(channel.id, "prove")]
    for reading in (row.reading for row in rows if row.is_used):
        try:
            channel.in_unit(reading.reference, reading.reference_unit)
            if reading.raw is not None:
                reading.raw.at_pin(channel.path, reading.conditions)
        except UnitMismatch as error:
            raise UnitMismatch(
                f"{channel.tag} has readings that this would make meaningless: {error} "
                "Exclude them first, or add another channel.",
                found=error.found,
                expected=error.expected,
            ) from error


def new_continuous(channel_id: str, device: str, tag: str) -> ContinuousChannel:
    """A channel to start from: a voltage from 0 to 5 V of which nothing else is known."""
    transducer = Transducer(quantity="gauge pressure", unit="kPa", range_low=0, range_high=100)
    return ContinuousChannel(id=channel_id, device=device, tag=tag, unit="kPa", transducer=transducer)


def new_constant(channel_id: str, device: str, tag: str) -> ConstantChannel:
    """A constant to start from."""
    return ConstantChannel(id=channel_id, device=device, tag=tag)


def new_two_state(channel_id: str, device: str, tag: str) -> TwoStateChannel:
    """A contact to start from: 0 V closed, 5 V open."""
    return TwoStateChannel(id=channel_id, device=device, tag=tag, dead_band=0.5)


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
    if rating is SlopeOffset:
        slope = (at_high - at_low) / (high - low)
        return SlopeOffset(slope=slope, offset=at_low - slope * low)
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


def place_for(path: Path, kind: type[Stage]) -> int | None:
    """The latest place of the path where a part of a kind can stand; None if its signal never arrives.

    A part that turns one kind of signal into another fits only where what it gives is what then arrives.
    """
    units = path.node_units
    fitting = [at for at, unit in enumerate(units) if unit == kind.takes and kind.gives == unit]
    if fitting:
        return fitting[-1]
    changing = [at for at, unit in enumerate(units) if unit == kind.takes]
    return changing[-1] if changing and _joined(path, changing[-1], kind) is not None else None


def _joined(path: Path, at: int, kind: type[Stage]) -> tuple[AnyStage, ...] | None:
    """The stages with a part of a kind put in, if what follows still takes what arrives."""
    rest = path.stages[at:]
    wanted = rest[0].takes if rest else None
    if wanted is not None and wanted != kind.gives:
        return None
    return (*path.stages[:at], kind(), *rest)  # type: ignore[arg-type]  # one of STAGE_KINDS


def with_stage(path: Path, kind: type[Stage]) -> dict[str, Any]:
    """The fields of a path with a part of a kind in its place; the converter follows what then arrives.

    Raises: NotApplicable if its kind of signal never arrives.
    """
    at = place_for(path, kind)
    if at is None:
        raise NotApplicable(f"A {kind.title.lower()} takes {kind.takes}, which never arrives on this path.")
    stages = (*path.stages[:at], kind(), *path.stages[at:])
    last = stages[-1].gives
    converter = path.converter
    if last != converter.unit:
        converter = converter.with_(unit=last, low=0.0, high=_USUAL_TOP.get(last, 5.0), window_s=None)
    return {"stages": stages, "converter": converter}


def without_stage(path: Path, at: int) -> dict[str, Any]:
    """The fields of a path without its n-th part; the converter follows what then arrives."""
    stages = (*path.stages[:at], *path.stages[at + 1 :])
    last = stages[-1].gives if stages else path.source
    converter = path.converter
    if last != converter.unit:
        converter = converter.with_(unit=last, low=0.0, high=_USUAL_TOP.get(last, 5.0), window_s=None)
    return {"stages": stages, "converter": converter}


def solved_stage(path: Path, at: int, wanted: float, series: str, load_ohm: float) -> dict[str, Any]:
    """The changes that make a part what is wanted of it, from a series of preferred values.

    A divider brings `wanted` volts to the top of the pin; a shunt leaves `wanted` percent of headroom above the top of
    its loop. Raises: NotApplicable for another part or series, OutOfRange where nothing fits.
    """
    if series not in SERIES:
        raise NotApplicable(f"Expected a series of preferred values, {', '.join(SERIES)}; found {series}.")
    stage, top_v = path.stages[at], path.converter.end
    name: SeriesName = series
    if isinstance(stage, Divider):
        pair = solve_divider(wanted, top_v, impedance_ohm=load_ohm, series=name)
        return {"top_ohm": pair.top_ohm, "bottom_ohm": pair.bottom_ohm}
    if isinstance(stage, Shunt):
        choice = solve_shunt(0.0, _LOOP_TOP_MA, top_v, headroom=wanted / 100, series=name)
        return {"resistance_ohm": choice.resistance_ohm}
    raise NotApplicable(f"The {stage.title.lower()} has nothing to solve.")


_LOOP_TOP_MA = 20.0


# -- controllers and terminals --------------------------------------------------------------------------------------


def add_controller(job: Job, controller: Controller) -> Job:
    """The job with a controller's description; one of the same id is replaced by it."""
    others = tuple(known for known in job.controllers if known.id != controller.id)
    return _next(job, controllers=(*others, controller))


def land(job: Job, channel_id: str, controller_id: str, terminal_id: str) -> Job:
    """The job with a channel on a terminal, which brings its converter and its limits.

    Raises: NotApplicable that says who holds the terminal, or what it takes.
    """
    channel = _wired(job, channel_id)
    _ = job.controller(controller_id).terminal(terminal_id)
    offer = next(
        (row for row in offers(job, channel) if (row.controller.id, row.terminal.id) == (controller_id, terminal_id)),
        None,
    )
    if offer is None:
        raise NotApplicable(f"{terminal_id} is no input: land the signal on one.")
    landing = landing_on(channel, offer)
    assert offer.kind is not None  # landing_on refuses an offer without one
    path = _with_input(channel, offer.kind)
    return change_channel(job, channel.with_(landing=landing, path=path))


def _wired(job: Job, channel_id: str) -> WiredChannel:
    channel = job.channel(channel_id)
    if isinstance(channel, ConstantChannel):
        raise NotApplicable(f"{channel.tag} is a constant: it has no pin to land.")
    return channel


def _with_input(channel: WiredChannel, kind: InputKind) -> Path:
    """The path that ends in a terminal's own converter; its burden takes the place of a shunt."""
    before = channel.path
    kept = {"shares_supply": before.converter.shares_supply}
    if before.converter.reference_v == kind.converter.reference_v:
        kept["reference_measured_v"] = before.converter.reference_measured_v  # type: ignore[assignment]
    stages = before.stages
    if kind.burden_ohm is not None:
        shunt = next((stage for stage in stages if isinstance(stage, Shunt)), Shunt())
        own = shunt.with_(resistance_ohm=kind.burden_ohm)
        rest = tuple(stage for stage in stages if not isinstance(stage, Shunt))
        stages = (own, *rest)
    return before.with_(stages=stages, converter=kind.converter.with_(**kept))


def unland(job: Job, channel_id: str) -> Job:
    """The job with a channel taken off its terminal; its path stays as it was."""
    return change_channel(job, _wired(job, channel_id).with_(landing=None))


# -- sources and references -----------------------------------------------------------------------------------------


def change_sources(job: Job, sources: Sequence[AnySource]) -> Job:
    """The job with other live sources."""
    return _next(job, sources=tuple(sources))


def change_source(job: Job, source: AnySource) -> Job:
    """The job with a source replaced by one of the same id, or added at the end."""
    known = {old.id for old in job.sources}
    rest = tuple(source if old.id == source.id else old for old in job.sources)
    return change_sources(job, rest if source.id in known else (*rest, source))


def remove_source(job: Job, source_id: str) -> Job:
    """The job without a source; readings taken through it stay."""
    return change_sources(job, [source for source in job.sources if source.id != source_id])


def change_reference(job: Job, reference: Reference) -> Job:
    """The job with a reference instrument replaced by one of the same id, or added at the end.

    Readings keep the values and uncertainties they were taken with. Raises: UnitMismatch for a unit that does not
    measure its quantity.
    """
    if reference.quantity is not None and reference.unit:
        check_unit(reference.unit, reference.quantity)
    known = {old.id for old in job.references}
    rest = tuple(reference if old.id == reference.id else old for old in job.references)
    return _next(job, references=rest if reference.id in known else (*rest, reference))


# -- readings -------------------------------------------------------------------------------------------------------


def capture(job: Job, readings: Sequence[Reading], reference: Reference | None = None) -> Job:
    """The job with readings added: the one change that undo never takes back."""
    references = job.references
    if reference is not None and reference.id not in {known.id for known in references}:
        references = (*references, reference)
    return _next(job, readings=(*job.readings, *readings), references=references)


def amend(job: Job, amendments: Sequence[Amendment]) -> Job:
    """The job with changes set beside readings."""
    return _next(job, amendments=(*job.amendments, *amendments))


def exclude(job: Job, readings: Sequence[str], reason: str, made: datetime) -> Job:
    """The job with readings left out for a reason."""
    return amend(job, [Amendment(reading=one, made=made, kind="exclude", reason=reason) for one in readings])


def include(job: Job, readings: Sequence[str], made: datetime) -> Job:
    """The job with readings taken back in."""
    return amend(job, [Amendment(reading=one, made=made, kind="include") for one in readings])


def correct(job: Job, reading: str, made: datetime, **figures: Any) -> Job:
    """The job with some of a reading's figures corrected beside it."""
    return amend(job, [Amendment(reading=reading, made=made, kind="correct", **figures)])


def keep_wake(job: Job, record: WakeRecord) -> Job:
    """The job with what was found of a channel's raw signal, in place of an earlier look."""
    return _next(job, wakes=(*(old for old in job.wakes if old.channel != record.channel), record))


# -- results --------------------------------------------------------------------------------------------------------


def use_curve(job: Job, channel_id: str, model: ModelName, made: datetime) -> Job:
    """The job with a candidate chosen as the channel's curve.

    Raises: NotApplicable with the reason if it cannot be used.
    """
    channel = job.continuous(channel_id)
    row = next((row for row in candidates_of(job, channel) if row.model == model), None)
    if row is None or row.fitted is None or not row.usable:
        raise NotApplicable(row.refusal if row else "That curve is not on offer: there is nothing to fit it to.")
    reach = reach_of(job, channel, model)
    record = FitRecord(
        channel=channel_id,
        fitted=row.fitted,
        unit=channel.unit,
        assumed="nothing was fitted" if model == "nominal" else standing_of(job, channel).assumed,
        expanded=None if reach is None else reach.largest,
        basis=fit_basis(job, channel, model),
        made=made,
        job_revision=job.revision,
    )
    return _next(job, fits=(*(old for old in job.fits if old.channel != channel_id), record))


def keep_packing(job: Job, channel_id: str, made: datetime) -> Job:
    """The job with the numbers that the channel's settings make now kept as those for its controller.

    A curve only described becomes the chosen one by it. Raises: NotApplicable without a curve, or what packing refuses.
    """
    channel = job.continuous(channel_id)
    use = curve_in_use(job, channel)
    if use is not None and not use.chosen:
        job = use_curve(job, channel_id, "nominal", made)
    packed = packed_now(job, channel)
    record = PackRecord(
        channel=channel_id,
        spec=channel.pack_spec,
        form=packed.form,
        unit=channel.unit,
        cost=packed.cost,
        basis=pack_basis(job, channel),
        made=made,
        job_revision=job.revision,
    )
    return _next(job, packs=(*(old for old in job.packs if old.channel != channel_id), record))


def keep_write(job: Job, record: WriteRecord) -> Job:
    """The job with what was written into a controller; like a reading it is never undone."""
    return _next(job, writes=(*job.writes, record))


def finish_write(job: Job, channel_id: str, differences: tuple[str, ...]) -> Job:
    """The job with a write ended that was begun: what was read back differs so from what was meant."""
    return _with_last_write(job, channel_id, lambda _record: {"differences": differences, "finished": True})


def tick_off(job: Job, channel_id: str, thing: str, done: bool) -> Job:
    """The job with one of the things that must follow a write ticked off, or not. Raises: NotApplicable."""

    def changes(record: WriteRecord) -> dict[str, object]:
        others = tuple(one for one in record.done if one != thing)
        return {"done": (*others, thing) if done else others}

    return _with_last_write(job, channel_id, changes)


def _with_last_write(job: Job, channel_id: str, changes: Callable[[WriteRecord], dict[str, object]]) -> Job:
    record = job.write_of(channel_id)
    if record is None:
        raise NotApplicable("Nothing was written yet.")
    changed = record.with_(**changes(record))
    return _next(job, writes=tuple(changed if one is record else one for one in job.writes))


def restored(now: Job, then: Job) -> Job:
    """An earlier tree with all that was captured and written since: what undo and redo go to."""
    return then.with_(
        readings=now.readings, references=now.references, writes=now.writes, revision=now.revision + 1
    )  # fmt: skip
