"""Checks of levels: what the pin gets at full range, at overload and in every break; clipping; span and steps used."""

from collections.abc import Iterator

from ...document.saturation import saturations
from ...stages import Clamp
from .base import Finding, View, number

LEAST_USED = 0.25
LEAST_HEADROOM = 0.03  # of the signal above its rated top: enough to see a transmitter that reports a fault
_AMPLIFIED = ("V", "mV")  # pulses and counts know no gain


def pin_within_limits(view: View) -> Iterator[Finding]:
    """The pin against what it survives, at both range ends and at the overload the transducer survives."""
    low, high = view.converter.safe_low_v, view.converter.safe_high_v
    if view.ends is None or (low is None and high is None) or view.unit not in ("V", "mV"):
        return
    part, unit = view.part, view.unit
    places = [("at the upper range value", part.range_high), ("at the lower range value", part.range_low)]
    if part.overload is not None:
        places.append((f"at the overload of {number(part.overload, part.unit)}", part.overload))
    worst_over = False
    for words, value in places:
        pin = _let_through(view, value)
        if pin is None:
            continue
        if (high is not None and pin > high) or (low is not None and pin < low):
            worst_over = True
            limit = high if high is not None and pin > high else low
            yield Finding(
                "fault", "pin limit", f"{number(pin, unit)} {words}; the pin survives {number(limit or 0, unit)}.",
                "Divide the signal, or add a clamp.",
            )  # fmt: skip
    if not worst_over:
        most = max(pin for words, value in places if (pin := _let_through(view, value)) is not None)
        yield Finding("pass", "pin limit", f"At most {number(most, unit)} on the pin in use; it survives "
                      f"{number(high if high is not None else low or 0, unit)}.")  # fmt: skip


def _let_through(view: View, value: float) -> float | None:
    """The pin at a value as the parts' limits let it through, the output held to its own limits."""
    pin = view.pin_at(value)
    if pin is None:
        return None
    output = view.output_at(pin)
    low, high = view.part.signal_low, view.part.signal_high
    output = min(output, high) if high is not None else output
    output = max(output, low) if low is not None else output
    return view.path.clipped(output, view.channel.around)[-1]


def pin_in_breaks(view: View) -> Iterator[Finding]:
    """The pin against what it survives when any one thing breaks."""
    high = view.converter.safe_high_v
    if high is None:
        if view.unit == "V" and view.part.output in ("current loop", "voltage", "ratiometric voltage"):
            yield Finding(
                "look", "breaks", "What the pin survives is not stated, so breaks cannot be judged.",
                "Land the channel on a terminal, or type the limit under the converter.",
            )  # fmt: skip
        return
    over = [one for one in view.breaks if one.told == "over-voltage"]
    for one in over:
        burns = f" {one.harm}." if one.harm else ""
        yield Finding(
            "fault", "breaks", f"{one.name.capitalize()}: {number(one.pin or 0, view.unit)} on a pin that survives "
            f"{number(high, view.unit)}.{burns}", "Add a clamp with a series resistor, or fuse the loop.",
        )  # fmt: skip
    if not over and view.breaks:
        clamp = next((stage for stage in view.path.stages if isinstance(stage, Clamp)), None)
        why = f", held by the clamp at {clamp.high_v:g} V" if clamp else ""
        yield Finding("pass", "breaks", f"No single break puts more than {number(high, view.unit)} on the pin{why}.")
    for one in view.breaks:
        if one.harm and one.told != "over-voltage":
            yield Finding(
                "fault" if "dangerous" in one.harm else "look", "breaks", f"{one.name.capitalize()}: {one.harm}.",
                "Short the secondary before opening it." if "dangerous" in one.harm else "Fuse the loop.",
            )  # fmt: skip


def clipping(view: View) -> Iterator[Finding]:
    """The signal at both range ends against the limits of every part and of the converter."""
    if view.ends is None:
        return
    clipped = False
    names = ("lower", "upper")
    for which, pin in zip(names, view.ends, strict=True):
        output = view.output_at(pin)
        for finding in _clipped_parts(view, which, output):
            clipped = True
            yield finding
        low, high = view.converter.start, view.converter.end
        slack = view.converter.per_count
        if not low - slack <= pin <= high + slack:
            clipped = True
            end = high if pin > high else low
            yield Finding(
                "fault", "clipping", f"The {which} range value makes {number(pin, view.unit)}; the converter ends at "
                f"{number(end, view.unit)}.", f"{_what_is_lost(view, which)} {_wider(view, pin)}".strip(), "counts",
            )  # fmt: skip
    if not clipped:
        yield Finding("pass", "clipping", "Nothing in the chain is clipped over the range.")


def _what_is_lost(view: View, which: str) -> str:
    """The last value that is read at an end of the range, and the gain that would do."""
    found = next((one for one in saturations(view.channel) if one.end == which), None)
    return "" if found is None else f"{found.says(view.channel.unit)}. {found.cure}".strip()


