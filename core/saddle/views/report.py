"""The overlay section by section, as rows for a table. A new column is one line of COLUMNS, and a field of reports."""

from collections.abc import Callable

import numpy as np

from saddle.alignment.equations import shown
from saddle.figures import FIGURES, Kind
from saddle.geometry.polylines import Floats, interpolate
from saddle.road.model import RoadModel


def _at(model: RoadModel, offsets: Floats) -> Floats:
    """Overlay depth at offsets (n,), mm."""
    d = model.depth
    out = np.full(len(offsets), np.nan)
    for i in np.flatnonzero(np.isfinite(d.least) & np.isfinite(offsets)):
        known = np.isfinite(d.design[i]) & np.isfinite(d.existing[i])
        out[i] = 1000 * np.interp(offsets[i], d.offsets[i, known], (d.design[i] - d.existing[i])[known])
    return out


def _level(model: RoadModel, offsets: Floats) -> Floats:
    return interpolate(model.existing, offsets[:, None])[:, 0]


#: By field: heading, kind of figure, and values (n,), in the unit of the kind.
COLUMNS: dict[str, tuple[str, Kind, Callable[[RoadModel], Floats]]] = {
    "chainage": ("Chainage m", "chainage", lambda m: shown(m.chainage, m.inputs.alignment.equations)),
    "hinge": ("Hinge offset m", "offset", lambda m: m.lines.hinge),
    "existing": ("Existing at hinge m", "level", lambda m: m.lines.existing_hinge),
    "design": ("Design at hinge m", "level", lambda m: m.hinge_level),
    "left_pct": ("Left crossfall %", "crossfall", lambda m: m.lines.left_pct),
    "right_pct": ("Right crossfall %", "crossfall", lambda m: m.lines.right_pct),
    "left_measured": ("Left measured %", "crossfall", lambda m: m.lines.measured_pct[:, 0]),
    "right_measured": ("Right measured %", "crossfall", lambda m: m.lines.measured_pct[:, 1]),
    "left_edge": ("Left edge m", "offset", lambda m: m.depth.left),
    "right_edge": ("Right edge m", "offset", lambda m: m.depth.right),
    "left_existing": ("Existing at left edge m", "level", lambda m: _level(m, m.depth.left)),
    "right_existing": ("Existing at right edge m", "level", lambda m: _level(m, m.depth.right)),
    "left_depth": ("Depth at left edge mm", "depth", lambda m: _at(m, m.depth.left)),
    "hinge_depth": ("Depth at hinge mm", "depth", lambda m: _at(m, m.lines.hinge)),
    "right_depth": ("Depth at right edge mm", "depth", lambda m: _at(m, m.depth.right)),
    "least": ("Least depth mm", "depth", lambda m: 1000 * m.depth.least),
    "least_at": ("at m", "offset", lambda m: m.depth.least_offset),
    "greatest": ("Greatest depth mm", "depth", lambda m: 1000 * m.depth.greatest),
    "greatest_at": ("at m", "offset", lambda m: m.depth.greatest_offset),
    "mean": ("Mean depth mm", "depth", lambda m: 1000 * m.depth.mean),
    "milled": ("Milled mm", "depth", lambda m: np.where(m.milling.depth > 0, 1000 * m.milling.depth, np.nan)),
}


def overlay_report(model: RoadModel) -> tuple[list[tuple[str, Kind | None]], list[list[float | None]]]:
    """Headings with the kind of figure below each, and one row for every section that carries an overlay."""
    rows = np.flatnonzero(np.isfinite(model.depth.least))
    columns = [np.round(values(model)[rows], FIGURES[kind].decimals) for _, kind, values in COLUMNS.values()]
    table = [[float(v) if np.isfinite(v) else None for v in row] for row in np.column_stack(columns).tolist()]
    return [(head, kind) for head, kind, _ in COLUMNS.values()], table
