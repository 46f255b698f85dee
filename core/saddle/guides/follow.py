"""What template points follow along the road, rule by rule."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Floats, Ints
from saddle.guides.evaluate import GuideLine, Sources, line_of
from saddle.guides.spec import SIDES, FollowPlan


@dataclass(frozen=True, slots=True, eq=False)
class Followed:
    """What a point of one side gets on every section. offset, level: (n,), NaN where its own tie holds;
    rule: (n,) index of the rule that gave the offset, -1 where none did."""

    side: Literal[-1, 1]
    point: str
    offset: Floats
    level: Floats
    rule: Ints


def follow(plan: FollowPlan, frames: Frames, sources: Sources) -> tuple[Followed, ...]:
    """Every followed point, in the order of its first rule. Of its rules the first that gives a value counts.

    The guides of `sources` must be sound (see sound_guides).
    """
    c, n = frames.chainage, len(frames.chainage)
    slack = tolerances.CHAINAGE_MERGE
    known: dict[str, GuideLine] = {}
    found: dict[tuple[str, str], Followed] = {}
    for number, rule in enumerate(plan.rules):
        side = SIDES[rule.side]
        key = f"{rule.source.model_dump_json()}{side}"
        if key not in known:
            known[key] = line_of(rule.source, frames, sources, side)
        line = known[key]
        here = (c >= rule.from_chainage - slack) & (c <= rule.to_chainage + slack)
        got = found.setdefault(
            (rule.side, rule.point), Followed(side, rule.point, np.full(n, np.nan), np.full(n, np.nan), np.full(n, -1))
        )
        if rule.what != "level":
            take = here & np.isnan(got.offset) & np.isfinite(line.offset)
            got.offset[take], got.rule[take] = line.offset[take], number
        if rule.what != "plan":
            take = here & np.isnan(got.level) & np.isfinite(line.level)
            got.level[take] = line.level[take] + rule.plus
    return tuple(found.values())


def of_side(followed: tuple[Followed, ...], side: int) -> Mapping[str, Followed]:
    """Followed points of one side by name."""
    return {f.point: f for f in followed if f.side == side}
