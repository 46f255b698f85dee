"""A first guess how the codes of a file are written: a usual way of writing, words that nobody told, codes of points alone.

All of it is shown and may be changed before anything is read by it; `why` says what was not just taken from the usual ways.
"""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from saddle.exchange.along_road import tracks, way_through
from saddle.exchange.field_codes import Strung, pieces_of, strung
from saddle.geometry.along import along
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import CodeGrammar, CodeList, Control, ControlWord
from saddle.terrain.table import SurveyTable

#: A word stands where lines begin or end in this share of its rows, and in no fewer of them than this.
WORD_SHARE, WORD_ROWS = 0.8, 2
#: Marks that join a word to its code, and the longest word that is.
MARKS, LONGEST_WORD = ".-/_:+", 5
#: A line goes to and fro where it turns back at more than this share of its points; it is judged from so many steps on.
TO_AND_FRO, STEPS = 0.25, 5
#: Points of a line that are looked at.
LOOKED_AT = 1000
#: Points that go to and fro make lines along the road where these have so many points on the whole, and half of their pieces leave the
#: direction of the road by no more than this (offset by length).
MEMBERS, ASIDE = 6, 0.04

#: Control words that fit no project's codes by chance; an office changes them as it likes.
_WORDS: tuple[tuple[str, Control], ...] = (
    ("ST", "begin"), ("END", "end"), ("CLS", "close"), ("PC", "curve"), ("PT", "straight"),
)  # fmt: skip
_SHORT: tuple[tuple[str, Control], ...] = (
    ("B", "begin"), ("E", "end"), ("C", "close"), ("PC", "curve"), ("PT", "straight"),
)  # fmt: skip


def _controls(words: Sequence[tuple[str, Control]]) -> list[dict[str, str]]:
    return [{"word": word, "means": means} for word, means in words]


#: Grammars to begin with, by name: EP1; EP1 ST; EP1 B; B EP1; EP1.B; EP-L.
GRAMMARS: dict[str, CodeGrammar] = {
    "figures behind the code": CodeGrammar(between=" "),
    "words behind, by a space": CodeGrammar.model_validate({"controls": _controls(_WORDS)}),
    "letters behind, by a space": CodeGrammar.model_validate({"controls": _controls(_SHORT)}),
    "letters before, by a space": CodeGrammar.model_validate({"controls": _controls(_SHORT), "before": True}),
    "letters behind a dot": CodeGrammar.model_validate({"controls": _controls(_SHORT), "marks": "."}),
    "several words are one code": CodeGrammar(between=""),
    "lines behind a hyphen": CodeGrammar.model_validate({"controls": _controls(_WORDS), "marks": "-", "figures": False}),
}


@dataclass(frozen=True, slots=True)
class Guess:
    """A grammar, and what speaks for the parts of it that are told to the person, each a sentence without its stop."""

    grammar: CodeGrammar
    why: list[str]


def guess_grammar(table: SurveyTable, known: CodeList | None = None, way: Floats | None = None) -> Guess:
    """The grammar to begin with that fits the codes of a file best. known: what codes mean; way: (k, 2) of the road, m, or None."""
    grammar = _usual(list(dict.fromkeys(table.code)))
    if _one_code_each(table.code, grammar):
        grammar = GRAMMARS["several words are one code"]
    mark, marked = _marked_words(table.code)
    if marked:
        known_ = {word.word.upper() for word, _ in marked}
        others = [c for c in grammar.controls if c.word.upper() not in known_]
        grammar = grammar.changed(marks=mark, controls=[*(word for word, _ in marked), *others][:40])
    read = _read(table.code, grammar)
    words = [*marked, *_words(read)]
    why = [f"{word.word} is taken for a word: {_MEANT[word.means]} at {count} points" for word, count in words]
    learnt = [word for word, _ in words if word not in grammar.controls]
    if learnt:
        grammar = grammar.changed(controls=[*learnt, *grammar.controls][:40])
        read = _read(table.code, grammar)
    points, told, to_and_fro = _points(table, read, known or CodeList(), grammar.longest, way)
    # Words that begin and end lines would not count along the road.
    along_it = to_and_fro and not any(of.controls for found in read for of in found)
    return Guess(grammar.changed(points=points, along=along_it), why + told)


