"""Starting jobs and running them. A new kind is a handler registered with @handles."""

import logging
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.db import DataError, InterfaceError, OperationalError, transaction
from django.db.models import F, QuerySet
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob, ProcrastinateWorker
from pydantic import BaseModel

from config import logs, metrics
from config.errors import Refused
from jobs.models import Job, KeptFile
from projects.models import Project
from saddle.errors import SaddleError

logger = logging.getLogger("tin_saddle.jobs")
Report = Callable[[float], None]
Handler = Callable[[Job, Report], BaseModel]
#: A job that nothing was told of for so long stands still, s.
STANDS_STILL = 900.0
#: A job that a worker began so often without ending it has killed its workers.
MOST_ATTEMPTS = 2
GIVEN_UP = {
    "message": "the work was begun twice and ended the worker both times, so it is given up", "subject": "job",
    "hint": "it may need more memory than there is: work on a part of the road",
}  # fmt: skip
LOST = {"message": "the work was lost before it was done; nothing was changed", "subject": "job", "hint": "start it again"}
#: A worker tells every few seconds that it is there; one that has not for so long is not, s.
ALIVE_WITHIN = 15
#: Of one kind of work that follows from the project, the files of so many states are kept.
MOST_KEPT = 3


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of job. result: what it gives, for the schema; limit: how long its work may take, s; quick: somebody waits for it with the
    dialog open, so that a worker of their own takes nothing else."""

    handler: Handler
    result: type[BaseModel]
    limit: float
    quick: bool


KINDS: dict[str, Kind] = {}


class FileMade(BaseModel):
    """A file that is the first of its job's. size: bytes."""

    name: str
    size: int


class Cancelled(Exception):
    """The person asked the job to stop."""


def handles(kind: str, result: type[BaseModel], *, minutes: float, quick: bool = False) -> Callable[[Handler], Handler]:
    """Register the handler of a kind of job. It reports progress and returns a result of the model named here, within so many minutes;
    quick: somebody waits for it."""

    def register(handler: Handler) -> Handler:
        if kind in KINDS:
            raise ValueError(f"two handlers for jobs of kind {kind}")
        KINDS[kind] = Kind(handler, result, 60 * minutes, quick)
        return handler

    return register


def start(project: Project, user: Any, kind: str, params: dict[str, Any], key: str = "") -> Job:
    """Put a job in the queue. With a key, the job under it that waits, runs or is done is given instead of a new one."""
    with transaction.atomic():
        if key:
            Project.objects.select_for_update().get(pk=project.pk)
            there = Job.objects.filter(project=project, kind=kind, key=key, state__in=_GOOD, cancel_requested=False)
            found = there.order_by("-created_at").first()
            if found is not None:
                return found
        ahead = Job.objects.filter(user=user, state__in=(Job.State.WAITING, Job.State.RUNNING)).count()
        job = Job.objects.create(project=project, user=user, kind=kind, params=params, key=key)
        # Fair share: what somebody asks for waits behind what others ask for first, by how much of their own is open already.
        _queue(job, -ahead)
    return job


def _queue(job: Job, priority: int) -> None:
    kind = KINDS.get(job.kind)
    queue = "quick" if kind is not None and kind.quick else "default"
    app.configure_task("run_job", priority=priority, queue=queue).defer(job_id=str(job.pk))


_GOOD = (Job.State.WAITING, Job.State.RUNNING, Job.State.DONE)


def keep_file(job: Job, number: int, name: str, content_type: str, content: bytes) -> None:
    """Keep a file with a job."""
    KeptFile.objects.update_or_create(
        job=job, number=number, defaults={"name": name, "content_type": content_type, "content": content}
    )


def keep_made(job: Job, name: str, content_type: str, content: bytes) -> FileMade:
    """Keep the one file that a job was asked to make."""
    keep_file(job, 0, name, content_type, content)
    return FileMade(name=name, size=len(content))


def _forget(job: Job) -> None:
    """Jobs that did the same for older states go, with their files."""
    done = Job.objects.filter(project=job.project, kind=job.kind, params=job.params, state=Job.State.DONE).exclude(key="")
    old = done.order_by("-created_at").values_list("pk", flat=True)[MOST_KEPT:]
    Job.objects.filter(pk__in=list(old)).delete()


def execute(job_id: str) -> None:
    """Run a job to its end; called by the worker. A job that was cancelled while waiting does not start."""
    waiting = Job.objects.filter(pk=job_id, state__in=(Job.State.WAITING, Job.State.RUNNING))
    if waiting.filter(attempts__gte=MOST_ATTEMPTS).update(state=Job.State.FAILED, error=GIVEN_UP):
        return
    begun = waiting.filter(cancel_requested=False).update(
        state=Job.State.RUNNING, progress=0.0, attempts=F("attempts") + 1, moved_at=timezone.now()
    )
    if not begun:
        waiting.update(state=Job.State.CANCELLED)
        return
    job = Job.objects.select_related("project", "user").get(pk=job_id)
    token, begun_at = logs.job_id.set(job_id), time.perf_counter()
    try:
        _work(job)
    finally:
        seconds = time.perf_counter() - begun_at
        state = Job.objects.filter(pk=job_id).values_list("state", flat=True).first() or "gone"
        metrics.JOBS.labels(job.kind, state).inc()
        metrics.JOB_SECONDS.labels(job.kind).observe(seconds)
        metrics.look_at_memory()
        told = {"kind": job.kind, "state": state, "ms": round(seconds * 1000, 1), "user": job.user.username if job.user else None}
        logger.info("job", extra=told)
        logs.job_id.reset(token)


