"""A report's table: rows of words and figures under its columns. What there is a row for is a function of ROWS."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import numpy as np

from saddle import tolerances
from saddle.alignment.equations import shown
from saddle.figures import FIGURES, Kind, with_decimals
from saddle.geometry.polylines import Floats, interpolate
from saddle.quantities.bill import printed
from saddle.quantities.reports.spec import FIELDS, Of, PayItem, ReportLayout
from saddle.quantities.takeoff import QuantityRow, amounts_of, share_of, take_off
from saddle.road.intervals import intervals
from saddle.road.model import RoadModel
from saddle.views.report import COLUMNS

Cell = str | float | None
Row = dict[str, Cell]


@dataclass(frozen=True, slots=True)
class Head:
    """A column's heading, its kind of figure (None for words) and how many decimals are written."""

    title: str
    kind: Kind | None
    decimals: int


@dataclass(frozen=True, slots=True)
class ReportTable:
    """strong: numbers of the rows that are sums. sums, products: cells (row, column) that are the sum of the cells of other rows, and
    the product of two columns of their own row. note: what belongs above the table."""

    name: str
    heads: list[Head]
    rows: list[list[Cell]]
    strong: list[int] = field(default_factory=list)
    note: str = ""
    sums: dict[tuple[int, int], list[int]] = field(default_factory=dict)
    products: dict[tuple[int, int], tuple[int, int]] = field(default_factory=dict)


#: Reports that are bills: their figures add up as they are written.
BILLS: tuple[Of, ...] = ("treatments", "materials", "pay_items")
#: Figures of a bill, with their kinds.
PRINTED: dict[str, Kind] = {
    "volume": "volume", "mass": "mass", "length": "length", "area": "volume", "quantity": "volume", "unknown": "length",
}  # fmt: skip
#: Fields of quantities that are added up.
SUMS = ("volume", "mass", "length", "area", "pieces", "amount")
SIDES = {-1: "before", 0: "", 1: "after"}


def report(model: RoadModel, layout: ReportLayout) -> ReportTable:
    """The table of a layout."""
    fields = FIELDS[layout.of]
    heads = []
    for column in layout.columns:
        title, kind = fields[column.field]
        decimals = column.decimals if column.decimals is not None else FIGURES[kind].decimals if kind else 0
        heads.append(Head(column.heading or title, kind, decimals))
    rows = list(ROWS[layout.of](model, layout))
    at = {c.field: k for k, c in enumerate(layout.columns)}
    if layout.of in BILLS:
        rows = [_as_printed(row, {c.field: h.decimals for c, h in zip(layout.columns, heads, strict=True)}) for row in rows]
    products = {}
    if {"quantity", "rate", "amount"} <= set(at):
        products = {
            (i, at["amount"]): (at["quantity"], at["rate"]) for i, row in enumerate(rows) if row.get("amount") is not None
        }
    totals = _sums(model, rows, layout) if layout.totals and rows else []
    strong = [len(rows) + k for k in range(len(totals))]
    sums = {
        (i, at[name]): of
        for i, (row, of) in zip(strong, totals, strict=True)
        for name in (*SUMS, "unknown")
        if name in at and row.get(name) is not None
    }
    table = [[row.get(c.field) for c in layout.columns] for row in (*rows, *(row for row, _ in totals))]
    return ReportTable(layout.name, heads, table, strong, _note(model, layout), sums, products)


def _as_printed(row: Row, decimals: dict[str, int]) -> Row:
    """A row of a bill with its figures as they are written, so that whoever adds up the page, or multiplies, gets what is there."""
    out = dict(row)
    for name, kind in PRINTED.items():
        if isinstance(value := row.get(name), float):
            out[name] = printed(value, decimals.get(name, FIGURES[kind].decimals))
    quantity, rate = out.get("quantity"), row.get("rate")
    if isinstance(quantity, float) and isinstance(rate, float):
        out["amount"] = printed(quantity * rate, decimals.get("amount", FIGURES["money"].decimals))
    return out


