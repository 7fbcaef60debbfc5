"""The scales of the Rule: one axis, the signal at the pin, read as quantity, output, counts and shown number."""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve
from ..document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ..document.controller import Landed
from ..document.nominal import curve_in_unit, nominal_curve
from ..document.output import OutputChannel
from ..document.sound_band import stated_ends
from ..job.in_force import CurveInUse, curve_in_use, kept_packing, packed_curve, shown_of
from ..job.job import Job
from ..job.nodes import passes_unchanged
from ..outputs.giving import signals_for, values_of
from ..outputs.landing import output_landed
from ..stages.chain import backwards, forwards
from ..units.conditions import NOMINAL
from ..units.electrical import KIND_NAMES
from ..wire.landing import landed
from ..words.errors import NotApplicable, OutOfRange
from ..words.numerals import decimals_for, fixed

Array = NDArray[np.float64]
ScaleKey = str  # "quantity", "output", "node 1" and on, "pin", "counts", "shown"
_SAMPLES = 1025
_START = 0.65  # of the axis, or of the working range
_BENT_MARGIN = 0.03
_OUTPUT_WORDS = "its output"
_QUANTITY_TITLES = {
    "gauge pressure": "Pressure",
    "absolute pressure": "Pressure, abs.",
    "differential pressure": "Difference",
    "force or mass": "Load",
    "electric current": "Current",
    "other": "Quantity",
}


class Scale(NamedTuple):
    """One scale: `of_pin` reads the axis, `grade` is its steady form for graduations and inverses.

    `usable` is the stretch of the axis (in the pin's unit) over which the scale runs one way; `note` says why it is
    not the whole one.
    """

    key: ScaleKey
    title: str
    caption: str
    unit: str
    decimals: int
    of_pin: Callable[[Array], Array]
    grade: Callable[[Array], Array]
    branches: Callable[[float], tuple[float, ...]]
    usable: tuple[float, float]
    note: str = ""
    words: Callable[[float], str] | None = None  # what it says where it has no numbers
    marks: tuple[tuple[float, str], ...] = ()  # places of the axis with a name, where it has no numbers

    def text(self, pin: float) -> str:
        """The reading at a signal, without its unit."""
        if self.words is not None:
            return self.words(pin)
        return fixed(float(self.of_pin(np.array([pin]))[0]), self.decimals)

    def reads(self, pin: float) -> bool:
        """Whether the scale says anything at a signal."""
        low, high = self.usable
        slack = 1e-9 * (high - low)
        return low - slack <= pin <= high + slack


def axis_of(channel: WiredChannel | OutputChannel) -> tuple[float, float]:
    """The stretch of the pin's signal that the Rule shows: the converter's span, or that of an output's driver."""
    part = channel.driver if isinstance(channel, OutputChannel) else channel.path.converter
    return part.start, part.end


def working_range(channel: ContinuousChannel) -> tuple[float, float] | None:
    """Where on the axis the ends of the range lie, by the described curve; None where nothing is described."""
    nominal = nominal_curve(channel)
    if nominal is None:
        return None
    low, high = sorted(float(pin) for pin in nominal.signal(np.array(channel.range)))
    return low, high


def first_place(channel: WiredChannel | OutputChannel) -> float:
    """Where the Rule is read before anybody moved the hairline, on the axis: within the range where that is known."""
    low, high = axis_of(channel)
    place = low + _START * (high - low)
    within = working_range(channel) if isinstance(channel, ContinuousChannel) else None
    if within is None or within[0] <= place <= within[1]:
        return place
    return within[0] + _START * (within[1] - within[0])


def pin_unit(channel: WiredChannel | OutputChannel) -> str:
    """The unit of the Rule's axis."""
    return channel.driver.unit if isinstance(channel, OutputChannel) else channel.path.pin_unit


def one_count(channel: WiredChannel | OutputChannel) -> float:
    """The signal at the pin that one count stands for, in the pin's unit."""
    return channel.driver.per_count if isinstance(channel, OutputChannel) else channel.path.converter.per_count


