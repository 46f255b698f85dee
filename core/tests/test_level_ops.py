"""Operations on adopted levels: by hand, against a second way, and what stays as it is."""

from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter
from scipy.optimize import minimize

from saddle.errors import GeometryError
from saddle.overlay.level_ops import LevelOperation, LevelsAround, apply_to_levels
from saddle.overlay.spec import LevelRow, LevelTable
from saddle.road.grades import changes_along

READ: TypeAdapter[LevelOperation] = TypeAdapter(LevelOperation)
C = np.arange(0.0, 101, 10)
AROUND = LevelsAround(C, 50 + C / 100, 49.9 + C / 100, {"graded": np.where(C <= 60, 51.0, np.nan)})


def table(levels: Any, pinned: tuple[int, ...] = ()) -> LevelTable:
    return LevelTable(
        rows=[
            LevelRow(chainage=float(c), level=float(z), pinned=i in pinned)
            for i, (c, z) in enumerate(zip(C, levels, strict=True))
        ]
    )


def done(start: LevelTable, low: float = 0, high: float = 100, **what: Any) -> np.ndarray:
    return np.array([r.level for r in apply_to_levels(start, READ.validate_python(what), low, high, AROUND).rows])


BUMPY = 50 + C / 100 + np.array([0, 0.03, -0.02, 0.05, 0, 0.04, -0.03, 0.02, 0, 0.01, 0])


