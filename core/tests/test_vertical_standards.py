"""Limits of profiles: the published tables and the formulas behind them. All figures are from memory, as their module says."""

from unittest import TestCase

import numpy as np
import shapely

from saddle.alignment.profile import ProfilePoint, ProfileSpec, build_profile
from saddle.standards.published import FLORIDA, SUPERELEVATION, TEXAS, VERTICAL
from saddle.standards.sight import crest_sight, sight_constant, sightline_offset, stopping_distance
from saddle.standards.spec import Figure, SpeedTable

AASHTO, UK, AUSTROADS = VERTICAL["aashto"], VERTICAL["uk"], VERTICAL["austroads"]
C = sight_constant(AASHTO.eye, AASHTO.thing)
SPEEDS = np.arange(20, 131, 10)


def up(value: float, step: float = 1) -> float:
    """To the next step, from the value to 0.1."""
    return float(np.ceil(round(value, 1) / step - 1e-9) * step)


class Published(TestCase):
    def test_stopping_distances(self) -> None:
        """Checks 1.5: Green Book equation 3-2: 0.278 V t + 0.039 V2 / a, both parts to 0.1, up to the next 5 m."""
        computed = [up(round(0.278 * v * 2.5, 1) + round(0.039 * v * v / 3.4, 1), 5) for v in SPEEDS]
        self.assertEqual(AASHTO.stopping.values.tolist(), computed)

    def test_crest_and_sag(self) -> None:
        """Checks 1.7 and 1.8: K = S2 / 658, and S2 / (120 + 3.5 S), up to the next whole number."""
        s = AASHTO.stopping.values
        self.assertAlmostEqual(200 * (AASHTO.eye**0.5 + AASHTO.thing**0.5) ** 2, 658, delta=0.5)
        self.assertEqual(AASHTO.crest_k.values.tolist(), [up(x) for x in s**2 / 658])
        self.assertEqual(AASHTO.sag_k.values.tolist(), [up(x) for x in s**2 / (120 + 3.5 * s)])

    def test_uk(self) -> None:
        """Checks 1.12: a ladder of speeds; crest K within 4.5 % of S2 / 471; sag K of comfort, 0.3 m/s2, at 120 and 100."""
        s, k = UK.stopping.values, UK.crest_k.values
        self.assertAlmostEqual(200 * (UK.eye**0.5 + UK.thing**0.5) ** 2, 471, delta=0.01)
        self.assertLess(np.abs(s**2 / 471 / k - 1).max(), 0.045)
        for speed, sag in ((120, 37), (100.9, 26)):
            self.assertAlmostEqual((speed / 3.6) ** 2 / (100 * 0.3), sag, delta=0.5)
            self.assertAlmostEqual(UK.sag_k.at(round(speed, -1)), sag, 9)

    def test_austroads(self) -> None:
        """Checks 1.13: S = R_T V / 3.6 + V2 / (254 x 0.36), reaction 2.5 s; crest constant 447.62; comfort sag at 0.05 g."""
        speeds = np.arange(50, 131, 10)
        computed = np.round(2.5 * speeds / 3.6 + speeds**2 / (254 * 0.36))
        self.assertEqual([AUSTROADS.stopping.at(v) for v in speeds], computed.tolist())
        self.assertAlmostEqual(200 * (AUSTROADS.eye**0.5 + AUSTROADS.thing**0.5) ** 2, 447.62, delta=0.01)
        self.assertAlmostEqual(AUSTROADS.sag_k.at(100), 15.75, delta=0.051)
        self.assertAlmostEqual(AUSTROADS.sag_k.at(60), 5.67, delta=0.051)
        self.assertAlmostEqual(AUSTROADS.crest_k.at(100), 179**2 / 447.62, delta=0.05)

    def test_stopping_on_grades(self) -> None:
        """Checks 1.6: Green Book table 3-2, 50 to 100 km/h, to 0.1 and up to the whole metre."""
        rows = {
            -3: [66, 87, 110, 136, 164, 194], -6: [70, 92, 116, 144, 174, 207], -9: [74, 97, 124, 154, 187, 223],
            3: [61, 80, 100, 123, 148, 174], 6: [59, 77, 97, 118, 141, 167], 9: [58, 75, 93, 114, 136, 160],
        }  # fmt: skip
        for grade, lengths in rows.items():
            found = [up(stopping_distance(v, grade, 2.5, 3.4 / 9.81)) for v in range(50, 101, 10)]
            self.assertEqual(found, lengths)
        self.assertAlmostEqual(AASHTO.stopping_on(80, 0), 130, 9)
        self.assertAlmostEqual(AASHTO.stopping_on(80, -6), 144, delta=2)
        self.assertEqual(AASHTO.stopping_on(80, 6), 130)  # uphill gives nothing away
        self.assertEqual(stopping_distance(80, -40, 2.5, 0.36), np.inf)

    def test_passing_and_comfort(self) -> None:
        """Checks 1.9: K = PSD2 / 864 with 1.08 m at both ends, to the nearest; checks 1.11: L = A V2 / 395 for comfort in a
        sag, which headlights always exceed; A = 4 % at 90 km/h: 82.025 m."""
        passing = np.array([120, 140, 160, 180, 210, 245, 280, 320, 355, 395, 440])
        constant = sight_constant(1.08, 1.08)
        self.assertAlmostEqual(constant, 864, 3)
        self.assertEqual(np.floor(passing**2 / round(constant) + 0.5).tolist(), [17, 23, 30, 38, 51, 69, 91, 119, 146, 181, 224])
        self.assertAlmostEqual(crest_sight(constant, 51 * 5.0, 5.0), (51 * constant) ** 0.5, 9)
        self.assertAlmostEqual(4 * 90**2 / 395, 82.025, 3)
        self.assertTrue((AASHTO.sag_k.values >= AASHTO.sag_k.speeds**2 / 395).all())

    def test_changes_of_grade_in_miles_per_hour(self) -> None:
        """Checks 4.2 and 4.3: Florida's table, the line 1.6 - V / 50; Texas: 1.0 % up to 45 mph, 0.5 % above."""
        mph = np.array([30, 35, 40, 45, 50, 55, 60, 65, 70])
        np.testing.assert_allclose([FLORIDA.at(v * 1.609344) for v in mph], 1.6 - mph / 50, atol=1e-3)
        self.assertAlmostEqual(FLORIDA.at(88.51392), 0.5, 4)
        self.assertEqual([TEXAS.at(v * 1.609344) for v in (30, 45, 50, 60, 70)], [1.0, 1.0, 0.5, 0.5, 0.5])

    def test_clear_width_inside_a_curve(self) -> None:
        """Checks 2.14: R = 300 m, S = 105 m: 4.5827 m; the rise of the arc over its chord by shapely."""
        self.assertAlmostEqual(sightline_offset(300, 105), 4.5827, delta=0.001)
        angle = np.linspace(-105 / 600, 105 / 600, 2001)
        arc = shapely.LineString(300 * np.column_stack([np.sin(angle), np.cos(angle)]))
        chord = shapely.LineString([arc.coords[0], arc.coords[-1]])
        self.assertAlmostEqual(chord.distance(shapely.Point(arc.coords[1000])), sightline_offset(300, 105), delta=0.001)

    def test_figures_between_and_beyond_the_speeds_of_a_table(self) -> None:
        table = SpeedTable(source="made up", rows=[Figure(speed_kmh=60, value=10), Figure(speed_kmh=80, value=20)])
        self.assertEqual([table.at(v) for v in (40, 60, 65, 80, 120)], [10, 10, 12.5, 20, 20])
        with self.assertRaisesRegex(ValueError, "does not come after"):
            SpeedTable(source="", rows=[Figure(speed_kmh=60, value=1), Figure(speed_kmh=60, value=2)])

    def test_every_figure_has_a_source(self) -> None:
        for standard in (*VERTICAL.values(), *SUPERELEVATION.values()):
            for value in dict(standard).values():
                for found in value if isinstance(value, list) else [value]:
                    if isinstance(found, SpeedTable):
                        self.assertGreater(len(found.source), 8)


