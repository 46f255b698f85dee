"""What a designer must look at, found on the solved road: one file for each family of findings."""

from saddle.findings.beside import medians, mouths, overlaps
from saddle.findings.crossfalls import crossfalls
from saddle.findings.depths import depths, dug_mouths, milled_beyond
from saddle.findings.levels import grade_changes, over_pipes, steps
from saddle.findings.lines import hidden_rules, idle_guides, jumps
from saddle.findings.missing import missing, not_measured
from saddle.findings.ranges import following, outside, rows_outside, unknown_names
from saddle.findings.structures import doubted_pits
from saddle.findings.templates import halves, slivers
from saddle.findings.unusual import unusual
from saddle.problem import Problem
from saddle.road.model import RoadModel
from saddle.road.spec import Leave, Overlay


def find_problems(model: RoadModel, faulty: dict[str, str], crooked: dict[str, str]) -> tuple[Problem, ...]:
    """All findings in road order. faulty: key of a template -> why it cannot be built; crooked: the same of guides."""
    found: list[Problem] = []
    for i, treatment in enumerate(model.inputs.treatments.ranges):
        rows = model.stations.treatment == i
        if isinstance(treatment.work, Leave):
            continue
        found += missing(model, rows, treatment.work.kind)
        if isinstance(treatment.work, Overlay):
            found += depths(model, rows, treatment.work)
    for item in model.inputs.template_plan.ranges:
        if item.template in faulty:
            found.append(Problem("template", "fault", item.from_chainage, item.to_chainage, "Templates", faulty[item.template]))
    for group in model.groups:
        for half in (group.left, group.right):
            found += halves(model, group, half)
            found += slivers(model, group, half)
            found += dug_mouths(model, group, half)
    found += medians(model)
    found += overlaps(model)
    found += mouths(model)
    found += outside(model)
    found += rows_outside(model)
    found += unknown_names(model)
    found += milled_beyond(model)
    found += steps(model)
    found += unusual(model)
    found += grade_changes(model)
    found += crossfalls(model)
    found += over_pipes(model)
    found += doubted_pits(model)
    found += following(model)
    found += jumps(model)
    found += idle_guides(model, crooked)
    found += hidden_rules(model)
    found += [Problem("guide", "fault", model.alignment.start, model.alignment.end, "Guides", why) for why in crooked.values()]
    found += not_measured(model, found)
    return tuple(sorted(found, key=lambda p: (p.chainage_from, p.chainage_to, p.code)))
