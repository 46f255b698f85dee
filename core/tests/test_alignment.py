"""Straights and arcs against route-surveying formulas and shapely."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from demo.road import ALIGNMENT
from saddle.alignment.alignment import Alignment, build, curve_elements
from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.chainage import format_chainage, parse_chainage
from saddle.errors import GeometryError, SaddleError


def spec(
    *elements: Straight | Arc, bearing: float = 0.0, east: float = 0.0, north: float = 0.0, start: float = 0.0
) -> AlignmentSpec:
    return AlignmentSpec(
        start_east=east, start_north=north, start_bearing_deg=bearing, start_chainage=start, elements=list(elements)
    )


class CircularCurve(TestCase):
    """Elements of a circular curve, any route-surveying textbook (checks 2.3): R = 300 m, deflection 40 degrees."""

    def test_elements(self) -> None:
        e = curve_elements(300.0, 40.0)
        for value, expected in zip(
            (e.tangent, e.arc, e.external, e.mid_ordinate, e.chord),
            (109.1911, 209.4395, 19.2533, 18.0922, 205.2121),
            strict=True,
        ):
            self.assertAlmostEqual(value, expected, delta=0.0005)

    def test_stationing_through_the_curve(self) -> None:
        e = curve_elements(300.0, 40.0)
        back = 2000.0 - e.tangent
        a = build(spec(Straight(length=back), Arc(length=e.arc, radius=300.0), Straight(length=50.0)))
        start, first, second, end = a.key_chainages()
        self.assertAlmostEqual(first, 1890.809, delta=0.0005)
        self.assertAlmostEqual(second, 2100.248, delta=0.0005)  # not PI + T = 2109.191
        at = a.frames(np.array([first, first + 20.0, second]))
        chord = at.origin[1] - at.origin[0]
        self.assertAlmostEqual(float(np.hypot(*chord)), 19.99630, delta=0.00001)
        self.assertAlmostEqual(float(np.degrees(np.arctan2(chord[0], chord[1]))), 1.909859, delta=0.000001)
        self.assertAlmostEqual(float(np.hypot(*(at.origin[2] - at.origin[0]))), e.chord, 6)
        self.assertAlmostEqual(float(np.degrees(at.bearing[2])), 40.0, 9)
        # The outgoing tangent goes through the PI at north 2000.
        self.assertAlmostEqual(float(at.origin[2, 1] - at.origin[2, 0] / np.tan(np.radians(40.0))), 2000.0, 6)
        self.assertEqual((start, end), (0.0, second + 50.0))


class StationAndOffset(TestCase):
    def test_line(self) -> None:
        # Segment (10, 20) to (40, 60), point (30, 30): station 20, offset 10 right (checks 12.9).
        bearing = float(np.degrees(np.arctan2(30.0, 40.0)))
        a = build(spec(Straight(length=50.0), bearing=bearing, east=10.0, north=20.0))
        chainage, offset = a.locate(np.array([[30.0, 30.0]]))
        self.assertAlmostEqual(chainage[0], 20.0, 9)
        self.assertAlmostEqual(offset[0], 10.0, 9)

    def test_arc(self) -> None:
        # Arc from (0, 300) clockwise about the origin; point (150, 250) (checks 12.9).
        a = build(spec(Arc(length=400.0, radius=300.0), bearing=90.0, north=300.0))
        chainage, offset = a.locate(np.array([[150.0, 250.0]]))
        self.assertAlmostEqual(chainage[0], 162.1259, delta=0.001)
        self.assertAlmostEqual(offset[0], 8.4524, delta=0.001)

    def test_agrees_with_shapely_along_the_demo_road(self) -> None:
        a = build(ALIGNMENT)
        c = np.arange(0, a.end, 0.25)
        line = shapely.LineString(a.frames(np.append(c, a.end)).origin)
        rng = np.random.default_rng(7)
        points = a.frames(rng.uniform(20, a.end - 20, 300)).plan(np.arange(300), rng.uniform(-30, 30, 300))
        chainage, offset = a.locate(points)
        np.testing.assert_allclose(chainage, line.project(shapely.points(points)), atol=0.02)
        np.testing.assert_allclose(np.abs(offset), line.distance(shapely.points(points)), atol=1e-3)

    @given(st.floats(0, 1610), st.floats(-60, 60))
    def test_there_and_back(self, c: float, o: float) -> None:
        a = build(ALIGNMENT)
        chainage, offset = a.locate(a.frames(np.array([c])).plan(np.array([0]), np.array([o])))
        self.assertAlmostEqual(chainage[0], c, 6)
        self.assertAlmostEqual(offset[0], o, 6)

    @given(st.floats(1, 1609), st.floats(-40, 40))
    def test_reversed_alignment_gives_the_same_place(self, c: float, o: float) -> None:
        a = build(ALIGNMENT)
        back = reversed_alignment(a)
        place = a.frames(np.array([c])).plan(np.array([0]), np.array([o]))
        again = back.frames(np.array([a.end - c])).plan(np.array([0]), np.array([-o]))
        np.testing.assert_allclose(place, again, atol=1e-6)

    def test_beyond_the_ends_there_is_no_chainage(self) -> None:
        a = build(spec(Straight(length=10.0)))
        self.assertTrue(np.isnan(a.locate(np.array([[0.0, -1.0], [0.0, 11.0]]))[0]).all())
        with self.assertRaisesRegex(GeometryError, "outside"):
            a.frames(np.array([11.0]))


def reversed_alignment(a: Alignment) -> Alignment:
    end = a.frames(np.array([a.end]))
    elements: list[Straight | Arc] = [
        Straight(length=length) if k == 0 else Arc(length=length, radius=-1 / k)
        for length, k in zip(a.length[::-1], a.curvature[::-1], strict=True)
    ]
    return build(spec(*elements, bearing=float(np.degrees(end.bearing[0])) + 180, east=end.origin[0, 0], north=end.origin[0, 1]))


class BadElements(TestCase):
    def test_more_than_a_turn(self) -> None:
        with self.assertRaisesRegex(GeometryError, "element 1 turns more than a full circle"):
            build(spec(Arc(length=100.0, radius=10.0)))


class Chainages(TestCase):
    def test_text(self) -> None:
        # km+m to the millimetre is common practice, no source.
        for value, text in ((1234.5, "1+234.500"), (0.0, "0+000.000"), (999.9996, "1+000.000"), (-12.0, "-0+012.000")):
            self.assertEqual(format_chainage(value), text)
        self.assertEqual(format_chainage(1234.5, 0), "1+234")

    @given(st.floats(-99_999, 999_999))
    def test_text_and_back(self, value: float) -> None:
        self.assertAlmostEqual(parse_chainage(format_chainage(value)), value, delta=0.00051)

    def test_what_is_no_chainage(self) -> None:
        for text in ("", "abc", "1+2", "1+2345", "1,5", "nan"):
            with self.assertRaises(SaddleError):
                parse_chainage(text)
