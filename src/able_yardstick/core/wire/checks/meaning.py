"""Checks of meaning: where the figures come from, the controller's own range, roots, gauge and absolute, returns."""

from collections.abc import Iterator

import numpy as np

from ...document.controller import CHASSIS
from ...sensor.rating import Root, Zirconia
from ...units.conditions import STANDARD_ATMOSPHERE_KPA
from ...units.conversion import parse_unit
from ...words.errors import YardstickError
from .base import Finding, View, number


def source_of_figures(view: View) -> Iterator[Finding]:
    """Figures that are not of this part."""
    part = view.part
    if part.rating.kind == "unrated":
        return
    if part.source in ("similar part", "assumed"):
        words = "of a similar part" if part.source == "similar part" else "assumed"
        yield Finding(
            "look", "source", f"The rated figures are {words}.", "Gather readings before trusting them.", "quantity"
        )
    else:
        yield Finding("pass", "source", f"Figures from: {part.source}.", node="quantity")


def class_holds(view: View) -> Iterator[Finding]:
    """Whether the tolerance class of a thermometer holds over the range."""
    part = view.part
    ends = np.array([part.range_low, part.range_high])
    if part.accuracy.is_stated or np.all(np.isfinite(part.rating.half_width(ends, part.sheet))):
        return
    yield Finding(
        "look", "class", "The tolerance class does not hold over the whole range.",
        "Narrow the range, state an accuracy of your own, or take another class.", "quantity",
    )  # fmt: skip


def controller_range(view: View) -> Iterator[Finding]:
    """What the controller takes the range to be, against that of the transmitter."""
    channel = view.channel
    stated = channel.controller_range
    if stated is None:
        return
    low, high = channel.range
    unit = channel.controller_unit or channel.unit
    if _mixes_pressures(view, unit):
        yield Finding(
            "fault", "gauge and absolute", f"The controller shows {unit}, the transducer measures "
            f"{view.part.quantity}: they differ by the barometer, about {STANDARD_ATMOSPHERE_KPA:g} kPa.",
            "Use one of the two throughout.", "shown",
        )  # fmt: skip
        return
    try:
        there = channel.in_unit(list(stated), unit)
    except YardstickError as error:
        yield Finding("fault", "controller range", str(error), "Correct the controller's unit.", "shown")
        return
    if abs(there[0] - low) <= 1e-6 * channel.span and abs(there[1] - high) <= 1e-6 * channel.span:
        yield Finding("pass", "controller range", "The controller's range is that of the transmitter.", node="shown")
        return
    if stated[0] > stated[1] and abs(there[1] - low) <= 1e-6 * channel.span:
        yield Finding(
            "fault", "limits swapped", f"The controller's lower limit is {number(stated[0], unit)} and its upper "
            f"{number(stated[1], unit)}: it would count backwards.", "Swap the two.", "shown",
        )  # fmt: skip
        return
    middle = (low + high) / 2
    reads = (there[0] + there[1]) / 2
    yield Finding(
        "fault", "controller range", f"The transmitter is set to {number(low, '')} to {number(high, channel.unit)}, "
        f"the controller to {number(there[0], '')} to {number(there[1], channel.unit)}: at "
        f"{number(middle, channel.unit)} it would show {number(reads, channel.unit)}.",
        "Set both to the same range.", "shown",
    )  # fmt: skip


def _mixes_pressures(view: View, unit: str) -> bool:
    kinds = {"gauge pressure": "gauge", "absolute pressure": "absolute"}
    own = kinds.get(view.part.quantity)
    try:
        written = parse_unit(unit).reference
    except YardstickError:
        return False
    return own is not None and written in ("gauge", "absolute") and written != own


def at_rest(view: View) -> Iterator[Finding]:
    """What a pressure transducer open to the air should put out: gauge and absolute differ by the barometer."""
    channel, part = view.channel, view.part
    if view.curve is None or part.quantity not in ("gauge pressure", "absolute pressure"):
        return
    barometer = channel.conditions.barometer_kpa
    try:
        if part.quantity == "gauge pressure":
            value, words = 0.0, "0, as it measures against the air"
        else:
            kpa = STANDARD_ATMOSPHERE_KPA if barometer is None else barometer
            value = channel.in_unit(kpa, "kPa(a)")[0]
            words = "today's barometer" if barometer is not None else "a standard barometer, as none was measured"
        pin = float(view.curve.signal(value))
    except YardstickError:
        return
    low, high = channel.range
    says = f"Open to the air expect {number(value, channel.unit)} ({words}): {number(pin, view.unit)} at the pin"
    if not low - 1e-9 <= value <= high + 1e-9:
        yield Finding("look", "at rest", f"{says}, outside the range.", "Is it gauge or absolute?", "quantity")
    else:
        yield Finding("pass", "at rest", f"{says}.", node="quantity")


def root(view: View) -> Iterator[Finding]:
    """Who takes the square root of a flow's differential pressure: exactly one must."""
    rating = view.part.rating
    if not isinstance(rating, Root):
        return
    if rating.taken == "not yet":
        yield Finding(
            "fault", "root", "Nobody takes the square root: half the signal would show half the flow instead of 71 %.",
            "Take it in the transmitter, or pack the bent curve into the controller.", "quantity",
        )  # fmt: skip
    elif rating.taken == "in the controller" and view.channel.pack_spec.form != "knots":
        yield Finding(
            "look", "root", "The controller has to take the square root, but the numbers for it are a straight line.",
            "Pack a table of breakpoints, or let the transmitter take the root.", "shown",
        )  # fmt: skip
    else:
        yield Finding("pass", "root", f"The square root is taken {rating.taken}.", node="quantity")


