"""Best levels: the hinge levels (and crossfalls within limits) that need the least overlay, as a linear program.

Depth is nowhere below the cover, so each section's overlay area is linear in its hinge level and crossfalls, and the
volume by end areas is too. Levels are taken relative to the existing hinge (national datum levels lose digits) and in
millimetres, so that all figures lie near 1. Solved by HiGHS through scipy; the gap between primal and dual is returned.
"""

from dataclasses import dataclass, field, replace

import numpy as np
from scipy import sparse
from scipy.optimize import OptimizeResult, linprog

from saddle.errors import GeometryError
from saddle.figures import FIGURES, rounded, rounded_up
from saddle.geometry.polylines import Bools, Floats

#: A limit counts as binding when its slack is below this, mm.
BINDING_MM = 1e-3
#: A vertex that rises by less than this share of the hinge is held by something else and cannot be lifted.
FLAT = 1e-6


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

    chainage: (n,) m, rising; hinge: (n,) level that answers are reckoned from, m; pct: (n, 2) crossfalls, %; short: (n, p) by how
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
    """level: (n,) m; pct: (n, 2) %; gap: relative gap between primal and dual; binding: per kind the sections (indices) at
    which a limit holds the answer: "cover", "grade", "crossfall", "rate", "lip", "pin"."""

    level: Floats
    pct: Floats
    volume: float
    gap: float
    binding: dict[str, list[int]] = field(default_factory=dict)


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
    """The best levels with the digits they are written with: levels rounded up, crossfalls to the nearest within their limits, and
    levels found again for these. Pinned levels stay as they are. Raises what best_levels raises."""
    try:
        best = best_levels(needs, replace(limits, written=True))
    except Conflict:
        best = best_levels(needs, limits)
    pct = best.pct
    if limits.crossfall is not None:
        low, high = limits.crossfall
        pct = rounded(np.clip(best.pct, low, high), "crossfall")
        if needs.ends is None:
            given = Limits(limits.grade_change_pct, written=True)
            try:
                level = best_levels(needs.at(pct), given).level
            except Conflict:
                level = best.level
            best = replace(best, level=level)
    pinned = np.isfinite(needs.fixed)
    level = np.where(pinned, needs.fixed, rounded_up(best.level, "level"))
    if needs.ends is not None:
        # The ends keep their level: what the hinge rises by, the crossfalls take back.
        moved = needs.ends.short - needs.ends.rise * (level - needs.hinge)[:, None]
        exact = np.where(np.isfinite(moved), needs.pct + moved / needs.ends.fall, pct)
        pct = rounded(exact, "crossfall")
    return replace(best, level=level, pct=pct, volume=volume_of(needs, level, pct))


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

    def _grade(self) -> None:
        x, h = self.needs.chainage, 1000 * self.needs.hinge
        d = np.diff(x)
        i = np.arange(1, self.n - 1)
        before, after = 1 / d[:-1], 1 / d[1:]
        old = (h[2:] - h[1:-1]) * after - (h[1:-1] - h[:-2]) * before  # change of grade of the existing hinge, mm/m
        limit = np.full(len(i), 10 * self.limits.grade_change_pct)
        if self.limits.written:
            # A level rises by less than a step when it is rounded up; each grade beside it changes by less than that over its length.
            limit = limit - np.minimum(1000 * FIGURES["level"].step * (before + after), limit / 2)
        m = np.arange(len(i))
        row, column = np.r_[m, m, m], np.r_[i - 1, i, i + 1]
        value = np.r_[before, -before - after, after]
        self._add("grade", i, row, column, value, limit - old)
        self._add("grade", i, row, column, -value, limit + old)

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

    def answer(self, found: OptimizeResult) -> Best:
        n, needs = self.n, self.needs
        x = found.x
        level = needs.hinge + x[:n] / 1000
        pct = x[n:].reshape(2, n).T / 10 if self.free else needs.pct
        slack, start = found.slack, 0
        binding: dict[str, set[int]] = {}
        for kind, section in self.kinds:
            part = slack[start : start + len(section)]
            binding.setdefault(kind, set()).update(section[part < BINDING_MM].tolist())
            start += len(section)
        if self.limits.crossfall is not None:
            low, high = self.limits.crossfall
            held = ((pct <= low + 1e-6) | (pct >= high - 1e-6)).any(axis=1)
            binding["crossfall"] = set(np.flatnonzero(held).tolist())
        binding["pin"] = set(np.flatnonzero(self.pinned).tolist())
        return Best(level, pct, volume_of(needs, level, pct), self._gap(found), {k: sorted(v) for k, v in binding.items()})

    def _gap(self, found: OptimizeResult) -> float:
        """Relative gap between the primal and the dual objective, from the multipliers."""
        finite_low, finite_high = np.isfinite(self.bounds[:, 0]), np.isfinite(self.bounds[:, 1])
        dual = float(self.above @ found.ineqlin.marginals)
        dual += float(self.bounds[finite_low, 0] @ found.lower.marginals[finite_low])
        dual += float(self.bounds[finite_high, 1] @ found.upper.marginals[finite_high])
        return abs(float(found.fun) - dual) / max(1.0, abs(float(found.fun)))

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
        words = {"cover": "cover", "grade": "change of grade", "rate": "rate of crossfall", "lip": "kerb lip"}
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
