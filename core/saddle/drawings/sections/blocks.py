"""One section as a block of a sheet: heading, drawing, and rows of figures beneath."""

import itertools
from collections.abc import Callable

import numpy as np
import shapely

from saddle.chainage import format_chainage
from saddle.drawings.dimensions import chain
from saddle.drawings.display import INK, MEDIUM, PLUM, SADDLE, THIN, TIN, Item, Place, Polygon, Polyline, Room, Text
from saddle.drawings.lettering import shortened, width_of
from saddle.drawings.placer import Name, Placer, Stroke
from saddle.drawings.sections.areas import area_rows, draw_areas, room_for
from saddle.drawings.sections.columns import draw_figures, level_at
from saddle.drawings.sections.setting import About, Setting, Window, figured, named, window_of
from saddle.drawings.sections.shape import designs, draw_shape
from saddle.drawings.spec import SectionSheets
from saddle.figures import written
from saddle.template.polygons import Vertex
from saddle.template.view import LayerView
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: Grounds of the hatching of cut and fill.
CUT, FILL = "#F1E3DF", "#E3EBDF"
#: Heights of its parts, mm.
HEADING, ROOM_ABOVE, ROOM_BELOW = 7.0, 7.5, 3.5
#: Least room over the ground where nothing is named, mm.
CLEAR = 1.5
#: Room of the widths over a section, besides their lettering, mm.
WIDTHS = 2.5
#: Room of the depths over a section, mm.
DEPTHS = 4.5
#: A boundary, drawn and left out, mm.
BOUNDARY = (3.0, 1.0, 0.5, 1.0)
#: Where letters of courses stand over a strip: so much of its width from its left.
ACROSS = 0.3
#: Height of the names of points, mm.
NAMES = 1.8
#: Room of the words about the datum, mm.
DATUM_ROOM = 5.0


def block_size(view: SectionView, setting: Setting, window: Window | None = None) -> tuple[float, float]:
    """Width and height of the block, mm. window: what it shows, as usual where none is given."""
    look = setting.look
    w = window or window_of(view, look)
    ground, names = ((z - w.datum) * 1000 / look.vertical_scale for z in (w.top, w.crest))
    drawing = max(ground + CLEAR, names + ROOM_ABOVE) + _above(setting)
    beside = room_for(area_rows(view)) + DATUM_ROOM if look.areas else 0.0
    return (
        setting.titles + (w.high - w.low) * 1000 / look.scale,
        HEADING + max(drawing + ROOM_BELOW, beside) + setting.lines[-1],
    )


def _above(setting: Setting) -> float:
    """Room over the section and its names, mm."""
    look = setting.look
    return (WIDTHS + setting.text_height if look.widths else 0.0) + (DEPTHS if look.depths else 0.0)


def draw_block(
    view: SectionView, setting: Setting, corner: Place, about: About | None = None, window: Window | None = None
) -> tuple[list[Item], list[str]]:
    """Primitives of a section whose block has its upper left corner at `corner`, mm, and the names for which there was no room. window:
    what it shows, as usual where none is given."""
    about = about or About()
    look = setting.look
    w = window or window_of(view, look)
    source = f"section {format_chainage(view.chainage)} {view.side}"
    x0, top = corner
    left = x0 + setting.titles
    width, height = block_size(view, setting, w)
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
    shape = draw_shape(view, setting.materials, place, (w.low, w.high), source, look.surfaces, about.others)
    items += shape
    if look.hinge and view.hinge is not None:
        x, y = place(view.hinge)
        low = place((view.hinge[0], min((z for layer in view.layers for _, z in layer.polygon), default=view.hinge[1])))[1] - 1.5
        items.append(Polyline("marks", ((x, low), (x, y)), THIN, SADDLE, (3.0, 0.8, 0.8, 0.8), source=f"{source}, hinge"))
    ceiling = top - HEADING + 1.0
    if look.boundary:
        items += _boundaries(view, w, place, (datum_y + ROOM_BELOW, ceiling - 1.0))
    if look.widths:
        ceiling -= WIDTHS + setting.text_height
        _widths(view, setting, place, ceiling, items)
    drawn = [Stroke(*pair) for line in shape if isinstance(line, Polyline) for pair in itertools.pairwise(line.points)]
    placer = Placer(Room(left, datum_y + ROOM_BELOW, x0 + width, ceiling), source, drawn)
    for name in [*(_depths(view, setting, place) if look.depths else []), *_names(view, setting, place)]:
        items += placer.place(name)
    items += _structures(view, place, placer, w)
    if look.remarks:
        for name in _remarks(view, w, place):
            items += placer.place(name)
    items += _heading(view, look, (x0, top - HEADING + 3.0), width, placer.left_out, source)
    items += draw_figures(view, setting, w, (x0, datum_y), place, source, about)
    if look.areas:
        items += draw_areas(area_rows(view), (x0, top - HEADING), setting.titles, source)
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
    out += _letters(view, setting, place)
    labelled = sorted(named(view, setting.look), key=lambda p: abs(p.offset - hinge[0]))
    places = [place((p.offset, p.level)) for p in labelled]
    for p, at in zip(labelled, places, strict=True):
        # Of names that would stand in each other's way each leans away from the others.
        near = width_of(p.name, NAMES) + 1.0
        lean = sum(int(np.sign(at[0] - x)) for x, _ in places if 0.1 < abs(x - at[0]) < near)
        out.append(Name(p.name, at, NAMES, 1.6 + h * 0.4, TIN, lean=int(np.sign(lean))))
    return out


