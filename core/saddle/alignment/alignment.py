"""The plan line evaluated: points, bearings, curvature, and the way back from a point to chainage and offset.

Bearings run clockwise from north; curvature is positive turning right; offsets are positive to the right.
An element is known by its length and the curvature at both its ends, between which curvature runs straight:
straights, arcs and clothoids are one thing.
"""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats

#: Gauss-Legendre nodes and weights on 0 to 1: exact to rounding for transitions that turn up to about two radians.
_NODES, _WEIGHTS = (0.5 * (a + b) for a, b in zip(np.polynomial.legendre.leggauss(24), (1.0, 0.0), strict=True))


@dataclass(frozen=True, slots=True, eq=False)
class Alignment:
    """Elements in arrays of length e, where each starts: chainage, east, north, bearing (rad), and the curvature at
    its start and end."""

    chainage: Floats
    length: Floats
    east: Floats
    north: Floats
    bearing: Floats
    curvature: Floats
    curvature_end: Floats

    @property
    def start(self) -> float:
        return float(self.chainage[0])

    @property
    def end(self) -> float:
        return float(self.chainage[-1] + self.length[-1])

    def key_chainages(self) -> Floats:
        """Start, end and every tangent point. (e + 1,)"""
        return np.append(self.chainage, self.end)

    def element_at(self, chainages: Floats) -> np.ndarray:
        """Which element holds each chainage; a tangent point belongs to the element after it."""
        found = np.searchsorted(self.chainage, chainages, side="right") - 1
        return np.clip(found, 0, len(self.chainage) - 1)

    def frames(self, chainages: Floats) -> "Frames":
        """Plan frame at each chainage (n,). Raises GeometryError outside the alignment."""
        c = np.asarray(chainages, dtype=float)
        slack = tolerances.CHAINAGE_MERGE
        if c.size and (c.min() < self.start - slack or c.max() > self.end + slack or not np.isfinite(c).all()):
            raise GeometryError(
                f"chainage outside the alignment, which runs from {self.start:.3f} to {self.end:.3f}",
                subject="chainage",
            )
        e = self.element_at(c)
        return Frames(c, *self._walk(e, c - self.chainage[e]))

    def _walk(self, e: np.ndarray, s: Floats) -> tuple[Floats, Floats, Floats]:
        """Points, bearings and curvatures s metres into elements e, all (n,)."""
        rate = (self.curvature_end[e] - self.curvature[e]) / self.length[e]
        points, bearing = _advance(self.east[e], self.north[e], self.bearing[e], self.curvature[e], rate, s)
        return points, bearing, self.curvature[e] + rate * s

    def locate(self, points: Floats) -> tuple[Floats, Floats]:
        """Chainage and offset of plan points (n, 2): the nearest foot on the alignment.

        Points beyond the ends, whose foot would lie on the alignment continued, get NaN.
        """
        p = np.asarray(points, dtype=float)
        best_chainage = np.full(len(p), np.nan)
        best_offset = np.full(len(p), np.nan)
        for i in range(len(self.chainage)):
            along = self._foot_on_arc if self.curvature[i] == self.curvature_end[i] else self._foot_on_clothoid
            s, offset = along(i, p)
            slack = tolerances.COINCIDENT * 1e3
            here = (s >= -slack) & (s <= self.length[i] + slack)
            nearer = here & ~(np.abs(offset) >= np.abs(best_offset))
            best_chainage[nearer] = self.chainage[i] + np.clip(s[nearer], 0, self.length[i])
            best_offset[nearer] = offset[nearer]
        return best_chainage, best_offset

    def _foot_on_arc(self, i: int, p: Floats) -> tuple[Floats, Floats]:
        """Length along element i, a straight or an arc, to the foot of points, and their offset."""
        dx, dy = p[:, 0] - self.east[i], p[:, 1] - self.north[i]
        sin, cos = np.sin(self.bearing[i]), np.cos(self.bearing[i])
        ahead, aside = dx * sin + dy * cos, dx * cos - dy * sin
        k, length = self.curvature[i], self.length[i]
        if k == 0:
            return ahead, aside
        # The centre lies at offset 1/k; turn about it, measured from the start radius.
        away = 1 / k - aside
        s = np.arctan2(ahead, away * np.sign(k)) / abs(k)
        turn = 2 * np.pi / abs(k)
        s = np.where(s < (length - turn) / 2, s + turn, s)
        return s, 1 / k - np.sign(k) * np.hypot(ahead, away)

    def _foot_on_clothoid(self, i: int, p: Floats) -> tuple[Floats, Floats]:
        """The same on a clothoid, by Newton's method from the nearest of a few points along it."""
        length = self.length[i]
        tries = np.linspace(0, length, 9)
        at, _, _ = self._walk(np.full(len(tries), i), tries)
        near = np.hypot(p[:, None, 0] - at[None, :, 0], p[:, None, 1] - at[None, :, 1]).argmin(axis=1)
        s = tries[near]
        offset = np.zeros(len(p))
        for _ in range(12):
            point, bearing, k = self._walk(np.full(len(p), i), s)
            dx, dy = p[:, 0] - point[:, 0], p[:, 1] - point[:, 1]
            ahead = dx * np.sin(bearing) + dy * np.cos(bearing)
            offset = dx * np.cos(bearing) - dy * np.sin(bearing)
            # The foot is where nothing lies ahead; a step over the centre of curvature would run away.
            s = s + ahead / np.maximum(1 - k * offset, 0.05)
            s = np.clip(s, -0.25 * length, 1.25 * length)
        return s, offset