def _one_code_each(codes: Sequence[str], grammar: CodeGrammar) -> bool:
    """Whether several words make one code: most of those that stand beside others stand nowhere alone, and none is a word of control or
    has figures behind it."""
    several = [words for code in codes if len(words := code.split()) > 1]
    if not several or grammar.between != " ":
        return False
    controls = {c.word.upper() for c in grammar.controls}
    alone = {code.upper() for code in codes if len(code.split()) == 1}
    plain = [w for w in several if not any(p.upper() in controls or any(c.isdigit() for c in p) for p in w)]
    apart = [w for w in plain if any(p.upper() in alone for p in w)]
    different = {" ".join(w).upper() for w in plain}
    return len(plain) > 0.8 * len(several) and len(apart) < 0.5 * len(plain) and len(different) * WORD_ROWS <= len(plain)


def _marked_words(codes: Sequence[str]) -> tuple[str, list[tuple[ControlWord, int]]]:
    """Words that are joined to their code by a mark, and where lines begin or end: KB.S, KB1-E, DR/X. With the mark, and the rows that
    speak for each; of the marks the one for which most speaks."""
    best: tuple[str, list[tuple[ControlWord, int]]] = "", []
    for mark in MARKS:
        lines: defaultdict[str, list[int]] = defaultdict(list)
        said: defaultdict[str, list[tuple[int, str]]] = defaultdict(list)
        for row, code in enumerate(codes):
            for token in code.split():
                host, *parts = token.split(mark)
                lines[host].append(row)
                for part in parts:
                    if part.isalpha() and len(part) <= LONGEST_WORD:
                        said[part.upper()].append((row, host))
        place = {(host, row): k for host, rows in lines.items() for k, row in enumerate(rows)}
        spoken = {row for rows in said.values() for row, _ in rows}
        found = []
        for word, rows in said.items():
            if len(rows) < WORD_ROWS:
                continue
            others = spoken - {row for row, _ in rows}
            begins = ends = 0
            for row, host in rows:
                members, k = lines[host], place[host, row]
                begins += k == 0 or members[k - 1] in others
                ends += k == len(members) - 1 or members[k + 1] in others
            if max(begins, ends) >= WORD_SHARE * len(rows):
                means: Control = "begin" if begins >= ends else "end"
                found.append((ControlWord(word=word, means=means), len(rows)))
        if sum(n for _, n in found) > sum(n for _, n in best[1]):
            best = mark, sorted(found, key=lambda f: -f[1])
    return best


def _read(codes: Sequence[str], grammar: CodeGrammar) -> list[list[Strung]]:
    """Every code taken apart; few texts come often."""
    found = {text: strung(pieces_of(text, grammar), grammar) for text in set(codes)}
    return [found[text] for text in codes]


_MEANT: dict[Control, str] = {"begin": "lines begin", "end": "lines end"}


def _usual(texts: Sequence[str]) -> CodeGrammar:
    """Of the usual ways the one that finds most control words, then leaves fewest different codes."""
    best: tuple[int, int, str] | None = None
    for name, grammar in GRAMMARS.items():
        read = [pieces_of(t, grammar) for t in texts]
        kept = {p.text.upper() for pieces in read for p in pieces if p.kind == "code"}
        controls = sum(p.kind == "control" for pieces in read for p in pieces)
        score = (-controls, len(kept), name)
        if best is None or score[:2] < best[:2]:
            best = score
    return GRAMMARS[best[2]] if best else GRAMMARS["figures behind the code"]


