"""Loops that are compiled to machine code at their first call, which is kept beside the sources: for what goes piece by piece and
branches at each. They stand in one file, because what is kept is renewed when its own file changes. Plain arithmetic, in the order
it is written: no shortcut that changes a digit."""

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.intp]
Loop = TypeVar("Loop", bound=Callable[..., Any])
#: A triangle clipped by the three sides of another has six corners at most; cut once more, seven.
MOST_CORNERS = 8


def _compiled(loop: Loop) -> Loop:
    return cast(Loop, njit(cache=True, nogil=True, error_model="numpy")(loop))


@_compiled
def _kept(ring: Floats, side: Floats, count: int, out: Floats) -> int:
    """The part of a convex ring on which a function linear on it is not negative: Sutherland and Hodgman's clipping. ring, out:
    (MOST_CORNERS, 3) easting, northing and rise, of which the first `count` corners hold; side: its values there. Returns how many
    corners are left in out."""
    left = 0
    for k in range(count):
        after = k + 1 if k + 1 < count else 0
        a, b = side[k], side[after]
        if a >= 0:
            for d in range(3):
                out[left, d] = ring[k, d]
            left += 1
        if (a >= 0) != (b >= 0):
            t = a / (a - b)
            for d in range(3):
                out[left, d] = ring[k, d] + t * (ring[after, d] - ring[k, d])
            left += 1
    return left


@_compiled
def _shared(a: Floats, b: Floats, ring: Floats, other: Floats, side: Floats) -> int:
    """What a triangle shares in plan with another, both (3, 2) counter-clockwise: its corners in `ring`, how many are returned."""
    for k in range(3):
        ring[k, 0], ring[k, 1], ring[k, 2] = a[k, 0], a[k, 1], 0.0
    count = 3
    for k in range(3):
        x, y = b[k, 0], b[k, 1]
        dx, dy = b[(k + 1) % 3, 0] - x, b[(k + 1) % 3, 1] - y
        whole = True
        for c in range(count):
            side[c] = dx * (ring[c, 1] - y) - dy * (ring[c, 0] - x)
            whole = whole and side[c] >= 0
        if whole:
            continue
        count = _kept(ring, side, count, other)
        if count < 3:
            return 0
        for c in range(count):
            ring[c, 0], ring[c, 1] = other[c, 0], other[c, 1]
    return count


@_compiled
def _prism(ring: Floats, count: int) -> tuple[float, float]:
    """Plan area of a convex ring, and the integral of the rise over it."""
    area = volume = 0.0
    for k in range(1, count - 1):
        size = abs(
            (ring[k, 0] - ring[0, 0]) * (ring[k + 1, 1] - ring[0, 1]) - (ring[k + 1, 0] - ring[0, 0]) * (ring[k, 1] - ring[0, 1])
        )
        area += size / 2
        volume += size * (ring[0, 2] + ring[k, 2] + ring[k + 1, 2]) / 6
    return area, volume


@_compiled
def volumes(a: Floats, b: Floats, plane_a: Floats, plane_b: Floats, i: Ints, j: Ints) -> tuple[float, float, float, float, float]:
    """Between two surfaces, over pairs of triangles (p,): cut where the second lies below the first and fill where above, m3, the
    area they share, m2, and the deepest cut and fill, m.

    a, b: (n, 3, 2) corners in plan, counter-clockwise; plane_a, plane_b: (n, 3), the level as x, y and constant of each.
    """
    ring, other, side = np.empty((MOST_CORNERS, 3)), np.empty((MOST_CORNERS, 3)), np.empty(MOST_CORNERS)
    cut = fill = area = deepest_cut = deepest_fill = 0.0
    for p in range(len(i)):
        count = _shared(a[i[p]], b[j[p]], ring, other, side)
        if count == 0:
            continue
        least = greatest = 0.0
        for c in range(count):
            rise = 0.0
            for d in range(2):
                rise += ring[c, d] * (plane_b[j[p], d] - plane_a[i[p], d])
            rise += plane_b[j[p], 2] - plane_a[i[p], 2]
            ring[c, 2] = side[c] = rise
            least, greatest = min(least, rise), max(greatest, rise)
        size, whole = _prism(ring, count)
        if size == 0:
            continue
        above = whole if least >= 0 else 0.0
        if least < 0 < greatest:
            above = _prism(other, _kept(ring, side, count, other))[1]
        cut, fill, area = cut + (above - whole), fill + above, area + size
        deepest_cut, deepest_fill = max(deepest_cut, -least), max(deepest_fill, greatest)
    return cut, fill, area, deepest_cut, deepest_fill


