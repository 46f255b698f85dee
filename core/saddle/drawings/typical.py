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
from saddle.drawings.display import FAINT, INK, MEDIUM, SADDLE, THIN, TIN, Item, Place, Polygon, Polyline, Room, Text
from saddle.drawings.legend import Meaning, of_materials
from saddle.drawings.lettering import fitted
from saddle.drawings.placer import Name, Placer
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
ABOVE, LINE, DETAIL = 42.0, 10.0, 62.0
#: Scales of details, the largest first (ISO 5455).
DETAILS = (5, 10, 20, 50)
#: Scales of sections, the largest first: the one that is wanted, or the next that goes on the sheet.
SCALES = get_args(Scale)


def draw_typical(task: Task) -> list[Body]:
    """A sheet for each template that the drawing names, or that stands somewhere."""
    assert isinstance(task.style.sheets, TypicalSheets)
    model = task.model
    wanted = task.drawing.templates or list(dict.fromkeys(g.key for g in model.groups))
    bodies: list[Body] = []
    missing: list[str] = []
    for k, key in enumerate(wanted):
        group = next((g for g in model.groups if g.key == key), None)
        spec = model.inputs.templates.get(key)
        row = _typical_row(model, group) if group is not None else None
        if spec is None or row is None:
            missing.append(spec.name if spec else key)
            continue
        bodies.append(_sheet(task, spec, section_view(model, row)))
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


def _sheet(task: Task, spec: TemplateSpec, view: SectionView) -> Body:
    assert isinstance(task.style.sheets, TypicalSheets)
    room, wanted, h = task.room, task.style.sheets.scale, task.style.text_height
    at = float(shown(np.array([view.chainage]), task.model.inputs.alignment.equations)[0])
    low, high = view.design[0][0] - 1.0, view.design[-1][0] + 1.0
    levels = [z for _, z in view.design] + [z for layer in view.layers for _, z in layer.polygon]
    levels += [z for run in view.existing for o, z in run if low <= o <= high]
    sizes = {s: ((high - low) * 1000 / s, (max(levels) - min(levels)) * 1000 / s) for s in SCALES if s >= wanted}
    scale = next((s for s, (w, tall) in sizes.items() if w <= room.width and tall + ABOVE + DETAIL <= room.height), None)
    if scale is None:
        raise SaddleError(f"“{spec.name}” goes on no sheet of {task.style.paper}", "drawing style", "choose larger paper")
    width, height = sizes[scale]
    body = Body(scale=scale_words(scale), about=spec.name)
    left, top = room.left + (room.width - width) / 2, room.top - 12.0 - ABOVE

    def place(v: Vertex) -> Place:
        return left + (v[0] - low) * 1000 / scale, top - (max(levels) - v[1]) * 1000 / scale

    items = body.items
    items.append(Text("headings", (room.left, room.top - 4.0), spec.name, 3.5, font="bold"))
    items.append(Text("headings", (room.left, room.top - 8.5), f"as it stands at {format_chainage(at)}", h, colour=TIN))
    items += draw_shape(view, task.model.inputs.materials, place, (low, high), spec.name)
    points = _points(view)
    upper = top + ABOVE - 4.0
    _dimensions(points, place, upper, h, items)
    placer = Placer(Room(left, top - height, left + width, upper - LINE - 1.0), "typical section")
    _crossfalls(view, points, place, placer, h, body)
    rows = _course_rows(spec, task.model)
    table = Table("Courses", ["Side", "Strip", "Where", "Course", "Material", "Thickness mm"], rows, figures=frozenset({5}))
    beneath = Room(room.left, room.bottom, room.left + room.width * 0.62, top - height - 10.0)
    found = table_bodies(table, beneath, h)
    items += found[0].items
    if len(found) > 1:
        body.left_out.append("courses for which there is no room in the table")
    _kerb_detail(
        view,
        task.model.inputs.materials,
        Room(room.left + room.width * 0.65, room.bottom, room.right, top - height - 8.0),
        h,
        items,
    )
    body.meanings = of_materials([layer.material for layer in view.layers], task.model.inputs.materials)
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


def _kerb_detail(view: SectionView, materials: dict[str, Material], room: Room, h: float, items: list[Item]) -> None:
    """The kerb furthest to the right with its bed, at the largest scale that goes in, within a border that says so."""
    kerbs = [layer for layer in view.layers if layer.construction in ("kerb", "bed")]
    if not kerbs or room.height < 20 or room.width < 20:
        return
    last = max(kerbs, key=lambda layer: max(o for o, _ in layer.polygon)).element
    of = [layer for layer in kerbs if layer.element == last and layer.side == "right"] or kerbs[-1:]
    o = [v[0] for layer in of for v in layer.polygon]
    z = [v[1] for layer in of for v in layer.polygon]
    w, tall = max(o) - min(o), max(z) - min(z)
    scale = next((s for s in DETAILS if w * 1000 / s <= room.width - 30 and tall * 1000 / s <= room.height - 22), None)
    if scale is None:
        return
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
