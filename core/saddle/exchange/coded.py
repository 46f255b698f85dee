"""Codes of a table of points taken apart on its first rows, for a look before anything is imported."""

from collections import Counter
from dataclasses import dataclass

from saddle.errors import ImportProblem
from saddle.exchange.code_guess import Guess, guess_grammar
from saddle.exchange.field_codes import Piece, lines_from_codes, lines_of, pieces_of
from saddle.exchange.point_rows import points_of
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import CodeGrammar, CodeList, ColumnMapping
from saddle.terrain.survey import Polyline, collect, polylines
from saddle.terrain.table import SkippedRow

#: Rows that are shown piece by piece, that lines are made of, and from which it is guessed how codes are written.
SHOWN, LOOKED_AT, GUESSED_FROM = 200, 5000, 50_000


@dataclass(frozen=True, slots=True)
class CodedRow:
    """A row of the file with its code taken apart. lines: that its point belongs to."""

    row: int
    pieces: list[Piece]
    lines: list[str]


@dataclass(frozen=True, slots=True, eq=False)
class Coded:
    """What comes of the codes. grammar: by which they were taken apart; why: what speaks for it where it was guessed; codes: with their
    points and lines; told: what was noticed; points: rows that were looked at."""

    grammar: CodeGrammar
    why: list[str]
    rows: list[CodedRow]
    lines: list[Polyline]
    codes: list[tuple[str, int, int]]
    told: list[SkippedRow]
    points: int


def coded(text: str, mapping: ColumnMapping, known: CodeList, way: Floats | None) -> Coded:
    """known: what codes mean in the project; way: (k, 2) of its road, m. Without a grammar in the mapping by the one that fits best.
    Raises ImportProblem where no column holds the codes, and where none of the first rows holds a point."""
    if mapping.code is None:
        raise ImportProblem("no column is said to hold the codes", "code", "choose it above")
    plain, skipped = points_of(_head(text, LOOKED_AT), mapping, whole_codes=True)
    if mapping.grammar is None:
        guess = guess_grammar(points_of(_head(text, GUESSED_FROM), mapping, whole_codes=True)[0], known, way)
    else:
        guess = Guess(mapping.grammar, [])
    table, told = lines_from_codes(plain, guess.grammar, way)
    made = polylines(collect(table))
    per_code = Counter(line.code for line in made)
    rows = [
        CodedRow(row, pieces_of(code, guess.grammar), [s.name for s in lines_of(code, guess.grammar)])
        for row, code in zip(plain.row[:SHOWN].tolist(), plain.code, strict=False)
    ]
    codes = [(code, n, per_code[code]) for code, n in sorted(Counter(table.code).items())]
    return Coded(guess.grammar, guess.why, rows, made, codes, [*skipped, *told][:SHOWN], len(plain.code))


def _head(text: str, rows: int) -> str:
    return "\n".join(text.split("\n", rows + 1)[: rows + 1])