@_compiled
def pieces(a: Floats, b: Floats, plane_a: Floats, plane_b: Floats, i: Ints, j: Ints) -> Floats:
    """What pairs of triangles (p,) share in plan, as triangles (t, 3, 3) of easting, northing and how far the second lies above the
    first. Arguments as of `volumes`."""
    ring, other, side = np.empty((MOST_CORNERS, 3)), np.empty((MOST_CORNERS, 3)), np.empty(MOST_CORNERS)
    out = np.empty((len(i) + 1, 3, 3))
    found = 0
    for p in range(len(i)):
        count = _shared(a[i[p]], b[j[p]], ring, other, side)
        for c in range(count):
            x, y = ring[c, 0], ring[c, 1]
            ring[c, 2] = x * (plane_b[j[p], 0] - plane_a[i[p], 0]) + y * (plane_b[j[p], 1] - plane_a[i[p], 1])
            ring[c, 2] += plane_b[j[p], 2] - plane_a[i[p], 2]
        for k in range(1, count - 1):
            if (ring[k, 0] - ring[0, 0]) * (ring[k + 1, 1] - ring[0, 1]) == (ring[k + 1, 0] - ring[0, 0]) * (
                ring[k, 1] - ring[0, 1]
            ):
                continue
            if found == len(out):
                more = np.empty((2 * len(out), 3, 3))
                more[:found] = out
                out = more
            out[found, 0], out[found, 1], out[found, 2] = ring[0], ring[k], ring[k + 1]
            found += 1
    return out[:found]


@_compiled
def within_band(corner: Floats, low: float, high: float) -> Floats:
    """What of triangles (t, 3, 3), easting, northing and a value that is linear on each, has values from low to high: convex rings
    in plan (2, 5, m); where fewer corners are left the last one is there several times. What lies at a limit all over is below it."""
    ring, other, side = np.empty((MOST_CORNERS, 3)), np.empty((MOST_CORNERS, 3)), np.empty(MOST_CORNERS)
    out = np.empty((2, 5, len(corner)))
    found = 0
    for t in range(len(corner)):
        least, greatest = (
            min(corner[t, 0, 2], corner[t, 1, 2], corner[t, 2, 2]),
            max(corner[t, 0, 2], corner[t, 1, 2], corner[t, 2, 2]),
        )
        if greatest <= low or (least >= high and greatest > high):
            continue
        for k in range(3):
            side[k] = corner[t, k, 2] - low
            for d in range(3):
                ring[k, d] = corner[t, k, d]
        count = _kept(ring, side, 3, other)
        for k in range(count):
            side[k] = high - other[k, 2]
        count = _kept(other, side, count, ring)
        if count < 3:
            continue
        for k in range(5):
            for d in range(2):
                out[d, k, found] = ring[min(k, count - 1), d]
        found += 1
    return out[:, :, :found]


@_compiled
def cut_and_fill(o: Floats, z: Floats, q: Floats, y: Floats, low: Floats, high: Floats) -> Floats:
    """Between lines of vertices (n, m), offsets `o` and levels `z`, and others `q` and `y`, from low to high (n,): area where the
    first lies above, its moment, area where it lies below, its moment, (n, 4). NaN where a line has a gap in between or an end is
    not known."""
    n, m, k = len(low), o.shape[1], q.shape[1]
    out = np.zeros((n, 4))
    for r in range(n):
        x, end = low[r], high[r]
        known = np.isfinite(x) and np.isfinite(end)
        i = j = 0
        while known and x < end:
            while i < m and o[r, i] <= x:
                i += 1
            while j < k and q[r, j] <= x:
                j += 1
            known = 0 < i < m and 0 < j < k
            if not known:
                break
            to = min(end, o[r, i], q[r, j])
            slope_z = (z[r, i] - z[r, i - 1]) / (o[r, i] - o[r, i - 1])
            slope_y = (y[r, j] - y[r, j - 1]) / (q[r, j] - q[r, j - 1])
            first = z[r, i - 1] + slope_z * (x - o[r, i - 1]) - (y[r, j - 1] + slope_y * (x - q[r, j - 1]))
            last = z[r, i - 1] + slope_z * (to - o[r, i - 1]) - (y[r, j - 1] + slope_y * (to - q[r, j - 1]))
            known = not (np.isnan(first) or np.isnan(last))
            width = to - x
            if first * last < 0:  # of a cell that crosses zero both tips are triangles
                share = first / (first - last)
                tip, at = first * share * width / 2, x + width * share / 3
                side = 0 if first > 0 else 2
                out[r, side] += abs(tip)
                out[r, side + 1] += abs(tip) * at
                tip, at = last * (1 - share) * width / 2, x + width * (1 - (1 - share) / 3)
                out[r, 2 - side] += abs(tip)
                out[r, 3 - side] += abs(tip) * at
            else:
                side = 0 if first + last > 0 else 2
                out[r, side] += abs((first + last) * width / 2)
                out[r, side + 1] += abs(first + last) * width / 2 * _centre(x, to, first, last)
            x = to
        if not known:
            out[r] = np.nan
    return out


