"""Surveys and levels out of workbooks: XLSX by openpyxl, ODS after OASIS OpenDocument 1.2, part 1 (structure from memory)."""

import io
import zipfile
from unittest import TestCase
from xml.sax.saxutils import escape

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from saddle.errors import ImportProblem
from saddle.exchange.level_sheet import read_levels
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview
from saddle.exchange.text import decode
from saddle.exchange.workbook import is_workbook, rows_of
from saddle.overlay.spec import LevelTable
from saddle.terrain.spec import ColumnMapping
from tests.depth import many

Cells = list[list[str | float | None]]
HEAD: list[str | float | None] = ["Point", "Easting", "Northing", "Level", "Code"]


def xlsx(rows: Cells, name: str = "Survey") -> bytes:
    book = Workbook()
    book.remove(book.active)
    book.create_sheet("Empty")
    sheet = book.create_sheet(name)
    for row in rows:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def ods(rows: Cells, name: str = "Survey") -> bytes:
    def cell(value: str | float | None) -> str:
        if value is None:
            return "<table:table-cell/>"
        if isinstance(value, str):
            return f'<table:table-cell office:value-type="string"><text:p>{escape(value)}</text:p></table:table-cell>'
        return f'<table:table-cell office:value-type="float" office:value="{value!r}"><text:p>{value}</text:p></table:table-cell>'

    body = "".join(f"<table:table-row>{''.join(map(cell, row))}</table:table-row>" for row in rows)
    spaces = " ".join(f'xmlns:{k}="urn:oasis:names:tc:opendocument:xmlns:{k}:1.0"' for k in ("office", "table", "text"))
    content = (
        f'<?xml version="1.0" encoding="UTF-8"?><office:document-content {spaces} office:version="1.2"><office:body>'
        f'<office:spreadsheet><table:table table:name="{name}">{body}</table:table></office:spreadsheet></office:body></office:document-content>'
    )
    kind = "application/vnd.oasis.opendocument.spreadsheet"
    manifest = (
        '<?xml version="1.0"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0">'
        f'<manifest:file-entry manifest:full-path="/" manifest:media-type="{kind}"/></manifest:manifest>'
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", kind)
        archive.writestr("META-INF/manifest.xml", manifest)
        archive.writestr("content.xml", content)
    return out.getvalue()


class Workbooks(TestCase):
    @settings(max_examples=many(40))
    @given(st.sampled_from([xlsx, ods]), st.lists(
        st.tuples(st.floats(4e5, 5e5), st.floats(2e5, 3e5), st.floats(-5, 900), st.sampled_from(["EP", "CL", None])), min_size=2, max_size=20,
    ))  # fmt: skip
    def test_points_come_back_as_they_were_written(self, write, points) -> None:  # type: ignore[no-untyped-def]
        data = write([HEAD, *([float(100 + i), *p] for i, p in enumerate(points))])
        self.assertTrue(is_workbook(data))
        text = decode(data)
        found = preview(text)
        self.assertEqual((found.delimiter, found.header, found.columns["level"]), ("\t", True, 3))
        table, skipped = read(text, ColumnMapping(delimiter="\t", header=True, **{k: v for k, v in found.columns.items()}))  # type: ignore[arg-type]
        self.assertEqual((skipped, table.number), ([], [str(100 + i) for i in range(len(points))]))
        np.testing.assert_allclose(table.xyz, [p[:3] for p in points], atol=1e-9)  # spreadsheets keep fifteen figures
        self.assertEqual(table.code, [p[3] or "" for p in points])

    def test_levels_out_of_an_open_document(self) -> None:
        head: list[str | float | None] = ["Chainage m", "Existing m", "Lowest m", "Adopted m"]
        for write in (xlsx, ods):
            table, changes = read_levels(write([head, [0.0, 1.0, 1.1, 90.0], [10.0, None, None, 90.25]], "Levels"), LevelTable())
            self.assertEqual([(r.chainage, r.level) for r in table.rows], [(0, 90), (10, 90.25)])
            self.assertEqual(len(changes), 2)

    def test_a_cell_in_the_farthest_corner_fills_no_memory(self) -> None:
        """A sheet of XLSX has 1,048,576 rows of 16,384 columns: 17,000 million cells, of which two are written."""
        book = Workbook()
        book.active["A1"] = 1
        book.active.cell(100_000, 16_384, 2)
        book.active.cell(100_000, 2, 3)
        out = io.BytesIO()
        book.save(out)
        rows = rows_of(out.getvalue())
        self.assertEqual((rows[0], rows[-1], len(rows)), ([1], [None, 3], 100_000))
        self.assertEqual(sum(map(len, rows)), 3)

    def test_a_sheet_by_its_name_and_what_is_none(self) -> None:
        book = Workbook()
        book.active.append(["first"])
        book.create_sheet("Levels").append(["second", 2.5, None, "x"])
        out = io.BytesIO()
        book.save(out)
        self.assertEqual(rows_of(out.getvalue(), "Levels"), [["second", 2.5, None, "x"]])
        self.assertEqual(rows_of(out.getvalue()), [["first"]])
        archive = io.BytesIO()
        with zipfile.ZipFile(archive, "w") as z:
            z.writestr("a.txt", "no workbook")
        for data, words in (
            (archive.getvalue(), "not a workbook"),
            (xlsx([]), "is empty"),
            (out.getvalue()[:500], "not a workbook"),
        ):
            with self.assertRaisesRegex(ImportProblem, words):
                decode(data)
