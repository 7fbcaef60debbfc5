"""The evidence for a cause in a sentence, with its numbers."""

from ..stages.base import ohms
from ..words.numerals import fixed, significant
from .case import Case
from .causes import Cause
from .columns.resistance import OPEN_OHM
from .figures import Figures, Texture


def evidence_words(case: Case, cause: Cause) -> str:
    """The evidence for a cause: level, texture, and the tests made, with their numbers."""
    seen, unit = case.evidence, case.channel.path.pin_unit
    figures, expected = seen.signal, seen.expected
    parts = [f"{significant(figures.level, 4)} {unit} at the pin"]
    if expected is not None:
        parts.append(f"{significant(expected.pin, 4)} ± {significant(expected.allowed, 2)} expected")
    parts.append(_texture_words(figures, unit))
    if seen.nudge is not None:
        parts.append(f"nudged, it {seen.nudge.outcome}")
    if seen.meter_v is not None:
        parts.append(f"a meter reads {fixed(seen.meter_v, 3)} V there")
    if seen.supply_v is not None:
        parts.append(f"supply {significant(seen.supply_v, 3)} V")
    if seen.leads_ohm is not None:
        parts.append("no circuit through the leads" if seen.leads_ohm > OPEN_OHM else
                     f"{ohms(float(f'{seen.leads_ohm:.3g}'))} across the leads")  # fmt: skip
    if seen.other is not None:
        parts.append(f"{significant(seen.other[1].level, 4)} {unit} in the state “{seen.other[0].name}”")
    if seen.shown is not None and cause == "wrong unit or scale":
        parts.append(f"the controller shows {significant(seen.shown, 4)} for {significant(seen.reckoned or 0.0, 4)}")
    return ", ".join(parts)


def _texture_words(figures: Figures, unit: str) -> str:
    noise = f"{significant(figures.noise, 2)} {unit}"
    line = figures.line
    words: dict[Texture, str] = {
        "constant": "one single count, without any noise",
        "quiet": f"noise {noise}, within what is specified",
        "noisy": f"noise {noise}, more than specified",
        "wander": f"it wanders by {noise}",
        "ramp": f"it drifts {significant(figures.drift_per_minute, 3)} {unit} a minute",
        "unseen": "its noise was not seen" if figures.samples == 1 else f"spread {noise} of {figures.samples} values",
        "jumps": "it jumps between two levels",
        "impossible counts": "counts that the converter cannot make",
        "line": "" if line is None else
        f"a line at {significant(line.frequency_hz, 3)} Hz, {significant(line.amplitude, 2)} {unit} high",
    }  # fmt: skip
    return words[figures.texture]
