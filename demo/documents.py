"""What the demo's designer has decided so far, on top of the starting templates."""

from demo.road import CULVERT, VILLAGE, WORN_OUT
from saddle.alignment.profile import ProfilePoint, ProfileSpec
from saddle.drawings.spec import Drawing, DrawingStyle, SectionSheets, TitleBlock
from saddle.guides.ready_made import BusBay, ReadyMadeIn, make
from saddle.guides.spec import AtOffset, CurveWidening, FollowPlan, FollowRule, GuideSpec, NearestLine, OnGuide
from saddle.lines.spec import At, Between, FixedWidth, LineGroup, Regular, SectionLine
from saddle.road.spec import (
    GivenCrossfall,
    Leave,
    MeasuredCrossfall,
    Overlay,
    Reconstruct,
    SectionSettings,
    TemplatePlan,
    TemplateRange,
    Treatment,
    TreatmentPlan,
)
from saddle.standards.spec import WideningRule
from saddle.template.starter import rural

#: What the demo took from the starting library besides what every project begins with.
FROM_LIBRARY = [("template", key) for key in ("wide-shoulder", "boxed", "urban")]
TEMPLATES = {"narrow": rural("Narrow, no widening", 2.75, 0.75)}
GUIDES = {
    "bus-bay": make(
        ReadyMadeIn(what=BusBay(name="Bus bay at the mill", base_offset=-3.2, from_chainage=286.0, stop=18.0), lead=20.0)
    ),
    "inside": GuideSpec(
        name="Right edge, wider in the curve",
        source=CurveWidening(
            base_offset=3.25, rule=WideningRule(standard="mechanical", design_speed_kmh=60, lanes=2, lane_width=3.25)
        ),
    ),
    "boundary-left": GuideSpec(name="Boundary left", use="boundary", side="left", source=NearestLine(code="BDY", within=25.0)),
    "boundary-right": GuideSpec(name="Boundary right", use="boundary", side="right", source=NearestLine(code="BDY", within=25.0)),
}
#: Tried for the worn-out length and its neighbours; nothing takes its levels from it yet. Chainage, level, length of curve.
_IPS = ((520, 89.504, 0), (574.7, 90.815, 88), (659.6, 92.124, 36), (726.3, 93.251, 97), (820, 93.919, 60), (880, 94.299, 0))
PROFILES = {
    "regrading": ProfileSpec(
        name="Regrading at the bend",
        points=[ProfilePoint(chainage=c, level=z, length_in=length / 2, length_out=length / 2) for c, z, length in _IPS],
    )
}
FOLLOW = FollowPlan(
    rules=[
        FollowRule(side="left", point="LaneEdge", source=OnGuide(guide="bus-bay"), from_chainage=266.0, to_chainage=348.0),
        FollowRule(side="right", point="LaneEdge", source=OnGuide(guide="inside"), from_chainage=1100.0, to_chainage=1330.0),
    ]
)
SECTIONS = SectionSettings(interval=10.0, extra=[872.0], left=-25.0, right=25.0)

_HINGE = AtOffset(offset=0.0)
_LIP, _EDGE = NearestLine(code="LIP", within=8.0), NearestLine(code="EP", within=8.0)


def _treatment(start: float, end: float, work: Overlay | Reconstruct | Leave) -> Treatment:
    return Treatment(from_chainage=start, to_chainage=end, work=work)


_PLAIN = Overlay(hinge=_HINGE, left_edge=_EDGE, right_edge=_EDGE, saw_cut=0.1)
_MEASURED = _PLAIN.changed(left_crossfall=MeasuredCrossfall(), right_crossfall=MeasuredCrossfall())
_KERBED = _MEASURED.changed(left_edge=_LIP, right_edge=_LIP, saw_cut=0.0)

TREATMENTS = TreatmentPlan(
    ranges=[
        _treatment(VILLAGE[0], VILLAGE[1], _KERBED),
        _treatment(VILLAGE[1], 480.0, _MEASURED),
        _treatment(480.0, WORN_OUT[0], _PLAIN),
        _treatment(
            WORN_OUT[0],
            WORN_OUT[1],
            Reconstruct(
                hinge=_HINGE,
                left_edge=_EDGE,
                right_edge=_EDGE,
                left_crossfall=GivenCrossfall(pct=4.0),
                right_crossfall=GivenCrossfall(pct=-4.0),
            ),
        ),
        _treatment(WORN_OUT[1], 1330.0, _MEASURED),
        _treatment(1330.0, 1500.0, _PLAIN),
        _treatment(1500.0, 1610.0, Leave()),
    ]
)

TEMPLATE_PLAN = TemplatePlan(
    ranges=[
        TemplateRange(from_chainage=0.0, to_chainage=420.0, template="village"),
        TemplateRange(from_chainage=420.0, to_chainage=WORN_OUT[0], template="rural"),
        TemplateRange(from_chainage=WORN_OUT[0], to_chainage=WORN_OUT[1], template="boxed"),
        TemplateRange(from_chainage=WORN_OUT[1], to_chainage=960.0, template="rural"),
        TemplateRange(from_chainage=960.0, to_chainage=1100.0, template="narrow"),
        TemplateRange(from_chainage=1100.0, to_chainage=1330.0, template="rural"),
        TemplateRange(
            from_chainage=1330.0,
            to_chainage=1610.0,
            template="wide-shoulder",
            dimensions={"shoulder width": 1.5},
            transition=40.0,
        ),
    ]
)


def section_lines(pits: list[str]) -> LineGroup:
    """What the drainage engineer wants to see: along the culvert, along the first drain, and the road every 50 m. pits: names of the
    drain's pits in their order."""
    lines: list[SectionLine] = [
        At(name="Culvert", chainage=CULVERT, angle_deg=-24.25, left=18.0, right=18.0, remark="along its axis"),
        Regular(from_chainage=500.0, to_chainage=1000.0, interval=50.0),
    ]
    if len(pits) > 1:
        lines.append(Between(first=pits[0], last=pits[1], past=4.0))
    return LineGroup(
        name="Drainage",
        lines=lines,
        widths=FixedWidth(left=14.0, right=14.0),
        marked_codes=["CUL"],
        levels_at=[-7.5, -5.0, 0.0, 5.0, 7.5],
    )


TITLE_BLOCK = TitleBlock(
    owner="Vale Roads Office", client="Fennick Vale Parish", contract="FV-27", drawn="Dana Noll", coordinates="Local grid",
    levels="Local datum", notes="Levels and offsets in metres. Figures are those of the model on the date of the sheet.",
)  # fmt: skip
DRAINAGE_STYLE = DrawingStyle(
    name="Section lines, A1",
    paper="A1",
    sheets=SectionSheets(scale=200, vertical_scale=100, points="figures"),
)
DRAINAGE = Drawing(name="Sections at pits and culvert {from} to {to}", number="DR", style="drainage", place=6, lines="drainage")
