"""Columns of figures beneath a section: where they stand, what is known there, and how they are drawn."""

import itertools
from collections.abc import Callable, Sequence

import numpy as np

from saddle.drawings.display import MEDIUM, THIN, TIN, Item, Layer, Place, Polyline, Text
from saddle.drawings.figures import spread
from saddle.drawings.lettering import shortened
from saddle.drawings.sections.rows import Column
from saddle.drawings.sections.setting import About, Setting, Window, figured
from saddle.drawings.sections.shape import designs
from saddle.template.polygons import Vertex
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: From one column of figures to the next, in heights of lettering.
COLUMN = 1.5
#: Room of the lines that lead from a section to its figures, mm.
LEADS = 2.4


def level_at(lines: list[list[Vertex]], offset: float) -> float | None:
    """Level of some runs at an offset, None where there is none."""
    for line in lines:
        if line and line[0][0] - 1e-9 <= offset <= line[-1][0] + 1e-9:
            return float(np.interp(offset, [v[0] for v in line], [v[1] for v in line]))
    return None


def undersides(view: SectionView, offset: float) -> dict[str, float]:
    """Levels of the undersides of the courses that lie at an offset, by name; of several of one name the lowest."""
    found: dict[str, float] = {}
    for layer in view.layers:
        ring = layer.polygon
        for (o, z), (p, w) in zip(ring, [*ring[1:], ring[0]], strict=True):
            if min(o, p) <= offset <= max(o, p):
                level = min(z, w) if o == p else z + (offset - o) / (p - o) * (w - z)
                found[layer.name] = min(level, found.get(layer.name, level))
    return found


def figure_offsets(view: SectionView, setting: Setting, window: Window, most: int) -> list[float]:
    """Offsets that get a column of figures, at most so many: points, those asked for, catch points, old edges, and the ends shown, those
    named first before those named last."""
    wanted = [p.offset for p in figured(view, setting.look)]
    wanted += [o for o in setting.look.offsets if window.low < o < window.high]
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


def _told(view: SectionView, setting: Setting, about: About, offsets: Sequence[float]) -> list[Column]:
    """What is known at some offsets; what no row asks for is not looked up."""
    kinds = {row.kind for row in setting.look.rows}
    names = {p.offset: p.name for p in figured(view, setting.look)}
    hinge = view.hinge[0] if view.hinge else 0.0
    nowhere = np.full((len(offsets), 2), np.nan)
    plan = about.plan(np.array(offsets)) if about.plan and kinds & {"east", "north"} else nowhere
    out = []
    for o, (east, north) in zip(offsets, plan.tolist(), strict=True):
        existing, milled = level_at(view.existing, o), level_at(view.milled, o)
        # How deep is milled may not be known: then it is not known what the overlay lies on.
        under = None if view.milled_area is None else existing if milled is None else milled
        beneath = undersides(view, o) if kinds & {"formation", "underside"} else {}
        others = {name: level_at(runs, o) for name, runs in about.others.items()}
        design = level_at(designs(view), o)
        formation = min(beneath.values(), default=None)
        out.append(
            Column(
                o, names.get(o, ""), existing, milled, under, design, hinge, formation=formation, undersides=beneath,
                surfaces=others, east=east, north=north,
            )
        )  # fmt: skip
    return out


def draw_figures(
    view: SectionView, setting: Setting, w: Window, corner: Place, place: Callable[[Vertex], Place], source: str, about: About
) -> list[Item]:
    """Rows of figures with their upper left corner at `corner`, and lines to them from the section."""
    x0, datum_y = corner
    lines, rows = setting.lines, setting.rows
    tallest = max(row.laid.lettering for row in rows)
    titles = setting.titles
    left = x0 + titles
    right = left + (w.high - w.low) * 1000 / setting.look.scale
    items: list[Item] = []
    offsets = figure_offsets(view, setting, w, 1 + int((right - left - 2 * tallest) / (tallest * COLUMN)))
    true_x = [place((o, w.datum))[0] for o in offsets]
    columns = spread(true_x, tallest * COLUMN, left + tallest, right - tallest)

    def line(layer: Layer, points: tuple[Place, ...], width: float = THIN) -> None:
        items.append(Polyline(layer, points, width, TIN, source=source))

    for below in lines:
        line("figures", ((x0, datum_y - below), (right, datum_y - below)), THIN if below else MEDIUM)
    # Where there is neither ground nor design no level is shown, so there is no datum.
    datum = f"Datum {w.datum:.2f}" if any(view.existing) or view.design else "no ground here"
    items.append(Text("figures", (x0 + 1, datum_y + 1.5), datum, setting.text_height, source=source))
    told = _told(view, setting, about, offsets)
    for c, x, column in zip(told, true_x, columns, strict=True):
        levels = [z for z in (c.existing, c.design) if z is not None]
        if levels:
            line("grid", ((x, place((c.offset, max(levels)))[1]), (x, datum_y + LEADS), (column, datum_y)))
    for row, (upper, lower) in zip(rows, itertools.pairwise(lines), strict=True):
        h, middle = row.laid.lettering, datum_y - (upper + lower) / 2
        title = shortened(row.laid.title, titles - 2.0, h)
        items.append(Text("figures", (x0 + 1, middle - h / 2), title, h, source=source))
        found = [(row.at(c), column) for c, column in zip(told, columns, strict=True)]
        found += [
            (row.between(a, b), (x + y) / 2)
            for (a, b), (x, y) in zip(itertools.pairwise(told), itertools.pairwise(columns), strict=True)
        ]
        items += [Text("figures", (x + h / 2, middle), text, h, "centre", 90, "mono", source=source) for text, x in found if text]
    return items
