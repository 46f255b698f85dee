"""A file before it is taken in, as the import dialog draws it."""

from dataclasses import asdict

import numpy as np

from design.specs import the_spec
from projects.models import Project
from saddle.alignment.alignment import Alignment, build
from saddle.alignment.spec import AlignmentSpec
from saddle.errors import SaddleError
from saddle.exchange.dxf.read import DrawingFound
from saddle.exchange.found import Found
from saddle.exchange.placing import Placing, factor
from saddle.geometry.polylines import Floats, Ints
from saddle.terrain.sketch import sketch, some
from saddle.terrain.spec import CodeList
from saddle.terrain.survey import BuiltSurface, Survey
from survey.bodies import DoubtOut, DrawnFile, MarkOut, OutlineOut, PlacingOut, ReadingOut, SketchOut
from survey.store import current_id, load, survey_of

#: The alignment is looked at every so many metres.
STEP = 5.0
#: How an alignment of a file is drawn.
ALIGNMENT = "#A4602C"
#: Places of what is there that are drawn.
DRAWN = 1500


def what_is_there(project: Project) -> Floats:
    """Places (n, 3) that the project has, m: of its survey, and of its alignment, whose levels are NaN."""
    places: list[Floats] = [np.empty((0, 3))]
    survey, first = survey_of(project), current_id(project)
    if survey is not None and first is not None:
        places += [survey.xyz, *(t.points for t in load(first).surfaces)]
    plan = way_of(project)
    if plan is not None:
        places.append(np.column_stack([plan, np.full(len(plan), np.nan)]))
    return np.vstack(places)


def chainages_of(project: Project, survey: Survey) -> Floats:
    """Chainages of the points of a survey (n,), m; NaN beside the alignment, and everywhere where there is none."""
    spec = the_spec(project, AlignmentSpec, "alignment")
    line = None if spec is None else _built(spec)
    return np.full(len(survey.number), np.nan) if line is None else line.locate(survey.xyz[:, :2])[0]


def way_of(project: Project) -> Floats | None:
    """Places along the alignment (k, 2), m; None without one."""
    spec = the_spec(project, AlignmentSpec, "alignment")
    return None if spec is None else _places(spec)


def _places(spec: AlignmentSpec) -> Floats | None:
    line = _built(spec)
    return None if line is None else line.frames(np.append(np.arange(line.start, line.end, STEP), line.end)).origin


def _built(spec: AlignmentSpec) -> Alignment | None:
    """One that cannot be built says nothing about places."""
    try:
        return build(spec)
    except SaddleError:
        return None


def placing_out(placing: Placing, there: Floats) -> PlacingOut:
    """there: what the project has."""
    read, other = placing.read, placing.other
    return PlacingOut(
        apart=read.apart,
        other=None if other is None else ReadingOut(
            swapped=other.reading.swapped != read.reading.swapped, unit=other.reading.unit or "metre",
            factor=factor(read.reading, other.reading), apart=other.apart,
        ),
        doubts=[DoubtOut(kind=kind, words=words) for kind, words in placing.doubts.items()],
        there=there[:: max(1, -(-len(there) // DRAWN)), :2].tolist(),
    )  # fmt: skip


def sketched(survey: Survey, rows: Ints, surface: BuiltSurface | None, codes: CodeList, found: Found) -> SketchOut:
    """The survey as it would be, from above, with the alignments of the file; of a file without points the corners of its surfaces. rows:
    of the file."""
    drawn = sketch(survey, rows, surface)
    colours = {code: codes.rule(code).colour for code, _ in drawn.lines}
    corners = [t.tin.points[:, :2] for t in found.surfaces if len(survey.number) == 0]
    points = some(np.vstack([drawn.points, *corners]))
    lines = [OutlineOut(code=code, colour=colours[code], points=points.tolist()) for code, points in drawn.lines]
    ways = [(a.spec.name, _places(a.spec)) for a in found.alignments]
    lines += [OutlineOut(code=name, colour=ALIGNMENT, points=some(way).tolist()) for name, way in ways if way is not None]
    return SketchOut(points=points.tolist(), lines=lines, marks=[MarkOut(**asdict(m)) for m in drawn.marks])


def drawing_out(found: DrawingFound) -> DrawnFile:
    """A drawing layer by layer."""
    return DrawnFile.model_validate(asdict(found) | {"blocks": [{**asdict(b), "rule": b.rule} for b in found.blocks]})
