"""The whole way from output to count, and from the count to what is shown, written out step by step."""

import numpy as np

from ..curves import Line
from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..job.in_force import curve_in_use, kept_packing
from ..job.job import Job
from ..job.nodes import end_rows, nodes_of
from ..words.errors import YardstickError
from ..words.numerals import decimals_for, fixed, significant
from .spelled import spelled


def derivation(job: Job, channel: ContinuousChannel) -> list[str]:
    """Each step of the sums with its numbers, then the two ends of the range through all of them."""
    part = channel.transducer
    lines = [f"{channel.tag} {channel.name}".strip()]
    try:
        lines.append(f"1. {part.rating.sentence(part.sheet)} ({part.source})")
    except YardstickError as error:
        lines.append(f"1. {error}")
    lines += _measured_zero(channel)
    lines += [f"{n}. {sentence}" for n, sentence in enumerate(channel.path.sentences(channel.around), 2)]
    nodes = nodes_of(job, channel)
    for row in end_rows(job, channel):
        texts = (f"{node.text(value)} {node.unit}".strip() for node, value in zip(nodes, row.values, strict=True))
        lines.append(f"{row.title}: " + " → ".join(texts))
    lines += [top_sentence(channel)] if top_sentence(channel) else []
    return [*lines, *_calibration(job, channel), *_packing(job, channel)]


def _measured_zero(channel: ContinuousChannel) -> list[str]:
    """The line that a measured zero makes of the rated one."""
    part = channel.transducer
    try:
        curve = part.nominal(channel.around)
    except YardstickError:
        return []
    if part.measured_zero is None or not isinstance(curve, Line):
        return []
    offset, slope = curve.powers
    keep, signal = part.measured_zero.keep, significant(part.measured_zero.signal)
    return [
        f"   Its zero was measured at {signal} {part.output_unit}, the {keep} kept: {part.unit} = "
        f"{slope!r} × {part.output_unit} {'−' if offset < 0 else '+'} {abs(offset)!r}"
    ]


def _calibration(job: Job, channel: ContinuousChannel) -> list[str]:
    """The curve in use, from the signal at the pin to the value shown, in full."""
    use = curve_in_use(job, channel)
    if use is None:
        return []
    low, high = use.curve.domain
    pin = channel.path.pin_unit
    head = (
        f"In use, {use.caption}: y in {channel.unit} of x in {pin} at the pin, from {significant(low)} to "
        f"{significant(high)} {pin}:"
    )
    return [head, *spelled(use.curve).lines]


def _packing(job: Job, channel: ContinuousChannel) -> list[str]:
    """The numbers kept for the controller."""
    record = kept_packing(job, channel)
    if record is None:
        return []
    cells = record.form.cells(channel.path.pin_unit, record.unit)
    rows = ["  ".join(str(cell) for cell in row) for row in (cells.headings, *cells.rows)]
    return [f"In the controller, {record.form.title.lower()}:", *rows]


def top_sentence(channel: ContinuousChannel) -> str:
    """What the other convention for the top of the span would change, in the channel's unit."""
    if channel.path.pin_unit == "counts":
        return ""
    converter = channel.path.converter
    other = converter.other_top()
    full = converter.full_count
    signals = [float(part.inverse(full)) for part in (converter, other)]
    words = (
        f"Count {full} stands for {signals[0]:.6g} {converter.unit}; the other way {signals[1]:.6g} {converter.unit}"
    )
    try:
        curve = nominal_curve(channel)
    except YardstickError:
        curve = None
    if curve is None:
        return words + "."
    values = curve.value(np.array(signals))
    step = abs(float(values[1] - values[0]))
    share = 100 * step / channel.span
    decimals = decimals_for(step / 10)
    return f"{words}: a difference of {fixed(step, decimals)} {channel.unit} at the top, {share:.2g} % of span."
