"""One section as a block of a sheet: heading, drawing, and rows of figures beneath."""

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from saddle.chainage import format_chainage
from saddle.drawings.dimensions import chain
from saddle.drawings.display import MEDIUM, PLUM, SADDLE, THIN, TIN, Item, Layer, Place, Polygon, Polyline, Room, Text
from saddle.drawings.figures import spread
from saddle.drawings.lettering import shortened, width_of
from saddle.drawings.placer import Name, Placer
from saddle.drawings.sections.areas import area_rows, draw_areas, room_for
from saddle.drawings.sections.rows import ROWS, Column, Reach
from saddle.drawings.sections.shape import clipped, designs, draw_shape
from saddle.drawings.spec import SectionSheets
from saddle.figures import written
from saddle.geometry.polylines import Floats
from saddle.template.parts import Material
from saddle.template.polygons import Vertex
from saddle.views.earth import EarthView
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: Grounds of the hatching of cut and fill.
CUT, FILL = "#F1E3DF", "#E3EBDF"
#: Least width of the column with the rows' titles, and heights, mm.
TITLES = 27.0
#: The same where it holds the areas.
AREAS = 42.0
HEADING, ROOM_ABOVE, ROOM_BELOW = 8.0, 7.5, 4.0
#: Room of the widths over a section, besides their lettering, mm.
WIDTHS = 2.5
#: Room of the depths over a section, mm.
DEPTHS = 4.5
#: Height of the names of points, mm.
NAMES = 1.8
#: Room of the words about the datum, mm.
DATUM_ROOM = 5.0
#: From one column of figures to the next, in heights of lettering.
COLUMN = 1.5


@dataclass(frozen=True, slots=True)
class Window:
    """The part of a section that its block shows: offsets and levels, m. datum: level of the upper figure line."""

    low: float
    high: float
    datum: float
    top: float


#: Room at both ends of a figure in its row, in heights of lettering.
PADDING = 0.8


@dataclass(frozen=True, slots=True)
class Setting:
    """What the sections of a set have in common. text_height: of figures, mm; lines: distances of those between the figure rows below
    the datum line, mm: each row is as high as its longest figure is long."""

    look: SectionSheets
    text_height: float
    materials: Mapping[str, Material]
    lines: tuple[float, ...]


@dataclass(frozen=True, slots=True, eq=False)
class About:
    """What is known of a section besides its view. earth: what is dug and filled, to be hatched; plan: where offsets (k,) lie, (k, 2)
    east and north."""

    earth: Sequence[EarthView] = ()
    plan: Callable[[Floats], Floats] | None = None


def setting_for(
    views: Sequence[SectionView], look: SectionSheets, text_height: float, materials: Mapping[str, Material], place: float = 0.0
) -> Setting:
    """The setting of some sections. place: the greatest coordinate on them, m."""
    windows = [window_of(view, look) for view in views]
    level = max((max(abs(w.datum), abs(w.top)) for w in windows), default=0.0)
    reach = Reach(
        offset=max((max(-w.low, w.high) for w in windows), default=0.0),
        level=-level if any(w.datum < 0 for w in windows) else level,
        name=max((p.name for view in views for p in view.points if _is_labelled(p.name)), key=len, default=""),
        place=place,
    )
    heights = (width_of(ROWS[row].longest(reach), text_height, "mono") + PADDING * text_height for row in look.rows)
    return Setting(look, text_height, materials, tuple(itertools.accumulate(heights, initial=0.0)))


def titles_width(setting: Setting) -> float:
    """Width of the column with the rows' titles, mm."""
    least = AREAS if setting.look.areas else TITLES
    return max(least, *(width_of(ROWS[row].title, setting.text_height) + 2.5 for row in setting.look.rows))


def hinge_at(view: SectionView, setting: Setting) -> float:
    """Where the hinge lies on the block, mm from its left; of a section without one the alignment."""
    low = window_of(view, setting.look).low
    return titles_width(setting) + ((view.hinge[0] if view.hinge else 0.0) - low) * 1000 / setting.look.scale


