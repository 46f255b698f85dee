"""Which part of the road a sheet of the plan shows, and how it lies on the paper."""

from dataclasses import dataclass

import numpy as np
import shapely

from saddle.alignment.alignment import Alignment
from saddle.chainage import format_chainage
from saddle.drawings.display import Place, Room
from saddle.errors import SaddleError
from saddle.geometry.polylines import Floats

#: The alignment is followed in steps of so much, m.
STEP = 2.0
#: Room about the strip, mm.
MARGIN = 4.0


@dataclass(frozen=True, slots=True, eq=False)
class PlanView:
    """Chainages low to high, turned so that the road lies along the paper. strip: what is shown, in plan; bearing: of the paper's
    right-hand side, rad; origin: plan point that lies at `at` on the paper, mm; per_metre: mm."""

    low: float
    high: float
    strip: shapely.Geometry
    bearing: float
    origin: Place
    at: Place
    per_metre: float

    def paper(self, points: Floats) -> list[Place]:
        """Plan points (n, 2) on the paper, mm."""
        x, y = _turned(points - np.array(self.origin), self.bearing).T
        return list(zip((self.at[0] + x * self.per_metre).tolist(), (self.at[1] + y * self.per_metre).tolist(), strict=True))

    def north(self) -> Place:
        """Where north points on the paper, a unit vector."""
        x, y = _turned(np.array([[0.0, 1.0]]), self.bearing)[0].tolist()
        return x, y


def _turned(points: Floats, bearing: float) -> Floats:
    """Plan points with a direction laid to the right: ahead and to the left of it."""
    sin, cos = np.sin(bearing), np.cos(bearing)
    return np.column_stack([points[:, 0] * sin + points[:, 1] * cos, -points[:, 0] * cos + points[:, 1] * sin])


def views_along(alignment: Alignment, low: float, high: float, beside: float, scale: int, room: Room) -> list[PlanView]:
    """The road from one chainage to another in as few views as go one after the other into the room, each as long as it can be.

    Raises SaddleError where not even a short piece goes in.
    """
    out: list[PlanView] = []
    begin = low
    while high - begin > 1e-6:
        end = _reach(alignment, begin, high, beside, scale, room)
        out.append(_view(alignment, begin, end, beside, scale, room))
        begin = end
    return out


def _reach(alignment: Alignment, begin: float, high: float, beside: float, scale: int, room: Room) -> float:
    """How far a view that begins somewhere can go: doubled until it goes in no more, then halved between."""
    shortest = min(high, begin + 2 * STEP)
    if not _goes_in(alignment, begin, shortest, beside, scale, room):
        raise SaddleError(
            f"the plan at {format_chainage(begin)} needs {2 * beside * 1000 / scale:.0f} mm across the road, "
            f"but the sheet has {room.height - 2 * MARGIN:.0f} mm",
            "drawing style", "show less beside the alignment, choose a smaller scale (a larger number) or larger paper",
        )  # fmt: skip
    good, step = shortest, 20.0
    while good < high:
        further = min(high, good + step)
        if _goes_in(alignment, begin, further, beside, scale, room):
            good, step = further, step * 2
        elif step <= STEP:
            break
        else:
            step = step / 4
    # Whole tens of metres where the road goes on.
    rounded = np.floor(good / 10 + 1e-9) * 10
    return float(rounded) if good < high and rounded > shortest else good


def _line(alignment: Alignment, low: float, high: float) -> Floats:
    return alignment.frames(np.unique(np.r_[np.arange(low, high, STEP), high])).origin


def _bearing(line: Floats) -> float:
    across = line[-1] - line[0]
    if np.hypot(*across) < 1e-6:
        across = line[1] - line[0]
    return float(np.arctan2(across[0], across[1]))


def _strip(line: Floats, beside: float) -> shapely.Geometry:
    return shapely.LineString(line).buffer(beside, cap_style="flat", join_style="mitre")


def _extent(line: Floats, beside: float) -> tuple[Floats, Floats]:
    ring = shapely.get_coordinates(_strip(line, beside))
    turned = _turned(ring - line[0], _bearing(line))
    return turned.min(axis=0), turned.max(axis=0)


def _goes_in(alignment: Alignment, low: float, high: float, beside: float, scale: int, room: Room) -> bool:
    least, most = _extent(_line(alignment, low, high), beside)
    size = (most - least) * 1000 / scale
    return bool(size[0] <= room.width - 2 * MARGIN and size[1] <= room.height - 2 * MARGIN)


def _view(alignment: Alignment, low: float, high: float, beside: float, scale: int, room: Room) -> PlanView:
    line = _line(alignment, low, high)
    least, most = _extent(line, beside)
    per = 1000 / scale
    middle = (least + most) / 2 * per
    at = (room.left + room.right) / 2 - middle[0], (room.bottom + room.top) / 2 - middle[1]
    origin = (float(line[0, 0]), float(line[0, 1]))
    return PlanView(low, high, _strip(line, beside), _bearing(line), origin, (float(at[0]), float(at[1])), per)
