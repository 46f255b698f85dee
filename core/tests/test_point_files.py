"""Files of points as offices write them: delimiters, titles, comments, decimal signs, encodings, with and without numbers and headings.
Common practice, no source; a writer that shares nothing with the reader is the measure."""

import random
from unittest import TestCase, mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.errors import ImportProblem
from saddle.exchange.point_rows import points_of, read, table_of
from saddle.exchange.survey_csv import preview
from saddle.exchange.text import decode
from saddle.terrain.spec import ColumnMapping
from tests.depth import many


def read_as_guessed(data: bytes):  # type: ignore[no-untyped-def]
    text = decode(data)
    found = preview(text)
    mapping = ColumnMapping(
        delimiter=found.delimiter, decimal=found.decimal, header=found.header, skip=found.skip, **found.columns
    )  # type: ignore[arg-type]
    return read(text, mapping), found


class Guessed(TestCase):
    def test_places_without_numbers_are_counted(self) -> None:
        for text, codes in (
            ("412300.10 286540.2 84.1\n412301 286541 84.2\n", ["", ""]),
            ("412300.10,286540.2,84.1,EP\n412301,286541,84.2,CL\n", ["EP", "CL"]),
        ):
            (table, skipped), found = read_as_guessed(text.encode())
            self.assertEqual((table.number, table.code, skipped, found.columns["number"]), (["1", "2"], codes, [], None))
            np.testing.assert_allclose(table.xyz, [[412300.1, 286540.2, 84.1], [412301, 286541, 84.2]])

    def test_a_cell_that_no_reader_takes_costs_its_row_and_is_told(self) -> None:
        """A field of more letters than a reader of CSV takes, as the first row, in the middle and among headings."""
        whole = [f"{k},{412300 + k}.5,{286540 + k}.25,84.{k},EP" for k in range(1, 6)]
        long = "9,412309.5,286549.25," + "9" * 200_000 + ",EP"
        for at in (0, 2, 5):
            rows = [*whole[:at], long, *whole[at:]]
            (table, skipped), _ = read_as_guessed(("number,easting,northing,level,code\n" + "\n".join(rows) + "\n").encode())
            self.assertEqual((table.number, [s.row for s in skipped]), (["1", "2", "3", "4", "5"], [at + 2]))
            self.assertIn("cannot be split", skipped[0].reason)
            self.assertEqual(len(table_of(rows, ",")), 5)

    def test_spaces_of_any_number_divide_columns(self) -> None:
        text = "  1   412300.10  286540.2    84.1   EP\n 12   412301.00  286541.0    84.2   CL\n"
        (table, _), found = read_as_guessed(text.encode())
        self.assertEqual((found.delimiter, table.number, table.code), (" ", ["1", "12"], ["EP", "CL"]))

    def test_titles_are_passed_over_and_comments_told_by_their_row(self) -> None:
        text = "Job 27, north lane\nmeasured in May\n\nnumber,easting,northing,level,code\n1,1,2,3,EP\n# check shot,9,9,9,\n2,5,6,7,EP\n"
        (table, skipped), found = read_as_guessed(text.encode())
        self.assertEqual((found.skip, found.header, table.number), (3, True, ["1", "2"]))
        self.assertEqual([(s.row, s.reason) for s in skipped], [(6, "is taken as a comment")])
        self.assertEqual(table.row.tolist(), [5, 7])
        self.assertEqual(preview(text, ",", skip=4).rows[0], ["1", "1", "2", "3", "EP"])

    def test_old_windows_text_keeps_its_letters(self) -> None:
        self.assertEqual(decode("Gefäll–Stra\u00dfe".encode("cp1252")), "Gefäll–Stra\u00dfe")


