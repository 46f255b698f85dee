"""Design superelevation: how much a curve turns, and where it begins and ends to turn. Quoted from memory.

AASHTO, A Policy on Geometric Design of Highways and Streets (2011): superelevation and side friction both in proportion to
curvature (the first of its five ways of sharing), e = e_max R_min / R; runoff Lr = w n1 e b_w / delta (equation 3-23) with
the maximum relative gradient delta and the factor b_w for the lanes that turn (tables 3-15, 3-16); runout Lt = e_nc / e Lr
(equation 3-24); without a transition 70 % of the runoff lies before the curve (80 % below 80 km/h), with one the runoff is
its length. Austroads, Guide to Road Design Part 3: lengths from the rate of rotation and from the relative grade, the
longer rules.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.standards.curves import least_radius

#: Maximum relative gradient, %, by design speed, km/h (AASHTO).
RELATIVE_GRADIENT = {
    20: 0.80,
    30: 0.75,
    40: 0.70,
    50: 0.65,
    60: 0.60,
    70: 0.55,
    80: 0.50,
    90: 0.47,
    100: 0.44,
    110: 0.41,
    120: 0.38,
    130: 0.35,
}
#: Relative grade allowed, %, by speed and lanes that turn: one, two, more (Austroads).
RELATIVE_GRADE = {40: (0.9, 1.3, 1.7), 60: (0.6, 1.0, 1.3), 80: (0.5, 0.8, 1.0), 100: (0.4, 0.7, 0.9), 120: (0.4, 0.6, 0.8)}


@dataclass(frozen=True, slots=True)
class Curve:
    """A curve of the alignment: start and end of its arc, m; curvature, 1/m, positive to the right; lengths of its
    transitions, m, 0 where there is none."""

    start: float
    end: float
    curvature: float
    before: float = 0.0
    after: float = 0.0


@dataclass(frozen=True, slots=True)
class Turning:
    """Key chainages of one end of a curve, from the straight on: end of normal crown, outer side level, reverse crown, full
    superelevation; e_pct: full."""

    normal: float
    level: float
    reverse: float
    full: float
    e_pct: float


def superelevation_pct(radius: float, speed_kmh: float, most_pct: float, normal_pct: float) -> float:
    """Superelevation of a curve, %, to 0.1; 0 where the normal crown may stay, which is where less than half of it is asked
    for, and at least the normal crossfall elsewhere."""
    e = min(most_pct, most_pct * least_radius(speed_kmh, most_pct) / radius)
    if e < normal_pct / 2:
        return 0.0
    return float(np.ceil(round(max(e, normal_pct) * 10, 6)) / 10)


def runoff_length(e_pct: float, width: float, lanes: float, gradient_pct: float) -> float:
    """Lr = w n1 e b_w / delta, m. width: of a lane, m; lanes: that turn about the axis."""
    return width * lanes * e_pct * lane_factor(lanes) / gradient_pct


def lane_factor(lanes: float) -> float:
    """b_w = (1 + 0.5 (n1 - 1)) / n1."""
    return (1 + 0.5 * (lanes - 1)) / lanes


def gradient_pct(speed_kmh: float) -> float:
    """Maximum relative gradient at a speed, %, straight between the table's speeds."""
    return float(np.interp(speed_kmh, list(RELATIVE_GRADIENT), list(RELATIVE_GRADIENT.values())))


def rotation_length(from_pct: float, to_pct: float, speed_kmh: float) -> float:
    """Austroads: length from the rate of rotation, 2.5 %/s below 80 km/h and 2.0 %/s from there, m."""
    rate = 2.5 if speed_kmh < 80 else 2.0
    return abs(to_pct - from_pct) * speed_kmh / (3.6 * rate)


def relative_grade_length(from_pct: float, to_pct: float, width: float, speed_kmh: float, lanes: int = 1) -> float:
    """Austroads: length from the allowed relative grade of the edge, m. width: turned, from the axis, m."""
    column = min(lanes, 3) - 1
    allowed = float(np.interp(speed_kmh, list(RELATIVE_GRADE), [v[column] for v in RELATIVE_GRADE.values()]))
    return width * abs(to_pct - from_pct) / allowed


