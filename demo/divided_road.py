"""The third made-up road: Larkmoor Road, two carriageways whose median runs from 6 m to nothing, with a side road on the right. Surveyed
in feet, with a hole where a lorry stood. Fixed seed."""

import io

import numpy as np

from demo.road import Floats, Surveyor
from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.documents import MAIN, road_documents
from saddle.documents_base import Document
from saddle.guides.spec import AtOffset, AtPoint, CornerCurve, GuideSpec, NearestLine, OfRoad, OnGuide
from saddle.overlay.spec import LineGoverns, TieIn
from saddle.road.spec import (
    Ends,
    GivenCrossfall,
    MedianBeyond,
    Overlay,
    RoadSpec,
    SectionSettings,
    TemplatePlan,
    TemplateRange,
    Treatment,
    TreatmentPlan,
)
from saddle.terrain.spec import CodeRule

SEED = 20261202
NAME = "Larkmoor Road"
#: A US survey foot, m.
START, FOOT = 1000.0, 1200 / 3937
RIGHT, LANE = "right", "pell-lane"
ALIGNMENT = AlignmentSpec(
    name=NAME, start_east=331_450.0, start_north=204_870.0, start_bearing_deg=24.0, start_chainage=START,
    elements=[Straight(length=180), Arc(length=230, radius=700), Straight(length=230)],
)  # fmt: skip
END = START + 640.0
#: Where the side road leaves, which way it turns off, and where a lorry stood on the right carriageway.
JUNCTION, TURN, HOLE = START + 130.0, 96.0, (START + 300.0, START + 311.0)
#: Radii of the lane's corners by side, m.
CORNERS = {-1: 8.0, 1: 10.0}
#: What the codes of this office mean.
RULES = [
    CodeRule(code="LL", meaning="crown", colour="#A4602C", dashed=True),
    CodeRule(code="IE", meaning="other", colour="#1B2327"),
    CodeRule(code="OE", meaning="edge", colour="#1B2327", width=1.2),
    CodeRule(code="SE", meaning="other", colour="#9AA5A6"),
    CodeRule(code="TS", meaning="ditch", colour="#9AA5A6"),
    CodeRule(code="LC", meaning="crown", colour="#A4602C", dashed=True),
    CodeRule(code="LE", meaning="edge", colour="#1B2327", width=1.2),
    CodeRule(code="G", meaning="ground", colour="#9AA5A6"),
]


def gap(c: Floats) -> Floats:
    """Width between the inner edges of the old carriageways, m."""
    return np.asarray(np.interp(c, [START + 260, START + 430, START + 470], [6.0, 0.8, 0.0]))


def level(c: Floats, o: Floats) -> Floats:
    """The old road, its median and the moor beside it, m."""
    s, half = c - START, gap(c) / 2
    left = 96.4 + 0.011 * s + 0.9 * np.sin(s / 160.0) + 0.02 * np.sin(s / 13.0)
    inner = left - np.where(o > 0, 0.30 * np.minimum(gap(c) / 6.0, 1.0), 0.0)
    out = np.maximum(np.abs(o) - half, 0.0)
    fall = 0.024 + 0.005 * np.sin(s / 47.0 + np.sign(o))
    road = inner - fall * np.minimum(out, 7.5) - 0.05 * np.clip(out - 7.5, 0.0, 2.5) - 0.3 * np.clip(out - 10.0, 0.0, 3.0)
    road -= 0.03 * np.maximum(out - 13.0, 0.0) * (1 + 0.3 * np.sin(s / 29.0))
    across = np.where(half > 0.01, np.clip(o / np.maximum(half, 0.01), -1, 1), 0.0)
    median = left - 0.15 * (across + 1) * np.minimum(gap(c) / 6.0, 1.0) - 0.12 * np.minimum(half, 3.0) * (1 - np.abs(across))
    return np.asarray(np.where(np.abs(o) < half, median, road))


def lane_alignment() -> AlignmentSpec:
    """Of the side road, from the middle of the main road on."""
    at = build(ALIGNMENT).frames(np.array([JUNCTION]))
    east, north = at.origin[0]
    bearing = float(np.degrees(at.bearing[0]) + TURN) % 360
    return AlignmentSpec(
        name="Pell Lane", start_east=round(float(east), 3), start_north=round(float(north), 3),
        start_bearing_deg=round(bearing, 4), elements=[Straight(length=60), Arc(length=60, radius=-150)],
    )  # fmt: skip


