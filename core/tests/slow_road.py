"""A slow second opinion on a road, section by section: plain Python, shapely and scipy, and nothing of the product but its documents.

What the documents say is worked out anew for one section at a time: where it stands (numerical integration), what lies there (triangles
cut by shapely), hinge, edges, crossfalls, template points, milling, and the level that the rule asks for. Where the answer hangs on
less than survey files are written with (a line that ends within centimetres of the section) it says nothing: `Unsure`.
"""

import contextlib
import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from scipy.integrate import quad

from saddle.road.model import RoadInputs

#: A line that ends this close to a section may or may not be met, m.
NEAR = 0.06
#: Points that close to a vertex of the ground are not told apart, m.
HAIR = 1e-7


class Unsure(Exception):
    """The answer hangs on a hair."""


class Unknown(Exception):
    """There is no answer: a line or the ground is missing."""


class Crooked(Unknown):
    """A guide that cannot be laid."""


@dataclass
class Place:
    """A section: where it stands and which way is right."""

    chainage: float
    side: int
    east: float
    north: float
    bearing: float

    def plan(self, offset: float) -> tuple[float, float]:
        return self.east + offset * math.cos(self.bearing), self.north - offset * math.sin(self.bearing)


def place(inputs: RoadInputs, chainage: float, side: int) -> Place:
    """By integrating the bearing of every element."""
    spec = inputs.alignment
    e, n, b, left = spec.start_east, spec.start_north, math.radians(spec.start_bearing_deg), chainage - spec.start_chainage
    for item in spec.elements:
        k0 = k1 = 0.0
        if item.kind == "arc":
            k0 = k1 = 1 / item.radius
        elif item.kind == "clothoid":
            k0, k1 = (1 / r if r else 0.0 for r in (item.radius_start, item.radius_end))
        run = min(left, item.length)

        def bearing(s: float, b: float = b, k0: float = k0, k1: float = k1, length: float = item.length) -> float:
            return b + k0 * s + (k1 - k0) * s * s / (2 * length)

        e += quad(lambda s: math.sin(bearing(s)), 0, run, epsabs=1e-12)[0]
        n += quad(lambda s: math.cos(bearing(s)), 0, run, epsabs=1e-12)[0]
        b = bearing(run)
        left -= run
        if left <= 1e-12:
            break
    return Place(chainage, side, e, n, b)


class Edges(dict[int, float]):
    """Both pavement edges, looked for when they are asked for."""

    def __init__(self, section: "Section") -> None:
        super().__init__()
        self.section = section

    def __missing__(self, side: int) -> float:
        self[side] = self.section._edge(side)
        return self[side]


