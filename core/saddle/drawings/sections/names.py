"""What is written over a section: crossfalls, points, depths, letters of courses, structures and remarks, and how much room they need."""

import itertools
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import shapely

from saddle.drawings.display import INK, MEDIUM, PLUM, SADDLE, TIN, Item, Place, Polyline, Room
from saddle.drawings.lettering import width_of
from saddle.drawings.placer import Name, Placer, Stroke
from saddle.drawings.sections.columns import level_at
from saddle.drawings.sections.setting import Setting, Window, named, window_of
from saddle.drawings.sections.shape import clipped, designs
from saddle.figures import written
from saddle.template.polygons import Vertex
from saddle.template.view import LayerView
from saddle.views.section import SectionView

#: Where letters of courses stand over a strip: so much of its width from its left.
ACROSS = 0.3
#: Height of the names of points, the most that names rise over a section, mm.
NAMES, MOST = 1.8, 18.0


def window_for(view: SectionView, setting: Setting) -> Window:
    """What a block shows, with the room that its names need."""
    look, w = setting.look, window_of(view, setting.look)

    def place(vertex: Vertex) -> Place:
        return (vertex[0] - w.low) * 1000 / look.scale, (vertex[1] - w.datum) * 1000 / look.vertical_scale

    x, y = place((w.high, w.top))
    placer = Placer(Room(0.0, 0.0, x, y + MOST), "", strokes(view, w, place))
    write_over(view, setting, w, place, placer)
    return replace(w, names=max((box.top for box, _ in placer.taken), default=0.0))


def strokes(view: SectionView, w: Window, place: Callable[[Vertex], Place]) -> list[Stroke]:
    """The lines of a section that names keep off."""
    runs = [*designs(view), *(clipped(run, w.low, w.high) for run in view.existing)]
    return [Stroke(*pair) for run in runs for pair in itertools.pairwise([place(v) for v in run])]


def write_over(view: SectionView, setting: Setting, w: Window, place: Callable[[Vertex], Place], placer: Placer) -> list[Item]:
    """The names of a section and the structures that they belong to, the most needed first. place: where a vertex lies, mm."""
    look = setting.look
    items: list[Item] = []
    for name in [*(_depths(view, setting, place) if look.depths else []), *_names(view, setting, place)]:
        items += placer.place(name)
    items += _structures(view, place, placer, w)
    for name in _remarks(view, w, place) if look.remarks else []:
        items += placer.place(name)
    return items


def _fall(pct: float, how: str) -> str:
    """A crossfall in percent or as one in so many; level where it is less than 1 in 1000."""
    if how == "percent":
        return f"{pct:+.1f} %"
    return "level" if abs(pct) < 0.1 else f"{'-' if pct < 0 else '+'}1 in {100 / abs(pct):.0f}"


def _names(view: SectionView, setting: Setting, place: Callable[[Vertex], Place]) -> list[Name]:
    """What is written over a section, the most needed first: its innermost point, crossfalls beside the hinge, letters, its points
    outward."""
    if view.hinge is None:
        return []
    hinge, h = view.hinge, setting.text_height
    falls: list[Name] = []
    for pct, toward in ((view.left_pct, -1), (view.right_pct, 1)):
        edge = [p for p in view.points if (p.offset - hinge[0]) * toward > 0]
        if pct is None or not edge:
            continue
        outer = min(edge, key=lambda p: abs(p.offset - hinge[0]))
        middle = place(((hinge[0] + outer.offset) / 2, (hinge[1] + outer.level) / 2))
        falls.append(Name(_fall(pct, setting.look.falls), middle, h, 1.2, SADDLE, "mono"))
    labelled = sorted(named(view, setting.look), key=lambda p: abs(p.offset - hinge[0]))
    places = [place((p.offset, p.level)) for p in labelled]
    points = []
    for p, at in zip(labelled, places, strict=True):
        # Of names that would stand in each other's way each leans away from the others.
        near = width_of(p.name, NAMES) + 1.0
        lean = sum(int(np.sign(at[0] - x)) for x, _ in places if 0.1 < abs(x - at[0]) < near)
        points.append(Name(p.name, at, NAMES, 1.6 + h * 0.4, TIN, lean=int(np.sign(lean))))
    return [*points[:1], *falls, *_letters(view, setting, place), *points[1:]]


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
