"""The code list, surfaces and structures as documents."""

import re
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from saddle.documents_base import Colour, Document, Level, Name, Number, Positive, PositiveMillimetres

Meaning = Literal[
    "crown", "edge", "lip", "back", "invert", "path", "shoulder", "wheel path", "median", "ditch", "pit", "pipe", "boundary", "ground", "other",
]  # fmt: skip


#: Different codes of a project.
MOST_CODES = 2000


class CodeRule(Document):
    """What a survey code means. in_surface: its points belong to surfaces; breakline: no triangle edge crosses its
    lines; crossing: where one of its lines crosses another breakline, the piece that comes later gives way, or both get the mean of their
    levels there; colour and width (px) in plan."""

    code: Annotated[str, Field(max_length=80)]
    meaning: Meaning = "other"
    in_surface: bool = True
    breakline: bool = True
    crossing: Literal["later", "mean"] = "later"
    colour: Colour = "#9AA5A6"
    width: Annotated[float, Field(gt=0, le=8)] = 0.8
    dashed: bool = False


#: By common practice: words of codes, what they mean, and how they are drawn.
_WORDS: tuple[tuple[tuple[str, ...], Meaning, str, float, bool], ...] = (
    (("CL", "CR", "CROWN"), "crown", "#A4602C", 1.2, True),
    (("EP", "EB", "EDGE"), "edge", "#1B2327", 1.2, False),
    (("LIP",), "lip", "#1B2327", 1.2, False),
    (("KT", "BK", "BOK"), "back", "#1B2327", 1.2, False),
    (("INV", "INVERT"), "invert", "#5D6B6F", 1.0, False),
    (("FP",), "path", "#5D6B6F", 0.8, False),
    (("SH", "SHOULDER"), "shoulder", "#9AA5A6", 0.8, False),
    (("MED", "MEDIAN"), "median", "#5D6B6F", 1.0, False),
    (("DI", "DT", "DITCH"), "ditch", "#9AA5A6", 0.8, False),
    (("PIT", "MH"), "pit", "#8A3F78", 1.6, False),
    (("PIPE", "CUL", "CULVERT"), "pipe", "#8A3F78", 2.0, False),
    (("BDY", "BOUNDARY"), "boundary", "#A83A2C", 1.2, True),
    (("GR", "SP", "GROUND", "SPOT", "TN", "NS", "NGL", "GL", "GEL"), "ground", "#9AA5A6", 0.8, False),
    (("WP",), "wheel path", "#D5DAD8", 0.8, False),
)
#: Meanings that by common practice do not belong to a surface.
_NOT_GROUND = ("pit", "pipe", "boundary")


def guess_rule(code: str) -> CodeRule:
    """A first guess from the word that the code begins with, which one letter may follow (a side), but no further ones: SP1 and EPL are
    guessed, SPUR and CREEK are not. The person may change it."""
    word = re.split(r"[^A-Z]", code.upper(), maxsplit=1)[0]
    for words, meaning, colour, width, dashed in _WORDS:
        if word in words or word[:-1] in words:
            ground = meaning not in _NOT_GROUND
            return CodeRule(
                code=code, meaning=meaning, in_surface=ground, breakline=ground, colour=colour, width=width, dashed=dashed
            )
    return CodeRule(code=code)


class CodeList(Document):
    """What every survey code means. Codes without a rule are guessed."""

    rules: Annotated[list[CodeRule], Field(max_length=MOST_CODES)] = []

    @model_validator(mode="after")
    def _each_once(self) -> "CodeList":
        codes = [r.code for r in self.rules]
        if len(set(codes)) != len(codes):
            twice = next(c for c in codes if codes.count(c) > 1)
            raise ValueError(f"the code {twice or 'without a name'} has two rules")
        return self

    def rule(self, code: str) -> CodeRule:
        """The rule of a code, guessed where there is none."""
        return next((r for r in self.rules if r.code == code), None) or guess_rule(code)


class FromSurvey(Document):
    """Triangulated over the survey's points with its breaklines.

    codes: only these, empty for all that the code list lets in; left_out: numbers of points not used; longest_edge:
    triangles with a longer edge are left out, m; boundary: code of a line that closes the surface, or none.
    """

    by: Literal["survey"] = "survey"
    codes: Annotated[list[str], Field(max_length=500)] = []
    left_out: Annotated[list[str], Field(max_length=20_000)] = []
    longest_edge: Positive | None = 60.0
    boundary: Annotated[str, Field(max_length=80)] | None = None


class Imported(Document):
    """Triangles as they came in a file. survey: id of the import; number: which of its surfaces, from 0."""

    by: Literal["imported"] = "imported"
    survey: Annotated[int, Field(ge=0)]
    number: Annotated[int, Field(ge=0)]


FileUnit = Literal["metre", "foot", "us_survey_foot"]
#: Metres per unit of length of files. NIST: the international foot is 0.3048 m exactly, the US survey foot 1200/3937 m.
METRES_PER: dict[FileUnit, float] = {"metre": 1.0, "foot": 0.3048, "us_survey_foot": 1200 / 3937}


#: What a control word says: a line begins, ends, is joined to its first point; a curve begins, ends; the point makes no line.
Control = Literal["begin", "end", "close", "curve", "straight", "point"]
_Word = Annotated[str, Field(min_length=1, max_length=12, pattern=r"^\S+$")]


class ControlWord(Document):
    """A word among codes, in small or large letters."""

    word: _Word
    means: Control


