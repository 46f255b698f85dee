"""The road from the side: levels above a datum, what lies beneath, rows of figures, curvature and crossfalls, from sheet to sheet."""

import itertools
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from saddle.alignment.equations import shown
from saddle.chainage import format_chainage
from saddle.drawings.body import Body, Task, match_line
from saddle.drawings.display import (
    GRID,
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
    Polygon,
    Polyline,
    Room,
    Text,
)
from saddle.drawings.figures import level_text, spread
from saddle.drawings.legend import Meaning
from saddle.drawings.lettering import shortened
from saddle.drawings.long.bands import BAND, CROSSFALLS, draw_bands
from saddle.drawings.long.lines import runs_between
from saddle.drawings.long.profile import governing_profiles, profile_names
from saddle.drawings.long.rows import RowAlong, rows_along
from saddle.drawings.long.strip import STRIP, draw_strip
from saddle.drawings.lost import FAULT, LOST, WORDS
from saddle.drawings.placer import Name, Placer, Stroke
from saddle.drawings.spec import LongSheets
from saddle.drawings.title import scale_words
from saddle.errors import SaddleError
from saddle.geometry.polylines import Bools, Floats
from saddle.road.beneath import Beneath
from saddle.road.model import RoadModel
from saddle.road.unknown import Missing, missing_stretches
from saddle.views.long_section import RoadAlong, long_section, others_along

#: Width of the column with the titles of rows, room above and below the levels, least height of the levels, mm.
TITLES, ABOVE, BELOW, LEAST = 30.0, 14.0, 6.0, 30.0
#: From one column of figures to the next, in heights of lettering.
COLUMN = 1.5


@dataclass(frozen=True, slots=True)
class Stretch:
    """A part of a sheet with one datum: chainages and the level of its lowest line, m."""

    low: float
    high: float
    datum: float


@dataclass(frozen=True, slots=True, eq=False)
class Along:
    """What is drawn of a road from the side. existing, design: levels (n,); inside: the sections within the drawing's range; rows: of
    figures; beneath: pits and pipes; lost: stretches without a design; others: the other roads beside it."""

    model: RoadModel
    look: LongSheets
    chainage: Floats
    existing: Floats
    design: Floats
    inside: Bools
    rows: list[RowAlong]
    beneath: list[Beneath]
    lost: list[Missing]
    others: list[RoadAlong]


def draw_long(task: Task) -> list[Body]:
    """The whole range, on as many sheets as its length needs."""
    assert isinstance(task.style.sheets, LongSheets)
    model, look, room = task.model, task.style.sheets, task.room
    found = long_section(model, {})
    low, high = task.reach()
    inside = (found.chainage >= low - 1e-6) & (found.chainage <= high + 1e-6)
    rows = rows_along(model, look.rows, inside, task.style.text_height)
    beneath = found.structures if look.structures else []
    others = others_along(model, task.of.others)
    along = Along(
        model, look, found.chainage, found.existing, found.design, inside, rows, beneath, missing_stretches(model), others
    )
    length = (room.width - TITLES) * look.scale / 1000
    if length > look.interval:
        length = math.floor(length / look.interval + 1e-9) * look.interval  # sheets meet where figures stand
    count = max(1, math.ceil((high - low) / length - 1e-9))
    ends = [low + min(k * length, high - low) for k in range(count + 1)]
    bodies = []
    for k, (start, end) in enumerate(itertools.pairwise(ends)):
        bodies.append(_sheet(along, task, room, start, end, (k > 0, k < count - 1)))
        task.progress((k + 1) / count)
    return bodies