class Operations(TestCase):
    def test_filled_from_the_design_and_from_a_profile(self) -> None:
        np.testing.assert_allclose(done(LevelTable(), kind="design"), AROUND.design)
        pinned = LevelTable(rows=[LevelRow(chainage=20, level=60, pinned=True), LevelRow(chainage=35, level=1)])
        filled = apply_to_levels(pinned, READ.validate_python({"kind": "profile", "profile": "graded"}), 0, 100, AROUND)
        self.assertEqual([(r.chainage, r.level) for r in filled.rows][:4], [(0, 51), (10, 51), (20, 60), (30, 51)])
        self.assertEqual(len(filled.rows), 7)  # the profile ends at 60, the row at 35 that was not pinned is gone

    def test_straight_by_way_of_pins(self) -> None:
        got = done(table(BUMPY, pinned=(5,)), kind="straight")
        np.testing.assert_allclose(got, np.interp(C, [0, 50, 100], BUMPY[[0, 5, 10]]), atol=1e-4)

    def test_raised_and_raised_to_the_cover(self) -> None:
        np.testing.assert_allclose(
            done(table(BUMPY, pinned=(3,)), kind="raise", by_mm=-15), BUMPY - 0.015 * (np.arange(11) != 3), atol=1e-9
        )
        low = table(BUMPY - 0.1)
        np.testing.assert_allclose(done(low, kind="cover"), np.maximum(BUMPY - 0.1, AROUND.lowest), atol=1e-4)

    def test_a_part_leaves_the_rest(self) -> None:
        got = done(table(BUMPY), low=30, high=70, kind="mean", length=40)
        np.testing.assert_allclose(got[[0, 1, 2, 3, 7, 8, 9, 10]], BUMPY[[0, 1, 2, 3, 7, 8, 9, 10]], atol=1e-9)
        # By hand at 50, over 40 m: half of the ends, whole of what lies between.
        self.assertAlmostEqual(
            got[5], (BUMPY[3] / 2 + BUMPY[4:7].sum() + BUMPY[7] / 2) / 4, delta=1e-3
        )  # rounded up to the millimetre

    @given(st.integers(0, 10_000), st.sampled_from([0.2, 0.5]))
    def test_eased_changes_keep_the_limit_and_move_least(self, seed: int, limit: float) -> None:
        rng = np.random.default_rng(seed)
        z = 50 + C / 100 + rng.normal(0, 0.02, len(C))
        got = (
            done(table(z, pinned=(4,)), kind="ease", change_pct=limit, keep_cover=False)
            if seed % 2
            else done(table(z), kind="ease", change_pct=limit, keep_cover=False)
        )
        change = changes_along(C, got)[1:-1]
        self.assertLessEqual(np.abs(change).max(), limit + 5e-4)  # as it is written, to 0.001 %
        self.assertEqual((got[0], got[-1]), (z[0], z[-1]))
        if not seed % 2:
            straight = np.interp(C, C[[0, -1]], z[[0, -1]])
            self.assertLessEqual(np.abs(got - z).sum(), np.abs(straight - z).sum() + 2e-3)

    def test_eased_against_a_second_solver(self) -> None:
        """The same sum of moves from a smooth solver on |m| = sqrt(m2 + eps)."""
        got = done(table(BUMPY), kind="ease", change_pct=0.3, keep_cover=False)
        bend = [
            {"type": "ineq", "fun": lambda z, s=s: 0.3 - s * changes_along(C, np.r_[BUMPY[0], z, BUMPY[-1]])[1:-1]}
            for s in (1, -1)
        ]
        start = np.interp(C, C[[0, -1]], BUMPY[[0, -1]])[1:-1]
        other = minimize(
            lambda z: 100 * np.sqrt((z - BUMPY[1:-1]) ** 2 + 1e-10).sum(),
            start,
            constraints=bend,
            method="SLSQP",
            options={"maxiter": 500},
        )
        moved = np.abs(got - BUMPY).sum()
        self.assertGreater(moved, other.fun / 100 - 1e-3)
        self.assertLess(moved, other.fun / 100 + 1e-3 * len(BUMPY))  # each is rounded up, and the limit leaves room for that

    def test_a_crest_is_lowered_or_with_the_cover_raised_beside(self) -> None:
        """The lowest line rises and falls by 1 %: without the cover its top sinks, with it the sides rise."""
        crest = 50 + np.minimum(C, 100 - C) / 100
        around = LevelsAround(C, crest, crest, {})
        free, kept = (
            np.array(
                [
                    r.level
                    for r in apply_to_levels(
                        table(crest),
                        READ.validate_python({"kind": "ease", "change_pct": 1.2, "keep_cover": keep}),
                        0,
                        100,
                        around,
                    ).rows
                ]
            )
            for keep in (False, True)
        )
        self.assertLess(free[5], crest[5] - 0.01)
        self.assertGreater((kept - crest).min(), -1e-4)
        self.assertGreater(kept.sum(), crest.sum() + 0.01)
        for got in (free, kept):
            self.assertLessEqual(np.abs(changes_along(C, got)[1:-1]).max(), 1.2 + 2e-3)

    def test_eased_on_uneven_chainages(self) -> None:
        c = np.array([0.0, 10, 17.5, 25, 50, 70])
        z = np.array([100.0, 100.1, 100.205, 100.2725, 100.3725, 100.9])
        rows = LevelTable(rows=[LevelRow(chainage=float(a), level=float(b)) for a, b in zip(c, z, strict=True)])
        got = np.array(
            [
                r.level
                for r in apply_to_levels(
                    rows, READ.validate_python({"kind": "ease", "change_pct": 0.8, "keep_cover": False}), 0, 70, AROUND
                ).rows
            ]
        )
        self.assertGreater(np.abs(changes_along(c, z)[1:-1]).max(), 2)
        self.assertLessEqual(np.abs(changes_along(c, got)[1:-1]).max(), 0.8 + 5e-3)

    def test_what_cannot_be_done_says_why(self) -> None:
        cases: list[tuple[LevelTable, dict[str, Any], str]] = [
            (LevelTable(), {"kind": "mean"}, "fewer than two levels"),
            (LevelTable(), {"kind": "profile", "profile": "gone"}, "no profile “gone”"),
            (table(BUMPY, pinned=(1, 2, 3)), {"kind": "ease", "change_pct": 0.05}, "no levels keep a change of grade of 0.05 %"),
        ]
        for start, what, words in cases:
            with self.subTest(words), self.assertRaisesRegex(GeometryError, words):
                done(start, **what)
