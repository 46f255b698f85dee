"""A template compiled once: ties sorted so that parents come first, and the chain of spans from the hinge outward.

All that is wrong with a template is collected as faults that name what they are about; compiling raises the first.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from saddle.errors import TemplateError
from saddle.guides.spec import LineSource
from saddle.template.parts import KerbProfile, MakeUp, thickness_values
from saddle.template.rungs import Rung
from saddle.template.spec import HINGE, Floor, Half, KerbPlacement, Mark, Strip, TemplateSpec
from saddle.template.ties import (
    Fall,
    Follow,
    GuideLevel,
    Inward,
    OnLine,
    OnSheets,
    OnSurface,
    PartWay,
    Point,
    Rise,
    Square,
    Width,
)
from saddle.template.values import Dimension, Unit, Value, check_value


@dataclass(frozen=True, slots=True)
class Parts:
    """What templates refer to by key."""

    make_ups: dict[str, MakeUp]
    kerbs: dict[str, KerbProfile]


@dataclass(frozen=True, slots=True)
class Fault:
    """Something wrong with a template. where: "half", "right half" or "left half"; names: points, strips or rungs meant."""

    severity: Literal["fault", "caution"]
    where: str
    names: tuple[str, ...]
    message: str
    hint: str = ""


@dataclass(frozen=True, slots=True)
class KerbPoint:
    """A vertex that a kerb brings: so far out and up from a solved column, m."""

    anchor: int
    out: float
    up: float


@dataclass(frozen=True, slots=True)
class StripSpan:
    """A strip with its make-ups found. start, end: columns of the solved points."""

    strip: Strip
    start: int
    end: int
    new: MakeUp
    over_existing: MakeUp | None


@dataclass(frozen=True, slots=True)
class KerbSpan:
    """A kerb with its profile found. columns: of its vertices, inner one first."""

    placement: KerbPlacement
    profile: KerbProfile
    columns: tuple[int, ...]

    @property
    def start(self) -> int:
        return self.columns[0]

    @property
    def end(self) -> int:
        return self.columns[-1]

    @property
    def lip(self) -> int:
        """Column of the lip."""
        return self.columns[-1 if self.placement.turned else 0]

    @property
    def back(self) -> int:
        """Column of the back."""
        return self.columns[0 if self.placement.turned else -1]


Span = StripSpan | KerbSpan


@dataclass(frozen=True, slots=True)
class CompiledHalf:
    """Points in solving order (the hinge is column 0), spans from the hinge outward, floors from the top, rungs in order. edge: the
    column at which the road itself ends, where what lies beyond is no side slope; None where it is one."""

    names: tuple[str, ...]
    points: tuple[Point | KerbPoint | None, ...]
    spans: tuple[Span, ...]
    floors: tuple[Floor, ...]
    rungs: tuple[Rung, ...]
    boundary: LineSource | None
    fill: str
    edge: int | None = None

    @property
    def outer(self) -> int:
        """Column of the outermost point, where the side slope starts."""
        return self.spans[-1].end

    def kerb_beside(self, strip: str, side: int) -> "KerbSpan | None":
        """The kerb that stands at the end of a strip, outward (1) or inward (-1)."""
        i = next(k for k, span in enumerate(self.spans) if isinstance(span, StripSpan) and span.strip.name == strip) + side
        beside = self.spans[i] if 0 <= i < len(self.spans) else None
        return beside if isinstance(beside, KerbSpan) else None

    def column(self, name: str) -> int:
        """Column of a point."""
        return self.names.index(name)

    def on_sheets(self, name: str) -> OnSheets:
        """What section sheets say of a point: of a kerb's vertices the back alone is named."""
        point = self.points[self.column(name)]
        if isinstance(point, Point):
            return point.on_sheets
        return "name" if any(s.back == self.column(name) for s in self.spans if isinstance(s, KerbSpan)) else "nothing"


