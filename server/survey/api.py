"""Survey files in, and what is drawn of a survey in plan."""

from typing import Annotated, Any, Literal

from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import File, Path, Query, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from config.errors import ERRORS, Refused
from config.memory import CACHE
from foreign.apart import apart, for_a_look
from jobs.api import JobOut, job_out
from jobs.models import Job
from jobs.run import start
from projects.access import project_for
from projects.models import Project, Role
from saddle.documents_base import Number
from saddle.errors import SaddleError
from saddle.exchange.dxf.spec import DrawingMapping
from saddle.exchange.found import Doubt
from saddle.exchange.readers import FirstRows, Format, codes_apart, first_look, first_rows
from saddle.exchange.systems import with_words
from saddle.terrain.in_use import SYSTEM_CODE
from saddle.terrain.spec import MOST_CODES, Along, CodeRule, ColumnMapping, Encoding, FileUnit, Structures, Thinning
from saddle.terrain.structures import from_survey
from saddle.terrain.survey import chains, polylines
from saddle.terrain.survey_changes import SurveyChanges, changes
from saddle.terrain.together import in_words
from survey.asked import found_points, import_of, survey_for
from survey.bodies import CodesOut, FoundPoint, ImportOut, SurveyReport
from survey.codes import codes_out
from survey.demo_road import refuse_unless_empty
from survey.importing import counts
from survey.looks import way_of
from survey.models import Survey, Upload
from survey.store import counted, identity, in_use, load, surveys_of
from survey.surfaces import built, code_list, surface_specs

router = Router(tags=["survey"])


class UploadOut(Schema):
    """An uploaded file. Of a CSV its first rows behind `skip` lines of a title, and the columns guessed; of other formats those are empty. unit: of files of the
    project that do not say theirs; encoding: of its letters; along: whether it is a levelling sheet; sheets: of a workbook, their names; breaks: where columns of fixed widths begin; lines: the rows as they stand in the file."""

    id: int
    name: str
    format: Format
    delimiter: str
    decimal: Literal[".", ","]
    unit: FileUnit
    header: bool
    skip: int
    breaks: list[int]
    encoding: Encoding
    along: Along
    sheets: list[str]
    lines: list[str]
    rows: list[list[str]]
    columns: dict[str, int | None]


class ImportIn(Schema):
    """How to read the file and what to take. mapping: of the columns of a CSV; rules: what codes mean, those not given
    are guessed; longest_edge: m, null for no limit; surfaces, alignments: which to take, by number in the file; profiles_left: which of their profiles not, as alignment.profile;
    mode: the points replace the survey, are added to it, or replace the part that they cover, or lie beneath it as a background; drawing: how a DXF is read; swapped, unit: of all but a CSV, when their
    coordinates are not what the file says; system: reference system of the file, as EPSG:n, empty for what it says itself; into: the one that a project gets which has none yet, empty for that of the file; none: levels that stand for none, of all but a CSV, whose mapping says them, null for those that are found; thinning: of a point cloud; sure: doubts that were looked at and are no mistakes."""

    mapping: ColumnMapping | None = None
    drawing: DrawingMapping | None = None
    swapped: bool = False
    unit: FileUnit | None = None
    none: Annotated[list[Number], Field(max_length=20)] | None = None
    thinning: Thinning | None = None
    sure: list[Doubt] = []
    system: Annotated[str, Field(pattern=SYSTEM_CODE)] = ""
    into: Annotated[str, Field(pattern=SYSTEM_CODE)] = ""
    rules: Annotated[list[CodeRule], Field(max_length=MOST_CODES)] = []
    longest_edge: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = 60.0
    surfaces: list[int] = []
    alignments: list[int] = []
    profiles_left: Annotated[list[Annotated[str, Field(pattern=r"^\d{1,6}\.\d{1,6}$")]], Field(max_length=1000)] = []
    mode: Literal["replace", "add", "part", "background"] = "replace"


