"""Goes to a stop by the reference's set point, waits until both are steady, and takes the reading."""

import time

import numpy as np

from ..core.document.channel import ContinuousChannel, PlantState, WiredChannel
from ..core.document.reference import Reference
from ..core.document.stop_plan import Stop, is_at
from ..core.gather.gathering import Circumstances, Watched, WindowPair, reading_of, reference_in_value, watch
from ..core.gather.steady import rule_for
from ..core.job.job import Job
from ..core.journal.reading import Reading
from ..core.words.errors import NoSuchThing
from ..core.words.numerals import significant
from .errors import NoLink
from .hub import Hub, Live

_STEP_S = 0.1
_STATE_S = 2.0


def instrument_of(job: Job, live: Live | None) -> Reference | None:
    """The reference instrument behind a feed, if the job lists it."""
    wanted = "" if live is None else live.feed.reference
    return next((one for one in job.references if one.id == wanted), None)


def state_by_reference(job: Job, channel: WiredChannel, live: Live | None) -> PlantState | None:
    """The state of the plant as the reference beside a channel reads it now; None without a fresh reading."""
    if live is None or not isinstance(channel, ContinuousChannel):
        return None
    window = live.window(_STATE_S).good
    if live.is_stale or not len(window):
        return None
    instrument = instrument_of(job, live)
    values = reference_in_value(channel, window, instrument, live.feed.unit).values
    doubt = 2 * float(values.std()) if len(values) > 1 else 0.0
    if instrument is not None and instrument.expanded_uncertainty is not None:
        doubt += channel.step_in_unit(instrument.expanded_uncertainty, instrument.unit)
    name = f"as {instrument.name if instrument is not None else live.link.spec.name} reads"
    return PlantState(name=name, value=float(values.mean()), within=doubt if np.isfinite(doubt) else 0.0)


def pair_of(raw: Live, reference: Live | None, seconds: float) -> WindowPair:
    """Both series of the last seconds."""
    if reference is None:
        return WindowPair(raw.window(seconds))
    return WindowPair(raw.window(seconds), reference.window(seconds), reference.feed.unit)


def shown_over(live: Live | None, start_s: float, end_s: float) -> float | None:
    """What the controller showed over a window, on the mean; None where nothing came of it."""
    if live is None:
        return None
    good = live.stream.after(start_s).since(start_s, end_s).good.values
    return float(good.mean()) if len(good) else None


def slowest(*feeds: Live | None) -> float:
    """Values a second of the slowest of some feeds; 0 where no rate is known."""
    rates = [feed.rate_hz for feed in feeds if feed is not None]
    return min((rate for rate in rates if rate), default=0.0)


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
        instrument = instrument_of(job, reference)
        began = time.monotonic()
        reference.link.command(reference.feed.name, stop.value)
        watched: Watched | None = None
        while time.monotonic() - began < self._patience_s:
            time.sleep(_STEP_S)
            now = time.monotonic()
            rule = rule_for(channel, slowest(raw, reference))
            if now - began < rule.window_s:
                continue
            watched = watch(channel, pair_of(raw, reference, 2 * rule.window_s), instrument, rule, now)
            if watched.is_steady and is_at(stop, watched.mean, channel.span):
                shown = self._hub.of_channel(channel.id, "shown")
                value = shown_over(shown, now - rule.window_s, now)
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
