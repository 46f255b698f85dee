"""What a new project starts with: materials, make-ups, a kerb and three templates.

Thicknesses and widths are common practice with no source; the kerb's envelope of 125 x 255 mm is HB2 of
BS 7263-1 (from memory), on a channel block of 125 mm.
"""

from saddle.template.spec import (
    HINGE,
    Course,
    Fall,
    Half,
    KerbPlacement,
    KerbProfile,
    KerbVertex,
    MakeUp,
    Material,
    Point,
    Rise,
    Rung,
    Strip,
    TemplateSpec,
    Width,
)

MATERIALS = {
    "surface": Material(name="Asphalt surface", density=2.40, colour="#3A434A", pattern="plain"),
    "binder": Material(name="Asphalt binder", density=2.38, colour="#76838C", pattern="rising"),
    "base": Material(name="Asphalt base", density=2.36, colour="#98A2A8", pattern="falling"),
    "rock": Material(name="Crushed rock", density=2.20, colour="#D2BA8A", pattern="dotted"),
    "gravel": Material(name="Shoulder gravel", density=2.00, colour="#E2D3AE", pattern="dotted"),
    "concrete": Material(name="Concrete", density=2.40, colour="#CBD1D3", pattern="crossed"),
    "topsoil": Material(name="Topsoil", density=1.60, colour="#AAB58C", pattern="level"),
}

MAKE_UPS = {
    "lane-new": MakeUp(
        name="Lane, full depth",
        courses=[
            Course(name="Surface course", material="surface", thickness_mm=40),
            Course(name="Binder course", material="binder", thickness_mm=60),
            Course(name="Base", material="base", thickness_mm=90),
            Course(name="Sub-base", material="rock", thickness_mm=200),
        ],
    ),
    "lane-overlay": MakeUp(
        name="Lane, overlay",
        courses=[
            Course(name="Surface course", material="surface", thickness_mm=40),
            Course(name="Regulating course", material="binder", thickness_mm=30),
        ],
    ),
    "shoulder": MakeUp(name="Gravel shoulder", courses=[Course(name="Shoulder", material="gravel", thickness_mm=150)]),
    "footpath": MakeUp(
        name="Footpath",
        courses=[
            Course(name="Path surface", material="surface", thickness_mm=30),
            Course(name="Path base", material="rock", thickness_mm=120),
        ],
    ),
    "verge": MakeUp(name="Verge", courses=[Course(name="Topsoil", material="topsoil", thickness_mm=100)]),
}

KERBS = {
    "half-battered": KerbProfile(
        name="Half-battered kerb and channel",
        top=[
            KerbVertex(name="lip", out_mm=0, up_mm=0),
            KerbVertex(name="invert", out_mm=125, up_mm=-5),
            KerbVertex(name="face", out_mm=170, up_mm=95),
            KerbVertex(name="back", out_mm=250, up_mm=95),
        ],
        base_mm=160,
        material="concrete",
        bed_mm=100,
        bed_material="concrete",
    )
}

_SLOPES = [Rung(name="Cut slope", when="cut", one_in=1.5), Rung(name="Fill slope", when="fill", one_in=2.0)]


def _lane(width: float) -> tuple[Point, Strip]:
    point = Point(name="LaneEdge", offset=Width(parent=HINGE, width=width), level=Fall(parent=HINGE, crossfall_pct=None))
    strip = Strip(name="Lane", kind="lane", from_point=HINGE, to_point="LaneEdge", new="lane-new", over_existing="lane-overlay")
    return point, strip


def rural(name: str, lane: float, shoulder: float = 1.0) -> TemplateSpec:
    """Lane and gravel shoulder each side, plain side slopes. Widths in m."""
    point, strip = _lane(lane)
    outer = Point(
        name="ShoulderEdge",
        offset=Width(parent="LaneEdge", width=shoulder),
        level=Fall(parent="LaneEdge", crossfall_pct=-5),
    )
    verge = Strip(name="Shoulder", kind="shoulder", from_point="LaneEdge", to_point="ShoulderEdge", new="shoulder")
    return TemplateSpec(name=name, right=Half(points=[point, outer], strips=[strip, verge], ladder=_SLOPES))


def kerbed(name: str, lane: float, path: float = 1.5) -> TemplateSpec:
    """Lane, kerb and footpath each side, plain side slopes behind. Widths in m."""
    point, strip = _lane(lane)
    outer = Point(name="PathBack", offset=Width(parent="Kerb.back", width=path), level=Rise(parent="Kerb.back", rise=0.03))
    footpath = Strip(name="Footpath", kind="path", from_point="Kerb.back", to_point="PathBack", new="footpath")
    return TemplateSpec(
        name=name,
        right=Half(
            points=[point, outer],
            strips=[strip, footpath],
            kerbs=[KerbPlacement(name="Kerb", profile="half-battered", at="LaneEdge")],
            ladder=_SLOPES,
        ),
    )


TEMPLATES = {
    "rural": rural("Rural, shoulders", 3.25),
    "village": kerbed("Village, kerbs", 3.20),
    "narrow": rural("Narrow, no widening", 2.75, 0.75),
}
