"""A profile fitted through levels: least squares with parabolas within limits.

With the first level z0, the first grade g1, and for every IP its change of grade d, chainage c and curve length L,

    z(x) = z0 + g1 (x - x0) + sum of d phi(x - c, L),    phi(t, L) = 0, (t + L/2)2 / (2 L), t

before, in and after the curve: the parabola of any route-surveying textbook. Limits on K, grade and room are linear in these,
so that a sequential least-squares search keeps them.
"""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import minimize

from saddle.alignment.profile import ProfilePoint, ProfileSpec, build_profile
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats

#: More IPs between the ends than this are not searched for at once; what lies further off then is told by the residuals.
MOST_INNER = 20
#: An IP helps when it brings the mean square down to this share; the search gives up after so many that do not.
HELPS, PATIENCE = 0.97, 3
#: Levels are weighed in this unit, m: a search near 1 ends where it should.
UNIT = 0.01


@dataclass(frozen=True, slots=True)
class FitLimits:
    """crest_k, sag_k: least, m/%; most_grade: %; tolerance: greatest distance of a level wanted, m; spacing: least distance
    of IPs, m; shortest: length of curve, m, as far as the spacing leaves room for it."""

    crest_k: float
    sag_k: float
    most_grade: float
    tolerance: float
    spacing: float
    shortest: float = 1.0


@dataclass(frozen=True, slots=True, eq=False)
class ProfileFit:
    """points: the IPs; residual: (n,) level less profile, m; kept: whether it keeps the limits."""

    points: list[ProfilePoint]
    residual: Floats
    kept: bool = True

    @property
    def chainages(self) -> Floats:
        return np.array([p.chainage for p in self.points])

    @property
    def worst(self) -> float:
        return float(np.abs(self.residual).max())

    @property
    def cost(self) -> float:
        return float((self.residual**2).mean())


@dataclass(frozen=True, slots=True, eq=False)
class Start:
    """Where a search begins. chainage, level: (k + 2,) of the IPs; length: (k,) of the curves between."""

    chainage: Floats
    level: Floats
    length: Floats


def fit_profile(chainage: Floats, level: Floats, limits: FitLimits, *, fix_ends: bool = False) -> ProfileFit:
    """The profile nearest to levels (n,) at rising chainages. fix_ends: it passes through the first and the last.

    It begins straight; IPs are added where it is furthest off until every level lies within the tolerance, no more find room
    or they no longer help; those that turn out not to be needed go again. Raises GeometryError where there are too few levels
    or no profile keeps the limits.
    """
    if len(chainage) < 3 or chainage[-1] - chainage[0] < 2 * limits.spacing:
        raise GeometryError("there are too few levels to fit a profile", "range", "mark a longer range, or less spacing")
    ends = np.array([chainage[0], chainage[-1]])
    tried = [_search(chainage, level, Start(ends, np.interp(ends, chainage, level), np.empty(0)), limits, fix_ends)]
    idle = 0
    while idle < PATIENCE:
        last = tried[-1]
        if last.kept and last.worst <= limits.tolerance:
            break
        places = _room_at_worst(chainage, last.residual, last.chainages, limits.spacing)
        room = MOST_INNER - (len(last.points) - 2)
        if not places or room <= 0:
            break
        start = _start(last)
        for at in places[:room]:
            start = _with(start, at, float(np.interp(at, chainage, level)))
        new = _search(chainage, level, start, limits, fix_ends)
        idle = 0 if new.cost < last.cost * HELPS or not last.kept else idle + 1
        tried.append(new)
    good = [t for t in tried if t.kept]
    if not good:
        raise GeometryError("no profile keeps the limits here", "limits", "choose a lower speed, or another range")
    within = [t for t in good if t.worst <= limits.tolerance]
    best = within[0] if within else min(good, key=lambda t: t.cost * HELPS ** -len(t.points))
    return _without_needless(chainage, level, best, limits, fix_ends)


