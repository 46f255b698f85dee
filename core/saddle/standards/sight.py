"""Sight distances: to stop on a grade, over a crest, and inside a curve."""

import math


def stopping_distance(speed_kmh: float, grade_pct: float, reaction: float, deceleration: float) -> float:
    """V t / 3.6 + V2 / (254 (d + G)), m; t: reaction, s; d: deceleration as a share of gravity; G: grade, downhill negative.

    Source: Green Book (2011: equation 3-3) with d = a / 9.81; Austroads AGRD3, car stopping sight distance. 0.278 stands for
    1 / 3.6 as published. Infinite where the grade is steeper than brakes can hold.
    """
    hold = deceleration + grade_pct / 100
    return 0.278 * speed_kmh * reaction + speed_kmh**2 / (254 * hold) if hold > 0 else math.inf


def sight_constant(eye: float, thing: float) -> float:
    """C = 200 (sqrt eye + sqrt thing)2 of the crest formulas, from the heights of what sees and what is seen, m."""
    return 200 * (math.sqrt(eye) + math.sqrt(thing)) ** 2


def crest_sight(constant: float, length: float, change_pct: float) -> float:
    """Sight distance over a crest of a length m and a change of grade %, m.

    S = sqrt(C L / A) within the curve, (L + C / A) / 2 beyond it. Source: Green Book, chapter 3, crest vertical curves.
    """
    a = abs(change_pct)
    within = math.sqrt(constant * length / a)
    return within if within <= length else (length + constant / a) / 2


def sightline_offset(radius: float, sight: float) -> float:
    """Clear width inside a curve for a sight distance, both on the inside lane's middle, m: R (1 - cos(28.65 S / R)) in
    degrees. Source: Green Book (2011: equation 3-36)."""
    return radius * (1 - math.cos(math.radians(28.65 * sight / radius)))
