"""Drawings as documents: what is drawn, how it looks, and what the title block says."""

import re
from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from saddle.documents_base import Chainage, Colour, Document, Key, Name, Number, Refers
from saddle.drawings.display import INK, TIN
from saddle.drawings.lettering import HEIGHTS
from saddle.drawings.logo import check_logo

Paper = Literal["A0", "A1", "A2", "A3", "A4", "ANSI B", "ANSI D"]
#: Landscape sizes, mm: ISO 216; ANSI/ASME Y14.1 has 11 x 17 and 22 x 34 inches.
PAPER: dict[Paper, tuple[float, float]] = {
    "A0": (1189.0, 841.0), "A1": (841.0, 594.0), "A2": (594.0, 420.0), "A3": (420.0, 297.0), "A4": (297.0, 210.0),
    "ANSI B": (431.8, 279.4), "ANSI D": (863.6, 558.8),
}  # fmt: skip
#: ISO 5455 reductions; 1:25, 1:250 and 1:1250 and 1:2500 are not in the standard but common on roads.
Scale = Literal[20, 25, 50, 100, 200, 250, 500]
AlongScale = Literal[200, 250, 500, 1000, 1250, 2000, 2500, 5000]


def _is_lettering(height: float) -> float:
    if height not in HEIGHTS:
        raise ValueError(f"lettering is {', '.join(map(str, HEIGHTS))} mm high")
    return height


#: Line widths of the ISO 128 series that sheets of these sizes need, mm.
WIDTHS = (0.13, 0.18, 0.25, 0.35, 0.5, 0.7)


def _is_width(width: float) -> float:
    if width not in WIDTHS:
        raise ValueError(f"lines are {', '.join(map(str, WIDTHS))} mm wide")
    return width


LineWidth = Annotated[float, AfterValidator(_is_width)]
TextHeight = Annotated[float, AfterValidator(_is_lettering)]
RowKind = Literal[
    "point",
    "offset",
    "distance",
    "existing",
    "milled",
    "design",
    "difference",
    "depth",
    "crossfall",
    "formation",
    "underside",
    "surface",
    "east",
    "north",
]
LongRowKind = Literal["chainage", "existing", "design", "difference", "milled", "left_edge", "right_edge", "grade"]


class FigureRow(Document):
    """A row of figures. title: its own heading, empty for the usual one; decimals: of its figures; lettering, height: mm. None of these
    given: as is usual, in the lettering of the style, as high as its longest figure is long. A height is a least one."""

    title: Annotated[str, Field(max_length=40)] = ""
    decimals: Annotated[int, Field(ge=0, le=4)] | None = None
    lettering: TextHeight | None = None
    height: Annotated[float, Field(ge=3, le=60)] | None = None


class SectionRow(FigureRow):
    """Beneath a section. of: of an underside the course, empty for every course of the drawing in a row of its own; of a surface its name."""

    kind: RowKind
    of: Annotated[str, Field(max_length=80)] = ""


def section_rows(*kinds: RowKind) -> list[SectionRow]:
    """Rows of some kinds as is usual."""
    return [SectionRow(kind=kind) for kind in kinds]


class LongRow(FigureRow):
    """Beneath a long section."""

    kind: LongRowKind


LineType = Literal["solid", "dashed", "dotted", "chain"]


class SurfaceLine(Document):
    """A surface on a section. name: of another surface of the project; width: mm, of the ISO 128 series; colour: #RRGGBB."""

    of: Literal["existing", "milled", "design", "other"] = "other"
    name: Annotated[str, Field(max_length=80)] = ""
    line: LineType = "solid"
    width: LineWidth = 0.25
    colour: Colour = TIN


