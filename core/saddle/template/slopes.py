"""Slope ladders: from the outer point of a template to the ground. Outward-positive, all sections at once.

The rungs are tried in order, each on its own ground and only on the sections that no earlier one took. A rung that
cannot land takes none, says why, and never touches those after it.
"""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools, Floats, Ints, Polylines, first_descent, interpolate, merge_offsets, sample
from saddle.template.rungs import Benched, FlatDrain, Link, Run, Rung, Step, ToeDrain, ToGround, VDrain

#: Value of SideSlopes.rung where the outer point already lies on the ground, where nothing landed, and where no slope is to follow.
ON_GROUND = -1
NONE_LANDED = -2
NO_SLOPE = -3

#: Why a rung was passed over: code -> text, with `measured` and `limit` in metres.
REASONS = {
    1: "the ground is below",
    2: "the ground is above",
    3: "there is no ground under the outer point",
    4: "the height is {measured:.2f} m, at least {limit:.2f} m is asked for",
    5: "the height is {measured:.2f} m, at most {limit:.2f} m is allowed",
    6: "it is for other chainages",
    7: "does not reach the ground within {limit:.1f} m",
    8: "its last slope begins on the wrong side of the ground",
    9: "there is no boundary here",
    10: "would land {measured:.2f} m out, {limit:.2f} m is inside the boundary",
    11: "would land {measured:.2f} m beyond the outer point, at most {limit:.2f} m is allowed",
}
BELOW, ABOVE, NO_GROUND, TOO_LOW, TOO_HIGH, ELSEWHERE, SHORT, WRONG_SIDE, NO_BOUNDARY, OUTSIDE, WIDE = range(1, 12)


@dataclass(frozen=True, slots=True, eq=False)
class Passed:
    """Why a rung was passed over on n sections: code: (n,) of REASONS, 0 where it was not; measured, limit: (n,), m."""

    code: Ints
    measured: Floats
    limit: Floats

    def text(self, i: int) -> str:
        """The reason on one section, empty where there is none."""
        code = int(self.code[i])
        return REASONS[code].format(measured=self.measured[i], limit=self.limit[i]) if code else ""


@dataclass(frozen=True, slots=True, eq=False)
class SideSlopes:
    """rung: (n,) index of the rung taken, or ON_GROUND, NONE_LANDED or NO_SLOPE. u, z: (n, k) path from the outer point to the
    catch point, which is repeated at the end; NaN where nothing landed; cut off upright where it meets its bound. passed: per rung."""

    rung: Ints
    u: Floats
    z: Floats
    passed: tuple[Passed, ...]

    @property
    def catch_offset(self) -> Floats:
        """Outward offset of the catch point, (n,), NaN where nothing landed."""
        return self.u[:, -1]

    @property
    def catch_level(self) -> Floats:
        """Level of the catch point, (n,), NaN where nothing landed."""
        return self.z[:, -1]


@dataclass(frozen=True, slots=True, eq=False)
class Room:
    """What rungs are judged by besides the ground: chainage (n,) and the outward offsets of the boundary that they may keep within, and
    of the bound at which the road ends (n,), NaN where there is none."""

    chainage: Floats
    boundary: Floats
    bound: Floats

    def rows(self, index: Ints) -> "Room":
        """That of some sections."""
        return Room(self.chainage[index], self.boundary[index], self.bound[index])


def no_slopes(start: Floats, level: Floats) -> SideSlopes:
    """Where the road ends at its outermost point, outward offset and level (n,)."""
    rung: Ints = np.full(len(start), NO_SLOPE, dtype=np.intp)
    return SideSlopes(rung, np.stack([start, start], axis=1), np.stack([level, level], axis=1), ())


