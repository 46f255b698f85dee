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
    right = frames.to_right
    rows, offsets, levels = [], [], []
    block = max(1, 2_000_000 // max(1, len(lines.start)))
    for low in range(0, len(frames.origin), block):
        part = slice(low, low + block)
        origin = frames.origin[part] - base
        rx, ry = right[part, 0][:, None], right[part, 1][:, None]

        def seen(points: Floats, o: Floats = origin, rx: Floats = rx, ry: Floats = ry) -> tuple[Floats, Floats]:
            x = points[None, :, 0] - base[0] - o[:, 0][:, None]
            y = points[None, :, 1] - base[1] - o[:, 1][:, None]
            return x * rx + y * ry, x * ry - y * rx  # offset, and distance behind the section line

        o0, d0 = seen(lines.start)
        o1, d1 = seen(lines.end)
        crosses = ((d0 <= 0) & (d1 > 0)) | ((d0 > 0) & (d1 <= 0))
        stops_short = np.minimum(np.abs(d0), np.abs(d1)) <= short
        i, j = np.nonzero((crosses | stops_short) & (d0 != d1))
        t = np.clip(d0[i, j] / (d0[i, j] - d1[i, j]), 0.0, 1.0)
        o = o0[i, j] + t * (o1[i, j] - o0[i, j])
        z = lines.start[j, 2] + t * (lines.end[j, 2] - lines.start[j, 2])
        near = np.abs(o) <= reach
        rows.append(i[near] + low)
        offsets.append(o[near])
        levels.append(z[near])
    return np.concatenate(rows), np.concatenate(offsets), np.concatenate(levels)


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
