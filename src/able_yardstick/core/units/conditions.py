"""The circumstances a curve or a stage depends on, passed explicitly, never looked up."""

from ..words.record import Finite, Frozen

STANDARD_ATMOSPHERE_KPA = 101.325  # ISO 2533:1975, table 1


class Conditions(Frozen):
    """What was so around the sensor; None where it was not measured.

    A quantity that is None stands for its nominal value.
    """

    supply_v: Finite | None = None
    cold_junction_c: Finite | None = None
    barometer_kpa: Finite | None = None
    temperature_c: Finite | None = None


NOMINAL = Conditions()
