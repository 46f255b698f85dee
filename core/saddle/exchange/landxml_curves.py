"""Curves of LandXML that the alignments here do not know as they are: other transitions, and arcs among the pieces of a line."""

import itertools
import math
from collections.abc import Callable

import numpy as np

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element, Straight
from saddle.geometry.polylines import Floats

#: A transition of another kind becomes so many clothoids one behind the other.
PIECES = 16
#: A chord leaves its arc by no more than this, m; chords of an arc, at most.
CHORD, MOST_CHORDS = 0.01, 2000
#: How curvature grows from 0 to 1 over a transition, by the part of its length: the kinds of LandXML 1.2 (spiType) by
#: their textbook forms, from memory; the cubic parabola is taken by its length.
LAWS: dict[str, Callable[[float], float]] = {
    "bloss": lambda u: 3 * u**2 - 2 * u**3,
    "sinusoid": lambda u: u - math.sin(2 * math.pi * u) / (2 * math.pi),
    "cosine": lambda u: (1 - math.cos(math.pi * u)) / 2,
    "biquadratic": lambda u: 2 * u**2 if u <= 0.5 else 1 - 2 * (1 - u) ** 2,
    "cubic": lambda u: u,
    "cubicParabola": lambda u: u,
    "revBiquadratic": lambda u: 2 * u**2 if u <= 0.5 else 1 - 2 * (1 - u) ** 2,
    "revBloss": lambda u: 3 * u**2 - 2 * u**3,
    "revCosine": lambda u: (1 - math.cos(math.pi * u)) / 2,
    "revSinusoid": lambda u: u - math.sin(2 * math.pi * u) / (2 * math.pi),
    "sineHalfWave": lambda u: (1 - math.cos(math.pi * u)) / 2,
}


def transition(kind: str, length: float, radius_start: float | None, radius_end: float | None) -> list[Element]:
    """A transition as clothoids whose curvature is as near to that of its kind as straight pieces can be, and it at both ends. radii: m, positive to the right, None for straight.
    Raises ValueError for a kind that is not known."""
    if kind == "clothoid":
        return [Clothoid(length=length, radius_start=radius_start, radius_end=radius_end)]
    if kind not in LAWS:
        raise ValueError(f"is a {kind}, and taken are clothoid, {', '.join(LAWS)}")
    first, last = (0.0 if r is None else 1 / r for r in (radius_start, radius_end))
    bends = first + (last - first) * _joints(kind)
    return [_piece(length / PIECES, a, b) for a, b in itertools.pairwise(bends)]


def _joints(kind: str) -> Floats:
    """Curvature at the joints, (PIECES + 1,), from 0 to 1: of all that run straight between them the one with the least squares from the
    law. What is left then bends to both sides alike, so that the end lies where it belongs: an arc's shift is a moment of curvature."""
    u = (np.arange(40 * PIECES) + 0.5) / (40 * PIECES)
    hats = np.maximum(0.0, 1 - np.abs(u[:, None] * PIECES - np.arange(PIECES + 1)))
    law = np.array([LAWS[kind](float(v)) for v in u])
    inner: Floats = np.linalg.lstsq(hats[:, 1:-1], law - hats[:, -1], rcond=None)[0]
    joints: Floats = np.concatenate([[0.0], inner, [1.0]])
    return joints


def _piece(length: float, a: float, b: float) -> Element:
    if abs(a - b) < 1e-12:
        return Straight(length=length) if abs(a) < 1e-9 else Arc(length=length, radius=1 / a)
    return Clothoid(length=length, radius_start=_radius(a), radius_end=_radius(b))


def _radius(bend: float) -> float | None:
    return None if abs(bend) < 1e-9 else 1 / bend


def misses_by(elements: list[Element], start: Floats, bearing: float, end: Floats) -> float:
    """How far elements from a place, east and north, in a direction, radians, end from another place, m."""
    spec = AlignmentSpec(
        name="transition", start_east=float(start[0]), start_north=float(start[1]), start_bearing_deg=math.degrees(bearing) % 360,
        elements=elements,
    )  # fmt: skip
    line = build(spec)
    return float(np.hypot(*(line.frames(np.array([line.end])).origin[0] - end)))


def arc_of_a_line(start: Floats, centre: Floats, end: Floats, turn: float) -> list[list[float]]:
    """Places on an arc from start to end, (3,) east, north, level, m, with levels straight between. centre: (2,) or more; turn: 1
    clockwise, -1 the other way."""
    radius = float(np.hypot(*(start[:2] - centre[:2])))
    a, b = (float(np.arctan2(*(p[:2] - centre[:2]))) for p in (start, end))
    swept = (turn * (b - a)) % (2 * math.pi) or 2 * math.pi
    step = 2 * math.acos(max(-1.0, 1 - CHORD / radius)) if radius > CHORD else math.pi
    shares = np.linspace(0.0, 1.0, min(MOST_CHORDS, max(1, math.ceil(swept / step))) + 1)
    bearing = a + turn * swept * shares
    places = np.column_stack([
        centre[0] + radius * np.sin(bearing), centre[1] + radius * np.cos(bearing), start[2] + (end[2] - start[2]) * shares,
    ])  # fmt: skip
    places[0], places[-1] = start, end
    found: list[list[float]] = places.tolist()
    return found
