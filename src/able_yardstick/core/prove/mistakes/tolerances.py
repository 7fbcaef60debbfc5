"""What the tolerances of parts may do to all checks at once, where the curve is a data sheet's and not measured."""

import numpy as np
from numpy.typing import NDArray

from ...uncertainty.coverage import ROOT_OF_THREE
from ...wire.error_budget import follows_reference, limited_parts
from .base import CheckPlace, MistakeCase

Array = NDArray[np.float64]
_ROOT_2 = float(np.sqrt(2))


def tolerance_effects(case: MistakeCase, place: CheckPlace) -> Array:
    """One standard uncertainty of each part at all checks, in the channel's unit; shape (n, parts).

    Each is a limit either way, so rectangular (JCGM 100:2008, 4.3.7). A transducer's accuracy may be a shift, or a
    gain about the middle of the range: it counts as both in equal parts.
    """
    none = np.zeros((len(place.values), 0))
    if case.is_measured:
        return none
    columns = [*_accuracy(case, place), *_parts(case, place)]
    columns = [column for column in columns if np.all(np.isfinite(column)) and np.any(column)]
    return np.stack(columns, axis=1) if columns else none


def _accuracy(case: MistakeCase, place: CheckPlace) -> list[Array]:
    channel = case.channel
    part = channel.transducer
    in_sheet = channel.converted(place.values, channel.unit, part.unit)
    half = channel.step_in_unit(1.0, part.unit) * np.asarray(part.half_width(in_sheet))
    low, high = channel.range
    course = (2 * place.values - low - high) / (high - low)
    shift = np.where(np.isfinite(half), half, 0.0) / ROOT_OF_THREE / _ROOT_2
    return [shift, shift * course]


def _parts(case: MistakeCase, place: CheckPlace) -> list[Array]:
    channel = case.channel
    found = []
    for n, part in limited_parts(channel):
        moved = case.through(place.output, {n: {part.name: part.value + part.half_width / ROOT_OF_THREE}})
        found.append(moved - place.sound)
    share = channel.path.converter.reference_tolerance_percent / 100 / ROOT_OF_THREE
    if share and not follows_reference(channel):
        found.append(case.read(place.pin * (1 - share)) - place.sound)
    return found
