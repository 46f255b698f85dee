"""A part of an alignment as an alignment of its own, and the same line the other way round."""

import numpy as np

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element, Straight
from saddle.errors import GeometryError

#: Pieces shorter than this are left out, m.
NO_PIECE = 1e-6


def part_of(spec: AlignmentSpec, start: float, end: float, name: str) -> AlignmentSpec:
    """The stretch between two chainages. It keeps its chainages, and the equations that lie on it.

    Raises GeometryError when the stretch is empty or not on the alignment.
    """
    line = build(spec)
    low, high = max(start, line.start), min(end, line.end)
    if not low + NO_PIECE < high:
        raise GeometryError(
            f"nothing of the alignment lies between {start:.3f} and {end:.3f}",
            "chainage",
            f"it runs from {line.start:.3f} to {line.end:.3f}",
        )
    elements: list[Element] = []
    for number, element in enumerate(spec.elements):
        a = max(low, float(line.chainage[number])) - line.chainage[number]
        b = min(high, float(line.chainage[number] + element.length)) - line.chainage[number]
        if b - a > NO_PIECE:
            elements.append(_cut(element, float(a), float(b)))
    frame = line.frames(np.array([low]))
    return AlignmentSpec(
        name=name,
        start_east=float(frame.origin[0, 0]),
        start_north=float(frame.origin[0, 1]),
        start_bearing_deg=float(np.degrees(frame.bearing[0]) % 360),
        start_chainage=low,
        elements=elements,
        equations=[e for e in spec.equations if low < e.back < high],
    )


def _cut(element: Element, a: float, b: float) -> Element:
    if isinstance(element, Straight):
        return Straight(length=b - a)
    if isinstance(element, Arc):
        return Arc(length=b - a, radius=element.radius)
    first, last = (1 / r if r else 0.0 for r in (element.radius_start, element.radius_end))
    radii = [first + (last - first) * s / element.length for s in (a, b)]
    return Clothoid(length=b - a, radius_start=_radius(radii[0]), radius_end=_radius(radii[1]))


def _radius(curvature: float) -> float | None:
    return 1 / curvature if abs(curvature) > 1e-12 else None


def reversed_spec(spec: AlignmentSpec) -> AlignmentSpec:
    """The same line walked from its end: radii change sign, chainages begin at the same start."""
    line = build(spec)
    frame = line.frames(np.array([line.end]))

    def turned(element: Element) -> Element:
        if isinstance(element, Arc):
            return element.changed(radius=-element.radius)
        if isinstance(element, Clothoid):
            ends = (-r if r else None for r in (element.radius_end, element.radius_start))
            return Clothoid(length=element.length, **dict(zip(("radius_start", "radius_end"), ends, strict=True)))
        return element

    return spec.changed(
        start_east=float(frame.origin[0, 0]),
        start_north=float(frame.origin[0, 1]),
        start_bearing_deg=float((np.degrees(frame.bearing[0]) + 180) % 360),
        elements=[turned(e).model_dump() for e in reversed(spec.elements)],
        equations=[],
    )
