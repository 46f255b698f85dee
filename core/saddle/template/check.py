"""What a designer should look at in a template, found without a road: points on the wrong side, lanes that rise, points
in one place, rungs that can never be taken."""

import itertools

import numpy as np

from saddle.geometry.polylines import Bools, Floats, Polylines
from saddle.template.compiled import CompiledHalf, CompiledTemplate, Fault, KerbPoint, StripSpan, surface_columns
from saddle.template.parts import UnderKerb
from saddle.template.slopes import Room, side_slopes
from saddle.template.solve import plain, solve_points

#: Crossfall of a normal crown, %, with which templates are looked at.
NORMAL_PCT = -2.5
#: Ground under the outer point above or below it, m, and its fall, %, on which rungs are tried.
_HEIGHTS = np.array([0.02, 0.1, 0.25, 0.5, 0.75, 1, 1.5, 2, 3, 4, 5, 6.5, 8, 10, 13, 16, 20, 30])
_FALLS = np.array([-60, -30, -15, -5, 0, 5, 15, 30, 60])
_ROOM = np.array([0.3, 1, 2, 3.5, 6, 10, 20, 60])


def geometry_faults(template: CompiledTemplate, *, mirrored: bool) -> list[Fault]:
    """Faults of a template's own shape, with the values of its dimensions and a normal crown."""
    found = []
    sizes = {name: np.array([d.value]) for name, d in template.dimensions.items()}
    for half, where in ((template.right, "half" if mirrored else "right half"), (template.left, "left half")):
        if mirrored and where == "left half":
            continue
        u, z = solve_points(half, plain(np.array([NORMAL_PCT]), dimensions=sizes))
        found += _without_kerb(half, where)
        found += _order(half, where, u[0]) + _rising(half, where, u[0], z[0]) + _one_place(half, where, u[0], z[0])
    return found


def _order(half: CompiledHalf, where: str, u: Floats) -> list[Fault]:
    found = []
    for a, b in itertools.pairwise(surface_columns(half)):
        if u[b] < u[a] - 1e-9:
            names = half.names[a], half.names[b]
            found.append(
                Fault(
                    "fault",
                    where,
                    names,
                    f"{names[1]} lies {u[a] - u[b]:.3f} m inside {names[0]}",
                    "a width that should be positive?",
                )
            )
    for i, name in enumerate(half.names):
        if u[i] < -1e-9:
            found.append(
                Fault("fault", where, (name,), f"{name} lies on the other side of the hinge", "widths run outward on both sides")
            )
    return found


def _rising(half: CompiledHalf, where: str, u: Floats, z: Floats) -> list[Fault]:
    found = []
    for span in half.spans:
        if not isinstance(span, StripSpan) or span.strip.kind not in ("lane", "shoulder"):
            continue
        width, rise = u[span.end] - u[span.start], z[span.end] - z[span.start]
        if width > 1e-9 and rise / width > 1e-6:
            found.append(
                Fault(
                    "caution", where, (span.strip.name, half.names[span.end]),
                    f"{span.strip.name} rises outward by {100 * rise / width:.1f} % where the crown is normal",
                    "a fall outward is negative",
                )
            )  # fmt: skip
    return found


def _without_kerb(half: CompiledHalf, where: str) -> list[Fault]:
    found = []
    for span in (s for s in half.spans if isinstance(s, StripSpan)):
        for course in span.new.courses:
            for end, side in ((course.inner, -1), (course.outer, 1)):
                if isinstance(end, UnderKerb) and half.kerb_beside(span.strip.name, side) is None:
                    who = f"{course.name} of strip {span.strip.name}"
                    message = f"{who} is to end under a kerb, but none stands beside it: it ends flush"
                    found.append(Fault("caution", where, (span.strip.name,), message, "choose another end, or another make-up"))
    return found


def _one_place(half: CompiledHalf, where: str, u: Floats, z: Floats) -> list[Fault]:
    found = []
    own = [i for i, p in enumerate(half.points) if not isinstance(p, KerbPoint)]
    for i, j in itertools.combinations(own, 2):
        if abs(u[i] - u[j]) < 1e-6 and abs(z[i] - z[j]) < 1e-6:
            names = half.names[i], half.names[j]
            found.append(Fault("caution", where, names, f"{names[0]} and {names[1]} lie in one place", "take one of them away"))
    return found


def rung_faults(template: CompiledTemplate, *, mirrored: bool) -> list[Fault]:
    """Rungs that are taken on none of many straight grounds, boundaries and chainages: something before them always is,
    or their conditions cannot hold together."""
    found = []
    for half, where in ((template.right, "half" if mirrored else "right half"), (template.left, "left half")):
        if mirrored and where == "left half":
            continue
        asks = [r.name for r in half.rungs if r.inside_boundary]
        if asks and half.boundary is None:
            found.append(
                Fault(
                    "caution",
                    where,
                    tuple(asks),
                    f"{', '.join(asks)} must land inside the boundary, but the half names none",
                    "choose its boundary",
                )
            )
        for rung, fires in zip(half.rungs, fires_anywhere(half), strict=True):
            if not fires and not (rung.inside_boundary and half.boundary is None):
                found.append(
                    Fault(
                        "caution",
                        where,
                        (rung.name,),
                        f"rung {rung.name} can never be taken",
                        "an earlier rung is taken wherever it could be: move it up or tighten that one",
                    )
                )
    return found


def fires_anywhere(half: CompiledHalf) -> Bools:
    """Per rung whether it is taken on some of the grounds that are tried."""
    limits = sorted({c for r in half.rungs for c in (r.from_chainage, r.to_chainage) if c is not None})
    probes = (
        np.array([limits[0] - 1, *((a + b) / 2 for a, b in itertools.pairwise(limits)), limits[-1] + 1])
        if limits
        else np.array([0.0])
    )
    heights = np.concatenate([-_HEIGHTS[::-1], _HEIGHTS])
    height, fall, room, chainage = (a.ravel() for a in np.meshgrid(heights, _FALLS, _ROOM, probes))
    n = len(height)
    reach = 250.0
    ground = Polylines(np.tile([0.0, reach], (n, 1)), np.stack([height, height + fall / 100 * reach], axis=1))
    taken = side_slopes(np.zeros(n), np.zeros(n), half.rungs, ground, Room(chainage, room, np.full(n, np.nan))).rung
    return np.isin(np.arange(len(half.rungs)), taken)