class CodeGrammar(Document):
    """How codes of the field are taken apart. between: signs between the codes and words of a point; marks: signs that join a line or a
    word to its code; figures: figures behind a code tell lines apart; before: words stand before their code; remark: what follows this
    sign is none of it; points: codes that make no lines; along: points are joined along the road and not in measuring order, and words
    that begin or end lines do not count; longest: lines are broken where two points are further apart, m."""

    between: Annotated[str, Field(max_length=6)] = " "
    marks: Annotated[str, Field(max_length=6)] = ""
    figures: bool = True
    controls: Annotated[list[ControlWord], Field(max_length=40)] = []
    before: bool = False
    remark: Annotated[str, Field(max_length=4)] = ""
    points: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=200)] = []
    along: bool = False
    longest: Positive = 60.0

    @model_validator(mode="after")
    def _each_word_once(self) -> "CodeGrammar":
        words = [c.word.upper() for c in self.controls]
        if len(set(words)) != len(words):
            raise ValueError(f"the word {next(w for w in words if words.count(w) > 1)} is there twice")
        return self


class Plane(Document):
    """A flat plane at a level, m, over the extent of the survey."""

    by: Literal["plane"] = "plane"
    level: Level


class SurfaceSpec(Document):
    """A surface of the project. The one with the key main is the existing surface that sections are cut from."""

    name: Name = "Existing"
    source: Annotated[FromSurvey | Imported | Plane, Field(discriminator="by")] = FromSurvey()


class Pit(Document):
    """A manhole or gully. cover, invert: levels, m; size: mm across."""

    name: Name
    east: Number
    north: Number
    cover: Level | None = None
    invert: Level | None = None
    size_mm: PositiveMillimetres = 600.0

    @property
    def size(self) -> float:
        """Across, m."""
        return self.size_mm / 1000


class PipeEnd(Document):
    """level: of the invert, m."""

    east: Number
    north: Number
    level: Level


class Pipe(Document):
    """A pipe or culvert along points with invert levels. diameter: inside, mm."""

    name: Name
    points: Annotated[list[PipeEnd], Field(min_length=2, max_length=2000)]
    diameter_mm: PositiveMillimetres = 300.0

    @property
    def diameter(self) -> float:
        """Inside, m."""
        return self.diameter_mm / 1000


class Structures(Document):
    """Pits and pipes of the project."""

    pits: Annotated[list[Pit], Field(max_length=5000)] = []
    pipes: Annotated[list[Pipe], Field(max_length=5000)] = []


#: Encodings of texts that are offered, each for a part of the world; utf-16 where every letter has two bytes.
Encoding = Literal[
    "utf-8", "cp1252", "cp1250", "cp1251", "cp1253", "cp1254", "cp1255", "cp1256", "cp1257", "cp1258", "shift_jis", "gb18030",
    "big5", "euc_kr", "iso8859_2", "koi8_r", "utf-16", "utf-16-le", "utf-16-be",
]  # fmt: skip
#: Whether a table of points is a levelling sheet, and of which kind.
Along = Literal["no", "rows", "offsets"]
Column = Annotated[int, Field(ge=0, lt=200)]


class ColumnMapping(Document):
    """Which column holds what, counted from 0. number, line, order and code may be absent: points without a number are counted. skip:
    lines before the headings or the first point; decimal: the sign in numbers; unit: of coordinates and levels; breaks: where the second column
    and those after it begin, in characters, of a file of fixed widths, in which no delimiter counts; grammar: lines are made from the codes, whatever the columns of line and order hold; encoding: of its letters, None for the
    one that it is most likely in; none: levels that stand for none, in the file's unit, None for those that are found in the data;
    sheet: of a workbook, empty for the first that is not; along: a levelling sheet, whose easting is a chainage and whose northing an offset: a row for each level, or a row for each chainage
    with the offsets in the heads of the columns."""

    delimiter: Annotated[str, Field(min_length=1, max_length=1)] = ","
    decimal: Literal[".", ","] = "."
    unit: FileUnit = "metre"
    skip: Annotated[int, Field(ge=0, le=1000)] = 0
    header: bool = True
    number: Column | None = None
    east: Column
    north: Column
    level: Column
    code: Column | None = None
    line: Column | None = None
    order: Column | None = None
    breaks: Annotated[list[Annotated[int, Field(ge=1, le=2000)]], Field(max_length=100)] = []
    grammar: CodeGrammar | None = None
    encoding: Encoding | None = None
    none: Annotated[list[Number], Field(max_length=20)] | None = None
    sheet: Annotated[str, Field(max_length=100)] = ""
    along: Along = "no"

    @field_validator("breaks")
    @classmethod
    def _one_behind_another(cls, found: list[int]) -> list[int]:
        if found != sorted(set(found)):
            raise ValueError("columns begin one behind another")
        return found


class Thinning(Document):
    """How a point cloud is thinned. square: one point is kept of every square of this size, m; keep: the lowest one, or the mean of all;
    within: of these, points that lie so near to the surface over the others are left out, m; None for all of them; doubtful: points of
    every class are taken, noise and what is withheld too."""

    square: Annotated[float, Field(ge=0.02, le=100)] = 0.5
    keep: Literal["lowest", "mean"] = "lowest"
    within: Annotated[float, Field(ge=0.001, le=10)] | None = None
    doubtful: bool = False


class SavedMapping(Document):
    """A column mapping kept under a name, to be used for the next file of the same kind."""

    name: Name
    mapping: ColumnMapping


class SavedCodes(Document):
    """A list of codes kept under a name: what an office's codes mean, to be taken over by its projects."""

    name: Name
    codes: CodeList
