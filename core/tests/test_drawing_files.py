"""Drawings of other offices, layer by layer: what the DXF reference and ezdxf's own mathematics say of them."""

import io
import math
from typing import Any
from unittest import TestCase

import ezdxf
import numpy as np
from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.math import OCS, Matrix44, Vec3
from ezdxf.render import MeshBuilder
from hypothesis import given
from hypothesis import strategies as st

from saddle.errors import ImportProblem
from saddle.exchange.dxf.read import look_dxf, read_dxf, rules_of
from saddle.exchange.dxf.spec import UNITS, BlockRule, DrawingMapping, LayerRule
from saddle.exchange.dxf.walk import CHORD
from saddle.exchange.found import Found
from saddle.terrain.survey import collect, polylines


def drawing(unit: int = units.M) -> Drawing:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = unit
    return document


def written(document: Drawing, binary: bool = False) -> bytes:
    if binary:
        out = io.BytesIO()
        document.write(out, fmt="bin")
        return out.getvalue()
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


def lines(found: Found) -> dict[str, np.ndarray]:
    return {p.code: p.points for p in polylines(collect(found.table))}


def told(found: Found) -> str:
    return "\n".join(s.reason for s in found.skipped)


class Layers(TestCase):
    def document(self) -> Drawing:
        document = drawing()
        space = document.modelspace()
        for i in range(6):
            space.add_point((10.0 * i, 0.0, 100.0 + i), dxfattribs={"layer": "SPOT"})
        space.add_point((5.0, 5.0, 0.0), dxfattribs={"layer": "SPOT"})
        space.add_polyline3d([(0, 5, 101), (20, 5, 0), (40, 5, 103)], dxfattribs={"layer": "EDGE"})
        space.add_text("note", dxfattribs={"layer": "WORDS"})
        document.layers.add("OLD").freeze()
        space.add_line((0, 9, 100), (9, 9, 100), dxfattribs={"layer": "OLD"})
        return document

    def test_what_is_on_each_layer(self) -> None:
        found, _ = look_dxf(written(self.document()))
        rows = {r.layer: r for r in found.layers}
        self.assertEqual(list(rows), ["EDGE", "OLD", "SPOT", "WORDS"])
        spot, edge = rows["SPOT"], rows["EDGE"]
        self.assertEqual((spot.points, spot.at_zero, spot.least, spot.greatest), (7, 1, 100.0, 105.0))
        self.assertEqual((edge.lines, edge.at_zero, edge.least, edge.greatest), (1, 1, 101.0, 103.0))
        self.assertEqual((rows["WORDS"].texts, rows["OLD"].shown, rows["OLD"].taken, spot.taken), (1, "frozen", False, True))
        self.assertEqual(
            (found.says, found.unit, found.zero, found.least, found.greatest), ("metre", "metre", False, [0, 0], [50, 5])
        )

    def test_where_nothing_is_shown_all_is_taken(self) -> None:
        document = self.document()
        for layer in ("SPOT", "EDGE"):
            document.layers.add(layer).off()
        found, taken = look_dxf(written(document))
        self.assertEqual([r.shown for r in found.layers], ["off", "frozen", "off", "on"])
        self.assertEqual(set(taken.table.code), {"EDGE", "OLD", "SPOT"})

    def test_level_0_among_levels_of_100_is_left_out_and_told(self) -> None:
        found = read_dxf(written(self.document()))
        self.assertEqual(found.table.xyz[:, 2].min(), 100)
        np.testing.assert_allclose(lines(found)["EDGE"], [[0, 5, 101], [40, 5, 103]])
        self.assertIn("1 place at level 0 on SPOT left out; all else lies from 100.00 to 105.00 m", told(found))
        taken = read_dxf(written(self.document()), mapping=DrawingMapping(zero="take"))
        self.assertEqual(sorted(taken.table.xyz[:, 2])[:2], [0, 0])

    def test_by_the_sea_level_0_is_a_level(self) -> None:
        document = drawing()
        for i in range(9):
            document.modelspace().add_point((i, i * i, (i - 4) / 2), dxfattribs={"layer": "SHORE"})
        found = read_dxf(written(document))
        self.assertEqual((len(found.table.number), found.skipped), (9, []))

    def test_layers_left_renamed_and_given_a_meaning(self) -> None:
        mapping = DrawingMapping(
            layers=[
                LayerRule(layer="SPOT", code="GR", counts="points"), LayerRule(layer="EDGE", code="EP", counts="breaklines"),
                LayerRule(layer="OLD", take=False), LayerRule(layer="PIPES", counts="structures"),
                LayerRule(layer="MAP", counts="background"), LayerRule(layer="PLOT", counts="boundary"),
            ]
        )  # fmt: skip
        document = self.document()
        document.modelspace().add_line((0, 0, 99), (9, 0, 98), dxfattribs={"layer": "PIPES"})
        document.modelspace().add_lwpolyline([(0, 0), (9, 0)], dxfattribs={"layer": "MAP"})
        drawn, found = look_dxf(written(document), mapping)
        self.assertEqual(set(found.table.code), {"GR", "EP", "PIPES", "MAP"})
        np.testing.assert_allclose(lines(found)["MAP"][:, 2], 0)  # a background needs no levels
        rules = {r.code: r for r in rules_of(mapping, drawn)}
        self.assertEqual(
            [(rules[c].in_surface, rules[c].breakline) for c in ("GR", "EP")],
            [(True, False), (True, True)],
        )
        self.assertNotIn("MAP", rules)  # it is no part of the survey
        self.assertEqual([rules[c].meaning for c in ("PIPES", "PLOT")], ["pipe", "boundary"])

    def test_levels_from_figures_beside_points(self) -> None:
        document = drawing()
        space = document.modelspace()
        for i in range(4):
            space.add_point((20.0 * i, 3.0, 0.0), dxfattribs={"layer": "SPOT"})
            space.add_text(f"{101.25 + i:.2f}", height=0.5, dxfattribs={"layer": "FIGURES"}).set_placement((20.0 * i + 0.3, 3.2))
        space.add_point((300.0, 3.0, 0.0), dxfattribs={"layer": "SPOT"})  # no figure is near
        found = read_dxf(written(document), mapping=DrawingMapping(texts=True))
        np.testing.assert_allclose(found.table.xyz[:, 2], [101.25, 102.25, 103.25, 104.25])
        self.assertIn("1 place at level 0", told(found))
        self.assertEqual(len(read_dxf(written(document)).table.number), 0)

    def test_units(self) -> None:
        # DXF reference, group $INSUNITS: 1 inches, 2 feet, 4 millimetres, 5 centimetres, 6 metres, 7 kilometres, 10 yards, 21 US
        # survey feet; ezdxf has the same list of its own.
        for code, name in {units.IN: "inch", units.FT: "foot", units.MM: "millimetre", units.CM: "centimetre", units.M: "metre",
                           units.KM: "kilometre", units.YD: "yard"}.items():  # fmt: skip
            self.assertEqual(UNITS[int(code)], name)
        document = drawing(units.IN)
        document.modelspace().add_line((412_000, 286_000, 80), (412_100, 286_000, 81), dxfattribs={"layer": "EP"})
        drawn, found = look_dxf(written(document))
        self.assertEqual((drawn.says, drawn.unit, found.table.xyz[0, 0]), ("inch", "metre", 412_000))
        self.assertIn("the drawing says that its unit is the inch; it was read in metres", told(found))
        shrunk = read_dxf(written(document), mapping=DrawingMapping(unit="inch"))
        self.assertAlmostEqual(shrunk.table.xyz[0, 0], 412_000 * 0.0254, 9)
        self.assertEqual(
            read_dxf(written(document), mapping=DrawingMapping(swapped=True)).table.xyz[0].tolist(), [286_000, 412_000, 80]
        )


