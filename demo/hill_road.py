"""The second made-up road: Tarrow Hill Road, unlike the first. Chainages begin at 12+400, the crown is a surveyed line that wanders beside
the alignment, codes are of another office, the survey has gaps and ends before the road does, and a side road joins. Fixed seed."""

import io

import numpy as np

from demo.road import Floats, Surveyor
from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Straight
from saddle.documents_base import Document
from saddle.guides.spec import NearestLine
from saddle.overlay.spec import MillingPlan, MillingRow, MillingStretch, TieIn
from saddle.road.side_roads import Around, SideRoad, tie_in_side_road
from saddle.road.spec import (
    MeasuredCrossfall,
    Overlay,
    Reconstruct,
    SectionSettings,
    TemplatePlan,
    TemplateRange,
    Treatment,
    TreatmentPlan,
)
from saddle.template import starter
from saddle.terrain.spec import CodeRule

SEED = 20261126
NAME = "Tarrow Hill Road"
START = 12_400.0
ALIGNMENT = AlignmentSpec(
    name=NAME, start_east=587_214.35, start_north=5_133_902.18, start_bearing_deg=311.4, start_chainage=START,
    elements=[
        Straight(length=140), Clothoid(length=40, radius_end=-180), Arc(length=95, radius=-180), Clothoid(length=40, radius_start=-180),
        Straight(length=165), Arc(length=130, radius=260), Straight(length=110),
    ],
)  # fmt: skip
#: Where nobody measured the crown, the right edge, and the slope on the left; and where the survey ends.
NO_CROWN, NO_EDGE, NO_SLOPE, LAST = (12_690.0, 12_715.0), (12_842.0, 12_858.0), (12_560.0, 12_625.0), 13_108.0
#: Where the side road joins on the right.
TRACK = 12_922.0
#: What the codes of this office mean.
RULES = [
    CodeRule(code="MID", meaning="crown", colour="#A4602C", dashed=True),
    CodeRule(code="BORD", meaning="edge", colour="#1B2327", width=1.2),
    CodeRule(code="TRK", meaning="other", colour="#D5DAD8"),
    CodeRule(code="TOE", meaning="ditch", colour="#9AA5A6"),
    CodeRule(code="T", meaning="ground", colour="#9AA5A6"),
]


def crown_offset(c: Floats) -> Floats:
    """Where the old crown lies beside the alignment, m."""
    return np.asarray(0.22 * np.sin((c - START) / 53.0) + 0.11 * np.sin((c - START) / 17.0))


def level(c: Floats, o: Floats) -> Floats:
    """The old road and the hill beside it, m."""
    s = c - START
    crown = 641.2 + 0.042 * s - 2.2e-5 * s**2 + 0.12 * np.sin(s / 37.0) - 0.05 * np.exp(-(((s - 330.0) / 8.0) ** 2))
    out = np.abs(o - crown_offset(c))
    turn = np.interp(s, [130, 185, 270, 325], [0, 4.5, 4.5, 0]) - np.interp(s, [470, 505, 600, 640], [0, 3.0, 3.0, 0])
    fall = -2.3 + 0.5 * np.sin(s / 41.0) + np.sign(o) * turn
    shoulder = np.clip(out - 3.7, 0, 1.1) * -0.06
    track = np.interp(c, [TRACK - 30, TRACK - 12, TRACK + 12, TRACK + 30], [0, 1, 1, 0])  # where it joins the hillside is flat
    slope = np.maximum(out - 4.8, 0) * np.where(o < 0, 0.34, -0.28 + 0.25 * track)
    return np.asarray(crown + fall / 100 * np.minimum(out, 3.7) + shoulder + slope + 0.04 * np.sin(s / 9.0 + o) * (out > 4.8))