class Guessing(TestCase):
    def columns(self, text: str) -> dict[str, int | None]:
        return {k: v for k, v in preview(text).columns.items() if v is not None}

    def test_headings_of_many_languages(self) -> None:
        for head, order in {
            "Punkt;Hochwert;Rechtswert;Höhe;Art": "number north east level code",
            "Punto;Este;Norte;Cota;Código": "number east north level code",
            "Matricule;Est;Nord;Altitude;Code": "number east north level code",
            "Ponto;Leste;Norte;Cota;Descr": "number east north level code",
            "Punktnr;Rechtswert;Hochwert;Höhe;Punktcode;Linien-Nr": "number east north level code line",
            "Point ID;Survey Easting;Survey Northing;Ground level;Point code;Line no": "number east north level code line",
            "Pkt;Y (East);X (North);H;Merkmal": "number east north level code",
            "ID;Easting (m);Northing (m);Elevation [m];Desc": "number east north level code",
            "PT_NO;E_COORD;N_COORD;RL;FEATURE": "number east north level code",
        }.items():
            columns = self.columns(f"{head}\n7;412300.5;286540.1;80.2;EP\n")
            self.assertEqual(columns, {field: i for i, field in enumerate(order.split())}, head)

    def test_what_headings_do_not_say_follows_from_the_figures(self) -> None:
        columns = self.columns("a;b;c;d;e\n7;412300.5;286540.1;80.2;EP\n8;412301.5;286541.1;80.4;EP\n")
        self.assertEqual(columns, {"number": 0, "east": 1, "north": 2, "level": 3, "code": 4})
        self.assertEqual(
            self.columns("q;level;s\n412300.5;80.2;286540.1\n412301.5;80.3;286541.1\n"), {"level": 1, "east": 0, "north": 2}
        )

    def test_places_may_stand_before_their_number(self) -> None:
        rows = ["412300.52 286540.11 80.21 {} EP1 ST", "412310.52 286541.11 80.24 {} EP1"]
        for numbers, columns in (
            (("7", "8"), {"east": 0, "north": 1, "level": 2, "number": 3, "code": 4}),
            (("101", "101"), {"east": 0, "north": 1, "level": 2, "code": 3}),
        ):
            text = "\n".join(row.format(number) for row, number in zip(rows, numbers, strict=True))
            self.assertEqual(self.columns(text), columns)
        self.assertEqual(self.columns("10.1,412300.5,286540.1,80.2,EP\n")["east"], 1, "a number with a stop is no easting")

    def test_a_title_with_a_figure_is_none_of_the_points(self) -> None:
        text = "Second survey of lot 2 in 3 parts\n412300.52 286540.11 80.21 EP\n412310.52 286541.11 80.24 EP\n"
        found = preview(text)
        self.assertEqual((found.skip, found.header, found.columns["east"]), (1, False, 0))

    def test_codes_go_on_to_the_end_of_rows_divided_by_spaces(self) -> None:
        text = "".join(
            f"{k} 4123{k:02}.1  2865{k:02}.1 80.2 EP1{'' if 0 < k < 9 else ' ST' if k == 0 else ' END DR2'}\n" for k in range(10)
        )
        found = preview(text)
        mapping = ColumnMapping(delimiter=" ", header=False, **found.columns)  # type: ignore[arg-type]
        self.assertEqual(set(points_of(text, mapping)[0].code), {"EP1"})
        for written in (text, text.replace("EP1 ST", '"EP1 ST"')):
            whole, skipped = points_of(written, mapping, whole_codes=True)
            self.assertEqual((whole.code[0], whole.code[1], whole.code[9], skipped), ("EP1 ST", "EP1", "EP1 END DR2", []))

    def test_words_and_figures_for_none(self) -> None:
        text = "number,x,y,z\n1,10,20,5\n2,11,21,-9999\n3,12,22,n/a\n4,13,-999.000,3\n"
        table, skipped = read(text, ColumnMapping(number=0, east=1, north=2, level=3))
        self.assertEqual(table.number, ["1"])
        self.assertEqual(
            [(s.row, s.reason) for s in skipped],
            [(3, "level is missing: “-9999” stands for none"), (4, "level is missing: “n/a” stands for none"),
             (5, "north is missing: “-999.000” stands for none")],
        )  # fmt: skip


DELIMITERS = st.sampled_from([",", ";", "\t", "|", " ", "   "])


