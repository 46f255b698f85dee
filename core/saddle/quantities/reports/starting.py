"""The reports that the library begins with and that a new project has."""

from saddle.quantities.reports.spec import Of, ReportColumn, ReportLayout


def _layout(name: str, of: Of, *fields: str, totals: bool = True, items: tuple[str, ...] = ()) -> ReportLayout:
    return ReportLayout(name=name, of=of, columns=[ReportColumn(field=f) for f in fields], totals=totals, items=list(items))


REPORTS: dict[str, ReportLayout] = {
    "layers": _layout(
        "Layer quantities by treatment", "treatments", "treatment", "from", "to", "item", "material", "volume", "mass", "length", "unknown"
    ),
    "materials": _layout("Quantities by material", "materials", "material", "volume", "mass", "unknown"),
    "milling": _layout("Milling", "treatments", "treatment", "from", "to", "item", "area", "volume", "unknown", items=("Milling",)),
    "pay_items": _layout("Bill of quantities", "pay_items", "number", "item", "material", "unit", "quantity", "rate", "amount", "unknown"),
    "overlay": _layout(
        "Overlay, section by section", "sections", "chainage", "side", "existing", "design", "left_pct", "right_pct", "left_depth",
        "hinge_depth", "right_depth", "least", "greatest", "mean", "milled", totals=False,
    ),
    "setting_out": _layout(
        "Levels for setting out", "points", "chainage", "point", "offset", "east", "north", "level", "difference", totals=False
    ),
    "earthworks": _layout(
        "Cut and fill with running totals", "sections", "chainage", "side", "cut", "fill", "cut_to_here", "fill_to_here", "balance",
        totals=False,
    ),
}  # fmt: skip
