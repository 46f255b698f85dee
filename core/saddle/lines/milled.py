"""The milled surface along a line: limits and depths of milling run straight from one section of the model to the next."""

from collections.abc import Callable
from itertools import combinations

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools, Floats, Polylines, interpolate
from saddle.lines.cut import Track, merged, root, stretches_of
from saddle.overlay.milling import Cuts

#: A figure of places along a line that changes its sign where something begins or ends, of chainage and offset.
Apart = Callable[[Floats, Floats], Floats]


def cut_milled(track: Track, existing: Polylines) -> tuple[Floats, Floats, list[tuple[float, float]]]:
    """Distances and levels of the milled surface along a line, from the first place that is milled to the last one, with upright
    steps; nothing where nothing is milled, NaN where a limit is not known; and from and to of where it is not. existing: (1, m) the
    old surface along it. Between two bends of the old surface it runs straight, which a stretch that runs out across a skewed line
    does only nearly."""
    pieces = [p for row, low, high in stretches_of(track) for p in _pieces(track, row, low, high, existing.row(0)[0])]
    pieces.sort()
    milled = [i for i, (_, _, first, last) in enumerate(pieces) if max(first, last) > tolerances.COINCIDENT]
    unknown = merged([(a, b) for a, b, first, _ in pieces if np.isnan(first)])
    if not milled:
        return np.empty(0), np.empty(0), unknown
    a, b, first, last = np.array(pieces[milled[0] : milled[-1] + 1]).T
    # A piece begins behind a step of the old surface and ends before one.
    old = [interpolate(existing, at[None], side)[0] for at, side in ((a, "outer"), (b, "inner"))]  # type: ignore[arg-type]
    s = np.stack([a, b], axis=1).ravel()
    z = np.stack([old[0] - first, old[1] - last], axis=1).ravel()
    ends = [interpolate(existing, at[None], side)[0] for at, side in ((a[:1], "inner"), (b[-1:], "outer"))]  # type: ignore[arg-type]
    s, z = np.concatenate([a[:1], s, b[-1:]]), np.concatenate([ends[0], z, ends[1]])
    again = np.r_[False, (np.abs(np.diff(s)) <= tolerances.COINCIDENT) & (np.abs(np.diff(z)) <= tolerances.COINCIDENT)]
    return s[~again], z[~again], unknown


def _pieces(track: Track, row: int, low: Floats, high: Floats, bends: Floats) -> list[tuple[float, float, float, float]]:
    """Pieces of a line from one section to the next, (p,) stretches of it: from, to, and the depth at either end."""
    cuts = track.model.milling.cuts
    chainage = track.model.chainage
    after = row + 1 if row + 1 < len(chainage) and chainage[row + 1] - chainage[row] > tolerances.CHAINAGE_MERGE else row
    used = cuts.there[:, row] | cuts.there[:, after]
    ends = [_with_limits(cuts, used, here, there) for here, there in ((row, after), (after, row))]
    if any(np.isnan(limits).any() for limits in ends):
        return [(float(low.min()), float(high.max()), np.nan, np.nan)]
    length = float(chainage[after] - chainage[row]) or 1.0

    def mixed(c: Floats) -> Floats:
        """Limits and depths (4, k, m) of the stretches."""
        t = np.clip((c - chainage[row]) / length, 0.0, 1.0)
        found: Floats = ends[0][:, :, None] + t * (ends[1] - ends[0])[:, :, None]
        return found

    def depth(c: Floats, o: Floats, *, carried: bool) -> Floats:
        """Depths (k, m); carried: also on beyond the limits of a stretch, else 0 there."""
        left, right, first, last = mixed(c)
        wide = np.where(right > left, right - left, 1.0)
        found = first + (o - left) / wide * (last - first)
        return found if carried else np.where((o > left) & (o < right), found, 0.0)

    s = np.unique(np.concatenate([low, high, bends[(bends > low.min()) & (bends < high.max())]]))
    number = int(used.sum())

    def past(i: int, k: int) -> Apart:
        """How far past a limit of a stretch."""
        return lambda c, o: o - mixed(c)[i, k]

    def deeper(p: int, q: int) -> Apart:
        """By how much one stretch is deeper than another."""
        return lambda c, o: depth(c, o, carried=True)[p] - depth(c, o, carried=True)[q]

    differences = [past(i, k) for k in range(number) for i in (0, 1)]
    differences += [deeper(p, q) for p, q in combinations(range(number), 2)]
    for value in differences:
        f = value(*track.at(s))
        turns = np.flatnonzero(f[:-1] * f[1:] < 0)
        if len(turns):
            s = np.unique(np.concatenate([s, root(track, s[turns], s[turns + 1], value)]))
    s = s[np.r_[True, np.diff(s) > tolerances.COINCIDENT]]
    a, b = s[:-1], s[1:]
    on = ((a[:, None] >= low - tolerances.COINCIDENT) & (b[:, None] <= high + tolerances.COINCIDENT)).any(axis=1)
    a, b = a[on], b[on]
    if not number or not len(a):
        return [(float(x), float(y), 0.0, 0.0) for x, y in zip(a, b, strict=True)]
    there = depth(*track.at((a + b) / 2), carried=False)
    deep, each = there.argmax(axis=0), np.arange(len(a))
    milled = there[deep, each] > 0
    first, last = (np.where(milled, depth(*track.at(at), carried=True)[deep, each], 0.0) for at in (a, b))
    return [(float(w), float(x), float(y), float(z)) for w, x, y, z in zip(a, b, first, last, strict=True)]


def _with_limits(cuts: Cuts, used: Bools, here: int, there: int) -> Floats:
    """Limits and depths (4, k) on a section; where a stretch has no width, or is not and has no limit that is known, it has those of
    the section beside it."""
    found = np.array([v[used, here] for v in (cuts.left, cuts.right, cuts.at_left, cuts.at_right)])
    beside = np.array([v[used, there] for v in (cuts.left, cuts.right)])
    none = (found[1] <= found[0]) | (np.isnan(found[1] - found[0]) & ~cuts.there[used, here])
    found[:2] = np.where(none, beside, found[:2])
    return found
