"""Looking at jobs and cancelling them."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema

from config.errors import ErrorOut, Refused
from jobs.models import Job
from projects.access import membership
from projects.models import Role

router = Router(tags=["jobs"])
ERRORS = {403: ErrorOut, 404: ErrorOut}


class JobOut(Schema):
    """state: waiting, running, done, failed or cancelled; progress: 0 to 1."""

    id: UUID
    kind: str
    state: str
    progress: float
    result: dict[str, Any] | None
    error: ErrorOut | None


def job_out(job: Job) -> JobOut:
    return JobOut(id=job.pk, kind=job.kind, state=job.state, progress=job.progress, result=job.result, error=job.error)


def _find(request: HttpRequest, job_id: UUID, needed: str) -> Job:
    job = Job.objects.filter(pk=job_id).first()
    if job is None:
        raise Refused(404, "there is no such job", "job")
    membership(request, job.project_id, needed)
    return job


@router.get("/{job_id}", response={200: JobOut, **ERRORS}, operation_id="readJob")
def read_job(request: HttpRequest, job_id: UUID) -> JobOut:
    """How far a job is."""
    return job_out(_find(request, job_id, Role.VIEWER))


@router.post("/{job_id}/cancel", response={200: JobOut, **ERRORS}, operation_id="cancelJob")
def cancel_job(request: HttpRequest, job_id: UUID) -> JobOut:
    """Ask a job to stop; what it would have written is not written."""
    job = _find(request, job_id, Role.DESIGNER)
    Job.objects.filter(pk=job.pk).update(cancel_requested=True)
    Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(state=Job.State.CANCELLED)
    job.refresh_from_db()
    return job_out(job)
