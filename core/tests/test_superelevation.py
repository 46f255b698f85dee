"""Design superelevation: the published tables and worked developments. All values of the tables are from memory."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from demo.road import ALIGNMENT
from saddle.alignment.alignment import build
from saddle.alignment.curves import curves_of
from saddle.overlay.crossfalls import Superelevate, apply, values_at
from saddle.overlay.spec import CrossfallTable
from saddle.standards.published import SUPERELEVATION
from saddle.standards.superelevation import Curve, Turning, Turns, crossfalls_of, lane_factor, report, turning

AASHTO, AUSTROADS, UK, IRC = (SUPERELEVATION[k] for k in ("aashto", "austroads", "uk", "irc"))


def outer(t: Turning, normal: float, at: np.ndarray) -> np.ndarray:
    return np.interp(at, [t.normal, t.level, t.reverse, t.full], [-normal, 0, normal, t.e_pct])


def inner(t: Turning, normal: float, at: np.ndarray) -> np.ndarray:
    return np.interp(at, [t.normal, t.level, t.reverse, t.full], [-normal, -normal, -normal, -t.e_pct])


class Published(TestCase):
    def test_relative_gradients_and_lanes(self) -> None:
        """Checks 2.11: Green Book tables 3-15 and 3-16; the gradients lie on two straight lines."""
        low = [0.80 - 0.005 * (v - 20) for v in (20, 30, 40, 50, 60, 70, 80)]
        high = [0.50 - 0.003 * (v - 80) for v in (90, 100, 110, 120, 130)]
        np.testing.assert_allclose(AASHTO.relative_grade[0].values, low + high, atol=1e-9)
        np.testing.assert_allclose(
            [lane_factor(n) for n in (1, 1.5, 2, 2.5, 3, 3.5)], [1.00, 0.83, 0.75, 0.70, 0.67, 0.64], atol=0.005
        )

    def test_runoff_lengths(self) -> None:
        """Checks 2.11 and 13.4: table 3-17, lanes of 3.6 m, e of 2 to 12 %, to the nearest metre."""
        for speed, lanes, lengths in (
            (80, 1, [14, 29, 43, 58, 72, 86]), (80, 2, [22, 43, 65, 86, 108, 130]), (100, 1, [16, 33, 49, 65, 82, 98]), (100, 2, [25, 49, 74, 98, 123, 147]),
        ):  # fmt: skip
            turns = Turns(AASHTO, speed, 12, 2, 3.6, lanes)
            self.assertEqual([round(turns.runoff(e) + 1e-9) for e in (2, 4, 6, 8, 10, 12)], lengths)
        t = turning(Turns(AASHTO, 100, 8, 2, 3.6, 2), 0.0, 0.0, 8, 1)
        self.assertAlmostEqual(t.full - t.level, 98.182, 3)
        self.assertAlmostEqual(t.level - t.normal, 24.545, 3)

    def test_austroads_lengths(self) -> None:
        """Checks 6.2 and 6.3: from -3 to 5 % in all; the longer of rate of rotation and relative grade rules."""
        for speed, length in ((100, 111.111), (70, 62.222), (80, 88.889)):
            t = turning(Turns(AUSTROADS, speed, 6, 3, 3.5), 0.0, 0.0, 5.0, 1)
            self.assertAlmostEqual(t.full - t.normal, length, delta=0.05)
        self.assertAlmostEqual(3.5 * 8 / (t.full - t.normal) * 88.889 / 111.111, 0.2520, delta=0.0005)
        by_grade = AUSTROADS.changed(rotation_rate=None)
        t = turning(Turns(by_grade, 100, 6, 3, 3.5), 0.0, 0.0, 5.0, 1)
        self.assertAlmostEqual(t.full - t.normal, 70.0, 9)

    def test_least_radius_with_the_friction_of_a_guide(self) -> None:
        """Checks 2.12: R = V2 / (127 (e + f)), absolute maximum of cars (the table from memory)."""
        for speed, e, radius in ((100, 6, 357.9), (80, 6, 157.5), (60, 7, 70.9), (110, 6, 529.3)):
            self.assertAlmostEqual(Turns(AUSTROADS, speed, e, 3, 3.5).least_radius(), radius, delta=0.1)

    def test_by_speed_and_radius_alone(self) -> None:
        """Checks 2.10: S = V2 / (2.828 R), 5 % at the desirable minimum radius; checks 2.13: 7 % at IRC's least radii, where
        three quarters of the speed are balanced by crossfall (V2 / 225 R)."""
        for speed, radius, e in ((120, 1020, 4.992), (100, 720, 4.911), (85, 510, 5.009)):
            self.assertAlmostEqual(Turns(UK, speed, 7, 2.5, 3.65).superelevation_pct(radius), np.ceil(e * 10) / 10, 9)
        for speed, radius in ((100, 360), (80, 230), (65, 155), (50, 90), (40, 60)):
            self.assertEqual(Turns(IRC, speed, 7, 2.5, 3.5).superelevation_pct(radius), 7.0)
        self.assertEqual(Turns(IRC, 100, 7, 2.5, 3.5).superelevation_pct(1000), 4.5)

    def test_straight_to_curve(self) -> None:
        """Checks 13.1: two lanes of 3.6 m, 6 %, normal crown 2 %, 0.50 %, 70 % before the curve at 1000."""
        turns = Turns(AASHTO, 80, 6, 2, 3.6)
        self.assertAlmostEqual(turns.runoff(6), 43.2, 3)
        t = turning(turns, 1000.0, 0.0, 6.0, 1)
        np.testing.assert_allclose([t.normal, t.level, t.reverse, t.full], [955.36, 969.76, 984.16, 1012.96], atol=1e-3)
        at = np.array([955.36, 969.76, 984.16, 1000.0, 1012.96])
        np.testing.assert_allclose(outer(t, 2, at), [-2, 0, 2, 4.2, 6], atol=1e-4)
        np.testing.assert_allclose(inner(t, 2, at), [-2, -2, -2, -4.2, -6], atol=1e-4)
        edge = 50 - (1000 - np.array([960.0, 980, 1010])) / 100 + 3.6 * outer(t, 2, np.array([960.0, 980, 1010])) / 100
        np.testing.assert_allclose(edge, [49.5512, 49.8512, 50.3012], atol=1e-4)

    def test_along_a_transition(self) -> None:
        """Checks 13.5: runoff over a transition of 60 m from 2000, 6 %, normal crown 2.5 %."""
        t = turning(Turns(AASHTO, 80, 6, 2.5, 3.65), 2060.0, 60.0, 6.0, 1)
        np.testing.assert_allclose([t.normal, t.level, t.reverse, t.full], [1975, 2000, 2025, 2060], atol=1e-9)
        at = np.array([1970.0, 1987.5, 2000, 2010, 2025, 2040, 2060])
        np.testing.assert_allclose(outer(t, 2.5, at), [-2.5, -1.25, 0, 1, 2.5, 4, 6], atol=1e-9)
        np.testing.assert_allclose(inner(t, 2.5, at), [-2.5, -2.5, -2.5, -2.5, -2.5, -4, -6], atol=1e-9)

    def test_how_much(self) -> None:
        """At the least radius (checks 2.1: 252 m at 80 km/h and 6 %) all of it, then in proportion to curvature."""
        turns = Turns(AASHTO, 80, 6, 2.5, 3.5)
        self.assertEqual(turns.superelevation_pct(252), 6.0)
        self.assertEqual(turns.superelevation_pct(200), 6.0)
        self.assertEqual(turns.superelevation_pct(504), 3.0)
        self.assertEqual(turns.superelevation_pct(900), 2.5)
        self.assertEqual(turns.superelevation_pct(2000), 0.0)


class AlongTheRoad(TestCase):
    @given(st.floats(120, 900), st.sampled_from([-1, 1]), st.just(0.0) | st.floats(10, 60), st.floats(40, 100))
    def test_mirrored_and_reversed(self, radius: float, way: int, transition: float, speed: float) -> None:
        c = np.arange(0.0, 1001, 5)
        curve = Curve(400, 600, way / radius, transition, transition)
        turns = Turns(AASHTO, speed, 6, 2.5, 3.5)
        found = crossfalls_of([curve], c, turns)
        np.testing.assert_allclose(
            crossfalls_of([Curve(400, 600, -way / radius, transition, transition)], c, turns),
            found[:, ::-1],
            atol=1e-9,
        )
        np.testing.assert_allclose(found[::-1], found, atol=1e-9)  # the curve lies in the middle
        self.assertTrue((found >= -6 - 1e-9).all() and (found <= 6 + 1e-9).all())

    def test_the_demo_turns_with_its_curves(self) -> None:
        a = build(ALIGNMENT)
        curves = curves_of(a)
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

    def test_the_report_says_what_to_look_at(self) -> None:
        turns = Turns(AASHTO, 80, 6, 2.5, 3.5)
        tight, short = Curve(300, 340, 1 / 200), Curve(360, 500, -1 / 300, 20, 0)
        first, second = report([tight, short], turns)
        self.assertEqual(
            first.remarks,
            ["the radius is below the least of 252 m", "full superelevation is reached at one point only"][: len(first.remarks)],
        )
        self.assertIn("the transition before it is shorter than the runoff", second.remarks[0])
        self.assertIn("before the curve at 300 has turned back", second.remarks[-1])
        self.assertEqual(
            [key.name for key in second.keys][:4],
            ["normal crown ends", "outer side level", "reverse crown", "full superelevation"],
        )
        self.assertEqual(report([Curve(0, 100, 1 / 5000)], turns)[0].keys, [])
