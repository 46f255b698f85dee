"""Changes to a profile, as data: every operation takes a profile and gives one, so that what it would do can be shown first.

A new one is a document, one function and its entry in OPERATIONS. Indices count IPs from 0.
"""

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, ValidationError

from saddle.alignment.profile import ProfilePoint, ProfileSpec, build_profile
from saddle.alignment.profile_fit import FitLimits, fit_profile
from saddle.chainage import format_chainage
from saddle.documents_base import Document, Level, NotNegative, NotNegativeMillimetres, Number, Positive, PositiveMillimetres
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats
from saddle.geometry.simplify import kept_within
from saddle.standards.spec import VerticalStandard

Index = Annotated[int, Field(ge=0, lt=5000)]
Grade = Annotated[float, Field(ge=-40, le=40, allow_inf_nan=False)]
Levels = Literal["existing", "design", "level_table"]


class PutAt(Document):
    """An IP at a chainage and level; level null: where the profile runs now. index: the IP that moves there, null for a new
    one. keep: what its curve and its neighbours' keep; where they no longer fit they give way to each other."""

    kind: Literal["at"] = "at"
    index: Index | None = None
    chainage: Number
    level: Level | None = None
    keep: Literal["length", "k"] = "length"


class PutByGrade(Document):
    """An IP at a chainage, on a grade from the IP before it (grade_in) or to the IP after it (grade_out), %."""

    kind: Literal["by_grade"] = "by_grade"
    index: Index | None = None
    chainage: Number
    way: Literal["in", "out"] = "in"
    grade_pct: Grade


class PutByGrades(Document):
    """An IP where the grade from the IP before it crosses the grade to the IP after it, %. index: the IP; null for a new one
    after the IP `after`."""

    kind: Literal["by_grades"] = "by_grades"
    index: Index | None = None
    after: Index = 0
    grade_in_pct: Grade
    grade_out_pct: Grade


class ThroughPoint(Document):
    """A grade typed: through a point."""

    by: Literal["point"] = "point"
    chainage: Number
    level: Level
    grade_pct: Grade


class ThroughIps(Document):
    """The grade through two IPs."""

    by: Literal["ips"] = "ips"
    first: Index
    second: Index


GradeLine = Annotated[ThroughPoint | ThroughIps, Field(discriminator="by")]


class PutAtCrossing(Document):
    """An IP where two grades cross."""

    kind: Literal["crossing"] = "crossing"
    index: Index | None = None
    first: GradeLine
    second: GradeLine


class Match(Document):
    """The profile's begin or end takes level and grade of what it meets: the old road, or the design beyond. over: m from the
    end to the IP from which the profile runs on as it was."""

    kind: Literal["match"] = "match"
    end: Literal["begin", "end"] = "begin"
    to: Literal["existing", "design"] = "existing"
    over: Positive = 30.0


class SetCurves(Document):
    """Vertical curves of some IPs: by length m, by K m/%, the longest that fits, or the least that the standard allows."""

    kind: Literal["curves"] = "curves"
    indices: Annotated[list[Index], Field(min_length=1, max_length=5000)]
    by: Literal["length", "k", "longest", "least"] = "length"
    value: NotNegative = 0.0


class CurveThrough(Document):
    """The vertical curve of an IP as long as it takes to pass a level at a chainage, m; the grades stay."""

    kind: Literal["curve_through"] = "curve_through"
    index: Index
    chainage: Number
    level: Level


class Shift(Document):
    """IPs moved along the road and in level, m."""

    kind: Literal["shift"] = "shift"
    indices: Annotated[list[Index], Field(min_length=1, max_length=5000)]
    chainage_by: Number = 0.0
    level_by: Number = 0.0


class Remove(Document):
    """IPs taken out."""

    kind: Literal["remove"] = "remove"
    indices: Annotated[list[Index], Field(min_length=1, max_length=5000)]


class RemoveRedundant(Document):
    """IPs taken out without which the tangents move by no more than a tolerance, mm, at any of them."""

    kind: Literal["redundant"] = "redundant"
    tolerance_mm: NotNegativeMillimetres = 1.0

    @property
    def tolerance(self) -> float:
        """m."""
        return self.tolerance_mm / 1000


