"""The door: what no view has to deal with is turned away here, in words."""

import json
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse, JsonResponse

Answer = Callable[[HttpRequest], HttpResponse]


def refusal(status: int, message: str, subject: str, hint: str) -> JsonResponse:
    """The one shape in which what is wrong is told."""
    return JsonResponse({"message": message, "subject": subject, "hint": hint, "current": None}, status=status)


def away() -> JsonResponse:
    """What is told while the database is away."""
    return refusal(503, "the database cannot be reached just now", "database", "it is tried again by itself")


class LimitRequestSize:
    """Answers 413 to what is too large, before any of its body is read."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            size = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            size = 0
        if size > settings.UPLOAD_LIMIT:
            limit = settings.UPLOAD_LIMIT // (1024 * 1024)
            message = f"the file is {size / 1024 / 1024:.0f} MB; at most {limit} MB are taken"
            return refusal(413, message, "file", "split the survey, or leave out columns that are not needed")
        return self.get_response(request)


class CleanText:
    """Refuses text that no database keeps, wherever it stands: the character NUL, and halves of characters (lone surrogates)."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if "\0" in request.path or "%00" in request.META.get("QUERY_STRING", ""):
            return _unkept("address")
        if (request.content_type or "").startswith("application/json"):
            try:
                body = request.body
            except RequestDataTooBig:
                limit = (settings.DATA_UPLOAD_MAX_MEMORY_SIZE or 0) // (1024 * 1024)
                return refusal(413, f"this is more than the {limit} MB that are taken at once", "body", "send less at once")
            if b"\0" in body or b"\\u" in body:
                try:
                    place = _place_of_unkept(json.loads(body), "")
                except (ValueError, RecursionError):
                    place = None  # what is no JSON is told by whoever reads it
                if place is not None:
                    return _unkept(place)
        return self.get_response(request)


class KeepNoAnswers:
    """No browser or proxy keeps what the API answers, but what an endpoint says may be kept."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response


def _unkept(place: str) -> JsonResponse:
    return refusal(
        400, "the text holds a character that cannot be kept (NUL or half a character)", place, "take it out and send it again"
    )


def _place_of_unkept(value: Any, place: str) -> str | None:
    """Where in parsed JSON text stands that cannot be kept, None for nowhere."""
    if isinstance(value, str):
        return (place or "body") if "\0" in value or any("\ud800" <= c <= "\udfff" for c in value) else None
    inner = value.items() if isinstance(value, dict) else enumerate(value, start=1) if isinstance(value, list) else ()
    for key, part in inner:
        here = f"{place} › {key}" if place else str(key)
        found = _place_of_unkept(part, here) or (_place_of_unkept(key, here) if isinstance(key, str) else None)
        if found is not None:
            return found
    return None
