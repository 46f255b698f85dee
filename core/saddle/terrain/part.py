"""A later survey of a part of the road: what it covers is replaced, what lies outside stays, and levels that moved are told along the road."""

from dataclasses import dataclass

import numpy as np
import shapely

from saddle.geometry.polylines import Bools, Floats
from saddle.terrain.spec import CodeList
from saddle.terrain.survey import Survey, kept_part
from saddle.terrain.tin import Tin

#: Moved levels are told by pieces of the road of this length, m; where the road is longer than so many pieces, by longer ones.
PIECE, MOST_PIECES = 10.0, 300
#: A point counts as on an edge of a triangle when it is no farther beyond it than this share of the triangle.
ON_EDGE = 1e-9


@dataclass(frozen=True, slots=True)
class MovedPiece:
    """How levels moved on a piece of the road, later less earlier, m. chainage: of its middle; points: that tell it."""

    chainage: float
    least: float
    mean: float
    greatest: float
    points: int


def level_at(tin: Tin, places: Floats) -> Floats:
    """Level of a surface at plan places (n, 2), (n,), m; NaN beside it."""
    out = np.full(len(places), np.nan)
    of, which = tin.index.query(shapely.points(places))
    a, b, c = (tin.points[tin.triangles[which, k]] for k in range(3))
    p = places[of]
    twice = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    with np.errstate(divide="ignore", invalid="ignore"):
        v = ((p[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (p[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])) / twice
        w = ((b[:, 0] - a[:, 0]) * (p[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (p[:, 0] - a[:, 0])) / twice
    inside = (v >= -ON_EDGE) & (w >= -ON_EDGE) & (v + w <= 1 + ON_EDGE)
    level = a[:, 2] + v * (b[:, 2] - a[:, 2]) + w * (c[:, 2] - a[:, 2])
    out[of[inside]] = level[inside]
    return out


def outside(old: Survey, cover: Tin) -> tuple[Survey, Bools]:
    """What of a survey lies beside a surface in plan, and which points do not (n,). A line that goes through is cut: its piece behind gets
    a name of its own."""
    gone = np.isfinite(level_at(cover, old.xyz[:, :2])) if len(old.number) else np.zeros(0, dtype=bool)
    return kept_part(old, ~gone), gone


def moved_along(old: Survey, cover: Tin, codes: CodeList, chainages: Floats) -> list[MovedPiece]:
    """How the levels of ground points moved where a later surface covers them. chainages: (n,) of the old points, NaN beside the road."""
    rise = level_at(cover, old.xyz[:, :2]) - old.xyz[:, 2]
    found, of = np.unique(old.code, return_inverse=True)
    ground = np.array([codes.rule(str(c)).in_surface for c in found], dtype=bool)[of]
    told = np.flatnonzero(np.isfinite(rise) & np.isfinite(chainages) & ground)
    if len(told) == 0:
        return []
    at, rise = chainages[told], rise[told]
    piece = max(PIECE, float(np.ptp(at)) / MOST_PIECES)
    bins = np.floor((at - at.min()) / piece).astype(int)
    return [
        MovedPiece(float(at.min() + (k + 0.5) * piece), float(r.min()), float(r.mean()), float(r.max()), len(r))
        for k in np.unique(bins)
        for r in [rise[bins == k]]
    ]