def _letters(view: SectionView, setting: Setting, place: Callable[[Vertex], Place]) -> list[Name]:
    """The letters of the courses of every strip and kerb from the top, over it: what lies over the old pavement and what is new apart. In
    its middle the crossfall stands."""
    if not setting.letters:
        return []
    stacks: dict[tuple[str, str, str], list[LayerView]] = {}
    for layer in view.layers:
        stacks.setdefault((layer.side, layer.element, layer.construction), []).append(layer)
    out = []
    for layers in stacks.values():
        ends = [o for o, _ in layers[0].polygon]
        at = min(ends) + ACROSS * (max(ends) - min(ends))
        top = level_at(designs(view), at)
        if top is None:
            top = max(z for _, z in layers[0].polygon)
        words = " ".join(dict.fromkeys(setting.letters[layer.name, layer.material] for layer in layers))
        out.append(Name(words, place((at, top)), NAMES, 1.2, INK))
    return out


def _boundaries(view: SectionView, w: Window, place: Callable[[Vertex], Place], reach: tuple[float, float]) -> list[Item]:
    """Upright lines where the work must end, between two heights on the sheet, mm."""
    items: list[Item] = []
    for at in view.boundaries:
        if w.low <= at <= w.high:
            x = place((at, w.datum))[0]
            source = f"boundary {format_chainage(view.chainage)}"
            items.append(Polyline("marks", ((x, reach[0]), (x, reach[1])), MEDIUM, PLUM, BOUNDARY, source=source))
    return items


def _widths(view: SectionView, setting: Setting, place: Callable[[Vertex], Place], y: float, items: list[Item]) -> None:
    """Widths from template point to template point."""
    points = [p for p in figured(view, setting.look) if p.kind == "point"]
    points = [p for k, p in enumerate(points) if k == 0 or p.offset - points[k - 1].offset > 0.005]
    if len(points) < 2:
        return
    x = [place((p.offset, p.level))[0] for p in points]
    widths = [b.offset - a.offset for a, b in itertools.pairwise(points)]
    chain(widths, list(itertools.pairwise(x)), y + 1.0, setting.text_height, items, "leave")


def _depths(view: SectionView, setting: Setting, place: Callable[[Vertex], Place]) -> list[Name]:
    """Where the overlay is least and greatest, and how deep, mm."""
    d = view.depth
    if d is None:
        return []
    out = []
    for word, depth, offset in (("least", d.least, d.least_offset), ("most", d.greatest, d.greatest_offset)):
        level = level_at(designs(view), offset)
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
        levels = [z for z in (level_at(view.existing, offset), level_at(designs(view), offset)) if z is not None]
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
        ground = level_at(view.existing, s.offset)
        at = max(tops) if tops else ground
        if at is None:
            placer.left_out.append(s.name)
            continue
        items += placer.place(Name(", ".join([s.name, *known]), place((s.offset, at)), NAMES, 1.2, PLUM))
    return items
