"""Random whole roads that nobody tuned anything to: alignments with chainages of four digits, national coordinates, survey lines of
any code that wander, end early and have gaps, every governing rule, starter and random templates, milling, ties, several treatments."""

from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from saddle.alignment.alignment import Alignment, build
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element, Straight
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats
from saddle.guides.spec import FollowPlan, GuideSpec
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan
from saddle.road.model import RoadInputs
from saddle.road.side_roads import Around, SideRoad, tie_in_side_road
from saddle.road.spec import SectionSettings, TemplatePlan, TemplateRange, Treatment, TreatmentPlan
from saddle.template import starter
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin, triangulate
from tests.random_templates import random_template

CODES = ["K7", "ZZ 1", "mitte", "edge-l", "101", "Ω2", "bord g", "CL.old", "x"]


@dataclass(frozen=True)
class Ground:
    """The old road as it was made: levels by chainage and offset."""

    base: float
    grade: float
    falls: tuple[float, float]
    wave: float

    def level(self, c: Floats, o: Floats) -> Floats:
        """Crowned between 7 m either side, then falling away."""
        fall = np.where(o < 0, self.falls[0], self.falls[1])
        bumps = self.wave * (np.sin(c / 17) * np.cos(o / 3) + np.sin(c / 41 + o))
        beyond = np.maximum(np.abs(o) - 7, 0)
        return self.base + self.grade * c + fall * np.minimum(np.abs(o), 7) - 0.25 * beyond + bumps


def _elements(rng: np.random.Generator) -> list[Element]:
    out: list[Element] = [Straight(length=float(rng.uniform(30, 90)))]
    for _ in range(int(rng.integers(0, 3))):
        radius = float(rng.choice([-1, 1]) * rng.uniform(90, 600))
        into, back = (float(rng.uniform(15, 50)) if rng.random() < 0.5 else 0.0 for _ in range(2))
        out += [Clothoid(length=into, radius_end=radius)] if into else []
        out.append(Arc(length=float(rng.uniform(25, 0.6 * abs(radius))) if abs(radius) > 60 else 25.0, radius=radius))
        out += [Clothoid(length=back, radius_start=radius)] if back else []
        out.append(Straight(length=float(rng.uniform(20, 60))))
    return out


def _line(rng: np.random.Generator, a: Alignment, ground: Ground, at: float, wander: float) -> SurveyLines:
    """A surveyed line about an offset, which may begin late, end early or have a gap."""
    low, high = a.start, a.end
    if rng.random() < 0.3:
        high -= float(rng.uniform(0.1, 0.45)) * (a.end - a.start)
    if rng.random() < 0.2:
        low += float(rng.uniform(0.1, 0.4)) * (a.end - a.start)
    c = np.sort(rng.uniform(low, high, max(6, int((high - low) / 9))))
    c[0], c[-1] = low, high
    o = at + wander * np.sin(c / float(rng.uniform(11, 40)) + float(rng.uniform(0, 6))) + rng.normal(0, 0.03, len(c))
    frames = a.frames(c)
    xyz = np.column_stack([frames.plan(np.arange(len(c)), o), ground.level(c, o) + rng.normal(0, 0.01, len(c))])
    keep = np.ones(len(c) - 1, dtype=bool)
    if rng.random() < 0.3:
        first = int(rng.integers(1, max(2, len(keep) - 3)))
        keep[first : first + int(rng.integers(1, 4))] = False
    return SurveyLines(xyz[:-1][keep], xyz[1:][keep])


def _both(a: SurveyLines, b: SurveyLines) -> SurveyLines:
    return SurveyLines(np.concatenate([a.start, b.start]), np.concatenate([a.end, b.end]))


