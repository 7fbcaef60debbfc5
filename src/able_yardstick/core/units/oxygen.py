"""Oxygen in flue gas as three views of one measurand: percent O2, excess-air ratio, air-fuel ratio.

Complete lean combustion of CH_y with dry air of 20.946 % O2 by volume (L. Machta, E. Hughes, Atmospheric oxygen in
1967 to 1970, Science 168 (1970), 1582-1584; ISO 2533:1975 has 20.948 %; argon counted with the
nitrogen):

    CH_y + L a (O2 + r N2)  ->  CO2 + y/2 H2O + (L - 1) a O2 + L a r N2      a = 1 + y/4

so that the oxygen share of the gas is (L - 1) a / (1 + w y/2 + (L - 1) a + L a r), with w = 1 on a wet basis and
0 on a dry one. It holds for L >= 1 only and tends to that of air as L grows without bound.
"""

from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..words.errors import OutOfRange
from ..words.record import Finite, Frozen

AIR_O2_SHARE = 0.20946
NITROGEN_PER_OXYGEN = (1 - AIR_O2_SHARE) / AIR_O2_SHARE
# Standard atomic weights, IUPAC 2021 (abridged); "nitrogen" of the air with its argon, ISO 2533: 28.157 g/mol
CARBON, HYDROGEN, OXYGEN_GAS, AIR_NITROGEN = 12.011, 1.008, 31.998, 28.157
RICHEST_TRUSTED_LAMBDA = 20.0

OxygenView = Literal["% O2", "lambda", "AFR"]
Array = NDArray[np.float64]


class Fuel(Frozen):
    """A fuel CH_y, and the basis on which oxygen is stated."""

    name: str = "natural gas, taken as methane"
    hydrogen_per_carbon: Finite = Field(default=4.0, ge=0, le=10)
    stated_afr: Finite | None = Field(default=None, gt=1, le=100)
    basis: Literal["dry", "wet"] = "dry"

    @property
    def stoichiometric_afr(self) -> float:
        """Mass of air per mass of fuel at lambda 1: as stated, else from the composition (methane: 17.2)."""
        if self.stated_afr is not None:
            return self.stated_afr
        air_per_fuel = 1 + self.hydrogen_per_carbon / 4
        air_mass = air_per_fuel * (OXYGEN_GAS + NITROGEN_PER_OXYGEN * AIR_NITROGEN)
        return air_mass / (CARBON + HYDROGEN * self.hydrogen_per_carbon)

    def _shares(self) -> tuple[float, float]:
        need = 1 + self.hydrogen_per_carbon / 4
        water = self.hydrogen_per_carbon / 2 if self.basis == "wet" else 0.0
        return need, 1 + water


def oxygen_percent(excess_air: Array, fuel: Fuel) -> Array:
    """Oxygen in % in the gas at an excess-air ratio, shape (n,).

    Raises: OutOfRange below lambda 1, where no oxygen is left and percent O2 says nothing.
    """
    ratio = np.asarray(excess_air, dtype=float)
    if np.any(ratio < 1):
        low = float(ratio.min())
        raise OutOfRange(
            f"lambda {low:.3g} is rich: percent O2 tells nothing below lambda 1. Stay on the lean side.",
            found=low,
        )
    need, products = fuel._shares()
    spare = (ratio - 1) * need
    return np.asarray(100 * spare / (products + spare + ratio * need * NITROGEN_PER_OXYGEN))


def excess_air(percent: Array, fuel: Fuel) -> Array:
    """Excess-air ratio (lambda) from oxygen in %, shape (n,): the inverse of `oxygen_percent`.

    Raises: OutOfRange below 0 % and where lambda passes 20: near the oxygen of air it grows without bound.
    """
    share = np.asarray(percent, dtype=float) / 100
    if np.any(share < 0):
        low = float(share.min()) * 100
        raise OutOfRange(f"{low:.3g} % O2 is below zero: no excess-air ratio belongs to it.", found=low)
    need, products = fuel._shares()
    # share (products - need + L need (1 + r)) = (L - 1) need, solved for L
    below = need * (1 - share * (1 + NITROGEN_PER_OXYGEN))
    ratio = np.divide(need + share * (products - need), below, out=np.full_like(share, np.inf), where=below > 0)
    if np.any(ratio > RICHEST_TRUSTED_LAMBDA):
        high = float(share.max()) * 100
        raise OutOfRange(
            f"{high:.4g} % O2 is too near the {100 * AIR_O2_SHARE:.2f} % of air: lambda grows without bound there. "
            f"Convert only values below lambda {RICHEST_TRUSTED_LAMBDA:g}.",
            found=high,
        )
    return np.asarray(ratio)


def on_other_basis(percent: Array, fuel: Fuel) -> Array:
    """Oxygen in % on the basis that the fuel does not state, from that on the one it does, shape (n,).

    The water of the gas (2 for each CH4) is in one volume and not in the other, the oxygen is the same: with x dry,
    a = 1 + y/4 and r of nitrogen, x / (1 + d (1 - x (1 + r)) / (p + a r)), d being what the other volume has more.
    """
    share = np.asarray(percent, dtype=float) / 100
    need, products = fuel._shares()
    water = fuel.hydrogen_per_carbon / 2
    more = -water if fuel.basis == "wet" else water
    left = 1 - share * (1 + NITROGEN_PER_OXYGEN)
    return np.asarray(100 * share / (1 + more * left / (products + need * NITROGEN_PER_OXYGEN)))


def convert_oxygen(values: Array, source: OxygenView, target: OxygenView, fuel: Fuel) -> Array:
    """`values` of one view in another, shape (n,)."""
    if source == target:
        return np.asarray(values, dtype=float)
    numbers = np.asarray(values, dtype=float)
    if source == "% O2":
        ratio = excess_air(numbers, fuel)
    else:
        ratio = numbers / (fuel.stoichiometric_afr if source == "AFR" else 1.0)
    if target == "% O2":
        return oxygen_percent(ratio, fuel)
    return np.asarray(ratio * (fuel.stoichiometric_afr if target == "AFR" else 1.0))
