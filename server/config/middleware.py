"""Refuses requests that are too large before any of their body is read."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse


class LimitRequestSize:
    """Answers 413 with a message a person can act on."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            size = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            size = 0
        if size > settings.UPLOAD_LIMIT:
            limit = settings.UPLOAD_LIMIT // (1024 * 1024)
            message = f"the file is {size / 1024 / 1024:.0f} MB; at most {limit} MB are taken"
            hint = "split the survey, or leave out columns that are not needed"
            return JsonResponse({"message": message, "subject": "file", "hint": hint}, status=413)
        return self.get_response(request)