class Oracle(TestCase):
    @settings(max_examples=many(120))
    @given(
        DELIMITERS, st.booleans(), st.booleans(), st.integers(0, 3), st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "cp1252"]),
        st.sampled_from(["\n", "\r\n", "\r"]), st.booleans(), st.integers(2, 30),
        st.sampled_from(["", "", "'", "\u00a0", ","]), st.randoms(use_true_random=False),
    )  # fmt: skip
    def test_any_file_is_read_as_it_was_written(
        self,
        between: str,
        comma: bool,
        headings: bool,
        titles: int,
        encoding: str,
        end: str,
        numbered: bool,
        n: int,
        thousands: str,
        rng: random.Random,
    ) -> None:
        comma = comma and between != ","
        xyz = [(rng.uniform(4e5, 5e5), rng.uniform(2e5, 3e5), rng.uniform(-5, 900)) for _ in range(n)]
        codes = [rng.choice(["EP", "CL", "GR"]) for _ in range(n)]
        numbers = rng.sample(range(1, 9999), n)

        if thousands == "," and between == ",":
            thousands = ""

        def cell(v: float) -> str:
            plain = f"{v:,.3f}".replace(",", "T").replace(".", "," if comma else ".")
            return plain.replace("T", "." if thousands == "," and comma else thousands)

        # Of a file without headings the columns stand in their usual order.
        names = ["number", "easting", "northing", "level", "code"] if numbered else ["easting", "northing", "level", "code"]
        order = list(range(len(names)))
        if headings:
            rng.shuffle(order)
        lines = [f"Title {k}" for k in range(titles)]
        if headings:
            lines.append(between.join(names[k] for k in order))
        for number, place, code in zip(numbers, xyz, codes, strict=True):
            cells = [*([str(number)] if numbered else []), *map(cell, place), code]
            lines.append(between.join(cells[k] for k in order))
        (table, skipped), _ = read_as_guessed((end.join(lines) + end).encode(encoding))
        self.assertEqual(skipped, [])
        self.assertEqual(table.number, [str(v) for v in numbers] if numbered else [str(k + 1) for k in range(n)])
        self.assertEqual(table.xyz.tolist(), [[float(f"{v:.3f}") for v in place] for place in xyz])
        self.assertEqual(table.code, codes)
        self.assertEqual(table.row.tolist(), list(range(titles + headings + 1, titles + headings + n + 1)))


class FixedWidths(TestCase):
    def test_columns_are_found_where_every_line_is_blank(self) -> None:
        text = "PT        EAST      NORTH  LEVEL CODE\n  1  412300.10  286540.20  84.10 EP\n 12  412301.00  286541.00 184.25 CL\n"
        found = preview(text, breaks=())
        self.assertEqual(found.rows[1], ["1", "412300.10", "286540.20", "84.10", "EP"])
        self.assertEqual((found.header, found.lines[0][:2]), (True, "PT"))
        self.assertEqual(preview("123456789012\n223456789012\n", breaks=()).breaks, (8,))

    def test_figures_without_anything_between(self) -> None:
        text = (
            "1001 412300.123286540.456 84.123EP  \n1002 412301.000286541.000 84.250CL  \n\n1003 412302.000286542.000       CL  \n"
        )
        found = preview(text, breaks=[5, 15, 25, 32])
        mapping = ColumnMapping(decimal=found.decimal, header=found.header, breaks=list(found.breaks), **found.columns)  # type: ignore[arg-type]
        self.assertEqual((found.columns["number"], found.columns["east"], found.columns["north"]), (0, 1, 2))
        table, skipped = read(text, mapping.changed(code=4))
        self.assertEqual((table.number, table.code, table.row.tolist()), (["1001", "1002"], ["EP", "CL"], [1, 2]))
        np.testing.assert_array_equal(table.xyz[0], [412300.123, 286540.456, 84.123])
        self.assertEqual([(s.row, s.reason) for s in skipped], [(4, "level is missing")])

    def test_columns_that_begin_twice_are_refused(self) -> None:
        for breaks in ([5, 5], [9, 5], [0], [3000]):
            with self.assertRaises(ValueError):
                ColumnMapping(east=0, north=1, level=2, breaks=breaks)

    @given(
        st.lists(st.integers(7, 14), min_size=3, max_size=3), st.integers(1, 6), st.randoms(use_true_random=False), st.booleans()
    )
    def test_any_widths_come_back(self, widths: list[int], wide: int, rng: random.Random, comma: bool) -> None:
        rows = [[rng.choice(["A", "EP", "Ö1"])[:wide].ljust(wide)] for _ in range(8)]
        xyz = [[round(rng.uniform(-99, 999), 2) for _ in widths] for _ in rows]
        text = ""
        for row, place in zip(rows, xyz, strict=True):
            figures = [f"{v:.2f}".rjust(w) for v, w in zip(place, widths, strict=True)]
            text += row[0] + "".join(f.replace(".", "," if comma else ".") for f in figures) + "\n"
        begins = np.cumsum([wide, *widths[:2]]).tolist()
        mapping = ColumnMapping(decimal="," if comma else ".", header=False, east=1, north=2, level=3, code=0, breaks=begins)
        table, skipped = read(text, mapping)
        self.assertEqual((skipped, table.xyz.tolist()), ([], xyz))
        self.assertEqual(table.code, [row[0].strip() for row in rows])


