"""What is told of surveys, by jobs and endpoints alike."""

from ninja import Schema

from saddle.exchange.field_codes import PieceKind
from saddle.terrain.spec import CodeGrammar, CodeRule


class CodeFound(Schema):
    """How often a code stands in the survey."""

    code: str
    points: int
    lines: int


class SkippedOut(Schema):
    """row: of the file, 0 where it has none."""

    row: int
    reason: str


class SurfaceFound(Schema):
    name: str
    triangles: int


class AlignmentFound(Schema):
    """length: m; profile: whether one came with it."""

    name: str
    length: float
    elements: int
    profile: bool


class SurveyReport(Schema):
    """What an import holds. extent: least east, north, level, then greatest."""

    name: str
    format: str = "csv"
    points: int
    triangles: int
    extent: list[float]
    codes: list[CodeFound]
    skipped: list[SkippedOut]
    skipped_total: int
    crossings: list[str]
    surfaces: list[SurfaceFound] = []
    alignments: list[AlignmentFound] = []


class CheckReport(SurveyReport):
    """What a file holds before it is imported. rules: what its codes would mean."""

    rules: list[CodeRule]


class ImportReport(SurveyReport):
    """What was imported. survey: its id."""

    survey: int


class ImportOut(Schema):
    """An import that the project keeps. who: made it; at: when, as ISO text; in_use: whether it counts now."""

    id: int
    name: str
    points: int
    who: str
    at: str
    in_use: bool


class CompareReport(Schema):
    """From one surface to another, as in saddle.terrain.compare.Comparison: m3, m2 and m."""

    cut: float
    fill: float
    area: float
    only_first: float
    only_second: float
    deepest_cut: float
    deepest_fill: float


class PieceOut(Schema):
    """A part of a code as it is written."""

    kind: PieceKind
    text: str


class CodedRow(Schema):
    """A row of the file with its code taken apart. lines: that its point belongs to."""

    row: int
    pieces: list[PieceOut]
    lines: list[str]


class CodedLine(Schema):
    """A line in plan: east, north by turns."""

    code: str
    name: str
    colour: str
    points: list[list[float]]


class UsualGrammar(Schema):
    """A way of writing codes to begin with."""

    name: str
    grammar: CodeGrammar


class CodesOut(Schema):
    """What comes of the codes of the first rows. grammar: by which they were taken apart; points: rows that were looked at; told: what was
    noticed."""

    grammar: CodeGrammar
    usual: list[UsualGrammar]
    rows: list[CodedRow]
    lines: list[CodedLine]
    codes: list[CodeFound]
    told: list[SkippedOut]
    points: int
