"""A row of stages evaluated one after the other, each loaded by what follows."""

from collections.abc import Mapping, Sequence

import numpy as np

from ..units.conditions import NOMINAL, Conditions
from .base import Array, Stage, StraightStage

Varied = Mapping[int, Mapping[str, Array | float]]
_AS_STATED: Varied = {}


def loads(stages: Sequence[Stage], end_load_ohm: float) -> tuple[float, ...]:
    """What loads each stage, in ohms: the entry of the next one, and `end_load_ohm` behind the last."""
    found = [end_load_ohm]
    for stage in reversed(stages[1:]):
        found.append(stage.entry_ohm(found[-1]))
    return tuple(reversed(found[: len(stages)]))


def forwards(
    stages: Sequence[Stage],
    load_ohms: Sequence[float],
    output: Array | float,
    conditions: Conditions = NOMINAL,
    varied: Varied = _AS_STATED,
) -> Array:
    """What leaves the row, in the last stage's unit, for a transducer output, shape kept; `varied` parts differ."""
    value = np.asarray(output, dtype=float)
    gain, offset = 1.0, 0.0  # of the straight stages met since the value was last worked out: one pass for all of them
    for n, (stage, load_ohm) in enumerate(zip(stages, load_ohms, strict=True)):
        if isinstance(stage, StraightStage) and n not in varied:
            times = stage.factor(load_ohm, conditions)
            gain, offset = gain * times, offset * times + stage.shift(conditions, load_ohm)
        else:
            value = stage.forward(_straight(value, gain, offset), conditions, load_ohm, varied.get(n, {}))
            gain, offset = 1.0, 0.0
    return _straight(value, gain, offset)


def _straight(value: Array, gain: float, offset: float) -> Array:
    if gain == 1.0 and offset == 0.0:
        return value
    found = np.asarray(value * gain)
    if offset:
        found += offset
    return found


def backwards(
    stages: Sequence[Stage], load_ohms: Sequence[float], value: Array | float, conditions: Conditions = NOMINAL
) -> Array:
    """The transducer output, in its unit, for what leaves the row, in that of the last stage; shape kept."""
    output = np.asarray(value, dtype=float)
    for stage, load_ohm in zip(reversed(stages), reversed(load_ohms), strict=True):
        output = stage.inverse(output, conditions, load_ohm)
    return output


def slopes(
    stages: Sequence[Stage], load_ohms: Sequence[float], output: Array | float, conditions: Conditions = NOMINAL
) -> Array:
    """Change leaving the row, in the last stage's unit, per unit of the transducer output, shape kept."""
    value = np.asarray(output, dtype=float)
    total = np.ones(np.shape(value))
    for stage, load_ohm in zip(stages, load_ohms, strict=True):
        total = total * stage.slope(value, conditions, load_ohm)
        value = stage.forward(value, conditions, load_ohm)
    return np.asarray(total)
