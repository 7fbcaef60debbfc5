"""What was recovered in the words of a controller: numbers per unit of signal, and a packing with them."""

import numpy as np

from ...forms.spec import PackSpec
from ...path.converter import Converter
from ...words.errors import NotApplicable
from .candidates import OpenNumber, Recovered
from .pairs import SeenPairs

_HALF = 0.5


def in_signal(found: Recovered, pairs: SeenPairs, converter: Converter) -> tuple[OpenNumber, ...]:
    """A straight form's numbers as it is typed: slope per signal, divisor, values at the ends of the span.

    As a rounding controller has them; one that cuts needs half a step more. None for a table.
    """
    lines, step = found.inside, pairs.step
    if lines is None:
        return ()
    counts_per_signal = converter.counts_at_top / (converter.high - converter.low)
    slope, height = lines.centre
    per = [one * step * counts_per_signal for one in (slope, *lines.slopes)]
    rows = [OpenNumber(f"slope per {converter.unit}", *per)]
    if per[1] * per[2] > 0:
        rows.append(OpenNumber("divisor", 1 / per[0], *sorted((1 / per[1], 1 / per[2]))))
    cut = 0.0 if found.kind == "straight, cut towards 0" else _HALF
    for count, signal in ((0, converter.low), (converter.counts_at_top, converter.high)):
        low, high = lines.at(count)
        rows.append(
            OpenNumber(
                f"value at {signal:g} {converter.unit}", (slope * count + height - cut) * step, (low - cut) * step,
                (high - cut) * step,
            )
        )  # fmt: skip
    return tuple(rows)


def spec_as_found(found: Recovered, pairs: SeenPairs, converter: Converter) -> PackSpec:
    """A packing with what was recovered, in the middle of what is open. Raises: NotApplicable where none takes it.

    A controller that cuts towards 0 has no packing of its own here; a table takes the pairs themselves as knots.
    """
    numbers = {one.name: one.value for one in found.numbers}
    plain = {"decimals": None, "value_step": None}
    if found.kind == "integer ratio":
        given = (("multiplier", numbers["A"]), ("divisor", numbers["B"]), ("constant", numbers["C"]))
        return PackSpec().with_(form="ratio", given=given, value_step=pairs.step, rounding=found.rounding or "nearest")
    if found.kind in ("straight", "held straight"):
        rows = in_signal(found, pairs, converter)
        slope = next(one.value for one in rows if one.name.startswith("slope"))
        offset = next(one.value for one in rows if one.name.startswith("value at")) - slope * converter.low
        limits = {"limit_low": numbers.get("lower limit"), "limit_high": numbers.get("upper limit")}
        return PackSpec().with_(form="slope", given=(("slope", slope), ("offset", offset)), **plain, **limits)
    if found.kind == "table":
        signals = converter.inverse(np.asarray(pairs.counts))
        knots = tuple(zip(signals.tolist(), (pairs.steps * pairs.step).tolist(), strict=True))
        return PackSpec().with_(form="knots", spacing="own", own_knots=knots)
    raise NotApplicable(f"There is no packing that is {found.kind}: note its numbers, and pack a form that is.")
