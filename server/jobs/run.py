"""Starting jobs and running them. A new kind is a handler registered with @handles."""

import logging
from collections.abc import Callable
from typing import Any

from django.db import transaction

from jobs.models import Job
from projects.models import Project
from saddle.errors import SaddleError

logger = logging.getLogger(__name__)
Report = Callable[[float], None]
Handler = Callable[[Job, Report], dict[str, Any]]
_handlers: dict[str, Handler] = {}


class Cancelled(Exception):
    """The person asked the job to stop."""


def handles(kind: str) -> Callable[[Handler], Handler]:
    """Register the handler of a kind of job. It reports progress and returns a JSON result."""

    def register(handler: Handler) -> Handler:
        if kind in _handlers:
            raise ValueError(f"two handlers for jobs of kind {kind}")
        _handlers[kind] = handler
        return handler

    return register


def start(project: Project, user: Any, kind: str, params: dict[str, Any]) -> Job:
    """Put a job in the queue."""
    from jobs.tasks import run_job

    with transaction.atomic():
        job = Job.objects.create(project=project, user=user, kind=kind, params=params)
        run_job.defer(job_id=str(job.pk))
    return job


def execute(job_id: str) -> None:
    """Run a job to its end; called by the worker. A job that was cancelled while waiting does not start."""
    waiting = Job.objects.filter(pk=job_id, state__in=(Job.State.WAITING, Job.State.RUNNING))
    if not waiting.filter(cancel_requested=False).update(state=Job.State.RUNNING, progress=0.0):
        waiting.update(state=Job.State.CANCELLED)
        return
    job = Job.objects.select_related("project", "user").get(pk=job_id)

    def report(share: float) -> None:
        if not Job.objects.filter(pk=job_id, cancel_requested=False).update(progress=min(max(share, 0.0), 1.0)):
            raise Cancelled

    try:
        result = _handlers[job.kind](job, report)
    except Cancelled:
        Job.objects.filter(pk=job_id).update(state=Job.State.CANCELLED)
    except SaddleError as error:
        told = {"message": error.message, "subject": error.subject, "hint": error.hint}
        Job.objects.filter(pk=job_id).update(state=Job.State.FAILED, error=told)
    except Exception:
        logger.exception("job %s of kind %s failed", job_id, job.kind)
        told = {
            "message": "the work stopped with an internal error",
            "subject": job.kind,
            "hint": "try again; nothing was changed",
        }
        Job.objects.filter(pk=job_id).update(state=Job.State.FAILED, error=told)
        raise
    else:
        Job.objects.filter(pk=job_id).update(state=Job.State.DONE, progress=1.0, result=result)
