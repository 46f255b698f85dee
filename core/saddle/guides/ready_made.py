"""Guides made from a few figures: widening, lay-by, bus bay, auxiliary lane, parallel line.

Each becomes ordinary pieces that can be changed afterwards. base_offset: of the edge where nothing is added, m, its
sign tells the side; what is added lies further out. One that stands on another guide has widths from that, and the sign of base_offset
alone counts.
"""

from typing import Annotated, Literal

from pydantic import Field

from saddle.documents_base import Document, Key, Measure, Name, NotNegative, Number, Positive, PositiveMeasure, Refers
from saddle.guides.spec import AfterLength, AtChainage, ByRatio, GuideSpec, Hold, OnGuide, OnLineAndParts, Pieces, Taper
from saddle.standards.tapers import TaperRule, taper_length


class _Beside(Document):
    name: Name
    base_offset: Measure


class Widening(_Beside):
    """Wider over a range, m, with tapers before and after it, by length or by a standard."""

    kind: Literal["widening"] = "widening"
    from_chainage: Number
    to_chainage: Number
    extra: PositiveMeasure
    taper_in: Positive = 20.0
    taper_out: Positive = 20.0
    taper_by: TaperRule | None = None


class LayBy(_Beside):
    """Taper in, parallel part, taper out, all by length, m."""

    kind: Literal["lay_by"] = "lay_by"
    from_chainage: Number
    extra: PositiveMeasure = 3.0
    parallel: Positive = 30.0
    taper_in: Positive = 20.0
    taper_out: Positive = 20.0


class BusBay(_Beside):
    """Tapers by ratio: entry 5:1 or flatter, exit not sharper than 3:1 (AASHTO, bus turnouts, from memory)."""

    kind: Literal["bus_bay"] = "bus_bay"
    from_chainage: Number
    extra: PositiveMeasure = 3.0
    stop: Positive = 15.0
    entry_one_in: Positive = 5.0
    exit_one_in: Positive = 3.0


class AuxiliaryLane(_Beside):
    """A lane more up to a chainage, opened by a taper of 8:1 to 15:1 by speed (AASHTO, auxiliary lanes, from memory)."""

    kind: Literal["auxiliary_lane"] = "auxiliary_lane"
    from_chainage: Number
    to_chainage: Number
    extra: PositiveMeasure = 3.5
    taper_one_in: Positive = 15.0


class Parallel(_Beside):
    """At one offset over a range."""

    kind: Literal["parallel"] = "parallel"
    from_chainage: Number
    to_chainage: Number


ReadyMade = Annotated[Widening | LayBy | BusBay | AuxiliaryLane | Parallel, Field(discriminator="kind")]


class ReadyMadeIn(Document):
    """One of them. on: key of the guide that it stands on, null for a fixed offset; lead: the edge itself runs so far before and after
    it, m."""

    what: ReadyMade
    on: Annotated[Key, Refers("guide")] | None = None
    lead: NotNegative = 0.0


def make(given: ReadyMadeIn) -> GuideSpec:
    """The guide, as pieces."""
    what, lead = given.what, given.lead
    if given.on is not None:
        widths = make(given.changed(on=None, what=what.changed(base_offset=0.0))).source
        assert isinstance(widths, Pieces)
        source = OnLineAndParts(base=OnGuide(guide=given.on), parts=[widths], only_pieces=True)
        return GuideSpec(name=what.name, side="left" if what.base_offset < 0 else "right", source=source)
    base = what.base_offset
    outward = 1.0 if base >= 0 else -1.0
    start = what.from_chainage
    pieces: list[Hold | Taper]
    if isinstance(what, Parallel):
        pieces = [Hold(end=AtChainage(chainage=what.to_chainage))]
        return _guide(what.name, base, start, pieces)
    out = base + outward * what.extra
    if isinstance(what, Widening):
        into, away = what.taper_in, what.taper_out
        if what.taper_by is not None:
            into = away = taper_length(what.extra, what.taper_by)
        start = what.from_chainage - into
        pieces = [
            Taper(to_offset=out, end=AtChainage(chainage=what.from_chainage)),
            Hold(end=AtChainage(chainage=what.to_chainage)),
            Taper(to_offset=base, end=AfterLength(length=away)),
        ]
    elif isinstance(what, LayBy):
        pieces = [
            Taper(to_offset=out, end=AfterLength(length=what.taper_in)),
            Hold(end=AfterLength(length=what.parallel)),
            Taper(to_offset=base, end=AfterLength(length=what.taper_out)),
        ]
    elif isinstance(what, BusBay):
        pieces = [
            Taper(to_offset=out, end=ByRatio(one_in=what.entry_one_in)),
            Hold(end=AfterLength(length=what.stop)),
            Taper(to_offset=base, end=ByRatio(one_in=what.exit_one_in)),
        ]
    else:
        pieces = [
            Taper(to_offset=out, end=ByRatio(one_in=what.taper_one_in)),
            Hold(end=AtChainage(chainage=what.to_chainage)),
        ]
    if lead > 0:
        pieces = [Hold(end=AfterLength(length=lead)), *pieces, Hold(end=AfterLength(length=lead))]
        start -= lead
    return _guide(what.name, base, start, pieces)


def _guide(name: str, base: float, start: float, pieces: list[Hold | Taper]) -> GuideSpec:
    return GuideSpec(
        name=name,
        side="left" if base < 0 else "right",
        source=Pieces(start_chainage=start, start_offset=base, pieces=pieces),
    )
