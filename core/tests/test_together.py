"""Surveys beside each other, and edits by hand, against lists of numbers that are edited in the plainest way."""

from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.terrain.in_use import GapOpened, LinesJoined, LineSplit, LineThrough, PointEdit, PointRef
from saddle.terrain.survey import Survey, chains, polylines
from saddle.terrain.together import Layer, in_words, put_together

Lines = dict[tuple[str, str], list[str]]


def survey_of(lines: Lines, alone: list[str] = []) -> Survey:  # noqa: B006
    """Points 1 m apart along lines 10 m apart, with points of code GS that are on none."""
    numbers, xyz, code, line, segments = [], [], [], [], []
    for row, ((of, name), members) in enumerate(lines.items()):
        for k, number in enumerate(members):
            numbers.append(number)
            xyz.append((float(k), 10.0 * row, 100.0 + k))
            code.append(of)
            line.append(name)
            if k:
                segments.append((len(numbers) - 2, len(numbers) - 1))
    for k, number in enumerate(alone):
        numbers.append(number)
        xyz.append((k + 0.5, 5.0, 100.0))
        code.append("GS")
        line.append("")
    return Survey(
        np.array(numbers), np.array(xyz), np.array(code), np.array(line), np.array(segments, dtype=np.intp).reshape(-1, 2)
    )


def lines_of(survey: Survey) -> Lines:
    return {(str(survey.code[c[0]]), str(survey.line[c[0]])): [str(n) for n in survey.number[c]] for c in chains(survey)}


THREE: Lines = {("EP", "1"): list("abcde"), ("EP", "2"): list("fgh"), ("CL", "1"): list("klmn")}


def edited(*edits: Any, lines: Lines = THREE, alone: list[str] = ["x", "y"]) -> tuple[Survey, tuple[str, ...]]:  # noqa: B006
    done = put_together(survey_of(lines, alone), (), edits)
    return done.survey, done.told


def ref(number: str, code: str = "EP") -> PointRef:
    return PointRef(number=number, code=code)