class Section:
    """One section of a road, worked out step by step. Offsets from the alignment, negative left."""

    def __init__(self, inputs: RoadInputs, at: Place) -> None:
        self.inputs, self.at = inputs, at
        self.treatment = self._range(inputs.treatments.ranges)
        self.applied = self._range(inputs.template_plan.ranges)
        self.gaps: list[tuple[float, float]] = []
        self.ground = self._cut()
        self.work = self.treatment.work if self.treatment is not None else None
        if self.work is None or self.work.kind == "leave" or self.applied is None:
            raise Unknown("nothing is designed here")
        self.hinge = self._source(self.work.hinge, 0)
        self.edges: dict[int, float] = Edges(self)
        if self.work.kind == "overlay":
            self.edges[-1], self.edges[1]
        self.tied = self._tied()
        self.pct = self._crossfalls()

    def _range(self, ranges: Any) -> Any:
        c = self.at.chainage
        end = self.inputs.alignment.start_chainage + sum(e.length for e in self.inputs.alignment.elements)
        back = self.at.side < 0 or (self.at.side == 0 and abs(c - end) < 1e-3)
        probe = c - 2e-3 if back else c + 2e-3
        return next((r for r in ranges if r.from_chainage <= probe <= r.to_chainage), None)

    # the ground

    def _cut(self) -> list[tuple[float, float]]:
        """Offsets and levels of the ground by shapely, from left to right."""
        tin, s = self.inputs.surface, self.inputs.settings
        a, b = self.at.plan(s.left), self.at.plan(s.right)
        base = np.array([self.at.east, self.at.north])
        line = shapely.LineString([np.array(a) - base, np.array(b) - base])
        corners = tin.points[tin.triangles]
        local = corners[:, :, :2] - base
        near = (np.abs(local).min(axis=1) < 60).all(axis=1)
        found: dict[float, float] = {}
        covered: list[tuple[float, float]] = []
        for triangle, flat in zip(corners[near], local[near], strict=True):
            part = shapely.intersection(line, shapely.Polygon(flat))
            if part.is_empty:
                continue
            m = np.column_stack([flat, np.ones(3)])
            plane = np.linalg.solve(m, triangle[:, 2])
            places = [x * math.cos(self.at.bearing) - y * math.sin(self.at.bearing) for x, y in shapely.get_coordinates(part)]
            covered.append((min(places), max(places)))
            for o, (x, y) in zip(places, shapely.get_coordinates(part), strict=True):
                found[round(o, 7)] = float(plane @ [x, y, 1.0])
        self.gaps, reach = [], None
        for low, high in sorted(covered):
            if reach is not None and low > reach + 1e-6:
                self.gaps.append((reach, low))
            reach = high if reach is None else max(reach, high)
        return sorted(found.items())

    def whole(self, low: float, high: float) -> None:
        """Raises Unknown where the survey has a hole between two offsets."""
        for a, b in self.gaps:
            if min(b, high) - max(a, low) > -HAIR:
                raise Unsure("at the rim of a hole") if min(b, high) - max(a, low) < 1e-3 else Unknown("a hole")

    def level_at(self, offset: float, of: list[tuple[float, float]] | None = None) -> float:
        line = self.ground if of is None else of
        if not line or not line[0][0] - HAIR <= offset <= line[-1][0] + HAIR:
            raise Unknown(f"no ground at {offset:.2f}")
        for a, b in self.gaps:
            if a - 1e-3 < offset < b + 1e-3:
                raise Unsure("at the rim of a hole") if offset < a + 1e-3 or offset > b - 1e-3 else Unknown("a hole")
        return float(np.interp(offset, [o for o, _ in line], [z for _, z in line]))

    # hinge and edges

    def _source(self, source: Any, side: int) -> float:
        if source.by == "offset":
            return float(source.offset)
        if source.by == "guide":
            return self._guide(source.guide)
        looks = {None: side, "left": -1, "right": 1, "nearest": 0}[source.side]
        return self._nearest(source.code, source.within, looks)[0]

    def _guide(self, key: str) -> float:
        """Pieces that hold or taper, or parts one on another."""
        guide = self.inputs.guides[key]
        if guide.source.by != "parts":
            return self._pieces(guide.source)
        side = -1 if guide.side == "left" else 1
        pieces = [part for part in guide.source.parts if part.by == "pieces"]
        there = any(self._perhaps(lambda part=part: self._pieces(part)) is not None for part in pieces)
        if guide.source.only_pieces and pieces and not there:
            raise Unknown("a guide that is there only where its pieces are")
        reached = self._perhaps(lambda: self._source(guide.source.base, side))
        for part in guide.source.parts:
            if part.by == "width":
                reached = None if reached is None else reached + side * part.width
            elif part.by == "pieces":
                more = self._perhaps(lambda part=part: self._pieces(part)) or 0.0
                reached = None if reached is None else reached + side * more
            else:
                line = self._perhaps(lambda part=part: self._source(part.line, side))
                both = [o for o in (reached, line) if o is not None]
                if part.by == "no_less":
                    reached = max(both, key=lambda o: side * o) if both else None
                elif reached is not None:
                    reached = min(both, key=lambda o: side * o)
        if reached is None:
            raise Unknown("a guide whose base is not there")
        return reached

    @staticmethod
    def _perhaps(find: Callable[[], float]) -> float | None:
        try:
            return find()
        except Crooked:
            raise  # nothing stands on what cannot be laid
        except Unknown:
            return None

    def _pieces(self, source: Any) -> float:
        """Pieces that hold or taper, walked from their start."""
        c, offset = source.start_chainage, source.start_offset
        ends = [c]
        for piece in source.pieces:
            ends.append(piece.end.chainage if piece.end.by == "chainage" else ends[-1] + piece.end.length)
        if any(b <= a for a, b in itertools.pairwise(ends)):
            raise Crooked("a guide with a piece that ends before it begins")
        if self.at.chainage < c:
            raise Unknown("before the guide")
        for piece, end in zip(source.pieces, ends[1:], strict=True):
            to = piece.to_offset if piece.kind == "taper" else offset
            if abs(self.at.chainage - end) < 1e-6 or abs(self.at.chainage - c) < 1e-6:
                raise Unsure("at a corner of a guide")
            if self.at.chainage < end:
                return float(offset + (to - offset) * (self.at.chainage - c) / (end - c))
            c, offset = end, to
        raise Unknown("beyond the guide")

    def _nearest(self, code: str, within: float, side: int) -> tuple[float, float]:
        lines = self.inputs.lines.get(code)
        if lines is None:
            raise Unknown(f"no line {code}")
        base = np.array([self.at.east, self.at.north])
        right = np.array([math.cos(self.at.bearing), -math.sin(self.at.bearing)])
        ahead = np.array([math.sin(self.at.bearing), math.cos(self.at.bearing)])
        met = []
        for p, q in zip(lines.start, lines.end, strict=True):
            d = [(v[:2] - base) @ ahead for v in (p, q)]
            o = [(v[:2] - base) @ right for v in (p, q)]
            if min(abs(d[0]), abs(d[1])) < NEAR and min(abs(o[0]), abs(o[1])) < within + 5:
                raise Unsure("a vertex of the line stands on the section")
            if d[0] * d[1] < 0:
                t = d[0] / (d[0] - d[1])
                met.append((o[0] + t * (o[1] - o[0]), p[2] + t * (q[2] - p[2])))
        met = [m for m in met if abs(m[0]) <= within and (side == 0 or m[0] * side > 0)]
        if not met:
            raise Unknown(f"no line {code} here")
        return min(met, key=lambda m: abs(m[0]))

    def _edge(self, side: int) -> float:
        source = self.work.left_edge if side < 0 else self.work.right_edge
        if source.by == "point":
            raise Unsure("an edge at a point of the template is judged by laws")
        return self._source(source, side)

    def _tied(self) -> float:
        t, w, c = 1.0, self.work, self.at.chainage
        if w.kind == "overlay" and w.begin is not None:
            t = min(t, (c - self.treatment.from_chainage) / w.begin.length)
        if w.kind == "overlay" and w.end is not None:
            t = min(t, (self.treatment.to_chainage - c) / w.end.length)
        return 1.0 if t > 1 - 1e-9 else 0.0 if t < 1e-9 else t  # at its ends a tie is the old road, and the treatment on its own

    def _crossfalls(self) -> dict[int, float]:
        w, c = self.work, self.at.chainage
        pct, measured = {}, {}
        for side, source in ((-1, w.left_crossfall), (1, w.right_crossfall)):
            if source.by == "measured" or self.tied < 1:
                run = abs(self.edges[side] - self.hinge)
                rise = self.level_at(self.edges[side]) - self.level_at(self.hinge)
                measured[side] = 100 * rise / run if run > 1e-9 else math.nan  # a side without width has no crossfall
            if source.by == "given":
                pct[side] = source.pct
            elif source.by == "measured":
                pct[side] = measured[side]
            else:
                rows = self.inputs.crossfalls.rows
                pct[side] = float(
                    np.interp(c, [r.chainage for r in rows], [r.left_pct if side < 0 else r.right_pct for r in rows])
                )
        if w.kind == "overlay" and w.governs.kind == "kerb_to_kerb":
            first = -1 if w.governs.side == "left" else 1
            lip = {s: self.level_at(self.edges[s]) + w.governs.plus for s in (-1, 1)}
            self.crown = lip[first] - pct[first] / 100 * abs(self.hinge - self.edges[first])
            far = abs(self.hinge - self.edges[-first])
            pct[-first] = 100 * (lip[-first] - self.crown) / far if far > 1e-9 else math.nan
        found = {s: pct[s] if self.tied == 1 else measured[s] + self.tied * (pct[s] - measured[s]) for s in (-1, 1)}
        return found  # of a side without width it is none, which matters where a point needs it

    # the template

    def points(self, side: int) -> dict[str, tuple[float, float]]:
        """Outward offset and rise above the hinge of every point of a side, by name."""
        spec = self.inputs.templates[self.applied.template]
        half = spec.left if side < 0 and spec.left is not None else spec.right
        sizes = self._sizes(spec)
        by_name = {p.name: p for p in half.points}
        kerbs = {k.name: k for k in half.kerbs}
        out: dict[str, tuple[float, float]] = {"hinge": (side * self.hinge, 0.0)}
        falls: dict[str, float] = {}
        edge_point = self._edge_point(half)

        def value(v: Any) -> float:
            return sizes[v] if isinstance(v, str) else float(v)

        def find(name: str) -> tuple[float, float]:
            if name in out:
                return out[name]
            if "." in name:
                kerb = kerbs[name.split(".")[0]]
                profile = self.inputs.kerbs[kerb.profile]
                vertex = next(v for v in profile.top if v.name == name.split(".", 1)[1])
                u, z = find(kerb.at)
                back = profile.top[-1]
                more = (back.out_mm - vertex.out_mm, vertex.up_mm - back.up_mm) if kerb.turned else (vertex.out_mm, vertex.up_mm)
                out[name] = (u + more[0] / 1000, z + more[1] / 1000)
                return out[name]
            p = by_name[name]
            if p.offset.kind == "square" or (p.level is not None and p.level.kind in ("on_surface", "guide_level", "carried")):
                raise Unsure("levels from the ground are judged by laws")
            u, _ = find(p.offset.parent)
            if p.offset.kind == "width":
                u += value(p.offset.width)
            elif p.offset.kind == "follow":
                raise Unsure("templates that follow lines are judged by laws")
            if name == edge_point:
                u = self._reached(side, u)
            for rule in self.inputs.follow.rules:
                here = rule.from_chainage - 1e-3 <= self.at.chainage <= rule.to_chainage + 1e-3
                if here and rule.point == name and (rule.side == "left") == (side < 0):
                    with contextlib.suppress(Unknown):
                        u = side * self._source(rule.source, side)
            pu, pz = find(p.level.parent)
            if p.level.kind == "rise":
                out[name] = (u, pz + value(p.level.rise))
                return out[name]
            pct = self.pct[side] if p.level.crossfall_pct is None else value(p.level.crossfall_pct)
            if p.level.crossfall_pct is None and p.level.turns_with == "neighbour":
                pct = falls.get(p.level.parent, pct)
            if math.isnan(pct):
                raise Unknown("a crossfall of no width")
            falls[name] = pct
            out[name] = (u, pz + pct / 100 * abs(u - pu))
            return out[name]

        for strip in half.strips:
            find(strip.from_point)
            find(strip.to_point)
        for kerb in half.kerbs:
            for vertex in self.inputs.kerbs[kerb.profile].top:
                if vertex.name != (self.inputs.kerbs[kerb.profile].top[-1 if kerb.turned else 0].name):
                    find(f"{kerb.name}.{vertex.name}")
        return out

    def _edge_point(self, half: Any) -> str | None:
        """The point at which the overlaid strips end."""
        here, last = "hinge", None
        while True:
            strip = next((s for s in half.strips if s.from_point == here), None)
            if strip is None or strip.over_existing is None or strip.kind == "side_road":
                return last
            here = last = strip.to_point

    def _reached(self, side: int, own: float) -> float:
        w = self.work
        if w.kind != "overlay":
            return own
        edge = side * self.edges[side]
        if w.governs.kind == "kerb_to_kerb" or w.reach == "exactly_edge":
            return edge
        return max(own, edge) if w.reach == "at_least_edge" else own

    def _sizes(self, spec: Any) -> dict[str, float]:
        """Values of dimensions; over a transition between those of the range before and the own ones."""
        own = {d.name: d.value for d in spec.dimensions}
        ranges = self.inputs.template_plan.ranges
        i = ranges.index(self.applied)
        if i and self.applied.transition > 0 and ranges[i - 1].to_chainage >= self.applied.from_chainage - 1e-3:
            before = {d.name: d.value for d in self.inputs.templates[ranges[i - 1].template].dimensions}
            t = min(1.0, max(0.0, (self.at.chainage - self.applied.from_chainage) / self.applied.transition))
            own = {k: before[k] + t * (v - before[k]) if k in before else v for k, v in own.items()}
        return own

    # overlay

    def under(self, *, notches: bool = True) -> list[tuple[float, float]]:
        """The milled ground, steps as two places a hair apart; without the notches of ties it is what levels follow."""
        line, depth_there = list(self.ground), 0.0
        c = self.at.chainage + 2e-3 * self.at.side
        stretches = []
        for s in self.inputs.milling.stretches:
            rows = s.rows
            inside = rows[0].chainage <= c <= rows[-1].chainage
            depth = float(np.interp(c, [r.chainage for r in rows], [r.depth_mm for r in rows])) / 1000 if inside else 0.0
            if depth > 0:
                stretches.append((self._limit(s.left, -1), self._limit(s.right, 1), depth, s.full_at))
        w = self.work
        if w.kind == "overlay" and notches:
            ends = (
                (w.begin, self.at.chainage - self.treatment.from_chainage),
                (w.end, self.treatment.to_chainage - self.at.chainage),
            )
            for tie, far in ends:
                if tie is not None and tie.notch_mm > 0 and far < tie.length:
                    stretches.append((self.edges[-1], self.edges[1], (1 - far / tie.length) * tie.notch_mm / 1000, "both"))
        runs = [
            (low, high, *{"both": (depth, depth), "left": (depth, 0.0), "right": (0.0, depth)}[full])
            for low, high, depth, full in stretches
            if high > low
        ]
        depth_there = max((max(a, b) for _, _, a, b in runs), default=0.0)
        places = {o for run in runs for limit in run[:2] for o in (limit - HAIR, limit, limit + HAIR)}
        for one, other in itertools.combinations(runs, 2):  # where one that runs out crosses another
            low, high = max(one[0], other[0]), min(one[1], other[1])
            if low < high:
                a, b = (self._depth_of(one, o) - self._depth_of(other, o) for o in (low, high))
                if a * b < 0:
                    places.add(low + a / (a - b) * (high - low))
        # A limit in a hole of the survey bends nothing that is known; who asks there is told.
        places = {o for o in places if not any(a + 1e-3 <= o <= b - 1e-3 for a, b in self.gaps)}
        ground = [(o, z) for o, z in self.ground if o not in places]
        line = sorted([*ground, *((o, self.level_at(o)) for o in places)])
        if runs:
            line = [(o, z - max(self._depth_of(run, o) for run in runs)) for o, z in line]
        self.milled = depth_there
        return line

    @staticmethod
    def _depth_of(run: tuple[float, float, float, float], o: float) -> float:
        low, high, a, b = run
        return float(np.interp(o, [low, high], [a, b])) if low <= o <= high else 0.0

    def _limit(self, source: Any, side: int) -> float:
        if source is None:
            return self.edges[side]
        if source.by == "point":
            raise Unsure("a limit at a point of the template")
        return self._source(source, side)

    def limit(self, side: int, points: dict[str, tuple[float, float]]) -> float:
        """Outward offset at which the overlay ends: at the saw cut, unless what is new beside it would be a sliver."""
        spec = self.inputs.templates[self.applied.template]
        half = spec.left if side < 0 and spec.left is not None else spec.right
        name = self._edge_point(half)
        reach = points[name][0] if name is not None else side * self.hinge
        if self.work.kind != "overlay":
            return side * self.hinge
        old = side * self.edges[side] - self.work.saw_cut
        limit = min(old, reach)
        if abs(reach - limit - 0.02) < 1e-6:
            raise Unsure("a width at its limit")
        if reach - limit <= 0.02:
            limit = reach
        elif reach - limit < self.work.least_new_width:
            limit = reach - self.work.least_new_width
        return max(limit, side * self.hinge)

    def surface(self, points: dict[int, dict[str, tuple[float, float]]]) -> list[tuple[float, float]]:
        """The finished surface relative to the hinge, from left to right."""
        line = []
        for side in (-1, 1):
            spec = self.inputs.templates[self.applied.template]
            half = spec.left if side < 0 and spec.left is not None else spec.right
            here, half_line = "hinge", [points[side]["hinge"]]
            while True:
                kerb = next((k for k in half.kerbs if self._starts(k) == here), None)
                strip = next((s for s in half.strips if s.from_point == here), None)
                if kerb is not None:
                    top = self.inputs.kerbs[kerb.profile].top
                    names = [v.name for v in (top[-2::-1] if kerb.turned else top[1:])]
                    half_line += [points[side][f"{kerb.name}.{n}"] for n in names]
                    here = f"{kerb.name}.{names[-1]}"
                elif strip is not None:
                    half_line.append(points[side][strip.to_point])
                    here = strip.to_point
                else:
                    break
            if any(b[0] < a[0] - 1e-9 for a, b in itertools.pairwise(half_line)):
                raise Unsure("points that crossed")
            # From left to right as they follow one another: at one offset a sort by level would turn a step round.
            placed = [(side * u, z) for u, z in half_line]
            line += placed[::-1] if side < 0 else placed
        return sorted(line, key=lambda place: place[0])

    def _starts(self, kerb: Any) -> str:
        return str(kerb.at)

    def overlay_area(self, level: float) -> float:
        """Area between the milled ground and the finished surface above it, where the old pavement is overlaid."""
        points = {side: self.points(side) for side in (-1, 1)}
        low, high = (side * self.limit(side, points[side]) for side in (-1, 1))
        if high - low < 1e-9:
            return 0.0
        self.whole(low, high)

        def beneath(line: list[tuple[float, float]]) -> shapely.Polygon:
            inner = [
                (low, self._on(line, low, HAIR)),
                *(v for v in line if low < v[0] < high),
                (high, self._on(line, high, -HAIR)),
            ]
            return shapely.Polygon([*inner, (high, -90.0), (low, -90.0)])

        top = beneath([(o, z) for o, z in self.surface(points)])
        ground = beneath([(o, z - level) for o, z in self.under()])
        return float(shapely.difference(shapely.make_valid(top), shapely.make_valid(ground)).area)

    def _on(self, line: list[tuple[float, float]], offset: float, into: float) -> float:
        return self.level_at(min(max(offset + into, line[0][0]), line[-1][0]), line)

    def hinge_level(self) -> float:
        """What the rule asks for."""
        w = self.work
        points = {side: self.points(side) for side in (-1, 1)}
        shape = self.surface(points)
        low, high = (side * self.limit(side, points[side]) for side in (-1, 1))
        e_hinge = self.level_at(self.hinge)
        under = self.under(notches=False)
        cover = w.least_cover_mm / 1000 if w.kind == "overlay" else 0.0
        kind = w.governs.kind if w.governs is not None else None
        if w.kind == "overlay" and self.tied == 0:
            return e_hinge  # a tie meets the old road here, whatever governs
        if kind is None:
            raise Unsure("a bridged length hangs on its neighbours")
        if kind == "cover":
            # A side without width asks for nothing: its ground is read from within the other one.
            self.whole(low, high)
            if high - low < 1e-9:
                raise Unsure("nothing is overlaid, and at a step there are two grounds")
            inside = [(o, z) for o, z in under if low <= o <= high]
            inside += [(o, self.level_at(o, under)) for o, _ in shape if low <= o <= high]
            inside += [
                (low, self.level_at(low + HAIR if low < high else low, under)),
                (high, self.level_at(high - HAIR if low < high else high, under)),
            ]
            level = max(z + cover - float(np.interp(o, [x for x, _ in shape], [y for _, y in shape])) for o, z in inside)
        elif kind == "edges":
            level = max(
                self.level_at(o + into, under) + cover - float(np.interp(o, [x for x, _ in shape], [y for _, y in shape]))
                for o, into in ((low, HAIR), (high, -HAIR))
            )
        elif kind == "kerb_to_kerb":
            level = self.crown
        elif kind == "level_table":
            rows = self.inputs.levels.rows
            if not rows[0].chainage <= self.at.chainage <= rows[-1].chainage:
                raise Unknown("no level here")
            level = float(np.interp(self.at.chainage, [r.chainage for r in rows], [r.level for r in rows]))
        else:
            level = self._profile(w.governs)
        return e_hinge + self.tied * (level - e_hinge) if w.kind == "overlay" else level

    def _profile(self, rule: Any) -> float:
        points = self.inputs.profiles[rule.profile].points
        c = self.at.chainage
        if not points[0].chainage <= c <= points[-1].chainage:
            raise Unknown("no profile here")
        z = float(np.interp(c, [p.chainage for p in points], [p.level for p in points]))
        for a, p, b in zip(points, points[1:], points[2:], strict=False):
            g0, g1 = (p.level - a.level) / (p.chainage - a.chainage), (b.level - p.level) / (b.chainage - p.chainage)
            begin, end = p.chainage - p.length_in, p.chainage + p.length_out
            if begin < c < end and p.length_in and p.length_out:
                # Two parabolas with one tangent at the IP: its grade is the mean by the lengths of the other side.
                middle = (g1 - g0) * p.length_in * p.length_out / (2 * (p.length_in + p.length_out))
                x = (c - begin) / p.length_in if c <= p.chainage else (end - c) / p.length_out
                z += middle * x * x
        if rule.about != "hinge":
            lower = 1 if self.pct[1] < self.pct[-1] else -1
            sides = {"left": [-1], "right": [1], "inner": [lower], "outer": [-lower]}[rule.about]
            if rule.about in ("inner", "outer") and abs(self.pct[1] - self.pct[-1]) < 1e-9:
                sides = [side for side in (-1, 1) if side in self.edges]
            wide = [s for s in sides if abs(self.edges[s] - self.hinge) > 1e-9]
            z += sum((rule.normal_pct - self.pct[s]) / 100 * abs(self.edges[s] - self.hinge) for s in wide) / len(sides)
        return z
