"""What lines along the road do that nobody meant: they jump from one to another, or nothing follows them."""

import numpy as np

from saddle.figures import written
from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import stands_on
from saddle.guides.pieces import stretches
from saddle.guides.spec import EdgeSource, FollowRule, GuideSpec, NearestLine, OnGuide, OnLineAndParts, Pieces
from saddle.problem import Problem, runs_of
from saddle.road.model import RoadModel
from saddle.road.sources import guides_in_use
from saddle.road.spec import Leave
from saddle.template.compiled import edge_column

#: A line that moves further from one section to the next is another line, m, and m across per m along: no taper is so short.
JUMP, STEEPEST = 1.0, 0.25


def jumps(model: RoadModel) -> list[Problem]:
    """Hinges and edges that are taken from one line here and from another one on the next section."""
    found = []
    lines, c = model.lines, model.chainage
    for i, treatment in enumerate(model.inputs.treatments.ranges):
        work = treatment.work
        if isinstance(work, Leave):
            continue
        here = model.stations.treatment == i
        sources: tuple[tuple[str, EdgeSource, Floats], ...] = (
            ("the hinge", work.hinge, lines.hinge),
            ("the left edge", work.left_edge, lines.left_edge),
            ("the right edge", work.right_edge, lines.right_edge),
        )
        for what, source, offset in sources:
            if not isinstance(source, NearestLine):
                continue
            moved = np.abs(np.diff(np.where(here, offset, np.nan)))
            with np.errstate(invalid="ignore"):
                far = moved > np.maximum(JUMP, STEEPEST * np.diff(c))
            for run in runs_of(far):
                at = int(run[np.argmax(moved[run])])
                message = (
                    f"{what} jumps from {written(offset[at], 'offset')} to {written(offset[at + 1], 'offset')} m: more than one line "
                    f"“{source.code}” is met here. Say on which side it is taken, or how near"
                )
                found.append(
                    Problem("line_jumps", "fault", float(c[run[0]]), float(c[run[-1] + 1]), "Overlay", message, float(moved[at]))
                )
    return found


def idle_guides(model: RoadModel, crooked: dict[str, str]) -> list[Problem]:
    """Guides that were set out and that nothing follows, but for those that cannot be laid."""
    i = model.inputs
    used = {key for key, _, _ in guides_in_use(i.follow, i.treatments, i.template_plan, i.templates, i.medians)}
    used |= {s.guide for m in i.milling.stretches for s in (m.left, m.right) if isinstance(s, OnGuide)} | set(crooked)
    used |= {b.to.guide for b in i.beside if isinstance(b.to, OnGuide)} | set(i.followed_elsewhere)
    used |= {key for guide in i.guides.values() for key in stands_on(guide)}
    found = []
    for key, guide in i.guides.items():
        if key in used or guide.use not in ("edge", "kerb"):
            continue
        low, high = _extent(guide, model)
        if high <= low:
            continue
        found.append(
            Problem(
                "idle_guide", "caution", low, high, "Guides", f"nothing follows guide “{guide.name}”, so that it is not built: add a follow rule",
                None, None, "put_rule_first", rule_for(key, guide, low, high, model),
            )
        )  # fmt: skip
    return found


def hidden_rules(model: RoadModel) -> list[Problem]:
    """Follow rules that never count because earlier ones of the same point find something everywhere."""
    found = []
    c = model.chainage
    for number, rule in enumerate(model.inputs.follow.rules):
        point = next((f for f in model.followed if f.point == rule.point and (f.side < 0) == (rule.side == "left")), None)
        rows = (c >= rule.from_chainage) & (c <= rule.to_chainage)
        if point is None or rule.what == "level" or not rows.any():
            continue
        by = point.rule[rows]
        if (by >= 0).all() and not (by == number).any():
            words = f"the follow rule of {rule.point} {rule.side} never counts: an earlier rule for this point holds all along it"
            found.append(
                Problem(
                    "hidden_rule", "caution", float(c[rows][0]), float(c[rows][-1]), "Guides", words, None, None, "put_rule_first", rule
                )
            )  # fmt: skip
    return found


def _extent(guide: GuideSpec, model: RoadModel) -> tuple[float, float]:
    """From where to where on the road a guide runs; of one that stands on another line, from where to where it is wider by pieces."""
    low, high = model.alignment.start, model.alignment.end
    source = guide.source
    parts = source.parts if isinstance(source, OnLineAndParts) else [source]
    laid = [stretch for part in parts if isinstance(part, Pieces) for stretch in stretches(part)]
    if laid:
        return max(low, min(s.start for s in laid)), min(high, max(s.end for s in laid))
    return low, high


def rule_all_along(key: str, guide: GuideSpec, model: RoadModel) -> FollowRule | None:
    """The rule by which the lane's edge follows a guide wherever that is, so that the guide can be moved by itself; None where no
    template with an edge is applied."""
    low, high = _extent(guide, model)
    rule = rule_for(key, guide, low, high, model) if high > low else None
    return rule and rule.changed(from_chainage=model.alignment.start, to_chainage=model.alignment.end)


def rule_for(key: str, guide: GuideSpec, low: float, high: float, model: RoadModel) -> FollowRule | None:
    """The rule by which the lane's edge follows a guide between two chainages, where a template is applied that has one."""
    middle = int(np.argmin(np.abs(model.chainage - (low + high) / 2)))
    at = model.group_of(middle)
    if at is None:
        return None
    half = (at[0].left if guide.side == "left" else at[0].right).half
    column = edge_column(half)
    point = half.names[half.outer if column is None else column]
    if "." in point:
        return None
    return FollowRule(side=guide.side, point=point, source=OnGuide(guide=key), from_chainage=low, to_chainage=high)
