"""What the guides API speaks of besides the documents."""

from typing import Literal

from ninja import Schema

from saddle.documents_base import Key
from saddle.guides.spec import GuideSpec


class Straightened(Schema):
    """A line in the straightened diagram: offsets over chainages, null where it has none."""

    chainage: list[float]
    offset: list[float | None]


class GuideOut(Straightened):
    """A guide drawn: in the diagram, and in plan as east and north. wrong: why it cannot be laid. pieces: where each
    begins and ends, (chainage, offset, chainage, offset). steps: of one that stands on another line, offsets of the base and after
    each of its parts, in the order of chainages."""

    key: str
    plan: list[list[float]]
    pieces: list[list[float]]
    steps: list[list[float | None]]
    wrong: str | None


class GuideIn(Schema):
    """A new guide with its key. built: the lane's edge follows it."""

    key: Key
    guide: GuideSpec
    built: bool = False


class GuideMade(Schema):
    """The point that follows the new guide, with its side; null where none does."""

    point: str | None


class SurveyedOut(Straightened):
    """A survey line in the diagram."""

    code: str
    name: str


class Diagram(Schema):
    """Chainage against offset: guides and surveyed lines."""

    guides: list[GuideOut]
    surveyed: list[SurveyedOut]


class FollowedOut(Schema):
    """What a template point gets along the road: offset and level, null where its own ties hold, and the rule."""

    side: Literal["left", "right"]
    point: str
    offset: list[float | None]
    level: list[float | None]
    rule: list[int]