class Blocks(TestCase):
    def spots(self, tags: tuple[str, str, str], level: str = "103.75") -> Drawing:
        document = drawing()
        block = document.blocks.new("SPOT")
        for k, tag in enumerate(tags):
            block.add_attdef(tag, (0, k))
        block.add_circle((0, 0), 0.2)
        for i in range(3):
            insert = document.modelspace().add_blockref("SPOT", (10 * i, 5, 0), dxfattribs={"layer": "PTS"})
            insert.add_auto_attribs(dict(zip(tags, (f"n{i}", "EP", level), strict=True)))
        return document

    def test_attributes_in_any_naming(self) -> None:
        for tags in (
            ("POINT_NO", "CODE", "ELEV"),
            ("Number", "Description", "Height"),
            ("ID", "FEATURE", "Z"),
            ("PTNO", "KEY", "RL"),
            ("PKTNR", "ART", "HOEHE"),
            ("P-NR", "Objektart", "H1"),
            ("NO", "CODE", "VALUE"),
        ):
            with self.subTest(tags):
                found = read_dxf(written(self.spots(tags)))
                self.assertEqual((found.table.number, found.table.code[0]), (["n0", "n1", "n2"], "EP"))
                np.testing.assert_allclose(found.table.xyz, [[10.0 * i, 5, 103.75] for i in range(3)])

    def test_attributes_that_the_person_names(self) -> None:
        document = self.spots(("A", "B", "C"), "104")
        self.assertEqual(len(read_dxf(written(document)).table.number), 0)  # level 0, and nobody says which is the level
        rule = BlockRule(block="SPOT", number="A", code="B", level="C")
        found = read_dxf(written(document), mapping=DrawingMapping(blocks=[rule]))
        self.assertEqual((found.table.number[0], found.table.code[0], found.table.xyz[0, 2]), ("n0", "EP", 104))

    def test_attributes_of_inserts_whose_block_names_none(self) -> None:
        document = drawing()
        document.blocks.new("VP").add_circle((0, 0), 0.2)
        for i in range(3):
            insert = document.modelspace().add_blockref("VP", (i, 5, 0))
            for tag, value in (("PKT", f"n{i}"), ("ART", "EP"), ("HOEHE", "103,75")):
                insert.add_attrib(tag, value, (i, 5))
        table = read_dxf(written(document)).table
        self.assertEqual((table.number, set(table.code), set(table.xyz[:, 2])), (["n0", "n1", "n2"], {"EP"}, {103.75}))

    def test_an_attribute_that_is_no_level(self) -> None:
        found = read_dxf(written(self.spots(("NO", "CODE", "LEVEL"), "top")))
        self.assertEqual(len(found.table.number), 0)
        self.assertIn("“top” is no level", told(found))
        for level in ("nan", "inf", "1e300"):
            document = self.spots(("NO", "CODE", "LEVEL"), level)
            document.modelspace().add_point((50, 0, 0))
            document.modelspace().add_text(level, height=1).set_placement((50, 0))
            self.assertEqual(read_dxf(written(document), mapping=DrawingMapping(texts=True)).table.number, [], level)

    def test_a_drawing_in_the_drawing_is_followed(self) -> None:
        document = drawing()
        block = document.blocks.new("XREF")
        for i in range(30):
            block.add_line((i, 0, 50), (i + 1, 0, 51), dxfattribs={"layer": "EP"})
        block.add_point((3, 4, 52))  # on layer 0: it comes with the layer of the insert
        document.modelspace().add_blockref("XREF", (100, 200, 7), dxfattribs={"layer": "SITE"})
        found = read_dxf(written(document))
        np.testing.assert_allclose(found.table.xyz[found.table.code.index("SITE")], [103, 204, 59])
        self.assertEqual(found.table.code.count("EP"), 60)

    def test_a_block_that_holds_itself_ends(self) -> None:
        document = drawing()
        block = document.blocks.new("SNAKE")
        block.add_line((0, 0, 9), (1, 0, 9))
        block.add_blockref("SNAKE", (1, 0, 0))
        document.modelspace().add_blockref("SNAKE", (0, 0, 0), dxfattribs={"layer": "S"})
        rule = BlockRule(block="SNAKE", point=False)
        self.assertGreaterEqual(len(read_dxf(written(document), mapping=DrawingMapping(blocks=[rule])).table.number), 2)

    @given(
        st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50), st.floats(1, 50)), min_size=2, max_size=8, unique=True),
        st.floats(0, 360), st.floats(0, 360), st.sampled_from([1.0, -1.0]), st.floats(0.5, 3),
        st.tuples(st.floats(-1e5, 1e5), st.floats(-1e5, 1e5), st.floats(100, 900)), st.booleans(),
    )  # fmt: skip
    def test_blocks_in_blocks_turned_and_mirrored(
        self, points: list[tuple[float, float, float]], inner: float, outer: float, mirror: float, scale: float,
        at: tuple[float, float, float], up: bool,
    ) -> None:  # fmt: skip
        """Against ezdxf's matrices: a line in a block in a block, each turned, the outer one scaled, mirrored, perhaps upside down."""
        document = drawing()
        document.blocks.new("IN").add_polyline3d(points, dxfattribs={"layer": "EP"})
        document.blocks.new("OUT").add_blockref("IN", (3, -2, 1), dxfattribs={"rotation": inner})
        extrusion = (0, 0, 1) if up else (0, 0, -1)
        insert = {"rotation": outer, "xscale": scale * mirror, "yscale": scale, "zscale": scale, "extrusion": extrusion}
        document.modelspace().add_blockref("OUT", at, dxfattribs=insert)
        mapping = DrawingMapping(zero="take", blocks=[BlockRule(block=b, point=False) for b in ("IN", "OUT")])
        found = read_dxf(written(document), mapping=mapping)
        first = Matrix44.chain(Matrix44.z_rotate(math.radians(inner)), Matrix44.translate(3, -2, 1))
        second = Matrix44.chain(
            Matrix44.scale(scale * mirror, scale, scale), Matrix44.z_rotate(math.radians(outer)), Matrix44.translate(*at)
        )
        ocs = OCS(Vec3(extrusion))
        expected = [ocs.to_wcs(second.transform(first.transform(Vec3(p)))) for p in points]
        np.testing.assert_allclose(lines(found)["EP"], np.array([(v.x, v.y, v.z) for v in expected]), atol=1e-6)


