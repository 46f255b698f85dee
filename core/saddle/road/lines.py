"""Hinge, pavement edges and crossfalls on every section, as the treatments ask for them."""

import numpy as np

from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.guides.evaluate import Sources, line_of
from saddle.guides.spec import LineSource
from saddle.overlay.governing import measured_crossfall
from saddle.road.model import RoadInputs, RoadLinesFound
from saddle.road.spec import GivenCrossfall, Leave
from saddle.road.stations import Stations


def find_lines(inputs: RoadInputs, stations: Stations, frames: Frames, existing: Polylines, sources: Sources) -> RoadLinesFound:
    """Treatment by treatment, on the sections it covers."""
    n = len(stations.chainage)
    hinge, left, right = np.full(n, np.nan), np.full(n, np.nan), np.full(n, np.nan)
    left_pct, right_pct, at_hinge = np.full(n, np.nan), np.full(n, np.nan), np.full(n, np.nan)
    for i, treatment in enumerate(inputs.treatments.ranges):
        work = treatment.work
        rows = np.flatnonzero(stations.treatment == i)
        if isinstance(work, Leave) or rows.size == 0:
            continue
        where = Frames(frames.chainage[rows], frames.origin[rows], frames.bearing[rows], frames.curvature[rows])

        def find(source: LineSource, side: int, where: Frames = where) -> Floats:
            return line_of(source, where, sources, side).offset

        hinge[rows] = find(work.hinge, 0)
        left[rows], right[rows] = find(work.left_edge, -1), find(work.right_edge, 1)
        ground = existing.rows(rows)
        at = np.column_stack([hinge[rows], left[rows], right[rows]])
        level = interpolate(ground, at)
        at_hinge[rows] = level[:, 0]
        for pct, source, column in ((left_pct, work.left_crossfall, 1), (right_pct, work.right_crossfall, 2)):
            if isinstance(source, GivenCrossfall):
                pct[rows] = source.pct
            else:
                pct[rows] = measured_crossfall(level[:, 0], level[:, column], at[:, 0], at[:, column])
    return RoadLinesFound(hinge, left, right, left_pct, right_pct, at_hinge)
