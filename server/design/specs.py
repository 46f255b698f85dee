"""The documents of a project, each read and checked once for a change of it."""

from dataclasses import dataclass
from typing import TypeVar
from uuid import UUID

from config.memory import CACHE
from design.models import Document
from projects.models import Project
from saddle.documents import KINDS, MAIN
from saddle.documents_base import Document as Spec
from saddle.exchange.bundle import Name

S = TypeVar("S", bound=Spec)


@dataclass(frozen=True, slots=True)
class Specs:
    """By kind and key, in the order they were made: the documents, and what stands for each (the change that made it)."""

    specs: dict[Name, Spec]
    ids: dict[Name, str]


def read_specs(project: Project, *kinds: str) -> Specs:
    """All documents of a project, or those of some kinds. Somebody may change one between the two questions to the database:
    what stands for it is always that of the spec that was read."""
    specs: dict[Name, Spec] = {}
    ids: dict[Name, str] = {}
    unread = []
    rows = Document.objects.filter(project=project, **({"kind__in": kinds} if kinds else {}))
    for kind, key, pk, change in rows.order_by("kind", "id").values_list("kind", "key", "pk", "change"):
        ids[kind, key] = _id(pk, change)
        entry = CACHE.find(ids[kind, key])
        if entry is None:
            unread.append(pk)
        else:
            specs[kind, key] = entry.value
    for row in Document.objects.filter(pk__in=unread) if unread else ():
        ids[row.kind, row.key] = _id(row.pk, row.change)
        specs[row.kind, row.key] = spec_of(row)
    return Specs({n: specs[n] for n in ids if n in specs}, {n: ids[n] for n in ids if n in specs})


def document_ids(project: Project) -> dict[Name, str]:
    """What stands for each document, by kind and key in the order they were made."""
    rows = Document.objects.filter(project=project).order_by("kind", "id").values_list("kind", "key", "pk", "change")
    return {(kind, key): _id(pk, change) for kind, key, pk, change in rows}


def _id(pk: int, change: UUID) -> str:
    return f"document {pk} {change.hex}"


def spec_of(row: Document) -> Spec:
    """The document that a row holds."""
    made = KINDS[row.kind].model
    return CACHE.get(_id(row.pk, row.change), "document", lambda: made.model_validate(row.spec))


def the_spec(project: Project, model: type[S], kind: str, key: str = MAIN) -> S | None:
    """One document, None where there is none. Raises TypeError where the kind is not that of the model."""
    found = read_specs(project, kind).specs.get((kind, key))
    if found is not None and not isinstance(found, model):
        raise TypeError(f"{kind} is not a {model.__name__}")
    return found
