"""Figures on sheets: how they are written, and columns of them beside each other."""

import math

from saddle.figures import FIGURES


def figure_text(value: float | None, decimals: int, *, signed: bool = False) -> str:
    """A figure; nothing where there is none, no sign on a zero."""
    if value is None or not math.isfinite(value):
        return ""
    text = f"{value:{'+' if signed else ''}.{decimals}f}"
    return text if float(text) else f"{0.0:.{decimals}f}"


def level_text(z: float | None) -> str:
    """A level, m; nothing where there is none."""
    return figure_text(z, FIGURES["level"].decimals)


def element_words(length: float, first: float, last: float) -> str:
    """An element of the alignment by its length, m, and the curvatures at its ends, 1/m: a clothoid by its parameter, A2 = L / (k2 - k1)."""
    if first == last:
        shape = f"R {1 / abs(first):.0f} m" if first else "straight"
    else:
        shape = f"A {math.sqrt(length / abs(last - first)):.0f} m"
    return f"{shape}, L {length:.1f} m"


def spread(positions: list[float], gap: float, low: float, high: float) -> list[float]:
    """Positions moved apart to at least `gap`, in order, as little as pooling of neighbours allows."""
    pools: list[list[float]] = []  # sum of (position - index * gap), count
    for i, p in enumerate(positions):
        pools.append([p - i * gap, 1])
        while len(pools) > 1 and pools[-2][0] / pools[-2][1] >= pools[-1][0] / pools[-1][1]:
            total, count = pools.pop()
            pools[-1][0] += total
            pools[-1][1] += count
    flat = [total / count for total, count in pools for _ in range(int(count))]
    ceiling = high - (len(positions) - 1) * gap
    return [min(max(f, low), max(low, ceiling)) + i * gap for i, f in enumerate(flat)]
