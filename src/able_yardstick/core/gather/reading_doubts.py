"""How far each reading may be trusted, from what was kept with it: its reference, its window, the converter's steps."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.reference import Reference
from ..job.job import Job
from ..journal.reading import Amended, Raw, Reading
from ..path.node import Met
from ..path.pin import pin_per_raw
from ..regression.doubt import Doubts
from ..uncertainty.coverage import Contribution

Array = NDArray[np.float64]
_ALIKE = 1e-9
_STEP_DIVISOR = float(np.sqrt(12))  # of a whole step: the standard deviation of what lies within it


def instrument_of(job: Job, row: Amended) -> Reference | None:
    """The instrument that was read."""
    return next((one for one in job.references if one.id == row.reading.reference_id), None)


def reference_standard(job: Job, channel: ContinuousChannel, row: Amended) -> float | None:
    """The standard uncertainty of a reading's reference, in the channel's unit; None if it is not known."""
    reading, instrument = row.reading, instrument_of(job, row)
    if reading.reference_standard is not None:
        found = channel.step_in_unit(reading.reference_standard, reading.reference_unit)
    else:
        standard = None if instrument is None else instrument.standard_on(reading.captured.date())
        if instrument is None or standard is None:
            return None
        found = channel.step_in_unit(standard, instrument.unit or reading.reference_unit)
    return found if np.isfinite(found) else None


def reference_rows(job: Job, channel: ContinuousChannel, row: Amended) -> tuple[Contribution, ...]:
    """What is not known of a reading's reference, row by row, where its standard uncertainty is known."""
    reading, instrument = row.reading, instrument_of(job, row)
    on = reading.captured.date()
    if reading.reference_standard is not None and not _is_as_now(instrument, reading):
        unit = reading.reference_unit or channel.unit
        gain = channel.step_in_unit(1.0, unit)
        return (Contribution.stated("reference, as stated", reading.reference_standard, 1.0, unit, gain),)
    assert instrument is not None  # its standard uncertainty was known
    unit = instrument.unit or reading.reference_unit or channel.unit
    return instrument.contributions(on, unit, channel.step_in_unit(1.0, unit))


def _is_as_now(instrument: Reference | None, reading: Reading) -> bool:
    """Whether what was kept with a reading is what its instrument's certificate says today, so that its rows are known.

    Within the last digits of the reckoning.
    """
    kept, now = (
        reading.reference_standard,
        None if instrument is None else instrument.standard_on(reading.captured.date()),
    )
    return kept is not None and now is not None and abs(kept - now) <= _ALIKE * now


def half_digit_of(channel: ContinuousChannel, rows: Sequence[Amended]) -> float:
    """Half a step of the last digit that signals were typed with, in the pin's unit; 0 where none was typed.

    Noughts at the end are often left out: of readings met alike the longest tells. A count has the converter's step.
    """
    typed: dict[Met, list[Raw]] = {}
    for row in rows:
        raw = row.reading.raw
        if raw is not None and raw.digit is not None and raw.node != "counts":
            typed.setdefault(raw.met, []).append(raw)
    halves = [
        min(raw.digit for raw in raws if raw.digit) / 2 * pin_per_raw(channel.path, raws[0].mean, met, channel.around)
        for met, raws in typed.items()
    ]
    return float(max(halves, default=0.0))


def doubts_of(channel: ContinuousChannel, rows: tuple[Amended, ...], known: Sequence[float | None]) -> Doubts | None:
    """Standard uncertainties of each reading's reference and signal, (n,) each; None if one reference's is not known.

    `known` are those of the references themselves, in the channel's unit. The mean of a window scatters by its spread
    over the root of its count; the converter's step bounds the rest.
    """
    if not rows or any(one is None for one in known):
        return None
    reference = np.array([float(one or 0.0) for one in known])
    spread = np.array([_reference_spread(channel, row) for row in rows])
    signal = np.array([_signal(channel, row) for row in rows])
    total = np.hypot(reference, spread)
    return Doubts(reference=total, signal=signal) if np.all(total > 0) else None


def _reference_spread(channel: ContinuousChannel, row: Amended) -> float:
    reading = row.reading
    if reading.reference_spread is None or reading.raw is None:
        return 0.0
    own = reading.reference_count or 1  # not the sensor's: the two come at rates of their own
    found = channel.step_in_unit(reading.reference_spread, reading.reference_unit) / np.sqrt(own)
    return float(found) if np.isfinite(found) else 0.0


def _signal(channel: ContinuousChannel, row: Amended) -> float:
    step = channel.path.converter.resolution / _STEP_DIVISOR
    raw = row.reading.raw
    if raw is None or raw.spread is None:
        return step
    return float(
        np.hypot(step, raw.spread * pin_per_raw(channel.path, raw.mean, raw.met, channel.around) / np.sqrt(raw.count))
    )
