"""Problems: findings along the road, as data."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from saddle.documents_base import Document

Severity = Literal["fault", "caution"]
#: What can be done about a problem in one step: the treatments there let their lanes reach the old edge; a follow rule is put
#: before all others.
Mend = Literal["reach_edge", "put_rule_first"]


@dataclass(frozen=True, slots=True)
class Problem:
    """Something to look at. Chainages in m; measured and limit in the unit that the message names; mend: what would take it
    away in one step; rule: the follow rule that it puts first."""

    code: str
    severity: Severity
    chainage_from: float
    chainage_to: float
    subject: str
    message: str
    measured: float | None = None
    limit: float | None = None
    mend: Mend | None = None
    rule: Document | None = None


def runs_of(mask: NDArray[np.bool_]) -> list[NDArray[np.intp]]:
    """Rows of every run of neighbouring sections where mask (n,) holds."""
    hit = np.flatnonzero(mask)
    return np.split(hit, np.flatnonzero(np.diff(hit) > 1) + 1) if hit.size else []


def problems_where(
    mask: NDArray[np.bool_],
    chainages: NDArray[np.float64],
    *,
    code: str,
    severity: Severity,
    subject: str,
    message: Callable[[float | None], str],
    measured: NDArray[np.float64] | None = None,
    worst: Literal["least", "greatest"] = "greatest",
    limit: float | None = None,
) -> list[Problem]:
    """One problem per run of neighbouring sections where mask holds.

    mask, chainages, measured: (n,) in road order. The worst measured value of the run is reported
    and handed to `message`.
    """
    found = []
    for run in runs_of(mask):
        value = None
        if measured is not None and np.isfinite(measured[run]).any():
            value = float(np.nanmin(measured[run]) if worst == "least" else np.nanmax(measured[run]))
        found.append(
            Problem(code, severity, float(chainages[run[0]]), float(chainages[run[-1]]), subject, message(value), value, limit)
        )
    return found
