"""Addresses: the API, static files, and the single page for everything else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from front.api import api
from front.health import alive, numbers, ready


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The web application; it reads its place from the address."""
    index = next((d / "index.html" for d in (settings.STATIC_ROOT, settings.WEB_DIST) if (d / "index.html").is_file()), None)
    if index is None:
        return HttpResponse("The web application is not built: run bin/demo or bin/serve.", status=503)
    return HttpResponse(index.read_bytes(), content_type="text/html; charset=utf-8")


urlpatterns = [
    path("api/health", alive),
    path("api/health/ready", ready),
    path("api/metrics", numbers),
    path("api/", api.urls),
    re_path(r"^(?!api/|static/).*$", page),
]