class FitThrough(Document):
    """A profile fitted through levels over a range, least squares with parabolas within the standard's limits; what lies
    outside the range stays. tolerance_mm: IPs are added until no level is further off; spacing: least distance of IPs, m."""

    kind: Literal["fit"] = "fit"
    through: Levels = "design"
    from_chainage: Number
    to_chainage: Number
    tolerance_mm: PositiveMillimetres = 20.0
    spacing: Positive = 40.0
    fix_ends: bool = True

    @property
    def tolerance(self) -> float:
        """m."""
        return self.tolerance_mm / 1000


ProfileEdit = Annotated[
    PutAt
    | PutByGrade
    | PutByGrades
    | PutAtCrossing
    | Match
    | SetCurves
    | CurveThrough
    | Shift
    | Remove
    | RemoveRedundant
    | FitThrough,
    Field(discriminator="kind"),
]


@dataclass(frozen=True, slots=True, eq=False)
class Around:
    """What an operation may look at. chainage: (n,) of the sections, rising; levels: (n,) by what they are of, NaN where there
    is none; standard and speed km/h for the limits."""

    chainage: Floats
    levels: dict[str, Floats]
    standard: VerticalStandard
    speed_kmh: float

    def known(self, of: str) -> tuple[Floats, Floats]:
        """Chainages and levels where there are some. Raises GeometryError where there are none."""
        good = np.isfinite(self.levels[of])
        if not good.any():
            raise GeometryError(f"there are no levels of the {of.replace('_', ' ')}", of, "choose other levels")
        return self.chainage[good], self.levels[of][good]


def edit(spec: ProfileSpec, what: ProfileEdit, around: Around) -> ProfileSpec:
    """The profile after an operation. Raises GeometryError saying what does not fit and what to do."""
    points = list(spec.points)
    for name in ("index", "after"):
        _there(points, getattr(what, name, None))
    for i in getattr(what, "indices", []):
        _there(points, i)
    new = OPERATIONS[what.kind](points, what, around)
    if len(new) < 2:
        raise GeometryError("a profile has at least two IPs", "profile", "remove the profile instead")
    new = sorted(new, key=lambda p: p.chainage)
    new[0], new[-1] = _bare(new[0]), _bare(new[-1])
    try:
        return spec.changed(points=[p.model_dump() for p in new])
    except ValidationError as error:
        why = str(error.errors()[0]["msg"]).removeprefix("Value error, ")
        raise GeometryError(f"this does not fit: {why}", "profile", "shorten the curves or move less") from None


def _there(points: list[ProfilePoint], index: int | None) -> None:
    if index is not None and index >= len(points):
        raise GeometryError(f"there is no IP {index + 1}", "IP", f"the profile has {len(points)}")


def _bare(p: ProfilePoint) -> ProfilePoint:
    return p.changed(length_in=0.0, length_out=0.0) if p.length_in or p.length_out else p


def _place(points: list[ProfilePoint], index: int | None, chainage: float, level: float) -> list[ProfilePoint]:
    """The IPs with one moved or added; a moved one stays between its neighbours."""
    chainage, level = round(chainage, 4), round(level, 4)
    if index is None:
        near = [i for i, p in enumerate(points, start=1) if abs(p.chainage - chainage) < 1e-3]
        if near:
            raise GeometryError(f"IP {near[0]} stands at this chainage", "chainage", "move that one, or choose another place")
        return [*points, ProfilePoint(chainage=chainage, level=level)]
    for other in (index - 1, index + 1):
        if 0 <= other < len(points) and (points[other].chainage - chainage) * (other - index) <= 0:
            raise GeometryError(f"IP {index + 1} would pass IP {other + 1}", "chainage", "remove that one first")
    return [p.changed(chainage=chainage, level=level) if i == index else p for i, p in enumerate(points)]


