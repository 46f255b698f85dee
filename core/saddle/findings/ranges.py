"""Ranges that lie beyond the road, and rules that find nothing."""

from functools import partial

import numpy as np

from saddle import tolerances
from saddle.figures import written
from saddle.problem import Problem, problems_where
from saddle.road.model import RoadModel


def outside(model: RoadModel) -> list[Problem]:
    """Ranges that lie beyond the ends of the road, each by name; and a road on which nothing is built."""
    low, high, inputs = model.alignment.start, model.alignment.end, model.inputs
    ranges: list[tuple[str, str, float, float]] = [
        ("Overlay", f"the treatment ({t.work.kind})", t.from_chainage, t.to_chainage) for t in inputs.treatments.ranges
    ]
    ranges += [("Templates", f"template “{r.template}”", r.from_chainage, r.to_chainage) for r in inputs.template_plan.ranges]
    ranges += [("Guides", f"the follow rule of {r.point} {r.side}", r.from_chainage, r.to_chainage) for r in inputs.follow.rules]
    ranges += [("Overlay", "milling", s.rows[0].chainage, s.rows[-1].chainage) for s in inputs.milling.stretches]
    found = []
    for subject, what, start, end in ranges:
        beyond = max(low - start, 0.0) + max(end - high, 0.0)
        if beyond <= tolerances.CHAINAGE_MERGE:
            continue
        wholly = end <= low or start >= high
        near = min(max(start, low), high), min(max(end, low), high)
        words = "lies beyond the road" if wholly else f"runs {written(beyond, 'offset')} m beyond the road"
        found.append(
            Problem(
                "outside", "fault" if wholly else "caution", *near, subject,
                f"{what} from {written(start, 'chainage')} to {written(end, 'chainage')} {words}, which is from "
                f"{written(low, 'chainage')} to {written(high, 'chainage')}: move or remove it",
            )
        )  # fmt: skip
    if not model.worked_on().any():
        found.append(
            Problem(
                "nothing_built",
                "caution",
                low,
                high,
                "Overlay",
                "nothing is built on this road yet: mark a range and set a treatment",
            )
        )
    return found


def following(model: RoadModel) -> list[Problem]:
    """Follow rules that find nothing, and rules for points that no template there has."""
    found: list[Problem] = []
    c = model.chainage
    names = np.full((2, len(c)), None, dtype=object)
    for group in model.groups:
        for row, half in enumerate((group.left, group.right)):
            names[row, group.rows] = [set(half.half.names)] * len(group.rows)
    for f in model.followed:
        side = "left" if f.side < 0 else "right"
        wanted = np.zeros(len(c), dtype=bool)
        for rule in model.inputs.follow.rules:
            if rule.point == f.point and rule.side == side:
                wanted |= (c >= rule.from_chainage) & (c <= rule.to_chainage)
        there = names[0 if f.side < 0 else 1]
        lacks = np.array([n is not None and f.point not in n for n in there], dtype=bool)
        found += problems_where(
            wanted & lacks, c, code="no_such_point", severity="caution", subject="Guides",
            message=partial(_lacks, f.point, side),
        )  # fmt: skip
        has = np.array([n is not None and f.point in n for n in there], dtype=bool)
        found += problems_where(
            wanted & has & np.isnan(f.offset) & np.isnan(f.level), c, code="not_followed", severity="caution",
            subject="Guides", message=partial(_loses, f.point, side),
        )  # fmt: skip
    return found


def _lacks(point: str, side: str, _: float | None) -> str:
    return f"a follow rule names {point} {side}, but the template here has no such point"


def _loses(point: str, side: str, _: float | None) -> str:
    return f"{point} {side} finds nothing to follow here; the template's own ties hold"
