"""Which survey a request asks about."""

from django.http import HttpRequest

from config.errors import Refused
from projects.access import project_for
from saddle.terrain.survey import Survey
from survey.bodies import FoundPoint
from survey.store import current_id, survey_of, surveys_of


def import_of(request: HttpRequest, project_id: int, of: int | None = None) -> int:
    """The import that is asked for, or the one in use."""
    project = project_for(request, project_id)
    found = current_id(project) if of is None else surveys_of(project).filter(pk=of).values_list("pk", flat=True).first()
    if found is None:
        raise Refused(404, "there is no survey yet", "survey", "import one at the stop Survey")
    return found


def survey_for(request: HttpRequest, project_id: int) -> Survey:
    """The survey that counts. Raises Refused 404 before there is one."""
    survey = survey_of(project_for(request, project_id))
    if survey is None:
        raise Refused(404, "there is no survey yet", "survey", "import one at the stop Survey")
    return survey


def found_points(survey: Survey, which: list[int]) -> list[FoundPoint]:
    """Points of a survey by their places in it."""
    return [
        FoundPoint(number=str(survey.number[i]), code=str(survey.code[i]), line=str(survey.line[i]), east=x, north=y, level=z)
        for i in which
        for x, y, z in [survey.xyz[i].tolist()]
    ]
