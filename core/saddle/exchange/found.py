"""What a file holds, whatever its format."""

from dataclasses import dataclass, field
from typing import Literal

from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec
from saddle.terrain.spec import FileUnit
from saddle.terrain.table import SkippedRow, SurveyTable
from saddle.terrain.tin import Tin


@dataclass(frozen=True, slots=True, eq=False)
class NamedSurface:
    """A surface as it came."""

    name: str
    tin: Tin


@dataclass(frozen=True, slots=True, eq=False)
class NamedAlignment:
    """An alignment as it came, with all its profiles."""

    spec: AlignmentSpec
    profiles: list[ProfileSpec]


#: What is asked about a file before it is taken in.
Doubt = Literal["northing first", "unit", "far", "level", "degrees", "two levels", "numbers twice"]
#: Who says which coordinate is the easting: the file, its standard or the habit of its kind, or nobody.
Axes = Literal["said", "usual", "unsaid"]


@dataclass(frozen=True, slots=True)
class NoLevel:
    """A level that stands for none, in the file's unit: so many points have exactly it."""

    level: float
    points: int


@dataclass(frozen=True, slots=True, eq=False)
class Found:
    """Points and lines in one table, surfaces, alignments; what is left out, by line of the file, and remarks. unit: in which it was read,
    None for one that surveys are not drawn in; axes: who says which coordinate is the easting; asked: what nobody can know from the file
    alone, with words; none: levels that were taken for none, whose points are left out;
    system: in which coordinates are, as EPSG:n, empty where nothing says it. In degrees they are no lengths."""

    table: SurveyTable
    surfaces: list[NamedSurface] = field(default_factory=list)
    alignments: list[NamedAlignment] = field(default_factory=list)
    skipped: list[SkippedRow] = field(default_factory=list)
    unit: FileUnit | None = "metre"
    axes: Axes = "usual"
    asked: dict[Doubt, str] = field(default_factory=dict)
    none: list[NoLevel] = field(default_factory=list)
    system: str = ""
