"""LandXML, DXF and CSV: read as published, written and read again without loss, and damaged at random."""

import io
import random
import re
from pathlib import Path
from unittest import TestCase

import ezdxf
import numpy as np
from ezdxf.math import bulge_to_arc
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec, build_profile
from saddle.alignment.spec import AlignmentSpec, Arc, ChainageEquation, Clothoid, Straight
from saddle.errors import ImportProblem, SaddleError
from saddle.exchange.dxf.read import read_dxf
from saddle.exchange.dxf.spec import METRES as DXF_METRES
from saddle.exchange.dxf.spec import UNITS, DrawingMapping
from saddle.exchange.dxf.write import write_dxf
from saddle.exchange.found import Found
from saddle.exchange.landxml_read import METRES, read_landxml
from saddle.exchange.landxml_write import write_landxml
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview, write_csv
from saddle.terrain.spec import ColumnMapping
from saddle.terrain.survey import Survey, collect, line_orders, polylines
from saddle.terrain.tin import Tin, triangulate
from tests.cases import demo_surface, demo_survey
from tests.depth import many
from tests.test_transitions import WINDING

#: A sample written after the LandXML 1.2 schema (checks 10.5): northing first, a curve between two clothoids.
SAMPLE = (Path(__file__).parent / "data" / "sample.landxml").read_bytes()
EMPTY = Survey(*(np.empty(0, dtype=str) if i != 1 else np.empty((0, 3)) for i in range(4)), np.empty((0, 2), dtype=np.intp))


