"""Codes of an uploaded file taken apart, for a look before anything is imported."""

from collections import Counter

from config.errors import Refused
from saddle.exchange.code_guess import GRAMMARS, Guess, guess_grammar
from saddle.exchange.field_codes import lines_from_codes, lines_of, pieces_of
from saddle.exchange.point_rows import points_of
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import CodeList, CodeRule, ColumnMapping
from saddle.terrain.survey import collect, polylines
from survey.bodies import CodedLine, CodedRow, CodeFound, CodesOut, PieceOut, SkippedOut, UsualGrammar

#: Rows that are shown piece by piece, that lines are made of, and from which it is guessed how codes are written.
SHOWN, LOOKED_AT, GUESSED_FROM = 200, 5000, 50_000


def codes_of(text: str, mapping: ColumnMapping, known: CodeList, way: Floats | None) -> CodesOut:
    """known: what codes mean in the project; way: of its road. Raises Refused 400 where no column holds the codes, ImportProblem where none of the first rows holds a point."""
    if mapping.code is None:
        raise Refused(400, "no column is said to hold the codes", "code", "choose it above")
    plain, skipped = points_of(_head(text, LOOKED_AT), mapping, whole_codes=True)
    if mapping.grammar is None:
        guess = guess_grammar(points_of(_head(text, GUESSED_FROM), mapping, whole_codes=True)[0], known, way)
    else:
        guess = Guess(mapping.grammar, [])
    grammar = guess.grammar
    table, told = lines_from_codes(plain, grammar, way)
    made = polylines(collect(table))
    rows = []
    for row, code in zip(plain.row[:SHOWN].tolist(), plain.code, strict=False):
        pieces = [PieceOut(kind=p.kind, text=p.text) for p in pieces_of(code, grammar)]
        rows.append(CodedRow(row=row, pieces=pieces, lines=[s.name for s in lines_of(code, grammar)]))
    per_code = Counter(line.code for line in made)
    return CodesOut(
        grammar=grammar, usual=[UsualGrammar(name=name, grammar=usual) for name, usual in GRAMMARS.items()], rows=rows,
        lines=[
            CodedLine(code=p.code, name=p.name, colour=_colour(known, p.code), points=[[float(x), float(y)] for x, y, _ in p.points])
            for p in made
        ],
        codes=[CodeFound(code=code, points=n, lines=per_code[code]) for code, n in sorted(Counter(table.code).items())],
        why=guess.why, told=[SkippedOut(row=t.row, reason=t.reason) for t in [*skipped, *told][:SHOWN]], points=len(plain.code),
    )  # fmt: skip


def _head(text: str, rows: int) -> str:
    return "\n".join(text.split("\n", rows + 1)[: rows + 1])


def _colour(known: CodeList, code: str) -> str | None:
    """Of a code that somebody or something gave one."""
    rule = known.rule(code)
    return None if rule == CodeRule(code=code) else rule.colour
