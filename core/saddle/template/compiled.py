"""A template compiled once: ties sorted so that parents come first, and the chain of spans from the hinge outward."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from saddle.errors import TemplateError
from saddle.geometry.polylines import Floats
from saddle.template.spec import (
    HINGE,
    Fall,
    Half,
    KerbPlacement,
    KerbProfile,
    KerbVertex,
    MakeUp,
    Point,
    Rung,
    Strip,
    TemplateSpec,
)


@dataclass(frozen=True, slots=True)
class Parts:
    """What templates refer to by key."""

    make_ups: dict[str, MakeUp]
    kerbs: dict[str, KerbProfile]


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
    """A kerb with its profile found. columns: of its vertices, lip first."""

    placement: KerbPlacement
    profile: KerbProfile
    columns: tuple[int, ...]

    @property
    def end(self) -> int:
        return self.columns[-1]


Span = StripSpan | KerbSpan


@dataclass(frozen=True, slots=True)
class CompiledHalf:
    """Points in solving order (the hinge is column 0), spans from the hinge outward, rungs in order."""

    names: tuple[str, ...]
    points: tuple[Point | tuple[int, KerbVertex] | None, ...]
    spans: tuple[Span, ...]
    rungs: tuple[Rung, ...]

    @property
    def outer(self) -> int:
        """Column of the outermost point, where the side slope starts."""
        return self.spans[-1].end


@dataclass(frozen=True, slots=True)
class CompiledTemplate:
    """Both halves. A mirrored template has the same half twice."""

    name: str
    left: CompiledHalf
    right: CompiledHalf


def compile_template(spec: TemplateSpec, parts: Parts) -> CompiledTemplate:
    """Raises TemplateError for circles of ties, unknown parents, points or keys, doubled names, broken chains."""
    right = _compile_half(spec, spec.right, parts, "right half" if spec.left else "half")
    left = right if spec.left is None else _compile_half(spec, spec.left, parts, "left half")
    return CompiledTemplate(spec.name, left, right)


def _compile_half(spec: TemplateSpec, half: Half, parts: Parts, where: str) -> CompiledHalf:
    subject = f"template “{spec.name}”, {where}"
    names: list[str] = [HINGE]
    points: list[Point | tuple[int, KerbVertex] | None] = [None]
    waiting: dict[str, tuple[set[str], list[tuple[str, Point | tuple[str, KerbVertex]]]]] = {}
    known = {HINGE}

    def declare(name: str) -> None:
        if name in known:
            raise TemplateError(f"two points are called {name}", subject, "give every point a name of its own")
        known.add(name)

    for point in half.points:
        declare(point.name)
        waiting[point.name] = ({point.offset.parent, point.level.parent}, [(point.name, point)])
    profiles: dict[str, KerbProfile] = {}
    for placement in half.kerbs:
        if placement.profile not in parts.kerbs:
            raise TemplateError(f"kerb {placement.name} has no profile “{placement.profile}”", subject, "choose a kerb profile")
        profile = profiles[placement.name] = parts.kerbs[placement.profile]
        brought: list[tuple[str, Point | tuple[str, KerbVertex]]] = []
        for vertex in profile.top[1:]:
            declare(f"{placement.name}.{vertex.name}")
            brought.append((f"{placement.name}.{vertex.name}", (placement.at, vertex)))
        waiting[f"kerb {placement.name}"] = ({placement.at}, brought)
    for parents, brought in waiting.values():
        for parent in sorted(parents - known):
            raise TemplateError(
                f"{brought[0][0]} is tied to {parent}, which does not exist",
                subject,
                f"add a point {parent} or choose another parent",
            )
    while waiting:
        ready = [key for key, (parents, _) in waiting.items() if parents <= set(names)]
        if not ready:
            circle = ", ".join(brought[0][0] for _, brought in waiting.values())
            raise TemplateError(f"the ties of {circle} form a circle", subject, "tie one of them to a point nearer the hinge")
        for key in ready:
            for name, item in waiting.pop(key)[1]:
                points.append(item if isinstance(item, Point) else (names.index(item[0]), item[1]))
                names.append(name)
    spans = _chain(half, parts, profiles, names, subject)
    return CompiledHalf(tuple(names), tuple(points), tuple(spans), tuple(half.ladder))


def _chain(half: Half, parts: Parts, profiles: dict[str, KerbProfile], names: list[str], subject: str) -> list[Span]:
    """Strips and kerbs put end to end from the hinge outward."""
    starts: dict[str, list[Strip | KerbPlacement]] = {}
    for strip in half.strips:
        for end in (strip.from_point, strip.to_point):
            if end not in names:
                raise TemplateError(
                    f"strip {strip.name} ends at {end}, which does not exist", subject, "choose one of its points"
                )
        starts.setdefault(strip.from_point, []).append(strip)
    for kerb in half.kerbs:
        starts.setdefault(kerb.at, []).append(kerb)
    for point, items in starts.items():
        if len(items) > 1:
            both = " and ".join(item.name for item in items)
            raise TemplateError(f"{both} both start at {point}", subject, "let one start where the other ends")
    spans: list[Span] = []
    here = HINGE
    while here in starts:
        item = starts.pop(here)[0]
        if isinstance(item, KerbPlacement):
            profile = profiles[item.name]
            columns = [names.index(here), *(names.index(f"{item.name}.{v.name}") for v in profile.top[1:])]
            spans.append(KerbSpan(item, profile, tuple(columns)))
            here = names[columns[-1]]
            continue
        for key in (item.new, item.over_existing):
            if key is not None and key not in parts.make_ups:
                raise TemplateError(f"strip {item.name} has no make-up “{key}”", subject, "choose a make-up for it")
        over = parts.make_ups[item.over_existing] if item.over_existing else None
        spans.append(StripSpan(item, names.index(here), names.index(item.to_point), parts.make_ups[item.new], over))
        here = item.to_point
    if starts:
        lost = ", ".join(item.name for items in starts.values() for item in items)
        raise TemplateError(
            f"{lost} cannot be reached from the hinge", subject, "strips and kerbs must follow one another outward from the hinge"
        )
    if not spans:
        raise TemplateError("nothing starts at the hinge", subject, "let the first strip start at the hinge")
    return spans


#: Outward offset and rise from the hinge that a point gets instead of its own ties, (n,), NaN where they hold.
Instead = Mapping[str, tuple[Floats, Floats]]


def solve_points(half: CompiledHalf, crossfall_pct: Floats, instead: Instead = MappingProxyType({})) -> tuple[Floats, Floats]:
    """Points of a half on all sections at once, relative to the hinge.

    crossfall_pct: (n,) of this side, negative falls outward; instead: points that follow something. Returns outward
    offsets and rises, both (n, k), in the order of `half.names`. level = parent level + pct/100 * |offset - parent
    offset|. What is tied to a followed point moves with it.
    """
    n, k = len(crossfall_pct), len(half.names)
    u, z = np.zeros((n, k)), np.zeros((n, k))
    column = {name: i for i, name in enumerate(half.names)}
    for i, item in enumerate(half.points):
        if item is None:
            continue
        if not isinstance(item, Point):
            lip, vertex = item
            u[:, i] = u[:, lip] + vertex.out_mm / 1000
            z[:, i] = z[:, lip] + vertex.up_mm / 1000
            continue
        p = column[item.offset.parent]
        u[:, i] = u[:, p] + item.offset.width if item.offset.kind == "width" else u[:, p]
        if item.name in instead:
            out, _ = instead[item.name]
            u[:, i] = np.where(np.isnan(out), u[:, i], out)
        p = column[item.level.parent]
        if isinstance(item.level, Fall):
            own = item.level.crossfall_pct
            pct = crossfall_pct if own is None else np.full(n, own)
            z[:, i] = z[:, p] + pct / 100 * np.abs(u[:, i] - u[:, p])
        else:
            z[:, i] = z[:, p] + item.level.rise
        if item.name in instead:
            _, rise = instead[item.name]
            z[:, i] = np.where(np.isnan(rise), z[:, i], rise)
    return u, z


def surface_columns(half: CompiledHalf) -> list[int]:
    """Columns of the points on the finished surface, from the hinge outward."""
    columns = [0]
    for span in half.spans:
        columns += list(span.columns[1:]) if isinstance(span, KerbSpan) else [span.end]
    return columns
