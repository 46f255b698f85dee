"""What a document must hold besides being sound by itself, checked in the transaction that writes it: an app registers its own."""

from collections.abc import Callable

from design.specs import read_specs
from projects.models import Project
from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec
from saddle.documents_base import Document as Spec
from saddle.road.spec import RoadSpec, SectionSettings
from saddle.road.stations import place_stations, station_rules

Check = Callable[[Project, Spec], None]
_checks: dict[str, list[Check]] = {}


def checks(*kinds: str) -> Callable[[Check], Check]:
    """Register a check of documents of some kinds. It raises Refused or SaddleError, and then nothing is written."""

    def register(check: Check) -> Check:
        for kind in kinds:
            _checks.setdefault(kind, []).append(check)
        return check

    return register


def check(project: Project, kind: str, spec: Spec) -> None:
    """All checks of a kind on a document that was just written."""
    for one in _checks.get(kind, ()):
        one(project, spec)


@checks("alignment", "sections", "road")
def can_be_computed(project: Project, _: Spec) -> None:
    """Refuses what puts more sections on a road than are computed."""
    specs = read_specs(project, "road", "alignment", "sections").specs
    for (_kind, key), road in specs.items():
        if not isinstance(road, RoadSpec):
            continue
        alignment, settings = specs.get(("alignment", road.alignment)), specs.get(("sections", key))
        if isinstance(alignment, AlignmentSpec) and isinstance(settings, SectionSettings):
            place_stations(build(alignment), station_rules(settings), (), ())
