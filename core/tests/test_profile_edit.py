"""Editing profiles: worked examples by hand, what cannot be done and says so, and profiles fitted through levels."""

from dataclasses import replace
from typing import Any
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from demo.road import ALIGNMENT
from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec, build_profile
from saddle.alignment.profile_edit import Around, ProfileEdit, edit
from saddle.alignment.profile_fit import FitLimits, fit_profile
from saddle.errors import GeometryError
from saddle.road.beneath import Beneath
from saddle.standards.published import STARTING, VERTICAL
from saddle.views.profile_report import report_profile
from tests.depth import many
from tests.test_profile import grades_pct

READ: TypeAdapter[ProfileEdit] = TypeAdapter(ProfileEdit)


def along(*ips: tuple[float, ...]) -> ProfileSpec:
    """A profile from chainage, level and, where there is a curve, its lengths before and after the IP."""
    names = ("chainage", "level", "length_in", "length_out")
    return ProfileSpec(points=[ProfilePoint(**dict(zip(names, ip, strict=False))) for ip in ips])


CHAINAGE = np.arange(0.0, 1001, 10)
EXISTING = 100 + 0.02 * CHAINAGE + 0.3 * np.sin(CHAINAGE / 60)
AROUND = Around(
    CHAINAGE,
    {"existing": EXISTING, "design": EXISTING + 0.06, "level_table": np.full(len(CHAINAGE), np.nan)},
    VERTICAL["aashto"],
    60.0,
)
#: 0 % for 200 m, +3 % for 300 m, -2 % for 300 m.
HILL = along((100, 100), (300, 100, 30, 30), (600, 109, 60, 60), (900, 103))


def done(spec: ProfileSpec = HILL, **what: Any) -> ProfileSpec:
    return edit(spec, READ.validate_python(what), AROUND)


def ips(spec: ProfileSpec) -> list[tuple[float, float]]:
    return [(p.chainage, p.level) for p in spec.points]


