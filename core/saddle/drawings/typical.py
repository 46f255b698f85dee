"""Typical cross-sections: each template as it stands in the middle of its longest length, with its widths, crossfalls, courses and a
kerb at a larger scale."""

import itertools
import math
from collections.abc import Callable
from typing import get_args

import numpy as np

from saddle.alignment.equations import shown
from saddle.chainage import format_chainage
from saddle.drawings.body import Body, Task
from saddle.drawings.dimensions import chain, tick
from saddle.drawings.display import FAINT, INK, MEDIUM, SADDLE, THIN, TIN, Item, Place, Polygon, Polyline, Room, Text, places_of
from saddle.drawings.legend import Meaning, of_materials
from saddle.drawings.lettering import fitted
from saddle.drawings.placer import Name, Placer, Stroke
from saddle.drawings.sections.shape import draw_shape
from saddle.drawings.spec import Scale, TypicalSheets
from saddle.drawings.tables import Table, table_bodies
from saddle.drawings.title import scale_words
from saddle.errors import SaddleError
from saddle.road.model import RoadModel, TemplateSections
from saddle.template.parts import Course, Material
from saddle.template.polygons import Vertex
from saddle.template.spec import TemplateSpec
from saddle.template.view import PointView
from saddle.views.section import SectionView, section_view

#: Room above the section for dimensions and names, from one dimension line to the next, size of a kerb's detail, mm.
ABOVE, LINE, DETAIL = 36.0, 10.0, 62.0
#: Height of a template's title, from one part of it to the next, from one template to the next beneath it, mm.
TITLE, CLEAR, APART = 12.0, 8.0, 4.0
#: Scales of details, the largest first (ISO 5455).
DETAILS = (5, 10, 20, 50)
#: Scales of sections, the largest first: the one that is wanted, or the next that goes on the sheet.
SCALES: tuple[int, ...] = get_args(Scale)


def draw_typical(task: Task) -> list[Body]:
    """The templates that the drawing names, or that stand somewhere, beneath each other as long as they go on the sheet."""
    assert isinstance(task.style.sheets, TypicalSheets)
    model = task.model
    wanted = task.drawing.templates or list(dict.fromkeys(g.key for g in model.groups))
    bodies: list[Body] = []
    missing: list[str] = []
    rest: tuple[int, Room] | None = None
    for k, key in enumerate(wanted):
        group = next((g for g in model.groups if g.key == key), None)
        spec = model.inputs.templates.get(key)
        row = _typical_row(model, group) if group is not None else None
        if spec is None or row is None:
            missing.append(spec.name if spec else key)
            continue
        view = section_view(model, row)
        block = _block(task, spec, view, *rest) if rest is not None else None
        if rest is not None and block is not None and not block.left_out:
            _put_beneath(block, bodies[-1])
        else:
            scale = _scale_for(task, spec, view)
            rest, block = (scale, task.room), _block(task, spec, view, scale, task.room)
            assert block is not None
            bodies.append(block)
        rest = rest[0], _beneath(block, rest[1])
        task.progress((k + 1) / len(wanted))
    if missing and (task.drawing.templates or not bodies):
        raise SaddleError(
            f"the template “{missing[0]}” stands nowhere that could be solved", "drawing",
            "take it out of the list of templates, or apply it to a range",
        )  # fmt: skip
    if missing:
        bodies[0].left_out += [f"{name} (stands nowhere that could be solved)" for name in missing]
    return bodies