def scales_of(job: Job, channel: ContinuousChannel, looked_at: CurveInUse | None = None) -> tuple[Scale, ...]:
    """The scales of a channel from quantity to shown number; identical neighbours are folded into one.

    The quantity is read by the curve in use; while there is none, by the one looked at.
    """
    use = curve_in_use(job, channel) or looked_at
    found = [_quantity(channel, use), *_electrical(channel, landed(job, channel)), _shown(job, channel)]
    return tuple(scale for scale in found if scale is not None)


def fault_zones(channel: ContinuousChannel) -> tuple[tuple[float, float], ...]:
    """The stretches of the axis that the transducer cannot put out, so that only a wire fault reads there."""
    (start, end), (low, high) = axis_of(channel), stated_ends(channel)
    below = () if low is None or low <= start else ((start, low),)
    above = () if high is None or high >= end else ((high, end),)
    return (*below, *above)


def pin_for(scales: tuple[Scale, ...], key: ScaleKey, value: float, near: float) -> float:
    """The signal at the pin at which a scale reads `value`; of several the one nearest `near`.

    Raises: OutOfRange that says why nothing follows.
    """
    scale = next((scale for scale in scales if scale.key == key), None)
    if scale is None:
        raise NotApplicable(f"There is no {key} scale for this channel yet.")
    found = scale.branches(value)
    inside = [pin for pin in found if scale.reads(pin)]
    if inside:
        low, high = scale.usable
        return min(max(min(inside, key=lambda pin: abs(pin - near)), low), high)
    raise OutOfRange(_why_nothing(scales, scale, value, found), found=value)


def _why_nothing(scales: tuple[Scale, ...], scale: Scale, value: float, found: tuple[float, ...]) -> str:
    said = f"{fixed(value, scale.decimals)} {scale.unit}".strip()
    low, high = (scale.text(end) for end in scale.usable)
    stretch = f"Enter {low} to {high} {scale.unit}".strip() + "."
    pin = next(other for other in scales if other.key == "pin")
    if scale.key == "pin":
        return f"{said} is beyond the pin. {stretch}"
    if not found:
        return f"No signal gives {said}. {stretch}"
    needed = f"{fixed(found[0], pin.decimals)} {pin.unit}"
    ends = f"{fixed(pin.usable[0], pin.decimals)} to {fixed(pin.usable[1], pin.decimals)} {pin.unit}"
    if scale.note and pin.reads(found[0]):
        return f"{said} would lie at {needed}, where this scale says nothing: {scale.note}. {stretch}"
    return f"{said} would need {needed}, but the pin takes {ends}. {stretch}"


def quantity_title(channel: ContinuousChannel) -> str:
    """What is measured, in a word or two."""
    quantity = channel.transducer.quantity
    return _QUANTITY_TITLES.get(quantity, quantity.capitalize())


def _quantity(channel: ContinuousChannel, use: CurveInUse | None) -> Scale | None:
    if use is None:
        return None
    return _from_curve(channel, use.curve, "quantity", quantity_title(channel), use.caption)


def _from_curve(channel: ContinuousChannel, curve: Curve, key: ScaleKey, title: str, caption: str) -> Scale:
    usable, note = usable_stretch(curve, axis_of(channel), channel.path.pin_unit)
    step = abs(float(curve.slope(sum(curve.domain) / 2))) * channel.path.converter.per_count
    return Scale(
        key,
        title,
        caption,
        channel.unit,
        decimals_for(step),
        curve.value,
        curve.value,
        curve.branches,
        usable,
        note,
    )


