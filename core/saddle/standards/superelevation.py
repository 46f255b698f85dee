"""Design superelevation: how much a curve turns, and where it begins and ends to turn, by a standard.

AASHTO, A Policy on Geometric Design of Highways and Streets (2011): superelevation and side friction both in proportion to
curvature (the first of its five ways of sharing), e = e_max R_min / R; runoff Lr = w n1 e b_w / delta (equation 3-23) with
the factor b_w for the lanes that turn; runout Lt = e_nc / e Lr (equation 3-24); without a transition a share of the runoff
lies before the curve, with one the runoff is its length. Austroads, Guide to Road Design Part 3: lengths from the rate of
rotation and from the relative grade, the longer rules.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel

from saddle.geometry.polylines import Floats
from saddle.standards.curves import radius_at
from saddle.standards.spec import SuperelevationStandard

#: A transition no longer than this is none: nobody turns a road in it, m.
SHORT_TRANSITION = 1.0


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


@dataclass(frozen=True, slots=True)
class Turns:
    """How the road turns: the standard, speed km/h, greatest superelevation and normal crossfall (positive) %, width of a
    lane m, and how many lanes turn about the axis."""

    standard: SuperelevationStandard
    speed_kmh: float
    most_pct: float
    normal_pct: float
    width: float
    lanes: float = 1.0

    def least_radius(self) -> float:
        """With the greatest superelevation and the standard's friction, m."""
        return radius_at(self.speed_kmh, self.most_pct, self.standard.friction.at(self.speed_kmh))

    def superelevation_pct(self, radius: float) -> float:
        """Superelevation of a curve, %, to 0.1; 0 where the normal crown may stay, which is where less than half of it is
        asked for, and at least the normal crossfall elsewhere."""
        if self.standard.divisor is not None:
            e = self.speed_kmh**2 / (self.standard.divisor * radius)
        else:
            e = self.most_pct * self.least_radius() / radius
        e = min(self.most_pct, e)
        if e < self.normal_pct / 2:
            return 0.0
        return float(np.ceil(round(max(e, self.normal_pct) * 10, 6)) / 10)

    def runoff(self, e_pct: float) -> float:
        """Length from level to full, m: by the relative grade of the edge or by the rate of rotation, the longer."""
        s = self.standard
        if s.lane_factor:
            by_grade = self.width * self.lanes * e_pct * lane_factor(self.lanes) / s.relative_grade[0].at(self.speed_kmh)
        else:
            column = min(max(int(np.ceil(self.lanes)), 1), len(s.relative_grade)) - 1
            turned = self.width * self.lanes
            allowed = s.relative_grade[column].at(self.speed_kmh)
            if s.grade_per_metre_up_to is not None:
                allowed *= min(turned, s.grade_per_metre_up_to)
            by_grade = turned * e_pct / allowed
        by_rate = e_pct * self.speed_kmh / (3.6 * s.rotation_rate.at(self.speed_kmh)) if s.rotation_rate else 0.0
        return max(by_grade, by_rate)


def lane_factor(lanes: float) -> float:
    """b_w = (1 + 0.5 (n1 - 1)) / n1."""
    return (1 + 0.5 * (lanes - 1)) / lanes


def turning(turns: Turns, tangent_point: float, transition: float, e_pct: float, way: int) -> Turning:
    """Key chainages at one end of a curve. tangent_point: where its arc begins (way 1) or ends (way -1); transition: length
    of the clothoid there, which is the runoff where there is one."""
    if transition > SHORT_TRANSITION:
        runoff = transition
        level = tangent_point - way * transition
    else:
        runoff = turns.runoff(e_pct)
        level = tangent_point - way * turns.standard.share_before.at(turns.speed_kmh) * runoff
    out = turns.normal_pct / e_pct * runoff
    return Turning(level - way * out, level, level + way * out, level + way * runoff, e_pct)


