"""Intersection points: an alignment as tangents that meet, each corner rounded by clothoid, arc, clothoid.

Source of the formulas: any route-surveying textbook (shift and tangent lengths of a spiralled curve).
"""

import math
from collections.abc import Sequence

import numpy as np

from saddle.alignment.alignment import Frames, build, end_curvatures
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element, Straight
from saddle.documents_base import Document, NotNegative, Number
from saddle.errors import GeometryError

#: A straight, transition or arc shorter than this is left out, m.
SHORTEST = 1e-6


class IntersectionPoint(Document):
    """A corner of the tangents. radius: m, 0 at the two ends; transition_in, transition_out: clothoid lengths, m."""

    east: Number
    north: Number
    radius: NotNegative = 0.0
    transition_in: NotNegative = 0.0
    transition_out: NotNegative = 0.0


def clothoid_elements(radius: float, length: float) -> tuple[float, float, float, float]:
    """Of a clothoid from straight to radius (m, positive): x, y of its end, shift dR and abscissa of the centre xm, m."""
    if length == 0:
        return 0.0, 0.0, 0.0, 0.0
    line = build(
        AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Clothoid(length=length, radius_end=radius)])
    )
    (y, x), tau = line.frames(np.array([length])).origin[0], length / (2 * radius)
    return float(x), float(y), float(y - radius * (1 - math.cos(tau))), float(x - radius * math.sin(tau))


def tangent_lengths(radius: float, deflection: float, transition_in: float, transition_out: float) -> tuple[float, float]:
    """From the IP back to the start and on to the end of the curve, m. deflection: rad, positive.

    T1 = xm1 + (R + dR2 - (R + dR1) cos D) / sin D, T2 with the sides exchanged.
    """
    _, _, shift_in, centre_in = clothoid_elements(radius, transition_in)
    _, _, shift_out, centre_out = clothoid_elements(radius, transition_out)
    sin, cos = math.sin(deflection), math.cos(deflection)
    into = centre_in + (radius + shift_out - (radius + shift_in) * cos) / sin
    out = centre_out + (radius + shift_in - (radius + shift_out) * cos) / sin
    return into, out


def from_ips(spec: AlignmentSpec, points: Sequence[IntersectionPoint]) -> AlignmentSpec:
    """The alignment of a list of intersection points; name, start chainage and equations come from `spec`.

    Raises GeometryError, naming the IP, where a curve does not fit between its neighbours, its transitions turn more
    than the corner, or two IPs stand in one place.
    """
    place = np.array([[p.east, p.north] for p in points])
    legs = np.diff(place, axis=0)
    lengths = np.hypot(legs[:, 0], legs[:, 1])
    for i in np.flatnonzero(lengths < 1e-3).tolist():
        raise GeometryError(f"IP {i + 1} and IP {i + 2} stand in one place", f"IP {i + 2}", "move one of them or remove it")
    bearings = np.arctan2(legs[:, 0], legs[:, 1])
    used_from = np.zeros(len(points))
    used_to = np.zeros(len(points))
    curves: list[list[Element]] = [[] for _ in points]
    for i, point in enumerate(points[1:-1], start=1):
        turn = float((bearings[i] - bearings[i - 1] + np.pi) % (2 * np.pi) - np.pi)
        if abs(turn) < 1e-9:
            continue
        curves[i], used_to[i], used_from[i] = _rounded(point, turn, i + 1)
    elements: list[Element] = []
    for i, length in enumerate(lengths):
        straight = float(length - used_from[i] - used_to[i + 1])
        if straight < -1e-6:
            raise GeometryError(
                f"the curves at IP {i + 1} and IP {i + 2} overlap by {-straight:.3f} m",
                f"IP {i + 1}",
                "choose a smaller radius or shorter transitions, or move them apart",
            )
        if straight > SHORTEST:
            elements.append(Straight(length=straight))
        elements += curves[i + 1]
    return spec.changed(
        start_east=points[0].east,
        start_north=points[0].north,
        start_bearing_deg=float(np.degrees(bearings[0]) % 360),
        elements=[e.model_dump() for e in elements],
    )


