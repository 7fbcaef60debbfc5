"""Who is wired where: what a terminal takes, which are free, and the list of a sensor's leads."""

from collections.abc import Callable
from typing import Literal, NamedTuple

from ..document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ..document.controller import CHASSIS, Controller, InputKind, Landed, Landing, Lead, TableLayout, Terminal
from ..document.named import NamedChannel
from ..job.job import Job
from ..units.electrical import KIND_NAMES
from ..words.errors import NoSuchThing, NotApplicable
from ..words.numerals import significant

LandingStanding = Literal["free", "taken", "reserved", "shared", "yours"]


class Offer(NamedTuple):
    """A terminal as it stands for one channel: the kind it would be set to, or why it cannot be taken."""

    controller: Controller
    terminal: Terminal
    kind: InputKind | None
    standing: LandingStanding
    holder: str
    why_not: str

    @property
    def can_be_taken(self) -> bool:
        """Whether the channel may land there."""
        return self.kind is not None and self.standing in ("free", "yours")


def landed(job: Job, channel: WiredChannel) -> Landed | None:
    """Where a channel is landed, with all that names; None where it is not, or what it names is gone."""
    landing = channel.landing
    if landing is None:
        return None
    try:
        controller = job.controller(landing.controller)
        terminal = controller.terminal(landing.terminal)
        kind = next(kind for kind in terminal.kinds if kind.name == landing.kind)
        supply = controller.terminal(landing.supply) if landing.supply else None
        back = landing.return_to
        returned = controller.terminal(back) if back and back != CHASSIS else None
    except (NoSuchThing, StopIteration):
        return None
    return Landed(controller, terminal, kind, landing, supply, returned)


def table_place(job: Job, channel: WiredChannel) -> tuple[int, TableLayout] | None:
    """The first register and the layout of the table that scales a channel; None where none is described."""
    if channel.landing is None:
        return None
    try:
        controller = job.controller(channel.landing.controller)
        terminal = controller.terminal(channel.landing.terminal)
    except NoSuchThing:
        return None
    if controller.tables is None or terminal.table_address is None:
        return None
    return terminal.table_address, controller.tables


def wired_channels(job: Job) -> list[WiredChannel]:
    """The channels that have a pin."""
    return [channel for channel in job.channels if isinstance(channel, ContinuousChannel | TwoStateChannel)]


def holder_of(job: Job, controller: str, terminal: str) -> WiredChannel | None:
    """The channel whose signal lands on a terminal, if one does."""
    for channel in wired_channels(job):
        landing = channel.landing
        if landing is not None and (landing.controller, landing.terminal) == (controller, terminal):
            return channel
    return None


def offers(job: Job, channel: WiredChannel) -> list[Offer]:
    """Every input of every controller as it stands for a channel; those that take its signal come first."""
    found = [
        _offer(job, channel, controller, terminal)
        for controller in job.controllers
        for terminal in controller.terminals
        if terminal.role == "input"
    ]
    return sorted(found, key=lambda offer: offer.kind is None)


def _offer(job: Job, channel: WiredChannel, controller: Controller, terminal: Terminal) -> Offer:
    kind = best_kind(channel, terminal)
    why = "" if kind else f"takes {', '.join(one.name for one in terminal.kinds) or 'nothing'}"
    if terminal.reserved:
        return Offer(controller, terminal, kind, "reserved", terminal.reserved, f"reserved: {terminal.reserved}")
    holder = holder_of(job, controller.id, terminal.id)
    if holder is None:
        return Offer(controller, terminal, kind, "free", "", why)
    if holder.id == channel.id:
        return Offer(controller, terminal, kind, "yours", holder.tag, why)
    return Offer(controller, terminal, kind, "taken", holder.tag, f"held by {holder.tag}")


def best_kind(channel: WiredChannel, terminal: Terminal) -> InputKind | None:
    """The way a terminal can be set to read the channel's signal; the narrowest span that holds it.

    A loop ends in the terminal's own burden where it has one, else in a shunt before a voltage input.
    """
    contact = isinstance(channel, TwoStateChannel)
    fitting = [kind for kind in terminal.kinds if kind.contact == contact and _takes(channel, kind)]
    own = [kind for kind in fitting if kind.burden_ohm is not None]
    if own:
        return own[0]
    needed = _needed_span(channel)
    holding = [kind for kind in fitting if kind.converter.low <= needed[0] and kind.converter.high >= needed[1]]
    pool = holding or fitting
    return min(pool, key=lambda kind: kind.converter.high - kind.converter.low) if pool else None


def _takes(channel: WiredChannel, kind: InputKind) -> bool:
    if kind.burden_ohm is not None:
        return channel.path.source == "mA"
    return kind.converter.unit == channel.path.pin_unit


def _needed_span(channel: WiredChannel) -> tuple[float, float]:
    if isinstance(channel, TwoStateChannel):
        low, high = sorted(channel.pin_levels)
        return low, high
    from ..job.nodes import range_pins

    pins = range_pins(channel)
    return (min(pins), max(pins)) if pins else (channel.path.converter.low, channel.path.converter.high)


