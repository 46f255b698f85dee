"""Pits whose covers cannot lie where they are said to."""

import numpy as np

from saddle.figures import written
from saddle.geometry.polylines import interpolate
from saddle.problem import Problem
from saddle.road.beneath import PIT_REACH
from saddle.road.model import RoadModel
from saddle.road.sources import cut_at

#: A cover that lies further from the surveyed surface than this is doubted, m; common practice, no source.
DOUBTED = 0.3


def doubted_pits(model: RoadModel) -> list[Problem]:
    """Pits beside the road whose cover lies well above or below the surveyed surface: a slip in the level, or another pit's."""
    pits = [p for p in model.inputs.structures.pits if p.cover is not None]
    if not pits:
        return []
    at = np.array([[p.east, p.north] for p in pits])
    chainage, offset = model.alignment.locate(at)
    beside = np.abs(offset) <= PIT_REACH  # neither far from the road nor beyond its ends
    ground = np.full(len(pits), np.nan)
    cut = cut_at(model.inputs.surface, model.alignment.frames(chainage[beside]), (-PIT_REACH - 1.0, PIT_REACH + 1.0))
    ground[beside] = interpolate(cut, offset[beside, None])[:, 0]
    found = []
    for pit, c, z in zip(pits, chainage.tolist(), ground.tolist(), strict=True):
        assert pit.cover is not None
        off = pit.cover - z
        if not abs(off) > DOUBTED:
            continue
        where = "above" if off > 0 else "below"
        words = f"the cover of pit {pit.name} lies {written(abs(off), 'offset')} m {where} the surveyed surface: check its level"
        found.append(Problem("pit_level", "caution", c, c, "Survey", words, abs(off), DOUBTED))
    return found