class EditsByHand(TestCase):
    def test_a_level_goes_to_every_point_of_the_number_there(self) -> None:
        survey, told = edited(
            LineThrough(code="DR", name="1", points=[ref("a"), ref("k", "CL")]), PointEdit(of=ref("a"), level=7.5)
        )
        self.assertEqual(told, ())
        self.assertEqual(survey.xyz[survey.number == "a", 2].tolist(), [7.5, 7.5])
        self.assertEqual(survey.xyz[survey.number == "b", 2].tolist(), [101.0])

    def test_a_point_of_another_code_leaves_its_line_which_goes_on(self) -> None:
        survey, _ = edited(PointEdit(of=ref("c"), code="GS"))
        self.assertEqual(lines_of(survey)["EP", "1"], list("abde"))
        at = list(survey.number).index("c")
        self.assertEqual((survey.code[at], survey.line[at]), ("GS", ""))

    def test_a_point_goes_into_a_line_where_it_is_nearest(self) -> None:
        survey, _ = edited(PointEdit(of=ref("c"), line=""), PointEdit(of=ref("c"), line="1"))
        self.assertEqual(lines_of(survey)["EP", "1"], list("abcde"))
        beyond, _ = edited(PointEdit(of=ref("e"), line=""), PointEdit(of=ref("e"), line="1"))
        self.assertEqual(lines_of(beyond)["EP", "1"], list("abcde"))

    def test_a_line_is_drawn_through_points_and_closed(self) -> None:
        survey, _ = edited(LineThrough(code="GS", name="9", points=[ref("x", "GS"), ref("y", "GS"), ref("b"), ref("x", "GS")]))
        self.assertEqual(lines_of(survey)["GS", "9"], list("xybx"))
        self.assertEqual(lines_of(survey)["EP", "1"], list("abcde"))
        self.assertEqual(len(survey.number), 15)  # b is on both: it stands twice

    def test_a_gap_a_split_and_a_join(self) -> None:
        survey, _ = edited(GapOpened(code="EP", name="1", between=("c", "b")))
        self.assertEqual((lines_of(survey)["EP", "1"], lines_of(survey)["EP", "1-2"]), (list("ab"), list("cde")))
        survey, _ = edited(LineSplit(code="EP", name="1", at="c"))
        self.assertEqual((lines_of(survey)["EP", "1"], lines_of(survey)["EP", "1-2"]), (list("abc"), list("cde")))
        survey, _ = edited(GapOpened(code="EP", name="1", between=("b", "c")), LinesJoined(code="EP", name="1-2", other="1"))
        self.assertEqual(lines_of(survey)["EP", "1-2"], list("abcde"))
        survey, _ = edited(LineSplit(code="EP", name="1", at="c"), LinesJoined(code="EP", name="1", other="1-2"))
        self.assertEqual(lines_of(survey)["EP", "1"], list("abcde"))

    def test_a_ring_opens_and_stays_one_line(self) -> None:
        ring = LineThrough(code="GS", name="9", points=[ref("x", "GS"), ref("y", "GS"), ref("b"), ref("x", "GS")])
        survey, _ = edited(ring, GapOpened(code="GS", name="9", between=("y", "b")))
        self.assertEqual(lines_of(survey)["GS", "9"], list("bxy"))
        survey, _ = edited(ring, PointEdit(of=ref("x", "GS"), line=""))
        self.assertEqual(sorted(lines_of(survey)["GS", "9"]), list("by"))

    def test_what_meets_nothing_is_told_and_the_rest_is_done(self) -> None:
        survey, told = edited(
            PointEdit(of=ref("z"), level=1.0), GapOpened(code="EP", name="1", between=("a", "c")), LineSplit(code="EP", name="1", at="a"),
            LinesJoined(code="EP", name="1", other="7"), LineThrough(code="EP", name="2", points=[ref("x", "GS"), ref("y", "GS")]),
            LineThrough(code="EP", name="9", points=[ref("x", "GS"), ref("y", "GS"), ref("x", "GS"), ref("a")]),
            PointEdit(of=ref("a"), level=50.0),
        )  # fmt: skip
        self.assertEqual([t.split(",")[0] for t in told], [f"edit {k}" for k in range(1, 7)])
        self.assertIn("point z", told[0])
        self.assertEqual(float(survey.xyz[0, 2]), 50.0)
        self.assertEqual(lines_of(survey), THREE)

    @given(st.data())
    def test_against_lists_of_numbers(self, data: st.DataObject) -> None:
        """Gaps, splits, joins and points that leave: after each the product's lines are those of plain lists."""
        names = [f"p{k}" for k in range(data.draw(st.integers(4, 14)))]
        cut = data.draw(st.integers(2, len(names) - 2))
        plain: Lines = {("EP", "1"): names[:cut], ("EP", "2"): names[cut:]}
        start, edits = survey_of(plain), []
        doubled: set[str] = set()
        for _ in range(data.draw(st.integers(1, 5))):
            mine = {name: members for (_, name), members in plain.items()}
            name = data.draw(st.sampled_from(sorted(mine)))
            members = mine[name]
            free = next(f"{name}-{k}" for k in range(2, 99) if f"{name}-{k}" not in mine)
            match data.draw(st.sampled_from(["gap", "split", "off"])):
                case "gap":
                    k = data.draw(st.integers(0, len(members) - 2))
                    edits.append(GapOpened(code="EP", name=name, between=(members[k], members[k + 1])))
                    parts = {name: members[: k + 1], free: members[k + 1 :]}
                case "split" if len(members) > 2:
                    k = data.draw(st.integers(1, len(members) - 2))
                    edits.append(LineSplit(code="EP", name=name, at=members[k]))
                    doubled.add(members[k])
                    parts = {name: members[: k + 1], free: members[k:]}
                case _:
                    gone = data.draw(st.sampled_from(members))
                    if gone in doubled:
                        continue  # the number stands for two points
                    edits.append(PointEdit(of=ref(gone), line=""))
                    parts = {name: [m for m in members if m != gone]}
            mine.update(parts)
            plain = {("EP", n): m for n, m in mine.items() if len(m) > 1}
            if not plain:
                break
        done = put_together(start, (), edits)
        self.assertEqual(done.told, ())
        self.assertEqual(lines_of(done.survey), plain)
        for line in polylines(done.survey):
            self.assertGreater(len(line.points), 1)
        self.assertTrue(all(in_words(e) for e in edits))


class Beside(TestCase):
    def test_points_of_both_count_and_names_stay_apart(self) -> None:
        first, second = survey_of(THREE), survey_of({("EP", "1"): list("abq")})
        done = put_together(first, [Layer(second)])
        self.assertEqual(done.before, 15)
        self.assertEqual(lines_of(done.survey), {**THREE, ("EP", "1+"): ["a+", "b+", "q"]})

    def test_one_is_cut_to_the_line_of_a_code(self) -> None:
        ring: Lines = {("BD", "1"): ["r1", "r2"], ("BD", "2"): ["r3", "r4"]}
        border = survey_of(ring)
        border.xyz[:, :2] = [(0.5, -1), (2.5, -1), (0.5, 1), (2.5, 1)]
        second = survey_of({("EP", "1"): list("abcde")})
        cut = put_together(border, [Layer(second, "BD", "second")])
        self.assertEqual(cut.told, ())
        self.assertEqual(lines_of(cut.survey)["EP", "1"], ["b", "c"])
        whole = put_together(border, [Layer(second, "XX", "second")])
        self.assertIn("second: there is no line of code XX", whole.told[0])
        self.assertEqual(lines_of(whole.survey)["EP", "1"], list("abcde"))