class Placing(TestCase):
    def test_by_chainage_and_level(self) -> None:
        self.assertEqual(ips(done(kind="at", index=1, chainage=310, level=100.5))[1], (310, 100.5))
        added = done(kind="at", chainage=450)  # on the profile as it is: half way up the 3 %
        self.assertEqual(ips(added)[2], (450, 104.5))
        np.testing.assert_allclose(build_profile(added).levels(CHAINAGE), build_profile(HILL).levels(CHAINAGE), atol=1e-9)

    def test_by_one_grade(self) -> None:
        self.assertEqual(ips(done(kind="by_grade", index=2, chainage=500, grade_pct=4))[2], (500, 108))
        self.assertEqual(ips(done(kind="by_grade", index=2, chainage=700, way="out", grade_pct=-3))[2], (700, 109))
        self.assertEqual(ips(done(kind="by_grade", chainage=1000, grade_pct=1))[-1], (1000, 104))

    def test_by_two_grades(self) -> None:
        # From (300, 100) at 4 % and to (900, 103) at -2 %: 100 + 0.04 x = 103 + 0.02 (600 - x), x = 250.
        self.assertEqual(ips(done(kind="by_grades", index=2, grade_in_pct=4, grade_out_pct=-2))[2], (550, 110))
        new = done(kind="by_grades", after=0, grade_in_pct=-1, grade_out_pct=1)  # between 100 and 300, both at 100
        self.assertEqual(ips(new)[1], (200, 99))

    def test_by_the_crossing_of_a_typed_grade_and_one_of_two_ips(self) -> None:
        # 3 % through (300, 100) and (600, 109) meets -1 % through (800, 107): 100 + 0.03 x = 112 - 0.01 x, x = 300.
        first, second = {"by": "ips", "first": 1, "second": 2}, {"by": "point", "chainage": 800, "level": 107, "grade_pct": -1}
        self.assertEqual(ips(done(kind="crossing", index=2, first=first, second=second))[2], (600, 109))
        with self.assertRaisesRegex(GeometryError, "parallel"):
            done(kind="crossing", first=first, second=first)

    def test_curves_keep_k_while_an_ip_is_dragged(self) -> None:
        def k_of(spec: ProfileSpec) -> list[float]:
            found = report_profile(spec, CHAINAGE, build(ALIGNMENT), [], STARTING, 60)
            return [ip.k or 0 for ip in found.ips[1:-1]]

        moved = done(kind="at", index=1, chainage=300, level=101, keep="k")
        np.testing.assert_allclose(k_of(moved), k_of(HILL), rtol=1e-4)
        self.assertEqual(done(kind="at", index=1, chainage=300, level=101).points[1].length_in, 30)

    def test_a_curve_through_a_level_as_published(self) -> None:
        """A sag of -2.5 and +1.5 % with K 30 is 120 m long: so it is through each of the levels that are printed of it, to 0.1 mm of level.
        Source: a sag curve of route-surveying textbooks, its numbers constructed and recomputed in two ways."""
        sag = along((1400, 64.9), (1500, 62.4), (1600, 63.9))
        for at, z in ((1460, 63.4667), (1480, 63.1667), (1500, 63.0), (1515, 62.9625), (1520, 62.9667), (1540, 63.0667)):
            made = done(sag, kind="curve_through", index=1, chainage=at, level=z)
            self.assertAlmostEqual(float(build_profile(made).levels(np.array([at]))[0]), z, delta=1e-5)
            self.assertAlmostEqual(2 * made.points[1].length_in, 120.0, delta=0.05)

    @settings(max_examples=many(60))
    @given(
        st.floats(-8, 8), st.floats(-8, 8), st.floats(10, 180), st.floats(-0.49, 0.49)
    )  # fmt: skip
    def test_a_curve_through_a_level_of_any_curve_is_that_curve(self, g1: float, g2: float, length: float, where: float) -> None:
        """Any place on any curve gives it back; in a mirror it is the mirrored one."""
        assume(abs(g2 - g1) > 0.5)
        spec = along((0, -g1), (100, 0, length / 2, length / 2), (200, g2))
        at = 100 + where * length
        level = float(build_profile(spec).levels(np.array([at]))[0])
        bare = along((0, -g1), (100, 0), (200, g2))
        made = done(bare, kind="curve_through", index=1, chainage=at, level=level).points[1]
        self.assertAlmostEqual(2 * made.length_in, length, delta=2e-3)
        mirrored = along((0, g2), (100, 0), (200, -g1))
        turned = done(mirrored, kind="curve_through", index=1, chainage=200 - at, level=level).points[1]
        self.assertAlmostEqual(turned.length_in, made.length_in, delta=1e-3)

    def test_no_curve_through_what_lies_beyond_the_grades(self) -> None:
        for level, at, words, hint in (
            (109.5, 600, "passes 109.500 m at 0.600", "below both grades, which run at 109.000 and 109.000"),
            (100.0, 600, "the longest is", ""),
            (107, 520, "passes 107.000 m at 0.520", "below both grades"),
        ):
            with self.assertRaisesRegex(GeometryError, words) as told:
                done(kind="curve_through", index=2, chainage=at, level=level)
            self.assertIn(hint, told.exception.hint or "")
        with self.assertRaisesRegex(GeometryError, "no curve"):
            done(kind="curve_through", index=0, chainage=10, level=1)

    def test_curves_give_way_where_an_ip_is_moved_too_near(self) -> None:
        """IP 2 moved to 50 m before IP 3: their curves of 30 and 60 m to that side share the 50 m in proportion."""
        moved = done(kind="at", index=1, chainage=550, level=104)
        share = 50 / 90
        self.assertAlmostEqual(moved.points[1].length_out, 30 * share, delta=1e-3)
        self.assertAlmostEqual(moved.points[2].length_in, 60 * share, delta=1e-3)
        self.assertEqual(moved.points[1].length_in, moved.points[1].length_out)

    def test_what_cannot_be_done_says_why(self) -> None:
        for what, words in (
            ({"kind": "at", "index": 1, "chainage": 610, "level": 1}, "would pass IP 3"),
            ({"kind": "at", "chainage": 600, "level": 1}, "IP 3 stands"),
            ({"kind": "at", "chainage": 950}, "no level at this chainage"),
            ({"kind": "by_grade", "index": 1, "chainage": 550, "grade_pct": 1}, "curves at IP 2 and IP 3 overlap"),
            ({"kind": "at", "index": 9, "chainage": 550, "level": 1}, "no IP 10"),
            ({"kind": "by_grade", "chainage": 50, "grade_pct": 1}, "no IP before"),
            ({"kind": "by_grades", "index": 3, "grade_in_pct": 1, "grade_out_pct": 2}, "needs an IP before"),
            ({"kind": "by_grades", "index": 2, "grade_in_pct": 1, "grade_out_pct": 2}, "outside 300.0 to 900.0"),
            ({"kind": "curves", "indices": [1], "by": "length", "value": 900}, "the longest is"),
            ({"kind": "curves", "indices": [0, 3]}, "no curve"),
            ({"kind": "shift", "indices": [1], "chainage_by": 400}, "would not come after"),
            ({"kind": "remove", "indices": [0, 1, 2]}, "at least two"),
            ({"kind": "match", "over": 900}, "shorter than that"),
            ({"kind": "fit", "through": "level_table", "from_chainage": 0, "to_chainage": 500}, "no levels of the level table"),
        ):
            with self.subTest(words), self.assertRaisesRegex(GeometryError, words):
                done(**what)


