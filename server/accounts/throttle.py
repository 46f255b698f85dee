"""How often an address may ask for something."""

from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja.throttling import SimpleRateThrottle

from accounts.sessions import address_of
from config.middleware import refusal


class PerAddress(SimpleRateThrottle):
    """So many requests from one address, in each process: "120/m"."""

    scope = "address"

    def get_cache_key(self, request: HttpRequest) -> str:
        return self.cache_format % {"scope": request.path.replace("/", "-"), "ident": address_of(request)}


def locked_out(request: HttpRequest, *_: Any) -> HttpResponse:
    """What is told to who guesses at a password."""
    minutes = int(settings.AXES_COOLOFF_TIME.total_seconds() // 60)
    return refusal(429, "too many wrong tries", "sign-in", f"wait {minutes} minutes, or ask for a new password")
