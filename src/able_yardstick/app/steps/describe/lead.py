"""What stands at Describe, in a sentence, for each kind of channel."""

from typing import NamedTuple

import numpy as np

from ....core.document.channel import ConstantChannel, ContinuousChannel, TwoStateChannel
from ....core.document.output import OutputChannel
from ....core.document.register_constant import reckon
from ....core.job.job import Job
from ....core.job.nodes import range_pins
from ....core.outputs.giving import given
from ....core.outputs.writers import clashes, followed
from ....core.wire.error_budget import at_ends_and_middle
from ....core.words.errors import YardstickError
from ....core.words.numerals import fixed, significant
from ...panel.lead_box import Headline

_NOT_THIS_ONES = {
    "similar part": "Its figures are a similar part's",
    "assumed": "Where its figures are from was not said",
}


def lead_of_transducer(channel: ContinuousChannel) -> Headline:
    """What the description makes of its range, how well, and what is missing."""
    part = channel.transducer
    if part.rating.kind == "unrated":
        return Headline(
            "open", "Nothing is rated yet.", "Say under Curve what is known of it, or go by readings alone."
        )
    if not channel.tolerance.is_stated:
        return Headline(
            "open", "What error is allowed?", f"{_ends(channel)}. Nothing can be judged before that is said."
        )
    worth = _worth(channel)
    origin = _NOT_THIS_ONES.get(part.source)
    if origin is not None:
        return Headline("look", f"{_ends(channel)}.", f"{origin}. {worth.says}")
    return Headline("ok" if worth.is_enough else "open", f"{_ends(channel)}.", worth.says)


class _Worth(NamedTuple):
    """How good a description is by itself, and whether that is as good as is allowed."""

    is_enough: bool
    says: str


def _ends(channel: ContinuousChannel) -> str:
    """The signals at the pin at both ends of the range."""
    low, high = channel.range
    values = f"{significant(low)} to {significant(high)} {channel.unit}"
    try:
        pins = range_pins(channel)
    except YardstickError:
        return values
    assert pins is not None  # it is rated
    return f"{values} gives {significant(pins[0], 4)} to {significant(pins[1], 4)} {channel.path.pin_unit} at the pin"


def _worth(channel: ContinuousChannel) -> _Worth:
    """How good it is before anything was calibrated, against what is allowed."""
    allowed = float(channel.tolerance.at(max(channel.range, key=abs), channel.span))
    limit = f"±{significant(allowed, 3)} {channel.unit} allowed"
    try:
        most = max(one.expanded for one in at_ends_and_middle(channel))
    except YardstickError as error:
        return _Worth(False, f"{error} There is {limit}.")
    said = f"Before any calibration it is good for ±{significant(most, 3)} {channel.unit} at worst, with {limit}."
    return _Worth(most <= allowed, said if most <= allowed else f"{said} Readings will tell more.")


def lead_of_contact(channel: TwoStateChannel) -> Headline:
    """Where its state changes."""
    closed, opened = channel.pin_levels
    half = channel.dead_band / 2
    unit, means = channel.signal_unit, channel.closed_means
    return Headline(
        "ok",
        f"{means[:1].upper()}{means[1:]} at {significant(closed, 4)}, {channel.open_means} at {significant(opened, 4)} "
        f"{unit}.",
        f"It changes at {fixed(channel.threshold - half, 2)} and {fixed(channel.threshold + half, 2)} {unit} at the "
        "pin; between the two it stays what it was.",
    )


def lead_of_constant(channel: ConstantChannel) -> Headline:
    """What the register gets, or why nothing."""
    if channel.register_constant is None:
        return Headline(
            "ok", f"{fixed(channel.value, channel.decimals)} {channel.unit}".strip() + ".", "No register gets it yet."
        )
    try:
        found = reckon(channel.register_constant)
    except YardstickError as error:
        return Headline("fault", "The register's number cannot be reckoned.", str(error).splitlines()[0])
    wrong = next((field for field in found.fields if not field.agrees), None)
    if wrong is not None:
        return Headline("fault", f"{wrong.name.capitalize()} and formula do not agree.", f"{wrong.says}.")
    whole = f"{found.integer:,}".replace(",", "\u2009")
    return Headline(
        "ok", f"The register gets {whole}, {found.hexadecimal}.", f"Exactly {significant(found.exact, 12)}."
    )


def lead_of_output(job: Job, channel: OutputChannel) -> Headline:
    """What the ends of its range become, and what nobody chose yet."""
    row, unit = given(channel, np.array([channel.value_low, channel.value_high])), channel.driver.unit
    ends = [
        f"{significant(value, 5)} {channel.unit}".strip() + f" is {significant(float(signal), 5)} {unit}, count {count}"
        for value, signal, count in zip(row.wanted, row.delivered, row.counts, strict=True)
    ]
    more = f"{ends[0]}; {ends[1]}."
    source = followed(job, channel)
    if source is not None and channel.dead_input is None:
        return Headline("fault", f"Nobody chose what it does when {source.tag} is dead.", more)
    if any(not clash.settled for clash in clashes(job, channel)):
        return Headline("look", "Two can write it at one moment.", more)
    if not channel.tolerance.is_stated:
        return Headline("open", "No error allowed is stated yet.", more)
    says = "Set by hand." if source is None else f"It gives what {source.tag} is."
    return Headline("ok", says, more)
