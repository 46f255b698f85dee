"""Every kind of tie, by hand and against shapely; values by dimension; what turns with what."""

from typing import Any
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from saddle.errors import TemplateError
from saddle.geometry.polylines import Polylines, pack
from saddle.guides.evaluate import GuideLine
from saddle.guides.spec import NearestLine, OnGuide
from saddle.template.bench import Trial, try_out
from saddle.template.compiled import compile_template, try_compile
from saddle.template.solve import Around, plain, solve_points
from saddle.template.spec import TemplateSpec
from saddle.template.ties import Point
from saddle.template.values import Dimension
from tests.templates import PARTS, compiled, half_with

KERB = OnGuide(guide="kerb-line")


def point(name: str, offset: dict[str, Any], level: dict[str, Any] | None) -> Point:
    return Point.model_validate({"name": name, "offset": offset, "level": level})


LANE = point("A", {"kind": "width", "parent": "hinge", "width": 3.0}, {"kind": "fall", "parent": "hinge", "crossfall_pct": None})


def place(spec: TemplateSpec, name: str, around: Around) -> tuple[np.ndarray, np.ndarray]:
    half = compiled(spec)
    u, z = solve_points(half, around)
    return u[:, half.column(name)], z[:, half.column(name)]


def around(**more: Any) -> Around:
    """Two sections: at -2.5 % and +4 %, the hinge at offset 0.5 and level 100."""
    return Around(np.array([-2.5, 4.0]), np.full(2, 0.5), np.full(2, 100.0), **more)


class Offsets(TestCase):
    def test_a_guide_where_there_is_one_else_a_width(self) -> None:
        follows = point(
            "B",
            {"kind": "follow", "source": KERB.model_dump(), "parent": "A", "width": 1.0},
            {"kind": "rise", "parent": "A", "rise": 0},
        )
        found = GuideLine(np.array([6.25, np.nan]), np.full(2, np.nan))
        u, _ = place(half_with(LANE, follows), "B", around(lines={KERB: found}))
        np.testing.assert_allclose(u, [6.25, 4.5])
        u, _ = place(half_with(LANE, follows), "B", around())
        np.testing.assert_allclose(u, [4.5, 4.5])

    def test_square_to_a_line_through_two_points(self) -> None:
        # 3-4-5: a line 4 m out and 3 m up; 2.5 m along it is (2, 1.5), 1 m square to it (-0.6, 0.8) further.
        top = point("Top", {"kind": "width", "parent": "hinge", "width": 4}, {"kind": "rise", "parent": "hinge", "rise": 3})
        foot = point("Foot", {"kind": "square", "parent": "hinge", "through": "Top", "along": 2.5, "out": 1.0}, None)
        u, z = place(half_with(top, foot), "Foot", plain(np.zeros(1)))
        np.testing.assert_allclose((u[0], z[0]), (1.4, 2.3), atol=1e-12)

    @given(st.floats(0.2, 6), st.floats(-2, 2), st.floats(0, 5), st.floats(-1, 1))
    def test_square_against_shapely(self, width: float, rise: float, along: float, out: float) -> None:
        top = point(
            "Top", {"kind": "width", "parent": "hinge", "width": width}, {"kind": "rise", "parent": "hinge", "rise": rise}
        )
        foot = point("Foot", {"kind": "square", "parent": "hinge", "through": "Top", "along": along, "out": out}, None)
        u, z = place(half_with(top, foot), "Foot", plain(np.zeros(1)))
        line = shapely.LineString([(0, 0), (60 * width, 60 * rise)])
        p = shapely.Point(u[0], z[0])
        self.assertAlmostEqual(line.project(p), along, 6)
        self.assertAlmostEqual(line.distance(p), abs(out), 6)

    def test_a_square_tie_leaves_no_level(self) -> None:
        square = {"kind": "square", "parent": "hinge", "through": "A", "along": 1, "out": 0}
        with self.assertRaises(ValidationError):
            point("B", square, {"kind": "rise", "parent": "A", "rise": 0})
        with self.assertRaises(ValidationError):
            point("B", {"kind": "same_as", "parent": "A"}, None)


