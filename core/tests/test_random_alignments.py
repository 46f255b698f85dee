"""Any alignment: what must hold for every chain of straights, arcs and clothoids."""

import math
from typing import Any
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from saddle.alignment.alignment import Alignment, build
from saddle.alignment.ips import from_ips, to_ips
from saddle.alignment.parts import part_of, reversed_spec
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element, Straight
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.landxml_write import write_landxml
from tests.depth import many
from tests.test_survey_files import EMPTY

RADII = st.floats(60, 900).flatmap(lambda r: st.sampled_from([r, -r]))


@st.composite
def curves(draw: Any) -> list[Element]:
    """An arc, with or without transitions at either end, that turns less than a third of a circle."""
    radius = draw(RADII)
    limit = abs(radius) * 2 * math.pi / 3
    into, out = (draw(st.one_of(st.just(0.0), st.floats(10, 60))) for _ in range(2))
    length = draw(st.floats(15, 200))
    assume(length + (into + out) / 2 < limit)
    elements: list[Element] = [Clothoid(length=into, radius_end=radius)] if into else []
    elements.append(Arc(length=length, radius=radius))
    return [*elements, *([Clothoid(length=out, radius_start=radius)] if out else [])]


@st.composite
def alignments(draw: Any) -> AlignmentSpec:
    """Straights with curves between them, anywhere in the plane."""
    elements: list[Element] = [Straight(length=draw(st.floats(20, 200)))]
    for _ in range(draw(st.integers(1, 3))):
        elements += draw(curves())
        elements.append(Straight(length=draw(st.floats(20, 200))))
    return AlignmentSpec(
        start_east=draw(st.floats(-1e6, 1e6)),
        start_north=draw(st.floats(-1e6, 1e6)),
        start_bearing_deg=draw(st.floats(0, 360)),
        start_chainage=draw(st.floats(0, 5000)),
        elements=elements,
    )


def bearings_at_joints(line: Alignment) -> np.ndarray:
    """Difference of bearing across every inner tangent point, rad."""
    keys = line.key_chainages()[1:-1]
    before, after = line.frames(keys - 1e-8), line.frames(keys)
    return np.asarray((after.bearing - before.bearing + np.pi) % (2 * np.pi) - np.pi)


