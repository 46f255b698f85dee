"""What two states of a road differ by in figures: quantities item by item, and levels section by section."""

from collections.abc import Sequence
from typing import Self

import numpy as np
from pydantic import BaseModel

from saddle import tolerances
from saddle.alignment.equations import shown
from saddle.figures import FIGURES
from saddle.geometry.polylines import Floats
from saddle.quantities.takeoff import QuantityRow, take_off
from saddle.road.model import RoadModel
from saddle.template.polygons import Vertex
from saddle.views.section import design_line

#: Levels, and quantities, that differ by less are written the same.
SAME_LEVEL, SAME_AMOUNT = FIGURES["level"].half, FIGURES["volume"].half


class SectionFigures(BaseModel):
    """A section's finished surface. side: -1 before a change of treatment, 1 after it, else 0; called: the chainage as it is called."""

    chainage: float
    called: float
    side: int
    design: list[Vertex]


class RoadFigures(BaseModel):
    """The figures of a state that are compared: the total of its quantities, and its sections in road order."""

    quantities: list[QuantityRow]
    sections: list[SectionFigures]


class ItemChange(BaseModel):
    """An item in both states, None where a state has none; unit: of its figures; road: the name of the road where several are
    compared."""

    name: str
    material: str
    unit: str
    before: float | None
    after: float | None
    road: str = ""


class LevelChange(BaseModel):
    """A section whose finished surface moved: the greatest difference in level, m, upward positive, and its offset, m; None where the
    section is in one of the states only, or nothing is built there in one; road: as of an item."""

    chainage: float
    called: float
    side: int
    difference: float | None
    offset: float | None
    what: str
    road: str = ""


class FigureChanges(BaseModel):
    """items: those that differ; sections: those that moved, in road order; compared: how many are in both states."""

    items: list[ItemChange]
    sections: list[LevelChange]
    compared: int

    def on(self, road: str) -> Self:
        """The same, said of a road by its name."""
        return self.model_copy(
            update={
                "items": [i.model_copy(update={"road": road}) for i in self.items],
                "sections": [s.model_copy(update={"road": road}) for s in self.sections],
            }
        )


def figures_of(model: RoadModel) -> RoadFigures:
    """The figures of a solved road."""
    called = shown(model.chainage, model.inputs.alignment.equations)
    return RoadFigures(
        quantities=take_off(model).total.rows,
        sections=[
            SectionFigures(
                chainage=float(s), called=float(called[i]), side=int(model.stations.side[i]), design=design_line(model, i)
            )
            for i, s in enumerate(model.chainage)
        ],
    )


def compare_figures(before: RoadFigures, after: RoadFigures) -> FigureChanges:
    """What changed from one state to another."""
    pairs = _paired(before.sections, after.sections)
    moved = [m for a, b in pairs if (m := _moved(a, b)) is not None]
    both = sum(a is not None and b is not None for a, b in pairs)
    return FigureChanges(items=_items(before.quantities, after.quantities), sections=moved, compared=both)


def _items(before: Sequence[QuantityRow], after: Sequence[QuantityRow]) -> list[ItemChange]:
    old, new = ({(r.kind, r.name, r.key): r for r in rows} for rows in (before, after))
    out = []
    for name in [*old, *(n for n in new if n not in old)]:
        a, b = old.get(name), new.get(name)
        row = a or b
        assert row is not None
        for unit, pick in (("m3", "volume"), ("t", "mass"), ("m", "length"), ("m2", "area"), ("m not known", "unknown_length")):
            x, y = (getattr(r, pick) if r is not None else None for r in (a, b))
            if x is None and y is None:
                continue
            if abs((x or 0.0) - (y or 0.0)) >= SAME_AMOUNT or (a is None) != (b is None):
                if unit == "m not known" and not (x or y):
                    continue
                out.append(ItemChange(name=row.name, material=row.material, unit=unit, before=x, after=y))
    return out


Pair = tuple[SectionFigures | None, SectionFigures | None]


def _paired(before: Sequence[SectionFigures], after: Sequence[SectionFigures]) -> list[Pair]:
    """Sections of one place side by side, in road order."""
    pairs: list[Pair] = []
    i = j = 0
    while i < len(before) or j < len(after):
        a = before[i] if i < len(before) else None
        b = after[j] if j < len(after) else None
        if a is not None and b is not None and abs(a.chainage - b.chainage) < tolerances.CHAINAGE_MERGE and a.side == b.side:
            pairs.append((a, b))
            i, j = i + 1, j + 1
        elif b is None or (a is not None and _order(a) <= _order(b)):
            pairs.append((a, None))
            i += 1
        else:
            pairs.append((None, b))
            j += 1
    return pairs


def _order(s: SectionFigures) -> tuple[float, int]:
    return round(s.chainage, 3), s.side


def _moved(a: SectionFigures | None, b: SectionFigures | None) -> LevelChange | None:
    one = b or a
    assert one is not None

    def told(what: str, difference: float | None = None, offset: float | None = None) -> LevelChange:
        return LevelChange(
            chainage=one.chainage, called=one.called, side=one.side, difference=difference, offset=offset, what=what
        )

    if a is None or b is None:
        return told("section is new" if a is None else "section is gone")
    if not a.design or not b.design:
        return None if bool(a.design) == bool(b.design) else told("built on now" if b.design else "built on no more")
    difference, offset = greatest_difference(np.array(a.design), np.array(b.design))
    wider = abs(a.design[0][0] - b.design[0][0]) >= SAME_LEVEL or abs(a.design[-1][0] - b.design[-1][0]) >= SAME_LEVEL
    if difference is None:
        return told("moved aside")
    if abs(difference) < SAME_LEVEL:
        return told("wider or narrower", difference, offset) if wider else None
    return told("level", difference, offset)


def greatest_difference(a: Floats, b: Floats) -> tuple[float | None, float | None]:
    """Where the second of two polylines (n, 2) lies furthest above or below the first, over the offsets that both have: by how much,
    and at which offset; None where they share none. At a step both of its levels are compared with the other line's on that side."""
    low, high = max(a[0, 0], b[0, 0]), min(a[-1, 0], b[-1, 0])
    if high < low:
        return None, None
    worst: tuple[float, float] | None = None
    at = np.unique(np.concatenate([a[:, 0], b[:, 0], [low, high]]))
    at = at[(at >= low) & (at <= high)]
    for side in ("left", "right"):
        found = _levels(b, at, side) - _levels(a, at, side)
        k = int(np.argmax(np.abs(found)))
        if worst is None or abs(found[k]) > abs(worst[0]):
            worst = float(found[k]), float(at[k])
    assert worst is not None
    return worst


def _levels(line: Floats, at: Floats, side: str) -> Floats:
    """Levels of a polyline at offsets, of a step that of its left or its right end."""
    o, z = line[:, 0], line[:, 1]
    if side == "left":
        k = np.clip(np.searchsorted(o, at, side="left"), 1, len(o) - 1)
    else:
        k = np.clip(np.searchsorted(o, at, side="right"), 1, len(o) - 1)
    width = o[k] - o[k - 1]
    with np.errstate(invalid="ignore", divide="ignore"):
        t = np.where(width > 0, (at - o[k - 1]) / width, 1.0 if side == "left" else 0.0)
    out: Floats = z[k - 1] + np.clip(t, 0, 1) * (z[k] - z[k - 1])
    return out
