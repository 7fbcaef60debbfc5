"""Where an output's count is written: the link and the register."""

from typing import NamedTuple

from ..document.output import OutputChannel
from ..document.sources import ModbusSource
from ..job.job import Job
from ..words.errors import NotApplicable
from .writers import address_of


class OutputTarget(NamedTuple):
    """The source that speaks to the controller, and the register that the count goes to."""

    source: ModbusSource
    address: int

    def word(self, written: int) -> int:
        """A count as the register holds it, one below 0 in two's complement."""
        return written & 0xFFFF


def output_target(job: Job, channel: OutputChannel) -> OutputTarget:
    """Where an output's count goes. Raises: NotApplicable with what is missing."""
    address = address_of(job, channel)
    if channel.landing is None or address is None:
        raise NotApplicable(
            f"{channel.tag} is on no terminal whose register is described, so its count cannot be sent from here. "
            "Land it at Wire, or enter the count at the controller."
        )
    if channel.driver.top_count > 0xFFFF:
        raise NotApplicable(f"A count up to {channel.driver.top_count} does not fit in one register: enter it there.")
    controller = channel.landing.controller
    sources = (one for one in job.sources if isinstance(one, ModbusSource) and one.controller == controller)
    found = next(sources, None)
    if found is None:
        name = job.controller(controller).name
        raise NotApplicable(
            f"No source speaks to {name}. Add it at Sources (F4), and say there whose registers they are."
        )
    return OutputTarget(found, address)