@dataclass(frozen=True, slots=True)
class CompiledTemplate:
    """Both halves. A mirrored template has the same half twice. dimensions: by name."""

    name: str
    left: CompiledHalf
    right: CompiledHalf
    dimensions: dict[str, Dimension]


def compile_template(spec: TemplateSpec, parts: Parts) -> CompiledTemplate:
    """Raises TemplateError for circles of ties, unknown parents, points or keys, doubled names, broken chains."""
    compiled, faults = try_compile(spec, parts)
    if compiled is None:
        worst = next(f for f in faults if f.severity == "fault")
        raise TemplateError(worst.message, f"template “{spec.name}”, {worst.where}", worst.hint)
    return compiled


def try_compile(spec: TemplateSpec, parts: Parts) -> tuple[CompiledTemplate | None, list[Fault]]:
    """The template, None where it cannot be built, and all that is wrong with it."""
    right = _Compiler(spec, spec.right, parts, "right half" if spec.left else "half")
    right_half = right.run()
    if spec.left is None:
        left_half, faults = right_half, right.faults
    else:
        left = _Compiler(spec, spec.left, parts, "left half")
        left_half, faults = left.run(), right.faults + left.faults
    if right_half is None or left_half is None:
        return None, faults
    return CompiledTemplate(spec.name, left_half, right_half, {d.name: d for d in spec.dimensions}), faults


_Brought = list[tuple[str, Point | tuple[str, float, float]]]


