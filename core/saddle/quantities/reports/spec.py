"""Reports as documents: what a table lists, with which columns, under which headings."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from saddle.documents_base import Chainage, Document, Name, NotNegative
from saddle.figures import Kind
from saddle.views.report import COLUMNS

#: What there is a row for.
Of = Literal["treatments", "materials", "pay_items", "sections", "points"]
#: Columns by what there is a row for: the field, its usual heading, and its kind of figure, None for words.
FIELDS: dict[Of, dict[str, tuple[str, Kind | None]]] = {
    "treatments": {
        "treatment": ("Treatment", None), "from": ("From m", "chainage"), "to": ("To m", "chainage"), "item": ("Item", None),
        "material": ("Material", None), "volume": ("Volume m3", "volume"), "mass": ("Mass t", "mass"), "length": ("Length m", "length"), "pieces": ("Pieces", "count"),
        "area": ("Area m2", "volume"), "unknown": ("Not known over m", "length"),
    },
    "materials": {
        "material": ("Material", None), "volume": ("Volume m3", "volume"), "mass": ("Mass t", "mass"),
        "unknown": ("Not known over m", "length"),
    },
    "pay_items": {
        "number": ("Number", None), "item": ("Item", None), "material": ("Material", None), "unit": ("Unit", None),
        "quantity": ("Quantity", "volume"), "rate": ("Rate", "money"), "amount": ("Amount", "money"),
        "unknown": ("Not known over m", "length"),
    },
    "sections": {
        "side": ("Side", None), "treatment": ("Treatment", None), "template": ("Template", None),
        **{field: (heading, kind) for field, (heading, kind, _) in COLUMNS.items()},
        "cut": ("Cut m2", "area"), "fill": ("Fill m2", "area"), "milling": ("Milling m2", "area"),
        "cut_to_here": ("Cut to here m3", "volume"), "fill_to_here": ("Fill to here m3", "volume"),
        "balance": ("Cut less fill to here m3", "volume"),
    },
    "points": {
        "chainage": ("Chainage m", "chainage"), "side": ("Side", None), "template": ("Template", None), "point": ("Point", None),
        "offset": ("Offset m", "offset"), "east": ("East m", "level"), "north": ("North m", "level"), "level": ("Level m", "level"),
        "existing": ("Existing m", "level"), "difference": ("Difference mm", "depth"),
    },
}  # fmt: skip


class ReportColumn(Document):
    """A column. heading: empty for the usual one; decimals: None for those of its kind."""

    field: Annotated[str, Field(min_length=1, max_length=40)]
    heading: Annotated[str, Field(max_length=60)] = ""
    decimals: Annotated[int, Field(ge=0, le=6)] | None = None


class PayItem(Document):
    """How an item is paid for. item, material: as the quantities call them, no material for all; number: in the bill; rate: money a
    unit."""

    item: Name
    material: Annotated[str, Field(max_length=80)] = ""
    number: Annotated[str, Field(max_length=40)] = ""
    unit: Literal["m3", "t", "m", "m2", "piece"] = "m3"
    rate: NotNegative = 0.0


class ReportLayout(Document):
    """A report. from, to: the part of the road that it is about, None to its ends; totals: rows of sums where sums mean something;
    items: of quantities only these names, none given for all; points: only these, none given for all."""

    name: Name = "Layer quantities"
    of: Of = "treatments"
    columns: Annotated[list[ReportColumn], Field(min_length=1, max_length=40)] = [
        ReportColumn(field=f) for f in ("treatment", "from", "to", "item", "material", "volume", "mass")
    ]
    from_chainage: Chainage | None = None
    to_chainage: Chainage | None = None
    totals: bool = True
    items: Annotated[list[Name], Field(max_length=100)] = []
    points: Annotated[list[Name], Field(max_length=100)] = []
    pay_items: Annotated[list[PayItem], Field(max_length=500)] = []

    @model_validator(mode="after")
    def _columns_are_there(self) -> Self:
        for column in self.columns:
            if column.field not in FIELDS[self.of]:
                raise ValueError(f"there is no column {column.field} here: use {', '.join(FIELDS[self.of])}")
        return self
