"""What the road is set out from: surfaces cut on the sections, guides and lines that templates look for, templates compiled."""

import numpy as np

from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Floats, Polylines
from saddle.guides.evaluate import GuideLine, Sources, guide_corners, guide_line, line_of, sound_guides
from saddle.guides.spec import EdgeSource, FarSide, FollowPlan, GuideSpec, OnGuide, PointSource
from saddle.overlay.spec import LineGoverns, ProfileGoverns
from saddle.road.designs import LEFT, RIGHT
from saddle.road.model import RoadLinesFound
from saddle.road.spec import MedianBeyond, Overlay, Reconstruct, SectionSettings, TemplatePlan, TreatmentPlan
from saddle.template.compiled import CompiledTemplate
from saddle.template.median import MedianSpec, Use
from saddle.template.parts import MakeUp
from saddle.template.spec import TemplateSpec, surfaces_of
from saddle.template.ties import Point
from saddle.terrain.cut import cut_sections
from saddle.terrain.tin import Tin

#: The surface that the overlay lies on.
MAIN_SURFACE = "main"
#: A stretch that uses a guide: its key, from and to.
InUse = tuple[tuple[str, float, float], ...]


def guides_apart(guides: dict[str, GuideSpec]) -> tuple[dict[str, GuideSpec], dict[str, str]]:
    """Guides that can be laid, and why the others cannot."""
    return sound_guides(guides)


def guides_in_use(
    follow: FollowPlan,
    treatments: TreatmentPlan,
    plan: TemplatePlan,
    templates: dict[str, TemplateSpec],
    medians: dict[str, MedianSpec],
) -> InUse:
    """Keys of the guides that points, edges, the hinge or medians follow, and the stretch over which they do."""
    used: list[tuple[EdgeSource | FarSide, float, float]] = [(r.source, r.from_chainage, r.to_chainage) for r in follow.rules]
    for treatment in treatments.ranges:
        if isinstance(treatment.work, Overlay | Reconstruct):
            work = treatment.work
            sources = [work.hinge, work.left_edge, work.right_edge]
            if isinstance(work.governs, ProfileGoverns | LineGoverns) and work.governs.guide is not None:
                sources.append(OnGuide(guide=work.governs.guide))
            used += [(source, treatment.from_chainage, treatment.to_chainage) for source in sources]
    for item in plan.ranges:
        beyond = [b for b in (item.left_beyond, item.right_beyond) if isinstance(b, MedianBeyond)]
        used += [(OnGuide(guide=b.guide), item.from_chainage, item.to_chainage) for b in beyond]
        shapes = (t for b in beyond if b.median in medians for t in medians[b.median].templates())
        for key in sorted({item.template, *shapes} & set(templates)):
            for half in templates[key].halves():
                used += [(source, item.from_chainage, item.to_chainage) for source in half.sources()]
    return tuple((source.guide, low, high) for source, low, high in used if isinstance(source, OnGuide))


def corners_of(used: InUse, sources: Sources) -> Floats:
    """Where the guides in use bend, within the stretch that uses them, (k,)."""
    found = [np.empty(0)]
    for key, low, high in used:
        if key in sources.guides:
            corners = guide_corners(sources.guides[key], sources)
            found.append(corners[(corners >= low) & (corners <= high)])
    return np.concatenate(found)


def widths_of(settings: SectionSettings) -> tuple[float, float]:
    """How far sections reach, offsets in m."""
    return float(settings.left), float(settings.right)


def cut_at(surface: Tin, frames: Frames, widths: tuple[float, float]) -> Polylines:
    """A surface cut on the sections."""
    n = len(frames.chainage)
    return cut_sections(surface, frames.origin, frames.to_right, np.full(n, widths[0]), np.full(n, widths[1]))


def nothing_cut(frames: Frames) -> Polylines:
    """A surface that is not there."""
    return Polylines(np.empty((len(frames.chainage), 0)), np.empty((len(frames.chainage), 0)))


def cuts_of(right: dict[str, Polylines], left: dict[str, Polylines]) -> dict[str, dict[int, Polylines]]:
    """Surfaces by key and side; left: the mirrored ones."""
    return {name: {LEFT: left[name], RIGHT: right[name]} for name in right}


def other_surfaces(
    compiled: dict[Use, CompiledTemplate], templates: dict[str, TemplateSpec], make_ups: dict[str, MakeUp]
) -> tuple[str, ...]:
    """Keys of the surfaces that templates look at besides the main one."""
    used = {
        key for use in compiled for key in (use.template, *(p.template for p in (use.left, use.right) if p is not None)) if key
    }
    return tuple(sorted({n for key in used for n in surfaces_of(templates[key], make_ups)} - {MAIN_SURFACE}))


def boundaries_at(frames: Frames, sources: Sources) -> Floats:
    """Offsets of the guides that are boundaries, (n, g) m; NaN where one is not."""
    found = [guide_line(g, frames, sources).offset for g in sources.guides.values() if g.use == "boundary"]
    return np.column_stack(found) if found else np.empty((len(frames.chainage), 0))


Wanted = tuple[tuple[PointSource, int], ...]


def wanted_by(compiled: dict[Use, CompiledTemplate], plan: TemplatePlan) -> Wanted:
    """Guides and lines that the templates in use and medians look for, with the side that looks."""
    wanted: dict[tuple[PointSource, int], None] = {}
    for item in plan.ranges:
        beyond = [(item.beyond(side), side) for side in (LEFT, RIGHT)]
        wanted.update({(OnGuide(guide=b.guide), side): None for b, side in beyond if isinstance(b, MedianBeyond)})
    for template in compiled.values():
        for side, half in ((LEFT, template.left), (RIGHT, template.right)):
            for point in half.points:
                if isinstance(point, Point):
                    wanted.update({(source, side): None for source in point.sources()})
            if half.boundary is not None:
                wanted[half.boundary, side] = None
    return tuple(wanted)


def find_sources(
    wanted: Wanted, frames: Frames, sources: Sources, lines: RoadLinesFound
) -> dict[tuple[PointSource, int], GuideLine]:
    """What every source gives, as outward offset and level. What lies on the other side of the hinge is not followed, so
    that a mirrored template may name the guide of one side."""
    found = {}
    for source, side in wanted:
        line = line_of(source, frames, sources, side)
        with np.errstate(invalid="ignore"):
            beyond = side * (line.offset - lines.hinge) > 0
        found[source, side] = GuideLine(np.where(beyond, side * line.offset, np.nan), np.where(beyond, line.level, np.nan))
    return found
