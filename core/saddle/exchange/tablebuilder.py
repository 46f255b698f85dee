"""Points and lines out of files that keep them apart, put together to one table."""

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.terrain.table import SurveyTable


class TableBuilder:
    """Collects points, and lines with vertices of their own. A vertex where a point of its code stands is that point;
    any other becomes a point with a number made from the line's name."""

    def __init__(self) -> None:
        self._number: list[str] = []
        self._xyz: list[tuple[float, float, float]] = []
        self._code: list[str] = []
        self._line: list[str] = []
        self._order: list[int] = []
        self._row: list[int] = []
        self._names: dict[str, int] = {}
        self._lines: dict[tuple[str, str], int] = {}
        self._free: dict[tuple[str, float, float, float], list[int]] = {}

    def __len__(self) -> int:
        return len(self._number)

    def _unique(self, wish: str) -> str:
        times = self._names.get(wish, 0)
        self._names[wish] = times + 1
        return wish if times == 0 else self._unique(f"{wish}-{times + 1}")

    def point(self, number: str, xyz: tuple[float, float, float], code: str, row: int, line: str = "", order: int = 0) -> None:
        """A point; a number that is taken gets a suffix."""
        self._number.append(self._unique(number[:70] or f"P{len(self._number) + 1}"))
        self._xyz.append(xyz)
        self._code.append(code[:80])
        self._line.append(line[:80])
        self._order.append(order)
        self._row.append(row)
        if not line:
            self._free.setdefault(_place(code[:80], xyz), []).append(len(self._number) - 1)

    def line(self, name: str, points: Floats, code: str, row: int) -> None:
        """A line through points (k, 3)."""
        code, name = code[:80], name[:70] or "L"
        times = self._lines.get((code, name), 0)
        self._lines[code, name] = times + 1
        if times:
            name = f"{name}-{times + 1}"
            self._lines[code, name] = 1
        for order, (e, n, z) in enumerate(points.tolist(), start=1):
            waiting = self._free.get(_place(code, (e, n, z)))
            if waiting:
                at = waiting.pop(0)
                self._line[at], self._order[at] = name, order
            else:
                self.point(f"{name}.{order}", (e, n, z), code, row, name, order)

    def table(self) -> SurveyTable:
        """Everything collected; points keep the order in which they came."""
        xyz = np.array(self._xyz, dtype=float).reshape(-1, 3)
        return SurveyTable(
            self._number, xyz, self._code, self._line, np.array(self._order, dtype=int), np.array(self._row, dtype=int)
        )


def _place(code: str, xyz: tuple[float, float, float]) -> tuple[str, float, float, float]:
    return (code, round(xyz[0], 4), round(xyz[1], 4), round(xyz[2], 4))
