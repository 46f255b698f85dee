"""Courses, kerbs, ends and beds: by hand, and on random templates and grounds against shapely."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.geometry.polylines import mirror
from saddle.template import starter
from saddle.template.compiled import CompiledTemplate, Parts, compile_template
from saddle.template.half import HalfSections
from saddle.template.parts import Batter, CarryOn, Course, DownTo, MakeUp, ToSlope
from saddle.template.polygons import area_of, rings
from saddle.template.slopes import NONE_LANDED
from tests.cases import random_ground
from tests.depth import many
from tests.random_templates import random_template
from tests.templates import areas, built, compiled, flat, imbalance

ONE = np.ones(1)


def rural_with(make_up: MakeUp, shoulder: MakeUp | None = None) -> CompiledTemplate:
    """Lane 3 m and shoulder 1 m, both level, fill slopes 1 in 2; the lane of one make-up."""
    parts = Parts(starter.MAKE_UPS | {"lane-new": make_up} | ({"shoulder": shoulder} if shoulder else {}), starter.KERBS)
    spec = starter.rural("R", 3.0)
    level = spec.right.points[1].changed(level={"kind": "fall", "parent": "LaneEdge", "crossfall_pct": 0.0})
    return compile_template(spec.changed(right=spec.right.changed(points=[spec.right.points[0], level])), parts)


def course(thickness: float, name: str = "Base", **more: object) -> Course:
    return Course.model_validate({"name": name, "material": "rock", "thickness_mm": thickness, **more})


class ByHand(TestCase):
    def test_full_depth_courses(self) -> None:
        # 3.25 m lane: 40, 60, 90 and 200 mm vertical thickness; areas are width times thickness.
        found = areas(built(compiled(starter.rural("R", 3.25)), -2.5 * ONE, ONE, flat(0.0)), "new")
        lane = [v[0] for (element, _), v in found.items() if element == "Lane"]
        np.testing.assert_allclose(lane, [0.13, 0.195, 0.2925, 0.65], atol=1e-12)

    def test_kerb(self) -> None:
        # Lip 0, invert -5 at 125, face +95 at 170, back +95 at 250, base -160 (mm): trapezia 19687.5 + 9225 + 20400 mm2.
        half = built(compiled(starter.kerbed("K", 3.0)), -2.5 * ONE, ONE, flat(0.0))
        np.testing.assert_allclose([*areas(half, "kerb").values()], [[0.0493125]], atol=1e-12)
        np.testing.assert_allclose([*areas(half, "bed").values()], [[0.025]], atol=1e-12)

    def test_regulating_course_fills_down_to_the_old_surface(self) -> None:
        # Old surface level at 0, design 100 mm above, flat: 40 mm surface course on 60 mm regulating course over 3 m.
        half = built(compiled(starter.rural("R", 3.0)), 0 * ONE, 0.1 * ONE, flat(0.0), limit=3.0 * ONE)
        np.testing.assert_allclose([v[0] for v in areas(half, "over_existing").values()], [0.12, 0.18], atol=1e-12)
        self.assertEqual(half.layers.short_mm[0], 0.0)

    def test_a_course_never_gets_negative_thickness(self) -> None:
        # Design only 25 mm above the old surface: the surface course ends on it and 15 mm are missing.
        half = built(compiled(starter.rural("R", 3.0)), 0 * ONE, 0.025 * ONE, flat(0.0), limit=3.0 * ONE)
        self.assertEqual([round(float(v[0]), 9) for v in areas(half, "over_existing").values()], [0.075])
        self.assertAlmostEqual(half.layers.short_mm[0], 15.0)

    def test_square_thickness_is_more_when_measured_upright(self) -> None:
        # At 1 in 4 a layer of 100 mm square to the surface is 100 * sqrt(1 + 1/16) upright.
        for measured, expected in (("vertical", 0.3), ("square", 0.3 * np.sqrt(1.0625))):
            template = rural_with(MakeUp(name="M", courses=[course(100)], measured=measured))  # type: ignore[arg-type]
            found = areas(built(template.right, -25.0 * ONE, ONE, flat(-2.0)), "new")
            self.assertAlmostEqual(float(found["Lane", "Base"][0]), expected, 12)

    def test_thickness_that_varies(self) -> None:
        # 100 mm at the hinge, 200 mm at the edge, over 3 m: mean 150 mm.
        template = rural_with(MakeUp(name="M", courses=[course(100, outer_thickness_mm=200)]))
        self.assertAlmostEqual(float(areas(built(template.right, 0 * ONE, ONE, flat(-2.0)))["Lane", "Base"][0]), 0.45, 12)


class Ends(TestCase):
    """A level lane of 3 m with one course of 300 mm beside a level shoulder of 1 m and 150 mm."""

    def found(self, end: object, shoulder: MakeUp | None = None) -> tuple[dict[tuple[str, str], float], HalfSections]:
        template = rural_with(MakeUp(name="M", courses=[course(300, outer=end)]), shoulder)
        half = built(template.right, 0 * ONE, ONE, flat(-2.0))
        return {key: float(v[0]) for key, v in areas(half).items()}, half

    def test_carried_on(self) -> None:
        # 0.4 m further, but the upper 150 mm there are the shoulder's: 0.9 + 0.4 * 0.15.
        found, _ = self.found(CarryOn(distance=0.4))
        self.assertAlmostEqual(found["Lane", "Base"], 0.96, 12)

    def test_battered(self) -> None:
        # Face 1 in 1 from the lane's edge: a triangle 300 by 300 mm, its upper 150 mm inside the shoulder are the shoulder's.
        # Left of it: 0.15 * 0.15 + 0.15 * 0.15 / 2 below the shoulder; the rest of the shoulder is flush.
        found, _ = self.found(Batter(one_in=1.0))
        self.assertAlmostEqual(found["Lane", "Base"], 0.9 + 0.15 * 0.15 + 0.15 * 0.15 / 2, 12)

    def test_out_to_the_slope(self) -> None:
        # Slope 1 in 2 from the shoulder's edge at 4 m: the bottom 300 mm down comes out at 4.6 m. Under the shoulder 150 mm,
        # beyond it the triangle 0.3 * 0.6 / 2.
        found, half = self.found(ToSlope())
        self.assertAlmostEqual(found["Lane", "Base"], 0.9 + 0.15 + 0.09, 12)
        self.assertFalse(half.layers.astray[0])

    def test_a_course_that_never_comes_out_says_so(self) -> None:
        template = rural_with(MakeUp(name="M", courses=[course(300, outer=ToSlope())]))
        half = built(template.right, 0 * ONE, ONE, flat(5.0))  # in cut the slope rises from the shoulder
        self.assertTrue(half.layers.astray[0])
        self.assertAlmostEqual(float(areas(half)["Lane", "Base"][0]), 0.9 + 0.15, 12)

    def test_shoulder_down_onto_what_is_carried_below(self) -> None:
        # Two courses of 200 mm, the lower one carried on under the shoulder: between the shoulder's 150 mm and its top at
        # 200 mm lie 50 mm, which are fill, or the shoulder's when that goes down onto it.
        make_up = MakeUp(name="M", courses=[course(200, "Top"), course(200, outer=CarryOn(distance=1.0))])
        for shoulder, expected in ((None, (0.15, 0.05)), (starter.MAKE_UPS["shoulder-onto"], (0.20, 0.0))):
            template = rural_with(make_up, shoulder)
            found = {k: float(v[0]) for k, v in areas(built(template.right, 0 * ONE, ONE, flat(-2.0))).items()}
            self.assertAlmostEqual(found["Shoulder", "Shoulder"], expected[0], 12)
            self.assertAlmostEqual(found.get(("", "Fill between courses"), 0.0), expected[1], 12)
            self.assertAlmostEqual(found["Lane", "Base"], 0.8, 12)

    def test_down_to_the_old_surface_with_a_least_thickness(self) -> None:
        # Old surface from 0.4 m below the hinge up to 0.1 m below the edge, course at least 150 mm: 0.4 m to 0.15 m where
        # they cross 2.5 m out, then 150 mm.
        make_up = MakeUp(name="M", courses=[course(150)], bottom=DownTo())
        ground = flat(0.0)
        ground.offsets[:] = [-30.0, 30.0]
        ground.levels[:] = [0.6 - 3.0, 0.6 + 3.0]  # rises 1 in 10 outward through 0.6 at the hinge, design at 1.0
        found = areas(built(rural_with(make_up).right, 0 * ONE, ONE, ground))
        self.assertAlmostEqual(float(found["Lane", "Base"][0]), 2.5 * (0.4 + 0.15) / 2 + 0.5 * 0.15, 12)

    def test_kerb_with_bed_and_backing(self) -> None:
        # Tall kerb on a level lane: bed 0.1 m thick from the lip to 100 mm behind the back; backing a triangle of 150 by 150.
        spec = starter.kerbed("K", 3.0)
        placed = [k.changed(profile="tall") for k in spec.right.kerbs]
        half = built(compiled(spec.changed(right=spec.right.changed(kerbs=placed))), 0 * ONE, ONE, flat(-2.0))
        self.assertAlmostEqual(float(areas(half, "bed")["Kerb", "Bed of Tall kerb"][0]), 0.25 * 0.1 + 0.15 * 0.15 / 2, 12)
        self.assertAlmostEqual(float(imbalance(half)[0]), 0.0, 12)

    def test_turned_kerb_shows_its_face_outward(self) -> None:
        half = compiled(starter.TEMPLATES["median"])
        h = built(half, 0 * ONE, ONE, flat(-2.0), dimensions={"half median": 1.0})
        at = {name: (h.u[0, i], h.z[0, i]) for i, name in enumerate(half.names)}
        np.testing.assert_allclose(at["MedianKerb.lip"], (1.25, 1.02 - 0.095), atol=1e-12)
        plain = areas(built(compiled(starter.kerbed("K", 3.0)), 0 * ONE, ONE, flat(0.0)), "kerb")
        turned = areas(h, "kerb")
        self.assertAlmostEqual(
            float(turned["MedianKerb", "Half-battered kerb and channel"][0]),
            float(plain["Kerb", "Half-battered kerb and channel"][0]),
            12,
        )


class AgainstShapely(TestCase):
    """Random templates on random grounds. Every example has five sections; 100 of them make 500."""

    @settings(max_examples=many(100))
    @given(st.integers(0, 10**6))
    def test_polygons_close_share_vertices_and_agree(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        spec, parts = random_template(rng)
        template = compile_template(spec, parts)
        ground = random_ground(rng, 5, width=40.0)
        pct, level = rng.uniform(-6, 6, 5), 50 + rng.uniform(-1.5, 1.5, 5)
        limit = np.where(rng.random(5) < 0.5, rng.uniform(0, 4, 5), 0.0)
        half = built(template.right, pct, level, ground, limit=limit)
        np.testing.assert_allclose(imbalance(half), 0, atol=1e-6)
        layers = half.layers.layers
        for i in range(5):
            shapes, corners = [], set()
            for layer, found in zip(layers, rings(layers, i, 1), strict=True):
                sums = 0.0
                for ring in found:
                    shape = shapely.Polygon(ring)
                    self.assertTrue(shape.is_valid, f"{layer.name} of {layer.element}: {shapely.is_valid_reason(shape)}")
                    self.assertAlmostEqual(shape.area, area_of(ring), 9)
                    shapes.append(shape)
                    corners |= set(ring)
                    sums += shape.area
                d = layer.top[i] - layer.bottom[i]
                width = np.diff(layer.offsets[i])
                self.assertAlmostEqual(sums, float(((d[1:] + d[:-1]) / 2 * width).sum()), 6)
            total = sum(s.area for s in shapes)
            union = shapely.union_all(shapes)
            self.assertAlmostEqual(union.area, total, 6)  # no overlap
            outline = np.column_stack([half.layers.offsets[i], half.layers.top[i]])
            under = np.column_stack([half.layers.offsets[i], half.layers.floor[i]])[::-1]
            hull = shapely.make_valid(shapely.Polygon(np.vstack([outline, under])))
            self.assertAlmostEqual(hull.area, union.area, 6)  # no gap
            for shape in shapes:  # a corner on the edge of a neighbour is a vertex of it
                ring = set(shape.exterior.coords)
                for corner in corners - ring:
                    self.assertGreater(shape.exterior.distance(shapely.Point(corner)), 1e-10)

    @given(st.integers(0, 10**6))
    def test_mirrored_template_gives_the_mirrored_section(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        spec, parts = random_template(rng)
        half = compile_template(spec, parts).right
        ground = random_ground(rng, 3, width=40.0)
        pct, level = rng.uniform(-6, 6, 3), 50 + rng.uniform(-1, 1, 3)
        right = built(half, pct, level, ground)
        left = built(half, pct, level, mirror(ground), side=-1)
        np.testing.assert_array_equal(left.slopes.rung, right.slopes.rung)
        np.testing.assert_allclose(left.layers.floor, right.layers.floor, atol=1e-9, equal_nan=True)
        for a, b in zip(rings(left.layers.layers, 0, -1), rings(right.layers.layers, 0, 1), strict=True):
            self.assertEqual([[(-o, z) for o, z in ring] for ring in a], b)


class Random(TestCase):
    def test_the_generator_reaches_what_it_should(self) -> None:
        """The random templates land, carry on, batter, fill and box: otherwise the checks above check little."""
        seen: set[str] = set()
        landed = 0
        for seed in range(120):
            rng = np.random.default_rng(seed)
            spec, parts = random_template(rng)
            half = built(
                compile_template(spec, parts).right,
                rng.uniform(-6, 6, 2),
                50 + rng.uniform(-1, 1, 2),
                random_ground(rng, 2, width=40.0),
            )
            seen |= {layer.construction for layer in half.layers.layers}
            seen |= {c.outer.kind for m in parts.make_ups.values() for c in m.courses}
            seen |= {m.bottom.kind for m in parts.make_ups.values()}
            landed += int((half.slopes.rung != NONE_LANDED).sum())
        self.assertLessEqual({"new", "kerb", "bed", "fill", "flush", "carry", "batter", "to_slope", "onto", "down_to"}, seen)
        self.assertGreater(landed, 150)

    def test_every_template_of_the_library_builds(self) -> None:
        for key, spec in starter.TEMPLATES.items():
            template = compile_template(spec, Parts(starter.MAKE_UPS, starter.KERBS))
            sizes = {d.name: d.value for d in spec.dimensions}
            for half in (template.left, template.right):
                for level in (-1.2, 2.5):
                    h = built(half, np.array([-2.5, 4.0]), np.zeros(2), flat(level, n=2), dimensions=sizes)
                    with self.subTest(key, level=level):
                        np.testing.assert_allclose(imbalance(h), 0, atol=1e-9)
                        self.assertTrue((h.slopes.rung != NONE_LANDED).all())
                        self.assertLess(max((float(f.max()) for f in h.layers.too_high), default=0.0), 1e-9)
