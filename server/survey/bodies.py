"""What is told of surveys, by jobs and endpoints alike."""

from ninja import Schema

from saddle.terrain.spec import CodeRule


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
