"""The rows of figures beneath a section: what each says of the columns, and how long it gets. One entry of ROWS for another."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from saddle.drawings.rows import Laid, laid
from saddle.drawings.spec import RowKind, SectionRow
from saddle.figures import FIGURES

#: A column so near to the hinge stands at it, m.
TOUCHES = 0.02
#: Room at both ends of a figure in its row together, in heights of lettering.
PADDING = 0.6


@dataclass(frozen=True, slots=True)
class Column:
    """What is known at an offset, m: the name of a point that lies there, and levels, m, None where there is none or it is not known.
    under: what the overlay lies on, milled or not; hinge: its offset, m; formation: underside of all that is built; undersides: of
    courses by name; surfaces: others by name; east, north: m."""

    offset: float
    name: str
    existing: float | None
    milled: float | None
    under: float | None
    design: float | None
    hinge: float
    formation: float | None = None
    undersides: Mapping[str, float | None] = field(default_factory=dict)
    surfaces: Mapping[str, float | None] = field(default_factory=dict)
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


Said = float | str | None


@dataclass(frozen=True, slots=True)
class Kind:
    """title: at its left; longest: a figure as long as any that may stand in it; decimals: None for words. at: what it says of a column,
    given what the row is of; between: what it says of two neighbouring columns, the left one first, written between them."""

    title: str
    longest: Callable[[Reach], float | str]
    decimals: int | None
    at: Callable[[Column, str], Said] | None = None
    between: Callable[[Column, Column], Said] | None = None
    signed: bool = False


@dataclass(frozen=True, slots=True)
class RowAt:
    """A row that is laid out. of: as its document says."""

    kind: Kind
    of: str
    laid: Laid

    def at(self, c: Column) -> str:
        """What stands at a column."""
        return self.laid.text(self.kind.at(c, self.of)) if self.kind.at else ""

    def between(self, a: Column, b: Column) -> str:
        """What stands between two columns."""
        return self.laid.text(self.kind.between(a, b)) if self.kind.between else ""


def rows_at(rows: Sequence[SectionRow], reach: Reach, lettering: float, courses: Sequence[str]) -> tuple[RowAt, ...]:
    """Rows laid out for a set of sections. lettering: of the style, mm; courses: names of all that are built on them."""
    out = []
    for row, of in _each(rows, courses):
        kind = ROWS[row.kind]
        title = kind.title.format(of=of or "what is built")
        found = laid(row, title, kind.decimals, [kind.longest(reach)], lettering, PADDING, signed=kind.signed)
        out.append(RowAt(kind, of, found))
    return tuple(out)


def _each(rows: Sequence[SectionRow], courses: Sequence[str]) -> Iterator[tuple[SectionRow, str]]:
    """Rows, an underside of every course as so many; where nothing is built it stays one, and empty."""
    for row in rows:
        for of in (courses or ("",)) if row.kind == "underside" and not row.of else (row.of,):
            yield row, of


def _millimetres(upper: float | None, lower: float | None) -> float | None:
    return None if upper is None or lower is None else 1000 * (upper - lower)


def _crossfall(a: Column, b: Column) -> float | None:
    """Of the design between two columns, %, outward from the hinge as everywhere: negative where it falls away from it. Over the hinge
    there is no one crossfall."""
    if a.design is None or b.design is None or (a.offset < a.hinge - TOUCHES and b.offset > a.hinge + TOUCHES):
        return None
    outward = 1 if b.offset > a.hinge + TOUCHES else -1
    return outward * 100 * (b.design - a.design) / (b.offset - a.offset)


def _of_level(reach: Reach) -> float:
    return reach.level


def _of_place(reach: Reach) -> float:
    return reach.place


LEVEL, MILLIMETRES = FIGURES["level"].decimals, 0
ROWS: dict[RowKind, Kind] = {
    "point": Kind("Point", lambda reach: reach.name, None, at=lambda c, _: c.name),
    "offset": Kind("Offset m", lambda reach: -reach.offset, 3, at=lambda c, _: c.offset, signed=True),
    "distance": Kind("Distance m", lambda reach: 2 * reach.offset, 3, between=lambda a, b: b.offset - a.offset),
    "existing": Kind("Existing level m", _of_level, LEVEL, at=lambda c, _: c.existing),
    "milled": Kind("Milled level m", _of_level, LEVEL, at=lambda c, _: c.milled),
    "design": Kind("Design level m", _of_level, LEVEL, at=lambda c, _: c.design),
    "difference": Kind(
        "Difference mm", lambda _: 12345, MILLIMETRES, at=lambda c, _: _millimetres(c.design, c.existing), signed=True
    ),
    "depth": Kind("Depth mm", lambda _: 12345, MILLIMETRES, at=lambda c, _: _millimetres(c.design, c.under), signed=True),
    "formation": Kind("Formation m", _of_level, LEVEL, at=lambda c, _: c.formation),
    "underside": Kind("Under {of} m", _of_level, LEVEL, at=lambda c, of: c.undersides.get(of)),
    "surface": Kind("{of} m", _of_level, LEVEL, at=lambda c, of: c.surfaces.get(of)),
    "east": Kind("East m", _of_place, LEVEL, at=lambda c, _: c.east),
    "north": Kind("North m", _of_place, LEVEL, at=lambda c, _: c.north),
    "crossfall": Kind("Crossfall %", lambda _: 1000.0, 1, between=_crossfall, signed=True),
}