def _sums(model: RoadModel, rows: list[Row], layout: ReportLayout) -> list[tuple[Row, list[int]]]:
    """The rows of totals, each with the numbers of those that it sums: what is built and dug does not add up, so there is one for each
    item and material of the treatments; one in all of the materials that are placed, and of what is paid."""
    if layout.of not in BILLS:
        return []
    shown = [c.field for c in layout.columns]
    alike: list[str] = [f for f in ("item", "material") if f in shown] if layout.of == "treatments" else []
    order: dict[tuple[Cell, Cell], int] = (
        {(r.name, r.material or None): k for k, r in enumerate(_quantities(model, layout))} if alike else {}
    )
    found: dict[tuple[Cell, ...], tuple[Row, list[int]]] = {}
    numbered = list(enumerate(rows))
    for i, row in sorted(numbered, key=lambda r: order.get((r[1]["item"], r[1]["material"]), 0)) if alike else numbered:
        key = tuple(row.get(f) for f in alike)
        said = dict(zip(alike, key, strict=True))
        out, of = found.setdefault(key, ({**said, shown[0]: f"Total {said.get(shown[0]) or ''}".strip()}, []))
        of.append(i)
        # Lengths of treatments lie beside each other, those of materials on one another.
        for name in (*SUMS, "unknown") if alike else SUMS:
            if isinstance(figure := row.get(name), float):
                out[name] = round(float(out.get(name) or 0.0) + figure, 6)
    return list(found.values())


def _note(model: RoadModel, layout: ReportLayout) -> str:
    """Over which part of the road volumes are reckoned, and over how much of it they are not known."""
    if layout.of == "points":
        return ""
    out: list[str] = []
    low, high = _range(model, layout)
    ranged = layout.from_chainage is not None or layout.to_chainage is not None
    if ranged and high > low:
        first, last = shown(np.array([low, high]), model.inputs.alignment.equations)
        out.append(f"From {first:.3f} to {last:.3f}.")
    elif ranged:
        out.append("Nothing lies within the range.")
    if layout.of == "sections":
        unknown = _unknown_earth(model, layout) if RUNNING & {c.field for c in layout.columns} else 0.0
    else:
        unknown = max((r.unknown_length for r in _quantities(model, layout)), default=0.0)
    if unknown > 0:
        out.append(f"Not known over {unknown:.1f} m: the sums lack what lies there.")
    return " ".join(out)


#: Columns that add up along the road.
RUNNING = {"cut_to_here", "fill_to_here", "balance"}


def _unknown_earth(model: RoadModel, layout: ReportLayout) -> float:
    """Length within the range of the report over which cut or fill are not known, m."""
    length, _ = intervals(model)
    share = share_of(model, layout.from_chainage, layout.to_chainage)
    unknown = np.zeros(len(length), dtype=bool)
    for item, amount in amounts_of(model, share)[0]:
        if item.kind in ("cut", "fill"):
            unknown |= np.isnan(amount)
    return float((share.whole * length)[unknown].sum())


def _range(model: RoadModel, layout: ReportLayout) -> tuple[float, float]:
    """From where to where the report is about the road; the end before the start where it is about nothing of it."""
    a, asked = model.alignment, (layout.from_chainage, layout.to_chainage)
    return (a.start if asked[0] is None else max(asked[0], a.start)), (a.end if asked[1] is None else min(asked[1], a.end))


def _sections_within(model: RoadModel, layout: ReportLayout) -> list[int]:
    near = tolerances.CHAINAGE_MERGE
    low = -np.inf if layout.from_chainage is None else layout.from_chainage - near
    high = np.inf if layout.to_chainage is None else layout.to_chainage + near
    return np.flatnonzero((model.chainage >= low) & (model.chainage <= high)).tolist()


