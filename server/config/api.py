"""The typed API: one router per app."""

from ninja import NinjaAPI
from ninja.security import SessionAuth

from accounts.api import router as accounts
from config.errors import install
from design.api import router as design
from fitting.api import router as fitting
from fitting.profiles import router as profiles
from jobs.api import router as jobs
from library.api import in_project as library_in_project
from library.api import router as library
from output.files import router as files
from output.work import router as work
from projects.api import router as projects
from road.api import router as road
from road.bench import router as bench
from setting_out.api import router as setting_out
from survey.api import router as survey
from survey.export import router as survey_files

api = NinjaAPI(title="Tin Saddle", version="1", auth=SessionAuth(csrf=True), docs_url=None)
install(api)
api.add_router("/session", accounts)
api.add_router("/projects", projects)
api.add_router("/projects/{project_id}", design)
api.add_router("/projects/{project_id}", survey)
api.add_router("/projects/{project_id}", survey_files)
api.add_router("/projects/{project_id}", setting_out)
api.add_router("/projects/{project_id}", road)
api.add_router("/projects/{project_id}", files)
api.add_router("/projects/{project_id}", work)
api.add_router("/projects/{project_id}", fitting)
api.add_router("/projects/{project_id}", profiles)
api.add_router("/projects/{project_id}", bench)
api.add_router("/projects/{project_id}", library_in_project)
api.add_router("/library", library)
api.add_router("/jobs", jobs)