class Levels(TestCase):
    def test_on_a_surface_and_so_much_above_it(self) -> None:
        on = point("B", {"kind": "width", "parent": "A", "width": 1}, {"kind": "on_surface", "surface": "ground", "plus": 0.05})
        ground = Polylines(np.array([[0.0, 10.0], [0.0, 3.0]]), np.array([[99.0, 100.0], [98.0, 98.0]]))
        _, z = place(half_with(LANE, on), "B", around(surfaces={"ground": ground}))
        self.assertAlmostEqual(z[0], 99.45 + 0.05 - 100, 12)
        self.assertTrue(np.isnan(z[1]))  # the surface ends before the point: no level is made up

    def test_level_of_a_line_else_a_rise(self) -> None:
        lip = NearestLine(code="LIP", within=8)
        tie = {"kind": "guide_level", "source": lip.model_dump(), "plus": 0.02, "parent": "A", "rise": 0.1}
        kerb = point("B", {"kind": "width", "parent": "A", "width": 1}, tie)
        found = GuideLine(np.full(2, 4.5), np.array([99.9, np.nan]))
        _, z = place(half_with(LANE, kerb), "B", around(lines={lip: found}))
        np.testing.assert_allclose(z, [-0.08, 0.12 + 0.1], atol=1e-12)

    def test_wedge_by_hand(self) -> None:
        """The fall of the old pavement between two points, carried on: old levels 100.00 at the hinge (0.5 m) and 99.88 at
        the lane's edge (3.5 m) fall 4 %; 0.5 m further the wedge lies 20 mm lower than the new edge."""
        wedge = point(
            "W",
            {"kind": "width", "parent": "A", "width": 0.5},
            {"kind": "carried", "surface": "main", "first": "hinge", "second": "A", "parent": "A"},
        )
        old = pack([(np.array([0.5, 3.5, 9.0]), np.array([100.0, 99.88, 99.0]))] * 2)
        half = compiled(half_with(LANE, wedge))
        u, z = solve_points(half, around(surfaces={"main": old}))
        np.testing.assert_allclose(u[:, half.column("W")], 4.0)
        np.testing.assert_allclose(z[:, half.column("W")] - z[:, half.column("A")], -0.02, atol=1e-12)

    def test_turning_with_the_side_or_the_neighbour(self) -> None:
        # A lane with its own fall of -3 %: what turns as its neighbour does falls 3 % too, whatever the side does.
        own = LANE.changed(level={"kind": "fall", "parent": "hinge", "crossfall_pct": -3.0})
        for lane, falls in ((LANE, [-2.5, 4.0]), (own, [-3.0, -3.0])):
            for turns, expected in (("neighbour", falls), ("side", [-2.5, 4.0])):
                aux = point(
                    "B",
                    {"kind": "width", "parent": "A", "width": 2},
                    {"kind": "fall", "parent": "A", "crossfall_pct": None, "turns_with": turns},
                )
                half = compiled(half_with(lane, aux))
                _, z = solve_points(half, around())
                drop = 100 * (z[:, half.column("B")] - z[:, half.column("A")]) / 2
                np.testing.assert_allclose(drop, expected, atol=1e-12)


