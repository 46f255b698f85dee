"""Surfaces over the middles of the cells of a grid, whatever file it comes in."""

import numpy as np
from numpy.typing import NDArray

from saddle.errors import GeometryError, ImportProblem
from saddle.exchange.found import Found, NamedSurface
from saddle.exchange.tablebuilder import TableBuilder
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import FileUnit
from saddle.terrain.table import SkippedRow
from saddle.terrain.tin import Tin

#: Cells of a grid that is taken.
MOST_CELLS = 1_000_000


def check_size(columns: int, rows: int) -> None:
    """Raises ImportProblem for a grid that is too small or too large to be a surface, before its levels are read."""
    if columns < 2 or rows < 2:
        raise ImportProblem("the grid has fewer than two rows or columns", "file", "export it again")
    if columns * rows > MOST_CELLS:
        raise ImportProblem(
            f"the grid has {columns * rows:,} cells; at most {MOST_CELLS:,} are taken",
            "file",
            "cut it to the road, or make its cells larger",
        )


def surface_of(east: Floats, north: Floats, level: Floats, none: NDArray[np.bool_], name: str, unit: FileUnit) -> Found:
    """The surface of a grid. east, north, level: (rows, columns), m; none: whether a cell has no level: it leaves a gap. Raises
    ImportProblem where no four neighbours have levels."""
    rows, columns = level.shape
    points = np.column_stack([east.ravel(), north.ravel(), np.where(none, 0.0, level).ravel()])
    number = np.arange(rows * columns).reshape(rows, columns)
    a, b, c, d = (number[:-1, :-1].ravel(), number[1:, :-1].ravel(), number[1:, 1:].ravel(), number[:-1, 1:].ravel())
    triangles = np.concatenate([np.column_stack([a, b, c]), np.column_stack([a, c, d])])
    triangles = triangles[~none.ravel()[triangles].any(axis=1)]
    told = [SkippedRow(0, f"{int(none.sum()):,} cells without a level")] if none.any() else []
    try:
        tin = Tin.of(points, triangles)
    except GeometryError as error:
        raise ImportProblem("no four neighbouring cells of the grid have levels", "file", "export it again") from error
    return Found(TableBuilder().table(), [NamedSurface(name[:80], tin)], [], told, unit)
