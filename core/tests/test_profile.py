"""Vertical curves against worked examples of route surveying (checks 1.1 to 1.3)."""

from unittest import TestCase

import numpy as np
from scipy.optimize import minimize_scalar

from saddle.alignment.profile import Profile, ProfilePoint, ProfileSpec, build_profile
from saddle.geometry.polylines import Floats

CREST = ProfileSpec(
    points=[
        ProfilePoint(chainage=3000, level=220.0),
        ProfilePoint(chainage=4000, level=250.0, length_in=300, length_out=300),
        ProfilePoint(chainage=5000, level=230.0),
    ]
)


def grades_pct(profile: Profile, at: Floats) -> Floats:
    """Slope of the levels at chainages (k,), %, by their difference over a centimetre; exact on a parabola."""
    before, after = profile.levels(at - 0.005), profile.levels(at + 0.005)
    slope: Floats = 100 * (after - before) / 0.01
    return slope


class Parabolas(TestCase):
    def test_crest(self) -> None:
        # +3 % to -2 %, L = 600 (feet, in any unit the same): any route-surveying textbook.
        at = np.array([3700.0, 3800, 3900, 4000, 4060, 4100, 4200, 4300])
        p = build_profile(CREST)
        np.testing.assert_allclose(p.levels(at), [241.0, 243.5833, 245.3333, 246.25, 246.4, 246.3333, 245.5833, 244.0], atol=1e-4)
        np.testing.assert_allclose(grades_pct(p, at), [3.0, 2.1667, 1.3333, 0.5, 0.0, -0.3333, -1.1667, -2.0], atol=1e-4)

    def test_highest_point(self) -> None:
        p = build_profile(CREST)
        found = minimize_scalar(lambda c: -p.levels(np.array([c]))[0], bounds=(3700, 4300), method="bounded")
        self.assertAlmostEqual(found.x, 4060.0, delta=0.01)

    def test_sag(self) -> None:
        # -2.5 % to +1.5 %, K = 30, so L = 120 m; low point |g1| K = 75 m from the start.
        p = build_profile(
            ProfileSpec(
                points=[
                    ProfilePoint(chainage=1400, level=64.9),
                    ProfilePoint(chainage=1500, level=62.4, length_in=60, length_out=60),
                    ProfilePoint(chainage=1600, level=63.9),
                ]
            )
        )
        self.assertAlmostEqual(p.levels(np.array([1500.0]))[0], 62.4 + 4 * 120 / 800, 9)
        self.assertAlmostEqual(grades_pct(p, np.array([1515.0]))[0], 0.0, 9)

    def test_two_parabolas_of_different_length(self) -> None:
        # Offset at the IP of an unsymmetrical curve: L1 L2 |g2 - g1| / (2 (L1 + L2)), g in m/m (textbook formula).
        p = build_profile(
            ProfileSpec(
                points=[
                    ProfilePoint(chainage=0, level=0.0),
                    ProfilePoint(chainage=200, level=8.0, length_in=50, length_out=90),
                    ProfilePoint(chainage=400, level=4.0),
                ]
            )
        )
        self.assertAlmostEqual(p.levels(np.array([200.0]))[0], 8.0 - 50 * 90 * 0.06 / (2 * 140), 9)
        for c in (150.0, 200.0, 290.0):  # level and grade run on across every joint
            z, g = p.levels(np.array([c - 1e-6, c + 1e-6])), grades_pct(p, np.array([c - 1e-6, c + 1e-6]))
            self.assertAlmostEqual(z[0], z[1], 6)
            self.assertAlmostEqual(g[0], g[1], 4)

    def test_no_level_beyond_the_ends(self) -> None:
        self.assertTrue(np.isnan(build_profile(CREST).levels(np.array([2999.0, 5001.0]))).all())

    def test_what_cannot_be(self) -> None:
        a, b = ProfilePoint(chainage=0, level=0), ProfilePoint(chainage=100, level=1, length_in=60, length_out=60)
        for points, word in (
            ([a, a], "does not come after"),
            ([a, b, ProfilePoint(chainage=150, level=0)], "overlap"),
            ([b, ProfilePoint(chainage=300, level=0)], "no vertical curve"),
        ):
            with self.subTest(word), self.assertRaisesRegex(ValueError, word):
                ProfileSpec(points=points)
