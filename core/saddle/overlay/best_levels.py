"""Best levels: the hinge levels (and crossfalls within limits) that need the least overlay, as a linear program.

Depth is nowhere below the cover, so each section's overlay area is linear in its hinge level and crossfalls, and the
volume by end areas is too. Levels are taken relative to the existing hinge (national datum levels lose digits) and in
millimetres, so that all figures lie near 1. Solved by HiGHS through scipy; the gap between primal and dual is returned.
"""

from dataclasses import dataclass, field

import numpy as np
from scipy import sparse
from scipy.optimize import OptimizeResult, linprog

from saddle.errors import GeometryError
from saddle.geometry.polylines import Bools, Floats

#: A limit counts as binding when its slack is below this, mm.
BINDING_MM = 1e-3


@dataclass(frozen=True, slots=True, eq=False)
class Needs:
    """What the levels must keep, on n sections in road order.

    chainage: (n,) m, rising; hinge: (n,) existing level there, m; width: (n, 2) from the hinge to the overlay's left and
    right limit, m; left, right: padded vertices of the old surface on either side, as distance from the hinge (n, k), m, and
    needed level there less the existing hinge (cover included), m, NaN where there is none; pct: (n, 2) crossfalls, %;
    fixed: (n,) level at pinned sections, NaN elsewhere; lip: (n, 2) levels that the ends of the overlay must have, m, NaN where
    they are free, None for all free. Fixed lips ask for free crossfalls: what is left between lip and crown sets them.
    """

    chainage: Floats
    hinge: Floats
    width: Floats
    left: tuple[Floats, Floats]
    right: tuple[Floats, Floats]
    pct: Floats
    fixed: Floats
    lip: Floats | None = None


@dataclass(frozen=True, slots=True)
class Limits:
    """grade_change_pct: between successive grades; crossfall: least and greatest, %, None keeps the given ones;
    crossfall_rate: % per m along the road."""

    grade_change_pct: float
    crossfall: tuple[float, float] | None = None
    crossfall_rate: float | None = None


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


class _Model:
    """The program: x = (z in mm above the existing hinge, and with free crossfalls left and right % times 10)."""

    def __init__(self, needs: Needs, limits: Limits) -> None:
        self.needs, self.limits = needs, limits
        n = self.n = len(needs.chainage)
        if n < 2 or np.isnan(needs.hinge).any() or np.isnan(needs.width).any():
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
        if needs.lip is not None:
            if not self.free:
                raise GeometryError(
                    "kerb lips are kept by crossfalls that may change", "kerb lips", "let crossfalls be found too"
                )
            self._lips(needs.lip)
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
        total = needs.width.sum(axis=1)
        cost = [weight * total / 1000]
        if self.free:
            cost += [weight * needs.width[:, k] ** 2 / 2 / 1000 for k in (0, 1)]
        self.scale = max(float(np.abs(np.concatenate(cost)).max()), 1e-12)
        self.cost = np.concatenate(cost) / self.scale

    def _add(self, kind: str, section: np.ndarray, row: np.ndarray, column: np.ndarray, value: Floats, bound: Floats) -> None:
        """Constraints sum(value * x[column]) <= bound; section: of each constraint."""
        self.rows.append(sparse.coo_array((value, (row, column)), shape=(len(bound), (3 if self.free else 1) * self.n)))
        self.bounds_above.append(bound)
        self.kinds.append((kind, section))

    def _cover(self) -> None:
        """z + s/100 |v - h| >= need at every vertex: -z - s d <= -need."""
        for k, (d, need) in enumerate((self.needs.left, self.needs.right)):
            i, j = np.nonzero(np.isfinite(need) & np.isfinite(d))
            at, mm = d[i, j], 1000 * need[i, j]
            m = np.arange(len(i))
            if self.free:
                row, column = np.r_[m, m], np.r_[i, self.n * (k + 1) + i]
                self._add("cover", i, row, column, np.r_[-np.ones(len(i)), -at], -mm)
                continue
            lowest = np.full(self.n, -np.inf)
            np.maximum.at(lowest, i, mm - 10 * self.needs.pct[i, k] * at)
            has = np.flatnonzero(np.isfinite(lowest))
            self._add("cover", has, np.arange(len(has)), has, -np.ones(len(has)), -lowest[has])

    def _grade(self) -> None:
        x, h = self.needs.chainage, 1000 * self.needs.hinge
        d = np.diff(x)
        i = np.arange(1, self.n - 1)
        before, after = 1 / d[:-1], 1 / d[1:]
        old = (h[2:] - h[1:-1]) * after - (h[1:-1] - h[:-2]) * before  # change of grade of the existing hinge, mm/m
        limit = np.full(len(i), 10 * self.limits.grade_change_pct)
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
            self._add("rate", i, row, column, value, limit)
            self._add("rate", i, row, column, -value, limit)

    def _lips(self, lip: Floats) -> None:
        """z + s/100 w = lip on either side, as two inequalities."""
        for k in (0, 1):
            i = np.flatnonzero(np.isfinite(lip[:, k]))
            m = np.arange(len(i))
            row, column = np.r_[m, m], np.r_[i, self.n * (k + 1) + i]
            value = np.r_[np.ones(len(i)), self.needs.width[i, k]]
            there = 1000 * (lip[i, k] - self.needs.hinge[i])
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

    Only differences of it mean something: what lies between the old surface and the level of its hinge is left out.
    """
    w = needs.width
    area = (level - needs.hinge) * w.sum(axis=1) + (pct / 100 * w**2 / 2).sum(axis=1)
    return float(area @ station_weights(needs.chainage))
