"""Least radii and lengths of transitions, as published. Quoted from memory; check them against the paper.

AASHTO, A Policy on Geometric Design of Highways and Streets (2011: tables 3-7 and 3-20, equations before them):
R = V2 / (127 (e + f)); the length of a transition lies between the larger of sqrt(24 x 0.20 R) and
0.0214 V3 / (R C), C = 1.2 m/s3, and sqrt(24 x 1.0 R); about 2 s of travel is desirable.
"""

import math
from dataclasses import dataclass

import numpy as np

#: Side friction by design speed, km/h.
FRICTION = {
    20: 0.35, 30: 0.28, 40: 0.23, 50: 0.19, 60: 0.17, 70: 0.15, 80: 0.14, 90: 0.13, 100: 0.12, 110: 0.11, 120: 0.09, 130: 0.08,
}  # fmt: skip
#: Shift of a transition that is at least wanted, and the most that drivers follow, m.
LEAST_SHIFT, MOST_SHIFT = 0.20, 1.0
#: Rate of change of lateral acceleration, m/s3.
COMFORT = 1.2


@dataclass(frozen=True, slots=True)
class CurveLimits:
    """least_radius: m, for the superelevation given; transition lengths, m."""

    least_radius: float
    least_transition: float
    desirable_transition: float
    most_transition: float


def least_radius(speed_kmh: float, superelevation_pct: float) -> float:
    """Least radius, m, unrounded. Friction is taken straight between the speeds of the table."""
    return radius_at(speed_kmh, superelevation_pct, float(np.interp(speed_kmh, list(FRICTION), list(FRICTION.values()))))


def radius_at(speed_kmh: float, superelevation_pct: float, friction: float) -> float:
    """R = V2 / (127 (e + f)), m, with the friction that somebody's standard gives."""
    return speed_kmh**2 / (127 * (superelevation_pct / 100 + friction))


def curve_limits(radius: float, speed_kmh: float, superelevation_pct: float = 6.0) -> CurveLimits:
    """What a curve of a radius, m, should keep at a speed."""
    comfort = 0.0214 * speed_kmh**3 / (radius * COMFORT)
    return CurveLimits(
        least_radius=least_radius(speed_kmh, superelevation_pct),
        least_transition=max(math.sqrt(24 * LEAST_SHIFT * radius), comfort),
        desirable_transition=2 * speed_kmh / 3.6,
        most_transition=math.sqrt(24 * MOST_SHIFT * radius),
    )
