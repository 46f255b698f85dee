"""Survey points as they come out of a file."""

from dataclasses import dataclass

from saddle.geometry.polylines import Floats, Ints


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
