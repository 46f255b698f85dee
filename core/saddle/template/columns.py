"""What lies under the finished surface, shared out from the top: no gap, no overlap, vertices shared by neighbours.

The half is cut into columns between the offsets where anything begins, ends or bends, on all sections at once. A
front, the lowest line reached so far, starts at the finished surface and is pushed down claim by claim. What a claim
gets is what lies between the front before and after it. Within a column every line is straight; where the front and a
claimed line cross inside a column, the column is split there.
"""

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools, Floats, Polylines, interpolate


@dataclass(frozen=True, slots=True, eq=False)
class Plane:
    """A straight line on every section. u, z: (n,) a place on it; slope: (n,) rise per metre outward."""

    u: Floats
    z: Floats
    slope: Floats

    def at(self, u: Floats) -> Floats:
        """Levels at outward offsets, (n,) or (n, q)."""
        if u.ndim == 1:
            return self.z + self.slope * (u - self.u)
        return self.z[:, None] + self.slope[:, None] * (u - self.u[:, None])

    def lowered(self, by: Floats) -> "Plane":
        """The same line so far below, (n,)."""
        return Plane(self.u, self.z - by, self.slope)

    def meets(self, other: "Plane") -> Floats:
        """Offset where two lines cross, (n,); not finite where they are parallel."""
        with np.errstate(invalid="ignore", divide="ignore"):
            return self.u + (other.at(self.u) - self.z) / (self.slope - other.slope)


def through(u0: Floats, z0: Floats, u1: Floats, z1: Floats) -> Plane:
    """The line through two places, (n,) each; level where both have one offset."""
    with np.errstate(invalid="ignore", divide="ignore"):
        slope = (z1 - z0) / (u1 - u0)
    return Plane(u0, z0, np.where(u1 == u0, 0.0, slope))


Line = Plane | Polylines


