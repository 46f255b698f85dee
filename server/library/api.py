"""The library: what is in it, bundles out of it and out of projects, and into either after a look at what would change."""

from datetime import datetime
from typing import Annotated, Literal, cast

from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router, Schema
from pydantic import Field

from config.downloads import attachment
from config.errors import ERRORS, Refused
from foreign.apart import apart, for_a_look
from library.models import Favourite, Version
from library.store import (
    bring_into_library,
    bring_into_project,
    last_spec,
    latest,
    library_specs,
    own_entries,
    project_specs,
    remove_entry,
    take_again,
    with_versions,
)
from projects.access import project_for
from projects.models import Role
from saddle.documents_base import references
from saddle.exchange.bundle import (
    LIBRARY_KINDS,
    Bundle,
    Choice,
    Compared,
    LibraryKind,
    Name,
    bundle_of,
    compare,
    write_bundle,
)
from saddle.exchange.readers import library_of_file

router = Router(tags=["library"])
in_project = Router(tags=["library"])


class EntryOut(Schema):
    """Something in the library. by: who put it in, empty for the starting library; version: its number, 0 in the starting library;
    taken_out: the person's own that is no longer there for others; needs: names of what comes with it."""

    kind: LibraryKind
    key: str
    name: str
    by: str
    mine: bool
    version: int
    taken_out: bool
    favourite: bool
    needs: list[str]


class VersionOut(Schema):
    """A version of an entry, the newest first. name: None where it was taken out."""

    number: int
    at: datetime
    by: str
    name: str | None


class ComparedOut(Schema):
    """An item of a bundle against what is there. may_overwrite: what is there is the person's own to change."""

    kind: LibraryKind
    key: str
    name: str
    state: Literal["new", "same", "different"]
    theirs: str
    may_overwrite: bool


class TextIn(Schema):
    """A library file's text."""

    text: str = Field(max_length=20_000_000)


class ChoiceIn(Schema):
    """What to do with an item that differs."""

    kind: LibraryKind
    key: str
    choice: Choice


class BringIn(TextIn):
    """A library file's text, and a choice for each item that differs."""

    choices: list[ChoiceIn] = []


class Written(Schema):
    """What was written, as kind and key."""

    written: list[tuple[str, str]]


class LikeIn(Schema):
    """Whether a thing is a favourite."""

    on: bool


def _user(request: HttpRequest) -> User:
    assert isinstance(request.user, User)
    return request.user


def _wanted(items: list[str]) -> dict[Name, int | None]:
    """What is named, each with the version asked for, None for the newest."""
    found: dict[Name, int | None] = {}
    for item in items:
        kind, _, rest = item.partition(":")
        key, at, number = rest.partition("@")
        if kind not in LIBRARY_KINDS or not key or (at and not number.isdecimal()):
            raise Refused(400, f"“{item}” names nothing of a library", "items", "write kind:key, such as template:rural")
        found[kind, key] = int(number[:9]) if at else None
    return found


def _who(version: Version | None) -> str:
    return (version.by.get_full_name() or version.by.username) if version and version.by else ""


def _compared(found: Compared, may_overwrite: bool) -> ComparedOut:
    return ComparedOut(
        kind=found.kind, key=found.key, name=found.name, state=found.state, theirs=found.theirs, may_overwrite=may_overwrite
    )


def _bundle(payload: TextIn) -> Bundle:
    """What a library file holds."""
    content = payload.text.encode("utf-8", "replace")
    return apart(library_of_file, content, room=for_a_look(len(content)))


def _choices(payload: BringIn) -> dict[Name, Choice]:
    return {(c.kind, c.key): c.choice for c in payload.choices}


@router.get("", response={200: list[EntryOut], **ERRORS}, operation_id="listLibrary")
def list_library(request: HttpRequest) -> list[EntryOut]:
    """Everything in the library, favourites first."""
    user = _user(request)
    liked = set(Favourite.objects.filter(user=user).values_list("kind", "key"))
    versions, specs = latest(), library_specs()
    taken_out = {name: last_spec(*name) for name, v in versions.items() if v.spec is None and v.by == user and name not in specs}
    out = []
    for (kind, key), spec in (specs | taken_out).items():
        version = versions.get((kind, key))
        out.append(
            EntryOut(
                kind=cast(LibraryKind, kind),
                key=key,
                name=getattr(spec, "name", key),
                by=_who(version) if (kind, key) in taken_out or (version and version.spec is not None) else "",
                mine=version is not None and version.by == user,
                version=version.number if version else 0,
                taken_out=(kind, key) in taken_out,
                favourite=(kind, key) in liked,
                needs=[getattr(specs[n], "name", n[1]) for n in dict.fromkeys(references(spec)) if n in specs],
            )
        )
    return sorted(out, key=lambda e: (not e.favourite, -LIBRARY_KINDS.index(e.kind), e.name))


