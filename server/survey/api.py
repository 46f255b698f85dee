"""Survey files in, and what is drawn of a survey in plan."""

from typing import Annotated, Any

import numpy as np
from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import File, Path, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from config.errors import ErrorOut, Refused
from jobs.api import JobOut, job_out
from jobs.run import start
from projects.access import project_for
from projects.models import Role
from saddle.exchange.survey_csv import ColumnMapping, decode, preview
from saddle.terrain.survey import CodeRule
from survey.models import Survey, Upload
from survey.store import current_id, load

router = Router(tags=["survey"])
ERRORS = {400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 413: ErrorOut}
#: Points or edges sent at once; the answer says when there are more in view.
MOST_DRAWN = 30_000


class UploadOut(Schema):
    """An uploaded file: its first rows and the columns guessed."""

    id: int
    name: str
    delimiter: str
    header: bool
    rows: list[list[str]]
    columns: dict[str, int | None]


class ImportIn(Schema):
    """How to read the file. rules: what codes mean; those not given are guessed. longest_edge: m, null for no limit."""

    mapping: ColumnMapping
    rules: Annotated[list[CodeRule], Field(max_length=2000)] = []
    longest_edge: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = 60.0


class CodeFound(CodeRule):
    """A code with how often it stands in the file."""

    points: int
    lines: int


class SkippedOut(Schema):
    row: int
    reason: str


class SurveyReport(Schema):
    """What a survey holds. extent: least east, north, level, then greatest."""

    name: str
    points: int
    triangles: int
    extent: list[float]
    codes: list[CodeFound]
    skipped: list[SkippedOut]
    skipped_total: int
    crossings: list[str]


class LineOut(Schema):
    """A survey line in plan: east, north, level by turns."""

    code: str
    name: str
    points: list[list[float]]


class PointsOut(Schema):
    """Points in view. more: how many were left out."""

    east: list[float]
    north: list[float]
    level: list[float]
    code: list[str]
    number: list[str]
    more: int


class EdgesOut(Schema):
    """Triangle edges in view, east and north of both ends by turns."""

    edges: list[list[float]]
    more: int


@router.post("/uploads", response={200: UploadOut, **ERRORS}, operation_id="uploadSurvey")
def upload_survey(request: HttpRequest, project_id: Path[int], file: File[UploadedFile]) -> UploadOut:
    """Take a file in and look at its beginning; nothing is imported yet."""
    project = project_for(request, project_id, Role.DESIGNER)
    if (file.size or 0) > settings.UPLOAD_LIMIT:
        raise Refused(413, f"the file is larger than {settings.UPLOAD_LIMIT // 1024 // 1024} MB", "file", "split the survey")
    content = file.read()
    found = preview(decode(content))
    assert isinstance(request.user, User)
    Upload.objects.filter(project=project, user=request.user).delete()
    row = Upload.objects.create(project=project, user=request.user, name=(file.name or "survey.csv")[:200], content=content)
    return UploadOut(
        id=row.pk, name=row.name, delimiter=found.delimiter, header=found.header, rows=found.rows, columns=found.columns
    )


@router.post("/uploads/{upload_id}/check", response={200: JobOut, **ERRORS}, operation_id="checkSurvey")
def check_survey(request: HttpRequest, project_id: Path[int], upload_id: int, payload: ImportIn) -> JobOut:
    """Start reading the whole file, writing nothing; the job's result is what was found."""
    return _start(request, project_id, upload_id, payload, "check_survey")


@router.post("/uploads/{upload_id}/import", response={200: JobOut, **ERRORS}, operation_id="importSurvey")
def import_survey(request: HttpRequest, project_id: Path[int], upload_id: int, payload: ImportIn) -> JobOut:
    """Start the import; points, lines and surface appear together at its end."""
    return _start(request, project_id, upload_id, payload, "import_survey")


def _start(request: HttpRequest, project_id: int, upload_id: int, payload: ImportIn, kind: str) -> JobOut:
    project = project_for(request, project_id, Role.DESIGNER)
    if not Upload.objects.filter(pk=upload_id, project=project).exists():
        raise Refused(404, "the uploaded file is gone", "file", "choose it again")
    params = {"upload": upload_id, **payload.model_dump(mode="json")}
    return job_out(start(project, request.user, kind, params))


def _current(request: HttpRequest, project_id: int) -> int:
    found = current_id(project_for(request, project_id))
    if found is None:
        raise Refused(404, "there is no survey yet", "survey", "import one at the stop Survey")
    return found


@router.get("/survey", response={200: SurveyReport, **ERRORS}, operation_id="readSurvey")
def read_survey(request: HttpRequest, project_id: Path[int]) -> dict[str, Any]:
    """What the survey holds."""
    row = Survey.objects.only("name", "report").get(pk=_current(request, project_id))
    return {"name": row.name, **row.report}


@router.get("/survey/lines", response={200: list[LineOut], **ERRORS}, operation_id="surveyLines")
def survey_lines(request: HttpRequest, project_id: Path[int]) -> list[LineOut]:
    """All coded lines in plan."""
    survey, _ = load(_current(request, project_id))
    lines: list[LineOut] = []
    last = -1
    for a, b in survey.segments.tolist():
        if a != last:
            lines.append(LineOut(code=str(survey.code[a]), name=str(survey.line[a]), points=[survey.xyz[a].tolist()]))
        lines[-1].points.append(survey.xyz[b].tolist())
        last = b
    return lines


@router.get("/survey/points", response={200: PointsOut, **ERRORS}, operation_id="surveyPoints")
def survey_points(request: HttpRequest, project_id: Path[int], west: float, south: float, east: float, north: float) -> PointsOut:
    """Points within a box, thinned evenly when there are too many to draw."""
    survey, _ = load(_current(request, project_id))
    x, y = survey.xyz[:, 0], survey.xyz[:, 1]
    inside = np.flatnonzero((x >= west) & (x <= east) & (y >= south) & (y <= north))
    shown = _thinned(inside)
    p = survey.xyz[shown]
    return PointsOut(
        east=p[:, 0].tolist(), north=p[:, 1].tolist(), level=p[:, 2].tolist(), code=survey.code[shown].tolist(),
        number=survey.number[shown].tolist(), more=len(inside) - len(shown),
    )  # fmt: skip


@router.get("/survey/edges", response={200: EdgesOut, **ERRORS}, operation_id="surveyEdges")
def survey_edges(request: HttpRequest, project_id: Path[int], west: float, south: float, east: float, north: float) -> EdgesOut:
    """Triangle edges with an end within a box, thinned evenly when there are too many to draw."""
    _, surface = load(_current(request, project_id))
    edges = surface.edges()
    x, y = surface.points[edges, 0], surface.points[edges, 1]
    inside = np.flatnonzero(((x >= west) & (x <= east) & (y >= south) & (y <= north)).any(axis=1))
    shown = _thinned(inside)
    ends = surface.points[edges[shown], :2].reshape(-1, 4)
    return EdgesOut(edges=ends.tolist(), more=len(inside) - len(shown))


def _thinned(index: np.ndarray) -> np.ndarray:
    step = -(-len(index) // MOST_DRAWN) or 1
    return index[::step]
