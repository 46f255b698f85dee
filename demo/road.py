"""The made-up road: Fennick Vale Road, surveyed in a valley that does not exist. Fixed random seed.

`truth` says what the old road looks like at any chainage and offset; `survey_csv` walks over it the way a
surveyor would and writes the same CSV that a user would import.
"""

import io
from collections.abc import Callable

import numpy as np

from saddle.alignment.alignment import Alignment, build
from saddle.alignment.spec import AlignmentSpec, Arc, Straight

SEED = 20261124
ALIGNMENT = AlignmentSpec(
    name="Fennick Vale Road",
    start_east=412_300.0,
    start_north=286_540.0,
    start_bearing_deg=62.0,
    start_chainage=0.0,
    elements=[
        Straight(length=210.0),
        Arc(length=230.0, radius=320.0),
        Straight(length=160.0),
        Arc(length=190.0, radius=-240.0),
        Straight(length=250.0),
        Arc(length=260.0, radius=600.0),
        Straight(length=310.0),
    ],
)
VILLAGE = (0.0, 420.0)
WORN_OUT = (700.0, 760.0)
NARROW = (980.0, 1080.0)
PINCH = (1180.0, 1260.0)
CULVERT = 872.0

Floats = np.ndarray


def crown_level(c: Floats) -> Floats:
    """Level of the old crown, m: a valley with long waves and short settlements."""
    base = 84.0 + 0.012 * c - 1.3e-5 * (c - 700.0) ** 2
    waves = 0.35 * np.sin(c / 95.0) + 0.05 * np.sin(c / 23.0 + 1.0)
    settled = -0.07 * np.exp(-(((c - 520.0) / 9.0) ** 2)) - 0.05 * np.exp(-(((c - 1290.0) / 7.0) ** 2))
    return np.asarray(base + waves + settled)


def half_width(c: Floats, side: int) -> Floats:
    """Old pavement from crown to edge, m."""
    wide = 3.15 + 0.08 * np.sin(c / 37.0 + side)
    narrow = np.interp(c, [NARROW[0] - 20, NARROW[0], NARROW[1], NARROW[1] + 20], [0, 1, 1, 0])
    return np.asarray(np.where(c <= VILLAGE[1], 3.3, wide) - 0.55 * narrow)


def crossfall(c: Floats, side: int) -> Floats:
    """Old crossfall, %, negative falls outward: settled on the straights, half adverse in the left-hand curve."""
    normal = -2.4 + 0.7 * np.sin(c / 61.0 + 2 * side) + 0.4 * np.sin(c / 17.0)
    turn = np.interp(c, [190, 240, 400, 450], [0, 4.2, 4.2, 0])  # right-hand curve, superelevated
    turn = turn - np.interp(c, [690, 730, 770, 800], [0, 4.8, 4.8, 0])  # left-hand curve, only its second half
    turn = turn + np.interp(c, [1030, 1070, 1270, 1320], [0, 2.8, 2.8, 0])
    tilt = -side * turn
    weight = np.clip(np.abs(turn) / 3.0, 0, 1)
    return np.asarray(normal * (1 - weight) + tilt)


def pavement(c: Floats, o: Floats) -> Floats:
    """Level of the old pavement, m, with ruts in the wheel paths."""
    side = np.where(o < 0, -1, 1)
    fall = np.where(o < 0, crossfall(c, -1), crossfall(c, 1))
    worn = np.interp(c, [WORN_OUT[0] - 10, WORN_OUT[0], WORN_OUT[1], WORN_OUT[1] + 10], [0, 1, 1, 0])
    rut = (0.010 + 0.006 * np.sin(c / 29.0 + side) + 0.045 * worn) * (
        np.exp(-(((np.abs(o) - 0.8) / 0.3) ** 2)) + 1.3 * np.exp(-(((np.abs(o) - 2.4) / 0.35) ** 2))
    )
    return np.asarray(crown_level(c) + fall / 100 * np.abs(o) - rut)


def hillside(c: Floats, o: Floats) -> Floats:
    """Open ground beyond the ditches, m: falling to the right, rising to the left."""
    fall = -0.09 - 0.03 * np.sin(c / 210.0)
    bumps = 0.12 * np.sin(c / 14.0 + o / 5.0) + 0.1 * np.sin(o / 4.0 + c / 31.0)
    return np.asarray(crown_level(c) - 0.35 + fall * o + bumps * np.clip(np.abs(o) / 12, 0, 1))


def _edge(c: Floats, side: int) -> tuple[Floats, Floats]:
    o = side * half_width(c, side)
    return o, pavement(c, o)


def _beyond(extra: float, drop: float) -> Callable[[Floats, int], tuple[Floats, Floats]]:
    def line(c: Floats, side: int) -> tuple[Floats, Floats]:
        o, z = _edge(c, side)
        return o + side * extra, z + drop

    return line