def survey_csv() -> str:
    """The survey, about 3,000 points: number, easting, northing, level, code, line, order."""
    rng = np.random.default_rng(SEED)
    s = Surveyor(build(ALIGNMENT), rng)

    def runs(gap: tuple[float, float] | None) -> list[tuple[float, float]]:
        return [(START, LAST)] if gap is None else [(START, gap[0]), (gap[1], LAST)]

    for run in runs(NO_CROWN):
        s.line("MID", lambda c, _: (crown_offset(c), level(c, crown_offset(c))), 0, run, 0.003)
    for side in (-1, 1):

        def beside(c: Floats, side: int, out: float = 3.72) -> tuple[Floats, Floats]:
            o = side * (out + 0.09 * np.sin(c / 31.0 + side))
            return o, level(c, o)

        for run in runs(NO_EDGE if side > 0 else None):
            s.line("BORD", beside, side, run, 0.004)
        for out, code in ((1.0, "TRK"), (2.6, "TRK"), (4.9, "TOE")):
            s.line(code, lambda c, side, out=out: beside(c, side, out), side, (START + out, LAST), 0.005)  # type: ignore[misc]
    c = rng.uniform(START, LAST, 1900)
    o = rng.choice([-1, 1], 1900) * rng.uniform(6.0, 27.0, 1900)
    there = ~((c > NO_SLOPE[0]) & (c < NO_SLOPE[1]) & (o < -9))
    s.shoot(c[there], o[there], level(c, o)[there], "T", 0.03)
    text = io.StringIO()
    text.write("number,easting,northing,level,code,line,order\n" + "\n".join(s.rows) + "\n")
    return text.getvalue()


_CROWN, _EDGE = NearestLine(code="MID", within=4.0), NearestLine(code="BORD", within=8.0)
_PLAIN = Overlay(hinge=_CROWN, left_edge=_EDGE, right_edge=_EDGE, saw_cut=0.15, begin=TieIn(length=20.0, notch_mm=40.0))
_MEASURED = Overlay(
    hinge=_CROWN, left_edge=_EDGE, right_edge=_EDGE, saw_cut=0.15, left_crossfall=MeasuredCrossfall(), right_crossfall=MeasuredCrossfall(),
)  # fmt: skip


def documents() -> dict[tuple[str, str], Document]:
    """What its designer has decided: treatments, templates, milling, and a side road on the right."""
    treatments = TreatmentPlan(
        ranges=[
            Treatment(from_chainage=12_410.0, to_chainage=12_530.0, work=_PLAIN),
            Treatment(from_chainage=12_530.0, to_chainage=12_760.0, work=_MEASURED),
            Treatment(
                from_chainage=12_760.0, to_chainage=12_815.0, work=Reconstruct(hinge=_CROWN, left_edge=_EDGE, right_edge=_EDGE)
            ),
            Treatment(from_chainage=12_815.0, to_chainage=13_120.0, work=_MEASURED),
        ]
    )
    plan = TemplatePlan(
        ranges=[
            TemplateRange(from_chainage=START, to_chainage=12_760.0, template="rural"),
            TemplateRange(
                from_chainage=12_760.0, to_chainage=12_815.0, template="wide-shoulder", dimensions={"shoulder width": 1.2}
            ),
            TemplateRange(from_chainage=12_815.0, to_chainage=13_120.0, template="rural"),
        ]
    )
    milling = MillingPlan(
        stretches=[
            MillingStretch(
                rows=[MillingRow(chainage=c, depth_mm=d) for c, d in ((12_870, 0), (12_890, 30), (12_960, 30), (12_985, 0))]
            )
        ]
    )
    road = SideRoad(name="Quarry Track", side="right", from_chainage=TRACK - 4, to_chainage=TRACK + 4, length=9.0)
    around = Around("main", dict(starter.TEMPLATES), dict(starter.MAKE_UPS), plan, treatments, milling)
    found: dict[tuple[str, str], Document] = {
        ("alignment", "main"): ALIGNMENT,
        ("sections", "main"): SectionSettings(interval=10.0, left=-22.0, right=22.0),
        ("treatments", "main"): treatments,
        ("template_plan", "main"): plan,
        ("milling", "main"): milling,
    }
    return found | dict(tie_in_side_road(road, around))
