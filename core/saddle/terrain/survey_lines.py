"""Survey lines met by section lines."""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Floats, Ints


@dataclass(frozen=True, slots=True, eq=False)
class SurveyLines:
    """Lines of one code as segments. start, end: (s, 3) float, m."""

    start: Floats
    end: Floats


def meet(frames: Frames, lines: SurveyLines, reach: float, short: float = tolerances.LINE_END) -> tuple[Ints, Floats, Floats]:
    """All places where section lines meet survey lines within `reach` m of the alignment.

    Returns row (k,), offset (k,) and level (k,). A line that ends so short of the section line, m, meets it;
    a vertex on the section line may be listed for both its segments.
    """
    if len(lines.start) == 0:
        return np.empty(0, dtype=np.intp), np.empty(0), np.empty(0)
    base = frames.origin.mean(axis=0)
    origin, right = frames.origin - base, frames.to_right
    start, end = lines.start[:, :2] - base, lines.end[:, :2] - base
    i, j = _near(origin, right, start, end, reach, short)
    rx, ry = right[i, 0], right[i, 1]

    def seen(points: Floats) -> tuple[Floats, Floats]:
        x, y = points[j, 0] - origin[i, 0], points[j, 1] - origin[i, 1]
        return x * rx + y * ry, x * ry - y * rx  # offset, and distance behind the section line

    (o0, d0), (o1, d1) = seen(start), seen(end)
    crosses = ((d0 <= 0) & (d1 > 0)) | ((d0 > 0) & (d1 <= 0))
    stops_short = np.minimum(np.abs(d0), np.abs(d1)) <= short
    met = (crosses | stops_short) & (d0 != d1)
    i, j, o0, o1, d0, d1 = (v[met] for v in (i, j, o0, o1, d0, d1))
    t = np.clip(d0 / (d0 - d1), 0.0, 1.0)
    o = o0 + t * (o1 - o0)
    z = lines.start[j, 2] + t * (lines.end[j, 2] - lines.start[j, 2])
    near = np.abs(o) <= reach
    return i[near], o[near], z[near]


#: So many segments one behind another are looked at as one circle first.
TOGETHER = 32


def _near(origin: Floats, right: Floats, start: Floats, end: Floats, reach: float, short: float) -> tuple[Ints, Ints]:
    """Section lines and segments that may meet, as pairs of their numbers in order: those whose circle the section line runs through."""
    first = np.arange(0, len(start), TOGETHER)
    both = np.concatenate([start, end], axis=1)
    low, high = np.minimum.reduceat(both, first), np.maximum.reduceat(both, first)
    low, high = np.minimum(low[:, :2], low[:, 2:]), np.maximum(high[:, :2], high[:, 2:])
    centre, radius = (low + high) / 2, np.hypot(*(high - low).T) / 2
    rows, circles = [], []
    block = max(1, 2_000_000 // len(first))
    for at in range(0, len(origin), block):
        part = slice(at, at + block)
        x, y = (centre[None, :, k] - origin[part, k][:, None] for k in (0, 1))
        rx, ry = right[part, 0][:, None], right[part, 1][:, None]
        through = (np.abs(x * ry - y * rx) <= radius + short) & (np.abs(x * rx + y * ry) <= radius + reach)
        i, circle = np.nonzero(through)
        rows.append(i + at)
        circles.append(circle)
    i, circle = np.concatenate(rows), np.concatenate(circles)
    j = (first[circle][:, None] + np.arange(TOGETHER)).ravel()
    there = j < len(start)
    return np.repeat(i, TOGETHER)[there], j[there]


def nearest(
    frames: Frames, lines: SurveyLines | None, within: float, side: int, short: float = tolerances.LINE_END
) -> tuple[Floats, Floats]:
    """Offset and level on every section of the line nearest to the alignment, (n,), m; NaN where there is none.

    side: -1 left of the alignment, 1 right, 0 on either; within: how far away it is looked for, m; short: see `meet`.
    """
    n = len(frames.chainage)
    found, height = np.full(n, np.nan), np.full(n, np.nan)
    if lines is None or n == 0:
        return found, height
    row, offset, level = meet(frames, lines, within, short)
    if side != 0:
        keep = offset * side > 0
        row, offset, level = row[keep], offset[keep], level[keep]
    order = np.lexsort((-np.abs(offset), row))  # the nearest is written last
    found[row[order]], height[row[order]] = offset[order], level[order]
    # Where one segment of a line ends without a level and the next begins with one, the level is known.
    beside = np.isnan(height[row]) & np.isfinite(level) & (np.abs(offset - found[row]) <= tolerances.CHAINAGE_MERGE)
    height[row[beside]] = level[beside]
    return found, height