class Curves(TestCase):
    def test_by_length_k_longest_and_least(self) -> None:
        self.assertEqual(done(kind="curves", indices=[1, 2], by="length", value=80).points[2].length_out, 40)
        self.assertEqual(done(kind="curves", indices=[2], by="k", value=20).points[2].length_in, 50)  # 20 x 5 % / 2
        longest = done(kind="curves", indices=[1], by="longest").points[1]
        self.assertAlmostEqual(longest.length_in, 200, 2)  # 200 m back to IP 1; IP 3's curve begins 240 m on
        both = done(kind="curves", indices=[1, 2], by="longest")
        self.assertAlmostEqual(both.points[1].length_out, 150, 2)
        self.assertAlmostEqual(both.points[2].length_in, 150, 2)
        # AASHTO at 60 km/h: K 18 in a sag of 3 %, 11 on a crest of 5 % (checks 1.7 and 1.8).
        least = done(kind="curves", indices=[1, 2], by="least")
        self.assertEqual([2 * p.length_in for p in least.points[1:-1]], [54, 55])

    def test_shift_remove_and_redundant(self) -> None:
        self.assertEqual(ips(done(kind="shift", indices=[0, 1, 2, 3], chainage_by=5, level_by=-1))[1], (305, 99))
        self.assertEqual([p.chainage for p in done(kind="remove", indices=[1]).points], [100, 600, 900])
        first_gone = done(kind="remove", indices=[0])
        self.assertEqual(first_gone.points[0].length_out, 0)
        more = done(kind="at", chainage=450)
        self.assertEqual(len(done(more, kind="redundant").points), 4)
        self.assertEqual(len(done(more, kind="redundant", tolerance_mm=0).points), 4)

    def test_the_ends_take_level_and_grade_of_the_old_road(self) -> None:
        new = done(kind="match", end="begin", over=40)
        profile = build_profile(new)
        self.assertAlmostEqual(profile.levels(np.array([100.0]))[0], EXISTING[10], 4)
        self.assertAlmostEqual(grades_pct(profile, np.array([105.0]))[0], 100 * (EXISTING[10] - EXISTING[9]) / 10, 2)
        end = build_profile(done(kind="match", end="end", to="design", over=40))
        self.assertAlmostEqual(end.levels(np.array([900.0]))[0], EXISTING[90] + 0.06, 4)
        self.assertAlmostEqual(grades_pct(end, np.array([895.0]))[0], 100 * (EXISTING[91] - EXISTING[90]) / 10, 2)
        self.assertEqual([p.chainage for p in new.points], [100, 140, 300, 600, 900])


