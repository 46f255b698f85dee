"""Slope ladders as documents: rungs with their conditions, and the links that their shapes are chained from."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from saddle.documents_base import (
    Chainage,
    Document,
    Measure,
    Name,
    NotNegativeMeasure,
    Percent,
    PositiveMeasure,
)

OneIn = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]


class Run(Document):
    """Out by a width, m, at a fall, %, negative falls outward."""

    kind: Literal["run"] = "run"
    width: PositiveMeasure
    fall_pct: Percent = -4.0


class Step(Document):
    """Out by a width and up by a rise, m; a negative rise goes down."""

    kind: Literal["step"] = "step"
    width: NotNegativeMeasure
    rise: Measure


class VDrain(Document):
    """Down at 1 in n to a depth, m, and up again at 1 in n."""

    kind: Literal["v_drain"] = "v_drain"
    depth: PositiveMeasure = 0.5
    inner_one_in: OneIn = 3.0
    outer_one_in: OneIn = 2.0


class FlatDrain(Document):
    """Down at 1 in n to a depth, m, a level bottom of a width, m, and up again at 1 in n."""

    kind: Literal["flat_drain"] = "flat_drain"
    depth: PositiveMeasure = 0.5
    inner_one_in: OneIn = 3.0
    bottom: PositiveMeasure = 0.5
    outer_one_in: OneIn = 2.0


class ToeDrain(Document):
    """Down at 1 in n until so far below the ground, m, and a level bottom of a width, m; a slope up to the ground
    follows it."""

    kind: Literal["toe_drain"] = "toe_drain"
    one_in: OneIn = 2.0
    depth: PositiveMeasure = 0.3
    bottom: PositiveMeasure = 0.5
    most_width: PositiveMeasure = 25.0


class ToGround(Document):
    """Up or down at 1 in n to the ground, over no more than a width, m."""

    kind: Literal["to_ground"] = "to_ground"
    one_in: OneIn
    direction: Literal["up", "down"]
    most_width: PositiveMeasure = 25.0


class Benched(Document):
    """Up or down at 1 in n to the ground with a bench after every so many metres of height. Bench width m, fall %
    outward from the road."""

    kind: Literal["benched"] = "benched"
    one_in: OneIn
    direction: Literal["up", "down"]
    height: Annotated[float, Field(ge=0.5, le=100, allow_inf_nan=False)] = 5.0
    bench_width: PositiveMeasure = 2.0
    bench_fall_pct: Annotated[float, Field(ge=-20, le=20, allow_inf_nan=False)] = -4.0
    most_width: Annotated[float, Field(gt=0, le=200)] = 40.0


Link = Annotated[Run | Step | VDrain | FlatDrain | ToeDrain | ToGround | Benched, Field(discriminator="kind")]


class Rung(Document):
    """A side-slope shape and when it is taken.

    when: ground above (cut) or below (fill) the outer point. Heights: of the ground under the outer point above or below
    it, m. inside_boundary: the catch point must lie inside the ladder's boundary less the clearance, m; within: no
    further out from the outer point than this, m. The last link meets the ground.
    """

    name: Name
    when: Literal["cut", "fill", "either"]
    links: Annotated[list[Link], Field(min_length=1, max_length=12)]
    least_height: NotNegativeMeasure = 0.0
    most_height: PositiveMeasure | None = None
    inside_boundary: bool = False
    clearance: NotNegativeMeasure = 0.0
    within: PositiveMeasure | None = None
    from_chainage: Chainage | None = None
    to_chainage: Chainage | None = None

    @model_validator(mode="after")
    def _shape_is_sound(self) -> Self:
        for link in self.links[:-1]:
            if isinstance(link, ToGround | Benched):
                raise ValueError("a slope to the ground is the last link of its rung")
        if not isinstance(self.links[-1], ToGround | Benched):
            raise ValueError("the last link of a rung is a slope to the ground")
        if self.most_height is not None and self.most_height <= self.least_height:
            raise ValueError("the greatest height must be more than the least")
        if self.from_chainage is not None and self.to_chainage is not None and self.to_chainage <= self.from_chainage:
            raise ValueError("the chainages of a rung must run forward")
        return self