def _work(job: Job) -> None:
    job_id, kind = job.pk, KINDS.get(job.kind)
    limit = 0.0 if kind is None else kind.limit
    until = time.monotonic() + limit

    def report(share: float) -> None:
        if time.monotonic() > until:
            raise SaddleError(
                f"the work takes longer than {limit / 60:g} minutes, so it was ended", "job", "work on a part of the road"
            )
        there = Job.objects.filter(pk=job_id, cancel_requested=False)
        if not there.update(progress=min(max(share, 0.0), 1.0), moved_at=timezone.now()):
            raise Cancelled

    try:
        if kind is None:
            raise SaddleError(f"this release has no work of kind {job.kind}", "job", "start it anew")
        result = kind.handler(job, report)
    except Cancelled:
        _not_done(job_id).update(state=Job.State.CANCELLED)
    except SaddleError as error:
        told = {"message": error.message, "subject": error.subject, "hint": error.hint}
        _not_done(job_id).update(state=Job.State.FAILED, error=told)
    except Refused as error:
        _not_done(job_id).update(state=Job.State.FAILED, error=error.body.model_dump(include={"message", "subject", "hint"}))
    except (OperationalError, InterfaceError):
        # The database is away: what it did not write is begun again when it is back, and what it wrote stays done.
        logger.exception("job %s of kind %s lost the database", job_id, job.kind)
        raise
    except Exception:
        logger.exception("job %s of kind %s failed", job_id, job.kind)
        told = {
            "message": "the work stopped with an internal error",
            "subject": job.kind,
            "hint": "try again; nothing was changed",
        }
        _not_done(job_id).update(state=Job.State.FAILED, error=told)
        raise
    else:
        _finish(job, result)


def complete(job: Job, result: BaseModel) -> None:
    """Write down that a job is done. What a handler writes and that it is done belong in one transaction: whatever ends the worker
    in between, the work is either done or not, and is not done twice."""
    Job.objects.filter(pk=job.pk).update(state=Job.State.DONE, progress=1.0, result=_kept(result.model_dump(mode="json")))


def _not_done(job_id: Any) -> QuerySet[Job]:
    """The job, unless what it had to write is written: the answer may have been lost on its way."""
    return Job.objects.filter(pk=job_id).exclude(state=Job.State.DONE)


def _finish(job: Job, result: BaseModel) -> None:
    """Keep what a job gave. Where that cannot be kept the job has failed, and does not run for ever."""
    try:
        complete(job, result)
    except (DataError, ValueError):
        logger.exception("the result of job %s of kind %s cannot be kept", job.pk, job.kind)
        told = {
            "message": "the work is done, but its result cannot be kept",
            "subject": job.kind,
            "hint": "tell whoever runs the server",
        }
        Job.objects.filter(pk=job.pk).update(state=Job.State.FAILED, error=told)
        return
    if job.key:
        _forget(job)


def _kept(value: Any) -> Any:
    """A result without what no database keeps: the character NUL and halves of characters."""
    if isinstance(value, str):
        return value.replace("\0", "").encode(errors="replace").decode()
    if isinstance(value, dict):
        return {k: _kept(v) for k, v in value.items()}
    return [_kept(v) for v in value] if isinstance(value, list) else value


def in_queue(job: Job) -> bool:
    """Whether the queue still holds the job, so that somebody works on it or will."""
    return ProcrastinateJob.objects.filter(task_name="run_job", args__job_id=str(job.pk), status__in=("todo", "doing")).exists()


def workers_alive() -> bool:
    """Whether a worker has told lately that it is there."""
    since = timezone.now() - timedelta(seconds=ALIVE_WITHIN)
    return ProcrastinateWorker.objects.filter(last_heartbeat__gt=since).exists()


def standing() -> list[str]:
    """Kinds of work that a worker has begun and of which nothing was told for long."""
    since = timezone.now() - timedelta(seconds=STANDS_STILL)
    return list(Job.objects.filter(state=Job.State.RUNNING, moved_at__lt=since).values_list("kind", flat=True))


def oldest_waiting() -> float:
    """How long the job has waited that has waited longest, s."""
    first = Job.objects.filter(state=Job.State.WAITING, cancel_requested=False).order_by("created_at").first()
    return 0.0 if first is None else (timezone.now() - first.created_at).total_seconds()


def sweep() -> int:
    """Jobs whose queue entry is gone, so that nobody would ever work on them: they are put into the queue again, and ended when
    that was done already. Returns how many were ended."""
    ended = 0
    old = timezone.now() - timedelta(seconds=ALIVE_WITHIN)
    for job in Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING), created_at__lt=old):
        if not in_queue(job):
            if not job.cancel_requested and job.attempts < MOST_ATTEMPTS:
                if Job.objects.filter(pk=job.pk, state=job.state).update(state=Job.State.WAITING):
                    _queue(job, 0)
                continue
            state = Job.State.CANCELLED if job.cancel_requested else Job.State.FAILED
            open_ = Job.objects.filter(pk=job.pk, state__in=(Job.State.WAITING, Job.State.RUNNING))
            ended += open_.update(state=state, error=None if job.cancel_requested else LOST)
    return ended
