"""Side slopes: where they meet the ground, and why a rung is passed over."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry.polylines import interpolate, pack
from saddle.template.rungs import Rung, ToGround
from saddle.template.slopes import NONE_LANDED, ON_GROUND, no_room, side_slopes
from tests.cases import random_ground

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
