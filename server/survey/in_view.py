"""What a part of the survey shows in plan: points, triangles, contours; and points by their number."""

from typing import Annotated

import numpy as np
import shapely
from django.http import HttpRequest
from ninja import Path, Query, Router, Schema
from pydantic import Field

from config.errors import ERRORS, Refused
from projects.access import project_for
from saddle.documents import MAIN
from saddle.terrain.contours import contours, interval_for
from saddle.terrain.tin import Tin
from survey.asked import found_points, import_of, survey_for
from survey.bodies import FoundPoint
from survey.store import backgrounds, in_use
from survey.surfaces import built, code_list, surface_specs

router = Router(tags=["survey"])
#: So many points, edges, and triangles with contours are sent at most.
MOST_DRAWN, MOST_CONTOURED = 30_000, 100_000
#: So many points are found at most.
MOST_FOUND = 8


class PointsOut(Schema):
    """Points in view. more: how many were left out."""

    east: list[float]
    north: list[float]
    level: list[float]
    code: list[str]
    number: list[str]
    more: int


class EdgesOut(Schema):
    """Triangle edges or pieces of lines in view, east and north of both ends by turns."""

    edges: list[list[float]]
    more: int


class ContourOut(Schema):
    """A contour: level, m, and east, north of its points."""

    level: float
    points: list[list[float]]


class ContoursOut(Schema):
    """Contours in view. interval: from one to the next, m; every fifth is drawn heavier. more: there are too many triangles in view to
    draw any."""

    interval: float
    lines: list[ContourOut]
    more: bool


@router.get("/survey/points", response={200: PointsOut, **ERRORS}, operation_id="surveyPoints")
def survey_points(request: HttpRequest, project_id: Path[int], west: float, south: float, east: float, north: float) -> PointsOut:
    """Points within a box, thinned evenly when there are too many to draw."""
    survey = survey_for(request, project_id)
    x, y = survey.xyz[:, 0], survey.xyz[:, 1]
    inside = np.flatnonzero((x >= west) & (x <= east) & (y >= south) & (y <= north))
    shown = _thinned(inside)
    p = survey.xyz[shown]
    return PointsOut(
        east=p[:, 0].tolist(), north=p[:, 1].tolist(), level=p[:, 2].tolist(), code=survey.code[shown].tolist(),
        number=survey.number[shown].tolist(), more=len(inside) - len(shown),
    )  # fmt: skip


@router.get("/survey/edges", response={200: EdgesOut, **ERRORS}, operation_id="surveyEdges")
def survey_edges(
    request: HttpRequest, project_id: Path[int], west: float, south: float, east: float, north: float, surface: str = MAIN
) -> EdgesOut:
    """Edges of a surface with an end within a box, thinned evenly when there are too many to draw."""
    tin = _surface(request, project_id, surface)
    edges = tin.edges()
    x, y = tin.points[edges, 0], tin.points[edges, 1]
    inside = np.flatnonzero(((x >= west) & (x <= east) & (y >= south) & (y <= north)).any(axis=1))
    shown = _thinned(inside)
    ends = tin.points[edges[shown], :2].reshape(-1, 4)
    return EdgesOut(edges=ends.tolist(), more=len(inside) - len(shown))


def _thinned(index: np.ndarray) -> np.ndarray:
    step = -(-len(index) // MOST_DRAWN) or 1
    return index[::step]


@router.get("/survey/contours", response={200: ContoursOut, **ERRORS}, operation_id="surveyContours")
def survey_contours(
    request: HttpRequest, project_id: Path[int], west: float, south: float, east: float, north: float, surface: str = MAIN
) -> ContoursOut:
    """Contours of a surface over its triangles within a box, as far apart as suits the height in view."""
    tin = _surface(request, project_id, surface)
    inside = tin.index.query(shapely.box(west, south, east, north))
    if not len(inside) or len(inside) > MOST_CONTOURED:
        return ContoursOut(interval=interval_for(0), lines=[], more=len(inside) > 0)
    interval = interval_for(float(np.ptp(tin.points[tin.triangles[inside], 2])))
    return ContoursOut(
        interval=interval, more=False,
        lines=[ContourOut(level=round(c.level, 3), points=c.points.round(3).tolist()) for c in contours(tin, inside, interval)],
    )  # fmt: skip


@router.get("/survey/background", response={200: EdgesOut, **ERRORS}, operation_id="surveyBackground")
def survey_background(
    request: HttpRequest, project_id: Path[int], west: float, south: float, east: float, north: float
) -> EdgesOut:
    """Pieces of the lines that lie beneath the survey, within a box, thinned evenly when there are too many to draw."""
    project = project_for(request, project_id)
    pieces = [np.empty((0, 2, 2)), *(s.xyz[s.segments][:, :, :2] for s in backgrounds(in_use(project)) if len(s.segments))]
    ends = np.concatenate(pieces)
    low, high = ends.min(axis=1), ends.max(axis=1)
    inside = np.flatnonzero((high[:, 0] >= west) & (low[:, 0] <= east) & (high[:, 1] >= south) & (low[:, 1] <= north))
    shown = _thinned(inside)
    return EdgesOut(edges=ends[shown].reshape(-1, 4).tolist(), more=len(inside) - len(shown))


@router.get("/survey/find", response={200: list[FoundPoint], **ERRORS}, operation_id="findPoints")
def find_points(
    request: HttpRequest, project_id: Path[int], number: Annotated[str, Query(), Field(max_length=80)]
) -> list[FoundPoint]:
    """Points whose number is or begins with what is asked for, the shortest first."""
    survey = survey_for(request, project_id)
    wanted = number.strip()
    if not wanted:
        return []
    # Not the numbers turned, of which there may be a million at every letter, but what is asked for.
    begins = [np.char.startswith(survey.number.astype(str), w) for w in {wanted, wanted.upper(), wanted.lower()}]
    found = np.flatnonzero(np.logical_or.reduce(begins))
    order = sorted(found.tolist(), key=lambda i: (len(survey.number[i]), survey.number[i]))[:MOST_FOUND]
    return found_points(survey, order)


def _surface(request: HttpRequest, project_id: int, key: str) -> Tin:
    import_of(request, project_id)
    project = project_for(request, project_id)
    spec = surface_specs(project).get(key)
    if spec is None:
        raise Refused(404, f"there is no surface “{key}”", "surface", "choose one of the list")
    return built(project, spec, code_list(project))[0]
