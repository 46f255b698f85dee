"""The one path by which documents change: role, version, row and edit record together, in one transaction."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal
from uuid import UUID, uuid4

from django.contrib.auth.models import User
from django.db import transaction

from config.errors import Refused
from design.actions.checks import check
from design.merging import Merged, merge
from design.models import Document, EditRecord
from design.specs import read_specs, spec_of
from design.words import told
from projects.models import Project
from saddle.documents import KINDS, MAIN, titled, users
from saddle.documents_base import Document as Spec
from saddle.drawings.starting import DRAWINGS
from saddle.exchange import starting
from saddle.exchange.bundle import bundle_of
from saddle.quantities.reports.starting import REPORTS

#: What of the starting library every project begins with; the rest is a click away in the library.
FIRST = [
    ("template", "rural"), ("template", "village"), *(("drawing_style", d.style) for d in DRAWINGS.values()),
    ("drawing_style", "register_a4"),
]  # fmt: skip


def start_documents(project: Project, *instead: Spec) -> None:
    """The documents that every new project has. instead: some in place of those that the kinds begin with."""
    specs = {(name, MAIN): kind.start for name, kind in KINDS.items() if kind.start is not None}
    specs |= {(name, MAIN): spec for spec in instead for name, kind in KINDS.items() if kind.model is type(spec)}
    specs |= bundle_of(starting.LIBRARY, FIRST).specs()
    specs |= {("drawing", key): drawing for key, drawing in DRAWINGS.items()}
    specs |= {("report", key): layout for key, layout in REPORTS.items()}
    Document.objects.bulk_create(
        Document(project=project, kind=kind, key=key, spec=spec.model_dump(mode="json")) for (kind, key), spec in specs.items()
    )


#: Letters of a line of the history.
LONGEST_TITLE = 200


@dataclass(frozen=True, slots=True)
class Change:
    """A document as it is to be: spec None removes it; version: that it was made on, 0 for a new one; base: the spec that it was
    made on, with which it is put together with somebody else's change where the two do not touch."""

    kind: str
    key: str
    spec: Spec | None
    version: int
    base: Spec | None = None


def change_document(project: Project, user: User | None, change: Change) -> Document | None:
    """Write a document (or remove it) and remember the edit. Raises Refused 409 with the current document when somebody else
    changed it meanwhile in a way that touches this change."""
    with transaction.atomic():
        row = _change(project, user, change, None, None)
        if change.spec is None or change.version == 0:
            _refuse_without_road(project, change.kind)
    return row


def change_documents(project: Project, user: User | None, title: str, changes: Sequence[Change]) -> list[Document]:
    """Write several documents as one step of the history, all or nothing. Returns those that are there afterwards."""
    together = uuid4()
    with transaction.atomic():
        rows = [_change(project, user, change, title, together) for change in changes]
        _refuse_without_road(project, *(change.kind for change in changes))
    return [row for row in rows if row is not None]


def _change(project: Project, user: User | None, change: Change, title: str | None, together: UUID | None) -> Document | None:
    kind, key, spec, version = change.kind, change.key, change.spec, change.version
    with transaction.atomic():
        lock(project)
        row = Document.objects.filter(project=project, kind=kind, key=key).first()
        before = row.spec if row else None
        after = spec.model_dump(mode="json") if spec is not None else None
        merged = (row.version if row else 0) != version
        if merged:
            base = change.base.model_dump(mode="json") if change.base is not None else None
            beside = _beside(kind, base, after, before) if base and after and before else None
            if beside is None or beside.touching:
                raise _meanwhile(change, row, beside.touching if beside else [])
            after = beside.value
        if before == after:
            return _told(row, merged)
        EditRecord.objects.filter(project=project, user=user, state=EditRecord.State.UNDONE).update(
            state=EditRecord.State.DROPPED
        )
        EditRecord.objects.create(
            project=project, user=user, kind=kind, key=key, title=title or _title(kind, before, after), before=before,
            after=after, together=together,
        )  # fmt: skip
        return _told(_write(project, user, kind, key, row, after), merged)


def _told(row: Document | None, merged: bool) -> Document | None:
    """A document as written, with whether somebody else's change is in it."""
    if row is not None:
        row.merged = merged
    return row


def _meanwhile(change: Change, row: Document | None, touching: list[str]) -> Refused:
    who = row.changed_by.get_full_name() or row.changed_by.username if row and row.changed_by else "somebody"
    words = KINDS[change.kind].words
    return Refused(
        409,
        f"{words} was changed by {who} meanwhile" + (f" at {', '.join(touching[:3])} too" if touching else "")
        if row
        else f"{words} was removed meanwhile",
        f"{change.kind} {change.key}",
        "look at both versions and choose: nothing of yours is lost",
        current={"version": row.version, "spec": row.spec} if row else None,
    )


