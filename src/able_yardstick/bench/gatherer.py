"""Goes to a stop by the reference's set point, waits until both are steady, and takes the reading."""

import time

from ..core.channel import ContinuousChannel
from ..core.errors import NoSuchThing
from ..core.gathering import Circumstances, Pair, Watched, reading_of, watch
from ..core.job import Job
from ..core.numerals import significant
from ..core.reading import Reading
from ..core.reference import Reference
from ..core.steady import rule_for
from ..core.stops import Stop
from .errors import NoLink
from .hub import Hub, Live

_STEP_S = 0.1
_NEAR_SHARE = 0.05  # of the span: how near the reference must be to the stop


def instrument_of(job: Job, live: Live | None) -> Reference | None:
    """The reference instrument behind a feed, if the job lists it."""
    wanted = "" if live is None else live.feed.reference
    return next((one for one in job.references if one.id == wanted), None)


def pair_of(raw: Live, reference: Live | None, seconds: float) -> Pair:
    """Both series of the last seconds."""
    if reference is None:
        return Pair(raw.window(seconds), raw.feed.node, raw.feed.unit)
    return Pair(raw.window(seconds), raw.feed.node, raw.feed.unit, reference.window(seconds), reference.feed.unit)


class Gatherer:
    """Takes readings one stop after the other."""

    def __init__(self, hub: Hub, patience_s: float) -> None:
        self._hub, self._patience_s = hub, patience_s

    def at_stop(self, job: Job, channel: ContinuousChannel, stop: Stop, about: Circumstances) -> Reading:
        """Set the stop, wait, take.

        Raises: NoSuchThing without a raw signal or a reference, NoLink if it never steadies.
        """
        raw, reference = self._hub.of_channel(channel.id, "raw"), self._hub.of_channel(channel.id, "reference")
        if raw is None or reference is None:
            raise NoSuchThing(f"{channel.tag} needs a raw signal and a reference among the sources.")
        instrument, rule = instrument_of(job, reference), rule_for(channel)
        began = time.monotonic()
        reference.link.command(reference.feed.name, stop.value)
        watched: Watched | None = None
        while time.monotonic() - began < self._patience_s:
            time.sleep(_STEP_S)
            now = time.monotonic()
            if now - began < rule.window_s:
                continue
            watched = watch(channel, pair_of(raw, reference, 2 * rule.window_s), instrument, rule, now)
            if watched.is_steady and self._is_there(channel, watched, stop):
                shown = self._hub.of_channel(channel.id, "shown")
                value = None if shown is None else shown.latest()
                unit = "" if shown is None else shown.feed.unit
                pair = pair_of(raw, reference, 2 * rule.window_s)
                return reading_of(
                    channel, pair, instrument, (now - rule.window_s, now), about._replace(shown=value, shown_unit=unit)
                )
        why = (watched.reason if watched else "") or reference.link.status.error or "the stop was not reached"
        raise NoLink(
            f"{channel.tag} was not steady at {significant(stop.value)} {channel.unit} within {self._patience_s:g} s: "
            f"{why}. Readings taken so far are kept."
        )

    @staticmethod
    def _is_there(channel: ContinuousChannel, watched: Watched, stop: Stop) -> bool:
        seen = watched.reference.mean if watched.reference is not None else stop.value
        return abs(seen - stop.value) <= _NEAR_SHARE * channel.span