def _neighbours(
    points: list[ProfilePoint], index: int | None, chainage: float
) -> tuple[ProfilePoint | None, ProfilePoint | None]:
    """The IPs before and after one that stands or will stand at a chainage."""
    others = [p for i, p in enumerate(points) if i != index]
    before = [p for p in others if p.chainage < chainage]
    after = [p for p in others if p.chainage > chainage]
    return before[-1] if before else None, after[0] if after else None


def _at(points: list[ProfilePoint], what: PutAt, around: Around) -> list[ProfilePoint]:
    level = what.level
    if level is None:
        level = float(build_profile(ProfileSpec(points=points)).levels(np.array([what.chainage]))[0])
        if np.isnan(level):
            raise GeometryError("the profile has no level at this chainage", "level", "type the level")
    new = sorted(_place(points, what.index, what.chainage, level), key=lambda p: p.chainage)
    if what.keep == "k" and what.index is not None:
        before, after = _changes(points), _changes(new)
        for i in range(max(1, what.index - 1), min(len(points) - 1, what.index + 2)):
            if before[i] != 0:
                new[i] = _curved(new[i], abs(after[i] / before[i]))
    for i in range(len(new) - 1):
        gap, taken = new[i + 1].chainage - new[i].chainage, new[i].length_out + new[i + 1].length_in
        if taken > gap:
            share = np.floor(gap / taken * 1e6) / 1e6
            new[i], new[i + 1] = _curved(new[i], share), _curved(new[i + 1], share)
    return new


def _curved(p: ProfilePoint, share: float) -> ProfilePoint:
    """The IP with a curve that is longer or shorter by a share."""
    return p.changed(length_in=p.length_in * share, length_out=p.length_out * share)


def _by_grade(points: list[ProfilePoint], what: PutByGrade, around: Around) -> list[ProfilePoint]:
    before, after = _neighbours(points, what.index, what.chainage)
    start = before if what.way == "in" else after
    if start is None:
        side = "before" if what.way == "in" else "after"
        raise GeometryError(f"there is no IP {side} this chainage", "grade", "give a level instead")
    return _place(points, what.index, what.chainage, start.level + what.grade_pct / 100 * (what.chainage - start.chainage))


def _by_grades(points: list[ProfilePoint], what: PutByGrades, around: Around) -> list[ProfilePoint]:
    first, second = (what.after, what.after + 1) if what.index is None else (what.index - 1, what.index + 1)
    if first < 0 or second >= len(points):
        raise GeometryError("an IP by two grades needs an IP before and one after it", "grade", "give one grade instead")
    a, b = points[first], points[second]
    found = cross((a.chainage, a.level, what.grade_in_pct), (b.chainage, b.level, what.grade_out_pct))
    _inside(found[0], a, b)
    return _place(points, what.index, *found)


def _inside(chainage: float, a: ProfilePoint, b: ProfilePoint) -> None:
    if not a.chainage < chainage < b.chainage:
        raise GeometryError(
            f"these grades cross at {chainage:.1f}, outside {a.chainage:.1f} to {b.chainage:.1f}", "grade", "choose other grades"
        )


def cross(first: tuple[float, float, float], second: tuple[float, float, float]) -> tuple[float, float]:
    """Chainage and level where two lines (chainage, level, grade %) cross. Raises GeometryError where they are parallel."""
    (c1, z1, g1), (c2, z2, g2) = first, second
    if abs(g1 - g2) < 1e-9:
        raise GeometryError("the two grades are parallel", "grade", "choose grades that differ")
    x = (z2 - z1 - g2 / 100 * (c2 - c1)) / ((g1 - g2) / 100)
    return c1 + x, z1 + g1 / 100 * x


def _crossing(points: list[ProfilePoint], what: PutAtCrossing, around: Around) -> list[ProfilePoint]:
    lines = []
    for line in (what.first, what.second):
        if isinstance(line, ThroughPoint):
            lines.append((line.chainage, line.level, line.grade_pct))
            continue
        for i in (line.first, line.second):
            _there(points, i)
        if line.first == line.second:
            raise GeometryError("a grade needs two IPs", "grade", "choose two that differ")
        a, b = points[line.first], points[line.second]
        lines.append((a.chainage, a.level, 100 * (b.level - a.level) / (b.chainage - a.chainage)))
    chainage, level = cross(lines[0], lines[1])
    low, high = float(around.chainage[0]), float(around.chainage[-1])
    if not low <= chainage <= high:
        raise GeometryError(f"these grades cross at {chainage:.1f}, off the road", "grade", "choose other grades")
    return _place(points, what.index, chainage, level)