class SectionSheets(Document):
    """Cross-sections. beyond: existing shown beyond the catch points, m; surfaces: as lines, those named later over those before;
    points: which template points are named and get figures: as each of them says, all, or figures alone;
    areas: of courses, milling, cut and fill beside each section; letters: for the courses, with a key in the legend;
    widths: from point to point above it; depths: least and greatest of the overlay; offsets: at which figures stand besides, m;
    falls: how crossfalls are written; hinge, boundary: lines through them;
    prefix, suffix: about the chainage; remarks: what designers remarked; hatching: cut and
    fill each with its own;
    packing: hinges over each other in columns downward, or in rows to the right."""

    kind: Literal["sections"] = "sections"
    scale: Scale = 100
    vertical_scale: Scale = 100
    rows: Annotated[list[SectionRow], Field(min_length=1, max_length=20)] = section_rows(
        "offset", "existing", "design", "difference"
    )
    surfaces: Annotated[list[SurfaceLine], Field(max_length=10)] = [
        SurfaceLine(of="existing"), SurfaceLine(of="milled", line="dashed"), SurfaceLine(of="design", width=0.5, colour=INK),
    ]  # fmt: skip
    beyond: Annotated[float, Field(ge=0, le=50)] = 1.5
    offsets: Annotated[list[Annotated[Number, Field(ge=-500, le=500)]], Field(max_length=40)] = []
    points: Literal["template", "all", "figures"] = "template"
    falls: Literal["percent", "one_in"] = "percent"
    hinge: bool = True
    boundary: bool = True
    prefix: Annotated[str, Field(max_length=20)] = ""
    suffix: Annotated[str, Field(max_length=20)] = ""
    widths: bool = False
    depths: bool = False
    remarks: bool = True
    hatching: bool = False
    areas: bool = False
    letters: bool = False
    packing: Literal["columns", "rows"] = "columns"


class LongSheets(Document):
    """The road from the side. scale: along; interval: from one column of figures to the next, m; structures: pipes and pits; bands:
    curvature and crossfalls beneath the levels; plan: the road from above over them, straightened."""

    kind: Literal["long"] = "long"
    scale: AlongScale = 1000
    vertical_scale: Scale = 100
    interval: Annotated[float, Field(ge=1, le=1000)] = 20.0
    rows: Annotated[list[LongRow], Field(min_length=1, max_length=16)] = [
        LongRow(kind=kind) for kind in ("chainage", "existing", "design", "difference")
    ]
    structures: bool = True
    bands: bool = True
    plan: bool = False


class PlanSheets(Document):
    """The road from above, turned to lie along the paper. beside: shown on either side of the alignment, m; depths: of the overlay in
    bands; sections: marks of the sections; interval: from one chainage mark to the next, m;
    background: of drawings that lie beneath the survey; grid: crosses of the coordinates."""

    kind: Literal["plan"] = "plan"
    scale: AlongScale = 500
    beside: Annotated[float, Field(gt=0, le=200)] = 25.0
    interval: Annotated[float, Field(ge=5, le=1000)] = 20.0
    survey: bool = True
    background: bool = True
    depths: bool = True
    sections: bool = True
    structures: bool = True
    grid: bool = True


class TypicalSheets(Document):
    """Templates as they stand, with widths, crossfalls and courses."""

    kind: Literal["typical"] = "typical"
    scale: Scale = 50


class ScheduleSheets(Document):
    """A report as sheets."""

    kind: Literal["schedule"] = "schedule"
    report: Annotated[Key, Refers("report")] = "layers"


class RegisterSheets(Document):
    """The register of drawings."""

    kind: Literal["register"] = "register"


Sheets = Annotated[
    SectionSheets | LongSheets | PlanSheets | TypicalSheets | ScheduleSheets | RegisterSheets, Field(discriminator="kind")
]
KindOfDrawing = Literal["sections", "long", "plan", "typical", "schedule", "register"]


class DrawingStyle(Document):
    """How drawings of a kind look. text_height: of figures, mm; legend: what colours and patterns mean, beside the title block."""

    name: Name = "Sections A3"
    paper: Paper = "A3"
    text_height: TextHeight = 1.8
    legend: bool = True
    sheets: Sheets = SectionSheets()


#: Fields that a title, a number may hold, each with what stands for it.
FIELDS = {
    "from": "first chainage of the sheet",
    "to": "last chainage of the sheet",
    "n": "number of the sheet",
    "of": "how many sheets the drawing has",
    "number": "number of the drawing",
    "road": "name of the road",
    "alignment": "name of the alignment",
    "project": "name of the project",
    "revision": "letter of the revision",
}


def _has_known_fields(text: str) -> str:
    for name in re.findall(r"\{([^{}]*)\}", text):
        if name not in FIELDS:
            raise ValueError(f"there is no field {{{name}}}: use {', '.join('{' + f + '}' for f in FIELDS)}")
    return text