class Published(TestCase):
    def test_alignment_walks_as_it_says(self) -> None:
        found = read_landxml(SAMPLE)
        (named,) = found.alignments
        line = build(named.spec)
        self.assertEqual([e.kind for e in named.spec.elements], ["straight", "clothoid", "arc", "clothoid", "straight"])
        self.assertAlmostEqual(line.start, 1000.0, 4)
        self.assertAlmostEqual(line.end - line.start, 419.4395, delta=2e-3)
        end = line.frames(np.array([line.end]))
        np.testing.assert_allclose(end.origin[0], [500297.6245, 6500272.0604], atol=3e-3)
        self.assertAlmostEqual(np.degrees(end.bearing[0]), 70.0, delta=2e-3)

    def test_profile(self) -> None:
        (named,) = read_landxml(SAMPLE).alignments
        p = build_profile(named.profiles[0])
        np.testing.assert_allclose(100 * p.grade, [-2.0, 1.5], atol=1e-4)
        self.assertAlmostEqual(p.levels(np.array([1200.0]))[0], 96.525, delta=5e-4)

    def test_surface(self) -> None:
        (named,) = read_landxml(SAMPLE).surfaces
        corner = named.tin.points[named.tin.triangles]
        a, b = corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]
        twice = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        self.assertTrue((twice > 0).all())
        self.assertAlmostEqual(twice.sum() / 2, 200.0, 6)
        self.assertAlmostEqual((twice / 2 * corner[:, :, 2].mean(axis=1)).sum() / 200, 100.75, 6)

    def test_what_is_not_read_is_listed_with_its_line(self) -> None:
        (skipped,) = read_landxml(SAMPLE).skipped
        self.assertEqual(skipped.reason, "1 × CrossSects: not read")
        self.assertGreater(skipped.row, 20)

    def test_swapped_coordinates_would_fail(self) -> None:
        # A reader that takes easting first gets a mirrored alignment whose elements do not meet (checks 10.5): arcs of half the globe.
        swapped = re.sub(rb">(65\d+\.\d+) (50\d+\.\d+)<", rb">\2 \1<", SAMPLE)
        (skipped, *_) = read_landxml(swapped).skipped
        self.assertRegex(skipped.reason, "^alignment CL: the alignment would be [0-9,.]+ km long, at most 200 km are computed")

    def test_units(self) -> None:
        # NIST (checks 14.1): the foot is 0.3048 m, the US survey foot 1200/3937 m; DXF $INSUNITS codes (checks 10.7).
        self.assertEqual(METRES["foot"], 0.3048)
        self.assertAlmostEqual(METRES["USSurveyFoot"], 0.30480060960122, 14)
        self.assertEqual([DXF_METRES[UNITS[code]] for code in (2, 4, 6)], [0.3048, 0.001, 1.0])
        self.assertAlmostEqual(2_000_000 * (METRES["USSurveyFoot"] - METRES["foot"]), 1.219202, 6)
        feet = SAMPLE.replace(b'linearUnit="meter"', b'linearUnit="foot"')
        self.assertAlmostEqual(read_landxml(feet).alignments[0].spec.start_chainage, 304.8, 6)

    def test_files_that_do_not_say_their_unit_are_read_in_the_projects(self) -> None:
        rows = "number,x,y,z\n1,1000,2000,100\n"
        columns = ColumnMapping(number=0, east=1, north=2, level=3, unit="us_survey_foot")
        table, _ = read(rows, columns)
        np.testing.assert_allclose(table.xyz[0], np.array([1000, 2000, 100]) * 1200 / 3937, rtol=1e-15)
        drawing = ezdxf.new()
        drawing.modelspace().add_point((1000, 2000, 100))
        # A header of millimetres is a habit of the program that wrote it: surveys are not drawn so.
        for units, east in ((0, 304.8), (4, 304.8), (6, 1000.0)):
            drawing.header["$INSUNITS"] = units
            out = io.StringIO()
            drawing.write(out)
            self.assertAlmostEqual(read_dxf(out.getvalue().encode(), unit="foot").table.xyz[0, 0], east, 9)

    def test_arcs_are_written_with_their_bulge(self) -> None:
        # DXF reference (checks 10.8): R = 300, 40 degrees: bulge 0.1763270, chord 205.2121, sagitta 18.0922.
        arc = AlignmentSpec(
            start_east=0, start_north=0, start_bearing_deg=90, elements=[Arc(length=300 * np.radians(40), radius=-300)]
        )
        document = ezdxf.read(io.StringIO(write_dxf(EMPTY, {}, [arc]).decode()))
        (drawn,) = document.modelspace().query("LWPOLYLINE")
        (x0, y0, bulge), (x1, y1, _) = drawn.get_points("xyb")
        self.assertAlmostEqual(bulge, 0.1763270, 6)
        self.assertAlmostEqual(np.hypot(x1 - x0, y1 - y0), 205.2121, delta=1e-4)
        self.assertAlmostEqual(bulge_to_arc((x0, y0), (x1, y1), bulge)[3], 300.0, 6)


def as_survey(found: Found) -> Survey:
    return collect(found.table)


def same_survey(case: TestCase, a: Survey, b: Survey) -> None:
    """Same points with codes, and same lines, whatever their order."""
    case.assertEqual(sorted(zip(a.number, a.code, a.line, strict=True)), sorted(zip(b.number, b.code, b.line, strict=True)))
    order = [np.argsort(s.number, kind="stable") for s in (a, b)]
    np.testing.assert_allclose(a.xyz[order[0]], b.xyz[order[1]], atol=1e-6)
    lines = [{(p.code, p.name): p.points for p in polylines(s)} for s in (a, b)]
    case.assertEqual(set(lines[0]), set(lines[1]))
    for key, points in lines[0].items():
        np.testing.assert_allclose(points, lines[1][key], atol=1e-6)


