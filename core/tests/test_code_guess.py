"""What is guessed of the codes of a file nobody here has seen: ways of writing, words, codes of points alone. Random roads are written
with random codes and words; what was written must be found out. Codes and words are common practice, or nobody's."""

import random
import string
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.exchange.code_guess import GRAMMARS, guess_grammar
from saddle.exchange.field_codes import lines_from_codes
from saddle.terrain.spec import CodeList, CodeRule, guess_rule
from saddle.terrain.survey import collect, polylines
from tests.depth import many
from tests.test_field_codes import table


class Usual(TestCase):
    def test_the_usual_way_that_fits_is_taken(self) -> None:
        for codes, expected in (
            (["EP1 ST", "EP1", "EP1 END", "CL1 ST"], "words behind, by a space"),
            (["EP1 B", "EP1", "CL1 B", "EP1 E"], "letters behind, by a space"),
            (["EP1.B", "EP1", "EP1.PC", "EP1.PT"], "letters behind a dot"),
            (["EP-L ST", "EP-L", "EP-R ST", "EP-R"], "lines behind a hyphen"),
        ):
            self.assertEqual(guess_grammar(table(codes)).grammar, GRAMMARS[expected], codes)
        self.assertEqual(guess_grammar(table(["EP1", "GR", "PIT4"])).grammar.points, ["GR", "PIT"])
        self.assertEqual(guess_grammar(table(["E", "C", "B", "E"])).grammar.controls, [], "words that stand alone are codes")

    def test_what_the_list_says_of_a_code_counts(self) -> None:
        known = CodeList(rules=[CodeRule(code="TREE", meaning="ground"), CodeRule(code="GR", meaning="edge")])
        self.assertEqual(guess_grammar(table(["TREE", "GR", "TREE"]), known).grammar.points, ["TREE"])

    def test_a_word_is_more_than_how_a_code_begins(self) -> None:
        meanings = {
            "EP": "edge", "EP1": "edge", "EPL": "edge", "epl2": "edge", "EP-L": "edge", "Ditch": "ditch", "WP16": "wheel path",
            "SPUR": "other", "CREEK": "other", "DIRT": "other", "SHED": "other", "CLIFF": "other", "": "other", "7": "other",
        }  # fmt: skip
        self.assertEqual({code: guess_rule(code).meaning for code in meanings}, meanings)


class Words(TestCase):
    def test_words_that_nobody_told(self) -> None:
        rows = ["AX1 GO", *["AX1"] * 4, "AX1 OFF", "RD2 GO", *["RD2"] * 4, "RD2 OFF"]
        guess = guess_grammar(table(rows))
        self.assertEqual({c.word: c.means for c in guess.grammar.controls}, {"GO": "begin", "OFF": "end"})
        self.assertEqual(guess.why[0], "GO is taken for a word: lines begin at 2 points")

    def test_a_second_code_of_a_point_is_no_word(self) -> None:
        for rows in (["EP1", "EP1 DR1", "EP1 DR1", "EP1 DR1", "EP1"], ["EP1", "EP1 TREE", "EP1", "EP1 TREE", "EP1"]):
            self.assertEqual(guess_grammar(table(rows)).grammar.controls, [], rows)

    @settings(max_examples=many(60), deadline=None)
    @given(st.randoms(use_true_random=False), st.booleans(), st.booleans())
    def test_random_words_of_random_lines(self, rng: random.Random, before: bool, mixed: bool) -> None:
        letters = [a + b for a in string.ascii_uppercase for b in string.ascii_uppercase if a + b not in ("ST", "PC", "PT")]
        codes, (begin, end) = rng.sample(letters, 4), rng.sample(["GO", "START", "ANF", "DEB", "XX", "Q"], 2)
        lines = [(f"{rng.choice(codes)}{k + 1}", rng.randint(3, 8)) for k in range(rng.randint(2, 6))]
        left = [[code, count, 0] for code, count in lines]
        order = [k for k, (_, count) in enumerate(lines) for _ in range(count)]
        if mixed:
            rng.shuffle(order)
        rows, of = [], []
        for k in order:
            code, count, done = left[k]
            words = [begin] if done == 0 else [end] if done == count - 1 else []  # type: ignore[operator]
            rows.append(" ".join([*words, code] if before else [code, *words]))  # type: ignore[list-item]
            of.append(k)
            left[k][2] += 1  # type: ignore[operator]
        grammar = guess_grammar(table(rows)).grammar.changed(longest=1e6)
        self.assertLessEqual({(begin, "begin"), (end, "end")}, {(c.word, c.means) for c in grammar.controls})
        made = polylines(collect(lines_from_codes(table(rows), grammar)[0]))
        east = [10.0 * k for k in range(len(rows))]
        self.assertEqual(
            sorted(p.points[:, 0].tolist() for p in made),
            sorted([x for x, k in zip(east, of, strict=True) if k == line] for line in range(len(lines))),
        )


class LyingAbout(TestCase):
    @settings(max_examples=many(25), deadline=None)
    @given(st.integers(0, 10_000), st.sampled_from([0, 60, 400]), st.booleans(), st.booleans())
    def test_ground_that_lies_about_and_lines_across_the_road(self, seed: int, scattered: int, across: bool, road: bool) -> None:
        rng = np.random.default_rng(seed)
        length, bend = 600.0, rng.uniform(-1, 1) / 400
        s = np.arange(0, length, rng.uniform(6, 15))

        def place(along: np.ndarray, offset: np.ndarray) -> np.ndarray:
            heading = bend * along
            middle = np.column_stack([np.sin(heading) / bend, (1 - np.cos(heading)) / bend])
            return middle + offset[:, None] * np.column_stack([np.sin(heading), -np.cos(heading)])

        points: list[tuple[str, np.ndarray]] = []
        rows = [("RA", -3.5), ("AC", 0.0), ("RA", 3.5)]
        for k, at in enumerate(s) if across else ():
            for code, offset in rows if k % 2 == 0 else rows[::-1]:
                points.append((code, place(np.array([at]), np.array([offset + rng.normal(0, 0.04)]))[0]))
        for code, offset in () if across else rows:
            # The right edge is measured on the way back.
            points += [
                (f"{code}{1 if offset < 0 else 2}", p) for p in place(s if offset <= 0 else s[::-1], np.full(len(s), offset))
            ]
        where = place(rng.uniform(0, length, scattered), rng.uniform(4, 20, scattered) * rng.choice([-1, 1], scattered))
        points += [("XG", p) for p in where]
        xyz = np.array([[5e5 + p[0], 4e6 + p[1], 90.0] for _, p in points])
        way = place(np.arange(0, length, 5.0), np.zeros(int(length / 5))) + (5e5, 4e6)
        guess = guess_grammar(table([code for code, _ in points], xyz), way=way if road else None)
        self.assertEqual(guess.grammar.points, ["XG"] if scattered else [])
        fro = ["RA goes to and fro as it was measured; along the road it makes 2 lines"] if across else []
        self.assertEqual([w for w in guess.why if w.startswith("RA")], fro)
