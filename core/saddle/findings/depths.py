"""Depths of the overlay, what it leaves of kerbs, and milling beyond it."""

from functools import partial

import numpy as np

from saddle import tolerances
from saddle.figures import slack, written
from saddle.geometry.polylines import Bools, Floats, Polylines, merge_offsets, sample
from saddle.problem import Problem, problems_where
from saddle.road.model import RoadModel, TemplateSections
from saddle.road.spec import Overlay
from saddle.template.compiled import StripSpan
from saddle.template.half import HalfSections


def depths(model: RoadModel, rows: Bools, work: Overlay) -> list[Problem]:
    c = model.chainage
    least, greatest = _of_what_is_known(model)
    cover, limit = work.least_cover, work.look_again
    found = problems_where(
        rows & (model.lines.tied >= 1) & (least < cover - slack("depth")), c, code="short_cover", severity="fault", subject="Overlay",
        message=lambda v: f"cover is {1000 * (v or 0):.0f} mm, at least {work.least_cover_mm:.0f} mm is asked for",
        measured=least, worst="least", limit=cover,
    )  # fmt: skip
    found += problems_where(
        rows & (greatest > limit + slack("depth")), c, code="deep", severity="caution", subject="Overlay",
        message=lambda v: f"overlay is up to {1000 * (v or 0):.0f} mm deep, too deep above {work.look_again_mm:.0f} mm",
        measured=greatest, limit=limit,
    )  # fmt: skip
    for k, side in enumerate(("left", "right")):
        left = upstand(model, k)
        found += problems_where(
            rows & (left < work.least_upstand - slack("depth")), c, code="kerb_upstand", severity="fault",
            subject="Overlay", message=partial(_low_kerb, side, work.least_upstand_mm), measured=left, worst="least",
            limit=work.least_upstand,
        )  # fmt: skip
    return found


def _of_what_is_known(model: RoadModel) -> tuple[Floats, Floats]:
    """Least and greatest depth (n,), m, of the part of every section that is known: what is wrong there is wrong whatever lies in a
    hole beside it."""
    d = model.depth.design - model.depth.existing
    known = np.asarray(np.isfinite(d).any(axis=1))
    least, greatest = np.nanmin(np.where(known[:, None], d, 0.0), axis=1), np.nanmax(np.where(known[:, None], d, 0.0), axis=1)
    return np.where(known, least, np.nan), np.where(known, greatest, np.nan)


def upstand(model: RoadModel, k: int) -> Floats:
    """How far the kerbs that stay on a side (0 left, 1 right) stand above the new surface at the overlay's end, (n,), m; NaN
    where none stays."""
    d = model.depth
    end = (d.left, d.right)[k]
    surface = sample(Polylines(d.offsets, d.design), end[:, None])[:, 0]
    return model.lines.kerb_top[:, k] - surface


def _low_kerb(side: str, asked: float, left: float | None) -> str:
    return f"the {side} kerb is left standing {1000 * (left or 0):.0f} mm above the new surface, at least {asked:.0f} mm is asked for"


def dug_mouths(model: RoadModel, group: TemplateSections, half: HalfSections) -> list[Problem]:
    """Side roads whose ramp lies below the old road, milled or not: it would be dug into it, unsaid."""
    found = []
    side = "left" if half.side < 0 else "right"
    for span in half.half.spans:
        if not isinstance(span, StripSpan) or span.strip.kind != "side_road" or span.over_existing is None:
            continue
        a, b = half.u[:, span.start], half.u[:, span.end]
        under = model.milling.surface.rows(group.rows)
        grid = merge_offsets(np.minimum(half.side * a, half.side * b), np.maximum(half.side * a, half.side * b), under.offsets)
        with np.errstate(invalid="ignore", divide="ignore"):
            t = np.where((b > a)[:, None], (half.side * grid - a[:, None]) / (b - a)[:, None], np.nan)
        ramp = half.z[:, [span.start]] + t * (half.z[:, span.end] - half.z[:, span.start])[:, None]
        below = sample(under, grid) - ramp
        deepest = np.where(np.isfinite(below), below, -np.inf).max(axis=1)
        found += problems_where(
            deepest > slack("depth"), model.chainage[group.rows], code="ramp_dug", severity="fault", subject="Overlay",
            message=partial(_dug, span.strip.name, side), measured=deepest,
        )  # fmt: skip
    return found


def _dug(name: str, side: str, by: float | None) -> str:
    return (
        f"{name} on the {side} lies up to {1000 * (by or 0):.0f} mm below the old road: it would be dug into it. "
        "Lengthen the tie, or mill a notch there"
    )


def milled_beyond(model: RoadModel) -> list[Problem]:
    """Milling further out than what is built reaches: the old road is left open there."""
    if not (model.milling.depth > 0).any():
        return []
    beyond = model.milling.area - model.earthworks.milled
    with np.errstate(invalid="ignore"):
        open_ = model.worked_on() & (beyond > tolerances.OPEN_MILLING)
    return problems_where(
        open_, model.chainage, code="milled_beyond", severity="caution", subject="Overlay",
        message=lambda v: f"{written(v, 'area')} m² of the section is milled further out than anything is built: narrow the milling or widen the template",
        measured=beyond,
    )  # fmt: skip
