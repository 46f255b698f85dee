"""Courses, kerbs, beds and boxing of one half, shared out so that nothing overlaps and no gap is left.

All offsets here are outward-positive from the alignment's offset 0 seen from this side: for the left half the
existing polylines arrive mirrored. The order of claims is the order of building seen from above: what a strip or a kerb
has of its own, then beds and backings, then what is carried on from beside, then the floors of the boxing.
"""

import itertools
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, NamedTuple

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools, Floats, Polylines, first_descent
from saddle.template.columns import Columns, Plane, through
from saddle.template.compiled import CompiledHalf, KerbSpan, StripSpan, reach_column, surface_columns
from saddle.template.floors import FloorLine, floor_lines
from saddle.template.parts import Batter, CarryOn, Coat, DownTo, End, Flush, MakeUp, Onto, ToSlope, UnderKerb
from saddle.template.slopes import SideSlopes
from saddle.template.values import Dimensions, metres_of

Construction = Literal["new", "over_existing", "kerb", "bed", "fill"]


@dataclass(frozen=True, slots=True, eq=False)
class Layer:
    """One course, kerb, bed or fill of one element on n sections: what lies between top and bottom.

    offsets, top, bottom: (n, p) float, m. Where the layer does not exist its grid has no width or no thickness. coat: sprayed beneath it.
    """

    name: str
    material: str
    element: str
    construction: Construction
    offsets: Floats
    top: Floats
    bottom: Floats
    coat: Coat | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Vertex:
    """A named vertex of the boxing: outward offsets and levels, (n,)."""

    name: str
    u: Floats
    z: Floats


@dataclass(frozen=True, slots=True, eq=False)
class FloorTrace:
    """Where a floor of the boxing lies: outward offsets and levels, (n, k), a step being two of one offset."""

    name: str
    u: Floats
    z: Floats


@dataclass(frozen=True, slots=True, eq=False)
class HalfLayers:
    """All that lies under one half. offsets, top, floor: (n, p) the finished surface and the lowest line; layers from
    the top; short_mm: (n,) by how much the overlay is thinner than its constant courses; too_high: per floor, (n,) m by
    how much it lies above the courses; astray: (n,) whether a course meant for the slope does not come out there; solved: (n,)
    False where a point, a level or the overlay's end is not known: nothing is built there and every area is unknown."""

    offsets: Floats
    top: Floats
    floor: Floats
    layers: tuple[Layer, ...]
    vertices: tuple[Vertex, ...]
    floors: tuple[FloorTrace, ...]
    short_mm: Floats
    too_high: tuple[Floats, ...]
    astray: Bools
    solved: Bools


class Owner(NamedTuple):
    """Who claims: the order within the element keeps courses of one name apart."""

    element: str
    number: int
    name: str
    material: str
    construction: Construction
    coat: Coat | None = None


def overlay_reach(half: CompiledHalf, u: Floats) -> Floats:
    """Outward offset (n,) up to which strips of the road have a make-up over the existing pavement; the hinge where none
    has."""
    reach: Floats = u[:, reach_column(half)]
    return reach


def overlay_limit(
    half: CompiledHalf, u: Floats, old_edge: Floats, saw_cut: Floats, least_new: Floats, is_overlay: Bools
) -> Floats:
    """How far out the overlay reaches on each section, outward offset (n,), m; the hinge where there is none.

    u: (n, k) outward offsets of the points; old_edge: (n,) edge of the old pavement; saw_cut: cut back from it;
    least_new: new construction beyond it is never narrower than this, the limit moves inward instead.
    Where old and new edge agree to SAME_EDGE nothing new is built.
    """
    hinge, reach = u[:, 0], overlay_reach(half, u)
    if half.edge is not None:
        # A median is overlaid only where the old pavement goes on into it.
        edge = u[:, half.edge]
        reach = np.where(old_edge - edge > tolerances.SAME_EDGE, reach, np.minimum(reach, edge))
    limit = np.minimum(old_edge - saw_cut, reach)
    limit = np.where(reach - limit <= tolerances.SAME_EDGE, reach, limit)
    sliver = (reach - limit > tolerances.SLIVER) & (reach - limit < least_new)
    limit = np.where(sliver, reach - least_new, limit)
    return np.where(is_overlay, np.maximum(limit, hinge), hinge)


