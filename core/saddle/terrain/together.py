"""Surveys put together: the first, what lies beside it, and what was edited by hand."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from saddle import tolerances
from saddle.errors import ImportProblem
from saddle.geometry.polylines import Bools, Floats
from saddle.terrain.in_use import Edit, GapOpened, LinesJoined, LineSplit, LineThrough, PointEdit, PointRef
from saddle.terrain.survey import Survey, chains, kept_part, ring_of


@dataclass(frozen=True, slots=True, eq=False)
class PutTogether:
    """A survey as it counts. told: what could not be done, in words; before: how many of its points come from imports."""

    survey: Survey
    told: tuple[str, ...]
    before: int


@dataclass(frozen=True, slots=True, eq=False)
class Layer:
    """A survey beside the first. within: code of the line that it is cut to; name: as people call it."""

    survey: Survey
    within: str | None = None
    name: str = ""


def put_together(first: Survey, beside: Sequence[Layer] = (), edits: Sequence[Edit] = ()) -> PutTogether:
    """The survey that counts. An edit that meets nothing any more, as its import does not count, is left out and told."""
    told: list[str] = []
    whole = first
    for layer in beside:
        whole = both(whole, _cut(layer, first, told))
    before = len(whole.number)
    if edits:
        draft = _Draft(whole, edits)
        for k, edit in enumerate(edits, start=1):
            try:
                draft.do(edit)
            except _Nothing as nothing:
                told.append(f"edit {k}, {in_words(edit)}: {nothing}")
        whole = draft.done()
    return PutTogether(whole, tuple(told), before)


def both(a: Survey, b: Survey) -> Survey:
    """Two surveys as one; numbers and line names of the second that are taken get a suffix."""
    number = _renamed(b.number, a.number)
    keys = np.char.add(np.char.add(a.code.astype(str), "\0"), a.line.astype(str))
    mine = np.char.add(np.char.add(b.code.astype(str), "\0"), b.line.astype(str))
    line = np.where((b.line != "") & np.isin(mine, keys), np.char.add(b.line.astype(str), "+"), b.line)
    return Survey(
        np.concatenate([a.number, number]), np.vstack([a.xyz, b.xyz]), np.concatenate([a.code, b.code]),
        np.concatenate([a.line, line]), np.vstack([a.segments, b.segments + len(a.number)]),
    )  # fmt: skip


def _renamed(new: np.ndarray, taken: np.ndarray) -> np.ndarray:
    out = new.astype(str)
    while (clash := np.isin(out, taken)).any():
        out = np.where(clash, np.char.add(out, "+"), out)
    return out


def _cut(layer: Layer, first: Survey, told: list[str]) -> Survey:
    if layer.within is None:
        return layer.survey
    for survey in (layer.survey, first):
        try:
            ring = ring_of(survey, layer.within)
        except ImportProblem:
            continue
        if len(ring) < 3:
            continue
        area = shapely.make_valid(shapely.polygons(ring))
        shapely.prepare(area)
        inside: Bools = shapely.covers(area, shapely.points(layer.survey.xyz[:, :2]))
        return kept_part(layer.survey, inside)
    told.append(f"{layer.name}: there is no line of code {layer.within} to cut it to, so all of it counts")
    return layer.survey


def in_words(edit: Edit) -> str:
    """What an edit does, as people say it."""
    match edit:
        case PointEdit():
            done = [] if edit.level is None else [f"level {edit.level:.3f} m"]
            done += [] if edit.code is None else [f"code {edit.code or 'none'}"]
            done += [] if edit.line is None else [f"into line {edit.line}" if edit.line else "off its line"]
            return f"point {edit.of.number} {edit.of.code}: {', '.join(done) or 'as it is'}"
        case LineThrough():
            return f"line {edit.code} {edit.name} through {len(edit.points)} points"
        case GapOpened():
            return f"line {edit.code} {edit.name}: gap from point {edit.between[0]} to {edit.between[1]}"
        case LineSplit():
            return f"line {edit.code} {edit.name}: split at point {edit.at}"
        case LinesJoined():
            return f"line {edit.code} {edit.name}: joined with {edit.other}"


def _numbers(edit: Edit) -> list[str]:
    """Numbers of points that an edit names."""
    match edit:
        case PointEdit():
            return [edit.of.number]
        case LineThrough():
            return [ref.number for ref in edit.points]
        case LineSplit():
            return [edit.at]
        case _:
            return []


def _texts(edit: Edit) -> list[str]:
    """Codes and names that an edit writes."""
    match edit:
        case PointEdit():
            return [edit.code or "", edit.line or ""]
        case _:
            return [edit.code, edit.name]


def _roomy(values: np.ndarray, more: int, longest: int) -> np.ndarray:
    """Texts with room behind them, and for longer ones."""
    texts = values.astype(str)
    out = np.empty(len(texts) + more, dtype=f"U{max(texts.dtype.itemsize // 4 + 6, longest)}")
    out[: len(texts)], out[len(texts) :] = texts, ""
    return out


class _Nothing(Exception):
    """An edit that meets nothing."""


class _Draft:
    """A survey that is being edited. Arrays have room for the points that edits add, of which `count` are there."""

    def __init__(self, survey: Survey, edits: Sequence[Edit]) -> None:
        self.count = len(survey.number)
        room = sum(len(e.points) if isinstance(e, LineThrough) else isinstance(e, LineSplit) for e in edits)
        longest = 6 + max((len(text) for e in edits for text in _texts(e)), default=0)  # behind a name come "-2" and the like
        self.number, self.code, self.line = (_roomy(a, room, longest) for a in (survey.number, survey.code, survey.line))
        self.xyz = np.vstack([survey.xyz, np.zeros((room, 3))])
        self.chains = chains(survey)
        #: Points of the numbers that edits name.
        self.named: dict[str, list[int]] = {}
        for i in np.flatnonzero(np.isin(survey.number, list({n for e in edits for n in _numbers(e)}))).tolist():
            self.named.setdefault(str(survey.number[i]), []).append(i)

    def done(self) -> Survey:
        """As edited: lines of a single point are none."""
        n = self.count
        pieces = [np.column_stack([c[:-1], c[1:]]) for c in self.chains]
        segments = np.concatenate(pieces).astype(np.intp) if pieces else np.empty((0, 2), dtype=np.intp)
        return Survey(self.number[:n], self.xyz[:n], self.code[:n], self.line[:n], segments)

    def do(self, edit: Edit) -> None:
        """Raises _Nothing with why it cannot be done."""
        match edit:
            case PointEdit():
                self._point(edit)
            case LineThrough():
                self._through(edit)
            case GapOpened():
                self._gap(edit)
            case LineSplit():
                self._split(edit)
            case LinesJoined():
                self._join(edit)

    def _point(self, edit: PointEdit) -> None:
        i = self._find(edit.of, on_line=edit.line == "")
        if edit.level is not None:
            same = np.array(self.named[edit.of.number])
            apart = np.hypot(*(self.xyz[same, :2] - self.xyz[i, :2]).T)
            self.xyz[same[apart <= tolerances.DUPLICATE_PLAN], 2] = edit.level
        if edit.code is not None:
            self._off(i)
            self.code[i] = edit.code
        if edit.line is not None:
            onto = self._chain(str(self.code[i]), edit.line) if edit.line else None
            if onto is not None and i in onto:
                return
            self._off(i)
            if onto is not None:
                onto.insert(self._nearest(onto, i), i)
                self.line[i] = edit.line

    def _through(self, edit: LineThrough) -> None:
        if any(self._is(c, edit.code, edit.name) for c in self.chains):
            raise _Nothing("there is a line of this name already")
        met = [self._find(ref) for ref in edit.points]
        if len(set(met)) < len(met) - (met[0] == met[-1]):
            raise _Nothing("it goes through a point twice")
        mine = {
            i: i if self.code[i] == edit.code and self.line[i] == "" else self._copy(i, edit.code) for i in dict.fromkeys(met)
        }
        chain = [mine[i] for i in met]
        self.line[chain] = edit.name
        self.chains.append(chain)

    def _gap(self, edit: GapOpened) -> None:
        chain = self._chain(edit.code, edit.name)
        wanted = set(edit.between)
        k = next(
            (k for k in range(len(chain) - 1) if {str(self.number[chain[k]]), str(self.number[chain[k + 1]])} == wanted), None
        )
        if k is None:
            raise _Nothing("the two points do not follow each other on the line")
        if chain[0] == chain[-1]:  # a ring opens and stays one line
            self._become(chain, [*chain[k + 1 : -1], *chain[: k + 1]])
            return
        behind = chain[k + 1 :]
        self._become(chain, chain[: k + 1])
        self._new(behind, edit.code, edit.name)

    def _split(self, edit: LineSplit) -> None:
        chain = self._chain(edit.code, edit.name)
        k = next((k for k in range(1, len(chain) - 1) if self.number[chain[k]] == edit.at), None)
        if k is None:
            raise _Nothing("the point is not between the ends of the line")
        behind = [self._copy(chain[k], edit.code), *chain[k + 1 :]]
        self._become(chain, chain[: k + 1])
        self._new(behind, edit.code, edit.name)

    def _join(self, edit: LinesJoined) -> None:
        first, other = self._chain(edit.code, edit.name), self._chain(edit.code, edit.other)
        if first is other:
            raise _Nothing("a line is not joined with itself")
        if first[0] == first[-1] or other[0] == other[-1]:
            raise _Nothing("a closed line has no end")
        ways = [(a, b) for a in (first[::-1], first[:]) for b in (other[:], other[::-1])]
        a, b = min(ways, key=lambda way: float(np.hypot(*(self.xyz[way[0][-1], :2] - self.xyz[way[1][0], :2]))))
        if np.hypot(*(self.xyz[a[-1], :2] - self.xyz[b[0], :2])) <= tolerances.DUPLICATE_PLAN:
            self.line[b[0]] = ""  # the end that both had is on the line once
            b = b[1:]
        # In the direction of the first, whichever end was met.
        whole = a + b if a == first else (a + b)[::-1]
        self.chains.remove(other)
        self._become(first, whole)

    def _find(self, ref: PointRef, on_line: bool = False) -> int:
        """The first point of a number and code, if it is asked for rather one that is on a line."""
        found = [i for i in self.named.get(ref.number, []) if self.code[i] == ref.code]
        if not found:
            raise _Nothing(f"there is no point {ref.number} of code {ref.code or 'none'}")
        return next((i for i in found if on_line and self.line[i] != ""), found[0])

    def _is(self, chain: list[int], code: str, name: str) -> bool:
        return bool(self.code[chain[0]] == code and self.line[chain[0]] == name)

    def _chain(self, code: str, name: str) -> list[int]:
        found = next((c for c in self.chains if self._is(c, code, name)), None)
        if found is None:
            raise _Nothing(f"there is no line {code} {name}")
        return found

    def _copy(self, i: int, code: str) -> int:
        """The point once more, with a code."""
        k = self.count
        self.number[k], self.xyz[k], self.code[k], self.line[k] = self.number[i], self.xyz[i], code, ""
        self.named[str(self.number[i])].append(k)
        self.count += 1
        return k

    def _become(self, chain: list[int], members: list[int]) -> None:
        """The chain has these members; one of a single point is none."""
        name = self.line[chain[0]]
        self.line[np.setdiff1d(chain, members)] = ""
        self.line[members] = name
        chain[:] = members
        if len(chain) < 2:
            self.line[members] = ""
            self.chains = [c for c in self.chains if c is not chain]

    def _new(self, members: list[int], code: str, name: str) -> None:
        """A line of its own, with a free name after the one that it was part of."""
        if len(members) < 2:
            self.line[members] = ""
            return
        taken = {str(self.line[c[0]]) for c in self.chains if self.code[c[0]] == code}
        k = next(k for k in range(2, len(taken) + 3) if f"{name}-{k}" not in taken)
        self.line[members] = f"{name}-{k}"
        self.chains.append(members)

    def _off(self, i: int) -> None:
        """A point leaves its line, which goes on without it."""
        code, name = str(self.code[i]), str(self.line[i])
        chain = next((c for c in self.chains if name and self._is(c, code, name) and i in c), None)
        if chain is not None:
            ring = chain[0] == chain[-1]
            left = [j for j in chain if j != i]
            if ring and chain[0] == i and len(left) > 1:
                left.append(left[0])
            self._become(chain, left if not ring or len(left) > 3 else list(dict.fromkeys(left)))
        self.line[i] = ""

    def _nearest(self, chain: list[int], i: int) -> int:
        """Where a point goes into a line: where the way grows least."""
        p, along = self.xyz[i, :2], self.xyz[chain, :2]
        to: Floats = np.hypot(*(along - p).T)
        between = to[:-1] + to[1:] - np.hypot(*np.diff(along, axis=0).T)
        ways = np.concatenate([[to[0]], between, [to[-1]]])
        if chain[0] == chain[-1]:
            ways[[0, -1]] = np.inf
        return int(np.argmin(ways))
