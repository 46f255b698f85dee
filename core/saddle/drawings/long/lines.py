"""Values along the road as lines."""

import itertools
import math

from saddle.geometry.polylines import Floats


def runs_between(chainage: Floats, values: Floats, low: float, high: float) -> list[list[tuple[float, float]]]:
    """Lines of known values (n,) at chainages (n,) in road order, cut at both ends, apart where a value is not known."""
    points = list(zip(chainage.tolist(), values.tolist(), strict=True))
    found: list[list[tuple[float, float]]] = [[]]
    for (a, va), (b, vb) in itertools.pairwise(points):
        begin, end = max(a, low), min(b, high)
        if not (math.isfinite(va) and math.isfinite(vb)) or end < begin:
            found.append([])
            continue
        grade = (vb - va) / (b - a) if b > a else 0.0
        ends = [(begin, va + grade * (begin - a)), (end, va + grade * (end - a) if b > a else vb)]
        found[-1] += [p for p in ends if not found[-1] or p != found[-1][-1]]
    return [run for run in found if len(run) > 1]
