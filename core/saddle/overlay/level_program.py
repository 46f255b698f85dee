"""The least overlay as a linear program over the places at which levels are written, solved by HiGHS through scipy.

The unknowns are, at k places, the height above the existing hinge in mm and, where crossfalls are free, left and right % times 10, so
that all figures lie near 1. Between two places everything runs straight; sections at one chainage have what is written there.
"""

import numpy as np
from scipy import sparse
from scipy.optimize import Bounds, LinearConstraint, OptimizeResult, linprog, milp

from saddle.errors import GeometryError
from saddle.figures import FIGURES
from saddle.geometry.polylines import Bools, Floats, Ints
from saddle.overlay.level_needs import Ends, Limits, Needs, station_weights, straight_between

#: A limit counts as binding when its slack is below this, mm.
BINDING_MM = 1e-3
#: A vertex that rises by less than this share of the hinge is held by something else and cannot be lifted.
FLAT = 1e-6
#: How long levels in whole steps are looked for, s.
PATIENCE = 6.0
#: By so much a limit may be passed by levels in whole steps, mm: no figure shows it.
HAIR_MM = 1e-6
#: What each kind of limit is called where it would have to give.
WORDS = {"cover": "cover", "grade": "change of grade", "rate": "rate of crossfall", "lip": "kerb lip"}


