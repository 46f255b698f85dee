"""Projects: list, make, read."""

from django.contrib.auth.models import User
from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from config.errors import ERRORS
from design.actions.change import start_documents
from drawings.bodies import STATUS
from drawings.models import Issue
from projects.access import membership
from projects.models import Membership, Project, Role
from saddle.standards.published import SETS, SetName
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.spec import FileUnit

router = Router(tags=["projects"])


class ProjectIn(Schema):
    """A new project. unit: of files that do not say theirs."""

    name: str = Field(min_length=1, max_length=80)
    unit: FileUnit = "metre"
    standards: SetName = "austroads"


class AsIssued(Schema):
    """What a frozen project is: revision and status of its issue, and the project it was issued from."""

    revision: str
    status: str
    project: int


class ProjectOut(Schema):
    """A project and the role in it of the person who asks. as_issued: where it is frozen as an issue, its revision and the project
    that it was issued from."""

    id: int
    name: str
    role: str
    as_issued: AsIssued | None = None


def _out(found: Membership) -> ProjectOut:
    return ProjectOut(id=found.project_id, name=found.project.name, role=found.role)


@router.get("", response=list[ProjectOut], operation_id="listProjects")
def list_projects(request: HttpRequest) -> list[ProjectOut]:
    """The projects of the person signed in."""
    assert isinstance(request.user, User)
    rows = Membership.objects.select_related("project").filter(user=request.user).order_by("project_id")
    return [_out(row) for row in rows]


@router.post("", response={200: ProjectOut, **ERRORS}, operation_id="makeProject")
def make_project(request: HttpRequest, payload: ProjectIn) -> ProjectOut:
    """A project with the starting templates; who makes it owns it."""
    assert isinstance(request.user, User)
    with transaction.atomic():
        project = Project.objects.create(name=payload.name.strip() or "Untitled")
        found = Membership.objects.create(project=project, user=request.user, role=Role.OWNER)
        start_documents(project, SETS[payload.standards], SurveyInUse(unit=payload.unit))
    return _out(found)


@router.get("/{project_id}", response={200: ProjectOut, **ERRORS}, operation_id="readProject")
def read_project(request: HttpRequest, project_id: int) -> ProjectOut:
    """One project."""
    out = _out(membership(request, project_id))
    issue = Issue.objects.filter(frozen_id=project_id).first()
    if issue is not None:
        out.as_issued = AsIssued(revision=issue.revision, status=STATUS[issue.status], project=issue.project_id)
    return out
