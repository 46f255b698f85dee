"""The road cut along a line. The old surface is cut exactly. The design is what its own sections span between them, see
`saddle.lines.span`."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats
from saddle.lines.place import CutLine
from saddle.lines.span import Span, span_at
from saddle.road.model import RoadModel, TemplateSections
from saddle.template.layers import Construction, Layer
from saddle.terrain.cut import cut_sections
from saddle.terrain.tin import Tin

#: On curves lines are followed in steps of no more than this, m.
STEP = 0.5
#: A section closer than this to the end of a step is met there, m.
HAIR = 1e-6
#: Rounds in which a crossing is found; straight roads need one.
ROUNDS = 6


@dataclass(frozen=True, slots=True, eq=False)
class Track:
    """A line's way along the road: distance from its zero (m,), chainage and offset there, NaN beyond the ends of the road."""

    line: CutLine
    model: RoadModel

    def at(self, s: Floats) -> tuple[Floats, Floats]:
        """Chainage and offset at distances (m,)."""
        along = self.line.along
        points = np.column_stack([np.interp(s, along, self.line.path[:, d]) for d in range(2)])
        return self.model.alignment.locate(points)


@dataclass(frozen=True, slots=True, eq=False)
class CutHalf:
    """What is designed on one side of the hinge along a line: cells one after another, their ends by turns. s: (2 w,) distances;
    surface: (2 w,) levels of the finished surface; layers: courses, offsets being distances, (1, 2 w); points: name, distance and level
    of every point of the template that runs across the line."""

    side: int
    s: Floats
    surface: Floats
    layers: tuple[Layer, ...]
    points: tuple[tuple[str, float, float], ...]


def cut_surface(tin: Tin, line: CutLine) -> tuple[Floats, Floats]:
    """A surface along a line: distances and levels, with a NaN level in each gap."""
    along = line.along
    length = np.diff(along)
    ahead = np.diff(line.path, axis=0) / length[:, None]
    legs = cut_sections(tin, line.path[:-1], ahead, np.zeros(len(length)), length)
    s: list[Floats] = []
    z: list[Floats] = []
    for i, start in enumerate(along[:-1]):
        o, level = legs.row(i)
        if not len(o):
            continue
        if s and start + o[0] - s[-1][-1] > 1e-6:  # nothing is known around this corner
            s.append(np.array([(s[-1][-1] + start + o[0]) / 2]))
            z.append(np.array([np.nan]))
        s.append(start + o)
        z.append(level)
    return (np.concatenate(s), np.concatenate(z)) if s else (np.empty(0), np.empty(0))


def cut_design(model: RoadModel, line: CutLine) -> tuple[list[CutHalf], list[tuple[float, float]]]:
    """What is designed along a line, on either side of the hinge; and where it runs between sections that are worked on but hold
    nothing between them, because they have no template in common or one of them could not be solved: from and to, m."""
    track = Track(line, model)
    found: dict[tuple[int, int], list[_Cells]] = {}
    points: dict[tuple[int, int], list[tuple[str, float, float]]] = {}
    worked = model.worked_on()
    unknown: list[tuple[float, float]] = []
    for row, low, high in stretches_of(track):
        c, _ = track.at(np.concatenate([low, high]))
        on_it = bool((np.abs(c - model.chainage[row]) <= tolerances.CHAINAGE_MERGE).all())
        spanned = span_at(model, row, on_it=on_it)
        if spanned is None:
            unknown += [(float(a), float(b)) for a, b in zip(low, high, strict=True)] if worked[row] else []
            continue
        group, k, after = spanned
        length = float(model.chainage[row + (after - k)] - model.chainage[row]) or 1.0
        for half, side in ((group.left, -1), (group.right, 1)):
            span = Span.between(half, k, after, float(model.chainage[row]), length)
            if span is None:
                unknown += _on_side(track, side, low, high)
                continue
            cells = _cells(track, span, low, high)
            if cells is not None:
                at = (model.groups.index(group), side)
                found.setdefault(at, []).append(cells)
                points.setdefault(at, []).extend(_points(track, span, low, high))
    halves = [_joined(model.groups[g], side, parts, points[g, side]) for (g, side), parts in found.items()]
    return halves, merged(unknown)


def _on_side(track: Track, side: int, low: Floats, high: Floats) -> list[tuple[float, float]]:
    """Those pieces of a line (p,) that lie on a side of the alignment."""
    _, o = track.at((low + high) / 2)
    return [(float(a), float(b)) for a, b, here in zip(low, high, side * o > 0, strict=True) if here]