@dataclass(frozen=True, slots=True, eq=False)
class Frames:
    """Where sections stand. chainage (n,), origin (n, 2), bearing (n,) rad, curvature (n,) 1/m right positive."""

    chainage: Floats
    origin: Floats
    bearing: Floats
    curvature: Floats

    @property
    def to_right(self) -> Floats:
        """(n, 2) unit vectors towards positive offsets."""
        return np.column_stack([np.cos(self.bearing), -np.sin(self.bearing)])

    def plan(self, row: np.ndarray | int, offsets: Floats) -> Floats:
        """Plan points of offsets on given rows: row (k,) or one, offsets (k,). Returns (k, 2)."""
        out = self.origin[row] + np.asarray(offsets)[..., None] * self.to_right[row]
        return np.asarray(out)


def end_curvatures(element: Element, number: int = 1) -> tuple[float, float]:
    """Curvature at start and end of an element, 1/m, positive turning right.

    Raises GeometryError for an arc of more than a full turn, or a clothoid that turns back.
    """
    subject = f"alignment element {number}"
    radii: list[float | None] = []
    if isinstance(element, Arc):
        radii = [element.radius, element.radius]
    elif isinstance(element, Clothoid):
        radii = [element.radius_start, element.radius_end]
    if isinstance(element, Arc) and element.length > 2 * np.pi * abs(element.radius):
        raise GeometryError(f"element {number} turns more than a full circle", subject)
    first, last = (1 / r if r else 0.0 for r in radii) if radii else (0.0, 0.0)
    if first * last < 0:
        raise GeometryError(
            f"element {number} is a clothoid that turns both ways",
            subject,
            "split it where it is straight: one into, one out of it",
        )
    if isinstance(element, Clothoid) and abs(first + last) / 2 * element.length > np.pi:
        raise GeometryError(f"element {number} is a clothoid that turns more than half a circle", subject)
    return first, last


def build(spec: AlignmentSpec) -> Alignment:
    """The alignment of a document. Raises GeometryError for elements that cannot be built (see end_curvatures)."""
    pieces = [(e.length, *end_curvatures(e, number)) for number, e in enumerate(spec.elements, start=1)]
    return chained(spec.start_chainage, spec.start_east, spec.start_north, float(np.radians(spec.start_bearing_deg)), pieces)


def chained(chainage: float, east: float, north: float, bearing: float, pieces: list[tuple[float, float, float]]) -> Alignment:
    """An alignment of elements put end to end. bearing: rad; pieces: length and curvature at start and end of each."""
    rows: list[tuple[float, ...]] = []
    for length, first, last in pieces:
        rows.append((chainage, length, east, north, bearing, first, last))
        end, turned = _advance(*(np.array([v]) for v in (east, north, bearing, first, (last - first) / length, length)))
        chainage, east, north, bearing = chainage + length, float(end[0, 0]), float(end[0, 1]), float(turned[0])
    return Alignment(*(np.array(column) for column in zip(*rows, strict=True)))


def _advance(east: Floats, north: Floats, bearing: Floats, curvature: Floats, rate: Floats, s: Floats) -> tuple[Floats, Floats]:
    """Go s metres along elements whose curvature grows by `rate` per metre. Returns points (n, 2) and bearings (n,).

    Where the curvature is constant the chord is exact; elsewhere the direction is integrated.
    """
    half = curvature * s / 2
    chord = s * np.sinc(half / np.pi)
    heading = bearing + half
    points = np.column_stack([east + chord * np.sin(heading), north + chord * np.cos(heading)])
    bends = np.flatnonzero(rate != 0)
    if bends.size:
        t = s[bends, None] * _NODES
        along = bearing[bends, None] + curvature[bends, None] * t + rate[bends, None] / 2 * t**2
        for column, part, start in ((0, np.sin(along), east), (1, np.cos(along), north)):
            points[bends, column] = start[bends] + s[bends] * (part @ _WEIGHTS)
    return points, bearing + curvature * s + rate / 2 * s**2


@dataclass(frozen=True, slots=True)
class CurveElements:
    """Of a circular curve: tangent, arc, external, mid-ordinate and chord lengths, m."""

    tangent: float
    arc: float
    external: float
    mid_ordinate: float
    chord: float


def curve_elements(radius: float, deflection_deg: float) -> CurveElements:
    """Setting-out elements of a circular curve, for any route-surveying textbook's T, L, E, M and C."""
    half = np.radians(deflection_deg) / 2
    return CurveElements(
        tangent=float(radius * np.tan(half)),
        arc=float(2 * radius * half),
        external=float(radius * (1 / np.cos(half) - 1)),
        mid_ordinate=float(radius * (1 - np.cos(half))),
        chord=float(2 * radius * np.sin(half)),
    )