def _match(points: list[ProfilePoint], what: Match, around: Around) -> list[ProfilePoint]:
    c, z = around.known(what.to)
    ahead = 1 if what.end == "begin" else -1
    end = points[0] if ahead > 0 else points[-1]
    if not c[0] - 1e-6 <= end.chainage <= c[-1] + 1e-6:
        raise GeometryError(f"there is no level at {end.chainage:.1f} to match", "profile", "move the end of the profile first")
    if what.over >= points[-1].chainage - points[0].chainage:
        raise GeometryError("the profile is shorter than that", "over", "choose a shorter length")
    level = float(np.interp(end.chainage, c, z))
    # The grade of what is met just outside the profile; at an end of the road the one just inside.
    reach = 10.0
    outside = end.chainage - ahead * reach
    if not c[0] <= outside <= c[-1]:
        outside = end.chainage + ahead * reach
    grade = (float(np.interp(outside, c, z)) - level) / (outside - end.chainage)
    at = end.chainage + ahead * what.over
    kept = [p for p in points[1:-1] if (p.chainage - at) * ahead > 0.5]
    far = points[-1] if ahead > 0 else points[0]
    return [
        end.changed(level=round(level, 4)),
        ProfilePoint(chainage=round(at, 4), level=round(level + ahead * what.over * grade, 4)),
        *kept,
        far,
    ]


def _changes(points: list[ProfilePoint]) -> Floats:
    """Changes of grade at the IPs (n,), %, 0 at the ends."""
    c, z = np.array([p.chainage for p in points]), np.array([p.level for p in points])
    changes: Floats = np.r_[0.0, np.diff(100 * np.diff(z) / np.diff(c)), 0.0]
    return changes


def longest_curve(points: list[ProfilePoint], i: int) -> float:
    """The longest even curve that fits at an inner IP between its neighbours and their curves, m."""
    before, here, after = points[i - 1 : i + 2]
    return 2 * min(here.chainage - before.chainage - before.length_out, after.chainage - here.chainage - after.length_in)


def least_k(standard: VerticalStandard, speed_kmh: float, change_pct: float) -> float:
    """Least K at a change of grade, m/%, by whether it is a crest or a sag."""
    return (standard.crest_k if change_pct < 0 else standard.sag_k).at(speed_kmh)


def _curves(points: list[ProfilePoint], what: SetCurves, around: Around) -> list[ProfilePoint]:
    new, changes = list(points), _changes(points)
    inner = [i for i in sorted(set(what.indices)) if 0 < i < len(points) - 1]
    if not inner:
        raise GeometryError("the first and last IP have no curve", "IP", "choose others")
    for i in inner:
        new[i] = _bare(new[i])
    for i in inner:
        longest = longest_curve(new, i)
        if what.by == "length":
            length = what.value
        elif what.by == "longest":
            # Neighbours that grow too share the room between them.
            rooms = []
            for j in (i - 1, i + 1):
                gap = abs(points[j].chainage - points[i].chainage)
                other = new[j].length_out if j < i else new[j].length_in
                rooms.append(gap - other if j not in inner or j < i else gap / 2)
            length = np.floor(2 * min(rooms) * 1000) / 1000
        else:
            k = what.value if what.by == "k" else least_k(around.standard, around.speed_kmh, changes[i])
            length = k * abs(changes[i])
        if length > longest + 1e-6:
            raise GeometryError(
                f"a curve of {length:.1f} m does not fit at IP {i + 1}; the longest is {longest:.1f} m", f"IP {i + 1}",
                "choose a shorter one, or move the IPs apart",
            )  # fmt: skip
        new[i] = new[i].changed(length_in=round(length / 2, 4), length_out=round(length / 2, 4))
    return new