class SpikeOut(Schema):
    """A point far from its neighbours' plane. number: of the survey point, null where there is none; above: m."""

    number: str | None
    east: float
    north: float
    level: float
    above: float


class SurfaceOut(Schema):
    """A surface as built. wrong: why it could not be."""

    key: str
    points: int = 0
    triangles: int = 0
    conflicts: list[str] = []
    crossings: list[str] = []
    spikes: list[SpikeOut] = []
    wrong: str | None = None


class CompareIn(Schema):
    """Keys of two surfaces."""

    first: str
    second: str


class LineOut(Schema):
    """A survey line in plan: east, north, level by turns."""

    code: str
    name: str
    points: list[list[float]]


class SystemOut(Schema):
    """A reference system in plan. code: EPSG:n."""

    code: str
    name: str


@router.get("/survey/systems", response={200: list[SystemOut], **ERRORS}, operation_id="findSystems")
def find_systems(
    request: HttpRequest, project_id: Path[int], words: Annotated[str, Query(max_length=60)] = ""
) -> list[SystemOut]:
    """Reference systems by words of their names or by their number."""
    project_for(request, project_id)
    return [SystemOut(code=code, name=name) for code, name in with_words(words)]


@router.post("/uploads", response={200: UploadOut, **ERRORS}, operation_id="uploadSurvey")
def upload_survey(request: HttpRequest, project_id: Path[int], file: File[UploadedFile]) -> UploadOut:
    """Take a file in and look at its beginning; nothing is imported yet."""
    project = project_for(request, project_id, Role.DESIGNER)
    if (file.size or 0) > settings.UPLOAD_LIMIT:
        raise Refused(413, f"the file is larger than {settings.UPLOAD_LIMIT // 1024 // 1024} MB", "file", "split the survey")
    content = file.read()
    name = (file.name or "survey.csv")[:200]
    room = for_a_look(len(content))
    kind, found = apart(first_look, content, name, room=room)
    assert isinstance(request.user, User)
    # What was sent before and not imported goes, but for what a job is still to read.
    open_ = Job.objects.filter(project=project, state__in=(Job.State.WAITING, Job.State.RUNNING), params__has_key="upload")
    kept = list(open_.values_list("params__upload", flat=True))
    Upload.objects.filter(project=project, user=request.user).exclude(pk__in=kept).delete()
    row = Upload.objects.create(project=project, user=request.user, name=name, content=content)
    return _uploaded(row, kind, found)


@router.get("/uploads/{upload_id}", response={200: UploadOut, **ERRORS}, operation_id="previewUpload")
def preview_upload(
    request: HttpRequest,
    project_id: Path[int],
    upload_id: int,
    delimiter: Annotated[str | None, Query(min_length=1, max_length=1)] = None,
    skip: Annotated[int | None, Query(ge=0, le=1000)] = None,
    widths: Annotated[str | None, Query(pattern=r"^(\d{1,4}(,\d{1,4}){0,99})?$")] = None,
    encoding: Encoding | None = None,
    sheet: Annotated[str, Query(max_length=100)] = "",
) -> UploadOut:
    """The first rows of an uploaded CSV divided by another delimiter, behind so many lines; both are guessed where they are not given.
    widths: where columns begin instead of a delimiter, as 8,20,32; guessed where it is empty or 0; encoding: guessed where none is given; sheet: of a workbook, the first where none is given."""
    project = project_for(request, project_id, Role.DESIGNER)
    breaks = None if widths is None else sorted({int(w) for w in widths.split(",") if w and int(w) > 0})
    row = _upload(project, upload_id)
    content = bytes(row.content)
    return _uploaded(
        row, "csv", apart(first_rows, content, delimiter, skip, breaks, encoding, sheet, room=for_a_look(len(content)))
    )