def usable_stretch(curve: Curve, axis: tuple[float, float], unit: str) -> tuple[tuple[float, float], str]:
    """The part of the axis around the curve's domain over which it runs one way, and why it ends if it does."""
    low, high = max(axis[0], curve.limits[0]), min(axis[1], curve.limits[1])
    if not low < high:
        return axis, "the curve says nothing here"
    ends = f"{curve.name} ends" if (low, high) != axis else ""
    turns = curve.with_(domain=(min(low, curve.domain[0]), max(high, curve.domain[1]))).turning_points()
    middle = min(max(sum(curve.domain) / 2, low), high)
    below = max((turn for turn in turns if turn <= middle), default=low)
    above = min((turn for turn in turns if turn > middle), default=high)
    inside = [turn for turn in turns if low < turn < high]
    note = f"it turns at {fixed(inside[0], 3)} {unit}" if inside else ends
    return (max(low, below), min(high, above)), note


def contact_scales(job: Job, channel: TwoStateChannel) -> tuple[Scale, ...]:
    """The scales of a contact: its state, the signal at the contact where that is another, the pin, the counts."""
    return (_state(channel), *_electrical(channel, landed(job, channel)))


def _state(channel: TwoStateChannel) -> Scale:
    def words(pin: float) -> str:
        if abs(pin - channel.threshold) <= channel.dead_band / 2:
            return "as it was"
        return channel.closed_means if channel.state(pin, "open") == "closed" else channel.open_means

    def as_number(pin: Array) -> Array:
        return np.array([float(channel.state(float(one), "open") == "closed") for one in pin])

    closed, opened = channel.pin_levels
    marks = ((closed, channel.closed_means), (channel.threshold, "switches"), (opened, channel.open_means))
    return Scale(
        "state", "State", "by the threshold", "", 0, as_number, as_number, lambda _value: (), axis_of(channel),
        words=words, marks=marks,
    )  # fmt: skip


def output_scales(job: Job, channel: OutputChannel) -> tuple[Scale, ...]:
    """The scales of an output: what it stands for, the signal at its terminal, the count that gives it."""
    driver, axis, place = channel.driver, axis_of(channel), output_landed(job, channel)
    low, high = max(channel.signal_low, axis[0]), min(channel.signal_high, axis[1])
    step = abs(driver.per_count / channel.gain)
    return (
        Scale(
            "quantity", "Wanted", "at its terminal", channel.unit, decimals_for(step),
            lambda pin: values_of(channel, pin), lambda pin: values_of(channel, pin),
            lambda value: (float(signals_for(channel, value)),), (low, high), "its range ends",
        ),
        Scale(
            "pin", f"Pin {place.terminal.title}" if place else "Pin", "given", driver.unit,
            decimals_for(driver.per_count), _same, _same, lambda value: (value,), axis,
        ),
        Scale(
            "counts", "Register", "written", "counts", 0, lambda pin: driver.count_for(pin).astype(float),
            driver.exact_count, lambda value: (float(driver.signal_of(value)),), axis,
        ),
    )  # fmt: skip


def _electrical(channel: WiredChannel, place: Landed | None) -> list[Scale]:
    found = [*_before_pin(channel), _pin(channel, place)]
    if channel.path.pin_unit != "counts":
        found.append(_counts(channel))
    return found


def _before_pin(channel: WiredChannel) -> list[Scale]:
    """The output and every node before the pin at which the signal is another than at the next one."""
    rows = list(channel.path.loaded_stages())
    changing = [n for n, (stage, load_ohm) in enumerate(rows) if not passes_unchanged(stage, load_ohm)]
    return [_node(channel, n) for n in changing]


