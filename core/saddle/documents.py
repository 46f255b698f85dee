"""The registry of documents: kind -> model. A new kind of document is one line here."""

from collections.abc import Iterator

from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec
from saddle.documents_base import Document
from saddle.exchange.survey_csv import SavedMapping
from saddle.guides.spec import FollowPlan, GuideSpec, OnGuide
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan, ProfileGoverns
from saddle.road.spec import Leave, SectionSettings, TemplatePlan, TreatmentPlan
from saddle.road.variants import VariantPlan
from saddle.sheets.spec import SheetStyle
from saddle.standards.spec import Standards
from saddle.template.parts import DownTo, KerbProfile, MakeUp, Material
from saddle.template.spec import TemplateSpec
from saddle.terrain.spec import CodeList, Structures, SurfaceSpec

KINDS: dict[str, type[Document]] = {
    "alignment": AlignmentSpec,
    "sections": SectionSettings,
    "treatments": TreatmentPlan,
    "template_plan": TemplatePlan,
    "sheet_style": SheetStyle,
    "template": TemplateSpec,
    "make_up": MakeUp,
    "kerb": KerbProfile,
    "material": Material,
    "guide": GuideSpec,
    "follow": FollowPlan,
    "profile": ProfileSpec,
    "code_list": CodeList,
    "surface": SurfaceSpec,
    "structures": Structures,
    "crossfalls": CrossfallTable,
    "levels": LevelTable,
    "milling": MillingPlan,
    "standards": Standards,
    "variants": VariantPlan,
    "mapping": SavedMapping,
}
#: Kinds of which a project has exactly one, under the key MAIN.
SINGLE = (
    "sections",
    "treatments",
    "template_plan",
    "sheet_style",
    "follow",
    "code_list",
    "structures",
    "crossfalls",
    "levels",
    "milling",
    "variants",
    "standards",
)
MAIN = "main"


def references(spec: Document) -> Iterator[tuple[str, str]]:
    """(kind, key) of every document that a document names."""
    if isinstance(spec, TemplatePlan):
        yield from (("template", r.template) for r in spec.ranges)
    elif isinstance(spec, TemplateSpec):
        for half in spec.halves():
            yield from (("kerb", k.profile) for k in half.kerbs)
            yield from (("make_up", key) for s in half.strips for key in (s.new, s.over_existing) if key)
            yield from (("material", key) for key in (half.fill, *(f.fill for f in half.floors)))
            yield from (("guide", s.guide) for s in half.sources() if isinstance(s, OnGuide))
            yield from (("surface", key) for key in half.surfaces())
    elif isinstance(spec, FollowPlan):
        yield from (("guide", r.source.guide) for r in spec.rules if isinstance(r.source, OnGuide))
    elif isinstance(spec, TreatmentPlan):
        for work in (r.work for r in spec.ranges):
            if not isinstance(work, Leave):
                sources = (work.hinge, work.left_edge, work.right_edge, getattr(work, "kerb_top", None))
                yield from (("guide", s.guide) for s in sources if isinstance(s, OnGuide))
                if isinstance(work.governs, ProfileGoverns):
                    yield "profile", work.governs.profile
    elif isinstance(spec, MillingPlan):
        yield from (("guide", s.guide) for m in spec.stretches for s in (m.left, m.right) if isinstance(s, OnGuide))
    elif isinstance(spec, MakeUp):
        yield from (("material", c.material) for c in spec.courses)
        if isinstance(spec.bottom, DownTo):
            yield "surface", spec.bottom.surface
    elif isinstance(spec, KerbProfile):
        yield from (("material", key) for key in (spec.material, spec.bed_material) if key)
