"""Published standards for tapers and curves, quoted from memory as their modules say."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.guides.pieces import stretches
from saddle.guides.ready_made import ReadyMadeIn, Widening, make
from saddle.guides.spec import Pieces
from saddle.standards.curves import FRICTION, curve_limits, least_radius
from saddle.standards.tapers import TaperRule, taper_length

SPEEDS = [20, 30, 40, 50, 60, 70, 80, 90, 100, 110, 120, 130]


class LeastRadii(TestCase):
    """AASHTO minimum radius table, metric (2011: table 3-7), to the nearest metre (checks 2.1)."""

    TABLE = {
        6: [8, 21, 43, 79, 123, 184, 252, 336, 437, 560, 756, 951],
        8: [7, 20, 41, 73, 113, 168, 229, 304, 394, 501, 667, 832],
        10: [7, 19, 38, 68, 105, 154, 210, 277, 358, 454, 597, 739],
        12: [7, 18, 36, 64, 98, 143, 194, 255, 328, 414, 540, 665],
    }

    def test_every_entry_of_the_table(self) -> None:
        for e, radii in self.TABLE.items():
            for speed, radius in zip(SPEEDS, radii, strict=True):
                with self.subTest(e=e, speed=speed):
                    self.assertAlmostEqual(least_radius(speed, e), radius, delta=0.51)

    def test_between_the_speeds_of_the_table_it_lies_between(self) -> None:
        self.assertTrue(least_radius(60, 6) < least_radius(65, 6) < least_radius(70, 6))
        self.assertEqual(list(FRICTION), SPEEDS)

    def test_more_superelevation_allows_a_smaller_radius(self) -> None:
        for speed in SPEEDS:
            radii = [least_radius(speed, e) for e in (0, 2, 4, 6, 8)]
            self.assertEqual(radii, sorted(radii, reverse=True))


class Transitions(TestCase):
    """AASHTO lengths of spirals (2011: table 3-20 and the equations before it; checks 2.9)."""

    def test_desirable_length_is_two_seconds_of_travel(self) -> None:
        wanted = [11, 17, 22, 28, 33, 39, 44, 50, 56, 61, 67, 72]
        for speed, length in zip(SPEEDS, wanted, strict=True):
            self.assertAlmostEqual(curve_limits(500, speed).desirable_transition, length, delta=0.51)

    def test_worked_example(self) -> None:
        # V = 80 km/h, R = 250 m: by shift 34.641, by comfort 36.523 (governs), at most 77.460 m.
        limits = curve_limits(250.0, 80.0)
        self.assertAlmostEqual(limits.least_transition, 36.523, delta=0.001)
        self.assertAlmostEqual(limits.most_transition, 77.460, delta=0.001)
        slow = curve_limits(250.0, 40.0)  # there the shift governs
        self.assertAlmostEqual(slow.least_transition, 34.641, delta=0.001)


class Tapers(TestCase):
    def test_mutcd_metric(self) -> None:
        # MUTCD in metric form (checks 7.2), W = 3.6 m.
        lengths = [37.161, 58.065, 83.613, 157.500, 180.000, 202.500, 225.000, 247.500]
        for speed, length in zip([40, 50, 60, 70, 80, 90, 100, 110], lengths, strict=True):
            self.assertAlmostEqual(taper_length(3.6, TaperRule(standard="lane_shift", speed_kmh=speed)), length, delta=0.001)

    def test_between_sixty_and_seventy_the_longer_is_taken(self) -> None:
        length = taper_length(3.6, TaperRule(standard="lane_shift", speed_kmh=65))
        self.assertAlmostEqual(length, 3.6 * 65 / 1.6, 9)

    def test_austroads_by_lateral_speed(self) -> None:
        # Austroads tapers (checks 7.5), W = 3.5 m: merging at 0.6 m/s, diverging at 1.0 m/s.
        for standard, lengths in (
            ("lateral_slow", [97.22, 129.63, 162.04, 178.24]),
            ("lateral_quick", [58.33, 77.78, 97.22, 106.94]),
        ):
            for speed, length in zip([60, 80, 100, 110], lengths, strict=True):
                rule = TaperRule.model_validate({"standard": standard, "speed_kmh": speed})
                self.assertAlmostEqual(taper_length(3.5, rule), length, delta=0.01)

    @given(st.floats(0.1, 6), st.floats(20, 130), st.sampled_from(["lane_shift", "lateral_slow", "lateral_quick"]))
    def test_twice_the_width_twice_the_length(self, width: float, speed: float, standard: str) -> None:
        rule = TaperRule.model_validate({"standard": standard, "speed_kmh": speed})
        self.assertAlmostEqual(taper_length(2 * width, rule), 2 * taper_length(width, rule), 9)

    def test_a_widening_by_speed(self) -> None:
        rule = TaperRule(standard="lateral_slow", speed_kmh=80)
        what = Widening(name="W", base_offset=-3.0, from_chainage=300, to_chainage=350, extra=3.5, taper_by=rule)
        source = make(ReadyMadeIn(what=what)).source
        assert isinstance(source, Pieces)
        found = stretches(source)
        np.testing.assert_allclose([found[0].start, found[0].end], [300 - 129.63, 300], atol=0.01)
        self.assertAlmostEqual(found[-1].end, 350 + 129.63, delta=0.01)
        self.assertEqual(found[0].end_offset, -6.5)
