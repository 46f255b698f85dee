"""Surfaces: boundary, points left out, spikes, comparison of two against exact solids, and structures on sections."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Straight
from saddle.errors import GeometryError, ImportProblem
from saddle.pipeline import solve
from saddle.terrain.compare import compare
from saddle.terrain.spec import CodeList, CodeRule, FromSurvey, Pipe, PipeEnd, Pit, Structures, guess_rule
from saddle.terrain.spikes import heights_above_plane, spikes
from saddle.terrain.structures import crossed, from_survey
from saddle.terrain.survey import build_surface
from saddle.terrain.tin import Tin, plane_over, triangulate, within_boundary
from saddle.views.section import section_view
from tests.cases import demo_inputs, demo_surface, demo_survey
from tests.depth import many

NONE = np.empty((0, 2), dtype=int)


def grid(n: int, z: object, size: float = 20.0, seed: int = 0) -> Tin:
    """A surface over a square whose levels are z(x, y), its inner points shaken in plan."""
    rng = np.random.default_rng(seed)
    x, y = np.meshgrid(np.linspace(0, size, n), np.linspace(0, size, n))
    inner = (x > 0) & (x < size) & (y > 0) & (y < size)
    x, y = x + inner * rng.uniform(-0.3, 0.3, x.shape) * size / n, y + inner * rng.uniform(-0.3, 0.3, x.shape) * size / n
    return triangulate(np.column_stack([x.ravel(), y.ravel(), z(x, y).ravel()]), NONE)  # type: ignore[operator]


class Comparing(TestCase):
    def test_plane_against_a_level(self) -> None:
        # Volume under the plane 0.03 x - 0.02 y + 1 over a square of 20 m is side^2 z(centre) = 440 m3 (checks 12.3).
        found = compare(grid(6, lambda x, y: 0.03 * x - 0.02 * y + 1), plane_over(np.array([0.0, 0, 20, 20]), 0.0))
        self.assertAlmostEqual(found.cut, 440.0, 6)
        self.assertAlmostEqual(found.fill, 0.0, 9)
        self.assertAlmostEqual(found.area, 400.0, 6)
        self.assertAlmostEqual(found.deepest_cut, 1.6, 6)

    def test_planes_that_cross_by_hand(self) -> None:
        # z = 0.1 (x - 10) against 0: two prisms of 10 x 20 m with a triangle 1 m high, 100 m3 each.
        found = compare(plane_over(np.array([0.0, 0, 20, 20]), 0.0), grid(5, lambda x, _: 0.1 * (x - 10)))
        self.assertAlmostEqual(found.cut, 100.0, 6)
        self.assertAlmostEqual(found.fill, 100.0, 6)

    @settings(max_examples=many(10))
    @given(st.integers(0, 10_000))
    def test_random_surfaces_against_shapely_piece_by_piece(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        a, b = (grid(5, lambda x, _, r=rng: r.normal(0, 1, x.shape), seed=s) for s in (seed, seed + 1))
        found = compare(a, b)
        net = area = 0.0
        for i in a.triangles:
            for j in b.triangles:
                piece = shapely.Polygon(a.points[i, :2]).intersection(shapely.Polygon(b.points[j, :2]))
                if piece.area > 0:
                    c = np.array([piece.centroid.x, piece.centroid.y])
                    net += piece.area * (level_at(b.points[j], c) - level_at(a.points[i], c))
                    area += piece.area
        self.assertAlmostEqual(found.fill - found.cut, net, 6)
        self.assertAlmostEqual(found.area, area, 6)
        back = compare(b, a)
        self.assertAlmostEqual(back.cut, found.fill, 8)

    @settings(max_examples=many(10))
    @given(st.floats(-1e5, 1e5), st.floats(-50, 50))
    def test_translation_changes_nothing(self, far: float, up: float) -> None:
        a, b = grid(5, lambda x, y: np.sin(x) + y / 9), grid(6, lambda x, y: np.cos(y), seed=3)
        here = compare(a, b)
        there = compare(*(Tin(t.points + [far, -far, up], t.triangles) for t in (a, b)))
        self.assertAlmostEqual(here.cut, there.cut, 5)
        self.assertAlmostEqual(here.fill, there.fill, 5)

    def test_only_where_both_lie(self) -> None:
        found = compare(plane_over(np.array([0.0, 0, 10, 10]), 0.0), plane_over(np.array([5.0, 0, 15, 10]), 2.0))
        self.assertAlmostEqual(found.fill, 100.0, 6)
        self.assertAlmostEqual(found.only_first, 50.0, 6)
        self.assertAlmostEqual(found.only_second, 50.0, 6)
        self.assertEqual(compare(plane_over(np.array([0.0, 0, 1, 1]), 0.0), plane_over(np.array([5.0, 5, 6, 6]), 0.0)).area, 0.0)


def level_at(corners: np.ndarray, at: np.ndarray) -> float:
    a, b, c = np.linalg.solve(np.column_stack([corners[:, :2], np.ones(3)]), corners[:, 2])
    return float(a * at[0] + b * at[1] + c)


class Spikes(TestCase):
    def test_a_point_far_from_its_neighbours_is_found(self) -> None:
        tin = grid(8, lambda x, y: 0.05 * x + 0.01 * y)
        points = tin.points.copy()
        points[27, 2] += 1.5
        found = spikes(Tin(points, tin.triangles))
        self.assertEqual(found[0].vertex, 27)
        self.assertAlmostEqual(found[0].above, 1.5, delta=0.02)

    def test_a_plane_has_none(self) -> None:
        tin = grid(8, lambda x, y: 0.3 * x - 0.2 * y)
        self.assertLess(np.nanmax(np.abs(heights_above_plane(tin, np.arange(len(tin.points))))), 0.02)
        self.assertEqual(spikes(tin), [])
        self.assertEqual(spikes(plane_over(np.array([0.0, 0, 1, 1]), 3.0)), [])

    def test_the_demo_ground_is_clean_but_for_kerbs_and_ditches(self) -> None:
        found = spikes(demo_surface().surface, demo_surface().breaks)
        self.assertLess(len(found), 40)
        self.assertTrue(all(abs(s.above) < 0.6 for s in found))

    def test_a_ditch_is_no_spike_but_a_kink_in_its_line_is(self) -> None:
        x = np.arange(0, 50.0, 5)
        rows = [np.column_stack([x, np.full(10, y), np.full(10, z)]) for y, z in ((-4.0, 0.0), (0.0, -0.8), (4.0, 0.0))]
        points = np.vstack(rows)
        breaks = np.column_stack([np.arange(10, 19), np.arange(11, 20)])
        self.assertEqual(spikes(triangulate(points.copy(), breaks), breaks), [])
        points[14, 2] += 0.9
        self.assertEqual([s.vertex for s in spikes(triangulate(points, breaks), breaks)][:1], [14])


class Shaping(TestCase):
    def test_points_left_out(self) -> None:
        number = str(demo_survey().number[100])
        without = build_surface(demo_survey(), CodeList(), FromSurvey(left_out=[number])).surface
        self.assertEqual(len(without.points), len(demo_surface().surface.points) - 1)
        place = demo_survey().xyz[100]
        self.assertFalse((np.abs(without.points - place) < 1e-9).all(axis=1).any())

    def test_only_some_codes(self) -> None:
        pavement = build_surface(demo_survey(), CodeList(), FromSurvey(codes=["CL", "EP", "LIP", "WP8", "WP16", "WP24"])).surface
        self.assertLess(len(pavement.points), 2500)

    def test_boundary_line_closes_the_surface(self) -> None:
        inside = build_surface(demo_survey(), CodeList(), FromSurvey(boundary="BDY")).surface
        # The boundary lies about 13 m on either side of 1,610 m of road, less a pinch.
        area = compare(inside, inside).area
        self.assertAlmostEqual(area, 26 * 1610, delta=0.05 * 26 * 1610)
        with self.assertRaisesRegex(ImportProblem, "no line of code XX"):
            build_surface(demo_survey(), CodeList(), FromSurvey(boundary="XX"))

    def test_a_boundary_without_anything_in_it(self) -> None:
        with self.assertRaisesRegex(GeometryError, "no triangle"):
            within_boundary(plane_over(np.array([0.0, 0, 1, 1]), 0), np.array([[5.0, 5], [6, 5], [6, 6]]))

    def test_code_list(self) -> None:
        self.assertEqual(
            [guess_rule(c).meaning for c in ("CL", "EP2", "LIP", "KT", "PIT7", "CUL", "BDY", "GR", "?")],
            ["crown", "edge", "lip", "back", "pit", "pipe", "boundary", "ground", "other"],
        )
        self.assertFalse(CodeList(rules=[CodeRule(code="EP", in_surface=False)]).rule("EP").in_surface)
        with self.assertRaisesRegex(ValueError, "two rules"):
            CodeList(rules=[CodeRule(code="EP"), CodeRule(code="EP")])


class OnSections(TestCase):
    LINE = build(AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=100)]))
    PIPE = Pipe(name="C1", points=[PipeEnd(east=-5, north=40, level=10), PipeEnd(east=5, north=60, level=9)], diameter_mm=450)

    def test_a_skewed_pipe_by_hand(self) -> None:
        frames = self.LINE.frames(np.array([30.0, 45.0, 50.0]))
        found = crossed(Structures(pipes=[self.PIPE]), frames, (-25.0, 25.0))
        self.assertEqual([(c.row, c.offset, c.bottom) for c in found], [(1, -2.5, 9.75), (2, 0.0, 9.5)])

    def test_a_pit_is_shown_on_the_nearest_section_only(self) -> None:
        pit = Pit(name="P1", east=3, north=47, cover=10.5, invert=8.9)
        found = crossed(Structures(pits=[pit]), self.LINE.frames(np.array([40.0, 45.0, 50.0])), (-25.0, 25.0))
        self.assertEqual([(c.row, c.offset, c.top, c.bottom) for c in found], [(1, 3.0, 10.5, 8.9)])
        self.assertEqual(crossed(Structures(pits=[pit]), self.LINE.frames(np.array([10.0])), (-25.0, 25.0)), ())

    def test_out_of_the_demo_survey_and_into_its_sections(self) -> None:
        structures = from_survey(demo_survey(), CodeList())
        self.assertEqual((len(structures.pits), len(structures.pipes)), (5, 1))
        model = solve(replace(demo_inputs(), structures=structures))
        rows = [i for i in range(len(model.chainage)) if section_view(model, i).structures]
        told = {round(float(model.chainage[i])) for i in rows}
        self.assertIn(872, told)  # the culvert crosses askew at 872
        self.assertIn(140, told)  # a pit
        culvert = next(s for s in section_view(model, int(np.flatnonzero(np.isclose(model.chainage, 872.0))[0])).structures)
        self.assertEqual(culvert.kind, "pipe")
