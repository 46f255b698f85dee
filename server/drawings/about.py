"""What a file says of the project that it comes from."""

from django.utils import timezone

from drawings.bodies import STATUS
from drawings.models import Issue
from projects.models import Project


def about(project: Project) -> list[tuple[str, str]]:
    """Names and words: project, issue, date. The figures of a project that is not frozen may change tomorrow."""
    issue = Issue.objects.filter(frozen_id=project.pk).first()
    said = "not issued" if issue is None else f"{issue.revision}, {STATUS[issue.status]}"
    day = timezone.now() if issue is None else issue.at
    return [("Project", project.name), ("Issue", said), ("Date", day.date().isoformat())]