def survey_csv() -> str:
    """The survey, about 2,500 points in US survey feet: point, easting, northing, level, code, line, order."""
    rng = np.random.default_rng(SEED)
    s, lane = Surveyor(build(ALIGNMENT), rng), build(lane_alignment())

    def beside(out: float):  # type: ignore[no-untyped-def]
        def at(c: Floats, side: int) -> tuple[Floats, Floats]:
            o = side * (gap(c) / 2 + out)
            return o, level(c, o + side * 1e-6)

        return at

    for side in (-1, 1):
        s.line("IE", beside(0.0), side, (START, START + 466), 0.003)
        for code, out in (("LL", 4.0), ("OE", 7.5), ("SE", 10.0), ("TS", 13.0)):
            # Where the lane leaves no edge of the shoulder was measured, and where the lorry stood nothing.
            cuts = [(JUNCTION - 14, JUNCTION + 12)] if side > 0 and out > 7.5 else []
            cuts += [HOLE] if side > 0 and out < 10.0 and code != "LL" else []
            at = START
            for low, high in sorted(cuts):
                s.line(code, beside(out), side, (at, low), 0.004)
                at = high
            s.line(code, beside(out), side, (at, END), 0.004)
    s.line("IE", lambda c, _: (np.zeros_like(c), level(c, np.zeros_like(c))), 0, (START + 472, END), 0.003)
    deep = np.arange(START + 4.0, START + 255, 9.0)
    s.shoot(deep, np.zeros_like(deep), level(deep, np.zeros_like(deep)), "G", 0.02)
    # The lane falls away from the shoulder of the main road.
    mouth = _lane_mouth()
    walker = Surveyor(lane, rng)
    walker.rows = s.rows

    def on_lane(beyond: float):  # type: ignore[no-untyped-def]
        def at(c: Floats, side: int) -> tuple[Floats, Floats]:
            o = side * (_lane_edge(c, side, mouth) + beyond)
            return o, _lane_level(c, o, mouth)

        return at

    walker.line("LC", lambda c, _: (np.zeros_like(c), _lane_level(c, np.zeros_like(c), mouth)), 0, (mouth + 0.3, lane.end), 0.003)
    for side in (-1, 1):
        bend = mouth + CORNERS[side]
        for code, beyond, begins in (("LE", 0.0, 0.4), ("TS", 1.85, 2.0)):
            round_it = bend - CORNERS[side] * (1 - begins / CORNERS[side]) * np.cos(np.linspace(0.0, np.pi / 2, 16))
            o, z = on_lane(beyond)(round_it, side)
            walker.shoot(round_it, o, z, code, 0.004, f"{code}{'L' if side < 0 else 'R'}corner")
            walker.line(code, on_lane(beyond), side, (bend, lane.end), 0.005)
    c, o = rng.uniform(mouth + 24, lane.end, 160), rng.choice([-1, 1], 160) * rng.uniform(6.0, 24.0, 160)
    beside_lane = _lane_level(c, np.sign(o) * 4.6, mouth) - 0.015 * (np.abs(o) - 4.6)
    walker.shoot(c, o, beside_lane, "G", 0.02)
    c, o = rng.uniform(START, END, 1500), rng.choice([-1, 1], 1500) * rng.uniform(17.5, 34.0, 1500)
    plan = build(ALIGNMENT).frames(c).plan(np.arange(len(c)), o)
    along, across = lane.locate(plan)
    clear = ~((np.abs(across) < 5.5 + 19 * (along > 30) + 9 * (along < 26)) & (along > 0))
    s.shoot(c[clear], o[clear], level(c, o)[clear], "G", 0.03)
    text = io.StringIO()
    text.write("point,easting (usft),northing (usft),level (usft),code,line,order\n")
    for row in s.rows:
        number, east, north, z, *rest = row.split(",")
        text.write(",".join([number, *(f"{float(v) / FOOT:.3f}" for v in (east, north, z)), *rest]) + "\n")
    return text.getvalue()


def _lane_mouth() -> float:
    """Chainage of the lane at the outer edge of the right carriageway's shoulder, m."""
    return float((gap(np.array([JUNCTION]))[0] / 2 + 10.0) / np.sin(np.radians(TURN)))


def _lane_edge(c: Floats, side: int, mouth: float) -> Floats:
    """How far the old edge of the lane lies from its middle, rounded into the main road, m."""
    r = float(CORNERS[side])
    ahead = np.clip(r - (c - mouth), 0.0, r)
    return np.asarray(2.75 + r - np.sqrt(r**2 - ahead**2))


