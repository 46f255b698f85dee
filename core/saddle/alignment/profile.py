"""Profiles: levels along an alignment, as intersection points with parabolic vertical curves.

z(x) = z0 + g1 x + (g2 - g1) x^2 / (2 L) from the start of a curve; two parabolas where its halves differ.
Source: any route-surveying textbook.
"""

import itertools
from dataclasses import dataclass
from typing import Annotated, Self

import numpy as np
from pydantic import Field, model_validator

from saddle import tolerances
from saddle.documents_base import Chainage, Document, Key, Level, Name, NotNegative, Refers
from saddle.geometry.polylines import Floats


class ProfilePoint(Document):
    """An IP of a profile. length_in, length_out: of the vertical curve before and after it, m; both 0 for none."""

    chainage: Chainage
    level: Level
    length_in: NotNegative = 0.0
    length_out: NotNegative = 0.0


class ProfileSpec(Document):
    """Levels along an alignment. alignment: its key."""

    name: Name = "Profile"
    alignment: Annotated[Key, Refers("alignment")] = "main"
    points: Annotated[list[ProfilePoint], Field(min_length=2, max_length=5000)]

    @model_validator(mode="after")
    def _fits(self) -> Self:
        for number, (a, b) in enumerate(itertools.pairwise(self.points), start=1):
            if b.chainage <= a.chainage:
                raise ValueError(f"IP {number + 1} does not come after IP {number}")
            if a.length_out + b.length_in > b.chainage - a.chainage + 1e-6:
                raise ValueError(f"the vertical curves at IP {number} and IP {number + 1} overlap")
        if self.points[0].length_out or self.points[-1].length_in:
            raise ValueError("the first and last IP have no vertical curve")
        return self


@dataclass(frozen=True, slots=True, eq=False)
class Profile:
    """A profile evaluated. chainage, level: (n,) of its IPs; length_in, length_out: (n,) m; grade: (n - 1,) m/m."""

    chainage: Floats
    level: Floats
    length_in: Floats
    length_out: Floats
    grade: Floats

    def _inside(self, chainages: Floats) -> Floats:
        """Chainages that miss the ends by no more than a rounded figure stand at the ends."""
        c, near = np.asarray(chainages, dtype=float), tolerances.NEAR_END
        ends = np.clip(c, self.chainage[0], self.chainage[-1])
        inside: Floats = np.where(np.abs(ends - c) <= near, ends, c)
        return inside

    def levels(self, chainages: Floats) -> Floats:
        """Levels (k,), NaN before the first and after the last IP, which a rounded figure may miss."""
        c = self._inside(chainages)
        z: Floats = np.interp(c, self.chainage, self.level, left=np.nan, right=np.nan)
        for i in range(1, len(self.chainage) - 1):
            a, b = self.length_in[i], self.length_out[i]
            if a + b == 0:
                continue
            x = c - self.chainage[i]
            # Offset from the nearer tangent, (g2 - g1) L1 L2 / (2 L) at the IP, falling with the square to either end.
            middle = (self.grade[i] - self.grade[i - 1]) * a * b / (2 * (a + b))
            before, after = (x > -a) & (x <= 0), (x > 0) & (x < b)
            if a > 0:
                z[before] += middle * ((x[before] + a) / a) ** 2
            if b > 0:
                z[after] += middle * ((b - x[after]) / b) ** 2
        return z


def build_profile(spec: ProfileSpec) -> Profile:
    """The profile of a document."""
    table = np.array([[p.chainage, p.level, p.length_in, p.length_out] for p in spec.points])
    grade = np.diff(table[:, 1]) / np.diff(table[:, 0])
    return Profile(table[:, 0], table[:, 1], table[:, 2], table[:, 3], grade)
