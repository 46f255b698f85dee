"""What a DXF shows and what it means: drawings written by its library, each with one habit of the programs that write them."""

import io
from collections.abc import Callable
from unittest import TestCase

import ezdxf
import numpy as np
from ezdxf.document import Drawing
from openpyxl import Workbook

from saddle.exchange.dxf.read import look_dxf
from saddle.exchange.found import Found
from saddle.exchange.readers import ReadAs, first_rows, read_survey
from saddle.terrain.spec import ColumnMapping
from saddle.terrain.survey import collect, polylines

PLACES = [(10.0, 5.0, 101.0), (20.0, 6.0, 101.5), (30.0, 5.0, 102.0)]


def taken(make: Callable[[Drawing], None]) -> Found:
    document = ezdxf.new("R2010")
    make(document)
    out = io.StringIO()
    document.write(out)
    return look_dxf(out.getvalue().encode())[1]


def told(found: Found) -> str:
    return "\n".join(s.reason for s in found.skipped)


class Shown(TestCase):
    def test_the_frame_of_a_fitted_line_is_no_part_of_it(self) -> None:
        """DXF reference, VERTEX: flag 16 marks a vertex of the spline's control frame, 8 one that the fit made."""

        def make(document: Drawing) -> None:
            line = document.modelspace().add_polyline3d([(0, 0, 5), (5, 40, 6), (10, 0, 7)])
            for vertex in line.vertices:
                vertex.dxf.flags |= 16
            line.append_vertices([(0, 0, 5), (5, 8, 6), (10, 0, 7)], dxfattribs={"flags": 32 | 8})

        (line,) = polylines(collect(taken(make).table))
        self.assertEqual(line.points.tolist(), [[0, 0, 5], [5, 8, 6], [10, 0, 7]])

    def test_a_block_is_a_point_by_what_it_holds(self) -> None:
        """A small one with long lines once became a point, as it held fewer than 20 things."""

        def make(document: Drawing) -> None:
            symbol = document.blocks.new("SPOT")
            symbol.add_circle((0, 0), 0.3)
            symbol.add_line((-0.5, 0), (0.5, 0))
            piece = document.blocks.new("PIECE")
            piece.add_polyline3d([(0, 0, 0), (50, 3, 0.5), (90, 4, 1)], dxfattribs={"layer": "EP"})
            for place in PLACES:
                document.modelspace().add_blockref("SPOT", place, dxfattribs={"layer": "GR"})
            document.modelspace().add_blockref("PIECE", (100, 200, 103))

        found = taken(make)
        survey = collect(found.table)
        np.testing.assert_allclose(survey.xyz[survey.code == "GR"], PLACES)
        (line,) = polylines(survey)
        self.assertEqual((line.code, line.points[1].tolist()), ("EP", [150, 203, 103.5]))

    def test_what_is_not_shown_is_left_out_and_told(self) -> None:
        def make(document: Drawing) -> None:
            document.layers.add("OLD").freeze()
            document.blocks.new("PIECE").add_line((0, 0, 1), (90, 4, 1), dxfattribs={"layer": "EP"})
            space = document.modelspace()
            space.add_blockref("PIECE", (0, 0, 100), dxfattribs={"layer": "OLD"})
            for k, place in enumerate(PLACES):
                space.add_point(place, dxfattribs={"layer": "GR", "invisible": int(k == 0)})

        found = taken(make)
        self.assertEqual(collect(found.table).xyz.tolist(), [list(p) for p in PLACES[1:]])
        self.assertIn("1 things made invisible one by one", told(found))
        self.assertIn("in inserts on the frozen layer OLD", told(found))

    def test_the_height_of_a_tree_is_no_level(self) -> None:
        def make(document: Drawing) -> None:
            tree = document.blocks.new("TREE")
            tree.add_circle((0, 0), 0.5)
            tree.add_attdef("HEIGHT", (0, 0))
            for place, height in zip(PLACES, ("12.5", "8.0", "15.0"), strict=True):
                document.modelspace().add_blockref("TREE", place, dxfattribs={"layer": "TREE"}).add_attrib(
                    "HEIGHT", height, place
                )

        found = taken(make)
        self.assertEqual(collect(found.table).xyz.tolist(), [list(p) for p in PLACES])
        self.assertIn("what it calls a height is none", told(found))

    def test_a_level_in_a_block_that_lies_at_0_is_one(self) -> None:
        def make(document: Drawing) -> None:
            spot = document.blocks.new("SPOT")
            spot.add_circle((0, 0), 0.5)
            spot.add_attdef("HEIGHT", (0, 0))
            for x, y, z in PLACES:
                reference = document.modelspace().add_blockref("SPOT", (x, y, 0), dxfattribs={"layer": "GR"})
                reference.add_attrib("HEIGHT", f"{z:.2f}", (x, y))

        self.assertEqual(collect(taken(make).table).xyz.tolist(), [list(p) for p in PLACES])


class Sheets(TestCase):
    def test_any_sheet_of_a_workbook(self) -> None:
        book = Workbook()
        assert book.active is not None
        book.active.append(["nothing", "of", "use", 1])
        points = book.create_sheet("Points")
        for row in (["No", "Easting", "Northing", "Level"], *([k, *p] for k, p in enumerate(PLACES))):
            points.append(row)
        out = io.BytesIO()
        book.save(out)
        found = first_rows(out.getvalue(), sheet="Points")
        self.assertEqual(found.sheets, ("Sheet", "Points"))
        self.assertEqual(found.preview.columns["north"], 2)
        mapping = ColumnMapping(delimiter="\t", number=0, east=1, north=2, level=3, sheet="Points")
        read = read_survey(out.getvalue(), "book.xlsx", ReadAs(mapping=mapping))
        np.testing.assert_allclose(read.found.table.xyz, PLACES)
