"""What a section line crosses: pipes at their true shape, pits, survey lines and guides."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats, Ints
from saddle.guides.evaluate import GuideLine, Sources, guide_line
from saddle.guides.spec import GuideSpec
from saddle.lines.cut import Track, root
from saddle.lines.place import CutLine
from saddle.terrain.spec import Pipe, Pit, Structures
from saddle.terrain.structures import PIT_REACH
from saddle.terrain.survey_lines import SurveyLines

#: Corners of a drawn ellipse.
CORNERS = 48
#: A line runs along a pipe where they turn less than this from each other, and lie no further apart.
ALONG_DEG, BESIDE = 3.0, 0.5
Vertex = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Met:
    """A structure on a line. at: distance, m; top, bottom: levels of a pipe's soffit and invert, of a pit's cover and invert, NaN
    where that is not known; across: its width on the line, m; outline: of a pipe, distances and levels."""

    kind: Literal["pit", "pipe"]
    name: str
    at: float
    top: float
    bottom: float
    across: float
    outline: tuple[Vertex, ...]


@dataclass(frozen=True, slots=True)
class Mark:
    """A survey line or guide that crosses. level: NaN where it has none; boundary: a guide that the work stays within."""

    kind: Literal["line", "guide"]
    name: str
    at: float
    level: float
    boundary: bool = False


def structures_met(structures: Structures, line: CutLine, pit_reach: float = PIT_REACH) -> list[Met]:
    """Pipes that the line crosses or runs along, and pits no further from it than so many metres, in its order."""
    found: list[Met] = []
    along = line.along
    for pipe in structures.pipes:
        found += _pipe(pipe, line, along)
    for pit in structures.pits:
        met = _pit(pit, line, along, pit_reach)
        if met is not None:
            found.append(met)
    return sorted(found, key=lambda m: m.at)


def _crossings(path: Floats, start: Floats, end: Floats) -> tuple[Ints, Ints, Floats, Floats]:
    """Where the legs of a path (k, 2) cross segments (s, 2+): leg and segment, and the shares of their lengths."""
    p, d = path[:-1, None], np.diff(path, axis=0)[:, None]
    q, e = start[None, :, :2], (end - start)[None, :, :2]
    turn = d[..., 0] * e[..., 1] - d[..., 1] * e[..., 0]
    gap = q - p
    with np.errstate(invalid="ignore", divide="ignore"):
        t = (gap[..., 0] * e[..., 1] - gap[..., 1] * e[..., 0]) / turn
        w = (gap[..., 0] * d[..., 1] - gap[..., 1] * d[..., 0]) / turn
    # A corner belongs to the leg and the segment that begin there.
    leg, segment = np.nonzero((t >= 0) & (t < 1) & (w >= 0) & (w < 1))
    return leg, segment, t[leg, segment], w[leg, segment]


def _pipe(pipe: Pipe, line: CutLine, along: Floats) -> list[Met]:
    ends = np.array([[p.east, p.north, p.level] for p in pipe.points])
    radius = pipe.diameter / 2
    start, end = ends[:-1], ends[1:]
    runs = _runs_along(start, end, line, along)
    found = [_lying(pipe.name, chain, 2 * radius) for chain in _joined([(a, b) for _, a, b in runs])]
    taken = {i for i, _, _ in runs}
    for leg, i, t, w in zip(*_crossings(line.path, start, end), strict=True):
        if int(i) in taken:
            continue
        ahead = line.path[leg + 1] - line.path[leg]
        step = end[i] - start[i]
        at = float(along[leg] + t * np.hypot(*ahead))
        invert = float(start[i, 2] + w * step[2])
        shape = ellipse(ahead / np.hypot(*ahead), step / np.linalg.norm(step), radius)
        middle = invert - float(shape[:, 1].min())
        outline = tuple((at + float(x), middle + float(y)) for x, y in shape)
        found.append(Met("pipe", pipe.name, at, middle + float(shape[:, 1].max()), invert, float(np.ptp(shape[:, 0])), outline))
    return found


def _joined(runs: list[tuple[Vertex, Vertex]]) -> list[list[Vertex]]:
    """Stretches of a pipe along a line, those that follow each other as one: distances and levels of its invert."""
    out: list[list[Vertex]] = []
    for a, b in sorted(runs):
        if out and a[0] - out[-1][-1][0] <= tolerances.CHAINAGE_MERGE:
            out[-1].append(b)
        else:
            out.append([a, b])
    return out


def _lying(name: str, invert: list[Vertex], size: float) -> Met:
    """A pipe seen from its side."""
    low, high = min(z for _, z in invert), max(z for _, z in invert)
    (first, _), (last, _) = invert[0], invert[-1]
    outline = (*invert, *((s, z + size) for s, z in reversed(invert)))
    return Met("pipe", name, (first + last) / 2, high + size, low, last - first, outline)


def ellipse(ahead: Floats, axis: Floats, radius: float) -> Floats:
    """Where an upright plane cuts a round pipe, (CORNERS, 2) along the plane and up, about the pipe's middle. ahead: (2,) unit
    vector of the plane in plan; axis: (3,) of the pipe.

    Of points y of the plane |y|2 - (y.p)2 = r2, p being the axis seen in the plane: half axes r and r / sqrt(1 - |p|2), the longer
    one along p.
    """
    seen = np.array([axis[:2] @ ahead, axis[2]])
    size = float(np.hypot(*seen))
    longer = radius / np.sqrt(max(1 - size * size, 1e-6))
    u = seen / size if size > 1e-12 else np.array([1.0, 0.0])
    turn = np.linspace(0, 2 * np.pi, CORNERS, endpoint=False)
    found: Floats = np.outer(longer * np.cos(turn), u) + np.outer(radius * np.sin(turn), [-u[1], u[0]])
    return found


def _runs_along(start: Floats, end: Floats, line: CutLine, along: Floats) -> list[tuple[int, Vertex, Vertex]]:
    """Segments of a pipe that a leg of the line runs along: which, and both ends by distance and level."""
    found = []
    for leg, (p, q) in enumerate(zip(line.path[:-1], line.path[1:], strict=True)):
        length = float(np.hypot(*(q - p)))
        ahead = (q - p) / length
        for i, (a, b) in enumerate(zip(start, end, strict=True)):
            run = float(np.hypot(*(b - a)[:2]))
            if run == 0 or abs(float((b - a)[:2] @ ahead)) < run * np.cos(np.radians(ALONG_DEG)):
                continue
            aside = [abs(float((e[:2] - p) @ [ahead[1], -ahead[0]])) for e in (a, b)]
            s = [float((e[:2] - p) @ ahead) for e in (a, b)]
            low, high = max(min(s), 0.0), min(max(s), length)
            if max(aside) > BESIDE or high - low < tolerances.CHAINAGE_MERGE:
                continue
            level = [float(a[2] + (v - s[0]) / (s[1] - s[0]) * (b[2] - a[2])) for v in (low, high)]
            found.append((i, (float(along[leg]) + low, level[0]), (float(along[leg]) + high, level[1])))
    return found


def _pit(pit: Pit, line: CutLine, along: Floats, reach: float) -> Met | None:
    cover, invert = (np.nan if z is None else z for z in (pit.cover, pit.invert))
    if np.isnan(cover) and np.isnan(invert):
        return None
    best = None
    for leg, (p, q) in enumerate(zip(line.path[:-1], line.path[1:], strict=True)):
        length = float(np.hypot(*(q - p)))
        ahead = (q - p) / length
        d = np.array([pit.east, pit.north]) - p
        s, aside = float(d @ ahead), abs(float(d @ [ahead[1], -ahead[0]]))
        if 0 <= s <= length and aside <= reach and (best is None or aside < best[0]):
            best = (aside, float(along[leg]) + s)
    return None if best is None else Met("pit", pit.name, best[1], cover, invert, pit.size, ())


def marks_on(track: Track, sources: Sources, codes: Iterable[str], *, guides: bool) -> list[Mark]:
    """Survey lines of some codes and guides that cross a line, in its order."""
    line = track.line
    along = line.along
    found: list[Mark] = []
    for code in codes:
        lines = sources.lines.get(code)
        if lines is not None and len(lines.start):
            found += _on_survey_line(code, lines, line, along)
    if guides:
        for guide in sources.guides.values():
            s = np.linspace(along[0], along[-1], 2 + int(along[-1] - along[0]))
            c, o = track.at(s)
            known = np.flatnonzero(np.isfinite(c))
            if not known.size:
                continue
            there = guide_line(guide, track.model.alignment.frames(c[known]), sources)
            gap = np.full(len(s), np.nan)
            gap[known] = o[known] - there.offset
            change = np.flatnonzero(((gap[:-1] < 0) != (gap[1:] < 0)) & np.isfinite(gap[:-1]) & np.isfinite(gap[1:]))
            if len(change):
                found += _on_guide(guide, track, sources, s[change], s[change + 1])
    return sorted(found, key=lambda m: m.at)


def _on_survey_line(code: str, lines: SurveyLines, line: CutLine, along: Floats) -> list[Mark]:
    low, high = line.path.min(axis=0), line.path.max(axis=0)
    a, b = lines.start, lines.end
    near = ((np.maximum(a, b)[:, :2] >= low) & (np.minimum(a, b)[:, :2] <= high)).all(axis=1)
    found = []
    for leg, i, t, w in zip(*_crossings(line.path, a[near], b[near]), strict=True):
        z = a[near][i, 2] + w * (b[near][i, 2] - a[near][i, 2])
        found.append(Mark("line", code, float(along[leg] + t * (along[leg + 1] - along[leg])), float(z)))
    return found


def _on_guide(guide: GuideSpec, track: Track, sources: Sources, low: Floats, high: Floats) -> list[Mark]:
    """Where a guide crosses between distances (m,)."""

    def there(chainage: Floats) -> GuideLine:
        return guide_line(guide, track.model.alignment.frames(chainage), sources)

    at = root(track, low, high, lambda c, o: o - there(c).offset)
    levels = there(track.at(at)[0]).level
    return [Mark("guide", guide.name, float(s), float(z), guide.use == "boundary") for s, z in zip(at, levels, strict=True)]