def _rounded(point: IntersectionPoint, turn: float, number: int) -> tuple[list[Element], float, float]:
    """Elements of a curve, and the tangent lengths into and out of it."""
    if point.radius <= 0:
        raise GeometryError(f"the tangents bend at IP {number} without a radius", f"IP {number}", "give it a radius")
    transition_in, transition_out = (t if t > SHORTEST else 0.0 for t in (point.transition_in, point.transition_out))
    arc = abs(turn) - (transition_in + transition_out) / (2 * point.radius)
    if arc < -1e-9:
        raise GeometryError(
            f"the transitions at IP {number} turn {math.degrees(abs(turn) - arc):.2f}°, the corner only {math.degrees(abs(turn)):.2f}°",
            f"IP {number}",
            "choose shorter transitions or a larger radius",
        )
    if abs(turn) > math.radians(175):
        raise GeometryError(f"the tangents at IP {number} turn back", f"IP {number}", "put another IP between them")
    radius = math.copysign(point.radius, turn)
    elements: list[Element] = []
    if transition_in:
        elements.append(Clothoid(length=transition_in, radius_end=radius))
    if arc * point.radius > SHORTEST:
        elements.append(Arc(length=arc * point.radius, radius=radius))
    if transition_out:
        elements.append(Clothoid(length=transition_out, radius_start=radius))
    into, out = tangent_lengths(point.radius, abs(turn), transition_in, transition_out)
    return elements, into, out


def to_ips(spec: AlignmentSpec) -> list[IntersectionPoint] | None:
    """The intersection points of an alignment, or None where it is not made of simple curves between straights
    (two arcs in a row, an egg line, a curve at one of its ends)."""
    line = build(spec)
    ends = line.frames(line.key_chainages())
    points = [IntersectionPoint(east=spec.start_east, north=spec.start_north)]
    group: list[int] = []
    for i, element in enumerate([*spec.elements, None]):
        if element is not None and not isinstance(element, Straight):
            if group and isinstance(spec.elements[group[-1]], Clothoid) and end_curvatures(spec.elements[group[-1]])[1] == 0:
                corner = _corner(spec, group, ends)
                if corner is None:
                    return None
                points.append(corner)
                group = []
            group.append(i)
            continue
        if group:
            corner = _corner(spec, group, ends)
            if corner is None:
                return None
            points.append(corner)
            group = []
    if not isinstance(spec.elements[0], Straight) or not isinstance(spec.elements[-1], Straight):
        return None
    east, north = ends.origin[-1]
    return [*points, IntersectionPoint(east=float(east), north=float(north))]


def _corner(spec: AlignmentSpec, group: list[int], ends: Frames) -> IntersectionPoint | None:
    """The IP of a curve made of the elements of a group, where it is simple."""
    elements = [spec.elements[i] for i in group]
    kinds = [e.kind for e in elements]
    if kinds not in (["arc"], ["clothoid", "arc"], ["arc", "clothoid"], ["clothoid", "arc", "clothoid"]):
        return None
    arc = next(e for e in elements if isinstance(e, Arc))
    lengths = {"in": 0.0, "out": 0.0}
    for position, element in enumerate(elements):
        if isinstance(element, Clothoid):
            first, last = end_curvatures(element)
            into = position == 0
            if (first if into else last) != 0 or abs((last if into else first) - 1 / arc.radius) > 1e-12:
                return None
            lengths["in" if into else "out"] = element.length
    start, end = ends.origin[group[0]], ends.origin[group[-1] + 1]
    b0, b1 = ends.bearing[group[0]], ends.bearing[group[-1] + 1]
    t0, t1 = np.array([np.sin(b0), np.cos(b0)]), np.array([np.sin(b1), np.cos(b1)])
    cross = t0[0] * t1[1] - t0[1] * t1[0]
    if abs(cross) < 1e-9 or abs(b1 - b0) > np.radians(175):
        return None
    along = ((end - start)[0] * t1[1] - (end - start)[1] * t1[0]) / cross
    at = start + along * t0
    return IntersectionPoint(
        east=float(at[0]), north=float(at[1]), radius=abs(arc.radius), transition_in=lengths["in"], transition_out=lengths["out"]
    )
