"""What codes may mean by where their lines run along the road: offered, never taken in silence.

Facts of the trade: the edges of a pavement run parallel on both sides, a carriageway apart, and its crossfall leads to them; the crown
runs between them; what lies a good deal lower outside them is a ditch. A line close outside and higher by a kerb's face is its back, so that
the edge is the kerb's lip, and the next one at its height the back of a path. Without a kerb, a flat strip beside the edge ends in a
shoulder. Wheel paths run on both sides of the crown within the edges.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle.geometry.along import along
from saddle.geometry.polylines import Floats
from saddle.terrain.survey import Polyline, Survey, polylines

#: Lines are looked at every so many metres of the way.
EVERY = 5.0
#: A code is looked at where its lines go along this share of what was surveyed of the way.
SHARE = 0.4
#: A line runs along the road where its offset changes by no more than this on the whole (root mean square), m.
PARALLEL = 2.5
#: Lines of a code on one side run one after the other, but for this share of their way.
ABREAST = 0.2
#: A crown lies no farther from the middle between two edges than this share of the width.
MIDDLE = 0.25
#: A pavement falls or rises to its edges by no more than this, as does a path beside it.
STEEPEST = 0.08
#: A carriageway is no narrower than this, m.
NARROWEST = 5.0
#: A ditch lies so much lower than the edge, m.
LOWER = 0.3
#: Lines that are tried as the way where there is no alignment, the longest first.
TRIED = 16
#: A kerb is no wider than this and its face no lower and no higher, m.
KERB_WIDTH, KERB_FACE = 0.6, (0.03, 0.35)
#: A path is so wide, as is a shoulder, which falls by no more than this.
PATH_WIDTH, SHOULDER_WIDTH, SHOULDER_FALL = (0.6, 6.0), (0.25, 4.0), 0.15
#: What lies nearer to crown or edge than this is no wheel path, m.
ASIDE = 0.3
Guess = Literal["crown", "edge", "lip", "back", "path", "shoulder", "wheel path", "ditch"]


@dataclass(frozen=True, slots=True)
class Suggestion:
    """A code and what it may mean. why: what speaks for it."""

    code: str
    meaning: Guess
    why: str


@dataclass(frozen=True, slots=True)
class _Course:
    """A code's lines along a way, on one side or at its middle. offset: mean, m, right positive; level: (k,) at the looked-at places, NaN
    where none of its lines is; share: of these places."""

    code: str
    offset: float
    at: Floats
    level: Floats
    share: float


def suggested(survey: Survey, way: Floats | None, known: set[str]) -> list[Suggestion]:
    """For codes that are not known. way: (k, 2) along the road, m; None to find one among the lines."""
    lines = [p for p in polylines(survey) if len(p.points) > 2]
    if not lines:
        return []
    ways = [way] if way is not None and len(way) > 1 else [p.points[:, :2] for p in sorted(lines, key=_length)[: -TRIED - 1 : -1]]
    tried = [_courses(lines, w) for w in ways]
    # The way in the middle has as many courses on one side as on the other.
    courses = min(tried, key=lambda cs: (abs(sum(np.sign(c.offset) * (abs(c.offset) > 0.5) for c in cs)), -len(cs)))
    return [s for s in _judged(courses) if s.code not in known]


def _length(line: Polyline) -> float:
    return float(np.hypot(*np.diff(line.points[:, :2], axis=0).T).sum())


def _courses(lines: list[Polyline], way: Floats) -> list[_Course]:
    """Every code's course on either side."""
    total = float(np.hypot(*np.diff(way, axis=0).T).sum())
    places = np.arange(0, max(total, EVERY), EVERY)
    sides: dict[tuple[str, int], list[tuple[Floats, Floats, Floats]]] = {}
    met = np.zeros(len(places), dtype=bool)
    for line in lines:
        s, o = along(line.points[:, :2], way)
        mean = float(np.mean(o))
        side = 0 if abs(mean) < 0.5 else int(np.sign(mean))
        order = np.argsort(s, kind="stable")
        met |= (places >= s[order[0]]) & (places <= s[order[-1]])
        sides.setdefault((line.code, side), []).append((s[order], o[order], line.points[order, 2]))
    out = []
    for (code, _), pieces in sides.items():
        at, level = np.full(len(places), np.nan), np.full(len(places), np.nan)
        abreast = 0
        for s, o, z in pieces:
            here = (places >= s[0]) & (places <= s[-1])
            abreast += int((here & np.isfinite(at)).sum())
            at[here], level[here] = np.interp(places[here], s, o), np.interp(places[here], s, z)
        there = np.isfinite(at)
        share = float(there.sum()) / max(int(met.sum()), 1)
        if share >= SHARE and abreast <= ABREAST * there.sum() and float(np.std(at[there])) <= PARALLEL:
            out.append(_Course(code, float(np.mean(at[there])), at, level, share))
    return out


