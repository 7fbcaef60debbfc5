"""What a naming says in words."""

from ...stages.base import MILLI
from ...words.numerals import significant
from .naming import Naming, Suspect

_ALL = 0.9995
_SMALL_V = 0.5


def cause_words(cause: Suspect) -> str:
    """A mistake with its unknown: “124.6 Ω in place of shunt of 250 Ω”."""
    if cause.guess.between is None or not isinstance(cause.value, float):
        return cause.says
    value, unit = cause.value, cause.unit
    if unit == "V" and abs(value) < _SMALL_V:
        value, unit = MILLI * value, "mV"
    return f"{significant(value, 4)} {unit} {cause.says}".replace("  ", " ")


def share_words(share: float) -> str:
    """How much of the errors something explains, in percent."""
    return "all" if share >= _ALL else f"{100 * max(share, 0.0):.3g} %"


def naming_words(naming: Naming, unit: str) -> str:
    """What stands, and whether an uncertainty was assumed for it."""
    said = _what_stands(naming, unit)
    if not naming.assumed:
        return said
    return (
        f"{said} The uncertainty of these checks is not stated: ±{significant(naming.assumed, 2)} {unit} was assumed."
    )


def _what_stands(naming: Naming, unit: str) -> str:
    """Nothing to explain, nothing known that explains it, one mistake, or several alike."""
    if naming.is_sound:
        return "The errors are no larger than chance makes them: there is no mistake to name."
    if not naming.suspects:
        enough = next((one for one in naming.patterns if one.is_enough), None)
        if enough is None:
            return "No known mistake explains these errors alone. There may be two, or one that is not known here."
        share = share_words(enough.explained)
        return f"No known mistake explains these errors; {enough.name} does, with {share} of them."
    first = naming.suspects[0]
    if len(naming.suspects) == 1:
        left = f"{significant(first.left, 2)} {unit}"
        return f"{first.name.capitalize()}: {cause_words(first)}. It alone explains the errors, but for {left} at most."
    names = ", ".join(one.name for one in naming.suspects)
    if naming.next_check is None:
        return f"These cannot be told apart by any check: {names}. Look at each in turn."
    value, apart = significant(naming.next_check.value, 4), significant(naming.next_check.apart, 2)
    tells = f"A check at {value} {unit} tells them apart by up to {apart} {unit}."
    return f"These explain the errors alike: {names}. {tells}"
