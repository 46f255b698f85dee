"""Pits whose covers cannot lie where they are said to."""

import numpy as np

from saddle.figures import written
from saddle.geometry.polylines import Floats, interpolate
from saddle.problem import Problem
from saddle.road.beneath import PIT_REACH
from saddle.road.model import RoadModel

#: A cover that lies further from the surveyed surface than this is doubted, m; common practice, no source.
DOUBTED = 0.3


def doubted_pits(model: RoadModel) -> list[Problem]:
    """Pits beside the road whose cover lies well above or below the surveyed surface: a slip in the level, or another pit's."""
    pits = [p for p in model.inputs.structures.pits if p.cover is not None]
    if not pits:
        return []
    at = np.array([[p.east, p.north] for p in pits])
    chainage, offset = model.alignment.locate(at)
    ground = _existing_at(model, chainage, offset)
    found = []
    for pit, c, o, z in zip(pits, chainage.tolist(), offset.tolist(), ground.tolist(), strict=True):
        assert pit.cover is not None
        off = pit.cover - z
        if not abs(o) <= PIT_REACH or not abs(off) > DOUBTED:
            continue
        where = "above" if off > 0 else "below"
        words = f"the cover of pit {pit.name} lies {written(abs(off), 'offset')} m {where} the surveyed surface: check its level"
        found.append(Problem("pit_level", "caution", c, c, "Survey", words, abs(off), DOUBTED))
    return found


def _existing_at(model: RoadModel, chainage: Floats, offset: Floats) -> Floats:
    """Level of the surveyed surface at places beside the road (k,), m, straight between the sections before and after; NaN where one of
    them does not reach it."""
    c = model.chainage
    after = np.clip(np.searchsorted(c, chainage, "right"), 1, len(c) - 1)
    first, second = (interpolate(model.existing.rows(rows), offset[:, None])[:, 0] for rows in (after - 1, after))
    length = c[after] - c[after - 1]
    t = np.where(length > 0, (chainage - c[after - 1]) / np.where(length > 0, length, 1.0), 0.0)
    level: Floats = np.where((t >= 0) & (t <= 1), first + t * (second - first), np.nan)
    return level
