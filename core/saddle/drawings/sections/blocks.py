"""One section as a block of a sheet: heading, drawing, and rows of figures beneath."""

import itertools
from collections.abc import Callable

from saddle.chainage import format_chainage
from saddle.drawings.dimensions import chain
from saddle.drawings.display import MEDIUM, PLUM, SADDLE, THIN, TIN, Item, Place, Polygon, Polyline, Room, Text
from saddle.drawings.lettering import shortened, width_of
from saddle.drawings.lost import FAULT, LOST, WORDS
from saddle.drawings.placer import Placer
from saddle.drawings.sections.areas import area_rows, draw_areas, room_for
from saddle.drawings.sections.columns import draw_figures
from saddle.drawings.sections.names import strokes, window_for, write_over
from saddle.drawings.sections.setting import About, Setting, Window, figured
from saddle.drawings.sections.shape import draw_shape
from saddle.drawings.spec import SectionSheets
from saddle.template.polygons import Vertex
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: Grounds of the hatching of cut and fill.
CUT, FILL = "#F1E3DF", "#E3EBDF"
#: Heights of its parts, mm.
HEADING, ROOM_BELOW = 7.0, 3.5
#: Least room over the ground where nothing is named, mm.
CLEAR = 1.5
#: Room of the widths over a section, besides their lettering, mm.
WIDTHS = 2.5
#: A boundary, drawn and left out, mm.
BOUNDARY = (3.0, 1.0, 0.5, 1.0)
#: Room of the words about the datum, mm.
DATUM_ROOM = 5.0


def block_size(view: SectionView, setting: Setting, window: Window | None = None) -> tuple[float, float]:
    """Width and height of the block, mm. window: what it shows, as usual where none is given."""
    look = setting.look
    w = window or window_for(view, setting)
    drawing = max((w.top - w.datum) * 1000 / look.vertical_scale + CLEAR, w.names) + _above(setting)
    beside = room_for(area_rows(view)) + DATUM_ROOM if look.areas else 0.0
    return (
        setting.titles + (w.high - w.low) * 1000 / look.scale,
        HEADING + max(drawing + ROOM_BELOW, beside) + setting.lines[-1],
    )


def _above(setting: Setting) -> float:
    """Room over the section and its names, mm."""
    return WIDTHS + setting.text_height if setting.look.widths else 0.0


def draw_block(
    view: SectionView, setting: Setting, corner: Place, about: About | None = None, window: Window | None = None
) -> tuple[list[Item], list[str]]:
    """Primitives of a section whose block has its upper left corner at `corner`, mm, and the names for which there was no room. window:
    what it shows, as usual where none is given."""
    about = about or About()
    look = setting.look
    w = window or window_for(view, setting)
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
    if view.missing is not None:
        # Hatched, so that nobody reads it as nothing to do.
        (a, b), (c, d) = (w.low, w.datum), (w.high, w.top)
        items.append(
            Polygon("earth", tuple(place(v) for v in ((a, b), (c, b), (c, d), (a, d))), LOST, "rising", 0.0, source=source)
        )
    items += draw_shape(view, setting.materials, place, (w.low, w.high), source, look.surfaces, about.others)
    if look.hinge and view.hinge is not None:
        x, y = place(view.hinge)
        low = place((view.hinge[0], min((z for layer in view.layers for _, z in layer.polygon), default=view.hinge[1])))[1] - 1.5
        items.append(Polyline("marks", ((x, low), (x, y)), THIN, SADDLE, (3.0, 0.8, 0.8, 0.8), source=f"{source}, hinge"))
    ceiling = top - HEADING + 1.0  # clear of the heading's lettering
    if look.boundary:
        items += _boundaries(view, w, place, (datum_y + ROOM_BELOW, ceiling - 1.0))
    if look.widths:
        ceiling -= WIDTHS + setting.text_height
        _widths(view, setting, place, ceiling, items)
    placer = Placer(Room(left, datum_y + ROOM_BELOW, x0 + width, ceiling), source, strokes(view, w, place))
    items += write_over(view, setting, w, place, placer)
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
    if view.missing is not None:
        about = f"{WORDS}: {view.missing} · {about}"
    return [
        Text("headings", (x, y), chainage, 3.5, font="bold", source=source),
        Text(
            "headings", (x + begin, y), shortened(about, width - begin, 1.8), 1.8, colour=FAULT if view.missing else TIN, source=source
        ),
    ]  # fmt: skip


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
