"""Best levels: the hinge levels (and crossfalls within limits) that need the least overlay, as a linear program.

Depth is nowhere below the cover, so each section's overlay area is linear in its hinge level and crossfalls, and the
volume by end areas is too. Levels are taken relative to the existing hinge (national datum levels lose digits) and in
millimetres, so that all figures lie near 1. Solved by HiGHS through scipy; the gap between primal and dual is returned.
"""

from contextlib import suppress
from dataclasses import dataclass, field, replace

import numpy as np
from scipy import sparse
from scipy.optimize import Bounds, LinearConstraint, OptimizeResult, linprog, milp

from saddle import tolerances
from saddle.errors import GeometryError
from saddle.figures import FIGURES, rounded, rounded_up
from saddle.geometry.polylines import Bools, Floats

#: A limit counts as binding when its slack is below this, mm.
BINDING_MM = 1e-3
#: A vertex that rises by less than this share of the hinge is held by something else and cannot be lifted.
FLAT = 1e-6
#: How long levels in whole steps are looked for, s.
PATIENCE = 6.0
#: By so much a limit may be passed by levels in whole steps, mm: no figure shows it.
HAIR_MM = 1e-6


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


@dataclass(frozen=True, slots=True, eq=False)
class Best:
    """level: (n,) m; pct: (n, 2) %; gap: relative gap between primal and dual; bound: volume below which no levels keep the limits,
    proven by the dual, m3 as in volume_of; binding: per kind the sections (indices) at
    which a limit holds the answer: "cover", "grade", "crossfall", "rate", "lip", "pin"."""

    level: Floats
    pct: Floats
    volume: float
    gap: float
    bound: float
    binding: dict[str, list[int]] = field(default_factory=dict)

    @property
    def off(self) -> float:
        """How far above the bound these levels are, m3."""
        return max(0.0, self.volume - self.bound)


class Conflict(GeometryError):
    """No levels keep every limit. places: (chainage, what, by how much in mm) of the limits that would have to give."""

    def __init__(self, places: list[tuple[float, str, float]]) -> None:
        listed = "; ".join(f"{what} at {c:.1f} by {mm:.0f} mm" for c, what, mm in places[:5])
        super().__init__(
            f"no levels keep every limit: short of {listed}", f"chainage {places[0][0]:.1f}" if places else "",
            "allow a greater change of grade, take a pin away, or mill there",
        )  # fmt: skip
        self.places = places


def station_weights(chainage: Floats) -> Floats:
    """Length of road that each section stands for by average end areas, (n,), m."""
    d = np.diff(chainage)
    weights: Floats = (np.r_[d, 0.0] + np.r_[0.0, d]) / 2
    return weights


def best_levels(needs: Needs, limits: Limits) -> Best:
    """The least volume that keeps the limits. Raises Conflict where none does, naming the limits that stand against one
    another; GeometryError where levels are not known."""
    model = _Model(needs, limits)
    found = model.solve()
    if found.status == 2:
        raise Conflict(model.conflicts())
    if found.status != 0:
        raise GeometryError(f"the best levels were not found: {found.message}", "best levels", "try a shorter range")
    return model.answer(found)


def best_as_written(needs: Needs, limits: Limits) -> Best:
    """The best levels with the digits they are written with: crossfalls to the nearest within their limits, and for these the levels
    in whole written steps that need least, by branch and bound; where that finds none in its time, rounded up. Pinned levels stay as
    they are; `bound` is that of the levels before they were rounded. Raises what best_levels raises."""
    exact = best_levels(needs, limits)
    try:
        best = best_levels(needs, replace(limits, written=True))
    except Conflict:
        best = exact
    pct = best.pct
    if limits.crossfall is not None:
        low, high = limits.crossfall
        pct = rounded(np.clip(best.pct, low, high), "crossfall")
    level = None
    if needs.ends is None:
        at, given = needs.at(pct) if limits.crossfall is not None else needs, Limits(limits.grade_change_pct)
        with suppress(Conflict):
            best = replace(best, level=best_levels(at, replace(given, written=True)).level)
        level = _Model(at, given).in_steps()
    if level is None:
        level = _alike(needs.chainage, rounded_up(best.level, "level"))
    level = np.where(np.isfinite(needs.fixed), needs.fixed, level)
    if needs.ends is not None:
        # The ends keep their level: what the hinge rises by, the crossfalls take back.
        moved = needs.ends.short - needs.ends.rise * (level - needs.hinge)[:, None]
        fall = np.where(np.isfinite(moved), needs.pct + moved / needs.ends.fall, pct)
        pct = rounded(fall, "crossfall")
    return replace(best, level=level, pct=pct, volume=volume_of(needs, level, pct), bound=exact.bound)


