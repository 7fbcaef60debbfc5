"""Alarms of a channel as they are set in its controller, and what that does with a signal that is a fault."""

from itertools import pairwise
from typing import Literal, get_args

from pydantic import Field

from ..words.record import Finite, Frozen

AlarmKind = Literal["low low", "low", "high", "high high"]
ALARM_KINDS: tuple[AlarmKind, ...] = get_args(AlarmKind)
OnFault = Literal["shown as it is", "last value held", "reads low", "reads high"]
ON_FAULT: tuple[OnFault, ...] = get_args(OnFault)

# the bits of a word by which a controller tells which alarms of a channel stand, or that a contact is open
ALARM_BITS: dict[str, int] = {"low low": 1, "low": 2, "high": 4, "high high": 8, "open": 16}


def told_by(word: int) -> frozenset[str]:
    """The alarms that stand by such a word, or "open" for a contact."""
    return frozenset(name for name, bit in ALARM_BITS.items() if word & bit)


class Alarm(Frozen):
    """A limit, in the channel's unit: a high one comes at it or above, and goes below it less the dead band."""

    kind: AlarmKind
    limit: Finite
    dead_band: Finite = Field(default=0.0, ge=0)
    delay_s: Finite = Field(default=0.0, ge=0)

    @property
    def is_high(self) -> bool:
        """Whether it comes as the value rises."""
        return self.kind in ("high", "high high")

    @property
    def clears_at(self) -> float:
        """The value that must be passed for it to go, in the channel's unit."""
        return self.limit - self.dead_band if self.is_high else self.limit + self.dead_band


class FaultRule(Frozen):
    """The signals at the pin that the controller takes for a fault, None where it takes none for one, and what then.

    `stated` says that the two come from the controller; else they follow from the signal itself.
    """

    low: Finite | None = None
    high: Finite | None = None
    stated: bool = False
    on_fault: OnFault = "shown as it is"


def complaint_about(alarms: tuple[Alarm, ...]) -> str:
    """Why alarms cannot stand together; empty where they can."""
    kinds = [alarm.kind for alarm in alarms]
    if len(set(kinds)) < len(kinds):
        return "each alarm can be set once: a second of a kind stands there. Take one of them away"
    known = sorted(alarms, key=lambda one: ALARM_KINDS.index(one.kind))
    for one, other in pairwise(known):
        if not one.limit < other.limit:
            return (
                f"the {one.kind} alarm at {one.limit:g} must lie below the {other.kind} one at {other.limit:g}. "
                "Correct one of the two"
            )
    return ""
