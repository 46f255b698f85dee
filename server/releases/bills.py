"""Keeps the bill of every project as this release reckons it, and tells where the release before reckoned otherwise."""

from contextlib import suppress

from django.db.models import Q

from config.errors import Refused
from design.specs import read_specs
from projects.models import Project
from releases.models import Billed
from road.inputs import roads_of, stamp_of
from road.model import road_model
from saddle.errors import SaddleError
from saddle.quantities.bill import added_up, as_printed
from saddle.quantities.compared import ItemChange, RoadFigures, compare_figures
from saddle.quantities.takeoff import QuantityRow, take_off
from saddle.release import RELEASE, order_of

#: So many bills are kept in one go.
AT_ONCE = 20


def bill_of(project: Project) -> tuple[list[QuantityRow], str]:
    """The totals of the printed bills of all roads that can be computed, and the stamp of what they are of. Raises Refused or
    SaddleError where there is none."""
    stamp = stamp_of(project)
    bills: list[list[QuantityRow]] = []
    missing: Refused | None = None
    for road in roads_of(read_specs(project).specs):
        try:
            bills.append(as_printed(take_off(road_model(project, road)[0])).total.rows)
        except Refused as refused:
            missing = refused
    if not bills:
        raise missing or Refused(409, "the project has no road", "road")
    return (bills[0] if len(bills) == 1 else added_up(bills)), stamp


def keep(project: Project) -> None:
    """Write the bill down as this release reckons it."""
    rows, stamp = bill_of(project)
    Billed.objects.update_or_create(
        project=project, defaults={"release": RELEASE, "stamp": stamp, "rows": [r.model_dump(mode="json") for r in rows]}
    )


def keep_changed() -> int:
    """Write down the bills of projects that changed since; how many. One that an older release reckoned stays until somebody has seen
    what differs."""
    done = 0
    for project in Project.objects.filter(Q(billed=None) | Q(billed__release=RELEASE)).select_related("billed"):
        held = getattr(project, "billed", None)
        if held is not None and held.stamp == stamp_of(project):
            continue
        with suppress(Refused, SaddleError):
            keep(project)
            done += 1
        if done >= AT_ONCE:
            break
    return done


def differences(project: Project) -> tuple[str, bool, list[ItemChange]] | None:
    """The older release, whether documents were changed since it reckoned, and what differs; None where nothing older is written
    down."""
    held = Billed.objects.filter(project=project).first()
    if held is None or order_of(held.release) >= order_of(RELEASE):
        return None
    rows, stamp = bill_of(project)
    before = [QuantityRow.model_validate(row) for row in held.rows]
    found = compare_figures(RoadFigures(quantities=before, sections=[]), RoadFigures(quantities=rows, sections=[]))
    # What no figure was written for is no figure that changed.
    return held.release, held.stamp != stamp, [item for item in found.items if item.unit != "m2" or item.before is not None]
