"""Levels that are given: the level table and profiles govern overlays and reconstruction; files of crossfalls and levels."""

import io
import random
from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from openpyxl import Workbook, load_workbook

from saddle.alignment.profile import ProfileSpec, build_profile
from saddle.errors import ImportProblem
from saddle.exchange.crossfall_csv import read_crossfalls, write_crossfalls
from saddle.exchange.level_sheet import read_levels, write_levels
from saddle.overlay.spec import CrossfallRow, CrossfallTable, LevelRow, LevelTable
from saddle.pipeline import solve
from saddle.road.levels import levels_of
from saddle.road.model import RoadModel
from saddle.standards.published import GRADE_CHANGE
from tests.cases import demo_inputs, demo_model

PROFILE = ProfileSpec.model_validate(
    {
        "name": "Graded",
        "points": [
            {"chainage": 470, "level": 88.8},
            {"chainage": 600, "level": 91.6, "length_in": 40, "length_out": 40},
            {"chainage": 780, "level": 95.0},
        ],
    }
)


def with_rule(start: float, rule: dict[str, Any] | None, **more: Any) -> RoadModel:
    ranges = [
        r.changed(work={**r.work.model_dump(), "governs": rule}) if r.from_chainage == start else r
        for r in demo_inputs().treatments.ranges
    ]
    return solve(
        replace(demo_inputs(), treatments=demo_inputs().treatments.changed(ranges=[r.model_dump() for r in ranges]), **more)
    )


class Governing(TestCase):
    def test_a_profile_governs_an_overlay_and_crossfalls_run_outward(self) -> None:
        model = with_rule(480.0, {"kind": "profile", "profile": "graded"}, profiles={"graded": PROFILE})
        c, lines = model.chainage, model.lines
        here = (c > 480) & (c < 700)
        np.testing.assert_allclose(model.hinge_level[here], build_profile(PROFILE).levels(c[here]), atol=1e-9)
        i = int(np.flatnonzero(c == 560)[0])
        d = model.depth
        known = np.isfinite(d.design[i])
        edge = np.interp(d.right[i], d.offsets[i, known], d.design[i, known])
        self.assertAlmostEqual(edge, model.hinge_level[i] + lines.right_pct[i] / 100 * (d.right[i] - lines.hinge[i]), 9)
        self.assertTrue(np.isnan(model.candidates[here]).all())  # nothing else asked for a level

    def test_turning_about_an_edge_keeps_that_edge_in_level(self) -> None:
        """Green Book (from memory): revolved about an edge, its level is the one of the normal crown all along the curve, so
        with e on both sides the hinge stands (e - e_nc) w above the inner profile and (e + e_nc) w below the outer one."""
        turns = CrossfallTable(
            rows=[CrossfallRow(chainage=480, left_pct=-2.5, right_pct=-2.5), CrossfallRow(chainage=560, left_pct=5, right_pct=-5)]
        )
        for about, hinge in (
            ("inner", (5 - 2.5) / 100),
            ("outer", -(5 + 2.5) / 100),
            ("right", 0.025),
            ("left", -0.075),
            ("hinge", 0.0),
        ):
            rule = {"kind": "profile", "profile": "graded", "about": about, "normal_pct": -2.5}
            works = [r.model_dump() for r in demo_inputs().treatments.ranges]
            for r in works:
                if r["from_chainage"] == 480:
                    r["work"] |= {"governs": rule, "left_crossfall": {"by": "table"}, "right_crossfall": {"by": "table"}}
            treatments = demo_inputs().treatments.changed(ranges=works)
            model = solve(replace(demo_inputs(), treatments=treatments, crossfalls=turns, profiles={"graded": PROFILE}))
            c, lines = model.chainage, model.lines
            i = int(np.flatnonzero(c == 600)[0])
            left = about in ("left", "outer")  # the road turns right: its left side rises
            width = lines.hinge[i] - lines.left_edge[i] if left else lines.right_edge[i] - lines.hinge[i]
            base = build_profile(PROFILE).levels(c)
            self.assertAlmostEqual(model.hinge_level[i] - base[i], hinge * width, 9, about)
            if about == "inner":
                here = (c > 480) & (c < 700)
                edge = model.hinge_level + lines.right_pct / 100 * (lines.right_edge - lines.hinge)
                normal = base - 0.025 * (lines.right_edge - lines.hinge)
                np.testing.assert_allclose(edge[here], normal[here], atol=1e-9)

    def test_graded_reconstruction_is_no_longer_bridged(self) -> None:
        model = with_rule(700.0, {"kind": "profile", "profile": "graded"}, profiles={"graded": PROFILE})
        c = model.chainage
        here = (c > 700) & (c < 760)
        np.testing.assert_allclose(model.hinge_level[here], build_profile(PROFILE).levels(c[here]), atol=1e-9)
        plain = demo_model()
        self.assertGreater(np.abs(model.hinge_level[here] - np.interp(c[here], plain.chainage, plain.hinge_level)).max(), 0.005)

    def test_a_profile_that_is_not_there_leaves_no_level_and_says_so(self) -> None:
        model = with_rule(480.0, {"kind": "profile", "profile": "gone"})
        here = (model.chainage > 480) & (model.chainage < 700)
        self.assertTrue(np.isnan(model.hinge_level[here]).all())
        problem = next(p for p in model.problems if p.code == "no_level")
        self.assertEqual((problem.subject, problem.severity), ("Levels", "fault"))

    def test_levels_that_end_early_say_so_and_a_rounded_figure_does_not(self) -> None:
        """The treatment ends at 700: levels that end 4 mm before reach it, those that end 0.4 m before leave its last section."""
        for short in (0.004, 0.4):
            points = [p.model_dump() for p in PROFILE.points]
            points[-1] |= {"chainage": 700 - short, "level": 93.5}
            profile = ProfileSpec.model_validate({"name": "Graded", "points": points})
            table = LevelTable(rows=[LevelRow(chainage=470, level=88.9), LevelRow(chainage=700 - short, level=93.0)])
            for model in (
                with_rule(480.0, {"kind": "profile", "profile": "graded"}, profiles={"graded": profile}),
                with_rule(480.0, {"kind": "level_table"}, levels=table),
            ):
                here = (
                    (model.chainage > 480)
                    & (model.chainage <= 700)
                    & (model.stations.treatment == model.stations.treatment[model.chainage == 600][0])
                )
                told = [p for p in model.problems if p.code == "no_level"]
                if short < 0.005:
                    self.assertTrue(np.isfinite(model.hinge_level[here]).all())
                    self.assertEqual(told, [])
                else:
                    (problem,) = told
                    self.assertEqual(problem.chainage_to, 700)
                    self.assertIn("the levels that govern here end 0.400 m early", problem.message)

    def test_straight_between_rows_of_the_table(self) -> None:
        table = LevelTable(rows=[LevelRow(chainage=470, level=88.9), LevelRow(chainage=720, level=94.0)])
        model = with_rule(480.0, {"kind": "level_table"}, levels=table)
        i = (
            int(np.flatnonzero(model.chainage == 595)[0])
            if (model.chainage == 595).any()
            else int(np.flatnonzero(model.chainage == 590)[0])
        )
        self.assertAlmostEqual(model.hinge_level[i], 88.9 + (model.chainage[i] - 470) / 250 * 5.1, 9)
        np.testing.assert_allclose(table.at(np.array([470.0, 595.0, 800.0])), [88.9, 91.45, np.nan])

    def test_both_candidates_are_shown_and_the_higher_is_taken(self) -> None:
        model = demo_model()
        has = np.isfinite(model.candidates).all(axis=1)
        self.assertGreater(has.sum(), 100)
        np.testing.assert_allclose(model.hinge_level[has], model.candidates[has].max(axis=1), atol=1e-9)