def _lane_level(c: Floats, o: Floats, mouth: float) -> Floats:
    """The old lane: out of the main road's shoulder at its mouth, with a crown of its own further on."""
    edge = float(level(np.array([JUNCTION]), np.array([13.0]))[0])
    own = np.clip((c - mouth) / 12.0, 0.0, 1.0)
    side = np.where(o < 0, -1, 1)
    wide = np.where(side < 0, _lane_edge(c, -1, mouth), _lane_edge(c, 1, mouth))
    along = -0.011 * o  # the main road rises to the left of who looks along the lane
    crown = -0.022 * np.minimum(np.abs(o), wide)
    return np.asarray(edge - 0.012 * (c - mouth) + own * crown + (1 - own) * along - 0.25 * np.maximum(np.abs(o) - wide, 0.0))


def _carriageway(side: str, **more: object) -> Overlay:
    """Overlay between the surveyed outer edge and the inner margin, falling to the outside."""
    outer, inner = NearestLine(code="OE", within=20.0, side=side), AtPoint(point="MarginEdge")
    falls, rises = GivenCrossfall(pct=-2.2), GivenCrossfall(pct=2.2)
    left = side == "left"
    fields = {
        "hinge": NearestLine(code="LL", within=20.0, side=side), "saw_cut": 0.1, "look_again_mm": 200.0,
        "left_edge": outer if left else inner, "right_edge": inner if left else outer,
        "left_crossfall": falls if left else rises, "right_crossfall": rises if left else falls,
    }  # fmt: skip
    return Overlay.model_validate(fields | more)


def documents() -> dict[tuple[str, str], Document]:
    """What its designer has decided: the left carriageway by its cover; the right one with the median between them, tied to the left one
    where there is none; the lane."""
    far = GuideSpec(name="Edge of the left carriageway", use="other", side="left", source=OfRoad(road=MAIN, line="right_end"))
    mouth = GuideSpec(name="Shoulder of the main road", alignment=LANE, use="other", source=OfRoad(road=RIGHT, line="right_end"))
    corners = {
        f"corner-{side}": GuideSpec(
            name=f"Corner {side}",
            alignment=LANE,
            side=side,
            source=CornerCurve(road=RIGHT, line="right_end", base_offset=at, radius=r),
        )
        for side, at, r in (("left", -2.75, CORNERS[-1]), ("right", 2.75, CORNERS[1]))
    }
    tied = START + 430.0
    sections = SectionSettings(interval=10.0, left=-26.0, right=26.0, design_speed_kmh=80.0)
    lane = Overlay(
        hinge=AtOffset(offset=0.0), left_edge=OnGuide(guide="corner-left"), right_edge=OnGuide(guide="corner-right"),
        begin=TieIn(length=15.0, guide="mouth"), end=TieIn(length=10.0),
    )  # fmt: skip
    found: dict[tuple[str, str], Document] = {
        ("alignment", MAIN): ALIGNMENT,
        ("alignment", LANE): lane_alignment(),
        ("road", MAIN): RoadSpec(name="Left carriageway"),
        ("road", RIGHT): RoadSpec(name="Right carriageway", place=1),
        ("road", LANE): RoadSpec(name="Pell Lane", alignment=LANE, place=2),
        ("guide", "far-side"): far,
        ("guide", "mouth"): mouth,
        **{("guide", key): guide for key, guide in corners.items()},
    }
    for key in (RIGHT, LANE):
        found |= {(kind, key): document for kind, document in road_documents().items()}
    plan = TemplateRange(from_chainage=START, to_chainage=END, template="carriageway-left", right_beyond=Ends())
    median = MedianBeyond(median="median", guide="far-side")
    follows = _carriageway("right", governs=LineGoverns(guide="far-side", plus=-0.088))
    return found | {
        ("sections", MAIN): sections,
        ("sections", RIGHT): sections,
        ("sections", LANE): SectionSettings(interval=5.0, left=-20.0, right=20.0, design_speed_kmh=40.0),
        ("treatments", MAIN): TreatmentPlan(
            ranges=[Treatment(from_chainage=START + 10, to_chainage=END - 20, work=_carriageway("left", least_cover_mm=75.0))]
        ),
        ("template_plan", MAIN): TemplatePlan(ranges=[plan]),
        ("treatments", RIGHT): TreatmentPlan(
            ranges=[
                Treatment(from_chainage=START + 10, to_chainage=tied, work=_carriageway("right", least_cover_mm=75.0)),
                Treatment(from_chainage=tied, to_chainage=END - 20, work=follows),
            ]
        ),
        ("template_plan", RIGHT): TemplatePlan(
            ranges=[TemplateRange(from_chainage=START, to_chainage=END, template="carriageway-right", left_beyond=median)]
        ),
        ("treatments", LANE): TreatmentPlan(ranges=[Treatment(from_chainage=round(_lane_mouth(), 1), to_chainage=100.0, work=lane)]),
        ("template_plan", LANE): TemplatePlan(ranges=[TemplateRange(from_chainage=0.0, to_chainage=120.0, template="rural")]),
    }  # fmt: skip
