"""The numbers that a log was taken with."""

import numpy as np
from numpy.typing import NDArray

from ...core.document.channel import ContinuousChannel
from ...core.journal.records import PackRecord
from ...core.lookout.relogging import values_of_form
from ...core.words.errors import NotApplicable
from .reader import LogFile


def values_in_force(log: LogFile, channel: ContinuousChannel) -> NDArray[np.float64]:
    """The values of all counts, (full count + 1,) in the channel's unit, by the numbers in force when a log began.

    Raises: NotApplicable without any.
    """
    rows = [row for row in log.calibrations() if row.channel == channel.id]
    if not rows:
        raise NotApplicable(
            f"No numbers of {channel.tag} were in force when the log began: nothing old to hold new to."
        )
    record = PackRecord.model_validate_json(rows[0].record)
    return values_of_form(record.form, record.unit, channel)