def _stood_on(
    rng: np.random.Generator, a: Alignment, k: int, side: int, edge: GuideSpec, codes: list[str]
) -> dict[str, GuideSpec]:
    """The edge as a guide beneath, and in its place one that stands on it: wider by a width and by pieces, no less than a line, no more
    than an offset."""
    begin = float(rng.uniform(a.start + 5, (a.start + a.end) / 2))
    ways = [
        {"by": "width", "width": float(rng.uniform(-0.3, 0.5))},
        {"by": "pieces", "start_chainage": begin, "start_offset": 0.0, "pieces": [
            {"kind": "taper", "to_offset": float(rng.uniform(0.3, 1.0)), "end": {"by": "length", "length": 12}},
            {"kind": "hold", "end": {"by": "length", "length": 20}},
            {"kind": "taper", "to_offset": 0.0, "end": {"by": "length", "length": 9}}]},
        {"by": "no_less", "line": {"by": "line", "code": codes[1], "within": 9.0}},
        {"by": "no_less", "line": {"by": "offset", "offset": side * float(rng.uniform(2.8, 4.4))}},
        {"by": "no_more", "line": {"by": "offset", "offset": side * float(rng.uniform(3.2, 5.0))}},
    ]  # fmt: skip
    parts = [ways[int(i)] for i in rng.choice(len(ways), int(rng.integers(1, 4)), replace=False)]
    source = {
        "by": "parts",
        "base": {"by": "guide", "guide": f"beneath{k}"},
        "parts": parts,
        "only_pieces": bool(rng.random() < 0.2),
    }
    return {f"beneath{k}": edge, f"edge{k}": GuideSpec.model_validate({"name": f"On G{k}", "side": edge.side, "source": source})}


