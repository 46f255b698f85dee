"""A line and a circle through points by least squares of their distances, and the circle through three points."""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats


@dataclass(frozen=True, slots=True, eq=False)
class Line:
    """through, direction: (2,), the centroid and a unit vector; residual: (n,) distance to the left of the direction."""

    through: Floats
    direction: Floats
    residual: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Circle:
    """centre: (2,) m; radius: m; residual: (n,) distance outside the circle, m."""

    centre: Floats
    radius: float
    residual: Floats


def fit_line(points: Floats) -> Line:
    """Orthogonal distance fit: the principal axis through the centroid (Pearson 1901). points: (n, 2), n >= 2."""
    p = np.asarray(points, dtype=float)
    if len(p) < 2 or np.ptp(p, axis=0).max() < 1e-9:
        raise GeometryError("two different points are needed for a line", "points")
    centre = p.mean(axis=0)
    axes = np.linalg.svd(p - centre, full_matrices=False)[2]
    direction = axes[0] if axes[0] @ (p[-1] - p[0]) >= 0 else -axes[0]
    d = p - centre
    return Line(centre, direction, direction[0] * d[:, 1] - direction[1] * d[:, 0])


def circle_through(a: Floats, b: Floats, c: Floats) -> tuple[Floats, float]:
    """Centre (2,) and radius of the circle through three points, computed about the first so that national
    coordinates lose no digits. Raises GeometryError for points on one line."""
    o, u, v = np.asarray(a, dtype=float), np.asarray(b) - a, np.asarray(c) - a
    twice = 2 * (u[0] * v[1] - u[1] * v[0])
    if abs(twice) < 1e-9 * max(float(u @ u), float(v @ v), 1e-12):
        raise GeometryError("the three points lie on one line", "points", "choose points on a curve")
    uu, vv = float(u @ u), float(v @ v)
    centre = np.array([v[1] * uu - u[1] * vv, u[0] * vv - v[0] * uu]) / twice
    return o + centre, float(np.hypot(*centre))


def fit_circle(points: Floats) -> Circle:
    """Geometric fit: least squares of the distances, from an algebraic one (Kasa 1976) as first guess.

    points: (n, 2), n >= 3. Raises GeometryError for points on one line.
    """
    p = np.asarray(points, dtype=float)
    if len(p) < 3:
        raise GeometryError("three points are needed for a circle", "points")
    if len(p) == 3:
        centre, radius = circle_through(*p)
        return Circle(centre, radius, np.zeros(3))
    origin = p.mean(axis=0)
    q = p - origin
    rows = np.column_stack([q, np.ones(len(q))])
    if np.linalg.matrix_rank(rows, tol=1e-6 * float(np.abs(q).max())) < 3:
        raise GeometryError("the points lie on one line", "points", "choose points on a curve")
    x, y, k = np.linalg.lstsq(rows, (q**2).sum(axis=1), rcond=None)[0]
    guess = np.array([x / 2, y / 2, np.sqrt(k + (x * x + y * y) / 4)])
    best = least_squares(lambda v: np.hypot(*(q - v[:2]).T) - v[2], guess, xtol=1e-14, ftol=1e-14, gtol=1e-14)
    return Circle(best.x[:2] + origin, float(best.x[2]), best.fun)
