"""The milled surface: the existing one, lowered between two offsets, with upright steps at the sides. Where stretches lie on each
other the deeper one is milled; those beside each other are all milled."""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools, Floats, Polylines, interpolate
from saddle.overlay.spec import MillingStretch


@dataclass(frozen=True, slots=True, eq=False)
class Cuts:
    """k stretches that are milled, on n sections: their limits left and right (k, n), m, and the depth at either of them (k, n), m,
    straight between; 0 where a stretch does not reach a section. A NaN limit is not known."""

    left: Floats
    right: Floats
    at_left: Floats
    at_right: Floats

    @property
    def there(self) -> Bools:
        """Which stretch is milled on which section, (k, n)."""
        return (self.at_left > 0) | (self.at_right > 0)

    def first(self, number: int) -> "Cuts":
        """The first so many stretches."""
        return Cuts(*(v[:number] for v in (self.left, self.right, self.at_left, self.at_right)))


@dataclass(frozen=True, slots=True, eq=False)
class Depths:
    """What is milled across n sections. at: (n, b) offsets in order, padded with inf; before, after: (n, b) depths on the left and on
    the right of each, m, straight from one place to the next."""

    at: Floats
    before: Floats
    after: Floats

    def area(self) -> tuple[Floats, Floats]:
        """Area (n,), m2, and its moment about the alignment (n,), m3."""
        a, b = self.at[:, :-1], self.at[:, 1:]
        there = np.isfinite(b)
        a, b = np.where(there, a, 0.0), np.where(there, b, 0.0)
        left, right = np.where(there, self.after[:, :-1], 0.0), np.where(there, self.before[:, 1:], 0.0)
        wide = b - a
        return (wide * (left + right) / 2).sum(axis=1), (wide * (left * (2 * a + b) + right * (a + 2 * b)) / 6).sum(axis=1)


@dataclass(frozen=True, slots=True, eq=False)
class Milling:
    """What is milled on n sections. surface: the old one where nothing is; planned: the same without the notches of ties, which
    the levels do not follow; area: (n,) m2 of the section; moment: (n,) m3;
    depth: (n,) m, the greatest; 0 where nothing is milled, NaN where it is not known; cuts: each stretch by itself."""

    surface: Polylines
    planned: Polylines
    area: Floats
    moment: Floats
    depth: Floats
    cuts: Cuts


def surface_of(milling: Milling) -> Polylines:
    """The surface that the overlay lies on."""
    return milling.surface


def planned_of(milling: Milling) -> Polylines:
    """The surface that the levels follow."""
    return milling.planned


def milled(existing: Polylines, cuts: Cuts, planned: int) -> Milling:
    """The old surface (n sections) with its cuts; planned: how many of them, the first ones, are no notches of ties."""
    depths = deepest(cuts)
    surface = lowered(existing, depths)
    bare = surface if planned == len(cuts.left) else lowered(existing, deepest(cuts.first(planned)))
    area, moment = depths.area()
    unknown = (cuts.there & np.isnan(cuts.right - cuts.left)).any(axis=0)
    wide = cuts.there & ~(cuts.right <= cuts.left)
    depth = np.where(wide, np.maximum(cuts.at_left, cuts.at_right), 0.0).max(axis=0, initial=0.0)
    return Milling(surface, bare, np.where(unknown, np.nan, area), np.where(unknown, np.nan, moment), depth, cuts)


def milled_widths(cuts: Cuts, curvature: Floats) -> tuple[Floats, Floats]:
    """Width milled in plan at both ends of every interval between sections, (n - 1,) m, less what the alignment's bend takes; straight in
    between. What lies on each other counts once.

    curvature: (n - 1,) of the intervals. An interval is milled where a stretch has some depth at either end of it: it is milled
    right up to where the depth comes to nothing, and there as wide as anywhere.
    """
    there = cuts.there[:, :-1] | cuts.there[:, 1:]
    ends = [_union(there, cuts.left[:, part], cuts.right[:, part]) for part in (slice(None, -1), slice(1, None))]
    first, second = (width - curvature * moment for width, moment in ends)
    return first, second


