"""The library: what is in it, bundles out of it and out of projects, and into either after a look at what would change."""

from typing import Annotated, Literal, cast

from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router, Schema
from pydantic import Field

from config.downloads import attachment
from config.errors import ErrorOut, Refused
from library.models import Entry, Favourite
from library.store import bring_into_library, bring_into_project, library_specs, own_entries, project_specs, remove_entry
from projects.access import project_for
from projects.models import Role
from saddle.documents_base import references
from saddle.exchange.bundle import (
    LIBRARY_KINDS,
    Choice,
    Compared,
    LibraryKind,
    Name,
    bundle_of,
    compare,
    read_bundle,
    write_bundle,
)

router = Router(tags=["library"])
in_project = Router(tags=["library"])
ERRORS = {400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 409: ErrorOut}


class EntryOut(Schema):
    """Something in the library. by: who put it in, empty for the starting library; needs: names of what comes with it."""

    kind: LibraryKind
    key: str
    name: str
    by: str
    mine: bool
    favourite: bool
    needs: list[str]


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


def _wanted(items: list[str]) -> list[Name]:
    found = []
    for item in items:
        kind, _, key = item.partition(":")
        if kind not in LIBRARY_KINDS or not key:
            raise Refused(400, f"“{item}” names nothing of a library", "items", "write kind:key, such as template:rural")
        found.append((kind, key))
    return found


def _compared(found: Compared, may_overwrite: bool) -> ComparedOut:
    return ComparedOut(
        kind=found.kind, key=found.key, name=found.name, state=found.state, theirs=found.theirs, may_overwrite=may_overwrite
    )


def _choices(payload: BringIn) -> dict[Name, Choice]:
    return {(c.kind, c.key): c.choice for c in payload.choices}


@router.get("", response={200: list[EntryOut], **ERRORS}, operation_id="listLibrary")
def list_library(request: HttpRequest) -> list[EntryOut]:
    """Everything in the library, favourites first."""
    user = _user(request)
    liked = set(Favourite.objects.filter(user=user).values_list("kind", "key"))
    people = {(e.kind, e.key): e.changed_by for e in Entry.objects.select_related("changed_by")}
    specs = library_specs()
    out = []
    for (kind, key), spec in specs.items():
        who = people.get((kind, key))
        needs = [getattr(specs[n], "name", n[1]) for n in dict.fromkeys(references(spec)) if n in specs]
        out.append(
            EntryOut(
                kind=cast(LibraryKind, kind),
                key=key,
                name=getattr(spec, "name", key),
                by=(who.get_full_name() or who.username) if who else "",
                mine=who == user,
                favourite=(kind, key) in liked,
                needs=needs,
            )
        )
    return sorted(out, key=lambda e: (not e.favourite, -LIBRARY_KINDS.index(e.kind), e.name))


@router.get("/bundle", response={200: None, **ERRORS}, operation_id="libraryBundle")
def library_bundle(request: HttpRequest, items: Annotated[list[str], Query()]) -> HttpResponse:
    """Some of the library, with what it needs, as a file."""
    return attachment("shared", "library.json", write_bundle(bundle_of(library_specs(), _wanted(items))), "application/json")


@router.post("/check", response={200: list[ComparedOut], **ERRORS}, operation_id="checkForLibrary")
def check_for_library(request: HttpRequest, payload: TextIn) -> list[ComparedOut]:
    """What a bundle would change in the library; nothing is written."""
    own = own_entries(_user(request))
    return [_compared(c, (c.kind, c.key) in own) for c in compare(read_bundle(payload.text), library_specs())]


@router.post("", response={200: Written, **ERRORS}, operation_id="bringIntoLibrary")
def bring_to_library(request: HttpRequest, payload: BringIn) -> Written:
    """Put a bundle into the library."""
    return Written(written=bring_into_library(_user(request), read_bundle(payload.text), _choices(payload)))


@router.put("/favourites/{kind}/{key}", response={200: None, **ERRORS}, operation_id="likeEntry")
def like(request: HttpRequest, kind: str, key: str, payload: LikeIn) -> None:
    """Make something a favourite, or not."""
    if (kind, key) not in library_specs():
        raise Refused(404, "that is not in the library", f"{kind} {key}", "choose one of the list")
    if payload.on:
        Favourite.objects.get_or_create(user=_user(request), kind=kind, key=key)
    else:
        Favourite.objects.filter(user=_user(request), kind=kind, key=key).delete()


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
    return [_compared(c, True) for c in compare(read_bundle(payload.text), project_specs(project))]


@in_project.post("/bundle", response={200: Written, **ERRORS}, operation_id="bringIntoProject")
def bring_to_project(request: HttpRequest, project_id: Path[int], payload: BringIn) -> Written:
    """Bring a bundle into a project."""
    project = project_for(request, project_id, Role.DESIGNER)
    return Written(written=bring_into_project(project, _user(request), read_bundle(payload.text), _choices(payload)))