def window_of(view: SectionView, look: SectionSheets) -> Window:
    """From a little beyond one catch point to the other; existing only where nothing is designed."""
    vertices = list(view.design) or [v for run in view.existing for v in run if abs(v[0]) <= 8]
    if not vertices:
        vertices = [(-5.0, 0.0), (5.0, 0.0)]
    low = math.floor(2 * (min(o for o, _ in vertices) - look.beyond)) / 2
    high = math.ceil(2 * (max(o for o, _ in vertices) + look.beyond)) / 2
    if isinstance(view, LineView):
        low, high = math.floor(2 * view.start) / 2, math.ceil(2 * view.end) / 2
    levels = [z for _, z in vertices]
    levels += [z for layer in view.layers for _, z in layer.polygon]
    levels += [z for run in view.existing for _, z in clipped(run, low, high)]
    levels += [z for s in view.structures for o, z in s.outline if low <= o <= high]
    levels += [z for s in view.structures if low <= s.offset <= high for z in (s.top, s.bottom) if z is not None]
    datum = math.floor(min(levels) * 2 - 0.5) / 2
    return Window(low, high, datum, max(levels))


def block_size(view: SectionView, setting: Setting) -> tuple[float, float]:
    """Width and height of the block, mm."""
    look = setting.look
    w = window_of(view, look)
    drawing = (w.top - w.datum) * 1000 / look.vertical_scale + _above(setting)
    beside = room_for(area_rows(view)) + DATUM_ROOM if look.areas else 0.0
    return (
        titles_width(setting) + (w.high - w.low) * 1000 / look.scale,
        HEADING + max(drawing + ROOM_BELOW, beside) + setting.lines[-1],
    )


def _above(setting: Setting) -> float:
    """Room over the section, mm."""
    look = setting.look
    return ROOM_ABOVE + (WIDTHS + setting.text_height if look.widths else 0.0) + (DEPTHS if look.depths else 0.0)


def draw_block(view: SectionView, setting: Setting, corner: Place, about: About | None = None) -> tuple[list[Item], list[str]]:
    """Primitives of a section whose block has its upper left corner at `corner`, mm, and the names for which there was no room."""
    about = about or About()
    look = setting.look
    w = window_of(view, look)
    source = f"section {format_chainage(view.chainage)} {view.side}"
    x0, top = corner
    left = x0 + titles_width(setting)
    width, height = block_size(view, setting)
    datum_y = top - height + setting.lines[-1]

    def place(vertex: Vertex) -> Place:
        return (
            left + (vertex[0] - w.low) * 1000 / look.scale,
            datum_y + ROOM_BELOW + (vertex[1] - w.datum) * 1000 / look.vertical_scale,
        )

    items: list[Item] = []
    for piece in about.earth:
        colour, pattern = (CUT, "falling") if piece.kind == "cut" else (FILL, "rising")
        items.append(
            Polygon("earth", tuple(place(v) for v in piece.polygon), colour, pattern, 0.0, source=f"{source}, {piece.kind}")
        )
    items += draw_shape(view, setting.materials, place, (w.low, w.high), source)
    if look.hinge and view.hinge is not None:
        x, y = place(view.hinge)
        low = place((view.hinge[0], min((z for layer in view.layers for _, z in layer.polygon), default=view.hinge[1])))[1] - 1.5
        items.append(Polyline("marks", ((x, low), (x, y)), THIN, SADDLE, (3.0, 0.8, 0.8, 0.8), source=f"{source}, hinge"))
    ceiling = top - HEADING + 1.0
    if look.widths:
        ceiling -= WIDTHS + setting.text_height
        _widths(view, place, ceiling, setting.text_height, items)
    placer = Placer(Room(left, datum_y + ROOM_BELOW, x0 + width, ceiling), source)
    for name in [*(_depths(view, setting, place) if look.depths else []), *_names(view, setting, place)]:
        items += placer.place(name)
    items += _structures(view, place, placer, w)
    if look.remarks:
        for name in _remarks(view, w, place):
            items += placer.place(name)
    items += _heading(view, look, (x0, top - HEADING + 3.0), width, placer.left_out, source)
    items += _figures(view, setting, w, (x0, datum_y), place, source, about)
    if look.areas:
        items += draw_areas(area_rows(view), (x0, top - HEADING), titles_width(setting), source)
    return items, placer.left_out


