"""How sheets look, as a document."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from saddle.documents_base import Document, Name
from saddle.sheets.lettering import HEIGHTS

Paper = Literal["A0", "A1", "A2", "A3", "A4", "ANSI B", "ANSI D"]
#: Landscape sizes, mm: ISO 216; ANSI/ASME Y14.1 has 11 x 17 and 22 x 34 inches.
PAPER: dict[Paper, tuple[float, float]] = {
    "A0": (1189.0, 841.0), "A1": (841.0, 594.0), "A2": (594.0, 420.0), "A3": (420.0, 297.0), "A4": (297.0, 210.0),
    "ANSI B": (431.8, 279.4), "ANSI D": (863.6, 558.8),
}  # fmt: skip
#: ISO 5455 reductions; 1:25 and 1:250 are not in the standard but common on roads.
Scale = Literal[20, 25, 50, 100, 200, 250, 500]


def _is_lettering(height: float) -> float:
    if height not in HEIGHTS:
        raise ValueError(f"lettering is {', '.join(map(str, HEIGHTS))} mm high")
    return height


TextHeight = Annotated[float, AfterValidator(_is_lettering)]
RowKind = Literal["point", "offset", "distance", "existing", "milled", "design", "difference", "depth", "crossfall"]


class SheetStyle(Document):
    """Paper, scales, lettering and figure rows of a set of section sheets. areas: of courses, milling, cut and fill beside each
    section; legend: the materials of each sheet; every: of the sections one in so many; untreated: sections where nothing is done too."""

    title: Name = "Cross-sections"
    drawing_number: Annotated[str, Field(max_length=40)] = "XS"
    author: Annotated[str, Field(max_length=80)] = ""
    paper: Paper = "A3"
    scale: Scale = 100
    vertical_scale: Scale = 100
    text_height: TextHeight = 1.8
    rows: Annotated[list[RowKind], Field(min_length=1, max_length=9)] = ["offset", "existing", "design", "difference"]
    beyond: Annotated[float, Field(ge=0, le=50, description="existing shown beyond the catch points, m")] = 1.5
    point_labels: bool = True
    areas: bool = False
    legend: bool = True
    every: Annotated[int, Field(ge=1, le=1000)] = 1
    untreated: bool = True

    def shown(self, treated: Sequence[bool]) -> list[int]:
        """Rows of the sections that are drawn, of all: treated where something is done. Of those that may be shown every so manieth,
        from the first on."""
        return [i for i, done in enumerate(treated) if done or self.untreated][:: self.every]
