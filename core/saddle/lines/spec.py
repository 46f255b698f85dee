"""Section lines as documents: groups of lines with a width. The design's own sections are no such lines: quantities come from
those alone, and these only show the same road from elsewhere."""

import itertools
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from saddle.documents_base import Chainage, Document, Key, Name, Number, Positive, Refers
from saddle.guides.spec import NearestLine, OnGuide

#: Lines of a group as they are written down, and as they come out.
MOST_LINES, MOST_CUT = 2_000, 5_000
#: How far a line may reach to a side, m.
WIDEST = 500.0
#: Length of a path or run, m: nobody reads a longer section.
LONGEST_LINE = 5_000.0
#: Greatest angle off square, degrees: beyond it a line hardly crosses the road.
MOST_SKEW = 80.0
Reach = Annotated[float, Field(ge=0, le=WIDEST, allow_inf_nan=False)]
Place = tuple[Number, Number]


class Line(Document):
    """What every line has. name, remark: of the people; left, right: its own widths, m, None for those of its group."""

    name: Annotated[str, Field(max_length=80)] = ""
    remark: Annotated[str, Field(max_length=400)] = ""
    left: Reach | None = None
    right: Reach | None = None


class Regular(Line):
    """Square lines at multiples of an interval over a range, m. on_curves: the interval on arcs and transitions, None for the same;
    key_points: also at the ends of the range and at tangent points; chord_limit_mm: as of the sections, 0 for none."""

    kind: Literal["regular"] = "regular"
    from_chainage: Chainage
    to_chainage: Chainage
    interval: Annotated[float, Field(ge=0.5, le=5000, allow_inf_nan=False)] = 20.0
    on_curves: Annotated[float, Field(ge=0.5, le=5000, allow_inf_nan=False)] | None = None
    key_points: bool = False
    chord_limit_mm: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] = 0.0

    @property
    def chord_limit(self) -> float:
        """m, 0 for none."""
        return self.chord_limit_mm / 1000


class At(Line):
    """A line at a chainage. angle_deg: to the right of square: turned clockwise as a bearing grows, so that the
    right end of a positive one lies behind."""

    kind: Literal["at"] = "at"
    chainage: Chainage
    angle_deg: Annotated[float, Field(ge=-MOST_SKEW, le=MOST_SKEW, allow_inf_nan=False)] = 0.0


class AlongPath(Line):
    """A line along a bent path in plan, from left to right: east and north of its corners. It is as long as it is drawn."""

    kind: Literal["path"] = "path"
    points: Annotated[list[Place], Field(min_length=2, max_length=500)]


class AtStructure(Line):
    """A square line through a pit, or through the middle of a pipe. structure: its name."""

    kind: Literal["structure"] = "structure"
    structure: Name


class Between(Line):
    """A line along the run between two pits, and so many metres past both."""

    kind: Literal["run"] = "run"
    first: Name
    last: Name
    past: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] = 3.0


SectionLine = Annotated[Regular | At | AlongPath | AtStructure | Between, Field(discriminator="kind")]


class FixedWidth(Document):
    """The same widths along the road, m."""

    by: Literal["fixed"] = "fixed"
    left: Reach = 20.0
    right: Reach = 20.0


class WidthRow(Document):
    """Widths at a chainage, m."""

    chainage: Chainage
    left: Reach
    right: Reach


def _in_order(rows: list[WidthRow]) -> list[WidthRow]:
    for a, b in itertools.pairwise(rows):
        if b.chainage <= a.chainage:
            raise ValueError(f"each chainage must be greater than the one before: {b.chainage:g} follows {a.chainage:g}")
    return rows


class WidthTable(Document):
    """Widths by chainage, straight between rows, the same before the first and after the last."""

    by: Literal["table"] = "table"
    rows: Annotated[list[WidthRow], Field(min_length=1, max_length=5000), AfterValidator(_in_order)]


class ToBoundary(Document):
    """Out to the boundary of the existing surface, no further than so many metres."""

    by: Literal["boundary"] = "boundary"
    most: Annotated[float, Field(gt=0, le=WIDEST, allow_inf_nan=False)] = 100.0


class ToLine(Document):
    """Out to a survey line or guide on either side and so many metres past it; where there is none, `otherwise`."""

    by: Literal["line"] = "line"
    left_line: Annotated[NearestLine | OnGuide, Field(discriminator="by")]
    right_line: Annotated[NearestLine | OnGuide, Field(discriminator="by")]
    plus: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] = 2.0
    otherwise: Annotated[float, Field(gt=0, le=WIDEST, allow_inf_nan=False)] = 20.0


Widths = Annotated[FixedWidth | WidthTable | ToBoundary | ToLine, Field(discriminator="by")]


class LineGroup(Document):
    """Section lines of a road under one name. marked_codes: survey lines that are marked where they cross; marked_guides: guides too;
    levels_at: offsets or distances at which levels are listed besides the places where surfaces bend, m; levels_every: the same
    every so many metres, None for not."""

    name: Name
    road: Annotated[Key, Refers("road")] = "main"
    lines: Annotated[list[SectionLine], Field(max_length=MOST_LINES)] = []
    widths: Widths = FixedWidth()
    marked_codes: Annotated[list[Annotated[str, Field(min_length=1, max_length=40)]], Field(max_length=50)] = []
    marked_guides: bool = True
    levels_at: Annotated[list[Number], Field(max_length=100)] = []
    levels_every: Positive | None = None
