"""Crossfalls along the road: measured ones, and what can be done with a table of them over a range.

Every operation takes and gives the same rows, so that what it would change can be shown before it is done. A new one is
one function and its entry in OPERATIONS.
"""

from collections.abc import Callable, Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from saddle.documents_base import Document, Positive, PositiveMeasure
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats
from saddle.geometry.simplify import kept_within, running_mean
from saddle.overlay.spec import Crossfall, CrossfallRow, CrossfallTable
from saddle.standards.published import STARTING
from saddle.standards.spec import SuperelevationStandard
from saddle.standards.superelevation import Curve, Turns, crossfalls_of, report

Side = Literal["left", "right", "both"]


class OneValue(Document):
    """One crossfall over the range, %."""

    kind: Literal["one_value"] = "one_value"
    pct: Crossfall = -2.5


class StraightBetween(Document):
    """Straight from the value at the beginning of the range to that at its end."""

    kind: Literal["straight"] = "straight"


class DropWithin(Document):
    """Rows dropped that lie within a tolerance, %, of the straight line between those that stay."""

    kind: Literal["drop"] = "drop"
    tolerance_pct: Positive = 0.3


class RunningMean(Document):
    """The mean over so many metres around each row."""

    kind: Literal["mean"] = "mean"
    length: Positive = 50.0


class LimitRate(Document):
    """Turned no faster than so many percent per second at a speed, staying as near as the rate allows."""

    kind: Literal["limit_rate"] = "limit_rate"
    pct_per_s: Positive = 2.5
    speed_kmh: Annotated[float, Field(ge=20, le=140)] = 60.0


class MatchNeighbour(Document):
    """The value just before or just after the range held over it."""

    kind: Literal["match"] = "match"
    which: Literal["before", "after"] = "before"


class CopySide(Document):
    """The values of the other side; opposite changes their sign, as on a road that falls one way."""

    kind: Literal["copy"] = "copy"
    opposite: bool = False


class TakeMeasured(Document):
    """The measured crossfalls of the old road: on the sections, every so many m, at the alignment's key points, or wherever the
    lines of hinge and edges have a surveyed point."""

    kind: Literal["measured"] = "measured"
    at: Literal["sections", "interval", "key_points", "changes"] = "sections"
    interval: Annotated[float, Field(ge=0.5, le=1000, allow_inf_nan=False)] = 20.0


class Superelevate(Document):
    """Design superelevation by the project's standard: speed km/h, greatest superelevation and normal crossfall %, width of
    a lane m, and how many lanes turn."""

    kind: Literal["superelevate"] = "superelevate"
    speed_kmh: Annotated[float, Field(ge=20, le=130)] = 60.0
    most_pct: Annotated[float, Field(gt=0, le=12)] = 6.0
    normal_pct: Annotated[float, Field(gt=0, le=6)] = 2.5
    width: PositiveMeasure = 3.5
    lanes: Annotated[float, Field(ge=1, le=6)] = 1.0

    def turns(self, standard: SuperelevationStandard) -> Turns:
        """The same by a standard."""
        return Turns(standard, self.speed_kmh, self.most_pct, self.normal_pct, self.width, self.lanes)


Operation = Annotated[
    Superelevate | OneValue | StraightBetween | DropWithin | RunningMean | LimitRate | MatchNeighbour | CopySide | TakeMeasured,
    Field(discriminator="kind"),
]


def values_at(table: CrossfallTable, chainage: Floats) -> Floats:
    """Adopted crossfalls (k, 2), %, NaN where the table is empty."""
    if not table.rows:
        return np.full((len(chainage), 2), np.nan)
    c = [r.chainage for r in table.rows]
    return np.column_stack(
        [np.interp(chainage, c, [r.left_pct for r in table.rows]), np.interp(chainage, c, [r.right_pct for r in table.rows])]
    )


