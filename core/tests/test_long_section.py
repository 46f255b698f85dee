"""The long section: levels of the model, profiles, and what lies beneath."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.road.beneath import beneath
from saddle.terrain.spec import CodeList, Pipe, PipeEnd, Pit, Structures
from saddle.terrain.structures import from_survey
from saddle.views.long_section import long_section
from tests.cases import demo_inputs, demo_model, demo_survey

LINE = build(AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=200)]))


def pipe(*points: tuple[float, float, float], diameter_mm: float = 600.0) -> Pipe:
    return Pipe(name="C", points=[PipeEnd(east=e, north=n, level=z) for e, n, z in points], diameter_mm=diameter_mm)


class Beneath(TestCase):
    def test_a_square_crossing_by_hand(self) -> None:
        (found,) = beneath(Structures(pipes=[pipe((-10, 80, 12.0), (10, 80, 11.0))]), LINE)
        self.assertAlmostEqual(found.chainage, 80.0, 9)
        self.assertAlmostEqual(found.bottom, 11.5, 9)
        self.assertAlmostEqual(found.top, 12.1, 9)

    def test_a_skewed_crossing_by_hand(self) -> None:
        (found,) = beneath(Structures(pipes=[pipe((-10, 60, 12.0), (30, 140, 8.0))]), LINE)
        self.assertAlmostEqual(found.chainage, 80.0, 9)
        self.assertAlmostEqual(found.bottom, 11.0, 9)

    def test_a_pipe_beside_the_road_is_not_crossed(self) -> None:
        self.assertEqual(beneath(Structures(pipes=[pipe((5, 10, 1), (6, 90, 1))]), LINE), [])

    def test_a_pipe_that_crosses_twice_is_there_twice(self) -> None:
        found = beneath(Structures(pipes=[pipe((-5, 20, 1), (5, 40, 1), (-5, 60, 1))]), LINE)
        np.testing.assert_allclose([b.chainage for b in found], [30, 50])

    def test_pits_near_and_far(self) -> None:
        pits = [
            Pit(name="near", east=4, north=50, cover=10.0, invert=8.2),
            Pit(name="far", east=40, north=50, cover=10.0),
            Pit(name="beyond", east=0, north=250, cover=10.0),
            Pit(name="unknown", east=0, north=20),
            Pit(name="only invert", east=0, north=10, invert=5.0),
        ]
        found = {b.name: b for b in beneath(Structures(pits=pits), LINE)}
        self.assertEqual(set(found), {"near", "only invert"})
        self.assertEqual((found["near"].top, found["near"].bottom), (10.0, 8.2))

    def test_on_a_curve(self) -> None:
        curve = build(AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Arc(length=150, radius=100)]))
        c = np.array([60.0])
        frame = curve.frames(c)
        a, b = (frame.plan(np.array([0]), np.array([o]))[0] for o in (-8.0, 8.0))
        (found,) = beneath(Structures(pipes=[pipe((a[0], a[1], 3.0), (b[0], b[1], 2.0))]), curve)
        self.assertAlmostEqual(found.chainage, 60.0, 6)
        self.assertAlmostEqual(found.bottom, 2.5, 6)


class OfTheDemo(TestCase):
    def test_levels_are_those_of_the_sections(self) -> None:
        model = demo_model()
        found = long_section(model, {})
        np.testing.assert_array_equal(found.design, model.hinge_level)
        known = np.isfinite(model.lines.existing_hinge)
        np.testing.assert_allclose(found.existing[known], model.lines.existing_hinge[known])
        self.assertTrue(np.isfinite(found.existing).all())  # also where nothing is done

    def test_design_lies_above_existing_by_the_cover_at_least_on_overlays(self) -> None:
        model = demo_model()
        found = long_section(model, {})
        overlay = np.isfinite(model.depth.least)
        self.assertGreaterEqual((found.design - found.existing)[overlay].min(), 0.05 - 1e-6)

    def test_a_profile_is_sampled_at_the_sections(self) -> None:
        spec = ProfileSpec(points=[ProfilePoint(chainage=100, level=80), ProfilePoint(chainage=300, level=84)])
        found = long_section(demo_model(), {"P": spec})
        at = int(np.flatnonzero(np.isclose(found.chainage, 200.0))[0])
        self.assertAlmostEqual(found.profiles["P"][at], 82.0, 9)
        self.assertTrue(np.isnan(found.profiles["P"][0]))

    def test_the_culvert_lies_where_it_was_surveyed(self) -> None:
        structures = from_survey(demo_survey(), CodeList())
        model = replace(demo_model(), inputs=replace(demo_inputs(), structures=structures))
        culvert = next(b for b in long_section(model, {}).structures if b.kind == "pipe")
        self.assertAlmostEqual(culvert.chainage, 872.0, delta=0.05)
