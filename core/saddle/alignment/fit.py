"""Best fit: the straights, arcs and clothoids of an old road through surveyed points.

First the points are divided into runs that a straight or an arc explains, by dynamic programming over all divisions;
then the whole tangent-continuous chain is adjusted at once by least squares of the offsets (scipy's trust region);
then transitions are tried between straights and arcs and kept where the Bayesian information criterion is for them.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from saddle.alignment.alignment import Alignment, build, chained, end_curvatures
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Element, Straight
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats

#: What one more element must save, in squared tolerances, before it is believed.
STRAIGHT_COST, ARC_COST = 12.0, 16.0
#: Elements shorter than this are not believed, m, and neither are arcs sharper or flatter.
SHORTEST, SHARPEST, FLATTEST = 8.0, 12.0, 20_000.0
#: Points used to divide the line; a denser survey is thinned for that only.
MOST_POINTS = 320
#: The chain runs on beyond its ends by this while it is adjusted, m.
LEAD = 60.0


@dataclass(frozen=True, slots=True, eq=False)
class Fit:
    """spec: the alignment found. chainage, residual: (n,) of every point, m; the residual is the point's offset from
    where it should lie, positive right. changed: elements kept their order, so indices of pins stay true."""

    spec: AlignmentSpec
    chainage: Floats
    residual: Floats

    @property
    def rms(self) -> float:
        """Root mean square of the residuals, m."""
        return float(np.sqrt(np.mean(self.residual**2)))


def fit(points: Floats, tolerance: float = 0.05, offset: float = 0.0, clothoids: bool = True, name: str = "Fitted") -> Fit:
    """Alignment through points (n, 2) that stand in order along a line, m.

    tolerance: how far a point may lie off before another element is worth it, m; offset: of the surveyed line from the
    alignment, m, positive right. Raises GeometryError for fewer than four points or points in one place.
    """
    p = _checked(points)
    elements, bearing = _divided(p, tolerance)
    start = p[0] + offset * np.array([-np.cos(bearing), np.sin(bearing)])
    first = AlignmentSpec(
        name=name,
        start_east=float(start[0]),
        start_north=float(start[1]),
        start_bearing_deg=float(np.degrees(bearing) % 360),
        elements=elements,
    )
    found = _tidied(refit(first, p, (), offset), p, offset)
    if clothoids:
        found = _with_clothoids(found, p, offset)
    return found


def refit(spec: AlignmentSpec, points: Floats, pinned: Sequence[int] = (), offset: float = 0.0) -> Fit:
    """The elements of an alignment adjusted to points, their number and kinds kept.

    pinned: indices of elements whose length and radius stay as they are. The chain begins and ends beside the first
    and last point. Raises GeometryError as `fit` does, and where a pinned chain cannot be built.
    """
    p = _checked(points)
    chain = _Chain(spec, pinned)
    guess = chain.nearest(chain.values, p)

    def residuals(values: Floats) -> Floats:
        nonlocal guess
        guess, found = chain.offsets(values, p, guess)
        return found - offset

    scale = np.maximum(np.abs(chain.values), chain.smallest)
    low, high = chain.bounds()
    begin = np.clip(chain.values, low + 1e-9, high - 1e-9)
    adjusted = least_squares(residuals, begin, x_scale=scale, bounds=(low, high), method="trf", max_nfev=60)
    return chain.finished(adjusted.x, p, offset)


def _checked(points: Floats) -> Floats:
    p = np.asarray(points, dtype=float)
    if len(p) < 4:
        raise GeometryError(f"{len(p)} points are too few for a fit", "points", "choose a line of at least four points")
    keep = np.r_[True, np.hypot(*np.diff(p, axis=0).T) > 1e-3]
    if keep.sum() < 4:
        raise GeometryError("the points stand in one place", "points", "choose another line")
    return p[keep]


# dividing


def _divided(points: Floats, tolerance: float) -> tuple[list[Element], float]:
    """Straights and arcs in order, and the bearing at the start."""
    p = points[np.unique(np.linspace(0, len(points) - 1, min(len(points), MOST_POINTS)).astype(int))]
    n = len(p)
    along = np.r_[0, np.cumsum(np.hypot(*np.diff(p, axis=0).T))]
    best, previous, curvature = np.full(n + 1, np.inf), np.zeros(n + 1, dtype=int), np.zeros(n + 1)
    best[0] = 0.0
    for i in range(n):
        cost, k = _runs_from(p[i:], tolerance)
        total = best[i] + cost
        better = total < best[i + 1 :]
        best[i + 1 :][better] = total[better]
        previous[i + 1 :][better] = i
        curvature[i + 1 :][better] = k[better]
    runs: list[tuple[int, int, float]] = []
    end = n
    while end > 0:
        runs.append((int(previous[end]), end, float(curvature[end])))
        end = int(previous[end])
    runs.reverse()
    cuts = [0.0, *(float(along[a - 1] + along[a]) / 2 for a, _, _ in runs[1:]), float(along[-1])]
    first = p[min(runs[0][1] - 1, n - 1)] - p[0]
    bearing = float(np.arctan2(first[0], first[1])) - runs[0][2] * (cuts[1] - cuts[0]) / 2
    return _chained(
        [(b - a, k) for (a, b), (_, _, k) in zip(itertools.pairwise(cuts), runs, strict=True)], p, along, cuts
    ), bearing


def _runs_from(p: Floats, tolerance: float) -> tuple[Floats, Floats]:
    """Cost and curvature of the best element over p[:j + 1], for every j, all (m,)."""
    m = len(p)
    x, y = (p - p[0]).T
    count = np.arange(1, m + 1)
    sx, sy, sxx, sxy, syy = (np.cumsum(v) for v in (x, y, x * x, x * y, y * y))
    cxx, cxy, cyy = sxx - sx * sx / count, sxy - sx * sy / count, syy - sy * sy / count
    sse = np.maximum((cxx + cyy) / 2 - np.hypot((cxx - cyy) / 2, cxy), 0.0)
    cost = np.where(count >= 2, sse / tolerance**2 + STRAIGHT_COST, np.inf)
    curvature = np.zeros(m)
    if m >= 5:
        # Circle by linear least squares of z = x2 + y2 on 2x, 2y, 1 (Kasa 1976), in the scatter's own axes.
        z = x * x + y * y
        sz, sxz, syz, szz = (np.cumsum(v) for v in (z, x * z, y * z, z * z))
        cxz, cyz, czz = sxz - sx * sz / count, syz - sy * sz / count, szz - sz * sz / count
        det = cxx * cyy - cxy * cxy
        with np.errstate(invalid="ignore", divide="ignore"):
            a, b = (cyy * cxz - cxy * cyz) / det / 2, (cxx * cyz - cxy * cxz) / det / 2
            radius = np.sqrt(np.maximum((sz - 2 * a * sx - 2 * b * sy) / count + a * a + b * b, 0))
            left = np.maximum(czz - 2 * a * cxz - 2 * b * cyz, 0) / (4 * radius**2)
            arc = left / tolerance**2 + ARC_COST
        ok = np.isfinite(arc) & (count >= 5) & (radius >= SHARPEST) & (radius <= FLATTEST)
        # Turning right when the centre lies right of the chord; three points in a row have no centre.
        with np.errstate(invalid="ignore", over="ignore"):
            side = np.sign(a * y - b * x)
        take = ok & (arc < cost) & (np.abs(side) == 1)
        cost[take], curvature[take] = arc[take], side[take] / radius[take]
    return cost, curvature


def _chained(runs: list[tuple[float, float]], p: Floats, along: Floats, cuts: list[float]) -> list[Element]:
    """Elements out of (length, curvature); where two straights meet at an angle an arc is put between them."""
    elements: list[Element] = []
    for i, (length, k) in enumerate(runs):
        if k != 0:
            elements.append(Arc(length=length, radius=1 / k))
            continue
        if elements and isinstance(elements[-1], Straight):
            turn = _turn(p, along, cuts[i], min(runs[i - 1][0], length))
            room = min(elements[-1].length, length) / 3
            if abs(turn) > 1e-4:
                elements[-1] = Straight(length=max(elements[-1].length - room / 2, 1.0))
                elements += [
                    Arc(length=room, radius=float(np.clip(room / turn, -FLATTEST, FLATTEST))),
                    Straight(length=max(length - room / 2, 1.0)),
                ]
            else:
                elements[-1] = Straight(length=elements[-1].length + length)
            continue
        elements.append(Straight(length=length))
    return elements


def _turn(p: Floats, along: Floats, at: float, reach: float) -> float:
    """By how much the line turns right at a place, rad, from the chords before and after it."""

    def bearing(low: float, high: float) -> float:
        a, b = (np.array([np.interp(s, along, p[:, i]) for i in (0, 1)]) for s in (low, high))
        return float(np.arctan2(*(b - a)))

    turn = bearing(at, at + reach) - bearing(at - reach, at)
    return float((turn + np.pi) % (2 * np.pi) - np.pi)


# adjusting


class _Chain:
    """An alignment as a vector of values: sideways shift of its start, bearing, then length and curvature of what is free."""

    def __init__(self, spec: AlignmentSpec, pinned: Sequence[int]) -> None:
        self.spec, self.kinds = spec, [e.kind for e in spec.elements]
        ends = [end_curvatures(e, i + 1) for i, e in enumerate(spec.elements)]
        self.length = np.array([e.length for e in spec.elements])
        self.pins = set(pinned)
        n = len(self.kinds)
        self.arcs = [i for i, kind in enumerate(self.kinds) if kind == "arc"]
        self.curvature = np.array([ends[i][0] if self.kinds[i] == "arc" else 0.0 for i in range(n)])
        # The first and last lengths follow from the points at the end.
        self.free_lengths = [i for i in range(n) if i not in self.pins and i != n - 1]
        self.free_curvatures = [i for i in self.arcs if i not in self.pins]
        bearing = np.radians(spec.start_bearing_deg)
        self.origin = np.array([spec.start_east, spec.start_north])
        self.aside = np.array([np.cos(bearing), -np.sin(bearing)])
        self.values = np.array([0.0, bearing, *self.length[self.free_lengths], *self.curvature[self.free_curvatures]])
        self.smallest = np.array([1.0, 0.01, *(5.0 for _ in self.free_lengths), *(1e-4 for _ in self.free_curvatures)])

    def bounds(self) -> tuple[Floats, Floats]:
        n = len(self.free_lengths)
        low, high = np.full(len(self.values), -np.inf), np.full(len(self.values), np.inf)
        low[2 : 2 + n] = 0.5
        k = self.values[2 + n :]
        # An arc keeps its sense and stays within what a road can be.
        low[2 + n :] = np.where(k > 0, 1 / (10 * FLATTEST), -1 / SHARPEST)
        high[2 + n :] = np.where(k > 0, 1 / SHARPEST, -1 / (10 * FLATTEST))
        return low, high

    def alignment(self, values: Floats, lead: float = LEAD) -> Alignment:
        """The chain, prolonged at both ends by `lead` m."""
        length, curvature = self.length.copy(), self.curvature.copy()
        n = len(self.free_lengths)
        length[self.free_lengths] = values[2 : 2 + n]
        curvature[self.free_curvatures] = values[2 + n :]
        k0, k1 = curvature.copy(), curvature.copy()
        for i, kind in enumerate(self.kinds):
            if kind == "clothoid":
                k0[i] = curvature[i - 1] if i else 0.0
                k1[i] = curvature[i + 1] if i + 1 < len(curvature) else 0.0
        east, north = self.origin + values[0] * self.aside
        return _from_arrays(float(east), float(north), float(values[1]), length, k0, k1, lead)

    def nearest(self, values: Floats, p: Floats) -> Floats:
        """Chainages near the points, found by their distance along the line."""
        chord = np.r_[0, np.cumsum(np.hypot(*np.diff(p, axis=0).T))]
        scale = float(self.length.sum() / max(chord[-1], 1e-9))
        out: Floats = LEAD + chord * scale
        return out

    def offsets(self, values: Floats, p: Floats, guess: Floats) -> tuple[Floats, Floats]:
        """Chainages and offsets of the points (n,), from chainages nearby."""
        line = self.alignment(values)
        s = np.clip(guess, line.start, line.end)
        offset = np.zeros(len(p))
        for _ in range(4):
            frame = line.frames(s)
            d = p - frame.origin
            ahead = d[:, 0] * np.sin(frame.bearing) + d[:, 1] * np.cos(frame.bearing)
            offset = (d * frame.to_right).sum(axis=1)
            s = np.clip(s + ahead / np.maximum(1 - frame.curvature * offset, 0.1), line.start, line.end)
        return s, offset

    def finished(self, values: Floats, p: Floats, offset: float) -> Fit:
        """The adjusted chain cut to begin beside the first and end beside the last point, and its residuals."""
        line = self.alignment(values)
        s, o = self.offsets(values, p, self.nearest(values, p))
        for _ in range(6):
            s, o = self.offsets(values, p, s)
        first, last = float(s.min()), float(s.max())
        elements: list[Element] = []
        for i, kind in enumerate(self.kinds):
            a = max(float(line.chainage[i]), first)
            b = min(float(line.chainage[i] + line.length[i]), last)
            length = max(b - a, 1e-3)
            if kind == "straight":
                elements.append(Straight(length=length))
            elif kind == "arc":
                elements.append(Arc(length=length, radius=float(1 / line.curvature[i])))
            else:
                radii = [float(1 / k) if k else None for k in (line.curvature[i], line.curvature_end[i])]
                elements.append(Clothoid(length=length, radius_start=radii[0], radius_end=radii[1]))
        frame = line.frames(np.array([first]))
        spec = self.spec.changed(
            start_east=float(frame.origin[0, 0]),
            start_north=float(frame.origin[0, 1]),
            start_bearing_deg=float(np.degrees(frame.bearing[0]) % 360),
            elements=[e.model_dump() for e in elements],
        )
        return Fit(spec, s - first + spec.start_chainage, o - offset)


def _from_arrays(east: float, north: float, bearing: float, length: Floats, k0: Floats, k1: Floats, lead: float) -> Alignment:
    """An alignment straight from arrays, prolonged at both ends with the curvature it has there."""
    first = k0[0] if k0[0] == k1[0] else 0.0
    turn = first * lead
    back = lead * np.sinc(turn / 2 / np.pi)
    east -= back * np.sin(bearing - turn / 2)
    north -= back * np.cos(bearing - turn / 2)
    length = np.concatenate([[length[0] + lead], length[1:]])
    length[-1] += lead
    return chained(0.0, east, north, bearing - turn, list(zip(length.tolist(), k0.tolist(), k1.tolist(), strict=True)))


# tidying


def _tidied(found: Fit, p: Floats, offset: float) -> Fit:
    """Without elements too short to be believed, as long as the rest explains the points as well."""
    while len(found.spec.elements) > 1:
        lengths = [e.length for e in found.spec.elements]
        shortest = int(np.argmin(lengths))
        if lengths[shortest] >= SHORTEST:
            break
        kept = [e.model_dump() for i, e in enumerate(found.spec.elements) if i != shortest]
        joined: list[dict[str, object]] = []
        for element in kept:
            if joined and joined[-1]["kind"] == element["kind"] == "straight":
                joined[-1]["length"] = float(joined[-1]["length"]) + element["length"]  # type: ignore[arg-type]
            else:
                joined.append(element)
        fewer = refit(found.spec.changed(elements=joined), p, (), offset)
        if fewer.rms > max(1.15 * found.rms, 1e-4):
            break
        found = fewer
    return found


def _with_clothoids(found: Fit, p: Floats, offset: float) -> Fit:
    """Transitions put between straights and arcs where they explain the points better."""
    best = found
    for elements in (found.spec.elements, _main_curves(found.spec.elements)):
        richer = _between(list(elements))
        if len(richer) == len(elements):
            continue
        candidate = refit(found.spec.changed(elements=[e.model_dump() for e in richer]), p, (), offset)
        while small := {i for i, e in enumerate(candidate.spec.elements) if isinstance(e, Clothoid) and e.length < SHORTEST}:
            kept = [e.model_dump() for i, e in enumerate(candidate.spec.elements) if i not in small]
            candidate = refit(candidate.spec.changed(elements=kept), p, (), offset)
        if _criterion(candidate) < _criterion(best):
            best = candidate
    return best


def _between(elements: list[Element]) -> list[Element]:
    """A clothoid between every straight and arc."""
    out: list[Element] = elements[:1]
    for before, element in itertools.pairwise(elements):
        if {before.kind, element.kind} == {"straight", "arc"}:
            length = max(min(before.length, element.length, 160.0) / 4, 2.0)
            if isinstance(element, Arc):
                out.append(Clothoid(length=length, radius_end=element.radius))
            elif isinstance(before, Arc):
                out.append(Clothoid(length=length, radius_start=before.radius))
        out.append(element)
    return out


def _main_curves(elements: list[Element]) -> list[Element]:
    """Arcs of one sense that follow each other, with short straights between, taken as their sharpest one: the flatter
    ones beside it usually stand for a transition."""
    out: list[Element] = []
    group: list[Element] = []

    def close() -> None:
        arcs = [e for e in group if isinstance(e, Arc)]
        if arcs:
            sharpest = min(arcs, key=lambda e: abs(e.radius))
            out.append(
                Arc(length=max(sum(abs(sharpest.radius / e.radius) * e.length for e in arcs), 1.0), radius=sharpest.radius)
            )
        group.clear()

    for element in elements:
        sense = next((e.radius for e in group if isinstance(e, Arc)), 0.0)
        if isinstance(element, Arc):
            if sense * element.radius < 0:
                close()
            group.append(element)
        elif group and element.length < 3 * SHORTEST:
            group.append(element)
        else:
            close()
            out.append(element)
    close()
    return out


def _criterion(found: Fit) -> float:
    """Bayesian information criterion: n ln(SSE / n) + k ln n. Residuals under a tenth of a millimetre count as that."""
    n = len(found.residual)
    values = 3 + sum(2 if e.kind == "arc" else 1 for e in found.spec.elements)
    return float(n * np.log(max(found.rms, 1e-4) ** 2) + values * np.log(n))


def check(spec: AlignmentSpec, points: Floats, offset: float = 0.0) -> Fit:
    """Residuals of points against an alignment as it is; NaN beyond its ends."""
    chainage, found = build(spec).locate(np.asarray(points, dtype=float))
    return Fit(spec, chainage, found - offset)