class Columns:
    """Columns of n sections with the finished surface over them and the front that claims push down.

    left, right: (n, q) ends of the columns, of no width where a section has fewer; surface, front: (n, 2 q) levels at
    the ends, all left ends first.
    """

    def __init__(self, breaks: Sequence[Floats]) -> None:
        """breaks: (n,) or (n, k) outward offsets; those not finite count as the outermost."""
        every = np.concatenate([b[:, None] if b.ndim == 1 else b for b in breaks], axis=1)
        finite = np.isfinite(every)
        most = np.max(np.where(finite, every, -np.inf), axis=1, keepdims=True)
        most = np.where(np.isfinite(most), most, 0.0)
        grid = np.sort(np.where(finite, every, most), axis=1)
        wide = (np.diff(grid, axis=1) > 0).any(axis=0)
        self.left, self.right = grid[:, :-1][:, wide], grid[:, 1:][:, wide]
        self.front = np.full((len(grid), 2 * self.left.shape[1]), np.nan)
        self.surface = self.front
        self._kept: dict[Hashable, list[tuple[Floats, Floats]]] = {}
        self._known: dict[int, Floats] = {}

    @property
    def ends(self) -> Floats:
        """(n, 2 q) offsets of the ends of the columns, all left ends first."""
        return np.concatenate([self.left, self.right], axis=1)

    def within(self, a: Floats, b: Floats) -> Bools:
        """Whether columns lie between two offsets (n,), as (n, 2 q)."""
        middle = (self.left + self.right) / 2
        inside = (middle > a[:, None]) & (middle < b[:, None]) & (self.right > self.left)
        return np.concatenate([inside, inside], axis=1)

    def levels(self, line: Line) -> Floats:
        """A line on the ends of the columns, (n, 2 q), as seen from inside them."""
        if isinstance(line, Plane):
            return line.at(self.ends)
        if id(line) not in self._known:
            both = interpolate(line, self.left, "outer"), interpolate(line, self.right, "inner")
            self._known[id(line)] = np.concatenate(both, axis=1)
        return self._known[id(line)]

    def lay_surface(self, a: Floats, b: Floats, plane: Plane) -> None:
        """The finished surface between two offsets (n,); before any claim."""
        self.surface = self.front = np.where(self.within(a, b), plane.at(self.ends), self.front)

    def claim(self, owner: Hashable, a: Floats, b: Floats, bottom: Line, not_below: Line | None = None) -> None:
        """Push the front between offsets a and b (n,) down to a line, nowhere below another; the owner gets what lies
        between. Where the front is lower already nothing is claimed."""
        if not self.within(a, b).any():
            return

        def target() -> Floats:
            wanted = self.levels(bottom)
            return wanted if not_below is None else np.maximum(wanted, self.levels(not_below))

        if not_below is not None:
            self._split(a, b, lambda: self.levels(bottom) - self.levels(not_below))
        self._split(a, b, lambda: self.front - target())
        inside = self.within(a, b)
        lower = np.where(inside, np.minimum(self.front, target()), self.front)
        with np.errstate(invalid="ignore"):
            got = self._either_end(~(self.front - lower <= tolerances.COINCIDENT))
        lower = np.where(got, lower, self.front)
        parts = self._kept.setdefault(owner, [])
        if not parts or self._apart(parts[-1], got):
            parts.append((self.front, self.front))
        top, old = parts[-1]
        parts[-1] = (np.where(got & (old == top), self.front, top), np.where(got, lower, old))
        self.front = lower

    def claimed(self) -> list[tuple[Hashable, Floats, Floats]]:
        """Owners with top and bottom (n, 2 q) of what they got, of no thickness elsewhere. What an owner got above and
        below something else comes apart."""
        return [(owner, top, bottom) for owner, parts in self._kept.items() for top, bottom in parts]

    def _either_end(self, mask: Bools) -> Bools:
        """Columns of which one end is in a mask (n, 2 q)."""
        q = self.left.shape[1]
        either = mask[:, :q] | mask[:, q:]
        return np.concatenate([either, either], axis=1)

    def _apart(self, part: tuple[Floats, Floats], got: Bools) -> bool:
        """Whether something else lies between a part and what is got now."""
        top, bottom = part
        with np.errstate(invalid="ignore"):
            thick = self._either_end(top - bottom > tolerances.COINCIDENT)
            return bool((got & thick & (bottom - self.front > tolerances.COINCIDENT)).any())

    def along(self, values: Floats) -> Floats:
        """Values (n, 2 q) in the order of the offsets, left and right end of each column by turns. Columns of no width
        take the value of the end beside them."""
        q = self.left.shape[1]
        real = self.right > self.left
        number = np.arange(q)
        before = np.maximum.accumulate(np.where(real, number, -1), axis=1)
        after = np.minimum.accumulate(np.where(real, number, q)[:, ::-1], axis=1)[:, ::-1]
        source = np.where(before >= 0, before + q, np.minimum(after, q - 1))  # its right end, or the left one of the next
        beside = np.take_along_axis(values, source, 1) if q else values
        left = np.where(real, values[:, :q], beside)
        right = np.where(real, values[:, q:], beside)
        return np.stack([left, right], axis=2).reshape(len(values), 2 * q)

    def _split(self, a: Floats, b: Floats, difference: Callable[[], Floats]) -> None:
        """Split the columns between two offsets where a difference changes its sign inside them."""
        d = difference()
        q = self.left.shape[1]
        first, last = d[:, :q], d[:, q:]
        with np.errstate(invalid="ignore"):
            real = np.minimum(np.abs(first), np.abs(last)) > tolerances.COINCIDENT
            crosses = self.within(a, b)[:, :q] & (first * last < 0) & real
        if not crosses.any():
            return
        with np.errstate(invalid="ignore", divide="ignore"):
            t = np.where(crosses, first / (first - last), 1.0)
        into = crosses.any(axis=0)
        column = np.repeat(np.arange(q), 1 + into)
        second = np.r_[False, column[1:] == column[:-1]]
        begins_split = np.r_[second[1:], False]

        def cut(values: Floats) -> Floats:
            start, end = values[:, :q], values[:, q:]
            with np.errstate(invalid="ignore"):
                inner = np.where(t == 1.0, end, start + t * (end - start))
            left = np.where(second, inner[:, column], start[:, column])
            right = np.where(begins_split, inner[:, column], end[:, column])
            return np.concatenate([left, right], axis=1)

        ends = cut(self.ends)
        self.left, self.right = ends[:, : len(column)], ends[:, len(column) :]
        self.surface, self.front = cut(self.surface), cut(self.front)
        self._kept = {owner: [(cut(top), cut(bottom)) for top, bottom in parts] for owner, parts in self._kept.items()}
        self._known = {}
