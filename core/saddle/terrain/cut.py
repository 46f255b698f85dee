"""Sections through a surface: exact polylines of the crossings with its triangles, for all lines at once."""

import numpy as np
import shapely

from saddle import tolerances
from saddle.errors import GeometryError
from saddle.geometry.polylines import Bools, Floats, Ints, Polylines
from saddle.limits import MOST_VERTICES
from saddle.terrain.tin import Tin

#: Section lines are looked up in pieces of about this length, so that skewed lines meet few boxes.
PIECE = 4.0
#: So many lines are cut at a time.
AT_ONCE = 512


def cut_sections(tin: Tin, origins: Floats, directions: Floats, left: Floats, right: Floats) -> Polylines:
    """Sections through a surface along straight plan lines.

    origins: (n, 2) plan points at offset 0; directions: (n, 2) unit vectors towards positive offsets;
    left, right: (n,) offsets between which to cut, left < right. Returns n polylines; where there is no
    surface in between, a vertex with a NaN level stands in the gap.
    """
    n = len(origins)
    if not (np.asarray(left) < np.asarray(right)).all():
        raise GeometryError("a section must reach from a smaller to a larger offset")
    if n == 0:
        return Polylines(np.empty((0, 0)), np.empty((0, 0)))
    if n > AT_ONCE:
        return _one_after_another(tin, origins, directions, left, right)
    line, triangle = _candidates(tin, origins, directions, left, right)
    base = tin.points[:, :2].mean(axis=0)
    start, end, z_start, z_end, line = _chords(tin, base, origins - base, directions, line, triangle)
    low, high = left[line], right[line]
    inside = (end > low) & (start < high) & (end - start > tolerances.COINCIDENT)
    start, end, z_start, z_end, low, high = (a[inside] for a in (start, end, z_start, z_end, low, high))
    line = line[inside]
    fall = (z_end - z_start) / (end - start)
    z_start = np.where(start < low, z_start + (low - start) * fall, z_start)
    z_end = np.where(end > high, z_end + (high - end) * fall, z_end)
    start, end = np.maximum(start, low), np.minimum(end, high)
    # What a limit cuts down to nothing is gone: else it would stand for the chord that begins beside it.
    real = end - start > tolerances.COINCIDENT
    start, end, z_start, z_end = (a[real] for a in (start, end, z_start, z_end))
    line = line[real]
    return _join(n, line, start, end, z_start, z_end)


def _one_after_another(tin: Tin, origins: Floats, directions: Floats, left: Floats, right: Floats) -> Polylines:
    """The same so many lines at a time, so that what is needed on the way does not grow with the road. Raises GeometryError
    before more is kept than may be."""
    parts: list[Polylines] = []
    n = len(origins)
    width = 0
    for low in range(0, n, AT_ONCE):
        rows = slice(low, low + AT_ONCE)
        parts.append(cut_sections(tin, origins[rows], directions[rows], left[rows], right[rows]))
        width = max(width, parts[-1].offsets.shape[1])
        if n * width > MOST_VERTICES:
            raise GeometryError(
                f"{n:,} sections meet the surface in up to {width:,} places each, at most {MOST_VERTICES:,} in all are kept", "sections",
                "take fewer sections, or narrower ones",
            )  # fmt: skip
    out = Polylines(np.full((n, width), np.inf), np.full((n, width), np.nan))
    for number, part in enumerate(parts):
        here = slice(number * AT_ONCE, number * AT_ONCE + len(part.offsets)), slice(0, part.offsets.shape[1])
        out.offsets[here], out.levels[here] = part.offsets, part.levels
    return out


def _candidates(tin: Tin, origins: Floats, directions: Floats, left: Floats, right: Floats) -> tuple[Ints, Ints]:
    """Pairs (line, triangle) whose boxes meet, each once."""
    pieces = np.maximum(1, np.ceil((right - left) / PIECE).astype(int))
    line = np.repeat(np.arange(len(origins)), pieces)
    number = np.arange(len(line)) - np.repeat(np.cumsum(pieces) - pieces, pieces)
    step = ((right - left) / pieces)[line]
    a = left[line] + number * step
    p = origins[line] + a[:, None] * directions[line]
    q = origins[line] + (a + step)[:, None] * directions[line]
    low, high = np.minimum(p, q), np.maximum(p, q)
    boxes = shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])
    piece, triangle = tin.index.query(boxes)
    pairs = np.unique(line[piece] * np.int64(len(tin.triangles)) + triangle)
    return pairs // len(tin.triangles), pairs % len(tin.triangles)


