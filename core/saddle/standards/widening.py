"""Widening of the travelled way on curves, as published. Tables are quoted from memory; check them against the paper.

vehicle       AASHTO, A Policy on Geometric Design of Highways and Streets, travelled way widening on horizontal curves
              (2011: equations 3-34 to 3-38): W = N (U + C) + (N - 1) FA + Z, w = W - Wn; vehicles of its 2004
              Exhibit 2-1.
radius_bands  UK, CD 109 Highway link design (before: TD 9/93), widening on curves; a boundary radius is taken to the
              sharper band (which side it falls on is not sure).
mechanical    IRC:38-1988, IRC:73-1980: We = n l2 / (2 R) + V / (9.5 sqrt R).
radius_table  IRC:38-1988, IRC:73-1980, table by radius.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.standards.spec import WideningRule


@dataclass(frozen=True, slots=True)
class Vehicle:
    """width, front_overhang, wheelbases: m."""

    width: float
    front_overhang: float
    wheelbases: tuple[float, ...]


#: AASHTO 2004, Exhibit 2-1.
VEHICLES = {
    "SU": Vehicle(2.4, 1.2, (6.1,)),
    "WB12": Vehicle(2.4, 0.9, (3.8, 8.4)),
    "WB15": Vehicle(2.6, 0.9, (4.5, 10.8)),
    "WB19": Vehicle(2.6, 1.2, (6.6, 12.3)),
}
#: Lateral clearance by the width of a two-lane road, m (AASHTO, as above).
CLEARANCE = ((6.0, 0.60), (6.6, 0.75), (7.2, 0.90))
#: Below this AASHTO lets the widening be left out, m.
DISREGARDED = 0.6
#: Wheelbase that IRC takes unless another is given, m.
IRC_WHEELBASE = 6.1
STANDARD_WIDTHS = {2: 7.3, 3: 11.0, 4: 14.6}
CAPS_SHARP = {2: 7.9, 3: 11.9, 4: 15.8}


def _by_vehicle(radius: float, rule: WideningRule) -> float:
    v = VEHICLES[rule.vehicle]
    if radius <= sum(v.wheelbases):
        return math.nan
    clearance = float(np.interp(2 * rule.lane_width, [w for w, _ in CLEARANCE], [c for _, c in CLEARANCE]))
    track = v.width + radius - math.sqrt(radius**2 - sum(w**2 for w in v.wheelbases))
    overhang = math.sqrt(radius**2 + v.front_overhang * (2 * v.wheelbases[0] + v.front_overhang)) - radius
    allowance = 0.1 * rule.design_speed_kmh / math.sqrt(radius)
    two = 2 * (track + clearance) + overhang + allowance - 2 * rule.lane_width
    wide = round(max(two, 0.0) * {1: 0.5, 2: 1.0, 3: 1.5, 4: 2.0}[rule.lanes], 1)
    return wide if two >= DISREGARDED else 0.0


def _by_radius_bands(radius: float, rule: WideningRule) -> float:
    if radius < 90 or rule.lanes not in STANDARD_WIDTHS:
        return 0.0 if radius >= 400 else math.nan
    width, standard = rule.lanes * rule.lane_width, STANDARD_WIDTHS[rule.lanes]
    if width >= standard - 1e-9:
        return 0.3 * rule.lanes if radius < 150 else 0.0
    if radius < 150:
        extra, cap = 0.6, CAPS_SHARP[rule.lanes]
    elif radius < 300:
        extra, cap = 0.5, standard
    elif radius < 400:
        extra, cap = 0.3, standard
    else:
        return 0.0
    return min(extra * rule.lanes, cap - width)


def _mechanical(radius: float, rule: WideningRule) -> float:
    return rule.lanes * IRC_WHEELBASE**2 / (2 * radius) + rule.design_speed_kmh / (9.5 * math.sqrt(radius))


def _by_radius_table(radius: float, rule: WideningRule) -> float:
    if rule.lanes == 1:
        return 0.9 if radius <= 20 else 0.6 if radius <= 60 else 0.0
    return next((w for limit, w in ((40, 1.5), (60, 1.2), (100, 0.9), (300, 0.6)) if radius <= limit), 0.0)


#: A new standard is one function here and its name in the document.
RULES: dict[str, Callable[[float, WideningRule], float]] = {
    "vehicle": _by_vehicle,
    "radius_bands": _by_radius_bands,
    "mechanical": _mechanical,
    "radius_table": _by_radius_table,
}


def widening(radii: Floats, rule: WideningRule) -> Floats:
    """Widening of the whole road, m, for radii (n,) of either sign, 0 where straight (infinite). NaN where the
    standard has no answer for so sharp a curve."""
    give = RULES[rule.standard]
    return np.array([give(abs(r), rule) if np.isfinite(r) else 0.0 for r in np.asarray(radii, dtype=float)])
