"""Where sections stand along the road."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Alignment
from saddle.geometry.polylines import Bools, Floats, Ints
from saddle.road.spec import Range, SectionSettings, TemplatePlan, TreatmentPlan

NONE: Floats = np.empty(0)
#: Values of Stations.side.
PLAIN, BEFORE, AFTER = 0, -1, 1


@dataclass(frozen=True, slots=True, eq=False)
class Stations:
    """chainage: (n,) m, not decreasing; side: (n,) PLAIN, BEFORE or AFTER. Where treatment or template changes
    abruptly two sections stand at one chainage, so that volumes are not smeared across the change.
    treatment, template: (n,) index of the range in its plan, -1 where there is none."""

    chainage: Floats
    side: Ints
    treatment: Ints
    template: Ints

    @property
    def first(self) -> Bools:
        """Which sections are the first at their chainage, (n,)."""
        first: Bools = np.r_[True, np.diff(self.chainage) > tolerances.CHAINAGE_MERGE]
        return first


def merged(chainages: Floats) -> Floats:
    """Sorted chainages, those within the merge tolerance of an earlier one dropped."""
    ordered = np.sort(np.asarray(chainages, dtype=float))
    if ordered.size == 0:
        return ordered
    keep = [0]
    for i in range(1, len(ordered)):
        if ordered[i] - ordered[keep[-1]] > tolerances.CHAINAGE_MERGE:
            keep.append(i)
    return ordered[keep]


def place_stations(
    alignment: Alignment,
    settings: SectionSettings,
    treatments: TreatmentPlan,
    templates: TemplatePlan,
    corners: Floats = NONE,
    steps: Floats = NONE,
) -> Stations:
    """Multiples of the interval, key points, extra ones, every change of treatment or template, the corners of guides
    (k,), and what the chord limit asks for. steps: (m,) further chainages at which something changes abruptly."""
    start, end = alignment.start, alignment.end
    first = np.ceil(start / settings.interval - 1e-9)
    last = np.floor(end / settings.interval + 1e-9)
    regular = np.arange(first, last + 1) * settings.interval
    keys = alignment.key_chainages() if settings.key_points else np.array([start, end])
    limits = [r.from_chainage for r in (*treatments.ranges, *templates.ranges)]
    limits += [r.to_chainage for r in (*treatments.ranges, *templates.ranges)]
    limits += [r.from_chainage + r.transition for r in templates.ranges if r.transition > 0]
    limits += steps.tolist()
    changes = merged(np.array([c for c in limits if start < c < end], dtype=float))
    bends = corners[(corners > start) & (corners < end)] if settings.key_points else NONE
    firm = merged(np.concatenate([keys, changes, bends, np.array(settings.extra, dtype=float)]))
    near = np.abs(regular[:, None] - firm[None, :]).min(axis=1, initial=np.inf) <= tolerances.CHAINAGE_MERGE
    chainage = np.sort(np.concatenate([firm, regular[~near]]))
    chainage = _close_enough(alignment, chainage[(chainage >= start) & (chainage <= end)], settings.chord_limit_mm / 1000)
    before = lookup(treatments.ranges, chainage, -1), lookup(templates.ranges, chainage, -1)
    after = lookup(treatments.ranges, chainage, 1), lookup(templates.ranges, chainage, 1)
    inner = (chainage > start + tolerances.CHAINAGE_MERGE) & (chainage < end - tolerances.CHAINAGE_MERGE)
    stepped = np.abs(chainage[:, None] - steps[None, :]).min(axis=1, initial=np.inf) <= tolerances.CHAINAGE_MERGE
    abrupt = inner & ((before[0] != after[0]) | (before[1] != after[1]) | stepped)
    at_end = chainage >= end - tolerances.CHAINAGE_MERGE
    count = np.where(abrupt, 2, 1)
    row = np.repeat(np.arange(len(chainage)), count)
    second = np.r_[False, row[1:] == row[:-1]]
    side = np.where(abrupt[row], np.where(second, AFTER, BEFORE), PLAIN)
    look_back = (side == BEFORE) | at_end[row]
    treatment = np.where(look_back, before[0][row], after[0][row])
    template = np.where(look_back, before[1][row], after[1][row])
    return Stations(chainage[row], side.astype(np.intp), treatment.astype(np.intp), template.astype(np.intp))


def _close_enough(alignment: Alignment, chainage: Floats, limit: float) -> Floats:
    """Chainages with intervals divided evenly where the chord would lie further than `limit` from the alignment.

    Rise of a chord of length s on curvature k: about k s2 / 8. No limit where it is 0.
    """
    if limit <= 0 or len(chainage) < 2:
        return chainage
    ends = np.stack([chainage[:-1], chainage[1:]])
    sharpest = np.abs(alignment.frames(np.clip(ends, alignment.start, alignment.end).mean(axis=0)).curvature)
    for row in ends:
        sharpest = np.maximum(sharpest, np.abs(alignment.frames(row).curvature))
    length = np.diff(chainage)
    parts = np.maximum(1, np.ceil(length * np.sqrt(sharpest / (8 * limit)) - 1e-9)).astype(int)
    row = np.repeat(np.arange(len(length)), parts)
    number = np.arange(len(row)) - np.repeat(np.cumsum(parts) - parts, parts)
    return np.append(chainage[row] + number * (length / parts)[row], chainage[-1])


def lookup(ranges: Sequence[Range], chainage: Floats, towards: int) -> Ints:
    """Index of the range just before (-1) or just after (1) each chainage; -1 where there is none."""
    probe = chainage + towards * 2 * tolerances.CHAINAGE_MERGE
    found = np.full(len(chainage), -1, dtype=np.intp)
    for i, item in enumerate(ranges):
        found[(probe >= item.from_chainage) & (probe <= item.to_chainage)] = i
    return found