@router.post("/uploads/{upload_id}/codes", response={200: CodesOut, **ERRORS}, operation_id="takeCodesApart")
def take_codes_apart(request: HttpRequest, project_id: Path[int], upload_id: int, payload: ColumnMapping) -> CodesOut:
    """The codes of an uploaded CSV taken apart, on its first rows; without a grammar by the one that fits them best."""
    project = project_for(request, project_id, Role.DESIGNER)
    content, known = bytes(_upload(project, upload_id).content), code_list(project)
    return codes_out(apart(codes_apart, content, payload, known, way_of(project), room=for_a_look(len(content))), known)


def _upload(project: Project, upload_id: int) -> Upload:
    row = Upload.objects.filter(pk=upload_id, project=project).first()
    if row is None:
        raise Refused(404, "the uploaded file is gone", "file", "choose it again")
    return row


def _unit(said: FileUnit | None, usual: FileUnit) -> FileUnit:
    """Of a file whose headings say one, or none; feet of no kind are those of the project."""
    return usual if said is None or (said == "foot" and usual == "us_survey_foot") else said


def _uploaded(row: Upload, kind: Format, read: FirstRows) -> UploadOut:
    found = read.preview
    return UploadOut(
        id=row.pk, name=row.name, format=kind, delimiter=found.delimiter, decimal=found.decimal,
        unit=_unit(found.unit, in_use(row.project).unit), encoding=read.encoding, along=found.along, sheets=list(read.sheets), header=found.header, skip=found.skip, breaks=list(found.breaks), lines=list(found.lines), rows=found.rows, columns=found.columns,
    )  # fmt: skip


@router.post("/uploads/{upload_id}/check", response={200: JobOut, **ERRORS}, operation_id="checkSurvey")
def check_survey(request: HttpRequest, project_id: Path[int], upload_id: int, payload: ImportIn) -> Any:
    """Start reading the whole file, writing nothing; the job's result is what was found."""
    return _start(request, project_id, upload_id, payload, "check_survey")


@router.post("/uploads/{upload_id}/import", response={200: JobOut, **ERRORS}, operation_id="importSurvey")
def import_survey(request: HttpRequest, project_id: Path[int], upload_id: int, payload: ImportIn) -> Any:
    """Start the import; points, lines and surface appear together at its end."""
    return _start(request, project_id, upload_id, payload, "import_survey")


def _start(request: HttpRequest, project_id: int, upload_id: int, payload: ImportIn, kind: str) -> Any:
    project = project_for(request, project_id, Role.DESIGNER)
    params = {"upload": _upload(project, upload_id).pk, **payload.model_dump(mode="json")}
    return job_out(start(project, request.user, kind, params))


@router.get("/survey", response={200: SurveyReport, **ERRORS}, operation_id="readSurvey")
def read_survey(request: HttpRequest, project_id: Path[int]) -> dict[str, Any]:
    """What the survey that counts holds: its imports as they are edited, and what was left out of each."""
    row = Survey.objects.only("name", "report").get(pk=import_of(request, project_id))
    used = in_use(project_for(request, project_id))
    found = {"name": row.name, **row.report, "edits": [in_words(e) for e in used.edits], "told": []}
    if not used.beside and not used.edits:
        return found
    whole = counted(used)
    beside = [b.survey for b in used.beside if b.on and not b.background]
    others = Survey.objects.filter(pk__in=beside).values_list("name", "report")
    more = [{**s, "reason": f"{name}: {s['reason']}"} for name, report in others for s in report["skipped"]]
    return {
        **found,
        **CACHE.get(f"counts {identity(used)}", "survey counts", lambda: counts(whole.survey)),
        "points": len(whole.survey.number),
        "skipped": [*found["skipped"], *more],
        "skipped_total": found["skipped_total"] + sum(report["skipped_total"] for _, report in others),
        "told": list(whole.told),
    }


