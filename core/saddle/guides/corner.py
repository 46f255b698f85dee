"""The corner of a side road: its edge rounded into the edge of the road that it leaves, by an arc that touches both. An edge has one offset
at a chainage: of an arc that turns by more than a right angle it is the part next to the side road."""

from typing import NamedTuple

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Alignment, Frames
from saddle.geometry.polylines import Floats
from saddle.guides.spec import CornerCurve
from saddle.terrain.survey_lines import SurveyLines


class Corner(NamedTuple):
    """centre: east and north, m; first, last: chainages of the side road at which the arc touches the other road's edge and its own."""

    centre: Floats
    first: float
    last: float


def corner(source: CornerCurve, edge: SurveyLines, outward: int, alignment: Alignment) -> Corner | None:
    """Where the arc lies; None where there is none. edge: the other road's, in its order; outward: the side of it that lies away from
    that road, 1 right, -1 left."""
    if len(edge.start) == 0:
        return None
    side = np.sign(source.base_offset)
    a, b = _beside(edge, outward * source.radius)
    wanted = source.base_offset + side * source.radius
    o0, o1 = alignment.locate(a)[1], alignment.locate(b)[1]
    with np.errstate(invalid="ignore"):
        crosses = (o0 - wanted) * (o1 - wanted) <= 0
        crosses &= o0 != o1
    if not crosses.any():
        return None
    i = np.flatnonzero(crosses)
    t = ((wanted - o0) / (o1 - o0))[i]
    centres = a[i] + t[:, None] * (b[i] - a[i])
    last, _ = alignment.locate(centres)
    k = int(np.nanargmin(np.where(np.isfinite(last), last, np.inf)))
    if not np.isfinite(last[k]):
        return None
    foot = _foot(edge, centres[k])
    first, aside = alignment.locate(foot[None, :])
    if side * aside[0] > side * wanted:
        # In a sharp corner the arc turns back: sections meet its nearer part, up to where it runs straight out.
        heading = alignment.frames(last[k : k + 1]).bearing[0]
        back = centres[k] - source.radius * np.array([np.sin(heading), np.cos(heading)])
        first, _ = alignment.locate(back[None, :])
    begins = float(first[0]) if np.isfinite(first[0]) else alignment.start
    return Corner(centres[k], begins, float(last[k])) if begins < last[k] else None


def corner_offsets(source: CornerCurve, found: Corner | None, frames: Frames, line: Floats) -> Floats:
    """Offset of the edge on sections (n,): on the arc between its ends, its own beyond; before the arc begins that of the other road's
    line (n,), where this lies on the same side, NaN elsewhere."""
    n = len(frames.chainage)
    if found is None:
        return np.full(n, source.base_offset)
    d = found.centre - frames.origin
    proj = (d * frames.to_right).sum(axis=1)
    ahead = np.hypot(*d.T) ** 2 - proj**2
    reach = np.sqrt(np.maximum(source.radius**2 - ahead, 0.0))
    arc = proj - np.sign(source.base_offset) * reach
    c = frames.chainage
    side = np.sign(source.base_offset)
    before = np.where(side * line >= -tolerances.COMPUTED_END, side * np.maximum(side * line, 0.0), np.nan)
    return np.where(c < found.first - tolerances.COMPUTED_END, before, np.where(c < found.last, arc, source.base_offset))


def corner_chainages(source: CornerCurve, found: Corner | None) -> Floats:
    """Where sections should stand on the arc: at both ends, and so between them that it turns as far from one to the next."""
    if found is None:
        return np.empty(0)
    steps = np.linspace(0.0, np.pi / 2, 7)
    return found.first + (found.last - found.first) * np.sin(steps)


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