def _inside(offset: float) -> Callable[[Floats, int], tuple[Floats, Floats]]:
    def line(c: Floats, side: int) -> tuple[Floats, Floats]:
        o = np.full_like(c, side * offset)
        return o, pavement(c, o)

    return line


def boundary(c: Floats, side: int) -> tuple[Floats, Floats]:
    """Where the land of the road ends, offset and level, m: nearer on the right at the pinch."""
    pinch = np.interp(c, [PINCH[0] - 15, PINCH[0], PINCH[1], PINCH[1] + 15], [0, 1, 1, 0])
    o = side * (13.0 - 5.5 * pinch * (side > 0))
    return o, hillside(c, o)


class Surveyor:
    """Takes shots and writes them down."""

    def __init__(self, alignment: Alignment, rng: np.random.Generator) -> None:
        self.alignment, self.rng, self.rows = alignment, rng, list[str]()

    def shoot(self, c: Floats, o: Floats, z: Floats, code: str, noise: float, line: str = "") -> None:
        frames = self.alignment.frames(np.clip(c, self.alignment.start, self.alignment.end))
        plan = frames.plan(np.arange(len(c)), o)
        level = z + self.rng.normal(0, noise, len(c))
        for i in range(len(c)):
            order = str(i + 1) if line else ""
            self.rows.append(f"{1000 + len(self.rows)},{plan[i, 0]:.3f},{plan[i, 1]:.3f},{level[i]:.3f},{code},{line},{order}")

    def walk(self, start: float, end: float) -> Floats:
        """Chainages 5 to 12 m apart from start to end."""
        steps = self.rng.uniform(5, 12, int((end - start) / 5) + 2)
        inner = start + np.cumsum(steps)
        return np.array([start, *inner[inner < end - 3.0], end])

    def line(
        self, code: str, at: Callable[[Floats, int], tuple[Floats, Floats]], side: int, reach: tuple[float, float],
        noise: float = 0.004,
    ) -> None:  # fmt: skip
        c = self.walk(*reach)
        o, z = at(c, side)
        name = f"{code}{'L' if side < 0 else 'R' if side > 0 else ''}{int(reach[0])}"
        self.shoot(c, o, z, code, noise, name)


def survey_csv() -> str:
    """The survey, about 6,000 points: number, easting, northing, level, code, line, order."""
    rng = np.random.default_rng(SEED)
    alignment = build(ALIGNMENT)
    s = Surveyor(alignment, rng)
    whole, rural = (0.0, alignment.end), (VILLAGE[1], alignment.end)
    s.line("CL", lambda c, _: (np.zeros_like(c), crown_level(c)), 0, whole, 0.003)
    for side in (-1, 1):
        for offset in (0.8, 1.6, 2.4):
            s.line(f"WP{offset * 10:.0f}", _inside(offset), side, whole, 0.003)
        s.line("LIP", _edge, side, VILLAGE)
        s.line("KT", _beyond(0.16, 0.10), side, VILLAGE)
        s.line("FP", _beyond(1.9, 0.135), side, VILLAGE)
        s.line("EP", _edge, side, rural)
        s.line("SH", _beyond(1.1, -0.06), side, rural, 0.01)
        s.line("DI", _beyond(2.3, -0.55), side, rural, 0.02)
        s.line("DT", _beyond(3.4, -0.12), side, rural, 0.02)
        s.line("BDY", boundary, side, whole, 0.02)
    shots = 3000
    c = rng.uniform(0, alignment.end, shots)
    o = rng.choice([-1, 1], shots) * rng.uniform(7.6, 32.0, shots)
    inner_curve = np.abs(o) < 0.8 / np.maximum(np.abs(alignment.frames(c).curvature), 1e-6)
    s.shoot(c[inner_curve], o[inner_curve], hillside(c, o)[inner_curve], "GR", 0.03)
    ends = np.repeat([0.0, alignment.end], 12)
    aside = np.tile(np.r_[-28.0:-7.0:4.0, 8.0:29.0:4.0], 2)
    s.shoot(ends, aside, hillside(ends, aside), "GR", 0.03)
    pits = np.array([60.0, 140.0, 225.0, 330.0, 405.0])
    s.shoot(pits, np.full(5, 3.1), crown_level(pits) - 0.1, "PIT", 0.005)
    across = np.linspace(-7.0, 7.0, 4)
    s.shoot(CULVERT + 0.45 * across, across, crown_level(np.full(4, CULVERT)) - 1.4 - 0.01 * across, "CUL", 0.005, "CUL1")
    out = io.StringIO()
    out.write("number,easting,northing,level,code,line,order\n")
    out.write("\n".join(s.rows) + "\n")
    return out.getvalue()


if __name__ == "__main__":
    print(survey_csv(), end="")
