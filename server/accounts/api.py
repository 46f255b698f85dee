"""Signing in and out."""

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.views.decorators.csrf import csrf_protect
from ninja import Router, Schema
from ninja.decorators import decorate_view

from config.errors import ErrorOut, Refused

router = Router(tags=["session"])


class Credentials(Schema):
    """name and password as typed."""

    name: str
    password: str


class Me(Schema):
    """The person signed in, or null. demo_names: sign-ins offered in demo mode (the password is the name)."""

    name: str | None
    full_name: str | None
    demo_names: list[str]


def _me(request: HttpRequest) -> Me:
    user = request.user
    demo: list[str] = []
    if settings.DEMO:
        people = User.objects.filter(username__in=("designer", "checker", "viewer")).order_by("id")
        demo = list(people.values_list("username", flat=True))
    if not isinstance(user, User):
        return Me(name=None, full_name=None, demo_names=demo)
    return Me(name=user.username, full_name=user.get_full_name() or user.username, demo_names=demo)


@router.get("", auth=None, response=Me, operation_id="whoAmI")
def who_am_i(request: HttpRequest) -> Me:
    """Who is signed in; also sets the CSRF cookie."""
    get_token(request)
    return _me(request)


@router.post("", auth=None, response={200: Me, 401: ErrorOut}, operation_id="signIn")
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, payload: Credentials) -> Me:
    """Start a session."""
    user = authenticate(request, username=payload.name, password=payload.password)
    if user is None:
        raise Refused(401, "name or password is wrong", "sign-in", "try again, or ask the owner of the project")
    login(request, user)
    return _me(request)


@router.delete("", response=Me, operation_id="signOut")
def sign_out(request: HttpRequest) -> Me:
    """End the session."""
    logout(request)
    return _me(request)