@_compiled
def _centre(x: float, to: float, first: float, last: float) -> float:
    """Offset of the centroid of a trapezium of heights of one sign, 0 where it has no area."""
    both = first + last
    return 0.0 if both == 0 else (x * (2 * first + last) + to * (first + 2 * last)) / (3 * both)


@_compiled
def _before(row: Floats, at: float, or_at: bool) -> int:
    """How many of rising offsets (m,) lie before a place, or at it."""
    low, high = 0, len(row)
    while low < high:
        middle = (low + high) // 2
        if row[middle] < at or (or_at and row[middle] == at):
            low = middle + 1
        else:
            high = middle
    return low


@_compiled
def interpolate(offsets: Floats, levels: Floats, at: Floats, outer: bool) -> Floats:
    """Levels of lines (n, m) at offsets (n, k); at a step just after it or just before. NaN outside and in gaps."""
    n, m = offsets.shape
    out = np.full(at.shape, np.nan)
    for r in range(n):
        row = offsets[r]
        for k in range(at.shape[1]):
            x = at[r, k]
            if not np.isfinite(x):
                continue
            after = _before(row, x, outer)
            exact = after - 1 if outer else after
            if 0 <= exact < m and row[exact] == x:
                out[r, k] = levels[r, exact]
            elif 0 < after < m:
                t = (x - row[after - 1]) / (row[after] - row[after - 1])
                out[r, k] = levels[r, after - 1] + t * (levels[r, after] - levels[r, after - 1])
    return out


@_compiled
def on_segments(offsets: Floats, levels: Floats, middle: Floats, at: Floats) -> Floats:
    """Levels at places (j, n, k) of the segments of lines (n, m) that lie over the middles (n, k), carried on as far as needed."""
    out = np.full(at.shape, np.nan)
    for r in range(len(offsets)):
        row = offsets[r]
        for k in range(middle.shape[1]):
            if not np.isfinite(middle[r, k]):
                continue
            after = _before(row, middle[r, k], True)
            if not 0 < after < len(row) or not np.isfinite(row[after]):
                continue
            slope = (levels[r, after] - levels[r, after - 1]) / (row[after] - row[after - 1])
            for j in range(len(at)):
                out[j, r, k] = levels[r, after - 1] + slope * (at[j, r, k] - row[after - 1])
    return out


@_compiled
def first_descent(u: Floats, f: Floats) -> Floats:
    """Where functions (n, p), straight between places u that do not decrease, first come down to zero or below: (n,), NaN where they
    stay above or are not known before."""
    out = np.full(len(u), np.nan)
    for r in range(len(u)):
        for j in range(u.shape[1]):
            if np.isnan(f[r, j]):
                break
            if f[r, j] <= 0:
                out[r] = u[r, j]
                if j > 0 and f[r, j - 1] > f[r, j]:
                    out[r] = u[r, j - 1] + f[r, j - 1] / (f[r, j - 1] - f[r, j]) * (u[r, j] - u[r, j - 1])
                break
    return out


