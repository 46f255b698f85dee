"""Codes as surveyors write them in the field: which lines a point belongs to, and where these begin, end, close and curve.

Common practice: the same code in measuring order makes a line; figures or letters behind it tell lines apart; short words begin, end
and close it. Which words and signs, every office settles for itself: that is the grammar.
"""

import itertools
import math
import re
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.along_road import tracks, way_through
from saddle.geometry.along import along
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import CodeGrammar, Control
from saddle.terrain.table import SkippedRow, SurveyTable

#: A chord leaves its arc by no more than this, m.
CHORD = 0.01
#: Most points that are put between two measured ones.
MOST_BETWEEN = 200
PieceKind = Literal["code", "line", "control", "remark", "between"]


@dataclass(frozen=True, slots=True)
class Piece:
    """A part of a code as it is written, all of them together are the whole of it."""

    kind: PieceKind
    text: str


@dataclass(slots=True)
class Strung:
    """A line that a point belongs to. line: what tells it apart from others of its code."""

    code: str
    line: str
    controls: list[Control] = field(default_factory=list)

    @property
    def name(self) -> str:
        """As the line is told."""
        return f"{self.code} {self.line}".strip()


def pieces_of(text: str, grammar: CodeGrammar) -> list[Piece]:
    """A code taken apart. A word that stands alone is a code: what would it begin or end?"""
    words = {c.word.upper() for c in grammar.controls}
    out: list[Piece] = []
    said, remark = text, ""
    if grammar.remark and (at := text.find(grammar.remark)) >= 0:
        said, remark = text[:at], text[at:]
    for token in re.split(f"([{re.escape(grammar.between)}]+)", said) if grammar.between else [said]:
        if not token:
            continue
        if grammar.between and not token.strip(grammar.between):
            out.append(Piece("between", token))
        elif token.upper() in words:
            out.append(Piece("control", token))
        else:
            out += _token(token, grammar, words)
    if not any(p.kind == "code" for p in out):
        alone = next((k for k, p in enumerate(out) if p.kind == "control"), None)
        if alone is not None:
            out[alone] = Piece("code", out[alone].text)
    if remark:
        out.append(Piece("remark", remark))
    return out


def _token(token: str, grammar: CodeGrammar, words: set[str]) -> Iterator[Piece]:
    """The code, what tells its line apart, and control words joined to it by a mark."""
    parts = re.split(f"([{re.escape(grammar.marks)}])", token) if grammar.marks else [token]
    lead = parts[0]
    figures = re.fullmatch(r"(.*?\D)(\d+)", lead) if grammar.figures else None
    if figures:
        code = figures[1].rstrip()
        yield Piece("code", code)
        if code != figures[1]:
            yield Piece("between", figures[1][len(code) :])
        yield Piece("line", figures[2])
    elif lead:
        yield Piece("code", lead)
    for mark, part in zip(parts[1::2], parts[2::2], strict=True):
        yield Piece("between", mark)
        if part:
            yield Piece("control" if part.upper() in words else "line", part)


def strung(pieces: Sequence[Piece], grammar: CodeGrammar) -> list[Strung]:
    """The lines that a point belongs to. A control word counts for the code before it, or with `before` for the one behind it; joined by
    a mark for the one that it is joined to."""
    means = {c.word.upper(): c.means for c in grammar.controls}
    out: list[Strung] = []
    waiting: list[Control] = []
    joined = False
    for piece in pieces:
        match piece.kind:
            case "code":
                out.append(Strung(piece.text, "", waiting))
                waiting, joined = [], False
            case "line" if out:
                out[-1].line = piece.text if not out[-1].line else f"{out[-1].line}{piece.text}"
            case "control":
                mine = out and (joined or not grammar.before)
                (out[-1].controls if mine else waiting).append(means[piece.text.upper()])
            case _:
                joined = piece.kind == "between" and bool(grammar.marks) and piece.text in grammar.marks
    if waiting and out:
        out[-1].controls += waiting
    return out


def lines_of(text: str, grammar: CodeGrammar) -> list[Strung]:
    """The lines that a point of this code is on."""
    plain = {code.upper() for code in grammar.points}
    found = strung(pieces_of(text, grammar), grammar)
    return [s for s in found if s.code.upper() not in plain and "point" not in s.controls]