def _typical_row(model: RoadModel, group: TemplateSections) -> int | None:
    """The section in the middle of the longest unbroken length that is solved."""
    good = [i for i in group.rows.tolist() if math.isfinite(model.hinge_level[i]) and math.isfinite(model.lines.hinge[i])]
    runs: list[list[int]] = []
    for i in good:
        if runs and i == runs[-1][-1] + 1:
            runs[-1].append(i)
        else:
            runs.append([i])
    if not runs:
        return None
    longest = max(runs, key=lambda r: model.chainage[r[-1]] - model.chainage[r[0]])
    return longest[len(longest) // 2]


def _put_beneath(block: Body, sheet: Body) -> None:
    """One more template on a sheet."""
    sheet.items += block.items
    sheet.meanings += [m for m in block.meanings if m not in sheet.meanings]
    sheet.about = f"{sheet.about}, {block.about}"


def _right_of(body: Body) -> float:
    """Where a table ends."""
    return max(x for item in body.items for x, _ in places_of(item))


def _beneath(block: Body, room: Room) -> Room:
    """What a block leaves of a room."""
    return Room(room.left, room.bottom, room.right, min(y for item in block.items for _, y in places_of(item)) - APART)


def _extent(view: SectionView) -> tuple[float, float, float, float]:
    """Least and greatest offset and level that are shown of a section, m."""
    low, high = view.design[0][0] - 1.0, view.design[-1][0] + 1.0
    levels = [z for _, z in view.design] + [z for layer in view.layers for _, z in layer.polygon]
    levels += [z for run in view.existing for o, z in run if low <= o <= high]
    return low, high, min(levels), max(levels)


def _scale_for(task: Task, spec: TemplateSpec, view: SectionView) -> int:
    """The scale that the style wants, or the next one at which the template goes on a sheet of its own. Raises SaddleError for none."""
    assert isinstance(task.style.sheets, TypicalSheets)
    low, high, least, most = _extent(view)
    for scale in (s for s in SCALES if s >= task.style.sheets.scale):
        wide, tall = (high - low) * 1000 / scale, (most - least) * 1000 / scale
        if wide <= task.room.width and tall + ABOVE + DETAIL <= task.room.height:
            return scale
    raise SaddleError(f"“{spec.name}” goes on no sheet of {task.style.paper}", "drawing style", "choose larger paper")


def _block(task: Task, spec: TemplateSpec, view: SectionView, scale: int, room: Room) -> Body | None:
    """A template at the top of a room; None where its section and the table do not go in."""
    h, materials = task.style.text_height, task.model.inputs.materials
    at = float(shown(np.array([view.chainage]), task.model.inputs.alignment.equations)[0])
    low, high, least, most = _extent(view)
    width, height = (high - low) * 1000 / scale, (most - least) * 1000 / scale
    if width > room.width or height + ABOVE + TITLE + CLEAR > room.height:
        return None
    body = Body(scale=scale_words(scale), about=spec.name)
    items = body.items
    items.append(Text("headings", (room.left, room.top - 4.0), spec.name, 3.5, font="bold"))
    items.append(Text("headings", (room.left, room.top - 8.5), f"as it stands at {format_chainage(at)}", h, colour=TIN))
    top = room.top - TITLE - ABOVE
    bottom = top - height - CLEAR
    rows = _course_rows(spec, task.model)
    table = Table("Courses", ["Side", "Strip", "Where", "Course", "Material", "Thickness mm"], rows, figures=frozenset({5}))
    found = table_bodies(table, Room(room.left, room.bottom, room.left + room.width * 0.4, room.top - TITLE), h)
    stage = Room(_right_of(found[0]) + 2 * CLEAR, room.bottom, room.right, room.top)
    if len(found) > 1 or width > stage.width:
        # Beneath the section, where there is not enough room beside it.
        stage = room
        found = table_bodies(table, Room(room.left, room.bottom, room.left + room.width * 0.62, bottom), h)
    items += found[0].items
    if len(found) > 1:
        body.left_out.append("courses for which there is no room in the table")
    left = (stage.left + stage.right - width) / 2

    def place(v: Vertex) -> Place:
        return left + (v[0] - low) * 1000 / scale, top - (most - v[1]) * 1000 / scale

    shape = draw_shape(view, materials, place, (low, high), spec.name)
    items += shape
    points = _points(view)
    upper = top + ABOVE - 4.0
    _dimensions(points, place, upper, h, items)
    drawn = [Stroke(*pair) for line in shape if isinstance(line, Polyline) for pair in itertools.pairwise(line.points)]
    placer = Placer(Room(left, top - height, left + width, upper - LINE - 1.0), "typical section", drawn)
    _crossfalls(view, points, place, placer, h, body)
    detail = Room(room.left + room.width * 0.65, max(room.bottom, bottom - DETAIL), room.right, bottom)
    if not _kerb_detail(view, materials, detail, scale, h, items):
        body.left_out.append("the kerb at a larger scale")
    body.meanings = of_materials([layer.material for layer in view.layers], materials)
    body.meanings.append(Meaning("Existing surface", TIN, width=MEDIUM))
    return body


def _points(view: SectionView) -> list[PointView]:
    """Template points with the catch points' ends, each offset once; of a kerb its lip and its back."""
    kept: list[PointView] = []
    for p in sorted(view.points, key=lambda p: p.offset):
        if p.kind != "point" or ("." in p.name and not p.name.endswith(".back")):
            continue
        if not kept or p.offset - kept[-1].offset > 0.005:
            kept.append(p)
    return kept


def _dimensions(points: list[PointView], place: Callable[[Vertex], Place], y: float, h: float, items: list[Item]) -> None:
    """Widths from point to point, and from the first to the last."""
    x = [place((p.offset, p.level))[0] for p in points]
    for p, at in zip(points, x, strict=True):
        line = ((at, place((p.offset, p.level))[1] + 1.0), (at, y - LINE + 1.0))
        items.append(Polyline("dimensions", line, 0.13, FAINT, source=p.name))
    if len(points) < 2:
        return
    chain([b.offset - a.offset for a, b in itertools.pairwise(points)], list(itertools.pairwise(x)), y - LINE, h, items, "turn")
    chain([points[-1].offset - points[0].offset], [(x[0], x[-1])], y, h, items, "turn")


def _crossfalls(
    view: SectionView, points: list[PointView], place: Callable[[Vertex], Place], placer: Placer, h: float, body: Body
) -> None:
    """Crossfalls from point to point, and the points' names."""
    names = []
    hinge = view.hinge[0] if view.hinge else 0.0
    for a, b in itertools.pairwise(points):
        if "." in a.name or "." in b.name or b.offset - a.offset < 0.3:
            continue
        outward = 1 if (a.offset + b.offset) / 2 > hinge else -1
        pct = outward * 100 * (b.level - a.level) / (b.offset - a.offset)
        names.append(Name(f"{pct:+.1f} %", place(((a.offset + b.offset) / 2, (a.level + b.level) / 2)), h, 1.2, SADDLE, "mono"))
    names += [Name(p.name, place((p.offset, p.level)), h, 2.5, TIN, lean=-1 if p.offset < hinge else 1) for p in points]
    for name in names:
        body.items += placer.place(name)
    body.left_out += placer.left_out


def _course_rows(spec: TemplateSpec, model: RoadModel) -> list[list[str]]:
    """Each course of every strip, new and over the old pavement."""
    halves = [("both" if spec.left is None else "right", spec.right), *([("left", spec.left)] if spec.left else [])]
    rows = []
    for side, half in halves:
        for strip in half.strips:
            for where, key in (("new", strip.new), ("overlay", strip.over_existing)):
                make_up = model.inputs.make_ups.get(key) if key else None
                for n, course in enumerate(make_up.courses if make_up else []):
                    first = n == 0
                    rows.append([
                        side if first else "", strip.name if first else "", where if first else "", course.name,
                        _material(course, model), _thickness(course),
                    ])  # fmt: skip
    return rows


def _material(course: Course, model: RoadModel) -> str:
    found = model.inputs.materials.get(course.material)
    return found.name if found else course.material


def _thickness(course: Course) -> str:
    inner, outer = course.thickness_mm, course.outer_thickness_mm
    one, other = (f"{t:g}" if isinstance(t, int | float) else str(t) for t in (inner, outer if outer is not None else inner))
    return one if one == other else f"{one} to {other}"


def _kerb_detail(
    view: SectionView, materials: dict[str, Material], room: Room, of_section: int, h: float, items: list[Item]
) -> bool:
    """The kerb furthest to the right with its bed, at the largest scale that goes in, within a border that says so. False where none goes
    in that shows it at least twice as large as the section, 1 to `of_section`, does."""
    kerbs = [layer for layer in view.layers if layer.construction in ("kerb", "bed")]
    if not kerbs:
        return True
    if room.height < 20 or room.width < 20:
        return False
    last = max(kerbs, key=lambda layer: max(o for o, _ in layer.polygon)).element
    of = [layer for layer in kerbs if layer.element == last and layer.side == "right"] or kerbs[-1:]
    o = [v[0] for layer in of for v in layer.polygon]
    z = [v[1] for layer in of for v in layer.polygon]
    w, tall = max(o) - min(o), max(z) - min(z)
    larger = [s for s in DETAILS if 2 * s <= of_section]
    scale = next((s for s in larger if w * 1000 / s <= room.width - 30 and tall * 1000 / s <= room.height - 22), None)
    if scale is None:
        return False
    words = f"{of[0].name}, detail at 1:{scale}"
    box = Room(room.left, max(room.bottom, room.top - tall * 1000 / scale - 24), room.right, room.top)
    items.append(Polyline("dimensions", box.rim, THIN, TIN, source="detail"))
    text, height = fitted(words, box.width - 4, 2.5, "bold")
    items.append(Text("headings", (box.left + 2, box.top - 4.5), text, height, font="bold", source="detail"))
    cx, base = (box.left + box.right) / 2 - w * 500 / scale, box.bottom + 10.0

    def place(v: Vertex) -> Place:
        return cx + (v[0] - min(o)) * 1000 / scale, base + (v[1] - min(z)) * 1000 / scale

    for layer in of:
        m = materials.get(layer.material)
        ring = tuple(place(v) for v in layer.polygon)
        items.append(Polygon("courses", ring, m.colour if m else "#FFFFFF", m.pattern if m else "plain", source=layer.name))
    ends = min(o), max(o)
    chain([ends[1] - ends[0]], [(place((ends[0], 0))[0], place((ends[1], 0))[0])], base - 5.0, h, items, "turn")
    x = place((max(o), 0))[0] + 5.0
    y0, y1 = place((0, min(z)))[1], place((0, max(z)))[1]
    items.append(Polyline("dimensions", ((x, y0), (x, y1)), THIN, INK, source="height"))
    items += [tick(x, y) for y in (y0, y1)]
    items.append(Text("dimensions", (x + 1.0 + h, (y0 + y1) / 2), f"{tall:.3f}", h, "centre", 90, "mono", source="height"))
    return True