def crossfalls_of(curves: Sequence[Curve], chainage: Floats, turns: Turns) -> Floats:
    """Design crossfalls of both sides (n, 2), %, turning about the axis.

    The outer side turns at one rate from normal crown to full, the inner one keeps its crown until reverse crown. Where the
    turning of two curves overlaps, the one that turns more at a chainage holds there.
    """
    n = turns.normal_pct
    out = np.full((len(chainage), 2), -n)
    for c in curves:
        e = turns.superelevation_pct(1 / abs(c.curvature))
        if e == 0:
            continue
        key = [k.chainage for k in key_chainages(c, turns, e)]
        outer = np.interp(chainage, key, [-n, 0, n, e, e, n, 0, -n])
        inner = np.interp(chainage, key, [-n, -n, -n, -e, -e, -n, -n, -n])
        both = np.column_stack([outer, inner] if c.curvature > 0 else [inner, outer])
        more = np.abs(both + n).max(axis=1) > np.abs(out + n).max(axis=1)
        out[more] = both[more]
    return out


class Key(BaseModel):
    """A chainage at which something begins or ends."""

    name: str
    chainage: float


KEYS = ("normal crown ends", "outer side level", "reverse crown", "full superelevation")


def key_chainages(c: Curve, turns: Turns, e_pct: float) -> list[Key]:
    """Key chainages of a curve in road order, with their names. Where its two ends meet, full superelevation is a point."""
    first = turning(turns, c.start, c.before, e_pct, 1)
    last = turning(turns, c.end, c.after, e_pct, -1)
    full = (first.full, last.full)
    if full[0] > full[1]:
        full = (sum(full) / 2, sum(full) / 2)
    rising = [first.normal, first.level, min(first.reverse, full[0]), full[0]]
    falling = [full[1], max(last.reverse, full[1]), last.level, last.normal]
    both = (*zip(KEYS, rising, strict=True), *zip(KEYS[::-1], falling, strict=True))
    return [Key(name=name, chainage=at) for name, at in both]


class CurveReport(BaseModel):
    """How a curve turns. radius: m; right: which way; e_pct: 0 where the crown stays; runoff: that the standard asks for, m;
    transitions: lengths before and after, m; keys: in road order; remarks: what to look at."""

    start: float
    end: float
    radius: float
    right: bool
    e_pct: float
    runoff: float
    transitions: tuple[float, float]
    keys: list[Key]
    remarks: list[str]


def report(curves: Sequence[Curve], turns: Turns) -> list[CurveReport]:
    """Every curve with its key chainages, and what a designer must look at: a radius below the least one, a transition
    shorter than the runoff, neighbours whose turning overlaps, an arc too short to turn fully."""
    found: list[CurveReport] = []
    for c in curves:
        radius = 1 / abs(c.curvature)
        e = turns.superelevation_pct(radius)
        keys = key_chainages(c, turns, e) if e > 0 else []
        runoff = turns.runoff(e)
        remarks = []
        least = turns.least_radius()
        if radius < least - 0.5:
            remarks.append(f"the radius is below the least of {least:.0f} m")
        for name, length in (("before", c.before), ("after", c.after)):
            if e > 0 and SHORT_TRANSITION < length < runoff - 0.05:
                remarks.append(f"the transition {name} it is shorter than the runoff of {runoff:.1f} m")
        flat = turns.standard.flat_grade_per_metre
        if keys and flat is not None:
            through = max(keys[2].chainage - keys[0].chainage, keys[7].chainage - keys[5].chainage)
            if through > 2 * turns.normal_pct / flat + 0.05:
                remarks.append(
                    f"it passes through level over {through:.0f} m, at most {2 * turns.normal_pct / flat:.0f} m lets water run off"
                )
        if keys and keys[3].chainage == keys[4].chainage:
            remarks.append("full superelevation is reached at one point only")
        if keys and found and found[-1].keys and found[-1].keys[-1].chainage > keys[0].chainage + 1e-6:
            remarks.append(f"it begins to turn before the curve at {found[-1].start:.0f} has turned back")
        found.append(
            CurveReport(
                start=c.start,
                end=c.end,
                radius=radius,
                right=c.curvature > 0,
                e_pct=e,
                runoff=runoff,
                transitions=(c.before, c.after),
                keys=keys,
                remarks=remarks,
            )
        )
    return found