@dataclass(frozen=True, slots=True, eq=False)
class Ground:
    """What is there: existing: what side slopes meet; under: the surface that the overlay lies on, milled or not; surfaces: those that courses go down to, by key;
    dimensions: by name, (n,). For the left half the polylines are mirrored."""

    existing: Polylines
    under: Polylines
    surfaces: Mapping[str, Polylines]
    dimensions: Dimensions


def build_layers(
    half: CompiledHalf, u: Floats, z: Floats, limit: Floats, ground: Ground, slopes: SideSlopes, bound: Floats
) -> HalfLayers:
    """Everything under a half, from the hinge outward to its bound (n,), NaN for none.

    u, z: (n, k) offsets and levels of its points; limit: (n,) from overlay_limit; slopes: of the same half.
    """
    return _Builder(half, u, z, limit, ground, slopes, bound).run()


class _StripLines:
    """A strip's surface, the bottoms of its new courses, and how far each reaches on either side."""

    def __init__(self, span: StripSpan, builder: "_Builder") -> None:
        self.span = span
        self.a, self.b = builder.u[:, span.start], builder.u[:, span.end]
        side_road = span.strip.kind == "side_road" and span.over_existing is not None
        self.split = self.b if side_road else np.clip(builder.limit, self.a, self.b)
        self.surface = through(self.a, builder.z[:, span.start], self.b, builder.z[:, span.end])
        self.bottoms = builder.bottoms(span.new, self.surface, self.a, self.b)
        self.owners = [Owner(span.strip.name, j, c.name, c.material, "new", c.coat) for j, c in enumerate(span.new.courses)]
        self.reach: dict[int, list[Floats]] = {-1: [], 1: []}
        for j in range(len(self.bottoms)):
            for side in (-1, 1):
                self.reach[side].append(self._reach(j, side, builder))

    def top(self, j: int) -> Plane:
        """The upper side of a course."""
        return self.bottoms[j - 1] if j else self.surface

    def end(self, j: int, side: int) -> End:
        """How a course ends on a side, -1 inner and 1 outer."""
        course = self.span.new.courses[j]
        return course.outer if side > 0 else course.inner

    def begins(self, j: int, side: int) -> Floats:
        """Where the face of a course begins: at the end of a battered course above it, else at the strip's end."""
        if j and isinstance(self.end(j - 1, side), Batter):
            return self.reach[side][j - 1]
        return self.b if side > 0 else self.a

    def face(self, j: int, side: int, one_in: float) -> Plane:
        """The sloped end of a course, falling away from the strip."""
        at = self.begins(j, side)
        return Plane(at, self.top(j).at(at), np.full(len(at), -side / one_in))

    def _reach(self, j: int, side: int, builder: "_Builder") -> Floats:
        end, edge = self.end(j, side), self.b if side > 0 else self.a
        if isinstance(end, CarryOn):
            return edge + side * end.distance
        if isinstance(end, ToSlope):
            return builder.daylight(self.bottoms[j], self.b - self.split > tolerances.SLIVER)
        if isinstance(end, UnderKerb):
            kerb = builder.half.kerb_beside(self.span.strip.name, side)
            return edge if kerb is None else builder.u[:, kerb.end if side > 0 else kerb.start] + side * end.behind
        if isinstance(end, Batter):
            at = self.begins(j, side)
            met = self.face(j, side, end.one_in).meets(self.bottoms[j])
            return np.where(np.isfinite(met) & (side * (met - at) > 0), met, at)
        return edge


