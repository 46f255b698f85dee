"""The display list: pages in mm, y upward from the lower left corner, primitives on named layers.

Layout makes it; the writers (SVG, PDF, DXF) draw it and decide nothing.
"""

from dataclasses import dataclass, field
from typing import Literal

Place = tuple[float, float]
Layer = Literal[
    "frame", "title", "grid", "existing", "milled", "design", "surfaces", "courses", "points", "structures", "figures", "headings", "areas",
    "alignment", "background", "survey", "depths", "marks", "bands", "dimensions", "earth",
]  # fmt: skip
#: Colours of lines and words by use: what is drawn, the old and what is quiet, what is measured along and across, structures, grids.
INK, TIN, SADDLE, PLUM, FAINT, GRID = "#1B2327", "#5D6B6F", "#7A4319", "#8A3F78", "#9AA5A6", "#D5DAD8"
#: Dashes of the hinges of other roads, mm.
OTHER_ROAD = (4.0, 1.2)
#: Line widths by use, mm, from the ISO 128 series.
THIN, MEDIUM, THICK, FRAME = 0.18, 0.25, 0.5, 0.7


@dataclass(frozen=True, slots=True)
class Room:
    """A rectangle on a sheet, mm from its lower left corner."""

    left: float
    bottom: float
    right: float
    top: float

    @property
    def width(self) -> float:
        return self.right - self.left

    @property
    def height(self) -> float:
        return self.top - self.bottom

    @property
    def corners(self) -> tuple[Place, Place, Place, Place]:
        """From the lower left counter-clockwise."""
        return (self.left, self.bottom), (self.right, self.bottom), (self.right, self.top), (self.left, self.top)

    @property
    def rim(self) -> tuple[Place, ...]:
        """The corners with the first one again."""
        return (*self.corners, self.corners[0])

    def meets(self, other: "Room") -> bool:
        """Whether the two share more than an edge."""
        return self.left < other.right and other.left < self.right and self.bottom < other.top and other.bottom < self.top

    def holds(self, other: "Room") -> bool:
        """Whether the other lies wholly within."""
        return self.left <= other.left and other.right <= self.right and self.bottom <= other.bottom and other.top <= self.top


@dataclass(frozen=True, slots=True)
class LineFamily:
    """Parallel lines of a fill: angle in degrees, spacing in mm, and dashes (drawn, left out) in mm or none."""

    angle_deg: float
    spacing: float
    dashes: tuple[float, ...] = ()


#: Fill patterns by the name that materials use.
PATTERNS: dict[str, tuple[LineFamily, ...]] = {
    "plain": (),
    "rising": (LineFamily(45, 1.3),),
    "falling": (LineFamily(135, 1.3),),
    "crossed": (LineFamily(45, 1.6), LineFamily(135, 1.6)),
    "level": (LineFamily(0, 0.9),),
    "dotted": (LineFamily(60, 0.9, (0.2, 0.9)),),
}


@dataclass(frozen=True, slots=True)
class Polyline:
    layer: Layer
    points: tuple[Place, ...]
    width: float
    colour: str = INK
    dashes: tuple[float, ...] = ()
    source: str = ""


@dataclass(frozen=True, slots=True)
class Polygon:
    """width: of its outline, mm, 0 for none."""

    layer: Layer
    points: tuple[Place, ...]
    fill: str
    pattern: str
    width: float = THIN
    colour: str = INK
    source: str = ""


@dataclass(frozen=True, slots=True)
class Text:
    """anchor: where `at` lies on the text; height: of capitals, mm; rotation counter-clockwise."""

    layer: Layer
    at: Place
    text: str
    height: float
    anchor: Literal["left", "centre", "right"] = "left"
    rotation: Literal[0, 90] = 0
    font: Literal["text", "bold", "mono"] = "text"
    colour: str = INK
    source: str = ""


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture within a room. png: the file. A DXF holds none: it shows the room's rim."""

    layer: Layer
    room: Room
    png: bytes
    source: str = ""


Item = Polyline | Polygon | Text | Picture


def places_of(item: Item) -> tuple[Place, ...]:
    """Where an item lies: its points, where a text is set, the corners of a picture."""
    match item:
        case Text():
            return (item.at,)
        case Picture():
            return item.room.corners
        case _:
            return item.points


@dataclass(frozen=True, slots=True)
class Page:
    """One sheet. name carries the chainage range; width and height in mm."""

    name: str
    width: float
    height: float
    items: list[Item] = field(default_factory=list)
