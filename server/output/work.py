"""Asking for long work that follows from a state of the project. Asked for twice it is computed once."""

from typing import Any, Literal, get_args

from django.http import HttpRequest
from django.utils import timezone
from ninja import Path, Router

from config.errors import ERRORS
from jobs.api import JobOut, job_out
from jobs.run import start
from projects.access import project_for
from road.inputs import stamp_of
from road.model import road_model
from saddle.stages.keys import code_version, digest

router = Router(tags=["work"])
OfRoad = Literal["sheets", "sheets_pdf", "sheets_dxf", "volume_check", "depth_surfaces"]
OfSurvey = Literal["survey_landxml", "survey_dxf"]


@router.post("/jobs/{kind}", response={200: JobOut, **ERRORS}, operation_id="startWork")
def start_work(request: HttpRequest, project_id: Path[int], kind: OfRoad | OfSurvey) -> Any:
    """The work of a kind for the project as it is: the one that is done or under way, else it is begun."""
    project = project_for(request, project_id)
    if kind not in get_args(OfSurvey):
        road_model(project)  # refuses where there is no road
    key = digest(code_version(), kind, stamp_of(project), project.name, timezone.now().date().isoformat())
    return job_out(start(project, request.user, kind, {}, key))
