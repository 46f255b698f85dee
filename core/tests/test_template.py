"""Templates: ties, chains, courses and kerbs, against hand calculation and shapely."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from saddle.errors import TemplateError
from saddle.geometry.areas import between
from saddle.geometry.polylines import Floats, Polylines, pack
from saddle.template import starter
from saddle.template.compiled import CompiledHalf, Parts, compile_template, solve_points
from saddle.template.layers import Zone, build_zones, overlay_limit
from saddle.template.spec import Fall, Half, KerbProfile, Point, Rise, SameAs, Strip, TemplateSpec, Width
from tests.cases import random_ground

PARTS = Parts(dict(starter.MAKE_UPS), dict(starter.KERBS))


def compiled(spec: TemplateSpec) -> CompiledHalf:
    return compile_template(spec, PARTS).right


def half_with(*points: Point, strips: list[Strip] | None = None) -> TemplateSpec:
    strips = strips or [Strip(name="Lane", kind="lane", from_point="hinge", to_point=points[0].name, new="lane-new")]
    return TemplateSpec(name="Test", right=Half(points=list(points), strips=strips))


def zones_of(half: CompiledHalf, pct: float, hinge: float, limit: Floats, ground: Polylines) -> list[Zone]:
    n = len(limit)
    u, z = solve_points(half, np.full(n, pct))
    return build_zones(half, u, z + hinge, limit, ground)


class Ties(TestCase):
    def test_edge_drop_of_normal_crossfall(self) -> None:
        # Half width times crossfall (checks 6.1): 3.65 m at 2.5 % drops 91.25 mm, 3.5 m 87.5, at 3 % 105, 3.6 m at 2 % 72.
        for width, fall, drop in ((3.65, 2.5, 91.25), (3.5, 2.5, 87.5), (3.5, 3.0, 105.0), (3.6, 2.0, 72.0)):
            u, z = solve_points(compiled(starter.rural("R", width)), np.array([-fall]))
            self.assertAlmostEqual(u[0, 1], width)
            self.assertAlmostEqual(1000 * z[0, 1], -drop, 9)

    def test_usual_rural_section(self) -> None:
        # Lane 3.0 m at -3 %, shoulder 1.0 m at -5 %: common practice, no source. By hand: -0.090 and -0.140.
        u, z = solve_points(compiled(starter.rural("R", 3.0)), np.array([-3.0, 4.0]))
        np.testing.assert_allclose(u[0], [0, 3, 4])
        np.testing.assert_allclose(z[0], [0, -0.09, -0.14], atol=1e-12)
        np.testing.assert_allclose(z[1], [0, 0.12, 0.07], atol=1e-12)  # the lane turns, the shoulder keeps its own fall

    def test_kerb_brings_its_points(self) -> None:
        half = compiled(starter.kerbed("K", 3.0))
        u, z = solve_points(half, np.array([-2.5]))
        at = dict(zip(half.names, zip(u[0], z[0], strict=True), strict=True))
        np.testing.assert_allclose(at["Kerb.back"], (3.25, -0.075 + 0.095))
        np.testing.assert_allclose(at["PathBack"], (4.75, -0.075 + 0.095 + 0.03))

    def test_same_offset_and_rise(self) -> None:
        lane = Point(name="A", offset=Width(parent="hinge", width=3), level=Fall(parent="hinge", crossfall_pct=-2))
        wall = Point(name="B", offset=SameAs(parent="A"), level=Rise(parent="A", rise=0.5))
        u, z = solve_points(compiled(half_with(lane, wall)), np.array([0.0]))
        np.testing.assert_allclose((u[0, 2], z[0, 2]), (3.0, 0.44))

    def test_points_may_stand_in_any_order(self) -> None:
        outer = Point(name="B", offset=Width(parent="A", width=1), level=Fall(parent="A", crossfall_pct=-5))
        inner = Point(name="A", offset=Width(parent="hinge", width=3), level=Fall(parent="hinge", crossfall_pct=None))
        lane = Strip(name="Lane", kind="lane", from_point="hinge", to_point="A", new="lane-new")
        u, _ = solve_points(compiled(half_with(outer, inner, strips=[lane])), np.array([-2.0]))
        self.assertEqual(sorted(u[0]), [0, 3, 4])


class BrokenTemplates(TestCase):
    A = Point(name="A", offset=Width(parent="B", width=1), level=Rise(parent="B", rise=0))
    B = Point(name="B", offset=Width(parent="A", width=1), level=Rise(parent="A", rise=0))
    C = Point(name="C", offset=Width(parent="hinge", width=3), level=Rise(parent="hinge", rise=0))

    def refused(self, spec: TemplateSpec, *words: str) -> None:
        with self.assertRaises(TemplateError) as caught:
            compile_template(spec, PARTS)
        for word in words:
            self.assertIn(word, f"{caught.exception.message} {caught.exception.hint}")
        self.assertIn("Test", caught.exception.subject)

    def test_a_circle_names_its_points(self) -> None:
        self.refused(half_with(self.A, self.B), "circle", "A", "B")

    def test_unknown_parent_doubled_name_and_missing_parts(self) -> None:
        lost = Point(name="D", offset=Width(parent="Nowhere", width=1), level=Rise(parent="hinge", rise=0))
        self.refused(half_with(self.C, lost), "D", "Nowhere")
        self.refused(half_with(self.C, self.C), "two points", "C")
        strip = Strip(name="Lane", kind="lane", from_point="hinge", to_point="C", new="gone")
        self.refused(half_with(self.C, strips=[strip]), "make-up", "gone")

    def test_chains_that_break(self) -> None:
        lane = Strip(name="Lane", kind="lane", from_point="hinge", to_point="C", new="lane-new")
        self.refused(half_with(self.C, strips=[lane, lane.changed(name="Again")]), "both start at hinge")
        self.refused(half_with(self.C, strips=[lane.changed(from_point="C", to_point="C")]), "cannot be reached")
        self.refused(half_with(self.C, strips=[lane.changed(to_point="Z")]), "Z", "does not exist")

    def test_kerb_profiles_are_checked_at_the_door(self) -> None:
        good = starter.KERBS["half-battered"].model_dump()
        for change in ({"base_mm": 3}, {"bed_material": None}, {"top": good["top"][::-1]}, {"top": good["top"][1:]}):
            with self.assertRaises(ValidationError):
                KerbProfile.model_validate({**good, **change})


class Courses(TestCase):
    def test_full_depth_courses_by_hand(self) -> None:
        # 3.25 m lane: 40, 60, 90 and 200 mm vertical thickness; areas are width times thickness.
        ground = pack([(np.array([-20.0, 20.0]), np.array([0.0, 0.0]))])
        lane = zones_of(compiled(starter.rural("R", 3.25)), -2.5, 1.0, np.zeros(1), ground)
        new = next(zone for zone in lane if zone.construction == "new" and zone.layers[0].element == "Lane")
        areas = [float(between(x.offsets, x.top, x.bottom).area[0]) for x in new.layers]
        np.testing.assert_allclose(areas, [0.13, 0.195, 0.2925, 0.65], atol=1e-12)

    def test_kerb_area_by_hand(self) -> None:
        # Lip 0, invert -5 at 125, face +95 at 170, back +95 at 250, base -160 (mm): trapezia 19687.5 + 9225 + 20400 mm2.
        ground = pack([(np.array([-20.0, 20.0]), np.array([0.0, 0.0]))])
        zones = zones_of(compiled(starter.kerbed("K", 3.0)), -2.5, 1.0, np.zeros(1), ground)
        kerb = next(zone for zone in zones if zone.construction == "kerb")
        areas = [float(between(x.offsets, x.top, x.bottom).area[0]) for x in kerb.layers]
        np.testing.assert_allclose(areas, [0.0493125, 0.025], atol=1e-12)

    def test_regulating_course_fills_down_to_the_old_surface(self) -> None:
        # Old surface level at 0, design 100 mm above, flat: 40 mm surface course on 60 mm regulating course over 3 m.
        ground = pack([(np.array([-20.0, 20.0]), np.array([0.0, 0.0]))])
        zones = zones_of(compiled(starter.rural("R", 3.0)), 0.0, 0.1, np.full(1, 3.0), ground)
        areas = [float(between(x.offsets, x.top, x.bottom).area[0]) for x in zones[0].layers]
        np.testing.assert_allclose(areas, [0.12, 0.18], atol=1e-12)
        self.assertEqual(zones[0].short_mm[0], 0.0)

    def test_a_course_never_gets_negative_thickness(self) -> None:
        # Design only 25 mm above the old surface: the surface course ends on it and 15 mm are missing.
        ground = pack([(np.array([-20.0, 20.0]), np.array([0.0, 0.0]))])
        zones = zones_of(compiled(starter.rural("R", 3.0)), 0.0, 0.025, np.full(1, 3.0), ground)
        surface, regulating = zones[0].layers
        self.assertAlmostEqual(float(between(surface.offsets, surface.top, surface.bottom).area[0]), 0.075)
        self.assertEqual(float(between(regulating.offsets, regulating.top, regulating.bottom).area[0]), 0.0)
        self.assertAlmostEqual(zones[0].short_mm[0], 15.0)

    @given(st.integers(0, 5000), st.sampled_from(["rural", "village"]))
    def test_layers_close_and_agree_with_shapely(self, seed: int, key: str) -> None:
        rng = np.random.default_rng(seed)
        half = compiled(starter.TEMPLATES[key])
        ground = random_ground(rng, 4)
        limit = rng.uniform(0, 3.2, 4)
        zones = zones_of(half, float(rng.uniform(-4, 4)), 50.3, limit, ground)
        for i in range(4):
            whole = total = 0.0
            shapes: list[shapely.Polygon] = []
            for zone in zones:
                one = slice(i, i + 1)
                whole += float(between(zone.offsets[one], zone.top[one], zone.floor[one]).area[0])
                for layer in zone.layers:
                    area = float(between(layer.offsets[one], layer.top[one], layer.bottom[one]).area[0])
                    self.assertGreaterEqual(area, 0.0)
                    total += area
                    ring = [*zip(layer.offsets[i], layer.top[i], strict=True)]
                    ring += [*zip(layer.offsets[i][::-1], layer.bottom[i][::-1], strict=True)]
                    shape = shapely.Polygon(ring).buffer(0)
                    self.assertAlmostEqual(shape.area, area, 7)
                    shapes.append(shape)
            self.assertAlmostEqual(whole, total, 9)
            self.assertAlmostEqual(shapely.union_all(shapes).area, total, 6)  # no overlap


class OverlayLimit(TestCase):
    HALF = compiled(starter.rural("R", 3.25))

    def limit(self, edge: float, saw_cut: float = 0.0, least: float = 0.3, overlay: bool = True) -> float:
        u, _ = solve_points(self.HALF, np.array([-2.5]))
        args = (np.array([edge]), np.array([saw_cut]), np.array([least]), np.array([overlay]))
        return float(overlay_limit(self.HALF, u, *args)[0])

    def test_where_old_pavement_ends(self) -> None:
        self.assertEqual(self.limit(4.0), 3.25)  # the old pavement is wider than the lane
        self.assertEqual(self.limit(2.5), 2.5)
        self.assertEqual(self.limit(2.5, saw_cut=0.2), 2.3)
        self.assertAlmostEqual(self.limit(3.1), 2.95)  # 0.15 m cannot be built: the split moves inward to 0.3 m
        self.assertEqual(self.limit(3.24), 3.25)  # the same edge, measured 10 mm apart
        self.assertEqual(self.limit(-1.0), 0.0)  # an edge on the other side of the hinge
        self.assertEqual(self.limit(2.5, overlay=False), 0.0)
        self.assertTrue(np.isnan(self.limit(np.nan)))
