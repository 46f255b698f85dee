"""The road along a section line as plain data: the same figures as of a section, by distance along the line."""

from collections.abc import Mapping, Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle import tolerances
from saddle.alignment.equations import shown
from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.guides.evaluate import Sources, sound_guides
from saddle.lines.crossed import Met, marks_on, structures_met
from saddle.lines.cut import CutHalf, Track, cut_design, cut_surface, runs_of
from saddle.lines.milled import cut_milled
from saddle.lines.place import CutLine, Ground
from saddle.lines.spec import LineGroup
from saddle.road.model import RoadModel
from saddle.road.unknown import why_missing
from saddle.template.polygons import Vertex
from saddle.template.ties import OnSheets
from saddle.template.view import PointView, known
from saddle.terrain.tin import Tin
from saddle.views.cut_halves import hinge_of, layers_of, side_of, together
from saddle.views.remarks import remarks_on
from saddle.views.roads import OtherRoad, roads_met
from saddle.views.section import RemarkView, SectionView, StructureView, runs

#: Levels listed of one line.
MOST_ROWS = 2_000


class MarkView(BaseModel):
    """What crosses the line: a survey line of a code or a guide. offset: distance along the line, m."""

    kind: Literal["line", "guide"]
    name: str
    offset: float
    level: float | None


class LineLevel(BaseModel):
    """Levels at a place of the line. distance: m along the line; chainage, offset: where that is on the road, null beyond its ends;
    at: whether the existing surface bends there, or it was asked for."""

    distance: float
    chainage: float | None
    offset: float | None
    at: Literal["bend", "asked"]
    existing: float | None
    design: float | None


class LineView(SectionView):
    """The road along a line. Offsets are distances along it from the place where it meets the alignment, or from its beginning.

    group, part: which line of which group, part counting all that come out of it; number: of the group's line that it comes from;
    angle_deg: null for a bent path; crosses: whether it meets the alignment, else chainage is where it is nearest; start, end:
    distances of its ends; others: other surfaces by name, in runs; designs: the finished surface in runs, apart where it is not known;
    unknown: from and to of where something is built and not known; milling_unknown: of where something is milled within a limit that
    is not known.
    """

    group: str
    part: int
    number: int
    kind: str
    name: str
    remark: str
    angle_deg: float | None
    crosses: bool
    start: float
    end: float
    path: list[Vertex]
    marks: list[MarkView]
    rows: list[LineLevel]
    others: dict[str, list[list[Vertex]]]
    designs: list[list[Vertex]]
    unknown: list[tuple[float, float]]
    milling_unknown: list[tuple[float, float]]


def line_view(
    model: RoadModel, group: LineGroup, key: str, part: int, line: CutLine, surfaces: Mapping[str, Tin],
    roads: Sequence[OtherRoad] = (),
) -> LineView:  # fmt: skip
    """The road along one line of a group. surfaces: others to be shown, by name; roads: the project's other roads."""
    track = Track(line, model)
    ground = ground_of(model)
    o, z = cut_surface(model.inputs.surface, line)
    halves, unknown = cut_design(model, line)
    along = line.along
    designs = together(sorted((run for h in halves for run in runs_of(h.s, h.surface)), key=lambda run: run[0]))
    chainage = _nearest_chainage(track, along)
    row = int(np.clip(np.searchsorted(model.chainage, chainage + 1e-9, side="right") - 1, 0, len(model.chainage) - 1))
    found = model.group_of(row)
    existing = Polylines(o[None], z[None])
    milled_s, milled_z, unmilled = cut_milled(track, existing)
    points = [p for h in halves for p in _points(h, existing, _on_sheets(model, h.side))]
    hinge = hinge_of(halves)
    if hinge is not None:
        points.append(PointView(name="hinge", side="hinge", offset=hinge[0], level=hinge[1], existing=_level(existing, hinge[0])))
    points.sort(key=lambda p: p.offset)
    bounded = any(guide.use == "boundary" for guide in ground.sources.guides.values())
    marks = marks_on(track, ground.sources, group.marked_codes, guides=group.marked_guides or bounded)
    return LineView(
        index=-1, chainage=chainage, shown=float(shown(np.array([chainage]), model.inputs.alignment.equations)[0]), side="plain",
        curvature=0.0, treatment=getattr(model.work_at(row), "kind", None), template=found[0].name if found and halves else None,
        missing=None if halves or not np.isfinite(line.chainage) else why_missing(model, row),
        existing=runs(o, z), milled=runs(milled_s, milled_z), design=[v for run in designs for v in run], layers=[v for h in halves for v in layers_of(h)], points=points,
        slopes=[], floors=[], dimensions={}, hinge=hinge, left_edge=None, right_edge=None, left_pct=None, right_pct=None,
        least_cover=None, depth=None, bands=[], structures=[structure_view(m) for m in structures_met(model.inputs.structures, line)],
        remarks=[RemarkView(text=r.text, offset=None) for r in remarks_on(model, row)] if np.isfinite(line.chainage) else [],
        boundaries=[m.at for m in marks if m.boundary],
        cut=None, fill=None, milled_area=None, group=key, part=part, number=line.number, kind=line.kind, name=line.name, remark=line.remark,
        angle_deg=known(line.angle_deg), crosses=bool(np.isfinite(line.chainage)), start=float(along[0]), end=float(along[-1]),
        path=[(float(x), float(y)) for x, y in line.path],
        marks=[
            MarkView(kind=m.kind, name=m.name, offset=m.at, level=known(m.level))
            for m in marks
            if m.kind == "line" or group.marked_guides
        ],
        designs=designs, unknown=unknown, milling_unknown=unmilled,
        rows=_rows(track, group, existing, halves),
        roads=roads_met(line, roads),
        others={name: runs(*cut_surface(tin, line)) for name, tin in surfaces.items()},
    )  # fmt: skip


