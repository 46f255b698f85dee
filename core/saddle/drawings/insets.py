"""A section set into a sheet, at its own scale, which is written beside it."""

import math

import numpy as np

from saddle.chainage import format_chainage
from saddle.drawings.body import Body, Task
from saddle.drawings.display import THIN, TIN, Item, Place, Polygon, Polyline, Room, Text
from saddle.drawings.lettering import shortened
from saddle.drawings.sections.shape import draw_shape
from saddle.drawings.spec import Drawing, Inset
from saddle.errors import SaddleError
from saddle.template.polygons import Vertex
from saddle.views.section import section_view

#: Room within the border, and for the words at its foot, mm; ground shown beyond the design, m.
INNER, FOOT, BEYOND = 3.0, 6.5, 1.0


def refuse_unknown_sheets(drawing: Drawing, sheets: int) -> None:
    """Raises SaddleError for an inset on a sheet that there is not."""
    for number, inset in enumerate(drawing.insets, start=1):
        if inset.sheet > sheets:
            raise SaddleError(
                f"inset {number} is on sheet {inset.sheet}, but the drawing has {sheets}", "drawing", "give it another sheet"
            )


def set_in(task: Task, body: Body, sheet: int) -> None:
    """The insets of a sheet, by its number from 1. Raises SaddleError for one that does not go in."""
    for number, inset in enumerate(task.drawing.insets, start=1):
        if inset.sheet == sheet:
            body.items += _drawn(task, inset, number)


def _drawn(task: Task, inset: Inset, number: int) -> list[Item]:
    model, room = task.model, task.room
    if inset.x + inset.width > room.width + 1e-6 or inset.y + inset.height > room.height + 1e-6:
        raise SaddleError(
            f"inset {number} reaches to {inset.x + inset.width:.0f} x {inset.y + inset.height:.0f} mm, "
            f"but a sheet of {task.style.paper} has {room.width:.0f} x {room.height:.0f} mm",
            "drawing", "move it, or make it smaller",
        )  # fmt: skip
    view = section_view(model, int(np.abs(model.chainage - inset.chainage).argmin()))
    vertices = view.design or [v for run in view.existing for v in run if abs(v[0]) <= 8]
    if not vertices:
        raise SaddleError(
            f"inset {number}: there is nothing to show at {format_chainage(view.shown)}", "drawing", "choose another chainage"
        )
    low, high = min(o for o, _ in vertices) - BEYOND, max(o for o, _ in vertices) + BEYOND
    levels = [z for _, z in vertices] + [z for layer in view.layers for _, z in layer.polygon]
    levels += [z for run in view.existing for o, z in run if low <= o <= high]
    wide, tall = inset.width - 2 * INNER, inset.height - 2 * INNER - FOOT
    fits = max((high - low) * 1000 / wide, (max(levels) - min(levels)) * 1000 / tall)
    if inset.scale is not None and inset.scale < fits - 1e-9:
        raise SaddleError(
            f"inset {number} shows a section that goes in at 1:{math.ceil(fits)}, not at 1:{inset.scale}",
            "drawing", "make it larger, choose a smaller scale (a larger number), or have it fitted",
        )  # fmt: skip
    scale = float(inset.scale) if inset.scale is not None else fits
    left, bottom = room.left + inset.x, room.bottom + inset.y
    cx, cy = left + inset.width / 2, bottom + FOOT + INNER + tall / 2

    def place(v: Vertex) -> Place:
        return cx + (v[0] - (low + high) / 2) * 1000 / scale, cy + (v[1] - (min(levels) + max(levels)) / 2) * 1000 / scale

    box = Room(left, bottom, left + inset.width, bottom + inset.height)
    source = f"inset {number}"
    items: list[Item] = []
    if inset.opaque:
        items.append(Polygon("marks", box.corners, "#FFFFFF", "plain", 0.0, source=source))
    items += draw_shape(view, model.inputs.materials, place, (low, high), source)
    if inset.border:
        items.append(Polyline("marks", box.rim, THIN, source=source))
    ratio = f"1:{inset.scale}" if inset.scale is not None else f"not to the sheet's scale, 1:{scale:.3g}"
    words = shortened(f"Section {format_chainage(view.shown)}, {ratio}", inset.width - 2 * INNER, 1.8)
    items.append(Text("headings", (left + INNER, bottom + 2.0), words, 1.8, colour=TIN, source=source))
    return items