class Program:
    """places: (k,) sections at which levels are written, rising. Raises GeometryError where something is not known."""

    def __init__(self, needs: Needs, limits: Limits, places: Ints) -> None:
        self.needs, self.limits, self.places = needs, limits, places
        k = len(places)
        if k < 2 or np.isnan(needs.hinge).any() or np.isnan(needs.area).any() or np.isnan(needs.pct).any():
            raise GeometryError(
                "levels are not known on every section of the range", "best levels", "choose a range with overlay all along"
            )
        self.free = limits.crossfall is not None
        #: Weight of every place in every section (n, k).
        self.spread = straight_between(needs, places)
        #: Heights at the sections are those of the places, spread, and this (n,), mm: there the existing hinge bends.
        self.bend = 1000 * (self.spread @ needs.hinge[places] - needs.hinge)
        self.rows: list[sparse.sparray] = []
        self.bounds_above: list[Floats] = []
        self.kinds: list[tuple[str, Ints]] = []
        self.pinned: Bools = np.isfinite(needs.fixed[places])
        self._cover()
        self._grade()
        if self.free and limits.crossfall_rate is not None:
            self._rate(limits.crossfall_rate)
        if needs.ends is not None:
            if not self.free:
                raise GeometryError(
                    "kerb lips are kept by crossfalls that may change", "kerb lips", "let crossfalls be found too"
                )
            self._ends(needs.ends)
        low, high = np.full(k, -np.inf), np.full(k, np.inf)
        low[self.pinned] = high[self.pinned] = 1000 * (needs.fixed - needs.hinge)[places][self.pinned]
        bounds = [np.column_stack([low, high])]
        if limits.crossfall is not None:
            bounds += [np.tile(10 * np.array(limits.crossfall, dtype=float), (2 * k, 1))]
        self.bounds = np.concatenate(bounds)
        weight = station_weights(needs.chainage)
        cost = [(weight * needs.area[:, 0] / 1000) @ self.spread]
        if self.free:
            cost += [(weight * needs.area[:, j] / 10) @ self.spread for j in (1, 2)]
        self.scale = max(float(np.abs(np.concatenate(cost)).max()), 1e-12)
        self.cost = np.concatenate(cost) / self.scale
        self.matrix = sparse.vstack(self.rows, format="csr")
        self.above = np.concatenate(self.bounds_above)

    # limits

    def _add(self, kind: str, section: Ints, blocks: list[Floats], bound: Floats) -> None:
        """Constraints sum over blocks of value * (height, left, right at the section) <= bound, one for each section named."""
        part = self.spread[section]
        self._append(
            kind, section, [sparse.diags_array(value) @ part for value in blocks], bound - blocks[0] * self.bend[section]
        )

    def _append(self, kind: str, section: Ints, blocks: list[sparse.sparray], bound: Floats) -> None:
        k = len(self.places)
        missing = [sparse.csr_array((len(bound), k))] * ((3 if self.free else 1) - len(blocks))
        self.rows.append(sparse.hstack([*blocks, *missing], format="csr"))
        self.bounds_above.append(bound)
        self.kinds.append((kind, section))

    def _cover(self) -> None:
        """What the design rises is not less than what it is short, at every vertex that it can reach."""
        needs = self.needs
        with np.errstate(invalid="ignore"):
            reached = np.isfinite(needs.short) & (needs.rise > FLAT)
        if self.free:
            i, j = np.nonzero(reached)
            left, right = needs.left[i, j], needs.right[i, j]
            bound = 1000 * (needs.short[i, j] + left * needs.pct[i, 0] + right * needs.pct[i, 1])
            if self.limits.written:
                # Where the level may not rise, crossfalls are not rounded below the cover.
                held = np.isfinite(needs.fixed)[i]
                bound = bound + held * 500 * FIGURES["crossfall"].step * (np.abs(left) + np.abs(right))
            self._add("cover", i, [-needs.rise[i, j], -100 * left, -100 * right], -bound)
            return
        lowest = np.where(reached, 1000 * needs.short / np.where(reached, needs.rise, 1.0), -np.inf).max(axis=1, initial=-np.inf)
        has = np.flatnonzero(np.isfinite(lowest))
        self._add("cover", has, [-np.ones(len(has))], -lowest[has])

    def _grade(self) -> None:
        x, h = self.needs.chainage[self.places], 1000 * self.needs.hinge[self.places]
        d = np.diff(x)
        i = np.arange(1, len(x) - 1)
        before, after = 1 / d[:-1], 1 / d[1:]
        old = (h[2:] - h[1:-1]) * after - (h[1:-1] - h[:-2]) * before  # change of grade of the existing hinge, mm/m
        limit = np.full(len(i), 10 * self.limits.grade_change_pct)
        if self.limits.written:
            # A level rises by less than a step when it is rounded up; each grade beside it changes by less than that over its length.
            limit = limit - np.minimum(1000 * FIGURES["level"].step * (before + after), limit / 2)
        m = np.arange(len(i))
        values = np.r_[before, -before - after, after]
        change = sparse.csr_array((values, (np.r_[m, m, m], np.r_[i - 1, i, i + 1])), shape=(len(i), len(x)))
        self._append("grade", self.places[i], [change], limit - old)
        self._append("grade", self.places[i], [-change], limit + old)

    def _rate(self, rate: float) -> None:
        k = len(self.places)
        limit = 10 * rate * np.diff(self.needs.chainage[self.places])
        if self.limits.written:
            limit = limit - np.minimum(10 * FIGURES["crossfall"].step, limit / 2)
        i = np.arange(k - 1)
        turn = sparse.csr_array((np.r_[-np.ones(k - 1), np.ones(k - 1)], (np.r_[i, i], np.r_[i, i + 1])), shape=(k - 1, k))
        none = sparse.csr_array((k - 1, k))
        for block in ([none, turn], [none, none, turn]):
            self._append("rate", self.places[i], block, limit)
            self._append("rate", self.places[i], [-part for part in block], limit)

    def _ends(self, ends: Ends) -> None:
        """The ends of the overlay keep their level, as two inequalities."""
        for j in (0, 1):
            i = np.flatnonzero(np.isfinite(ends.short[:, j]))
            fall, none = 100 * ends.fall[i, j], np.zeros(len(i))
            values = [ends.rise[i, j], fall if j == 0 else none, fall if j == 1 else none]
            there = 1000 * (ends.short[i, j] + ends.fall[i, j] * self.needs.pct[i, j])
            self._add("lip", i, values, there)
            self._add("lip", i, [-v for v in values], -there)

    # answers

    def solve(self) -> OptimizeResult:
        return linprog(self.cost, A_ub=self.matrix, b_ub=self.above, bounds=self.bounds, method="highs")

    def level(self, x: Floats) -> Floats:
        """Levels at the places (k,), m."""
        level: Floats = self.needs.hinge[self.places] + x[: len(self.places)] / 1000
        return level

    def pct(self, x: Floats) -> Floats:
        """Crossfalls at the places (k, 2), %."""
        return x[len(self.places) :].reshape(2, -1).T / 10 if self.free else self.needs.pct[self.places]

    def in_steps(self) -> Floats | None:
        """Levels (k,) in whole steps of what is written that keep the limits and need least, for given crossfalls; None where none are
        found in time. A limit may be passed by what no figure shows."""
        step, k, hinge = 1000 * FIGURES["level"].step, len(self.places), self.needs.hinge[self.places]
        # Whole steps of the level itself, not of its height above the old one: x = step * count + base.
        base = step * np.floor(1000 * hinge / step) - 1000 * hinge
        bounds = (self.bounds[:k] - base[:, None]) / step
        free = ~self.pinned
        # Limits of cover are kept by whole steps upward; a hair of slack lets what is a whole step already stay.
        above = self.above - self.matrix @ base + HAIR_MM
        found = milp(
            self.cost[:k] * step, integrality=free.astype(float), bounds=Bounds(bounds[:, 0], bounds[:, 1]),
            constraints=LinearConstraint(self.matrix * step, -np.inf, above), options={"time_limit": PATIENCE, "mip_rel_gap": 1e-6},
        )  # fmt: skip
        if found.x is None:
            return None
        level: Floats = np.round(hinge + (np.where(free, np.round(found.x), found.x) * step + base) / 1000, 9)
        return level

    def binding(self, found: OptimizeResult) -> dict[str, list[int]]:
        """Per kind the sections at which a limit holds the answer."""
        binding: dict[str, set[int]] = {}
        start = 0
        for kind, section in self.kinds:
            part = found.slack[start : start + len(section)]
            binding.setdefault(kind, set()).update(section[part < BINDING_MM].tolist())
            start += len(section)
        if self.limits.crossfall is not None:
            pct, (low, high) = self.pct(found.x), self.limits.crossfall
            held = ((pct <= low + 1e-6) | (pct >= high - 1e-6)).any(axis=1)
            binding["crossfall"] = set(self.places[held].tolist())
        binding["pin"] = set(np.flatnonzero(np.isfinite(self.needs.fixed)).tolist())
        return {k: sorted(v) for k, v in binding.items()}

    def dual(self, found: OptimizeResult) -> float:
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
        price = np.concatenate([np.full(len(s), 1.0 if kind == "cover" else 10.0) for kind, s in self.kinds])
        cost = np.concatenate([np.zeros(len(self.cost)), price])
        bounds = np.concatenate([self.bounds, np.tile([0.0, np.inf], (m, 1))])
        found = linprog(cost, A_ub=soft, b_ub=self.above, bounds=bounds, method="highs")
        chainage = self.needs.chainage
        if found.status != 0:
            return [(float(chainage[i]), "pins", 0.0) for i in self.places[self.pinned][:5]]
        given = found.x[len(self.cost) :]
        out, start = [], 0
        for kind, section in self.kinds:
            part = given[start : start + len(section)]
            out += [(float(chainage[section[j]]), WORDS[kind], float(part[j])) for j in np.flatnonzero(part > 1e-3)]
            start += len(section)
        return sorted(out, key=lambda place: -place[2])
