"""LandXML as other programs write it. Structure and names after the LandXML 1.2 schema (from memory)."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.alignment.spec import AlignmentSpec, ChainageEquation, Straight
from saddle.errors import ImportProblem
from saddle.exchange.found import Found
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.landxml_write import write_landxml
from saddle.terrain.survey import Survey, collect, polylines

METRIC = '<Units><Metric linearUnit="meter"/></Units>'
NONE = np.empty(0, dtype=str)
EMPTY = Survey(NONE, np.empty((0, 3)), NONE, NONE, np.empty((0, 2), dtype=int))
POINTS = '<CgPoints><CgPoint name="1" code="EP">2000 1000 50</CgPoint><CgPoint name="2">2010 1005 51</CgPoint></CgPoints>'
LINE = "<CoordGeom><Line><Start>0 0</Start><End>3000 0</End></Line></CoordGeom>"


def file(
    body: str, units: str = METRIC, root: str = '<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2">'
) -> bytes:
    return f'<?xml version="1.0"?>{root}{units}{body}</LandXML>'.encode()


def equations(body: str) -> list[tuple[float, float]]:
    (named,) = read_landxml(
        file(f'<Alignments><Alignment name="A" staStart="0">{LINE}{body}</Alignment></Alignments>')
    ).alignments
    return [(e.back, e.ahead) for e in named.spec.equations]


class Versions(TestCase):
    def test_every_version_with_and_without_a_namespace(self) -> None:
        for version in ("1.0", "1.1", "1.2", "2.0"):
            for root in (
                f'<LandXML xmlns="http://www.landxml.org/schema/LandXML-{version}" version="{version}">',
                f'<LandXML version="{version}">',
                f'<l:LandXML xmlns:l="http://www.landxml.org/schema/LandXML-{version}">',
            ):
                body, units, end = POINTS, METRIC, "</LandXML>"
                if root.startswith("<l:"):
                    body, units = (t.replace("</", "\0").replace("<", "<l:").replace("\0", "</l:") for t in (body, units))
                    end = "</l:LandXML>"
                found = read_landxml(f"{root}{units}{body}{end}".encode())
                self.assertEqual((found.table.number, found.table.xyz[0].tolist()), (["1", "2"], [1000, 2000, 50]), root)


class Units(TestCase):
    def east(self, units: str) -> float:
        return float(read_landxml(file(POINTS, units)).table.xyz[0, 0])

    def test_names_in_many_spellings(self) -> None:
        # NIST: the foot is 0.3048 m, the US survey foot 1200/3937 m.
        for name, metres in {
            "meter": 1.0, "Meter": 1.0, "METRE": 1.0, "foot": 0.3048, "Feet": 0.3048, "USSurveyFoot": 1200 / 3937,
            "ussurveyfoot": 1200 / 3937, "US Survey Foot": 1200 / 3937, "millimeter": 0.001,
        }.items():  # fmt: skip
            self.assertAlmostEqual(self.east(f'<Units><Imperial linearUnit="{name}"/></Units>'), 1000 * metres, 9, name)
        with self.assertRaisesRegex(ImportProblem, "the unit of length “cubit” is not known"):
            self.east('<Units><Imperial linearUnit="cubit"/></Units>')

    def test_imperial_without_a_unit_is_asked_about(self) -> None:
        found = read_landxml(file(POINTS, "<Units><Imperial/></Units>"))
        self.assertEqual((found.unit, found.table.xyz[0, 0]), ("foot", 304.8))
        self.assertIn("does not say which", found.asked["unit"])
        said = read_landxml(file(POINTS, "<Units><Imperial/></Units>"), unit="us_survey_foot")
        self.assertEqual(said.asked, {})
        self.assertAlmostEqual(said.table.xyz[0, 0], 1000 * 1200 / 3937, 9)


class Coordinates(TestCase):
    def test_commas_between_and_easting_first(self) -> None:
        commas = read_landxml(file(POINTS.replace("2000 1000 50", "2000,1000,50").replace("2010 1005 51", "2010, 1005, 51")))
        np.testing.assert_array_equal(commas.table.xyz, [[1000, 2000, 50], [1005, 2010, 51]])
        np.testing.assert_array_equal(read_landxml(file(POINTS), swapped=True).table.xyz[0], [2000, 1000, 50])

    def test_what_a_surface_was_made_of(self) -> None:
        body = """<Surfaces><Surface name="S"><SourceData>
            <DataPoints code="GR"><PntList3D>0 0 1 0 10 2 10 10 3</PntList3D></DataPoints>
            <Breaklines><Breakline name="B" desc="EP"><PntList3D>1 1 1 2 9 2</PntList3D></Breakline></Breaklines>
            <Boundaries><Boundary bndType="outer"><PntList3D>0 0 0 0 10 0 10 10 0</PntList3D></Boundary></Boundaries>
            </SourceData></Surface></Surfaces>"""
        found = read_landxml(file(body))
        lines = {p.code: p.points for p in polylines(collect(found.table))}
        self.assertEqual(found.table.code.count("GR"), 3)
        np.testing.assert_array_equal(lines["EP"], [[1, 1, 1], [9, 2, 2]])
        np.testing.assert_array_equal(lines["BDY"][:, :2], [[0, 0], [10, 0], [10, 10], [0, 0]])
        self.assertEqual(found.skipped, [])

    def test_sentences_are_no_codes(self) -> None:
        body = '<CgPoints><CgPoint name="1" desc="corner of the old wall">1 2 3</CgPoint><CgPoint name="2" desc="EP">1 3 3</CgPoint></CgPoints>'
        self.assertEqual(read_landxml(file(body)).table.code, ["", "EP"])
        geometry = "<CoordGeom><IrregularLine><PntList3D>0 0 1 5 5 2</PntList3D></IrregularLine></CoordGeom>"
        for said, code in (
            ('code=""', ""),
            ("", "LINE"),
            ('desc="EP"', "EP"),
            ('desc="the old wall"', "LINE"),
            ('code="a b"', "a b"),
        ):
            plan = f'<PlanFeatures><PlanFeature name="w" {said}>{geometry}</PlanFeature></PlanFeatures>'
            self.assertEqual(set(read_landxml(file(plan)).table.code), {code}, said)


class Equations(TestCase):
    def test_a_later_one_with_a_lower_back(self) -> None:
        # At 1000 the road is called 5000 from there on; 300 m later it is called 5300 and becomes 200.
        body = '<StaEquation staBack="1000" staAhead="5000"/><StaEquation staBack="5300" staAhead="200"/><StaEquation staBack="300" staAhead="900"/>'
        self.assertEqual(equations(body), [(1000, 5000), (1300, 200), (1400, 900)])

    def test_without_a_back(self) -> None:
        self.assertEqual(equations('<StaEquation staInternal="800" staAhead="0"/>'), [(800, 0)])
        self.assertEqual(equations('<StaEquation staAhead="0"/>'), [])

    @given(st.lists(st.tuples(st.floats(1, 300), st.floats(0, 9000)), max_size=5))
    def test_written_and_read_back(self, jumps: list[tuple[float, float]]) -> None:
        at = np.cumsum([step for step, _ in jumps]).round(3)
        spec = AlignmentSpec(
            name="A", start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=3000)],
            equations=[ChainageEquation(back=float(b), ahead=round(ahead, 3)) for b, (_, ahead) in zip(at, jumps, strict=True)],
        )  # fmt: skip
        found: Found = read_landxml(write_landxml(EMPTY, {}, [spec], {}, "2026-01-01"))
        (named,) = found.alignments
        for a, b in zip(named.spec.equations, spec.equations, strict=True):
            self.assertAlmostEqual(a.back, b.back, 5)
            self.assertAlmostEqual(a.ahead, b.ahead, 5)
