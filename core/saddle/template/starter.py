"""What a new project starts with: materials, make-ups, kerbs and a library of templates.

Thicknesses, widths and slopes are common practice with no source. Envelopes of the kerbs are those of BS 7263-1 (from
memory); the sloping kerb keeps to the heights and face slopes of the Green Book, section 4.7 (from memory).
"""

from saddle.guides.spec import NearestLine
from saddle.template.parts import (
    Batter,
    CarryOn,
    Course,
    DownTo,
    KerbProfile,
    KerbVertex,
    MakeUp,
    Material,
    Onto,
    ToSlope,
    UnderKerb,
)
from saddle.template.rungs import Benched, Link, Run, Rung, Step, ToeDrain, ToGround, VDrain
from saddle.template.spec import (
    HINGE,
    Floor,
    Half,
    KerbPlacement,
    LevelLie,
    Mark,
    RiseToSurface,
    RunToSlope,
    Strip,
    StripKind,
    TemplateSpec,
    UnderCourse,
    Zone,
)
from saddle.template.ties import Carried, Fall, Follow, LevelTie, OffsetTie, OnSurface, Point, Rise, Width
from saddle.template.values import Dimension, Value

MATERIALS = {
    "surface": Material(name="Asphalt surface", density=2.40, colour="#3A434A", pattern="plain"),
    "binder": Material(name="Asphalt binder", density=2.38, colour="#76838C", pattern="rising"),
    "base": Material(name="Asphalt base", density=2.36, colour="#98A2A8", pattern="falling"),
    "rock": Material(name="Crushed rock", density=2.20, colour="#D2BA8A", pattern="dotted"),
    "gravel": Material(name="Shoulder gravel", density=2.00, colour="#E2D3AE", pattern="dotted"),
    "concrete": Material(name="Concrete", density=2.40, colour="#CBD1D3", pattern="crossed"),
    "topsoil": Material(name="Topsoil", density=1.60, colour="#AAB58C", pattern="level"),
    "fill": Material(name="Selected fill", density=1.90, colour="#C9BFA6", pattern="falling"),
}


def _course(name: str, material: str, thickness: float, **ends: object) -> Course:
    return Course.model_validate({"name": name, "material": material, "thickness_mm": thickness, **ends})


_SURFACE = _course("Surface course", "surface", 40)
_BINDER = _course("Binder course", "binder", 60)

MAKE_UPS = {
    "lane-new": MakeUp(
        name="Lane, full depth",
        courses=[_SURFACE, _BINDER, _course("Base", "base", 90), _course("Sub-base", "rock", 200)],
    ),
    "lane-carried": MakeUp(
        name="Lane, sub-base to the slope",
        courses=[
            _SURFACE,
            _BINDER,
            _course("Base", "base", 90, outer=Batter(one_in=1.0)),
            _course("Sub-base", "rock", 200, outer=ToSlope()),
        ],
    ),
    "lane-kerbed": MakeUp(
        name="Lane, base under the kerb",
        courses=[_SURFACE, _BINDER, _course("Base", "base", 90), _course("Sub-base", "rock", 200, outer=UnderKerb(behind=0.15))],
    ),
    "lane-overlay": MakeUp(name="Lane, overlay", courses=[_SURFACE, _course("Regulating course", "binder", 30)]),
    "shoulder": MakeUp(name="Gravel shoulder", courses=[_course("Shoulder", "gravel", 150)]),
    "shoulder-onto": MakeUp(
        name="Gravel shoulder on the lane's sub-base", courses=[_course("Shoulder", "gravel", 150)], bottom=Onto()
    ),
    "resheet": MakeUp(name="Gravel down to the old surface", courses=[_course("Wearing gravel", "gravel", 150)], bottom=DownTo()),
    "footpath": MakeUp(
        name="Footpath",
        courses=[_course("Path surface", "surface", 30), _course("Path base", "rock", 120, outer=CarryOn(distance=0.1))],
    ),
    "cycle-path": MakeUp(name="Cycle path", courses=[_course("Path surface", "surface", 40), _course("Path base", "rock", 160)]),
    "median": MakeUp(name="Median", courses=[_course("Topsoil", "topsoil", 150)], bottom=Onto()),
    "verge": MakeUp(name="Verge", courses=[_course("Topsoil", "topsoil", 100)]),
}


def _profile(*vertices: tuple[str, float, float]) -> list[KerbVertex]:
    return [KerbVertex(name=n, out_mm=out, up_mm=up) for n, out, up in vertices]


