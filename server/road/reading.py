"""Which roads a road reads: those whose lines its guides are."""

from collections.abc import Mapping

from config.errors import Refused
from design.actions.checks import checks
from design.specs import read_specs
from projects.models import Project
from saddle.documents import KINDS
from saddle.documents_base import Document as Spec
from saddle.documents_base import references
from saddle.guides.spec import GuideSpec, OfRoad
from saddle.road.spec import RoadSpec, TemplatePlan

Specs = Mapping[tuple[str, str], Spec]


def guides_of(specs: Specs, road: str) -> set[str]:
    """Keys of the guides that the decisions along a road name, and the templates that are applied along it."""
    own = [spec for (kind, key), spec in specs.items() if key == road and kind in KINDS and KINDS[kind].of_road]
    plan = specs.get(("template_plan", road))
    applied = {r.template for r in plan.ranges} if isinstance(plan, TemplatePlan) else set()
    own += [specs["template", key] for key in applied if ("template", key) in specs]
    return {key for spec in own for kind, key in references(spec) if kind == "guide"}


def _roads_of_guides(specs: Specs, road: str, *, followed: bool) -> set[str]:
    """Roads whose lines the guides on a road's alignment are. followed: of those guides only that the road follows."""
    of = specs.get(("road", road))
    wanted = guides_of(specs, road) if followed else None
    return {
        spec.source.road
        for (_, key), spec in specs.items()
        if isinstance(spec, GuideSpec) and isinstance(spec.source, OfRoad) and isinstance(of, RoadSpec)
        if spec.alignment == of.alignment and spec.source.road != road and (wanted is None or key in wanted)
    }


def _behind(specs: Specs, road: str) -> set[str]:
    """All roads that a road follows, and those that these follow."""
    found: set[str] = set()
    new = {road}
    while new:
        new = {other for one in new for other in _roads_of_guides(specs, one, followed=True)} - found
        found |= new
    return found


def read_by(specs: Specs, road: str) -> set[str]:
    """Keys of the roads that a road reads: those that it follows, and for the eye those of its other guides that do not follow it."""
    followed = _roads_of_guides(specs, road, followed=True)
    shown = {other for other in _roads_of_guides(specs, road, followed=False) if road not in _behind(specs, other)}
    return followed | shown


@checks("guide", "follow", "treatments", "milling", "template_plan", "template", "road")
def no_circle(project: Project, _: Spec) -> None:
    """Refuses what lets roads follow each other in a circle."""
    specs = read_specs(project).specs
    if not any(isinstance(spec, GuideSpec) and isinstance(spec.source, OfRoad) for spec in specs.values()):
        return
    for (kind, key), road in specs.items():
        if kind == "road" and isinstance(road, RoadSpec) and key in _behind(specs, key):
            others = [specs["road", k] for k in sorted(_behind(specs, key)) if k != key and key in _behind(specs, k)]
            names = [road.name, *(other.name for other in others if isinstance(other, RoadSpec))]
            raise Refused(
                400, f"the roads {' and '.join(names)} would follow each other", "guide", "let one of them follow something else"
            )
