"""The overlay section by section, as rows for a table. A new column is one line of COLUMNS."""

from collections.abc import Callable

import numpy as np

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


#: Heading, kind of figure, and values (n,) of every column, in the unit of its kind.
COLUMNS: list[tuple[str, Kind, Callable[[RoadModel], Floats]]] = [
    ("Chainage m", "chainage", lambda m: m.chainage),
    ("Hinge offset m", "offset", lambda m: m.lines.hinge),
    ("Existing at hinge m", "level", lambda m: m.lines.existing_hinge),
    ("Design at hinge m", "level", lambda m: m.hinge_level),
    ("Left crossfall %", "crossfall", lambda m: m.lines.left_pct),
    ("Right crossfall %", "crossfall", lambda m: m.lines.right_pct),
    ("Left measured %", "crossfall", lambda m: m.lines.measured_pct[:, 0]),
    ("Right measured %", "crossfall", lambda m: m.lines.measured_pct[:, 1]),
    ("Left edge m", "offset", lambda m: m.depth.left),
    ("Right edge m", "offset", lambda m: m.depth.right),
    ("Existing at left edge m", "level", lambda m: _level(m, m.depth.left)),
    ("Existing at right edge m", "level", lambda m: _level(m, m.depth.right)),
    ("Depth at left edge mm", "depth", lambda m: _at(m, m.depth.left)),
    ("Depth at hinge mm", "depth", lambda m: _at(m, m.lines.hinge)),
    ("Depth at right edge mm", "depth", lambda m: _at(m, m.depth.right)),
    ("Least depth mm", "depth", lambda m: 1000 * m.depth.least),
    ("at m", "offset", lambda m: m.depth.least_offset),
    ("Greatest depth mm", "depth", lambda m: 1000 * m.depth.greatest),
    ("at m ", "offset", lambda m: m.depth.greatest_offset),
    ("Mean depth mm", "depth", lambda m: 1000 * m.depth.mean),
    ("Milled mm", "depth", lambda m: np.where(m.milling.depth > 0, 1000 * m.milling.depth, np.nan)),
]


def overlay_report(model: RoadModel) -> tuple[list[tuple[str, Kind | None]], list[list[float | None]]]:
    """Headings with the kind of figure below each, and one row for every section that carries an overlay."""
    rows = np.flatnonzero(np.isfinite(model.depth.least))
    columns = [np.round(values(model)[rows], FIGURES[kind].decimals) for _, kind, values in COLUMNS]
    table = [[float(v) if np.isfinite(v) else None for v in row] for row in np.column_stack(columns).tolist()]
    return [(head.strip(), kind) for head, kind, _ in COLUMNS], table
