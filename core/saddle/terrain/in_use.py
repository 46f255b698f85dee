"""Which surveys a project uses, and what was edited on them by hand, as a document."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from saddle.documents_base import Document, Level
from saddle.terrain.spec import FileUnit

_Code = Annotated[str, Field(max_length=80)]
_Number = Annotated[str, Field(min_length=1, max_length=80)]
_LineName = Annotated[str, Field(min_length=1, max_length=80)]
#: Imports that lie beside the first; edits by hand; points of a line that is drawn.
MOST_BESIDE, MOST_EDITS, MOST_DRAWN = 30, 5000, 2000


class Beside(Document):
    """An import that lies beside the first one. survey: its id; on: whether it counts; within: code of the line that it is cut to,
    its own or one of the first import; background: it lies beneath, is only drawn, and counts for nothing."""

    survey: Annotated[int, Field(ge=1)]
    on: bool = True
    within: _Code | None = None
    background: bool = False


class PointRef(Document):
    """A point by its number and code: of a point on several lines the number stands for several."""

    number: _Number
    code: _Code


class PointEdit(Document):
    """A point made otherwise; what is not given stays. level: m, of all points of the number in its place; code: its new one, with
    which it leaves its line; line: of its code, that it is put into where it is nearest, or empty for none."""

    by: Literal["point"] = "point"
    of: PointRef
    level: Level | None = None
    code: _Code | None = None
    line: Annotated[str, Field(max_length=80)] | None = None


class LineThrough(Document):
    """A line drawn through points, in order. A point that is on a line already, or of another code, is on both."""

    by: Literal["line"] = "line"
    code: _Code
    name: _LineName
    points: Annotated[list[PointRef], Field(min_length=2, max_length=MOST_DRAWN)]


class GapOpened(Document):
    """The piece of a line between two points that follow each other is taken out; what lies behind gets a name of its own."""

    by: Literal["gap"] = "gap"
    code: _Code
    name: _LineName
    between: tuple[_Number, _Number]


class LineSplit(Document):
    """A line is two from a point on, which both have; the later one gets a name of its own."""

    by: Literal["split"] = "split"
    code: _Code
    name: _LineName
    at: _Number


class LinesJoined(Document):
    """Two lines of a code become one: their nearest ends are joined."""

    by: Literal["join"] = "join"
    code: _Code
    name: _LineName
    other: _LineName


Edit = Annotated[PointEdit | LineThrough | GapOpened | LineSplit | LinesJoined, Field(discriminator="by")]


#: A reference system by its number, or nothing.
SYSTEM_CODE = r"^(EPSG:\d{4,6})?$"


class SurveyInUse(Document):
    """Which imports count. survey: id of the first, None before there is one; beside: others, of which a later one's points come
    after; edits: by hand, one after the other; unit: of files that do not say theirs; system: reference system in plan, as EPSG:n,
    empty where nobody knows it."""

    survey: Annotated[int, Field(ge=1)] | None = None
    beside: Annotated[list[Beside], Field(max_length=MOST_BESIDE)] = []
    edits: Annotated[list[Edit], Field(max_length=MOST_EDITS)] = []
    unit: FileUnit = "metre"
    system: Annotated[str, Field(pattern=SYSTEM_CODE)] = ""

    @model_validator(mode="after")
    def _each_import_once(self) -> "SurveyInUse":
        ids = [b.survey for b in self.beside] + ([] if self.survey is None else [self.survey])
        if len(set(ids)) != len(ids):
            raise ValueError("an import is in use twice")
        if self.survey is None and (self.beside or self.edits):
            raise ValueError("imports lie beside a first one")
        return self
