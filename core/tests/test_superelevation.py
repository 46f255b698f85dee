"""Design superelevation: the published tables and worked developments. All values of the tables are from memory."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from demo.road import ALIGNMENT
from saddle.alignment.alignment import build
from saddle.overlay.crossfalls import Superelevate, apply, values_at
from saddle.overlay.spec import CrossfallTable
from saddle.standards.superelevation import (
    RELATIVE_GRADIENT,
    Curve,
    Turning,
    crossfalls_of,
    curves_of,
    gradient_pct,
    lane_factor,
    relative_grade_length,
    rotation_length,
    runoff_length,
    superelevation_pct,
    turning,
)


def outer(t: Turning, normal: float, at: np.ndarray) -> np.ndarray:
    return np.interp(at, [t.normal, t.level, t.reverse, t.full], [-normal, 0, normal, t.e_pct])


def inner(t: Turning, normal: float, at: np.ndarray) -> np.ndarray:
    return np.interp(at, [t.normal, t.level, t.reverse, t.full], [-normal, -normal, -normal, -t.e_pct])


class Published(TestCase):
    def test_relative_gradients_and_lanes(self) -> None:
        """Checks 2.11: Green Book tables 3-15 and 3-16; the gradients lie on two straight lines."""
        low = [0.80 - 0.005 * (v - 20) for v in (20, 30, 40, 50, 60, 70, 80)]
        high = [0.50 - 0.003 * (v - 80) for v in (90, 100, 110, 120, 130)]
        np.testing.assert_allclose(list(RELATIVE_GRADIENT.values()), low + high, atol=1e-9)
        np.testing.assert_allclose(
            [lane_factor(n) for n in (1, 1.5, 2, 2.5, 3, 3.5)], [1.00, 0.83, 0.75, 0.70, 0.67, 0.64], atol=0.005
        )

    def test_runoff_lengths(self) -> None:
        """Checks 2.11 and 13.4: table 3-17, lanes of 3.6 m, e of 2 to 12 %, to the nearest metre."""
        for speed, lanes, lengths in (
            (80, 1, [14, 29, 43, 58, 72, 86]), (80, 2, [22, 43, 65, 86, 108, 130]), (100, 1, [16, 33, 49, 65, 82, 98]), (100, 2, [25, 49, 74, 98, 123, 147]),
        ):  # fmt: skip
            self.assertEqual(
                [round(runoff_length(e, 3.6, lanes, gradient_pct(speed)) + 1e-9) for e in (2, 4, 6, 8, 10, 12)], lengths
            )
        self.assertAlmostEqual(runoff_length(8, 3.6, 2, 0.44), 98.182, 3)
        self.assertAlmostEqual(2 / 8 * runoff_length(8, 3.6, 2, 0.44), 24.545, 3)

    def test_austroads_lengths(self) -> None:
        """Checks 6.2 and 6.3: -3 to 5 %; the longer of rate of rotation and relative grade rules."""
        for speed, length in ((100, 111.111), (70, 62.222), (80, 88.889)):
            self.assertAlmostEqual(rotation_length(-3, 5, speed), length, delta=0.05)
        self.assertAlmostEqual(relative_grade_length(-3, 5, 3.5, 100), 70.0, 9)
        longer = max(rotation_length(-3, 5, 100), relative_grade_length(-3, 5, 3.5, 100))
        self.assertAlmostEqual(3.5 * 8 / longer, 0.2520, delta=0.0005)

    def test_straight_to_curve(self) -> None:
        """Checks 13.1: two lanes of 3.6 m, 6 %, normal crown 2 %, 0.50 %, 70 % before the curve at 1000."""
        runoff = runoff_length(6, 3.6, 1, 0.50)
        self.assertAlmostEqual(runoff, 43.2, 3)
        t = turning(1000.0, 0.0, runoff, 6.0, 2.0, 80, 1)
        np.testing.assert_allclose([t.normal, t.level, t.reverse, t.full], [955.36, 969.76, 984.16, 1012.96], atol=1e-3)
        at = np.array([955.36, 969.76, 984.16, 1000.0, 1012.96])
        np.testing.assert_allclose(outer(t, 2, at), [-2, 0, 2, 4.2, 6], atol=1e-4)
        np.testing.assert_allclose(inner(t, 2, at), [-2, -2, -2, -4.2, -6], atol=1e-4)
        edge = 50 - (1000 - np.array([960.0, 980, 1010])) / 100 + 3.6 * outer(t, 2, np.array([960.0, 980, 1010])) / 100
        np.testing.assert_allclose(edge, [49.5512, 49.8512, 50.3012], atol=1e-4)

    def test_along_a_transition(self) -> None:
        """Checks 13.5: runoff over a transition of 60 m from 2000, 6 %, normal crown 2.5 %."""
        t = turning(2060.0, 60.0, 0.0, 6.0, 2.5, 80, 1)
        np.testing.assert_allclose([t.normal, t.level, t.reverse, t.full], [1975, 2000, 2025, 2060], atol=1e-9)
        at = np.array([1970.0, 1987.5, 2000, 2010, 2025, 2040, 2060])
        np.testing.assert_allclose(outer(t, 2.5, at), [-2.5, -1.25, 0, 1, 2.5, 4, 6], atol=1e-9)
        np.testing.assert_allclose(inner(t, 2.5, at), [-2.5, -2.5, -2.5, -2.5, -2.5, -4, -6], atol=1e-9)

    def test_how_much(self) -> None:
        """At the least radius (checks 2.1: 252 m at 80 km/h and 6 %) all of it, then in proportion to curvature."""
        self.assertEqual(superelevation_pct(252, 80, 6, 2.5), 6.0)
        self.assertEqual(superelevation_pct(200, 80, 6, 2.5), 6.0)
        self.assertEqual(superelevation_pct(504, 80, 6, 2.5), 3.0)
        self.assertEqual(superelevation_pct(900, 80, 6, 2.5), 2.5)
        self.assertEqual(superelevation_pct(2000, 80, 6, 2.5), 0.0)


class AlongTheRoad(TestCase):
    @given(st.floats(120, 900), st.sampled_from([-1, 1]), st.just(0.0) | st.floats(10, 60), st.floats(40, 100))
    def test_mirrored_and_reversed(self, radius: float, way: int, transition: float, speed: float) -> None:
        c = np.arange(0.0, 1001, 5)
        curve = Curve(400, 600, way / radius, transition, transition)
        found = crossfalls_of([curve], c, speed, 6, 2.5, 3.5)
        np.testing.assert_allclose(
            crossfalls_of([Curve(400, 600, -way / radius, transition, transition)], c, speed, 6, 2.5, 3.5),
            found[:, ::-1],
            atol=1e-9,
        )
        np.testing.assert_allclose(found[::-1], found, atol=1e-9)  # the curve lies in the middle
        self.assertTrue((found >= -6 - 1e-9).all() and (found <= 6 + 1e-9).all())

    def test_the_demo_turns_with_its_curves(self) -> None:
        a = build(ALIGNMENT)
        curves = curves_of(a.chainage, a.length, a.curvature, a.curvature_end)
        self.assertGreaterEqual(len(curves), 3)
        c = np.arange(0, a.end, 10.0)
        new = apply(CrossfallTable(), Superelevate(), "both", 0.0, a.end, c, np.full((len(c), 2), np.nan), curves)
        for curve in curves:
            middle = values_at(new, np.array([(curve.start + curve.end) / 2]))[0]
            outer_side = 0 if curve.curvature > 0 else 1
            if middle[outer_side] > 0:
                self.assertAlmostEqual(middle[0], -middle[1], 6)
            else:
                np.testing.assert_allclose(middle, -2.5)
