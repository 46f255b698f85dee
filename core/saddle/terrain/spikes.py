"""Points that stand out of their surface."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.terrain.tin import Tin

#: A point is pointed out when it lies this far from its neighbours' plane, m, and this many times the usual distance.
SPIKE, TIMES_USUAL = 0.25, 8.0


@dataclass(frozen=True, slots=True)
class Spike:
    """vertex: row of the surface's points; above: from the plane through its neighbours, m, positive above."""

    vertex: int
    east: float
    north: float
    level: float
    above: float


def heights_above_neighbours(tin: Tin) -> Floats:
    """How far every point lies above the least-squares plane through its neighbours, (n,), m; NaN with fewer than
    four neighbours."""
    edges = tin.edges()
    n = len(tin.points)
    a, b = np.concatenate([edges, edges[:, ::-1]]).T
    d = tin.points[b] - tin.points[a]
    columns = np.column_stack([d[:, 0], d[:, 1], np.ones(len(d))])
    normal = np.zeros((n, 3, 3))
    right = np.zeros((n, 3))
    for i in range(3):
        right[:, i] = np.bincount(a, columns[:, i] * d[:, 2], n)
        for j in range(3):
            normal[:, i, j] = np.bincount(a, columns[:, i] * columns[:, j], n)
    count = np.bincount(a, minlength=n)
    # A little stiffness keeps neighbours on one line from making the plane swing.
    stiff = 1e-3 * np.maximum(normal[:, 0, 0] + normal[:, 1, 1], 1e-6)
    normal[:, 0, 0] += stiff
    normal[:, 1, 1] += stiff
    enough = count >= 4
    out = np.full(n, np.nan)
    out[enough] = -np.linalg.solve(normal[enough], right[enough][:, :, None])[:, 2, 0]
    return out


def spikes(tin: Tin, most: int = 100) -> list[Spike]:
    """The points that stand out most, worst first."""
    above = heights_above_neighbours(tin)
    usual = float(np.nanmedian(np.abs(above))) if np.isfinite(above).any() else 0.0
    far = np.flatnonzero(np.abs(above) > max(SPIKE, TIMES_USUAL * usual))
    far = far[np.argsort(-np.abs(above[far]))][:most]
    places = tin.points[far].tolist()
    return [Spike(int(i), e, n, z, float(above[i])) for i, (e, n, z) in zip(far, places, strict=True)]