def _wider(view: View, pin: float) -> str:
    if pin < view.converter.start and view.converter.start >= 0:
        return "Take a bipolar input, or lift the signal."
    return "Lower the gain or the shunt, divide the signal, or take a wider input."


def _clipped_parts(view: View, which: str, output: float) -> Iterator[Finding]:
    own_low, own_high = view.part.signal_low, view.part.signal_high
    if (own_high is not None and output > own_high) or (own_low is not None and output < own_low):
        yield Finding(
            "fault", "clipping", f"The {which} range value needs {number(output, view.path.source)}, beyond what the "
            f"transducer can put out.", "Check the rated points against the signal's limits.", "output",
        )  # fmt: skip
    signal = output
    for n, (stage, load_ohm) in enumerate(view.path.loaded_stages()):
        signal = float(stage.forward(signal, view.channel.around, load_ohm))
        low, high = stage.output_limits
        if not low - 1e-9 <= signal <= high + 1e-9:
            yield Finding(
                "fault", "clipping", f"At the {which} range value the {stage.title.lower()} would have to give "
                f"{number(signal, stage.gives)}; it ends at {number(high if signal > high else low, stage.gives)}.",
                _what_is_lost(view, which) or "Lower its gain, or shift its zero.", f"node {n + 1}",
            )  # fmt: skip


def span_used(view: View) -> Iterator[Finding]:
    """How much of the converter's span the range uses."""
    from ...job.nodes import used_share

    used = used_share(view.channel)
    if used is None:
        return
    low, high = sorted(view.ends or (0.0, 0.0))
    words = f"The range uses {number(low, view.unit)} to {number(high, view.unit)}, {used:.0%} of the converter's span"
    if used < LEAST_USED:
        gain = f"A gain of up to {number(1 / max(used, 1e-6), '', 3)} would use all of it; or take a narrower input."
        cure = gain if view.unit in _AMPLIFIED else "Take an input of a narrower span, or one of more bits."
        yield Finding("look", "span used", f"{words}: below {LEAST_USED:.0%}.", cure, "counts")
    else:
        yield Finding("pass", "span used", f"{words}.", node="counts")


def one_step(view: View) -> Iterator[Finding]:
    """The value of one step of the converter against the resolution that is wanted."""
    if view.ends is None or view.curve is None:
        return
    step = view.converter.resolution
    coarse = max(view.value_step(pin, step) for pin in view.ends)
    window = ""
    if view.converter.window_s is not None and step > view.converter.per_count:
        window = f" (one pulse in a window of {number(view.converter.window_s, 's')})"
    words = f"One step{window} is at most {number(coarse, view.channel.unit, 3)}"
    wanted = view.channel.wanted_resolution
    if wanted is None:
        yield Finding("pass", "resolution", f"{words}; no wanted resolution is stated.", node="counts")
    elif coarse > wanted * (1 + 1e-9):
        cure = "Count over a longer window." if window else "Use more of the span, or take a converter of more bits."
        wide = number(wanted, view.channel.unit)
        yield Finding("look", "resolution", f"{words}, coarser than the {wide} wanted.", cure, "counts")
    else:
        wide = number(wanted, view.channel.unit)
        yield Finding("pass", "resolution", f"{words}; {wide} is wanted.", node="counts")


def headroom(view: View) -> Iterator[Finding]:
    """How much of the signal above its rated top the pin still sees."""
    if view.ends is None or view.path.source not in ("mA", "V", "mV", "mV/V"):
        return
    top = max(view.ends)
    bottom = min(view.ends)
    room = (view.converter.end - top) / (top - bottom) if top > bottom else 0.0
    fails = view.part.signal_high
    unseen = ""
    if fails is not None:
        pin = view.path.clipped(fails, view.channel.around)[-1]
        if pin > view.converter.end:
            unseen = f"; a transducer that fails high, at {number(fails, view.path.source)}, goes unseen"
    if room < LEAST_HEADROOM:
        yield Finding(
            "look", "headroom", f"No headroom: the pin ends {room:.1%} of the span above the rated top{unseen}.",
            _smaller_shunt(view), "pin",
        )  # fmt: skip
    else:
        yield Finding("pass", "headroom", f"The pin sees {room:.0%} of the signal's span above its rated top{unseen}.")


def _smaller_shunt(view: View) -> str:
    from ...stages import Shunt, ohms
    from ...standards.resistors import solve_shunt

    shunt = next((stage for stage in view.path.stages if isinstance(stage, Shunt)), None)
    if shunt is None or view.ends is None or view.converter.end <= 0:
        return "Lower the gain, or take an input of a wider span."
    top_ma = view.output_at(max(view.ends))
    if top_ma <= 0:
        return "Lower the shunt."
    choice = solve_shunt(0.0, top_ma, view.converter.end, headroom=0.2)
    reach = 1000 * view.converter.end / choice.resistance_ohm
    return f"{ohms(choice.resistance_ohm)} would see up to {number(reach, 'mA', 3)}."
