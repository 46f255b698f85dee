"""Files of maps that GDAL reads: Shapefiles, packed into one archive with all their parts, and KML or KMZ."""

from collections.abc import Callable
from typing import Any

import shapely
import shapely.geometry

from saddle.errors import ImportProblem
from saddle.exchange.archive import names_in
from saddle.exchange.features import Features
from saddle.exchange.found import Found
from saddle.exchange.systems import code_of, read_in
from saddle.terrain.spec import FileUnit

#: How the library calls what has no name.
UNNAMED = "pyogrio_"
#: Features of a layer that are taken.
MOST_FEATURES = 500_000


def is_map(data: bytes) -> bool:
    """Whether a file is an archive with a Shapefile or a KML in it, or a KML. Raises ImportProblem as `names_in`."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \r\n\t")
    if head.startswith(b"<") and (b"<kml" in head or b"opengis.net/kml" in head):
        return True
    return any(name.lower().endswith((".shp", ".kml")) for name in names_in(data))


def read_map(
    data: bytes, progress: Callable[[float], None] = lambda _: None, unit: FileUnit | None = None, swapped: bool = False
) -> Found:
    """Points and lines of all layers; rings of areas are closed lines. unit: of coordinates, None for that of the file's reference
    system, metres where it says none. Raises ImportProblem for a file that is damaged."""
    import pyogrio  # it takes a third of a second, and few files need it
    from pyogrio.raw import read

    names_in(data)  # refuses what is packed far too tight
    try:
        layers = [str(name) for name, _ in pyogrio.list_layers(data)]
        parts = []
        for k, layer in enumerate(layers[:100]):
            # A layer without a name is called by the library as the file in memory, which is another one each time.
            named = "" if layer.startswith(UNNAMED) else layer
            parts.append((named, *read(data, layer=k, max_features=MOST_FEATURES, force_2d=False)))
            progress(0.4 * (k + 1) / len(layers))
    except Exception as error:  # the library raises many kinds on damaged files
        raise ImportProblem(
            "the map cannot be read: it is damaged, or a part of it is missing", "file",
            "put .shp, .shx, .dbf and .prj of it into one ZIP, or export it again as GeoPackage",
        ) from error  # fmt: skip
    systems = {code_of(meta["crs"]) for _, meta, *_ in parts}
    system = systems.pop() if len(systems) == 1 else ""
    taken, factor = read_in(system, unit)
    reader = Features(factor, (1, 0) if swapped else (0, 1))
    number = 0
    for layer, meta, _, geometry, fields in parts:
        names = [str(n) for n in meta["fields"]]
        for k, blob in enumerate(geometry if geometry is not None else []):
            number += 1
            shape = None if blob is None else shapely.from_wkb(blob)
            if shape is None or shape.is_empty:
                reader.tell(number, f"feature {number} of {layer[:80]} has no geometry")
                continue
            said = {n: _plain(column[k]) for n, column in zip(names, fields, strict=True)}
            reader.feature({"geometry": shapely.geometry.mapping(shape), "properties": said}, number, layer[:80])
        progress(0.4 + 0.6 * number / max(sum(len(p[3]) for p in parts if p[3] is not None), 1))
    return Found(reader.rows.table(), [], [], reader.all_told(), taken, asked=reader.asked, system=system)


def _plain(value: Any) -> Any:
    """A value without the library's kinds of nothing."""
    return None if value is None or value != value or str(value) == "NaT" else value.item() if hasattr(value, "item") else value
