"""Between named points along the road: against the sections themselves, and against what was asked of the template."""

from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.pipeline import solve
from saddle.road.model import RoadModel
from saddle.views.between import HINGE, Named, between, named_points, places_of
from saddle.views.section import section_view
from tests.depth import many
from tests.random_roads import random_road

SEEDS = st.integers(0, 2**32 - 1)


def road(seed: int) -> RoadModel:
    return solve(random_road(np.random.default_rng(seed)))


class BetweenPoints(TestCase):
    @settings(max_examples=many(12), deadline=None, derandomize=True)
    @given(SEEDS)
    def test_every_point_stands_where_its_section_shows_it(self, seed: int) -> None:
        """Section by section, the slow way: what each section lists is what the arrays have, and nothing else."""
        model = road(seed)
        points = named_points(model)
        self.assertEqual(len(points), len(set(points)))
        places = {p: places_of(model, p) for p in points if p.side != "old"}
        for row in range(0, len(model.chainage), 7):
            listed = {(p.side, p.name): p for p in section_view(model, row).points if p.kind != "boxing"}
            for point, (offset, level) in places.items():
                found = listed.get((point.side, point.name))
                if found is not None:
                    self.assertAlmostEqual(found.offset, float(offset[row]), 9)
                    self.assertAlmostEqual(found.level, float(level[row]), 9)
            for side, name in listed:
                self.assertIn(Named(side, name), places)  # type: ignore[arg-type]

    @settings(max_examples=many(12), deadline=None, derandomize=True)
    @given(SEEDS)
    def test_there_and_back(self, seed: int) -> None:
        """Backwards it is the same width and rise with the other sign; from a point to itself there is nothing, and no fall."""
        model = road(seed)
        points = named_points(model)
        for a, b in pairwise(points):
            there, back = between(model, a, b), between(model, b, a)
            np.testing.assert_array_equal(there.width, -back.width)
            np.testing.assert_array_equal(there.rise, -back.rise)
        itself = between(model, HINGE, HINGE)
        self.assertEqual(np.nanmax(np.abs(np.r_[itself.width, 0.0])), 0.0)
        self.assertTrue(np.isnan(itself.pct).all())

    @settings(max_examples=many(12), deadline=None, derandomize=True)
    @given(SEEDS)
    def test_a_lane_falls_as_its_crossfall_says(self, seed: int) -> None:
        """Common practice: superelevation is checked by the fall from hinge to the edge of the lane, which is the crossfall itself."""
        model = road(seed)
        for group in model.groups:
            spec = model.inputs.templates[group.key]
            pct = model.lines.right_pct[group.rows]
            for tie in spec.right.points:
                level = tie.level
                if (
                    level.kind != "fall"
                    or level.parent != "hinge"
                    or level.crossfall_pct is not None
                    or level.turns_with != "side"
                ):
                    continue
                found = between(model, HINGE, Named("right", tie.name)).pct[group.rows]
                known = np.isfinite(found) & np.isfinite(pct)
                np.testing.assert_allclose(found[known], pct[known], atol=1e-9)

    def test_a_point_that_stands_nowhere(self) -> None:
        model = road(0)
        for unknown in (Named("right", "Nowhere"), Named("old", "Nowhere")):
            self.assertTrue(np.isnan(np.concatenate(places_of(model, unknown))).all())
