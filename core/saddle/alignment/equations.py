"""Chainage equations: between the running chainage that everything is computed on and the one that is shown.

Before an equation the running chainage is shown as it is; from `back` on the jump is added. Source: common practice.
"""

from collections.abc import Sequence

import numpy as np

from saddle.alignment.spec import ChainageEquation
from saddle.errors import SaddleError
from saddle.geometry.polylines import Floats


def shown(running: Floats, equations: Sequence[ChainageEquation]) -> Floats:
    """Chainages as they are called. running: (n,) m. The `back` of each equation is a chainage as called before it."""
    out = np.asarray(running, dtype=float).copy()
    jump = 0.0
    for equation in equations:
        after = np.asarray(running) >= equation.back - jump
        jump += equation.ahead - equation.back
        out[after] = np.asarray(running, dtype=float)[after] + jump
    return out


def running(called: float, equations: Sequence[ChainageEquation], start: float, end: float) -> list[float]:
    """Every running chainage within [start, end] that is called so: none in a gap, two where an equation goes back.

    Raises SaddleError where there is none.
    """
    found: list[float] = []
    jump, low = 0.0, -np.inf
    for equation in (*equations, None):
        high = equation.back - jump if equation else np.inf
        candidate = called - jump
        if low <= candidate < high and start <= candidate <= end:
            found.append(candidate)
        if equation:
            low, jump = high, jump + equation.ahead - equation.back
    if not found:
        raise SaddleError(
            f"no place on this alignment is called {called:.3f}",
            "chainage",
            "it lies beyond the ends or in the jump of an equation",
        )
    return found