def _alike(chainage: Floats, level: Floats) -> Floats:
    """Levels (n,) of which those at one chainage are the higher of both."""
    first = np.r_[True, np.diff(chainage) > tolerances.CHAINAGE_MERGE]
    higher: Floats = np.maximum.reduceat(level, np.flatnonzero(first))
    spread: Floats = higher[np.cumsum(first) - 1]
    return spread


class _Model:
    """The program: x = (z in mm above the existing hinge, and with free crossfalls left and right % times 10)."""

    def __init__(self, needs: Needs, limits: Limits) -> None:
        self.needs, self.limits = needs, limits
        n = self.n = len(needs.chainage)
        if n < 2 or np.isnan(needs.hinge).any() or np.isnan(needs.area).any():
            raise GeometryError(
                "levels are not known on every section of the range", "best levels", "choose a range with overlay all along"
            )
        self.free = limits.crossfall is not None
        self.rows: list[sparse.coo_array] = []
        self.bounds_above: list[Floats] = []
        self.kinds: list[tuple[str, np.ndarray]] = []
        self._cover()
        self._grade()
        self._pairs()
        if self.free and limits.crossfall_rate is not None:
            self._rate()
        if needs.ends is not None:
            if not self.free:
                raise GeometryError(
                    "kerb lips are kept by crossfalls that may change", "kerb lips", "let crossfalls be found too"
                )
            self._ends(needs.ends)
        low = np.full(n, -np.inf)
        high = np.full(n, np.inf)
        pinned = np.isfinite(needs.fixed)
        low[pinned] = high[pinned] = 1000 * (needs.fixed - needs.hinge)[pinned]
        self.pinned: Bools = pinned
        bounds = [np.column_stack([low, high])]
        if limits.crossfall is not None:
            bounds += [np.tile(10 * np.array(limits.crossfall, dtype=float), (2 * n, 1))]
        self.bounds = np.concatenate(bounds)
        weight = station_weights(needs.chainage)
        cost = [weight * needs.area[:, 0] / 1000]
        if self.free:
            cost += [weight * needs.area[:, k] / 10 for k in (1, 2)]
        self.scale = max(float(np.abs(np.concatenate(cost)).max()), 1e-12)
        self.cost = np.concatenate(cost) / self.scale

    def _add(self, kind: str, section: np.ndarray, row: np.ndarray, column: np.ndarray, value: Floats, bound: Floats) -> None:
        """Constraints sum(value * x[column]) <= bound; section: of each constraint."""
        self.rows.append(sparse.coo_array((value, (row, column)), shape=(len(bound), (3 if self.free else 1) * self.n)))
        self.bounds_above.append(bound)
        self.kinds.append((kind, section))

    def _cover(self) -> None:
        """What the design rises is not less than what it is short, at every vertex that it can reach."""
        needs, n = self.needs, self.n
        with np.errstate(invalid="ignore"):
            reached = np.isfinite(needs.short) & (needs.rise > FLAT)
        if self.free:
            i, j = np.nonzero(reached)
            m = np.arange(len(i))
            left, right = needs.left[i, j], needs.right[i, j]
            row, column = np.r_[m, m, m], np.r_[i, n + i, 2 * n + i]
            bound = 1000 * (needs.short[i, j] + left * needs.pct[i, 0] + right * needs.pct[i, 1])
            self._add("cover", i, row, column, np.r_[-needs.rise[i, j], -100 * left, -100 * right], -bound)
            return
        lowest = np.where(reached, 1000 * needs.short / np.where(reached, needs.rise, 1.0), -np.inf).max(axis=1, initial=-np.inf)
        has = np.flatnonzero(np.isfinite(lowest))
        self._add("cover", has, np.arange(len(has)), has, -np.ones(len(has)), -lowest[has])

    def _pairs(self) -> None:
        """Two sections at one chainage have one level, and one crossfall on either side where these are free."""
        i = np.flatnonzero(np.diff(self.needs.chainage) <= tolerances.CHAINAGE_MERGE)
        apart = 1000 * (self.needs.hinge[i + 1] - self.needs.hinge[i])
        m, ones = np.arange(len(i)), np.ones(len(i))
        for block, bound in ((0, apart), *(((1, 0 * apart), (2, 0 * apart)) if self.free else ())):
            column = np.r_[block * self.n + i, block * self.n + i + 1]
            self._add("pair", i, np.r_[m, m], column, np.r_[ones, -ones], bound)
            self._add("pair", i, np.r_[m, m], column, np.r_[-ones, ones], -bound)

    def _grade(self) -> None:
        one = np.flatnonzero(np.r_[True, np.diff(self.needs.chainage) > tolerances.CHAINAGE_MERGE])
        x, h = self.needs.chainage[one], 1000 * self.needs.hinge[one]
        d = np.diff(x)
        i = np.arange(1, len(one) - 1)
        before, after = 1 / d[:-1], 1 / d[1:]
        old = (h[2:] - h[1:-1]) * after - (h[1:-1] - h[:-2]) * before  # change of grade of the existing hinge, mm/m
        limit = np.full(len(i), 10 * self.limits.grade_change_pct)
        if self.limits.written:
            # A level rises by less than a step when it is rounded up; each grade beside it changes by less than that over its length.
            limit = limit - np.minimum(1000 * FIGURES["level"].step * (before + after), limit / 2)
        m = np.arange(len(i))
        row, column = np.r_[m, m, m], np.r_[one[i - 1], one[i], one[i + 1]]
        value = np.r_[before, -before - after, after]
        self._add("grade", one[i], row, column, value, limit - old)
        self._add("grade", one[i], row, column, -value, limit + old)

    def _rate(self) -> None:
        assert self.limits.crossfall_rate is not None
        d = np.diff(self.needs.chainage)
        i = np.arange(self.n - 1)
        for k in (1, 2):
            row, column = np.r_[i, i], np.r_[self.n * k + i, self.n * k + i + 1]
            value = np.r_[-np.ones(len(i)), np.ones(len(i))]
            limit = 10 * self.limits.crossfall_rate * d
            if self.limits.written:
                limit = limit - np.minimum(10 * FIGURES["crossfall"].step, limit / 2)
            self._add("rate", i, row, column, value, limit)
            self._add("rate", i, row, column, -value, limit)

    def _ends(self, ends: Ends) -> None:
        """The ends of the overlay keep their level, as two inequalities."""
        for k in (0, 1):
            i = np.flatnonzero(np.isfinite(ends.short[:, k]))
            m = np.arange(len(i))
            row, column = np.r_[m, m], np.r_[i, self.n * (k + 1) + i]
            value = np.r_[ends.rise[i, k], 100 * ends.fall[i, k]]
            there = 1000 * (ends.short[i, k] + ends.fall[i, k] * self.needs.pct[i, k])
            self._add("lip", i, row, column, value, there)
            self._add("lip", i, row, column, -value, -there)

    @property
    def matrix(self) -> sparse.csr_array:
        return sparse.vstack(self.rows, format="csr")

    @property
    def above(self) -> Floats:
        return np.concatenate(self.bounds_above)

    def solve(self) -> OptimizeResult:
        return linprog(self.cost, A_ub=self.matrix, b_ub=self.above, bounds=self.bounds, method="highs")

    def in_steps(self) -> Floats | None:
        """Levels in whole steps of what is written that keep the limits and need least, for given crossfalls; None where none are found
        in time. A limit of grade may be passed by what no figure shows."""
        step, n = 1000 * FIGURES["level"].step, self.n
        # Whole steps of the level itself, not of its height above the old one: x = step * k + base.
        base = step * np.floor(1000 * self.needs.hinge / step) - 1000 * self.needs.hinge
        bounds = (self.bounds[:n] - base[:, None]) / step
        free = ~self.pinned
        # Limits of cover are kept by whole steps upward; a hair of slack lets what is a whole step already stay.
        above = self.above - self.matrix @ base + HAIR_MM * np.concatenate([np.ones(len(s)) for _, s in self.kinds])
        found = milp(
            self.cost[:n] * step, integrality=free.astype(float), bounds=Bounds(bounds[:, 0], bounds[:, 1]),
            constraints=LinearConstraint(self.matrix * step, -np.inf, above), options={"time_limit": PATIENCE, "mip_rel_gap": 1e-6},
        )  # fmt: skip
        if found.x is None:
            return None
        x = np.where(free, np.round(found.x), found.x) * step + base
        level: Floats = np.round(self.needs.hinge + x / 1000, 9)
        return level

    def answer(self, found: OptimizeResult) -> Best:
        n, needs = self.n, self.needs
        x = found.x
        level = needs.hinge + x[:n] / 1000
        pct = x[n:].reshape(2, n).T / 10 if self.free else needs.pct
        slack, start = found.slack, 0
        binding: dict[str, set[int]] = {}
        for kind, section in self.kinds:
            part = slack[start : start + len(section)]
            if kind == "pair":
                start += len(section)
                continue
            binding.setdefault(kind, set()).update(section[part < BINDING_MM].tolist())
            start += len(section)
        if self.limits.crossfall is not None:
            low, high = self.limits.crossfall
            held = ((pct <= low + 1e-6) | (pct >= high - 1e-6)).any(axis=1)
            binding["crossfall"] = set(np.flatnonzero(held).tolist())
        binding["pin"] = set(np.flatnonzero(self.pinned).tolist())
        volume, dual = volume_of(needs, level, pct), self._dual(found)
        gap = abs(float(found.fun) - dual) / max(1.0, abs(float(found.fun)))
        bound = volume - self.scale * (float(found.fun) - dual)
        return Best(level, pct, volume, gap, bound, {k: sorted(v) for k, v in binding.items()})

    def _dual(self, found: OptimizeResult) -> float:
        """The dual objective, from the multipliers: no solution has a lower one."""
        finite_low, finite_high = np.isfinite(self.bounds[:, 0]), np.isfinite(self.bounds[:, 1])
        dual = float(self.above @ found.ineqlin.marginals)
        dual += float(self.bounds[finite_low, 0] @ found.lower.marginals[finite_low])
        dual += float(self.bounds[finite_high, 1] @ found.upper.marginals[finite_high])
        return dual

    def conflicts(self) -> list[tuple[float, str, float]]:
        """The limits that would have to give, with the least sum of what they give: an elastic program with slack on all
        but pins and limits of crossfall."""
        m = len(self.above)
        soft = sparse.hstack([self.matrix, -sparse.eye_array(m, format="csr")], format="csr")
        scale = np.concatenate([np.full(len(s), 1.0 if kind == "cover" else 10.0) for kind, s in self.kinds])
        cost = np.concatenate([np.zeros(len(self.cost)), scale])
        bounds = np.concatenate([self.bounds, np.tile([0.0, np.inf], (m, 1))])
        found = linprog(cost, A_ub=soft, b_ub=self.above, bounds=bounds, method="highs")
        if found.status != 0:
            return [(float(self.needs.chainage[i]), "pins", 0.0) for i in np.flatnonzero(self.pinned)[:5]]
        given = found.x[len(self.cost) :]
        words = {
            "pair": "one level for both sections",
            "cover": "cover",
            "grade": "change of grade",
            "rate": "rate of crossfall",
            "lip": "kerb lip",
        }
        out, start = [], 0
        for kind, section in self.kinds:
            part = given[start : start + len(section)]
            out += [(float(self.needs.chainage[section[j]]), words[kind], float(part[j])) for j in np.flatnonzero(part > 1e-3)]
            start += len(section)
        return sorted(out, key=lambda place: -place[2])


def volume_of(needs: Needs, level: Floats, pct: Floats) -> float:
    """Volume between hinge levels with their crossfalls and the existing hinge's own level, by end areas, m3.

    Only differences of it mean something: what lies between the old surface and the reckoning's start is left out.
    """
    area = needs.area[:, 0] * (level - needs.hinge) + (needs.area[:, 1:] * pct).sum(axis=1)
    return float(area @ station_weights(needs.chainage))
