"""Where a file lies: whether its coordinates can be what they are taken for.

Northing before easting, feet taken for metres, a local grid: each turns a survey into another place without a word. What is there
already tells (survey, alignment), and where nothing is there, the ranges that coordinates of map grids have.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import cKDTree

from saddle.exchange.found import Axes, Doubt
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import METRES_PER, FileUnit

#: A file whose points are mostly farther from what is there is asked about, m; so is one whose levels are.
FAR, FAR_IN_LEVEL = 5000.0, 300.0
#: Another reading is only offered where this one is farther off than that, m, and the other one so many times nearer.
APART, TIMES_NEARER = 50.0, 5.0
#: Points that are looked at, of the file and of what is there.
LOOKED_AT = 4000
#: By common practice: the easting of a map grid in metres has six figures before the point, its northing mostly seven.
GRID_EASTING, GRID_NORTHING = (100_000.0, 1_000_000.0), (1_000_000.0, 10_000_000.0)
_NOTHING: Mapping[Doubt, str] = {}


@dataclass(frozen=True, slots=True)
class Reading:
    """How coordinates are read. swapped: the other one of the two is taken for the easting; unit: of them and of levels, None for one that
    surveys are not drawn in."""

    swapped: bool = False
    unit: FileUnit | None = "metre"


@dataclass(frozen=True, slots=True, eq=False)
class Placed:
    """A file read in one way. places: (k, 3) some of its points, m; apart: from what is there, half of them are nearer, m; None where
    nothing is there."""

    reading: Reading
    places: Floats
    apart: float | None


@dataclass(frozen=True, slots=True, eq=False)
class Placing:
    """How a file lies as it is read. other: a reading that fits better, if there is one; doubts: what is asked about, with words."""

    read: Placed
    other: Placed | None
    doubts: dict[Doubt, str]


def judge(xyz: Floats, reading: Reading, there: Floats, asked: Mapping[Doubt, str] = _NOTHING, axes: Axes = "usual") -> Placing:
    """xyz: (n, 3) points of a file as they come of `reading`, m; there: (m, 3) points of what the project has, level NaN where it has
    none; asked: what the file leaves open, with words; axes: who says which coordinate is the easting."""
    some, there = _some(xyz), _some(there)
    tree = cKDTree(there[:, :2]) if len(there) else None
    read = _placed(some, reading, tree)
    other = None if len(some) == 0 else _better(some, read, tree, axes)
    doubts: dict[Doubt, str] = {}
    open_ = dict(asked)
    if axes == "unsaid" and other is None and len(some):
        turned = _placed(some[:, [1, 0, 2]], replace(reading, swapped=not reading.swapped), tree)
        if not _tells_apart(read, turned):
            doubts["northing first"], other = open_.get("northing first", ""), turned
    elif other is not None and other.reading.swapped != reading.swapped:
        if other.apart is None:
            doubts["northing first"] = "the eastings have seven figures and the northings six: they look exchanged"
        else:
            doubts["northing first"] = (
                f"with eastings and northings exchanged{_in(other, read)} the points would lie {_far(other.apart)} from what is there, "
                f"as they are read {_far(read.apart or 0.0)}"
            )
    elif other is not None:
        doubts["unit"] = (
            f"{_in(other, read).strip()} the points would lie {_far(other.apart or 0.0)} from what is there, as they are read {_far(read.apart or 0.0)}"
        )
    elif read.apart is not None and read.apart > FAR:
        doubts["far"] = f"the points lie {_far(read.apart)} from what is there"
    doubts |= {kind: words for kind, words in open_.items() if kind not in doubts and kind != "northing first"}
    if len(some) >= 3 and _degrees(some):
        doubts["degrees"] = "the coordinates look like degrees of longitude and latitude, not like lengths"
    levels = there[np.isfinite(there[:, 2]), 2]
    if len(some) and len(levels):
        apart = float(np.median(some[:, 2]) - np.median(levels))
        if abs(apart) > FAR_IN_LEVEL:
            doubts["level"] = f"the levels lie {_far(abs(apart))} {'above' if apart > 0 else 'below'} those that are there"
    return Placing(read, other, doubts)


def _some(xyz: Floats) -> Floats:
    """Not more than LOOKED_AT points, over all of them alike."""
    return np.asarray(xyz[:: max(1, -(-len(xyz) // LOOKED_AT))], dtype=float).reshape(-1, 3)


def _placed(places: Floats, reading: Reading, there: cKDTree | None) -> Placed:
    if there is None or len(places) == 0:
        return Placed(reading, places, None)
    return Placed(reading, places, float(np.median(there.query(places[:, :2])[0])))


def _others(some: Floats, reading: Reading) -> Iterator[tuple[Reading, Floats]]:
    for unit in METRES_PER if reading.unit is not None else (None,):
        scaled = some * factor(reading, replace(reading, unit=unit))
        for swapped in (reading.swapped, not reading.swapped):
            other = replace(reading, swapped=swapped, unit=unit)
            if other != reading:
                yield other, scaled if swapped == reading.swapped else scaled[:, [1, 0, 2]]


def factor(read: Reading, other: Reading) -> float:
    """By how much lengths are greater in another reading."""
    return 1.0 if read.unit is None or other.unit is None else METRES_PER[other.unit] / METRES_PER[read.unit]


def _tells_apart(read: Placed, turned: Placed) -> bool:
    """Whether what is there says that the coordinates are not exchanged."""
    if read.apart is None or turned.apart is None:
        return False
    return read.apart * TIMES_NEARER < turned.apart and turned.apart > APART


def _better(some: Floats, read: Placed, there: cKDTree | None, axes: Axes) -> Placed | None:
    """The reading that fits much better. Feet of the two kinds differ by 2 mm in a kilometre: the one that is nearer is told only where
    that tells them apart."""
    if there is None:
        if axes != "said" and _within(some[:, 0], GRID_NORTHING) and _within(some[:, 1], GRID_EASTING):
            return Placed(replace(read.reading, swapped=not read.reading.swapped), some[:, [1, 0, 2]], None)
        return None
    if read.apart is None or read.apart <= APART:
        return None
    best = min((_placed(places, r, there) for r, places in _others(some, read.reading)), key=lambda p: p.apart or 0.0)
    return best if best.apart is not None and best.apart * TIMES_NEARER < read.apart else None


def _within(values: Floats, limits: tuple[float, float]) -> bool:
    return bool(((values >= limits[0]) & (values < limits[1])).all())


def _degrees(some: Floats) -> bool:
    east, north = np.abs(some[:, 0]), np.abs(some[:, 1])
    span = float(np.ptp(some[:, :2], axis=0).max())
    return bool((east <= 180).all() and (north <= 90).all() and 0 < span < 1)


UNIT_WORDS: dict[FileUnit | None, str] = {"metre": "metres", "foot": "feet", "us_survey_foot": "US survey feet"}


def _in(other: Placed, read: Placed) -> str:
    return f" in {UNIT_WORDS[other.reading.unit]}" if other.reading.unit != read.reading.unit else ""


def _far(metres: float) -> str:
    return f"{metres / 1000:,.1f} km" if metres >= 1000 else f"{metres:.0f} m"
