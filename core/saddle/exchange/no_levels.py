"""Levels that stand for none: programs write a figure where nothing was measured, and each has its own.

They are found in the data, whatever the format and the spelling: a level that no other is near, and that either many points have
exactly, or that is written with nothing but nines (common practice).
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from saddle.errors import GeometryError
from saddle.exchange.found import Found, NamedSurface, NoLevel
from saddle.geometry.polylines import Bools, Floats
from saddle.terrain.spec import METRES_PER
from saddle.terrain.table import SkippedRow
from saddle.terrain.tin import Tin

#: No other level is nearer to one that stands for none than this, m, nor than this share of the range of the others.
GAP, SHARE = 10.0, 0.3
#: Points that have exactly it, at least, where it is not all nines.
TIMES = 2
#: Different figures for none in one file, at most.
MOST = 6


def levels_of_none(levels: Floats, metres: float = 1.0) -> list[float]:
    """Which of some levels (n,), in the file's unit, which has so many metres, stand for none."""
    found: list[float] = []
    values, counts = np.unique(levels, return_counts=True)
    while len(found) < MOST and len(values) > 2:
        at = next((k for k in (0, -1) if _none(values, counts, k, GAP / metres)), None)
        if at is None:
            break
        found.append(float(values[at]))
        values, counts = np.delete(values, at), np.delete(counts, at)
    return found


def _none(values: Floats, counts: np.ndarray, at: int, gap: float) -> bool:
    """Whether the least or the greatest of sorted values stands for none. gap: GAP in their unit."""
    others = np.delete(values, at)
    apart, span = abs(values[at] - others[at]), float(others[-1] - others[0])
    return bool(apart > max(gap, SHARE * span) and (counts[at] >= TIMES or all_nines(values[at])))


def all_nines(value: float) -> bool:
    """Whether a figure is written with nothing but nines, three of them at least: 9999, -999.99, -99999.000."""
    digits = f"{abs(value):.6f}".rstrip("0").replace(".", "")
    return len(digits) >= 3 and set(digits) == {"9"}


def without_levels_of_none(found: Found, given: Sequence[float] | None, *, zero: bool = True) -> Found:
    """What is found but for points whose level stands for none. given: which levels do, in the file's unit, None for those that are
    found in it; zero: whether 0 may be one of them."""
    unit = METRES_PER[found.unit] if found.unit else 1.0
    table, taken = found.table, [s.tin.points[:, 2] for s in found.surfaces]
    levels = np.concatenate([table.xyz[:, 2], *taken]) / unit
    # Figures come from the file with few decimals: what was multiplied by a unit is rounded back to them.
    levels = np.round(levels, 6)
    none = list(given) if given is not None else [v for v in levels_of_none(levels, unit) if zero or v]
    if not none:
        return found
    stands = np.isin(np.round(table.xyz[:, 2] / unit, 6), np.round(none, 6))
    told = [NoLevel(v, int((levels == round(v, 6)).sum())) for v in none]
    surfaces = [s for s in (_without(s, none, unit) for s in found.surfaces) if s is not None]
    rows = [
        SkippedRow(int(table.row[stands][0]) if stands.any() else 0, f"the level {t.level:g} stands for none: {t.points:,} points have it and are left out")
        for t in told
    ]  # fmt: skip
    return replace(found, table=table.part(~stands), surfaces=surfaces, skipped=[*found.skipped, *rows], none=told)


def _without(surface: NamedSurface, none: Sequence[float], unit: float) -> NamedSurface | None:
    """A surface without the triangles that reach a point without a level, None where nothing is left."""
    gone: Bools = np.isin(np.round(surface.tin.points[:, 2] / unit, 6), np.round(none, 6))
    if not gone.any():
        return surface
    triangles = surface.tin.triangles[~gone[surface.tin.triangles].any(axis=1)]
    try:
        return NamedSurface(surface.name, Tin.of(surface.tin.points, triangles))
    except GeometryError:
        return None
