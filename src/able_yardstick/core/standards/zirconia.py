"""A zirconia cell by Nernst's equation: emf from the oxygen share on its two sides (W. Nernst, Z. phys. Chem. 4, 1889).

E = R T / (4 F) ln(x air / x gas) + E0         R and F as fixed in the SI (CODATA 2018)
"""

import numpy as np
from numpy.typing import NDArray

from ..units.oxygen import AIR_O2_SHARE

Array = NDArray[np.float64]
GAS_CONSTANT, FARADAY = 8.314462618, 96485.33212  # J/(mol K), C/mol
ICE_POINT_K = 273.15
_MILLI = 1000.0


def nernst_mv(cell_c: float) -> float:
    """R T / (4 F) in mV at a cell temperature in °C."""
    return _MILLI * GAS_CONSTANT * (cell_c + ICE_POINT_K) / (4 * FARADAY)


def emf_mv(percent_o2: Array | float, cell_c: float, offset_mv: float = 0.0) -> Array:
    """Emf in mV at percent O2 (wet basis, above 0) in the gas, shape kept."""
    return np.asarray(nernst_mv(cell_c) * np.log(100 * AIR_O2_SHARE / np.asarray(percent_o2, dtype=float)) + offset_mv)


def oxygen_percent(emf: Array | float, cell_c: float, offset_mv: float = 0.0) -> Array:
    """Percent O2 (wet basis) at emfs in mV, shape kept."""
    return np.asarray(100 * AIR_O2_SHARE * np.exp(-(np.asarray(emf, dtype=float) - offset_mv) / nernst_mv(cell_c)))
