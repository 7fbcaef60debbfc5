"""Sentences that several panels say."""

from ...core.document.channel import ContinuousChannel
from ...core.words.numerals import significant
from ...core.words.tolerance import Tolerance


def tolerance_words(tolerance: Tolerance, unit: str, otherwise: str = "not stated yet") -> str:
    """A tolerance by its parts."""
    parts = [
        (tolerance.constant, 1, unit),
        (tolerance.of_reading, 100, "% of reading"),
        (tolerance.of_span, 100, "% of span"),
    ]
    said = [f"{significant(factor * size)} {words}" for size, factor, words in parts if size]
    return f"±{' + '.join(said)}" if said else otherwise


def tolerance_sentence(channel: ContinuousChannel, tolerance: Tolerance) -> str:
    """What is allowed at both ends of the range."""
    if not tolerance.is_stated:
        return "No error allowed is stated yet, so nothing can pass or fail."
    low, high = channel.range
    at_low, at_high = (float(tolerance.at(end, channel.span)) for end in (low, high))
    if abs(at_low - at_high) < 1e-12 * max(at_low, at_high):
        return f"Allowed: ±{at_low:.4g} {channel.unit} over the whole range."
    return f"Allowed: ±{at_low:.4g} {channel.unit} at {low:g}, ±{at_high:.4g} {channel.unit} at {high:g}."
