"""What lies under the finished surface, shared out from the top: no gap, no overlap, vertices shared by neighbours.

The half is cut into columns between the offsets where anything begins, ends or bends, on all sections at once. A
front, the lowest line reached so far, starts at the finished surface and is pushed down claim by claim. What a claim
gets is what lies between the front before and after it. Within a column every line is straight; where the front and a
claimed line cross inside a column, the column is split there.
"""

from collections.abc import Hashable
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry import loops
from saddle.geometry.polylines import Bools, Floats, Polylines, merge_close, on_segments


@dataclass(frozen=True, slots=True, eq=False)
class Plane:
    """A straight line on every section. u, z: (n,) a place on it; slope: (n,) rise per metre outward."""

    u: Floats
    z: Floats
    slope: Floats

    def at(self, u: Floats) -> Floats:
        """Levels at outward offsets, (n,) or (n, k)."""
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
    return Plane(u0, z0, loops.slopes(u0, z0, u1, z1))


Line = Plane | Polylines


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """What an owner got between two columns: top, bottom: (2, n, w) levels at their left and right ends."""

    first: int
    top: Floats
    bottom: Floats

    @property
    def end(self) -> int:
        """The column after its last one."""
        return self.first + int(self.top.shape[2])


class Columns:
    """Columns of n sections with the finished surface over them and the front that claims push down.

    ends: (2, n, q) left and right offsets, of no width where a section has fewer columns; surface, front: (2, n, q)
    levels there. A claim works only on the columns that it reaches.
    """

    def __init__(self, every: Floats) -> None:
        """every: (n, k) outward offsets of breaks; those not finite count as the outermost."""
        finite = np.isfinite(every)
        most = np.max(np.where(finite, every, -np.inf), axis=1, keepdims=True)
        most = np.where(np.isfinite(most), most, 0.0)
        grid = merge_close(np.sort(np.where(finite, every, most), axis=1), tolerances.COINCIDENT)
        wide = (np.diff(grid, axis=1) > 0).any(axis=0)
        self.ends = np.stack([grid[:, :-1][:, wide], grid[:, 1:][:, wide]])
        self.surface = np.full(self.ends.shape, np.nan)
        self.front = self.surface
        self._kept: dict[Hashable, list[Part]] = {}
        self._measure()

    def _measure(self) -> None:
        """What follows from the ends, after every split."""
        self._known: dict[int, Floats] = {}
        self._twice_middle = self.ends[0] + self.ends[1]
        self._real = self.ends[1] > self.ends[0]

    def reach(self, a: Floats, b: Floats) -> tuple[slice, Bools]:
        """The columns that lie between two offsets (n,) on some section, and on which ones, (n, w). Sections where either is
        NaN reach none and cost the others nothing."""
        start, stop, inside = loops.reached(self._twice_middle, self._real, a, b)
        return slice(start, stop), inside

    def levels(self, line: Line, part: slice = slice(None)) -> Floats:
        """A line on the ends of some columns, (2, n, w), as seen from inside them: of a polyline the segment over a column's
        middle counts, since its ends may stand a hair beside the vertex that they were made from."""
        if isinstance(line, Plane):
            return line.z[:, None] + line.slope[:, None] * (self.ends[:, :, part] - line.u[:, None])
        if id(line) not in self._known:
            self._known[id(line)] = on_segments(line, self._twice_middle / 2, self.ends)
        return self._known[id(line)][:, :, part]

    def lay_surface(self, a: Floats, b: Floats, plane: Plane) -> None:
        """The finished surface between two offsets (n,); before any claim."""
        part, inside = self.reach(a, b)
        self.surface[:, :, part] = np.where(inside, self.levels(plane, part), self.surface[:, :, part])

    def begin(self) -> None:
        """The surface is laid: the front starts from it."""
        self.surface = self._filled(self.surface)
        self.front = self.surface.copy()

    def claim(self, owner: Hashable, a: Floats, b: Floats, bottom: Line, not_below: Line | None = None) -> None:
        """Push the front between offsets a and b (n,) down to a line, nowhere below another; the owner gets what lies
        between. Where the front is lower already nothing is claimed."""

        def target(part: slice) -> Floats:
            wanted = self.levels(bottom, part)
            return wanted if not_below is None else np.maximum(wanted, self.levels(not_below, part))

        part, inside = self.reach(a, b)
        if inside.shape[1] == 0:
            return
        if not_below is not None and self._split(part, inside, self.levels(bottom, part), self.levels(not_below, part)):
            part, inside = self.reach(a, b)
        wanted = target(part)
        if self._split(part, inside, self.front[:, :, part], wanted):
            part, inside = self.reach(a, b)
            wanted = target(part)
        some, got, top, lower = loops.pushed(self.front[:, :, part], wanted, inside, tolerances.COINCIDENT)
        if some:
            self._keep(owner, Part(part.start, top, lower), got)
            self.front[:, :, part] = lower

    def claimed(self) -> list[tuple[Hashable, Part]]:
        """Owners with what they got. What an owner got above and below something else comes apart."""
        return [(owner, part) for owner, parts in self._kept.items() for part in parts]

    def _keep(self, owner: Hashable, new: Part, got: Bools) -> None:
        """Join what an owner gets to what it has where that lies right above or beside, else keep it apart."""
        parts = self._kept.setdefault(owner, [])
        if parts:
            old = self._stretched(parts[-1], new.first, new.end)
            here = slice(new.first - old.first, new.end - old.first)
            above, below = old.top[:, :, here], old.bottom[:, :, here]
            with np.errstate(invalid="ignore"):
                thick = (above - below > tolerances.COINCIDENT).any(axis=0)
                between = (below - new.top > tolerances.COINCIDENT).any(axis=0)
            if not (got & thick & between).any():
                old.top[:, :, here] = np.where(got & ~thick, new.top, above)
                old.bottom[:, :, here] = np.where(got, new.bottom, below)
                parts[-1] = old
                return
        parts.append(new)

    def _stretched(self, part: Part, first: int, end: int) -> Part:
        """A part over more columns, of no thickness where it was not."""
        first, end = min(first, part.first), max(end, part.end)
        if (first, end) == (part.first, part.end):
            return part
        top = self.surface[:, :, first:end].copy()
        bottom = top.copy()
        here = slice(part.first - first, part.end - first)
        top[:, :, here], bottom[:, :, here] = part.top, part.bottom
        return Part(first, top, bottom)

    def along(self, values: Floats) -> Floats:
        """Values (2, n, w) of some columns in the order of the offsets, (n, 2 w): left and right end of each by turns."""
        out = np.empty((values.shape[1], 2 * values.shape[2]))
        out[:, 0::2], out[:, 1::2] = values
        return out

    def whole(self) -> tuple[Floats, Floats, Floats]:
        """Offsets, surface and front of all columns, (n, 2 q) each."""
        offsets = np.where(np.isfinite(self.ends), self.ends, np.nan)
        return self.along(offsets), self.along(self._filled(self.surface)), self.along(self._filled(self.front))

    def _filled(self, values: Floats) -> Floats:
        """Values (2, n, q) with those of columns of no width taken from the end beside them."""
        real = self._real
        w = real.shape[1]
        if w == 0 or real.all():
            return values
        number = np.arange(w)
        before = np.maximum.accumulate(np.where(real, number, -1), axis=1)
        after = np.minimum.accumulate(np.where(real, number, w)[:, ::-1], axis=1)[:, ::-1]
        beside = np.where(
            before >= 0,
            np.take_along_axis(values[1], np.maximum(before, 0), 1),
            np.take_along_axis(values[0], np.minimum(after, w - 1), 1),
        )
        return np.where(real, values, beside)

    def _split(self, part: slice, inside: Bools, one: Floats, other: Floats) -> bool:
        """Split the columns of a part where two lines (2, n, w) change sides inside them; whether any was."""
        if not loops.cross(one, other, inside, tolerances.COINCIDENT):
            return False
        first, last = one - other
        with np.errstate(invalid="ignore"):
            crosses = inside & (first * last < 0) & (np.minimum(np.abs(first), np.abs(last)) > tolerances.COINCIDENT)
        q = self.ends.shape[2]
        t = np.ones(self.ends.shape[1:])
        with np.errstate(invalid="ignore", divide="ignore"):
            t[:, part] = np.where(crosses, first / (first - last), 1.0)
        into = np.zeros(q, dtype=bool)
        into[part] = crosses.any(axis=0)

        def cut(values: Floats, begin: int, end: int) -> Floats:
            column = np.repeat(np.arange(end - begin), 1 + into[begin:end])
            second = np.r_[False, column[1:] == column[:-1]]
            ahead = np.r_[second[1:], False]
            here = t[:, begin:end]
            with np.errstate(invalid="ignore"):
                inner = np.where(here == 1.0, values[1], values[0] + here * (values[1] - values[0]))
            left = np.where(second, inner[:, column], values[0][:, column])
            right = np.where(ahead, inner[:, column], values[1][:, column])
            return np.stack([left, right])

        moved = np.r_[0, np.cumsum(1 + into)]  # where every column begins after the split
        for owner, parts in self._kept.items():
            self._kept[owner] = [
                Part(int(moved[p.first]), cut(p.top, p.first, p.end), cut(p.bottom, p.first, p.end))
                if into[p.first : p.end].any()
                else Part(int(moved[p.first]), p.top, p.bottom)
                for p in parts
            ]
        self.ends, self.surface, self.front = (cut(v, 0, q) for v in (self.ends, self.surface, self.front))
        self._measure()
        return True
