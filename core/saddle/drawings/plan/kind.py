"""The road from above, from sheet to sheet, turned to lie along the paper."""

import itertools
import math
from collections.abc import Callable, Iterator, Sequence

import numpy as np
import shapely

from saddle.alignment.equations import shown
from saddle.chainage import format_chainage
from saddle.drawings.body import Body, Task, match_line
from saddle.drawings.display import (
    FAINT,
    INK,
    MEDIUM,
    OTHER_ROAD,
    PLUM,
    SADDLE,
    THICK,
    THIN,
    TIN,
    Item,
    Layer,
    Place,
    Polygon,
    Polyline,
    Room,
    Text,
)
from saddle.drawings.figures import element_words
from saddle.drawings.legend import Meaning
from saddle.drawings.lettering import width_of
from saddle.drawings.lost import FAULT, LOST, WORDS
from saddle.drawings.placer import Name, Placer, Stroke
from saddle.drawings.plan.view import PlanView, views_along
from saddle.drawings.spec import PlanSheets
from saddle.drawings.title import scale_words
from saddle.geometry.polylines import Floats, Ints
from saddle.lines.place import place_group
from saddle.road.model import RoadModel
from saddle.road.spec import Leave
from saddle.road.unknown import missing_stretches
from saddle.terrain.survey_lines import SurveyLines
from saddle.views.depth_map import depth_bands, depth_triangles
from saddle.views.line import ground_of
from saddle.views.remarks import remarks_in_plan

#: Colours of the depths, thin to thick; where there are more bands than colours the last one stays.
DEPTHS = ("#E8E2CF", "#BFD0C0", "#84B0B0", "#4C87A0", "#35598A", "#2E2F66")
#: Length of a chainage mark and of an arm of a cross, size of the north arrow and the key plan, mm.
MARK, CROSS, BESIDE, ARROW, KEY = 2.0, 2.5, 0.8, 14.0, (46.0, 26.0)
#: Half the width at which a stretch without a design is hatched, m.
LOST_HALF = 4.0
#: A grid of coordinates about so far apart on the paper, mm.
APART = 80.0


def draw_plan(task: Task) -> list[Body]:
    """The whole range, on as many sheets as it needs."""
    assert isinstance(task.style.sheets, PlanSheets)
    look = task.style.sheets
    low, high = task.reach()
    views = views_along(task.model.alignment, low, high, look.beside, look.scale, task.room)
    ground = _Ground(task)
    bodies = []
    for k, view in enumerate(views):
        bodies.append(_Sheet(task, view, (k, len(views)), ground).drawn())
        task.progress((k + 1) / len(views))
    return bodies


class _Found:
    """Pieces in plan, found by where they lie."""

    def __init__(self, pieces: Sequence[shapely.Geometry] | np.ndarray) -> None:
        self.pieces = np.array(pieces, dtype=object)
        self.tree = shapely.STRtree(self.pieces)

    def within(self, strip: shapely.Geometry) -> np.ndarray:
        """The parts of the pieces that lie in a strip."""
        return np.asarray(shapely.intersection(self.pieces[self.tree.query(strip, predicate="intersects")], strip))


class _Ground:
    """What the sheets of a plan are cut out of, made once: depths by band, survey lines by code, edges of the overlay, section lines,
    stretches without a design."""

    def __init__(self, task: Task) -> None:
        assert isinstance(task.style.sheets, PlanSheets)
        look, model = task.style.sheets, task.model
        bands = depth_bands(depth_triangles(model), model.inputs.settings.depth_bands_mm) if look.depths else []
        self.bands = [
            (band, _Found([shapely.make_valid(shapely.Polygon(rings[0], rings[1:])) for rings in band.polygons]))
            for band in bands
        ]
        found = model.inputs.lines if look.survey else {}
        self.background = [_Found(shapely.linestrings(ends)) for ends in task.of.background() if look.background and len(ends)]
        self.survey = {code: _Found(_segments(lines)) for code, lines in found.items()}
        self.lost = missing_stretches(model)
        d = model.depth
        self.edges = _Found([line for offsets in (d.left, d.right) for line in _edge(model, offsets)])
        self.others = [
            (
                o.name,
                _found_of(o.model, o.model.lines.left_edge, o.model.lines.right_edge),
                _found_of(o.model, o.model.lines.hinge),
            )
            for o in task.of.others
        ]
        groups = task.of.lines.values() if look.sections else ()
        self.lines = [line for group in groups for line in place_group(group, ground_of(model)).lines]


