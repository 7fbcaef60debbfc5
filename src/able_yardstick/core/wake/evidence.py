"""What was seen of a raw signal, and the tests that can be made of it."""

from typing import Literal, NamedTuple

from .expected import Expected
from .figures import Figures
from .nudge import Nudge

TestName = Literal["nudge", "shown", "meter", "supply", "resistance", "other state", "faster sampling"]
TESTS: tuple[TestName, ...] = ("shown", "nudge", "meter", "supply", "resistance", "other state", "faster sampling")
TEST_WORDS: dict[TestName, str] = {
    "nudge": "Nudge the sensor: disturb it, and see whether the signal moves",
    "shown": "Read what the controller itself shows, in its unit",
    "meter": "Hold a meter to the signal terminal and its return",
    "supply": "Hold a meter to the supply terminal",
    "resistance": "Switch the supply off, take the leads off the terminal, and measure the resistance across them",
    "other state": "Bring the plant into another known state, and look again",
    "faster sampling": "Sample faster: a burst shows what slow sampling folds down",
}


class Evidence(NamedTuple):
    """What was seen. The meter's values are in V and Ω; infinite ohms are an open circuit."""

    signal: Figures
    expected: Expected | None = None
    nudge: Nudge | None = None
    meter_v: float | None = None
    supply_v: float | None = None
    leads_ohm: float | None = None
    other: tuple[Expected, Figures] | None = None
    burst: Figures | None = None
    shown: float | None = None
    reckoned: float | None = None  # what the raw signal comes to, in the channel's unit

    def has(self, test: TestName) -> bool:
        """Whether a test was made."""
        return {
            "nudge": self.nudge, "shown": self.shown, "meter": self.meter_v, "supply": self.supply_v,
            "resistance": self.leads_ohm, "other state": self.other, "faster sampling": self.burst,
        }[test] is not None  # fmt: skip
