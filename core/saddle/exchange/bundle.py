"""Libraries as one JSON file: templates, make-ups, kerbs, materials with all that they need, reports, drawing styles, and
column mappings with their grammars of codes, and lists of codes.

The format is ours: {"format": "tin-saddle-library", "version": 1, "items": [{"kind", "key", "spec"}, ...]}; its JSON schema
is docs/library.schema.json. A newer version is refused, never half read.
"""

import json
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from saddle.documents_base import Document, Key, references, renamed
from saddle.drawings.spec import DrawingStyle
from saddle.errors import ImportProblem
from saddle.exchange.json_file import read_json
from saddle.quantities.reports.spec import ReportLayout
from saddle.template.median import MedianSpec
from saddle.template.parts import KerbProfile, MakeUp, Material
from saddle.template.spec import TemplateSpec
from saddle.terrain.spec import SavedCodes, SavedMapping

FORMAT, VERSION = "tin-saddle-library", 1
#: Kinds that libraries hold, those that others need first.
LIBRARY_KINDS = ("material", "kerb", "make_up", "template", "median", "report", "drawing_style", "mapping", "saved_codes")
LibraryKind = Literal["material", "kerb", "make_up", "template", "median", "report", "drawing_style", "mapping", "saved_codes"]
#: (kind, key) of a document.
Name = tuple[str, str]


class MaterialItem(Document):
    """One of the file's documents."""

    kind: Literal["material"] = "material"
    key: Key
    spec: Material


class KerbItem(Document):
    """One of the file's documents."""

    kind: Literal["kerb"] = "kerb"
    key: Key
    spec: KerbProfile


class MakeUpItem(Document):
    """One of the file's documents."""

    kind: Literal["make_up"] = "make_up"
    key: Key
    spec: MakeUp


class TemplateItem(Document):
    """One of the file's documents."""

    kind: Literal["template"] = "template"
    key: Key
    spec: TemplateSpec


class MedianItem(Document):
    """One of the file's documents."""

    kind: Literal["median"] = "median"
    key: Key
    spec: MedianSpec


class ReportItem(Document):
    """One of the file's documents."""

    kind: Literal["report"] = "report"
    key: Key
    spec: ReportLayout


class DrawingStyleItem(Document):
    """One of the file's documents."""

    kind: Literal["drawing_style"] = "drawing_style"
    key: Key
    spec: DrawingStyle


class MappingItem(Document):
    """One of the file's documents."""

    kind: Literal["mapping"] = "mapping"
    key: Key
    spec: SavedMapping


class SavedCodesItem(Document):
    """One of the file's documents."""

    kind: Literal["saved_codes"] = "saved_codes"
    key: Key
    spec: SavedCodes


Item = Annotated[
    MaterialItem
    | KerbItem
    | MakeUpItem
    | TemplateItem
    | MedianItem
    | ReportItem
    | DrawingStyleItem
    | MappingItem
    | SavedCodesItem,
    Field(discriminator="kind"),
]


class Bundle(Document):
    """The file."""

    format: Literal["tin-saddle-library"] = "tin-saddle-library"
    version: Literal[1] = 1
    items: Annotated[list[Item], Field(max_length=2000)]

    def specs(self) -> dict[Name, Document]:
        """Its documents by kind and key."""
        return {(i.kind, i.key): i.spec for i in self.items}


@dataclass(frozen=True, slots=True)
class Compared:
    """An item against what is there. state: not there yet, the same, or different (it would be overwritten); theirs: name of
    what is there."""

    kind: LibraryKind
    key: str
    name: str
    state: Literal["new", "same", "different"]
    theirs: str


