"""What the levels API speaks of besides the documents."""

from typing import Annotated

from ninja import Schema
from pydantic import Field

from road.numbers import Numbers
from saddle.documents_base import Number
from saddle.overlay.level_ops import LevelOperation
from saddle.overlay.spec import LevelTable

Chainage = Number


class LevelsOut(Schema):
    """Levels per section, as in saddle.road.levels.Levels; candidates: hinge level that each side asks for; left_edge,
    right_edge: existing levels there; milled: of the milled surface at the hinge; limit: change of grade for the speed, %."""

    chainage: list[float]
    existing: Numbers
    left_edge: Numbers
    right_edge: Numbers
    milled: Numbers
    lowest: Numbers
    design: Numbers
    adopted: Numbers
    left_candidate: Numbers
    right_candidate: Numbers
    grade_pct: Numbers
    change_pct: Numbers
    speed_kmh: Numbers
    limit_pct: float


class LevelOperationIn(Schema):
    """An operation on the adopted levels of a range; nothing is written."""

    operation: LevelOperation
    from_chainage: Chainage
    to_chainage: Chainage
    table: LevelTable


class BestIn(Schema):
    """What best levels are asked for. crossfall_low, crossfall_high: with both, crossfalls are free between them, %;
    keep_lips: the overlay's ends keep the old level, which asks for free crossfalls."""

    from_chainage: Chainage
    to_chainage: Chainage
    speed_kmh: Annotated[float, Field(ge=20, le=140)] = 90.0
    fix_ends: bool = True
    keep_lips: bool = False
    crossfall_low: Annotated[float, Field(ge=-15, le=15)] | None = None
    crossfall_high: Annotated[float, Field(ge=-15, le=15)] | None = None
    crossfall_rate: Annotated[float, Field(gt=0, le=5)] | None = None


class BindingOut(Schema):
    """A limit that holds the answer somewhere."""

    kind: str
    chainages: list[float]


class ConflictOut(Schema):
    """A limit that would have to give, by so many mm."""

    chainage: float
    what: str
    by_mm: float


class BestOut(Schema):
    """Best levels, or the limits in conflict. saved: of the courses over the old pavement, by the road solved with these levels, m3 and
    t; unknown_length: m over which that is not known; off_m3: how far the levels as they are written lie above what is proven to be
    the least."""

    chainage: list[float]
    level: list[float]
    left_pct: list[float]
    right_pct: list[float]
    free: bool
    saved_m3: float
    saved_tonnes: float
    unknown_length: float
    off_m3: float
    binding: list[BindingOut]
    conflicts: list[ConflictOut]


class ChangeOut(Schema):
    """A level that would change."""

    chainage: float
    before: float | None
    after: float


class ReadLevelsOut(Schema):
    """A workbook read; nothing is written."""

    table: LevelTable
    changes: list[ChangeOut]
