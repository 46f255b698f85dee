"""Surfaces out of text grids (ARC/INFO ASCII grid): a head of words and figures, then rows of levels from north to south."""

from collections.abc import Callable

import numpy as np

from saddle.errors import GeometryError, ImportProblem
from saddle.exchange.found import Found, NamedSurface
from saddle.exchange.tablebuilder import TableBuilder
from saddle.terrain.spec import METRES_PER, FileUnit
from saddle.terrain.table import SkippedRow
from saddle.terrain.tin import Tin

#: Cells of a grid that is taken.
MOST_CELLS = 1_000_000
WORDS = ("ncols", "nrows", "xllcorner", "xllcenter", "yllcorner", "yllcenter", "cellsize", "nodata_value")


def is_grid(head: bytes) -> bool:
    """Whether a file begins as one."""
    return head[:200].lstrip().lower().startswith((b"ncols", b"nrows"))


def read_grid(data: bytes, name: str, progress: Callable[[float], None] = lambda _: None, unit: FileUnit | None = None) -> Found:
    """The grid as one surface over the middles of its cells; cells without a level leave a gap. unit: None for metres. Raises
    ImportProblem naming what is wrong."""
    said, rows = _head(data)
    columns, lines, size = int(said["ncols"]), int(said["nrows"]), said["cellsize"]
    if columns < 2 or lines < 2 or size <= 0:
        raise ImportProblem("the grid has fewer than two rows or columns, or cells without a size", "file", "export it again")
    if columns * lines > MOST_CELLS:
        raise ImportProblem(
            f"the grid has {columns * lines:,} cells; at most {MOST_CELLS:,} are taken",
            "file",
            "cut it to the road, or make its cells larger",
        )
    try:
        z = np.array(rows.split(), dtype=float)
    except ValueError as error:
        raise ImportProblem("a level of the grid is not a number", "file", "export it again") from error
    if z.size != columns * lines:
        raise ImportProblem(
            f"the grid holds {z.size:,} levels, not {lines:,} rows of {columns:,}",
            "file",
            "the file may be cut short: export it again",
        )
    progress(0.5)
    none = ~np.isfinite(z) | (z == said.get("nodata_value", -9999.0))
    factor = METRES_PER[unit or "metre"]
    half = {side: 0.0 if f"{side}llcenter" in said else size / 2 for side in "xy"}
    west, south = (said.get(f"{s}llcorner", said.get(f"{s}llcenter", 0.0)) + half[s] for s in "xy")
    east, north = np.meshgrid(west + size * np.arange(columns), south + size * np.arange(lines)[::-1])
    points = np.column_stack([east.ravel(), north.ravel(), np.where(none, 0.0, z)]) * factor
    number = np.arange(columns * lines).reshape(lines, columns)
    a, b, c, d = (number[:-1, :-1].ravel(), number[1:, :-1].ravel(), number[1:, 1:].ravel(), number[:-1, 1:].ravel())
    triangles = np.concatenate([np.column_stack([a, b, c]), np.column_stack([a, c, d])])
    triangles = triangles[~none[triangles].any(axis=1)]
    used = np.unique(triangles)
    place = np.full(columns * lines, -1)
    place[used] = np.arange(len(used))
    told = [SkippedRow(0, f"{int(none.sum()):,} cells without a level")] if none.any() else []
    try:
        tin = Tin(points[used], place[triangles].astype(np.int32))
    except GeometryError as error:
        raise ImportProblem("no four neighbouring cells of the grid have levels", "file", "export it again") from error
    progress(1.0)
    return Found(TableBuilder().table(), [NamedSurface(name[:80], tin)], [], told, unit or "metre")


def _head(data: bytes) -> tuple[dict[str, float], str]:
    """What the head says, and the text behind it. Raises ImportProblem where something that is needed is not said."""
    lines = data.decode("latin-1").splitlines()
    said: dict[str, float] = {}
    for k, line in enumerate(lines[:20]):
        words = line.split()
        if len(words) != 2 or words[0].lower() not in WORDS:
            lines = lines[k:]
            break
        try:
            said[words[0].lower()] = float(words[1])
        except ValueError as error:
            raise ImportProblem(f"{words[0]} of the grid is not a number", f"line {k + 1}", "export it again") from error
    missing = [w for w in ("ncols", "nrows", "cellsize") if w not in said]
    if missing or not all(np.isfinite(list(said.values()))):
        raise ImportProblem(
            f"the head of the grid does not say {', '.join(missing) or 'finite figures'}", "line 1", "export it again"
        )
    return said, "\n".join(lines)
