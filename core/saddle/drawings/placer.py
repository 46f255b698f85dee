"""Places names on a drawing so that no two overlap and none leaves the room it has, and off its lines where it can be: what finds no place
is left out and told."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from saddle.drawings.display import THIN, Item, Place, Polyline, Room, Text
from saddle.drawings.lettering import width_of
from saddle.geometry.polylines import Floats

#: Room below the line of writing, and about a name, in heights of capitals.
BELOW, ABOUT = 0.25, 0.2
#: From one line of names to the next, in heights of capitals.
STEP = 1.6
#: Moves to try in turn, in widths of a text: of one that stands over its place if it can, and of one that leans to a side.
STANDING = (0.0, 0.5, -0.5, 1.0, -1.0, 1.5, -1.5)
LEANING = (0.5, 0.4, 0.3, 0.0, -0.5, 0.75, 1.0, 1.25, 1.5, 2.0, -1.0, 2.5, -1.5)
FURTHEST = max(map(abs, (*STANDING, *LEANING)))
#: So many lines of names are tried, and so many for a place where no line of the drawing crosses the name.
LINES, CLEAR_LINES = 12, 4
#: Places so near to each other are one, mm.
SAME = 0.6


@dataclass(frozen=True, slots=True)
class Name:
    """A text that belongs to a place. at: the place, mm; above: how far above it the text is at least, mm; lean: where it is moved
    first, -1 to the left, 1 to the right, 0 where it stands over its place if it can; needed: it rather crosses a line than be left out."""

    text: str
    at: Place
    height: float
    above: float
    colour: str
    font: Literal["text", "mono"] = "text"
    lean: int = 0
    needed: bool = True

    def asides(self) -> tuple[float, ...]:
        """Moves to try, in widths of the text."""
        return tuple(a * (self.lean or 1) for a in (LEANING if self.lean else STANDING))


@dataclass(frozen=True, slots=True)
class Stroke:
    """A straight line on the drawing: a part of what is drawn, or the leader from a place to the text that names it."""

    begin: Place
    end: Place

    def meets(self, box: Room) -> bool:
        """Whether any of the line lies within a box: the part of it between the box's sides, for both directions, is not empty."""
        low, high = 0.0, 1.0
        for a, b, least, most in (
            (self.begin[0], self.end[0], box.left, box.right),
            (self.begin[1], self.end[1], box.bottom, box.top),
        ):
            if abs(b - a) < 1e-9:
                if not least < a < most:
                    return False
                continue
            ends = sorted(((least - a) / (b - a), (most - a) / (b - a)))
            low, high = max(low, ends[0]), min(high, ends[1])
        return low < high


@dataclass(slots=True)
class Placer:
    """Room for names, and what is taken of it. drawn: lines that no name stands on where it finds another place; left_out: texts that found
    no place, in the order they came."""

    room: Room
    source: str
    drawn: Sequence[Stroke] = ()
    #: Of the drawn lines: left, bottom, right, top, mm; found when they are first asked for.
    bounds: Floats = field(default_factory=lambda: np.empty((0, 4)))
    #: Each with where the place lies that it belongs to, mm from the left.
    taken: list[tuple[Room, float]] = field(default_factory=list)
    leaders: list[Stroke] = field(default_factory=list)
    left_out: list[str] = field(default_factory=list)

    def place(self, name: Name) -> list[Item]:
        """The text at the free place nearest above what it names, with a leader where it is not right there; nothing if none is free."""
        width = width_of(name.text, name.height, name.font)
        near = self._near(name, width)
        items = self._placed(name, width, CLEAR_LINES, near) if near else None
        if items is None and (name.needed or not near):
            items = self._placed(name, width, LINES, ())
        if items is None:
            self.left_out.append(name.text)
        return items or []

    def _near(self, name: Name, width: float) -> list[Stroke]:
        """The drawn lines that lie within reach of a name."""
        if len(self.bounds) != len(self.drawn):
            ends = np.array([(*s.begin, *s.end) for s in self.drawn]).reshape(-1, 2, 2)
            self.bounds = np.column_stack([ends.min(axis=1), ends.max(axis=1)])
        (x, y), reach = name.at, width * (FURTHEST + 0.5) + ABOUT * name.height
        ceiling = y + name.above + (CLEAR_LINES * STEP + 1) * name.height
        left, bottom, right, top = self.bounds.T
        found = (left < x + reach) & (right > x - reach) & (bottom < ceiling) & (top > y + name.above - name.height)
        return [self.drawn[k] for k in np.flatnonzero(found).tolist()]

    def _placed(self, name: Name, width: float, lines: int, drawn: Sequence[Stroke]) -> list[Item] | None:
        """The text in one of so many lines where it stands on none of these."""
        x, y = name.at
        h = name.height
        for line, aside in itertools.product(range(lines), name.asides()):
            middle, base = x + aside * width, y + name.above + line * STEP * h
            box = Room(
                middle - width / 2 - ABOUT * h,
                base - (BELOW + ABOUT / 2) * h,
                middle + width / 2 + ABOUT * h,
                base + (1 + ABOUT / 2) * h,
            )
            if (
                not self.room.holds(box)
                or any(box.meets(t) for t, _ in self.taken)
                or any(one.meets(box) for one in self.leaders)
                or any(one.meets(box) for one in drawn)
            ):
                continue
            leader = self._leader(name, box) if line or abs(aside) > 0.5 else None
            if leader:
                if any(leader.meets(t) for t, _ in self.taken):
                    continue
                self.leaders.append(leader)
            self.taken.append((box, x))
            items: list[Item] = [
                Text("points", (middle, base), name.text, h, "centre", font=name.font, colour=name.colour, source=self.source)
            ]
            if leader:
                items.append(Polyline("points", (leader.begin, leader.end), THIN, name.colour, source=self.source))
            return items
        return None

    def _leader(self, name: Name, box: Room) -> Stroke:
        """From just over the place to the nearest of the text's lower edge; names of one place stand on each other."""
        x, y = name.at
        below = [t.top for t, of in self.taken if abs(of - x) <= SAME and t.left < x < t.right and t.top <= box.bottom + 1e-9]
        return Stroke((x, max([y + min(name.above, 0.5), *below])), (min(max(x, box.left), box.right), box.bottom))
