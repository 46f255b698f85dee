"""Sessions: each is written down when somebody signs in, ends when nobody has worked in it for too long, and can be ended."""

from collections.abc import Callable
from datetime import timedelta
from importlib import import_module
from typing import Any

from django.conf import settings
from django.contrib.auth import logout
from django.contrib.auth.models import User
from django.contrib.auth.signals import user_logged_in, user_logged_out
from django.db import InterfaceError, OperationalError
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from accounts.models import OpenSession
from config.middleware import away

#: What an open page asks by itself is no work of a person.
BY_ITSELF = ("/pulse", "/api/jobs/", "/api/health")
#: Work is written down so often at most.
WRITE_AFTER = timedelta(minutes=1)


def address_of(request: HttpRequest) -> str:
    """The address of the browser: what the last of our own proxies was asked by (settings.PROXIES of them), else who asks."""
    forwarded = [a.strip() for a in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if a.strip()]
    if settings.PROXIES and len(forwarded) >= settings.PROXIES:
        found: str = forwarded[-settings.PROXIES][:45]
        return found
    return str(request.META.get("REMOTE_ADDR") or "")[:45]


@receiver(user_logged_in)
def write_down(sender: Any, request: HttpRequest, user: User, **_: Any) -> None:
    """Remember a session."""
    if request.session.session_key is None:
        request.session.save()
    agent = request.META.get("HTTP_USER_AGENT", "")[:200]
    OpenSession.objects.update_or_create(
        session_key=request.session.session_key, defaults={"user": user, "address": address_of(request), "agent": agent}
    )


@receiver(user_logged_out)
def _ended(sender: Any, request: HttpRequest, **_: Any) -> None:
    OpenSession.objects.filter(session_key=request.session.session_key).delete()


def end(session: OpenSession) -> None:
    """End a session: whoever holds it is signed out with the next thing they do."""
    import_module(settings.SESSION_ENGINE).SessionStore(session.session_key).delete()
    session.delete()


def open_sessions(user: User) -> list[OpenSession]:
    """The sessions of a person, the newest first. Those past the idle limit, whose browser never came back, end here."""
    rows = OpenSession.objects.filter(user=user).order_by("-seen_at")
    for row in rows.filter(seen_at__lt=timezone.now() - settings.IDLE_LIMIT):
        end(row)
    return list(rows.all())


class IdleLimit:
    """Signs out who has done nothing for settings.IDLE_LIMIT."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            self._look(request)
        except (OperationalError, InterfaceError):
            return away()
        return self.get_response(request)

    def _look(self, request: HttpRequest) -> None:
        if not request.user.is_authenticated:
            return
        now = timezone.now()
        row = OpenSession.objects.filter(session_key=request.session.session_key).first()
        if row is None:  # begun before sessions were written down
            assert isinstance(request.user, User)
            write_down(None, request, request.user)
        elif now - row.seen_at > settings.IDLE_LIMIT:
            logout(request)
        elif now - row.seen_at > WRITE_AFTER and not any(part in request.path for part in BY_ITSELF):
            row.save(update_fields=["seen_at"])
