"""Codes of the field: taken apart piece by piece, lines made in measuring order, and random surveys written in every grammar and read
back. Codes, words and their order are common practice; each office has its own."""

import math
import random
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.errors import ImportProblem
from saddle.exchange.code_guess import GRAMMARS
from saddle.exchange.field_codes import CHORD, lines_from_codes, pieces_of, strung
from saddle.terrain.spec import CodeGrammar, Control
from saddle.terrain.survey import collect, polylines
from saddle.terrain.table import SurveyTable
from tests.depth import many

BEHIND, BEFORE, DOT, HYPHEN = (
    GRAMMARS[n]
    for n in ("letters behind, by a space", "letters before, by a space", "letters behind a dot", "lines behind a hyphen")
)


def table(codes: list[str], xyz: np.ndarray | None = None) -> SurveyTable:
    n = len(codes)
    at = np.column_stack([np.arange(n) * 10.0, np.zeros(n), np.arange(n) / 10]) if xyz is None else xyz
    return SurveyTable([str(k + 1) for k in range(n)], at, codes, [""] * n, np.arange(n), np.arange(2, n + 2))


def lines(codes: list[str], grammar: CodeGrammar, xyz: np.ndarray | None = None) -> dict[tuple[str, str], list[float]]:
    """Eastings of every line."""
    found, _ = lines_from_codes(table(codes, xyz), grammar)
    return {(p.code, p.name): p.points[:, 0].tolist() for p in polylines(collect(found))}


class Pieces(TestCase):
    def test_a_code_is_taken_apart_without_a_rest(self) -> None:
        for text, grammar, expected in (
            ("EP1", BEHIND, [("EP", "1", [])]),
            ("EP1 B", BEHIND, [("EP", "1", ["begin"])]),
            ("b ep1", BEFORE, [("ep", "1", ["begin"])]),
            ("EP1.B.PC DR2", DOT, [("EP", "1", ["begin", "curve"]), ("DR", "2", [])]),
            ("EP-L ST CL", HYPHEN, [("EP", "L", ["begin"]), ("CL", "", [])]),
            ("B EP1 PC DR1", BEFORE, [("EP", "1", ["begin"]), ("DR", "1", ["curve"])]),
            ("EP1 B DR1 E", BEHIND, [("EP", "1", ["begin"]), ("DR", "1", ["end"])]),
            ("E", BEHIND, [("E", "", [])]),
            ("E B", BEHIND, [("E", "", ["begin"])]),
            ("", BEHIND, []),
            ("  ", BEHIND, []),
        ):
            pieces = pieces_of(text, grammar)
            self.assertEqual("".join(p.text for p in pieces), text)
            self.assertEqual([(s.code, s.line, s.controls) for s in strung(pieces, grammar)], expected, text)

    def test_what_follows_the_sign_of_a_remark_is_none_of_it(self) -> None:
        grammar = BEHIND.changed(remark="//")
        pieces = pieces_of("EP1 B //by the gate E", grammar)
        self.assertEqual((pieces[-1].kind, pieces[-1].text), ("remark", "//by the gate E"))
        self.assertEqual(strung(pieces, grammar)[0].controls, ["begin"])


