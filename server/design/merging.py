"""Two changes of one JSON value put together where they do not touch."""

import json
from dataclasses import dataclass, field
from difflib import SequenceMatcher
from typing import Any, Final

#: Stands for a key that is not there.
_GONE: Final = object()


@dataclass(frozen=True, slots=True)
class Merged:
    """touching: places that both changed to different values, as words; the value is theirs there."""

    value: Any
    touching: list[str] = field(default_factory=list)


def merge(base: Any, mine: Any, theirs: Any) -> Merged:
    """What two people made of one value. Objects are merged key by key; lists of one length item by item, others by the runs of
    items that either changed, inserted or took out (diff3's way): runs that meet in one place touch."""
    touching: list[str] = []
    value = _merge(base, mine, theirs, (), touching)
    return Merged(None if value is _GONE else value, touching)


def _merge(base: Any, mine: Any, theirs: Any, place: tuple[str, ...], touching: list[str]) -> Any:
    if mine in (theirs, base):
        return theirs
    if theirs == base:
        return mine
    if isinstance(base, dict) and isinstance(mine, dict) and isinstance(theirs, dict):
        keys = dict.fromkeys([*theirs, *mine])
        found = {k: _merge(base.get(k, _GONE), mine.get(k, _GONE), theirs.get(k, _GONE), (*place, k), touching) for k in keys}
        return {k: v for k, v in found.items() if v is not _GONE}
    if isinstance(base, list) and isinstance(mine, list) and isinstance(theirs, list):
        if len(base) == len(mine) == len(theirs):
            return [
                _merge(*items, (*place, str(i + 1)), touching) for i, items in enumerate(zip(base, mine, theirs, strict=True))
            ]
        return _lists(base, mine, theirs, place, touching)
    touching.append(" › ".join(place) or "all of it")
    return theirs


@dataclass(frozen=True, slots=True)
class _Run:
    """Items [low, high) of the base that became others."""

    low: int
    high: int
    became: list[Any]


def _runs(base: list[Any], other: list[Any]) -> list[_Run]:
    before, after = ([json.dumps(v, sort_keys=True) for v in values] for values in (base, other))
    found = SequenceMatcher(None, before, after, autojunk=False).get_opcodes()
    return [_Run(i, j, other[k:m]) for what, i, j, k, m in found if what != "equal"]


def _lists(base: list[Any], mine: list[Any], theirs: list[Any], place: tuple[str, ...], touching: list[str]) -> list[Any]:
    ours, others = _runs(base, mine), _runs(base, theirs)
    out: list[Any] = []
    at = 0
    while ours or others:
        a, b = next(iter(ours), None), next(iter(others), None)
        if a is not None and b is not None and _meet(a, b):
            if a.high - a.low == len(a.became) == len(b.became) and (a.low, a.high) == (b.low, b.high):
                both = zip(base[a.low : a.high], a.became, b.became, strict=True)
                became = [_merge(*items, (*place, str(a.low + i + 1)), touching) for i, items in enumerate(both)]
            else:
                if a != b:
                    touching.append(" › ".join([*place, _words(min(a.low, b.low), max(a.high, b.high))]))
                became = b.became
            run = _Run(min(a.low, b.low), max(a.high, b.high), became)
            ours, others = ours[1:], others[1:]
        elif b is None or (a is not None and (a.low, a.high) < (b.low, b.high)):
            assert a is not None
            run, ours = a, ours[1:]
        else:
            run, others = b, others[1:]
        out += base[at : run.low] + run.became
        at = max(at, run.high)
    return out + base[at:]


def _words(low: int, high: int) -> str:
    return str(high) if high == low + 1 else f"{low + 1} to {high}" if high > low else f"after {low}"


def _meet(a: _Run, b: _Run) -> bool:
    """Whether two runs change the same items, or insert at the same place."""
    return (a.low < b.high and b.low < a.high) or a.low == b.low