def side_slopes(start: Floats, level: Floats, rungs: tuple[Rung, ...], ground: Polylines, room: Room) -> SideSlopes:
    """Try the rungs in order; each only on the sections that no earlier one took.

    start, level: (n,) outward offset and level of the outer point; ground: mirrored for the left side. Touching the
    ground at a vertex counts as landing, and so does lying on it at the start. A slope that meets the bound first lands there: what
    lies beyond is another's, so that the path ends upright above or below the ground.
    """
    n = len(start)
    above = interpolate(ground, start[:, None], "outer")[:, 0] - level
    rung: Ints = np.full(n, NONE_LANDED, dtype=np.intp)
    with np.errstate(invalid="ignore"):
        rung[np.abs(above) <= tolerances.COINCIDENT] = ON_GROUND
    paths: list[tuple[Ints, Floats, Floats]] = []
    passed = []
    for number, item in enumerate(rungs):
        why = _Why(n)
        rows = np.flatnonzero(rung == NONE_LANDED)
        rows = rows[_conditions(item, above[rows], room.rows(rows), why, rows)]
        u, z = _shape(item.links, start[rows], level[rows], ground.rows(rows), room.bound[rows], why, rows)
        landed = np.isfinite(u[:, -1])
        landed[landed] &= _fits(item, start[rows[landed]], u[landed, -1], room.rows(rows[landed]), why, rows[landed])
        taken = rows[landed]
        rung[taken] = number
        paths.append((taken, u[landed], z[landed]))
        passed.append(Passed(why.code, why.measured, why.limit))
    k = max((u.shape[1] for _, u, _ in paths), default=2)
    out_u, out_z = np.full((n, k), np.nan), np.full((n, k), np.nan)
    flat = rung == ON_GROUND
    out_u[flat], out_z[flat] = start[flat, None], level[flat, None]
    for rows, u, z in paths:
        out_u[rows, : u.shape[1]], out_z[rows, : z.shape[1]] = u, z
        out_u[rows, u.shape[1] :], out_z[rows, z.shape[1] :] = u[:, -1:], z[:, -1:]
    return SideSlopes(rung, *_cut_off(out_u, out_z, room.bound), tuple(passed))


def _cut_off(u: Floats, z: Floats, bound: Floats) -> tuple[Floats, Floats]:
    """Paths (n, k) up to their bounds (n,), the last place of what lies beyond repeated."""
    limit = np.where(np.isnan(bound), np.inf, np.maximum(bound, u[:, 0]))[:, None]
    with np.errstate(invalid="ignore"):
        beyond = u > limit
    if not beyond.any():
        return u, z
    at = interpolate(Polylines(np.where(np.isnan(u), np.inf, u), z), limit)
    return np.where(beyond, limit, u), np.where(beyond, at, z)


class _Why:
    """Reasons as they are found."""

    def __init__(self, n: int) -> None:
        self.code: Ints = np.zeros(n, dtype=np.intp)
        self.measured, self.limit = np.full(n, np.nan), np.full(n, np.nan)

    def set(self, rows: Ints, code: int, measured: Floats | float = np.nan, limit: Floats | float = np.nan) -> None:
        self.code[rows], self.measured[rows], self.limit[rows] = code, measured, limit


def _conditions(item: Rung, above: Floats, room: Room, why: _Why, rows: Ints) -> Bools:
    """Whether a rung may be tried at all, before its shape is known."""
    ok = np.ones(len(rows), dtype=bool)

    def rule_out(where: Bools, code: int, limit: float = np.nan) -> None:
        nonlocal ok
        out = ok & where
        why.set(rows[out], code, np.abs(above[out]), limit)
        ok = ok & ~where

    with np.errstate(invalid="ignore"):
        rule_out(np.isnan(above), NO_GROUND)
        if item.when == "cut":
            rule_out(above < 0, BELOW)
        elif item.when == "fill":
            rule_out(above > 0, ABOVE)
        height = np.abs(above)
        rule_out(height < item.least_height, TOO_LOW, item.least_height)
        if item.most_height is not None:
            rule_out(height > item.most_height, TOO_HIGH, item.most_height)
        if item.from_chainage is not None:
            rule_out(room.chainage < item.from_chainage - tolerances.CHAINAGE_MERGE, ELSEWHERE)
        if item.to_chainage is not None:
            rule_out(room.chainage > item.to_chainage + tolerances.CHAINAGE_MERGE, ELSEWHERE)
    if item.inside_boundary:
        rule_out(np.isnan(room.boundary), NO_BOUNDARY)
    return ok


def _fits(item: Rung, start: Floats, catch: Floats, room: Room, why: _Why, rows: Ints) -> Bools:
    """Whether a rung that lands does so where it may."""
    ok = np.ones(len(rows), dtype=bool)
    if item.inside_boundary:
        limit = room.boundary - item.clearance
        outside = catch > limit + tolerances.COINCIDENT
        why.set(rows[outside], OUTSIDE, catch[outside], limit[outside])
        ok &= ~outside
    if item.within is not None:
        wide = ok & (catch - start > item.within + tolerances.COINCIDENT)
        why.set(rows[wide], WIDE, (catch - start)[wide], item.within)
        ok &= ~wide
    return ok