def landing_on(channel: WiredChannel, offer: Offer) -> Landing:
    """A landing on an offered terminal, with the leads usual for the transducer.

    Raises: NotApplicable that says who holds the terminal, or what it takes.
    """
    terminal, controller = offer.terminal, offer.controller
    if offer.standing in ("taken", "reserved"):
        raise NotApplicable(f"{terminal.title} of {controller.name} is {offer.why_not}. Choose a free terminal.")
    if offer.kind is None:
        raise NotApplicable(
            f"{terminal.title} {offer.why_not}; {channel.tag} gives {KIND_NAMES[channel.path.pin_unit]}. "
            "Choose a terminal that takes it."
        )
    supply = _supply_for(controller, channel)
    kept = channel.landing.with_() if channel.landing else None
    landing = Landing(
        controller=controller.id,
        terminal=terminal.id,
        kind=offer.kind.name,
        supply=supply.id if supply else "",
        return_to=terminal.return_terminal,
        lead_ohm=kept.lead_ohm if kept else 0.0,
        length_m=kept.length_m if kept else 0.0,
    )
    return landing.with_(leads=usual_leads(channel, landing))


def _supply_for(controller: Controller, channel: WiredChannel) -> Terminal | None:
    """The controller's supply nearest to the one the transducer wants, for those that need one."""
    if isinstance(channel, TwoStateChannel) or channel.transducer.output in _UNSUPPLIED:
        return None
    wanted = channel.transducer.supply_v
    supplies = [terminal for terminal in controller.terminals if terminal.role == "supply" and terminal.supply_v]
    return min(supplies, key=lambda terminal: abs((terminal.supply_v or 0) - wanted), default=None)


_UNSUPPLIED = ("millivolts", "resistance", "alternating current")


def usual_leads(channel: WiredChannel, landing: Landing) -> tuple[Lead, ...]:
    """The leads a transducer of this kind has, each on its terminal; colours are for the person to say."""
    signal, back, supply = landing.terminal, landing.return_to, landing.supply
    if isinstance(channel, TwoStateChannel):
        return (Lead(function="contact", terminal=signal), Lead(function="contact return", terminal=back))
    output = channel.transducer.output
    if output == "current loop":
        first = Lead(function="loop +", terminal=supply)
        return (first, Lead(function="loop −", terminal=signal))
    if output == "resistance":
        wires = next((stage.wires for stage in channel.path.stages if stage.kind == "leads"), 2)
        extra = [Lead(function=f"sense {n}", terminal=back) for n in range(1, wires - 1)]
        return (Lead(function="element a", terminal=signal), Lead(function="element b", terminal=back), *extra)
    if output in ("millivolts", "alternating current"):
        return (Lead(function="signal +", terminal=signal), Lead(function="signal −", terminal=back))
    if output == "bridge":
        return (
            Lead(function="excitation +", terminal=supply),
            Lead(function="excitation −", terminal=back),
            Lead(function="signal +", terminal=signal),
            Lead(function="signal −", terminal=back),
        )
    return (
        Lead(function="supply", terminal=supply),
        Lead(function="signal", terminal=signal),
        Lead(function="return", terminal=back),
    )


class WiringRow(NamedTuple):
    """One line of the wiring list."""

    tag: str
    name: str
    function: str
    colour: str
    controller: str
    strip: str
    connector: str
    channel: str
    register: str
    shield: str
    note: str


WIRING_HEADINGS = (
    "Tag", "Measures", "Lead", "Colour", "Controller", "Strip terminal", "Connector pin", "Channel", "Register",
    "Shield", "Note",
)  # fmt: skip


def wiring_rows(job: Job, channel: WiredChannel) -> list[WiringRow]:
    """The wiring list of a channel; empty where it is not landed."""
    place = landed(job, channel)
    if place is None:
        return []
    return lead_rows(channel, place.controller, place.landing, lambda lead, found: _note_of(place, lead, found))


def lead_rows(
    channel: NamedChannel, controller: Controller, landing: Landing, note_of: Callable[[Lead, Terminal | None], str]
) -> list[WiringRow]:
    """A line for each lead of a landing; `note_of` says what is to note of it."""
    rows = []
    for lead in landing.leads:
        terminal = _terminal_or_none(controller, lead.terminal)
        note = note_of(lead, terminal)
        strip = "chassis" if lead.terminal == CHASSIS else terminal.strip if terminal else ""
        rows.append(
            WiringRow(
                channel.tag, channel.name, lead.function, lead.colour, controller.name, strip,
                terminal.connector if terminal else "", terminal.channel if terminal else "",
                terminal.register_address if terminal else "", landing.shield, note,
            )
        )  # fmt: skip
    return rows


def _terminal_or_none(controller: Controller, terminal_id: str) -> Terminal | None:
    try:
        return controller.terminal(terminal_id)
    except NoSuchThing:
        return None


def _note_of(place: Landed, lead: Lead, terminal: Terminal | None) -> str:
    if terminal is None:
        return "" if lead.terminal else "no terminal yet"
    if terminal.id == place.terminal.id:
        words = [place.kind.name]
        if place.terminal.use == "watched only":
            words.append("watched only")
        if place.terminal.factory_meaning:
            words.append(f"the controller calls it {place.terminal.factory_meaning}")
        return ", ".join(words)
    if terminal.role == "supply" and terminal.supply_v is not None:
        return f"{significant(terminal.supply_v)} V out"
    return {"return": "signal ground"}.get(terminal.role, "")
