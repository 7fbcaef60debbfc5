"""When a signal stands still: a stated rule over a window, with the reason while it does not.

The slope is that of least squares with its standard error (JCGM 100:2008, H.3); the rule itself is of our own.
"""

from typing import NamedTuple

import numpy as np
from pydantic import Field

from ..document.channel import ContinuousChannel
from ..journal.sample import BAD, Series, still_missing
from ..words.numerals import significant
from ..words.record import Finite, Frozen

_LEAST_SAMPLES = 5
_SLOPE_CLEARNESS = 3.0
_RESPONSES = 3.0
_ROOMY = 1.4  # times the least samples in a window
_LONGEST_S = 600.0


class SteadyRule(Frozen):
    """Steady is what, over `window_s`, moves by less than its noise lets one see, and spreads by less than a limit.

    `spread` is the largest standard deviation allowed, `slope` the largest movement over the window, both in the unit
    watched. A slope that chance alone can make (three standard errors) counts as none, up to `spread`.
    """

    window_s: Finite = Field(default=2.0, gt=0, le=3600)
    spread: Finite = Field(gt=0)
    slope: Finite = Field(gt=0)

    @property
    def words(self) -> str:
        """The rule in a sentence."""
        return (
            f"over {significant(self.window_s, 3)} s: movement under {significant(self.slope, 2)}, "
            f"spread under {significant(self.spread, 2)}"
        )


class Steadiness(NamedTuple):
    """Whether a window is steady, and what is missing; its mean, spread and movement in the unit watched."""

    steady: bool
    reason: str
    mean: float
    spread: float
    movement: float
    samples: int


def rule_for(channel: ContinuousChannel, rate_hz: float = 0.0) -> SteadyRule:
    """The rule for a channel's value, in its unit: a part of the tolerance, or of the span without one.

    Its window is long enough for the samples it needs, at the rate that was measured; 0 where none was.
    """
    allowed = channel.allowed_error() or 0.005 * channel.span
    return rule_of(allowed, channel.transducer.response_s or 0.3, rate_hz)


def rule_of(allowed: float, response_s: float, rate_hz: float) -> SteadyRule:
    """The rule for what may be off by `allowed`, answers within `response_s` and comes at a rate, 0 if not known."""
    filled_s = _ROOMY * _LEAST_SAMPLES / rate_hz if rate_hz > 0 else 0.0
    window_s = min(max(2.0, _RESPONSES * response_s, filled_s), _LONGEST_S)
    return SteadyRule(window_s=window_s, spread=allowed / 2, slope=allowed / 5)


def steadiness(series: Series, rule: SteadyRule, now_s: float | None = None) -> Steadiness:
    """How steady the last window of a series is, its values in the rule's unit. A gap in it spoils the window."""
    end = now_s if now_s is not None else (float(series.times_s[-1]) if len(series) else 0.0)
    window = series.since(end - rule.window_s)
    good = window.good
    if len(good) < _LEAST_SAMPLES:
        return Steadiness(False, still_missing(series, len(good), _LEAST_SAMPLES), np.nan, np.nan, np.nan, len(good))
    mean, spread = float(good.values.mean()), float(good.values.std(ddof=1))
    if (window.states == BAD).any():
        return Steadiness(False, window.spoilt_by, mean, spread, np.nan, len(good))
    if good.length_s < 0.8 * rule.window_s or end - float(good.times_s[-1]) > 0.3 * rule.window_s + 0.5:
        missing = rule.window_s - good.length_s
        return Steadiness(
            False, f"{significant(max(missing, 0.1), 2)} s more to fill the window", mean, spread, np.nan, len(good)
        )
    movement, chance = _movement(good)
    if abs(movement) > max(rule.slope, min(_SLOPE_CLEARNESS * chance, rule.spread)):
        words = f"still {'rising' if movement > 0 else 'falling'}, {significant(abs(movement), 2)} over the window"
        return Steadiness(False, words, mean, spread, movement, len(good))
    if spread > rule.spread:
        return Steadiness(
            False, f"spread {significant(spread, 2)}, allowed {significant(rule.spread, 2)}", mean, spread, movement,
            len(good),
        )  # fmt: skip
    return Steadiness(True, "steady", mean, spread, movement, len(good))


def rate_of(series: Series) -> float | None:
    """How fast the good values of a series move, in its unit a second, by a fitted line; None with fewer than three."""
    good = series.good
    if len(good) < 3 or not good.length_s > 0:
        return None
    return _movement(good)[0] / good.length_s


def _movement(good: Series) -> tuple[float, float]:
    """Movement over the window by a fitted line, and its standard error."""
    times = good.times_s - good.times_s.mean()
    square = float(times @ times)
    slope = float(times @ (good.values - good.values.mean())) / square if square else 0.0
    rest = good.values - good.values.mean() - slope * times
    error = float(np.sqrt(rest @ rest / max(len(good) - 2, 1) / square)) if square else np.inf
    return slope * good.length_s, error * good.length_s