def _shape(
    links: list[Link], start: Floats, level: Floats, ground: Polylines, bound: Floats, why: _Why, rows: Ints
) -> tuple[Floats, Floats]:
    """The links of a rung from the outer point on: (n, k) offsets and levels, the last one the catch point, NaN where it
    does not land."""
    us, zs = [start], [level]
    for link in links:
        for u, z in _link(link, us[-1], zs[-1], ground, bound, why, rows):
            us.append(u)
            zs.append(z)
    return np.stack(us, axis=1), np.stack(zs, axis=1)


def _link(
    link: Link, u: Floats, z: Floats, ground: Polylines, bound: Floats, why: _Why, rows: Ints
) -> list[tuple[Floats, Floats]]:
    """The vertices that a link adds. A new kind of link is one case here."""
    match link:
        case Run(width=width, fall_pct=fall):
            return [(u + width, z + fall / 100 * width)]
        case Step(width=width, rise=rise):
            return [(u + width, z + rise)]
        case VDrain(depth=depth, inner_one_in=inner, outer_one_in=outer):
            return [(u + inner * depth, z - depth), (u + (inner + outer) * depth, z)]
        case FlatDrain(depth=depth, inner_one_in=inner, bottom=bottom, outer_one_in=outer):
            foot = u + inner * depth
            return [(foot, z - depth), (foot + bottom, z - depth), (foot + bottom + outer * depth, z)]
        case ToeDrain(one_in=one_in, depth=depth, bottom=bottom, most_width=most):
            path = _straight(u, z, -1 / one_in, most)
            lowered = Polylines(ground.offsets, ground.levels - depth)
            at, level = _landing(path, lowered, -1.0, most, bound, why, rows)
            return [(at, level), (at + bottom, level)]
        case ToGround(one_in=one_in, direction=direction, most_width=most):
            sense = 1.0 if direction == "up" else -1.0
            return [_landing(_straight(u, z, sense / one_in, most), ground, sense, most, bound, why, rows)]
        case Benched():
            return _benched(link, u, z, ground, bound, why, rows)


def _straight(u: Floats, z: Floats, slope: float, width: float) -> Polylines:
    return Polylines(np.stack([u, u + width], axis=1), np.stack([z, z + slope * width], axis=1))


def _benched(
    link: Benched, u: Floats, z: Floats, ground: Polylines, bound: Floats, why: _Why, rows: Ints
) -> list[tuple[Floats, Floats]]:
    sense = 1.0 if link.direction == "up" else -1.0
    along, up = [0.0], [0.0]
    while along[-1] < link.most_width:
        along += [along[-1] + link.one_in * link.height]
        up += [up[-1] + sense * link.height]
        along += [along[-1] + link.bench_width]
        up += [up[-1] + link.bench_fall_pct / 100 * link.bench_width]
    path = Polylines(u[:, None] + np.array(along), z[:, None] + np.array(up))
    at, level = _landing(path, ground, sense, link.most_width, bound, why, rows)
    vertices = []
    for k in range(1, len(along)):
        before = path.offsets[:, k] < at
        vertices.append((np.where(before, path.offsets[:, k], at), np.where(before, path.levels[:, k], level)))
    used = int((path.offsets[:, 1:] < at[:, None]).sum(axis=1).max(initial=0))
    return [*vertices[:used], (at, level)]


def _landing(
    path: Polylines, ground: Polylines, sense: float, most: float, bound: Floats, why: _Why, rows: Ints
) -> tuple[Floats, Floats]:
    """Where a path first meets the ground, coming from below (sense 1) or above (-1), or its bound (n,): offsets and levels (n,), NaN
    where it does neither within `most` metres of its start. What starts beyond its bound has landed."""
    if len(rows) == 0:
        return np.empty(0), np.empty(0)
    start = path.offsets[:, 0]
    known = np.isfinite(start)
    grid = merge_offsets(start, np.minimum(start + most, path.offsets[:, -1]), ground.offsets, path.offsets)
    gap = sense * (sample(ground, grid) - sample(path, grid))
    with np.errstate(invalid="ignore"):
        gap = np.where(np.abs(gap) <= tolerances.COINCIDENT, 0.0, gap)
        wrong = known & (gap[:, 0] < 0)
    at = np.where(wrong | ~known, np.nan, first_descent(grid, gap))
    with np.errstate(invalid="ignore"):
        bounded = known & ~(wrong & (start < bound)) & (bound <= path.offsets[:, -1]) & ~(at < bound)
    at = np.where(bounded, np.maximum(start, bound), at)
    fresh = why.code[rows] == 0
    why.set(rows[wrong & fresh], WRONG_SIDE)
    why.set(rows[known & ~wrong & np.isnan(at) & fresh], SHORT, np.nan, most)
    return at, interpolate(path, at[:, None])[:, 0]