class Sight(TestCase):
    def test_beyond_and_within_the_curve(self) -> None:
        """Checks 1.10: A = 3 %, S = 185 m: L = 2 S - 658 / A = 150.667 m, shorter than S; and K = S2 / 658 within it."""
        self.assertAlmostEqual(crest_sight(C, 150.667, 3.0), 185.0, delta=0.05)
        self.assertAlmostEqual(crest_sight(C, 5 * 185**2 / 658, 5.0), 185.0, delta=0.05)

    def test_rays_over_a_crest(self) -> None:
        """A second way: the longest line between eye and thing that no point of the road blocks."""
        for length, change in ((200.0, 5.0), (60.0, 3.0)):
            spec = ProfileSpec(
                points=[
                    ProfilePoint(chainage=0, level=0),
                    ProfilePoint(chainage=500, level=change * 2.5, length_in=length / 2, length_out=length / 2),
                    ProfilePoint(chainage=1000, level=0),
                ]
            )
            x = np.arange(0, 1000.5, 1.0)
            z = build_profile(spec).levels(x)

            def seen(s: float, x: np.ndarray = x, z: np.ndarray = z) -> bool:
                for a in np.arange(200, 800 - s, 4.0):
                    here = (x >= a) & (x <= a + s)
                    eye, thing = np.interp(a, x, z) + AASHTO.eye, np.interp(a + s, x, z) + AASHTO.thing
                    if (z[here] > eye + (x[here] - a) / s * (thing - eye)).any():
                        return False
                return True

            sight = crest_sight(C, length, change)
            self.assertTrue(seen(sight - 3))
            self.assertFalse(seen(sight + 3))

    def test_a_parabola_stands_for_a_circle(self) -> None:
        """Checks 1.14: K = R / 100 with R = 3000 m, -2.5 to 1.5 %: the exact circle is within 0.1 mm of the parabola."""
        g1, g2, r = -0.025, 0.015, 3000.0
        tangent = r * np.tan((np.arctan(g2) - np.arctan(g1)) / 2)
        self.assertAlmostEqual(tangent, 59.9985, delta=0.0005)
        spec = ProfileSpec(
            points=[
                ProfilePoint(chainage=0, level=12.5),
                ProfilePoint(chainage=500, level=0, length_in=60, length_out=60),
                ProfilePoint(chainage=1000, level=7.5),
            ]
        )
        touch = np.array([500 - tangent * np.cos(np.arctan(g1)), tangent * -np.sin(np.arctan(g1))])
        middle = touch + r * np.array([-np.sin(np.arctan(g1)), np.cos(np.arctan(g1))])
        x = np.linspace(touch[0], 1000 - touch[0] - 0.05, 2001)
        circle = middle[1] - np.sqrt(r**2 - (x - middle[0]) ** 2)
        self.assertLess(np.abs(circle - build_profile(spec).levels(x)).max(), 0.1e-3)
