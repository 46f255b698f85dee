"""Whether the product is well: for a load balancer, a monitor, and whoever runs it."""

import hmac
import shutil
from collections.abc import Callable

from django.conf import settings
from django.db import DatabaseError, InterfaceError, connection
from django.http import HttpRequest, HttpResponse, JsonResponse

from accounts.sessions import address_of
from config import metrics
from config.memory import CACHE
from jobs.models import Job
from jobs.run import oldest_waiting, standing, workers_alive

#: Less room than this on the disk is too little, bytes.
LEAST_ROOM = 500 * 1024 * 1024
#: More jobs than this wait, or one so long: there are too few workers, or they do nothing, s.
MOST_WAITING, LONGEST_WAIT = 500, 600.0


def alive(request: HttpRequest) -> JsonResponse:
    """The process answers."""
    return JsonResponse({"process": "well"})


def ready(request: HttpRequest) -> JsonResponse:
    """Database, queue, worker and disk, each by itself; 503 where one is not well."""
    found = {name: _told(look) for name, look in _LOOKS.items()}
    return JsonResponse(found, status=200 if all(v == "well" for v in found.values()) else 503)


def _told(look: Callable[[], str]) -> str:
    try:
        return look()
    except (DatabaseError, InterfaceError, OSError):
        return "cannot be reached"


def _database() -> str:
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    return "well"


def _queue() -> str:
    waiting = Job.objects.filter(state=Job.State.WAITING).count()
    if waiting >= MOST_WAITING:
        return f"{waiting} jobs wait"
    oldest = oldest_waiting()
    return "well" if oldest < LONGEST_WAIT else f"a job has waited for {oldest / 60:.0f} minutes"


def _work() -> str:
    still = standing()
    return "well" if not still else f"nothing was told for long of: {', '.join(sorted(still)[:5])}"


def _worker() -> str:
    return "well" if workers_alive() else "no worker is running"


def _disk() -> str:
    free = shutil.disk_usage(settings.ROOT).free
    return "well" if free > LEAST_ROOM else f"{free // 1024 // 1024} MB are left"


_LOOKS = {"database": _database, "queue": _queue, "worker": _worker, "work": _work, "disk": _disk}


def numbers(request: HttpRequest) -> HttpResponse:
    """Metrics, for this machine itself or for who has settings.METRICS_TOKEN."""
    given = request.META.get("HTTP_AUTHORIZATION", "").removeprefix("Bearer ")
    known = bool(settings.METRICS_TOKEN) and hmac.compare_digest(given, settings.METRICS_TOKEN)
    if not known and address_of(request) not in ("127.0.0.1", "::1"):
        return HttpResponse(status=404)
    metrics.CACHE_BYTES.set(CACHE.size)
    return HttpResponse(metrics.text(), content_type="text/plain; version=0.0.4; charset=utf-8")
