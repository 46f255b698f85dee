"""What is logged: one line for each request and job as JSON, with the id that ties lines together, and the same as metrics."""

import logging
import re
import time
from collections.abc import Callable
from contextvars import ContextVar
from uuid import uuid4

from django.http import HttpRequest, HttpResponse

from config import metrics

logger = logging.getLogger("tin_saddle.requests")
#: Of the request that this thread answers, and of the job that it works on; empty for none.
request_id: ContextVar[str] = ContextVar("request_id", default="")
job_id: ContextVar[str] = ContextVar("job_id", default="")
_SOUND = re.compile(r"[A-Za-z0-9-]{1,64}")


class WithIds(logging.Filter):
    """Puts the ids on every line."""

    def filter(self, record: logging.LogRecord) -> bool:
        record.request_id, record.job_id = request_id.get(), job_id.get()
        return True


class RequestLog:
    """Logs and counts every request. Its id is the one that a proxy gave (X-Request-ID) or a new one, and goes back with the
    answer, so that a person can name it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        given = request.META.get("HTTP_X_REQUEST_ID", "")
        token = request_id.set(given if _SOUND.fullmatch(given) else uuid4().hex[:16])
        begun = time.perf_counter()
        try:
            response = self.get_response(request)
            seconds = time.perf_counter() - begun
            response["X-Request-ID"] = request_id.get()
            route = request.resolver_match.route if request.resolver_match else "none"
            metrics.count_request(request.method or "", route, response.status_code, seconds)
            told = {
                "method": request.method, "path": request.path, "status": response.status_code, "ms": round(seconds * 1000, 1),
                # Only who is known already: asking now might meet a database that is away.
                "user": getattr(getattr(request, "_cached_user", None), "username", "") or None,
            }  # fmt: skip
            quiet = response.status_code < 400 and (request.path.endswith("/pulse") or request.path.startswith("/static/"))
            logger.log(logging.DEBUG if quiet else logging.INFO, "request", extra=told)
            return response
        finally:
            request_id.reset(token)
