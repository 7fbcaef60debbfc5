"""What a packing needs to know besides the curve and the converter."""

from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from .search.knots import Shared


class Named(NamedTuple):
    """What the texts of a form call the channel, and the units they state."""

    name: str = ""
    about: str = ""
    unit: str = ""
    signal_unit: str = ""


class OutputEnds(NamedTuple):
    """Two signals as the transducer puts them out, and what they are at the pin."""

    unit: str
    outputs: tuple[float, float]
    pins: tuple[float, float]


class Around(NamedTuple):
    """What a packing needs to know besides the curve: limits of the range, curves that share a table, and names.

    `sound` are the signals beyond which something is broken; None where only the curve's own reach tells. `ends` are
    the signals at which a straight line is given, where they are stated at the transducer.
    """

    limits: tuple[float, float] | None = None
    shared: "tuple[Shared, ...]" = ()
    named: Named = Named()
    sound: tuple[float, float] | None = None
    ends: OutputEnds | None = None
