"""What a new treatment starts with: the project's own crown and edges, so that it does not begin with faults."""

from collections.abc import Mapping, Sequence

import numpy as np
from pydantic import BaseModel

from saddle.alignment.alignment import Alignment, Frames
from saddle.geometry.polylines import Bools
from saddle.guides.spec import AtOffset, NearestLine
from saddle.road.spec import Overlay, Reconstruct
from saddle.terrain.spec import CodeList, Meaning
from saddle.terrain.survey_lines import SurveyLines, nearest

#: At so many places of a range it is asked which lines are there.
PLACES = 40
#: A line must be met at this share of them.
LEAST_SHARE = 0.5
#: How far from the alignment it is looked for, m.
WITHIN = 8.0


class StartingWork(BaseModel):
    """An overlay and a reconstruction as they begin on a stretch. kerb_top: the line of kerb tops there, if any."""

    overlay: Overlay
    reconstruct: Reconstruct
    kerb_top: NearestLine | None


def starting_work(
    alignment: Alignment, lines: Mapping[str, SurveyLines], codes: CodeList, low: float, high: float
) -> StartingWork:
    """What the survey's lines between two chainages say, by what the code list calls crown, edge, lip and back; offsets where
    they say nothing."""
    at = np.clip(np.linspace(low, high, PLACES), alignment.start, alignment.end)
    frames = alignment.frames(at)
    crown = _code(("crown",), (0,), frames, lines, codes)
    edge = _code(("edge", "lip"), (-1, 1), frames, lines, codes)
    back = _code(("back",), (-1, 1), frames, lines, codes)
    found: dict[str, object] = {"hinge": NearestLine(code=crown, within=WITHIN) if crown else AtOffset(offset=0.0)}
    if edge:
        found |= {side: NearestLine(code=edge, within=WITHIN) for side in ("left_edge", "right_edge")}
    given = {name: source.model_dump() for name, source in found.items()}  # type: ignore[attr-defined]
    kerb_top = NearestLine(code=back, within=WITHIN) if back else None
    return StartingWork(overlay=Overlay(**given), reconstruct=Reconstruct(**given), kerb_top=kerb_top)


def _code(
    meanings: Sequence[Meaning], sides: Sequence[int], frames: Frames, lines: Mapping[str, SurveyLines], codes: CodeList
) -> str | None:
    """The code of one of these meanings that is met most often on all sides asked for; of equals the first meaning's."""
    best, most = None, LEAST_SHARE
    for meaning in meanings:
        for code in sorted(lines):
            if code and codes.rule(code).meaning == meaning:
                met = [_met(frames, lines[code], side) for side in sides]
                share = float(np.all(met, axis=0).mean())
                if share > most:
                    best, most = code, share
    return best


def _met(frames: Frames, line: SurveyLines, side: int) -> Bools:
    return np.isfinite(nearest(frames, line, WITHIN, side)[0])
