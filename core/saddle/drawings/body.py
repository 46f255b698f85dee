"""What a kind of drawing is given, and what it puts on each sheet."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from saddle.drawings.display import MEDIUM, SADDLE, Item, Place, Polyline, Room
from saddle.drawings.legend import Meaning
from saddle.drawings.spec import Drawing, DrawingStyle, TitleBlock
from saddle.errors import SaddleError
from saddle.geometry.polylines import Floats
from saddle.lines.spec import LineGroup
from saddle.quantities.reports.spec import ReportLayout
from saddle.road.model import RoadModel
from saddle.terrain.spec import CodeList
from saddle.terrain.tin import Tin
from saddle.views.roads import OtherRoad

#: Sheets of one drawing: those of 40 km of road at 10 m on A3. A DXF of them takes about 3 MB of memory for each.
MOST_SHEETS = 700
Progress = Callable[[float], None]


@dataclass(frozen=True, slots=True)
class Listed:
    """A drawing as the register has it. sheets: how many, None where it cannot be drawn; revision, status, date: as it was issued
    last; own: it is the register itself."""

    number: str
    title: str
    kind: str
    sheets: int | None
    revision: str
    status: str
    date: str
    own: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Set:
    """What the drawings of a project have in common. styles, reports, lines (groups of section lines): by key; codes: what survey
    codes mean; background: pieces of lines that lie beneath the survey, each (s, 2, 2) east and north of both ends, m; project: its name; surface: another surface by its name, None where there is none; register:
    all drawings in their order; road: the name of the road that they are of; others: the project's other roads."""

    model: RoadModel
    styles: Mapping[str, DrawingStyle]
    block: TitleBlock
    project: str
    reports: Mapping[str, ReportLayout] = field(default_factory=dict)
    lines: Mapping[str, LineGroup] = field(default_factory=dict)
    codes: CodeList = field(default_factory=CodeList)
    background: Callable[[], Sequence[Floats]] = lambda: ()
    surface: Callable[[str], Tin | None] = lambda _: None
    register: Sequence[Listed] = ()
    road: str = ""
    others: Sequence[OtherRoad] = ()

    def style_of(self, drawing: Drawing) -> DrawingStyle:
        """Raises SaddleError where the drawing's style is not there."""
        if drawing.style not in self.styles:
            raise SaddleError("the style of this drawing is not there", "drawing", "choose another one at Content")
        return self.styles[drawing.style]


@dataclass(frozen=True, slots=True, eq=False)
class Task:
    """A drawing to be made. room: for what is drawn; progress: told the share that is done."""

    of: Set
    drawing: Drawing
    style: DrawingStyle
    room: Room
    progress: Progress = lambda _: None

    @property
    def model(self) -> RoadModel:
        return self.of.model

    def refuse_more_than_are_made(self, sheets: int) -> None:
        """Raises SaddleError for too many sheets. A kind that can count them before it draws them asks then."""
        if sheets > MOST_SHEETS:
            raise SaddleError(
                f"the drawing would have {sheets:,} sheets, at most {MOST_SHEETS:,} are made",
                f"drawing {self.drawing.number}", "draw a part of the road, fewer sections, or at a smaller scale on larger paper",
            )  # fmt: skip

    def reach(self) -> tuple[float, float]:
        """Chainages from and to which the drawing shows the road. Raises SaddleError where that is beyond it."""
        a, d = self.model.alignment, self.drawing
        low = a.start if d.from_chainage is None else max(a.start, d.from_chainage)
        high = a.end if d.to_chainage is None else min(a.end, d.to_chainage)
        if high <= low:
            raise SaddleError("the range of the drawing lies beyond the road", "drawing", "choose another from and to")
        return low, high


@dataclass(slots=True)
class Body:
    """What is drawn on one sheet. begin, end: chainages as they are called, None of what lies nowhere along the road; scale: as it is
    printed; used: share of the room that is taken; left_out: names for which there was no room; about: stands in the title's place
    of the chainages; space: the same in metres at true size, for drawings that have such a space."""

    items: list[Item] = field(default_factory=list)
    begin: float | None = None
    end: float | None = None
    scale: str = ""
    meanings: list[Meaning] = field(default_factory=list)
    used: float = 1.0
    left_out: list[str] = field(default_factory=list)
    about: str = ""
    space: list[Item] = field(default_factory=list)


def match_line(points: Sequence[Place]) -> Polyline:
    """Where one sheet ends and the next goes on."""
    return Polyline("frame", tuple(points), MEDIUM, SADDLE, (4.0, 1.5, 1.0, 1.5), source="match line")


@dataclass(frozen=True, slots=True, eq=False)
class OnDemand(Sequence[Body]):
    """So many bodies, each drawn by its number from 0 when it is asked for: a long set never stands in memory at once."""

    length: int
    make: Callable[[int], Body]

    def __len__(self) -> int:
        return self.length

    def __getitem__(self, k: int) -> Body:  # type: ignore[override]
        if not 0 <= k < self.length:
            raise IndexError(k)
        return self.make(k)


DrawingKind = Callable[[Task], Sequence[Body]]
