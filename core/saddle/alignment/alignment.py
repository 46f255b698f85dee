"""The plan line evaluated: points, bearings, curvature, and the way back from a point to chainage and offset.

Bearings run clockwise from north; curvature is positive turning right; offsets are positive to the right.
An element is known by its length and curvature, so a new kind (a clothoid) adds one branch to `_advance`.
"""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.alignment.spec import AlignmentSpec, Arc
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats


@dataclass(frozen=True, slots=True, eq=False)
class Alignment:
    """Elements in arrays of length e, where each starts: chainage, east, north, bearing (rad), and its curvature."""

    chainage: Floats
    length: Floats
    east: Floats
    north: Floats
    bearing: Floats
    curvature: Floats

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
        s = c - self.chainage[e]
        points, bearing = _advance(self.east[e], self.north[e], self.bearing[e], self.curvature[e], s)
        return Frames(c, points, bearing, self.curvature[e])

    def locate(self, points: Floats) -> tuple[Floats, Floats]:
        """Chainage and offset of plan points (n, 2): the nearest foot on the alignment.

        Points beyond the ends, whose foot would lie on the alignment continued, get NaN.
        """
        p = np.asarray(points, dtype=float)
        best_chainage = np.full(len(p), np.nan)
        best_offset = np.full(len(p), np.nan)
        for i in range(len(self.chainage)):
            dx, dy = p[:, 0] - self.east[i], p[:, 1] - self.north[i]
            sin, cos = np.sin(self.bearing[i]), np.cos(self.bearing[i])
            ahead, aside = dx * sin + dy * cos, dx * cos - dy * sin
            k, length = self.curvature[i], self.length[i]
            if k == 0:
                s, offset = ahead, aside
            else:
                # The centre lies at offset 1/k; turn about it, measured from the start radius.
                away = 1 / k - aside
                s = np.arctan2(ahead, away * np.sign(k)) / abs(k)
                turn = 2 * np.pi / abs(k)
                s = np.where(s < (length - turn) / 2, s + turn, s)
                offset = 1 / k - np.sign(k) * np.hypot(ahead, away)
            slack = tolerances.COINCIDENT * 1e3
            here = (s >= -slack) & (s <= length + slack)
            nearer = here & ~(np.abs(offset) >= np.abs(best_offset))
            best_chainage[nearer] = self.chainage[i] + np.clip(s[nearer], 0, length)
            best_offset[nearer] = offset[nearer]
        return best_chainage, best_offset


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


def build(spec: AlignmentSpec) -> Alignment:
    """The alignment of a document. Raises GeometryError for an arc of no radius or more than a full turn."""
    chainage, east, north = spec.start_chainage, spec.start_east, spec.start_north
    bearing = np.radians(spec.start_bearing_deg)
    rows: list[tuple[float, float, float, float, float, float]] = []
    for number, element in enumerate(spec.elements, start=1):
        curvature = 0.0
        if isinstance(element, Arc):
            if abs(element.radius) < 1.0:
                raise GeometryError(
                    f"element {number} is an arc of radius {element.radius:g} m",
                    subject=f"alignment element {number}",
                    hint="give a radius of at least 1 m, negative to turn left",
                )
            if element.length > 2 * np.pi * abs(element.radius):
                raise GeometryError(f"element {number} turns more than a full circle", subject=f"alignment element {number}")
            curvature = 1.0 / element.radius
        rows.append((chainage, element.length, east, north, float(bearing), curvature))
        end, turned = _advance(
            np.array([east]), np.array([north]), np.array([bearing]), np.array([curvature]), np.array([element.length])
        )
        chainage += element.length
        east, north, bearing = float(end[0, 0]), float(end[0, 1]), float(turned[0])
    return Alignment(*(np.array(column) for column in zip(*rows, strict=True)))


def _advance(east: Floats, north: Floats, bearing: Floats, curvature: Floats, s: Floats) -> tuple[Floats, Floats]:
    """Go s metres along elements of constant curvature. Returns points (n, 2) and bearings (n,)."""
    half = curvature * s / 2
    chord = s * np.sinc(half / np.pi)
    heading = bearing + half
    points = np.column_stack([east + chord * np.sin(heading), north + chord * np.cos(heading)])
    return points, bearing + curvature * s


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
