"""Checks of a contact: two levels, one threshold, and what a break would read like."""

from collections.abc import Iterator

from ...document.channel import TwoStateChannel
from ...job.job import Job
from ...stages import ohms
from ..landing import landed
from .base import Finding, number

_LEAST_MARGIN = 0.1  # of the distance between the levels


def contact_findings(job: Job, channel: TwoStateChannel) -> Iterator[Finding]:
    """What the checks say of a contact."""
    closed, opened = channel.pin_levels
    unit, swing = channel.signal_unit, abs(channel.pin_levels[0] - channel.pin_levels[1])
    margin = min(abs(level - channel.threshold) for level in (closed, opened)) - channel.dead_band / 2
    words = (
        f"Closed {number(closed, unit)}, open {number(opened, unit)}; the state changes at "
        f"{number(channel.threshold - channel.dead_band / 2, unit)} and "
        f"{number(channel.threshold + channel.dead_band / 2, unit)}: {number(margin, unit, 3)} to spare"
    )
    if margin < _LEAST_MARGIN * swing:
        yield Finding("look", "threshold", f"{words}, which is little.", "Put the threshold midway.")
    else:
        yield Finding("pass", "threshold", f"{words}.")
    yield from _limits(channel)
    yield from _pull_up(channel)
    yield from _break(channel)
    if landed(job, channel) is None:
        yield Finding("look", "terminal", "Not landed on a terminal yet.", "Choose a free one below.")


def _limits(channel: TwoStateChannel) -> Iterator[Finding]:
    high = channel.path.converter.safe_high_v
    most = max(channel.pin_levels)
    if high is not None and most > high:
        yield Finding(
            "fault", "pin limit", f"{number(most, channel.signal_unit)} on a pin that survives "
            f"{number(high, channel.signal_unit)}.", "Divide it.",
        )  # fmt: skip
    elif high is not None:
        yield Finding("pass", "pin limit", f"At most {number(most, channel.signal_unit)} on the pin; it survives "
                      f"{number(high, channel.signal_unit)}.")  # fmt: skip


def _pull_up(channel: TwoStateChannel) -> Iterator[Finding]:
    if not channel.needs_pull_up:
        return
    if channel.pull_up is None:
        yield Finding(
            "fault", "pull-up", "A dry contact gives no voltage of its own; nothing pulls it up, so open and closed "
            "read alike.", "Add a pull-up.",
        )  # fmt: skip
    else:
        pull = channel.pull_up
        yield Finding("pass", "pull-up", f"Pulled up by {ohms(pull.resistance_ohm)} to {pull.supply_v:g} V.")


def _break(channel: TwoStateChannel) -> Iterator[Finding]:
    """What an open lead reads like: the level of nothing driving the pin."""
    driven = channel.pull_up is not None
    level = channel.pin_levels[1] if driven else 0.0
    state = channel.state(level, "open")
    means = channel.closed_means if state == "closed" else channel.open_means
    other = channel.open_means if state == "closed" else channel.closed_means
    cure = f"That is right if “{means}” is the alarm. If “{other}” is, take the contact that opens then."
    yield Finding(
        "look" if state == "closed" else "pass", "breaks", f"An open lead reads {number(level, channel.signal_unit)}: "
        f"“{means}”.", cure if state == "closed" else "",
    )  # fmt: skip
