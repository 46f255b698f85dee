"""What is told of surveys, by jobs and endpoints alike."""

from ninja import Schema

from saddle.exchange.dxf.spec import BlockRule, DrawingUnit
from saddle.exchange.field_codes import PieceKind
from saddle.exchange.found import Doubt
from saddle.terrain.meanings import Guess
from saddle.terrain.sketch import MarkKind
from saddle.terrain.spec import CodeGrammar, CodeRule, FileUnit


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
    """length: m; profiles: names of those that came with it."""

    name: str
    length: float
    elements: int
    profiles: list[str] = []  # imports before 0.21 told only whether there was one


class NoLevelOut(Schema):
    """A level that stands for none, in the file's unit, and how many points have it."""

    level: float
    points: int


class SurveyReport(Schema):
    """What an import or the survey that counts holds. none: levels that were taken for none; steep: triangles steeper than 1 in 1;
    extent: least east, north, level, then greatest; edits: by hand, in words; told:
    what of them could not be done."""

    name: str
    format: str = "csv"
    points: int
    triangles: int
    none: list[NoLevelOut] = []
    steep: int = 0
    extent: list[float]
    codes: list[CodeFound]
    skipped: list[SkippedOut]
    skipped_total: int
    crossings: list[str]
    surfaces: list[SurfaceFound] = []
    alignments: list[AlignmentFound] = []
    edits: list[str] = []
    told: list[str] = []


class OutlineOut(Schema):
    """A line in plan: east and north of its vertices, m."""

    code: str
    colour: str
    points: list[list[float]]


class MarkOut(Schema):
    """A place where something is wrong. row: of the file, 0 where it has none."""

    kind: MarkKind
    east: float
    north: float
    row: int
    words: str


class SketchOut(Schema):
    """A file from above: some of its points, its lines thinned, and what is wrong where, m."""

    points: list[list[float]]
    lines: list[OutlineOut]
    marks: list[MarkOut]


class DoubtOut(Schema):
    """Something that is asked about before it is taken in."""

    kind: Doubt
    words: str


class ReadingOut(Schema):
    """Another way to read the coordinates. swapped: eastings and northings exchanged against the way that was taken; factor: by which its
    lengths are longer; apart: how far most points then lie from what is there, m."""

    swapped: bool
    unit: FileUnit
    factor: float
    apart: float | None


class PlacingOut(Schema):
    """How a file lies. there: some places of what the project has, m; apart: how far most points lie from it, m, None where nothing is."""

    apart: float | None
    other: ReadingOut | None
    doubts: list[DoubtOut]
    there: list[list[float]]


class LayerOut(Schema):
    """What is on a layer of a drawing, as saddle.exchange.dxf.read.LayerFound."""

    layer: str
    points: int
    lines: int
    faces: int
    texts: int
    at_zero: int
    least: float | None
    greatest: float | None
    shown: str
    taken: bool


class BlockOut(Schema):
    """A block of a drawing; attributes with a value of each."""

    rule: BlockRule
    inserts: int
    attributes: dict[str, str]


class DrawnFile(Schema):
    """What a drawing holds, as saddle.exchange.dxf.read.DrawingFound."""

    says: DrawingUnit | None
    unit: DrawingUnit
    zero: bool
    layers: list[LayerOut]
    blocks: list[BlockOut]
    least: list[float] | None
    greatest: list[float] | None


class SuggestionOut(Schema):
    """What a code that is not known may mean, by where its lines run."""

    code: str
    meaning: Guess
    why: str


class MovedOut(Schema):
    """How levels moved on a piece of the road, m. chainage: of its middle; points: that tell it."""

    chainage: float
    least: float
    mean: float
    greatest: float
    points: int


class PartOut(Schema):
    """What becomes of the survey that is there if the file replaces the part that it covers: points."""

    replaced: int
    kept: int
    moved: list[MovedOut]


class CheckReport(SurveyReport):
    """What a file holds before it is imported. rules: what its codes would mean; drawing: of a DXF, layer by layer; part: where there is a
    survey already; only_background: whether nothing in it can be a survey, as all of it lies at level 0; unit: in which it was
    read, None for one that surveys are not drawn in; system, grid: reference systems in plan of the file and of what is read, in words, empty where nobody knows them;
    gridded: whether the project has one already; degrees: whether the file has no lengths in plan."""

    rules: list[CodeRule]
    suggestions: list[SuggestionOut]
    sketch: SketchOut
    placing: PlacingOut
    drawing: DrawnFile | None = None
    part: PartOut | None = None
    only_background: bool = False
    unit: FileUnit | None = "metre"
    system: str = ""
    grid: str = ""
    gridded: bool = False
    degrees: bool = False


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
    """A line in plan: east, north by turns. colour: of its code, None where it has none of its own."""

    code: str
    name: str
    colour: str | None
    points: list[list[float]]


class UsualGrammar(Schema):
    """A way of writing codes to begin with."""

    name: str
    grammar: CodeGrammar


class CodesOut(Schema):
    """What comes of the codes of the first rows. grammar: by which they were taken apart; why: what speaks for it
    where it was guessed; points: rows that were looked at; told: what was noticed."""

    grammar: CodeGrammar
    usual: list[UsualGrammar]
    rows: list[CodedRow]
    lines: list[CodedLine]
    codes: list[CodeFound]
    why: list[str]
    told: list[SkippedOut]
    points: int


class FoundPoint(Schema):
    """A survey point. line: that it is on, empty for none."""

    number: str
    code: str
    line: str
    east: float
    north: float
    level: float
