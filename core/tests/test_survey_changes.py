"""What changed between two surveys, against a slow count point by point."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.terrain.survey import Survey
from saddle.terrain.survey_changes import changes

POINT = st.tuples(st.integers(0, 9), st.integers(0, 2), st.integers(0, 2), st.integers(0, 2), st.sampled_from("AB"))


def survey(points: list[tuple[int, int, int, int, str]]) -> Survey:
    rows = list({p[0]: p for p in points}.values())
    xyz = np.array([p[1:4] for p in rows], dtype=float).reshape(-1, 3)
    text = [np.array([str(p[k]) for p in rows], dtype=object) for k in (0, 4)]
    return Survey(text[0], xyz, text[1], np.full(len(rows), "", dtype=object), np.empty((0, 2), dtype=int))


class Changes(TestCase):
    @given(st.lists(POINT, max_size=8), st.lists(POINT, max_size=8))
    def test_against_counting(self, one: list[tuple[int, int, int, int, str]], two: list[tuple[int, int, int, int, str]]) -> None:
        a, b = {p[0]: p for p in one}, {p[0]: p for p in two}
        both = a.keys() & b.keys()
        moved = {n for n in both if a[n][1:4] != b[n][1:4]}
        found = changes(survey(one), survey(two))
        self.assertEqual((found.same, found.moved), (len(both - moved), len(moved)))
        self.assertEqual((found.only_first, found.only_second), (len(a.keys() - both), len(b.keys() - both)))
        self.assertEqual(found.recoded, sum(a[n][4] != b[n][4] for n in both))
        self.assertEqual({m.number for m in found.listed}, {str(n) for n in moved})
        self.assertAlmostEqual(abs(found.rise), max((abs(b[n][3] - a[n][3]) for n in moved), default=0))

    def test_a_level_by_hand(self) -> None:
        found = changes(survey([(1, 0, 0, 0, "A")]), survey([(1, 1, 0, 2, "B")]))
        self.assertEqual((found.farthest, found.rise, found.recoded), (1, 2, 1))
        self.assertEqual((found.listed[0].east, found.listed[0].by, found.listed[0].rise), (1, 1, 2))
