"""Cells of a make-up: what is written of a course is read again as the same, and what is no coat says what one is."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from rules.asked import asked

FIGURE = st.integers(1, 9000).map(lambda v: v / 1000)
END = st.one_of(
    st.just({"kind": "flush"}), FIGURE.map(lambda v: {"kind": "carry", "distance": v}),
    FIGURE.map(lambda v: {"kind": "under_kerb", "behind": v}), st.integers(20, 5000).map(lambda v: {"kind": "batter", "one_in": v / 1000}),
)  # fmt: skip
COAT = st.fixed_dictionaries(
    {"name": st.sampled_from(["Tack coat", "Prime", "Prime 2", "Seal, first"]), "rate": FIGURE.filter(lambda v: v >= 0.01)}
)
COURSE = st.fixed_dictionaries(
    {
        "name": st.sampled_from(["Base", "Sub-base 2"]), "material": st.just("gravel"),
        "thickness_mm": st.integers(1, 5000) | st.just("lane thickness"), "outer_thickness_mm": st.none() | st.integers(1, 5000),
        "inner": END, "outer": END | st.just({"kind": "to_slope"}), "coat": st.none() | COAT,
    }
)  # fmt: skip


class Courses(TestCase):
    @given(COURSE)
    def test_what_is_written_of_a_course_is_read_again(self, course: Any) -> None:
        found = asked("courseAgain", course)
        self.assertEqual(found, {"again": course, "wrong": []})

    def test_coats_in_the_ways_they_are_typed(self) -> None:
        for text in ("Tack coat 0.3", "Tack coat 0,3 kg/m2", "  Tack coat   0.30 kg/m² ", "Tack coat 0.3KG/M²"):
            self.assertEqual(asked("readCoat", text)["value"], {"name": "Tack coat", "rate": 0.3}, text)
        for text in ("Tack coat", "0.3", "Tack coat 0", "Tack coat 50", "Tack coat -1"):
            told = asked("readCoat", text)
            self.assertIsNone(told["value"], text)
            self.assertTrue(told["wrong"])
