"""Carriageways and medians to start from, all widths common practice. A carriageway lies between its hinge, which is the line of its two
lanes, and ends without a slope where another one lies beside it."""

from saddle.guides.spec import FarSide
from saddle.template.median import MedianShape, MedianSpec
from saddle.template.parts import KerbProfile, KerbVertex
from saddle.template.spec import HINGE, Half, TemplateSpec
from saddle.template.starter import LADDER_PLAIN, Draft
from saddle.template.ties import Fall, Follow, GuideLevel, Inward, OnLine, PartWay, Point, Rise

#: Of the right carriageway; the left one has its halves the other way round.
_LANE = 3.5
FAR = "Far"
_THROUGH = OnLine(parent=HINGE, through=FAR)
_BACK = 0.25


def _outer() -> Half:
    draft = Draft().strip("Outer lane", "lane", "LaneEdge", _LANE, None, "lane-carried", "lane-overlay")
    draft.strip("Shoulder", "shoulder", "ShoulderEdge", 2.5, Fall(parent="LaneEdge", crossfall_pct=-4.0), "shoulder-onto")
    return draft.half(LADDER_PLAIN)


def _inner() -> Half:
    draft = Draft().strip("Inner lane", "lane", "LaneEdge", _LANE, None, "lane-new", "lane-overlay")
    margin = Fall(parent="LaneEdge", crossfall_pct=None, turns_with="neighbour")
    draft.strip("Inner margin", "edging", "MarginEdge", 0.5, margin, "lane-new", "lane-overlay")
    return draft.half(LADDER_PLAIN)


def _far(default: float) -> Point:
    """The far side, in plan and level; so far out on its own."""
    return Point(
        name=FAR,
        offset=Follow(source=FarSide(), parent=HINGE, width=default),
        level=GuideLevel(source=FarSide(), parent=HINGE),
    )


def _drained() -> TemplateSpec:
    draft = Draft(points=[_far(6.0)])
    draft.strip(
        "Inner verge", "verge", "Drain", PartWay(parent=HINGE, through=FAR), OnLine(parent=HINGE, through=FAR, plus=-0.4), "verge"
    )
    draft.strip("Outer verge", "verge", FAR, None, None, "verge")
    return TemplateSpec(name="Median, verge and drain", right=draft.half([]))


def _raised() -> TemplateSpec:
    draft = Draft(points=[_far(2.0)]).kerb("Near kerb", "sloping")
    back = Point(name="FarBack", offset=Inward(parent=FAR, width=_BACK), level=Rise(parent=FAR, rise=0.1))
    draft.points.append(back)
    draft.strip("Island", "median", "FarBack", None, None, "median").kerb("Far kerb", "sloping", turned=True)
    return TemplateSpec(name="Median, kerb to kerb", right=draft.half([]))


def _barrier() -> TemplateSpec:
    draft = Draft(points=[_far(0.6)])
    draft.points.append(Point(name="Middle", offset=PartWay(parent=HINGE, through=FAR), level=_THROUGH))
    draft.strip("Near gutter", "median", "Foot", Inward(parent="Middle", width=0.2), _THROUGH, "lane-new").kerb(
        "Barrier", "barrier"
    )
    draft.strip("Far gutter", "median", FAR, None, None, "lane-new")
    return TemplateSpec(name="Median, barrier", right=draft.half([]))


def _flush() -> TemplateSpec:
    draft = Draft(points=[_far(0.4)]).strip("Paved median", "median", FAR, None, None, "lane-new", "lane-overlay")
    return TemplateSpec(name="Median, paved flush", right=draft.half([]))


CARRIAGEWAYS = {
    "carriageway-left": TemplateSpec(name="Left carriageway, two lanes", left=_outer(), right=_inner()),
    "carriageway-right": TemplateSpec(name="Right carriageway, two lanes", left=_inner(), right=_outer()),
}
SHAPES = {"median-drained": _drained(), "median-raised": _raised(), "median-barrier": _barrier(), "median-flush": _flush()}
KERBS = {
    "barrier": KerbProfile(
        name="Concrete barrier, cast in place",
        top=[
            KerbVertex(name=n, out_mm=out, up_mm=up)
            for n, out, up in (
                ("lip", 0, 0),
                ("foot", 100, 200),
                ("crest", 125, 800),
                ("far crest", 275, 800),
                ("far foot", 300, 200),
                ("back", 400, 0),
            )
        ],
        base_mm=250,
        material="concrete",
        source="common practice; its form is the maker's",
    )
}
MEDIANS = {
    "median": MedianSpec(
        name="Median by width",
        shapes=[
            MedianShape(least_width=4.0, template="median-drained"),
            MedianShape(least_width=1.0, template="median-raised"),
            MedianShape(least_width=0.65, template="median-barrier"),
            MedianShape(least_width=0.0, template="median-flush"),
        ],
    )
}
