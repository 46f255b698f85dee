"""Guide pieces put end to end: where each begins and ends, and the offset in between."""

from dataclasses import dataclass

import numpy as np

from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats
from saddle.guides.spec import AfterLength, AtChainage, ByRatio, Hold, Pieces


@dataclass(frozen=True, slots=True)
class Stretch:
    """A piece where it came to lie. Chainages and offsets in m; s_shaped: by two equal parabolas."""

    start: float
    end: float
    start_offset: float
    end_offset: float
    s_shaped: bool


def stretches(source: Pieces) -> list[Stretch]:
    """Every piece in order. Raises GeometryError, naming the piece, where one would end before it begins."""
    found: list[Stretch] = []
    chainage, offset = source.start_chainage, source.start_offset
    for number, piece in enumerate(source.pieces, start=1):
        to = offset if isinstance(piece, Hold) else piece.to_offset
        end = chainage
        if isinstance(piece.end, AtChainage):
            end = piece.end.chainage
        elif isinstance(piece.end, AfterLength):
            end = chainage + piece.end.length
        elif isinstance(piece.end, ByRatio):
            end = chainage + piece.end.one_in * abs(to - offset)
        if end < chainage - 1e-9:
            raise GeometryError(
                f"piece {number} would end at {end:.3f}, before it begins at {chainage:.3f}",
                f"piece {number}",
                "end it later, give it a length, or shorten the pieces before it",
            )
        found.append(Stretch(chainage, end, offset, to, not isinstance(piece, Hold) and piece.shape == "s"))
        chainage, offset = end, to
    return found


def offsets_along(found: list[Stretch], chainages: Floats) -> Floats:
    """Offset at chainages (n,), m; NaN before the first piece and after the last."""
    c = np.asarray(chainages, dtype=float)
    out = np.full(len(c), np.nan)
    for s in found:
        here = (c >= s.start) & (c <= s.end)
        t = (c[here] - s.start) / (s.end - s.start) if s.end > s.start else np.ones(int(here.sum()))
        if s.s_shaped:
            t = np.where(t < 0.5, 2 * t**2, 1 - 2 * (1 - t) ** 2)
        out[here] = s.start_offset + t * (s.end_offset - s.start_offset)
    return out


def corners(found: list[Stretch]) -> Floats:
    """Chainages at which pieces begin and end, (k,)."""
    return np.unique([*(s.start for s in found), *(s.end for s in found)])