class Shapes(TestCase):
    def circle(self, points: np.ndarray, centre: tuple[float, float], radius: float, level: float) -> None:
        """Vertices on a circle, and chords that leave it by no more than CHORD."""
        np.testing.assert_allclose(np.hypot(points[:, 0] - centre[0], points[:, 1] - centre[1]), radius, atol=1e-6)
        middle = (points[1:] + points[:-1]) / 2
        self.assertLessEqual((radius - np.hypot(middle[:, 0] - centre[0], middle[:, 1] - centre[1])).max(), CHORD + 1e-9)
        np.testing.assert_allclose(points[:, 2], level)

    def test_arcs_and_bulges_within_the_tolerance(self) -> None:
        document = drawing(units.FT)
        space = document.modelspace()
        space.add_arc((0, 0, 20), 100, 0, 90, dxfattribs={"layer": "ARC"})
        # DXF reference: bulge 1 is a half circle.
        space.add_lwpolyline([(0, 0, 1), (60, 0, 0)], format="xyb", dxfattribs={"layer": "BULGE", "elevation": 12})
        found = lines(read_dxf(written(document)))
        foot = 0.3048
        self.circle(found["ARC"], (0, 0), 100 * foot, 20 * foot)
        self.circle(found["BULGE"], (30 * foot, 0), 30 * foot, 12 * foot)
        # Upside down (extrusion 0, 0, -1) the x axis of the object turns round.
        mirrored = drawing()
        mirrored.modelspace().add_lwpolyline(
            [(1, 2), (5, 2)], dxfattribs={"layer": "M", "elevation": -7, "extrusion": (0, 0, -1)}
        )
        np.testing.assert_allclose(lines(read_dxf(written(mirrored)))["M"], [[-1, 2, 7], [-5, 2, 7]], atol=1e-9)

    def test_splines_go_through_their_ends(self) -> None:
        document = drawing()
        document.modelspace().add_spline([(0, 0, 5), (10, 8, 6), (30, 2, 7), (50, 9, 8)], dxfattribs={"layer": "S"})
        found = lines(read_dxf(written(document)))["S"]
        np.testing.assert_allclose(found[[0, -1]], [[0, 0, 5], [50, 9, 8]], atol=1e-9)
        self.assertGreater(len(found), 20)

    def test_meshes_of_every_kind_are_surfaces(self) -> None:
        cube = MeshBuilder()
        cube.add_mesh(vertices=[(0, 0, 10), (8, 0, 11), (8, 6, 12), (0, 6, 13)], faces=[(0, 1, 2, 3)])
        document = drawing()
        space = document.modelspace()
        cube.render_mesh(space, dxfattribs={"layer": "MESH"})
        cube.render_polyface(space, dxfattribs={"layer": "POLYFACE"})
        cube.render_3dfaces(space, dxfattribs={"layer": "FACES"})
        grid = space.add_polymesh((2, 2), dxfattribs={"layer": "POLYMESH"})
        for (m, n), z in {(0, 0): 10, (1, 0): 11, (1, 1): 12, (0, 1): 13}.items():
            grid.set_mesh_vertex((m, n), (8 * m, 6 * n, z))
        found = {s.name: s.tin for s in read_dxf(written(document)).surfaces}
        self.assertEqual(set(found), {"MESH", "POLYFACE", "FACES", "POLYMESH"})
        for name, tin in found.items():
            p = tin.points[tin.triangles]
            a, b = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
            self.assertAlmostEqual(float((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum() / 2), 48.0, 9, name)

    def test_binary_files_and_files_cut_short(self) -> None:
        document = drawing()
        for i in range(200):
            document.modelspace().add_point((i, 2 * i, 100), dxfattribs={"layer": "GR"})
        whole = read_dxf(written(document, binary=True))
        self.assertEqual((len(whole.table.number), whole.skipped), (200, []))
        text = written(document)
        cut = text[: text.rindex(b"POINT") - 400]
        found = read_dxf(cut)
        self.assertGreater(len(found.table.number), 150)
        self.assertRegex(told(found), r"the file is cut short: it ends in line [\d,]+ and not with its last word EOF")

    def test_errors_are_in_words_of_our_own(self) -> None:
        for data in (b"", b"hello", b"0\nSECTION\n2\nHEADER\n", b"\x00\x01" * 40):
            try:
                found: Any = read_dxf(data)
                self.assertEqual(len(found.table.number), 0)
            except ImportProblem as error:
                self.assertEqual(
                    error.message,
                    "the file cannot be read as DXF: it is damaged, cut short before its entities, or something else",
                )
