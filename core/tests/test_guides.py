"""Guides: pieces, ready-made ones, widening of curves by published standards, and what template points follow."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Straight
from saddle.errors import GeometryError
from saddle.guides.evaluate import RoadLines, Sources, guide_corners, guide_line, widened_edge
from saddle.guides.follow import follow
from saddle.guides.pieces import offsets_along, stretches
from saddle.guides.ready_made import AuxiliaryLane, BusBay, LayBy, Parallel, ReadyMadeIn, Widening, make
from saddle.guides.spec import (
    AfterLength,
    AtChainage,
    ByRatio,
    CurveWidening,
    DrawnLine,
    FollowPlan,
    FollowRule,
    GuideSpec,
    Hold,
    NearestLine,
    OfRoad,
    OnGuide,
    Pieces,
    RoadLine,
    Taper,
)
from saddle.pipeline import solve
from saddle.road.model import RoadInputs
from saddle.standards.spec import WideningRule
from saddle.standards.widening import VEHICLES, widening
from saddle.terrain.survey_lines import SurveyLines
from saddle.views.section import section_view
from tests.cases import demo_inputs

STRAIGHT = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=400)])
CURVED = AlignmentSpec(
    start_east=0, start_north=0, start_bearing_deg=0,
    elements=[Straight(length=100), Clothoid(length=40, radius_end=80), Arc(length=60, radius=80), Straight(length=100)],
)  # fmt: skip


def sources(
    spec: AlignmentSpec = STRAIGHT, guides: dict[str, GuideSpec] | None = None, lines: dict[str, SurveyLines] | None = None
) -> Sources:
    return Sources(build(spec), lines or {}, guides or {})


class PiecesEndToEnd(TestCase):
    BAY = Pieces(
        start_chainage=50, start_offset=3.5,
        pieces=[Taper(to_offset=6.5, end=ByRatio(one_in=10)), Hold(end=AfterLength(length=20)), Taper(to_offset=3.5, end=AtChainage(chainage=120))],
    )  # fmt: skip

    def test_by_hand(self) -> None:
        found = stretches(self.BAY)
        self.assertEqual([(s.start, s.end) for s in found], [(50, 80), (80, 100), (100, 120)])
        at = np.array([49.9, 50, 65, 80, 99, 110, 120, 120.1])
        np.testing.assert_allclose(offsets_along(found, at), [np.nan, 3.5, 5.0, 6.5, 6.5, 5.0, 3.5, np.nan])

    def test_moving_the_start_moves_what_is_given_by_length(self) -> None:
        moved = stretches(self.BAY.changed(start_chainage=60))
        self.assertEqual([(s.start, s.end) for s in moved], [(60, 90), (90, 110), (110, 120)])

    def test_doubling_the_ratio_doubles_the_taper(self) -> None:
        for ratio in (8, 15, 50):
            one, two = (
                stretches(Pieces(start_chainage=0, start_offset=0, pieces=[Taper(to_offset=3.6, end=ByRatio(one_in=r))]))
                for r in (ratio, 2 * ratio)
            )
            self.assertAlmostEqual(two[0].end, 2 * one[0].end)

    def test_bay_taper_lengths(self) -> None:
        # AASHTO, auxiliary lanes and ramp terminals, for W = 3.6 m (checks 7.3): length = ratio times width.
        for ratio, length in ((8, 28.8), (15, 54.0), (25, 90.0), (50, 180.0), (70, 252.0)):
            taper = stretches(Pieces(start_chainage=0, start_offset=3, pieces=[Taper(to_offset=6.6, end=ByRatio(one_in=ratio))]))
            self.assertAlmostEqual(taper[0].end, length, 9)

    def test_s_shape(self) -> None:
        found = stretches(
            Pieces(start_chainage=0, start_offset=0, pieces=[Taper(to_offset=2, end=AfterLength(length=40), shape="s")])
        )
        np.testing.assert_allclose(offsets_along(found, np.array([0, 10, 20, 30, 40.0])), [0, 0.25, 1, 1.75, 2])

    def test_a_piece_that_ends_before_it_begins_is_named(self) -> None:
        with self.assertRaisesRegex(GeometryError, "piece 2 would end at 60"):
            stretches(
                Pieces(
                    start_chainage=50,
                    start_offset=0,
                    pieces=[Hold(end=AfterLength(length=30)), Hold(end=AtChainage(chainage=60))],
                )
            )

    @given(st.floats(0, 1), st.sampled_from(["straight", "s"]))
    def test_splitting_a_hold_or_straight_taper_changes_nothing(self, share: float, _: str) -> None:
        whole = Pieces(start_chainage=10, start_offset=3, pieces=[Taper(to_offset=5, end=AfterLength(length=40))])
        at = max(share, 0.01) * 40
        split = whole.changed(
            pieces=[
                Taper(to_offset=3 + 2 * at / 40, end=AfterLength(length=at)),
                *([Taper(to_offset=5, end=AtChainage(chainage=50))] if at < 40 else []),
            ]
        )
        c = np.linspace(10, 50, 33)
        np.testing.assert_allclose(offsets_along(stretches(whole), c), offsets_along(stretches(split), c), atol=1e-9)


class ReadyMade(TestCase):
    def test_bus_bay(self) -> None:
        # AASHTO bus turnout (checks 7.4): entry 5:1 = 15 m, exit 3:1 = 9 m, total 39 m, area 81 m2 for W = 3, stop 15 m.
        bay = make(ReadyMadeIn(what=BusBay(name="Bay", base_offset=-3.5, from_chainage=100)))
        assert isinstance(bay.source, Pieces)
        found = stretches(bay.source)
        self.assertEqual([s.end - s.start for s in found], [15, 15, 9])
        c = np.unique([s.start for s in found] + [found[-1].end])
        ring = shapely.Polygon([*zip(c, offsets_along(found, c), strict=True), (c[-1], -3.5), (c[0], -3.5)])
        self.assertAlmostEqual(ring.area, 81.0, 9)
        self.assertEqual(bay.side, "left")
        self.assertAlmostEqual(found[0].end_offset, -6.5)

    def test_the_others(self) -> None:
        for what, ends in (
            (Widening(name="W", base_offset=3, from_chainage=100, to_chainage=150, extra=0.8), [80, 100, 150, 170]),
            (LayBy(name="L", base_offset=3, from_chainage=100), [100, 120, 150, 170]),
            (AuxiliaryLane(name="A", base_offset=3, from_chainage=100, to_chainage=250, extra=3.6), [100, 154, 250]),
            (Parallel(name="P", base_offset=0, from_chainage=20, to_chainage=60), [20, 60]),
        ):
            source = make(ReadyMadeIn(what=what)).source
            assert isinstance(source, Pieces)
            found = stretches(source)
            np.testing.assert_allclose([found[0].start, *(s.end for s in found)], ends)

    def test_with_a_lead(self) -> None:
        source = make(ReadyMadeIn(what=LayBy(name="L", base_offset=3, from_chainage=100), lead=25)).source
        assert isinstance(source, Pieces)
        np.testing.assert_allclose(offsets_along(stretches(source), np.array([75, 99, 130, 195.0])), [3, 3, 6, 3])


class Standards(TestCase):
    def test_aashto_components(self) -> None:
        # AASHTO 2011 equations 3-34 to 3-38 with WB-15 (checks 3.1): R 200, V 60, two lanes 7.2 m: w = 0.9316, design 0.9.
        rule = WideningRule(standard="vehicle", design_speed_kmh=60, vehicle="WB15", lanes=2, lane_width=3.6)
        for lanes, w in ((2, 0.9), (3, 1.4), (4, 1.9)):
            self.assertAlmostEqual(widening(np.array([200.0]), rule.changed(lanes=lanes))[0], w, 9)

    def test_aashto_vehicles(self) -> None:
        # AASHTO 2004 Exhibit 2-1 (checks 3.3): front overhang + wheelbases + rear overhang = overall length.
        for name, rear, overall in (("SU", 1.8, 9.2), ("WB12", 0.8, 13.9), ("WB15", 0.6, 16.8), ("WB19", 0.8, 20.9)):
            v = VEHICLES[name]
            self.assertAlmostEqual(v.front_overhang + sum(v.wheelbases) + rear, overall, delta=0.11)

    def test_uk_bands(self) -> None:
        # CD 109 (checks 3.4, from memory): a road of 6.0 or 6.9 m in two lanes at R 200, 350, 120.
        def wide(width: float, radius: float, lanes: int = 2) -> float:
            rule = WideningRule(standard="radius_bands", lanes=lanes, lane_width=width / lanes)
            return width + float(widening(np.array([radius]), rule)[0])

        for width, radius, expected in (
            (6.0, 200, 7.0),
            (6.0, 350, 6.6),
            (6.9, 200, 7.3),
            (6.0, 120, 7.2),
            (7.3, 120, 7.9),
            (7.3, 200, 7.3),
            (6.0, 500, 6.0),
        ):
            with self.subTest(width=width, radius=radius):
                self.assertAlmostEqual(wide(width, radius), expected, 9)
        for lanes, standard, expected in ((3, 11.0, 11.9), (4, 14.6, 15.8)):
            self.assertAlmostEqual(wide(standard, 120, lanes), expected, 9)

    def test_irc(self) -> None:
        # IRC:38-1988 (checks 3.5, 3.6). The worked example of Khanna and Justo has l = 7 m; with 6.1 m the mechanical
        # part is n l2 / 2R = 0.1488 and the other 70 / (9.5 sqrt 250) = 0.4660.
        rule = WideningRule(standard="mechanical", design_speed_kmh=70)
        self.assertAlmostEqual(widening(np.array([250.0]), rule)[0], 0.1488 + 0.4660, delta=1e-3)
        table = WideningRule(standard="radius_table")
        radii = np.array([15.0, 30, 50, 80, 200, 400])
        np.testing.assert_allclose(widening(radii, table), [1.5, 1.5, 1.2, 0.9, 0.6, 0.0])
        np.testing.assert_allclose(widening(radii, table.changed(lanes=1)), [0.9, 0.6, 0.6, 0, 0, 0])

    def test_straights_and_turning_left(self) -> None:
        for standard in ("vehicle", "radius_bands", "mechanical", "radius_table"):
            rule = WideningRule(standard=standard, lane_width=3.0)
            w = widening(np.array([np.inf, 120.0, -120.0]), rule)
            self.assertEqual(w[0], 0.0)
            self.assertEqual(w[1], w[2])
            self.assertGreater(w[1], 0)

    def test_sharper_than_the_standard_knows_has_no_answer(self) -> None:
        self.assertTrue(np.isnan(widening(np.array([10.0]), WideningRule(standard="vehicle"))[0]))


class WidenedEdges(TestCase):
    RULE = WideningRule(standard="radius_table")  # 0.9 m at R = 80

    def edge(self, offset: float, c: list[float], **fields: float) -> np.ndarray:
        return widened_edge(CurveWidening(base_offset=offset, rule=self.RULE, **fields), build(CURVED), np.array(c, dtype=float))

    def test_grows_along_the_transition_and_over_the_run(self) -> None:
        # Right-hand curve: the right edge is inside. No transition at its end: 30 m of run, two thirds on the straight.
        np.testing.assert_allclose(self.edge(3, [50, 100, 120, 140, 188], before=0.6), [3, 3, 3.45, 3.9, 3.9], atol=1e-9)
        np.testing.assert_allclose(self.edge(3, [188, 203, 218, 250], before=0.6), [3.9, 3.45, 3, 3], atol=1e-9)

    def test_outside_and_both_sides(self) -> None:
        np.testing.assert_allclose(self.edge(-3, [150]), [-3.0])
        np.testing.assert_allclose(self.edge(-3, [150], share_inside=0.5, share_outside=0.5), [-3.45])
        np.testing.assert_allclose(self.edge(3, [150], share_inside=0.5, share_outside=0.5), [3.45])

    def test_mirrored_road_gives_mirrored_offsets(self) -> None:
        left = CURVED.changed(
            elements=[Straight(length=100), Clothoid(length=40, radius_end=-80), Arc(length=60, radius=-80), Straight(length=100)]
        )
        c = np.linspace(0, 300, 61)
        mirrored = widened_edge(CurveWidening(base_offset=-3, rule=self.RULE), build(left), c)
        np.testing.assert_allclose(mirrored, -self.edge(3, c.tolist()))

    def test_sections_stand_at_its_corners(self) -> None:
        guide = GuideSpec(name="E", source=CurveWidening(base_offset=3, rule=self.RULE, before=0.5))
        np.testing.assert_allclose(guide_corners(guide, sources(CURVED)), [0, 100, 140, 185, 215, 300], atol=1e-9)


class OfAnotherRoad(TestCase):
    """By hand: a road to the north, another one 10 m to its right that rises by 1 in 100; its edges 3 m off its hinge."""

    def test_offsets_levels_gaps_and_outwards(self) -> None:
        line = build(STRAIGHT)
        north = np.array([0.0, 25.0, 50.0, 75.0, 100.0])
        there = [np.column_stack([np.full(5, east), north, 50 + north / 100]) for east in (10.0, 7.0, 13.0, 6.0, 14.0)]
        there[2][3] = np.nan
        lines = RoadLines(*there, np.tile([1.0, 0.0], (5, 1)))
        frames = line.frames(np.array([0.0, 10.0, 60.0, 70.0, 90.0]))
        cases: list[tuple[RoadLine, float, int]] = [
            ("hinge", 10.0, 1), ("left_edge", 7.0, -1), ("right_edge", 13.0, 1), ("left_end", 6.0, -1), ("right_end", 14.0, 1),
        ]  # fmt: skip
        for name, offset, out in cases:
            for beyond in (0.0, 0.5):
                source = OfRoad(road="b", line=name, beyond=beyond)
                guide = GuideSpec(name="G", source=source)
                found = guide_line(guide, frames, Sources(line, {}, {}, {"b": lines}))
                gap = np.array([False, False, True, True, True]) if name == "right_edge" else np.zeros(5, dtype=bool)
                np.testing.assert_allclose(found.offset, np.where(gap, np.nan, offset + out * beyond), atol=1e-9)
                np.testing.assert_allclose(found.level, np.where(gap, np.nan, 50 + frames.chainage / 100), atol=1e-9)
                self.assertTrue(np.isnan(guide_line(guide, frames, Sources(line, {}, {})).offset).all())

    def test_further_out_is_so_for_who_comes_from_the_other_end(self) -> None:
        """Whoever follows may run the other way: the line in plan is the same."""
        x = np.linspace(0.0, 400.0, 9)
        there = [np.column_stack([np.full(9, east), x, 50 + x / 100]) for east in (10.0, 7.0, 13.0, 6.0, 14.0)]
        lines = RoadLines(*there, np.tile([1.0, 0.0], (9, 1)))
        back = build(AlignmentSpec(start_east=0, start_north=400, start_bearing_deg=180, elements=[Straight(length=400)]))
        wanted: dict[RoadLine, float] = {
            "hinge": 10.75,
            "left_edge": 6.25,
            "right_edge": 13.75,
            "left_end": 5.25,
            "right_end": 14.75,
        }
        for name, east in wanted.items():
            guide = GuideSpec(name="G", source=OfRoad(road="b", line=name, beyond=0.75))
            plans = []
            for line in (build(STRAIGHT), back):
                frames = line.frames(np.arange(10.0, 400.0, 40.0))
                found = guide_line(guide, frames, Sources(line, {}, {}, {"b": lines}))
                plans.append(frames.plan(np.arange(len(found.offset)), found.offset)[:, 0])
            np.testing.assert_allclose(plans[0], east, atol=1e-9)
            np.testing.assert_allclose(plans[1], plans[0], atol=1e-9)


class OtherSources(TestCase):
    def test_a_drawn_line_has_offset_and_level(self) -> None:
        guide = GuideSpec(name="Drawn", source=DrawnLine(points=[(2, 0, 10), (4, 100, 12), (4, 200, None)]))
        line = guide_line(guide, build(STRAIGHT).frames(np.array([0.0, 50, 150, 250])), sources())
        np.testing.assert_allclose(line.offset, [2, 3, 4, np.nan])
        np.testing.assert_allclose(line.level, [10, 11, np.nan, np.nan])
        np.testing.assert_allclose(guide_corners(guide, sources()), [0, 100, 200])

    def test_nearest_line_on_its_side(self) -> None:
        kerb = SurveyLines(np.array([[3.0, 0, 5], [-4.0, 0, 6]]), np.array([[3.0, 400, 5], [-4.0, 400, 6]]))
        for side, offset, level in (("right", 3.0, 5.0), ("left", -4.0, 6.0)):
            guide = GuideSpec(name="K", side=side, source=NearestLine(code="KT"))
            line = guide_line(guide, build(STRAIGHT).frames(np.array([100.0])), sources(lines={"KT": kerb}))
            self.assertEqual((line.offset[0], line.level[0]), (offset, level))


def rule(**fields: object) -> FollowRule:
    return FollowRule.model_validate({"side": "right", "point": "LaneEdge", "from_chainage": 0, "to_chainage": 400, **fields})


class Following(TestCase):
    GUIDES = {
        "near": GuideSpec(
            name="Near", source=Pieces(start_chainage=0, start_offset=3, pieces=[Hold(end=AtChainage(chainage=150))])
        ),
        "far": GuideSpec(
            name="Far", source=Pieces(start_chainage=100, start_offset=5, pieces=[Hold(end=AtChainage(chainage=300))])
        ),
    }

    def test_the_first_rule_that_gives_a_value_counts(self) -> None:
        plan = FollowPlan(rules=[rule(source=OnGuide(guide="far"), to_chainage=250), rule(source=OnGuide(guide="near"))])
        frames = build(STRAIGHT).frames(np.array([0.0, 99, 120, 200, 260]))
        (got,) = follow(plan, frames, sources(guides=self.GUIDES))
        np.testing.assert_allclose(got.offset, [3, 3, 5, 5, np.nan])
        self.assertEqual(got.rule.tolist(), [1, 1, 0, 0, -1])

    def test_level_and_plan_apart(self) -> None:
        line = {"KB": SurveyLines(np.array([[4.0, 0, 9]]), np.array([[4.0, 400, 9]]))}
        plan = FollowPlan(rules=[rule(source=NearestLine(code="KB"), what="level", plus=0.02)])
        (got,) = follow(plan, build(STRAIGHT).frames(np.array([10.0])), sources(lines=line))
        self.assertTrue(np.isnan(got.offset[0]))
        self.assertAlmostEqual(got.level[0], 9.02)

    def test_a_missing_guide_gives_nothing(self) -> None:
        (got,) = follow(
            FollowPlan(rules=[rule(source=OnGuide(guide="none"))]), build(STRAIGHT).frames(np.array([10.0])), sources()
        )
        self.assertTrue(np.isnan(got.offset[0]))


class OnTheRoad(TestCase):
    INPUTS: RoadInputs

    @classmethod
    def setUpClass(cls) -> None:
        cls.INPUTS = demo_inputs()

    def follow(self, guide: GuideSpec, **fields: object) -> RoadInputs:
        plan = FollowPlan(rules=[rule(source=OnGuide(guide="g"), from_chainage=450, to_chainage=700, **fields)])
        return replace(self.INPUTS, guides={"g": guide}, follow=plan)

    BAY = make(ReadyMadeIn(what=LayBy(name="Bay", base_offset=3.25, from_chainage=500.5, parallel=33.25)))

    def test_lanes_move_and_what_is_tied_to_them(self) -> None:
        model = solve(self.follow(self.BAY))
        for c, edge in ((520.5, 6.25), (540.0, 6.25), (480.0, 3.25), (510.5, 4.75)):
            if not np.isclose(model.chainage, c).any():
                continue
            view = section_view(model, int(np.flatnonzero(np.isclose(model.chainage, c))[-1]))
            right = {p.name: p.offset for p in view.points if p.side == "right"}
            self.assertAlmostEqual(right["LaneEdge"], edge, 6)
            self.assertAlmostEqual(right["ShoulderEdge"], edge + 1.0, 6)
            left = {p.name: p.offset for p in view.points if p.side == "left"}
            self.assertAlmostEqual(left["LaneEdge"], -3.25, 6)

    def test_sections_stand_where_the_guide_bends(self) -> None:
        model = solve(self.follow(self.BAY))
        for c in (500.5, 520.5, 553.75, 573.75):
            self.assertTrue(np.isclose(model.chainage, c).any(), c)

    def test_a_followed_level_is_kept(self) -> None:
        a = build(self.INPUTS.alignment)
        c = np.array([450.0, 700.0])
        at = a.frames(c).plan(np.arange(2), np.full(2, 3.25))
        base = solve(self.INPUTS)
        z = [float(np.interp(x, base.chainage, base.hinge_level)) - 0.05 for x in c]
        drawn = DrawnLine(points=[(float(e), float(n), level) for (e, n), level in zip(at, z, strict=True)])
        model = solve(self.follow(GuideSpec(name="L", source=drawn), what="level"))
        row = int(np.flatnonzero(np.isclose(model.chainage, 600.0))[0])
        view = section_view(model, row)
        level = next(p.level for p in view.points if p.side == "right" and p.name == "LaneEdge")
        (followed,) = model.followed
        self.assertAlmostEqual(level, float(followed.level[row]), 9)

    def test_what_goes_wrong_is_told(self) -> None:
        inside = GuideSpec(
            name="In", source=Pieces(start_chainage=400, start_offset=-1, pieces=[Hold(end=AtChainage(chainage=800))])
        )
        backward = GuideSpec(
            name="Back", source=Pieces(start_chainage=500, start_offset=3, pieces=[Hold(end=AtChainage(chainage=400))])
        )
        ends = GuideSpec(
            name="Ends", source=Pieces(start_chainage=400, start_offset=4, pieces=[Hold(end=AtChainage(chainage=550))])
        )
        for guide, fields, code in (
            (inside, {}, "crossed"),
            (backward, {}, "guide"),
            (ends, {}, "not_followed"),
            (ends, {"point": "Nothing"}, "no_such_point"),
        ):
            with self.subTest(code):
                codes = {p.code for p in solve(self.follow(guide, **fields)).problems}
                self.assertIn(code, codes)

    def test_chord_limit(self) -> None:
        # Arc of 320 m radius: a chord of 10 m rises 100 / (8 x 320) = 39 mm; with 10 mm the sections stand within 5.06 m.
        model = solve(replace(self.INPUTS, settings=self.INPUTS.settings.changed(chord_limit_mm=10.0)))
        on_arc = model.chainage[(model.chainage >= 210) & (model.chainage <= 440)]
        self.assertLessEqual(np.diff(on_arc).max(), np.sqrt(8 * 320 * 0.010) + 1e-6)
        self.assertAlmostEqual(np.diff(model.chainage[(model.chainage >= 500) & (model.chainage <= 590)]).max(), 10.0, 6)