KERBS = {
    "half-battered": KerbProfile(
        name="Half-battered kerb and channel",
        top=_profile(("lip", 0, 0), ("invert", 125, -5), ("face", 170, 95), ("back", 250, 95)),
        base_mm=160,
        material="concrete",
        bed_mm=100,
        bed_material="concrete",
        source="125 x 255 mm, HB2 of BS 7263-1, on a channel block of 125 mm (from memory)",
    ),
    "tall": KerbProfile(
        name="Tall kerb",
        top=_profile(("lip", 0, 0), ("face", 50, 150), ("back", 150, 150)),
        base_mm=155,
        material="concrete",
        bed_mm=100,
        bed_behind_mm=100,
        bed_material="concrete",
        backing_height_mm=150,
        backing_width_mm=150,
        source="150 x 305 mm, HB1 of BS 7263-1 (from memory)",
    ),
    "sloping": KerbProfile(
        name="Sloping kerb",
        top=_profile(("lip", 0, 0), ("top", 150, 100), ("back", 250, 100)),
        base_mm=150,
        material="concrete",
        bed_mm=75,
        bed_material="concrete",
        source="100 mm high, face 1 in 1.5: within Green Book 4.7 (from memory)",
    ),
    "flush": KerbProfile(
        name="Flush kerb",
        top=_profile(("lip", 0, 0), ("back", 125, 0)),
        base_mm=150,
        material="concrete",
        bed_mm=100,
        bed_material="concrete",
        source="125 x 150 mm, HB3 of BS 7263-1 laid level (from memory)",
    ),
    "edging": KerbProfile(
        name="Edging",
        top=_profile(("lip", 0, 0), ("back", 50, 0)),
        base_mm=150,
        material="concrete",
        bed_mm=50,
        bed_material="concrete",
        source="50 x 150 mm, edging of BS 7263-1 (from memory)",
    ),
}

_CUT = Rung(name="Cut slope", when="cut", links=[ToGround(one_in=1.5, direction="up")])
_FILL = Rung(name="Fill slope", when="fill", links=[ToGround(one_in=2.0, direction="down")])
LADDER_PLAIN = [_CUT, _FILL]


def _rung(name: str, when: str, *links: Link, **conditions: object) -> Rung:
    return Rung.model_validate({"name": name, "when": when, "links": [link.model_dump() for link in links], **conditions})


#: Drain in cut, benches when it is deep, flatter fill where there is room, a toe drain in low fill.
LADDER = [
    _rung("Benched cut", "cut", VDrain(), Benched(one_in=1.5, direction="up", height=5), least_height=6, inside_boundary=True),
    _rung("Drain and cut", "cut", VDrain(), ToGround(one_in=1.5, direction="up"), inside_boundary=True),
    _rung("Steep cut", "cut", ToGround(one_in=1.0, direction="up", most_width=60)),
    _rung("Toe drain", "fill", ToeDrain(), ToGround(one_in=1.5, direction="up"), most_height=1.0, inside_boundary=True),
    _rung("Flat fill", "fill", ToGround(one_in=4.0, direction="down"), inside_boundary=True),
    _rung("Middling fill", "fill", ToGround(one_in=3.0, direction="down"), inside_boundary=True),
    _rung("Steep fill", "fill", ToGround(one_in=1.5, direction="down", most_width=60)),
]
#: The line of this survey code is where the work must stay inside.
BOUNDARY = NearestLine(code="BDY", within=25)


class Draft:
    """A half put together from the hinge outward."""

    def __init__(self, *, at: str = HINGE, points: list[Point] | None = None) -> None:
        self.here = at
        self.points = list(points or [])
        self.strips: list[Strip] = []
        self.kerbs: list[KerbPlacement] = []

    def strip(
        self,
        name: str,
        kind: StripKind,
        point: str,
        width: Value | OffsetTie | None,
        level: float | LevelTie | None,
        new: str,
        over: str | None = None,
    ) -> "Draft":
        """A strip out to a new point, or to one that is there, without a width; its level a crossfall in %, None to turn with the side,
        or a tie of its own."""
        if width is None:
            self.strips.append(Strip(name=name, kind=kind, from_point=self.here, to_point=point, new=new, over_existing=over))
            self.here = point
            return self
        offset = Width(parent=self.here, width=width) if isinstance(width, float | int | str) else width
        tie = Fall(parent=self.here, crossfall_pct=level) if level is None or isinstance(level, float | int) else level
        self.points.append(Point(name=point, offset=offset, level=tie))
        self.strips.append(Strip(name=name, kind=kind, from_point=self.here, to_point=point, new=new, over_existing=over))
        self.here = point
        return self

    def kerb(self, name: str, profile: str, *, turned: bool = False) -> "Draft":
        """A kerb; what follows starts behind it, or at its lip when it is turned."""
        self.kerbs.append(KerbPlacement(name=name, profile=profile, at=self.here, turned=turned))
        self.here = f"{name}.{'lip' if turned else 'back'}"
        return self

    def half(self, ladder: list[Rung], floors: list[Floor] | None = None, *, inside: bool = False) -> Half:
        """The half."""
        return Half(
            points=self.points, strips=self.strips, kerbs=self.kerbs, floors=floors or [], ladder=ladder,
            boundary=BOUNDARY if inside else None,
        )  # fmt: skip