def _without_needless(x: Floats, z: Floats, best: ProfileFit, limits: FitLimits, fix_ends: bool) -> ProfileFit:
    """IPs dropped, those that bend least first, as long as the levels lie no further off than they may."""
    allowed = max(limits.tolerance, best.worst)
    again = True
    while again and len(best.points) > 2:
        again = False
        at, tangent = best.chainages, np.array([p.level for p in best.points])
        bends = np.abs(np.diff(np.diff(tangent) / np.diff(at)))
        for i in np.argsort(bends)[:3] + 1:
            lengths = np.array([2 * p.length_in for p in best.points[1:-1]])
            start = Start(np.delete(at, i), np.delete(tangent, i), np.delete(lengths, i - 1))
            fewer = _search(x, z, start, limits, fix_ends)
            if fewer.kept and fewer.worst <= allowed:
                best, again = fewer, True
                break
    return best


def _start(fit: ProfileFit) -> "Start":
    """A search that begins where another one ended."""
    lengths = np.array([2 * p.length_in for p in fit.points[1:-1]])
    return Start(fit.chainages, np.array([p.level for p in fit.points]), lengths)


def _with(start: "Start", at: float, level: float) -> "Start":
    """Where the search begins with one more IP: curves of its neighbours shrink to make room."""
    i = int(np.searchsorted(start.chainage, at))
    c, z = np.insert(start.chainage, i, at), np.insert(start.level, i, level)
    lengths = np.insert(start.length, i - 1, np.inf)
    gaps = np.diff(c)
    return Start(c, z, np.minimum(lengths, 0.8 * np.minimum(gaps[:-1], gaps[1:])))


def _room_at_worst(chainage: Floats, residual: Floats, taken: Floats, spacing: float) -> list[float]:
    """Where further IPs help most: the worst place with room, and as many nearly as bad as a third of those there are."""
    off, found = np.abs(residual), list(taken)
    for i in np.argsort(-off):
        if len(found) - len(taken) > len(taken) // 3 or (len(found) > len(taken) and off[i] < off.max() / 2):
            break
        if min(abs(chainage[i] - c) for c in found) >= spacing:
            found.append(float(chainage[i]))
    return found[len(taken) :]


def shape(t: Floats, length: Floats) -> tuple[Floats, Floats, Floats]:
    """phi and its derivatives by t and by L. t: (n, k); length: (k,), positive."""
    into = np.clip(t + length / 2, 0.0, length)
    curved = (t > -length / 2) & (t < length / 2)
    phi = np.where(curved, into**2 / (2 * length), np.maximum(t, 0.0))
    return phi, into / length, np.where(curved, ((length / 2) ** 2 - t**2) / (2 * length**2), 0.0)


def _search(x: Floats, z: Floats, start: Start, limits: FitLimits, fix_ends: bool) -> ProfileFit:
    """The best profile with so many IPs. Unknowns: z0 and g1, then d, c and L of every IP; g and d in %, the others in m."""
    k = len(start.length)
    zero = float(z[0])
    grade = 100 * np.diff(start.level) / np.diff(start.chainage)
    unknown = np.r_[
        start.level[0] - zero,
        grade[0],
        np.diff(grade),
        start.chainage[1:-1],
        np.maximum(start.length, min(limits.shortest, limits.spacing)),
    ]

    def levels(u: Floats) -> tuple[Floats, Floats]:
        d, c, length = u[2 : 2 + k], u[2 + k : 2 + 2 * k], u[2 + 2 * k :]
        phi, by_t, by_l = shape(x[:, None] - c, length)
        value = u[0] + u[1] / 100 * (x - x[0]) + phi @ d / 100
        slope = np.column_stack([np.ones(len(x)), (x - x[0]) / 100, phi / 100, -by_t * d / 100, by_l * d / 100])
        return value, slope

    target = z - zero

    def cost(u: Floats) -> tuple[float, Floats]:
        value, slope = levels(u)
        off = (value - target) / UNIT
        return float(off @ off) / len(x), 2 * (off @ slope) / UNIT / len(x)

    rows, least = _limits(k, x[0], x[-1], limits)
    constraints = [{"type": "ineq", "fun": lambda u: rows @ u - least, "jac": lambda u: rows}]
    if fix_ends:
        ends = [0, len(x) - 1]
        constraints.append({"type": "eq", "fun": lambda u: (levels(u)[0] - target)[ends], "jac": lambda u: levels(u)[1][ends]})
    bounds = [(None, None)] * (2 + k) + [(x[0], x[-1])] * k + [(min(limits.shortest, limits.spacing), None)] * k
    found = minimize(
        cost, unknown, jac=True, method="SLSQP", bounds=bounds, constraints=constraints, options={"maxiter": 120, "ftol": 1e-10}
    )
    u = found.x
    kept = bool(np.isfinite(u).all() and (rows @ u - least > -1e-3).all())
    return _profile(x, z, u, k, zero, kept)