def bundle_of(specs: Mapping[Name, Document], wanted: Iterable[Name]) -> Bundle:
    """The documents wanted and all of the library's kinds that they need. Raises ImportProblem for one that is not there."""
    found: dict[Name, Document] = {}
    queue = list(wanted)
    while queue:
        name = queue.pop()
        if name in found:
            continue
        if name not in specs:
            raise ImportProblem(f"there is no {name[0].replace('_', '-')} “{name[1]}”", name[1], "choose one of the list")
        found[name] = specs[name]
        queue += [n for n in references(specs[name]) if n[0] in LIBRARY_KINDS and n in specs]
    ordered = sorted(found.items(), key=lambda item: (LIBRARY_KINDS.index(item[0][0]), item[0][1]))
    items = [{"kind": kind, "key": key, "spec": spec.model_dump(mode="json")} for (kind, key), spec in ordered]
    return Bundle.model_validate({"items": items})


def write_bundle(bundle: Bundle) -> str:
    """The file's text."""
    return json.dumps(bundle.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def read_bundle(text: str) -> Bundle:
    """Raises ImportProblem naming the line or the item and field."""
    data = read_json(text, FORMAT, VERSION, "a library file")
    try:
        bundle = Bundle.model_validate(data)
    except ValidationError as error:
        raise ImportProblem(*_place(data, error)) from error
    names = Counter((i.kind, i.key) for i in bundle.items)
    for name, times in names.items():
        if times > 1:
            raise ImportProblem(f"{name[0].replace('_', '-')} “{name[1]}” is in the file twice", name[1], "take one out")
    return bundle


def _place(data: dict[str, Any], error: ValidationError) -> tuple[str, str, str]:
    first = error.errors()[0]
    loc = [p for p in first["loc"] if p not in LIBRARY_KINDS]
    where = "the file"
    if len(loc) > 1 and loc[0] == "items" and isinstance(loc[1], int):
        item = data["items"][loc[1]]
        key = item.get("key") if isinstance(item, dict) else None
        where = f"item {loc[1] + 1}" + (f" ({key})" if isinstance(key, str) else "")
        loc = loc[2:]
    field = " › ".join(str(p) for p in loc if p != "spec")
    return f"{where}, {field}: {first['msg'].removeprefix('Value error, ')}", where, "correct the file"


def compare(bundle: Bundle, there: Mapping[Name, Document]) -> list[Compared]:
    """What bringing a bundle in would change. Raises ImportProblem where an item needs what is in neither place."""
    specs = bundle.specs()
    for (_, key), spec in specs.items():
        for name in references(spec):
            if name[0] in LIBRARY_KINDS and name not in specs and name not in there:
                title = getattr(spec, "name", key)
                raise ImportProblem(
                    f"“{title}” needs the {name[0].replace('_', '-')} “{name[1]}”, which is in neither the file nor here",
                    key,
                    "add it to the file",
                )
    out = []
    for item in bundle.items:
        old = there.get((item.kind, item.key))
        state: Literal["new", "same", "different"] = "new" if old is None else "same" if old == item.spec else "different"
        out.append(Compared(item.kind, item.key, item.spec.name, state, getattr(old, "name", "")))
    return out


Choice = Literal["overwrite", "keep", "both"]


def settled(bundle: Bundle, there: Mapping[Name, Document], choices: Mapping[Name, Choice]) -> dict[Name, Document]:
    """Documents to write, those that others need first, after a person chose for each that differs: overwrite what is there,
    keep it, or bring the other in beside it under a new key, which the bundle's own items then name. Not chosen is kept."""
    new_keys: dict[Name, str] = {}
    kept: set[Name] = set()
    for found in compare(bundle, there):
        name = (found.kind, found.key)
        choice = choices.get(name, "keep") if found.state == "different" else "overwrite"
        if found.state == "same" or choice == "keep":
            kept.add(name)
        elif choice == "both":
            number = 2
            while (found.kind, f"{found.key}-{number}") in there:
                number += 1
            new_keys[name] = f"{found.key}-{number}"
    out: dict[Name, Document] = {}
    for item in bundle.items:
        name = (item.kind, item.key)
        if name in kept:
            continue
        out[item.kind, new_keys.get(name, item.key)] = renamed(item.spec, new_keys)
    return out
