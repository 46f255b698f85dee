"""What is in the library and in projects, as the core's documents, and writing bundles into either."""

from collections.abc import Iterator, Mapping
from contextlib import contextmanager

from django.contrib.auth.models import User
from django.db import connection, transaction

from config.errors import Refused
from design.actions.change import Change, change_documents
from design.models import Document as Row
from design.specs import read_specs
from library.models import Version
from projects.models import Membership, Project, Role
from saddle.documents import KINDS
from saddle.documents_base import Document as Spec
from saddle.exchange import starting
from saddle.exchange.bundle import LIBRARY_KINDS, Bundle, Choice, Name, settled


def latest() -> dict[Name, Version]:
    """The version that counts of everything that was ever put into the library, also of what was taken out."""
    rows = Version.objects.select_related("by").order_by("kind", "key", "-number").distinct("kind", "key")
    return {(v.kind, v.key): v for v in rows}


def spec_of(version: Version) -> Spec:
    """The document of a version that has one."""
    return KINDS[version.kind].model.model_validate(version.spec)


def library_specs() -> dict[Name, Spec]:
    """The starting library, with what people put over and beside it."""
    return starting.LIBRARY | {name: spec_of(v) for name, v in latest().items() if v.spec is not None}


def last_spec(kind: str, key: str) -> Spec:
    """The document of an entry before it was taken out."""
    return spec_of(Version.objects.filter(kind=kind, key=key, spec__isnull=False).order_by("-number")[0])


def with_versions(specs: Mapping[Name, Spec], numbers: Mapping[Name, int]) -> dict[Name, Spec]:
    """The library with older versions of some of it. Raises Refused 404 for one that is not there."""
    out = dict(specs)
    for (kind, key), number in numbers.items():
        out[kind, key] = spec_of(_version(kind, key, number))
    return out


def _version(kind: str, key: str, number: int) -> Version:
    found = Version.objects.filter(kind=kind, key=key, number=number, spec__isnull=False).first()
    if found is None:
        raise Refused(404, f"there is no version {number} of that in the library", f"{kind} {key}", "choose one of the list")
    return found


def project_specs(project: Project) -> dict[Name, Spec]:
    """The library's kinds of a project."""
    return read_specs(project, *LIBRARY_KINDS).specs


def bring_into_project(project: Project, user: User, bundle: Bundle, choices: Mapping[Name, Choice]) -> list[Name]:
    """Write a bundle through the one change path, all or nothing. Returns what was written."""
    with transaction.atomic():
        written = settled(bundle, project_specs(project), choices)
        versions = {(r.kind, r.key): r.version for r in Row.objects.filter(project=project, kind__in=LIBRARY_KINDS)}
        changes = [Change(kind, key, spec, versions.get((kind, key), 0)) for (kind, key), spec in written.items()]
        change_documents(project, user, "Brought from the library", changes)
    return list(written)


def own_entries(user: User) -> set[Name]:
    """What a person put into the library: theirs to change and to take out."""
    return {name for name, v in latest().items() if v.by_id == user.pk and v.spec is not None}


def bring_into_library(user: User, bundle: Bundle, choices: Mapping[Name, Choice]) -> list[Name]:
    """Write a bundle into the library, all or nothing, as new versions. Returns what was written. What somebody else put there,
    and what everybody begins with, is not overwritten: it is brought beside. Raises Refused 403 for people who design in no
    project."""
    if not Membership.objects.filter(user=user, role__in=(Role.DESIGNER, Role.OWNER)).exists():
        raise Refused(403, "only designers put things into the library", "library", "ask one to do it")
    with _alone():
        own = own_entries(user)
        held: dict[Name, Choice] = {n: "both" if c == "overwrite" and n not in own else c for n, c in choices.items()}
        written = settled(bundle, library_specs(), held)
        for (kind, key), spec in written.items():
            _add(user, kind, key, spec.model_dump(mode="json"))
    return list(written)


@contextmanager
def _alone() -> Iterator[None]:
    """A transaction in which nobody else writes to the library: the numbers of versions follow each other."""
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("select pg_advisory_xact_lock(hashtext('library'))")
        yield


def _add(user: User, kind: str, key: str, spec: object) -> None:
    before = Version.objects.filter(kind=kind, key=key).order_by("-number").values_list("number", flat=True).first() or 0
    Version.objects.create(kind=kind, key=key, number=before + 1, spec=spec, by=user)


def _own_entry(user: User, kind: str, key: str) -> Version:
    """The version that counts. Raises Refused 404 where nobody put it in, 403 where it is somebody else's."""
    entry = latest().get((kind, key))
    if entry is None:
        raise Refused(404, "that is not in the library, or belongs to the starting library", f"{kind} {key}", "choose another")
    if entry.by_id != user.pk:
        who = (entry.by.get_full_name() or entry.by.username) if entry.by else "somebody else"
        raise Refused(403, f"{who} put it into the library", f"{kind} {key}", "ask them, or bring yours beside it")
    return entry


def remove_entry(user: User, kind: str, key: str) -> None:
    """Take an entry out of the library; only whose it is may. Its versions stay, so that it can be put back."""
    with _alone():
        if _own_entry(user, kind, key).spec is not None:
            _add(user, kind, key, None)


def take_again(user: User, kind: str, key: str, number: int) -> None:
    """An older version of an entry becomes the newest; only whose it is may."""
    with _alone():
        _own_entry(user, kind, key)
        _add(user, kind, key, _version(kind, key, number).spec)