def _limits(k: int, low: float, high: float, limits: FitLimits) -> tuple[Floats, Floats]:
    """Rows and least values of everything that must hold: rows @ unknown >= least."""
    rows: list[Floats] = []
    least: list[float] = []

    def hold(at_least: float, **terms: float) -> None:
        row = np.zeros(2 + 3 * k)
        for name, factor in terms.items():
            what, _, i = name.partition("_")
            row[{"g": 1, "d": 2, "c": 2 + k, "l": 2 + 2 * k}[what] + int(i or 0)] += factor
        rows.append(row)
        least.append(at_least)

    for i in range(k + 1):
        upto = {f"d_{j}": 1.0 for j in range(i)}
        hold(-limits.most_grade, g=1.0, **upto)
        hold(-limits.most_grade, g=-1.0, **{name: -1.0 for name in upto})
    for i in range(k):
        hold(0.0, **{f"l_{i}": 1.0, f"d_{i}": limits.crest_k})
        hold(0.0, **{f"l_{i}": 1.0, f"d_{i}": -limits.sag_k})
        if i + 1 < k:
            hold(limits.spacing, **{f"c_{i + 1}": 1.0, f"c_{i}": -1.0})
            hold(0.0, **{f"c_{i + 1}": 1.0, f"c_{i}": -1.0, f"l_{i + 1}": -0.5, f"l_{i}": -0.5})
    if k:
        hold(low, c_0=1.0, l_0=-0.5)
        hold(-high, **{f"c_{k - 1}": -1.0, f"l_{k - 1}": -0.5})
    return np.array(rows), np.array(least)


def _profile(x: Floats, z: Floats, u: Floats, k: int, zero: float, kept: bool) -> ProfileFit:
    """IPs from the unknowns, rounded as they are kept: lengths down, so that they fit their room."""
    d, c, length = u[2 : 2 + k], u[2 + k : 2 + 2 * k], u[2 + 2 * k :]
    c = np.sort(np.clip(c, x[0] + 0.5, x[-1] - 0.5))
    if not kept:  # whatever the search ended with becomes a profile that can be read, to go on from
        c = np.maximum.accumulate(c - 0.01 * np.arange(k)) + 0.01 * np.arange(k)
    chainage = np.r_[x[0], np.round(c, 3), x[-1]]
    grade = (u[1] + np.r_[0.0, np.cumsum(d)]) / 100
    at = zero + u[0] + np.r_[0.0, np.cumsum(grade * np.diff(np.r_[x[0], c, x[-1]]))]
    gaps = np.diff(chainage)
    half = length / 2
    for i in range(k):
        before = half[i - 1] if i else 0.0
        half[i] = max(0.0, np.floor(min(half[i], gaps[i] - before, gaps[i + 1]) * 1e4) / 1e4)
    inner = [
        ProfilePoint(chainage=float(a), level=round(float(b), 4), length_in=float(h), length_out=float(h))
        for a, b, h in zip(chainage[1:-1], at[1:-1], half, strict=True)
    ]
    ends = [ProfilePoint(chainage=float(chainage[i]), level=round(float(at[i]), 4)) for i in (0, -1)]
    points = [ends[0], *inner, ends[1]]
    return ProfileFit(points, z - build_profile(ProfileSpec(points=points)).levels(x), kept)