def random_road(rng: np.random.Generator) -> RoadInputs:
    """A road of 100 to 600 m with everything that follows from its documents still to be found."""
    elements = _elements(rng)
    spec = AlignmentSpec(
        start_east=float(rng.uniform(2e5, 8e5)), start_north=float(rng.uniform(1e6, 6e6)),
        start_bearing_deg=float(rng.uniform(0, 360)), start_chainage=float(rng.uniform(0, 20_000)), elements=elements,
        equations=[],
    )  # fmt: skip
    a = build(spec)
    if rng.random() < 0.2:
        middle = (a.start + a.end) / 2
        spec = spec.changed(equations=[{"back": middle, "ahead": middle + 1000}])
    ground = Ground(
        float(rng.uniform(-3, 900)), float(rng.uniform(-0.06, 0.06)), (float(rng.uniform(-0.05, 0.03)), float(rng.uniform(-0.05, 0.03))),
        float(rng.uniform(0, 0.03)),
    )  # fmt: skip
    c = np.arange(a.start - 6, a.end + 6.1, 6.0)
    inside = np.clip(c, a.start, a.end)
    offsets = np.array([-24, -15, -9.5, -7, -5.2, -3.4, -1.7, 0.05, 1.8, 3.3, 5, 7, 9, 15.5, 24.0])
    cc, oo = (m.ravel() for m in np.meshgrid(c, offsets, indexing="ij"))
    oo = oo + rng.uniform(-0.3, 0.3, oo.shape)
    frames = a.frames(np.repeat(inside, len(offsets)))
    plan = frames.plan(np.arange(len(oo)), oo)
    ahead = np.column_stack([np.sin(frames.bearing), np.cos(frames.bearing)]) * (cc - np.repeat(inside, len(offsets)))[:, None]
    xyz = np.column_stack([plan + ahead, ground.level(cc, oo) + rng.normal(0, 0.01, oo.shape)])
    surface = triangulate(xyz, np.empty((0, 2), dtype=int))
    codes = [str(code) for code in rng.permutation(CODES)]
    left, right = float(rng.uniform(2.7, 4.2)), float(rng.uniform(2.7, 4.2))
    lines = {codes[0]: _line(rng, a, ground, float(rng.uniform(-0.6, 0.6)), 0.2)}
    edges = _line(rng, a, ground, -left, 0.25), _line(rng, a, ground, right, 0.25)
    if rng.random() < 0.5:
        lines[codes[1]] = _both(*edges)
        at = [{"by": "line", "code": codes[1], "within": 9.0}] * 2
    else:
        lines[codes[1]], lines[codes[2]] = edges
        at = [{"by": "line", "code": codes[1], "within": 9.0}, {"by": "line", "code": codes[2], "within": 9.0}]
    guides = {
        f"edge{k}": GuideSpec.model_validate(
            {"name": f"G{k}", "side": "left" if side < 0 else "right", "source": {
                "by": "pieces", "start_chainage": a.start - 5, "start_offset": side * float(rng.uniform(3, 4)),
                "pieces": [{"kind": "hold", "end": {"by": "length", "length": 40}},
                           {"kind": "taper", "to_offset": side * float(rng.uniform(3, 5.5)), "end": {"by": "length", "length": 25}},
                           {"kind": "hold", "end": {"by": "chainage", "chainage": a.end + 5}}]}}
        )
        for k, side in enumerate((-1, 1))
    }  # fmt: skip
    own = rng.spawn(1)[0]  # of its own stream: roads of one number stay what they were
    for k, side in enumerate((-1, 1)):
        if own.random() < 0.4:
            guides |= _stood_on(own, a, k, side, guides[f"edge{k}"], codes)

    def hinge() -> dict[str, Any]:
        return [{"by": "offset", "offset": float(rng.uniform(-0.4, 0.4))}, {"by": "offset", "offset": 0.0},
                {"by": "line", "code": codes[0], "within": 6.0}, {"by": "line", "code": codes[0], "within": 6.0}][int(rng.integers(0, 4))]  # fmt: skip

    def edge(k: int) -> dict[str, Any]:
        side = (-1, 1)[k]
        choices = [
            at[k],
            at[k],
            at[k],
            {"by": "offset", "offset": side * float(rng.uniform(2.6, 4.4))},
            {"by": "guide", "guide": f"edge{k}"},
        ]
        if rng.random() < 0.12:
            return {"by": "point", "point": "LaneEdge", "beyond": float(rng.uniform(-0.4, 0.2))}
        return choices[int(rng.integers(0, len(choices)))]

    def crossfall() -> dict[str, Any]:
        return [{"by": "given", "pct": float(rng.uniform(-5, 2))}, {"by": "measured"}, {"by": "table"}][int(rng.integers(0, 3))]

    def governs() -> dict[str, Any]:
        kinds = [
            {"kind": "cover"}, {"kind": "cover"}, {"kind": "edges"}, {"kind": "level_table"},
            {"kind": "profile", "profile": "p", "about": str(rng.choice(["hinge", "left", "right", "inner", "outer"]))},
            {"kind": "kerb_to_kerb", "side": str(rng.choice(["left", "right"])), "plus": float(rng.uniform(0, 0.1))},
        ]  # fmt: skip
        return kinds[int(rng.integers(0, len(kinds)))]

    def work() -> dict[str, Any]:
        both = {
            "hinge": hinge(), "left_edge": edge(0), "right_edge": edge(1), "left_crossfall": crossfall(), "right_crossfall": crossfall(),
        }  # fmt: skip
        kind = rng.random()
        if kind < 0.1:
            return {"kind": "leave"}
        if kind < 0.25:
            rule = [None, {"kind": "level_table"}, {"kind": "profile", "profile": "p"}][int(rng.integers(0, 3))]
            return {"kind": "reconstruct", **both, "governs": rule}
        ties = [
            {"length": float(rng.uniform(5, 30)), "notch_mm": float(rng.choice([0, 40]))} if rng.random() < 0.2 else None
            for _ in range(2)
        ]
        return {
            "kind": "overlay", **both, "governs": governs(), "least_cover_mm": float(rng.uniform(20, 90)), "begin": ties[0], "end": ties[1],
            "saw_cut": float(rng.choice([0, 0.1, 0.3])), "least_new_width": float(rng.choice([0, 0.3, 0.5])),
            "reach": str(rng.choice(["at_least_edge", "at_least_edge", "exactly_edge", "own_width"])),
        }  # fmt: skip

    templates, make_ups = dict(starter.TEMPLATES), dict(starter.MAKE_UPS)
    for number in range(2):
        template, parts = random_template(rng)
        renamed = {key: f"{key}-{number}" for key in parts.make_ups if key not in starter.MAKE_UPS}
        make_ups |= {renamed[key]: parts.make_ups[key] for key in renamed}
        strips = [s.changed(new=renamed.get(s.new, s.new)) for s in template.right.strips]
        templates[f"random{number}"] = template.changed(
            right=template.right.changed(strips=[s.model_dump() for s in strips]).model_dump()
        )
    names = [*starter.TEMPLATES, "random0", "random1"]

    def cuts(most: int) -> list[float]:
        inner = np.sort(rng.uniform(a.start, a.end, int(rng.integers(0, most))))
        every = np.r_[a.start, inner, a.end]
        return [float(x) for x in every[np.r_[True, np.diff(every) > 8]]]

    limits = cuts(3)
    treatments = [
        Treatment.model_validate({"from_chainage": low, "to_chainage": high, "work": work()})
        for low, high in zip(limits, [*limits[1:], a.end], strict=True) if high > low and rng.random() < 0.93
    ]  # fmt: skip
    limits = cuts(3)
    plan = [
        TemplateRange(from_chainage=low, to_chainage=high, template=str(rng.choice(names)), transition=float(rng.choice([0, 0, 15])))
        for low, high in zip(limits, [*limits[1:], a.end], strict=True) if high > low and rng.random() < 0.97
    ]  # fmt: skip
    rows = np.r_[a.start, np.sort(rng.uniform(a.start, a.end, 3)), a.end]
    level = [float(ground.level(np.array([x]), np.zeros(1))[0] + rng.uniform(0.03, 0.2)) for x in rows]
    early = 1 if rng.random() < 0.2 else 0
    levels = LevelTable.model_validate(
        {"rows": [{"chainage": float(x), "level": z} for x, z in zip(rows, level, strict=True)][early:]}
    )
    third = (a.end - a.start) / 3
    profile = ProfileSpec.model_validate(
        {"points": [
            {"chainage": a.start - 1, "level": level[0]},
            {"chainage": a.start + third, "level": level[1], "length_in": third / 3, "length_out": third / 4},
            {"chainage": a.end + 1 - third / 2 * early, "level": level[-1]},
        ]}
    )  # fmt: skip
    table = CrossfallTable.model_validate(
        {
            "rows": [
                {"chainage": float(x), "left_pct": float(rng.uniform(-5, 1)), "right_pct": float(rng.uniform(-5, 1))}
                for x in rows[:4]
            ]
        }
    )
    milling = _stretch(rng, a) if rng.random() < 0.4 else []
    # More of them on and beside each other; of a generator of their own, so that a seed means the same road as ever.
    again = np.random.default_rng(int(1e6 * rows[1]) % 2**32)
    for _ in range(int(again.choice([0, 1, 2], p=[0.7, 0.15, 0.15]))):
        milling += _stretch(again, a)
    rules: list[dict[str, Any]] = []
    if rng.random() < 0.25:
        rules.append({"side": "right", "point": "LaneEdge", "source": {"by": "guide", "guide": "edge1"},
                      "from_chainage": a.start + 10, "to_chainage": a.end - 10})  # fmt: skip
    inputs = RoadInputs(
        spec, surface, lines,
        SectionSettings(
            interval=float(rng.choice([10, 15, 20])), left=-20.0, right=20.0, key_points=bool(rng.random() < 0.7),
            curvature_correction=bool(rng.random() < 0.7), chord_limit_mm=float(rng.choice([0, 0, 200])),
        ),
        TreatmentPlan(ranges=treatments), TemplatePlan(ranges=plan), templates, make_ups, dict(starter.KERBS), dict(starter.MATERIALS),
        guides, FollowPlan.model_validate({"rules": rules}), crossfalls=table, levels=levels, profiles={"p": profile},
        milling=MillingPlan.model_validate({"stretches": milling}),
    )  # fmt: skip
    inputs = _with_side_road(rng, inputs, a) if rng.random() < 0.25 else inputs
    return unlikely(again, inputs, a)


