"""How a drawing is taken in: its unit, its layers, its blocks."""

from typing import Annotated, Literal

from pydantic import Field

from saddle.documents_base import Document
from saddle.terrain.spec import METRES_PER, FileUnit

DrawingUnit = Literal["metre", "foot", "us_survey_foot", "millimetre", "centimetre", "kilometre", "inch", "yard"]
#: Metres per unit of a drawing.
METRES: dict[DrawingUnit, float] = {
    "metre": METRES_PER["metre"], "foot": METRES_PER["foot"], "us_survey_foot": METRES_PER["us_survey_foot"], "millimetre": 0.001, "centimetre": 0.01, "kilometre": 1000.0, "inch": 0.0254, "yard": 0.9144,
}  # fmt: skip
#: Units by $INSUNITS (DXF reference); 0 is a drawing that does not say.
UNITS: dict[int, DrawingUnit] = {
    1: "inch", 2: "foot", 4: "millimetre", 5: "centimetre", 6: "metre", 7: "kilometre", 10: "yard", 21: "us_survey_foot",
}  # fmt: skip
#: Units that surveys are drawn in; any other one is a habit of the program that wrote it until a person says so.
OF_SURVEYS: tuple[FileUnit, ...] = ("metre", "foot", "us_survey_foot")
Counts = Literal["code", "breaklines", "points", "boundary", "structures", "background"]
_Name = Annotated[str, Field(max_length=255)]


class LayerRule(Document):
    """A layer of a drawing. code: that its points get, empty for the layer's name; counts: as what, by the code list unless it is said
    here."""

    layer: _Name
    take: bool = True
    code: Annotated[str, Field(max_length=80)] = ""
    counts: Counts = "code"


class BlockRule(Document):
    """A block of a drawing. point: every insert is a point, otherwise what the block holds is taken; number, code, level: the attributes
    that say them, empty for none."""

    block: _Name
    point: bool = True
    number: _Name = ""
    code: _Name = ""
    level: _Name = ""


class DrawingMapping(Document):
    """How a drawing is read. unit: None for what the drawing says; swapped: its first coordinate is the northing; zero: whether level 0 is a level, or nobody gave one; texts: levels of
    points without one come from texts beside them. Layers and blocks that are not named are read in the usual way."""

    unit: DrawingUnit | None = None
    swapped: bool = False
    zero: Literal["guess", "take", "leave"] = "guess"
    texts: bool = False
    layers: Annotated[list[LayerRule], Field(max_length=5000)] = []
    blocks: Annotated[list[BlockRule], Field(max_length=2000)] = []