def turning(
    tangent_point: float, transition: float, runoff: float, e_pct: float, normal_pct: float, speed_kmh: float, way: int
) -> Turning:
    """Key chainages at one end of a curve. tangent_point: where its arc begins (way 1) or ends (way -1); transition: length
    of the clothoid there, which is the runoff where there is one."""
    if transition > 0:
        runoff = transition
        level = tangent_point - way * transition
    else:
        share = 0.70 if speed_kmh >= 80 else 0.80
        level = tangent_point - way * share * runoff
    out = normal_pct / e_pct * runoff
    return Turning(level - way * out, level, level + way * out, level + way * runoff, e_pct)


def crossfalls_of(
    curves: Sequence[Curve], chainage: Floats, speed_kmh: float, most_pct: float, normal_pct: float, width: float
) -> Floats:
    """Design crossfalls of both sides (n, 2), %, turning about the axis; normal_pct is given positive.

    The outer side turns at one rate from normal crown to full, the inner one keeps its crown until reverse crown. Where the
    turning of two curves overlaps, the one that turns more at a chainage holds there.
    """
    out = np.full((len(chainage), 2), -normal_pct)
    for c in curves:
        e = superelevation_pct(1 / abs(c.curvature), speed_kmh, most_pct, normal_pct)
        if e == 0:
            continue
        key = [k for _, k in key_chainages(c, speed_kmh, e, normal_pct, width)]
        outer = np.interp(chainage, key, [-normal_pct, 0, normal_pct, e, e, normal_pct, 0, -normal_pct])
        inner = np.interp(chainage, key, [-normal_pct, -normal_pct, -normal_pct, -e, -e, -normal_pct, -normal_pct, -normal_pct])
        both = np.column_stack([outer, inner] if c.curvature > 0 else [inner, outer])
        more = np.abs(both + normal_pct).max(axis=1) > np.abs(out + normal_pct).max(axis=1)
        out[more] = both[more]
    return out


KEYS = ("normal crown ends", "outer side level", "reverse crown", "full superelevation")


def key_chainages(c: Curve, speed_kmh: float, e_pct: float, normal_pct: float, width: float) -> list[tuple[str, float]]:
    """Key chainages of a curve in road order, with their names. Where its two ends meet, full superelevation is a point."""
    runoff = runoff_length(e_pct, width, 1.0, gradient_pct(speed_kmh))
    first = turning(c.start, c.before, runoff, e_pct, normal_pct, speed_kmh, 1)
    last = turning(c.end, c.after, runoff, e_pct, normal_pct, speed_kmh, -1)
    full = (first.full, last.full)
    if full[0] > full[1]:
        full = (sum(full) / 2, sum(full) / 2)
    rising = [first.normal, first.level, min(first.reverse, full[0]), full[0]]
    falling = [full[1], max(last.reverse, full[1]), last.level, last.normal]
    return [*zip(KEYS, rising, strict=True), *zip(KEYS[::-1], falling, strict=True)]


def turning_points(c: Curve, speed_kmh: float, most_pct: float, normal_pct: float, width: float) -> list[float]:
    """Chainages at which a curve's crossfalls bend; none where its crown may stay normal."""
    e = superelevation_pct(1 / abs(c.curvature), speed_kmh, most_pct, normal_pct)
    return [at for _, at in key_chainages(c, speed_kmh, e, normal_pct, width)] if e > 0 else []


def curves_of(chainage: Floats, length: Floats, first: Floats, last: Floats) -> list[Curve]:
    """Curves of an alignment's elements: chainage, length and curvatures (n,) at both ends of each. Compound curves count
    arc by arc, a clothoid between two of them not at all."""
    found = []
    for i in np.flatnonzero((first != 0) & (first == last)):
        before = length[i - 1] if i > 0 and first[i - 1] == 0 and last[i - 1] == first[i] else 0.0
        after = length[i + 1] if i + 1 < len(first) and last[i + 1] == 0 and first[i + 1] == first[i] else 0.0
        found.append(Curve(float(chainage[i]), float(chainage[i] + length[i]), float(first[i]), float(before), float(after)))
    return found