class Chains(TestCase):
    @given(alignments())
    def test_no_corner_and_no_gap(self, spec: AlignmentSpec) -> None:
        line = build(spec)
        np.testing.assert_allclose(bearings_at_joints(line), 0, atol=1e-6)
        keys = line.key_chainages()[1:-1]
        np.testing.assert_allclose(line.frames(keys - 1e-9).origin, line.frames(keys).origin, atol=1e-6)

    @settings(max_examples=many(15))
    @given(alignments())
    def test_walked_by_another_integrator(self, spec: AlignmentSpec) -> None:
        line = build(spec)

        def step(s: float, _: np.ndarray) -> list[float]:
            bearing = line.frames(np.array([min(s, line.end)])).bearing[0]
            return [math.sin(bearing), math.cos(bearing)]

        place = np.array([spec.start_east, spec.start_north])
        for start, end in zip(line.key_chainages()[:-1], line.key_chainages()[1:], strict=True):
            walked = solve_ivp(step, (start, end - 1e-9), [0, 0], rtol=1e-9, atol=1e-9)
            place = place + walked.y[:, -1]
        np.testing.assert_allclose(place, line.frames(np.array([line.end])).origin[0], atol=1e-4)

    @given(alignments(), st.floats(0, 1), st.floats(-45, 45))
    def test_chainage_to_point_to_chainage(self, spec: AlignmentSpec, share: float, offset: float) -> None:
        line = build(spec)
        c = line.start + share * (line.end - line.start)
        place = line.frames(np.array([c])).plan(np.array([0]), np.array([offset]))
        found, back = line.locate(place)
        # Another part of a winding line may lie nearer; then the answer is that one, and no further away.
        self.assertLessEqual(abs(back[0]), abs(offset) + 1e-6)
        if abs(back[0]) > abs(offset) - 1e-6:
            again = line.frames(found).plan(np.array([0]), back)
            np.testing.assert_allclose(again, place, atol=1e-5)

    @given(alignments(), st.floats(0, 1), st.floats(-40, 40))
    def test_reversed_it_gives_the_same_places(self, spec: AlignmentSpec, share: float, offset: float) -> None:
        line, back = build(spec), build(reversed_spec(spec))
        s = share * (line.end - line.start)
        here = line.frames(np.array([line.start + s])).plan(np.array([0]), np.array([offset]))
        there = back.frames(np.array([back.end - s])).plan(np.array([0]), np.array([-offset]))
        np.testing.assert_allclose(here, there, atol=1e-5)

    @given(alignments(), st.floats(0.01, 0.99))
    def test_splitting_changes_nothing(self, spec: AlignmentSpec, share: float) -> None:
        line = build(spec)
        at = line.start + share * (line.end - line.start)
        first, second = (build(part_of(spec, a, b, "Part")) for a, b in ((line.start, at), (at, line.end)))
        c = np.linspace(line.start, line.end, 41)
        for part in (first, second):
            inside = c[(c >= part.start) & (c <= part.end)]
            np.testing.assert_allclose(part.frames(inside).origin, line.frames(inside).origin, atol=1e-5)
        self.assertAlmostEqual(first.end, second.start, 6)

    @given(alignments())
    def test_turned_and_moved_it_is_the_same_line(self, spec: AlignmentSpec) -> None:
        line = build(spec)
        other = build(spec.changed(start_east=0.0, start_north=0.0, start_bearing_deg=0.0))
        c = np.linspace(line.start, line.end, 25)
        a = math.radians(spec.start_bearing_deg)
        turn = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
        np.testing.assert_allclose(
            other.frames(c).origin @ turn + [spec.start_east, spec.start_north], line.frames(c).origin, atol=1e-5
        )

    @settings(max_examples=many(25))
    @given(alignments())
    def test_length_is_that_of_a_fine_polyline(self, spec: AlignmentSpec) -> None:
        line = build(spec)
        fine = shapely.LineString(
            line.frames(np.linspace(line.start, line.end, 4000)).origin - [spec.start_east, spec.start_north]
        )
        self.assertAlmostEqual(fine.length, line.end - line.start, delta=1e-3)


class OtherForms(TestCase):
    @given(alignments())
    def test_to_intersection_points_and_back(self, spec: AlignmentSpec) -> None:
        points = to_ips(spec)
        assert points is not None
        self.assertEqual(len(points), 2 + sum(isinstance(e, Arc) for e in spec.elements))
        again = from_ips(spec, points)
        self.assertEqual([e.kind for e in again.elements], [e.kind for e in spec.elements])
        np.testing.assert_allclose([e.length for e in again.elements], [e.length for e in spec.elements], atol=1e-4)

    @settings(max_examples=many(25))
    @given(alignments())
    def test_through_landxml_and_back(self, spec: AlignmentSpec) -> None:
        named = spec.changed(name="Main")
        found = read_landxml(write_landxml(EMPTY, {}, [named], {}, "2026-01-01"))
        self.assertEqual(found.skipped, [])
        line, again = build(named), build(found.alignments[0].spec)
        c = np.linspace(line.start, min(line.end, again.end), 50)
        np.testing.assert_allclose(again.frames(c).origin, line.frames(c).origin, atol=2e-3)

    @given(alignments())
    def test_moving_one_ip_moves_only_its_neighbours(self, spec: AlignmentSpec) -> None:
        points = to_ips(spec)
        assert points is not None and len(points) >= 3
        moved = [*points[:-1], points[-1].changed(east=points[-1].east + 0.5)]
        again = to_ips(from_ips(spec, moved))
        assert again is not None
        for a, b in zip(points[:-1], again[:-1], strict=True):
            self.assertAlmostEqual(a.east, b.east, delta=1e-3)
            self.assertAlmostEqual(a.radius, b.radius, delta=1e-3)