class Fitting(TestCase):
    def test_it_finds_the_profile_that_levels_were_taken_from(self) -> None:
        """Checks 1.1 in metres: +3 to -2 %, 600 m of curve at 4000."""
        crest = along((3000, 220.0), (4000, 250.0, 300, 300), (5000, 230.0))
        x = np.arange(3000.0, 5001, 10)
        found = fit_profile(x, build_profile(crest).levels(x), FitLimits(50, 30, 6, 0.002, 40))
        for p, q in zip(found.points, crest.points, strict=True):
            np.testing.assert_allclose([p.chainage, p.level, p.length_in], [q.chainage, q.level, q.length_in], atol=2e-3)

    def test_no_more_ips_than_are_searched_for_at_once(self) -> None:
        """Ten bends with room for four IPs: four at the most, the limits kept, and what is left over is told."""
        at = np.arange(12) * 250.0
        bends = along(
            *((float(c), float(z)) for c, z in zip(at, 100 + np.cumsum(np.where(np.arange(12) % 2, 4.0, -2.4)), strict=True))
        )
        x = np.arange(0.0, at[-1] + 1, 10)
        with patch("saddle.alignment.profile_fit.MOST_INNER", 4):
            found = fit_profile(x, build_profile(bends).levels(x), FitLimits(11, 9, 8, 0.005, 40))
        self.assertLessEqual(len(found.points) - 2, 4)
        self.assertTrue(found.kept)
        self.assertGreater(found.worst, 0.1)

    def test_ips_that_are_not_needed_go_again(self) -> None:
        """Ups and downs of 6 and 8 IPs, found by adding one at a time: what was added on the way there is taken out."""
        for count in (6, 8):
            at = np.arange(count + 2) * 250.0
            level = 100 + np.cumsum(np.where(np.arange(count + 2) % 2, 4.0, -2.4))
            points = [
                ProfilePoint(
                    chainage=float(c),
                    level=float(z),
                    length_in=50 if 0 < i <= count else 0,
                    length_out=50 if 0 < i <= count else 0,
                )
                for i, (c, z) in enumerate(zip(at, level, strict=True))
            ]
            x = np.arange(0.0, at[-1] + 1, 10)
            found = fit_profile(x, build_profile(ProfileSpec(points=points)).levels(x), FitLimits(11, 9, 8, 0.005, 40))
            self.assertEqual(len(found.points), count + 2)
            np.testing.assert_allclose(found.chainages, at, atol=0.2)

    @settings(max_examples=many(15), deadline=None)
    @given(st.integers(0, 10_000))
    def test_limits_are_kept_and_no_small_change_does_better(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        x = np.arange(0.0, 601, 10)
        z = np.interp(x, [0, 200, 400, 600], np.cumsum([0, 6, -5, 7]) * rng.uniform(0.4, 1.2)) + rng.normal(0, 0.01, len(x))
        limits = FitLimits(11, 9, 8, 0.05, 40)
        found = fit_profile(x, z, limits)
        p = build_profile(ProfileSpec(points=found.points))
        self.assertLessEqual(np.abs(100 * p.grade).max(), 8 + 1e-2)
        change, length = 100 * np.diff(p.grade), 2 * p.length_in[1:-1]
        self.assertTrue((length >= np.where(change < 0, 11, 9) * np.abs(change) - 0.02).all())
        np.testing.assert_allclose(found.residual, z - p.levels(x), atol=1e-12)
        for _ in range(40):  # the levels of the IPs are the linear part: there no other answer is better
            dz = rng.normal(0, 0.002, len(p.level))
            grade = np.diff(p.level + dz) / np.diff(p.chainage)
            allowed = np.where(np.diff(grade) < 0, 11, 9) * np.abs(100 * np.diff(grade)) <= length
            if np.abs(100 * grade).max() <= 8 and allowed.all():
                other = replace(p, level=p.level + dz, grade=grade)
                self.assertGreaterEqual(((z - other.levels(x)) ** 2).sum(), (found.residual**2).sum() * (1 - 1e-3))

    def test_fixed_ends_a_part_of_a_profile_and_what_cannot_be(self) -> None:
        new = done(kind="fit", through="design", from_chainage=400, to_chainage=800, tolerance_mm=30)
        self.assertEqual(ips(new)[:2], ips(HILL)[:2])
        self.assertAlmostEqual(build_profile(new).levels(np.array([400.0]))[0], EXISTING[40] + 0.06, 3)
        inside = (CHAINAGE >= 400) & (CHAINAGE <= 800)
        off = build_profile(new).levels(CHAINAGE[inside]) - (EXISTING[inside] + 0.06)
        self.assertLess(np.abs(off).max(), 0.15)
        with self.assertRaisesRegex(GeometryError, "too few levels"):
            done(kind="fit", through="design", from_chainage=400, to_chainage=430)


class Report(TestCase):
    def test_a_sag_given_by_k(self) -> None:
        """Checks 1.2: -2.5 to 1.5 % at 1500, K = 30: L = 120 m, ordinate 0.6 m, low point 1515.0."""
        spec = along((1400, 64.9), (1500, 62.4, 60, 60), (1600, 63.9))
        found = report_profile(spec, np.array([1515.0]), build(ALIGNMENT), [], STARTING, 60).ips[1]
        self.assertEqual((found.kind, found.length), ("sag", 120))
        np.testing.assert_allclose([found.k, found.ordinate, found.turn, found.change], [30, 0.6, 1515.0, 4.0], atol=1e-9)
        self.assertEqual(found.longest, 200)

    def test_what_a_change_of_grade_amounts_to(self) -> None:
        """Checks 4.5: 0.5 % rounded over 80 m: 50 mm at the IP, K 160."""
        spec = along((0, 10), (200, 12, 40, 40), (400, 13))
        found = report_profile(spec, np.array([200.0]), build(ALIGNMENT), [], STARTING, 90).ips[1]
        np.testing.assert_allclose([1000 * found.ordinate, found.k], [50.0, 160.0], atol=1e-9)
        self.assertEqual((found.k_least, found.remarks), (None, []))

    def test_a_curve_of_two_parabolas(self) -> None:
        """Checks 1.3: -3 to 2 % at 500, 60 and 100 m: K 19.2 and 53.333, ordinate 0.9375, low point 497.6."""
        spec = along((400, 33), (500, 30, 60, 100), (650, 33))
        found = report_profile(spec, np.array([497.6]), build(ALIGNMENT), [], STARTING, 60)
        np.testing.assert_allclose([found.ips[1].k, found.ips[1].ordinate, found.ips[1].turn], [19.2, 0.9375, 497.6], atol=1e-9)
        self.assertAlmostEqual(found.level[0], 30.9360, 4)

    def test_what_breaks_a_limit(self) -> None:
        steep = along((0, 100), (200, 120, 20, 20), (500, 117), (900, 115))
        standards = STARTING.changed(vertical=VERTICAL["aashto"].model_dump())
        found = report_profile(steep, CHAINAGE, build(ALIGNMENT), [], standards, 80)
        self.assertIn("+10.00 % is over 5 %", found.ips[0].remarks[0])
        self.assertIn("K 3.6, at least K 26 (286.0 m) at 80 km/h", found.ips[1].remarks[0])
        self.assertIn("132 m to stop", found.ips[1].remarks[1])
        self.assertEqual(found.ips[2].remarks, [])  # 0.5 % needs no curve at 80 km/h, where 0.6 % is allowed (checks 4.1)

    def test_curve_on_curve_and_pipes_beneath(self) -> None:
        a = build(ALIGNMENT)
        bend = next(float(c) for c, k in zip(a.chainage, a.curvature, strict=True) if k != 0)
        spec = along((a.start, 100), (bend + 1, 100, 40, 40), (a.end, 110))
        pipes = [
            Beneath("pipe", "C1", 20.0, 99.5, 98.9),
            Beneath("pipe", "C2", 30.0, 99.0, 98.4),
            Beneath("pit", "P", 30.0, 99.9, 98),
        ]
        found = report_profile(spec, a.chainage, a, pipes, STARTING, 60)
        self.assertTrue(found.ips[1].arcs)
        self.assertFalse(found.ips[1].within_arc)
        self.assertEqual(
            [(c.name, round(c.cover, 3), c.short) for c in found.clearances], [("C1", 0.5, True), ("C2", 1.0, False)]
        )
