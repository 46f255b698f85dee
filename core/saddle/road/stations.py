"""Where sections stand along the road."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Alignment, Frames
from saddle.errors import GeometryError
from saddle.geometry.polylines import Bools, Floats, Ints
from saddle.limits import MOST_SECTIONS
from saddle.road.spec import SectionSettings, TemplatePlan, TreatmentPlan

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

    @property
    def pair(self) -> Ints:
        """Number of the chainage on which each section stands, (n,): the two of a pair have the same."""
        found: Ints = np.cumsum(self.first) - 1
        return found

    def within(self, low: float, high: float) -> Bools:
        """Sections of a range (n,), both of every pair inside it; of a pair at one of its ends only the one that looks in."""
        c, near = self.chainage, tolerances.CHAINAGE_MERGE
        outer = ((np.abs(c - low) <= near) & (self.side == BEFORE)) | ((np.abs(c - high) <= near) & (self.side == AFTER))
        inside: Bools = (c >= low - near) & (c <= high + near) & ~outer
        return inside

    def worst_of(self, values: Floats, how: Literal["least", "greatest"]) -> Floats:
        """The worse figure of every pair, one for each chainage; NaN where one of both is not known. values: (n,)."""
        worse: Floats = (np.minimum if how == "least" else np.maximum).reduceat(values, np.flatnonzero(self.first))
        return worse


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


@dataclass(frozen=True, slots=True)
class StationRules:
    """What of the section settings says where sections stand."""

    interval: float
    key_points: bool
    extra: tuple[float, ...]
    chord_limit: float


def station_rules(settings: SectionSettings) -> StationRules:
    """Out of the settings; the chord limit in m."""
    return StationRules(settings.interval, settings.key_points, tuple(settings.extra), settings.chord_limit)


#: Ranges of a plan by their chainages alone.
Spans = tuple[tuple[float, float], ...]


def spans_of(plan: TreatmentPlan | TemplatePlan) -> Spans:
    """From and to of every range, in order."""
    return tuple((r.from_chainage, r.to_chainage) for r in plan.ranges)


def ends_met(spans: Spans, start: float, end: float) -> Spans:
    """Ranges of which those that all but reach an end of the road, or the range behind them, reach it."""
    near = tolerances.NEAR_END
    lows = [start if abs(low - start) <= near else low for low, _ in spans]
    highs = [end if abs(high - end) <= near else high for _, high in spans]
    for i, following in enumerate(lows[1:]):
        if 0 < following - highs[i] <= near:
            highs[i] = following
    return tuple(zip(lows, highs, strict=True))


def place_stations(
    alignment: Alignment,
    rules: StationRules,
    treatments: Spans,
    templates: Spans,
    corners: Floats = NONE,
    steps: Floats = NONE,
    bends: Floats = NONE,
    rows: Floats = NONE,
) -> Stations:
    """Multiples of the interval, key points, extra ones, every change of treatment or template, the corners of guides
    (k,), and what the chord limit asks for. steps: (m,) further chainages at which something changes abruptly; bends: (l,)
    where something changes its rate, as at the rows of a milling plan; rows: (r,) of tables in use."""
    start, end = alignment.start, alignment.end
    treatments, templates = (ends_met(spans, start, end) for spans in (treatments, templates))
    first = np.ceil(start / rules.interval - 1e-9)
    last = np.floor(end / rules.interval + 1e-9)
    _bounded(last - first + 1)
    regular = np.arange(first, last + 1) * rules.interval
    keys = alignment.key_chainages() if rules.key_points else np.array([start, end])
    limits = np.concatenate([np.array([*treatments, *templates], dtype=float).ravel(), steps, bends, rows])
    changes = merged(limits[(limits > start) & (limits < end)])
    turns = corners[(corners > start) & (corners < end)] if rules.key_points else NONE
    firm = merged(np.concatenate([keys, changes, turns, np.array(rules.extra, dtype=float)]))
    near = _beside(regular, firm)
    chainage = np.sort(np.concatenate([firm, regular[~near]]))
    chainage = _close_enough(alignment, chainage[(chainage >= start) & (chainage <= end)], rules.chord_limit)
    before = lookup(treatments, chainage, -1), lookup(templates, chainage, -1)
    after = lookup(treatments, chainage, 1), lookup(templates, chainage, 1)
    inner = (chainage > start + tolerances.CHAINAGE_MERGE) & (chainage < end - tolerances.CHAINAGE_MERGE)
    stepped = _beside(chainage, np.sort(steps))
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


def _bounded(sections: float) -> None:
    """Raises GeometryError where more sections would stand than a road may have."""
    if sections > MOST_SECTIONS:
        raise GeometryError(
            f"{sections:,.0f} sections would stand on this road, at most {MOST_SECTIONS:,} are computed", "sections",
            "take a longer interval or a greater chord limit, or a part of the road",
        )  # fmt: skip


def _beside(chainage: Floats, others: Floats) -> Bools:
    """Which chainages (n,) lie no further than sections are told apart from one of the others (k,), which rise."""
    if not len(others):
        return np.zeros(len(chainage), dtype=bool)
    after = np.searchsorted(others, chainage).clip(0, len(others) - 1)
    gap = np.minimum(np.abs(others[after] - chainage), np.abs(others[np.maximum(after - 1, 0)] - chainage))
    beside: Bools = gap <= tolerances.CHAINAGE_MERGE
    return beside


def some_stations(stations: Stations, rows: tuple[int, ...]) -> Stations:
    """Some of the stations, in the order given."""
    i = np.array(rows, dtype=np.intp)
    return Stations(stations.chainage[i], stations.side[i], stations.treatment[i], stations.template[i])


def with_middles(stations: Stations) -> Stations:
    """The stations with one more in the middle of every interval, of the treatment and template that hold there."""
    c = stations.chainage
    i = np.flatnonzero(np.diff(c) > tolerances.CHAINAGE_MERGE)
    order = np.argsort(np.r_[np.arange(len(c)), i + 0.5], kind="stable")
    plain = np.full(len(i), PLAIN, dtype=np.intp)
    columns = ((c, (c[i] + c[i + 1]) / 2), (stations.side, plain), (stations.treatment, stations.treatment[i]), (stations.template, stations.template[i]))  # fmt: skip
    return Stations(*(np.concatenate(pair)[order] for pair in columns))  # type: ignore[arg-type]


def frames_at(alignment: Alignment, stations: Stations) -> Frames:
    """Places and directions of the sections."""
    return alignment.frames(stations.chainage)


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
    wanted = np.maximum(1, np.ceil(length * np.sqrt(sharpest / (8 * limit)) - 1e-9))
    _bounded(float(wanted.sum()) + 1)
    parts = wanted.astype(int)
    row = np.repeat(np.arange(len(length)), parts)
    number = np.arange(len(row)) - np.repeat(np.cumsum(parts) - parts, parts)
    return np.append(chainage[row] + number * (length / parts)[row], chainage[-1])


def lookup(spans: Spans, chainage: Floats, towards: int) -> Ints:
    """Index of the range just before (-1) or just after (1) each chainage; -1 where there is none."""
    probe = chainage + towards * 2 * tolerances.CHAINAGE_MERGE
    found = np.full(len(chainage), -1, dtype=np.intp)
    for i, (low, high) in enumerate(spans):
        found[(probe >= low) & (probe <= high)] = i
    return found