@dataclass(slots=True)
class _Line:
    """A line as it grows. members: rows of the points; bends: where curves begin and end among them."""

    part: int = 1
    members: list[int] = field(default_factory=list)
    open: bool = True
    curved_from: int | None = None
    curves: list[tuple[int, int]] = field(default_factory=list)
    closed: bool = False


class _Lines:
    """All lines of a survey, made point by point in measuring order."""

    def __init__(self, table: SurveyTable, grammar: CodeGrammar) -> None:
        self.table, self.grammar = table, grammar
        self.now: dict[tuple[str, str], _Line] = {}
        self.done: list[tuple[str, str, _Line]] = []
        self.told: list[SkippedRow] = []
        #: Rows of the points of each line, where they are joined along the road.
        self.members: defaultdict[tuple[str, str], list[int]] = defaultdict(list)

    def join_along(self, way: Floats) -> None:
        """Lines of the members, each code's from the left."""
        for key, rows in self.members.items():
            plan = self.table.xyz[rows, :2]
            found, broken = tracks(plan, *along(plan, way), self.grammar.longest)
            for part, track in enumerate(found, start=1):
                self.done.append((*key, _Line(part=part, members=[rows[k] for k in track])))
            for a, b in broken:
                self._tell_break(Strung(*key), rows[a], rows[b], float(np.hypot(*(plan[b] - plan[a]))))

    def point(self, row: int, of: Strung) -> None:
        key = (of.code, of.line)
        line = self.now.get(key)
        if line is None or not line.open or "begin" in of.controls or self._too_far(line, row, of):
            line = self._next(key, line)
        line.members.append(row)
        at = len(line.members) - 1
        if "curve" in of.controls:
            line.curved_from = at
        if "straight" in of.controls:
            if line.curved_from is None:
                self._tell(row, f"{of.name}: a curve ends that never began")
            else:
                line.curves.append((line.curved_from, at))
                line.curved_from = None
        if "close" in of.controls:
            line.closed = True
        if "end" in of.controls or "close" in of.controls:
            line.open = False

    def _next(self, key: tuple[str, str], line: _Line | None) -> _Line:
        fresh = _Line(part=1 if line is None else line.part + 1)
        self.now[key] = fresh
        self.done.append((*key, fresh))
        return fresh

    def _too_far(self, line: _Line, row: int, of: Strung) -> bool:
        if not line.members:
            return False
        last = line.members[-1]
        apart = float(np.hypot(*(self.table.xyz[row, :2] - self.table.xyz[last, :2])))
        if apart <= self.grammar.longest:
            return False
        self._tell_break(of, last, row, apart)
        return True

    def _tell_break(self, of: Strung, a: int, b: int, apart: float) -> None:
        number = self.table.number
        self._tell(b, f"{of.name} is broken between {number[a]} and {number[b]}, which are {apart:.1f} m apart")

    def _tell(self, row: int, reason: str) -> None:
        self.told.append(SkippedRow(int(self.table.row[row]), reason))


def lines_from_codes(
    table: SurveyTable, grammar: CodeGrammar, way: Floats | None = None, progress: Callable[[float], None] = lambda _: None
) -> tuple[SurveyTable, list[SkippedRow]]:
    """The points with the lines that their codes say, in measuring order, and what was noticed. A point of several lines stands once for
    each, its further ones under its number and their code; what lies between measured points of a curve gets numbers of its own. way:
    (k, 2) along which points are joined where the grammar says so, m; None for a rough one through the points.

    Raises ImportProblem where no code is left."""
    lines = _Lines(table, grammar)
    first: list[str] = []  # the code under which every point stands first
    taken: dict[str, tuple[str, list[Strung]]] = {}  # few texts come often
    for row, text in enumerate(table.code):
        if row % 20_000 == 0:
            progress(row / max(1, len(table.code)))
        if text not in taken:
            every = strung(pieces_of(text, grammar), grammar)
            taken[text] = every[0].code if every else "", lines_of(text, grammar)
        code, on = taken[text]
        first.append(code)
        for of in on:
            if grammar.along:
                lines.members[of.code, of.line].append(row)
            else:
                lines.point(row, of)
    if not any(first):
        raise ImportProblem("no code is left when the codes are taken apart so", "codes", "change how they are taken apart")
    if grammar.along and lines.members:
        # Points that are on no line may lie about anywhere.
        through = sorted({row for rows in lines.members.values() for row in rows})
        lines.join_along(way_through(table.xyz[through, :2], way))
    return _table(table, lines, first), sorted(lines.told, key=lambda r: r.row)


