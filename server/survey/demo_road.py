"""The demo road as it ships with the product, put into a project that is empty, as a job."""

from django.conf import settings
from django.db import transaction
from django.utils.module_loading import import_string
from pydantic import BaseModel

from config.errors import Refused
from design.actions.change import lock
from design.models import Document
from jobs.models import Job
from jobs.run import Report, complete, handles
from projects.models import Project
from survey.models import Survey


class DemoRoadMade(BaseModel):
    """project: its name."""

    project: str


def refuse_unless_empty(project: Project) -> None:
    """Raises Refused 409 where there is a survey or an alignment: nothing of a person's own is written over."""
    there = Document.objects.filter(project=project, kind__in=("alignment", "guide", "profile")).exists()
    if there or Survey.objects.filter(project=project).exists():
        raise Refused(409, "this project has a road of its own", "project", "make a new project for the demo road")


@handles("demo_road", DemoRoadMade, minutes=10, quick=True)
def demo_road(job: Job, report: Report) -> DemoRoadMade:
    """Survey and documents of the demo road, all or nothing."""
    with transaction.atomic():
        lock(job.project)
        refuse_unless_empty(job.project)
        report(0.05)
        import_string(settings.DEMO_ROAD)(job.project, job.user)
        given = DemoRoadMade(project=job.project.name)
        complete(job, given)
    return given
