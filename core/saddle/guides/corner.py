"""The corner of a side road: its edge rounded into the edge of the road that it leaves, by an arc that touches both, or by three of which
the first and the last are longer. An edge has one offset at a chainage: of an arc that turns by more than a right angle it is the part next to the side road."""

from collections.abc import Callable
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Alignment, Frames
from saddle.geometry.polylines import Floats
from saddle.guides.spec import CornerCurve, ThreeCentred
from saddle.terrain.survey_lines import SurveyLines


class CornerArc(NamedTuple):
    """centre: east and north, m; radius: m; first, last: chainages of the side road from which to which the edge runs on it."""

    centre: Floats
    radius: float
    first: float
    last: float


#: The arcs of a corner in the order of chainages, one or three; none where there is no corner.
Corner = tuple[CornerArc, ...]


def corner(source: CornerCurve, edge: SurveyLines, outward: int, alignment: Alignment) -> Corner:
    """Where the arcs lie. edge: the other road's, in its order; outward: the side of it that lies away from that road, 1 right, -1 left.

    Of three arcs the middle one stands off both edges by (R1 - R)(1 - cos a1) and (R3 - R)(1 - cos a3), which is what the longer arcs take
    between straight edges; where an edge bends, the angle is the one at which the arc touches it.
    """
    if len(edge.start) == 0:
        return ()
    side, r, ends = float(np.sign(source.base_offset)), source.radius, source.ends
    off = (
        (0.0, 0.0)
        if ends is None
        else (_set_off(r, ends.first_times, ends.first_deg), _set_off(r, ends.last_times, ends.last_deg))
    )
    a, b = _beside(edge, outward * (r + off[0]))
    wanted = source.base_offset + side * (r + off[1])
    o0, o1 = alignment.locate(a)[1], alignment.locate(b)[1]
    with np.errstate(invalid="ignore"):
        crosses = (o0 - wanted) * (o1 - wanted) <= 0
        crosses &= o0 != o1
    if not crosses.any():
        return ()
    i = np.flatnonzero(crosses)
    t = ((wanted - o0) / (o1 - o0))[i]
    centres = a[i] + t[:, None] * (b[i] - a[i])
    last, _ = alignment.locate(centres)
    k = int(np.nanargmin(np.where(np.isfinite(last), last, np.inf)))
    if not np.isfinite(last[k]):
        return ()
    centre, at = centres[k], float(last[k])
    circles = [(centre, r)]
    if ends is not None:
        circles = _with_ends(source, ends, edge, alignment, centre, at)
    return _along(circles, edge, side, alignment)


def _set_off(radius: float, times: float, degrees: float) -> float:
    return float((times - 1) * radius * (1 - np.cos(np.radians(degrees))))


def _with_ends(
    source: CornerCurve, ends: ThreeCentred, edge: SurveyLines, alignment: Alignment, centre: Floats, at: float
) -> list[tuple[Floats, float]]:
    """Centres and radii of three arcs, from that of the middle one; at: its chainage."""
    side, r = float(np.sign(source.base_offset)), source.radius
    first, last = r * ends.first_times, r * ends.last_times
    frames = alignment.frames(np.array([at]))
    right, heading = side * frames.to_right[0], np.array([np.sin(frames.bearing[0]), np.cos(frames.bearing[0])])
    foot = _foot(edge, centre)
    normal = (centre - foot) / np.hypot(*(centre - foot))
    # Along the other road's edge, away from the side road.
    along = np.array([normal[1], -normal[0]])
    along *= 1.0 if along @ right > 0 else -1.0

    def from_edge(place: Floats) -> float:
        return float(np.hypot(*(place - _foot(edge, place)))) - first

    def from_own(place: Floats) -> float:
        return float(side * (alignment.locate(place[None, :])[1][0] - source.base_offset)) - last

    one = _touching(centre, first - r, normal, along, from_edge, np.radians(ends.first_deg))
    three = _touching(centre, last - r, right, heading, from_own, np.radians(ends.last_deg))
    return [(one, first), (centre, r), (three, last)]


def _touching(
    centre: Floats, by: float, normal: Floats, along: Floats, beyond: Callable[[Floats], float], straight: float
) -> Floats:
    """The place `by` m from the centre, turned from the normal so far that nothing is left beyond; straight: the angle at which that is so
    between straight edges, which is taken where none is found."""
    low, high = 0.0, min(2.5 * straight, np.pi / 2)

    def place(angle: float) -> Floats:
        return np.asarray(centre + by * (np.cos(angle) * normal + np.sin(angle) * along))

    if not (beyond(place(low)) > 0 > beyond(place(high))):
        return place(straight)
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if beyond(place(middle)) > 0 else (low, middle)
    return place((low + high) / 2)


