"""What is in the library and in projects, as the core's documents, and writing bundles into either."""

from collections.abc import Mapping

from django.contrib.auth.models import User
from django.db import transaction

from config.errors import Refused
from design.actions.change import Change, change_documents
from design.models import Document
from design.specs import read_specs
from library.models import Entry
from projects.models import Membership, Project, Role
from saddle.documents import KINDS
from saddle.documents_base import Document as Spec
from saddle.exchange.bundle import LIBRARY_KINDS, Bundle, Choice, Name, settled
from saddle.template import starter


def library_specs() -> dict[Name, Spec]:
    """The starting library, with what people put over and beside it."""
    kept = {(e.kind, e.key): KINDS[e.kind].model.model_validate(e.spec) for e in Entry.objects.order_by("kind", "key")}
    return starter.LIBRARY | kept


def project_specs(project: Project) -> dict[Name, Spec]:
    """The library's kinds of a project."""
    return read_specs(project, *LIBRARY_KINDS).specs


def bring_into_project(project: Project, user: User, bundle: Bundle, choices: Mapping[Name, Choice]) -> list[Name]:
    """Write a bundle through the one change path, all or nothing. Returns what was written."""
    with transaction.atomic():
        written = settled(bundle, project_specs(project), choices)
        versions = {(r.kind, r.key): r.version for r in Document.objects.filter(project=project, kind__in=LIBRARY_KINDS)}
        changes = [Change(kind, key, spec, versions.get((kind, key), 0)) for (kind, key), spec in written.items()]
        change_documents(project, user, "Brought from the library", changes)
    return list(written)


def own_entries(user: User) -> set[Name]:
    """What a person put into the library last: theirs to overwrite and to take out."""
    return {(e.kind, e.key) for e in Entry.objects.filter(changed_by=user)}


def bring_into_library(user: User, bundle: Bundle, choices: Mapping[Name, Choice]) -> list[Name]:
    """Write a bundle into the library, all or nothing. Returns what was written. What somebody else put there, and what everybody
    begins with, is not overwritten: it is brought beside. Raises Refused 403 for people who design in no project."""
    if not Membership.objects.filter(user=user, role__in=(Role.DESIGNER, Role.OWNER)).exists():
        raise Refused(403, "only designers put things into the library", "library", "ask one to do it")
    with transaction.atomic():
        own = own_entries(user)
        held: dict[Name, Choice] = {n: "both" if c == "overwrite" and n not in own else c for n, c in choices.items()}
        written = settled(bundle, library_specs(), held)
        for (kind, key), spec in written.items():
            Entry.objects.update_or_create(
                kind=kind, key=key, defaults={"spec": spec.model_dump(mode="json"), "changed_by": user}
            )  # fmt: skip
    return list(written)


def remove_entry(user: User, kind: str, key: str) -> None:
    """Take an entry out of the library; only who put it in last may."""
    entry = Entry.objects.filter(kind=kind, key=key).first()
    if entry is None:
        raise Refused(404, "that is not in the library, or belongs to the starting library", f"{kind} {key}", "choose another")
    if entry.changed_by_id != user.pk:
        who = entry.changed_by.get_full_name() or entry.changed_by.username if entry.changed_by else "somebody else"
        raise Refused(403, f"{who} put it into the library", f"{kind} {key}", "ask them to take it out")
    entry.delete()
