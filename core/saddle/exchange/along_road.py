"""Points of a code joined along the road instead of in measuring order: for surveys that go across it, left, crown, right, right, crown,
left.

Points are taken in the order of their places along a way: the alignment, or without one a rough way through the survey itself. Each joins
the line that is nearest to it across the way; lines keep their side.
"""

import numpy as np

from saddle.geometry.along import along
from saddle.geometry.polylines import Floats, Ints

#: The rough way goes through the mean of so many points measured one after the other, every half so many.
MEANT = 12
#: Points of one code that are no farther apart along the way than this belong to one crossing of the road, so to different lines, m.
ABREAST = 0.75
#: A break is told between points that are no farther apart than so many times the longest join.
BEHIND = 5.0
#: Points lie along a road where half of them are no farther from it than this, m.
BESIDE = 500.0
#: A line may go aside by this much, m, and by this share of its way.
ASIDE, ASIDE_SHARE = 1.5, 0.35


def rough_way(plan: Floats) -> Floats:
    """A way (k, 2) through points (n, 2) in measuring order, m; fewer than two places where there are not enough of them."""
    if len(plan) < 2 * MEANT:
        return plan[[0, -1]] if len(plan) >= 2 else plan
    starts = np.arange(0, len(plan) - MEANT + 1, MEANT // 2)
    means = np.array([plan[k : k + MEANT].mean(axis=0) for k in starts])
    # Half a crossing more or less turns a mean back and forth: the mean of three is the way.
    return np.vstack([means[0], (means[:-2] + means[1:-1] + means[2:]) / 3, means[-1]]) if len(means) > 2 else means


def way_through(plan: Floats, road: Floats | None) -> Floats:
    """The way (k, 2) along which points (n, 2) are joined, m: the road's where they lie along it, or a rough one through them."""
    if road is None or len(road) < 2 or float(np.median(np.abs(along(plan, road)[1]))) > BESIDE:
        return rough_way(plan)
    return road


def tracks(plan: Floats, s: Floats, offset: Floats, longest: float) -> tuple[list[Ints], list[tuple[int, int]]]:
    """Points (n, 2) of one code as lines, rows of each in order, from the left; and the pairs between which a line was broken because they
    are farther apart than `longest`, m."""
    lines: list[list[int]] = []
    going: list[int] = []  # numbers of the lines that are not broken off
    broken: list[tuple[int, int]] = []
    for k in np.lexsort((offset, s)).tolist():
        fitting: list[tuple[float, int]] = []
        # A line that lies far behind is neither joined nor told: a code of many scattered points stays quick.
        going = [i for i in going if s[k] - s[lines[i][-1]] <= BEHIND * longest]
        for i in going:
            last = lines[i][-1]
            step, aside = float(s[k] - s[last]), abs(float(offset[k] - offset[last]))
            if step > ABREAST and aside <= ASIDE + ASIDE_SHARE * step and not _other_side(float(offset[k]), float(offset[last])):
                fitting.append((aside, i))
        if fitting:
            i = min(fitting)[1]
            last = lines[i][-1]
            if float(np.hypot(*(plan[k] - plan[last]))) <= longest:
                lines[i].append(k)
                continue
            broken.append((last, k))
            going.remove(i)
        going.append(len(lines))
        lines.append([k])
    done = [np.array(line, dtype=np.intp) for line in lines]
    return sorted(done, key=lambda rows: float(offset[rows].mean())), broken


def _other_side(a: float, b: float) -> bool:
    """Whether two offsets lie on different sides of the way, and clearly."""
    return a * b < 0 and min(abs(a), abs(b)) > ASIDE
