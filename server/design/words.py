"""What an edit changed, in words: "Treatments, 0+480 to 0+700: least cover 50 to 58 mm"."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from saddle.chainage import format_chainage

#: Units at the end of a field's name, as they are written.
UNITS = {"mm": "mm", "m": "m", "pct": "%", "deg": "°", "kmh": "km/h", "one_in": "(1 in)"}
#: So many values are told one by one.
FEW = 3
#: More text than this of one value is not shown.
MOST = 40


@dataclass(frozen=True, slots=True)
class Difference:
    """One value that differs. where: what it belongs to, outermost first; field: its name."""

    where: tuple[str, ...]
    field: str
    before: Any
    after: Any


def told(title: str, before: Any, after: Any) -> str:
    """What differs between two specs of the document with a title: a few values with what they were and are, else how many."""
    found = list(_differences(before, after, (), ""))
    if not found:
        return f"{title} changed"
    places = list(dict.fromkeys(d.where for d in found))
    fields = {d.field for d in found}
    if len(places) == 1 and len(found) <= FEW:
        what = ", ".join(_change(d) for d in found)
    else:
        what = f"{_words(next(iter(fields)))[0]} at {len(places)} places" if len(fields) == 1 else f"{len(found)} values"
    return f"{', '.join((title, *_shared(places)))}: {what}"


def _shared(places: list[tuple[str, ...]]) -> tuple[str, ...]:
    """What all places begin with."""
    out = []
    for parts in zip(*places, strict=False):
        if len(set(parts)) > 1:
            break
        out.append(parts[0])
    return tuple(out)


def _change(d: Difference) -> str:
    name, unit = _words(d.field)
    if d.before is None:
        return f"{name} added" if isinstance(d.after, dict | list) else f"{name} {_value(d.after)} {unit}".strip()
    if d.after is None:
        return f"{name} removed" if isinstance(d.before, dict | list) else f"{name} {_value(d.before)} {unit} to none".strip()
    if isinstance(d.before, dict | list) or isinstance(d.after, dict | list):
        return f"{name} changed"
    return f"{name} {_value(d.before)} to {_value(d.after)} {unit}".strip()


def _differences(before: Any, after: Any, where: tuple[str, ...], field: str) -> Iterator[Difference]:
    if before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict):
        # Another kind of thing altogether has other fields: it is told as one.
        if before.keys() != after.keys():
            for tag in ("kind", "by"):
                if before.get(tag) != after.get(tag):
                    yield Difference(where, field or tag, before.get(tag), after.get(tag))
                    return
        for name in [*before, *(n for n in after if n not in before)]:
            yield from _differences(before.get(name), after.get(name), where, name)
    elif isinstance(before, list) and isinstance(after, list):
        yield from _of_lists(before, after, where, field)
    else:
        yield Difference(where, field, before, after)


def _of_lists(before: list[Any], after: list[Any], where: tuple[str, ...], field: str) -> Iterator[Difference]:
    """Items are told from each other by their place along the road or their name, else by their number."""
    names = [_name(v, i) for i, v in enumerate(before)], [_name(v, i) for i, v in enumerate(after)]
    if len(before) != len(after) and all(len(set(n)) == len(n) for n in names):
        old, new = dict(zip(names[0], before, strict=True)), dict(zip(names[1], after, strict=True))
        for name in [*old, *(n for n in new if n not in old)]:
            if name in old and name in new:
                yield from _differences(old[name], new[name], (*where, name), field)
            else:
                yield Difference((*where, name), _single(field), old.get(name), new.get(name))
        return
    for i in range(max(len(before), len(after))):
        a, b = (v[i] if i < len(v) else None for v in (before, after))
        name = names[0][i] if i < len(before) else names[1][i]
        yield from (
            [Difference((*where, name), _single(field), a, b)]
            if a is None or b is None
            else _differences(a, b, (*where, name), field)
        )


def _name(value: Any, i: int) -> str:
    if isinstance(value, dict):
        if "from_chainage" in value and value.get("to_chainage") is not None:
            return f"{format_chainage(value['from_chainage'], 0)} to {format_chainage(value['to_chainage'], 0)}"
        if "by" in value and isinstance(of := value.get("of"), dict) and "number" in of:
            return f"point {of['number']}"
        if "chainage" in value:
            return f"at {format_chainage(value['chainage'], 0)}"
        if isinstance(name := value.get("name"), str) and name:
            return str(name)
    return f"No {i + 1}"


def _single(field: str) -> str:
    return re.sub(r"ies$", "y", field) if field.endswith("ies") else re.sub(r"s$", "", field)


def _words(field: str) -> tuple[str, str]:
    """A field's name as words, and its unit."""
    for end, unit in UNITS.items():
        if field == end or field.endswith(f"_{end}"):
            return (field[: -len(end)].rstrip("_").replace("_", " ") or "slope"), unit
    return field.replace("_", " ") or "value", ""


def _value(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float | int):
        return f"{value:.6g}" if abs(value) < 1e5 else f"{value:.3f}".rstrip("0").rstrip(".")
    text = str(value)
    return f"“{text if len(text) <= MOST else text[: MOST - 1] + '…'}”"