def ground_of(model: RoadModel) -> Ground:
    """What lines are placed on."""
    inputs = model.inputs
    sound, _ = sound_guides(inputs.guides)
    return Ground(Sources(model.alignment, inputs.lines, sound, inputs.roads), inputs.structures, inputs.surface)


def structure_view(met: Met) -> StructureView:
    """A structure as it is shown."""
    return StructureView(
        kind=met.kind, name=met.name, offset=met.at, top=known(met.top), bottom=known(met.bottom), across=met.across,
        outline=list(met.outline),
    )  # fmt: skip


def _nearest_chainage(track: Track, along: Floats) -> float:
    """Where the line meets the road, else where it comes nearest to it, else the road's start."""
    if np.isfinite(track.line.chainage):
        return float(track.line.chainage)
    c, o = track.at(np.linspace(along[0], along[-1], 200))
    good = np.isfinite(c)
    return float(c[good][np.abs(o[good]).argmin()]) if good.any() else float(track.model.alignment.start)


def _points(half: CutHalf, existing: Polylines, said: Mapping[str, OnSheets]) -> list[PointView]:
    return [
        PointView(
            name=name, side=side_of(half), kind="point", offset=s, level=z, existing=_level(existing, s), on_sheets=said[name]
        )
        for name, s, z in half.points
        if name != "hinge"
    ]


def _on_sheets(model: RoadModel, side: int) -> dict[str, OnSheets]:
    """What the templates of the road say of their points on a side, by name."""
    halves = [(g.left if side < 0 else g.right).half for g in model.groups]
    return {name: half.on_sheets(name) for half in halves for name in half.names[1:]}


def _level(lines: Polylines, at: float) -> float | None:
    return known(interpolate(lines, np.array([[at]]))[0, 0])


def _rows(track: Track, group: LineGroup, existing: Polylines, halves: list[CutHalf]) -> list[LineLevel]:
    """Where the existing surface bends, and at what was asked for."""
    start, end = float(track.line.along[0]), float(track.line.along[-1])
    every = list(group.levels_at)
    if group.levels_every is not None and (end - start) / group.levels_every <= MOST_ROWS:
        step = group.levels_every
        every += [float(k * step) for k in range(int(np.floor(start / step)), int(np.ceil(end / step)) + 1)]
    # What is asked for at the very end of the line is meant to be on it.
    near = tolerances.CHAINAGE_MERGE
    asked = [min(max(v, start), end) for v in every if start - near <= v <= end + near]
    o, z = existing.row(0)
    bends = o[np.isfinite(z)][:MOST_ROWS]
    places = np.unique(np.concatenate([bends, np.array(asked, dtype=float)]))
    chainage, offset = track.at(places)
    ground = interpolate(existing, places[None])[0]
    design = np.full(len(places), np.nan)
    for half in halves:
        left, right = half.s[0::2], half.s[1::2]
        j = np.clip(np.searchsorted(left, places, side="right") - 1, 0, len(left) - 1)
        inside = (places >= left[j]) & (places <= right[j])
        t = (places - left[j]) / (right[j] - left[j])
        level = half.surface[0::2][j] + t * (half.surface[1::2][j] - half.surface[0::2][j])
        design = np.where(inside & np.isnan(design), level, design)
    wanted = set(asked)
    return [
        LineLevel(
            distance=float(s), chainage=known(c), offset=known(a), at="asked" if float(s) in wanted else "bend",
            existing=known(e), design=known(d),
        )
        for s, c, a, e, d in zip(places, chainage, offset, ground, design, strict=True)
    ]  # fmt: skip
