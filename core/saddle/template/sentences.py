"""Sentences that read a template back to the person who drew it."""

from collections.abc import Mapping
from typing import assert_never

from saddle.guides.spec import AtOffset, FarSide, OnGuide, PointSource
from saddle.template.compiled import Parts
from saddle.template.parts import Batter, CarryOn, Course, End, Flush, ToSlope, UnderKerb
from saddle.template.rungs import Benched, FlatDrain, Link, Run, Rung, Step, ToeDrain, ToGround, VDrain
from saddle.template.spec import Floor, KerbPlacement, LevelLie, Mark, OwnFall, RiseToSurface, RunToSlope, Strip, Zone
from saddle.template.ties import (
    Carried,
    Fall,
    Follow,
    GuideLevel,
    Inward,
    OffsetTie,
    OnLine,
    OnSurface,
    PartWay,
    Point,
    SameAs,
    Square,
    Width,
)
from saddle.template.values import Dimension, Unit, Value

STRIP_WORDS = {"cycle_path": "cycle path"}


class Reader:
    """Words for one template. names: of guides and surfaces by "guide key" or "surface key"; dimensions by name."""

    def __init__(self, dimensions: Mapping[str, Dimension], names: Mapping[str, str]) -> None:
        self.dimensions, self.names = dimensions, names

    def measure(self, value: Value, unit: Unit) -> str:
        """A value with its unit; of a dimension its name too."""
        decimals = {"m": 2, "mm": 0, "%": 1}[unit]
        if not isinstance(value, str):
            return f"{_number(value, decimals)} {unit}"
        known = self.dimensions.get(value)
        return f"{value} ({_number(known.value, decimals)} {unit})" if known else value

    def point(self, p: Point) -> str:
        """How a point is tied."""
        if isinstance(p.offset, Square):
            tie = p.offset
            along, out = self.measure(tie.along, "m"), self.measure(tie.out, "m")
            return f"{p.name} lies {along} from {tie.parent} towards {tie.through} and {out} square to that line."
        return f"{p.name} {self._offset(p.offset)}, {self._level(p)}."

    def _offset(self, tie: OffsetTie) -> str:
        if isinstance(tie, PartWay):
            return f"lies {self.measure(tie.pct, '%')} of the way from {tie.parent} to {tie.through}"
        if isinstance(tie, SameAs):
            return f"lies where {tie.parent} does"
        if isinstance(tie, Follow):
            return f"lies on {self.source(tie.source)} where that is found, otherwise {self.measure(tie.width, 'm')} out from {tie.parent}"
        if isinstance(tie, Inward):
            return f"lies {self.measure(tie.width, 'm')} in from {tie.parent}"
        assert isinstance(tie, Width)
        return f"lies {self.measure(tie.width, 'm')} out from {tie.parent}"

    def _level(self, p: Point) -> str:
        tie = p.level
        match tie:
            case Fall(crossfall_pct=None, turns_with="neighbour", parent=parent):
                return f"falling from {parent} as its neighbour does"
            case Fall(crossfall_pct=None, parent=parent):
                return f"turning about {parent} with the crossfall of its side"
            case Fall(crossfall_pct=str(name), parent=parent):
                return f"at {self.measure(name, '%')} from {parent}"
            case Fall(crossfall_pct=float(pct), parent=parent):
                way = "level with" if pct == 0 else f"{'falling' if pct < 0 else 'rising'} {_number(abs(pct), 1)} % from"
                return f"{way} {parent}"
            case OnSurface(surface=surface, plus=plus):
                more = "" if plus == 0 else f", {self.measure(plus, 'm')} above it"
                return f"on surface {self.names.get(f'surface {surface}', surface)}{more}"
            case GuideLevel(source=source, plus=plus, parent=parent, rise=rise):
                more = "" if plus == 0 else f" plus {_number(plus, 2)} m"
                return f"at the level of {self.source(source)}{more}, where it has none {self.measure(rise, 'm')} above {parent}"
            case OnLine(parent=parent, through=through, plus=plus):
                by = (
                    ""
                    if plus == 0
                    else f"{_number(abs(plus), 3)} m {'above' if plus > 0 else 'below'} "
                    if isinstance(plus, float)
                    else f"{self.measure(plus, 'm')} above "
                )
                return f"{by or 'on '}the straight line from {parent} to {through}"
            case Carried(surface=surface, first=first, second=second, parent=parent):
                name = self.names.get(f"surface {surface}", surface)
                return f"carrying on from {parent} the fall that surface {name} has between {first} and {second}"
            case _:
                assert tie is not None and not isinstance(tie, Fall)
                if isinstance(tie.rise, str):
                    return f"{self.measure(tie.rise, 'm')} above {tie.parent}"
                if tie.rise == 0:
                    return f"level with {tie.parent}"
                return f"{_number(abs(tie.rise), 3)} m {'above' if tie.rise > 0 else 'below'} {tie.parent}"

    def source(self, source: PointSource) -> str:
        """What is followed."""
        if isinstance(source, FarSide):
            return "what the median reaches to"
        if isinstance(source, AtOffset):
            return f"offset {_number(source.offset, 2)} m"
        if isinstance(source, OnGuide):
            return f"guide {self.names.get(f'guide {source.guide}', source.guide)}"
        side = {None: "", "left": " on the left", "right": " on the right", "nearest": " on either side"}[source.side]
        return f"the nearest line {source.code}{side} within {_number(source.within, 1)} m"

    def strip(self, s: Strip, parts: Parts) -> str:
        """What a strip is built of."""
        new = parts.make_ups.get(s.new)
        over = parts.make_ups.get(s.over_existing) if s.over_existing else None
        kind = STRIP_WORDS.get(s.kind, s.kind)
        text = f"{s.name} is the {kind} from {s.from_point} to {s.to_point}, built new as “{new.name if new else s.new}”"
        return f"{text}, over the old pavement as “{over.name}”." if over else f"{text} everywhere."

    def course(self, c: Course) -> str:
        """How a course ends."""
        return f"{c.name} {self._end(c.inner, 'inner')} and {self._end(c.outer, 'outer')}."

    def _end(self, end: End, side: str) -> str:
        match end:
            case CarryOn(distance=d):
                return f"is carried on {_number(d, 2)} m past its {side} end"
            case ToSlope():
                return "runs out to the side slope"
            case UnderKerb(behind=d):
                return f"goes under the kerb to {_number(d, 2)} m behind it"
            case Batter(one_in=n):
                return f"ends 1 in {n:g} on its {side} side"
            case Flush():
                return f"is cut upright at its {side} end"
            case _:
                assert_never(end)

    def kerb(self, k: KerbPlacement, parts: Parts) -> str:
        """Where a kerb stands."""
        profile = parts.kerbs.get(k.profile)
        name = profile.name if profile else k.profile
        if k.turned:
            return f"{k.name} is a “{name}” with its back at {k.at} and its face outward."
        return f"{k.name} is a “{name}” with its lip at {k.at}."

    def floor(self, f: Floor) -> str:
        """A floor of the boxing, zone by zone."""
        start = f"starts at {self._mark(f.start)}" if f.start else "starts at the hinge"
        parts = [self._zone(z) for z in f.zones]
        if isinstance(f.end, RiseToSurface):
            parts.append(f"then climbs 1 in {f.end.one_in:g}")
        elif not isinstance(f.end, RunToSlope):
            parts.append("and ends upright")
        return f"Floor {f.name} {start}; {'; '.join(parts)}."

    def _zone(self, z: Zone) -> str:
        to = f"to {self._mark(z.to)}" if z.to else "out to the side slope"
        under = f"course {z.under.course} of {z.under.strip}" if z.under else "the finished surface"
        lie = (
            "level"
            if isinstance(z.lie, LevelLie)
            else f"at {self.measure(z.lie.crossfall_pct, '%')}"
            if isinstance(z.lie, OwnFall)
            else "parallel"
        )
        return f"{to} it lies {self.measure(z.depth_mm, 'mm')} under {under}, {lie}"

    def _mark(self, m: Mark) -> str:
        if m.plus == 0:
            return m.point
        return f"{_number(abs(m.plus), 2)} m {'outside' if m.plus > 0 else 'inside'} {m.point}"

    def rung(self, r: Rung) -> str:
        """A rung's conditions and shape."""
        when = {"cut": "In cut", "fill": "In fill", "either": "In cut or fill"}[r.when]
        if r.least_height > 0 and r.most_height is not None:
            when += f" of {_number(r.least_height, 1)} to {_number(r.most_height, 1)} m"
        elif r.least_height > 0:
            when += f" of at least {_number(r.least_height, 1)} m"
        elif r.most_height is not None:
            when += f" of at most {_number(r.most_height, 1)} m"
        shape = ", then ".join(_link(link) for link in r.links)
        limits = []
        if r.inside_boundary:
            limits.append("it lands inside the boundary" + (f" less {_number(r.clearance, 2)} m" if r.clearance else ""))
        if r.within is not None:
            limits.append(f"it lands within {_number(r.within, 1)} m")
        return f"{when}: {shape}{', if ' + ' and '.join(limits) if limits else ''}."


def _number(value: float, decimals: int) -> str:
    text = f"{value:.{decimals}f}"
    exact = f"{value:g}"
    if abs(float(text) - value) > 1e-9:
        text = exact
    return text.replace("-", "−")


def _link(link: Link) -> str:
    match link:
        case Run(width=w, fall_pct=f):
            return f"{_number(w, 2)} m {'falling' if f < 0 else 'rising'} {_number(abs(f), 1)} %"
        case Step(width=w, rise=r):
            return f"{_number(w, 2)} m out and {_number(abs(r), 2)} m {'up' if r >= 0 else 'down'}"
        case VDrain(depth=d):
            return f"a V drain {_number(d, 2)} m deep"
        case FlatDrain(depth=d, bottom=b):
            return f"a drain {_number(d, 2)} m deep and {_number(b, 2)} m wide at its bottom"
        case ToeDrain(one_in=n, depth=d):
            return f"1 in {n:g} down to a toe drain {_number(d, 2)} m below the ground"
        case ToGround(one_in=n, direction=way):
            return f"1 in {n:g} {way} to the ground"
        case Benched(one_in=n, direction=way, height=h):
            return f"1 in {n:g} {way} to the ground with a bench every {_number(h, 1)} m"
        case _:
            assert_never(link)