def _heading(view: SectionView, look: SectionSheets, at: Place, width: float, left_out: list[str], source: str) -> list[Item]:
    """Chainage, treatment and template of a section, and which names found no place on it; of a section line its name and angle."""
    x, y = at
    chainage = f"{look.prefix} {format_chainage(view.shown)} {look.suffix}".strip()
    which = {"before": " (before the change)", "after": " (after the change)"}.get(view.side, "")
    line = (
        (view.name, f"{view.angle_deg:+.1f}° off square" if view.angle_deg else "", view.remark)
        if isinstance(view, LineView)
        else ()
    )
    about = " · ".join(part for part in (*line, (view.treatment or "").capitalize(), view.template or "") if part) + which
    if left_out:
        about += f" · not written: {', '.join(left_out)}"
    begin = max(31.0, width_of(chainage, 3.5, "bold") + 3.0)
    return [
        Text("headings", (x, y), chainage, 3.5, font="bold", source=source),
        Text("headings", (x + begin, y), shortened(about, width - begin, 1.8), 1.8, colour=TIN, source=source),
    ]


def _fall(pct: float, how: str) -> str:
    """A crossfall in percent or as one in so many; level where it is less than 1 in 1000."""
    if how == "percent":
        return f"{pct:+.1f} %"
    return "level" if abs(pct) < 0.1 else f"{'-' if pct < 0 else '+'}1 in {100 / abs(pct):.0f}"


def _names(view: SectionView, setting: Setting, place: Callable[[Vertex], Place]) -> list[Name]:
    """What is written over a section, the most needed first: crossfalls beside the hinge, then its points from the hinge outward."""
    if view.hinge is None:
        return []
    hinge, h = view.hinge, setting.text_height
    out: list[Name] = []
    for pct, toward in ((view.left_pct, -1), (view.right_pct, 1)):
        edge = [p for p in view.points if (p.offset - hinge[0]) * toward > 0]
        if pct is None or not edge:
            continue
        outer = min(edge, key=lambda p: abs(p.offset - hinge[0]))
        middle = place(((hinge[0] + outer.offset) / 2, (hinge[1] + outer.level) / 2))
        out.append(Name(_fall(pct, setting.look.falls), middle, h, 1.2, SADDLE, "mono"))
    if setting.look.point_labels:
        labelled = sorted((p for p in view.points if _is_labelled(p.name)), key=lambda p: abs(p.offset - hinge[0]))
        places = [place((p.offset, p.level)) for p in labelled]
        for p, at in zip(labelled, places, strict=True):
            # Of names that would stand in each other's way each leans away from the others.
            near = width_of(p.name, NAMES) + 1.0
            lean = sum(int(np.sign(at[0] - x)) for x, _ in places if 0.1 < abs(x - at[0]) < near)
            out.append(Name(p.name, at, NAMES, 1.6 + h * 0.4, TIN, lean=int(np.sign(lean))))
    return out


def _widths(view: SectionView, place: Callable[[Vertex], Place], y: float, h: float, items: list[Item]) -> None:
    """Widths from template point to template point."""
    points = [p for p in view.points if p.kind == "point" and _is_labelled(p.name)]
    points = [p for k, p in enumerate(points) if k == 0 or p.offset - points[k - 1].offset > 0.005]
    if len(points) < 2:
        return
    x = [place((p.offset, p.level))[0] for p in points]
    widths = [b.offset - a.offset for a, b in itertools.pairwise(points)]
    chain(widths, list(itertools.pairwise(x)), y + 1.0, h, items, "leave")


