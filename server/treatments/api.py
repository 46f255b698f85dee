"""Treatments: variants of an overlay compared, and side roads tied in."""

from collections.abc import Mapping

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Path, Router

from config.errors import ERRORS, refuse_backward
from design.actions.change import Change, change_documents
from design.models import Document
from projects.access import project_for
from projects.models import Project, Role
from road.inputs import RoadKey
from road.model import road_model, variants
from saddle.documents import MAIN
from saddle.documents_base import Document as Spec
from saddle.quantities.variants import VariantResult, treatments_with
from saddle.road.drives import DriveTable, tie_in_drives
from saddle.road.side_roads import Around, SideRoad, tie_in_side_road
from saddle.road.spec import TreatmentPlan
from treatments.bodies import VariantsIn, VariantTreatmentsIn

router = Router(tags=["treatments"])


@router.post("/variants/compare", response={200: list[VariantResult], **ERRORS}, operation_id="compareVariants")
def compare(request: HttpRequest, project_id: Path[int], payload: VariantsIn, road: RoadKey = MAIN) -> list[VariantResult]:
    """The road as it is and variants of its overlay over a range; nothing is written."""
    project = project_for(request, project_id)
    refuse_backward(payload.from_chainage, payload.to_chainage)
    return variants(project, road, payload.plan, payload.from_chainage, payload.to_chainage)


@router.post("/variants/treatments", response={200: TreatmentPlan, **ERRORS}, operation_id="variantTreatments")
def variant_treatments(
    request: HttpRequest, project_id: Path[int], payload: VariantTreatmentsIn, road: RoadKey = MAIN
) -> TreatmentPlan:
    """The treatments with a variant taken over a range; nothing is written."""
    model, _ = road_model(project_for(request, project_id), road)
    refuse_backward(payload.from_chainage, payload.to_chainage)
    return treatments_with(model.inputs.treatments, payload.variant, payload.from_chainage, payload.to_chainage)


@router.post("/side-roads", response={200: list[str], **ERRORS}, operation_id="tieInSideRoad")
def side_road(request: HttpRequest, project_id: Path[int], payload: SideRoad, road: RoadKey = MAIN) -> list[str]:
    """Tie a side road in, as one step of the history. Returns the keys of the templates over its mouth."""
    project = project_for(request, project_id, Role.DESIGNER)
    found = tie_in_side_road(payload, Around.of(road, road_model(project, road)[0].inputs))
    return _written(request, project, f"Side road “{payload.name}” tied in", found)


@router.post("/drives", response={200: list[str], **ERRORS}, operation_id="tieInDrives")
def drives(request: HttpRequest, project_id: Path[int], payload: DriveTable, road: RoadKey = MAIN) -> list[str]:
    """Tie drives and field accesses in and lay kerbs low, all rows of a table as one step of the history, or none. Returns the keys of the
    templates there."""
    project = project_for(request, project_id, Role.DESIGNER)
    found = tie_in_drives(payload, Around.of(road, road_model(project, road)[0].inputs))
    n = len(payload.rows)
    return _written(request, project, f"{n} drive{'' if n == 1 else 's'} tied in", found)


def _written(request: HttpRequest, project: Project, title: str, found: Mapping[tuple[str, str], Spec]) -> list[str]:
    """What was made is written as one step; the keys of its templates."""
    held = {(r.kind, r.key): r for r in Document.objects.filter(project=project)}
    # A template that serves again is as it was.
    new = {name: spec for name, spec in found.items() if name not in held or held[name].spec != spec.model_dump(mode="json")}
    changes = [
        Change(kind, key, spec, held[kind, key].version if (kind, key) in held else 0) for (kind, key), spec in new.items()
    ]
    assert isinstance(request.user, User)
    change_documents(project, request.user, title, changes)
    return [key for kind, key in found if kind == "template"]
