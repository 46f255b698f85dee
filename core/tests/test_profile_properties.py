"""Moved, turned round, split: what must not change the answer, for profiles, superelevation, bands and milling."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec, build_profile
from saddle.alignment.profile_edit import Around, PutAt, RemoveRedundant, SetCurves, Shift, edit
from saddle.alignment.profile_fit import FitLimits, fit_profile
from saddle.alignment.spec import AlignmentSpec, Straight
from saddle.overlay.milling import Cuts, deepest, lowered
from saddle.standards.published import STARTING, SUPERELEVATION, VERTICAL
from saddle.standards.superelevation import Curve, Turns, crossfalls_of, report
from saddle.views.depth_map import section_bands
from saddle.views.profile_report import report_profile
from tests.cases import random_ground

LINE = build(AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=40, elements=[Straight(length=5000)]))
AROUND = Around(np.arange(0.0, 5000, 10), {}, VERTICAL["aashto"], 70.0)


@st.composite
def profiles(draw: st.DrawFn) -> ProfileSpec:
    """Two to seven IPs with curves that fit."""
    count = draw(st.integers(2, 7))
    gaps = draw(st.lists(st.floats(60, 400), min_size=count - 1, max_size=count - 1))
    rises = draw(st.lists(st.floats(-12, 12), min_size=count, max_size=count))
    shares = draw(st.lists(st.floats(0, 0.45), min_size=2 * count, max_size=2 * count))
    at = 500 + np.cumsum([0, *gaps])
    points = []
    for i in range(count):
        inner = 0 < i < count - 1
        into, out = (shares[2 * i] * gaps[i - 1], shares[2 * i + 1] * gaps[i]) if inner else (0.0, 0.0)
        points.append(ProfilePoint(chainage=float(at[i]), level=100 + rises[i], length_in=into, length_out=out))
    return ProfileSpec(points=points)


def sampled(spec: ProfileSpec) -> np.ndarray:
    return np.linspace(spec.points[0].chainage, spec.points[-1].chainage, 400)


class Profiles(TestCase):
    @given(profiles())
    def test_turned_round(self, spec: ProfileSpec) -> None:
        back = ProfileSpec(
            points=[
                ProfilePoint(chainage=5000 - p.chainage, level=p.level, length_in=p.length_out, length_out=p.length_in)
                for p in reversed(spec.points)
            ]
        )
        x = sampled(spec)
        np.testing.assert_allclose(build_profile(back).levels(5000 - x), build_profile(spec).levels(x), atol=1e-7)
        forth, reverse = (report_profile(s, x[:1], LINE, [], STARTING, 70).ips for s in (spec, back))
        for a, b in zip(forth[1:-1], reversed(reverse[1:-1]), strict=True):
            assert a.change is not None and b.change is not None and a.longest is not None and b.longest is not None
            self.assertAlmostEqual(a.change, b.change, 7)  # a crest stays one
            self.assertEqual(a.kind, b.kind)
            self.assertAlmostEqual(a.ordinate, b.ordinate, 9)
            self.assertAlmostEqual(a.longest, b.longest, 7)
            self.assertEqual((a.k is None, a.sight is None), (b.k is None, b.sight is None))
            if a.turn is not None and b.turn is not None:
                self.assertAlmostEqual(a.turn, 5000 - b.turn, 5)

    @given(profiles(), st.floats(-300, 300), st.floats(-50, 50))
    def test_moved(self, spec: ProfileSpec, along: float, up: float) -> None:
        every = list(range(len(spec.points)))
        moved = edit(spec, Shift(indices=every, chainage_by=along, level_by=up), AROUND)
        x = sampled(spec)[1:-1]
        np.testing.assert_allclose(build_profile(moved).levels(x + along), build_profile(spec).levels(x) + up, atol=1e-6)

    @given(profiles(), st.floats(0.02, 0.98))
    def test_split_and_joined(self, spec: ProfileSpec, share: float) -> None:
        """An IP put where a tangent runs changes nothing, and is redundant."""
        a, b = spec.points[0], spec.points[1]
        low, high = a.chainage, b.chainage - b.length_in
        assume(high - low > 5)
        split = edit(spec, PutAt(chainage=round(low + share * (high - low), 3)), AROUND)
        x = sampled(spec)
        np.testing.assert_allclose(build_profile(split).levels(x), build_profile(spec).levels(x), atol=2e-4)
        self.assertEqual(len(split.points), len(spec.points) + 1)
        joined = edit(split, RemoveRedundant(tolerance_mm=0.2), AROUND)
        self.assertLessEqual(len(joined.points), len(split.points) - 1)

    @given(profiles())
    def test_the_longest_curve_fits_and_a_longer_one_does_not(self, spec: ProfileSpec) -> None:
        assume(len(spec.points) > 2)
        bare = edit(spec, SetCurves(indices=list(range(1, len(spec.points) - 1)), by="length", value=0), AROUND)
        longest = edit(bare, SetCurves(indices=[1], by="longest"), AROUND).points[1]
        room = min(longest.chainage - bare.points[0].chainage, bare.points[2].chainage - longest.chainage)
        self.assertAlmostEqual(longest.length_in, room, delta=0.002)

    @given(st.integers(0, 1000))
    def test_a_fit_turned_round(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        x = np.arange(0.0, 501, 10)
        z = np.interp(x, [0, 250, 500], [0, rng.uniform(4, 8), rng.uniform(-2, 2)]) + rng.normal(0, 0.005, len(x))
        limits = FitLimits(11, 9, 8, 0.6, 60, 40)
        forth, back = fit_profile(x, z, limits), fit_profile(x, z[::-1].copy(), limits)
        self.assertEqual(len(forth.points), len(back.points))
        self.assertAlmostEqual(forth.cost, back.cost, delta=0.05 * forth.cost + 1e-9)


class Turning(TestCase):
    @given(st.sampled_from(sorted(SUPERELEVATION)), st.floats(80, 1500), st.floats(0, 120), st.floats(40, 110), st.floats(1, 3))
    def test_every_standard_mirrored_and_reversed(
        self, key: str, radius: float, transition: float, speed: float, lanes: float
    ) -> None:
        turns = Turns(SUPERELEVATION[key], speed, 6, 2.5, 3.5, lanes)
        c = np.arange(0.0, 1001, 5)
        right, left = (Curve(400, 600, way / radius, transition, transition) for way in (1, -1))
        found = crossfalls_of([right], c, turns)
        np.testing.assert_allclose(crossfalls_of([left], c, turns), found[:, ::-1], atol=1e-9)
        np.testing.assert_allclose(found[::-1], found, atol=1e-9)
        told = report([right], turns)[0]
        self.assertLessEqual(told.e_pct, 6)
        if told.keys:
            at = [k.chainage for k in told.keys]
            self.assertEqual(at, sorted(at))
            self.assertAlmostEqual(at[0] + at[-1], 1000, 6)

    @given(st.sampled_from(sorted(SUPERELEVATION)), st.floats(40, 110))
    def test_a_sharper_curve_turns_no_less(self, key: str, speed: float) -> None:
        turns = Turns(SUPERELEVATION[key], speed, 6, 2.5, 3.5)
        e = [turns.superelevation_pct(r) for r in (4000, 2000, 1000, 500, 250, 120)]
        self.assertEqual(e, sorted(e))
        self.assertTrue(all(v == 0 or v >= 2.5 for v in e))


class Bands(TestCase):
    @given(st.integers(0, 10_000), st.floats(-500, 500), st.floats(-50, 50))
    def test_moved_mirrored_and_split(self, seed: int, across: float, up: float) -> None:
        rng = np.random.default_rng(seed)
        o = np.sort(rng.uniform(-4, 4, 9))
        e = rng.normal(0, 0.05, 9)
        z = e + rng.uniform(0, 0.2, 9)

        def areas(o: np.ndarray, z: np.ndarray, e: np.ndarray) -> np.ndarray:
            out = np.zeros(4)
            for band, ring in section_bands(o, z, e, (40, 90, 140)):
                out[band] += shapely.Polygon(ring).area
            return out

        plain = areas(o, z, e)
        self.assertAlmostEqual(plain.sum(), float(np.trapezoid(z - e, o)), 9)
        np.testing.assert_allclose(areas(o + across, z + up, e + up), plain, atol=1e-7)
        np.testing.assert_allclose(areas(-o[::-1], z[::-1], e[::-1]), plain, atol=1e-9)
        middle = (o[:-1] + o[1:]) / 2
        finer = np.sort(np.r_[o, middle])
        np.testing.assert_allclose(areas(finer, np.interp(finer, o, z), np.interp(finer, o, e)), plain, atol=1e-9)


class TaperedMilling(TestCase):
    @given(st.integers(0, 10_000), st.floats(-6, 4), st.floats(0.5, 5), st.floats(0, 0.1), st.floats(0, 0.1))
    def test_what_is_milled_is_the_trapezium(self, seed: int, low: float, wide: float, at_low: float, at_high: float) -> None:
        """The area between old and milled surface is that of the trapezium, whatever the ground; shapely agrees."""
        ground = random_ground(np.random.default_rng(seed), 1)
        milled = lowered(ground, deepest(Cuts(*(np.array([[v]]) for v in (low, low + wide, at_low, at_high)))))
        (o, z), (oo, zz) = ground.row(0), milled.row(0)
        between = float(np.trapezoid(z, o)) - float(np.trapezoid(zz, oo))
        self.assertAlmostEqual(between, wide * (at_low + at_high) / 2, 9)
