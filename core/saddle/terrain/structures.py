"""Pits and pipes: out of a survey, and where section lines meet them."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from saddle.alignment.alignment import Frames
from saddle.terrain.spec import CodeList, Pipe, PipeEnd, Pit, Structures
from saddle.terrain.survey import Survey, polylines
from saddle.terrain.survey_lines import SurveyLines, meet

#: A pit is shown on sections no further away than this along the road, m.
PIT_REACH = 5.0


@dataclass(frozen=True, slots=True)
class Crossed:
    """A structure met by a section line. offset; top, bottom: levels of a pipe's soffit and invert, of a pit's cover and invert,
    m, NaN where that is not known; across: its width, m."""

    row: int
    kind: Literal["pit", "pipe"]
    name: str
    offset: float
    top: float
    bottom: float
    across: float


def from_survey(survey: Survey, codes: CodeList) -> Structures:
    """Points that mean pits, and lines that mean pipes. Levels are taken as the pits' covers and the pipes' inverts."""
    pits = [
        Pit(name=f"{c} {number}", east=float(p[0]), north=float(p[1]), cover=float(p[2]))
        for c, number, p in zip(survey.code, survey.number, survey.xyz, strict=True)
        if codes.rule(str(c)).meaning == "pit"
    ]
    pipes = [
        Pipe(
            name=f"{line.code} {line.name}",
            points=[PipeEnd(east=float(e), north=float(n), level=float(z)) for e, n, z in line.points],
        )
        for line in polylines(survey)
        if codes.rule(line.code).meaning == "pipe"
    ]
    return Structures(pits=pits, pipes=pipes)


def met_on(met: tuple[Crossed, ...], rows: tuple[int, ...]) -> tuple[Crossed, ...]:
    """What some of the sections meet, in their order; rows: which of the road's they are."""
    place = {row: k for k, row in enumerate(rows)}
    return tuple(replace(c, row=place[c.row]) for c in met if c.row in place)


def crossed(structures: Structures, frames: Frames, widths: tuple[float, float]) -> tuple[Crossed, ...]:
    """What section lines meet between two offsets, in road order."""
    found: list[Crossed] = []
    reach = max(-widths[0], widths[1])
    for pipe in structures.pipes:
        p = np.array([[e.east, e.north, e.level] for e in pipe.points])
        rows, offsets, levels = meet(frames, SurveyLines(p[:-1], p[1:]), reach)
        size = pipe.diameter
        found += [
            Crossed(int(r), "pipe", pipe.name, float(o), float(z) + size, float(z), size)
            for r, o, z in zip(rows, offsets, levels, strict=True)
        ]
    for pit in structures.pits:
        d = np.array([pit.east, pit.north]) - frames.origin
        offset = (d * frames.to_right).sum(axis=1)
        ahead = np.abs(d[:, 0] * np.sin(frames.bearing) + d[:, 1] * np.cos(frames.bearing))
        near = (ahead <= PIT_REACH) & (np.abs(offset) <= reach)
        if not near.any():
            continue
        row = int(np.flatnonzero(near)[ahead[near].argmin()])
        cover, invert = (np.nan if z is None else z for z in (pit.cover, pit.invert))
        if np.isnan([cover, invert]).all():
            continue
        found.append(Crossed(row, "pit", pit.name, float(offset[row]), cover, invert, pit.size))
    inside = (c for c in found if widths[0] <= c.offset <= widths[1])
    return tuple(sorted(inside, key=lambda c: (c.row, c.offset)))
