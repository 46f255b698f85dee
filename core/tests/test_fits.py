"""Fits against published data sets, scipy, and the roads that points were made from."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize

from demo.road import ALIGNMENT, survey_csv
from saddle.alignment.alignment import build
from saddle.alignment.fit import check, fit, refit
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Straight
from saddle.errors import GeometryError
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview
from saddle.geometry.fits import circle_through, fit_circle, fit_line
from saddle.terrain.spec import ColumnMapping
from tests.depth import many
from tests.test_transitions import WINDING

#: Gander, Golub, Strebel, Least-squares fitting of circles and ellipses, BIT 34 (1994).
SIX = np.array([[1.0, 7], [2, 6], [5, 8], [7, 7], [9, 5], [3, 7]])


class Circles(TestCase):
    def test_published_six_points(self) -> None:
        # Geometric fit as published: centre (4.7398, 2.9835), radius 4.7142; residual norm 1.1080 (checks 11.1).
        found = fit_circle(SIX)
        np.testing.assert_allclose(found.centre, [4.7398, 2.9835], atol=1e-4)
        self.assertAlmostEqual(found.radius, 4.7142, delta=1e-4)
        self.assertAlmostEqual(float(np.linalg.norm(found.residual)), 1.1080, delta=1e-4)

    def test_agrees_with_another_minimiser(self) -> None:
        rng = np.random.default_rng(8)
        a = np.linspace(0, 1.2, 30)
        p = 300 * np.column_stack([np.cos(a), np.sin(a)]) + rng.normal(0, 0.05, (30, 2))
        other = minimize(
            lambda v: ((np.hypot(*(p - v[:2]).T) - v[2]) ** 2).sum(),
            [1, 1, 290],
            method="Nelder-Mead",
            options={"xatol": 1e-9, "fatol": 1e-14, "maxiter": 5000},
        )
        self.assertAlmostEqual(fit_circle(p).radius, other.x[2], delta=1e-3)

    def test_three_points_at_national_coordinates(self) -> None:
        # Points of a circle R = 300 about (500000, 6500000), to 0.1 mm (checks 11.6).
        p = np.array([[500000.0, 6500300.0], [500102.606, 6500281.9078], [500192.8363, 6500229.8133]])
        centre, radius = circle_through(*p)
        np.testing.assert_allclose(centre, [500000.0, 6500000.0], atol=0.005)
        self.assertAlmostEqual(radius, 300.0, delta=0.005)
        self.assertAlmostEqual(fit_circle(p).radius, radius, delta=1e-4)

    def test_points_on_one_line(self) -> None:
        p = np.array([[0.0, 0], [1, 1], [2, 2]])
        for make in (lambda: circle_through(*p), lambda: fit_circle(p)):
            with self.assertRaisesRegex(GeometryError, "one line"):
                make()


class Lines(TestCase):
    def test_pearson(self) -> None:
        # Pearson, On lines and planes of closest fit (1901): y = 5.784 - 0.5456 x (checks 11.4).
        x = [0.0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4]
        y = [5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5]
        line = fit_line(np.column_stack([x, y]))
        slope = line.direction[1] / line.direction[0]
        self.assertAlmostEqual(slope, -0.5456, delta=1e-4)
        self.assertAlmostEqual(line.through[1] - slope * line.through[0], 5.7840, delta=1e-4)
        self.assertAlmostEqual(float((line.residual**2).sum()), 0.61857, delta=1e-5)


def along(spec: AlignmentSpec, n: int, noise: float, seed: int, offset: float = 0.0) -> np.ndarray:
    line, rng = build(spec), np.random.default_rng(seed)
    c = np.sort(np.r_[line.start, rng.uniform(line.start, line.end, n - 2), line.end])
    return line.frames(c).plan(np.arange(n), offset + rng.normal(0, noise, n) if noise else np.full(n, offset))


class Roads(TestCase):
    def test_surveyed_crown_of_the_demo_gives_back_its_road(self) -> None:
        text = survey_csv()
        found = preview(text)
        table, _ = read(text, ColumnMapping(delimiter=found.delimiter, header=found.header, **found.columns))
        crown = table.xyz[[code == "CL" for code in table.code], :2]
        fitted = fit(crown)
        self.assertEqual([e.kind for e in fitted.spec.elements], [e.kind for e in ALIGNMENT.elements])
        np.testing.assert_allclose([e.length for e in fitted.spec.elements], [e.length for e in ALIGNMENT.elements], atol=0.15)
        for a, b in zip(fitted.spec.elements, ALIGNMENT.elements, strict=True):
            if isinstance(a, Arc) and isinstance(b, Arc):
                self.assertAlmostEqual(a.radius, b.radius, delta=0.002 * abs(b.radius))
        self.assertLess(np.abs(fitted.residual).max(), 0.002)

    def test_transitions_are_found_where_they_are(self) -> None:
        fitted = fit(along(WINDING, 120, 0.004, 3))
        self.assertEqual([e.kind for e in fitted.spec.elements], [e.kind for e in WINDING.elements])
        np.testing.assert_allclose([e.length for e in fitted.spec.elements], [e.length for e in WINDING.elements], atol=2.5)

    def test_and_not_where_they_are_not(self) -> None:
        fitted = fit(along(ALIGNMENT, 190, 0.004, 4))
        self.assertFalse([e for e in fitted.spec.elements if isinstance(e, Clothoid)])

    def test_an_edge_at_a_known_offset_gives_the_centre_line(self) -> None:
        plain = AlignmentSpec(
            start_east=0,
            start_north=0,
            start_bearing_deg=10,
            elements=[Straight(length=90), Arc(length=110, radius=-180), Straight(length=80)],
        )
        fitted = fit(along(plain, 60, 0.0, 5, offset=3.25), offset=3.25, clothoids=False)
        np.testing.assert_allclose([e.length for e in fitted.spec.elements], [90, 110, 80], atol=1e-3)
        self.assertLess(fitted.rms, 1e-5)

    @settings(max_examples=many(6), deadline=None)
    @given(st.floats(0, 2 * np.pi), st.floats(-1e5, 1e5))
    def test_turned_and_moved_it_is_the_same_road(self, angle: float, far: float) -> None:
        p = along(WINDING, 60, 0.003, 6)
        turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        begin = AlignmentSpec(start_east=p[0, 0], start_north=p[0, 1], start_bearing_deg=33, elements=WINDING.elements)
        here = refit(begin, p)
        moved = p @ turn.T + far
        there = refit(
            begin.changed(start_east=moved[0, 0], start_north=moved[0, 1], start_bearing_deg=33 - np.degrees(angle)), moved
        )
        self.assertAlmostEqual(here.rms, there.rms, delta=1e-6)
        np.testing.assert_allclose([e.length for e in here.spec.elements], [e.length for e in there.spec.elements], atol=1e-2)

    def test_pinned_elements_stay(self) -> None:
        p = along(WINDING, 100, 0.004, 7)
        wrong = WINDING.changed(
            elements=[
                e.changed(radius=310.0).model_dump() if isinstance(e, Arc) and e.radius == 300 else e.model_dump()
                for e in WINDING.elements
            ]
        )
        pinned = refit(wrong, p, pinned=(2,))
        arc = pinned.spec.elements[2]
        assert isinstance(arc, Arc)
        self.assertAlmostEqual(arc.radius, 310.0, 6)
        self.assertAlmostEqual(arc.length, 150.0, 6)
        self.assertGreater(pinned.rms, refit(wrong, p).rms)

    def test_adjusted_is_least_squares(self) -> None:
        # No small change of any value lowers the sum of squares (scipy's trust region is the minimiser; this is the proof).
        p = along(WINDING, 80, 0.01, 9)
        best = refit(WINDING, p)
        for i, element in enumerate(best.spec.elements):
            if isinstance(element, Arc):
                for factor in (0.999, 1.001):
                    other = best.spec.changed(
                        elements=[
                            (e.changed(radius=e.radius * factor) if j == i else e).model_dump()
                            for j, e in enumerate(best.spec.elements)
                        ]
                    )
                    residual = check(other, p).residual
                    self.assertGreater(np.nansum(residual**2), (best.residual**2).sum())

    def test_too_few_points(self) -> None:
        for p in (np.zeros((3, 2)), np.zeros((9, 2))):
            with self.assertRaises(GeometryError):
                fit(p)
