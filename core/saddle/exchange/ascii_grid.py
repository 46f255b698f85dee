"""Surfaces out of text grids (ARC/INFO ASCII grid): a head of words and figures, then rows of levels from north to south."""

from collections.abc import Callable

import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.found import Found
from saddle.exchange.grids import check_size, surface_of
from saddle.terrain.spec import METRES_PER, FileUnit

WORDS = ("ncols", "nrows", "xllcorner", "xllcenter", "yllcorner", "yllcenter", "cellsize", "nodata_value")


def is_grid(head: bytes) -> bool:
    """Whether a file begins as one."""
    return head[:200].lstrip().lower().startswith((b"ncols", b"nrows"))


def read_grid(data: bytes, name: str, progress: Callable[[float], None] = lambda _: None, unit: FileUnit | None = None) -> Found:
    """The grid as one surface over the middles of its cells; cells without a level leave a gap. unit: None for metres. Raises
    ImportProblem naming what is wrong."""
    said, rows = _head(data)
    if not said["cellsize"] > 0:
        raise ImportProblem("the cells of the grid have no size", "line 1", "export it again")
    columns, lines, size = int(said["ncols"]), int(said["nrows"]), said["cellsize"]
    check_size(columns, lines)
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
    z = z.reshape(lines, columns)
    none = ~np.isfinite(z) | (z == said.get("nodata_value", -9999.0))
    factor = METRES_PER[unit or "metre"]
    half = {side: 0.0 if f"{side}llcenter" in said else size / 2 for side in "xy"}
    west, south = (said.get(f"{s}llcorner", said.get(f"{s}llcenter", 0.0)) + half[s] for s in "xy")
    east, north = np.meshgrid(west + size * np.arange(columns), south + size * np.arange(lines)[::-1])
    found = surface_of(east * factor, north * factor, z * factor, none, name, unit or "metre")
    progress(1.0)
    return found


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
