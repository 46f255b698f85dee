"""What is decided about the overlay, as documents: governing rules, ties to the old road, crossfalls, levels, milling."""

import itertools
from collections.abc import Sequence
from typing import Annotated, Literal, Protocol, Self

import numpy as np
from pydantic import Field, model_validator

from saddle import tolerances
from saddle.documents_base import (
    Chainage,
    Document,
    Key,
    Level,
    Measure,
    NotNegativeMillimetres,
    Positive,
    Refers,
)
from saddle.geometry.polylines import Floats
from saddle.guides.spec import EdgeSource

Crossfall = Annotated[float, Field(ge=-20, le=20, allow_inf_nan=False)]


class CoverGoverns(Document):
    """The lowest hinge level that keeps the least cover over every vertex of the old surface; the higher of both sides."""

    kind: Literal["cover"] = "cover"


class EdgesGovern(Document):
    """From each edge's old level plus the cover up to the hinge; the higher of both sides."""

    kind: Literal["edges"] = "edges"


class LevelTableGoverns(Document):
    """The adopted levels of the level table."""

    kind: Literal["level_table"] = "level_table"


class ProfileGoverns(Document):
    """The levels of a graded profile. profile: its key.

    about: what the road turns about. With the hinge, the profile is its level; with an edge, that edge keeps the level that it
    has at the normal crossfall, %, and the hinge rises or sinks: the left or right one, or the inner (lower) or outer (higher)
    one of a curve; where both sides fall alike, the mean of what both ask for. With a guide, the place where it runs: of a divided
    road the median's middle.
    """

    kind: Literal["profile"] = "profile"
    profile: Annotated[Key, Refers("profile")]
    about: Literal["hinge", "left", "right", "inner", "outer", "guide"] = "hinge"
    guide: Annotated[Key, Refers("guide")] | None = None
    normal_pct: Crossfall = -2.5

    @model_validator(mode="after")
    def _names_what_it_turns_about(self) -> Self:
        if (self.about == "guide") != (self.guide is not None):
            raise ValueError("a profile that turns the road about a guide names it, and no other does")
        return self


class LineGoverns(Document):
    """The level of a guide, plus a difference, m: of another road's edge or hinge, of a kerb that was surveyed. guide: its key."""

    kind: Literal["line"] = "line"
    guide: Annotated[Key, Refers("guide")]
    plus: Measure = 0.0


class KerbToKerb(Document):
    """Both kerb lips keep plan and level. The crossfall of `side` sets the crown, the other side gets what remains. plus:
    of the finished lip above the old surface at the edge, m."""

    kind: Literal["kerb_to_kerb"] = "kerb_to_kerb"
    side: Literal["left", "right"] = "left"
    plus: Measure = 0.0


GoverningRule = Annotated[
    CoverGoverns | EdgesGovern | LevelTableGoverns | ProfileGoverns | LineGoverns | KerbToKerb, Field(discriminator="kind")
]


class TieIn(Document):
    """How a treatment meets the old road at one of its ends: levels and crossfalls run from the old ones to its own over a
    length, m. notch_mm: milled that deep at the end, running out to nothing over the length, so that the courses keep their
    thickness; 0 for a ramp. guide: a line that it meets instead, as that of another road: it begins, or ends, where its hinge crosses it,
    and its levels and crossfalls run smoothly out of the surface there."""

    length: Positive
    notch_mm: NotNegativeMillimetres = 0.0
    guide: Annotated[Key, Refers("guide")] | None = None

    @property
    def notch(self) -> float:
        """Depth milled at the end, m."""
        return self.notch_mm / 1000


class _Placed(Protocol):
    @property
    def chainage(self) -> float: ...


def _rising(rows: Sequence[_Placed], what: str) -> None:
    for number, (a, b) in enumerate(itertools.pairwise(rows), start=1):
        if b.chainage <= a.chainage:
            raise ValueError(f"{what}, row {number + 1}: chainage {b.chainage:g} does not come after {a.chainage:g}")


class CrossfallRow(Document):
    """Adopted crossfalls at a chainage, %, negative falls outward."""

    chainage: Chainage
    left_pct: Crossfall
    right_pct: Crossfall


class CrossfallTable(Document):
    """Crossfalls along the road, straight between rows, held before the first and after the last."""

    rows: Annotated[list[CrossfallRow], Field(max_length=20_000)] = []

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _rising(self.rows, "crossfalls")
        return self


class LevelRow(Document):
    """An adopted hinge level, m. pinned: best levels leave it as it is."""

    chainage: Chainage
    level: Level
    pinned: bool = False


class LevelTable(Document):
    """Hinge levels along the road, straight between rows; none before the first and after the last."""

    rows: Annotated[list[LevelRow], Field(max_length=20_000)] = []

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _rising(self.rows, "levels")
        return self

    def at(self, chainage: Floats) -> Floats:
        """Levels (n,), NaN outside the table. A section that its first or last row misses by a rounded figure is inside."""
        if not self.rows:
            return np.full(len(chainage), np.nan)
        rows, near = [r.chainage for r in self.rows], tolerances.NEAR_END
        levels = np.interp(chainage, rows, [r.level for r in self.rows])
        return np.where((chainage >= rows[0] - near) & (chainage <= rows[-1] + near), levels, np.nan)


class MillingRow(Document):
    """Milling depth at a chainage, mm."""

    chainage: Chainage
    depth_mm: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]


class MillingStretch(Document):
    """Milling between two lines (null: the pavement's edges), straight between rows, with upright steps at its sides.

    full_at: where the depth is reached: at both sides, or at one from which it runs out to nothing at the other.
    """

    left: EdgeSource | None = None
    right: EdgeSource | None = None
    full_at: Literal["both", "left", "right"] = "both"
    rows: Annotated[list[MillingRow], Field(min_length=2, max_length=5000)]

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _rising(self.rows, "milling")
        return self


class MillingPlan(Document):
    """All milling of the road. Where stretches overlap the deeper one is milled."""

    stretches: Annotated[list[MillingStretch], Field(max_length=200)] = []

    def abrupt(self) -> list[float]:
        """Chainages at which milling begins or ends at a depth of its own."""
        return [row.chainage for s in self.stretches for row in (s.rows[0], s.rows[-1]) if row.depth_mm > 0]

    def chainages(self) -> list[float]:
        """Chainages of all rows."""
        return [row.chainage for s in self.stretches for row in s.rows]
