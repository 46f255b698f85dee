"""Points and lines put together to one table: nothing lost, nothing doubled."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview, write_csv
from saddle.exchange.tablebuilder import TableBuilder
from saddle.terrain.spec import ColumnMapping
from saddle.terrain.survey import collect, line_orders, polylines

PLACES = st.tuples(st.integers(0, 4), st.integers(0, 4), st.integers(0, 1)).map(lambda p: tuple(float(v) for v in p))


class Building(TestCase):
    def test_a_vertex_on_a_point_of_its_code_is_that_point(self) -> None:
        rows = TableBuilder()
        rows.point("7", (1.0, 2.0, 3.0), "EP", 5)
        rows.point("8", (1.0, 2.0, 3.0), "GR", 6)
        rows.line("A", np.array([[0.0, 0, 0], [1, 2, 3], [4, 4, 4]]), "EP", 9)
        table = rows.table()
        self.assertEqual(table.number, ["7", "8", "A.1", "A.3"])
        self.assertEqual(table.line, ["A", "", "A", "A"])
        (line,) = polylines(collect(table))
        np.testing.assert_allclose(line.points, [[0, 0, 0], [1, 2, 3], [4, 4, 4]])

    def test_numbers_and_names_that_are_taken_get_a_suffix(self) -> None:
        rows = TableBuilder()
        for _ in range(3):
            rows.point("1", (0.0, 0.0, 0.0), "GR", 1)
        rows.line("A", np.array([[0.0, 0, 0], [1, 0, 0]]), "EP", 1)
        rows.line("A", np.array([[5.0, 0, 0], [6, 0, 0]]), "EP", 1)
        rows.line("A", np.array([[7.0, 0, 0], [8, 0, 0]]), "LIP", 1)
        table = rows.table()
        self.assertEqual(table.number[:3], ["1", "1-2", "1-3"])
        self.assertEqual(sorted((p.code, p.name) for p in polylines(collect(table))), [("EP", "A"), ("EP", "A-2"), ("LIP", "A")])

    def test_empty(self) -> None:
        table = TableBuilder().table()
        self.assertEqual((len(table.number), table.xyz.shape), (0, (0, 3)))
        self.assertEqual(polylines(collect(table)), [])

    @given(st.lists(PLACES, max_size=12), st.lists(st.lists(PLACES, min_size=2, max_size=6), max_size=4))
    def test_every_line_comes_back_and_no_number_twice(
        self, points: list[tuple[float, ...]], lines: list[list[tuple[float, ...]]]
    ) -> None:
        rows = TableBuilder()
        for i, p in enumerate(points):
            rows.point(f"{i % 3}", p, "EP", i)  # type: ignore[arg-type]
        for line in lines:
            rows.line("L", np.array(line), "EP", 1)
        table = rows.table()
        self.assertEqual(len(set(table.number)), len(table.number))
        found = polylines(collect(table))
        self.assertEqual(sorted(p.points.tolist() for p in found), sorted([list(v) for v in line] for line in lines))

    @given(st.lists(st.lists(PLACES, min_size=2, max_size=5), min_size=1, max_size=4))
    def test_orders_bring_lines_through_a_csv(self, lines: list[list[tuple[float, ...]]]) -> None:
        rows = TableBuilder()
        for line in lines:
            rows.line("L", np.array(line), "EP", 1)
        survey = collect(rows.table())
        text = write_csv(survey.number, survey.xyz, survey.code, survey.line, line_orders(survey))
        back, skipped = read(text, ColumnMapping(**preview(text).columns))
        self.assertEqual(skipped, [])
        again = polylines(collect(back))
        for a, b in zip(polylines(survey), again, strict=True):
            np.testing.assert_allclose(a.points, b.points)


class Orders(TestCase):
    def test_points_on_no_line_have_none(self) -> None:
        rows = TableBuilder()
        rows.point("a", (0.0, 0.0, 0.0), "GR", 1)
        rows.line("L", np.array([[1.0, 0, 0], [2, 0, 0], [3, 0, 0]]), "EP", 1)
        self.assertEqual(line_orders(collect(rows.table())).tolist(), ["", "1", "2", "3"])
