"""What a treatment needs and does not find."""

from functools import partial

import numpy as np

from saddle.geometry.polylines import Bools, Floats
from saddle.overlay.spec import LevelTableGoverns, ProfileGoverns
from saddle.problem import Problem, problems_where
from saddle.road.model import RoadModel
from saddle.road.unknown import why_missing


def missing(model: RoadModel, rows: Bools, kind: str) -> list[Problem]:
    c, lines = model.chainage, model.lines
    no_template = rows & (model.stations.template < 0)
    found = problems_where(
        no_template, c, code="no_template", severity="fault", subject="Overlay",
        message=lambda _: f"{kind}, but no template is applied here",
    )  # fmt: skip
    if kind == "overlay":
        for side, edge in (("left", lines.left_edge), ("right", lines.right_edge)):
            found += problems_where(
                rows & np.isnan(edge), c, code="no_edge", severity="fault", subject="Overlay",
                message=partial(_no_edge, side),
            )  # fmt: skip
    found += problems_where(
        rows & np.isnan(lines.hinge), c, code="no_hinge", severity="fault", subject="Overlay",
        message=lambda _: "no hinge line found here: choose another line or an offset",
    )  # fmt: skip
    for side, pct in (("left", lines.left_pct), ("right", lines.right_pct)):
        known_edge = np.isfinite(lines.left_edge if side == "left" else lines.right_edge)
        found += problems_where(
            rows & np.isnan(pct) & np.isfinite(lines.hinge) & (known_edge if kind == "overlay" else np.ones(len(c), dtype=bool)), c,
            code="no_crossfall", severity="fault", subject="Crossfall", message=partial(_no_crossfall, side),
        )  # fmt: skip
    ready = rows & ~no_template & np.isfinite(lines.hinge)
    if kind == "overlay":
        ready &= np.isfinite(lines.left_edge) & np.isfinite(lines.right_edge)
    designed = np.zeros(len(c), dtype=bool)
    for group in model.groups:
        designed[group.rows] = True
    given = np.array(
        [getattr(getattr(w, "governs", None), "kind", "") in ("level_table", "profile", "line") for w in _works(model)]
    )
    unlevelled = ready & designed & np.isnan(model.hinge_level) & given[model.stations.treatment]
    found += problems_where(
        unlevelled, c, code="no_level", severity="fault", subject="Levels", message=_no_level, measured=_beyond(model), worst="least",
    )  # fmt: skip
    found += problems_where(
        ready & designed & np.isnan(model.hinge_level) & ~unlevelled, c, code="no_surface", severity="fault", subject="Survey",
        message=lambda _: "the survey has a gap under the pavement, so there is no level here",
    )  # fmt: skip
    return found


#: Findings that say that something of a section is not known.
NOT_KNOWN = {
    "no_edge", "no_hinge", "no_crossfall", "no_level", "no_surface", "no_point", "no_catch", "no_template", "template",
}  # fmt: skip


def not_measured(model: RoadModel, found: list[Problem]) -> list[Problem]:
    """Sections of which something is not known although nothing else says so: what is not known is never silent."""
    c = model.chainage
    unknown = np.isfinite(model.depth.left) & np.isfinite(model.hinge_level) & np.isnan(model.depth.mean)
    for group in model.groups:
        # Where the road carries on below, what is dug and filled is not known there.
        unknown[group.rows] |= np.isnan(model.earthworks.cut[group.rows])
        for half in (group.left, group.right):
            unknown[group.rows] |= ~half.layers.solved
    for p in found:
        if p.code in NOT_KNOWN:
            unknown &= (c < p.chainage_from - 1e-6) | (c > p.chainage_to + 1e-6)
    why = np.array([why_missing(model, i) or "" if unknown[i] else "" for i in range(len(c))], dtype=object)
    return [problem for reason in sorted(set(why[unknown])) for problem in _unknown(unknown & (why == reason), c, reason)]


def _unknown(rows: Bools, chainage: Floats, reason: str) -> list[Problem]:
    """Why sections cannot be measured; reason: what is missing, empty where it is the survey."""
    if reason:
        said = f"not all of the road can be measured here: {reason}"
        return problems_where(rows, chainage, code="not_measured", severity="fault", subject="Overlay", message=lambda _: said)
    return problems_where(
        rows, chainage, code="no_surface", severity="fault", subject="Survey",
        message=lambda _: "the survey has a hole beneath the road here, so not all of it can be measured: survey it, or leave it out",
    )  # fmt: skip


def _works(model: RoadModel) -> list[object | None]:
    """What is done in every treatment, and None for sections without one."""
    return [*(r.work for r in model.inputs.treatments.ranges), None]


#: Levels that end no farther from a section than this are told to end early, m.
EARLY = 50.0


def _no_level(beyond: float | None) -> str:
    if beyond is not None and beyond <= EARLY:
        return f"the levels that govern here end {beyond:.3f} m early: move their last row or IP, or add one"
    return "what governs here has no level at this chainage: add rows or IPs, choose another line, or let another rule govern"


def _beyond(model: RoadModel) -> Floats:
    """How far every section lies beyond the first or last row of the levels that govern there, (n,), m; NaN where none do or within."""
    c, inputs = model.chainage, model.inputs
    out = np.full(len(c), np.nan)
    for i, work in enumerate(_works(model)):
        governs = getattr(work, "governs", None)
        if isinstance(governs, ProfileGoverns) and governs.profile in inputs.profiles:
            rows = [p.chainage for p in inputs.profiles[governs.profile].points]
        elif isinstance(governs, LevelTableGoverns) and inputs.levels.rows:
            rows = [r.chainage for r in inputs.levels.rows]
        else:
            continue
        here = model.stations.treatment == i
        out[here] = np.maximum(rows[0] - c[here], c[here] - rows[-1])
    return np.where(out > 0, out, np.nan)


def _no_edge(side: str, _: float | None) -> str:
    return f"no {side} pavement edge found here: choose another line or an offset"


def _no_crossfall(side: str, _: float | None) -> str:
    return f"the {side} crossfall is not known here: there is no edge to measure it to, or the table has no rows"
