"""Change of grade that needs no vertical curve, by design speed.

Source: Austroads AGRD3 (and before it Rural Road Design), table of grade change not requiring a vertical curve; from
memory. 0.5 % at 90 km/h is common practice too.
"""

import numpy as np

from saddle.geometry.polylines import Floats

SPEEDS_KMH = (40, 50, 60, 70, 80, 90, 100, 110, 120)
LIMITS_PCT = (1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2)


def limit_pct(speed_kmh: float) -> float:
    """Greatest change of grade at a speed, %, straight between the table's speeds and held beyond them."""
    return float(np.interp(speed_kmh, SPEEDS_KMH, LIMITS_PCT))


def speed_for(change_pct: Floats) -> Floats:
    """Greatest speed of the table that a change of grade suits, km/h; 0 where none does, NaN where it is not known."""
    size = np.abs(np.asarray(change_pct, dtype=float))
    suits = np.array(LIMITS_PCT)[None, :] >= size[:, None] - 1e-9
    speed = np.where(suits.any(axis=1), np.where(suits, np.array(SPEEDS_KMH)[None, :], 0).max(axis=1), 0)
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
