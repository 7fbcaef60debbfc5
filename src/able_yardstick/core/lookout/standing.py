"""How a channel stands at one moment, by its signal: a value, a fault by name, an alarm, or nothing to be believed."""

from typing import Literal, NamedTuple

from ..alarms.breaks import alarm_breaks
from ..alarms.fault_band import fault_band
from ..alarms.standing import standing_alarms
from ..document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ..document.once import once_per_slice
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..wire.breaks import Break, breaks_of
from ..words.errors import YardstickError
from ..words.numerals import fixed, significant

StandingKind = Literal["value", "state", "fault", "alarm", "beyond", "apart", "unscaled", "stale"]
_NEAR = 0.01  # of the pin's span: a break's level is told so near
_MANY = 3


class ChannelStanding(NamedTuple):
    """What is so: the kind, a word or two for its row, the sentence behind it, the value in the channel's unit.

    The value is None where none is to be believed; a number that is not scaled is the signal at the pin. `names` is
    what the sentence names beside the channel itself: the sentence is told anew when that changes.
    """

    kind: StandingKind
    words: str
    says: str
    value: float | None = None
    names: str = ""

    @property
    def is_fault(self) -> bool:
        """Whether its number must not be read as one."""
        return self.kind in ("fault", "stale")


_NOTHING = ChannelStanding("stale", "no value", "Nothing comes from its source, or the last value is stale.")


def standing_of(job: Job, channel: WiredChannel, pin: float | None) -> ChannelStanding:
    """How a channel stands at a true signal at the pin, in its unit; None where nothing fresh came."""
    if pin is None:
        return _NOTHING
    try:
        return _of_contact(channel, pin) if isinstance(channel, TwoStateChannel) else _of_value(job, channel, pin)
    except YardstickError as error:
        return ChannelStanding("unscaled", "not scaled", str(error))


def _of_contact(channel: TwoStateChannel, pin: float) -> ChannelStanding:
    if abs(pin - channel.threshold) <= channel.dead_band / 2:
        return ChannelStanding("state", "between", "Between its two thresholds: it stays what it was.")
    state = channel.state(pin, "open")
    means = channel.closed_means if state == "closed" else channel.open_means
    return ChannelStanding("state", means, f"{state.capitalize()}: {means}.", float(state == "open"))


def _of_value(job: Job, channel: ContinuousChannel, pin: float) -> ChannelStanding:
    unit, at = channel.path.pin_unit, f"{significant(pin, 4)} {channel.path.pin_unit}"
    band = fault_band(channel)
    slack = channel.path.converter.per_count
    if band is not None and not band.low - slack <= pin <= band.high + slack:
        return _fault(job, channel, pin, f"{at} is {'below' if pin < band.low else 'above'} what is a value, "
                      f"{significant(band.low, 4)} to {significant(band.high, 4)} {unit} ({band.source}).")  # fmt: skip
    use = curve_in_use(job, channel)
    if use is None:
        return ChannelStanding("unscaled", "not scaled", f"{at}: nothing says what that means.", pin)
    value = float(use.curve.value(pin))
    alarms = standing_alarms(job, channel, pin)
    if alarms:
        limit = next(alarm.limit for alarm in channel.alarms if alarm.kind == alarms[-1])
        says = f"{significant(value, 5)} {channel.unit}, its limit is {significant(limit, 5)}."
        return ChannelStanding("alarm", f"{alarms[-1]} alarm", says, value)
    low, high = sorted(channel.range)
    allowed = channel.allowed_error(value)
    if not low - allowed <= value <= high + allowed:
        side = "below" if value < low else "above"
        says = f"{significant(value, 5)} {channel.unit} is {side} its range, {fixed(low, 0)} to {fixed(high, 0)}."
        return ChannelStanding("beyond", f"{side} range", says, value)
    return ChannelStanding("value", "", "In order.", value)


def _fault(job: Job, channel: ContinuousChannel, pin: float, why: str) -> ChannelStanding:
    """A signal that is no value, by the breaks that read like it; those that would not be told from it together."""
    span = channel.path.converter.end - channel.path.converter.start
    near = [one for one in known_breaks(job, channel) if one.pin is not None and abs(one.pin - pin) <= _NEAR * span]
    names = list(dict.fromkeys(one.name for one in near))
    if not names:
        return ChannelStanding("fault", "fault", why)
    told = f"{', '.join(names[:_MANY])}{' …' if len(names) > _MANY else ''}"
    words = names[0] if len(names) == 1 else f"{names[0]}, or {len(names) - 1} more"
    return ChannelStanding("fault", words, f"{told.capitalize()}: {why}{_lost_alarms(job, channel, names)}")


def _lost_alarms(job: Job, channel: ContinuousChannel, breaks: list[str]) -> str:
    """Which alarms cannot trip while one of some breaks lasts, in a sentence; empty where all can."""
    rows = [row for row in alarm_breaks(job, channel) if row.name in breaks]
    kinds = dict.fromkeys(kind for row in rows for kind in row.cannot)
    if not kinds:
        return ""
    return f" While it lasts its {' and '.join(kinds)} alarm{'s' if len(kinds) > 1 else ''} cannot trip."


@once_per_slice
def known_breaks(job: Job, channel: ContinuousChannel) -> tuple[Break, ...]:
    """Every break of a channel's wiring, reckoned once for all that it rests on."""
    return breaks_of(job, channel)
