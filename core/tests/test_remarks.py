"""The designers' remarks: which sections say them, and where they lie in plan."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from saddle.pipeline import solve
from saddle.road.model import RoadModel
from saddle.road.spec import Remark, RemarkList
from saddle.views.remarks import remarks_in_plan, remarks_on
from saddle.views.section import section_view
from tests.depth import many
from tests.random_roads import random_road


def with_remarks(seed: int, remarks: list[Remark]) -> RoadModel:
    return solve(replace(random_road(np.random.default_rng(seed)), remarks=RemarkList(remarks=remarks)))


class Remarks(TestCase):
    @settings(max_examples=many(15), deadline=None, derandomize=True)
    @given(st.integers(0, 2**32 - 1), st.floats(0, 1), st.floats(0, 1))
    def test_a_place_is_said_where_no_section_stands_nearer_and_a_range_on_all_of_it(self, seed: int, a: float, b: float) -> None:
        bare = with_remarks(seed, [])
        start, end = bare.alignment.start, bare.alignment.end
        at = start + a * (end - start)
        low, high = sorted((at, start + b * (end - start)))
        ranged = [Remark(text="Drains badly", from_chainage=low, to_chainage=high, offset=-2.5)] if high > low else []
        model = with_remarks(seed, [Remark(text="Gate", from_chainage=at), *ranged])
        nearest = np.abs(model.chainage - at).min()
        for row, c in enumerate(model.chainage):
            said = {r.text for r in remarks_on(model, row)}
            self.assertEqual("Gate" in said, bool(abs(c - at) <= nearest + 1e-3))
            self.assertEqual("Drains badly" in said, bool(ranged) and bool(low - 1e-3 <= c <= high + 1e-3))
        for found in remarks_in_plan(model):
            chainage, offset = model.alignment.locate(found.places)
            known = np.isfinite(chainage)  # beyond the ends and inside tight bends a place may have no chainage of its own
            np.testing.assert_allclose(offset[known], 0.0 if found.text == "Gate" else -2.5, atol=1e-6)

    def test_a_section_tells_them_and_one_beyond_the_road_is_told_nowhere(self) -> None:
        model = with_remarks(
            4, [Remark(text="Gone", from_chainage=-1e5), Remark(text="All", from_chainage=-1e5, to_chainage=1e6)]
        )
        self.assertEqual([r.text for r in section_view(model, 0).remarks], ["All"])
        self.assertEqual([r.text for r in remarks_in_plan(model)], ["All"])
        told = [p.message for p in model.problems if p.code == "outside" and "remark" in p.message]
        self.assertEqual([("“Gone”" in m, "lies beyond the road" in m) for m in told], [(True, True), (False, False)])

    def test_a_range_runs_forward(self) -> None:
        with self.assertRaisesRegex(ValidationError, "must end after it begins"):
            Remark(text="x", from_chainage=10, to_chainage=10)
