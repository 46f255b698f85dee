"""Random surveys written in random ways and read back: the same points, or a question; and no question where the file says it all."""

from dataclasses import dataclass
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.terrain.spec import METRES_PER, FileUnit
from tests.depth import many
from tests.test_door import asked, taken

#: Headings of number, easting, northing, level and code that say which is which.
SAID = (
    ("Point", "Easting", "Northing", "Elevation", "Code"), ("Punkt", "Rechtswert", "Hochwert", "Höhe", "Code"),
    ("Matricule", "Est", "Nord", "Altitude", "Code"), ("Punto", "Este", "Norte", "Cota", "Código"),
    ("Punktnamn", "Öst", "Norr", "Höjd", "Kod"), ("Nr", "E", "N", "H", "Art"),
)  # fmt: skip
EITHER = ("No", "X", "Y", "Z", "Code")
#: No word that could be a heading or a figure.
CODES = ("EP", "CL", "KB", "TOP", "Bord", "SH")
FEET_TOO: tuple[FileUnit, ...] = ("metre", "foot")
OTHER = ("", "wet", "by hand", "4.5 wide", "0,30")


@dataclass(frozen=True)
class Way:
    """How a file is written. heads: None for none; order: of the five columns; fixed: widths without blanks between."""

    heads: tuple[str, ...] | None
    order: tuple[int, ...]
    mark: str
    sign: str
    unit: FileUnit
    decimals: int
    end: str
    encoding: str
    title: int
    other: bool
    fixed: bool


@st.composite
def ways(draw: st.DrawFn) -> Way:
    fixed = draw(st.integers(0, 5)) == 0
    mark = draw(st.sampled_from(",;\t|"))
    heads = None if fixed else draw(st.sampled_from([*SAID, EITHER, None]))
    unsaid = [(0, 1, 2, 3, 4), (0, 2, 1, 3, 4), (4, 0, 1, 2, 3)] if not fixed else [(0, 1, 2, 3, 4)]
    order = tuple(draw(st.permutations(range(5)))) if heads is not None else draw(st.sampled_from(unsaid))
    return Way(
        heads, order, mark, "." if mark == "," else draw(st.sampled_from(".,")),
        draw(st.sampled_from(FEET_TOO)) if heads in SAID else "metre", draw(st.integers(2, 4)),
        draw(st.sampled_from(["\n", "\r\n"])), draw(st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "cp1252"])),
        draw(st.integers(0, 2)) if heads is not None else 0, draw(st.booleans()) and heads is not None, fixed,
    )  # fmt: skip


def survey(seed: int) -> np.ndarray:
    """Points along a crooked way somewhere, E N H in metres, no two alike and no level that stands out."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(12, 60))
    step = rng.uniform(2, 20, n)
    bearing = rng.uniform(0, 2 * np.pi) + np.cumsum(rng.normal(0, 0.15, n))
    at = np.cumsum(step[:, None] * np.column_stack([np.sin(bearing), np.cos(bearing)]), axis=0)
    corner = np.array([rng.uniform(1_000, 900_000), rng.uniform(1_000, 9_000_000)])
    if seed % 3 == 0:  # further down the file the figures have a digit more
        corner = 10.0 ** rng.integers([4, 5], [6, 7]) - 1000 - (at[11] if seed % 2 else at[-1] / 2)
    levels = rng.uniform(-5, 2500) + np.cumsum(rng.normal(0, 0.4, n))
    return np.column_stack([np.abs(at + corner) + 1000.0, levels])


def written(points: np.ndarray, way: Way, seed: int) -> tuple[bytes, np.ndarray]:
    """The file, and the points as its figures have them, m."""
    rng = np.random.default_rng(seed + 1)
    figures = np.round(points / METRES_PER[way.unit], way.decimals)
    text = [f"Measured on day {k + 1}" for k in range(way.title)]
    mark = " " if way.fixed else way.mark
    if way.heads is not None:
        unit = " (ft)" if way.unit == "foot" else ""
        heads = [h + (unit if 1 <= i <= 3 else "") for i, h in enumerate(way.heads)]
        text.append(mark.join([*(heads[i] for i in way.order), *(["Remark"] if way.other else [])]))
    for k, row in enumerate(figures.tolist(), start=101):
        e, n, z = (f"{v:.{way.decimals}f}" for v in row)
        code = CODES[int(rng.integers(len(CODES)))]
        if way.fixed:
            width = way.decimals + 8
            text.append(f"{k:6d} {e:>{width}}{n:>{width}}{z:>{way.decimals + 6}}{code}".replace(".", way.sign))
            continue
        cells = [str(k), *(v.replace(".", way.sign) for v in (e, n, z)), code]
        more = OTHER[int(rng.integers(len(OTHER)))]
        text.append(mark.join([*(cells[i] for i in way.order), *([f'"{more}"'] if way.other else [])]))
    return (way.end.join(text) + way.end).encode(way.encoding), figures * METRES_PER[way.unit]


class RandomFiles(TestCase):
    @settings(max_examples=many(200), deadline=None)
    @given(ways(), st.integers(0, 2**32 - 1))
    def test_what_is_written_is_read_or_asked_about(self, way: Way, seed: int) -> None:
        data, meant = written(survey(seed), way, seed)
        read = taken(data)
        expected = set()
        if way.heads not in SAID:
            expected.add("northing first")
        if way.unit == "foot":
            expected.add("unit")  # of feet there are two kinds
        self.assertEqual(asked(read), expected, data[:300])
        got = read.found.table.xyz
        orders = [[0, 1, 2], [1, 0, 2]] if "northing first" in expected else [[0, 1, 2]]
        self.assertTrue(
            any(got.shape == meant.shape and np.allclose(got[:, o], meant, rtol=0, atol=1e-6) for o in orders), data[:300]
        )
