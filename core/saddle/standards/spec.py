"""The standards that a project is judged by, as a document: copies of published figures that anybody may change."""

import itertools
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from saddle.documents_base import Document, Name, NotNegative, Number, Positive
from saddle.geometry.polylines import Floats
from saddle.standards.sight import stopping_distance

Source = Annotated[str, Field(max_length=300)]


class Figure(Document):
    """A figure at a speed. source: where it comes from, if not from where the table does."""

    speed_kmh: Annotated[float, Field(gt=0, le=200)]
    value: Number
    source: Source | None = None


class SpeedTable(Document):
    """Figures by speed, straight between them and held beyond the first and the last."""

    source: Source
    rows: Annotated[list[Figure], Field(min_length=1, max_length=60)]

    @model_validator(mode="after")
    def _rising(self) -> Self:
        for a, b in itertools.pairwise(self.rows):
            if b.speed_kmh <= a.speed_kmh:
                raise ValueError(f"speed {b.speed_kmh:g} does not come after {a.speed_kmh:g}")
        return self

    @property
    def speeds(self) -> Floats:
        return np.array([r.speed_kmh for r in self.rows])

    @property
    def values(self) -> Floats:
        return np.array([r.value for r in self.rows])

    def at(self, speed_kmh: float) -> float:
        """The figure at a speed."""
        return float(np.interp(speed_kmh, self.speeds, self.values))


class VerticalStandard(Document):
    """Limits of profiles. stopping: sight distance, m; crest_k, sag_k: least K, m/%; most_grade: %; grade_change: greatest
    change of grade without a curve, %; eye, thing: heights between which the driver sees, m; reaction s and deceleration as a
    share of gravity, for stopping on grades."""

    name: Name
    stopping: SpeedTable
    crest_k: SpeedTable
    sag_k: SpeedTable
    most_grade: SpeedTable
    grade_change: SpeedTable
    eye: Positive
    thing: NotNegative
    reaction: Positive = 2.5
    deceleration: Annotated[float, Field(gt=0.05, le=1)] = 0.36

    def stopping_on(self, speed_kmh: float, grade_pct: float) -> float:
        """Stopping sight distance on a grade, m: the table's, and what a downhill grade adds by the formula."""
        level, grade = (stopping_distance(speed_kmh, g, self.reaction, self.deceleration) for g in (0.0, min(grade_pct, 0.0)))
        return self.stopping.at(speed_kmh) + grade - level


class SuperelevationStandard(Document):
    """How much curves turn, and how fast.

    divisor: e = V2 / (divisor R), V km/h; null shares e in proportion to curvature, e = e_max R_min / R. most_pct: e_max.
    friction: of R_min. relative_grade: of the edge against the axis, %, for one, two and more lanes that turn; lane_factor:
    instead the first with b_w for the lanes. rotation_rate: %/s, null for no such limit. share_before: of the runoff, before
    a curve without transition. grade_per_metre_up_to: the relative grade is for every metre of width, up to that width, m;
    flat_grade_per_metre: least relative grade, % for every metre of width, while the crossfall passes through level.
    """

    name: Name
    divisor: Positive | None = None
    most_pct: Annotated[float, Field(gt=0, le=12)]
    friction: SpeedTable
    relative_grade: Annotated[list[SpeedTable], Field(min_length=1, max_length=3)]
    lane_factor: bool = False
    rotation_rate: SpeedTable | None = None
    share_before: SpeedTable
    grade_per_metre_up_to: Positive | None = None
    flat_grade_per_metre: Positive | None = None


class Standards(Document):
    """What a project is judged by. least_cover_over_pipes: from the top of a pipe to the road's surface, m. Crossfalls are out of
    range beyond steepest_pct (common practice, no source), and water does not run off where the resultant of crossfall and grade is
    below least_resultant_pct (0.5 %: RAS-L and RAL, from memory)."""

    vertical: VerticalStandard
    superelevation: SuperelevationStandard
    least_cover_over_pipes: NotNegative = 0.6
    steepest_pct: Annotated[float, Field(gt=0, le=15)] = 7.0
    least_resultant_pct: Annotated[float, Field(ge=0, le=5)] = 0.5


class WideningRule(Document):
    """How much a curve is widened. The standards stand in saddle/standards/widening.py with their sources.

    lanes of the whole road; lane_width: m; design_speed_kmh and vehicle are used by the rules that ask for them.
    """

    standard: Literal["vehicle", "radius_bands", "mechanical", "radius_table"] = "vehicle"
    design_speed_kmh: Annotated[float, Field(ge=10, le=200)] = 60.0
    vehicle: Literal["SU", "WB12", "WB15", "WB19"] = "WB15"
    lanes: Annotated[int, Field(ge=1, le=4)] = 2
    lane_width: Annotated[float, Field(ge=2, le=5)] = 3.5