@router.get("/bundle", response={200: None, **ERRORS}, operation_id="libraryBundle")
def library_bundle(request: HttpRequest, items: Annotated[list[str], Query()]) -> HttpResponse:
    """Some of the library, with what it needs, as a file. items: kind:key, or kind:key@number for an older version."""
    wanted = _wanted(items)
    specs = with_versions(library_specs(), {name: n for name, n in wanted.items() if n is not None})
    return attachment("shared", "library.json", write_bundle(bundle_of(specs, wanted)), "application/json")


@router.post("/check", response={200: list[ComparedOut], **ERRORS}, operation_id="checkForLibrary")
def check_for_library(request: HttpRequest, payload: TextIn) -> list[ComparedOut]:
    """What a bundle would change in the library; nothing is written."""
    own = own_entries(_user(request))
    return [_compared(c, (c.kind, c.key) in own) for c in compare(_bundle(payload), library_specs())]


@router.post("", response={200: Written, **ERRORS}, operation_id="bringIntoLibrary")
def bring_to_library(request: HttpRequest, payload: BringIn) -> Written:
    """Put a bundle into the library."""
    return Written(written=bring_into_library(_user(request), _bundle(payload), _choices(payload)))


@router.put("/favourites/{kind}/{key}", response={200: None, **ERRORS}, operation_id="likeEntry")
def like(request: HttpRequest, kind: str, key: str, payload: LikeIn) -> None:
    """Make something a favourite, or not."""
    if (kind, key) not in library_specs():
        raise Refused(404, "that is not in the library", f"{kind} {key}", "choose one of the list")
    if payload.on:
        Favourite.objects.get_or_create(user=_user(request), kind=kind, key=key)
    else:
        Favourite.objects.filter(user=_user(request), kind=kind, key=key).delete()


@router.get("/{kind}/{key}/versions", response={200: list[VersionOut], **ERRORS}, operation_id="listVersions")
def list_versions(request: HttpRequest, kind: LibraryKind, key: str) -> list[VersionOut]:
    """All versions of an entry, the newest first; none of what belongs to the starting library."""
    rows = Version.objects.filter(kind=kind, key=key).select_related("by").order_by("-number")
    return [VersionOut(number=v.number, at=v.at, by=_who(v), name=v.spec["name"] if v.spec else None) for v in rows]


@router.post("/{kind}/{key}/versions/{number}", response={200: None, **ERRORS}, operation_id="takeVersionAgain")
def take_version_again(request: HttpRequest, kind: LibraryKind, key: str, number: int) -> None:
    """Make an older version of one's own entry the newest, also of one that was taken out."""
    take_again(_user(request), kind, key, number)


@router.delete("/{kind}/{key}", response={200: None, **ERRORS}, operation_id="removeEntry")
def remove(request: HttpRequest, kind: str, key: str) -> None:
    """Take out something that the person put in."""
    remove_entry(_user(request), kind, key)


@in_project.get("/bundle", response={200: None, **ERRORS}, operation_id="projectBundle")
def project_bundle(request: HttpRequest, project_id: Path[int], items: Annotated[list[str], Query()] = []) -> HttpResponse:  # noqa: B006
    """Some of a project's templates, make-ups, kerbs and materials with what they need, or all of them, as a file."""
    project = project_for(request, project_id)
    specs = project_specs(project)
    return attachment(
        project.name, "library.json", write_bundle(bundle_of(specs, _wanted(items) if items else specs)), "application/json"
    )


@in_project.post("/bundle/check", response={200: list[ComparedOut], **ERRORS}, operation_id="checkForProject")
def check_for_project(request: HttpRequest, project_id: Path[int], payload: TextIn) -> list[ComparedOut]:
    """What a bundle would change in a project; nothing is written."""
    project = project_for(request, project_id)
    return [_compared(c, True) for c in compare(_bundle(payload), project_specs(project))]


@in_project.post("/bundle", response={200: Written, **ERRORS}, operation_id="bringIntoProject")
def bring_to_project(request: HttpRequest, project_id: Path[int], payload: BringIn) -> Written:
    """Bring a bundle into a project."""
    project = project_for(request, project_id, Role.DESIGNER)
    return Written(written=bring_into_project(project, _user(request), _bundle(payload), _choices(payload)))