def _words(read: Sequence[Sequence[Strung]]) -> list[tuple[ControlWord, int]]:
    """Codes that stand only beside others, where the lines of these begin or end; with the rows that speak for each."""
    alone = {of.code for found in read for of in found if len(found) == 1 or of.line or of.controls}
    lines: defaultdict[tuple[str, str], list[int]] = defaultdict(list)
    maybe: defaultdict[str, list[tuple[int, tuple[str, str]]]] = defaultdict(list)  # rows of a code, and the line it stands by
    for row, found in enumerate(read):
        for k, of in enumerate(found):
            if of.code in alone:
                lines[of.code, of.line].append(row)
            else:
                host = found[k - 1] if k else found[1]
                maybe[of.code].append((row, (host.code, host.line)))
    said = {row for rows in maybe.values() for row, _ in rows}
    begun, ended = (
        {row for row, found in enumerate(read) if any(means & set(of.controls) for of in found)}
        for means in ({"begin"}, {"end", "close"})
    )
    at = {(line, row): k for line, rows in lines.items() for k, row in enumerate(rows)}
    out: list[tuple[ControlWord, int]] = []
    for code, rows in maybe.items():
        if len(rows) < WORD_ROWS or len(code) > 12 or any(host not in alone for _, (host, _) in rows):
            continue
        others = said - {row for row, _ in rows}
        before, behind = others | ended, others | begun
        begins = ends = 0
        for row, line in rows:
            members, k = lines[line], at[line, row]
            begins += k == 0 or members[k - 1] in before
            ends += k == len(members) - 1 or members[k + 1] in behind
        means: Control = "begin" if begins >= ends else "end"
        if max(begins, ends) >= WORD_SHARE * len(rows):
            out.append((ControlWord(word=code, means=means), len(rows)))
    return sorted(out, key=lambda found: -found[1])


def _points(
    table: SurveyTable, read: Sequence[Sequence[Strung]], known: CodeList, longest: float, way: Floats | None
) -> tuple[list[str], list[str], bool]:
    """Codes that make no lines: those that mean single points, and those whose points lie about; what to say of the others that go to
    and fro; and whether there are any."""
    lines: defaultdict[str, defaultdict[str, list[int]]] = defaultdict(lambda: defaultdict(list))
    for row, found in enumerate(read):
        for of in found:
            lines[of.code][of.line].append(row)
    points: list[str] = []
    why: list[str] = []
    to_and_fro = False
    for code in sorted(lines):
        if known.rule(code).meaning in ("ground", "pit"):
            points.append(code)
            continue
        plans = [table.xyz[rows[:LOOKED_AT], :2] for rows in lines[code].values()]
        through = table.xyz[sorted({row for rows in lines[code].values() for row in rows[:LOOKED_AT]}), :2]
        turned = np.concatenate([_turned(plan) for plan in plans])
        if len(turned) < STEPS - 1 or turned.mean() <= TO_AND_FRO:
            continue
        made, aside = _along_the_road(plans, way_through(through, way), longest)
        if sum(map(len, plans)) < MEMBERS * made or aside > ASIDE:
            points.append(code)
            why.append(f"{code} lies about: its points make no lines")
        else:
            why.append(f"{code} goes to and fro as it was measured; along the road it makes {made} lines")
            to_and_fro = True
    return points[:200], why, to_and_fro


def _turned(plan: Floats) -> NDArray[np.bool_]:
    """Whether a line (n, 2) turns back, at each point between its ends; nothing of points on top of each other."""
    steps = np.diff(plan, axis=0)
    steps = steps[np.hypot(*steps.T) > 0.001]
    onward: Floats = np.einsum("ij,ij->i", steps[:-1], steps[1:])
    return onward < 0


def _along_the_road(plans: Sequence[Floats], way: Floats, longest: float) -> tuple[int, float]:
    """Lines that points make joined along a way, and how far their pieces leave its direction, the median of offset by length."""
    made = 0
    aside: list[Floats] = []
    for plan in plans:
        s, offset = along(plan, way)
        for track in tracks(plan, s, offset, longest)[0]:
            made += 1
            aside.append(np.abs(np.diff(offset[track])) / np.diff(s[track]))
    pieces = np.concatenate(aside)
    return made, float(np.median(pieces)) if len(pieces) else np.inf