def _table(table: SurveyTable, lines: _Lines, first: list[str]) -> SurveyTable:
    number, code, n = list(table.number), list(first), len(table.number)
    line, order, row = [""] * n, list(range(n)), list(table.row)
    places = [tuple(p) for p in table.xyz.tolist()]
    taken, used = set(number), [False] * n

    def put(like: int, name: str, of: str, on: str, at: int, place: tuple[float, ...]) -> None:
        unique = next(t for k in itertools.count() if (t := name if k == 0 else f"{name}+{k}") not in taken)
        taken.add(unique)
        number.append(unique)
        code.append(of)
        line.append(on)
        order.append(at)
        row.append(table.row[like])
        places.append(place)

    for of, on, found in lines.done:
        if len(found.members) < 2:
            # A line of one point is none; a further code of a point that makes none is told by its lines alone.
            continue
        name = f"{on or '1'}" if found.part == 1 else f"{on or '1'}.{found.part}"
        between = _between(table.xyz, found, lines)
        at = 0
        for k, member in enumerate(found.members):
            if not used[member] and first[member] == of:
                used[member], line[member], order[member] = True, name, at
            else:
                put(member, f"{table.number[member]}/{of}", of, name, at, places[member])
            at += 1
            for place in between.get(k, ()):
                put(member, f"{table.number[member]}~{at}", of, name, at, place)
                at += 1
        if found.closed and len(found.members) > 2:
            put(found.members[0], f"{table.number[found.members[0]]}/{of}", of, name, at, places[found.members[0]])
    return SurveyTable(number, np.array(places, dtype=float), code, line, np.array(order), np.array(row))


def _between(xyz: Floats, line: _Line, lines: _Lines) -> dict[int, list[tuple[float, ...]]]:
    """Points on the curves of a line, by the member that they come behind."""
    out: dict[int, list[tuple[float, ...]]] = {}
    for a, b in line.curves:
        members = line.members[a : b + 1]
        if len(members) < 3:
            if len(members) == 2:
                lines._tell(members[0], "a curve without a point between its ends is drawn straight")
            continue
        for k in range(len(members) - 1):
            three = members[k : k + 3] if k % 2 == 0 and k + 2 < len(members) else members[k - 1 : k + 2]
            out[a + k] = _arc(xyz[three], xyz[members[k]], xyz[members[k + 1]])
    return out


def _arc(three: Floats, start: Floats, end: Floats) -> list[tuple[float, ...]]:
    """Points from `start` to `end`, both left out, on the circle through three points in plan, so near that a chord leaves it by no more
    than CHORD; levels run straight along it. Nothing where the three lie on a straight line."""
    base = three[0, :2].copy()
    p = three[:, :2] - base
    (ax, ay), (bx, by) = p[1], p[2]
    d = 2 * (ax * by - ay * bx)
    if abs(d) < 1e-9 * max(1.0, float(np.abs(p).max()) ** 2):
        return []
    a2, b2 = ax * ax + ay * ay, bx * bx + by * by
    centre = np.array([(by * a2 - ay * b2) / d, (ax * b2 - bx * a2) / d])
    radius = float(np.hypot(*centre))
    to = [start[:2] - base - centre, end[:2] - base - centre]
    begin, stop = (math.atan2(v[1], v[0]) for v in to)
    turn = (stop - begin) % (2 * math.pi) if d > 0 else -((begin - stop) % (2 * math.pi))
    step = 2 * math.acos(max(-1.0, 1 - CHORD / radius)) if radius > CHORD else math.pi
    count = min(MOST_BETWEEN, max(1, math.ceil(abs(turn) / step)))
    out: list[tuple[float, ...]] = []
    for t in np.arange(1, count) / count:
        angle = begin + t * turn
        x, y = base + centre + radius * np.array([math.cos(angle), math.sin(angle)])
        out.append((float(x), float(y), float(start[2] + t * (end[2] - start[2]))))
    return out
