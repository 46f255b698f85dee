"""Blocks of cells: what is copied and pasted back changes nothing, and what a paste leaves out it tells."""

from typing import Any
from unittest import TestCase

from hypothesis import assume, given
from hypothesis import strategies as st

from rules.asked import asked

COLUMNS = [
    {"key": "Chainage", "chainage": True}, {"key": "Width", "unit": "m"}, {"key": "Depth", "unit": "mm", "optional": True},
    {"key": "Kind", "options": ["cut", "fill"]}, {"key": "Note"}, {"key": "Sum", "shown": True},
]  # fmt: skip
WORDS = st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc", "Z"]) | st.sampled_from(' ";\t\n'), max_size=12).map(
    str.strip
)
NUMBER = st.floats(-5000, 5000, allow_nan=False) | st.sampled_from([209.99999999995782, 0.1 + 0.2, 1 / 3])
ROW = st.fixed_dictionaries(
    {"Chainage": st.floats(0, 9000), "Width": NUMBER, "Depth": st.none() | st.floats(-5000, 5000), "Kind": st.sampled_from(["cut", "fill"]), "Note": WORDS, "Sum": st.just("7")}
)  # fmt: skip
HEADS = {str(c["key"]).lower() for c in COLUMNS}


def paste(rows: list[Any], text: str, row: int = 0, col: int = 0, keyed: str | None = None, grow: bool = True) -> Any:
    return asked("pasted", rows, COLUMNS, text, {"row": row, "col": col}, keyed, grow)


class CopyAndPaste(TestCase):
    @given(st.lists(ROW, min_size=1, max_size=6), st.booleans(), st.booleans())
    def test_a_copy_pasted_back_changes_nothing_to_the_last_bit(self, rows: list[Any], heads: bool, keyed: bool) -> None:
        assume(all(r["Note"].lower() not in HEADS for r in rows))
        rows.sort(key=lambda r: r["Chainage"])
        if not heads:
            assume(any(ch.isdigit() for ch in str(rows[0]["Chainage"])))
        text = asked("copied", rows, COLUMNS, heads)
        plan = paste(rows, text, keyed="Chainage" if keyed else None)
        self.assertEqual((plan["wrong"], plan["told"]), ([], []))
        self.assertEqual(plan["rows"], rows)
        self.assertEqual((plan["fresh"], plan["changed"], plan["same"]), (0, 0, len(rows)))

    @given(st.lists(st.lists(WORDS, min_size=2, max_size=3), min_size=1, max_size=5))
    def test_any_words_come_back_as_cells(self, table: list[list[str]]) -> None:
        width = max(map(len, table))
        rows = [{"a": r[0], "b": r[1], "c": r[2] if len(r) > 2 else ""} for r in table]
        columns = [{"key": k} for k in "abc"]
        assume(any(v for r in rows for v in r.values()))
        cells = asked("cellsOf", asked("copied", rows, columns, False))
        self.assertEqual(cells, [[r["a"], r["b"], r["c"]] for r in rows])
        self.assertLessEqual(width, 3)

    def test_no_more_digits_than_mean_something(self) -> None:
        row = {"Chainage": 209.99999999995782, "Width": 0.1 + 0.2, "Depth": None, "Kind": "cut", "Note": "", "Sum": "7"}
        self.assertEqual(asked("copied", [row], COLUMNS, False), "210\t0.3\t\tcut\t\t7\n")

    def test_spreadsheets_end_their_last_row(self) -> None:
        self.assertEqual(asked("cellsOf", "1\r\n\r\n3\r\n"), [["1"], [""], ["3"]])
        self.assertEqual(asked("cellsOf", '"a\nb"\t6"\n'), [["a\nb", '6"']])
        self.assertEqual(asked("cellsOf", "\n\n"), [])


class Blanks(TestCase):
    def rows(self, n: int = 4) -> list[dict[str, Any]]:
        return [{"Chainage": 10.0 * k, "Width": 1.0 * k, "Depth": 5.0, "Kind": "cut", "Note": "", "Sum": "7"} for k in range(n)]

    def test_a_blank_keeps_its_row(self) -> None:
        """What stood below it moved up one row."""
        plan = paste(self.rows(), "7\n\n9\n", row=1, col=1)
        self.assertEqual([r["Width"] for r in plan["rows"]], [0, 7, 2, 9])
        self.assertEqual(plan["told"], ["1 blank cell leaves what stands there"])

    def test_a_blank_empties_what_may_be_empty(self) -> None:
        plan = paste(self.rows(), "7\n\n9\n", row=1, col=2)
        self.assertEqual([r["Depth"] for r in plan["rows"]], [5, 7, None, 9])
        self.assertEqual(plan["told"], [])

    def test_rows_without_a_chainage_are_told(self) -> None:
        plan = paste(self.rows(), "Chainage\tWidth\n10\t3\n\n\t4\n25\t5\n", keyed="Chainage")
        self.assertEqual(plan["told"], ["Row 3 has no chainage and is left out"])
        self.assertEqual([(r["Chainage"], r["Width"]) for r in plan["rows"]], [(0, 0), (10, 3), (20, 2), (30, 3), (25, 5)])
        self.assertEqual((plan["fresh"], plan["changed"], plan["same"]), (1, 1, 0))

    def test_two_rows_at_one_chainage_stay_two(self) -> None:
        rows = [*self.rows(2), {**self.rows(2)[1], "Width": 8.0}]
        plan = paste(rows, "Chainage\tWidth\n10\t3\n10\t4\n", keyed="Chainage")
        self.assertEqual([r["Width"] for r in plan["rows"]], [0, 3, 4])
        plan = paste(self.rows(2), "Chainage\tWidth\n10\t3\n10\t4\n", keyed="Chainage")
        self.assertEqual([r["Width"] for r in plan["rows"]], [0, 3, 4])

    def test_spare_columns_and_rows_are_told(self) -> None:
        plan = paste(self.rows(), "Chainage\tWidth\tColour\n10\t3\tred\n", keyed="Chainage")
        self.assertEqual(plan["told"], ["No column of the table takes “Colour”"])
        plan = paste(self.rows(), "cut\tx\t7\t9\n", row=0, col=3)
        self.assertEqual(plan["told"], ["No column of the table takes column 4 of the block"])
        plan = paste(self.rows(2), "1\n2\n3\n", row=1, col=1, grow=False)
        self.assertEqual(plan["wrong"], ["The block has 2 rows more than there is room for"])
        plan = paste(self.rows(2), "Chainage\tWidth\n99\t3\n", keyed="Chainage", grow=False)
        self.assertEqual(plan["wrong"], ["Row 1, Chainage: there is no “99” in the table"])

    def test_one_value_into_many_chosen_cells(self) -> None:
        at = {"min": {"row": 1, "col": 1}, "max": {"row": 2, "col": 1}}
        plan = asked("pastedInto", self.rows(), COLUMNS, "7", at)
        self.assertEqual([r["Width"] for r in plan["rows"]], [0, 7, 7, 3])

    @given(st.lists(st.none() | st.integers(0, 99), min_size=1, max_size=4), st.integers(0, 3))
    def test_every_figure_lands_in_the_row_it_was_copied_from(self, figures: list[int | None], row: int) -> None:
        assume(row + len(figures) <= 4)
        plan = paste(self.rows(), "".join(f"{'' if v is None else v}\n" for v in figures), row=row, col=1)
        if any(v is not None for v in figures):
            expected = [float(k) for k in range(4)]
            for k, v in enumerate(figures):
                expected[row + k] = expected[row + k] if v is None else v
            self.assertEqual([r["Width"] for r in plan["rows"]], expected)
