"""The display list: pages in mm, y upward from the lower left corner, primitives on named layers.

Layout makes it; the writers (SVG, PDF, DXF) draw it and decide nothing.
"""

from dataclasses import dataclass, field
from typing import Literal

Place = tuple[float, float]
Layer = Literal[
    "frame", "title", "grid", "existing", "milled", "design", "courses", "points", "structures", "figures", "headings", "areas",
    "alignment", "survey", "depths", "marks", "bands", "dimensions", "earth",
]  # fmt: skip
#: Line widths by use, mm, from the ISO 128 series.
THIN, MEDIUM, THICK, FRAME = 0.18, 0.25, 0.5, 0.7


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
    colour: str = "#1B2327"
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
    colour: str = "#1B2327"
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
    colour: str = "#1B2327"
    source: str = ""


Item = Polyline | Polygon | Text


@dataclass(frozen=True, slots=True)
class Page:
    """One sheet. name carries the chainage range; width and height in mm."""

    name: str
    width: float
    height: float
    items: list[Item] = field(default_factory=list)
