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


def grades_pct(chainage: Floats, level: Floats) -> tuple[Floats, Floats]:
    """Grade into each section and change of grade at it, %, (n,) each, NaN at the ends and where a level is not known.

    Sections at one chainage have no grade between them.
    """
    d = np.diff(chainage)
    with np.errstate(invalid="ignore", divide="ignore"):
        g = np.where(d > 1e-3, 100 * np.diff(level) / d, np.nan)
    into = np.r_[np.nan, g]
    change = np.r_[np.nan, g[1:] - g[:-1], np.nan] if len(level) > 1 else np.full(len(level), np.nan)
    return into, change
