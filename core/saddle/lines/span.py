"""What two neighbouring sections of the design span between them: the points of the template run straight from one to the other in
chainage, offset and level, and between two points a place runs to the place that lies at the same share of the way, as the depth map runs the
overlay between its two ends."""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats
from saddle.road.model import RoadModel, TemplateSections
from saddle.template.compiled import surface_columns
from saddle.template.half import HalfSections


def span_at(model: RoadModel, row: int, *, on_it: bool) -> tuple[TemplateSections, int, int] | None:
    """The template that spans from a section of the model to the next one, and the places of both among its sections; the same
    twice for what stands on the section itself (on_it), where it is the last one, or the next stands beside it. None where they
    have none in common."""
    here = model.group_of(row)
    if here is None:
        return None
    alone = on_it or row + 1 >= len(model.chainage) or model.chainage[row + 1] - model.chainage[row] <= tolerances.CHAINAGE_MERGE
    if alone:
        return here[0], here[1], here[1]
    after = model.group_of(row + 1)
    return None if after is None or after[0] is not here[0] else (here[0], here[1], after[1])


@dataclass(frozen=True, slots=True, eq=False)
class Span:
    """One half from a section to the next, on cells that correspond. offsets, surface: (2, 2 w) outward offsets and levels of the
    finished surface at the ends of the cells by turns, on either section; layers: per course top and bottom (2, 2 w), NaN where it is
    on neither; points_u, points_z: (2, k) offsets and levels of the template's points; start, length: m along the road."""

    half: HalfSections
    offsets: Floats
    surface: Floats
    layers: list[tuple[Floats, Floats]]
    points_u: Floats
    points_z: Floats
    start: float
    length: float

    def mix(self, values: Floats, chainage: Floats) -> Floats:
        """Values (2, p) at chainages (m,): (m, p)."""
        t = np.clip((chainage - self.start) / self.length, 0.0, 1.0)[:, None]
        found: Floats = np.where(t == 0, values[0], np.where(t == 1, values[1], values[0] + t * (values[1] - values[0])))
        return found

    @staticmethod
    def between(half: HalfSections, first: int, last: int, start: float, length: float) -> "Span | None":
        """From one of the half's sections to another; None where either could not be solved."""
        rows = [first, last]
        layers = half.layers
        if not layers.solved[rows].all() or not np.isfinite(layers.offsets[rows]).all():
            return None
        knots = _knots(half, rows)
        # Cells end wherever a column of either section does; a column is told from the next by which end of it an edge is.
        marks = [_shares(knots[i], layers.offsets[row].reshape(-1, 2)) for i, row in enumerate(rows)]
        every = np.unique(np.concatenate([m.ravel() for m in marks]))
        cells = np.stack([every[:-1], every[1:]], axis=1)
        offsets = np.stack([np.interp(cells, np.arange(len(k)), k) for k in knots])
        wide = (np.diff(offsets, axis=2)[:, :, 0] > tolerances.COINCIDENT).any(axis=0)
        cells, offsets = cells[wide], offsets[:, wide]
        middle = cells.mean(axis=1)

        def on(values: Floats, own: Floats) -> Floats:
            """Levels by turns (g, 2 q) over columns `own` at the ends of the cells, (2, w, 2), NaN outside the columns."""
            out = np.full(offsets.shape, np.nan)
            for i, row in enumerate(rows):
                columns, z = own[row].reshape(-1, 2), values[row].reshape(-1, 2)
                if not len(columns):
                    continue
                at = _shares(knots[i], columns)
                j = np.clip(np.searchsorted(at[:, 0], middle, side="right") - 1, 0, len(columns) - 1)
                inside = (middle > at[0, 0]) & (middle < at[-1, 1])
                width = (columns[j, 1] - columns[j, 0])[:, None]
                with np.errstate(invalid="ignore", divide="ignore"):
                    part = np.where(width > 0, np.clip((offsets[i] - columns[j, :1]) / width, 0.0, 1.0), 0.0)
                    found = z[j, :1] + part * (z[j, 1:] - z[j, :1])
                out[i] = np.where(inside[:, None], found, np.nan)
            return out

        surface, floor = on(layers.top, layers.offsets), on(layers.floor, layers.offsets)
        courses = []
        for layer in layers.layers:
            top, bottom = on(layer.top, layer.offsets), on(layer.bottom, layer.offsets)
            # What is on one section only runs out to nothing on the other, at the lowest line there.
            missing = np.isnan(top) & ~np.isnan(top[::-1])
            courses.append((np.where(missing, floor, top).reshape(2, -1), np.where(missing, floor, bottom).reshape(2, -1)))
        return Span(half, offsets.reshape(2, -1), surface.reshape(2, -1), courses, half.u[rows], half.z[rows], start, length)


def _knots(half: HalfSections, rows: list[int]) -> Floats:
    """Outward offsets of what runs from section to section, (2, k): the points of the surface, and the side slope to its catch."""
    columns = surface_columns(half.half)
    path = half.slopes.u[rows]
    outer = half.u[rows][:, columns[-1:]]
    path = np.where(np.isnan(path), outer, path)
    same = half.slopes.rung[rows[0]] == half.slopes.rung[rows[1]]
    out = np.concatenate([half.u[rows][:, columns], path if same else path[:, -1:]], axis=1)
    return np.maximum.accumulate(out, axis=1)


def _shares(knots: Floats, columns: Floats) -> Floats:
    """Where the ends of columns (q, 2) lie among knots (k,), which do not fall, (q, 2): the number of the knot before and the share
    of the way to the next. At a step a column that begins there lies behind it, one that ends there before it."""
    out = np.empty(columns.shape)
    for e, side in enumerate(("right", "left")):
        u = columns[:, e]
        after = np.clip(np.searchsorted(knots, u, side=side), 1, len(knots) - 1)  # type: ignore[call-overload]
        width = knots[after] - knots[after - 1]
        with np.errstate(invalid="ignore", divide="ignore"):
            out[:, e] = after - 1 + np.where(width > 0, np.clip((u - knots[after - 1]) / width, 0.0, 1.0), float(e == 0))
    return out