def _segments(lines: SurveyLines) -> np.ndarray:
    ends = np.stack([lines.start[:, :2], lines.end[:, :2]], axis=1)
    return np.asarray(shapely.linestrings(ends)) if len(ends) else np.empty(0, dtype=object)


def _found_of(model: RoadModel, *offsets: Floats) -> _Found:
    """Lines of a road at offsets (n,), in plan."""
    return _Found([line for at in offsets for line in _edge(model, at)])


def _edge(model: RoadModel, offsets: Floats) -> list[shapely.LineString]:
    """An edge in plan, from section to section as long as both have it."""
    there = np.isfinite(offsets)
    runs = np.split(np.arange(len(offsets)), np.flatnonzero(there[1:] != there[:-1]) + 1)
    return [shapely.LineString(model.frames.plan(run, offsets[run])) for run in runs if len(run) > 1 and there[run[0]]]


class _Sheet:
    """One sheet as it is drawn."""

    def __init__(self, task: Task, view: PlanView, place: tuple[int, int], ground: _Ground) -> None:
        assert isinstance(task.style.sheets, PlanSheets)
        self.task, self.view, self.place, self.ground = task, view, place, ground
        self.look, self.model, self.h = task.style.sheets, task.model, task.style.text_height
        self.room = task.room
        self.body = Body(scale=scale_words(self.look.scale))
        self.items: list[Item] = self.body.items
        self.placer = Placer(self.room, "plan")

    def drawn(self) -> Body:
        equations = self.model.inputs.alignment.equations
        self.body.begin, self.body.end = shown(np.array([self.view.low, self.view.high]), equations).tolist()
        self._beneath()
        self._depths()
        self._survey()
        if self.look.sections:
            self._sections()
        self._edges()
        lost = self._missing()
        self._furniture()
        names = [
            *lost,
            *self._alignment(),
            *self._others(),
            *(self._section_lines() if self.look.sections else []),
            *(self._structures() if self.look.structures else []),
            *self._remarks(),
            *self._treatments(),
        ]
        for name in names:
            self.items += self.placer.place(name)
        told = len(self.placer.left_out)
        if self.look.grid:
            self._grid()
        self.body.left_out = self.placer.left_out[:told]
        return self.body

    def _lines(self, layer: Layer, geometry: shapely.Geometry, width: float, colour: str, dashes: tuple[float, ...] = ()) -> bool:
        """Draws the lines of a geometry in plan; whether there are any."""
        drawn = False
        for part in shapely.get_parts(geometry):
            points = shapely.get_coordinates(part)
            if part.geom_type == "LineString" and len(points) > 1:
                self.items.append(Polyline(layer, tuple(self.view.paper(points)), width, colour, dashes, source=layer))
                drawn = True
        return drawn

    def _explain(self, meaning: Meaning) -> None:
        if meaning not in self.body.meanings:
            self.body.meanings.append(meaning)

    def _depths(self) -> None:
        for k, (band, found) in enumerate(self.ground.bands):
            colour = DEPTHS[min(k, len(DEPTHS) - 1)]
            parts = [part for area in found.within(self.view.strip) for part in _without_holes(area)]
            for part in parts:
                points = tuple(self.view.paper(shapely.get_coordinates(part)[:-1]))
                self.items.append(Polygon("depths", points, colour, "plain", 0.0, colour, source="depth of overlay"))
            if parts:
                low, high = 1000 * band.low, 1000 * band.high
                words = f"up to {high:.0f} mm" if band.low == -math.inf else f"{low:.0f} to {high:.0f} mm"
                self._explain(Meaning(f"Overlay {words if math.isfinite(high) else f'over {low:.0f} mm'}", colour))

    def _beneath(self) -> None:
        """Drawings that somebody put under the survey."""
        for found in self.ground.background:
            parts = found.within(self.view.strip)
            merged = shapely.line_merge(shapely.union_all(parts)) if len(parts) else shapely.LineString()
            if self._lines("background", merged, 0.13, FAINT):
                self._explain(Meaning("Background", FAINT, width=0.13))

    def _survey(self) -> None:
        for code, found in self.ground.survey.items():
            rule = self.task.of.codes.rule(code)
            dashes = (2.0, 1.0) if rule.dashed else ()
            parts = found.within(self.view.strip)
            merged = shapely.line_merge(shapely.union_all(parts)) if len(parts) else shapely.LineString()
            if self._lines("survey", merged, 0.13 if rule.width < 1 else THIN, rule.colour, dashes) and rule.meaning != "other":
                self._explain(Meaning(f"Surveyed {rule.meaning}", rule.colour, width=THIN, dashes=dashes))

    def _on(self) -> Ints:
        c = self.model.chainage
        return np.flatnonzero((c >= self.view.low - 1e-6) & (c <= self.view.high + 1e-6))

    def _sections(self) -> None:
        d = self.model.depth
        for i in self._on().tolist():
            ends = [d.left[i], d.right[i]]
            if all(map(math.isfinite, ends)):
                points = self.model.frames.plan(i, np.array([ends[0] - 0.8, ends[1] + 0.8]))
                self.items.append(Polyline("marks", tuple(self.view.paper(points)), 0.13, TIN, source="section"))

    def _section_lines(self) -> Iterator[Name]:
        """Lines that people drew to see sections along, with their names."""
        for line in self.ground.lines:
            path = shapely.LineString(line.path)
            if not self._lines("marks", path.intersection(self.view.strip), THIN, PLUM, (3.0, 1.0)):
                continue
            ends = self.view.paper(line.path[[0, -1]])
            if line.name:
                yield Name(line.name, max(ends, key=lambda p: p[1]), self.h, 0.6, PLUM)

    def _edges(self) -> None:
        for part in self.ground.edges.within(self.view.strip):
            if self._lines("design", part, MEDIUM, INK):
                self._explain(Meaning("Edge of the overlay", INK, width=MEDIUM))

    def _others(self) -> Iterator[Name]:
        """Edges and hinges of other roads, with their names."""
        for name, edges, hinges in self.ground.others:
            for part in edges.within(self.view.strip):
                self._lines("surfaces", part, THIN, TIN)
            drawn = [p for g in hinges.within(self.view.strip) for p in shapely.get_parts(g) if p.geom_type == "LineString"]
            for part in drawn:
                self._lines("surfaces", part, THIN, TIN, OTHER_ROAD)
            if drawn:
                self._explain(Meaning("Another road", TIN, width=THIN, dashes=OTHER_ROAD))
                middle = max(drawn, key=lambda p: float(p.length)).interpolate(0.5, normalized=True)
                yield Name(name, self.view.paper(shapely.get_coordinates(middle))[0], self.h, 0.6, TIN)

    def _missing(self) -> list[Name]:
        """Stretches without a design, hatched as wide as the road is, each with why."""
        names = []
        for lost in self.ground.lost:
            low, high = max(lost.low, self.view.low), min(lost.high, self.view.high)
            if high - low < 1e-6:
                continue
            c = np.linspace(low, high, max(2, math.ceil((high - low) / 2.0) + 1))
            frames = self.model.alignment.frames(np.clip(c, self.model.alignment.start, self.model.alignment.end))
            sides = [frames.origin + wide * frames.to_right for wide in (-LOST_HALF, LOST_HALF)]
            around = self.view.paper(np.concatenate([sides[0], sides[1][::-1]]))
            self.items.append(Polygon("depths", tuple(around), LOST, "rising", 0.0, FAULT, source="design missing"))
            self._explain(Meaning("Design missing", LOST, "rising"))
            middle = len(c) // 2
            at = self.view.paper((frames.origin - 0.75 * self.look.beside * frames.to_right)[middle : middle + 1])[0]
            names.append(Name(f"{WORDS}: {lost.why}", at, self.h, 0.6, FAULT))
        return names

    def _alignment(self) -> Iterator[Name]:
        """The alignment with its chainages, tangent points and radii."""
        a, view = self.model.alignment, self.view
        c = np.unique(np.r_[np.arange(view.low, view.high, 2.0), a.key_chainages(), view.high])
        c = c[(c >= view.low) & (c <= view.high)]
        line = view.paper(a.frames(c).origin)
        self.items.append(Polyline("alignment", tuple(line), MEDIUM, SADDLE, (6.0, 1.2, 1.2, 1.2), source="alignment"))
        self.body.meanings.append(Meaning("Alignment", SADDLE, width=MEDIUM, dashes=(6.0, 1.2, 1.2, 1.2)))
        self.placer.leaders += [Stroke(p, q) for p, q in itertools.pairwise(line)]
        step = self.look.interval
        marks = np.arange(math.ceil(view.low / step - 1e-9) * step, view.high + 1e-6, step)
        frames = a.frames(np.clip(marks, a.start, a.end))
        called = shown(marks, self.model.inputs.alignment.equations)
        for k, at in enumerate(called.tolist()):
            arm = MARK / view.per_metre
            points = view.paper(frames.plan(k, np.array([-arm, arm, -self._outside(float(marks[k]))])))
            self.items.append(Polyline("alignment", tuple(points[:2]), THIN, SADDLE, source="chainage"))
            yield Name(format_chainage(at, 0), points[2], self.h, 0.6, SADDLE, "mono")
        for c0, length, first, last in zip(a.chainage, a.length, a.curvature, a.curvature_end, strict=True):
            begin, end = max(view.low, float(c0)), min(view.high, float(c0 + length))
            if end - begin < 1e-6:
                continue
            if first or last:
                middle = (begin + end) / 2
                at = view.paper(
                    a.frames(np.array([middle])).plan(0, np.array([self._outside(middle) + 2.5 / view.per_metre * 2]))
                )[0]
                yield Name(element_words(length, first, last), at, self.h, 0.0, SADDLE)

    def _outside(self, chainage: float) -> float:
        """An offset, m, at which there is room beside the road: a little beyond the edges of the overlay."""
        i = int(np.abs(self.model.chainage - chainage).argmin())
        edges = [abs(e) for e in (self.model.depth.left[i], self.model.depth.right[i]) if math.isfinite(e)]
        return min(max(edges, default=4.0) + 1.5 / self.view.per_metre, self.look.beside)

    def _structures(self) -> Iterator[Name]:
        view, found = self.view, self.model.inputs.structures
        for pipe in found.pipes:
            line = shapely.LineString([(e.east, e.north) for e in pipe.points]).intersection(view.strip)
            if self._lines("structures", line, THICK, PLUM):
                at = view.paper(shapely.get_coordinates(line.interpolate(0.5, normalized=True)))[0]
                yield Name(f"{pipe.name}, {pipe.diameter_mm:.0f}", at, self.h, 1.2, PLUM)
        for pit in found.pits:
            if view.strip.contains(shapely.Point(pit.east, pit.north)):
                x, y = view.paper(np.array([[pit.east, pit.north]]))[0]
                r = max(pit.size / 2 * view.per_metre, 0.6)
                self.items.append(Polyline("structures", Room(x - r, y - r, x + r, y + r).rim, MEDIUM, PLUM, source=pit.name))
                yield Name(pit.name, (x, y + r), self.h, 0.8, PLUM)

    def _remarks(self) -> Iterator[Name]:
        for remark in remarks_in_plan(self.model):
            inside = [p for p in remark.places if self.view.strip.contains(shapely.Point(p))]
            if inside:
                at = self.view.paper(np.array([inside[len(inside) // 2]]))[0]
                yield Name(remark.text, at, self.h, 1.5, INK)

    def _treatments(self) -> Iterator[Name]:
        """Which treatment lies where, beneath the middle of its part on this sheet."""
        for r in self.model.inputs.treatments.ranges:
            low, high = max(r.from_chainage, self.view.low), min(r.to_chainage, self.view.high)
            if isinstance(r.work, Leave) or high - low < 5:
                continue
            a = self.model.alignment
            frame = a.frames(np.clip(np.array([(low + high) / 2]), a.start, a.end))
            at = self.view.paper(frame.plan(0, np.array([self.look.beside * 0.6])))[0]
            words = f"{r.work.kind.replace('_', ' ').capitalize()} {format_chainage(r.from_chainage, 0)} to {format_chainage(r.to_chainage, 0)}"
            yield Name(words, at, self.h, 0.0, INK)

    def _grid(self) -> None:
        """Crosses at whole coordinates, named where there is room beside the road and its lines."""
        lines = [i for i in self.items if isinstance(i, Polyline)]
        self.placer.drawn = [Stroke(*pair) for line in lines for pair in itertools.pairwise(line.points)]
        road = shapely.union_all(
            [shapely.Polygon(i.points) for i in self.items if isinstance(i, Polygon) and i.layer == "depths"]
        )
        step = next(s for s in (5, 10, 20, 25, 50, 100, 200, 250, 500, 1000) if s * self.view.per_metre >= APART * 0.6)
        w, s, e, n = self.view.strip.bounds
        arm = CROSS / self.view.per_metre
        for east in np.arange(math.ceil(w / step) * step, e, step).tolist():
            for north in np.arange(math.ceil(s / step) * step, n, step).tolist():
                if not self.view.strip.contains(shapely.Point(east, north).buffer(arm)):
                    continue
                for dx, dy in ((arm, 0.0), (0.0, arm)):
                    points = self.view.paper(np.array([[east - dx, north - dy], [east + dx, north + dy]]))
                    self.items.append(Polyline("grid", tuple(points), THIN, FAINT, source="grid"))
                at = self.view.paper(np.array([[east, north]]))[0]
                if not road.contains(shapely.Point(at)):
                    words = f"{east:.0f} E, {north:.0f} N"
                    self.items += self.placer.place(Name(words, (at[0] + BESIDE, at[1]), 1.8, 1.0, TIN, "mono", 1, needed=False))

    def _furniture(self) -> None:
        """Match lines, north arrow, scale bar and key plan; names keep off them."""
        k, count = self.place
        for at, there, sheet in ((self.view.low, k > 0, k), (self.view.high, k < count - 1, k + 2)):
            if there:
                self._match_line(at, sheet)
        self._scale_bar()
        strip = shapely.Polygon(self.view.paper(shapely.get_coordinates(self.view.strip)))
        self._in_corner((ARROW, ARROW + 3.0), strip, self._north)
        if count > 1:
            self._in_corner(KEY, strip, self._key_plan)

    def _match_line(self, chainage: float, sheet: int) -> None:
        frame = self.model.alignment.frames(np.array([chainage]))
        points = self.view.paper(frame.plan(0, np.array([-self.look.beside, self.look.beside])))
        self.items.append(match_line(points))
        called = float(shown(np.array([chainage]), self.model.inputs.alignment.equations)[0])
        self.items += self.placer.place(
            Name(f"{format_chainage(called)}, see sheet {sheet}", max(points, key=lambda p: p[1]), self.h, 0.5, SADDLE)
        )

    def _take(self, box: Room) -> None:
        self.placer.taken.append((box, box.left))

    def _scale_bar(self) -> None:
        """Five parts of a whole length, at the lower left."""
        part = next(m for m in (2, 5, 10, 20, 25, 50, 100, 200, 500) if m * self.view.per_metre >= 12)
        x, y, w = self.room.left + 2.0, self.room.bottom + 1.5, part * self.view.per_metre
        for i in range(5):
            box = Room(x + i * w, y, x + (i + 1) * w, y + 1.4)
            self.items.append(Polygon("marks", box.corners, INK if i % 2 == 0 else "#FFFFFF", "plain", THIN, source="scale bar"))
        for i in range(6):
            words = f"{i * part}" + (" m" if i == 5 else "")
            self.items.append(Text("marks", (x + i * w, y + 2.2), words, 1.8, "centre", font="mono", source="scale bar"))
        self._take(Room(x - 3.0, y - 1.0, x + 5 * w + width_of("1000 m", 1.8, "mono"), y + 5.0))

    def _in_corner(self, size: Place, strip: shapely.Geometry, draw: Callable[[Room], None]) -> None:
        """Draws something in the first corner in which it covers nothing; nothing where there is none."""
        w, h = size
        r = self.room
        for x, y in ((r.right - w, r.top - h), (r.left, r.top - h), (r.right - w, r.bottom), (r.left, r.bottom + 7.0)):
            box = Room(x, y, x + w, y + h)
            if not strip.intersects(shapely.box(x, y, x + w, y + h)) and not any(box.meets(t) for t, _ in self.placer.taken):
                self._take(box)
                draw(box)
                return

    def _north(self, box: Room) -> None:
        nx, ny = self.view.north()
        cx, cy, r = (box.left + box.right) / 2, box.bottom + ARROW / 2, ARROW / 2 - 1.0

        def at(ahead: float, aside: float) -> Place:
            return cx + r * (nx * ahead - ny * aside), cy + r * (ny * ahead + nx * aside)

        self.items.append(Polygon("marks", (at(1, 0), at(-0.7, 0.35), at(-0.4, 0)), INK, "plain", THIN, source="north"))
        self.items.append(Polygon("marks", (at(1, 0), at(-0.4, 0), at(-0.7, -0.35)), "#FFFFFF", "plain", THIN, source="north"))
        self.items.append(Text("marks", (cx, box.top - 2.6), "N", 2.5, "centre", font="bold", source="north"))

    def _key_plan(self, box: Room) -> None:
        a = self.model.alignment
        c = np.linspace(a.start, a.end, 200)
        turned = PlanView(0, 0, self.view.strip, self.view.bearing, (0.0, 0.0), (0.0, 0.0), 1.0)
        line = np.array(turned.paper(a.frames(c).origin - a.frames(c[:1]).origin))
        size = np.maximum(np.ptp(line, axis=0), 1e-6)
        per = min((KEY[0] - 6.0) / size[0], (KEY[1] - 8.0) / size[1])
        placed = (line - (line.min(axis=0) + line.max(axis=0)) / 2) * per + [
            (box.left + box.right) / 2,
            (box.bottom + box.top) / 2 - 1.0,
        ]
        self.items.append(Polyline("marks", tuple(map(tuple, placed.tolist())), THIN, TIN, source="key plan"))
        on = (c >= self.view.low) & (c <= self.view.high)
        if on.sum() > 1:
            self.items.append(Polyline("marks", tuple(map(tuple, placed[on].tolist())), 0.9, SADDLE, source="key plan"))
        self.items.append(Text("marks", (box.left + 1.0, box.top - 2.6), "Key plan", 1.8, colour=TIN, source="key plan"))
        self.items.append(Polyline("marks", box.rim, THIN, TIN, source="key plan"))


def _without_holes(area: shapely.Geometry) -> Iterator[shapely.Geometry]:
    """Polygons cut through their holes until they have none."""
    for part in shapely.get_parts(area):
        if part.geom_type != "Polygon":
            if part.geom_type in ("GeometryCollection", "MultiPolygon"):
                yield from _without_holes(part)
            continue
        if not part.interiors:
            if not part.is_empty:
                yield part
            continue
        west, south, east, north = part.bounds
        middle = part.interiors[0].centroid.x
        for x0, x1 in ((west, middle), (middle, east)):
            yield from _without_holes(part.intersection(shapely.box(x0, south, x1, north)))
