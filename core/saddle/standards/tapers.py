"""Lengths of tapers by speed, as published. Quoted from memory; check them against the paper.

lane_shift     MUTCD 2009 table 6C-4 in metric form (2003 edition): L = W S / 1.6 from 70 km/h, W S2 / 155 up to
               60 km/h; between the two the longer is taken.
lateral_slow   Austroads Guide to Road Design, tapers by lateral speed: T = V W / (3.6 S), S = 0.6 m/s (merging).
lateral_quick  The same with S = 1.0 m/s (diverging).
"""

from typing import Annotated, Literal

from pydantic import Field

from saddle.documents_base import Document

LATERAL = {"lateral_slow": 0.6, "lateral_quick": 1.0}


class TaperRule(Document):
    """A standard and the speed it is asked for, km/h."""

    standard: Literal["lane_shift", "lateral_slow", "lateral_quick"]
    speed_kmh: Annotated[float, Field(ge=10, le=200)]


def taper_length(width: float, rule: TaperRule) -> float:
    """Length of a taper over a width, m."""
    speed = rule.speed_kmh
    if rule.standard == "lane_shift":
        slow, fast = width * speed**2 / 155, width * speed / 1.6
        return slow if speed <= 60 else fast if speed >= 70 else max(slow, fast)
    return speed * width / (3.6 * LATERAL[rule.standard])
