"""What speaks against a stimulus before it is applied: the transducer, the reference, the input."""

from collections.abc import Iterator

from ..document.channel import ContinuousChannel
from ..document.nominal import nominal_curve
from ..document.reference import Reference
from ..document.stop_plan import Refusal
from ..words.errors import YardstickError
from ..words.numerals import significant


def refusals(channel: ContinuousChannel, value: float, reference: Reference | None) -> tuple[Refusal, ...]:
    """Everything that speaks against taking a channel to a value in its unit; harm first."""
    return tuple(sorted(_each(channel, value, reference), key=lambda refusal: not refusal.is_harm))


def _each(channel: ContinuousChannel, value: float, reference: Reference | None) -> Iterator[Refusal]:
    text = f"{significant(value)} {channel.unit}"
    low, high = channel.range
    overload = channel.transducer.overload
    if overload is not None:
        limit = channel.in_unit(overload, channel.transducer.unit)[0]
        if value > limit:
            yield Refusal(f"{text} is beyond what the transducer survives, {significant(limit)} {channel.unit}", True)
    elif value > high + 0.1 * channel.span and _is_stated(channel):
        yield Refusal(f"{text} is far above the range, and what the transducer survives is not stated", True)
    if value > high or value < low:
        yield Refusal(f"{text} is outside the range, {significant(low)} to {significant(high)} {channel.unit}", False)
    if reference is not None:
        try:
            in_its_unit = _in_reference_unit(channel, value, reference)
            words = reference.refusal(in_its_unit)
        except YardstickError:
            words = ""
        if words:
            yield Refusal(words, True)
    yield from _pin(channel, value)


def _is_stated(channel: ContinuousChannel) -> bool:
    """Whether the range is what somebody stated, and not what a new channel begins with."""
    return nominal_curve(channel) is not None and channel.transducer.source != "assumed"


def _in_reference_unit(channel: ContinuousChannel, value: float, reference: Reference) -> float:

    found = channel.converted(value, channel.unit, reference.unit)
    return float(found.ravel()[0])


def _pin(channel: ContinuousChannel, value: float) -> Iterator[Refusal]:
    """Whether the signal would be more than the input reads, or survives."""
    curve, converter = nominal_curve(channel), channel.path.converter
    if curve is None:
        return
    try:
        pin = float(curve.signal(value))
    except YardstickError:
        return
    unit = channel.path.pin_unit
    high, low = converter.safe_high_v, converter.safe_low_v
    if (high is not None and pin > high) or (low is not None and pin < low):
        yield Refusal(f"{significant(pin, 4)} {unit} would be more than the input survives", True)
    elif not converter.start <= pin <= converter.end:
        yield Refusal(
            f"{significant(pin, 4)} {unit} is beyond what the input reads: the count would stand still", False
        )