def _sheet(along: Along, task: Task, room: Room, low: float, high: float, matched: tuple[bool, bool]) -> Body:
    look, h = along.look, task.style.text_height
    bands = 3 * BAND if look.bands else 0.0
    base = room.bottom + bands + sum(row.laid.height for row in along.rows)  # the upper line of the figures
    top = room.top - (STRIP if look.plan else 0.0)
    if top - base < LEAST:
        raise SaddleError(
            f"the rows of figures leave {top - base:.0f} mm for the levels of the long section, which need {LEAST:.0f}",
            "drawing style", "leave out some rows, or choose larger paper or smaller lettering",
        )  # fmt: skip
    left = room.left + TITLES
    right = left + (high - low) * 1000 / look.scale
    body = Body(
        begin=_called(along.model, low), end=_called(along.model, high), scale=scale_words(look.scale, look.vertical_scale)
    )
    items = body.items
    capacity = (top - base - ABOVE - BELOW) * look.vertical_scale / 1000
    on = along.inside & (along.chainage >= low - 1e-6) & (along.chainage <= high + 1e-6)

    def x_of(c: float) -> float:
        return left + (c - low) * 1000 / look.scale

    lost = _lost(along.lost, (low, high), x_of, (base, top), h)
    items += lost
    for stretch in _stretches(along, on, low, high, capacity):
        _levels(along, stretch, (x_of, base, top), body, task)
    _figures(along, on, (room.left, left, right, base), x_of, items)
    if look.plan:
        draw_strip(along.model, low, high, x_of, (room.left, top), look.scale, h, items)
    if look.bands:
        draw_bands(along.model, low, high, x_of, (room.left, room.bottom), h, items)
    for edge, there in ((left, matched[0]), (right, matched[1])):
        if there:
            items.append(match_line(((edge, room.bottom), (edge, room.top))))
    body.meanings[:0] = [
        Meaning("Existing at the hinge", TIN, width=MEDIUM),
        Meaning("Finished at the hinge", INK, width=THICK),
    ]
    if look.bands:
        body.meanings += [Meaning(f"Crossfall {side}", SADDLE, width=MEDIUM, dashes=d) for side, d in CROSSFALLS]
    if lost:
        body.meanings.append(Meaning("Design missing", LOST, "rising"))
    if along.beneath:
        body.meanings.append(Meaning("Pipe, pit", PLUM, width=MEDIUM))
    return body


def _lost(
    stretches: list[Missing],
    reach: tuple[float, float],
    x_of: Callable[[float], float],
    heights: tuple[float, float],
    lettering: float,
) -> list[Item]:
    """Stretches without a design, hatched from the figures up to the names, each with why above it as far as there is room."""
    base, top = heights
    out: list[Item] = []
    for lost in stretches:
        low, high = max(lost.low, reach[0]), min(lost.high, reach[1])
        if high - low < 1e-6:
            continue
        x0, x1 = x_of(low), x_of(high)
        corners = ((x0, base), (x1, base), (x1, top - ABOVE), (x0, top - ABOVE))
        out.append(Polygon("grid", corners, LOST, "rising", 0.0, FAULT, source="design missing"))
        words = shortened(f"{WORDS}: {lost.why}", max(x1 - x0 - 2.0, 0.0), lettering)
        if words.strip(" …"):
            out.append(Text("marks", (x0, top - ABOVE + 1.0), words, lettering, colour=FAULT, source="design missing"))
    return out


def _called(model: RoadModel, chainage: float) -> float:
    return float(shown(np.array([chainage]), model.inputs.alignment.equations)[0])


def _stretches(along: Along, on: Bools, low: float, high: float, capacity: float) -> Iterator[Stretch]:
    """The sheet divided where levels would leave the room that they have: each part with a datum of its own. A part ends at the last
    section that still goes in, from which the next one begins."""
    begin, held = low, (math.inf, -math.inf)
    before: tuple[float, tuple[float, float]] | None = None
    for i in np.flatnonzero(on).tolist():
        levels = [z for z in (along.existing[i], along.design[i]) if math.isfinite(z)]
        if not levels:
            continue
        here = float(along.chainage[i]), (min(levels), max(levels))
        wider = min(held[0], here[1][0]), max(held[1], here[1][1])
        if before is not None and wider[1] - wider[0] > capacity and before[0] > begin:
            yield Stretch(begin, before[0], _datum(*held, capacity))
            begin = before[0]
            wider = min(before[1][0], here[1][0]), max(before[1][1], here[1][1])
        held, before = wider, here
    yield Stretch(begin, high, _datum(*held, capacity))


def _datum(least: float, most: float, capacity: float) -> float:
    """A whole metre beneath the levels, or as much of one as there is room for; of the room that is left a third lies beneath them."""
    if not math.isfinite(least):
        return 0.0
    for step in (1.0, 0.5, 0.1, 0.01):
        datum = math.floor(least / step) * step
        if most - datum <= capacity:
            return round(datum - math.floor((capacity - (most - datum)) / 3 / step) * step, 2)
    return least


Frame = tuple[Callable[[float], float], float, float]


