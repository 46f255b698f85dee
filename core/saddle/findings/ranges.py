"""Ranges and rows that lie beyond the road, names that nothing answers to, and rules that find nothing."""

from functools import partial

import numpy as np

from saddle import tolerances
from saddle.figures import written
from saddle.overlay.spec import ProfileGoverns
from saddle.problem import Problem, problems_where
from saddle.road.model import RoadModel
from saddle.road.spec import TemplatePlan, applied_along


def outside(model: RoadModel) -> list[Problem]:
    """Ranges that lie beyond the ends of the road, each by name; and a road on which nothing is built."""
    low, high, inputs = model.alignment.start, model.alignment.end, model.inputs
    ranges: list[tuple[str, str, float, float]] = [
        ("Overlay", f"the treatment ({t.work.kind})", t.from_chainage, t.to_chainage) for t in inputs.treatments.ranges
    ]
    ranges += [("Templates", f"template “{r.template}”", r.from_chainage, r.to_chainage) for r in inputs.template_plan.ranges]
    ranges += [("Guides", f"the follow rule of {r.point} {r.side}", r.from_chainage, r.to_chainage) for r in inputs.follow.rules]
    ranges += [("Overlay", "milling", s.rows[0].chainage, s.rows[-1].chainage) for s in inputs.milling.stretches]
    ranges += [
        ("Sections", f"the remark “{r.text}”", r.from_chainage, r.from_chainage if r.to_chainage is None else r.to_chainage)
        for r in inputs.remarks.remarks
    ]
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


def rows_outside(model: RoadModel) -> list[Problem]:
    """Rows of tables along the road that say nothing because they lie beyond its ends, and profiles that govern and lie there."""
    low, high, inputs = model.alignment.start, model.alignment.end, model.inputs
    tables = [
        ("Levels", "the level table", [r.chainage for r in inputs.levels.rows], _idle),
        ("Crossfall", "the adopted crossfalls", [r.chainage for r in inputs.crossfalls.rows], _idle),
        ("Sections", "the extra sections", list(inputs.settings.extra), _beyond),
    ]
    rules = [getattr(t.work, "governs", None) for t in inputs.treatments.ranges]
    used = {rule.profile for rule in rules if isinstance(rule, ProfileGoverns)}
    for key, profile in inputs.profiles.items():
        if key in used:
            tables.append(("Levels", f"profile “{profile.name}”", [p.chainage for p in profile.points], _all_on_one_side))
    found = []
    for subject, what, chainages, which in tables:
        idle = which(chainages, low, high)
        if idle:
            many = "all" if len(idle) == len(chainages) else f"{len(idle)} of {len(chainages)}"
            near = min(max(min(idle), low), high), min(max(max(idle), low), high)
            found.append(
                Problem(
                    "outside", "fault" if many == "all" else "caution", *near, subject,
                    f"{many} chainages of {what} lie beyond the road, which is from {written(low, 'chainage')} to "
                    f"{written(high, 'chainage')}: move or remove them",
                )
            )  # fmt: skip
    return found


def _beyond(chainages: list[float], low: float, high: float) -> list[float]:
    return [c for c in chainages if c < low - tolerances.CHAINAGE_MERGE or c > high + tolerances.CHAINAGE_MERGE]


def _all_on_one_side(chainages: list[float], low: float, high: float) -> list[float]:
    return chainages if chainages and (max(chainages) < low or min(chainages) > high) else []


def _idle(chainages: list[float], low: float, high: float) -> list[float]:
    """Of rising rows with straight lines between them the ones that reach nothing of the road: those beyond its ends but for the
    nearest one at either end, from which a line runs onto the road."""
    before, after = (
        [c for c in _beyond(chainages, low, high) if c < low],
        [c for c in _beyond(chainages, low, high) if c > high],
    )
    return _all_on_one_side(chainages, low, high) or before[:-1] + after[1:]


def unknown_names(model: RoadModel) -> list[Problem]:
    """Templates that are not there, and values for dimensions that a template does not have."""
    inputs, found = model.inputs, []
    for item in inputs.template_plan.ranges:
        template = inputs.templates.get(item.template)
        place = item.from_chainage, item.to_chainage, "Templates"
        if template is None:
            words = f"there is no template “{item.template}”: apply another one here"
            found.append(Problem("unknown_template", "fault", *place, words))
            continue
        used = applied_along(TemplatePlan(ranges=[item]), inputs.medians) & set(inputs.templates)
        known = {d.name for key in used for d in inputs.templates[key].dimensions}
        for name in item.dimensions:
            if name not in known:
                words = f"template “{template.name}” has no dimension {name}, so the value given for it here does nothing"
                found.append(Problem("unknown_dimension", "caution", *place, f"{words}: remove it, or add the dimension"))
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