def _curve_through(points: list[ProfilePoint], what: CurveThrough, around: Around) -> list[ProfilePoint]:
    """With the change of grade A and the place d past the IP, level y above the grade in: 2 L y = A (d + L / 2)2, a parabola's offset from its
    tangent. Of both lengths the longer one has the place on the curve, since their product is (2 d)2."""
    i = what.index
    if not 0 < i < len(points) - 1:
        raise GeometryError("the first and last IP have no curve", "IP", "choose another")
    ip, change = points[i], _changes(points)[i] / 100
    before, after = points[i - 1], points[i + 1]
    d = what.chainage - ip.chainage
    grade_in = (ip.level - before.level) / (ip.chainage - before.chainage)
    grade_out = (after.level - ip.level) / (after.chainage - ip.chainage)
    y, y_out = what.level - ip.level - grade_in * d, what.level - ip.level - grade_out * d
    if change == 0 or y * change <= 0 or y_out * change <= 0:
        where = "above" if change > 0 else "below"
        raise GeometryError(
            f"no curve at IP {i + 1} passes {what.level:.3f} m at {format_chainage(what.chainage)}", "level",
            "the grades do not change there" if change == 0 else f"choose a level {where} both grades, which run at "
            f"{ip.level + grade_in * d:.3f} and {ip.level + grade_out * d:.3f} m there",
        )  # fmt: skip
    length = 2 / change * (2 * y - change * d + np.sign(change) * 2 * np.sqrt(y * y_out))
    return _curves(points, SetCurves(indices=[i], by="length", value=float(length)), around)


def _shift(points: list[ProfilePoint], what: Shift, around: Around) -> list[ProfilePoint]:
    chosen = set(what.indices)
    moved = [
        p.changed(chainage=p.chainage + what.chainage_by, level=p.level + what.level_by) if i in chosen else p
        for i, p in enumerate(points)
    ]
    for i, (a, b) in enumerate(itertools.pairwise(moved), start=1):
        if b.chainage <= a.chainage:
            raise GeometryError(f"IP {i + 1} would not come after IP {i}", "chainage", "shift less, or shift both")
    return moved


def _remove(points: list[ProfilePoint], what: Remove, around: Around) -> list[ProfilePoint]:
    gone = set(what.indices)
    return [p for i, p in enumerate(points) if i not in gone]


def _redundant(points: list[ProfilePoint], what: RemoveRedundant, around: Around) -> list[ProfilePoint]:
    c = np.array([p.chainage for p in points])
    keep = kept_within(c, np.array([[p.level] for p in points]), what.tolerance)
    return [p for p, stays in zip(points, keep, strict=True) if stays]


def _fit(points: list[ProfilePoint], what: FitThrough, around: Around) -> list[ProfilePoint]:
    low, high = what.from_chainage, what.to_chainage
    c, z = around.known(what.through)
    here = (c >= low - 1e-6) & (c <= high + 1e-6)
    s, v = around.standard, around.speed_kmh
    # The least length of a vertical curve, 0.6 V in m and km/h, is the Green Book's (chapter 3).
    limits = FitLimits(s.crest_k.at(v), s.sag_k.at(v), s.most_grade.at(v), what.tolerance, what.spacing, 0.6 * v)
    found = fit_profile(c[here], z[here], limits, fix_ends=what.fix_ends)
    first, last = found.points[0].chainage, found.points[-1].chainage
    before = [p for p in points if p.chainage < first - 1e-3]
    after = [p for p in points if p.chainage > last + 1e-3]
    if before:
        before[-1] = before[-1].changed(length_out=min(before[-1].length_out, first - before[-1].chainage))
    if after:
        after[0] = after[0].changed(length_in=min(after[0].length_in, after[0].chainage - last))
    return [*before, *found.points, *after]


OPERATIONS: dict[str, Callable[..., list[ProfilePoint]]] = {
    "at": _at,
    "by_grade": _by_grade,
    "by_grades": _by_grades,
    "crossing": _crossing,
    "match": _match,
    "curve_through": _curve_through,
    "curves": _curves,
    "shift": _shift,
    "remove": _remove,
    "redundant": _redundant,
    "fit": _fit,
}
