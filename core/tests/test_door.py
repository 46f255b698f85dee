"""Field files as surveyors write them: each is read as it was meant, or something is asked; none is silently another survey.

All of them are made up; how they are written is common practice. The points of each are known, so that what is read can be judged.
"""

import itertools
import time
from collections.abc import Iterator
from dataclasses import dataclass
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.errors import ImportProblem
from saddle.exchange.columns import unit_said
from saddle.exchange.crossfall_csv import read_crossfalls
from saddle.exchange.found import Found
from saddle.exchange.lines_file import read_lines
from saddle.exchange.no_levels import all_nines, levels_of_none
from saddle.exchange.placing import judge
from saddle.exchange.readers import FileRead, ReadAs, first_rows, read_survey
from saddle.exchange.survey_csv import write_csv
from saddle.exchange.text import ENCODINGS, decode, encoding_of
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import METRES_PER, ColumnMapping

RNG = np.random.default_rng(26)
N = 24
#: A short road, E N H in metres: as local grids, map grids and feet have it.
LOCAL = np.column_stack(
    [5000 + 4.0 * np.arange(N) + RNG.uniform(0, 0.9, N), 2000 + RNG.uniform(-6, 6, N), 511 + RNG.uniform(0, 3, N)]
).round(3)
GRID = (LOCAL + [411_000, 5_284_000, 0]).round(3)
FAR_NORTH = (LOCAL + [6_100_000, 2_098_000, 0]).round(3)
CODES = ["EP", "EP", "CL", "KB"]


def taken(data: bytes, name: str = "survey.csv", **fields: object) -> FileRead:
    """A file read as it is guessed, changed as a person would."""
    found = first_rows(data)
    columns = {k: v for k, v in found.preview.columns.items() if v is not None}
    told = {
        "delimiter": found.preview.delimiter, "decimal": found.preview.decimal, "header": found.preview.header,
        "skip": found.preview.skip, "breaks": list(found.preview.breaks), "unit": found.preview.unit or "metre",
        "encoding": found.encoding, **columns, **fields,
    }  # fmt: skip
    return read_survey(data, name, ReadAs(mapping=ColumnMapping.model_validate(told)))


def asked(read: FileRead, there: Floats | None = None) -> set[str]:
    found: Found = read.found
    return set(judge(found.table.xyz, read.reading, np.empty((0, 3)) if there is None else there, found.asked, found.axes).doubts)


@dataclass(frozen=True)
class FieldFile:
    """A file, the points that are meant, m, and what must be asked about it; without any of these it must be read right."""

    what: str
    data: bytes
    meant: Floats
    asks: frozenset[str] = frozenset()


def rows(points: Floats, write: str, head: str = "", sign: str = ".", end: str = "\n", code: bool = True) -> bytes:
    """write: with {n} {e} {h} {k} {c} for number's place: number, easting, northing, level, code."""
    out = [head] if head else []
    for k, (e, n, z) in enumerate(points.tolist(), start=1):
        figures = {name: f"{v:.3f}".replace(".", sign) for name, v in (("e", e), ("n", n), ("h", z))}
        out.append(write.format(k=k, c=CODES[k % 4] if code else "", **figures))
    return (end.join(out) + end).encode()


