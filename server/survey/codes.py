"""Codes of an uploaded file taken apart, for a look before anything is imported."""

from collections import Counter

from config.errors import Refused
from saddle.exchange.field_codes import GRAMMARS, guess_grammar, lines_from_codes, lines_of, pieces_of
from saddle.exchange.point_rows import read
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import CodeList, ColumnMapping
from saddle.terrain.survey import collect, polylines
from survey.bodies import CodedLine, CodedRow, CodeFound, CodesOut, PieceOut, SkippedOut, UsualGrammar

#: Rows that are shown piece by piece, and that lines are made of.
SHOWN, LOOKED_AT = 200, 5000


def codes_of(text: str, mapping: ColumnMapping, known: CodeList, way: Floats | None) -> CodesOut:
    """known: what codes mean in the project; way: of its road. Raises Refused 400 where no column holds the codes, ImportProblem where none of the first rows holds a point."""
    if mapping.code is None:
        raise Refused(400, "no column is said to hold the codes", "code", "choose it above")
    head = "\n".join(text.split("\n", LOOKED_AT + 1)[: LOOKED_AT + 1])
    plain, skipped = read(head, mapping.changed(grammar=None))
    grammar = mapping.grammar or guess_grammar(plain.code, known)
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
            CodedLine(code=p.code, name=p.name, colour=known.rule(p.code).colour, points=[[float(x), float(y)] for x, y, _ in p.points])
            for p in made
        ],
        codes=[CodeFound(code=code, points=n, lines=per_code[code]) for code, n in sorted(Counter(table.code).items())],
        told=[SkippedOut(row=t.row, reason=t.reason) for t in [*skipped, *told][:SHOWN]], points=len(plain.code),
    )  # fmt: skip
