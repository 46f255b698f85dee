"""What can go wrong in a request, and the one shape in which it is told."""

from typing import Any

from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from procrastinate.exceptions import ConnectorException
from pydantic import ValidationError as ModelError

from config.middleware import away
from saddle.errors import SaddleError


class ErrorOut(Schema):
    """What, where, and what to do. current: with 409, the document as it is now (null when it is gone)."""

    message: str
    subject: str = ""
    hint: str = ""
    current: Any = None


#: What any address may answer besides its own: bad input, signed out, not allowed, not there, in conflict, too large, too often, away.
ERRORS: dict[int, type[ErrorOut]] = dict.fromkeys((400, 401, 403, 404, 409, 413, 429, 503), ErrorOut)


class Refused(Exception):
    """An answer other than success. status: HTTP."""

    def __init__(self, status: int, message: str, subject: str = "", hint: str = "", current: Any = None) -> None:
        super().__init__(message)
        self.status = status
        self.body = ErrorOut(message=message, subject=subject, hint=hint, current=current)


def refuse_backward(low: float, high: float) -> None:
    """Raises Refused 400 where a range does not go forward along the road."""
    if high <= low:
        raise Refused(400, "the range must end after it begins", "range", "mark it from the lower to the higher chainage")


def field_message(errors: list[Any]) -> tuple[str, str]:
    """Message and place of the first of pydantic's findings."""
    first = errors[0]
    skip = {"body", "payload", "spec"}
    place = " › ".join(str(p + 1) if isinstance(p, int) else str(p) for p in first["loc"] if p not in skip)
    message = str(first["msg"]).removeprefix("Value error, ")
    more = f" (and {len(errors) - 1} more)" if len(errors) > 1 else ""
    return f"{place}: {message}{more}" if place else message + more, place


def install(api: NinjaAPI) -> None:
    """Register the handlers."""

    def answer(request: HttpRequest, status: int, body: ErrorOut) -> HttpResponse:
        return api.create_response(request, body.model_dump(), status=status)

    @api.exception_handler(Refused)
    def _refused(request: HttpRequest, error: Refused) -> HttpResponse:
        return answer(request, error.status, error.body)

    @api.exception_handler(SaddleError)
    def _saddle(request: HttpRequest, error: SaddleError) -> HttpResponse:
        return answer(request, 400, ErrorOut(message=error.message, subject=error.subject, hint=error.hint))

    @api.exception_handler(ValidationError)
    def _invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        message, place = field_message(error.errors)
        return answer(request, 400, ErrorOut(message=message, subject=place, hint="correct this field"))

    @api.exception_handler(ModelError)
    def _model(request: HttpRequest, error: ModelError) -> HttpResponse:
        message, place = field_message(error.errors())
        return answer(request, 400, ErrorOut(message=message, subject=place, hint="correct this field"))

    @api.exception_handler(AuthenticationError)
    def _signed_out(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return answer(request, 401, ErrorOut(message="you are signed out", hint="sign in again"))

    @api.exception_handler(OperationalError)
    @api.exception_handler(InterfaceError)
    @api.exception_handler(ConnectorException)
    def _away(request: HttpRequest, error: Exception) -> HttpResponse:
        return away()

    @api.exception_handler(HttpError)
    def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
        return answer(request, error.status_code, ErrorOut(message=str(error)))
