"""Clock times along an axis: at steps that a clock has."""

from datetime import datetime

_STEPS_S = (
    0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200,
    10800, 21600, 43200, 86400, 172800, 604800, 2592000, 7776000, 31536000,
)  # fmt: skip
_DAY_S = 86400.0


def clock_marks(start_wall_s: float, end_wall_s: float, most: int) -> list[tuple[float, str]]:
    """Moments in s since 1970 with their words, at most so many, in local time."""
    step = next((one for one in _STEPS_S if (end_wall_s - start_wall_s) / one <= most), _STEPS_S[-1])
    zone = datetime.fromtimestamp(start_wall_s).astimezone().utcoffset()
    shift = 0.0 if zone is None else zone.total_seconds()
    first = -(-(start_wall_s + shift) // step)
    found = []
    while first * step - shift <= end_wall_s:
        at = first * step - shift
        found.append((at, clock_words(at, step)))
        first += 1
    return found


def clock_words(wall_s: float, step_s: float = 1.0) -> str:
    """A moment as the clock on the wall showed it, as finely as a step needs."""
    when = datetime.fromtimestamp(wall_s)
    if step_s >= _DAY_S:
        return when.strftime("%Y-%m-%d")
    if step_s >= 60:
        return when.strftime("%H:%M")
    if step_s >= 1:
        return when.strftime("%H:%M:%S")
    return when.strftime("%H:%M:%S.%f")[: -3 if step_s < 0.1 else -5]


def length_words(seconds: float) -> str:
    """A length of time: 12.5 s, 3 min 20 s, 2 h 5 min, 3 d 4 h."""
    if seconds < 120:
        return f"{seconds:.4g} s"
    minutes, rest = divmod(round(seconds), 60)
    hours, minutes_left = divmod(minutes, 60)
    if hours >= 48:
        return f"{hours // 24} d {hours % 24} h"
    return f"{hours} h {minutes_left} min" if hours else f"{minutes} min {rest} s"