def apply(
    table: CrossfallTable,
    what: Operation,
    side: Side,
    low: float,
    high: float,
    chainage: Floats,
    measured: Floats,
    curves: Sequence[Curve] = (),
    standard: SuperelevationStandard = STARTING.superelevation,
) -> CrossfallTable:
    """The table after an operation on the rows from low to high. chainage: (n,) of the sections, or
    where it is measured; measured: (n, 2), %; curves:
    of the alignment, for design superelevation by a standard.

    The range gets rows at its ends; where it has none the sections' chainages serve. Outside it nothing changes. Raises
    GeometryError where there is nothing to work on.
    """
    inside = np.unique(np.r_[low, [r.chainage for r in table.rows if low < r.chainage < high], high])
    if isinstance(what, TakeMeasured) or len(inside) == 2 or not table.rows:
        inside = np.unique(np.r_[low, chainage[(chainage > low) & (chainage < high)], high])
    if isinstance(what, Superelevate):
        turns = what.turns(standard)
        keys = [key.chainage for found in report(curves, turns) for key in found.keys]
        inside = np.unique(np.r_[low, [c for c in keys if low < c < high], high])
    now = values_at(table, inside)
    known = np.column_stack([np.interp(inside, chainage, _filled(chainage, measured[:, k])) for k in (0, 1)])
    now = np.where(np.isnan(now), -what.normal_pct if isinstance(what, Superelevate) else known, now)
    if np.isnan(now).any():
        raise GeometryError("there are no crossfalls here, neither adopted nor measured", "range", "set one value first")
    if isinstance(what, Superelevate):
        new = crossfalls_of(curves, inside, what.turns(standard))
    else:
        new = OPERATIONS[what.kind](what, inside, now, known)
    columns = {"left": [0], "right": [1], "both": [0, 1]}[side]
    out = now.copy()
    out[:, columns] = new[:, columns]
    keep = np.ones(len(inside), dtype=bool)
    if isinstance(what, DropWithin):
        keep = kept_within(inside, now, what.tolerance_pct)
        out = now
    rows = [r for r in table.rows if r.chainage < low - 1e-6 or r.chainage > high + 1e-6]
    out = np.round(out, 4)
    rows += [
        CrossfallRow(chainage=round(float(c), 4), left_pct=float(v[0]), right_pct=float(v[1]))
        for c, v in zip(inside[keep], out[keep], strict=True)
    ]
    return CrossfallTable(rows=sorted(rows, key=lambda r: r.chainage))


def _filled(chainage: Floats, values: Floats) -> Floats:
    """Gaps filled straight from their neighbours; all NaN stays so."""
    good = np.isfinite(values)
    if not good.any():
        return values
    filled: Floats = np.interp(chainage, chainage[good], values[good])
    return filled


def _one_value(what: OneValue, c: Floats, now: Floats, _: Floats) -> Floats:
    return np.full(now.shape, what.pct)


def _straight(_: StraightBetween, c: Floats, now: Floats, measured: Floats) -> Floats:
    t = ((c - c[0]) / (c[-1] - c[0]))[:, None]
    straight: Floats = now[0] + t * (now[-1] - now[0])
    return straight


def _mean(what: RunningMean, c: Floats, now: Floats, _: Floats) -> Floats:
    return running_mean(c, now, what.length)


def _limit_rate(what: LimitRate, c: Floats, now: Floats, _: Floats) -> Floats:
    """The mean of the greatest function below and the least one above that keep the rate: both keep it, so does their mean."""
    step = what.pct_per_s * 3.6 / what.speed_kmh * np.diff(c)[:, None]
    below, above = now.copy(), now.copy()
    for i in range(1, len(c)):
        below[i] = np.minimum(below[i], below[i - 1] + step[i - 1])
        above[i] = np.maximum(above[i], above[i - 1] - step[i - 1])
    for i in range(len(c) - 2, -1, -1):
        below[i] = np.minimum(below[i], below[i + 1] + step[i])
        above[i] = np.maximum(above[i], above[i + 1] - step[i])
    return (below + above) / 2


def _copy(what: CopySide, c: Floats, now: Floats, _: Floats) -> Floats:
    return now[:, ::-1] * (-1 if what.opposite else 1)


def _measured(_: TakeMeasured, c: Floats, now: Floats, measured: Floats) -> Floats:
    return np.where(np.isfinite(measured), measured, now)


def _match(what: MatchNeighbour, c: Floats, now: Floats, _: Floats) -> Floats:
    held: Floats = np.broadcast_to(now[0 if what.which == "before" else -1], now.shape)
    return held


def _unchanged(_: Document, c: Floats, now: Floats, measured: Floats) -> Floats:
    return now


OPERATIONS: dict[str, Callable[..., Floats]] = {
    "one_value": _one_value,
    "straight": _straight,
    "match": _match,
    "drop": _unchanged,
    "mean": _mean,
    "limit_rate": _limit_rate,
    "copy": _copy,
    "measured": _measured,
}