@_compiled
def packed(grid: Floats) -> Floats:
    """Sorted rows (n, p), NaN last, without the third and further repeats of a value and without NaN, filled up with the row's last
    value: (n, q), q being as many as the longest row keeps."""
    n, p = grid.shape
    out = np.empty((n, p))
    most = 0
    for r in range(n):
        kept = 0
        for c in range(p):
            x = grid[r, c]
            if c < 2 or not (np.isnan(x) or (x == grid[r, c - 1] and x == grid[r, c - 2])):
                out[r, kept] = x
                kept += 1
        for c in range(kept, p):
            out[r, c] = grid[r, p - 1]
        most = max(most, kept)
    return out[:, :most].copy()


@njit("float64[:](float64[:], float64[:], float64[:], float64[:])", cache=True, nogil=True, error_model="numpy")
def slopes(u0: Floats, z0: Floats, u1: Floats, z1: Floats) -> Floats:
    """Rise per metre of the lines through two places, (n,) each; 0 where both have one offset."""
    out = np.empty(len(u0))
    for r in range(len(u0)):
        out[r] = 0.0 if u0[r] == u1[r] else (z1[r] - z0[r]) / (u1[r] - u0[r])
    return out


@njit("boolean(float64[:,:,:], float64[:,:,:], boolean[:,:], float64)", cache=True, nogil=True, error_model="numpy")
def cross(first: Floats, second: Floats, inside: Bools, near: float) -> bool:
    """Whether levels of two lines (2, n, w), at the left and right ends of columns, change sides within a column of those inside
    (n, w), by more than `near` at both of its ends."""
    for r in range(inside.shape[0]):
        for c in range(inside.shape[1]):
            left, right = first[0, r, c] - second[0, r, c], first[1, r, c] - second[1, r, c]
            if inside[r, c] and left * right < 0 and min(abs(left), abs(right)) > near:
                return True
    return False


@njit(
    "Tuple((boolean, boolean[:,::1], float64[:,:,::1], float64[:,:,::1]))(float64[:,:,:], float64[:,:,:], boolean[:,:], float64)",
    cache=True, nogil=True, error_model="numpy",
)  # fmt: skip
def pushed(front: Floats, wanted: Floats, inside: Bools, near: float) -> tuple[bool, Bools, Floats, Floats]:
    """A front (2, n, w) pushed down to a line: whether it moves by more than `near` anywhere, where it does (n, w), and the front
    before and after. Where something is not known it counts as moved."""
    n, w = inside.shape
    got, top, bottom = np.zeros((n, w), dtype=np.bool_), np.empty((2, n, w)), np.empty((2, n, w))
    some = False
    for r in range(n):
        for c in range(w):
            flat = front[0, r, c] - wanted[0, r, c] <= near and front[1, r, c] - wanted[1, r, c] <= near
            got[r, c] = inside[r, c] and not flat
            some = some or got[r, c]
            for e in range(2):
                top[e, r, c] = bottom[e, r, c] = front[e, r, c]
                if got[r, c] and not front[e, r, c] <= wanted[e, r, c]:
                    bottom[e, r, c] = np.nan if np.isnan(front[e, r, c]) else wanted[e, r, c]
    return some, got, top, bottom


@njit(
    "Tuple((int64, int64, boolean[:,::1]))(float64[:,:], boolean[:,:], float64[:], float64[:])",
    cache=True, nogil=True, error_model="numpy",
)  # fmt: skip
def reached(twice_middle: Floats, real: Bools, a: Floats, b: Floats) -> tuple[int, int, Bools]:
    """Which of the columns (n, q), whose middles do not fall, lie between offsets a and b (n,) on some row: the first and the one
    after the last, and on which rows (n, w). Rows where an offset is not known reach none."""
    n, q = real.shape
    low, high = np.zeros(n, dtype=np.intp), np.zeros(n, dtype=np.intp)
    start, stop = q, 0
    for r in range(n):
        if not (np.isfinite(a[r]) and np.isfinite(b[r]) and a[r] < b[r]):
            continue
        first, last = _before(twice_middle[r], 2 * a[r], True), _before(twice_middle[r], 2 * b[r], False)
        while first < last and not real[r, first]:
            first += 1
        while last > first and not real[r, last - 1]:
            last -= 1
        low[r], high[r] = first, last
        if first < last:
            start, stop = min(start, first), max(stop, last)
    if start >= stop:
        return 0, 0, np.zeros((n, 0), dtype=np.bool_)
    inside = np.zeros((n, stop - start), dtype=np.bool_)
    for r in range(n):
        for c in range(low[r], high[r]):
            inside[r, c - start] = real[r, c]
    return start, stop, inside