class Dimensions(TestCase):
    SPEC = half_with(
        LANE.changed(offset={"kind": "width", "parent": "hinge", "width": "lane"}),
        point("B", {"kind": "width", "parent": "A", "width": "lane"}, {"kind": "fall", "parent": "A", "crossfall_pct": "fall"}),
    ).changed(dimensions=[{"name": "lane", "value": 3.5}, {"name": "fall", "unit": "%", "value": -4.0}])

    def test_one_value_serves_several_ties(self) -> None:
        half = compiled(self.SPEC)
        u, z = solve_points(half, around(dimensions={"lane": np.array([3.0, 3.25]), "fall": np.array([-4.0, -8.0])}))
        np.testing.assert_allclose(u[:, half.column("B")], [6.5, 7.0])
        np.testing.assert_allclose(z[:, half.column("B")] - z[:, half.column("A")], [-0.12, -0.26], atol=1e-12)

    def test_unknown_ones_and_wrong_units_are_named(self) -> None:
        for change, words in (
            ([Dimension(name="other", value=1)], ("lane", "does not exist")),
            (
                [Dimension(name="lane", unit="%", value=1), Dimension(name="fall", unit="%", value=1)],
                ("A needs a value in m", "in %"),
            ),
        ):
            _, faults = try_compile(self.SPEC.changed(dimensions=[d.model_dump() for d in change]), PARTS)
            text = " ".join(f.message for f in faults)
            for word in words:
                self.assertIn(word, text)

    def test_two_of_one_name_are_refused(self) -> None:
        with self.assertRaises(ValidationError):
            self.SPEC.changed(dimensions=[{"name": "lane", "value": 1}] * 2)


class Faults(TestCase):
    def test_all_that_is_wrong_is_found_at_once(self) -> None:
        lost = point("B", {"kind": "width", "parent": "Nowhere", "width": 1}, {"kind": "rise", "parent": "Gone", "rise": 0})
        spec = half_with(LANE, lost, kerbs=[{"name": "K", "profile": "none", "at": "A"}])
        made, faults = try_compile(spec, PARTS)
        self.assertIsNone(made)
        text = " | ".join(f.message for f in faults)
        for word in ("Nowhere", "Gone", "no profile “none”"):
            self.assertIn(word, text)
        self.assertEqual({n for f in faults for n in f.names}, {"B", "K"})

    def test_a_circle_names_only_its_own_points(self) -> None:
        a = point("A", {"kind": "width", "parent": "B", "width": 1}, {"kind": "rise", "parent": "hinge", "rise": 0})
        b = point("B", {"kind": "width", "parent": "A", "width": 1}, {"kind": "rise", "parent": "hinge", "rise": 0})
        hangs_on = point("C", {"kind": "width", "parent": "B", "width": 1}, {"kind": "rise", "parent": "B", "rise": 0})
        with self.assertRaises(TemplateError) as caught:
            compile_template(half_with(a, b, hangs_on), PARTS)
        self.assertIn("the ties of A, B form a circle", caught.exception.message)

    def test_ends_and_floors_that_cannot_be(self) -> None:
        floors = [
            {"name": "F", "zones": [{"to": {"point": "Z"}, "depth_mm": 100}]},
            {"name": "F", "zones": [{"to": {"point": "A"}, "depth_mm": 100, "under": {"strip": "Lane", "course": 9}}]},
        ]
        _, faults = try_compile(half_with(LANE, floors=floors), PARTS)
        text = " | ".join(f.message for f in faults)
        for word in ("two floors are called F", "measured from Z", "course 9 of strip Lane, which has fewer"):
            self.assertIn(word, text)
        make_up = PARTS.make_ups["lane-new"]
        under = make_up.changed(courses=[make_up.courses[0].changed(outer={"kind": "under_kerb"}).model_dump()])
        parts = type(PARTS)({"lane-new": under}, {})
        compiled, faults = try_compile(half_with(LANE), parts)
        assert compiled is not None
        self.assertEqual(faults, [])  # it ends flush, and that is said
        told = try_out(half_with(LANE), parts, Trial()).faults
        self.assertIn("to end under a kerb, but none stands beside it", " | ".join(f.message for f in told))
        flush = type(PARTS)({"lane-new": make_up.changed(courses=[make_up.courses[0].model_dump()])}, {})
        one, other = (try_out(half_with(LANE), p, Trial()).layers[0] for p in (parts, flush))
        self.assertEqual(one.polygon, other.polygon)