def _node(channel: WiredChannel, n: int) -> Scale:
    """The scale of what enters the n-th stage; the first one that changes anything is read as the output's."""
    path = channel.path
    around = channel.around if isinstance(channel, ContinuousChannel) else NOMINAL
    stages, loads = path.supplied[n:], path.loads[n:]
    low, high = _bent_stretch(channel) if not all(stage.straight for stage in stages) else axis_of(channel)
    first = not any(not passes_unchanged(*row) for row in list(path.loaded_stages())[:n])
    pins = np.linspace(low, high, 33)[1:-1]
    outputs = backwards(stages, loads, pins, around)
    finite = np.isfinite(outputs)
    steps = np.abs(np.gradient(outputs[finite], pins[finite])) if np.sum(finite) > 1 else np.ones(1)
    return Scale(
        key="output" if first else f"node {n}",
        title=_output_title(channel) if first else path.stages[n - 1].title,
        caption=_OUTPUT_WORDS if first else path.stages[n - 1].caption,
        unit=path.node_units[n],
        decimals=min(decimals_for(float(np.median(steps)) * path.converter.per_count), 4),
        of_pin=lambda pin: backwards(stages, loads, np.clip(pin, low, high), around),
        grade=lambda pin: backwards(stages, loads, np.clip(pin, low, high), around),
        branches=lambda value: (float(forwards(stages, loads, value, around)),),
        usable=(low, high),
    )


def _bent_stretch(channel: WiredChannel) -> tuple[float, float]:
    """The part of the axis on which a bent stage can be read back: a little more than what is described."""
    low, high = axis_of(channel)
    curve = nominal_curve(channel) if isinstance(channel, ContinuousChannel) else None
    margin = _BENT_MARGIN * (high - low)
    if curve is None:
        return low + margin, high - margin
    return max(low, curve.domain[0] - margin), min(high, curve.domain[1] + margin)


def _output_title(channel: WiredChannel) -> str:
    if isinstance(channel, TwoStateChannel):
        return "Contact"
    return "Transmitter" if channel.transducer.output == "current loop" else "Transducer"


def _pin(channel: WiredChannel, place: Landed | None) -> Scale:
    path = channel.path
    return Scale(
        key="pin",
        title=f"Pin {place.terminal.title}" if place else "Pin",
        caption=_pin_caption(channel, place),
        unit=path.pin_unit,
        decimals=decimals_for(path.converter.per_count),
        of_pin=_same,
        grade=_same,
        branches=lambda value: (value,),
        usable=axis_of(channel),
    )


def _counts(channel: WiredChannel) -> Scale:
    converter = channel.path.converter
    return Scale(
        key="counts",
        title="Converter",
        caption=f"{converter.bits} bit",
        unit="counts",
        decimals=0,
        of_pin=lambda pin: converter.count_of(pin).astype(float),
        grade=converter.forward,
        branches=lambda value: (float(converter.inverse(value)),),
        usable=axis_of(channel),
    )


def _pin_caption(channel: WiredChannel, place: Landed | None) -> str:
    if channel.path.pin_unit == "counts":
        return "as read"
    folded = all(passes_unchanged(*row) for row in channel.path.loaded_stages())
    if folded:
        return "the output itself"
    return place.terminal.channel if place and place.terminal.channel else KIND_NAMES[channel.path.pin_unit]


def _same(pin: Array) -> Array:
    return np.asarray(pin, dtype=float)


def _shown(job: Job, channel: ContinuousChannel) -> Scale | None:
    record = kept_packing(job, channel)
    if record is None:
        return None
    steady = curve_in_unit(packed_curve(record.form, channel), record.unit, channel)
    base = _from_curve(channel, steady, "shown", "Controller", record.form.caption)
    free = (max(base.usable[0], steady.domain[0]), min(base.usable[1], steady.domain[1]))
    note = base.note or ("beyond that it is held at its end" if free != base.usable else "")

    def shown(pin: Array) -> Array:
        return np.array(channel.in_unit(shown_of(record.form, channel, pin).tolist(), record.unit))

    return base._replace(of_pin=shown, usable=free, note=note)


def signals_of(scale: Scale) -> Callable[[Array], Array]:
    """What finds where values (n,) stand on the axis, as signals (n,): by 1,025 samples of the scale, read once."""
    pins = np.linspace(*scale.usable, _SAMPLES)
    read = scale.grade(pins)
    if read[0] > read[-1]:
        pins, read = pins[::-1], read[::-1]
    return lambda values: np.asarray(np.interp(values, read, pins))