def files() -> Iterator[FieldFile]:
    ask = frozenset(["northing first"])
    names = {
        "en": "Point,Easting,Northing,Elevation,Code", "de": "Punkt;Rechtswert;Hochwert;Höhe;Code", "fr": "Matricule;Est;Nord;Altitude;Code",
        "es": "Punto;Este;Norte;Cota;Código", "pt": "Ponto;Leste;Norte;Cota;Código", "sv": "Punktnamn;Öst;Norr;Höjd;Kod", "fi": "Piste;Itä;Pohjoinen;Korkeus;Koodi",
        "letters": "P,E,N,H,Code", "units": "No,Easting (m),Northing (m),Level (m),Code",
    }  # fmt: skip
    for (name, head), (where, points) in itertools.product(
        names.items(), {"local": LOCAL, "grid": GRID, "far north": FAR_NORTH}.items()
    ):
        mark = ";" if ";" in head else ","
        yield FieldFile(f"named {name}, {where}", rows(points, mark.join(["{k}", "{e}", "{n}", "{h}", "{c}"]), head), points)
        first = head.split(mark)
        turned = mark.join([first[0], first[2], first[1], *first[3:]])
        yield FieldFile(
            f"northing first by name {name}, {where}",
            rows(points, mark.join(["{k}", "{n}", "{e}", "{h}", "{c}"]), turned),
            points,
        )
    for where, points in {"local": LOCAL, "grid": GRID}.items():
        yield FieldFile(f"no headings, {where}", rows(points, "{k},{e},{n},{h},{c}"), points, ask)
        yield FieldFile(f"no headings, northing first, {where}", rows(points, "{k},{n},{e},{h},{c}"), points, ask)
        yield FieldFile(f"X is east, {where}", rows(points, "{k},{e},{n},{h},{c}", "No,X,Y,Z,Code"), points, ask)
        yield FieldFile(f"X is north, {where}", rows(points, "{k},{n},{e},{h},{c}", "No,X,Y,Z,Code"), points, ask)
        yield FieldFile(
            f"X is north in feet, {where}",
            rows(points / 0.3048, "{k},{n},{e},{h},{c}", "No,X ft,Y ft,Z ft,Code"),
            points,
            ask | {"unit"},
        )
    head = "No;Easting;Northing;Level;Slope"
    yield FieldFile("an attribute with a comma", rows(LOCAL, "{k};{e};{n};{h};0,30", head), LOCAL)
    yield FieldFile("a remark with a comma", rows(LOCAL, "{k};{e};{n};{h};width 3,5", head), LOCAL)
    yield FieldFile("decimal commas", rows(LOCAL, "{k};{e};{n};{h};{c}", head, ","), LOCAL)
    yield FieldFile("decimal commas, an attribute with a point", rows(LOCAL, "{k};{e};{n};{h};0.30", head, ","), LOCAL)
    yield FieldFile(
        "quoted decimal commas", rows(LOCAL, '{k},"{e}","{n}","{h}",{c}', "No,Easting,Northing,Level,Code", ","), LOCAL
    )
    head = "No,Easting,Northing,Level,Code"
    yield FieldFile("levels with a word", rows(LOCAL, "{k},{e},{n},RL {h},{c}", head), LOCAL)
    yield FieldFile("levels with a unit", rows(LOCAL, "{k},{e},{n},{h}m,{c}", head), LOCAL)
    yield FieldFile("trailing commas", rows(LOCAL, "{k},{e},{n},{h},{c},,,,", head + ",,,,"), LOCAL)
    yield FieldFile("a code in front", rows(GRID, "{c},{k},{e},{n},{h}"), GRID, ask)
    yield FieldFile(
        "tabs and a title", b"Job 17\t\t\t\t\n" + rows(LOCAL, "{k}\t{e}\t{n}\t{h}\t{c}", head.replace(",", "\t")), LOCAL
    )
    yield FieldFile(
        "feet by its headings", rows(LOCAL / 0.3048, "{k},{e},{n},{h},{c}", "No,Easting ft,Northing ft,Level ft,Code"), LOCAL,
        frozenset(["unit"]),
    )  # fmt: skip
    yield FieldFile(
        "US survey feet by its headings",
        rows(LOCAL * 3937 / 1200, "{k},{e},{n},{h},{c}", "No,Easting (US ft),Northing (US ft),Level (US ft),Code"), LOCAL,
    )  # fmt: skip
    yield FieldFile("our own", write_csv(map(str, range(N)), LOCAL, CODES * 6, [""] * N, [""] * N).encode(), LOCAL)
    yield FieldFile(
        "two levels",
        rows(LOCAL, "{k},{e},{n},2.000,{h}", "No,Easting,Northing,Height,Elevation"),
        LOCAL,
        frozenset(["two levels"]),
    )
    for name in ("utf-16", "utf-16-le", "utf-16-be"):
        yield FieldFile(f"in {name}", rows(LOCAL, "{k},{e},{n},{h},{c}", head).decode().encode(name), LOCAL)
    lines = rows(LOCAL, "{k},{e},{n},{h},{c}", head).decode().split("\n")
    lines[4] += '-4" PIPE'
    lines[9] = lines[9].rsplit(",", 1)[0] + ',"PIPE 6'
    yield FieldFile("inch marks", "\n".join(lines).encode(), LOCAL)
    for none in ("-9999.0000", "-99999.000", "-999.99", "0.000", "9999.999", "-9999"):
        spoilt = rows(LOCAL, "{k},{e},{n},{h},{c}", head).decode().split("\n")
        for k in (3, 8, 15):
            cells = spoilt[k].split(",")
            spoilt[k] = ",".join([*cells[:3], none, *cells[4:]])
        keep = np.ones(N, bool)
        keep[[2, 7, 14]] = False
        yield FieldFile(f"{none} for none", "\n".join(spoilt).encode(), LOCAL[keep])
    twice = rows(LOCAL[:12], "{k},{e},{n},{h},{c}", head) + rows(LOCAL[12:], "{k},{e},{n},{h},{c}")
    yield FieldFile("two crews with the same numbers", twice, LOCAL, frozenset(["numbers twice"]))


