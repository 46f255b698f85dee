"""Asking for long work that follows from a state of the project. Asked for twice it is computed once."""

from typing import Any, Literal, get_args

from django.http import HttpRequest
from django.utils import timezone
from ninja import Path, Router

from config.errors import ERRORS, Refused
from design.specs import the_spec
from drawings.board import board_of
from drawings.models import Issue
from jobs.api import JobOut, job_out
from jobs.models import Job
from jobs.run import start
from projects.access import project_for
from projects.models import Project
from road.inputs import RoadKey, stamp_of
from road.model import road_model
from saddle.documents import MAIN
from saddle.drawings.spec import Drawing
from saddle.stages.keys import code_version, digest

router = Router(tags=["work"])
OfDrawing = Literal["sheets", "sheets_pdf", "sheets_dxf", "sheets_dxf_flat"]
OfProject = Literal["register"]
OfRoad = Literal["volume_check", "depth_surfaces"]
#: Work that is looked at and not kept.
LOOKED_AT = ("register", "sheets")
OfSurvey = Literal["survey_landxml", "survey_dxf"]


@router.post("/jobs/{kind}", response={200: JobOut, **ERRORS}, operation_id="startWork")
def start_work(
    request: HttpRequest,
    project_id: Path[int],
    kind: OfDrawing | OfProject | OfRoad | OfSurvey,
    drawing: str = "",
    road: RoadKey = MAIN,
) -> Any:
    """The work of a kind for the project as it is: the one that is done or under way, else it is begun. drawing: whose sheets; road: of
    what follows from one."""
    project = project_for(request, project_id)
    params: dict[str, str] = {}
    # What cannot be computed is refused here, not by a job.
    if kind in get_args(OfDrawing):
        params = {"drawing": drawing}
        road_model(project, _drawn(project, drawing).road)
    elif kind in get_args(OfRoad):
        params = {"road": road}
        road_model(project, road)
    elif kind in get_args(OfProject):
        board_of(project)
    issues = Issue.objects.filter(project=project).count()
    state = digest(code_version(), stamp_of(project), project.name, issues, timezone.now().date().isoformat())
    if kind in LOOKED_AT:
        # What somebody looked at before the last change is of no use to them any more, and would be in the way of what they look at now.
        open_ = Job.objects.filter(
            project=project, user=request.user.pk, kind__in=LOOKED_AT, state__in=(Job.State.WAITING, Job.State.RUNNING)
        )
        open_.exclude(key__startswith=state).update(cancel_requested=True)
    return job_out(start(project, request.user, kind, params, state + digest(kind, params)))


def _drawn(project: Project, key: str) -> Drawing:
    found = the_spec(project, Drawing, "drawing", key)
    if found is None:
        raise Refused(404, "there is no such drawing", f"drawing {key}", "choose one of the register")
    return found
