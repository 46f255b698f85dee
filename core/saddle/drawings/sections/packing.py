"""Where sections go on the sheets: down columns or along rows, in road order, as close as their sizes allow."""

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Generic, Literal, TypeVar

from saddle.drawings.display import Room
from saddle.drawings.sections.setting import Window

S = TypeVar("S")
#: Room between blocks, the most that is left between them where the sheet has some to spare, mm.
GAP, WIDEST_GAP = 2.0, 12.0
#: Sections stand over each other where neither is so many times as wide as the other, or all of them: what needs fewer sheets is taken.
UNLIKE = (1.7, math.inf)


@dataclass(frozen=True, slots=True, eq=False)
class Fitted(Generic[S]):
    """A section with the window that it needs, the size of its block, and where its hinge lies in it, mm."""

    one: S
    window: Window
    size: tuple[float, float]
    hinge: float


@dataclass(frozen=True, slots=True, eq=False)
class Placed(Generic[S]):
    """A section on a sheet: its hinge at x, the upper edge of its block at top, and so much room to spare to its left and right, in which
    more of the ground is shown, mm."""

    fitted: Fitted[S]
    x: float
    top: float
    spare: tuple[float, float]


@dataclass(slots=True)
class Column(Generic[S]):
    """Sections over each other: before and behind the hinge, mm, the widest of either. most: how many times as wide one may be as
    another."""

    most: float
    before: float = 0.0
    behind: float = 0.0
    members: list[Fitted[S]] = field(default_factory=list)

    @property
    def width(self) -> float:
        return self.before + self.behind

    @property
    def height(self) -> float:
        return sum(f.size[1] for f in self.members) + GAP * max(0, len(self.members) - 1)

    def takes(self, one: Fitted[S], width: float, height: float) -> bool:
        """Whether one more goes beneath the others within a width and a height."""
        if not self.members:
            return True
        wider = max(self.before, one.hinge) + max(self.behind, one.size[0] - one.hinge)
        return self.height + GAP + one.size[1] <= height and wider <= width and not self.unlike(one)

    def unlike(self, one: Fitted[S]) -> bool:
        """Whether one is so much wider or narrower that beneath these it would waste the room."""
        widths = [f.size[0] for f in (*self.members, one)]
        return max(widths) > self.most * min(widths)

    def add(self, one: Fitted[S]) -> None:
        self.before, self.behind = max(self.before, one.hinge), max(self.behind, one.size[0] - one.hinge)
        self.members.append(one)


class Band(Generic[S]):
    """Columns beside each other, a part of a sheet from side to side. room, high: what it has of it, mm; unlike: how many times as wide a
    section may be as another over it."""

    def __init__(self, room: float, high: float, unlike: float) -> None:
        self.room, self.high, self.unlike = room, high, unlike
        self.columns: list[Column[S]] = []

    @property
    def width(self) -> float:
        return sum(c.width for c in self.columns) + GAP * max(0, len(self.columns) - 1)

    @property
    def height(self) -> float:
        return max(c.height for c in self.columns)

    def takes(self, one: Fitted[S]) -> bool:
        """Adds one beneath the last, or beside it if they are alike, where there is room."""
        last = self.columns[-1]
        if last.takes(one, self.room - (self.width - last.width), self.high):
            last.add(one)
            return True
        return not last.unlike(one) and self.takes_beside(one)

    def takes_beside(self, one: Fitted[S]) -> bool:
        """Begins a column with one, where there is room."""
        if one.size[1] > self.high or (self.columns and self.width + GAP + one.size[0] > self.room):
            return False
        self.columns.append(Column(self.unlike))
        self.columns[-1].add(one)
        return True

    def lowest(self) -> "Band[S]":
        """The same sections in a band as low as can be."""
        members = [one for column in self.columns for one in column.members]
        runs = (
            sum(m.size[1] for m in members[a:b]) + GAP * (b - a - 1)
            for a, b in itertools.combinations(range(len(members) + 1), 2)
        )
        for high in sorted({h for h in runs if h <= self.height + 1e-9}):
            band: Band[S] = Band(self.room, high + 1e-9, self.unlike)
            if band.takes_beside(members[0]) and all(band.takes(one) for one in members[1:]):
                return band
        return self


