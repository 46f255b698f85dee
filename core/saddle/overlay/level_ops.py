"""What can be done with the adopted levels of a range. Pinned rows stay.

Every operation takes and gives the same rows, so that what it would change can be shown before it is done. A new one is one
function and its entry in OPERATIONS.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy import sparse
from scipy.optimize import linprog

from saddle import tolerances
from saddle.documents_base import Document, Key, Millimetres, Positive, Refers
from saddle.errors import GeometryError
from saddle.figures import FIGURES, rounded_up
from saddle.geometry.polylines import Bools, Floats
from saddle.geometry.simplify import running_mean
from saddle.overlay.spec import LevelRow, LevelTable


class FromDesign(Document):
    """The design's levels on every section of the range."""

    kind: Literal["design"] = "design"


class FromProfile(Document):
    """A profile's levels on every section of the range. profile: its key."""

    kind: Literal["profile"] = "profile"
    profile: Annotated[Key, Refers("profile")]


class StraightGrade(Document):
    """Straight from the first level of the range to the last, by way of the pinned ones."""

    kind: Literal["straight"] = "straight"


class MeanLevel(Document):
    """The mean over so many metres around each row."""

    kind: Literal["mean"] = "mean"
    length: Positive = 30.0


class Ease(Document):
    """Changes of grade brought within a limit, %, with the least sum of what levels move; keep_cover: none below the lowest
    level that keeps the cover."""

    kind: Literal["ease"] = "ease"
    change_pct: Positive = 0.5
    keep_cover: bool = True


class Raise(Document):
    """All levels raised, mm; negative lowers."""

    kind: Literal["raise"] = "raise"
    by_mm: Millimetres = 10.0


class RaiseToCover(Document):
    """Levels below the lowest that keeps the cover raised to it."""

    kind: Literal["cover"] = "cover"


LevelOperation = Annotated[
    FromDesign | FromProfile | StraightGrade | MeanLevel | Ease | Raise | RaiseToCover, Field(discriminator="kind")
]


@dataclass(frozen=True, slots=True, eq=False)
class LevelsAround:
    """What an operation may look at, on the sections: chainage (n,) rising; design and lowest (n,), and profiles by key, m, NaN
    where there is none."""

    chainage: Floats
    design: Floats
    lowest: Floats
    profiles: Mapping[str, Floats] = field(default_factory=dict)


def apply_to_levels(table: LevelTable, what: LevelOperation, low: float, high: float, around: LevelsAround) -> LevelTable:
    """The table after an operation on the rows from low to high; outside nothing changes. Raises GeometryError where there is
    nothing to work on."""
    there = [r for r in table.rows if low - 1e-6 <= r.chainage <= high + 1e-6]
    if isinstance(what, FromDesign | FromProfile):
        there = _filled(there, what, low, high, around)
    if len(there) < 2:
        raise GeometryError("there are fewer than two levels here", "range", "fill them from the design first")
    c, z = np.array([r.chainage for r in there]), np.array([r.level for r in there])
    pinned = np.array([r.pinned for r in there])
    new = OPERATIONS[what.kind](what, c, z, pinned, _between(around, c))
    new = np.where(pinned | (np.abs(new - z) < tolerances.COINCIDENT), z, rounded_up(new, "level"))
    rows = [r for r in table.rows if r.chainage < low - 1e-6 or r.chainage > high + 1e-6]
    rows += [LevelRow(chainage=r.chainage, level=float(x), pinned=r.pinned) for r, x in zip(there, new, strict=True)]
    return LevelTable(rows=sorted(rows, key=lambda r: r.chainage))


def _between(around: LevelsAround, c: Floats) -> Floats:
    """Lowest levels at rows (k,), -inf where none is known."""
    good = np.isfinite(around.lowest)
    if not good.any():
        return np.full(len(c), -np.inf)
    lowest: Floats = np.interp(c, around.chainage[good], around.lowest[good], left=-np.inf, right=-np.inf)
    return lowest


