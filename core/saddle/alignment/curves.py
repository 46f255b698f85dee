"""The curves of an alignment, as superelevation looks at them."""

import numpy as np

from saddle.alignment.alignment import Alignment
from saddle.standards.superelevation import Curve


def curves_of(alignment: Alignment) -> list[Curve]:
    """Curves of an alignment. Compound curves count arc by arc, a clothoid between two of them not at all."""
    chainage, length, first, last = alignment.chainage, alignment.length, alignment.curvature, alignment.curvature_end
    found = []
    for i in np.flatnonzero((first != 0) & (first == last)):
        before = length[i - 1] if i > 0 and first[i - 1] == 0 and last[i - 1] == first[i] else 0.0
        after = length[i + 1] if i + 1 < len(first) and last[i + 1] == 0 and first[i + 1] == first[i] else 0.0
        found.append(Curve(float(chainage[i]), float(chainage[i] + length[i]), float(first[i]), float(before), float(after)))
    return found