def rural(name: str, lane: float, shoulder: float = 1.0) -> TemplateSpec:
    """Lane and gravel shoulder each side, plain side slopes. Widths in m."""
    draft = Draft().strip("Lane", "lane", "LaneEdge", lane, None, "lane-new", "lane-overlay")
    draft.strip("Shoulder", "shoulder", "ShoulderEdge", shoulder, -5.0, "shoulder")
    return TemplateSpec(name=name, right=draft.half(LADDER_PLAIN))


def kerbed(name: str, lane: float, path: float = 1.5) -> TemplateSpec:
    """Lane, kerb and footpath each side, plain side slopes behind. Widths in m."""
    draft = Draft().strip("Lane", "lane", "LaneEdge", lane, None, "lane-new", "lane-overlay").kerb("Kerb", "half-battered")
    draft.strip("Footpath", "path", "PathBack", path, Rise(parent="Kerb.back", rise=0.03), "footpath")
    return TemplateSpec(name=name, right=draft.half(LADDER_PLAIN))


def _run_out(depth: float) -> list[Floor]:
    """A subgrade that follows the lane and runs on under the shoulder to the slope."""
    return [
        Floor(name="Subgrade", zones=[Zone(to=None, depth_mm=depth, under=UnderCourse(strip="Lane", course=4))], end=RunToSlope())
    ]


def kerb_boxing(lip: str, back: str) -> list[Floor]:
    """Boxing at a kerb: 165 mm under the lip, level to under its back, then up; the subgrade starts 150 mm behind it
    (common practice)."""
    return [
        Floor(
            name="Subgrade",
            zones=[
                Zone(to=Mark(point=lip), depth_mm=0, under=UnderCourse(strip="Lane", course=4), joins="step"),
                Zone(to=Mark(point=back, plus=0.15), depth_mm=425, lie=LevelLie(), vertex="SubgradeEnd"),
            ],
            end=RiseToSurface(one_in=0.5),
        )
    ]


def _wide_shoulder() -> TemplateSpec:
    draft = Draft().strip("Lane", "lane", "LaneEdge", "lane width", None, "lane-carried", "lane-overlay")
    draft.strip(
        "Shoulder", "shoulder", "ShoulderEdge", "shoulder width", Fall(parent="LaneEdge", crossfall_pct=-4.0), "shoulder-onto"
    )
    sizes = [Dimension(name="lane width", value=3.5), Dimension(name="shoulder width", value=2.5)]
    return TemplateSpec(name="Rural, widened shoulder", right=draft.half(LADDER, inside=True), dimensions=sizes)


def _urban() -> TemplateSpec:
    draft = Draft().strip("Lane", "lane", "LaneEdge", 3.25, None, "lane-kerbed", "lane-overlay").kerb("Kerb", "half-battered")
    draft.strip("Footpath", "path", "PathBack", 2.0, Fall(parent="Kerb.back", crossfall_pct=2.0), "footpath")
    draft.kerb("Edging", "edging")
    draft.strip("Verge", "verge", "VergeBack", 0.8, 4.0, "verge")
    return TemplateSpec(name="Urban, kerbs", right=draft.half(LADDER, kerb_boxing("LaneEdge", "Kerb.back"), inside=True))


def _kerb_one_side() -> TemplateSpec:
    shoulder = _wide_shoulder()
    return TemplateSpec(name="Kerb on the right", right=_urban().right, left=shoulder.right, dimensions=shoulder.dimensions)


def _bus_bay() -> TemplateSpec:
    draft = Draft().strip("Lane", "lane", "LaneEdge", 3.25, None, "lane-new", "lane-overlay")
    draft.strip("Bay", "lane", "BayEdge", "bay width", Fall(parent="LaneEdge", crossfall_pct=-2.5), "lane-kerbed")
    draft.kerb("Kerb", "tall")
    draft.strip("Platform", "path", "PlatformBack", 2.5, Fall(parent="Kerb.back", crossfall_pct=2.0), "footpath")
    return TemplateSpec(
        name="Urban, bus bay on the right", right=draft.half(LADDER, inside=True), left=_urban().right,
        dimensions=[Dimension(name="bay width", value=3.0)],
    )  # fmt: skip