def _filled(
    there: list[LevelRow], what: FromDesign | FromProfile, low: float, high: float, around: LevelsAround
) -> list[LevelRow]:
    """Rows on every section of the range that has a level; pinned rows stay, others go."""
    if isinstance(what, FromProfile) and what.profile not in around.profiles:
        raise GeometryError(f"there is no profile “{what.profile}”", "profile", "choose one of the list")
    levels = around.profiles[what.profile] if isinstance(what, FromProfile) else around.design
    c = around.chainage
    here = np.isfinite(levels) & (c >= low - 1e-6) & (c <= high + 1e-6)
    if here.sum() < 2:
        raise GeometryError("there are no levels to fill from in the range", "range", "mark another range")
    firm = {round(r.chainage, 3): r for r in there if r.pinned}
    fresh = {
        round(float(x), 3): LevelRow(chainage=round(float(x), 4), level=float(z))
        for x, z in zip(c[here], rounded_up(levels[here], "level"), strict=True)
    }
    return sorted({**fresh, **firm}.values(), key=lambda r: r.chainage)


def _as_they_are(what: Document, c: Floats, z: Floats, pinned: Bools, lowest: Floats) -> Floats:
    return z


def _straight(what: StraightGrade, c: Floats, z: Floats, pinned: Bools, lowest: Floats) -> Floats:
    firm = pinned.copy()
    firm[[0, -1]] = True
    straight: Floats = np.interp(c, c[firm], z[firm])
    return straight


def _mean(what: MeanLevel, c: Floats, z: Floats, pinned: Bools, lowest: Floats) -> Floats:
    mean: Floats = running_mean(c, (z - z[0])[:, None], what.length)[:, 0] + z[0]
    return mean


def _raise(what: Raise, c: Floats, z: Floats, pinned: Bools, lowest: Floats) -> Floats:
    return z + what.by_mm / 1000


def _cover(what: RaiseToCover, c: Floats, z: Floats, pinned: Bools, lowest: Floats) -> Floats:
    return np.maximum(z, lowest)


def _ease(what: Ease, c: Floats, z: Floats, pinned: Bools, lowest: Floats) -> Floats:
    """Least sum of |move| as a linear program in mm: moves up and down apart, both ends and pins firm."""
    n, d = len(c), np.diff(c)
    if n < 3:
        return z
    i = np.arange(1, n - 1)
    before, after = 1 / d[:-1], 1 / d[1:]
    bend = sparse.coo_array(
        (np.r_[before, -before - after, after], (np.tile(i - 1, 3), np.r_[i - 1, i, i + 1])), shape=(n - 2, n)
    ).tocsr()
    now = bend @ (1000 * (z - z[0]))
    both = sparse.hstack([bend, -bend])
    # Levels are rounded up afterwards, which changes the grades beside each by less than a step over their length.
    limit = 10 * what.change_pct - np.minimum(1000 * FIGURES["level"].step * (before + after), 5 * what.change_pct)
    firm = pinned.copy()
    firm[[0, -1]] = True
    down = np.where(firm, 0.0, np.inf)
    up = down.copy()
    if what.keep_cover:
        down = np.where(firm, 0.0, np.maximum(0.0, 1000 * (z - lowest)))
    least_up = np.where(firm | (not what.keep_cover), 0.0, np.maximum(0.0, 1000 * (lowest - z)))
    found = linprog(
        np.ones(2 * n), A_ub=sparse.vstack([both, -both]), b_ub=np.r_[limit - now, limit + now],
        bounds=np.column_stack([np.r_[least_up, np.zeros(n)], np.r_[up, down]]), method="highs",
    )  # fmt: skip
    if found.status != 0:
        raise GeometryError(
            f"no levels keep a change of grade of {what.change_pct:g} % here", "range",
            "allow more, mark a longer range, or take a pin away",
        )  # fmt: skip
    eased: Floats = z + (found.x[:n] - found.x[n:]) / 1000
    return eased


OPERATIONS: dict[str, Callable[..., Floats]] = {
    "design": _as_they_are,
    "profile": _as_they_are,
    "straight": _straight,
    "mean": _mean,
    "ease": _ease,
    "raise": _raise,
    "cover": _cover,
}
