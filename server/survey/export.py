"""The survey out again: CSV and the file as it came at once, LandXML and DXF as jobs."""

import re

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Path, Router

from config.downloads import attachment, file_name
from config.errors import ERRORS, Refused
from design.specs import read_specs
from jobs.models import Job
from jobs.run import FileMade, Report, handles, keep_made
from projects.access import project_for
from projects.models import Project
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec
from saddle.errors import SaddleError
from saddle.exchange.dxf.write import write_dxf
from saddle.exchange.landxml_write import write_landxml
from saddle.exchange.survey_csv import write_csv
from saddle.terrain.spec import Plane
from saddle.terrain.survey import Survey, line_orders
from saddle.terrain.tin import Tin
from survey import models
from survey.asked import import_of
from survey.store import in_use, survey_of
from survey.surfaces import built, code_list, surface_specs

router = Router(tags=["files"])


def _survey(project: Project) -> Survey:
    found = survey_of(project)
    if found is None:
        raise Refused(404, "there is no survey yet", "survey", "import one at the stop Survey")
    return found


def _surfaces(project: Project) -> dict[str, Tin]:
    codes = code_list(project)
    out = {}
    for spec in surface_specs(project).values():
        if isinstance(spec.source, Plane):
            continue
        try:
            out[spec.name] = built(project, spec, codes)[0]
        except SaddleError:
            continue  # a surface that cannot be built is shown as such at its stop
    return out


def _alignments(project: Project) -> tuple[list[AlignmentSpec], dict[str, list[ProfileSpec]]]:
    specs = read_specs(project, "alignment", "profile").specs
    by_key = {key: s for (_, key), s in specs.items() if isinstance(s, AlignmentSpec)}
    profiles = [s for s in specs.values() if isinstance(s, ProfileSpec)]
    return list(by_key.values()), {a.name: [p for p in profiles if p.alignment == key] for key, a in by_key.items()}


@router.get("/files/survey.csv", response={200: None, **ERRORS}, operation_id="surveyCsv")
def survey_csv(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """Points with codes and lines."""
    project = project_for(request, project_id)
    s = _survey(project)
    text = write_csv(s.number.tolist(), s.xyz, s.code.tolist(), s.line.tolist(), line_orders(s).tolist())
    return attachment(project.name, "survey.csv", text.encode(), "text/csv")


def _whole(job: Job, report: Report) -> tuple[Survey, dict[str, Tin]]:
    """The survey and its surfaces, which take the time."""
    survey = _survey(job.project)
    report(0.1)
    surfaces = _surfaces(job.project)
    report(0.5)
    return survey, surfaces


@handles("survey_landxml", FileMade, minutes=10)
def survey_landxml(job: Job, report: Report) -> FileMade:
    """Points, lines, surfaces, alignments and profiles as LandXML 1.2."""
    content = write_landxml(
        *_whole(job, report), *_alignments(job.project), timezone.now().date().isoformat(), in_use(job.project).system
    )
    return keep_made(job, file_name(job.project.name, "survey.xml"), "application/xml", content)


@handles("survey_dxf", FileMade, minutes=10)
def survey_dxf(job: Job, report: Report) -> FileMade:
    """Points, lines, surfaces and alignments as DXF, by layer."""
    content = write_dxf(*_whole(job, report), _alignments(job.project)[0], in_use(job.project).system)
    return keep_made(job, file_name(job.project.name, "survey.dxf"), "image/vnd.dxf", content)


@router.get("/files/survey-original", response={200: None, **ERRORS}, operation_id="surveyOriginal")
def survey_original(request: HttpRequest, project_id: Path[int], of: int | None = None) -> HttpResponse:
    """The file of an import, or of the first that counts, as it came."""
    row = models.Survey.objects.only("name", "original").get(pk=import_of(request, project_id, of))
    safe = re.sub(r"[^A-Za-z0-9._-]+", "-", row.name)
    return HttpResponse(
        bytes(row.original),
        content_type="application/octet-stream",
        headers={"Content-Disposition": f'attachment; filename="{safe}"'},
    )
