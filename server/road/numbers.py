"""Arrays as JSON: what is not known is null."""

import numpy as np

from saddle.geometry.polylines import Floats

Numbers = list[float | None]


def numbers(values: Floats) -> Numbers:
    """Finite values, null for the rest."""
    return [v if np.isfinite(v) else None for v in values.tolist()]
