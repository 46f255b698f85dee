"""The rows of figures beneath a section: what each says of the columns, and how long it gets. One entry of ROWS for another."""

from collections.abc import Callable
from dataclasses import dataclass

from saddle.drawings.figures import level_text, millimetres_text
from saddle.drawings.spec import RowKind

#: A column so near to the hinge stands at it, m.
TOUCHES = 0.02


@dataclass(frozen=True, slots=True)
class Column:
    """What is known at an offset, m: the name of a point that lies there, and levels, m, None where there is none or it is not known.
    under: what the overlay lies on, milled or not; hinge: its offset, m; formation: underside of all that is built; east, north: m."""

    offset: float
    name: str
    existing: float | None
    milled: float | None
    under: float | None
    design: float | None
    hinge: float
    formation: float | None = None
    east: float | None = None
    north: float | None = None


@dataclass(frozen=True, slots=True)
class Reach:
    """How far the figures of a set of sections go: greatest offset either way and level, m, the longest name, greatest
    coordinate, m."""

    offset: float
    level: float
    name: str
    place: float = 0.0


@dataclass(frozen=True, slots=True)
class FigureRow:
    """title: at its left; longest: a text as long as any that may stand in it. at: what it says of a column; between: what it says of
    two neighbouring columns, the left one first, written between them. Nothing is written where there is nothing to say."""

    title: str
    longest: Callable[[Reach], str]
    at: Callable[[Column], str] | None = None
    between: Callable[[Column, Column], str] | None = None


def _millimetres(upper: float | None, lower: float | None) -> str:
    return "" if upper is None or lower is None else millimetres_text(upper - lower)


def _crossfall(a: Column, b: Column) -> str:
    """Of the design between two columns, %, outward from the hinge as everywhere: negative where it falls away from it. Over the hinge
    there is no one crossfall."""
    if a.design is None or b.design is None or (a.offset < a.hinge - TOUCHES and b.offset > a.hinge + TOUCHES):
        return ""
    outward = 1 if b.offset > a.hinge + TOUCHES else -1
    pct = outward * round(100 * (b.design - a.design) / (b.offset - a.offset), 1)
    return f"{pct:+.1f}" if pct else "0.0"


def _of_level(reach: Reach) -> str:
    return f"{reach.level:.3f}"


def _of_place(reach: Reach) -> str:
    return f"{reach.place:.3f}"


ROWS: dict[RowKind, FigureRow] = {
    "point": FigureRow("Point", lambda reach: reach.name, at=lambda c: c.name),
    "offset": FigureRow("Offset m", lambda reach: f"{-reach.offset:+.3f}", at=lambda c: f"{c.offset:+.3f}"),
    "distance": FigureRow(
        "Distance m", lambda reach: f"{2 * reach.offset:.3f}", between=lambda a, b: f"{b.offset - a.offset:.3f}"
    ),
    "existing": FigureRow("Existing level m", _of_level, at=lambda c: level_text(c.existing)),
    "milled": FigureRow("Milled level m", _of_level, at=lambda c: level_text(c.milled)),
    "design": FigureRow("Design level m", _of_level, at=lambda c: level_text(c.design)),
    "difference": FigureRow("Difference mm", lambda _: "+12345", at=lambda c: _millimetres(c.design, c.existing)),
    "depth": FigureRow("Depth mm", lambda _: "+12345", at=lambda c: _millimetres(c.design, c.under)),
    "formation": FigureRow("Formation m", _of_level, at=lambda c: level_text(c.formation)),
    "east": FigureRow("East m", _of_place, at=lambda c: level_text(c.east)),
    "north": FigureRow("North m", _of_place, at=lambda c: level_text(c.north)),
    "crossfall": FigureRow("Crossfall %", lambda _: "+1000.0", between=_crossfall),
}
