"""What follows from the documents: never edited, always reproducible."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np

from saddle.alignment.alignment import Alignment, Frames
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec
from saddle.geometry.polylines import Bools, Floats, Ints, Polylines
from saddle.guides.evaluate import RoadLines
from saddle.guides.follow import Followed
from saddle.guides.spec import FollowPlan, GuideSpec
from saddle.overlay.milling import Milling
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan
from saddle.problem import Problem
from saddle.road.spec import EndsBeside, Leave, RemarkList, SectionSettings, TemplatePlan, TreatmentPlan
from saddle.road.stations import Stations
from saddle.standards.published import STARTING
from saddle.standards.spec import Standards
from saddle.template.half import HalfSections
from saddle.template.median import MedianSpec
from saddle.template.parts import KerbProfile, MakeUp, Material
from saddle.template.spec import TemplateSpec
from saddle.terrain.spec import Structures
from saddle.terrain.structures import Crossed
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin


@dataclass(frozen=True, slots=True, eq=False)
class RoadInputs:
    """All that the road is computed from. Mappings run from key to document; lines from survey code; surfaces: those that
    templates name besides the main one; roads: lines of the roads that this one reads; beside: what it ends at, neighbours: lines of the
    roads that it ends against; followed_elsewhere: guides that other roads follow; identities: by field its value and what stands for it in keys, of the change that made
    it: it counts for that very value only."""

    alignment: AlignmentSpec
    surface: Tin
    lines: dict[str, SurveyLines]
    settings: SectionSettings
    treatments: TreatmentPlan
    template_plan: TemplatePlan
    templates: dict[str, TemplateSpec]
    make_ups: dict[str, MakeUp]
    kerbs: dict[str, KerbProfile]
    materials: dict[str, Material]
    guides: dict[str, GuideSpec] = field(default_factory=dict)
    follow: FollowPlan = field(default_factory=FollowPlan)
    structures: Structures = field(default_factory=Structures)
    surfaces: dict[str, Tin] = field(default_factory=dict)
    crossfalls: CrossfallTable = field(default_factory=CrossfallTable)
    levels: LevelTable = field(default_factory=LevelTable)
    profiles: dict[str, ProfileSpec] = field(default_factory=dict)
    milling: MillingPlan = field(default_factory=MillingPlan)
    medians: dict[str, MedianSpec] = field(default_factory=dict)
    standards: Standards = STARTING
    remarks: RemarkList = field(default_factory=RemarkList)
    roads: Mapping[str, RoadLines] = field(default_factory=dict)
    beside: tuple[EndsBeside, ...] = ()
    neighbours: Mapping[str, RoadLines] = field(default_factory=dict)
    followed_elsewhere: tuple[str, ...] = ()
    identities: Mapping[str, tuple[object, str]] = field(default_factory=dict)

    def identity(self, name: str, value: object) -> str | None:
        """What stands for a field in keys; None where its content must, because nobody said or it was replaced since."""
        there, identity = self.identities.get(name, (None, None))
        return identity if there is value else None


@dataclass(frozen=True, slots=True, eq=False)
class RoadLinesFound:
    """Per section (n,): offsets of hinge and edges, m, and crossfalls, %. NaN where not found or not asked for.

    measured: (n, 2) crossfalls of the old surface on both sides; fixed_hinge: (n,) its level where the kerb lips fix it;
    tied: (n,) 1 where the treatment stands on its own, running to 0 where it meets the old road, or another one, at its end;
    met: (n,) levels that are met there; kerb_top: (n, 2)
    levels of the tops of kerbs that stay; ruled: (n, 2) offset and level of the guide that the governing rule names.
    """

    hinge: Floats
    left_edge: Floats
    right_edge: Floats
    left_pct: Floats
    right_pct: Floats
    existing_hinge: Floats
    measured_pct: Floats
    fixed_hinge: Floats
    tied: Floats
    met: Floats
    kerb_top: Floats
    ruled: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Taken:
    """What comes beyond the road's outermost points, by side (n,): shape: number of the median's shape that was taken, less than 0 where
    there is none (`road.beyond`); width: m from the outermost point to what the median reaches to, and level: its level, NaN where
    nothing is asked for or found."""

    shape: Mapping[int, Ints]
    width: Mapping[int, Floats]
    level: Mapping[int, Floats]


@dataclass(frozen=True, slots=True, eq=False)
class TemplateSections:
    """A template where it stands. rows: (g,) its sections in the model; dimensions: (g,) by name."""

    key: str
    name: str
    rows: Ints
    left: HalfSections
    right: HalfSections
    dimensions: dict[str, Floats]


@dataclass(frozen=True, slots=True, eq=False)
class OverlayDepth:
    """Overlay on n sections: offsets, design, existing (n, p), and per section (n,) its ends, least, greatest
    and mean depth in m with the offsets of the first two. NaN where there is no overlay, or some of it lies over what is not
    known."""

    offsets: Floats
    design: Floats
    existing: Floats
    left: Floats
    right: Floats
    least: Floats
    least_offset: Floats
    greatest: Floats
    greatest_offset: Floats
    mean: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Earthworks:
    """cut, fill: (n,) m2, NaN where not known; moments about offset 0, m3; formation: the dug and filled shape; difference:
    formation less the milled ground; raised: (n,) m2 of the finished surface above the old one, less what lies below; milled:
    (n,) m2 of milling between the catch points, which are low and high."""

    cut: Floats
    cut_moment: Floats
    fill: Floats
    fill_moment: Floats
    formation: Polylines
    difference: Polylines
    raised: Floats
    milled: Floats
    low: Floats
    high: Floats


@dataclass(frozen=True, slots=True, eq=False)
class RoadModel:
    """The solved road. Arrays have one row per section. taken, bounds: what comes beyond it and where it ends against others; candidates: (n, 2) hinge levels that either side asked for, NaN where
    the rule has none; key: stands for all that it follows from; find_boundaries, find_earthworks, find_problems: what the
    properties of these names ask, since not every view needs them; find_shape: the finished surface that the templates take at other hinge levels (n,) and
    crossfalls (n, 2), as levels."""

    inputs: RoadInputs
    key: str
    alignment: Alignment
    stations: Stations
    frames: Frames
    existing: Polylines
    lines: RoadLinesFound
    hinge_level: Floats
    candidates: Floats
    milling: Milling
    depth: OverlayDepth
    groups: tuple[TemplateSections, ...]
    followed: tuple[Followed, ...]
    taken: Taken
    bounds: Mapping[int, Floats]
    crossed: tuple[Crossed, ...]
    find_shape: Callable[[Floats, Floats], Polylines]
    find_boundaries: Callable[[], Floats]
    find_earthworks: Callable[[], Earthworks]
    find_problems: Callable[[], tuple[Problem, ...]]

    @property
    def boundaries(self) -> Floats:
        """Offsets of the guides that are boundaries, (n, g) m, NaN where one is not."""
        return self.find_boundaries()

    @property
    def earthworks(self) -> Earthworks:
        """Cut, fill and formation, found when they are asked for and kept by the cache."""
        return self.find_earthworks()

    @property
    def problems(self) -> tuple[Problem, ...]:
        """All findings in road order, found when they are asked for and kept by the cache."""
        return self.find_problems()

    @property
    def chainage(self) -> Floats:
        return self.stations.chainage

    def group_of(self, row: int) -> tuple[TemplateSections, int] | None:
        """The template on a section and the section's place in it."""
        for group in self.groups:
            at = int(np.searchsorted(group.rows, row))
            if at < len(group.rows) and group.rows[at] == row:
                return group, at
        return None

    def work_at(self, row: int) -> object | None:
        """The work of the treatment on a section, or None."""
        i = int(self.stations.treatment[row])
        return self.inputs.treatments.ranges[i].work if i >= 0 else None

    def worked_on(self) -> Bools:
        """Sections on which something is built, (n,)."""
        works = [not isinstance(r.work, Leave) for r in self.inputs.treatments.ranges]
        found: Bools = np.array([*works, False])[self.stations.treatment]
        return found
