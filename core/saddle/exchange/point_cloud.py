"""Point clouds (LAS 1.0 to 1.4 and LAZ, ASPRS) thinned to what a surface needs: one point of every square of a grid, and of
these only what tells its shape."""

import io
from collections.abc import Callable
from dataclasses import dataclass

import laspy
import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.found import Found
from saddle.exchange.systems import code_of, in_degrees, read_in, to_grid, utm_of
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import FileUnit, Thinning
from saddle.terrain.table import SkippedRow, SurveyTable
from saddle.terrain.thinning import needed

#: Points that are taken at once; memory stays flat however many there are.
CHUNK = 1_000_000
#: A packed cloud has no more points than this for a byte of its file.
POINTS_A_BYTE = 10
#: A cloud is thinned to no more points than this; where the squares leave more, they are made larger.
MOST_POINTS = 1_000_000
#: Classes of the standard: ground and model key points.
GROUND = (2, 8)
#: Classes that are no surface: noise, low and high.
NOISE = (7, 18)
#: Code of the points.
CODE = "GR"


@dataclass(slots=True)
class _Squares:
    """One point a square. low: corner of the grid; key: (n, 2) squares; xyz: (n, 3), sums where the mean is kept; count: (n,)."""

    size: float
    mean: bool
    low: Floats
    key: np.ndarray
    xyz: Floats
    count: np.ndarray

    def add(self, xyz: Floats) -> None:
        key = np.floor((xyz[:, :2] - self.low) / self.size).astype(np.int64)
        self._reduce(np.vstack([self.key, key]), np.vstack([self.xyz, xyz]), np.r_[self.count, np.ones(len(xyz), dtype=np.int64)])
        while len(self.key) > MOST_POINTS:
            self.size *= 2
            self._reduce(self.key // 2, self.xyz, self.count)

    def _reduce(self, key: np.ndarray, xyz: Floats, count: np.ndarray) -> None:
        """The lowest point of every square, or the sums of all in it."""
        order = np.lexsort((xyz[:, 2], key[:, 1], key[:, 0]))
        key, xyz, count = key[order], xyz[order], count[order]
        first = np.flatnonzero(np.r_[True, (np.diff(key, axis=0) != 0).any(axis=1)]) if len(key) else np.empty(0, dtype=np.intp)
        self.key = key[first]
        self.xyz = np.add.reduceat(xyz, first, axis=0) if self.mean and len(first) else xyz[first]
        self.count = np.add.reduceat(count, first) if len(first) else count

    def points(self) -> Floats:
        return self.xyz / self.count[:, None] if self.mean else self.xyz


def read_cloud(
    data: bytes,
    thinning: Thinning,
    progress: Callable[[float], None] = lambda _: None,
    unit: FileUnit | None = None,
    swapped: bool = False,
) -> Found:
    """The ground of a cloud, thinned. Where points are classified only ground is taken; noise and what is withheld
    only where `thinning` says so. unit: None for that of its reference system, metres where it says none; swapped:
    northing first. Raises ImportProblem for a file that is no LAS, or is cut short."""
    try:
        with laspy.open(io.BytesIO(data)) as source:
            total = int(source.header.point_count)
            if total > POINTS_A_BYTE * len(data):
                raise ImportProblem(
                    f"the file says that it holds {total:,} points, far more than a file of its size can", "file",
                    "it may be damaged or cut short: export it again",
                )  # fmt: skip
            system = _system(source.header)
            taken, factor = read_in(system, unit)
            # Squares are in metres: what is in degrees is converted as it is read.
            grid = "" if not system or not in_degrees(system) else utm_of(*source.header.mins[:2])
            turned = to_grid(system, grid) if grid else None
            squares: _Squares | None = None
            read, used, classed = 0, 0, False
            for chunk in source.chunk_iterator(CHUNK):
                kinds = np.asarray(chunk.classification)
                ground = np.isin(kinds, GROUND)
                if not classed and ground.any() and not thinning.doubtful:
                    squares, used, classed = None, 0, True  # what came before was none
                keep = ground if classed else ~np.isin(kinds, NOISE)
                if thinning.doubtful:
                    keep = np.ones(len(kinds), dtype=bool)
                else:
                    keep &= np.asarray(chunk.withheld) == 0
                xyz = np.column_stack([np.asarray(chunk.x), np.asarray(chunk.y), np.asarray(chunk.z)])[keep] * factor
                xyz = xyz if turned is None else turned(xyz)
                xyz = xyz[np.isfinite(xyz).all(axis=1) & (np.abs(xyz) < 1e9).all(axis=1)]
                xyz = xyz[:, [1, 0, 2]] if swapped else xyz
                read, used = read + len(kinds), used + len(xyz)
                if len(xyz) == 0:
                    continue
                if squares is None:
                    empty = np.empty((0, 3))
                    squares = _Squares(
                        thinning.square, thinning.keep == "mean", xyz[:, :2].min(axis=0), np.empty((0, 2), dtype=np.int64), empty,
                        np.empty(0, dtype=np.int64),
                    )  # fmt: skip
                squares.add(xyz)
                progress((1.0 if thinning.within is None else 0.6) * read / max(total, 1))
    except ImportProblem:
        raise
    except Exception as error:  # the library raises many kinds on damaged files
        raise ImportProblem(
            "the file cannot be read as a point cloud: it is damaged or cut short", "file", "export it again as LAS or LAZ"
        ) from error
    if squares is None:
        raise ImportProblem("the point cloud holds no point that can be used", "file", "export it with its ground points")
    points = squares.points()
    what = "ground points" if classed else "points"
    kept = "mean" if squares.mean else "lowest point"
    told = [
        SkippedRow(0, f"{used:,} {what} of {read:,} thinned to {len(points):,}: the {kept} of every {squares.size:g} m square")
    ]
    if thinning.within is not None:
        points = points[needed(points, thinning.within, lambda share: progress(0.6 + 0.4 * share))]
        told.append(
            SkippedRow(
                0,
                f"{len(points):,} of them are kept: the others lie within {1000 * thinning.within:g} mm of the surface over these",
            )
        )
    if read < total:
        told.append(SkippedRow(0, f"the file is cut short: it says {total:,} points and holds {read:,}"))
    n = len(points)
    table = SurveyTable(
        [f"C{k}" for k in range(1, n + 1)], points, [CODE] * n, [""] * n, np.arange(n), np.zeros(n, dtype=int),
    )  # fmt: skip
    return Found(table, [], [], told, taken, system=grid or system)


def _system(header: laspy.LasHeader) -> str:
    """The reference system that a cloud says, nothing where it says none that can be read."""
    try:
        return code_of(header.parse_crs())
    except Exception:  # the library raises many kinds on records that are damaged
        return ""


def is_cloud(data: bytes) -> bool:
    """Whether a file begins as one."""
    return data.startswith(b"LASF")