def _figures(r: QuantityRow) -> Row:
    return {
        "item": r.name, "material": r.material or None, "volume": r.volume, "mass": r.mass, "length": r.length, "area": r.area,
        "pieces": None if r.pieces is None else float(r.pieces),
        "unknown": r.unknown_length or None,
    }  # fmt: skip


def _quantities(model: RoadModel, layout: ReportLayout) -> list[QuantityRow]:
    """Of the range of the report, in total; only the items asked for."""
    rows = take_off(model, layout.from_chainage, layout.to_chainage).total.rows
    return [r for r in rows if not layout.items or r.name in layout.items]


def _treatments(model: RoadModel, layout: ReportLayout) -> Iterator[Row]:
    low, high = _range(model, layout)
    ends = np.array([[r.from_chainage, r.to_chainage] for r in model.inputs.treatments.ranges] or np.empty((0, 2)))
    called = shown(np.clip(ends, low, max(low, high)), model.inputs.alignment.equations)
    for k, group in enumerate(take_off(model, layout.from_chainage, layout.to_chainage).groups):
        for r in group.rows:
            if not layout.items or r.name in layout.items:
                yield {"treatment": group.title, "from": float(called[k, 0]), "to": float(called[k, 1]), **_figures(r)}


def _materials(model: RoadModel, layout: ReportLayout) -> Iterator[Row]:
    found: dict[str, Row] = {}
    for r in _quantities(model, layout):
        if r.volume is None or r.kind in ("cut", "fill"):
            continue
        row = found.setdefault(r.material, {"material": r.material, "volume": 0.0, "mass": None, "unknown": None})
        row["volume"] = float(row["volume"] or 0.0) + r.volume
        if r.mass is not None:
            row["mass"] = float(row["mass"] or 0.0) + r.mass
        if r.unknown_length:
            row["unknown"] = max(float(row["unknown"] or 0.0), r.unknown_length)
    yield from found.values()


#: The figure of a quantity in a unit.
UNITS: dict[str, Callable[[QuantityRow], float | None]] = {
    "m3": lambda r: r.volume,
    "t": lambda r: r.mass,
    "m": lambda r: r.length,
    "m2": lambda r: r.area,
    "piece": lambda r: None if r.pieces is None else float(r.pieces),
}


def _pay_items(model: RoadModel, layout: ReportLayout) -> Iterator[Row]:
    """Every pay item once, with all quantities that it pays for; in each unit a quantity is paid by the first item that names it. One
    that no item pays for is there too, without number and rate."""
    rows = _quantities(model, layout)
    paid: dict[int, list[QuantityRow]] = {}
    free = []
    for r in rows:
        by = {
            p.unit: k
            for k, p in reversed(list(enumerate(layout.pay_items)))
            if p.item == r.name and p.material in ("", r.material)
        }
        for k in by.values():
            paid.setdefault(k, []).append(r)
        if not by:
            free.append(r)
    listed = [(layout.pay_items[k], of) for k, of in paid.items()]
    listed += [(PayItem(item=r.name, unit=next(u for u in ("m", "m3", "m2") if UNITS[u](r) is not None)), [r]) for r in free]
    for item, of in sorted(listed, key=lambda one: rows.index(one[1][0])):
        known = [v for r in of if (v := UNITS[item.unit](r)) is not None]
        quantity, rate = sum(known) if known else None, item.rate if item.number or item.rate else None
        yield {
            "number": item.number or None, "item": item.item, "material": ", ".join(dict.fromkeys(r.material for r in of if r.material)) or None,
            "unit": item.unit, "quantity": quantity, "rate": rate,
            "amount": quantity * rate if quantity is not None and rate is not None else None,
            "unknown": max((r.unknown_length for r in of), default=0.0) or None,
        }  # fmt: skip


