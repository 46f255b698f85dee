"""Best levels: the hinge levels (and crossfalls within limits) that need the least overlay.

Depth is nowhere below the cover, so each section's overlay area is linear in its hinge level and crossfalls, and the
volume by end areas is too: a linear program, and with whole written steps a mixed-integer one.
"""

from contextlib import suppress
from dataclasses import dataclass, field, replace

import numpy as np

from saddle.errors import GeometryError
from saddle.figures import rounded, rounded_up
from saddle.geometry.polylines import Floats, Ints
from saddle.overlay.level_needs import Limits, Needs, every_place, places_to_write, straight_between, volume_of
from saddle.overlay.level_program import Program


@dataclass(frozen=True, slots=True, eq=False)
class Best:
    """level: (n,) m; pct: (n, 2) %; places: (k,) sections at which these are written, between them they run straight; gap: relative
    gap between primal and dual; bound: volume below which no levels keep the limits, proven by the dual, m3 as in volume_of;
    binding: per kind the sections (indices) at which a limit holds the answer: "cover", "grade", "crossfall", "rate", "lip", "pin"."""

    level: Floats
    pct: Floats
    places: Ints
    volume: float
    gap: float
    bound: float
    binding: dict[str, list[int]] = field(default_factory=dict)

    @property
    def off(self) -> float:
        """How far above the bound these levels are, m3."""
        return max(0.0, self.volume - self.bound)


class Conflict(GeometryError):
    """No levels keep every limit. places: (chainage, what, by how much in mm) of the limits that would have to give."""

    def __init__(self, places: list[tuple[float, str, float]]) -> None:
        listed = "; ".join(f"{what} at {c:.1f} by {mm:.0f} mm" for c, what, mm in places[:5])
        super().__init__(
            f"no levels keep every limit: short of {listed}", f"chainage {places[0][0]:.1f}" if places else "",
            "allow a greater change of grade, take a pin away, or mill there",
        )  # fmt: skip
        self.places = places


def best_levels(needs: Needs, limits: Limits) -> Best:
    """The least volume that keeps the limits, with a level of its own at every chainage; as `written` at the places where levels are
    written. Raises Conflict where none does, naming the limits that stand against one another; GeometryError where levels are not
    known."""
    program = Program(needs, limits, places_to_write(needs, limits) if limits.written else every_place(needs))
    found = program.solve()
    if found.status == 2:
        raise Conflict(program.conflicts())
    if found.status != 0:
        raise GeometryError(f"the best levels were not found: {found.message}", "best levels", "try a shorter range")
    level = program.spread @ program.level(found.x)
    pct = program.spread @ program.pct(found.x) if program.free else needs.pct
    volume, dual = volume_of(needs, level, pct), program.dual(found)
    gap = abs(float(found.fun) - dual) / max(1.0, abs(float(found.fun)))
    bound = volume - program.scale * (float(found.fun) - dual)
    return Best(level, pct, program.places, volume, gap, bound, program.binding(found))


def best_as_written(needs: Needs, limits: Limits) -> Best:
    """The best levels with the digits they are written with, where they are written: crossfalls to the nearest within their limits, and
    for these the levels in whole written steps that need least, by branch and bound; where that finds none in its time, rounded up.
    Pinned levels stay as they are; `bound` is that of levels at every chainage in all their digits. Raises what best_levels raises."""
    exact = best_levels(needs, limits)
    try:
        best = best_levels(needs, replace(limits, written=True))
    except Conflict:
        best = exact
    places = places_to_write(needs, limits)
    spread = straight_between(needs, places)
    pct = best.pct[places]
    if limits.crossfall is not None:
        pct = rounded(np.clip(pct, *limits.crossfall), "crossfall")
    level = None
    if needs.ends is None:
        at, given = needs.at(spread @ pct) if limits.crossfall is not None else needs, Limits(limits.grade_change_pct)
        with suppress(Conflict):
            best = replace(best, level=best_levels(at, replace(given, written=True)).level)
        level = Program(at, given, places).in_steps()
    if level is None:
        level = rounded_up(best.level[places], "level")
    level = np.where(np.isfinite(needs.fixed[places]), needs.fixed[places], level)
    if needs.ends is not None:
        # The ends keep their level: what the hinge rises by, the crossfalls take back.
        ends = needs.ends
        moved = ends.short[places] - ends.rise[places] * (level - needs.hinge[places])[:, None]
        pct = rounded(np.where(np.isfinite(moved), needs.pct[places] + moved / ends.fall[places], pct), "crossfall")
    all_levels, all_pct = spread @ level, spread @ pct if limits.crossfall is not None else needs.pct
    volume = volume_of(needs, all_levels, all_pct)
    return replace(best, level=all_levels, pct=all_pct, places=places, volume=volume, bound=exact.bound)