def _chords(
    tin: Tin, base: Floats, origins: Floats, directions: Floats, line: Ints, triangle: Ints
) -> tuple[Floats, Floats, Floats, Floats, Ints]:
    """Where each line runs inside each triangle: offsets and levels of both ends, ascending, and the line."""
    corner = tin.triangles[triangle]
    x = tin.points[corner, 0] - base[0] - origins[line, 0][:, None]
    y = tin.points[corner, 1] - base[1] - origins[line, 1][:, None]
    dx, dy = directions[line, 0][:, None], directions[line, 1][:, None]
    along = x * dx + y * dy
    off = x * dy - y * dx
    off = np.where(np.abs(off) < tolerances.COINCIDENT, 0.0, off)
    touched = (off.min(axis=1) <= 0) & (off.max(axis=1) >= 0)
    along, off, level, line = along[touched], off[touched], tin.points[corner[touched], 2], line[touched]
    start = np.full(len(line), np.inf)
    end = np.full(len(line), -np.inf)
    z_start = np.full(len(line), np.nan)
    z_end = np.full(len(line), np.nan)

    def take(s: Floats, z: Floats, where: Bools) -> None:
        sooner, later = where & (s < start), where & (s > end)
        start[sooner], z_start[sooner] = s[sooner], z[sooner]
        end[later], z_end[later] = s[later], z[later]

    for i in range(3):
        j = (i + 1) % 3
        take(along[:, i], level[:, i], off[:, i] == 0)
        crosses = off[:, i] * off[:, j] < 0
        with np.errstate(invalid="ignore", divide="ignore"):
            t = off[:, i] / (off[:, i] - off[:, j])
            s = along[:, i] + t * (along[:, j] - along[:, i])
            z = level[:, i] + t * (level[:, j] - level[:, i])
        take(s, z, crosses)
    return start, end, z_start, z_end, line


def _join(n: int, line: Ints, start: Floats, end: Floats, z_start: Floats, z_end: Floats) -> Polylines:
    """Chords put together into polylines, with a NaN vertex in each gap."""
    order = np.lexsort((start, line))
    start, end, z_start, z_end = (a[order] for a in (start, end, z_start, z_end))
    line = line[order]
    # Of chords that begin at one place the longest is kept: one along a shared edge comes from both triangles, and beside a
    # vertex one may run for a hair only.
    repeats = np.r_[False, (line[1:] == line[:-1]) & (np.abs(np.diff(start)) <= 2 * tolerances.COINCIDENT)][: len(line)]
    place = np.cumsum(~repeats)
    by_length = np.lexsort((end, place))
    longest = np.sort(by_length[np.r_[np.diff(place) > 0, True][: len(line)]])
    start, end, z_start, z_end = (a[longest] for a in (start, end, z_start, z_end))
    line = line[longest]
    if len(line) == 0:
        return Polylines(np.full((n, 0), np.inf), np.full((n, 0), np.nan))
    last = np.r_[line[1:] != line[:-1], True]
    gap = np.r_[(line[1:] == line[:-1]) & (start[1:] - end[:-1] > 1e-6), False]
    # Each chord gives its start; the last of a run gives its end too; a gap gives a NaN vertex after that.
    closes = last | gap
    counts = 1 + closes + gap
    place = np.cumsum(counts) - counts
    total = int(counts.sum())
    offsets, levels, owner = np.empty(total), np.empty(total), np.repeat(line, counts)
    offsets[place], levels[place] = start, z_start
    offsets[place[closes] + 1], levels[place[closes] + 1] = end[closes], z_end[closes]
    after = np.flatnonzero(gap)
    offsets[place[after] + 2] = (end[after] + start[after + 1]) / 2
    levels[place[after] + 2] = np.nan
    per_line = np.bincount(owner, minlength=n)
    column = np.arange(total) - np.repeat(np.cumsum(per_line) - per_line, per_line)
    out = Polylines(np.full((n, int(per_line.max())), np.inf), np.full((n, int(per_line.max())), np.nan))
    out.offsets[owner, column] = offsets
    out.levels[owner, column] = levels
    return out
