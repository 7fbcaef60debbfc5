"""The words and numbers of a channel's card: the last reading with its age, or what is live."""

from datetime import UTC, datetime
from typing import NamedTuple

import numpy as np

from ...core.document.alarm import AlarmKind
from ...core.document.channel import AnyChannel, ConstantChannel, ContinuousChannel, TwoStateChannel
from ...core.document.once import once_per_slice
from ...core.document.output import OutputChannel
from ...core.gather.points import pin_of
from ...core.job.in_force import curve_in_use
from ...core.job.job import Job
from ...core.outputs.proving import output_checks
from ...core.words.errors import YardstickError
from ...core.words.numerals import decimals_for, fixed

_AGES = ((86_400, "d"), (3_600, "h"), (60, "min"))


class CardText(NamedTuple):
    """A value with its unit (empty where words stand for it), the raw signal, and when it was taken, if it was."""

    value: str
    unit: str = ""
    raw: str = ""
    taken: datetime | None = None
    alarms: tuple[AlarmKind, ...] = ()  # those that stand now

    def age(self, now: datetime) -> str:
        """How old the reading is; empty for what is no reading."""
        if self.taken is None:
            return ""
        seconds = (now - self.taken.astimezone(UTC)).total_seconds()
        return next((f"{seconds // size:.0f} {name}" for size, name in _AGES if seconds >= size), "now")


@once_per_slice
def card_text(job: Job, channel: AnyChannel) -> CardText:
    """The words of a channel's card, found once for all that they rest on."""
    try:
        if isinstance(channel, ConstantChannel):
            return CardText(fixed(channel.value, channel.decimals), channel.unit, "no pin")
        if isinstance(channel, TwoStateChannel):
            return CardText("two states", raw=f"{fixed(channel.threshold, 2)} {channel.signal_unit}")
        if isinstance(channel, OutputChannel):
            return _last_given(job, channel)
        return _last_reading(job, channel)
    except YardstickError:
        return CardText("—")


def _last_given(job: Job, channel: OutputChannel) -> CardText:
    """What an output gave when it was last checked, and the meter's signal."""
    checks = output_checks(job, channel)
    driver = channel.driver
    ends = f"{fixed(channel.signal_low, 0)}–{fixed(channel.signal_high, 0)} {driver.unit}"
    if not checks:
        return CardText("an output", raw=ends)
    last, step = checks[-1], abs(driver.per_count / channel.gain)
    raw = f"{fixed(last.signal, decimals_for(driver.per_count))} {driver.unit}"
    return CardText(fixed(last.value, decimals_for(step)), channel.unit, raw, last.row.reading.captured)


def _last_reading(job: Job, channel: ContinuousChannel) -> CardText:
    rows = [*job.amended(channel.id, "gather"), *job.amended(channel.id, "prove")]
    read = [row for row in rows if row.reading.raw is not None]
    if not read:
        return CardText("no reading")
    row = sorted(read, key=lambda row: row.reading.captured)[-1]  # of one second the last to be taken
    return text_at(job, channel, pin_of(channel, row))._replace(taken=row.reading.captured)


def text_at(job: Job, channel: ContinuousChannel, pin: float) -> CardText:
    """The value at a signal at the pin by the curve in use, and that signal."""
    per_count = channel.path.converter.per_count
    raw = f"{fixed(pin, decimals_for(per_count))} {channel.path.pin_unit}"
    use = curve_in_use(job, channel)
    if use is None:
        return CardText("no curve", raw=raw)
    value = float(use.curve.value(pin))
    step = abs(float(use.curve.slope(np.float64(pin)))) * per_count
    meant = max(step, float(channel.tolerance.at(value, channel.span)) / 10)
    return CardText(fixed(value, decimals_for(meant)), channel.unit, raw)