class RoundTrips(TestCase):
    def test_demo_survey_through_every_format(self) -> None:
        survey = demo_survey()
        orders = line_orders(survey)
        text = write_csv(survey.number, survey.xyz, survey.code, survey.line, orders)
        found = preview(text)
        table, skipped = read(text, ColumnMapping(delimiter=found.delimiter, header=found.header, **found.columns))
        self.assertEqual(skipped, [])
        same_survey(self, survey, collect(table))
        for data, reader in (
            (write_landxml(survey, {}, [], {}, "2026-01-01"), read_landxml),
            (write_dxf(survey, {}, []), read_dxf),
        ):
            again = reader(data)
            self.assertEqual(again.skipped, [])
            same_survey(self, survey, as_survey(again))

    def test_a_surface_comes_back_with_its_triangles(self) -> None:
        tin = demo_surface().surface
        for data, reader in (
            (write_landxml(EMPTY, {"Old road": tin}, [], {}, "2026-01-01"), read_landxml),
            (write_dxf(EMPTY, {"Old road": tin}, []), read_dxf),
        ):
            (named,) = reader(data).surfaces
            self.assertEqual((named.name, len(named.tin.triangles)), ("Old road", len(tin.triangles)))
            middles = [
                np.sort(np.round(t.points[t.triangles].mean(axis=1), 4).view("f8,f8,f8"), axis=0) for t in (tin, named.tin)
            ]
            np.testing.assert_allclose(middles[0]["f2"], middles[1]["f2"], atol=2e-4)

    def test_alignment_with_equation_and_profile(self) -> None:
        spec = WINDING.changed(name="Main", start_chainage=500.0, equations=[ChainageEquation(back=700, ahead=1000)])
        profile = ProfileSpec(
            name="Design",
            points=[ProfilePoint(chainage=500, level=10), ProfilePoint(chainage=700, level=14, length_in=40, length_out=40),
                    ProfilePoint(chainage=900, level=11, length_in=30, length_out=50), ProfilePoint(chainage=1240, level=12)],
        )  # fmt: skip
        (named,) = read_landxml(write_landxml(EMPTY, {}, [spec], {"Main": [profile]}, "2026-01-01")).alignments
        self.assertEqual(named.profiles, [profile])
        self.assertEqual(named.spec.equations, spec.equations)
        c = np.linspace(500, 1240, 100)
        np.testing.assert_allclose(build(named.spec).frames(c).origin, build(spec).frames(c).origin, atol=1e-4)

    @settings(max_examples=many(15))
    @given(
        st.lists(st.tuples(st.floats(-1e6, 1e6), st.floats(-1e6, 1e6), st.floats(-500, 5000)), min_size=1, max_size=12),
        st.sampled_from(["", "EP", "Grün 1", "a<b"]),
    )
    def test_any_points(self, points: list[tuple[float, float, float]], code: str) -> None:
        n = len(points)
        line = np.array(["A"] * (n // 2) + [""] * (n - n // 2), dtype=str)
        base = Survey(
            np.array([f"p{i}" for i in range(n)]),
            np.round(np.array(points), 5),
            np.array([code] * n),
            line,
            np.column_stack([np.arange(n // 2 - 1), np.arange(1, n // 2)]) if n > 3 else np.empty((0, 2), dtype=int),
        )
        unique = len(np.unique(np.round(base.xyz, 4), axis=0)) == n
        if n <= 3 or not unique:
            base = Survey(base.number, base.xyz, base.code, np.full(n, ""), np.empty((0, 2), dtype=int))
        same_survey(self, base, as_survey(read_landxml(write_landxml(base, {}, [], {}, "2026-01-01"))))
        same_survey(self, base, as_survey(read_dxf(write_dxf(base, {}, []))))

    def test_what_is_written_is_what_others_read(self) -> None:
        root = etree.fromstring(write_landxml(demo_survey(), {}, [WINDING], {}, "2026-01-01"))
        self.assertEqual(len(root.findall(".//{*}CgPoint")), len(demo_survey().number))
        document = ezdxf.read(io.StringIO(write_dxf(demo_survey(), {}, [WINDING]).decode()))
        self.assertEqual(document.audit().errors, [])
        self.assertEqual(len(document.modelspace().query("POINT")), len(demo_survey().number))


class Reading(TestCase):
    def test_points_without_levels_and_other_oddities_are_listed(self) -> None:
        text = """<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="meter"/></Units>
        <CgPoints code="GR"><CgPoint name="1">10 20 30</CgPoint><CgPoint name="2">10 20</CgPoint><CgPoint name="3">x 20 30</CgPoint><CgPoint name="1" code="EP">11 21 31</CgPoint></CgPoints>
        <Surfaces><Surface name="G"><Definition surfType="grid"/></Surface><Surface name="T"><SourceData><Breaklines><Breakline name="b"><PntList3D>1 2 3 4 5 6</PntList3D></Breakline></Breaklines></SourceData></Surface></Surfaces>
        <Alignments><Alignment name="A"><CoordGeom><Line><Start>0 0</Start><End>100 0</End></Line><Spiral length="20" radiusStart="INF" radiusEnd="100" rot="cw" spiType="bloss"><Start>100 0</Start><PI>110 0</PI><End>119 1</End></Spiral></CoordGeom></Alignment></Alignments>
        <Roadways/></LandXML>"""
        found = read_landxml(text.encode())
        self.assertEqual(found.table.number, ["1", "1-2", "b.1", "b.2"])
        np.testing.assert_allclose(found.table.xyz[0], [20, 10, 30])
        self.assertEqual(found.table.code[:3], ["GR", "EP", "BREAK"])
        told = " | ".join(s.reason for s in found.skipped)
        for word in ("point 2 has no level", "point 3", "surface G is a grid", "bloss", "1 × Roadways"):
            self.assertIn(word, told)

    def test_files_that_are_none(self) -> None:
        bomb = b'<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "bbbb"><!ENTITY c "&b;&b;&b;">]><LandXML>&c;</LandXML>'
        for data, word in ((b"", "not sound"), (b"<a>", "not sound"), (b"<a/>", "not LandXML"), (bomb, "document type")):
            with self.subTest(word), self.assertRaisesRegex(ImportProblem, word):
                read_landxml(data)
        for data in (b"", b"0\nSECTION\n", b"hello world", b"\x00\x01\x02"):
            try:
                self.assertEqual(len(read_dxf(data).table.number), 0)
            except ImportProblem as error:
                self.assertIn("DXF", error.message)

    def test_blocks_and_plain_lines_of_a_drawing(self) -> None:
        document = ezdxf.new("R2010")
        document.header["$INSUNITS"] = 4  # millimetres
        space = document.modelspace()
        space.add_line((0, 0, 1000), (5000, 0, 2000), dxfattribs={"layer": "EDGE"})
        space.add_lwpolyline([(0, 0), (1000, 0), (1000, 1000)], close=True, dxfattribs={"layer": "PLOT", "elevation": 500})
        space.add_lwpolyline([(0, 0), (1000, 0)], dxfattribs={"layer": "FLAT"})
        space.add_text("note")
        document.blocks.new("TREE")
        space.add_blockref("TREE", (2000, 3000, 4000), dxfattribs={"layer": "TREES"})
        out = io.StringIO()
        document.write(out)
        found = read_dxf(out.getvalue().encode(), mapping=DrawingMapping(unit="millimetre"))
        lines = {p.code: p.points for p in polylines(as_survey(found))}
        np.testing.assert_allclose(lines["EDGE"], [[0, 0, 1], [5, 0, 2]])
        self.assertEqual(lines["PLOT"].shape, (4, 3))
        self.assertIn("TREES", found.table.code)
        self.assertEqual(
            [s.reason for s in found.skipped], ["2 places at level 0 on FLAT left out; all else lies from 0.50 to 4.00 m"]
        )
        self.assertNotIn("FLAT", found.table.code)

    def test_decimal_comma(self) -> None:
        text = "Punkt;Easting;Northing;Level\n1;12,5;7,25;100,125\n2;13;8;99\n"
        found = preview(text)
        self.assertEqual((found.delimiter, found.decimal), (";", ","))
        table, skipped = read(text, ColumnMapping(delimiter=";", decimal=",", header=True, number=0, east=1, north=2, level=3))
        self.assertEqual(skipped, [])
        np.testing.assert_allclose(table.xyz, [[12.5, 7.25, 100.125], [13, 8, 99]])


class Damaged(TestCase):
    """Files damaged at random, 2,000 of each: a clear error, or what could not be read listed."""

    def damaged(self, data: bytes, rng: random.Random) -> bytes:
        out = bytearray(data)
        for _ in range(rng.randint(1, 6)):
            at = rng.randrange(len(out))
            what = rng.random()
            if what < 0.4:
                out[at] = rng.randrange(256)
            elif what < 0.6:
                del out[at : at + rng.randint(1, 40)]
            elif what < 0.8:
                out[at:at] = out[(b := rng.randrange(len(out))) : b + rng.randint(1, 60)]
            else:
                out[at:at] = rng.choice([b"-", b"nan", b"inf", b"1e999", b"<", b">", b"\x00", b"99999999999"])
            if not out:
                out = bytearray(b"x")
        return bytes(out)

    def survives(self, data: bytes, reader: object, times: int = 2000) -> None:
        rng = random.Random(20261125)
        read_well = 0
        for number in range(times):
            broken = self.damaged(data, rng)
            try:
                found = reader(broken)  # type: ignore[operator]
            except SaddleError as error:
                self.assertTrue(error.message)
                continue
            except Exception as error:
                raise AssertionError(f"file {number} raised {error!r}") from error
            read_well += 1
            self.assertTrue(np.isfinite(found.table.xyz).all())
        self.assertGreater(read_well, times // 20)

    def test_landxml(self) -> None:
        small = triangulate(np.array([[0.0, 0, 1], [10, 0, 2], [10, 10, 3], [0, 10, 4]]), np.empty((0, 2), dtype=int))
        survey = Survey(
            demo_survey().number[:6], demo_survey().xyz[:6], demo_survey().code[:6], np.full(6, ""), np.empty((0, 2), dtype=int)
        )
        spec = AlignmentSpec(
            start_east=0,
            start_north=0,
            start_bearing_deg=5,
            elements=[Straight(length=50), Clothoid(length=30, radius_end=90), Arc(length=20, radius=90)],
        )
        self.survives(write_landxml(survey, {"S": small}, [spec], {}, "2026-01-01"), read_landxml)

    def test_dxf(self) -> None:
        # A drawing with little else in it, so that the damage reaches the entities.
        document = ezdxf.new("R12")
        space = document.modelspace()
        for i in range(4):
            space.add_point((i, 2 * i, 3), dxfattribs={"layer": "GR"})
        space.add_polyline3d([(0, 0, 1), (5, 5, 2), (9, 5, 2)], dxfattribs={"layer": "EP"})
        space.add_3dface([(0, 0, 0), (4, 0, 1), (4, 4, 2), (4, 4, 2)], dxfattribs={"layer": "TIN"})
        out = io.StringIO()
        document.write(out)
        text = out.getvalue()
        entities = "  0\nSECTION\n  2\n" + text[text.index("ENTITIES") : text.index("ENDSEC", text.index("ENTITIES")) + 7]
        self.assertEqual(len(read_dxf((entities + "  0\nEOF\n").encode()).table.number), 7)
        self.survives((entities + "  0\nEOF\n").encode(), read_dxf)


class Faces(TestCase):
    def test_upright_faces_are_told(self) -> None:
        document = ezdxf.new("R2010")
        document.modelspace().add_3dface([(0, 0, 0), (4, 0, 0), (4, 0, 3), (0, 0, 3)], dxfattribs={"layer": "WALL"})
        out = io.StringIO()
        document.write(out)
        found = read_dxf(out.getvalue().encode(), mapping=DrawingMapping(zero="take"))
        self.assertEqual(found.surfaces, [])
        self.assertIn("upright", found.skipped[0].reason)

    def test_tin_is_counter_clockwise(self) -> None:
        tin = Tin(np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0]]), np.array([[0, 2, 1]], dtype=np.int32))
        (named,) = read_landxml(write_landxml(EMPTY, {"S": tin}, [], {}, "2026-01-01")).surfaces
        p = named.tin.points[named.tin.triangles[0], :2]
        self.assertGreater(np.cross(p[1] - p[0], p[2] - p[0]), 0)