def _depths(view: SectionView, setting: Setting, place: Callable[[Vertex], Place]) -> list[Name]:
    """Where the overlay is least and greatest, and how deep, mm."""
    d = view.depth
    if d is None:
        return []
    out = []
    for word, depth, offset in (("least", d.least, d.least_offset), ("most", d.greatest, d.greatest_offset)):
        level = _level_at(designs(view), offset)
        if level is not None:
            out.append(Name(f"{word} {written(depth, 'depth')}", place((offset, level)), setting.text_height, 1.2, SADDLE))
    return out


def _remarks(view: SectionView, window: Window, place: Callable[[Vertex], Place]) -> list[Name]:
    """Remarks at their offsets, those of the whole width over the hinge."""
    out = []
    for remark in view.remarks:
        offset = remark.offset if remark.offset is not None else view.hinge[0] if view.hinge else 0.0
        if not window.low <= offset <= window.high:
            continue
        levels = [z for z in (_level_at(view.existing, offset), _level_at(designs(view), offset)) if z is not None]
        if levels:
            out.append(Name(remark.text, place((offset, max(levels))), NAMES, 2.0, SADDLE))
    return out


def _structures(view: SectionView, place: Callable[[Vertex], Place], placer: Placer, window: Window) -> list[Item]:
    """Pits and pipes that the section meets within what it shows: their shape where it is known, their name, and cover and invert."""
    items: list[Item] = []
    room = shapely.box(window.low, window.datum, window.high, window.top + 1.0)
    for s in view.structures:
        if not window.low <= s.offset <= window.high:
            continue
        shape = s.outline
        if not shape and s.top is not None and s.bottom is not None:
            left, right = s.offset - s.across / 2, s.offset + s.across / 2
            shape = [(left, s.bottom), (right, s.bottom), (right, s.top), (left, s.top)]
        if shape:
            within = shapely.get_parts(shapely.LineString([*shape, shape[0]]).intersection(room))
            for coords in (part.coords for part in within if len(part.coords) > 1):
                points = tuple(place((o, z)) for o, z in coords)
                items.append(Polyline("structures", points, MEDIUM, PLUM, source=f"{placer.source}, {s.name}"))
        known = [
            f"{what} {z:.3f}"
            for what, z in (("cover", s.top if s.kind == "pit" else None), ("invert", s.bottom))
            if z is not None
        ]
        tops = [z for _, z in shape] + [z for z in (s.top, s.bottom) if z is not None]
        ground = _level_at(view.existing, s.offset)
        at = max(tops) if tops else ground
        if at is None:
            placer.left_out.append(s.name)
            continue
        items += placer.place(Name(", ".join([s.name, *known]), place((s.offset, at)), NAMES, 1.2, PLUM))
    return items


def _is_labelled(name: str) -> bool:
    """Template points, and of a kerb only its back."""
    return "." not in name or name.endswith(".back")


def _level_at(lines: list[list[Vertex]], offset: float) -> float | None:
    for line in lines:
        if line and line[0][0] - 1e-9 <= offset <= line[-1][0] + 1e-9:
            return float(np.interp(offset, [v[0] for v in line], [v[1] for v in line]))
    return None


def _formation(view: SectionView, offset: float) -> float | None:
    """Level of the underside of all that is built at an offset, None where nothing is."""
    at = shapely.LineString([(offset, -1e5), (offset, 1e5)])
    met = [shapely.Polygon(layer.polygon).intersection(at) for layer in view.layers if len(layer.polygon) > 2]
    levels = [part.bounds[1] for part in met if not part.is_empty]
    return min(levels, default=None)


