"""The pulse: every open browser asks once a second what state the project is in and who else is there (docs/decisions/seen-at-once.md)."""

from datetime import timedelta
from uuid import UUID

from django.contrib.auth.models import User
from django.http import HttpRequest
from django.utils import timezone
from ninja import Path, Router, Schema
from pydantic import Field

from config.errors import ERRORS
from presence.models import Presence
from projects.access import project_for
from road.inputs import RoadKey, stamp_of
from saddle.documents import MAIN

router = Router(tags=["presence"])
#: A tab that has not asked for so long is gone.
GONE_AFTER = timedelta(seconds=12)
#: A tab that tells nothing new is written down again after this.
WRITE_AGAIN = timedelta(seconds=5)


class PulseIn(Schema):
    """Where this tab is. field: what is being typed in, by stop, selection and label, empty for nothing."""

    tab: UUID
    stop: str = Field(max_length=40)
    chainage: float | None = Field(default=None, allow_inf_nan=False)
    field: str = Field(default="", max_length=200)


class Other(Schema):
    """Somebody else's tab."""

    tab: UUID
    name: str
    stop: str
    road: str
    chainage: float | None
    field: str


class Pulse(Schema):
    """stamp: of what the road follows from, as Summary has it; others: tabs of other people, and one's own other tabs not."""

    stamp: str
    others: list[Other]


@router.post("/pulse", response={200: Pulse, **ERRORS}, operation_id="pulse")
def pulse(request: HttpRequest, project_id: Path[int], payload: PulseIn, road: RoadKey = MAIN) -> Pulse:
    """Say where one is, and hear what state the project is in and who else is there."""
    project = project_for(request, project_id)
    assert isinstance(request.user, User)
    now = timezone.now()
    there = list(Presence.objects.filter(project=project, seen_at__gt=now - GONE_AFTER).select_related("user").order_by("id"))
    told = {"stop": payload.stop, "road": road, "chainage": payload.chainage, "field": payload.field}
    mine = next((p for p in there if p.tab == payload.tab and p.user_id == request.user.pk), None)
    if mine is None:
        Presence.objects.filter(project=project, seen_at__lt=now - timedelta(days=1)).delete()
    if mine is None or any(getattr(mine, k) != v for k, v in told.items()) or mine.seen_at < now - WRITE_AGAIN:
        Presence.objects.update_or_create(
            project=project, user=request.user, tab=payload.tab, defaults={**told, "seen_at": now}
        )  # fmt: skip
    others = [
        Other(
            tab=p.tab,
            name=p.user.get_full_name() or p.user.username,
            stop=p.stop,
            road=p.road,
            chainage=p.chainage,
            field=p.field,
        )
        for p in there
        if p.user_id != request.user.pk
    ]
    return Pulse(stamp=stamp_of(project, road), others=others)
