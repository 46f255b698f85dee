"""All that a road of a project is computed from, read once for a request."""

from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Annotated, Any

from ninja import Query

from config.errors import Refused
from config.memory import CACHE
from design.specs import document_ids, read_specs, the_spec
from projects.models import Project
from road.reading import guides_named, roads_followed
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec
from saddle.documents import KINDS, MAIN
from saddle.documents_base import Document as Spec
from saddle.errors import SaddleError
from saddle.findings.left import LeftProblem, LeftProblems
from saddle.guides.evaluate import RoadLines
from saddle.guides.spec import GuideSpec
from saddle.road.model import RoadInputs
from saddle.road.spec import RoadSpec, ToMiddle, applied_along
from saddle.stages.keys import digest
from saddle.template.spec import surfaces_of
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.spec import CodeList, SurfaceSpec
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin
from survey.store import counted, identity
from survey.surfaces import built

#: The key of the road that is asked about, in the address of everything that follows from one.
RoadKey = Annotated[str, Query(max_length=80, pattern=r"^[A-Za-z0-9_-]+$")]
#: Kinds that are mappings from key to document in the inputs.
MAPS = {
    "template": "templates",
    "median": "medians",
    "make_up": "make_ups",
    "kerb": "kerbs",
    "material": "materials",
    "guide": "guides",
    "profile": "profiles",
}
#: Kinds of which a road has one: its alignment, what stands under its own key, and what it shares with the others.
SINGLES = {
    "alignment": "alignment",
    "sections": "settings",
    "treatments": "treatments",
    "template_plan": "template_plan",
    "follow": "follow",
    "structures": "structures",
    "crossfalls": "crossfalls",
    "levels": "levels",
    "milling": "milling",
    "standards": "standards",
    "remarks": "remarks",
}


@dataclass(frozen=True)
class Loaded:
    """Inputs of a road, the documents of the project by kind and key, and what is missing to compute. road: its key, and what it is;
    stamp: changes with any document."""

    road: str
    spec: RoadSpec
    inputs: RoadInputs | None
    specs: dict[tuple[str, str], Spec]
    missing: list[str]
    stamp: str

    def of_road(self, kind: str) -> Spec | None:
        """The document of a kind of which the road has exactly one."""
        return self.specs.get((kind, self.road))


def road_spec(specs: Mapping[tuple[str, str], Spec], road: str) -> RoadSpec:
    """A road of a project. Raises Refused 404 for one that is not there."""
    found = specs.get(("road", road))
    if not isinstance(found, RoadSpec):
        raise Refused(404, "there is no such road", f"road {road}", "choose one of the list of roads")
    return found


def roads_of(specs: Mapping[tuple[str, str], Spec]) -> dict[str, RoadSpec]:
    """The roads of a project in their order, by key."""
    found = {key: spec for (_, key), spec in specs.items() if isinstance(spec, RoadSpec)}
    return dict(sorted(found.items(), key=lambda item: (item[1].place, item[0] != MAIN, item[0])))


def alignment_of(project: Project, road: str) -> AlignmentSpec | None:
    """The alignment of a road, None where it has none yet. Raises Refused 404 for a road that is not there."""
    return the_spec(project, AlignmentSpec, "alignment", road_spec(read_specs(project, "road").specs, road).alignment)


