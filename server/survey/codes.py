"""Codes of an uploaded file taken apart, for a look before anything is imported."""

from collections import Counter

from config.errors import Refused
from saddle.exchange.field_codes import GRAMMARS, guess_grammar, pieces_of, strung
from saddle.exchange.survey_csv import read
from saddle.terrain.spec import ColumnMapping, guess_rule
from saddle.terrain.survey import collect, polylines
from survey.bodies import CodedLine, CodedRow, CodeFound, CodesOut, PieceOut, SkippedOut, UsualGrammar

#: Rows that are shown piece by piece, and that lines are made of.
SHOWN, LOOKED_AT = 200, 5000


def codes_of(text: str, mapping: ColumnMapping) -> CodesOut:
    """Raises Refused 400 where no column holds the codes, ImportProblem where none of the first rows holds a point."""
    if mapping.code is None:
        raise Refused(400, "no column is said to hold the codes", "code", "choose it above")
    head = "\n".join(text.split("\n", LOOKED_AT + 1)[: LOOKED_AT + 1])
    plain, _ = read(head, mapping.changed(grammar=None))
    grammar = mapping.grammar or guess_grammar(plain.code)
    table, told = read(head, mapping.changed(grammar=grammar))
    made = polylines(collect(table))
    rows = []
    for row, code in zip(plain.row[:SHOWN].tolist(), plain.code, strict=False):
        pieces = pieces_of(code, grammar)
        lines = [f"{s.code} {s.line}".strip() for s in strung(pieces, grammar) if s.code not in grammar.points]
        rows.append(CodedRow(row=row, pieces=[PieceOut(kind=p.kind, text=p.text) for p in pieces], lines=lines))
    per_code = Counter(line.code for line in made)
    return CodesOut(
        grammar=grammar, usual=[UsualGrammar(name=name, grammar=usual) for name, usual in GRAMMARS.items()], rows=rows,
        lines=[
            CodedLine(code=p.code, name=p.name, colour=guess_rule(p.code).colour, points=[[float(x), float(y)] for x, y, _ in p.points])
            for p in made
        ],
        codes=[CodeFound(code=code, points=n, lines=per_code[code]) for code, n in sorted(Counter(table.code).items())],
        told=[SkippedOut(row=t.row, reason=t.reason) for t in told[:SHOWN]], points=len(plain.code),
    )  # fmt: skip
