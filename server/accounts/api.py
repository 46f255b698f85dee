"""Signing in and out, passwords, the second factor, and open sessions."""

from typing import Annotated

from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.models import User
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.views.decorators.csrf import csrf_protect
from ninja import Router, Schema
from ninja.decorators import decorate_view
from pydantic import Field

from accounts import second_factor
from accounts.models import OpenSession
from accounts.passwords import send_reset, set_password, whose
from accounts.sessions import end, open_sessions
from accounts.throttle import PerAddress
from config.errors import ERRORS, Refused

router = Router(tags=["session"])
Text = Annotated[str, Field(max_length=200)]


class Credentials(Schema):
    """name and password as typed; code: of the second factor, where the person has one."""

    name: Text
    password: Text
    code: Annotated[str, Field(max_length=20)] = ""


class Me(Schema):
    """The person signed in, or null. second_factor: whether they have one; demo_names: sign-ins offered in demo mode (the password
    is the name)."""

    name: str | None
    full_name: str | None
    second_factor: bool
    demo_names: list[str]


class PasswordIn(Schema):
    old: Text
    new: Text


class ResetIn(Schema):
    """name: or mail address."""

    name: Text


class NewPasswordIn(Schema):
    """who, token: of the link that was mailed."""

    who: Text
    token: Text
    new: Text


class SecretOut(Schema):
    """A new secret for an app: its address, and that as a picture (SVG)."""

    address: str
    picture: str


class CodeIn(Schema):
    code: Annotated[str, Field(max_length=20)]


class ProofIn(Schema):
    password: Text


class RecoveryOut(Schema):
    """Codes for when the app is lost; each counts once, and they are never shown again."""

    codes: list[str]


class SessionOut(Schema):
    """An open session. here: the one that asks."""

    id: int
    address: str
    agent: str
    since: str
    seen_at: str
    here: bool


def _me(request: HttpRequest) -> Me:
    user = request.user
    demo: list[str] = []
    if settings.DEMO:
        people = User.objects.filter(username__in=settings.DEMO_NAMES).order_by("id")
        demo = list(people.values_list("username", flat=True))
    if not isinstance(user, User):
        return Me(name=None, full_name=None, second_factor=False, demo_names=demo)
    name = user.get_full_name() or user.username
    return Me(name=user.username, full_name=name, second_factor=second_factor.is_on(user), demo_names=demo)


def _user(request: HttpRequest) -> User:
    assert isinstance(request.user, User)
    return request.user


def _proven(request: HttpRequest, password: str) -> User:
    """The person, who has just typed their password again. Raises Refused 400 where it is wrong."""
    user = authenticate(request, username=_user(request).username, password=password)
    if user is None:
        raise Refused(400, "the password is wrong", "password", "type the one that you sign in with")
    return _user(request)


@router.get("", auth=None, response=Me, operation_id="whoAmI")
def who_am_i(request: HttpRequest) -> Me:
    """Who is signed in; also sets the CSRF cookie."""
    get_token(request)
    return _me(request)


@router.post("", auth=None, response={200: Me, **ERRORS}, operation_id="signIn", throttle=[PerAddress("120/m")])
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, payload: Credentials) -> Me:
    """Start a session. Where the person has a second factor and gave no code, 401 names it as the subject."""
    user = authenticate(request, username=payload.name, password=payload.password)
    if user is None:
        raise Refused(401, "name or password is wrong", "sign-in", "try again, or ask for a new password")
    assert isinstance(user, User)
    if second_factor.is_on(user):
        if not payload.code:
            raise Refused(401, "type the code of your second factor", "code", "it is in the app on your phone")
        if not second_factor.verify(user, payload.code):
            raise Refused(401, "this code is wrong or was used", "code", "wait for the next one, or use a recovery code")
    login(request, user)
    return _me(request)


@router.delete("", response=Me, operation_id="signOut")
def sign_out(request: HttpRequest) -> Me:
    """End the session."""
    logout(request)
    return _me(request)


@router.post("/password", response={200: None, **ERRORS}, operation_id="changePassword")
def change_password(request: HttpRequest, payload: PasswordIn) -> None:
    """Another password for oneself; all other sessions end."""
    user = _proven(request, payload.old)
    set_password(user, payload.new)
    here = request.session.session_key
    update_session_auth_hash(request, user)  # which gives the session another key
    OpenSession.objects.filter(session_key=here).update(session_key=request.session.session_key)
    for session in OpenSession.objects.filter(user=user).exclude(session_key=request.session.session_key):
        end(session)


@router.post("/reset", auth=None, response={200: None, **ERRORS}, operation_id="askForReset", throttle=[PerAddress("10/m")])
@decorate_view(csrf_protect)
def ask_for_reset(request: HttpRequest, payload: ResetIn) -> None:
    """Mail a link for a new password. The answer is the same whether there is such a person or not."""
    send_reset(payload.name, request.build_absolute_uri("/").rstrip("/"))


@router.post(
    "/reset/confirm", auth=None, response={200: None, **ERRORS}, operation_id="resetPassword", throttle=[PerAddress("10/m")]
)
@decorate_view(csrf_protect)
def reset_password(request: HttpRequest, payload: NewPasswordIn) -> None:
    """Set the password by a link; all sessions end. The second factor stays."""
    user = whose(payload.who, payload.token)
    set_password(user, payload.new)
    for session in OpenSession.objects.filter(user=user):
        end(session)


@router.post("/second-factor", response={200: SecretOut, **ERRORS}, operation_id="beginSecondFactor")
def begin_second_factor(request: HttpRequest, payload: ProofIn) -> SecretOut:
    """A secret for an app; it is in force once a code of it was confirmed."""
    address, picture = second_factor.begin(_proven(request, payload.password))
    return SecretOut(address=address, picture=picture)


@router.post("/second-factor/confirm", response={200: RecoveryOut, **ERRORS}, operation_id="confirmSecondFactor")
def confirm_second_factor(request: HttpRequest, payload: CodeIn) -> RecoveryOut:
    """Put the secret in force."""
    codes = second_factor.confirm(_user(request), payload.code)
    if codes is None:
        raise Refused(400, "this code is wrong", "code", "type the one that the app shows now")
    return RecoveryOut(codes=codes)


@router.post("/second-factor/off", response={200: None, **ERRORS}, operation_id="endSecondFactor")
def end_second_factor(request: HttpRequest, payload: ProofIn) -> None:
    """No second factor any more."""
    second_factor.off(_proven(request, payload.password))


@router.get("/open", response={200: list[SessionOut], **ERRORS}, operation_id="listSessions")
def list_sessions(request: HttpRequest) -> list[SessionOut]:
    """One's own open sessions, the newest first."""
    here = request.session.session_key
    return [
        SessionOut(
            id=r.pk, address=r.address, agent=r.agent, since=r.since.isoformat(timespec="seconds"),
            seen_at=r.seen_at.isoformat(timespec="seconds"), here=r.session_key == here,
        )
        for r in open_sessions(_user(request))
    ]  # fmt: skip


@router.delete("/open/{session_id}", response={200: None, **ERRORS}, operation_id="endSession")
def end_session(request: HttpRequest, session_id: int) -> None:
    """End one of one's own sessions."""
    found = OpenSession.objects.filter(user=_user(request), pk=session_id).first()
    if found is None:
        raise Refused(404, "there is no such session", "session", "it may have ended already")
    end(found)