def _sections(model: RoadModel, layout: ReportLayout) -> Iterator[Row]:
    wanted = {c.field for c in layout.columns}
    columns = {field: values(model) for field, (_, _, values) in COLUMNS.items() if field in wanted}
    e = model.earthworks
    columns |= {"cut": e.cut, "fill": e.fill, "milling": model.milling.area}
    if RUNNING & wanted:
        columns |= _running(model, layout)
    for i in _sections_within(model, layout):
        found = model.group_of(i)
        row: Row = {field: float(v[i]) if np.isfinite(v[i]) else None for field, v in columns.items()}
        yield row | {
            "side": SIDES[int(model.stations.side[i])] or None,
            "treatment": getattr(model.work_at(i), "kind", None), "template": found[0].name if found else None,
        }  # fmt: skip


def _running(model: RoadModel, layout: ReportLayout) -> dict[str, Floats]:
    """Cut and fill from the start of the report's range up to every section (n,), m3: as the quantities have them, so that they end at
    the bill."""
    sums = {"cut": np.zeros(len(model.chainage)), "fill": np.zeros(len(model.chainage))}
    for item, amount in amounts_of(model, share_of(model, layout.from_chainage, layout.to_chainage))[0]:
        if item.kind in sums:
            sums[item.kind][1:] += np.nancumsum(amount)
    return {"cut_to_here": sums["cut"], "fill_to_here": sums["fill"], "balance": sums["cut"] - sums["fill"]}


def _points(model: RoadModel, layout: ReportLayout) -> Iterator[Row]:
    """Of all sections together: what the halves of every template, and the hinge, have of each point."""
    rows, names, offsets, levels, templates = [], [], [], [], []
    for g in model.groups:
        solved = np.isfinite(model.lines.hinge[g.rows]) & np.isfinite(model.hinge_level[g.rows])
        found = [("hinge", model.lines.hinge[g.rows], model.hinge_level[g.rows])]
        for half in (g.left, g.right):
            found += [(n, half.side * half.u[:, k], half.z[:, k]) for k, n in enumerate(half.half.names) if k]
            found += [(v.name, half.side * v.u, v.z) for v in half.layers.vertices]
        for name, at, rise in found:
            if layout.points and name not in layout.points:
                continue
            rows.append(g.rows)
            offsets.append(np.where(solved, at, np.nan))
            levels.append(rise)
            names += [name] * len(g.rows)
            templates += [g.name] * len(g.rows)
    if not rows:
        return
    row, offset, level = np.concatenate(rows), np.concatenate(offsets), np.concatenate(levels)
    inside = np.zeros(len(model.chainage), dtype=bool)
    inside[_sections_within(model, layout)] = True
    kept = np.flatnonzero(np.isfinite(offset) & np.isfinite(level) & inside[row])
    kept = kept[np.lexsort((offset[kept], row[kept]))]
    called = shown(model.chainage, model.inputs.alignment.equations)
    existing = interpolate(model.existing.rows(row[kept]), offset[kept, None])[:, 0]
    plan = model.frames.plan(row[kept], offset[kept])
    for k, ground, (east, north) in zip(kept.tolist(), existing.tolist(), plan.tolist(), strict=True):
        i, z, known = int(row[k]), float(level[k]), np.isfinite(ground)
        yield {
            "chainage": float(called[i]), "side": SIDES[int(model.stations.side[i])] or None, "template": templates[k],
            "point": names[k], "offset": float(offset[k]), "east": east, "north": north, "level": z,
            "existing": ground if known else None, "difference": 1000 * (z - ground) if known else None,
        }  # fmt: skip


ROWS: dict[Of, Callable[[RoadModel, ReportLayout], Iterator[Row]]] = {
    "treatments": _treatments,
    "materials": _materials,
    "pay_items": _pay_items,
    "sections": _sections,
    "points": _points,
}


def written(cell: Cell, head: Head) -> str:
    """A cell as it is written: figures with their decimals, nothing where nothing is known."""
    if cell is None:
        return ""
    if isinstance(cell, str):
        return cell
    return with_decimals(cell, head.decimals)
