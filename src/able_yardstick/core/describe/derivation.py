"""The whole way from output to count, and from a quantity to its count, written out step by step."""

import numpy as np

from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..job.job import Job
from ..job.nodes import end_rows, nodes_of
from ..words.errors import YardstickError
from ..words.numerals import decimals_for, fixed


def derivation(job: Job, channel: ContinuousChannel) -> list[str]:
    """Each step of the sums with its numbers, then the two ends of the range through all of them."""
    part = channel.transducer
    lines = [f"{channel.tag} {channel.name}".strip()]
    try:
        lines.append(f"1. {part.rating.sentence(part.sheet)} ({part.source})")
    except YardstickError as error:
        lines.append(f"1. {error}")
    lines += [f"{n}. {sentence}" for n, sentence in enumerate(channel.path.sentences(channel.around), 2)]
    nodes = nodes_of(job, channel)
    for row in end_rows(job, channel):
        texts = (f"{node.text(value)} {node.unit}".strip() for node, value in zip(nodes, row.values, strict=True))
        lines.append(f"{row.title}: " + " → ".join(texts))
    return [*lines, *([top_sentence(channel)] if top_sentence(channel) else [])]


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
