"""How figures are written and judged: decimals and unit by kind, in one place for screen, sheet, file and message.

A figure is computed in full and written with the decimals of its kind. A limit is judged with half a unit of the last written
digit: what prints as 50 mm is not short of 50 mm. Adopted values are rounded to what is written, toward the safe side.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle.geometry.polylines import Floats

Kind = Literal[
    "chainage", "level", "offset", "depth", "crossfall", "grade", "area", "volume", "mass", "length", "speed", "money", "count"
]


@dataclass(frozen=True, slots=True)
class Figure:
    """decimals: written, of the unit; scale: how many units are one of what the core reckons in (mm of m)."""

    unit: str
    decimals: int
    scale: float = 1.0

    @property
    def step(self) -> float:
        """One unit of the last written digit, in what the core reckons in."""
        return 10.0**-self.decimals / self.scale

    @property
    def half(self) -> float:
        """Half of that: what a limit is judged with."""
        return self.step / 2


FIGURES: dict[Kind, Figure] = {
    "chainage": Figure("m", 3),
    "level": Figure("m", 3),
    "offset": Figure("m", 3),
    "depth": Figure("mm", 0, 1000.0),
    "crossfall": Figure("%", 2),
    "grade": Figure("%", 3),
    "area": Figure("m2", 3),
    "volume": Figure("m3", 1),
    "mass": Figure("t", 1),
    "length": Figure("m", 1),
    "speed": Figure("km/h", 0),
    "money": Figure("", 2),
    "count": Figure("", 0),
}
#: Beyond half a digit, so much is left to the rounding of the computer itself.
HAIR = 1e-9


def written(value: float | None, kind: Kind) -> str:
    """A figure with the decimals of its kind, without its unit; empty where it is not known."""
    if value is None or not math.isfinite(value):
        return ""
    return with_decimals(value * FIGURES[kind].scale, FIGURES[kind].decimals)


def with_decimals(value: float, decimals: int) -> str:
    """A figure with so many decimals; what rounds to nothing has no sign."""
    text = f"{value:.{decimals}f}"
    return text.lstrip("-") if float(text) == 0 else text


def slack(kind: Kind) -> float:
    """By how much a figure may pass its limit before it is judged to, in what the core reckons in."""
    return FIGURES[kind].half + HAIR


def rounded(values: Floats, kind: Kind) -> Floats:
    """To the nearest written value."""
    step = FIGURES[kind].step
    return (values / step).round() * step


def rounded_up(values: Floats, kind: Kind) -> Floats:
    """To the next written value that is not below; what is written already stays."""
    step = FIGURES[kind].step
    up: Floats = np.round(np.ceil(values / step - 1e-6) * step, 9)
    return up
