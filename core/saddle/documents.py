"""The registry of documents: kind -> model. A new kind of document is one line here."""

from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec
from saddle.documents_base import Document
from saddle.exchange.survey_csv import SavedMapping
from saddle.guides.spec import FollowPlan, GuideSpec
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan
from saddle.road.spec import SectionSettings, TemplatePlan, TreatmentPlan
from saddle.road.variants import VariantPlan
from saddle.sheets.spec import SheetStyle
from saddle.standards.spec import Standards
from saddle.template.parts import KerbProfile, MakeUp, Material
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
