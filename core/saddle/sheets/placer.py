"""Places names on a drawing so that no two overlap and none leaves the room it has: what finds no place is left out and told."""

import itertools
from dataclasses import dataclass, field
from typing import Literal

from saddle.sheets.display import THIN, Item, Place, Polyline, Text
from saddle.sheets.lettering import width_of

#: Room below the line of writing, and about a name, in heights of capitals.
BELOW, ABOUT = 0.25, 0.2
#: From one line of names to the next, in heights of capitals.
STEP = 1.6
#: So many lines of names are tried, and how far a name is moved aside, in widths of its own.
LINES = 12
ASIDE = (0.0, 0.5, -0.5)
#: Places so near to each other are one, mm.
SAME = 0.6


@dataclass(frozen=True, slots=True)
class Box:
    """Low and high corner, mm."""

    x0: float
    y0: float
    x1: float
    y1: float

    def meets(self, other: "Box") -> bool:
        """Whether the two share more than an edge."""
        return self.x0 < other.x1 and other.x0 < self.x1 and self.y0 < other.y1 and other.y0 < self.y1

    def holds(self, other: "Box") -> bool:
        """Whether the other lies wholly within."""
        return self.x0 <= other.x0 and other.x1 <= self.x1 and self.y0 <= other.y0 and other.y1 <= self.y1


@dataclass(frozen=True, slots=True)
class Name:
    """A text that belongs to a place. at: the place, mm; above: how far above it the text is at least, mm."""

    text: str
    at: Place
    height: float
    above: float
    colour: str
    font: Literal["text", "mono"] = "text"


@dataclass(slots=True)
class Placer:
    """Room for names, and what is taken of it. left_out: texts that found no place, in the order they came."""

    room: Box
    source: str
    #: With where the place lies that each belongs to, mm from the left.
    taken: list[tuple[Box, float]] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)

    def place(self, name: Name) -> list[Item]:
        """The text at the free place nearest above what it names, with a leader where it is not right there; nothing if none is free."""
        width = width_of(name.text, name.height, name.font)
        x, y = name.at
        h = name.height
        for line, aside in itertools.product(range(LINES), ASIDE):
            middle, base = x + aside * width, y + name.above + line * STEP * h
            box = Box(
                middle - width / 2 - ABOUT * h,
                base - (BELOW + ABOUT / 2) * h,
                middle + width / 2 + ABOUT * h,
                base + (1 + ABOUT / 2) * h,
            )
            if not self.room.holds(box) or any(box.meets(t) for t, _ in self.taken):
                continue
            # Up from the place to the text; a text moved aside still stands over its place. Names of one place stand on each other.
            leader = Box(x - THIN, y + min(name.above, 0.5), x + THIN, box.y0) if line else None
            if leader:
                met = [(t, of) for t, of in self.taken if leader.meets(t)]
                if any(abs(of - x) > SAME for _, of in met):
                    continue
                leader = Box(leader.x0, max([leader.y0, *(t.y1 for t, _ in met)]), leader.x1, leader.y1)
            self.taken += [(taken, x) for taken in (box, leader) if taken]
            items: list[Item] = [
                Text("points", (middle, base), name.text, h, "centre", font=name.font, colour=name.colour, source=self.source)
            ]
            if leader:
                ends = ((x, leader.y0), (x, leader.y1))
                items.append(Polyline("points", ends, THIN, name.colour, source=self.source))
            return items
        self.left_out.append(name.text)
        return []
