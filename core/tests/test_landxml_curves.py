"""What LandXML holds beyond straights, arcs and clothoids, judged by integrating curvature in small steps, and other things that are named,
referred to, or written in a way of one's own."""

import math
from collections.abc import Callable
from unittest import TestCase

import numpy as np
from scipy.integrate import cumulative_simpson

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Straight
from saddle.exchange.landxml_curves import LAWS, transition
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.landxml_write import write_landxml
from saddle.terrain.survey import collect, polylines
from tests.test_landxml_files import EMPTY, LINE, POINTS, file

LENGTH, RADIUS = 120.0, 350.0


def integrated(law: Callable[[float], float], length: float, first: float, last: float) -> tuple[float, float, float]:
    """East, north and bearing at the end of a transition that begins at 0, 0 towards the north."""
    s = np.linspace(0, length, 20_001)
    bend = first + (last - first) * np.array([law(float(u)) for u in s / length])
    bearing = cumulative_simpson(bend, x=s, initial=0)
    return (
        float(cumulative_simpson(np.sin(bearing), x=s)[-1]),
        float(cumulative_simpson(np.cos(bearing), x=s)[-1]),
        float(bearing[-1]),
    )


def aligned(body: str, more: str = "") -> bytes:
    return file(f'<Alignments><Alignment name="A" staStart="0"><CoordGeom>{body}</CoordGeom>{more}</Alignment></Alignments>')


class Transitions(TestCase):
    def test_each_kind_ends_where_its_curvature_leads(self) -> None:
        for kind, law in LAWS.items():
            for first, last in ((None, RADIUS), (-RADIUS, None), (800.0, 300.0)):
                pieces = transition(kind, LENGTH, first, last)
                line = build(AlignmentSpec(name="t", start_east=0, start_north=0, start_bearing_deg=0, elements=pieces))
                end = line.frames(np.array([line.end]))
                bends = [0.0 if r is None else 1 / r for r in (first, last)]
                east, north, bearing = integrated(law, LENGTH, *bends)
                np.testing.assert_allclose(end.origin[0], [east, north], atol=0.002, err_msg=kind)
                self.assertAlmostEqual(math.remainder(float(end.bearing[0]) - bearing, 2 * math.pi), 0, 5, kind)

    def test_in_a_file_between_a_straight_and_an_arc(self) -> None:
        east, north, bearing = integrated(LAWS["bloss"], LENGTH, 0.0, 1 / RADIUS)
        end = f"{100 + north:.6f} {east:.6f}"
        centre = f"{100 + north - RADIUS * math.sin(bearing):.6f} {east + RADIUS * math.cos(bearing):.6f}"
        on = [RADIUS * f(bearing + 0.2) for f in (math.sin, math.cos)]
        last = f"{100 + north - RADIUS * math.sin(bearing) + on[0]:.6f} {east + RADIUS * math.cos(bearing) - on[1]:.6f}"
        for infinite in ("INF", "Infinity", "1.#INF"):
            body = (
                "<Line><Start>0 0</Start><End>100 0</End></Line>"
                f'<Spiral spiType="bloss" rot="cw" length="{LENGTH}" radiusStart="{infinite}" radiusEnd="{RADIUS}">'
                f"<Start>100 0</Start><PI>150 0</PI><End>{end}</End></Spiral>"
                f'<Curve rot="cw"><Start>{end}</Start><Center>{centre}</Center><End>{last}</End></Curve>'
            )
            found = read_landxml(aligned(body))
            (named,) = found.alignments
            self.assertAlmostEqual(sum(e.length for e in named.spec.elements), 100 + LENGTH + 0.2 * RADIUS, 3)
            (told,) = found.skipped
            self.assertRegex(told.reason, r"a bloss curve is taken as 16 clothoids, which end \d mm from its end")

    def test_a_kind_that_nobody_knows_is_named(self) -> None:
        body = '<Spiral spiType="wiener" rot="cw" length="50" radiusEnd="200"><Start>0 0</Start><PI>25 0</PI><End>49 2</End></Spiral>'
        (told,) = read_landxml(aligned(body)).skipped
        self.assertIn("is a wiener, and taken are clothoid, bloss", told.reason)


class Lines(TestCase):
    def test_arcs_in_feature_lines(self) -> None:
        body = (
            '<PlanFeatures><PlanFeature name="k" code="KB"><CoordGeom><Line><Start>0 0 1</Start><End>10 0 2</End></Line>'
            '<Curve rot="cw"><Start>10 0 2</Start><Center>10 20</Center><End>30 20 4</End></Curve></CoordGeom></PlanFeature></PlanFeatures>'
        )
        (line,) = polylines(collect(read_landxml(file(body)).table))
        on = line.points[1:]
        np.testing.assert_allclose(np.hypot(on[:, 0] - 20, on[:, 1] - 10), 20, atol=1e-9)
        middle = (on[1:, :2] + on[:-1, :2]) / 2
        self.assertLess(20 - np.hypot(*(middle - [20, 10]).T).min(), 0.0101)
        self.assertEqual((line.points[-1].tolist(), bool((np.diff(on[:, 2]) > 0).all())), ([20, 30, 4], True))

    def test_points_by_reference(self) -> None:
        feature = (
            '<PlanFeatures><PlanFeature name="k" code="KB"><CoordGeom><Line><Start pntRef="1"/><End pntRef="2"/></Line></CoordGeom>'
            '</PlanFeature><PlanFeature name="m"><CoordGeom><Line><Start pntRef="1"/><End pntRef="9"/></Line></CoordGeom></PlanFeature></PlanFeatures>'
        )
        found = read_landxml(file(POINTS + feature))
        lines = polylines(collect(found.table))
        self.assertEqual([p.tolist() for p in lines[0].points], [[1000, 2000, 50], [1005, 2010, 51]])
        self.assertIn("refers to the point 9, which is not there", found.skipped[0].reason)


class Profiles(TestCase):
    def profile(self, name: str, level: float) -> ProfileSpec:
        return ProfileSpec(name=name, points=[ProfilePoint(chainage=c, level=level + c / 100) for c in (0.0, 400.0, 900.0)])

    def test_all_of_an_alignment_go_out_and_come_back(self) -> None:
        spec = AlignmentSpec(name="A", start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=1000)])
        both = [self.profile("centre", 90.0), self.profile("left edge", 89.9)]
        (named,) = read_landxml(write_landxml(EMPTY, {}, [spec], {"A": both}, "2026-01-01")).alignments
        self.assertEqual(named.profiles, both)

    def test_what_is_wrong_names_its_element(self) -> None:
        geometry = LINE.removeprefix("<CoordGeom>").removesuffix("</CoordGeom>")
        for pvi in ("0", "", "0 1 2"):
            more = f'<Profile name="P"><ProfAlign name="P"><PVI>{pvi}</PVI></ProfAlign></Profile>'
            found = read_landxml(aligned(geometry, more))
            self.assertIn("the PVI in line 1 needs a chainage and a level", found.skipped[0].reason)
        found = read_landxml(aligned('<Curve rot="cw"><Start>0</Start><Center>0 1</Center><End>1 1</End></Curve>'))
        self.assertIn("the Start in line 1 needs northing and easting", found.skipped[0].reason)
        found = read_landxml(
            aligned('<Spiral rot="cw" length="" radiusEnd="9"><Start>0 0</Start><PI>1 1</PI><End>2 2</End></Spiral>')
        )
        self.assertIn("“” is no length", found.skipped[0].reason)
