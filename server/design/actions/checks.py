"""What a document must hold besides being sound by itself, checked in the transaction that writes it: an app registers its own."""

from collections.abc import Callable

from design.specs import the_spec
from projects.models import Project
from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec
from saddle.documents_base import Document as Spec
from saddle.road.spec import SectionSettings
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


@checks("alignment", "sections")
def can_be_computed(project: Project, _: Spec) -> None:
    """Refuses what puts more sections on the road than are computed."""
    alignment, settings = the_spec(project, AlignmentSpec, "alignment"), the_spec(project, SectionSettings, "sections")
    if alignment is not None and settings is not None:
        place_stations(build(alignment), station_rules(settings), (), ())
