"""Survey points as they come out of a file."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Bools, Floats, Ints


@dataclass(frozen=True, slots=True)
class SkippedRow:
    """A row of the file (counted from 1, header included) that is left out, and why."""

    row: int
    reason: str


@dataclass(frozen=True, slots=True, eq=False)
class SurveyTable:
    """Points as read. number, code, line: lists of length n; xyz: (n, 3) m; order: (n,); row: (n,) of the file."""

    number: list[str]
    xyz: Floats
    code: list[str]
    line: list[str]
    order: Ints
    row: Ints

    def part(self, keep: Bools) -> "SurveyTable":
        """Some of the points (n,)."""
        which = np.flatnonzero(keep)
        number, code, line = ([words[k] for k in which] for words in (self.number, self.code, self.line))
        return SurveyTable(number, self.xyz[which], code, line, self.order[which], self.row[which])
