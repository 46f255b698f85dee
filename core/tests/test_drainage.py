"""Water on the road: resultant slope, path and film by published formulas, and on the solved road by hand."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.findings.water import water
from saddle.standards.drainage import film_mm, path_length, resultant_pct
from saddle.standards.published import SUPERELEVATION
from saddle.standards.superelevation import Curve, Turns, report, turning
from tests.cases import demo_model


def one(value: float) -> np.ndarray:
    return np.array([value])


class Formulas(TestCase):
    def test_resultant_and_path(self) -> None:
        """Checks 6.5: 2.5 % across and 4 % along over 7 m: 4.7170 %, 13.2076 m; 0.5 % at least, so 0.3 % along where 0.4 %
        falls across (RAS-L and RAL, from memory)."""
        self.assertAlmostEqual(resultant_pct(one(2.5), one(4.0))[0], 4.7170, delta=0.0005)
        self.assertAlmostEqual(path_length(one(7.0), one(2.5), one(4.0))[0], 13.2076, delta=0.0005)
        self.assertAlmostEqual(resultant_pct(one(0.4), one(0.3))[0], 0.5, 9)
        self.assertEqual(path_length(one(7.0), one(0.0), one(4.0))[0], np.inf)

    def test_film(self) -> None:
        """Checks 6.6: Gallaway: T = 0.5 mm, L = 10 m, I = 50 mm/h, S = 3 %: 1.128 mm; the US form gives the same."""
        self.assertAlmostEqual(film_mm(one(10.0), one(3.0))[0], 1.128, delta=0.005)
        us = 0.00338 * (0.5 / 25.4) ** 0.11 * (10 / 0.3048) ** 0.43 * (50 / 25.4) ** 0.59 * 0.03**-0.42 - 0.5 / 25.4
        self.assertAlmostEqual(film_mm(one(10.0), one(3.0))[0], us * 25.4, delta=0.005)
        self.assertEqual(film_mm(one(0.01), one(10.0))[0], 0.0)

    @given(st.floats(-8, 8), st.floats(0.2, 8), st.floats(2, 10))
    def test_the_path_is_the_steepest_line_of_the_plane(self, grade: float, fall: float, width: float) -> None:
        direction = np.array([grade, fall]) / np.hypot(grade, fall)
        self.assertAlmostEqual(path_length(one(width), one(-fall), one(grade))[0], width / direction[1], 6)

    def test_limits_of_the_relative_grade(self) -> None:
        """Checks 6.4: RAS-L: over 3.5 m at most 0.875 % at 80 km/h, 0.7875 % at 100, and fixed from 4 m on; at least 0.10 % for
        every metre while the crossfall passes through level, so 50 m from -2.5 to 2.5 %."""
        ras = SUPERELEVATION["ras"]
        for speed, length in ((80, 20.0), (100, 22.2222)):
            t = turning(Turns(ras, speed, 7, 2.5, 3.5), 0.0, 0.0, 2.5, 1)
            self.assertAlmostEqual(t.reverse - t.normal, length, delta=0.001)
        for speed, fixed in ((50, 2.0), (60, 1.6), (70, 1.6), (80, 1.0), (90, 1.0), (100, 0.9), (120, 0.9)):
            self.assertAlmostEqual(6.0 * 5 / Turns(ras, speed, 7, 2.5, 6.0).runoff(5), fixed, 9)
        slow = report([Curve(500, 700, 1 / 600, 300, 300)], Turns(ras, 80, 7, 2.5, 3.5))[0]
        self.assertIn("at most 50 m lets water run off", slow.remarks[0])


class OnTheRoad(TestCase):
    def test_crowned_and_one_way_by_hand(self) -> None:
        model = demo_model()
        found = water(model)
        i = int(np.flatnonzero(model.chainage == 560)[0])
        c, z = model.chainage, model.hinge_level
        grade = 100 * ((z[i + 1] - z[i]) / (c[i + 1] - c[i]) + (z[i] - z[i - 1]) / (c[i] - c[i - 1])) / 2
        self.assertAlmostEqual(found.resultant[i, 0], np.hypot(2.5, grade), 9)
        width = model.lines.right_edge[i] - model.lines.hinge[i]
        self.assertAlmostEqual(found.path[i, 1], width * np.hypot(1, grade / 2.5), 9)
        j = int(np.flatnonzero(model.chainage == 730)[0])  # rebuilt, falling to the right: water crosses both lanes
        both = model.lines.right_edge[j] - model.lines.left_edge[j]
        self.assertGreater(found.path[j, 1], both)
        self.assertLess(found.path[j, 0], found.path[j, 1])
        leave = np.flatnonzero(model.chainage > 1510)
        self.assertTrue(np.isnan(found.film[leave]).all())
