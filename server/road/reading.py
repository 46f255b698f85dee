"""Which roads a road follows: those whose lines the guides are that its decisions name. What nobody follows is read by nobody, so that
what a road is computed from never depends on who asked first."""

from collections.abc import Mapping

from config.errors import Refused
from config.memory import CACHE
from design.actions.checks import checks
from design.specs import Specs as ReadSpecs
from design.specs import read_specs
from projects.models import Project
from saddle.documents import KINDS
from saddle.documents_base import Document as Spec
from saddle.documents_base import references
from saddle.guides.spec import CornerCurve, GuideSpec, OfRoad
from saddle.road.spec import RoadSpec, TemplatePlan, applied_along
from saddle.template.median import MedianSpec

#: Kinds of documents by which roads can come to follow each other.
CLOSING = ("guide", "template", "median", "road", *(name for name, kind in KINDS.items() if kind.of_road))


def guides_named(read: ReadSpecs, road: str) -> frozenset[str]:
    """Keys of the guides that the decisions along a road name, and the templates that are applied along it, with those on which they
    stand."""
    plan = read.specs.get(("template_plan", road))
    medians = {key: spec for (_, key), spec in read.specs.items() if isinstance(spec, MedianSpec)}
    applied = applied_along(plan, medians) if isinstance(plan, TemplatePlan) else set()
    own = [
        ("road", road),
        *((kind, road) for kind, of in KINDS.items() if of.of_road),
        *(("template", key) for key in sorted(applied)),
    ]
    found: set[str] = set()
    new = {guide for name in own if name in read.specs for guide in _named_by(read.specs[name], read.ids[name])}
    while new:
        found |= new
        on = [("guide", key) for key in new if ("guide", key) in read.specs]
        new = {guide for name in on for guide in _named_by(read.specs[name], read.ids[name])} - found
    return frozenset(found)


def _named_by(spec: Spec, change: str) -> frozenset[str]:
    """Guides that a document names, found once for the change that made it: a table may have thousands of rows."""
    return CACHE.get(
        f"guides named by {change}", "guides named", lambda: frozenset(k for kind, k in references(spec) if kind == "guide")
    )


def roads_followed(read: ReadSpecs, road: str) -> set[str]:
    """Keys of the roads whose lines a road follows."""
    lines = _lines_of_roads(read.specs)
    of = read.specs.get(("road", road))
    if not lines or not isinstance(of, RoadSpec):
        return set()
    named = guides_named(read, road)
    return {source.road for key, (alignment, source) in lines.items() if key in named and alignment == of.alignment} - {road}


def _lines_of_roads(specs: Mapping[tuple[str, str], Spec]) -> dict[str, tuple[str, OfRoad | CornerCurve]]:
    """Guides that are lines of other roads, by key: their alignment and what they are."""
    return {
        key: (spec.alignment, spec.source)
        for (_, key), spec in specs.items()
        if isinstance(spec, GuideSpec) and isinstance(spec.source, OfRoad | CornerCurve)
    }


def _behind(read: ReadSpecs, road: str) -> set[str]:
    """All roads that a road follows, and those that these follow."""
    found: set[str] = set()
    new = {road}
    while new:
        new = {other for one in new for other in roads_followed(read, one)} - found
        found |= new
    return found


@checks(*CLOSING)
def no_circle(project: Project, _: Spec) -> None:
    """Refuses what lets roads follow each other in a circle."""
    read = read_specs(project)
    if not _lines_of_roads(read.specs):
        return
    roads = {key: spec for (_, key), spec in read.specs.items() if isinstance(spec, RoadSpec)}
    behind = {key: _behind(read, key) for key in roads}
    circle = next((key for key in roads if key in behind[key]), None)
    if circle is not None:
        names = [roads[key].name for key in roads if key in behind[circle] and circle in behind.get(key, set())]
        raise Refused(
            400, f"the roads {' and '.join(names)} would follow each other", "guide", "let one of them follow something else"
        )