def in_columns(sections: Sequence[Fitted[S]], room: Room) -> list[list[Placed[S]]]:
    """Downward, then to the right, hinges over each other; where a section is much wider or narrower than those before, a new band of
    columns begins beneath them. What is left of the room is shared out: beside the sections more of the ground is shown."""
    pages = min((_packed(sections, room, unlike) for unlike in UNLIKE), key=len)
    return [_placed(bands, room) for bands in pages]


def _packed(sections: Sequence[Fitted[S]], room: Room, unlike: float) -> list[list[Band[S]]]:
    pages: list[list[Band[S]]] = []
    for one in sections:
        if pages and (pages[-1][-1].takes(one) or _begins_band(pages[-1], one) or pages[-1][-1].takes_beside(one)):
            continue
        pages.append([Band(room.width, room.height, unlike)])
        pages[-1][-1].takes_beside(one)
    return pages


def _begins_band(bands: list[Band[S]], one: Fitted[S]) -> bool:
    """Begins a band with one that is unlike those before, beneath them as close as can be, where there is room."""
    if not bands[-1].columns[-1].unlike(one):
        return False
    above = bands[-1].lowest()
    left = bands[-1].high - above.height - GAP
    if one.size[1] > left:
        return False
    bands[-1:] = [above, Band(bands[-1].room, left, bands[-1].unlike)]
    return bands[-1].takes_beside(one)


def _placed(bands: Sequence[Band[S]], room: Room) -> list[Placed[S]]:
    free = room.height - sum(band.height for band in bands) - GAP * (len(bands) - 1)
    tallest = [max(band.columns, key=lambda c: c.height) for band in bands]
    steps = sum(len(c.members) - 1 for c in tallest) + len(bands) - 1
    more = min(WIDEST_GAP - GAP, free / steps) if steps else 0.0
    placed: list[Placed[S]] = []
    top = room.top
    for band, highest in zip(bands, tallest, strict=True):
        high = highest.height + more * (len(highest.members) - 1)
        aside = (room.width - band.width) / len(band.columns) / 2
        x = room.left
        for column in band.columns:
            y, between = top, len(column.members) - 1
            # A column that is nearly as high as the highest one has less to spare.
            step = GAP + (min(more, max(0.0, (high - column.height) / between)) if between else 0.0)
            middle = x + aside + column.before
            for one in column.members:
                spare = (aside + column.before - one.hinge, aside + column.behind - (one.size[0] - one.hinge))
                placed.append(Placed(one, middle, y, spare))
                y -= one.size[1] + step
            x += column.width + 2 * aside + GAP
        top -= high + GAP + more
    return placed


def in_rows(sections: Sequence[Fitted[S]], room: Room) -> list[list[Placed[S]]]:
    """To the right, then downward; the sections of a row stand on one line."""
    rows: list[list[tuple[Fitted[S], float]]] = []
    x = room.right
    for one in sections:
        if not rows or x + one.size[0] > room.right:
            rows.append([])
            x = room.left
        rows[-1].append((one, x))
        x += one.size[0] + GAP
    pages: list[list[Placed[S]]] = []
    y = room.bottom
    for members in rows:
        tallest = max(one.size[1] for one, _ in members)
        if not pages or y - tallest < room.bottom:
            pages.append([])
            y = room.top
        last, start = members[-1]
        aside = (room.right - start - last.size[0]) / len(members) / 2
        for k, (one, x) in enumerate(members):
            hinge = x + one.hinge + (2 * k + 1) * aside
            pages[-1].append(Placed(one, hinge, y - tallest + one.size[1], (aside, aside)))
        y -= tallest + GAP
    return pages


#: How sections are put on sheets, by the style's word for it.
PACKINGS: Mapping[Literal["columns", "rows"], Callable[[Sequence[Fitted[Any]], Room], list[list[Placed[Any]]]]] = {
    "columns": in_columns,
    "rows": in_rows,
}
