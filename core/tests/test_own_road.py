"""A side road or drive that becomes a road of its own: its mouth, corners and length by hand on level ground, as laws on turned roads at
both sides, and that a mouth which was tied in before is taken back without a trace."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.documents import road_documents
from saddle.errors import GeometryError
from saddle.overlay.spec import MillingPlan
from saddle.pipeline import lines_of, solve
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.own_road import OwnRoad, own_road, taken_back
from saddle.road.side_roads import Around, SideRoad, tie_in_side_road
from saddle.road.spec import TemplatePlan, TreatmentPlan
from saddle.terrain.tin import plane_over
from saddle.views.mouth import mouth_of
from tests.depth import SAME_ONES, many
from tests.test_side_roads import level_road

LANES, KEY = 3.25 + 1.0, "mill-lane"  # where the rural template ends, m


def asked(**more: Any) -> OwnRoad:
    return OwnRoad.model_validate({"name": "Mill Lane", "side": "right", "from_chainage": 97, "to_chainage": 103} | more)


def made(main: RoadInputs, wanted: OwnRoad) -> tuple[RoadModel, RoadModel]:
    """The main road, and the new one."""
    middle = (wanted.from_chainage + wanted.to_chainage) / 2
    lines = lines_of(main).value
    first = solve(main)
    around = Around.of("main", main)
    docs: dict[tuple[str, str], Any] = {(kind, KEY): spec for kind, spec in road_documents().items()}
    docs |= own_road(wanted, KEY, 1, mouth_of(first, lines, middle, wanted.side), around)
    new = RoadInputs(
        docs["alignment", KEY], main.surface, {}, docs["sections", KEY], docs["treatments", KEY], docs["template_plan", KEY],
        main.templates | {k: d for (kind, k), d in docs.items() if kind == "template"}, main.make_ups, main.kerbs, main.materials,
        {k: d for (kind, k), d in docs.items() if kind == "guide"}, roads={"main": lines},
    )  # fmt: skip
    return first, solve(new)


def built(model: RoadModel) -> np.ndarray:
    return np.flatnonzero(np.isfinite(model.hinge_level))


class ByHand(TestCase):
    def test_square_on_level_ground(self) -> None:
        """6 m wide, 20 m long beyond the shoulder, corners of 6 m: each adds what an arc leaves of its square, r2 (1 - pi / 4)."""
        _, road = made(level_road(), asked())
        rows = built(road)
        self.assertAlmostEqual(road.chainage[rows[0]], LANES, delta=1e-6)
        self.assertAlmostEqual(road.chainage[rows[-1]], LANES + 20, delta=1e-3)
        wide = (road.lines.right_edge - road.lines.left_edge)[rows]
        self.assertAlmostEqual(wide[-1], 6.0, delta=1e-9)
        # A quarter of an arc: at x m past the mouth the edge is r - sqrt(r2 - (r - x)2) further out.
        x = road.chainage[rows] - LANES
        out = 6.0 - np.sqrt(np.maximum(36.0 - np.maximum(6.0 - x, 0.0) ** 2, 0.0))
        np.testing.assert_allclose(wide, 6.0 + 2 * out, atol=2e-3)

    def test_it_runs_out_of_the_main_roads_surface_into_the_old_level(self) -> None:
        main, road = made(level_road(), asked())
        rows = built(road)
        edge = lines_of(level_road()).value.right_end[np.argmin(np.abs(main.chainage - 100)), 2]
        self.assertAlmostEqual(road.hinge_level[rows[0]], edge, delta=1e-6)
        self.assertAlmostEqual(road.hinge_level[rows[-1]], 50.0, delta=1e-6)
        self.assertFalse([p for p in road.problems if p.severity == "fault" and p.code != "overlay_thin"])

    def test_lanes_are_built_as_the_main_road_is(self) -> None:
        _, road = made(level_road(), asked())
        strip = road.inputs.templates[f"{KEY}-lanes"].right.strips[0]
        self.assertEqual((strip.new, strip.over_existing), ("lane-new", "lane-overlay"))


class Laws(TestCase):
    @settings(max_examples=many(30), deadline=None, derandomize=SAME_ONES)
    @given(
        bearing=st.floats(0, 359), bend=st.sampled_from([0.0, 120.0, -120.0]), side=st.sampled_from(["left", "right"]),
        angle=st.floats(-30, 30), wide=st.floats(3, 10), length=st.floats(6, 60), radius=st.sampled_from([0.0, 4.0, 8.0]),
        fall=st.floats(-0.04, 0.04),
    )  # fmt: skip
    def test_it_begins_where_the_main_road_ends(
        self, bearing: float, bend: float, side: str, angle: float, wide: float, length: float, radius: float, fall: float
    ) -> None:
        """On turned and curved roads over sloping ground, askew, at both sides: the hinge begins on the line of the main road's ends, at its
        level, is as long and as wide as was asked for, and every section is solved."""
        elements = (
            [Straight(length=200)] if bend == 0 else [Straight(length=60), Arc(length=80, radius=bend), Straight(length=60)]
        )
        line = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=bearing, elements=elements)
        ground = plane_over(np.array([-300.0, -300.0, 300.0, 300.0]), 50.0)
        points = ground.points.copy()
        points[:, 2] += fall * points[:, 0]
        main = replace(level_road(), alignment=line, surface=replace(ground, points=points))
        wanted = asked(
            side=side, from_chainage=100 - wide / 2, to_chainage=100 + wide / 2, angle_deg=angle, length=length, radius=radius
        )
        _, road = made(main, wanted)
        ends = getattr(lines_of(main).value, f"{side}_end")
        rows = built(road)
        at = road.frames.plan(rows[:1], road.lines.hinge[rows[:1]])[0]
        a, b = ends[:-1], ends[1:]
        t = np.clip(((at - a[:, :2]) * (b - a)[:, :2]).sum(axis=1) / ((b - a)[:, :2] ** 2).sum(axis=1), 0, 1)[:, None]
        off = np.hypot(*(at - (a + t * (b - a))[:, :2]).T)
        near = int(np.argmin(off))
        self.assertLess(off[near], 1e-5)
        self.assertAlmostEqual(road.hinge_level[rows[0]], (a + t * (b - a))[near, 2], delta=1e-4)
        self.assertAlmostEqual(road.chainage[rows[-1]] - road.chainage[rows[0]], length, delta=0.6)
        self.assertAlmostEqual(road.lines.right_edge[rows[-1]] - road.lines.left_edge[rows[-1]], wide, delta=1e-6)
        # Inside a bend of 120 m a corner of 8 m at a length of 10 m leaves one section without an edge, which the road tells.
        self.assertGreaterEqual(len(rows), int(road.worked_on().sum()) - 1)

    @settings(max_examples=many(30), deadline=None, derandomize=SAME_ONES)
    @given(
        side=st.sampled_from(["left", "right"]), low=st.floats(10, 170), wide=st.floats(3, 12), notch=st.sampled_from([0.0, 40.0]),
        other=st.booleans(),
    )  # fmt: skip
    def test_what_was_tied_in_is_taken_back(self, side: str, low: float, wide: float, notch: float, other: bool) -> None:
        """Tied in and taken back every document is as it was, also beside a mouth on the other side, which stays."""
        main = level_road()
        far = "left" if side == "right" else "right"
        if other:
            main = _tied(main, far, 180.0, 190.0, notch, "Far Lane")
        there = _tied(main, side, low, min(low + wide, 179.0), notch, "Mill Lane")
        self.assertNotEqual(there.template_plan, main.template_plan)
        back = taken_back(asked(side=side, from_chainage=low + 1, to_chainage=low + 2), Around.of("main", there))
        self.assertEqual((back.template_plan, back.treatments, back.milling), (main.template_plan, main.treatments, main.milling))

    def test_nothing_is_taken_back_where_nothing_is_tied(self) -> None:
        around = Around.of("main", level_road())
        self.assertEqual(taken_back(asked(), around), around)


class Refused(TestCase):
    def test_by_name(self) -> None:
        main = level_road()
        around = Around.of("main", main)
        first, lines = solve(main), lines_of(main).value
        mouth = mouth_of(first, lines, 100.0, "right")
        for change, words in (
            ({"to_chainage": 98.0}, "1.000 m wide"),
            ({"template": "nowhere"}, "there is no template"),
        ):
            with self.assertRaisesRegex(GeometryError, words):
                own_road(asked(**change), KEY, 1, mouth, around)
        bare = replace(around, template_plan=TemplatePlan())
        with self.assertRaisesRegex(GeometryError, "no template over the mouth"):
            own_road(asked(), KEY, 1, mouth, bare)
        idle = replace(main, treatments=TreatmentPlan())
        with self.assertRaisesRegex(GeometryError, "not known at 0\\+100"):
            mouth_of(solve(idle), lines_of(idle).value, 100.0, "right")
        whole = _tied(main, "right", 0.0, 200.0, 0.0, "Mill Lane")
        with self.assertRaisesRegex(GeometryError, "nothing that could go on"):
            taken_back(asked(), Around.of("main", whole))


def _tied(main: RoadInputs, side: str, low: float, high: float, notch: float, name: str) -> RoadInputs:
    wanted = SideRoad.model_validate(
        {"name": name, "side": side, "from_chainage": low, "to_chainage": high, "length": 8, "notch_mm": notch}
    )
    docs: dict[tuple[str, str], Any] = dict(tie_in_side_road(wanted, Around.of("main", main)))
    milling = docs.get(("milling", "main"), main.milling)
    assert isinstance(milling, MillingPlan)
    return replace(
        main, template_plan=docs["template_plan", "main"], treatments=docs["treatments", "main"], milling=milling,
        templates=main.templates | {k: d for (kind, k), d in docs.items() if kind == "template"},
        make_ups=main.make_ups | {k: d for (kind, k), d in docs.items() if kind == "make_up"},
    )  # fmt: skip
