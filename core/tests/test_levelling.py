"""Levelling sheets: levels by chainage and offset lie where the alignment has them."""

from unittest import TestCase

import numpy as np

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, ChainageEquation, Straight
from saddle.errors import ImportProblem
from saddle.exchange.levelling import offset_of
from saddle.exchange.readers import FileRead, ReadAs, first_rows, read_survey
from saddle.terrain.spec import ColumnMapping
from saddle.terrain.survey import collect, polylines

BENT = AlignmentSpec(
    start_east=1000, start_north=2000, start_bearing_deg=35, start_chainage=100,
    elements=[Straight(length=80), Arc(length=90, radius=-150), Straight(length=40)],
)  # fmt: skip
OFFSETS = (-4.0, -3.5, 0.0, 3.5)


def taken(text: str, alignment: AlignmentSpec | None = BENT) -> FileRead:
    found = first_rows(text.encode()).preview
    columns = {k: v for k, v in found.columns.items() if v is not None}
    told = {"delimiter": found.delimiter, "decimal": found.decimal, "header": found.header, "along": found.along, **columns}
    return read_survey(text.encode(), "levels.csv", ReadAs(mapping=ColumnMapping.model_validate(told), alignment=alignment))


def level(chainage: float, offset: float) -> float:
    return round(90 + 0.013 * chainage - 0.025 * abs(offset), 3)


class Levelling(TestCase):
    def expect(self, text: str) -> None:
        """Both kinds of sheet hold the same levels, which the alignment locates where they were measured."""
        table = taken(text).found.table
        chainage, offset = build(BENT).locate(table.xyz[:, :2])
        wanted = [(c, o) for c in range(100, 311, 10) for o in OFFSETS]
        np.testing.assert_allclose(np.column_stack([chainage, offset]), wanted, atol=1e-6)
        np.testing.assert_allclose(table.xyz[:, 2], [level(c, o) for c, o in wanted], atol=1e-9)
        lines = polylines(collect(table))
        self.assertEqual({(p.code, len(p.points)) for p in lines}, {("CL", 22), ("LV", 22)})
        self.assertEqual(len(lines), len(OFFSETS))

    def test_a_row_for_each_level(self) -> None:
        rows = [f"0+{c:03d},{o:g},{level(c, o):.3f}" for c in range(100, 311, 10) for o in OFFSETS]
        self.expect("Chainage,Offset,RL\n" + "\n".join(rows) + "\n")
        sided = [
            f"{c};{abs(o):g}{'L' if o < 0 else 'R'};{level(c, o):.3f}".replace(".", ",")
            for c in range(100, 311, 10)
            for o in OFFSETS
        ]
        self.expect("Station;Abstand;Höhe\n" + "\n".join(sided) + "\n")

    def test_a_row_for_each_chainage(self) -> None:
        rows = [f"{c}," + ",".join(f"{level(c, o):.3f}" for o in OFFSETS) for c in range(100, 311, 10)]
        self.expect("Chainage m,L4.0,-3.5,CL,R3.5 m\n" + "\n".join(rows) + "\n")

    def test_what_is_none_is_told_and_what_lies_beyond(self) -> None:
        text = "Chainage,Offset,Level\n100,0,91\n110,x,91\n120,0,none\n130,2,91.5\n140,2,91.4\n990,2,91\n"
        read = taken(text)
        self.assertEqual([s.row for s in read.found.skipped], [3, 4, 7])
        self.assertIn("beyond the alignment", read.found.skipped[2].reason)
        with self.assertRaisesRegex(ImportProblem, "there is none yet"):
            taken(text, None)
        with self.assertRaisesRegex(ImportProblem, "no row holds a level"):
            taken("Chainage,Offset,Level\n900,0,91\n910,0,92\n920,0,93\n")

    def test_chainages_are_called_as_the_road_calls_them(self) -> None:
        jump = BENT.changed(equations=[ChainageEquation(back=200.0, ahead=1000.0)])
        (at,) = taken("Chainage,Offset,Level\n1010,2,91\n5,2,3\n6,2,3\n", jump).found.table.xyz[:, :2]
        np.testing.assert_allclose(np.array(build(jump).locate(at[None])).ravel(), [210.0, 2.0], atol=1e-6)

    def test_offsets_as_they_are_written(self) -> None:
        for text, value in {
            "-3.5": -3.5,
            "3.5L": -3.5,
            "L 3.50": -3.5,
            "R3,5 m": 3.5,
            "CL": 0.0,
            "3.5 lt": -3.5,
            "+2": 2.0,
        }.items():
            self.assertEqual(offset_of(text), value, text)
        for text in ("", "lane", "L3R", "9999", "3.5x"):
            self.assertIsNone(offset_of(text), text)
