"""What a file holds, whatever its format."""

from dataclasses import dataclass, field

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
    """An alignment as it came, with its profile if it has one."""

    spec: AlignmentSpec
    profile: ProfileSpec | None


@dataclass(frozen=True, slots=True, eq=False)
class Found:
    """Points and lines in one table, surfaces, alignments; what is left out, by line of the file, and remarks. unit: in which it was read,
    None for one that surveys are not drawn in; unit_unsaid: why nobody can know it from the file."""

    table: SurveyTable
    surfaces: list[NamedSurface] = field(default_factory=list)
    alignments: list[NamedAlignment] = field(default_factory=list)
    skipped: list[SkippedRow] = field(default_factory=list)
    unit: FileUnit | None = "metre"
    unit_unsaid: str | None = None
