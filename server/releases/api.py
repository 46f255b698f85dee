"""What a new release reckons otherwise."""

from django.http import HttpRequest
from ninja import Path, Router, Schema

from config.errors import ERRORS
from projects.access import project_for
from projects.models import Role
from releases.bills import differences, keep
from saddle.quantities.compared import ItemChange
from saddle.release import RELEASE, rules_since

router = Router(tags=["releases"])


class ChangedFigure(ItemChange):
    """rules: what releases since then reckon otherwise, of those that touch such figures."""

    rules: list[str]


class SinceRelease(Schema):
    """before: the release that reckoned the bill that was kept; edited: whether documents were changed since, so that not all of it is
    the release's doing."""

    before: str
    now: str
    edited: bool
    items: list[ChangedFigure]


@router.get("/since-release", response={200: SinceRelease | None, **ERRORS}, operation_id="sinceRelease")
def since_release(request: HttpRequest, project_id: Path[int]) -> SinceRelease | None:
    """The bill as an older release reckoned it against the bill now, figure by figure; nothing where this release reckoned it."""
    project = project_for(request, project_id)
    found = differences(project)
    if found is None:
        return None
    before, edited, items = found
    if not items:
        keep(project)  # nothing to be seen
        return None
    changed = [ChangedFigure(**item.model_dump(), rules=rules_since(before, item.unit)) for item in items]
    return SinceRelease(before=before, now=RELEASE, edited=edited, items=changed)


@router.post("/since-release", response={204: None, **ERRORS}, operation_id="seenSinceRelease")
def seen(request: HttpRequest, project_id: Path[int]) -> tuple[int, None]:
    """Somebody has seen what differs: from now on the bill is this release's."""
    keep(project_for(request, project_id, Role.DESIGNER))
    return 204, None