def _judged(courses: list[_Course]) -> list[Suggestion]:
    left = {c.code: c for c in courses if c.offset < 0}
    right = {c.code: c for c in courses if c.offset > 0}
    both = sorted(set(left) & set(right), key=lambda code: right[code].offset - left[code].offset)
    single = [c for c in courses if c.code not in both]
    inner = min(single, key=lambda c: abs(c.offset), default=None)
    if inner is not None and (not both or not left[both[0]].offset < inner.offset < right[both[0]].offset):
        inner = None
    # From the middle outward as far as a crossfall leads, to the first pair that is a road apart: behind it may come a shoulder.
    edge, beside = "", (inner, inner)
    for code in both:
        if any(c is not None and _fall(c, side[code]) > STEEPEST for c, side in zip(beside, (left, right), strict=True)):
            continue
        edge, beside = code, (left[code], right[code])
        if right[code].offset - left[code].offset >= NARROWEST:
            break
    if not edge:
        return []
    low, high = left[edge], right[edge]
    width = high.offset - low.offset
    outside = both[both.index(edge) + 1 :]
    kerb = _kerb(edge, outside, left, right)
    out = [
        Suggestion(edge, "lip", f"a kerb stands on it on both sides, {width:.1f} m apart")
        if kerb
        else Suggestion(edge, "edge", f"its lines run on both sides, {width:.1f} m apart, and a crossfall leads to them")
    ]
    if inner is not None and abs(inner.offset - (low.offset + high.offset) / 2) <= MIDDLE * width:
        out.append(
            Suggestion(inner.code, "crown", f"it runs between the edges, {inner.offset - low.offset:.1f} m from the left one")
        )
        for code in both[: both.index(edge)]:
            aside = min(inner.offset - left[code].offset, right[code].offset - inner.offset)
            if aside >= ASIDE and min(left[code].offset - low.offset, high.offset - right[code].offset) >= ASIDE:
                out.append(
                    Suggestion(code, "wheel path", f"it runs on both sides between crown and edges, {aside:.1f} m from the crown")
                )
    if kerb:
        out.append(Suggestion(kerb, "back", "it runs close outside the edges, higher by the face of a kerb"))
    strip = _strip(kerb or edge, [c for c in outside if c != kerb], left, right, kerb=bool(kerb))
    if strip:
        out.append(
            Suggestion(strip, "path", "it runs behind the kerbs, at about their height")
            if kerb
            else Suggestion(strip, "shoulder", "a flat strip beside the edges leads to it")
        )
    for code in outside:
        drop = min(_mean(low.level - left[code].level), _mean(high.level - right[code].level))
        if drop >= LOWER and code != strip:
            out.append(Suggestion(code, "ditch", f"it runs on both sides outside the edges, {drop:.1f} m lower"))
    return out


def _step(code: str, beyond: str, left: dict[str, _Course], right: dict[str, _Course]) -> list[tuple[float, float]]:
    """How far beyond one code another lies on each side, and how much higher, m."""
    return [(abs(s[beyond].offset - s[code].offset), _mean(s[beyond].level - s[code].level)) for s in (left, right)]


def _kerb(edge: str, outside: list[str], left: dict[str, _Course], right: dict[str, _Course]) -> str:
    """The code of the back of a kerb on the edges, or nothing."""
    for code in outside[:1]:
        if all(wide <= KERB_WIDTH and KERB_FACE[0] <= rise <= KERB_FACE[1] for wide, rise in _step(edge, code, left, right)):
            return code
    return ""


def _strip(by: str, outside: list[str], left: dict[str, _Course], right: dict[str, _Course], *, kerb: bool) -> str:
    """The code behind a path beside a kerb, or a shoulder beside an edge, or nothing."""
    (least, most), fall = (PATH_WIDTH, STEEPEST) if kerb else (SHOULDER_WIDTH, SHOULDER_FALL)
    for code in outside[:1]:
        if all(least <= wide <= most and abs(rise) <= fall * wide for wide, rise in _step(by, code, left, right)):
            return code
    return ""


def _fall(a: _Course, b: _Course) -> float:
    """Fall or rise from one course to the other by their distance; 0 where they have no place together."""
    rise = np.abs(a.level - b.level)
    rise = rise[np.isfinite(rise)]
    return float(np.median(rise)) / max(abs(b.offset - a.offset), 0.01) if len(rise) else 0.0


def _mean(values: Floats) -> float:
    known = values[np.isfinite(values)]
    return float(known.mean()) if len(known) else float("nan")
