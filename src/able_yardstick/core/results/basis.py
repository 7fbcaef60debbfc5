"""What the results of a channel rest on, field by field, and what of it has changed since.

A result's basis names each field of the record that its maker took (`FitInputs`, `PackInputs`, `LookInputs`): if one is
another now, the result would come out otherwise. Beside them stand, with a sign before their names, the things that a
person changes; they only help to say why.
"""

from ..document.channel import ContinuousChannel, WiredChannel
from ..document.once import once_per_slice
from ..fit.inputs import inputs_in_unit
from ..forms.spec import PackSpec
from ..gather.points import points_of
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..pack.inputs import pack_inputs
from ..regression.kinds import ModelName
from ..wake.inputs import look_inputs
from ..words.errors import YardstickError
from ..words.record import AT_DEFAULT, digest, digests
from .remade import same_curve, same_numbers

Basis = dict[str, str]
_SIGN = "by "
_FIELDS = {
    "unit": "the unit changed",
    "pin_unit": "the signal path changed",
    "signal": "the readings changed",
    "reference": "the readings changed",
    "stops": "the readings changed",
    "assumed_rows": "where a reading is from changed",
    "reference_doubt": "the uncertainty of a reference changed",
    "signal_doubt": "the uncertainty of a reading changed",
    "reference_rows": "the uncertainty of a reference changed",
    "settings": "the settings of the fit changed",
    "two_points": "the two points changed",
    "zero": "the zero changed",
    "nominal": "the description changed",
    "element": "the signal path changed",
    "half_step": "the converter changed",
    "half_digit": "the readings changed",
    "left_out": "the signal path changed",
    "curve": "another curve is in use",
    "converter": "the converter changed",
    "reference_factor": "the converter changed",
    "spec": "the settings of the form changed",
    "range": "the range changed",
    "shared": "a channel that shares the table changed",
    "named": "the name changed",
    "sound": "the limits of the signal changed",
    "breaks": "what it lands on changed",
    "transducer": "the description changed",
    "path": "the signal path changed",
    "conditions": "the conditions changed",
    "fuel": "the fuel changed",
    "tolerance": "the tolerance changed",
}
_ORIGINS = {
    "readings": "the readings changed",
    "path": "the signal path changed",
    "converter": "the converter changed",
    "conditions": "the conditions changed",
    "fuel": "the fuel changed",
    "transducer": "the description changed",
    "references": "the uncertainty of a reference changed",
    "zero": "the zero changed",
    "settings": "the settings of the fit changed",
}
_UNKNOWN = "an earlier version of the program made it, and it comes out otherwise now"


def fit_basis(job: Job, channel: ContinuousChannel, model: ModelName, unit: str) -> Basis:
    """What a fit of this channel, in a unit, rests on. Raises: UnitMismatch if the channel has left that unit."""
    return {**digests(inputs_in_unit(job, channel, unit).of_model(model)), **_origins(job, channel)}


def _origins(job: Job, channel: ContinuousChannel) -> Basis:
    rows = points_of(job, channel).rows
    path = channel.path
    found = {
        "readings": digest([[row.reading.id, row.reading.reference, row.reading.raw] for row in rows]),
        "path": digest(path.source, list(path.stages)),
        "converter": digest(path.converter),
        "conditions": digest(channel.conditions),
        "fuel": digest(channel.fuel),
        "transducer": digest(channel.transducer),
        "references": digest(*(one for one in job.references if one.id in {row.reading.reference_id for row in rows})),
        "zero": digest([channel.zero]),
        "settings": digest(channel.fit_settings),
    }
    return {_SIGN + name: text for name, text in found.items()}


def pack_basis(job: Job, channel: ContinuousChannel, spec: PackSpec) -> Basis:
    """What a packing of this channel rests on. Raises: NotApplicable without a curve."""
    return digests(pack_inputs(job, channel, spec))


def look_basis(job: Job, channel: WiredChannel) -> Basis:
    """What a look at the raw signal is judged by."""
    inputs = look_inputs(job, channel)
    return {**digests(inputs.channel), "breaks": digests(inputs)["breaks"]}


def _changes(then: Basis, now: Basis) -> tuple[str, ...]:
    """What has changed, in words; empty if all that decides is the same."""
    fields = [name for name in now if not name.startswith(_SIGN)]
    if any(name not in then and now[name] != AT_DEFAULT for name in fields):
        return (_UNKNOWN,)
    decisive = [name for name in fields if now[name] != then.get(name, AT_DEFAULT)]
    if not decisive:
        return ()
    if len(decisive) > 1 and "breaks" in decisive:
        decisive.remove("breaks")  # which follow from the rest
    by = [name.removeprefix(_SIGN) for name in now if name.startswith(_SIGN) and now[name] != then.get(name)]
    words = [_ORIGINS[name] for name in by] or [_FIELDS.get(name, f"{name} changed") for name in decisive]
    return tuple(dict.fromkeys(words))


@once_per_slice
def stale_look(job: Job, channel: WiredChannel) -> tuple[str, ...]:
    """What has changed since the raw signal was looked at."""
    record = job.wake_of(channel.id)
    return () if record is None else _changes(record.basis, look_basis(job, channel))


@once_per_slice
def stale_fit(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """Why the chosen curve no longer stands; empty if it does, or if there is none."""
    record = job.fit_of(channel.id)
    if record is None:
        return ()
    try:
        now = fit_basis(job, channel, record.fitted.spec.model, record.unit)
    except YardstickError:
        return ("the unit changed",)
    reasons = _changes(record.basis, now)
    if reasons == (_UNKNOWN,) and same_curve(job, channel, record):
        reasons = ()
    return reasons if curve_in_use(job, channel) else (*reasons, "the unit changed")


@once_per_slice
def stale_pack(job: Job, channel: ContinuousChannel) -> tuple[str, ...]:
    """Why the kept packing no longer stands; empty if it does, or if there is none."""
    record = job.pack_of(channel.id)
    if record is None:
        return ()
    try:
        now = pack_basis(job, channel, record.spec)
    except YardstickError as error:
        return (str(error),)
    if record.unit != channel.unit:
        return ("the unit changed",)
    reasons = _changes(record.basis, now)
    if reasons == (_UNKNOWN,) and same_numbers(job, channel, record):
        reasons = ()
    return reasons or (("its curve is out of date",) if stale_fit(job, channel) else ())
