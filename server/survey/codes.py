"""Codes of an uploaded file taken apart, as they are told."""

from saddle.exchange.code_guess import GRAMMARS
from saddle.exchange.coded import Coded
from saddle.terrain.spec import CodeList, CodeRule
from survey.bodies import CodedLine, CodedRow, CodeFound, CodesOut, PieceOut, SkippedOut, UsualGrammar


def codes_out(found: Coded, known: CodeList) -> CodesOut:
    """known: what codes mean in the project."""
    return CodesOut(
        grammar=found.grammar, usual=[UsualGrammar(name=name, grammar=usual) for name, usual in GRAMMARS.items()], why=found.why,
        rows=[
            CodedRow(row=r.row, pieces=[PieceOut(kind=p.kind, text=p.text) for p in r.pieces], lines=r.lines) for r in found.rows
        ],
        lines=[
            CodedLine(code=p.code, name=p.name, colour=_colour(known, p.code), points=[[float(x), float(y)] for x, y, _ in p.points])
            for p in found.lines
        ],
        codes=[CodeFound(code=code, points=n, lines=lines) for code, n, lines in found.codes],
        told=[SkippedOut(row=t.row, reason=t.reason) for t in found.told], points=found.points,
    )  # fmt: skip


def _colour(known: CodeList, code: str) -> str | None:
    """Of a code that somebody or something gave one."""
    rule = known.rule(code)
    return None if rule == CodeRule(code=code) else rule.colour