def merged(pieces: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Pieces that follow each other as one."""
    out: list[tuple[float, float]] = []
    for a, b in sorted(pieces):
        if out and a - out[-1][1] <= tolerances.CHAINAGE_MERGE:
            out[-1] = (out[-1][0], max(b, out[-1][1]))
        else:
            out.append((a, b))
    return out


#: Of a line between two neighbouring sections: row of the first one, and the ends of its pieces there, (p,) each.
Stretch = tuple[int, Floats, Floats]


def stretches_of(track: Track) -> list[Stretch]:
    """The line by the sections between which it runs; on curves in steps that are short enough to be straight."""
    along = track.line.along
    model = track.model
    tries = np.linspace(along[0], along[-1], 2 + int((along[-1] - along[0]) / STEP))
    c, _ = track.at(tries)
    known = c[np.isfinite(c)]
    a = model.alignment
    bends = bool(known.size) and bool(
        np.any(
            (a.chainage <= known.max()) & (a.chainage + a.length >= known.min()) & ((a.curvature != 0) | (a.curvature_end != 0))
        )
    )
    fine = np.unique(np.concatenate([along, tries if bends else along, tries[[0, -1]]]))
    c, _ = track.at(fine)
    sections = np.unique(model.chainage)
    low, high = np.fmin(c[:-1], c[1:]) + HAIR, np.fmax(c[:-1], c[1:]) - HAIR
    step, number = np.nonzero((sections > low[:, None]) & (sections < high[:, None]))
    cuts = [fine]
    if len(step):
        cuts.append(root(track, fine[step], fine[step + 1], _ahead_of(sections[number])))
    s = np.unique(np.concatenate(cuts))
    s = s[np.r_[True, np.diff(s) > tolerances.COINCIDENT]]
    middle, _ = track.at((s[:-1] + s[1:]) / 2)
    # A square line stands on one section: the last one at its chainage, which is what begins there.
    rows = np.searchsorted(model.chainage, middle + tolerances.CHAINAGE_MERGE, side="right") - 1
    out = []
    for row in np.unique(rows[np.isfinite(middle)]).tolist():
        here = np.flatnonzero((rows == row) & np.isfinite(middle))
        out.append((max(int(row), 0), s[here], s[here + 1]))
    return out


def _ahead_of(met: Floats) -> Callable[[Floats, Floats], Floats]:
    """How far ahead of some chainages."""
    return lambda chainage, _: chainage - met


def root(track: Track, low: Floats, high: Floats, value: Callable[[Floats, Floats], Floats]) -> Floats:
    """Where functions of chainage and offset that change sign between distances (m,) are zero: by false position."""
    f_low, f_high = value(*track.at(low)), value(*track.at(high))
    for _ in range(ROUNDS):
        with np.errstate(invalid="ignore", divide="ignore"):
            t = f_low / (f_low - f_high)
        s = low + np.where(np.isfinite(t), np.clip(t, 0, 1), 0.5) * (high - low)
        f = value(*track.at(s))
        done = np.abs(f) < 1e-13
        left = (np.sign(f) == np.sign(f_low)) & ~done
        low, f_low = np.where(left | done, s, low), np.where(left | done, f, f_low)
        high, f_high = np.where(~left | done, s, high), np.where(~left | done, f, f_high)
        if done.all():
            break
    return np.where(np.abs(f_low) < np.abs(f_high), low, high)


@dataclass(frozen=True, slots=True, eq=False)
class _Cells:
    """Cells of one half on a stretch. s: (2, m) their ends; surface: (2, m); layers: per layer top and bottom (2, m), NaN where it
    has no column."""

    s: Floats
    surface: Floats
    layers: list[tuple[Floats, Floats]]


def _cells(track: Track, span: Span, low: Floats, high: Floats) -> _Cells | None:
    """Pieces of a line (p,) cut where they cross what runs from section to section, and the levels at both ends of each part."""

    def off(s: Floats) -> Floats:
        c, o = track.at(s)
        return span.half.side * o[:, None] - span.mix(span.offsets, c)

    f_low, f_high = off(low), off(high)
    piece, edge = np.nonzero(f_low * f_high < 0)
    cuts = [low, high]
    if len(piece):

        def beyond(c: Floats, o: Floats) -> Floats:
            return span.half.side * o - span.mix(span.offsets, c)[np.arange(len(edge)), edge]

        cuts.append(root(track, low[piece], high[piece], beyond))
    s = np.unique(np.concatenate(cuts))
    s = s[np.r_[True, np.diff(s) > tolerances.COINCIDENT]]
    middle = (s[:-1] + s[1:]) / 2
    within = ((middle[:, None] > low) & (middle[:, None] < high)).any(axis=1)
    s_ends, middle = np.stack([s[:-1][within], s[1:][within]]), middle[within]
    c, o = track.at(middle)
    u, edges = span.half.side * o, span.mix(span.offsets, c)
    column = (edges[:, 0::2] <= u[:, None]).sum(axis=1) - 1
    inside = (column >= 0) & (u < edges[:, -1])
    if not inside.any():
        return None
    column, s_ends = column[inside], s_ends[:, inside]
    row = np.arange(len(column))
    ends = [track.at(e) for e in s_ends]
    shares = []
    for c, o in ends:
        edges = span.mix(span.offsets, c)
        left, width = edges[row, 2 * column], edges[row, 2 * column + 1] - edges[row, 2 * column]
        with np.errstate(invalid="ignore", divide="ignore"):
            shares.append(np.clip(np.where(width > 0, (span.half.side * o - left) / width, 0.0), 0.0, 1.0))

    def levels(values: Floats) -> Floats:
        out = np.empty((2, len(column)))
        for e, ((c, _), share) in enumerate(zip(ends, shares, strict=True)):
            z = span.mix(values, c)
            left, right = z[row, 2 * column], z[row, 2 * column + 1]
            out[e] = left + share * (right - left)
        return out

    return _Cells(s_ends, levels(span.surface), [(levels(top), levels(bottom)) for top, bottom in span.layers])


def _points(track: Track, span: Span, low: Floats, high: Floats) -> list[tuple[str, float, float]]:
    """Points of the template where they run across pieces of a line (p,): name, distance, level."""

    def off(c: Floats, o: Floats) -> Floats:
        return span.half.side * o[:, None] - span.mix(span.points_u, c)

    f_low, f_high = off(*track.at(low)), off(*track.at(high))
    piece, k = np.nonzero(((f_low < 0) & (f_high >= 0)) | ((f_low >= 0) & (f_high < 0)))
    if not len(piece):
        return []
    s = root(track, low[piece], high[piece], lambda c, o: off(c, o)[np.arange(len(k)), k])
    z = span.mix(span.points_z, track.at(s)[0])[np.arange(len(k)), k]
    return [(span.half.half.names[i], float(a), float(b)) for i, a, b in zip(k.tolist(), s, z, strict=True)]


def _joined(group: TemplateSections, side: int, parts: list[_Cells], points: list[tuple[str, float, float]]) -> CutHalf:
    """The cells of all stretches in the order of the line."""
    half = group.left if side < 0 else group.right
    s = np.concatenate([p.s for p in parts], axis=1)
    order = np.argsort(s[0], kind="stable")

    def by_turns(values: list[Floats]) -> Floats:
        return np.concatenate(values, axis=1)[:, order].T.ravel()

    places = by_turns([p.s for p in parts])
    layers = []
    for j, layer in enumerate(half.layers.layers):
        top, bottom = by_turns([p.layers[j][0] for p in parts]), by_turns([p.layers[j][1] for p in parts])
        construction: Construction = layer.construction
        layers.append(Layer(layer.name, layer.material, layer.element, construction, places[None], top[None], bottom[None]))
    return CutHalf(side, places, by_turns([p.surface for p in parts]), tuple(layers), tuple(points))


def runs_of(s: Floats, z: Floats) -> list[list[tuple[float, float]]]:
    """Cells by turns (2 w,) as runs of places and levels, apart where something is not known or lies between; without the places at
    which they do not bend."""
    runs: list[list[tuple[float, float]]] = []
    for i in range(0, len(s) - 1, 2):
        if np.isnan(z[i]) or np.isnan(z[i + 1]):
            continue
        if not runs or s[i] - runs[-1][-1][0] > tolerances.COINCIDENT:
            runs.append([(float(s[i]), float(z[i]))])
        elif abs(runs[-1][-1][1] - z[i]) > tolerances.COINCIDENT:
            runs[-1].append((float(s[i]), float(z[i])))
        runs[-1].append((float(s[i + 1]), float(z[i + 1])))
    return [_bends(run) for run in runs]


def _bends(run: list[tuple[float, float]]) -> list[tuple[float, float]]:
    keep = run[:1]
    for before, here, after in zip(run, run[1:], run[2:], strict=False):
        (s0, z0), (s1, z1), (s2, z2) = before, here, after
        if abs((s1 - s0) * (z2 - z1) - (s2 - s1) * (z1 - z0)) > tolerances.COINCIDENT * max(s2 - s0, tolerances.COINCIDENT):
            keep.append(here)
    return [*keep, run[-1]]
