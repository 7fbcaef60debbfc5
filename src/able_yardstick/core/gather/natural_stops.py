"""References that need no instrument: what a quantity is by nature, and how well that is known."""

from typing import NamedTuple

from ..document.channel import ContinuousChannel
from ..document.reference import Reference
from ..standards.natural import NaturalValue, ice_point, steam_point
from ..units.oxygen import AIR_O2_SHARE
from ..units.quantity import Quantity
from ..words.errors import YardstickError
from ..words.numerals import significant

_NOTHING: dict[Quantity, str] = {
    "gauge pressure": "open to the air",
    "differential pressure": "both ports open",
    "force or mass": "nothing on it",
    "electric current": "no current",
    "voltage": "shorted",
    "flow": "no flow",
}


class NaturalStop(NamedTuple):
    """A state that anybody can bring about, and what the quantity is then."""

    title: str
    value: NaturalValue

    @property
    def words(self) -> str:
        """The state with its value and what is not known of it."""
        doubt = f" ± {significant(2 * self.value.standard_uncertainty, 2)}" if self.value.standard_uncertainty else ""
        return f"{self.title[:1].upper()}{self.title[1:]}: {significant(self.value.value)}{doubt} {self.value.unit}"

    def reference(self, reference_id: str) -> Reference:
        """It, as an instrument that stands for one value."""
        return Reference(
            id=reference_id, name=self.words, unit=self.value.unit, stands_for=self.value.value,
            expanded_uncertainty=2 * self.value.standard_uncertainty, certificate=self.value.says,
        )  # fmt: skip


def natural_stops(channel: ContinuousChannel) -> tuple[NaturalStop, ...]:
    """What nature gives for a channel's quantity; none where it gives nothing."""
    quantity = channel.transducer.quantity
    found = []
    if quantity in _NOTHING:
        title = _NOTHING[quantity]
        found.append(NaturalStop(title, NaturalValue(0.0, channel.unit, 0.0, f"{title}: nought by definition")))
    if quantity == "temperature":
        found.append(NaturalStop("melting ice", ice_point()))
        barometer = channel.conditions.barometer_kpa
        if barometer is not None:
            found.append(NaturalStop("boiling water's steam", steam_point(barometer)))
    if quantity == "oxygen" and channel.fuel.basis == "dry":
        air = NaturalValue(100 * AIR_O2_SHARE, "% O2", 0.005, "dry air, L. Machta and E. Hughes, Science 168 (1970)")
        found.append(NaturalStop("dry air", air))
    return tuple(one for one in found if _can_be_read(channel, one))


def _can_be_read(channel: ContinuousChannel, stop: NaturalStop) -> bool:
    """Whether the value has a counterpart in the channel's unit."""
    try:
        channel.in_unit(stop.value.value, stop.value.unit)
    except YardstickError:
        return False
    return True
