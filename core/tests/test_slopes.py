"""Side slopes: where they meet the ground, and why a rung is passed over."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry.polylines import interpolate, pack
from saddle.template import starter
from saddle.template.check import fires_anywhere
from saddle.template.compiled import compile_template
from saddle.template.rungs import Rung, ToGround, VDrain
from saddle.template.slopes import NONE_LANDED, ON_GROUND, Room, SideSlopes, side_slopes
from tests.cases import random_ground
from tests.templates import PARTS, half_with, no_room

CUT = Rung(name="Cut", when="cut", links=[ToGround(one_in=1.5, direction="up", most_width=20)])
FILL = Rung(name="Fill", when="fill", links=[ToGround(one_in=2.0, direction="down", most_width=20)])
STEEP = Rung(name="Steep", when="fill", links=[ToGround(one_in=1.0, direction="down", most_width=20)])


def flat(level: float, end: float = 30.0):  # type: ignore[no-untyped-def]
    return pack([(np.array([0.0, end]), np.array([level, level]))])


class TruthTable(TestCase):
    def found(self, ground: object, *rungs: Rung, level: float = 10.0) -> tuple[int, float, list[str]]:
        s = side_slopes(np.array([5.0]), np.array([level]), rungs, ground, no_room(1))  # type: ignore[arg-type]
        return int(s.rung[0]), float(s.catch_offset[0]), [why.text(0) for why in s.passed]

    def test_cut_and_fill_by_hand(self) -> None:
        # 2 m of cut at 1 in 1.5 lands 3 m out; 2 m of fill at 1 in 2 lands 4 m out.
        self.assertEqual(self.found(flat(12.0), CUT, FILL), (0, 8.0, ["", ""]))
        self.assertEqual(self.found(flat(8.0), CUT, FILL), (1, 9.0, ["the ground is below", ""]))

    def test_a_v_drain_is_steeper_on_its_far_side(self) -> None:
        """From 5 at 10: 0.5 m down at 1 in 3 to 6.5, up again at 1 in 2 to 7.5, then 2 m of cut at 1 in 1: it lands at 9.5."""
        drain = Rung(name="Drain", when="cut", links=[VDrain(depth=0.5), ToGround(one_in=1.0, direction="up")])
        s = side_slopes(np.array([5.0]), np.array([10.0]), (drain,), flat(12.0), no_room(1))
        np.testing.assert_allclose(s.u[0], [5.0, 6.5, 7.5, 9.5])
        np.testing.assert_allclose(s.z[0], [10.0, 9.5, 10.0, 12.0])

    def test_on_the_ground_no_slope_is_needed(self) -> None:
        self.assertEqual(self.found(flat(10.0), CUT, FILL)[:2], (ON_GROUND, 5.0))

    def test_a_rung_that_cannot_land_never_breaks_those_after_it(self) -> None:
        falling = pack([(np.array([0.0, 30.0]), np.array([9.5, 9.5 - 0.6 * 30]))])  # falls faster than 1 in 2
        rung, offset, why = self.found(falling, FILL, STEEP)
        self.assertEqual(rung, 1)
        self.assertIn("does not reach", why[0])
        # line 10 - (o - 5), ground 9.5 - 0.6 o: o = 13.75
        self.assertAlmostEqual(offset, 13.75)

    def test_too_wide_or_no_ground(self) -> None:
        narrow = FILL.changed(links=[ToGround(one_in=2.0, direction="down", most_width=3.0)])
        self.assertEqual(self.found(flat(8.0), narrow)[0], NONE_LANDED)
        short = flat(8.0, end=8.0)
        self.assertEqual(self.found(short, FILL)[0], NONE_LANDED)
        beyond = pack([(np.array([0.0, 4.0]), np.array([8.0, 8.0]))])
        rung, _, why = self.found(beyond, CUT, FILL)
        self.assertEqual(rung, NONE_LANDED)
        self.assertEqual(why, ["there is no ground under the outer point"] * 2)

    def test_touching_a_vertex_counts(self) -> None:
        # A peak that just touches the slope line at (7, 9), 1 in 2 down from (5, 10).
        peak = pack([(np.array([0.0, 6.0, 7.0, 8.0, 30.0]), np.array([8.0, 8.0, 9.0, 8.0, 8.0]))])
        self.assertAlmostEqual(self.found(peak, FILL)[1], 7.0)

    def test_running_along_the_ground_lands_at_the_start(self) -> None:
        along = pack([(np.array([0.0, 5.0, 9.0, 30.0]), np.array([10.0, 10.0, 8.0, 8.0]))])
        self.assertEqual(self.found(along, FILL)[:2], (ON_GROUND, 5.0))

    def test_at_a_wall(self) -> None:
        wall = pack([(np.array([0.0, 6.0, 6.0, 30.0]), np.array([8.0, 8.0, 12.0, 12.0]))])
        self.assertEqual(self.found(wall, FILL)[1], 6.0)


class AgainstShapely(TestCase):
    @given(st.integers(0, 5000), st.floats(0.5, 6))
    def test_first_meeting_with_the_ground(self, seed: int, start: float) -> None:
        rng = np.random.default_rng(seed)
        ground = random_ground(rng, 1)
        level = 50 + float(rng.normal(0, 0.5))
        s = side_slopes(np.array([start]), np.array([level]), (CUT, FILL), ground, no_room(1))
        under = interpolate(ground, np.array([[start]]))[0, 0]
        sense, n = (1, 1.5) if under > level else (-1, 2.0)
        ray = shapely.LineString([(start, level), (start + 20, level + sense * 20 / n)])
        o, z = ground.row(0)
        meeting = shapely.intersection(ray, shapely.LineString(np.column_stack([o, z])))
        offsets = shapely.get_coordinates(meeting)[:, 0]
        if len(offsets) == 0:
            self.assertEqual(s.rung[0], NONE_LANDED)
            return
        self.assertAlmostEqual(s.catch_offset[0], offsets.min(), 7)
        on_ground = [float(interpolate(ground, s.catch_offset[None, :], side)[0, 0]) for side in ("inner", "outer")]
        low, high = min(on_ground), max(on_ground)
        self.assertTrue(low - 1e-9 <= s.catch_level[0] <= high + 1e-9)


def rung(name: str, when: str, *links: dict[str, object], **conditions: object) -> Rung:
    return Rung.model_validate({"name": name, "when": when, "links": links, **conditions})


UP = {"kind": "to_ground", "one_in": 1.5, "direction": "up"}
DOWN4 = {"kind": "to_ground", "one_in": 4, "direction": "down"}
DOWN2 = {"kind": "to_ground", "one_in": 2, "direction": "down"}
#: The ladder of the job's examples: drain and cut if it stays inside the boundary, else plain; toe drain in low fill; 1 in 4,
#: else 1 in 2.
EXAMPLE = (
    rung(
        "Drain and cut", "cut", {"kind": "v_drain", "depth": 0.5, "inner_one_in": 2, "outer_one_in": 2}, UP, inside_boundary=True
    ),
    rung("Plain cut", "cut", {"kind": "to_ground", "one_in": 1, "direction": "up"}),
    rung(
        "Toe drain",
        "fill",
        {"kind": "toe_drain", "one_in": 2, "depth": 0.3, "bottom": 0.5},
        UP,
        most_height=1.0,
        inside_boundary=True,
    ),
    rung("Flat fill", "fill", DOWN4, inside_boundary=True, clearance=0.2),
    rung("Steep fill", "fill", DOWN2),
)


class Ladder(TestCase):
    """The outer point is at 5 m and level 10; catch points by hand."""

    def at(self, height: float, boundary: float = 30.0, rungs: tuple[Rung, ...] = EXAMPLE) -> SideSlopes:
        room = Room(np.array([100.0]), np.array([boundary]), np.full(1, np.nan))
        return side_slopes(np.array([5.0]), np.array([10.0]), rungs, flat(10 + height, 60.0), room)

    def test_truth_table(self) -> None:
        for height, boundary, taken, catch, reasons in (
            # cut of 2 m: drain 2 m wide, then 1.5 * 2 m
            (2.0, 30.0, 0, 10.0, []),
            (2.0, 9.9, 1, 7.0, ["would land 10.00 m out, 9.90 m is inside the boundary"]),
            # fill of 3 m at 1 in 4 lands 12 m out, at 1 in 2 6 m out
            (-3.0, 30.0, 3, 17.0, ["the ground is below"] * 2 + ["the height is 3.00 m, at most 1.00 m is allowed"]),
            (-3.0, 17.1, 4, 11.0, ["the ground is below"] * 2 + ["the height is 3.00 m, at most 1.00 m is allowed", "would land 17.00 m out, 16.90 m is inside the boundary"]),
            # low fill of 0.8 m: 1 in 2 down to 0.3 m below the ground 2.2 m out, 0.5 m of bottom, 0.45 m up 1 in 1.5
            (-0.8, 30.0, 2, 5 + 2.2 + 0.5 + 0.45, ["the ground is below"] * 2),
            (-0.8, 7.0, 4, 6.6, ["the ground is below"] * 2 + ["would land 8.15 m out, 7.00 m is inside the boundary", "would land 8.20 m out, 6.80 m is inside the boundary"]),
        ):  # fmt: skip
            s = self.at(height, boundary)
            with self.subTest(height=height, boundary=boundary):
                self.assertEqual(int(s.rung[0]), taken)
                self.assertAlmostEqual(float(s.catch_offset[0]), catch, 9)
                self.assertAlmostEqual(float(s.catch_level[0]), 10 + height, 9)
                self.assertEqual([why.text(0) for why in s.passed][:taken], reasons)

    def test_no_ground_and_no_boundary(self) -> None:
        away = pack([(np.array([0.0, 4.0]), np.array([8.0, 8.0]))])
        s = side_slopes(np.array([5.0]), np.array([10.0]), EXAMPLE, away, no_room(1))
        self.assertEqual(int(s.rung[0]), NONE_LANDED)
        self.assertEqual({why.text(0) for why in s.passed}, {"there is no ground under the outer point"})
        s = self.at(2.0, np.nan)
        self.assertEqual((int(s.rung[0]), s.passed[0].text(0)), (1, "there is no boundary here"))

    def test_a_drain_that_ends_above_the_ground_is_passed_over(self) -> None:
        # Ground 0.1 m above the outer point but falling 1 in 4: under the drain's outer edge it is 0.4 m below.
        ground = pack([(np.array([0.0, 5.0, 60.0]), np.array([10.1, 10.1, 10.1 - 55 / 4]))])
        s = side_slopes(
            np.array([5.0]), np.array([10.0]), EXAMPLE, ground, Room(np.zeros(1), np.array([30.0]), np.full(1, np.nan))
        )
        self.assertEqual(s.passed[0].text(0), "its last slope begins on the wrong side of the ground")
        self.assertEqual(int(s.rung[0]), 1)

    def test_benches(self) -> None:
        # 12 m of cut, 1 in 1, a level bench of 2 m after every 5 m: 12 m of slope and two benches.
        bench = {
            "kind": "benched",
            "one_in": 1,
            "direction": "up",
            "height": 5,
            "bench_width": 2,
            "bench_fall_pct": 0,
            "most_width": 60,
        }
        s = self.at(12.0, rungs=(rung("Benched", "cut", bench),))
        self.assertAlmostEqual(float(s.catch_offset[0]), 5 + 12 + 4, 9)
        np.testing.assert_allclose(s.u[0], [5, 10, 12, 17, 19, 21], atol=1e-9)
        np.testing.assert_allclose(s.z[0], [10, 15, 15, 20, 20, 22], atol=1e-9)

    def test_chainages_heights_and_widths(self) -> None:
        links = ({"kind": "to_ground", "one_in": 2, "direction": "down"},)
        for conditions, why in (
            ({"from_chainage": 150}, "it is for other chainages"),
            ({"to_chainage": 50}, "it is for other chainages"),
            ({"least_height": 4}, "the height is 3.00 m, at least 4.00 m is asked for"),
            ({"within": 5.5}, "would land 6.00 m beyond the outer point, at most 5.50 m is allowed"),
            ({"from_chainage": 50, "to_chainage": 100, "least_height": 3, "most_height": 3.5, "within": 6}, ""),
        ):
            s = self.at(-3.0, rungs=(rung("R", "fill", *links, **conditions),))
            self.assertEqual(s.passed[0].text(0), why)

    def test_sections_do_not_touch_one_another(self) -> None:
        heights = np.array([2.0, -3.0, -0.8, 0.0, 14.0])
        ground = pack([(np.array([0.0, 60.0]), np.array([10 + h, 10 + h])) for h in heights])
        room = Room(np.full(5, 100.0), np.array([30.0, 17.1, 30.0, 30.0, 20.0]), np.full(5, np.nan))
        whole = side_slopes(np.full(5, 5.0), np.full(5, 10.0), EXAMPLE, ground, room)
        for i in range(5):
            one = side_slopes(np.array([5.0]), np.array([10.0]), EXAMPLE, ground.rows(slice(i, i + 1)), room.rows(np.array([i])))
            self.assertEqual(int(one.rung[0]), int(whole.rung[i]))
            np.testing.assert_allclose(one.catch_offset, whole.catch_offset[i : i + 1])

    def test_rungs_that_can_never_be_taken(self) -> None:
        half = half_with(*starter.TEMPLATES["rural"].right.points, strips=starter.TEMPLATES["rural"].right.strips)
        for ladder, expected in (
            (EXAMPLE, [True] * 5),
            ((EXAMPLE[4], EXAMPLE[3], EXAMPLE[1]), [True, False, True]),  # 1 in 2 without conditions hides 1 in 4 behind it
            ((rung("Low", "fill", DOWN2, most_height=1.0), rung("Lower", "fill", DOWN4, most_height=0.5)), [True, False]),
            ((rung("Here", "fill", DOWN2, from_chainage=10, to_chainage=20), rung("All", "fill", DOWN2)), [True, True]),
        ):
            spec = half.changed(
                right=half.right.changed(ladder=[r.model_dump() for r in ladder], boundary={"by": "offset", "offset": 12})
            )
            found = fires_anywhere(compile_template(spec, PARTS).right)
            self.assertEqual(found.tolist(), expected)

    def test_the_starting_ladder_has_no_idle_rung(self) -> None:
        for spec in starter.TEMPLATES.values():
            self.assertTrue(fires_anywhere(compile_template(spec, PARTS).right).all(), spec.name)


class RandomLadders(TestCase):
    @given(st.integers(0, 10**6))
    def test_catch_points_lie_on_the_ground_and_on_the_path(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        ground = random_ground(rng, 6, width=40.0)
        start, level = rng.uniform(2, 8, 6), 50 + rng.uniform(-3, 3, 6)
        s = side_slopes(start, level, EXAMPLE, ground, Room(np.zeros(6), rng.uniform(5, 25, 6), np.full(6, np.nan)))
        for i in np.flatnonzero(s.rung >= 0):
            o, z = ground.row(int(i))
            line = shapely.LineString(np.column_stack([o, z]))
            self.assertLess(line.distance(shapely.Point(s.catch_offset[i], s.catch_level[i])), 1e-9)
            self.assertTrue((np.diff(s.u[i]) >= 0).all())
            # The last slope meets the ground nowhere before its catch point.
            path = np.column_stack([s.u[i], s.z[i]])
            last = path[-2] if not np.allclose(path[-2], path[-1]) else path[np.flatnonzero(s.u[i] < s.catch_offset[i])[-1]]
            slope = shapely.LineString([last, path[-1]])
            met = shapely.get_coordinates(shapely.intersection(slope, line))
            self.assertTrue(len(met) == 0 or (met[:, 0] > path[-1][0] - 1e-6).all() or abs(met[0, 0] - last[0]) < 1e-6)