class CrossfallFiles(TestCase):
    TABLE = CrossfallTable(
        rows=[
            CrossfallRow(chainage=c, left_pct=a, right_pct=b)
            for c, a, b in ((0, -2.5, -2.5), (12.5, 3.125, -3.125), (1234.5, -1, 0))
        ]
    )

    def test_round_trip(self) -> None:
        self.assertEqual(read_crossfalls(write_crossfalls(self.TABLE)), self.TABLE)

    def test_as_people_write_it(self) -> None:
        for text in (
            "0;-2,5;-2,5\n12,5;3,125;-3,125\n1+234,5;−1;0",
            "Chainage\tL\tR\n0\t-2.5%\t-2.5%\n1234.5\t-1\t0\n12.5\t3.125\t-3.125\n\n",
        ):
            self.assertEqual(read_crossfalls(text), self.TABLE)

    def test_damaged_at_random(self) -> None:
        text, rng = write_crossfalls(self.TABLE), random.Random(3)
        for _ in range(500):
            i = rng.randrange(len(text))
            damaged = text[:i] + rng.choice(["", "x", ";", "\n", "9", "é"]) + text[i + rng.randrange(3) :]
            try:
                read_crossfalls(damaged)
            except ImportProblem as problem:
                self.assertTrue(problem.subject and problem.message)


class LevelSheets(TestCase):
    def test_pins_stay_and_only_changes_are_listed(self) -> None:
        data = write_levels(levels_of(demo_model()), GRADE_CHANGE, 90)
        table, changes = read_levels(data, LevelTable())
        self.assertEqual(len(changes), len(table.rows))
        pinned = LevelTable(
            rows=[r.changed(pinned=r.chainage == 560, level=r.level + (0.02 if r.chainage == 580 else 0)) for r in table.rows]
        )
        again, changes = read_levels(data, pinned)
        self.assertEqual([c.chainage for c in changes], [580.0])
        self.assertAlmostEqual(changes[0].after - (changes[0].before or 0), -0.02, 6)
        self.assertEqual([r.chainage for r in again.rows if r.pinned], [560.0])

    def test_rows_that_cannot_be_read_are_named(self) -> None:
        data = write_levels(levels_of(demo_model()), GRADE_CHANGE, 90)
        for cell, value, words in (
            ("D5", "high", "row 5"),
            ("A7", 0, "row 7: chainage 0 does not come after"),
            ("D4", None, "row 4"),
        ):
            book = load_workbook(io.BytesIO(data))
            book["Levels"][cell] = value
            out = io.BytesIO()
            book.save(out)
            with self.assertRaises(ImportProblem) as caught:
                read_levels(out.getvalue(), LevelTable())
            self.assertIn(words, caught.exception.message)
        out = io.BytesIO()
        Workbook().save(out)
        with self.assertRaises(ImportProblem):
            read_levels(out.getvalue(), LevelTable())

    def test_damaged_at_random(self) -> None:
        data, rng = write_levels(levels_of(demo_model()), GRADE_CHANGE, 90), random.Random(4)
        for _ in range(60):
            i = rng.randrange(len(data))
            damaged = data[:i] + bytes([rng.randrange(256)]) + data[i + rng.randrange(40) :]
            try:
                read_levels(damaged, LevelTable())
            except ImportProblem as problem:
                self.assertTrue(problem.message)
