"""Files handed to the browser, named after project, content and chainages."""

import re

from django.http import HttpResponse

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def file_name(owner: str, what: str) -> str:
    """<owner>_<what>; owner: the project's name."""
    return f"{re.sub(r'[^A-Za-z0-9]+', '-', owner).strip('-') or 'project'}_{what}"


def disposition(name: str) -> str:
    """The header that makes a browser save a file under a name."""
    return f'attachment; filename="{name}"'


def attachment(owner: str, what: str, content: bytes | str, kind: str) -> HttpResponse:
    """A file called <owner>_<what>; kind: content type."""
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": disposition(file_name(owner, what))})
