"""The linear combination whose largest error is least, by linear programming.

The largest error e is a variable: minimise e with |design c - truth| <= e at every row (E. W. Cheney, Introduction to
Approximation Theory, 1966, ch. 2).
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...words.errors import OutOfRange

Array = NDArray[np.float64]


def closest(design: Any, lowest: Array, highest: Array) -> tuple[Array, float]:
    """Coefficients (p,) of a design (n, p), dense or sparse, and their largest error to truths (n,) that may differ.

    Raises: OutOfRange if the solver finds none.
    """
    from scipy.optimize import linprog  # most of a second to import
    from scipy.sparse import csr_array, hstack, vstack

    rows, columns = design.shape
    design = csr_array(design)
    scale = max(float(np.abs(lowest).max()), float(np.abs(highest).max())) or 1.0
    minus = csr_array(np.full((rows, 1), -1.0))
    # truths and errors as shares, so that the solver's tolerances mean the same for every unit
    table = vstack([hstack([design, minus]), hstack([-design, minus])]).tocsr()
    limit = np.concatenate([lowest, -highest]) / scale
    bounds = [(None, None)] * columns + [(0, None)]
    found = linprog(np.append(np.zeros(columns), 1.0), A_ub=table, b_ub=limit, bounds=bounds, method="highs")
    if found.status != 0 or found.x is None:
        raise OutOfRange(f"No best values could be found: {found.message}", found=float(columns))
    return scale * np.asarray(found.x[:-1]), scale * float(found.x[-1])
