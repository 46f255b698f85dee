"""The typed API: one router per app."""

from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI
from ninja.security import SessionAuth

from accounts.api import router as accounts
from alignment.api import router as alignment
from alignment.profiles import router as profiles
from config.errors import install
from crossfalls.api import router as crossfalls
from design.api import router as design
from drawings.api import router as drawings
from drawings.reports import router as reports
from guides.api import router as guides
from jobs.api import router as jobs
from levels.api import router as levels
from library.api import in_project as library_in_project
from library.api import router as library
from lines.api import router as lines
from output.files import router as files
from output.work import router as work
from presence.api import router as presence
from projects.api import router as projects
from releases.api import router as releases
from road.api import router as road
from road.bench import router as bench
from road.measure import router as measure
from road.preview import router as preview
from road.roads import router as roads
from survey.api import router as survey
from survey.export import router as survey_files
from survey.in_view import router as survey_in_view
from treatments.api import router as treatments

api = NinjaAPI(title="Tin Saddle", version="1", auth=SessionAuth(csrf=True), docs_url=None, openapi_url=None)
install(api)


@api.get("/openapi.json", include_in_schema=False)
def description(request: HttpRequest) -> HttpResponse:
    """The API's description, for who is signed in."""
    return JsonResponse(api.get_openapi_schema(path_prefix="/api/"))


api.add_router("/session", accounts)
api.add_router("/projects", projects)
api.add_router("/projects/{project_id}", design)
api.add_router("/projects/{project_id}", survey)
api.add_router("/projects/{project_id}", survey_in_view)
api.add_router("/projects/{project_id}", survey_files)
api.add_router("/projects/{project_id}", alignment)
api.add_router("/projects/{project_id}", profiles)
api.add_router("/projects/{project_id}", guides)
api.add_router("/projects/{project_id}", road)
api.add_router("/projects/{project_id}", roads)
api.add_router("/projects/{project_id}", preview)
api.add_router("/projects/{project_id}", measure)
api.add_router("/projects/{project_id}", lines)
api.add_router("/projects/{project_id}", files)
api.add_router("/projects/{project_id}", work)
api.add_router("/projects/{project_id}", drawings)
api.add_router("/projects/{project_id}", reports)
api.add_router("/projects/{project_id}", crossfalls)
api.add_router("/projects/{project_id}", levels)
api.add_router("/projects/{project_id}", treatments)
api.add_router("/projects/{project_id}", presence)
api.add_router("/projects/{project_id}", bench)
api.add_router("/projects/{project_id}", releases)
api.add_router("/projects/{project_id}", library_in_project)
api.add_router("/library", library)
api.add_router("/jobs", jobs)
