"""What best levels must keep, and where they are written.

Levels are taken relative to the existing hinge (national datum levels lose digits) by whoever solves for them.
"""

from dataclasses import dataclass, replace

import numpy as np
from scipy import sparse

from saddle import tolerances
from saddle.figures import FIGURES
from saddle.geometry.polylines import Floats, Ints

#: Rounding a level may change a grade beside it by this share of what is allowed.
SHARE = 0.25


@dataclass(frozen=True, slots=True, eq=False)
class Ends:
    """Levels that the overlay's left and right end must have, (n, 2) each: short: by how much the design lies below them with the
    hinge at `Needs.hinge` and the crossfalls `Needs.pct`, m, NaN where an end is free; rise: of the design there per metre of
    hinge level; fall: per % of the crossfall of its side, m."""

    short: Floats
    rise: Floats
    fall: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Needs:
    """What the levels must keep, on n sections in road order. While offsets stand, every level of a template is linear in the
    hinge level and both crossfalls; the coefficients come from whoever solves the template, so that no shape is assumed here.

    chainage: (n,) m, rising; two sections at one chainage get one level and, where they are free, one pair of crossfalls; hinge: (n,) level that answers are reckoned from, m; pct: (n, 2) crossfalls, %; short: (n, p) by how
    much the design with these lies below what is needed over the vertices of the old surface, cover included, m, NaN where there
    is none; rise: (n, p) of the design there per metre of hinge level; left, right: (n, p) per % of either crossfall, m; area:
    (n, 3) m2 of the section per metre of hinge level and per % of the left and right crossfall; fixed: (n,) level at pinned
    sections, NaN elsewhere; ends: of the overlay that must keep a level, None for all free. They ask for free crossfalls: what
    is left between end and hinge sets them.
    """

    chainage: Floats
    hinge: Floats
    pct: Floats
    short: Floats
    rise: Floats
    left: Floats
    right: Floats
    area: Floats
    fixed: Floats
    ends: Ends | None = None

    def at(self, pct: Floats) -> "Needs":
        """The same reckoned from other crossfalls (n, 2)."""
        by = pct - self.pct
        short = self.short - self.left * by[:, :1] - self.right * by[:, 1:]
        ends = None if self.ends is None else replace(self.ends, short=self.ends.short - self.ends.fall * by)
        return replace(self, pct=pct, short=short, ends=ends)


@dataclass(frozen=True, slots=True)
class Limits:
    """grade_change_pct: between successive grades; crossfall: least and greatest, %, None keeps the given ones;
    crossfall_rate: % per m along the road; written: leave room for rounding levels up and crossfalls to what is written."""

    grade_change_pct: float
    crossfall: tuple[float, float] | None = None
    crossfall_rate: float | None = None
    written: bool = False


def station_weights(chainage: Floats) -> Floats:
    """Length of road that each section stands for by average end areas, (n,), m."""
    d = np.diff(chainage)
    weights: Floats = (np.r_[d, 0.0] + np.r_[0.0, d]) / 2
    return weights


def volume_of(needs: Needs, level: Floats, pct: Floats) -> float:
    """Volume between hinge levels with their crossfalls and the existing hinge's own level, by end areas, m3.

    Only differences of it mean something: what lies between the old surface and the reckoning's start is left out.
    """
    area = needs.area[:, 0] * (level - needs.hinge) + (needs.area[:, 1:] * pct).sum(axis=1)
    return float(area @ station_weights(needs.chainage))


def every_place(needs: Needs) -> Ints:
    """The sections (k,) at which a level of its own may stand: the first of every chainage."""
    return np.flatnonzero(np.r_[True, np.diff(needs.chainage) > tolerances.CHAINAGE_MERGE])


def places_to_write(needs: Needs, limits: Limits) -> Ints:
    """The sections (k,) at which levels are written: both ends, the pinned ones, and of the others those that stand so far apart that
    one digit of a level changes a grade by no more than its share of what is allowed; between them levels run straight. Where ends of the
    overlay keep a level, every section keeps its own: all of them."""
    if needs.ends is not None:
        return every_place(needs)
    apart = 2 * FIGURES["level"].step / (SHARE * max(limits.grade_change_pct, 1e-6) / 100)
    every = every_place(needs)
    must = np.isin(np.arange(len(every)), [0, len(every) - 1]) | np.isfinite(needs.fixed[every])
    kept: list[int] = []
    for k, at in enumerate(every):
        near = bool(kept) and needs.chainage[at] - needs.chainage[every[kept[-1]]] < apart
        if near and must[k] and not must[kept[-1]]:
            kept.pop()
        elif near and not must[k]:
            continue
        kept.append(k)
    written: Ints = every[kept]
    return written


def straight_between(needs: Needs, places: Ints) -> sparse.csr_array:
    """The weight (n, k) of every place in every section: straight between two places, at one chainage as it is written there."""
    c, n, k = needs.chainage, len(needs.chainage), len(places)
    after = np.clip(np.searchsorted(c[places], c, side="right"), 1, k - 1)
    first, last = c[places[after - 1]], c[places[after]]
    share = np.clip((c - first) / (last - first), 0.0, 1.0)
    i = np.arange(n)
    return sparse.csr_array((np.r_[1 - share, share], (np.r_[i, i], np.r_[after - 1, after])), shape=(n, k))
