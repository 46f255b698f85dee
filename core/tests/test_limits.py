"""What one road may be: refused before anything is reserved for it. A straight of 1e9 m once took 21.9 GB."""

import tracemalloc
from dataclasses import replace
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from pydantic import ValidationError

from saddle import limits
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element, Straight
from saddle.errors import GeometryError
from saddle.pipeline import solve
from saddle.road.model import RoadInputs
from saddle.terrain import cut
from saddle.terrain.cut import cut_sections
from saddle.terrain.tin import triangulate
from tests.cases import demo_inputs


def line(*elements: Element) -> AlignmentSpec:
    return AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=list(elements))


class Roads(TestCase):
    def refused(self, inputs: RoadInputs, words: str) -> None:
        """With words, and without taking memory first."""
        tracemalloc.start()
        try:
            with self.assertRaisesRegex(GeometryError, words):
                solve(inputs)
            self.assertLess(tracemalloc.get_traced_memory()[1], 50e6)
        finally:
            tracemalloc.stop()

    def test_a_mistyped_length(self) -> None:
        with self.assertRaisesRegex(ValidationError, "1,000,000.0 km long, at most 200 km"):
            line(Straight(length=1e9))

    def test_too_many_sections_of_an_interval(self) -> None:
        inputs = demo_inputs()
        far = replace(inputs, alignment=line(Straight(length=150_000.0)), settings=inputs.settings.changed(interval=0.5))
        self.refused(far, "300,001 sections would stand on this road, at most 20,000")

    def test_too_many_sections_of_a_chord_limit(self) -> None:
        inputs = demo_inputs()
        for limit in (1e-9, 1e-6):
            curve = replace(
                inputs, alignment=line(Arc(length=900, radius=300)), settings=inputs.settings.changed(chord_limit_mm=limit)
            )
            self.refused(curve, "sections would stand on this road")

    def test_no_radius(self) -> None:
        for made in (lambda: Arc(length=5, radius=0), lambda: Clothoid(length=5, radius_start=0.0, radius_end=100)):
            with self.assertRaisesRegex(ValidationError, "a radius of 0 m is no curve"):
                made()


class Cutting(TestCase):
    def test_so_many_at_a_time_are_the_same_sections(self) -> None:
        rng = np.random.default_rng(1)
        tin = triangulate(np.column_stack([rng.uniform(0, 60, (400, 2)), rng.normal(0, 1, 400)]), np.empty((0, 2), dtype=int))
        n = 23
        asked = (
            np.column_stack([np.linspace(1, 59, n), np.full(n, 30.0)]),
            np.tile([0.0, 1.0], (n, 1)),
            np.full(n, -25.0),
            np.full(n, 25.0),
        )
        whole = cut_sections(tin, *asked)
        with patch.object(cut, "AT_ONCE", 5):
            parts = cut_sections(tin, *asked)
            np.testing.assert_array_equal(parts.offsets, whole.offsets)
            np.testing.assert_array_equal(parts.levels, whole.levels)
            with patch.object(cut, "MOST_VERTICES", 200), self.assertRaisesRegex(GeometryError, "23 sections meet the surface"):
                cut_sections(tin, *asked)
        self.assertGreater(limits.MOST_VERTICES, 1_000_000)
