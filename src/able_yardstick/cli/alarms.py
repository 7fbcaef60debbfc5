"""Alarms without a window: the counts that trip and clear them, and what each break does to them."""

from typing import TYPE_CHECKING, Any

from .arguments import JobFileArgument, TagArgument
from .output import AsJson, print_json

if TYPE_CHECKING:
    from ..core.alarms.breaks import AlarmBreak
    from ..core.alarms.tripping import Tripping
    from ..core.document.channel import ContinuousChannel


def alarms(job: JobFileArgument, tag: TagArgument, as_json: AsJson = False) -> None:
    """The very counts at which a channel's alarms trip and clear, the true values there, and what breaks do to them."""
    from ..core.alarms.breaks import alarm_breaks
    from ..core.alarms.fault_band import fault_band
    from ..core.alarms.tripping import trippings
    from ..core.words.errors import NotApplicable
    from ..files.jobfile import read_job

    read = read_job(job)
    channel = read.continuous(read.tagged(tag).id)
    if not channel.alarms:
        raise NotApplicable(f"{channel.tag} has no alarms. Enter them at Prove, under Alarms.")
    found, breaks = trippings(read, channel), alarm_breaks(read, channel)
    band = fault_band(channel)
    if as_json:
        print_json(
            {
                "alarms": [_row(one) for one in found],
                "breaks": [one._asdict() for one in breaks],
                "fault_band": None if band is None else band._asdict(),
                "on_fault": channel.fault_rule.on_fault,
            }
        )
        return
    _print(channel, found, breaks)
    if band is not None:
        between = f"{band.low:.4g} to {band.high:.4g} {channel.path.pin_unit}"
        print(f"Beyond {between} is a fault ({band.source}): {channel.fault_rule.on_fault}.")


def _row(one: "Tripping") -> dict[str, Any]:
    return {
        **one.alarm.model_dump(),
        "trips": None if one.trips is None else one.trips._asdict(),
        "clears": None if one.clears is None else one.clears._asdict(),
    }


def _print(channel: "ContinuousChannel", found: "tuple[Tripping, ...]", breaks: "tuple[AlarmBreak, ...]") -> None:
    from ..core.alarms.words import break_words, tripping_words

    for one in found:
        print(tripping_words(one, channel).replace("\n", "\n  "))
    for words in break_words(breaks):
        print(words)
