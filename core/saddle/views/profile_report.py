"""What a profile amounts to: every IP against the standard, its place in the plan, and what lies beneath."""

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel

from saddle.alignment.alignment import Alignment
from saddle.alignment.profile import Profile, ProfileSpec, build_profile
from saddle.alignment.profile_edit import least_k, longest_curve
from saddle.geometry.polylines import Floats
from saddle.road.beneath import Beneath, Clearance, clearances
from saddle.standards.sight import crest_sight, sight_constant
from saddle.standards.spec import Standards, VerticalStandard

#: A K this much below the limit is within it, m/%: lengths are kept to a tenth of a millimetre.
K_TOLERANCE = 0.02
GRADE_TOLERANCE = 1e-4


class IpReport(BaseModel):
    """An IP of a profile. grade_in, grade_out, change: %, None at the ends; length: of the curve, m; k: m/%, None without a
    curve; k_least: by the standard, None where the change needs no curve; longest: curve that fits, m; ordinate: of the curve
    at the IP, m; turn: chainage of its high or low point; sight: that a crest leaves, m; arcs: the
    horizontal curves that it touches; remarks: what breaks a limit."""

    chainage: float
    level: float
    grade_in: float | None
    grade_out: float | None
    change: float | None
    kind: Literal["crest", "sag", "even"]
    length: float
    k: float | None
    k_least: float | None
    longest: float | None
    ordinate: float
    turn: float | None
    sight: float | None
    arcs: list[tuple[float, float]]
    within_arc: bool
    remarks: list[str]


@dataclass(frozen=True, slots=True, eq=False)
class ProfileReport:
    """ips, clearances; level: (n,) on the chainages asked for; limits that were used: K m/%, grade %, sight m."""

    ips: list[IpReport]
    clearances: list[Clearance]
    level: Floats
    crest_k: float
    sag_k: float
    most_grade: float
    stopping: float


def report_profile(
    spec: ProfileSpec, chainage: Floats, alignment: Alignment, beneath: list[Beneath], standards: Standards, speed_kmh: float
) -> ProfileReport:
    """The report of a profile on an alignment at a speed. chainage: (n,) at which levels are wanted."""
    profile, v = build_profile(spec), standards.vertical
    return ProfileReport(
        [_ip(spec, profile, i, alignment, v, speed_kmh) for i in range(len(spec.points))],
        clearances(beneath, profile.levels, standards.least_cover_over_pipes),
        profile.levels(chainage),
        v.crest_k.at(speed_kmh),
        v.sag_k.at(speed_kmh),
        v.most_grade.at(speed_kmh),
        v.stopping.at(speed_kmh),
    )


def _ip(spec: ProfileSpec, p: Profile, i: int, alignment: Alignment, v: VerticalStandard, speed: float) -> IpReport:
    here, last = spec.points[i], len(spec.points) - 1
    into = float(100 * p.grade[i - 1]) if i > 0 else None
    out = float(100 * p.grade[i]) if i < last else None
    remarks = []
    most = v.most_grade.at(speed)
    if out is not None and abs(out) > most + GRADE_TOLERANCE:
        remarks.append(f"grade out {out:+.2f} % is over {most:g} %")
    found = IpReport(
        chainage=here.chainage, level=here.level, grade_in=into, grade_out=out, change=None, kind="even", length=0.0, k=None,
        k_least=None, longest=None, ordinate=0.0, turn=None, sight=None, arcs=[], within_arc=False, remarks=remarks,
    )  # fmt: skip
    if into is None or out is None:
        return found
    change, length = out - into, here.length_in + here.length_out
    found.change, found.length = change, length
    found.kind = "even" if abs(change) < 1e-9 else "crest" if change < 0 else "sag"
    # An uneven curve is two parabolas; the sharper one counts: its part of the change goes with the other's share of length.
    if length > 0 and change:
        a, b = here.length_in, here.length_out
        shares = [(a, b / length), (b, a / length)]
        found.k = min(part / (abs(change) * share) for part, share in shares if share > 0)
    if abs(change) > v.grade_change.at(speed) + GRADE_TOLERANCE:
        found.k_least = least_k(v, speed, change)
        if found.k is None or found.k < found.k_least - K_TOLERANCE:
            have = "no curve" if found.k is None else f"K {found.k:.1f}"
            remarks.append(f"{have}, at least K {found.k_least:g} ({found.k_least * abs(change):.1f} m) at {speed:g} km/h")
        if found.kind == "crest":
            found.sight = crest_sight(sight_constant(v.eye, v.thing), length, change)
            stopping = v.stopping_on(speed, min(into, out))
            if found.sight < stopping - 0.5:
                remarks.append(f"sight {found.sight:.0f} m, {stopping:.0f} m to stop")
    low, high = here.chainage - here.length_in, here.chainage + here.length_out
    found.longest = longest_curve(spec.points, i)
    found.ordinate = float(abs(change) / 100 * here.length_in * here.length_out / (2 * length)) if length else 0.0
    found.turn = _turn(p, i)
    found.arcs = _arcs(alignment, low, high)
    found.within_arc = any(s <= low + 1e-6 and e >= high - 1e-6 for s, e in found.arcs)
    found.remarks = remarks
    return found


def _arcs(alignment: Alignment, low: float, high: float) -> list[tuple[float, float]]:
    """Bends of the alignment, transitions and all, that a stretch touches: neighbouring elements that turn are one."""
    bends: list[list[float]] = []
    for c, length, first, last in zip(
        alignment.chainage, alignment.length, alignment.curvature, alignment.curvature_end, strict=True
    ):
        if first == 0 and last == 0:
            continue
        if bends and abs(bends[-1][1] - c) < 1e-6:
            bends[-1][1] = float(c + length)
        else:
            bends.append([float(c), float(c + length)])
    return [(s, e) for s, e in bends if s < high and e > low]


def _turn(p: Profile, i: int) -> float | None:
    """Chainage of the high or low point of a curve, None where its grade does not change sign."""
    a, b = float(p.length_in[i]), float(p.length_out[i])
    first, last = float(p.grade[i - 1]), float(p.grade[i])
    if a + b == 0 or first * last >= 0:
        return None
    middle = (first * a + last * b) / (a + b)
    c = float(p.chainage[i])
    return c - a * middle / (middle - first) if first * middle <= 0 else c + b * middle / (middle - last)