CELLS = st.sampled_from([
    "", " ", "1", "2", "3 ", " 4", "12.5", "-9999", "412,3", "1_0", "1e3", "n/a", "nan", "EP", "# 1", "//", "a\tb", "\x0b", "é", "x" * 81, "0x1",
    "+7", "007", "1.5.2", "\x00", "\x1c1",
])  # fmt: skip


class AllAtOnce(TestCase):
    """Plain rows are read in blocks; what comes of them is what comes of them one by one."""

    @given(
        st.lists(st.lists(CELLS, min_size=4, max_size=6), min_size=1, max_size=9),
        st.lists(st.tuples(st.integers(1, 9), st.floats(-800, 900)), min_size=3, max_size=12),
        st.sampled_from([",", ";", " ", "\t"]), st.sampled_from([".", ","]), st.sampled_from(["\n", "\r\n", "\r"]),
        st.booleans(), st.randoms(use_true_random=False), st.sampled_from([None, 0]), st.sampled_from([None, 5]),
    )  # fmt: skip
    @settings(max_examples=many(300))
    def test_the_same_in_blocks_and_one_by_one(
        self, odd: list[list[str]], plain: list[tuple[int, float]], delimiter: str, decimal: str, end: str, header: bool,
        rng: random.Random, number: int | None, order: int | None,
    ) -> None:  # fmt: skip
        rows = [[str(k), *(f"{v + i:.3f}".replace(".", decimal) for i in range(3)), "EP", str(k)] for k, v in plain]
        for cells in odd if rng.random() < 0.7 else []:
            rows.insert(rng.randrange(len(rows) + 1), cells)
        text = end.join(delimiter.join(row) for row in rows) + rng.choice(["", end, end + end])
        mapping = ColumnMapping(
            delimiter=delimiter, decimal=decimal, header=header, number=number, east=1, north=2, level=3, code=4, order=order
        )  # type: ignore[arg-type]

        def told(block: int) -> object:
            with mock.patch("saddle.exchange.point_rows.BLOCK", block):
                try:
                    table, skipped = read(text, mapping)
                except ImportProblem as error:
                    return error.message
            return (
                table.number, table.xyz.tolist(), table.code, table.line, table.order.tolist(), table.row.tolist(), skipped,
            )  # fmt: skip

        with mock.patch("saddle.exchange.point_rows.Points.plain", return_value=False):
            wanted = told(10_000)
        for block in (1, 60, 10_000):
            self.assertEqual(told(block), wanted)

    def test_plain_rows_are_read_all_at_once(self) -> None:
        text = "nr,e,n,h\n" + "".join(f"{k},{k}.5,2,3\n" for k in range(500))
        with mock.patch("saddle.exchange.point_rows.Points._add") as one:
            table, _ = read(text, ColumnMapping(number=0, east=1, north=2, level=3))
        one.assert_not_called()
        self.assertEqual((len(table.number), table.row[-1]), (500, 501))