@router.get("/surveys", response={200: list[ImportOut], **ERRORS}, operation_id="listImports")
def list_imports(request: HttpRequest, project_id: Path[int]) -> list[ImportOut]:
    """Every import of the project, the newest first. Which one counts is the document of kind survey."""
    project = project_for(request, project_id)
    rows = surveys_of(project).select_related("user").defer("original", "arrays", "report").order_by("-id")
    used = in_use(project)
    counting = {used.survey, *(b.survey for b in used.beside if b.on)}
    return [
        ImportOut(
            id=r.pk, name=r.name, points=r.points, who=(r.user.get_full_name() or r.user.username) if r.user else "somebody",
            at=r.created_at.isoformat(timespec="seconds"), in_use=r.pk in counting,
        )
        for r in rows
    ]  # fmt: skip


@router.get("/surveys/changes", response={200: SurveyChanges, **ERRORS}, operation_id="surveyChanges")
def survey_changes(request: HttpRequest, project_id: Path[int], first: int, second: int) -> SurveyChanges:
    """What changed from one import to another, point by point."""
    project = project_for(request, project_id)
    if surveys_of(project).filter(pk__in=(first, second)).count() != len({first, second}):
        raise Refused(404, "there is no such import in this project", "survey", "choose one of the list of imports")
    return changes(load(first).survey, load(second).survey)


@router.get("/survey/surfaces", response={200: list[SurfaceOut], **ERRORS}, operation_id="listSurfaces")
def list_surfaces(request: HttpRequest, project_id: Path[int]) -> list[SurfaceOut]:
    """Every surface of the project as built, with what was noticed on the way."""
    import_of(request, project_id)
    project = project_for(request, project_id)
    codes, out = code_list(project), []
    for key, spec in surface_specs(project).items():
        try:
            out.append(SurfaceOut(key=key, **built(project, spec, codes)[1]))
        except SaddleError as error:
            out.append(SurfaceOut(key=key, wrong=error.message))
    return out


@router.post("/survey/compare", response={200: JobOut, **ERRORS}, operation_id="compareSurfaces")
def compare_surfaces(request: HttpRequest, project_id: Path[int], payload: CompareIn) -> Any:
    """Start comparing two surfaces; the job's result is cut and fill. Nothing is written."""
    project = project_for(request, project_id, Role.DESIGNER)
    known = surface_specs(project)
    for key in (payload.first, payload.second):
        if key not in known:
            raise Refused(404, f"there is no surface “{key}”", "surface", "choose one of the list")
    return job_out(start(project, request.user, "compare_surfaces", payload.model_dump()))


@router.post("/demo-road", response={200: JobOut, **ERRORS}, operation_id="fillWithDemoRoad")
def demo_road(request: HttpRequest, project_id: Path[int]) -> Any:
    """Start putting the demo road into a project that is empty."""
    project = project_for(request, project_id, Role.DESIGNER)
    refuse_unless_empty(project)
    return job_out(start(project, request.user, "demo_road", {}))


@router.get("/survey/structures", response={200: Structures, **ERRORS}, operation_id="structuresOfSurvey")
def structures_of_survey(request: HttpRequest, project_id: Path[int]) -> Structures:
    """Pits and pipes that the codes of the survey tell of; nothing is written."""
    return from_survey(survey_for(request, project_id), code_list(project_for(request, project_id)))


@router.get("/survey/lines", response={200: list[LineOut], **ERRORS}, operation_id="surveyLines")
def survey_lines(request: HttpRequest, project_id: Path[int]) -> list[LineOut]:
    """All coded lines in plan, of the survey that counts."""
    return [LineOut(code=p.code, name=p.name, points=p.points.tolist()) for p in polylines(survey_for(request, project_id))]


@router.get("/survey/line", response={200: list[FoundPoint], **ERRORS}, operation_id="pointsOfLine")
def points_of_line(
    request: HttpRequest,
    project_id: Path[int],
    code: Annotated[str, Query(max_length=80)],
    name: Annotated[str, Query(max_length=90)],
) -> list[FoundPoint]:
    """The points of a line, in order; a closed one has its first point at its end again. None of a line that is not there."""
    survey = survey_for(request, project_id)
    found = (c for c in chains(survey) if survey.code[c[0]] == code and survey.line[c[0]] == name)
    return found_points(survey, next(found, []))