def _levels(along: Along, s: Stretch, frame: Frame, body: Body, task: Task) -> None:
    """Grid, lines, structures and names of one stretch."""
    x_of, base, top = frame
    look, h, items = along.look, task.style.text_height, body.items
    x0, x1 = x_of(s.low), x_of(s.high)

    def y_of(z: float) -> float:
        return base + BELOW + (z - s.datum) * 1000 / look.vertical_scale

    ceiling = s.datum + (top - base - ABOVE - BELOW) * look.vertical_scale / 1000
    step = next(m for m in (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0) if m * 1000 / look.vertical_scale >= 8.0)
    level = math.ceil(s.datum / step - 1e-9) * step
    while level <= ceiling + 1e-9:
        items.append(Polyline("grid", ((x0, y_of(level)), (x1, y_of(level))), THIN, GRID, source="grid"))
        items.append(
            Text(
                "grid",
                (x0 + 0.8, y_of(level) + 0.5),
                f"{level:.2f}".removesuffix(".00"),
                h,
                colour=TIN,
                font="mono",
                source="grid",
            )
        )
        level += step
    if s.low > along.chainage[along.inside][0] + 1e-6:
        items.append(Polyline("grid", ((x0, base), (x0, top - ABOVE / 2)), THIN, TIN, source="grid"))
    lines: tuple[tuple[Floats, float, str, Layer], ...] = (
        (along.existing, MEDIUM, TIN, "existing"), (along.design, THICK, INK, "design"),
    )  # fmt: skip
    for levels, width, colour, layer in lines:
        for run in runs_between(along.chainage, levels, s.low, s.high):
            # Where one step between two sections is higher than the paper, the line is cut where it leaves it.
            room = shapely.box(x0 - 1, base, x1 + 1, top)
            for part in shapely.get_parts(shapely.LineString([(x_of(c), y_of(z)) for c, z in run]).intersection(room)):
                points = tuple((x, y) for x, y in part.coords)
                if len(points) > 1:
                    items.append(Polyline(layer, points, width, colour, source="long section"))
    names = _others(along, s, x_of, y_of, Room(x0, base, x1, top - ABOVE), body, h)
    placer = Placer(
        Room(x0 + 12.0, base + 1.0, x1 - 0.5, top),
        "long section",
        leaders=_lines_of(items, x0, x1),
    )
    for name in [*_names(along, s, x_of, y_of, (base + 1.0, top), h, body), *names]:
        items += placer.place(name)
    body.left_out += placer.left_out


def _others(
    along: Along, s: Stretch, x_of: Callable[[float], float], y_of: Callable[[float], float], room: Room, body: Body, h: float
) -> list[Name]:
    """The hinges of other roads as far as they lie in the room, and their names."""
    names = []
    box = shapely.box(room.left, room.bottom, room.right, room.top)
    for road in along.others:
        lines = [shapely.LineString([(x_of(c), y_of(z)) for c, z in run.tolist()]).intersection(box) for run in road.runs]
        drawn = [p for line in lines for p in shapely.get_parts(line) if p.geom_type == "LineString" and p.length > 0]
        for part in drawn:
            body.items.append(Polyline("surfaces", tuple(part.coords), THIN, TIN, OTHER_ROAD, source=road.name))
        if drawn:
            longest = max(drawn, key=lambda part: float(part.length))
            (at,) = longest.interpolate(0.5, normalized=True).coords
            names.append(Name(road.name, (at[0], at[1]), h, 1.0, TIN))
            meaning = Meaning("Hinge of another road", TIN, width=THIN, dashes=OTHER_ROAD)
            body.meanings += [] if meaning in body.meanings else [meaning]
    return names


def _lines_of(items: list[Item], x0: float, x1: float) -> list[Stroke]:
    """The drawn lines of levels between two places, which no name may cover."""
    return [
        Stroke(*pair)
        for item in items
        if isinstance(item, Polyline) and item.layer in ("existing", "design", "surfaces")
        for pair in itertools.pairwise(item.points)
        if pair[1][0] > x0 and pair[0][0] < x1
    ]


