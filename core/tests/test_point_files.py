"""Files of points as offices write them: delimiters, titles, comments, decimal signs, encodings, with and without numbers and headings.
Common practice, no source; a writer that shares nothing with the reader is the measure."""

import random
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.exchange.survey_csv import decode, preview, read
from saddle.terrain.spec import ColumnMapping


def read_as_guessed(data: bytes):  # type: ignore[no-untyped-def]
    text = decode(data)
    found = preview(text)
    mapping = ColumnMapping(
        delimiter=found.delimiter, decimal=found.decimal, header=found.header, skip=found.skip, **found.columns
    )  # type: ignore[arg-type]
    return read(text, mapping), found


class Guessed(TestCase):
    def test_places_without_numbers_are_counted(self) -> None:
        for text, codes in (
            ("412300.10 286540.2 84.1\n412301 286541 84.2\n", ["", ""]),
            ("412300.10,286540.2,84.1,EP\n412301,286541,84.2,CL\n", ["EP", "CL"]),
        ):
            (table, skipped), found = read_as_guessed(text.encode())
            self.assertEqual((table.number, table.code, skipped, found.columns["number"]), (["1", "2"], codes, [], None))
            np.testing.assert_allclose(table.xyz, [[412300.1, 286540.2, 84.1], [412301, 286541, 84.2]])

    def test_spaces_of_any_number_divide_columns(self) -> None:
        text = "  1   412300.10  286540.2    84.1   EP\n 12   412301.00  286541.0    84.2   CL\n"
        (table, _), found = read_as_guessed(text.encode())
        self.assertEqual((found.delimiter, table.number, table.code), (" ", ["1", "12"], ["EP", "CL"]))

    def test_titles_are_passed_over_and_comments_told_by_their_row(self) -> None:
        text = "Job 27, north lane\nmeasured in May\n\nnumber,easting,northing,level,code\n1,1,2,3,EP\n# check shot,9,9,9,\n2,5,6,7,EP\n"
        (table, skipped), found = read_as_guessed(text.encode())
        self.assertEqual((found.skip, found.header, table.number), (3, True, ["1", "2"]))
        self.assertEqual([(s.row, s.reason) for s in skipped], [(6, "is taken as a comment")])
        self.assertEqual(table.row.tolist(), [5, 7])
        self.assertEqual(preview(text, ",", skip=4).rows[0], ["1", "1", "2", "3", "EP"])

    def test_old_windows_text_keeps_its_letters(self) -> None:
        self.assertEqual(decode("Gefäll–Stra\u00dfe".encode("cp1252")), "Gefäll–Stra\u00dfe")


DELIMITERS = st.sampled_from([",", ";", "\t", "|", " ", "   "])


class Oracle(TestCase):
    @settings(max_examples=120)
    @given(
        DELIMITERS, st.booleans(), st.booleans(), st.integers(0, 3), st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "cp1252"]),
        st.sampled_from(["\n", "\r\n", "\r"]), st.booleans(), st.integers(2, 30), st.randoms(use_true_random=False),
    )  # fmt: skip
    def test_any_file_is_read_as_it_was_written(
        self,
        between: str,
        comma: bool,
        headings: bool,
        titles: int,
        encoding: str,
        end: str,
        numbered: bool,
        n: int,
        rng: random.Random,
    ) -> None:
        comma = comma and between != ","
        xyz = [(rng.uniform(4e5, 5e5), rng.uniform(2e5, 3e5), rng.uniform(-5, 900)) for _ in range(n)]
        codes = [rng.choice(["EP", "CL", "GR"]) for _ in range(n)]
        numbers = rng.sample(range(1, 9999), n)

        def cell(v: float) -> str:
            return f"{v:.3f}".replace(".", ",") if comma else f"{v:.3f}"

        # Of a file without headings the columns stand in their usual order.
        names = ["number", "easting", "northing", "level", "code"] if numbered else ["easting", "northing", "level", "code"]
        order = list(range(len(names)))
        if headings:
            rng.shuffle(order)
        lines = [f"Title {k}" for k in range(titles)]
        if headings:
            lines.append(between.join(names[k] for k in order))
        for number, place, code in zip(numbers, xyz, codes, strict=True):
            cells = [*([str(number)] if numbered else []), *map(cell, place), code]
            lines.append(between.join(cells[k] for k in order))
        (table, skipped), _ = read_as_guessed((end.join(lines) + end).encode(encoding))
        self.assertEqual(skipped, [])
        self.assertEqual(table.number, [str(v) for v in numbers] if numbered else [str(k + 1) for k in range(n)])
        self.assertEqual(table.xyz.tolist(), [[float(f"{v:.3f}") for v in place] for place in xyz])
        self.assertEqual(table.code, codes)
        self.assertEqual(table.row.tolist(), list(range(titles + headings + 1, titles + headings + n + 1)))