class Lines(TestCase):
    def test_the_same_code_in_measuring_order_makes_a_line(self) -> None:
        self.assertEqual(
            lines(["EP1", "CL", "EP2", "EP2", "CL", "EP1", "KT"], BEHIND),
            {("EP", "1"): [0, 50], ("CL", "1"): [10, 40], ("EP", "2"): [20, 30]},
        )

    def test_words_begin_end_and_close(self) -> None:
        self.assertEqual(
            lines(["EP B", "EP", "EP E", "EP", "EP", "EP B", "EP"], BEHIND),
            {("EP", "1"): [0, 10, 20], ("EP", "1.2"): [30, 40], ("EP", "1.3"): [50, 60]},
        )
        ring = np.array([[0, 0, 1], [9, 0, 1], [9, 7, 1], [0, 7, 2.0]])
        self.assertEqual(lines(["PD B", "PD", "PD", "PD C"], BEHIND, ring), {("PD", "1"): [0, 9, 9, 0, 0]})

    def test_a_point_of_two_lines_belongs_to_both_and_one_of_none_is_kept(self) -> None:
        codes = ["EP1", "EP1 DR1", "DR1", "GR", "EP1"]
        grammar = BEHIND.changed(points=["GR"])
        self.assertEqual(lines(codes, grammar), {("EP", "1"): [0, 10, 40], ("DR", "1"): [10, 20]})
        found, _ = lines_from_codes(table(codes), grammar)
        self.assertEqual(found.number, ["1", "2", "3", "4", "5", "2/DR"])
        self.assertEqual((found.code[3], found.line[3]), ("GR", ""))
        np.testing.assert_array_equal(found.xyz[5], found.xyz[1])

    def test_a_long_jump_breaks_a_line_and_is_told(self) -> None:
        xyz = np.array([[0, 0, 0], [10, 0, 0], [200, 0, 0], [210, 0, 0.0]])
        found, told = lines_from_codes(table(["EP"] * 4, xyz), BEHIND)
        self.assertEqual([p.points[:, 0].tolist() for p in polylines(collect(found))], [[0, 10], [200, 210]])
        self.assertEqual([(t.row, t.reason) for t in told], [(4, "EP is broken between 2 and 3, which are 190.0 m apart")])
        whole, _ = lines_from_codes(table(["EP"] * 4, xyz), BEHIND.changed(longest=1000))
        self.assertEqual(len(polylines(collect(whole))), 1)

    def test_curves_lie_on_the_circle_through_their_points(self) -> None:
        angles = np.radians([0, 25, 60, 80, 100])
        for turn in (1, -1):
            centre, radius = np.array([412_300.0, 286_500.0]), 18.0
            on = centre + radius * np.column_stack([np.cos(turn * angles), np.sin(turn * angles)])
            xyz = np.column_stack([on, np.linspace(50, 51, 5)])
            found, told = lines_from_codes(table(["KB B PC", "KB", "KB", "KB", "KB PT"], xyz), BEHIND)
            self.assertEqual(told, [])
            (line,) = polylines(collect(found))
            np.testing.assert_allclose(np.hypot(*(line.points[:, :2] - centre).T), radius, atol=1e-6)
            # Its length is that of the arc, less what chords of 10 mm rise lose: 2/3 of (2 f / R) of it.
            length = np.hypot(*np.diff(line.points[:, :2], axis=0).T).sum()
            self.assertAlmostEqual(length, radius * np.radians(100), delta=radius * np.radians(100) * 2 * CHORD / radius)
            self.assertTrue((np.diff(line.points[:, 2]) > 0).all())
            for p in xyz:
                self.assertTrue((line.points == p).all(axis=1).any(), "measured points stay as they are")

    def test_what_cannot_be_a_curve_is_straight_and_told(self) -> None:
        found, told = lines_from_codes(table(["KB PC", "KB PT", "KB PT"]), BEHIND)
        self.assertEqual(len(found.number), 3)
        self.assertEqual(
            [t.reason.split(",")[0] for t in told],
            ["a curve without a point between its ends is drawn straight", "KB: a curve ends that never began"],
        )
        with self.assertRaisesRegex(ImportProblem, "no code is left"):
            lines_from_codes(table(["", " "]), BEHIND)


WORDS: dict[Control, dict[str, str]] = {
    "begin": {"letters": "B", "words": "ST"}, "end": {"letters": "E", "words": "END"}, "close": {"letters": "C", "words": "CLS"},
}  # fmt: skip


def write(code: str, line: str, controls: list[Control], name: str) -> str:
    """A code as a surveyor of some habit would write it; shares nothing with the reader."""
    words = [WORDS[c]["words" if name.startswith(("words", "lines")) else "letters"] for c in controls]
    whole = f"{code}-{line}" if "hyphen" in name else f"{code}{line}"
    if "dot" in name:
        return ".".join([whole, *words])
    return " ".join([*words, whole] if "before" in name else [whole, *words])


habits = st.sampled_from([n for n, g in GRAMMARS.items() if g.controls])
features = st.lists(
    st.tuples(st.sampled_from(["EP", "CL", "KT", "DR"]), st.integers(2, 6), st.booleans()), min_size=1, max_size=6
)


class Oracle(TestCase):
    @settings(max_examples=many(150))
    @given(habits, features, st.randoms(use_true_random=False))
    def test_a_survey_written_in_any_grammar_gives_its_lines_back(self, name: str, wanted: list, random) -> None:  # type: ignore[no-untyped-def,type-arg]
        tracks = []
        for k, (code, count, closed) in enumerate(wanted):
            closed = closed and count > 2
            line = chr(ord("A") + k) if "hyphen" in name else str(k + 1)
            points = [(random.uniform(0, 40), random.uniform(0, 40), random.uniform(0, 5)) for _ in range(count)]
            tracks.append((code, line, points, closed))
        # Measured by turns: each line in its own order, all of them mixed.
        turns = [k for k, (_, _, points, _) in enumerate(tracks) for _ in points]
        random.shuffle(turns)
        at = [0] * len(tracks)
        codes, xyz = [], []
        for k in turns:
            code, line, points, closed = tracks[k]
            controls: list[Control] = (
                ["begin"] if at[k] == 0 else ["close" if closed else "end"] if at[k] == len(points) - 1 else []
            )
            codes.append(write(code, line, controls, name))
            xyz.append(points[at[k]])
            at[k] += 1
        found, told = lines_from_codes(table(codes, np.array(xyz)), GRAMMARS[name])
        self.assertEqual(told, [])
        got = {(p.code, p.name): [tuple(v) for v in p.points.tolist()] for p in polylines(collect(found))}
        expected = {(code, line): points + (points[:1] if closed else []) for code, line, points, closed in tracks}
        self.assertEqual(got, expected)
        self.assertEqual(len(set(found.number)), len(found.number))