def _refuse_without_road(project: Project, *kinds: str) -> None:
    """What is decided along a road is there with its road only. Asked when all of a step is written."""
    if not any(KINDS[kind].of_road or kind == "road" for kind in kinds):
        return
    there = Document.objects.filter(project=project)
    roads = there.filter(kind="road").values("key")
    alone = there.filter(kind__in=[name for name, kind in KINDS.items() if kind.of_road]).exclude(key__in=roads).first()
    if alone is not None:
        raise Refused(
            400, f"{KINDS[alone.kind].words}: there is no such road", f"road {alone.key}", "choose one of the list of roads"
        )


def _beside(kind: str, base: Any, mine: Any, theirs: Any) -> Merged:
    """Two changes of a document put together; what does not make a sound document touches."""
    found = merge(base, mine, theirs)
    if not found.touching and found.value is not None:
        try:
            KINDS[kind].model.model_validate(found.value)
        except ValueError:
            return Merged(theirs, ["all of it"])
    return found


def lock(project: Project) -> None:
    """One change to a project at a time."""
    Project.objects.select_for_update().get(pk=project.pk)


def _title(kind: str, before: Any, after: Any) -> str:
    name = titled(kind, after or before)
    if before and after:
        title = told(name, before, after)
        return title if len(title) <= LONGEST_TITLE else title[: LONGEST_TITLE - 1] + "…"
    return f"{name} {'added' if after else 'removed'}"[:LONGEST_TITLE]


def _write(project: Project, user: User | None, kind: str, key: str, row: Document | None, after: Any) -> Document | None:
    if after is None:
        if row is not None:
            _refuse_if_used(project, kind, key)
            row.delete()
        return None
    if row is None:
        row = Document.objects.create(project=project, kind=kind, key=key, spec=after, changed_by=user)
    else:
        row.spec, row.version, row.changed_by = after, row.version + 1, user
        row.save()
    check(project, kind, spec_of(row))
    return row


def _refuse_if_used(project: Project, kind: str, key: str) -> None:
    if KINDS[kind].single or (KINDS[kind].of_road and key == MAIN):
        raise Refused(400, f"{KINDS[kind].words} cannot be removed", kind)
    if (kind, key) == ("road", MAIN):
        raise Refused(400, "the road that the project began with stays", f"road {key}", "give it another name or alignment")
    specs = read_specs(project).specs
    for by in users(specs).get((kind, key), [])[:1]:
        who = titled(by[0], specs[by])
        raise Refused(
            400, f"{KINDS[kind].words} is used by {who[0].lower()}{who[1:]}", f"{kind} {key}", "take it out there first"
        )


How = Literal["exactly", "beside", "pass_over"]


def step(project: Project, user: User, *, back: bool, how: How = "exactly") -> EditRecord:
    """Undo (back) or redo the person's own last edit, with those made in one step with it. Raises Refused 400 when there is none.

    A document that is no longer as that edit left it was changed by somebody else since. Exactly: Refused 409, whose `current`
    says where the two changes touch; beside: only what the edit changed is put back, where they do not touch, else Refused 409;
    pass_over: the documents stay, and the edit is no longer in the way of the ones before it."""
    state = EditRecord.State
    with transaction.atomic():
        lock(project)
        edits = EditRecord.objects.filter(project=project, user=user, state=state.DONE if back else state.UNDONE)
        last = edits.order_by("-id" if back else "id").first()
        if last is None:
            raise Refused(400, "there is nothing to undo" if back else "there is nothing to redo", "history")
        step = [last] if last.together is None else edits.filter(together=last.together).order_by("-id" if back else "id")
        for edit in step:
            if how == "pass_over":
                edit.state = state.DROPPED
            else:
                _take(project, user, edit, back=back, beside=how == "beside")
                edit.state = state.UNDONE if back else state.DONE
            edit.save(update_fields=["state"])
        _refuse_without_road(project, *(edit.kind for edit in step))
        return last


def _take(project: Project, user: User, edit: EditRecord, *, back: bool, beside: bool) -> None:
    """Put a document to the state before an edit, or after it again."""
    there, wanted = (edit.after, edit.before) if back else (edit.before, edit.after)
    row = Document.objects.filter(project=project, kind=edit.kind, key=edit.key).first()
    now = row.spec if row else None
    if now != there:
        found = _beside(edit.kind, there, wanted, now) if there and wanted and now else Merged(now, ["all of it"])
        if not beside or found.touching:
            raise Refused(
                409, f"“{edit.title}” cannot be {'undone' if back else 'redone'} as it was: the document was changed again since",
                f"{edit.kind} {edit.key}",
                "pass over it, or change it by hand" if found.touching else "it can be put back beside that change",
                current={"touching": found.touching},
            )  # fmt: skip
        wanted = found.value
    _write(project, user, edit.kind, edit.key, row, wanted)
