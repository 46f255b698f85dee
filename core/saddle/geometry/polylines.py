"""Section polylines in batches: one row per section, padded with +inf offsets and NaN levels.

Offsets do not decrease along a row. Two vertices at one offset are a step (a kerb face). A vertex with a
finite offset and a NaN level lies in a gap: nothing is known between its neighbours.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from saddle.errors import GeometryError
from saddle.geometry import loops

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.intp]


@dataclass(frozen=True, slots=True, eq=False)
class Polylines:
    """n polylines of up to m vertices. offsets, levels: (n, m) float, m; padding is (+inf, NaN)."""

    offsets: Floats
    levels: Floats

    def __post_init__(self) -> None:
        if self.offsets.shape != self.levels.shape or self.offsets.ndim != 2:
            raise GeometryError(f"offsets {self.offsets.shape} and levels {self.levels.shape} must be one (n, m) shape")

    def __len__(self) -> int:
        return int(self.offsets.shape[0])

    def rows(self, index: Ints | Bools | slice) -> "Polylines":
        """The polylines of the given rows."""
        return Polylines(self.offsets[index], self.levels[index])

    def row(self, i: int) -> tuple[Floats, Floats]:
        """Offsets and levels of one polyline without padding; gap vertices keep their NaN."""
        keep = np.isfinite(self.offsets[i])
        return self.offsets[i, keep], self.levels[i, keep]


def pack(rows: list[tuple[Floats, Floats]]) -> Polylines:
    """Polylines out of ragged (offsets, levels) pairs."""
    width = max((len(o) for o, _ in rows), default=0)
    offsets = np.full((len(rows), width), np.inf)
    levels = np.full((len(rows), width), np.nan)
    for i, (o, z) in enumerate(rows):
        offsets[i, : len(o)] = o
        levels[i, : len(z)] = z
    return Polylines(offsets, levels)


def mirror(lines: Polylines) -> Polylines:
    """The same polylines seen from the other side: offsets change sign and order."""
    offsets = -lines.offsets[:, ::-1]
    levels = lines.levels[:, ::-1]
    padding = np.isinf(offsets)
    order = np.argsort(padding, axis=1, kind="stable")
    offsets = np.where(padding, np.inf, offsets)
    return Polylines(np.take_along_axis(offsets, order, 1), np.take_along_axis(levels, order, 1))


def interpolate(lines: Polylines, at: Floats, side: Literal["inner", "outer"] = "outer") -> Floats:
    """Levels at offsets `at` (n, k), m. NaN outside the polyline and in gaps.

    At a step `side` chooses the level just before ("inner") or just after ("outer") it.
    """
    c = np.ascontiguousarray
    found: Floats = loops.interpolate(c(lines.offsets), c(lines.levels), c(at, dtype=float), side == "outer")
    return found


def on_segments(lines: Polylines, middle: Floats, at: Floats) -> Floats:
    """Levels at `at` (j, n, k) of the straight segments that lie over the places `middle` (n, k), carried on as far as needed.
    NaN where no segment lies over the middle, and in gaps."""
    c = np.ascontiguousarray
    found: Floats = loops.on_segments(c(lines.offsets), c(lines.levels), c(middle), c(at))
    return found


def merge_close(grid: Floats, within: float) -> Floats:
    """Sorted rows (n, p) in which values that follow another by no more than `within` take its place."""
    if grid.shape[1] == 0:
        return grid
    apart = np.diff(grid, axis=1) > within
    first = np.maximum.accumulate(np.where(np.c_[np.ones(len(grid), dtype=bool), apart], np.arange(grid.shape[1]), 0), axis=1)
    return np.take_along_axis(grid, first, 1)


def merge_offsets(low: Floats, high: Floats, *parts: Floats) -> Floats:
    """One grid of offsets per row: low, high and all that lies between them, in order.

    low, high: (n,); parts: (n, m_i), non-finite values are ignored. Rows keep at most two vertices at one
    offset (enough for a step) and are padded with `high`. Returns (n, p). Rows with NaN ends are all NaN.
    """
    n = low.shape[0]
    lo, hi = low[:, None], high[:, None]
    columns = [np.broadcast_to(lo, (n, 1)), np.broadcast_to(hi, (n, 1))]
    for part in parts:
        inside = (part >= lo) & (part <= hi)
        columns.append(np.where(inside, part, hi))
    return compress(np.sort(np.concatenate(columns, axis=1), axis=1))


def compress(grid: Floats) -> Floats:
    """Drop the third and further repeats of an offset in sorted rows (n, p); pad with the last value."""
    found: Floats = loops.packed(np.ascontiguousarray(grid))
    return found


def sample(lines: Polylines, grid: Floats) -> Floats:
    """Levels on the vertices of a grid (n, p) from merge_offsets, as seen from inside the grid.

    Where a grid offset stands twice the first takes the inner and the second the outer level; at the grid's
    own ends the level is the one inside it.
    """
    outer = interpolate(lines, grid, "outer")
    inner = interpolate(lines, grid, "inner")
    repeats_next = np.zeros(grid.shape, dtype=bool)
    repeats_next[:, :-1] = grid[:, :-1] == grid[:, 1:]
    first = grid == grid[:, :1]
    last = grid == grid[:, -1:]
    take_inner = (repeats_next & ~first) | (last & ~first)
    return np.where(take_inner, inner, outer)


def crossings(grid: Floats, difference: Floats) -> Floats:
    """Offsets inside the intervals of a grid where a difference, linear between its vertices, is zero.

    grid, difference: (n, p). Returns (n, p - 1), NaN where an interval has no inner crossing.
    """
    a, b = difference[:, :-1], difference[:, 1:]
    with np.errstate(invalid="ignore", divide="ignore"):
        changes = a * b < 0
        t = a / (a - b)
        found = grid[:, :-1] + t * (grid[:, 1:] - grid[:, :-1])
    return np.where(changes, found, np.nan)


def first_descent(u: Floats, f: Floats) -> Floats:
    """First position at which a piecewise linear function comes down to zero or below.

    u, f: (n, p), u not decreasing; a NaN in f ends the row there. Returns (n,), NaN where it stays above.
    """
    c = np.ascontiguousarray
    found: Floats = loops.first_descent(c(u, dtype=float), c(f, dtype=float))
    return found
