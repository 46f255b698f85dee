"""A bill as it is printed: every figure rounded to what is written, and sums of those, so that whoever adds up the page gets the total."""

from collections.abc import Sequence

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
    parts = [row for group in groups for row in group.rows]
    return total.model_copy(update={"rows": [_summed(row, parts) for row in total.rows]})


def added_up(bills: Sequence[Sequence[QuantityRow]]) -> list[QuantityRow]:
    """The printed totals of several roads as one: what is the same item on them, added up in the order in which items first come."""
    parts = [row for bill in bills for row in bill]
    first: dict[tuple[str, str, str], QuantityRow] = {}
    for row in parts:
        first.setdefault(identity(row), row)
    return [_summed(row, parts) for row in first.values()]


def identity(row: QuantityRow) -> tuple[str, str, str]:
    """What is the same item of several treatments, or on several roads."""
    return row.kind, row.name, row.key


def _summed(row: QuantityRow, among: list[QuantityRow]) -> QuantityRow:
    parts = [r for r in among if identity(r) == identity(row)]
    sums: dict[str, float | None] = {
        name: printed(sum(v for p in parts if (v := getattr(p, name)) is not None), d)
        for name, d in DECIMALS.items()
        if any(getattr(p, name) is not None for p in (row, *parts))
    }
    if row.pieces is not None:
        # Every treatment is built on its own: a piece that is cut serves one of them.
        sums["pieces"] = sum(p.pieces or 0 for p in parts)
    return row.model_copy(update=sums)
