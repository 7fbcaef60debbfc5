"""What a channel is worked with now: the curve in use, and the packing that was kept."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve, Curve
from ..document.channel import ContinuousChannel
from ..document.nominal import curve_in_unit, nominal_curve
from ..forms.any_form import AnyForm
from ..journal.records import PackRecord
from ..regression.kinds import CAPTIONS, ModelName
from ..sensor.transducer import FigureOrigin
from ..words.errors import YardstickError
from .job import Job

Array = NDArray[np.float64]


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


SOURCE_CAPTIONS: dict[FigureOrigin, str] = {
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


def caption_of(channel: ContinuousChannel, model: ModelName) -> str:
    """What a curve is called: a described one by where its figures are from, which follows them everywhere."""
    return SOURCE_CAPTIONS[channel.transducer.source] if model == "nominal" else CAPTIONS[model]


def curve_in_use(job: Job, channel: ContinuousChannel) -> CurveInUse | None:
    """The chosen curve, else the described one, else none."""
    record = job.fit_of(channel.id)
    if record is not None:
        try:
            curve = curve_in_unit(record.fitted.curve, record.unit, channel)
        except YardstickError:
            return None  # a chosen line in % O2 has no counterpart in lambda: the fit is stale and says so
        return CurveInUse(curve, caption_of(channel, record.fitted.spec.model), True)
    nominal = nominal_curve(channel)
    return None if nominal is None else CurveInUse(nominal, caption_of(channel, "nominal"), False)


def kept_packing(job: Job, channel: ContinuousChannel) -> PackRecord | None:
    """The packing kept, unless its unit has no counterpart in the channel's, or the converter no longer reaches it."""
    record = job.pack_of(channel.id)
    if record is None:
        return None
    try:
        channel.affine(record.unit, channel.unit)
        record.form.continuous(channel.path.converter.nominal)
    except YardstickError:
        return None
    return record