class AlongTheRoad(TestCase):
    """Roads made line by line here, surveyed in an order that has nothing to do with the lines."""

    def road(self, seed: int, order: str) -> tuple[SurveyTable, list[list[str]], np.ndarray]:
        """The survey, the numbers of the points of each true line in order, and the true way."""
        rng = random.Random(seed)
        heading, east, north = rng.uniform(0, 6.28), 4e5, 2e5
        bend = rng.uniform(-1, 1) / 120
        lines = {"EPl": -4.0, "CL": 0.0, "EPr": 4.0, "DIl": -7.5, "DIr": 7.5}
        names: dict[str, list[str]] = {name: [] for name in lines}
        crossings: list[list[tuple[str, str, tuple[float, float, float]]]] = []
        way = []
        for k in range(60):
            east, north = east + 8 * math.sin(heading), north + 8 * math.cos(heading)
            heading += 8 * bend
            way.append((east, north))
            row = []
            for name, offset in sorted(lines.items(), key=lambda i: i[1]):
                o = offset + rng.uniform(-0.3, 0.3)
                a = rng.uniform(-0.3, 0.3)  # nobody stands quite square to the road
                place = (
                    east + o * math.cos(heading) + a * math.sin(heading), north - o * math.sin(heading) + a * math.cos(heading), 50 + k / 10,
                )  # fmt: skip
                row.append((name, f"{name}{k}", place))
                names[name].append(f"{name}{k}")
            crossings.append(row)
        if order == "zigzag":
            walked = [p for k, row in enumerate(crossings) for p in (row if k % 2 == 0 else row[::-1])]
        elif order == "there and back":
            walked = [p for row in crossings for p in row[:3]] + [p for row in crossings[::-1] for p in row[3:]]
        else:
            walked = [p for row in crossings for p in row]
            rng.shuffle(walked)
        code = [name[:2] for name, _, _ in walked]
        n = len(walked)
        table = SurveyTable(
            [number for _, number, _ in walked], np.array([p for *_, p in walked]), code, [""] * n, np.arange(n), np.arange(2, n + 2),
        )  # fmt: skip
        return table, list(names.values()), np.array(way)

    @settings(max_examples=many(40))
    @given(st.integers(0, 10_000), st.sampled_from(["zigzag", "there and back", "by chance"]))
    def test_lines_are_joined_along_the_road_whatever_the_order(self, seed: int, order: str) -> None:
        table, true, way = self.road(seed, order)
        grammar = CodeGrammar(along=True, longest=30)
        with_lines, told = lines_from_codes(table, grammar, way)
        self.check(with_lines, true)
        self.assertEqual(told, [])
        if order == "zigzag":  # without an alignment the way is found in the survey itself
            self.check(lines_from_codes(table, grammar)[0], true)
            self.check(lines_from_codes(table, grammar, way + 1e6)[0], true)  # nor is a road used that lies elsewhere
        measured, _ = lines_from_codes(table, CodeGrammar(longest=30))
        self.assertLess(len(polylines(collect(measured))), 5 if order == "zigzag" else 999)

    def check(self, table: SurveyTable, true: list[list[str]]) -> None:
        at = {tuple(p): n for p, n in zip(np.round(table.xyz, 6).tolist(), table.number, strict=True)}
        found = {tuple(at[tuple(p)] for p in np.round(line.points, 6).tolist()) for line in polylines(collect(table))}
        either = {min(line, line[::-1]) for line in found}
        self.assertEqual(either, {min(tuple(t), tuple(t[::-1])) for t in true})

    def test_a_gap_is_told(self) -> None:
        table, _, way = self.road(3, "zigzag")
        kept = [k for k in range(len(table.number)) if not 20 <= int(table.number[k].lstrip("EPCLDIlr")) < 30]
        part = SurveyTable(
            [table.number[k] for k in kept],
            table.xyz[kept],
            [table.code[k] for k in kept],
            [""] * len(kept),
            np.arange(len(kept)),
            np.arange(len(kept)),
        )
        with_lines, told = lines_from_codes(part, CodeGrammar(along=True, longest=30), way)
        self.assertEqual((len(polylines(collect(with_lines))), len(told)), (10, 5))
        self.assertRegex(told[0].reason, r"is broken between \w+19 and \w+30, which are 8\d\.\d m apart")