def _along(circles: list[tuple[Floats, float]], edge: SurveyLines, side: float, alignment: Alignment) -> Corner:
    """The arcs with the chainages between which they are the edge."""
    joins = [a + r * _unit(a - b) if r < q else b + q * _unit(b - a) for (a, r), (b, q) in pairwise(circles)]
    start = _foot(edge, circles[0][0])

    def turns_back(place: Floats, centre: Floats) -> bool:
        """Whether an arc comes back towards the side road from a place on it."""
        _, (one, other) = alignment.locate(np.array([place, centre]))
        return bool(side * one > side * other)

    # In a sharp corner the edge turns back: sections meet its nearer part, up to where it runs straight out.
    while joins and turns_back(joins[0], circles[1][0]):
        start, joins, circles = joins[0], joins[1:], circles[1:]
    centre, r = circles[0]
    at, _ = alignment.locate(centre[None, :])
    if turns_back(start, centre) and np.isfinite(at[0]):
        heading = alignment.frames(at).bearing[0]
        start = centre - r * np.array([np.sin(heading), np.cos(heading)])
    ends, _ = alignment.locate(np.array([start, *joins, circles[-1][0]]))
    begins = float(ends[0]) if np.isfinite(ends[0]) else alignment.start
    if not np.isfinite(ends[1:]).all():
        return ()
    limits = np.maximum.accumulate(np.array([begins, *ends[1:]]))
    found = [CornerArc(c, r, float(a), float(b)) for (c, r), a, b in zip(circles, limits[:-1], limits[1:], strict=True)]
    return tuple(found) if limits[0] < limits[-1] else ()


def _unit(vector: Floats) -> Floats:
    return np.asarray(vector / np.hypot(*vector))


def corner_offsets(source: CornerCurve, found: Corner, frames: Frames, line: Floats) -> Floats:
    """Offset of the edge on sections (n,): on the arcs between their ends, its own beyond; before they begin that of the other road's
    line (n,), where this lies on the same side, NaN elsewhere."""
    n = len(frames.chainage)
    if not found:
        return np.full(n, source.base_offset)
    c, side = frames.chainage, np.sign(source.base_offset)
    before = np.where(side * line >= -tolerances.COMPUTED_END, side * np.maximum(side * line, 0.0), np.nan)
    out = np.where(c < found[0].first - tolerances.COMPUTED_END, before, source.base_offset)
    for arc in found:
        d = arc.centre - frames.origin
        proj = (d * frames.to_right).sum(axis=1)
        ahead = np.hypot(*d.T) ** 2 - proj**2
        reach = np.sqrt(np.maximum(arc.radius**2 - ahead, 0.0))
        low = arc.first - (tolerances.COMPUTED_END if arc is found[0] else 0.0)
        out = np.where((c >= low) & (c < arc.last), proj - side * reach, out)
    return out


def corner_chainages(found: Corner) -> Floats:
    """Where sections should stand on the arcs: at their ends, and so between them that the edge turns as far from one to the next."""
    if not found:
        return np.empty(0)
    steps = np.sin(np.linspace(0.0, np.pi / 2, 7))
    whole = found[0].first + (found[-1].last - found[0].first) * steps
    return np.unique(np.concatenate([whole, [arc.last for arc in found]]))


def _beside(edge: SurveyLines, by: float) -> tuple[Floats, Floats]:
    """The segments of a line moved to its right, joined where they meet: ends (s, 2) of each."""
    along = (edge.end - edge.start)[:, :2]
    out = np.column_stack([along[:, 1], -along[:, 0]]) / np.hypot(*along.T)[:, None]
    before, after = np.roll(out, 1, axis=0), np.roll(out, -1, axis=0)
    meets = np.hypot(*(edge.start[1:, :2] - edge.end[:-1, :2]).T) < 1e-6
    first = np.where(np.r_[False, meets][:, None], _bisected(before, out), out)
    last = np.where(np.r_[meets, False][:, None], _bisected(out, after), out)
    return edge.start[:, :2] + by * first, edge.end[:, :2] + by * last


def _bisected(a: Floats, b: Floats) -> Floats:
    """Which way the corner between two segments moves when both move out by one, (s, 2)."""
    return np.asarray((a + b) / np.maximum(1 + (a * b).sum(axis=1), 0.1)[:, None])


def _foot(edge: SurveyLines, place: Floats) -> Floats:
    """The place of a line nearest to another place, (2,)."""
    along = (edge.end - edge.start)[:, :2]
    t = np.clip(((place - edge.start[:, :2]) * along).sum(axis=1) / (along**2).sum(axis=1), 0.0, 1.0)
    feet = edge.start[:, :2] + t[:, None] * along
    found: Floats = feet[np.argmin(np.hypot(*(feet - place).T))]
    return found