def _auxiliary() -> TemplateSpec:
    draft = Draft().strip("Lane", "lane", "LaneEdge", 3.5, None, "lane-new", "lane-overlay")
    neighbour = Fall(parent="LaneEdge", crossfall_pct=None, turns_with="neighbour")
    draft.strip("Auxiliary lane", "lane", "AuxEdge", "auxiliary width", neighbour, "lane-carried")
    draft.strip("Shoulder", "shoulder", "ShoulderEdge", 1.0, -5.0, "shoulder-onto")
    return TemplateSpec(
        name="Rural, auxiliary lane on the right", right=draft.half(LADDER, inside=True), left=_wide_shoulder().right,
        dimensions=[Dimension(name="auxiliary width", value=3.25), *_wide_shoulder().dimensions],
    )  # fmt: skip


def _median() -> TemplateSpec:
    draft = Draft().strip("Median", "median", "MedianEdge", "half median", 2.0, "median")
    draft.kerb("MedianKerb", "half-battered", turned=True)
    draft.strip("Lane", "lane", "LaneEdge", 3.25, None, "lane-carried").strip(
        "Shoulder", "shoulder", "ShoulderEdge", 1.5, -4.0, "shoulder-onto"
    )
    return TemplateSpec(
        name="With median", right=draft.half(LADDER, inside=True), dimensions=[Dimension(name="half median", value=1.0)]
    )


def _paths() -> TemplateSpec:
    draft = Draft().strip("Lane", "lane", "LaneEdge", 3.25, None, "lane-kerbed", "lane-overlay").kerb("Kerb", "half-battered")
    draft.strip("Cycle path", "cycle_path", "CycleEdge", 2.0, Fall(parent="Kerb.back", crossfall_pct=2.0), "cycle-path")
    draft.kerb("Divider", "edging")
    footpath = Follow(source=NearestLine(code="FP", within=15), parent="Divider.back", width=1.8)
    draft.strip("Footpath", "path", "PathBack", footpath, OnSurface(), "footpath")
    return TemplateSpec(name="Urban, cycle path and footpath", right=draft.half(LADDER_PLAIN))


def _wedge() -> TemplateSpec:
    """The old lane overlaid and widened, the widening at the fall that the old lane has between crown and edge."""
    draft = Draft().strip("Lane", "lane", "LaneEdge", 2.75, None, "lane-new", "lane-overlay")
    carried = Carried(first=HINGE, second="LaneEdge", parent="LaneEdge")
    draft.strip("Wedge", "lane", "WedgeEdge", "widening", carried, "lane-new", "lane-overlay")
    draft.strip("Shoulder", "shoulder", "ShoulderEdge", 1.0, -5.0, "shoulder")
    return TemplateSpec(
        name="Overlay with wedge", right=draft.half(LADDER_PLAIN), dimensions=[Dimension(name="widening", value=0.5)]
    )


def _resheeting() -> TemplateSpec:
    draft = Draft().strip("Running width", "lane", "Edge", "half width", None, "resheet")
    return TemplateSpec(name="Resheeting", right=draft.half(LADDER_PLAIN), dimensions=[Dimension(name="half width", value=3.0)])


def _boxed() -> TemplateSpec:
    draft = Draft().strip("Lane", "lane", "LaneEdge", 3.25, None, "lane-new", "lane-overlay")
    draft.strip("Shoulder", "shoulder", "ShoulderEdge", 1.5, -5.0, "shoulder")
    return TemplateSpec(name="Rural, boxed to the slope", right=draft.half(_DRAINED, _run_out(100.0)))


#: A drain dug to 0.8 m below the edge wherever the ground is above its bottom.
_DRAINED = [
    _rung("Drain", "either", Step(width=2.4, rise=-0.8), Run(width=0.5, fall_pct=0.0), ToGround(one_in=1.5, direction="up")),
    *LADDER_PLAIN,
]

TEMPLATES = {
    "rural": rural("Rural, shoulders", 3.25),
    "wide-shoulder": _wide_shoulder(),
    "boxed": _boxed(),
    "village": kerbed("Village, kerbs", 3.20),
    "urban": _urban(),
    "kerb-right": _kerb_one_side(),
    "bus-bay": _bus_bay(),
    "auxiliary": _auxiliary(),
    "median": _median(),
    "paths": _paths(),
    "wedge": _wedge(),
    "resheeting": _resheeting(),
}
