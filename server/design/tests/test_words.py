"""Edits in words: what undo says before it is pressed."""

from copy import deepcopy
from typing import Any
from unittest import TestCase

from demo.documents import TEMPLATES, TREATMENTS
from design.words import told

TREATED: dict[str, Any] = TREATMENTS.model_dump(mode="json")
RURAL: dict[str, Any] = TEMPLATES["narrow"].model_dump(mode="json")


def changed(spec: dict[str, Any], *steps: tuple[list[str | int], Any]) -> str:
    after = deepcopy(spec)
    for path, value in steps:
        at: Any = after
        for step in path[:-1]:
            at = at[step]
        at[path[-1]] = value
    return told("It", spec, after)


class Told(TestCase):
    def test_one_value_says_what_it_was_and_is(self) -> None:
        place = ["ranges", 1, "work", "least_cover_mm"]
        was = TREATED["ranges"][1]["work"]["least_cover_mm"]
        low, high = (TREATED["ranges"][1][name] for name in ("from_chainage", "to_chainage"))
        self.assertEqual(changed(TREATED, (place, 58.0)), f"It, 0+{low:03.0f} to 0+{high:03.0f}: least cover {was:g} to 58 mm")
        self.assertEqual(
            changed(RURAL, (["right", "points", 0, "offset", "width"], 3.5)),
            f"It, LaneEdge: width {RURAL['right']['points'][0]['offset']['width']:g} to 3.5",
        )
        self.assertEqual(told("It", {"name": "A", "on": True}, {"name": "B", "on": True}), "It: name “A” to “B”")

    def test_rows_are_told_by_their_place(self) -> None:
        rows = [{"chainage": c, "left_pct": -2.5, "right_pct": -2.5} for c in (100.0, 200.0, 1300.0)]
        table = {"rows": rows}
        self.assertEqual(changed(table, (["rows", 1, "left_pct"], -3.0)), "It, at 0+200: left -2.5 to -3 %")
        self.assertEqual(changed(table, (["rows", 1, "left_pct"], -3.0), (["rows", 1, "right_pct"], -1.0)),
                         "It, at 0+200: left -2.5 to -3 %, right -2.5 to -1 %")  # fmt: skip
        self.assertEqual(changed(table, *((["rows", i, "left_pct"], -3.0) for i in range(3))), "It: left at 3 places")
        self.assertEqual(told("It", table, {"rows": rows[:2]}), "It, at 1+300: row removed")
        self.assertEqual(told("It", table, {"rows": [*rows, {**rows[0], "chainage": 1400.0}]}), "It, at 1+400: row added")
        self.assertEqual(told("It", {"rows": []}, table), "It: row at 3 places")

    def test_another_kind_of_thing_is_told_as_one(self) -> None:
        self.assertEqual(
            told("It", {"width": {"by": "fixed", "left": 20}}, {"width": {"by": "line", "margin": 1}}),
            "It: width “fixed” to “line”",
        )
        self.assertEqual(told("It", {"a": 1}, {"a": 1}), "It changed")
