"""The registry of documents: a new kind of document is one entry here."""

from collections.abc import Mapping
from dataclasses import dataclass

from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec
from saddle.documents_base import Document, references
from saddle.drawings.spec import Drawing, DrawingStyle, TitleBlock
from saddle.findings.left import LeftProblems
from saddle.guides.spec import FollowPlan, GuideSpec
from saddle.lines.spec import LineGroup
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan
from saddle.quantities.reports.spec import ReportLayout
from saddle.road.spec import RemarkList, RoadSpec, SectionSettings, TemplatePlan, TreatmentPlan, VariantPlan
from saddle.standards import published
from saddle.standards.spec import Standards
from saddle.template.median import MedianSpec
from saddle.template.parts import KerbProfile, MakeUp, Material
from saddle.template.spec import TemplateSpec
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.spec import CodeList, SavedCodes, SavedMapping, Structures, SurfaceSpec

#: Key of a document of which a project has exactly one, and of the road and the alignment that it begins with.
MAIN = "main"


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of document. words: what people call one; start: what a new project has of it under the key MAIN, None for nothing;
    single: a project has exactly one, which cannot be removed; of_road: every road has exactly one, under the road's key, which is
    made and removed with it."""

    model: type[Document]
    words: str
    start: Document | None = None
    single: bool = False
    of_road: bool = False

    @property
    def named(self) -> bool:
        """Whether there may be several that people tell apart by name."""
        return not (self.single or self.of_road)


KINDS: dict[str, Kind] = {
    "road": Kind(RoadSpec, "Road", RoadSpec()),
    "alignment": Kind(AlignmentSpec, "Alignment"),
    "sections": Kind(SectionSettings, "Section settings", SectionSettings(), of_road=True),
    "treatments": Kind(TreatmentPlan, "Treatments", TreatmentPlan(), of_road=True),
    "template_plan": Kind(TemplatePlan, "Template ranges", TemplatePlan(), of_road=True),
    "drawing_style": Kind(DrawingStyle, "Drawing style"),
    "drawing": Kind(Drawing, "Drawing"),
    "report": Kind(ReportLayout, "Report"),
    "title_block": Kind(TitleBlock, "Title block", TitleBlock(), single=True),
    "template": Kind(TemplateSpec, "Template"),
    "median": Kind(MedianSpec, "Median"),
    "make_up": Kind(MakeUp, "Make-up"),
    "kerb": Kind(KerbProfile, "Kerb"),
    "material": Kind(Material, "Material"),
    "guide": Kind(GuideSpec, "Guide"),
    "follow": Kind(FollowPlan, "Follow rules", FollowPlan(), of_road=True),
    "profile": Kind(ProfileSpec, "Profile"),
    "code_list": Kind(CodeList, "Code list", CodeList(), single=True),
    "surface": Kind(SurfaceSpec, "Surface", SurfaceSpec()),
    "survey": Kind(SurveyInUse, "Survey in use", SurveyInUse(), single=True),
    "structures": Kind(Structures, "Structures", Structures(), single=True),
    "crossfalls": Kind(CrossfallTable, "Crossfalls", CrossfallTable(), of_road=True),
    "levels": Kind(LevelTable, "Level table", LevelTable(), of_road=True),
    "milling": Kind(MillingPlan, "Milling plan", MillingPlan(), of_road=True),
    "standards": Kind(Standards, "Standards", published.STARTING, single=True),
    "remarks": Kind(RemarkList, "Remarks", RemarkList(), of_road=True),
    "left_problems": Kind(LeftProblems, "Problems left", LeftProblems(), of_road=True),
    "variants": Kind(VariantPlan, "Variants", VariantPlan(), of_road=True),
    "section_lines": Kind(LineGroup, "Section lines"),
    "mapping": Kind(SavedMapping, "Column mapping"),
    "saved_codes": Kind(SavedCodes, "List of codes"),
}


def titled(kind: str, spec: Document | Mapping[str, object]) -> str:
    """A document as people call it: its kind, with its name where there may be several."""
    name = spec.get("name") if isinstance(spec, Mapping) else getattr(spec, "name", None)
    return f"{KINDS[kind].words} “{name}”" if KINDS[kind].named and name else KINDS[kind].words


def road_documents() -> dict[str, Document]:
    """What a new road begins with, by kind; each goes under the road's key."""
    return {name: kind.start for name, kind in KINDS.items() if kind.of_road and kind.start is not None}


def users(documents: Mapping[tuple[str, str], Document]) -> dict[tuple[str, str], list[tuple[str, str]]]:
    """For every document that others name, which they are: by (kind, key), in the order given."""
    found: dict[tuple[str, str], list[tuple[str, str]]] = {}
    for name, document in documents.items():
        for used in dict.fromkeys(references(document)):
            found.setdefault(used, []).append(name)
    return found
