"""A bill as it is printed: every figure rounded to what is written, and sums of those, so that whoever adds up the page gets the total."""

from saddle.figures import FIGURES
from saddle.quantities.takeoff import Quantities, QuantityGroup, QuantityRow

#: How bills are rounded, in words.
ROUNDING = "Every figure is rounded to what is written; totals are sums of what is written."
#: Decimals of the figures of a quantity.
DECIMALS = {
    "volume": FIGURES["volume"].decimals, "mass": FIGURES["mass"].decimals, "length": FIGURES["length"].decimals,
    "area": FIGURES["volume"].decimals, "unknown_length": FIGURES["length"].decimals,
}  # fmt: skip


def printed(value: float | None, decimals: int) -> float | None:
    """A figure as it is written, without the sign of nothing."""
    return None if value is None else round(value, decimals) + 0.0


def as_printed(found: Quantities) -> Quantities:
    """The bill with every figure of its treatments rounded, and their sums as its total. What rounds to nothing stays in the list."""
    groups = [g.model_copy(update={"rows": [_rounded(r) for r in g.rows]}) for g in found.groups]
    return found.model_copy(update={"groups": groups, "total": _total(found.total, groups)})


def _rounded(row: QuantityRow) -> QuantityRow:
    return row.model_copy(update={name: printed(getattr(row, name), d) for name, d in DECIMALS.items()})


def _total(total: QuantityGroup, groups: list[QuantityGroup]) -> QuantityGroup:
    rows = []
    for row in total.rows:
        parts = [r for g in groups for r in g.rows if (r.kind, r.name, r.key) == (row.kind, row.name, row.key)]
        sums: dict[str, float | None] = {
            name: printed(sum(v for p in parts if (v := getattr(p, name)) is not None), d)
            for name, d in DECIMALS.items()
            if getattr(row, name) is not None
        }
        if row.pieces is not None:
            # Every treatment is built on its own: a piece that is cut serves one of them.
            sums["pieces"] = sum(p.pieces or 0 for p in parts)
        rows.append(row.model_copy(update=sums))
    return total.model_copy(update={"rows": rows})
