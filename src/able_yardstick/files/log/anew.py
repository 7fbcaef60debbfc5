"""A stretch of a log reckoned anew with other numbers, from its counts, else from what was shown."""

import numpy as np
from numpy.typing import NDArray

from ...core.document.channel import ContinuousChannel
from ...core.job.pins import counts_of
from ...core.lookout.relogging import Relogged, relogged, relogged_from_shown
from ...core.words.errors import TooFewReadings
from .numbers import values_in_force
from .reader import LogFile


def reckoned_anew(
    log: LogFile, channel: ContinuousChannel, new: NDArray[np.float64], start_s: float = -np.inf, end_s: float = np.inf
) -> Relogged:
    """Old and new values of a channel over a stretch of monotonic time in s; `new` are the values of all counts.

    Raises: NoSuchThing for a channel that was not logged, NotApplicable without old numbers, TooFewReadings.
    """
    known = {(one.feed.tag, one.feed.role) for one in log.series()}
    only_shown = (channel.tag, "raw") not in known and (channel.tag, "shown") in known
    series = log.read(log.of(channel.tag, "shown" if only_shown else "raw"), start_s, end_s)
    old = values_in_force(log, channel)
    if only_shown:
        found = relogged_from_shown(series, old, new, channel.alarms)
    else:
        found = relogged(counts_of(channel, series), old, new, channel.alarms)
    if not len(found.times_s):
        raise TooFewReadings(f"The stretch has no good sample of {channel.tag}.", needed=1, found=0)
    return found