class Door(TestCase):
    def test_each_is_right_or_asked_about(self) -> None:
        seen = 0
        for file in files():
            with self.subTest(file.what):
                seen += 1
                read = taken(file.data)
                self.assertEqual(asked(read), file.asks)
                got, meant = read.found.table.xyz, file.meant
                if "two levels" in file.asks:
                    got, meant = got[:, :2], meant[:, :2]
                # Feet are written with three decimals too. Of two readings that are asked about one is the one that is meant.
                orders = [[0, 1, 2], [1, 0, 2]] if "northing first" in file.asks else [list(range(got.shape[1]))]
                self.assertTrue(any(np.allclose(got[:, o], meant, rtol=0, atol=2e-4) for o in orders), got[:2])
        self.assertGreaterEqual(seen, 80)

    def test_points_are_no_levelling_sheet_whatever_their_codes_are_called(self) -> None:
        """A row of a point with the code CH or PK was once taken for the heads of one, and the rows above it for titles."""
        for code in ("CH", "PK", "STA", "KM"):
            for write in ("{k},{e},{n},{h}," + code, code + ",{k},{e},{n},{h}"):
                points = np.column_stack([LOCAL[:, :2] / 20, LOCAL[:, 2] / 5])
                read = taken(rows(points, write), decimal=".")
                self.assertEqual(len(read.found.table.number), N, (code, write))
        both = rows(LOCAL, "{k},{e},{n},{h},120,2.5", "No,Easting,Northing,Level,Chainage,Offset")
        self.assertEqual(first_rows(both).preview.along, "no")
        self.assertEqual(asked(taken(both)), set())

    def test_one_number_for_all_points_takes_no_longer_than_others(self) -> None:
        many = np.column_stack([np.arange(8000.0), np.arange(8000.0) % 7, 100 + np.arange(8000) % 3])
        begun = time.monotonic()
        read = taken(rows(many, "1,{e},{n},{h}", "No,Easting,Northing,Level"))
        self.assertEqual((len(read.found.table.number), asked(read)), (8000, {"numbers twice"}))
        self.assertLess(time.monotonic() - begun, 5)

    def test_what_is_there_answers_which_axis_is_which(self) -> None:
        self.assertEqual(asked(taken(rows(GRID, "{k},{e},{n},{h},{c}")), GRID + 40), set())
        self.assertEqual(asked(taken(rows(GRID, "{k},{n},{e},{h},{c}")), GRID + 40), {"northing first"})

    def test_a_unit_against_the_headings_is_asked_about(self) -> None:
        own = write_csv(map(str, range(N)), LOCAL, CODES * 6, [""] * N, [""] * N).encode()
        self.assertEqual(asked(taken(own, unit="foot")), {"unit"})

    def test_letters_of_the_world_come_back(self) -> None:
        words = {
            "shift_jis": "道路 中央線 縁石 側溝", "gb18030": "道路中线 路缘石 边沟 检查井", "cp1251": "бровка ось бордюр колодец", "euc_kr": "도로 중심선 연석 측구",
            "cp1250": "krawężnik oś łuk studzienka rów pobocze ściek chodnik", "cp1253": "άξονας κράσπεδο οδόστρωμα", "cp1252": "Straßenränder größer Böschung Überhöhung",
        }  # fmt: skip
        for encoding, said in words.items():
            each = said.split()
            text = "".join(f"{k},{5000 + k}.125,{2000 + k}.5,101.5,{each[k % len(each)]}\n" for k in range(N))
            self.assertEqual(decode(text.encode(encoding)), text, encoding)
        self.assertEqual(encoding_of(b"1,2,3\n"), "utf-8")
        for name in ENCODINGS:
            self.assertEqual(decode("a,b\n".encode(name), name), "a,b\n")

    def test_units_in_headings(self) -> None:
        self.assertEqual(unit_said(["Easting (ft)", "N ft", "Level [ft]"]), "foot")
        self.assertEqual(unit_said(["E (US ft)", "N (usft)", "Z [US survey ft]"]), "us_survey_foot")
        self.assertEqual(unit_said(["easting m", "northing m", "level m"]), "metre")
        self.assertIsNone(unit_said(["Easting ft", "Northing", "Level ft"]))


