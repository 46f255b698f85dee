"""Files handed to the browser, named after project, content and chainages."""

import re

from django.http import HttpResponse

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def attachment(owner: str, what: str, content: bytes | str, kind: str) -> HttpResponse:
    """A file called <owner>_<what>; owner: the project's name; kind: content type."""
    name = re.sub(r"[^A-Za-z0-9]+", "-", owner).strip("-") or "project"
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}_{what}"'})