def figure_offsets(view: SectionView, window: Window, most: int, also: Sequence[float] = ()) -> list[float]:
    """Offsets that get a column of figures, at most so many: template points, catch points, old edges, and the ends shown, those
    named first before those named last."""
    wanted = [p.offset for p in view.points if _is_labelled(p.name)]
    wanted += [o for o in also if window.low < o < window.high]
    wanted += [s.catch[0] for s in view.slopes if s.catch is not None]
    wanted += [o for o in (view.left_edge, view.right_edge) if o is not None]
    if not view.points:
        wanted += [0.0, *(v[0] for run in view.existing for v in run if window.low < v[0] < window.high)][:12]
    if isinstance(view, LineView):
        wanted += [row.distance for row in view.rows if row.at == "asked"]
    wanted += [window.low + 0.05, window.high - 0.05]
    kept: list[float] = []
    for offset in wanted:
        if len(kept) < most and all(abs(offset - k) > 0.02 for k in kept):
            kept.append(offset)
    return sorted(kept)


def _figures(
    view: SectionView, setting: Setting, w: Window, corner: Place, place: Callable[[Vertex], Place], source: str, about: About
) -> list[Item]:
    x0, datum_y = corner
    look, lines = setting.look, setting.lines
    h = setting.text_height
    left = x0 + titles_width(setting)
    right = left + (w.high - w.low) * 1000 / look.scale
    items: list[Item] = []
    offsets = figure_offsets(view, w, 1 + int((right - left - 2 * h) / (h * COLUMN)), look.offsets)
    true_x = [place((o, w.datum))[0] for o in offsets]
    columns = spread(true_x, h * COLUMN, left + h, right - h)

    def line(layer: Layer, points: tuple[Place, ...], width: float = THIN) -> None:
        items.append(Polyline(layer, points, width, TIN, source=source))

    for below in lines:
        line("figures", ((x0, datum_y - below), (right, datum_y - below)), THIN if below else MEDIUM)
    # Where there is neither ground nor design no level is shown, so there is no datum.
    datum = f"Datum {w.datum:.2f}" if any(view.existing) or view.design else "no ground here"
    items.append(Text("figures", (x0 + 1, datum_y + 1.5), datum, h, source=source))
    middles = [datum_y - (a + b) / 2 for a, b in itertools.pairwise(lines)]
    for row, middle in zip(look.rows, middles, strict=True):
        y = middle - h / 2
        items.append(Text("figures", (x0 + 1, y), ROWS[row].title, h, source=source))
    names = {p.offset: p.name for p in view.points if _is_labelled(p.name)}
    hinge = view.hinge[0] if view.hinge else 0.0

    wants_places = not {"east", "north"}.isdisjoint(look.rows)

    def column_at(o: float) -> Column:
        existing, milled = _level_at(view.existing, o), _level_at(view.milled, o)
        # How deep is milled may not be known: then it is not known what the overlay lies on.
        under = None if view.milled_area is None else existing if milled is None else milled
        east, north = about.plan(np.array([o]))[0].tolist() if about.plan and wants_places else (None, None)
        formation = _formation(view, o) if "formation" in look.rows else None
        return Column(o, names.get(o, ""), existing, milled, under, _level_at(designs(view), o), hinge, formation, east, north)

    told = [column_at(o) for o in offsets]
    for c, x, column in zip(told, true_x, columns, strict=True):
        levels = [z for z in (c.existing, c.design) if z is not None]
        if levels:
            line("grid", ((x, place((c.offset, max(levels)))[1]), (x, datum_y + ROOM_BELOW * 0.6), (column, datum_y)))

    def write(text: str, x: float, middle: float) -> None:
        if text:
            items.append(Text("figures", (x + h / 2, middle), text, h, "centre", 90, "mono", source=source))

    for row, middle in zip(look.rows, middles, strict=True):
        says = ROWS[row]
        if says.at:
            for c, column in zip(told, columns, strict=True):
                write(says.at(c), column, middle)
        if says.between:
            for (a, b), (x, y) in zip(itertools.pairwise(told), itertools.pairwise(columns), strict=True):
                write(says.between(a, b), (x + y) / 2, middle)
    return items