class _Compiler:
    """One half on its way to be compiled."""

    def __init__(self, spec: TemplateSpec, half: Half, parts: Parts, where: str) -> None:
        self.half, self.parts, self.where = half, parts, where
        self.dimensions = {d.name: d for d in spec.dimensions}
        self.faults: list[Fault] = []
        self.names: list[str] = [HINGE]
        self.points: list[Point | KerbPoint | None] = [None]
        self.known = {HINGE}
        self.profiles: dict[str, KerbProfile] = {}

    def fault(self, message: str, hint: str, *names: str) -> None:
        self.faults.append(Fault("fault", self.where, names, message, hint))

    def run(self) -> CompiledHalf | None:
        """Every check; the half if none failed."""
        waiting = self._declared()
        self._values()
        for brought in waiting.values():
            parents, _ = brought
            for parent in sorted(parents - self.known):
                name = brought[1][0][0]
                self.fault(
                    f"{name} is tied to {parent}, which does not exist", f"add a point {parent} or choose another parent", name
                )
        if not self.faults:
            self._sort(waiting)
        spans = self._chain() if not self.faults else []
        if not self.faults:
            self._ends(spans)
            self._floors(spans)
        if self.faults:
            return None
        h = self.half
        return CompiledHalf(
            tuple(self.names), tuple(self.points), tuple(spans), tuple(h.floors), tuple(h.ladder), h.boundary, h.fill
        )

    def _declare(self, name: str) -> None:
        if name in self.known:
            self.fault(f"two points are called {name}", "give every point a name of its own", name)
        self.known.add(name)

    def _declared(self) -> dict[str, tuple[set[str], _Brought]]:
        """Points and the vertices of kerbs with the names that they wait for."""
        waiting: dict[str, tuple[set[str], _Brought]] = {}
        for number, point in enumerate(self.half.points):
            self._declare(point.name)
            waiting[f"{number} {point.name}"] = (point.parents(), [(point.name, point)])
        for placement in self.half.kerbs:
            if placement.profile not in self.parts.kerbs:
                self.fault(f"kerb {placement.name} has no profile “{placement.profile}”", "choose a kerb profile", placement.name)
                continue
            if placement.name in self.profiles:
                self.fault(f"two kerbs are called {placement.name}", "give every kerb a name of its own", placement.name)
                continue
            profile = self.profiles[placement.name] = self.parts.kerbs[placement.profile]
            back = profile.top[-1]
            brought: _Brought = []
            for vertex in profile.top[-2::-1] if placement.turned else profile.top[1:]:
                self._declare(f"{placement.name}.{vertex.name}")
                out, up = vertex.out, vertex.up
                if placement.turned:
                    out, up = back.out - out, up - back.up
                brought.append((f"{placement.name}.{vertex.name}", (placement.at, out, up)))
            waiting[f"kerb {placement.name}"] = ({placement.at}, brought)
        return waiting

    def _values(self) -> None:
        for owner, value, unit in self._named_values():
            try:
                check_value(value, unit, self.dimensions, owner, self.where)
            except TemplateError as error:
                self.fault(error.message, error.hint, owner)

    def _named_values(self) -> Iterable[tuple[str, Value, Unit]]:
        for p in self.half.points:
            match p.offset:
                case Width(width=width) | Follow(width=width) | Inward(width=width):
                    yield p.name, width, "m"
                case PartWay(pct=share):
                    yield p.name, share, "%"
                case Square(along=along, out=out):
                    yield p.name, along, "m"
                    yield p.name, out, "m"
            match p.level:
                case Fall(crossfall_pct=pct) if pct is not None:
                    yield p.name, pct, "%"
                case Rise(rise=rise) | GuideLevel(rise=rise):
                    yield p.name, rise, "m"
                case OnSurface(plus=plus) | OnLine(plus=plus):
                    yield p.name, plus, "m"
        for strip in self.half.strips:
            for key in (strip.new, strip.over_existing):
                for course in self.parts.make_ups[key].courses if key in self.parts.make_ups else []:
                    for value in thickness_values(course):
                        yield f"{course.name} of strip {strip.name}", value, "mm"
        for floor in self.half.floors:
            for zone in floor.zones:
                yield f"floor {floor.name}", zone.depth_mm, "mm"
                if zone.lie.kind == "fall":
                    yield f"floor {floor.name}", zone.lie.crossfall_pct, "%"

    def _sort(self, waiting: dict[str, tuple[set[str], _Brought]]) -> None:
        """Parents before children; what is left when nothing is ready is a circle."""
        while waiting:
            solved = set(self.names)
            ready = [key for key, (parents, _) in waiting.items() if parents <= solved]
            if not ready:
                circle = _circle(waiting)
                self.fault(
                    f"the ties of {', '.join(circle)} form a circle", "tie one of them to a point nearer the hinge", *circle
                )
                return
            for key in ready:
                for name, item in waiting.pop(key)[1]:
                    self.points.append(item if isinstance(item, Point) else KerbPoint(self.names.index(item[0]), *item[1:]))
                    self.names.append(name)

    def _chain(self) -> list[Span]:
        """Strips and kerbs put end to end from the hinge outward."""
        starts: dict[str, list[Strip | KerbPlacement]] = {}
        for strip in self.half.strips:
            for end in (strip.from_point, strip.to_point):
                if end not in self.names:
                    self.fault(f"strip {strip.name} ends at {end}, which does not exist", "choose one of its points", strip.name)
            starts.setdefault(strip.from_point, []).append(strip)
        for kerb in self.half.kerbs:
            starts.setdefault(kerb.at, []).append(kerb)
        for point, items in starts.items():
            if len(items) > 1:
                both = [item.name for item in items]
                self.fault(f"{' and '.join(both)} both start at {point}", "let one start where the other ends", *both)
        spans: list[Span] = []
        here = HINGE
        while here in starts:
            item = starts.pop(here)[0]
            if isinstance(item, KerbPlacement):
                profile = self.profiles[item.name]
                inner = profile.top[-2::-1] if item.turned else profile.top[1:]
                columns = [self.names.index(here), *(self.names.index(f"{item.name}.{v.name}") for v in inner)]
                spans.append(KerbSpan(item, profile, tuple(columns)))
                here = self.names[columns[-1]]
                continue
            if item.to_point not in self.names:
                break
            made = []
            for key in (item.new, item.over_existing):
                if key is not None and key not in self.parts.make_ups:
                    self.fault(f"strip {item.name} has no make-up “{key}”", "choose a make-up for it", item.name)
                made.append(self.parts.make_ups.get(key) if key else None)
            if made[0] is not None:
                first, last = self.names.index(here), self.names.index(item.to_point)
                spans.append(StripSpan(item, first, last, made[0], made[1]))
            here = item.to_point
        if starts and not self.faults:
            lost = [item.name for items in starts.values() for item in items]
            self.fault(
                f"{', '.join(lost)} cannot be reached from the hinge",
                "strips and kerbs must follow one another outward from the hinge",
                *lost,
            )
        if not spans and not self.faults:
            self.fault("nothing starts at the hinge", "let the first strip start at the hinge")
        return spans

    def _ends(self, spans: list[Span]) -> None:
        """End rules that cannot be kept where the strip stands."""
        for span in (s for s in spans if isinstance(s, StripSpan)):
            for course in span.new.courses:
                if course.inner.kind == "to_slope":
                    who = f"{course.name} of strip {span.strip.name}"
                    self.fault(f"{who} runs to the side slope at its inner end", "only outer ends can", span.strip.name)

    def _floors(self, spans: list[Span]) -> None:
        strips = {s.strip.name: s for s in spans if isinstance(s, StripSpan)}
        names = [f.name for f in self.half.floors]
        for floor in self.half.floors:
            if names.count(floor.name) > 1:
                self.fault(f"two floors are called {floor.name}", "give every floor a name of its own", floor.name)
            marks: list[Mark | None] = [floor.start, *(zone.to for zone in floor.zones)]
            for mark in marks:
                if mark is not None and mark.point not in self.names:
                    self.fault(
                        f"floor {floor.name} is measured from {mark.point}, which does not exist",
                        "choose one of the points",
                        floor.name,
                    )
            for zone in floor.zones:
                under = zone.under
                if under is None:
                    continue
                if under.strip not in strips:
                    self.fault(
                        f"floor {floor.name} lies under strip {under.strip}, which does not exist",
                        "choose one of the strips",
                        floor.name,
                    )
                elif under.course > len(strips[under.strip].new.courses):
                    self.fault(
                        f"floor {floor.name} lies under course {under.course} of strip {under.strip}, which has fewer",
                        "choose one of its courses",
                        floor.name,
                    )


