"""Files whose coordinates are not what they are taken for."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.exchange.placing import APART, FAR, Reading, factor, judge
from saddle.terrain.spec import METRES_PER, FileUnit
from tests.cases import demo_survey

NOTHING = np.empty((0, 3))


class Placing(TestCase):
    def test_on_the_road_nothing_is_asked(self) -> None:
        there = demo_survey().xyz
        for part in (there, there[:50], there[-200:] + [0.5, 0.2, 0.01]):
            self.assertEqual(judge(part, Reading(), there).doubts, {})
        self.assertEqual(judge(NOTHING, Reading(), there).doubts, {})
        self.assertEqual(judge(there, Reading(), NOTHING).doubts, {})

    def test_the_next_stretch_is_not_asked_about(self) -> None:
        there = demo_survey().xyz
        self.assertEqual(judge(there + [1800.0, 300.0, 20.0], Reading(), there).doubts, {})

    def test_northing_first(self) -> None:
        there = demo_survey().xyz
        found = judge(there[:1000, [1, 0, 2]], Reading(), there)
        assert found.other is not None and found.other.apart is not None
        self.assertEqual((list(found.doubts), found.other.reading), (["northing first"], Reading(swapped=True)))
        self.assertLess(found.other.apart, 5)
        np.testing.assert_array_equal(found.other.places[:, :2], there[:1000, :2])

    def test_without_a_project_the_ranges_of_a_map_grid_tell(self) -> None:
        # Common practice: UTM eastings lie from 100,000 to 900,000 m, northings of most countries from 1,000,000 m on.
        grid = np.array([[445_200.0, 5_234_100.0, 300.0], [445_900.0, 5_234_900.0, 310.0], [445_300.0, 5_235_000.0, 305.0]])
        self.assertEqual(judge(grid, Reading(), NOTHING).doubts, {})
        self.assertEqual(list(judge(grid[:, [1, 0, 2]], Reading(), NOTHING).doubts), ["northing first"])
        self.assertEqual(judge(grid - [440_000, 5_230_000, 0], Reading(), NOTHING).doubts, {})

    def test_far_off_high_up_and_degrees(self) -> None:
        there = demo_survey().xyz
        self.assertEqual(list(judge(there + [0, FAR + 3000, 0], Reading(), there).doubts), ["far"])
        self.assertEqual(list(judge(there + [0, 0, 700], Reading(), there).doubts), ["level"])
        self.assertIn("700 m above", judge(there + [0, 0, 700], Reading(), there).doubts["level"])
        degrees = np.column_stack([np.linspace(11.51, 11.53, 40), np.linspace(48.11, 48.12, 40), np.linspace(500, 510, 40)])
        self.assertEqual(list(judge(degrees, Reading(), NOTHING).doubts), ["degrees"])

    def test_a_unit_that_nobody_knows_is_asked_about(self) -> None:
        there = demo_survey().xyz
        self.assertEqual(judge(there, Reading(unit="foot"), there, {"unit": "which foot?"}).doubts, {"unit": "which foot?"})

    @given(
        st.sampled_from(list(METRES_PER)), st.sampled_from(list(METRES_PER)), st.booleans(), st.floats(0, 2 * math.pi),
        st.floats(200_000, 800_000), st.floats(3_000_000, 6_000_000), st.integers(0, 10_000),
    )  # fmt: skip
    def test_any_road_read_in_the_wrong_way_is_found_out(
        self, true: FileUnit, taken: FileUnit, swapped: bool, way: float, east: float, north: float, seed: int
    ) -> None:
        """A road of 2 km somewhere on a map grid, written in one unit and order and read in another."""
        rng = np.random.default_rng(seed)
        along, across = rng.uniform(0, 2000, 300), rng.uniform(-15, 15, 300)
        place = np.array([east, north]) + np.column_stack(
            [along * math.sin(way) + across * math.cos(way), along * math.cos(way) - across * math.sin(way)]
        )
        road = np.column_stack([place, rng.uniform(80, 120, 300)])
        figures = road / METRES_PER[true]  # as they stand in the file
        read = figures[:, [1, 0, 2]] * METRES_PER[taken] if swapped else figures * METRES_PER[taken]
        found = judge(read, Reading(unit=taken), road)
        if found.read.apart is not None and found.read.apart <= APART:
            self.assertEqual(found.doubts, {})  # the two kinds of feet, near enough to the origin
            return
        assert found.other is not None and found.other.apart is not None
        self.assertEqual(found.other.reading.swapped, swapped)
        self.assertAlmostEqual(factor(Reading(unit=taken), found.other.reading), METRES_PER[true] / METRES_PER[taken], 5)
        np.testing.assert_allclose(found.other.places, road, atol=20)
        self.assertIn("northing first" if swapped else "unit", found.doubts)
