"""Surfaces out of GeoTIFF grids of levels (OGC GeoTIFF 1.1), read by rasterio."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.found import Found
from saddle.exchange.grids import check_size, surface_of
from saddle.exchange.systems import code_of, in_degrees
from saddle.terrain.spec import METRES_PER, FileUnit

#: How TIFF files begin (TIFF 6.0, section 2), and the larger ones of more than 4 GB.
BEGINNINGS = (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")


def is_tiff(data: bytes) -> bool:
    """Whether a file begins as one."""
    return data.startswith(BEGINNINGS)


def read_geotiff(
    data: bytes, name: str, progress: Callable[[float], None] = lambda _: None, unit: FileUnit | None = None
) -> Found:
    """The grid as one surface over the middles of its cells; cells without a level leave a gap. unit: None for that of the file's
    reference system, metres where it says none. Raises ImportProblem naming what is wrong."""
    import rasterio  # it takes half a second, and few files need it
    from rasterio.io import MemoryFile

    if not is_tiff(data):
        raise ImportProblem("the file is no GeoTIFF", "file", "export the grid again")
    try:
        with rasterio.Env(GDAL_DISABLE_READDIR_ON_OPEN="EMPTY_DIR"), MemoryFile(data) as file, file.open(driver="GTiff") as grid:
            if grid.count != 1 or "complex" in grid.dtypes[0]:
                raise ImportProblem(
                    f"it is a picture of {grid.count} channels, not a grid of levels", "file", "export the levels"
                )
            if grid.transform.is_identity:
                raise ImportProblem("the grid does not say where it lies", "file", "export it with its place, as GeoTIFF")
            check_size(grid.width, grid.height)
            said, system = _unit_of(grid.crs), code_of(grid.crs.to_wkt()) if grid.crs else ""
            band = grid.read(1, masked=True)
            level = np.ma.getdata(band).astype(float) * grid.scales[0] + grid.offsets[0]
            none = np.ma.getmaskarray(band) | ~np.isfinite(level)
            column, row = np.meshgrid(np.arange(grid.width) + 0.5, np.arange(grid.height) + 0.5)
            at = grid.transform
            east, north = at.a * column + at.b * row + at.c, at.d * column + at.e * row + at.f
    except ImportProblem:
        raise
    except Exception as error:  # the library raises many kinds on damaged files
        raise ImportProblem(
            "the file cannot be read as GeoTIFF: it is damaged or cut short", "file", "export it again"
        ) from error
    progress(0.8)
    taken = unit or said
    factor = 1.0 if system and in_degrees(system) else METRES_PER[taken]
    found = surface_of(east * factor, north * factor, level * factor, none, name, taken)
    progress(1.0)
    return replace(found, system=system)


def _unit_of(system: Any) -> FileUnit:
    """Of a reference system in plan; metres where it says none, or degrees, which are asked about by where the file then lies."""
    if system is None or not system.is_projected:
        return "metre"
    factor = system.linear_units_factor[1]
    return min(METRES_PER, key=lambda unit: abs(METRES_PER[unit] - factor))