class _Builder:
    """One half while its layers are claimed."""

    def __init__(
        self, half: CompiledHalf, u: Floats, z: Floats, limit: Floats, ground: Ground, slopes: SideSlopes, bound: Floats
    ) -> None:
        self.half, self.u, self.z, self.limit, self.ground = half, u, z, limit, ground
        self.slope = Polylines(np.where(np.isnan(slopes.u), np.inf, slopes.u), slopes.z)
        self.n = len(u)
        self.outer = u[:, half.outer]
        self.end = np.fmax(self.outer, np.where(np.isnan(slopes.u), -np.inf, slopes.u).max(axis=1, initial=-np.inf))
        with np.errstate(invalid="ignore"):
            self.bounded: Bools = self.end >= bound - tolerances.COINCIDENT
            self.end = np.where(self.bounded, np.maximum(bound, u[:, 0]), self.end)
            self.in_fill: Bools = slopes.catch_level < z[:, half.outer]
        self.astray: Bools = np.zeros(self.n, dtype=bool)
        chain = surface_columns(half)
        self.solved: Bools = (np.isfinite(u[:, chain]) & np.isfinite(z[:, chain])).all(axis=1) & np.isfinite(limit)
        self.strips = [_StripLines(s, self) for s in half.spans if isinstance(s, StripSpan)]
        self.kerbs = [s for s in half.spans if isinstance(s, KerbSpan)]
        self.short = np.zeros(self.n)

    # what lines need

    def bottoms(self, make_up: MakeUp, surface: Plane, a: Floats, b: Floats) -> list[Plane]:
        """Bottoms of the courses of a make-up under a strip's surface between two offsets."""
        factor = np.hypot(1.0, surface.slope) if make_up.measured == "square" else np.ones(self.n)
        inner, outer = np.zeros(self.n), np.zeros(self.n)
        found = []
        for course in make_up.courses:
            thickness = metres_of(course.thickness_mm, self.ground.dimensions, self.n) * factor
            inner = inner + thickness
            if course.outer_thickness_mm is not None:
                thickness = metres_of(course.outer_thickness_mm, self.ground.dimensions, self.n) * factor
            outer = outer + thickness
            found.append(through(a, surface.at(a) - inner, b, surface.at(b) - outer))
        return found

    def daylight(self, plane: Plane, needed: Bools) -> Floats:
        """Where a plane comes out on the side slope. In low fill, where the slope meets the ground before, it goes as far as
        there is room: to the catch point, and so where the road ends at its bound. Elsewhere it ends at the outer point and is astray where needed (n,)."""
        above = self.slope.levels - plane.at(np.where(np.isinf(self.slope.offsets), 0.0, self.slope.offsets))
        found = first_descent(self.slope.offsets, above)
        lost = np.isnan(found)
        self.astray |= lost & needed & ~self.in_fill & ~self.bounded
        return np.where(lost, np.where(self.in_fill | self.bounded, self.end, self.outer), found)

    def _boxed(self) -> Bools:
        """Sections that are dug out: not where the overlay covers all that it could and nothing new is built beside it."""
        reach = overlay_reach(self.half, self.u)
        return (reach <= self.u[:, 0]) | (reach - self.limit > tolerances.SLIVER)

    # the work

    def run(self) -> HalfLayers:
        boxed = self._boxed()
        bottoms = {s.span.strip.name: s.bottoms for s in self.strips}
        floors = floor_lines(
            self.half, self.u, self.z, self.ground.dimensions, bottoms, lambda plane: self.daylight(plane, boxed)
        )  # fmt: skip
        self.columns = Columns(self._breaks([u for floor in floors for u in floor.breaks]))
        self._lay_surface()
        for span in self.half.spans:
            if isinstance(span, KerbSpan):
                lip = self.z[:, span.lip]
                base = Plane(self.u[:, span.lip], lip - span.profile.base, np.zeros(self.n))
                self.columns.claim(_kerb_owner(span), self.u[:, span.start], self.u[:, span.end], base)
            else:
                strip = next(s for s in self.strips if s.span is span)
                self._over_existing(strip)
                self._new(strip)
        for kerb in self.kerbs:
            self._bed(kerb)
        for strip in self.strips:
            self._carried(strip)
        too_high = []
        for floor, found in zip(self.half.floors, floors, strict=True):
            owner = Owner(floor.name, 0, f"Fill above {floor.name}", floor.fill, "fill")
            worst = np.zeros(self.n)
            for piece in found.pieces:
                start = np.where(boxed, np.maximum(piece.start, self.limit), piece.end)
                if not piece.climbs:
                    worst = np.fmax(worst, self._above(piece.plane, start, piece.end))
                self.columns.claim(owner, start, piece.end, piece.plane)
            too_high.append(worst)
        vertices = tuple(Vertex(*v) for floor in floors for v in floor.vertices)
        traces = tuple(self._trace(floor.name, found, boxed) for floor, found in zip(self.half.floors, floors, strict=True))
        return self._result(tuple(too_high), vertices, traces)

    def _trace(self, name: str, found: FloorLine, boxed: Bools) -> FloorTrace:
        """The pieces of a floor that are dug, end to end."""
        pieces = [p for p in found.pieces if not p.climbs]
        ends = [np.where(boxed, np.maximum(u, self.limit), np.nan) for p in pieces for u in (p.start, p.end)]
        levels = [p.plane.at(u) for i, p in enumerate(pieces) for u in ends[2 * i : 2 * i + 2]]
        return FloorTrace(name, np.stack(ends, axis=1), np.stack(levels, axis=1))

    def _breaks(self, of_floors: list[Floats]) -> Floats:
        """Outward offsets where anything begins, ends or bends, (n, k), +inf beyond the half."""
        columns = [0]
        for span in self.half.spans:
            columns += list(span.columns[1:]) if isinstance(span, KerbSpan) else [span.end]
        breaks = [self.u[:, columns], self.slope.offsets, self.end, *of_floors]
        for strip in self.strips:
            breaks += [strip.split, *strip.reach[-1], *strip.reach[1]]
            if strip.span.over_existing is not None:
                breaks.append(_between(self.ground.under, strip.a, strip.split))
            if isinstance(strip.span.new.bottom, DownTo):
                breaks.append(_between(self.ground.surfaces[strip.span.new.bottom.surface], strip.split, strip.b))
        for kerb in self.kerbs:
            side = -1 if kerb.placement.turned else 1
            back = self.u[:, kerb.back]
            breaks += [back + side * w for w in (kerb.profile.bed_behind, kerb.profile.backing_width)]
        every = np.concatenate([b.reshape(self.n, -1) for b in breaks], axis=1)
        return np.where((every >= self.u[:, :1]) & (every <= self.end[:, None]), every, np.inf)

    def _lay_surface(self) -> None:
        for span in self.half.spans:
            columns = span.columns if isinstance(span, KerbSpan) else (span.start, span.end)
            for i, j in itertools.pairwise(columns):
                a, b = self.u[:, i], self.u[:, j]
                self.columns.lay_surface(a, b, through(a, self.z[:, i], b, self.z[:, j]))
        path = self.slope
        for k in range(path.offsets.shape[1] - 1):
            a, b = path.offsets[:, k], path.offsets[:, k + 1]
            known = np.isfinite(a) & np.isfinite(b)
            a, b = np.where(known, a, 0.0), np.where(known, b, 0.0)
            self.columns.lay_surface(a, b, through(a, path.levels[:, k], b, path.levels[:, k + 1]))
        self.columns.begin()

    def _over_existing(self, strip: _StripLines) -> None:
        """Courses of constant thickness on a regulating course whose bottom is the existing surface.

        A course never gets negative thickness: where the depth is less than the constant courses need, they end on
        the existing surface and short_mm says what is missing.
        """
        make_up = strip.span.over_existing
        if make_up is None:
            return
        existing, last = self.ground.under, len(make_up.courses) - 1
        bottoms = self.bottoms(make_up, strip.surface, strip.a, strip.b)
        for j, course in enumerate(make_up.courses):
            owner = Owner(strip.span.strip.name, j, course.name, course.material, "over_existing", course.coat)
            if j == last:
                self.columns.claim(owner, strip.a, strip.split, existing)
            else:
                self.columns.claim(owner, strip.a, strip.split, bottoms[j], not_below=existing)
        if last > 0:
            part, inside = self.columns.reach(strip.a, strip.split)
            missing = np.where(inside, self.columns.levels(existing, part) - self.columns.levels(bottoms[last - 1], part), 0.0)
            self.short = np.maximum(self.short, np.nan_to_num(missing).max(axis=(0, 2), initial=0.0) * 1000)

    def _new(self, strip: _StripLines) -> None:
        for owner, bottom in zip(strip.owners, strip.bottoms, strict=True):
            self.columns.claim(owner, strip.split, strip.b, bottom)
        rule = strip.span.new.bottom
        if isinstance(rule, DownTo):
            self.columns.claim(strip.owners[-1], strip.split, strip.b, self.ground.surfaces[rule.surface])

    def _bed(self, kerb: KerbSpan) -> None:
        p, side = kerb.profile, -1 if kerb.placement.turned else 1
        lip, back = self.u[:, kerb.lip], self.u[:, kerb.back]
        base = Plane(lip, self.z[:, kerb.lip] - p.base, np.zeros(self.n))
        owner = _bed_owner(kerb)
        if p.backing_height_mm > 0:
            end = back + side * p.backing_width
            a, b = np.minimum(back, end), np.maximum(back, end)
            self._fill(a, b, through(back, base.z + p.backing_height, end, base.z))
            self.columns.claim(owner, a, b, base)
        if p.bed_mm > 0:
            end = back + side * p.bed_behind
            a, b = np.minimum(lip, end), np.maximum(lip, end)
            if p.bed_behind_mm > 0:
                self._fill(np.minimum(back, end), np.maximum(back, end), base)
            self.columns.claim(owner, a, b, base.lowered(np.full(self.n, p.bed)))

    def _carried(self, strip: _StripLines) -> None:
        """Ends past the strip, where some of it is built new. Inward only where the old pavement does not cut it."""
        some, whole = strip.b - strip.split > tolerances.SLIVER, strip.split <= strip.a
        for j, owner in enumerate(strip.owners):
            for side in (-1, 1):
                end, edge = strip.end(j, side), strip.b if side > 0 else strip.a
                if isinstance(end, Flush) and np.array_equal(strip.begins(j, side), edge):
                    continue
                there = some if side > 0 else some & whole
                reach = np.where(there, strip.reach[side][j], edge)
                start = np.where(there, strip.begins(j, side), edge) if isinstance(end, Batter) else edge
                self._piece(strip, j, owner, edge, start, strip.top(j))
                if isinstance(end, Batter):
                    self._piece(strip, j, owner, start, reach, strip.face(j, side, end.one_in))
                elif not isinstance(end, Flush):
                    self._piece(strip, j, owner, edge, reach, strip.top(j))

    def _piece(self, strip: _StripLines, j: int, owner: Owner, start: Floats, end: Floats, top: Plane) -> None:
        a, b = np.minimum(start, end), np.minimum(np.maximum(start, end), self.end)
        self._fill(a, b, top)
        self.columns.claim(owner, a, b, strip.bottoms[j])

    def _fill(self, a: Floats, b: Floats, down_to: Plane) -> None:
        """What lies between the front and a plane: of the lowest course of a strip that goes down onto it, else fill."""
        for strip in self.strips:
            if isinstance(strip.span.new.bottom, Onto):
                self.columns.claim(strip.owners[-1], np.maximum(a, strip.split), np.minimum(b, strip.b), down_to)
        self.columns.claim(Owner("", 0, "Fill between courses", self.half.fill, "fill"), a, b, down_to)

    def _above(self, plane: Plane, a: Floats, b: Floats) -> Floats:
        """By how much a floor lies above what is there already, (n,), m."""
        part, inside = self.columns.reach(a, b)
        with np.errstate(invalid="ignore"):
            over = np.where(inside, self.columns.levels(plane, part) - self.columns.front[:, :, part], 0.0)
        worst: Floats = np.nan_to_num(over).max(axis=(0, 2), initial=0.0)
        return worst

    def _result(self, too_high: tuple[Floats, ...], vertices: tuple[Vertex, ...], traces: tuple[FloorTrace, ...]) -> HalfLayers:
        c = self.columns
        offsets, surface, front = c.whole()
        layers = []
        for owner, part in c.claimed():
            assert isinstance(owner, Owner)
            where = slice(2 * part.first, 2 * part.end)
            upper, lower = c.along(part.top), c.along(part.bottom)
            layers.append(
                Layer(owner.name, owner.material, owner.element, owner.construction, offsets[:, where], upper, lower, owner.coat)
            )
        surface, front = (np.where(self.solved[:, None], v, np.nan) for v in (surface, front))
        return HalfLayers(
            offsets, surface, front, tuple(layers), vertices, traces, self.short, too_high, self.astray, self.solved
        )


def _kerb_owner(kerb: KerbSpan) -> Owner:
    return Owner(kerb.placement.name, 0, kerb.profile.name, kerb.profile.material, "kerb")


def _bed_owner(kerb: KerbSpan) -> Owner:
    return Owner(kerb.placement.name, 1, f"Bed of {kerb.profile.name}", kerb.profile.bed_material or kerb.profile.material, "bed")


def _between(lines: Polylines, a: Floats, b: Floats) -> Floats:
    """Offsets of the vertices between two offsets, (n, k), packed to the left and padded with +inf."""
    inside = (lines.offsets > a[:, None]) & (lines.offsets < b[:, None])
    packed = np.sort(np.where(inside, lines.offsets, np.inf), axis=1)
    return packed[:, : int(inside.sum(axis=1).max(initial=0))]