def load_inputs(
    project: Project, road: str, lines: Callable[[str], RoadLines | None] = lambda _: None, *, ends: bool = True
) -> Loaded:
    """Read all documents and the survey of a project, and pick what a road follows from. What stands for a document is the change that
    made it. lines: gives those of a road that this one follows or ends at, None where it cannot be computed; ends: whether it ends at
    any. Raises Refused 404 for a road that is not there."""
    read = read_specs(project)
    specs, ids = read.specs, read.ids
    spec_of_road = road_spec(specs, road)
    in_use = specs.get(("survey", MAIN))
    used = in_use if isinstance(in_use, SurveyInUse) and in_use.survey is not None else None
    alignment = specs.get(("alignment", spec_of_road.alignment))
    missing = [name for name, there in (("survey", used), ("alignment", alignment)) if there is None]
    stamp = _stamp(project.pk, road, list(ids.values()))
    if used is None or not isinstance(alignment, AlignmentSpec):
        return Loaded(road, spec_of_road, None, specs, missing, stamp)
    codes = specs.get(("code_list", MAIN), CodeList())
    main = specs.get(("surface", MAIN), SurfaceSpec())
    assert isinstance(codes, CodeList) and isinstance(main, SurfaceSpec)
    surface, _ = built(project, main, codes)
    parts: dict[str, Any] = {field: {} for field in MAPS.values()}
    made_by: dict[str, list[str]] = {}
    for (kind, key), spec in specs.items():
        field = field_of(kind, key, spec, road, spec_of_road)
        if field is None:
            continue
        if kind in MAPS:
            parts[field][key] = spec
        else:
            parts[field] = spec
        made_by.setdefault(field, []).append(ids[kind, key])
    parts["lines"] = _lines(used)
    roads = roads_of(specs)
    if len(roads) > 1:
        elsewhere = {guide for key in roads if key != road for guide in guides_named(read, key)}
        parts["followed_elsewhere"] = tuple(sorted(elsewhere))
        followed = {key: lines(key) for key in sorted(roads_followed(read, road))}
        parts["roads"] = {key: found for key, found in followed.items() if found is not None}
        if ends:
            parts["beside"] = tuple(spec_of_road.beside)
            facing = sorted({b.to.road for b in spec_of_road.beside if isinstance(b.to, ToMiddle)} - {road})
            parts["neighbours"] = {key: found for key in facing if (found := lines(key)) is not None}
    parts["surfaces"] = _other_surfaces(project, specs, codes, parts)
    identities: dict[str, tuple[object, str]] = {name: (parts[name], f"documents {' '.join(by)}") for name, by in made_by.items()}
    identities["lines"] = (parts["lines"], f"survey {identity(used)}")
    return Loaded(road, spec_of_road, RoadInputs(surface=surface, identities=identities, **parts), specs, [], stamp)


def field_of(kind: str, key: str, spec: Spec, road: str, of: RoadSpec) -> str | None:
    """The field of a road's inputs that a document goes into, None where the road does not follow from it: what lies along another
    alignment is nothing to it."""
    if isinstance(spec, GuideSpec | ProfileSpec) and spec.alignment != of.alignment:
        return None
    if kind in MAPS:
        return MAPS[kind]
    own = of.alignment if kind == "alignment" else road if KINDS[kind].of_road else MAIN
    return SINGLES.get(kind) if key == own else None


def left_of(loaded: Loaded) -> list[LeftProblem]:
    """The problems of a road that the designers leave."""
    spec = loaded.of_road("left_problems")
    return spec.rows if isinstance(spec, LeftProblems) else []


def stamp_of(project: Project, road: str = "") -> str:
    """The stamp of a road's inputs, or that of the whole project, without reading any of them."""
    return _stamp(project.pk, road, list(document_ids(project).values()))


def _stamp(project_id: int, road: str, ids: list[str]) -> str:
    return digest(project_id, *([road] if road else []), ids)[:16]


def _lines(used: SurveyInUse) -> dict[str, SurveyLines]:
    return CACHE.get(f"lines of survey {identity(used)}", "survey lines", lambda: counted(used).survey.lines_by_code())


def _other_surfaces(
    project: Project, specs: dict[tuple[str, str], Spec], codes: CodeList, parts: dict[str, Any]
) -> dict[str, Tin]:
    """Surfaces besides the main one that the templates in use look at. One that cannot be built is left out: the points on it
    then have no level, which the problem list says."""
    found: dict[str, Tin] = {}
    used = applied_along(parts["template_plan"], parts["medians"]) & set(parts["templates"])
    for name in {n for key in used for n in surfaces_of(parts["templates"][key], parts["make_ups"])} - {MAIN}:
        spec = specs.get(("surface", name))
        if isinstance(spec, SurfaceSpec):
            with suppress(SaddleError):
                found[name] = built(project, spec, codes)[0]
    return found
