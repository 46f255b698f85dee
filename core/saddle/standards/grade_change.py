"""Change of grade along the road, and the speed that it suits without a vertical curve by a table of the standard."""

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.standards.spec import SpeedTable


def speed_for(change_pct: Floats, limits: SpeedTable) -> Floats:
    """Greatest speed of the table that a change of grade suits, km/h; 0 where none does, NaN where it is not known."""
    size = np.abs(np.asarray(change_pct, dtype=float))
    suits = limits.values[None, :] >= size[:, None] - 1e-9
    speed = np.where(suits.any(axis=1), np.where(suits, limits.speeds[None, :], 0).max(axis=1), 0)
    return np.where(np.isnan(size), np.nan, speed)
