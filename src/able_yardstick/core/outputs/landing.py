"""Which terminal gives an output's signal: those there are, who holds them, and going on and off one."""

from typing import NamedTuple

from ..document.controller import Controller, DriverKind, Landing, Lead, Terminal
from ..document.output import OutputChannel
from ..job.channels import change_channel
from ..job.job import Job
from ..wire.landing import WiringRow, lead_rows
from ..words.errors import NoSuchThing, NotApplicable


class OutputOffer(NamedTuple):
    """An output terminal as it stands for one channel: how it would be set, and who holds it."""

    controller: Controller
    terminal: Terminal
    kind: DriverKind
    holder: str

    @property
    def why_not(self) -> str:
        """Why it cannot be taken; empty where it can."""
        if self.terminal.reserved:
            return f"reserved: {self.terminal.reserved}"
        return f"held by {self.holder}" if self.holder else ""


class OutputPlace(NamedTuple):
    """Where an output is landed, with what that names."""

    controller: Controller
    terminal: Terminal
    kind: DriverKind
    landing: Landing


def output_landed(job: Job, channel: OutputChannel) -> OutputPlace | None:
    """Where an output is landed; None where it is not, or what it names is gone."""
    landing = channel.landing
    if landing is None:
        return None
    try:
        controller = job.controller(landing.controller)
        terminal = controller.terminal(landing.terminal)
        kind = next(kind for kind in terminal.outputs if kind.name == landing.kind)
    except (NoSuchThing, StopIteration):
        return None
    return OutputPlace(controller, terminal, kind, landing)


def output_wiring_rows(job: Job, channel: OutputChannel) -> list[WiringRow]:
    """The wiring list of an output; empty where it is not landed."""
    place = output_landed(job, channel)
    if place is None:
        return []

    def note_of(lead: Lead, terminal: Terminal | None) -> str:
        if terminal is None:
            return "no terminal yet" if not lead.terminal else ""
        return place.kind.name if terminal.id == place.terminal.id else ""

    return lead_rows(channel, place.controller, place.landing, note_of)


def output_offers(job: Job, channel: OutputChannel) -> list[OutputOffer]:
    """Every way that every output terminal can be set; those of the channel's own unit come first."""
    found = [
        OutputOffer(controller, terminal, kind, _holder(job, channel, controller, terminal))
        for controller in job.controllers
        for terminal in controller.terminals
        if terminal.role == "output"
        for kind in terminal.outputs
    ]
    return sorted(found, key=lambda offer: offer.kind.driver.unit != channel.driver.unit)


def _holder(job: Job, channel: OutputChannel, controller: Controller, terminal: Terminal) -> str:
    for other in job.channels:
        landing = other.landing if isinstance(other, OutputChannel) and other.id != channel.id else None
        if landing is not None and (landing.controller, landing.terminal) == (controller.id, terminal.id):
            return other.tag
    return ""


def land_output(job: Job, channel: OutputChannel, offer: OutputOffer) -> Job:
    """The job with an output on a terminal, which brings its driver; a signal of another kind becomes the driver's own.

    Raises: NotApplicable that says who holds it.
    """
    if offer.why_not:
        raise NotApplicable(
            f"{offer.terminal.title} of {offer.controller.name} is {offer.why_not}. Choose a free terminal."
        )
    driver, back = offer.kind.driver, offer.terminal.return_terminal
    landing = Landing(
        controller=offer.controller.id, terminal=offer.terminal.id, kind=offer.kind.name, return_to=back,
        leads=(Lead(function="signal", terminal=offer.terminal.id), Lead(function="return", terminal=back)),
    )  # fmt: skip
    own = {} if driver.unit == channel.driver.unit else {"signal_low": driver.low, "signal_high": driver.high}
    return change_channel(job, channel.with_(landing=landing, driver=driver, **own))


def unland_output(job: Job, channel: OutputChannel) -> Job:
    """The job with an output taken off its terminal; its counts stay as they were."""
    return change_channel(job, channel.with_(landing=None))
