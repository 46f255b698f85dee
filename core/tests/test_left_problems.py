"""Problems that are left: what stays left, and what comes back."""

from dataclasses import replace
from io import BytesIO
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from saddle.exchange.tables import problems_xlsx
from saddle.findings.left import LeftProblem, reason_for
from saddle.problem import Problem

DEEP = Problem("deep", "caution", 100.0, 140.0, "Overlay", "overlay is up to 184 mm deep", 0.184, 0.170)
NAMED = Problem("outside", "fault", 1610.0, 1610.0, "Sections", "the remark “Gate” lies beyond the road")


def left(p: Problem, reason: str = "agreed on site") -> LeftProblem:
    return LeftProblem(
        code=p.code, subject=p.subject, from_chainage=p.chainage_from, to_chainage=p.chainage_to, message=p.message,
        measured=p.measured, limit=p.limit, reason=reason,
    )  # fmt: skip


class Left(TestCase):
    def test_as_it_was(self) -> None:
        for problem in (DEEP, NAMED):
            self.assertEqual(reason_for(problem, [left(DEEP), left(NAMED)]), "agreed on site")
        self.assertIsNone(reason_for(DEEP, [left(NAMED)]))

    @given(st.floats(-60, 60), st.floats(-60, 60), st.floats(0.171, 0.4), st.floats(0.10, 0.17))
    def test_comes_back_when_it_grows(self, a: float, b: float, measured: float, limit: float) -> None:
        low, high = sorted((100.0 + a, 140.0 + b))
        now = replace(
            DEEP,
            chainage_from=low,
            chainage_to=high,
            measured=measured,
            limit=limit,
            message=f"overlay is up to {1000 * measured:.0f} mm deep",
        )
        longer = low < 100.0 - 1e-6 or high > 140.0 + 1e-6
        worse = measured - limit > 0.014 + 1e-6
        near = abs(measured - limit - 0.014) < 2e-6 or abs(low - 100) < 1e-4 or abs(high - 140) < 1e-4
        if not near:
            self.assertEqual(reason_for(now, [left(DEEP)]) is None, longer or worse)

    def test_another_one_of_the_same_kind_is_no_reason(self) -> None:
        self.assertIsNone(reason_for(replace(NAMED, message="the remark “Mast” lies beyond the road"), [left(NAMED)]))
        self.assertIsNone(reason_for(replace(DEEP, subject="Levels"), [left(DEEP)]))
        sides = [replace(DEEP, message=f"cover is 40 mm, at least 50 mm is asked for, {side}") for side in ("left", "right")]
        self.assertIsNone(reason_for(sides[1], [left(sides[0])]), "the other side")
        pits = [replace(DEEP, message=f"0.5 m over PIT{n}, at least 0.6 m") for n in (1, 2)]
        self.assertIsNone(reason_for(pits[1], [left(pits[0])]), "another pit")

    def test_printed_with_the_reason(self) -> None:
        sheet = load_workbook(BytesIO(problems_xlsx([DEEP, NAMED], [left(NAMED, "=gone next year")])))["Problems"]
        rows = [[c.value for c in row] for row in sheet.iter_rows(min_row=2)]
        self.assertEqual(rows[0], [100, 140, "caution", "Overlay", "overlay is up to 184 mm deep", None])
        self.assertEqual(rows[1][4:], ["the remark “Gate” lies beyond the road", "'=gone next year"])
