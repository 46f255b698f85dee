"""Columns of figures beside each other."""


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