def _names(
    along: Along, s: Stretch, x_of: Callable[[float], float], y_of: Callable[[float], float], reach: tuple[float, float], h: float,
    body: Body,
) -> list[Name]:  # fmt: skip
    """What is written over the levels, the most needed first: of profiles, of structures, remarks. reach: places upward between which
    there is room, mm: a structure that lies beyond is told as left out."""
    out: list[Name] = []
    items = body.items
    for profile in governing_profiles(along.model):
        out += profile_names(profile, s.low, s.high, x_of, y_of, reach, h, items)
    for b in along.beneath:
        known = [z for z in (b.bottom, b.top) if math.isfinite(z)]
        if not s.low <= b.chainage <= s.high:
            continue
        if not known or not all(reach[0] <= y_of(z) <= reach[1] for z in known):
            body.left_out.append(f"{b.name}, {'beyond the levels shown' if known else 'no level known'}")
            continue
        x, low, high = x_of(b.chainage), y_of(min(known)), y_of(max(known))
        if b.kind == "pipe" and high > low:
            across = max((b.top - b.bottom) * 1000 / along.look.scale, 0.8)
            items.append(_ellipse(x, (low + high) / 2, across / 2, max((high - low) / 2, 0.4)))
        elif high > low:
            items.append(Polyline("structures", Room(x - 0.6, low, x + 0.6, high).rim, MEDIUM, PLUM, source=b.name))
        invert = f", invert {level_text(b.bottom)}" if math.isfinite(b.bottom) else ""
        out.append(Name(f"{b.name}{invert}", (x, high), h, 1.5, PLUM))
    for remark in along.model.inputs.remarks.remarks:
        if s.low <= remark.from_chainage <= s.high:
            level = float(np.interp(remark.from_chainage, along.chainage, along.existing))
            at = y_of(level) if math.isfinite(level) else reach[0]
            out.append(Name(remark.text, (x_of(remark.from_chainage), at), h, 2.0, SADDLE))
    return out


def _ellipse(x: float, y: float, a: float, b: float) -> Polyline:
    turn = np.linspace(0, 2 * np.pi, 25)
    points = tuple(zip((x + a * np.cos(turn)).tolist(), (y + b * np.sin(turn)).tolist(), strict=True))
    return Polyline("structures", points, MEDIUM, PLUM, source="pipe")


def _columns(along: Along, on: Bools, most: int) -> list[int]:
    """Rows of the sections that get a column of figures: the nearest to every interval, and at most so many."""
    rows = np.flatnonzero(on)
    if not rows.size:
        return []
    step = along.look.interval
    while (along.chainage[rows[-1]] - along.chainage[rows[0]]) / step + 2 > most:
        step *= 2
    first, last = along.chainage[rows[0]], along.chainage[rows[-1]]
    wanted = np.unique(np.r_[first, np.arange(math.ceil(first / step) * step, last, step), last])
    nearest = rows[np.abs(along.chainage[rows][None, :] - wanted[:, None]).argmin(axis=1)]
    # Of two sections at one chainage the one after the change; each chainage once.
    out: dict[float, int] = {}
    for i in nearest.tolist():
        same = rows[np.abs(along.chainage[rows] - along.chainage[i]) < 1e-6]
        out[round(float(along.chainage[i]), 3)] = int(same[-1])
    return [out[c] for c in sorted(out)]


def _figures(
    along: Along, on: Bools, frame: tuple[float, float, float, float], x_of: Callable[[float], float], items: list[Item]
) -> None:
    """Rows of figures beneath the levels, a column for sections at the interval."""
    x0, left, right, base = frame
    tallest = max(row.laid.lettering for row in along.rows)
    columns = _columns(along, on, most=1 + int((right - left - tallest) / (COLUMN * tallest)))
    true_x = [x_of(float(along.chainage[i])) for i in columns]
    places = spread(true_x, COLUMN * tallest, left + tallest, max(right - tallest, left + tallest))
    lines = [base, *(base - y for y in itertools.accumulate(row.laid.height for row in along.rows))]
    for k, y in enumerate(lines):
        items.append(Polyline("figures", ((x0, y), (right, y)), THIN if k else MEDIUM, TIN, source="rows"))
    for x, at in zip(true_x, places, strict=True):
        items.append(Polyline("grid", ((x, base + BELOW * 0.6), (at, base)), THIN, GRID, source="rows"))
    for row, (upper, lower) in zip(along.rows, itertools.pairwise(lines), strict=True):
        h, middle = row.laid.lettering, (upper + lower) / 2
        title = shortened(row.laid.title, TITLES - 2.0, h)
        items.append(Text("figures", (x0 + 1, middle - h / 2), title, h, source="rows"))
        for i, at in zip(columns, places, strict=True):
            text, source = row.laid.text(float(row.values[i])), format_chainage(float(along.chainage[i]))
            if text:
                items.append(Text("figures", (at + h / 2, middle), text, h, "centre", 90, "mono", source=source))