def _circle(waiting: dict[str, tuple[set[str], _Brought]]) -> list[str]:
    """Names of the points that wait for one another, without those that only hang on them."""
    brings = {key: {name for name, _ in brought} for key, (_, brought) in waiting.items()}
    left = dict(waiting)
    while True:
        needed: set[str] = set()
        for parents, _ in left.values():
            needed |= parents
        loose = [key for key in left if not brings[key] & needed]
        if not loose:
            return [left[key][1][0][0] for key in left]
        for key in loose:
            del left[key]


def surface_columns(half: CompiledHalf) -> list[int]:
    """Columns of the points on the finished surface, from the hinge outward."""
    columns = [0]
    for span in half.spans:
        columns += list(span.columns[1:]) if isinstance(span, KerbSpan) else [span.end]
    return columns


def reach_column(half: CompiledHalf) -> int:
    """Column of the point up to which strips of the road have a make-up over the existing pavement; the hinge's where none
    has."""
    column = 0
    for span in half.spans:
        if isinstance(span, KerbSpan) or span.over_existing is None or span.strip.kind == "side_road":
            break
        column = span.end
    return column


def edge_column(half: CompiledHalf) -> int | None:
    """Column of the point that moves out to the old pavement's edge; None where nothing is overlaid, or where the old pavement
    runs on into a side road."""
    column = reach_column(half) if half.edge is None else min(reach_column(half), half.edge, key=surface_columns(half).index)
    beyond = next((span for span in half.spans if span.start == column), None)
    runs_on = isinstance(beyond, StripSpan) and beyond.strip.kind == "side_road"
    return None if column == 0 or runs_on else column
