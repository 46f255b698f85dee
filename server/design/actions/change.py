"""The one path by which documents change: role, version, row and edit record together, in one transaction."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid4

from django.contrib.auth.models import User
from django.db import transaction

from config.errors import Refused
from design.models import Document, EditRecord
from design.specs import read_specs, the_spec
from projects.models import Project
from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec
from saddle.documents import KINDS, MAIN, titled, users
from saddle.documents_base import Document as Spec
from saddle.exchange.bundle import bundle_of
from saddle.road.spec import SectionSettings
from saddle.road.stations import place_stations, station_rules
from saddle.template import starter

#: Templates of the starting library that every project begins with; the others are a click away in the library.
FIRST_TEMPLATES = [("template", "rural"), ("template", "village")]


def start_documents(project: Project) -> None:
    """The documents that every new project has."""
    specs = {(name, MAIN): kind.start for name, kind in KINDS.items() if kind.start is not None}
    specs |= bundle_of(starter.LIBRARY, FIRST_TEMPLATES).specs()
    Document.objects.bulk_create(
        Document(project=project, kind=kind, key=key, spec=spec.model_dump(mode="json")) for (kind, key), spec in specs.items()
    )


def change_document(project: Project, user: User | None, kind: str, key: str, spec: Spec | None, version: int) -> Document | None:
    """Write a document (or remove it, with spec None) and remember the edit.

    version: the version that the change was made on, 0 for a new document. Raises Refused 409 with the current
    document when somebody else changed it meanwhile.
    """
    return _change(project, user, Change(kind, key, spec, version), None, None)


@dataclass(frozen=True, slots=True)
class Change:
    """A document as it is to be: spec None removes it; version: that it was made on, 0 for a new one."""

    kind: str
    key: str
    spec: Spec | None
    version: int


def change_documents(project: Project, user: User | None, title: str, changes: Sequence[Change]) -> list[Document]:
    """Write several documents as one step of the history, all or nothing. Returns those that are there afterwards."""
    together = uuid4()
    with transaction.atomic():
        rows = [_change(project, user, change, title, together) for change in changes]
    return [row for row in rows if row is not None]


def _change(project: Project, user: User | None, change: Change, title: str | None, together: UUID | None) -> Document | None:
    kind, key, spec, version = change.kind, change.key, change.spec, change.version
    with transaction.atomic():
        _lock(project)
        row = Document.objects.filter(project=project, kind=kind, key=key).first()
        if (row.version if row else 0) != version:
            who = row.changed_by.get_full_name() or row.changed_by.username if row and row.changed_by else "somebody"
            raise Refused(
                409,
                f"{KINDS[kind].words} was changed by {who} meanwhile" if row else f"{KINDS[kind].words} was removed meanwhile",
                f"{kind} {key}",
                "look at both versions and choose: nothing of yours is lost",
                current={"version": row.version, "spec": row.spec} if row else None,
            )
        before = row.spec if row else None
        after = spec.model_dump(mode="json") if spec is not None else None
        if before == after:
            return row
        EditRecord.objects.filter(project=project, user=user, state=EditRecord.State.UNDONE).update(
            state=EditRecord.State.DROPPED
        )
        EditRecord.objects.create(
            project=project, user=user, kind=kind, key=key, title=title or _title(kind, before, after), before=before,
            after=after, together=together,
        )  # fmt: skip
        written = _write(project, user, kind, key, row, after)
        if kind in ("alignment", "sections") and after is not None:
            _can_be_computed(project)
        return written


def _can_be_computed(project: Project) -> None:
    """Raises SaddleError where more sections would stand on the road than are computed: it is not written then."""
    alignment, settings = the_spec(project, AlignmentSpec, "alignment"), the_spec(project, SectionSettings, "sections")
    if alignment is not None and settings is not None:
        place_stations(build(alignment), station_rules(settings), (), ())


def _lock(project: Project) -> None:
    """One change to a project at a time."""
    Project.objects.select_for_update().get(pk=project.pk)


def _title(kind: str, before: Any, after: Any) -> str:
    what = "changed" if before and after else "added" if after else "removed"
    return f"{titled(kind, after or before)} {what}"[:200]


def _write(project: Project, user: User | None, kind: str, key: str, row: Document | None, after: Any) -> Document | None:
    if after is None:
        if row is not None:
            _refuse_if_used(project, kind, key)
            row.delete()
        return None
    if row is None:
        return Document.objects.create(project=project, kind=kind, key=key, spec=after, changed_by=user)
    row.spec, row.version, row.changed_by = after, row.version + 1, user
    row.save()
    return row


def _refuse_if_used(project: Project, kind: str, key: str) -> None:
    if KINDS[kind].single:
        raise Refused(400, f"{KINDS[kind].words} cannot be removed", kind)
    specs = read_specs(project).specs
    for by in users(specs).get((kind, key), [])[:1]:
        who = titled(by[0], specs[by])
        raise Refused(
            400, f"{KINDS[kind].words} is used by {who[0].lower()}{who[1:]}", f"{kind} {key}", "take it out there first"
        )


def step(project: Project, user: User, *, back: bool) -> EditRecord:
    """Undo (back) or redo the person's own last edit, with those made in one step with it. Raises Refused when there is none, or when the document is
    no longer as that edit left it."""
    state = EditRecord.State
    with transaction.atomic():
        _lock(project)
        edits = EditRecord.objects.filter(project=project, user=user, state=state.DONE if back else state.UNDONE)
        last = edits.order_by("-id" if back else "id").first()
        if last is None:
            raise Refused(400, "there is nothing to undo" if back else "there is nothing to redo", "history")
        step = [last] if last.together is None else edits.filter(together=last.together).order_by("-id" if back else "id")
        for edit in step:
            there, wanted = (edit.after, edit.before) if back else (edit.before, edit.after)
            row = Document.objects.filter(project=project, kind=edit.kind, key=edit.key).first()
            if (row.spec if row else None) != there:
                raise Refused(
                    409, f"“{edit.title}” cannot be {'undone' if back else 'redone'}: it was changed again by somebody else",
                    f"{edit.kind} {edit.key}", "change it by hand",
                )  # fmt: skip
            _write(project, user, edit.kind, edit.key, row, wanted)
            edit.state = state.UNDONE if back else state.DONE
            edit.save(update_fields=["state"])
        return last