def unlikely(rng: np.random.Generator, inputs: RoadInputs, a: Alignment) -> RoadInputs:
    """The road with shapes that nobody draws: a half without width, an edge on the other side, a hinge with its side said, milling
    that ends at depth, a hole in the survey, a template that begins with what is not overlaid."""
    if rng.random() < 0.15:
        inputs = _with_a_hole(rng, inputs, a)
    ranges = list(inputs.treatments.ranges)
    for k, item in enumerate(ranges):
        if item.work.kind == "leave":
            continue
        changed: dict[str, Any] = {}
        if rng.random() < 0.12:
            side = str(rng.choice(["left", "right"]))
            one = {"by": "guide", "guide": "edge0" if side == "left" else "edge1"}
            changed = {"hinge": one, f"{side}_edge": one}
        elif rng.random() < 0.15 and item.work.hinge.by == "line":
            changed = {"hinge": {**item.work.hinge.model_dump(), "side": str(rng.choice(["left", "right", "nearest"]))}}
        ranges[k] = item.changed(work={**item.work.model_dump(), **changed})
    stretches = list(inputs.milling.stretches)
    if stretches and rng.random() < 0.3:
        rows = [r.model_dump() for r in stretches[0].rows]
        rows[-1]["depth_mm"] = rows[1]["depth_mm"]
        stretches[0] = stretches[0].changed(rows=rows)
    templates = dict(inputs.templates)
    if rng.random() < 0.1:
        key = str(rng.choice(sorted({r.template for r in inputs.template_plan.ranges}) or sorted(templates)))
        right = templates[key].right
        bare = [s.changed(over_existing=None) if s.from_point == "hinge" else s for s in right.strips]
        templates[key] = templates[key].changed(right=right.changed(strips=[s.model_dump() for s in bare]).model_dump())
    return replace(
        inputs,
        treatments=inputs.treatments.changed(ranges=[r.model_dump() for r in ranges]),
        milling=inputs.milling.changed(stretches=[s.model_dump() for s in stretches]),
        templates=templates,
    )