class NoLevels(TestCase):
    def test_nines(self) -> None:
        self.assertTrue(all(all_nines(v) for v in (9999.999, -999.99, -99999.0, 999.0)))
        self.assertFalse(any(all_nines(v) for v in (99.0, 9989.0, 0.0, 999.5)))

    @given(
        st.floats(-20, 3000), st.floats(0.5, 300),
        st.sampled_from([None, -9999.0, -99999.0, 9999.999, -32768.0, 1e6]), st.integers(2, 30),
    )  # fmt: skip
    def test_what_stands_for_none_is_found_and_nothing_else(
        self, low: float, span: float, none: float | None, times: int
    ) -> None:
        """On ground whose levels are spread without a gap."""
        ground = np.linspace(low, low + span, 60).round(3)
        found = levels_of_none(np.r_[ground, [] if none is None else [none] * times])
        self.assertEqual(found, [] if none is None else [none])

    def test_a_level_of_the_coast_is_one(self) -> None:
        self.assertEqual(levels_of_none(np.array([0.0, 0.0, 0.4, 1.1, 2.5, 3.2, 5.1, 0.0])), [])

    def test_a_person_may_say_otherwise(self) -> None:
        data = rows(np.vstack([LOCAL, LOCAL[:3] * [1, 1, 0]]), "{k},{e},{n},{h},{c}", "No,Easting,Northing,Level,Code")
        self.assertEqual(len(taken(data).found.table.number), N)
        self.assertEqual(len(taken(data, none=[]).found.table.number), N + 3)

    def test_the_same_road_in_feet_has_the_same_gaps(self) -> None:
        for apart in (8.0, 12.0):
            metres = np.r_[np.linspace(100, 103, 50), [100 - apart] * 3].round(3)
            self.assertEqual(len(levels_of_none(metres)), len(levels_of_none((metres / 0.3048).round(3), 0.3048)), apart)

    def test_units_keep_their_figures(self) -> None:
        feet = rows(
            np.vstack([LOCAL / METRES_PER["foot"], LOCAL[:3] * [1, 1, 0] + [0, 0, 9999.999]]),
            "{k},{e},{n},{h},{c}",
            "No,E ft,N ft,Z ft,C",
        )
        (none,) = taken(feet).found.none
        self.assertEqual((none.level, none.points), (9999.999, 3))


class AlongTheRoad(TestCase):
    def test_tables_along_the_road_in_feet_are_refused(self) -> None:
        """They are in metres, and say so; one whose headings say feet would be read three times too long."""
        with self.assertRaisesRegex(ImportProblem, "says feet"):
            read_crossfalls("Chainage (ft),Left %,Right %\n0,-2.5,-2.5\n300,-2.5,-2.5\n")
        with self.assertRaisesRegex(ImportProblem, "says feet"):
            read_lines("lines", "Chainage US ft;Angle;Left\n100;0;12\n", [])
        self.assertEqual(len(read_crossfalls("Chainage m,Left %,Right %\n0,-2.5,-2.5\n").rows), 1)
