"""Looking at jobs and cancelling them."""

from functools import reduce
from operator import or_
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field, create_model

from config.downloads import disposition
from config.errors import ERRORS, ErrorOut, Refused
from jobs.models import Job
from jobs.run import KINDS, in_queue, workers_alive
from projects.access import membership
from projects.models import Role

router = Router(tags=["jobs"])


def _outs() -> Any:
    """What is told of a job, one model for each kind with the result that it gives. The handlers are known by now: the apps that
    hold them register them when they are ready."""
    members: list[Any] = []
    for kind, registered in KINDS.items():
        name = "".join(word.capitalize() for word in kind.split("_"))
        tag: Any = Literal[kind]
        given: Any = registered.result | None
        members.append(
            create_model(
                f"{name}Job", __base__=Schema, id=(UUID, ...), kind=(tag, ...), state=(JobState, ...), progress=(float, ...),
                result=(given, ...), error=(ErrorOut | None, ...), no_worker=(bool, ...),
            )
        )  # fmt: skip
    return Annotated[reduce(or_, members), Field(discriminator="kind")]


JobState = Literal["waiting", "running", "done", "failed", "cancelled"]
#: state; progress: 0 to 1; result: of a job that is done; no_worker: it is not done and no worker is there who could do it.
JobOut = _outs()


def job_out(job: Job) -> dict[str, Any]:
    """A job as JobOut takes it."""
    return {
        "id": job.pk, "kind": job.kind, "state": job.state, "progress": job.progress, "result": job.result, "error": job.error,
        "no_worker": job.state in (Job.State.WAITING, Job.State.RUNNING) and not workers_alive(),
    }  # fmt: skip


def _find(request: HttpRequest, job_id: UUID, needed: str) -> Job:
    job = Job.objects.filter(pk=job_id).first()
    if job is None:
        raise Refused(404, "there is no such job", "job")
    membership(request, job.project_id, needed)
    return job


@router.get("/{job_id}", response={200: JobOut, **ERRORS}, operation_id="readJob")
def read_job(request: HttpRequest, job_id: UUID) -> Any:
    """How far a job is."""
    return job_out(_find(request, job_id, Role.VIEWER))


@router.post("/{job_id}/cancel", response={200: JobOut, **ERRORS}, operation_id="cancelJob")
def cancel_job(request: HttpRequest, job_id: UUID) -> Any:
    """Ask a job to stop; what it would have written is not written."""
    job = _find(request, job_id, Role.DESIGNER)
    Job.objects.filter(pk=job.pk).update(cancel_requested=True)
    Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(state=Job.State.CANCELLED)
    if not in_queue(job):  # nobody works on it who could stop
        Job.objects.filter(pk=job.pk, state=Job.State.RUNNING).update(state=Job.State.CANCELLED)
    job.refresh_from_db()
    return job_out(job)


@router.get("/{job_id}/files/{number}", response={200: None, **ERRORS}, operation_id="jobFile")
def job_file(request: HttpRequest, job_id: UUID, number: int) -> HttpResponse:
    """A file that a job made."""
    found = _find(request, job_id, Role.VIEWER).files.filter(number=number).first()
    if found is None:
        raise Refused(404, "the job has no such file", "file", "ask for it again")
    answer = HttpResponse(bytes(found.content), content_type=found.content_type)
    if found.name:
        answer["Content-Disposition"] = disposition(found.name)
    return answer
