"""Best levels taken into the road: the road that comes of them, judged again."""

from dataclasses import dataclass, replace

import numpy as np

from saddle import tolerances
from saddle.errors import GeometryError
from saddle.figures import slack
from saddle.overlay.spec import CrossfallRow, CrossfallTable, LevelRow, LevelTable, LevelTableGoverns
from saddle.pipeline import solve
from saddle.quantities.variants import courses_between, treatments_with
from saddle.road.levels import Found, cover_of
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import AdoptedCrossfall, Variant
from saddle.stages.run import Run


@dataclass(frozen=True, slots=True)
class Judged:
    """What taking best levels saves, from the first to the last of them, as the road itself says: volume m3 and mass t of the courses
    over the old pavement, negative where they need more; unknown_length: m over which that is not known."""

    volume: float
    mass: float
    unknown_length: float


def taken(inputs: RoadInputs, found: Found, *, crossfalls: bool) -> RoadInputs:
    """The road with best levels in its level table, which governs the overlays between the first and the last of them; crossfalls: with
    those that were found too."""
    c, best = found.chainage, found.best
    low, high, near = float(c[0]), float(c[-1]), tolerances.CHAINAGE_MERGE
    pinned = {round(r.chainage, 3) for r in inputs.levels.rows if r.pinned}
    levels = [r for r in inputs.levels.rows if r.chainage < low - near or r.chainage > high + near]
    levels += [
        LevelRow(chainage=float(x), level=float(z), pinned=round(float(x), 3) in pinned)
        for x, z in zip(c, best.level, strict=True)
    ]
    table = inputs.crossfalls
    if crossfalls:
        rows = [r for r in table.rows if r.chainage < low - near or r.chainage > high + near]
        rows += [
            CrossfallRow(chainage=float(x), left_pct=float(a), right_pct=float(b)) for x, (a, b) in zip(c, best.pct, strict=True)
        ]
        table = CrossfallTable(rows=sorted(rows, key=lambda r: r.chainage))
    variant = Variant(name="Best levels", governs=LevelTableGoverns(), crossfall=AdoptedCrossfall() if crossfalls else None)
    return replace(
        inputs,
        levels=LevelTable(rows=sorted(levels, key=lambda r: r.chainage)),
        crossfalls=table,
        treatments=treatments_with(inputs.treatments, variant, low, high),
    )


def judge(model: RoadModel, found: Found, run: Run, *, crossfalls: bool) -> Judged:
    """The road with best levels taken against the road as it is. Raises GeometryError where cover is short on some section of it after
    all, both of a pair judged."""
    low, high = float(found.chainage[0]), float(found.chainage[-1])
    road = solve(taken(model.inputs, found, crossfalls=crossfalls), run)
    short = np.where(road.stations.within(low, high) & (road.lines.tied >= 1), cover_of(road) - road.depth.least, np.nan)
    unknown = road.stations.within(low, high) & np.isfinite(cover_of(road)) & np.isnan(road.depth.least)
    if unknown.any():
        at = float(road.chainage[np.argmax(unknown)])
        raise GeometryError(
            f"the road with these levels is not known at {at:.3f}: a crossfall or an edge is missing there once they govern",
            f"chainage {at:.1f}", "give the treatment there crossfalls of its own first",
        )  # fmt: skip
    worst = float(np.nanmax(short, initial=-np.inf))
    if worst > slack("depth"):
        at = float(road.chainage[np.nanargmax(short)])
        raise GeometryError(
            f"the road with these levels would be {1000 * worst:.0f} mm short of cover at {at:.3f}, so they are not offered",
            f"chainage {at:.1f}", "let crossfalls be found too, or end the range elsewhere",
        )  # fmt: skip
    before, after = (courses_between(m, low, high) for m in (model, road))
    return Judged(before[0] - after[0], before[1] - after[1], max(before[2], after[2]))
