"""Issues: what was issued, issuing, comparing, the package. What they take time for is done by jobs."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Schema

from config.downloads import disposition
from config.errors import ERRORS, Refused
from drawings.bodies import FileOut, IssuedDrawing, IssueDetail, IssueOut
from drawings.comparing import CompareIn, issue_of
from drawings.issuing import IssueIn, check_issue
from drawings.models import Issue
from jobs.api import JobOut, job_out
from jobs.run import start
from projects.access import project_for
from projects.models import Role
from road.inputs import stamp_of
from saddle.stages.keys import code_version, digest

router = Router(tags=["issues"])


class CompareWith(Schema):
    """after: another issue, 0 for the project as it is."""

    after: int = 0


def _out(issue: Issue) -> dict[str, Any]:
    return {
        "id": issue.pk, "revision": issue.revision, "status": issue.status, "reason": issue.reason, "by": issue.by_name,
        "at": issue.at.isoformat(timespec="minutes"), "drawings": len(issue.register),
        "sheets": sum(len(d["sheets"]) for d in issue.register), "frozen": issue.frozen_id,
    }  # fmt: skip


@router.get("/issues", response={200: list[IssueOut], **ERRORS}, operation_id="listIssues")
def list_issues(request: HttpRequest, project_id: Path[int]) -> Any:
    """The issues of a project, newest first."""
    project = project_for(request, project_id)
    return [_out(i) for i in Issue.objects.filter(project=project).order_by("-number")]


@router.post("/issues", response={200: JobOut, **ERRORS}, operation_id="makeIssue")
def make_issue(request: HttpRequest, project_id: Path[int], payload: IssueIn) -> Any:
    """Freeze drawings as a new revision. What can be refused is refused at once; the rest is a job."""
    project = project_for(request, project_id, Role.DESIGNER)
    check_issue(project, payload)
    return job_out(start(project, request.user, "issue", payload.model_dump()))


@router.get("/issues/{issue_id}", response={200: IssueDetail, **ERRORS}, operation_id="readIssue")
def read_issue(request: HttpRequest, project_id: Path[int], issue_id: Path[int]) -> Any:
    """An issue with what it holds."""
    issue = issue_of(project_for(request, project_id), issue_id)
    files = issue.files.order_by("number").values("number", "path", "sha256", "size")
    return {
        **_out(issue), "holds": [IssuedDrawing(**d) for d in issue.register], "files": [FileOut(**f) for f in files],
        "accepted": issue.accepted,
    }  # fmt: skip


@router.get("/issues/{issue_id}/files/{number}", response={200: None, **ERRORS}, operation_id="issueFile")
def issue_file(request: HttpRequest, project_id: Path[int], issue_id: Path[int], number: Path[int]) -> HttpResponse:
    """A file of an issue, byte for byte as it was kept."""
    found = issue_of(project_for(request, project_id), issue_id).files.filter(number=number).first()
    if found is None:
        raise Refused(404, "the issue has no such file", "file", "choose one of the list")
    answer = HttpResponse(bytes(found.content), content_type=found.content_type)
    if found.content_type != "image/svg+xml":
        answer["Content-Disposition"] = disposition(found.path.rsplit("/", 1)[-1])
    return answer


@router.post("/issues/{issue_id}/compare", response={200: JobOut, **ERRORS}, operation_id="compareIssue")
def compare_issue(request: HttpRequest, project_id: Path[int], issue_id: Path[int], payload: CompareWith) -> Any:
    """What changed since an issue."""
    project = project_for(request, project_id)
    issue_of(project, issue_id)
    if payload.after:
        issue_of(project, payload.after)
    wanted = CompareIn(before=issue_id, after=payload.after)
    state = "" if payload.after else stamp_of(project)
    key = digest(code_version(), "compare", issue_id, payload.after, state)
    return job_out(start(project, request.user, "compare", wanted.model_dump(), key))


@router.post("/issues/{issue_id}/package", response={200: JobOut, **ERRORS}, operation_id="packageIssue")
def package_issue(request: HttpRequest, project_id: Path[int], issue_id: Path[int]) -> Any:
    """All files of an issue as one ZIP."""
    project = project_for(request, project_id)
    issue_of(project, issue_id)
    return job_out(start(project, request.user, "package", {"issue": issue_id}, digest(code_version(), "package", issue_id)))