def _union(there: Bools, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    """Width (n,) that stretches (k, n) cover together, and its moment."""
    order = np.argsort(np.where(there, low, np.inf), axis=0)
    there = np.take_along_axis(there, order, 0)
    low, high = np.take_along_axis(low, order, 0), np.take_along_axis(high, order, 0)
    width, moment = np.zeros(low.shape[1]), np.zeros(low.shape[1])
    reached = np.full(low.shape[1], -np.inf)
    for on, a, b in zip(there, low, high, strict=True):
        start, end = np.where(on, np.maximum(a, reached), 0.0), np.where(on, b, 0.0)
        end = np.maximum(end, start)
        width += end - start
        moment += (end**2 - start**2) / 2
        reached = np.where(on, np.maximum(reached, b), reached)
    return width, moment


def depth_along(stretch: MillingStretch, chainage: Floats) -> Floats:
    """Milling depth (n,), m; 0 outside the stretch."""
    c = [r.chainage for r in stretch.rows]
    mm = [r.depth_mm for r in stretch.rows]
    found: Floats = np.interp(chainage, c, mm, left=0.0, right=0.0) / 1000
    return found


def share_at(stretch: MillingStretch) -> tuple[float, float]:
    """Share of the depth at the left and right limit."""
    return {"both": (1.0, 1.0), "left": (1.0, 0.0), "right": (0.0, 1.0)}[stretch.full_at]


def deepest(cuts: Cuts) -> Depths:
    """The greatest depth of all cuts across every section; where two run against each other, up to where they cross."""
    cut = cuts.there & (cuts.right > cuts.left)
    most = int(cut.sum(axis=0).max(initial=0))
    chosen = np.argsort(~cut, axis=0, kind="stable")[:most]

    def of(values: Floats, none: float) -> Floats:
        return np.where(np.take_along_axis(cut, chosen, 0), np.take_along_axis(values, chosen, 0), none).T

    low, high, at_low, at_high = of(cuts.left, np.inf), of(cuts.right, np.inf), of(cuts.at_left, 0.0), of(cuts.at_right, 0.0)
    on = np.isfinite(low)
    start = np.where(on, low, 0.0)
    rise = np.where(on, at_high - at_low, 0.0) / np.where(on, high - start, 1.0)
    base = at_low - rise * start  # depth = base + rise * offset
    places = [low, high]
    for p in range(most):
        for q in range(p):
            with np.errstate(divide="ignore", invalid="ignore"):
                met = (base[:, q] - base[:, p]) / (rise[:, p] - rise[:, q])
                # One next to a limit is the limit: it must not take the place of that.
                first, last = np.maximum(low[:, p], low[:, q]), np.minimum(high[:, p], high[:, q])
                inside = (met > first + tolerances.COINCIDENT) & (met < last - tolerances.COINCIDENT)
            places.append(np.where(inside, met, np.inf)[:, None])
    at = np.sort(np.concatenate(places, axis=1), axis=1)
    with np.errstate(invalid="ignore"):
        again = np.diff(at, axis=1, prepend=-np.inf) <= tolerances.COINCIDENT
    at = np.sort(np.where(again, np.inf, at), axis=1)
    known = np.where(np.isfinite(at), at, 0.0)
    middle = np.where(np.isfinite(at[:, 1:]), (known[:, :-1] + known[:, 1:]) / 2, np.nan)[:, :, None]
    inside = (middle > low[:, None]) & (middle < high[:, None])
    there = np.where(inside, base[:, None] + rise[:, None] * middle, 0.0)
    deep = there.argmax(axis=2) if most else np.zeros(there.shape[:2], dtype=int)
    any_ = there.max(axis=2, initial=0.0) > 0
    row = np.arange(len(at))[:, None]
    left, right = (
        np.where(any_, base[row, deep] + rise[row, deep] * o, 0.0) if most else known[:, :0]
        for o in (known[:, :-1], known[:, 1:])
    )
    none = np.zeros((len(at), min(1, at.shape[1])))
    which = np.where(any_, deep, -1)
    beside = np.full(none.shape, -1)
    turns = np.isfinite(at) & (np.concatenate([beside, which], axis=1) != np.concatenate([which, beside], axis=1))
    order = np.argsort(~turns, axis=1, kind="stable")[:, : int(turns.sum(axis=1).max(initial=0))]

    def kept(values: Floats, pad: float) -> Floats:
        return np.take_along_axis(np.where(turns, values, pad), order, 1)

    return Depths(
        kept(at, np.inf), kept(np.concatenate([none, right], axis=1), 0.0), kept(np.concatenate([left, none], axis=1), 0.0)
    )


def lowered(surface: Polylines, depths: Depths) -> Polylines:
    """Polylines lowered by depths, with two vertices at every place where a depth begins, ends or changes."""
    if not depths.at.shape[1]:
        return surface
    o, z = surface.offsets, surface.levels
    at = depths.at
    down = np.zeros_like(o)
    on = np.zeros(o.shape, dtype=bool)
    for k in range(at.shape[1]):
        a = at[:, k, None]
        on |= np.isfinite(o) & (o == a)
        if k + 1 < at.shape[1]:
            b = at[:, k + 1, None]
            here = (o > a) & (o < b) & np.isfinite(b)
            first, last = depths.after[:, k, None], depths.before[:, k + 1, None]
            start, span = np.where(here, a, 0.0), np.where(here, b, 1.0) - np.where(here, a, 0.0)
            down = np.where(here, first + (np.where(here, o, 0.0) - start) / span * (last - first), down)
    offsets = np.concatenate([np.where(on, np.inf, o), at, at], axis=1)
    inner, outer = interpolate(surface, at, "inner") - depths.before, interpolate(surface, at, "outer") - depths.after
    levels = np.concatenate([z - down, inner, outer], axis=1)
    order = np.argsort(offsets, axis=1, kind="stable")
    offsets, levels = np.take_along_axis(offsets, order, 1), np.take_along_axis(levels, order, 1)
    width = int(np.isfinite(offsets).sum(axis=1).max(initial=0))
    offsets, levels = offsets[:, :width], levels[:, :width]
    return Polylines(offsets, np.where(np.isfinite(offsets), levels, np.nan))