#: Words in which fields in braces are filled in.
Pattern = Annotated[str, Field(max_length=120), AfterValidator(_has_known_fields)]


def filled(pattern: str, values: dict[str, str]) -> str:
    """A pattern with its fields filled in."""
    return re.sub(r"\{([^{}]*)\}", lambda m: values.get(m[1], m[0]), pattern)


#: Of an inset, mm.
OnPaper = Annotated[float, Field(ge=0, le=1200, allow_inf_nan=False)]


class Inset(Document):
    """A section set into a sheet (from 1). x, y: of its lower left corner from that of the room for the drawing, mm; scale: None fits
    it into its frame; opaque: it covers what lies beneath."""

    sheet: Annotated[int, Field(ge=1, le=10_000)] = 1
    chainage: Chainage
    x: OnPaper = 5.0
    y: OnPaper = 5.0
    width: Annotated[float, Field(ge=30, le=1200)] = 120.0
    height: Annotated[float, Field(ge=20, le=800)] = 40.0
    scale: Scale | None = None
    opaque: bool = True
    border: bool = True


class Drawing(Document):
    """What is drawn. name: its title; road: of which; place: in the register; range: None the whole road; every: of the sections one in so many;
    untreated: sections where nothing is done too; chainages: only the sections nearest to these, none given for all; lines: a group of section lines that is
    drawn instead of the design's sections; templates: of
    typical sections, none given for all in use; insets: sections set into sheets."""

    name: Annotated[Pattern, Field(min_length=1)] = "Cross-sections {from} to {to}"
    number: Annotated[str, Field(min_length=1, max_length=40)] = "XS"
    style: Annotated[Key, Refers("drawing_style")] = "sections_a3"
    place: Annotated[int, Field(ge=0, le=10_000)] = 0
    road: Annotated[Key, Refers("road")] = "main"
    from_chainage: Chainage | None = None
    to_chainage: Chainage | None = None
    every: Annotated[int, Field(ge=1, le=1000)] = 1
    untreated: bool = True
    chainages: Annotated[list[Chainage], Field(max_length=500)] = []
    lines: Annotated[Key, Refers("section_lines")] | None = None
    templates: Annotated[list[Annotated[Key, Refers("template")]], Field(max_length=50)] = []
    insets: Annotated[list[Inset], Field(max_length=50)] = []

    def shown(self, chainage: Sequence[float], treated: Sequence[bool]) -> list[int]:
        """Rows of the sections that are drawn, of all: treated where something is done. Of those that may be shown every so manieth,
        from the first on."""
        low = -float("inf") if self.from_chainage is None else self.from_chainage - 5e-4
        high = float("inf") if self.to_chainage is None else self.to_chainage + 5e-4
        may = [
            i for i, (s, done) in enumerate(zip(chainage, treated, strict=True)) if low <= s <= high and (done or self.untreated)
        ]
        if self.chainages and may:
            return sorted({min(may, key=lambda i: abs(chainage[i] - c)) for c in self.chainages})
        return may[:: self.every]


class TitleBlock(Document):
    """What the title blocks of a project say. project: empty for the project's name; numbering: of a sheet; files: names of the files of
    an issue, a drawing's each; logo: a PNG or SVG file as a data address, or nothing."""

    owner: Annotated[str, Field(max_length=80)] = ""
    client: Annotated[str, Field(max_length=80)] = ""
    project: Annotated[str, Field(max_length=120)] = ""
    contract: Annotated[str, Field(max_length=40)] = ""
    numbering: Annotated[Pattern, Field(min_length=1)] = "{number}-{n}"
    files: Annotated[Pattern, Field(min_length=1)] = "{number} rev {revision}"
    drawn: Annotated[str, Field(max_length=60)] = ""
    checked: Annotated[str, Field(max_length=60)] = ""
    approved: Annotated[str, Field(max_length=60)] = ""
    coordinates: Annotated[str, Field(max_length=60)] = ""
    levels: Annotated[str, Field(max_length=60)] = ""
    notes: Annotated[str, Field(max_length=600)] = ""
    logo: Annotated[str, Field(max_length=140_000), AfterValidator(check_logo)] = ""
