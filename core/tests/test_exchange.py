"""Survey files, good and bad."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from demo.road import survey_csv
from saddle.errors import GeometryError, ImportProblem, SaddleError
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview
from saddle.exchange.text import decode
from saddle.terrain.part import level_at
from saddle.terrain.spec import CodeList, CodeRule, ColumnMapping, FromSurvey
from saddle.terrain.survey import BuiltSurface, build_surface, collect
from saddle.terrain.table import SkippedRow, SurveyTable
from tests.cases import demo_surface, demo_survey

HEAD = "number,easting,northing,level,code,line,order\n"
SQUARE = "1,0,0,1,GR,,\n2,10,0,1,GR,,\n3,10,10,1,GR,,\n4,0,10,1,GR,,\n"


def taken(text: str) -> tuple[SurveyTable, list[SkippedRow]]:
    found = preview(text)
    return read(text, ColumnMapping(delimiter=found.delimiter, header=found.header, **found.columns))  # type: ignore[arg-type]


class Reading(TestCase):
    def test_delimiters_headings_and_order_of_columns(self) -> None:
        for text in (
            "Code;Level;North;East;Number\nGR;3.5;2;1;p1\nGR;3.5;2;9;p2\n",
            "Code\tLevel\tNorth\tEast\tNumber\nGR\t3.5\t2\t1\tp1\nGR\t3.5\t2\t9\tp2\n",
            "p1,1,2,3.5,GR\np2,9,2,3.5,GR\n",
        ):
            table, skipped = taken(text)
            self.assertEqual((table.number, table.code, skipped), (["p1", "p2"], ["GR", "GR"], []))
            np.testing.assert_array_equal(table.xyz[0], [1, 2, 3.5])

    def test_every_bad_row_is_told_with_its_number_and_reason(self) -> None:
        bad = {
            6: ("5,abc,0,1,GR,,", "east “abc” is not a number"),
            7: ("6,1,2,,GR,,", "level is missing"),
            8: ("7,1,2,nan,GR,,", "level is missing: “nan” stands for none"),
            9: ("8,1,inf,1,GR,,", "north “inf” is not a finite number"),
            10: ("1,5,5,1,GR,,", "number 1 is in row 2 too, at another place: this point is called 1-2"),
            11: ("9,1", "north is missing"),
            12: (",1,2,3,GR,,", "number is missing"),
            13: ("10,1,2,3,GR,L,x", "order “x” is not a number"),
            14: ("11,1e12,2,3,GR,,", "east 1e12 is too large to be a coordinate"),
        }
        table, skipped = taken(HEAD + SQUARE + "\n".join(row for row, _ in bad.values()) + "\n")
        self.assertEqual({s.row: s.reason for s in skipped}, {row: reason for row, (_, reason) in bad.items()})
        self.assertEqual(table.number, ["1", "2", "3", "4", "1-2"])

    def test_files_that_are_no_survey(self) -> None:
        for data in (b"", b"  \n \n", b"\x00\x01\x02binary"):
            with self.assertRaises(ImportProblem):
                preview(decode(data))
        with self.assertRaisesRegex(ImportProblem, "no row holds a survey point"):
            taken(HEAD + "1,a,b,c,GR,,\n")

    def test_encodings(self) -> None:
        text = HEAD + "1,0,0,1,Grün,,\n"
        for encoding in ("utf-8", "utf-8-sig", "latin-1", "utf-16"):
            self.assertEqual(taken(decode(text.encode(encoding)))[0].code, ["Grün"])

    @given(st.binary(max_size=400))
    def test_rubbish_gives_a_clear_error_or_listed_rows(self, data: bytes) -> None:
        try:
            taken(decode(HEAD.encode() + data))
        except SaddleError as error:
            self.assertTrue(error.message)


def surface(text: str, codes: CodeList | None = None, **fields: object) -> BuiltSurface:
    return build_surface(collect(taken(text)[0]), codes or CodeList(), FromSurvey.model_validate(fields))


class Surfaces(TestCase):
    def test_demo_survey(self) -> None:
        found = demo_survey()
        self.assertTrue(5500 < len(found.number) < 6500)
        self.assertEqual((demo_surface().conflicts, demo_surface().crossings), ([], []))
        lines = found.lines_by_code()
        self.assertIn("CL", lines)
        length = np.linalg.norm(lines["CL"].end[:, :2] - lines["CL"].start[:, :2], axis=1).sum()
        self.assertAlmostEqual(length, 1610.0, delta=1.0)

    def test_what_a_user_would_import_is_what_the_demo_writes(self) -> None:
        table, skipped = taken(survey_csv())
        self.assertEqual((len(table.number), skipped), (survey_csv().count("\n") - 1, []))

    def test_breaklines_of_the_survey_are_edges_of_the_surface(self) -> None:
        s, tin = demo_survey(), demo_surface().surface
        _, where = cKDTree(tin.points[:, :2]).query(s.xyz[:, :2])  # points in one place are one vertex
        edges = {tuple(e) for e in tin.edges().tolist()}
        checked = 0
        for a, b in s.segments.tolist():
            if s.code[a] in ("CL", "EP", "LIP"):
                i, j = sorted((int(where[a]), int(where[b])))
                self.assertIn((i, j), edges)
                checked += 1
        self.assertGreater(checked, 300)

    def test_points_in_one_place(self) -> None:
        same = HEAD + SQUARE + "5,10,0,1.002,EP,E,1\n6,10.0005,10,4,EP,E,2\n7,5,5,2,EP,E,3\n"
        found = surface(same)
        (conflict,) = found.conflicts
        self.assertEqual(conflict.point, 5)
        self.assertIn("+3.000 m from its level", conflict.reason)
        self.assertEqual(len(found.surface.points), 5)  # 5 counts as 2, and 6 as 3
        self.assertEqual(len(collect(taken(same)[0]).segments), 2)  # nothing of the survey is lost

    def test_crossing_breaklines_are_named_and_left_out(self) -> None:
        text = HEAD + SQUARE + "5,1,5,2,A,A1,1\n6,9,5,2,A,A1,2\n7,5,1,3,B,B1,1\n8,5,9,3,B,B1,2\n"
        (told,) = surface(text).told
        for word in ("5.000 E 5.000 N", "2.000", "3.000", "A from point 5", "B from point 7"):
            self.assertIn(word, told)

    def test_crossing_breaklines_meet_at_the_mean_level_where_their_code_says_so(self) -> None:
        text = HEAD + SQUARE + "5,1,5,2,A,A1,1\n6,9,5,2,A,A1,2\n7,5,1,3,B,B1,1\n8,5,9,3,B,B1,2\n9,1,3,4,C,C1,1\n10,9,3,4,C,C1,2\n"
        survey = collect(taken(text)[0])
        rules = [CodeRule(code="B", crossing="mean"), CodeRule(code="C", crossing="mean")]
        found = build_surface(survey, CodeList(rules=rules), FromSurvey())
        self.assertEqual(len(found.told), 2)
        self.assertIn("both go through 2.500 there", found.told[0])
        # A and B meet at 5, 5 in the mean of 2 and 3; C and B at 5, 3 in the mean of 4 and 3.
        levels = level_at(found.surface, np.array([[5.0, 5.0], [5.0, 3.0], [3.0, 5.0], [5.0, 4.0]]))
        np.testing.assert_allclose(levels, [2.5, 3.5, 2.25, 3.0], atol=1e-9)
        plain = build_surface(survey, CodeList(rules=[CodeRule(code="B")]), FromSurvey())
        self.assertIn("this piece is not used as a breakline", plain.told[0])
        np.testing.assert_allclose(level_at(plain.surface, np.array([[5.0, 5.0]])), [2.0], atol=1e-9)

    def test_more_crossings_than_are_told_are_all_left_out(self) -> None:
        """16 lines across 16 lines cross 256 times: a surface is made, 200 are told, and how many more there are."""
        rows = [f"{100 + 2 * i + k},{i * 0.5 + 1},{1 + 8 * k},2,A,A{i},{k + 1}" for i in range(16) for k in (0, 1)]
        rows += [f"{200 + 2 * i + k},{0.8 + 8.4 * k},{i * 0.5 + 1.2},3,B,B{i},{k + 1}" for i in range(16) for k in (0, 1)]
        found = surface(HEAD + SQUARE + "\n".join(rows) + "\n")
        self.assertEqual(len(found.told), 201)
        self.assertIn("and 56 more crossings", found.told[-1])
        self.assertGreater(len(found.surface.triangles), 60)

    def test_every_kind_of_line_end(self) -> None:
        text = HEAD + SQUARE
        for ends in ("\r", "\r\n", "\n"):
            self.assertEqual(len(taken(decode(text.replace("\n", ends).encode()))[0].row), 4)

    def test_codes_left_out_of_the_surface(self) -> None:
        text = HEAD + SQUARE + "5,5,5,-3,PIT,,\n6,5,6,9,TREE,,\n"
        self.assertEqual(len(surface(text).surface.points), 5)
        codes = CodeList(rules=[CodeRule(code="TREE", in_surface=False), CodeRule(code="PIT", in_surface=True)])
        found = surface(text, codes).surface
        self.assertEqual(sorted(found.points[:, 2]), [-3, 1, 1, 1, 1])

    def test_no_surface_to_be_had(self) -> None:
        line = HEAD + "".join(f"{i},{i},{2 * i},0,GR,,\n" for i in range(9))
        with self.assertRaisesRegex(GeometryError, "line"):
            surface(line)
        with self.assertRaisesRegex(ImportProblem, "only 2 points"):
            surface(HEAD + "1,0,0,0,GR,,\n2,1,1,1,GR,,\n3,2,0,1,PIT,,\n")

    def test_order_of_a_line_is_the_order_given(self) -> None:
        text = HEAD + SQUARE + "5,8,5,2,A,A1,3\n6,2,5,2,A,A1,1\n7,5,5,2,A,A1,2\n"
        s = collect(taken(text)[0])
        self.assertEqual([(s.number[a], s.number[b]) for a, b in s.segments], [("6", "7"), ("7", "5")])
