"""Clothoids, intersection points, parts, constructed points and chainage equations."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.special import fresnel

from saddle.alignment.alignment import build
from saddle.alignment.construct import at_chainage, at_distances
from saddle.alignment.equations import running, shown
from saddle.alignment.ips import IntersectionPoint, clothoid_elements, from_ips, tangent_lengths, to_ips
from saddle.alignment.parts import part_of, reversed_spec
from saddle.alignment.spec import AlignmentSpec, Arc, ChainageEquation, Clothoid, Element, Straight
from saddle.errors import GeometryError, SaddleError
from tests.depth import many


def spec(*elements: Element, start: float = 0.0) -> AlignmentSpec:
    return AlignmentSpec(
        start_east=500.0, start_north=900.0, start_bearing_deg=33.0, start_chainage=start, elements=list(elements)
    )


WINDING = spec(
    Straight(length=120.0),
    Clothoid(length=60.0, radius_end=300.0),
    Arc(length=150.0, radius=300.0),
    Clothoid(length=40.0, radius_start=300.0),
    Straight(length=80.0),
    Clothoid(length=50.0, radius_end=-220.0),
    Arc(length=90.0, radius=-220.0),
    Clothoid(length=50.0, radius_start=-220.0),
    Straight(length=100.0),
)


class Clothoids(TestCase):
    def test_unit_table_point(self) -> None:
        # Clothoid tables (Kasper, Schuerba, Lorenz) for A = R = L = 100: X = 97.5288, Y = 16.3714; the rest by the
        # series (checks 2.6).
        x, y, shift, middle = clothoid_elements(100.0, 100.0)
        for value, expected in ((x, 97.5288), (y, 16.3714), (shift, 4.1297), (middle, 49.5862)):
            self.assertAlmostEqual(value, expected, delta=1e-4)
        tau = 0.5
        self.assertAlmostEqual(x - y / np.tan(tau), 67.5611, delta=1e-4)
        self.assertAlmostEqual(y / np.sin(tau), 34.1480, delta=1e-4)

    def test_against_fresnel_integrals(self) -> None:
        # scipy's Fresnel integrals: x + iy = sqrt(pi/c) (C + iS)(s sqrt(c/pi)) for curvature c s.
        rng = np.random.default_rng(5)
        for length, radius in zip(rng.uniform(5, 300, 60), rng.uniform(60, 3000, 60), strict=True):
            line = build(spec(Clothoid(length=length, radius_end=radius)).changed(start_bearing_deg=0))
            rate = 1 / (radius * length)
            s = np.linspace(0, length, 20)
            sin, cos = fresnel(s * np.sqrt(rate / np.pi))
            expected = np.sqrt(np.pi / rate) * np.column_stack([sin, cos]) + [500.0, 900.0]
            np.testing.assert_allclose(line.frames(s).origin, expected, atol=1e-9)

    def test_egg_line_between_two_radii(self) -> None:
        # Clothoid geometry (checks 2.8): R1 = 600, R2 = 250, L = 70; and integrated by scipy's solve_ivp.
        line = build(
            spec(Clothoid(length=70.0, radius_start=600.0, radius_end=250.0)).changed(
                start_bearing_deg=0, start_east=0, start_north=0
            )
        )
        end = line.frames(np.array([70.0]))
        self.assertAlmostEqual(np.degrees(end.bearing[0]), 11.363663, delta=5e-6)
        np.testing.assert_allclose(end.origin[0], [5.9711, 69.6285], atol=5e-4)
        rate = (1 / 250 - 1 / 600) / 70
        walked = solve_ivp(
            lambda s, _: [np.sin(s / 600 + rate * s**2 / 2), np.cos(s / 600 + rate * s**2 / 2)],
            (0, 70),
            [0, 0],
            rtol=1e-11,
            atol=1e-11,
        )
        np.testing.assert_allclose(end.origin[0], walked.y[:, -1], atol=1e-7)

    @given(st.floats(0, 740), st.floats(-50, 50))
    def test_chainage_to_point_to_chainage(self, c: float, o: float) -> None:
        line = build(WINDING)
        found, offset = line.locate(line.frames(np.array([c])).plan(np.array([0]), np.array([o])))
        self.assertAlmostEqual(found[0], c, 6)
        self.assertAlmostEqual(offset[0], o, 6)

    def test_near_transitions_too(self) -> None:
        line = build(WINDING)
        near = np.concatenate([k + np.array([-1e-3, -1e-6, 0, 1e-6, 1e-3]) for k in line.key_chainages()[1:-1]])
        found, _ = line.locate(line.frames(near).plan(np.arange(len(near)), np.full(len(near), 7.0)))
        np.testing.assert_allclose(found, near, atol=1e-6)

    def test_nothing_breaks_at_tangent_points(self) -> None:
        line = build(WINDING)
        keys = line.key_chainages()[1:-1]
        before, after = line.frames(keys - 1e-7), line.frames(keys)
        np.testing.assert_allclose(before.origin, after.origin, atol=1e-6)
        np.testing.assert_allclose(before.curvature, after.curvature, atol=1e-7)

    def test_locating_agrees_with_shapely(self) -> None:
        line = build(WINDING)
        fine = shapely.LineString(line.frames(np.linspace(0, line.end, 8000)).origin)
        rng = np.random.default_rng(6)
        points = line.frames(rng.uniform(5, line.end - 5, 400)).plan(np.arange(400), rng.uniform(-40, 40, 400))
        chainage, offset = line.locate(points)
        np.testing.assert_allclose(chainage, fine.project(shapely.points(points)), atol=0.02)
        np.testing.assert_allclose(np.abs(offset), fine.distance(shapely.points(points)), atol=1e-3)

    def test_elements_that_cannot_be(self) -> None:
        for element, word in (
            (Clothoid(length=50.0, radius_start=200.0, radius_end=-200.0), "both ways"),
            (Clothoid(length=500.0, radius_end=50.0), "half a circle"),
        ):
            with self.subTest(word), self.assertRaisesRegex(GeometryError, word):
                build(spec(element))
        with self.assertRaisesRegex(ValueError, "two different radii"):
            Clothoid(length=5.0)
        with self.assertRaisesRegex(ValueError, "a radius of 0.5 m is no curve"):
            Clothoid(length=5.0, radius_end=0.5)


class Parts(TestCase):
    @settings(max_examples=many(40))
    @given(st.floats(0, 700), st.floats(1, 700))
    def test_a_part_keeps_chainages_and_places(self, start: float, length: float) -> None:
        line, piece = build(WINDING), part_of(WINDING, start, start + length, "Part")
        part = build(piece)
        self.assertAlmostEqual(part.start, start, 9)
        c = np.linspace(part.start, part.end, 30)
        np.testing.assert_allclose(part.frames(c).origin, line.frames(c).origin, atol=1e-7)
        np.testing.assert_allclose(part.frames(c[1:-1]).curvature, line.frames(c[1:-1]).curvature, atol=1e-9)

    def test_nothing_in_between(self) -> None:
        with self.assertRaisesRegex(GeometryError, "nothing of the alignment"):
            part_of(WINDING, 2000, 3000, "Part")

    @given(st.floats(0, 740), st.floats(-40, 40))
    def test_reversed_it_is_the_same_place(self, c: float, o: float) -> None:
        line, back = build(WINDING), build(reversed_spec(WINDING))
        place = line.frames(np.array([c])).plan(np.array([0]), np.array([o]))
        again = back.frames(np.array([line.end - c])).plan(np.array([0]), np.array([-o]))
        np.testing.assert_allclose(place, again, atol=1e-6)
        self.assertEqual(len(reversed_spec(reversed_spec(WINDING)).elements), len(WINDING.elements))


class Tangents(TestCase):
    def test_tangent_lengths_by_hand(self) -> None:
        # Without transitions T = R tan(D/2) (checks 2.3); with equal ones T = xm + (R + dR) tan(D/2).
        deflection = np.radians(40.0)
        self.assertAlmostEqual(tangent_lengths(300.0, deflection, 0, 0)[0], 109.1911, delta=5e-4)
        _, _, shift, middle = clothoid_elements(300.0, 60.0)
        for t in tangent_lengths(300.0, deflection, 60.0, 60.0):
            self.assertAlmostEqual(t, middle + (300.0 + shift) * np.tan(deflection / 2), 9)

    def test_there_and_back(self) -> None:
        points = to_ips(WINDING)
        assert points is not None
        self.assertEqual(len(points), 4)
        again = from_ips(WINDING, points)
        self.assertEqual([e.kind for e in again.elements], [e.kind for e in WINDING.elements])
        np.testing.assert_allclose([e.length for e in again.elements], [e.length for e in WINDING.elements], atol=1e-6)

    @settings(max_examples=many(60))
    @given(st.floats(60, 500), st.floats(0, 60), st.floats(0, 60), st.floats(-2.5, 2.5))
    def test_curve_lies_on_both_tangents(self, radius: float, into: float, out: float, turn: float) -> None:
        assume(abs(turn) > (into + out) / (2 * radius) + 0.02)
        far = 5000.0
        points = [
            IntersectionPoint(east=0, north=-far),
            IntersectionPoint(east=0, north=0, radius=radius, transition_in=into, transition_out=out),
            IntersectionPoint(east=far * np.sin(turn), north=far * np.cos(turn)),
        ]
        line = build(from_ips(WINDING, points))
        end = line.frames(np.array([line.end]))
        np.testing.assert_allclose(end.origin[0], [points[2].east, points[2].north], atol=1e-6)

    def test_what_does_not_fit_is_named(self) -> None:
        ends = IntersectionPoint(east=0, north=0), IntersectionPoint(east=200, north=200)
        for corner, word in (
            (IntersectionPoint(east=0, north=200, radius=500), "overlap"),
            (IntersectionPoint(east=0, north=200), "without a radius"),
            (IntersectionPoint(east=0, north=200, radius=20, transition_in=100), "turn"),
            (IntersectionPoint(east=0, north=0, radius=20), "one place"),
        ):
            with self.subTest(word), self.assertRaisesRegex(GeometryError, word):
                from_ips(WINDING, [ends[0], corner, ends[1]])

    def test_a_transition_of_next_to_no_length_is_none(self) -> None:
        points = [
            IntersectionPoint(east=0, north=-500),
            IntersectionPoint(east=0, north=0, radius=100, transition_in=5e-324, transition_out=1e-9),
            IntersectionPoint(east=500, north=0),
        ]
        self.assertEqual([e.kind for e in from_ips(WINDING, points).elements], ["straight", "arc", "straight"])
        with self.assertRaisesRegex(ValueError, "greater than or equal"):
            Clothoid(length=1e-9, radius_end=100.0)

    def test_reverse_curve_without_a_straight(self) -> None:
        # Two curves whose transitions meet where the curvature is zero are two corners.
        bend = [
            Clothoid(length=40.0, radius_end=200.0),
            Arc(length=80.0, radius=200.0),
            Clothoid(length=40.0, radius_start=200.0),
        ]
        back = [
            Clothoid(length=40.0, radius_end=-200.0),
            Arc(length=60.0, radius=-200.0),
            Clothoid(length=40.0, radius_start=-200.0),
        ]
        reverse = spec(Straight(length=50.0), *bend, *back, Straight(length=50.0))
        points = to_ips(reverse)
        assert points is not None
        self.assertEqual(len(points), 4)
        np.testing.assert_allclose(
            [e.length for e in from_ips(reverse, points).elements], [e.length for e in reverse.elements], atol=1e-6
        )

    def test_an_egg_line_has_no_simple_corners(self) -> None:
        egg = spec(
            Straight(length=50.0), Arc(length=40.0, radius=600.0), Clothoid(length=50.0, radius_start=600.0, radius_end=250.0),
            Arc(length=40.0, radius=250.0), Straight(length=50.0),
        )  # fmt: skip
        self.assertIsNone(to_ips(egg))


class Constructed(TestCase):
    def test_three_four_five(self) -> None:
        both = at_distances(np.array([10.0, 20.0]), 3.0, np.array([15.0, 20.0]), 4.0)
        np.testing.assert_allclose(both, [[11.8, 22.4], [11.8, 17.6]], atol=1e-12)

    @given(st.tuples(*[st.floats(-500, 500)] * 6))
    def test_the_point_is_one_of_the_two(self, v: tuple[float, ...]) -> None:
        a, b, p = (np.array(v[i : i + 2]) for i in (0, 2, 4))
        assume(np.hypot(*(b - a)) > 1)
        both = at_distances(a, float(np.hypot(*(p - a))), b, float(np.hypot(*(p - b))))
        self.assertLess(np.hypot(*(both - p).T).min(), 1e-3)

    def test_asked_from_the_other_point_the_answers_change_places(self) -> None:
        a, b = np.array([412_300.0, 286_540.0]), np.array([412_340.0, 286_555.0])
        here, there = at_distances(a, 30.0, b, 25.0), at_distances(b, 25.0, a, 30.0)
        np.testing.assert_allclose(here, there[::-1], atol=1e-6)
        np.testing.assert_allclose(np.hypot(*(here - a).T), 30.0, atol=1e-6)
        np.testing.assert_allclose(np.hypot(*(here - b).T), 25.0, atol=1e-6)

    def test_circles_that_do_not_meet(self) -> None:
        a, b = np.array([0.0, 0.0]), np.array([10.0, 0.0])
        for distances, word in (((3.0, 4.0), "add up to 7.000"), ((20.0, 4.0), "differ by 16.000"), ((-1.0, 4.0), "negative")):
            with self.subTest(word), self.assertRaisesRegex(GeometryError, word):
                at_distances(a, distances[0], b, distances[1])
        with self.assertRaisesRegex(GeometryError, "one place"):
            at_distances(a, 1, a, 1)

    def test_at_chainage_and_offset(self) -> None:
        line = build(WINDING)
        place = at_chainage(line, 300.0, -4.5)
        chainage, offset = line.locate(place[None, :])
        self.assertAlmostEqual(chainage[0], 300.0, 6)
        self.assertAlmostEqual(offset[0], -4.5, 6)


class Equations(TestCase):
    """Common practice (checks 14.3): from 9+000, 10+000 back = 12+000 ahead."""

    jump = (ChainageEquation(back=10_000.0, ahead=12_000.0),)

    def test_shown(self) -> None:
        c = np.array([9500.0, 9999.999, 10_000.0, 10_250.0])
        np.testing.assert_allclose(shown(c, self.jump), [9500.0, 9999.999, 12_000.0, 12_250.0])

    def test_and_back(self) -> None:
        self.assertEqual(running(12_250.0, self.jump, 9000, 10_500), [10_250.0])
        with self.assertRaisesRegex(SaddleError, "no place"):
            running(11_000.0, self.jump, 9000, 10_500)

    def test_a_chainage_called_twice(self) -> None:
        self.assertEqual(running(950.0, (ChainageEquation(back=1000.0, ahead=900.0),), 0, 2000), [950.0, 1050.0])

    @given(st.floats(0, 3000), st.lists(st.floats(-400, 400), max_size=3))
    def test_running_to_shown_to_running(self, c: float, jumps: list[float]) -> None:
        called, equations = 500.0, []
        for jump in jumps:
            called += 450
            equations.append(ChainageEquation(back=called, ahead=called + jump))
            called += jump
        backs = [e.back for e in equations]
        assume(backs == sorted(backs))
        back = running(float(shown(np.array([c]), equations)[0]), equations, 0, 3000)
        self.assertTrue(any(abs(b - c) < 1e-6 for b in back))

    def test_out_of_order_they_are_refused(self) -> None:
        with self.assertRaisesRegex(ValueError, "road order"):
            WINDING.changed(equations=[{"back": 500, "ahead": 600}, {"back": 300, "ahead": 310}])