def _with_a_hole(rng: np.random.Generator, inputs: RoadInputs, a: Alignment) -> RoadInputs:
    """A survey in which some metres of road are missing, between two offsets."""
    tin = inputs.surface
    c, o = a.locate(tin.points[tin.triangles].mean(axis=1)[:, :2])
    at, across = float(rng.uniform(a.start, a.end)), float(rng.uniform(-6, 6))
    gone = (np.abs(c - at) < float(rng.uniform(5, 40))) & (np.abs(o - across) < float(rng.uniform(0.5, 4)))
    return replace(inputs, surface=Tin(tin.points, tin.triangles[~gone])) if gone.any() and not gone.all() else inputs


def _with_side_road(rng: np.random.Generator, inputs: RoadInputs, a: Alignment) -> RoadInputs:
    """The road with a side road tied in somewhere, where that is possible."""
    low = float(rng.uniform(a.start, a.end - 15))
    side: Literal["left", "right"] = "left" if rng.random() < 0.5 else "right"
    asked = SideRoad(
        from_chainage=low, to_chainage=low + float(rng.uniform(6, 14)), name="Lane", side=side, length=float(rng.uniform(4, 12)),
        notch_mm=float(rng.choice([0, 40])),
    )  # fmt: skip
    try:
        made = tie_in_side_road(
            asked, Around("main", inputs.templates, inputs.make_ups, inputs.template_plan, inputs.treatments, inputs.milling)
        )
    except GeometryError:
        return inputs
    fields: dict[str, Any] = {"templates": dict(inputs.templates), "make_ups": dict(inputs.make_ups)}
    for (kind, key), document in made.items():
        if kind in ("template", "make_up"):
            fields[f"{kind}s"][key] = document
        else:
            fields[kind] = document
    return replace(inputs, **fields)


def _stretch(rng: np.random.Generator, a: Alignment) -> list[dict[str, Any]]:
    """A stretch that is milled, none where it would be too short."""
    low, high = np.sort(rng.uniform(a.start, a.end, 2))
    if high - low <= 12:
        return []
    depth = float(rng.uniform(20, 80))
    sides = (
        [None, None]
        if rng.random() < 0.6
        else [{"by": "offset", "offset": -2.0}, {"by": "offset", "offset": float(rng.uniform(-1, 3))}]
    )
    return [
        {"left": sides[0], "right": sides[1], "full_at": str(rng.choice(["both", "both", "left", "right"])), "rows": [
            {"chainage": float(low), "depth_mm": float(rng.choice([0, depth]))}, {"chainage": float((low + high) / 2), "depth_mm": depth},
            {"chainage": float(high), "depth_mm": 0.0}]}
    ]  # fmt: skip
