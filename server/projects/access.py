"""The one place that asks whether a person may do something."""

from django.contrib.auth.models import User
from django.http import HttpRequest

from config.errors import Refused
from projects.models import Membership, Project, Role

RANK = {role: rank for rank, role in enumerate(Role.values)}


def may(role: str, needed: str) -> bool:
    """Whether a role includes what another one allows."""
    return RANK[role] >= RANK[needed]


def project_for(request: HttpRequest, project_id: int, needed: str = Role.VIEWER) -> Project:
    """The project, if the person signed in has the role. A stranger is told that it does not exist."""
    return membership(request, project_id, needed).project


def membership(request: HttpRequest, project_id: int, needed: str = Role.VIEWER) -> Membership:
    """The person's membership; in a project that is frozen as an issue that of a viewer, for everybody of the project it was frozen
    from. Raises Refused: 404 to strangers, 403 where the role is not enough."""
    assert isinstance(request.user, User)
    found = Membership.objects.select_related("project").filter(project_id=project_id, user=request.user).first()
    if found is None:
        frozen = Project.objects.filter(pk=project_id, issue__project__members=request.user).first()
        if frozen is not None and needed != Role.VIEWER:
            raise Refused(403, "this is how it was issued: nothing in it changes any more", "issue", "go back to the project")
        if frozen is not None:
            return Membership(project=frozen, user=request.user, role=Role.VIEWER)
        raise Refused(404, "there is no such project", "project", "choose one from the list of projects")
    if not may(found.role, needed):
        raise Refused(403, f"a {found.role} cannot change this project", "role", "ask its owner for the role of designer")
    return found