def oxygen_basis(view: View) -> Iterator[Finding]:
    """A cell in the hot gas measures it wet; a fuel stated on dry gas converts it wrongly."""
    if not isinstance(view.part.rating, Zirconia):
        return
    if view.channel.fuel.basis == "dry":
        yield Finding(
            "look", "basis", "A zirconia cell in the gas measures it wet, but the views of oxygen are stated for dry "
            "gas.", "State the oxygen in wet gas.", "quantity",
        )  # fmt: skip
    else:
        yield Finding("pass", "basis", "Measured and stated in wet gas.", node="quantity")


def alternating(view: View) -> Iterator[Finding]:
    """Which mean of an alternating current is meant."""
    part = view.part
    if part.output != "alternating current" and part.quantity != "electric current":
        return
    if part.responds_to == "rectified mean, scaled for a sine":
        yield Finding(
            "look", "mean", "It scales a rectified mean as if every current were a sine: a chopped one reads wrong.",
            "Compare with a true root-mean-square meter.", "quantity",
        )  # fmt: skip
    elif part.responds_to == "instantaneous" and part.output == "alternating current":
        yield Finding(
            "look", "mean", "The output alternates with the current: a slow converter reads only its mean, about 0.",
            "Rectify it, or state what the transducer gives.", "quantity",
        )  # fmt: skip
    else:
        yield Finding("pass", "mean", f"It gives the {part.responds_to} value.", node="quantity")


def landing(view: View) -> Iterator[Finding]:
    """Where the channel is landed, and what the controller makes of that."""
    if view.channel.landing is None:
        yield Finding("look", "terminal", "Not landed on a terminal yet.", "Choose a free one below.")
        return
    place = view.place
    if place is None:
        yield Finding(
            "fault", "terminal", "The terminal it was landed on is no longer in the job.", "Choose another below."
        )
        return
    if place.terminal.reserved:
        yield Finding(
            "fault", "terminal", f"{place.terminal.title} is reserved: {place.terminal.reserved}.", "Move it."
        )
    nominal = view.converter.nominal
    if (nominal.low, nominal.high, nominal.full_count) != (
        place.kind.converter.low, place.kind.converter.high, place.kind.converter.full_count,
    ):  # fmt: skip
        yield Finding(
            "look", "terminal", f"The converter here is not that of {place.terminal.title} ({place.kind.name}).",
            "Land it anew, or keep it if you know better.", "counts",
        )  # fmt: skip
    if not place.landing.enabled:
        yield Finding("look", "terminal", f"{place.terminal.title} is not enabled yet.", "Enable it in the controller.")
    if place.terminal.use == "watched only":
        yield Finding("look", "terminal", f"{place.terminal.title} may be watched, not used for control.")
    if place.terminal.factory_meaning:
        yield Finding(
            "look", "terminal", f"The controller calls {place.terminal.title} “{place.terminal.factory_meaning}”.",
            "Label it where people look.",
        )  # fmt: skip


def return_lead(view: View) -> Iterator[Finding]:
    """Where the return goes: to signal ground, or somewhere that shifts the signal."""
    place = view.place
    if place is None or view.unit not in ("V", "mV"):
        return
    back = place.landing.return_to
    if back == CHASSIS:
        offset_v = place.landing.chassis_offset_mv / 1000
        scale = 1.0 if view.unit == "V" else 1000.0
        wrong = ""
        if view.curve is not None and view.ends is not None:
            wrong = f", {number(view.value_step(view.ends[0], offset_v * scale), view.channel.unit, 3)} either way"
        yield Finding(
            "fault", "return", f"The return goes to chassis instead of signal ground: up to "
            f"{number(place.landing.chassis_offset_mv, 'mV')}{wrong}.",
            f"Land it on {place.terminal.return_terminal or 'the signal ground beside the input'}.",
        )  # fmt: skip
    elif place.return_terminal is None:
        yield Finding("look", "return", "The return is not landed.", "Give it the signal ground beside the input.")
    elif back != place.terminal.return_terminal and place.terminal.return_terminal:
        yield Finding(
            "look", "return", f"The return goes to {place.return_terminal.title}, but {place.terminal.title} is "
            f"measured against {place.terminal.return_terminal}.", "Land it there.",
        )  # fmt: skip
    else:
        yield Finding("pass", "return", f"Return goes to signal ground at {place.return_terminal.title}.")


def polarity(view: View) -> Iterator[Finding]:
    """Leads whose order matters need names that can be seen on the wire."""
    place = view.place
    if place is None or not place.landing.leads:
        return
    unnamed = [lead.function for lead in place.landing.leads if not lead.colour.strip()]
    if not view.part.polarity_matters:
        yield Finding("pass", "polarity", "The leads may be swapped: polarity does not matter.")
    elif unnamed:
        yield Finding(
            "look", "polarity", f"Polarity matters, and {', '.join(unnamed)} has no colour noted.",
            "Note the colours before the wires are covered.",
        )  # fmt: skip
    else:
        yield Finding("pass", "polarity", "Polarity matters; every lead has its colour noted.")


def measured_zero(view: View) -> Iterator[Finding]:
    """A rated zero replaced by a measured one: the other choice differs at the top."""
    zero = view.part.measured_zero
    if zero is None:
        return
    choices = view.part.zero_choices(zero.signal, view.channel.around)
    kept = "slope" if zero.keep == "slope" else "top"
    yield Finding(
        "pass", "zero", f"The zero was measured; the {kept} is kept. The other choice differs by "
        f"{number(abs(choices.at_top), view.part.unit, 3)} at the top.", node="quantity",
    )  # fmt: skip
