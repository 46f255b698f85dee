"""Templates: ties, chains, courses and kerbs, against hand calculation and shapely."""

from unittest import TestCase

import numpy as np
from pydantic import ValidationError

from saddle.errors import TemplateError
from saddle.template import starter
from saddle.template.compiled import compile_template
from saddle.template.layers import overlay_limit
from saddle.template.parts import KerbProfile
from saddle.template.solve import plain, solve_points
from saddle.template.spec import Strip, TemplateSpec
from saddle.template.ties import Fall, Point, Rise, SameAs, Width
from tests.templates import PARTS, compiled, half_with


class Ties(TestCase):
    def test_edge_drop_of_normal_crossfall(self) -> None:
        # Half width times crossfall (checks 6.1): 3.65 m at 2.5 % drops 91.25 mm, 3.5 m 87.5, at 3 % 105, 3.6 m at 2 % 72.
        for width, fall, drop in ((3.65, 2.5, 91.25), (3.5, 2.5, 87.5), (3.5, 3.0, 105.0), (3.6, 2.0, 72.0)):
            u, z = solve_points(compiled(starter.rural("R", width)), plain(np.array([-fall])))
            self.assertAlmostEqual(u[0, 1], width)
            self.assertAlmostEqual(1000 * z[0, 1], -drop, 9)

    def test_usual_rural_section(self) -> None:
        # Lane 3.0 m at -3 %, shoulder 1.0 m at -5 %: common practice, no source. By hand: -0.090 and -0.140.
        u, z = solve_points(compiled(starter.rural("R", 3.0)), plain(np.array([-3.0, 4.0])))
        np.testing.assert_allclose(u[0], [0, 3, 4])
        np.testing.assert_allclose(z[0], [0, -0.09, -0.14], atol=1e-12)
        np.testing.assert_allclose(z[1], [0, 0.12, 0.07], atol=1e-12)  # the lane turns, the shoulder keeps its own fall

    def test_kerb_brings_its_points(self) -> None:
        half = compiled(starter.kerbed("K", 3.0))
        u, z = solve_points(half, plain(np.array([-2.5])))
        at = dict(zip(half.names, zip(u[0], z[0], strict=True), strict=True))
        np.testing.assert_allclose(at["Kerb.back"], (3.25, -0.075 + 0.095))
        np.testing.assert_allclose(at["PathBack"], (4.75, -0.075 + 0.095 + 0.03))

    def test_same_offset_and_rise(self) -> None:
        lane = Point(name="A", offset=Width(parent="hinge", width=3), level=Fall(parent="hinge", crossfall_pct=-2))
        wall = Point(name="B", offset=SameAs(parent="A"), level=Rise(parent="A", rise=0.5))
        u, z = solve_points(compiled(half_with(lane, wall)), plain(np.array([0.0])))
        np.testing.assert_allclose((u[0, 2], z[0, 2]), (3.0, 0.44))

    def test_points_may_stand_in_any_order(self) -> None:
        outer = Point(name="B", offset=Width(parent="A", width=1), level=Fall(parent="A", crossfall_pct=-5))
        inner = Point(name="A", offset=Width(parent="hinge", width=3), level=Fall(parent="hinge", crossfall_pct=None))
        lane = Strip(name="Lane", kind="lane", from_point="hinge", to_point="A", new="lane-new")
        u, _ = solve_points(compiled(half_with(outer, inner, strips=[lane])), plain(np.array([-2.0])))
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


class OverlayLimit(TestCase):
    HALF = compiled(starter.rural("R", 3.25))

    def limit(self, edge: float, saw_cut: float = 0.0, least: float = 0.3, overlay: bool = True) -> float:
        u, _ = solve_points(self.HALF, plain(np.array([-2.5])))
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
