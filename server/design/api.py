"""Documents, ranges, undo, redo, history."""

from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from config.errors import ERRORS, Refused, refuse_backward
from design.actions.change import Change, How, change_document, change_documents, step
from design.bodies import DocumentIn, DocumentOut, KeyedIn
from design.models import Document, EditRecord
from design.specs import spec_of
from projects.access import project_for
from projects.models import Project, Role
from saddle.documents import KINDS, MAIN, titled, users
from saddle.documents_base import Key, NotNegative, Number
from saddle.road.spec import Beyond, ByChainage, TemplatePlan, TemplateRange, Treatment, TreatmentPlan, Work, put_range
from saddle.template.values import DimensionName

router = Router(tags=["design"])


class EditOut(Schema):
    """A line of the history."""

    id: int
    title: str
    who: str
    at: str
    state: str


class Documents(Schema):
    """All documents of a project, and what could be undone and redone by the person who asks. used: for every document that others
    name, under kind and key with a blank between, what they are called."""

    documents: list[DocumentOut]
    used: dict[str, list[str]]
    undo: str | None
    redo: str | None


class RangeIn(Schema):
    """A range of a road laid over what is there. work or template null clears it."""

    version: int
    road: Key = MAIN
    from_chainage: float = Field(allow_inf_nan=False)
    to_chainage: float = Field(allow_inf_nan=False)


class TreatmentRangeIn(RangeIn):
    work: Work | None


class TemplateRangeIn(RangeIn):
    """dimensions, transition, left_beyond, right_beyond: as in a template range."""

    template: str | None
    dimensions: dict[DimensionName, Number | ByChainage] = {}
    transition: NotNegative = 0.0
    left_beyond: Beyond | None = None
    right_beyond: Beyond | None = None


def _user(request: HttpRequest) -> User:
    assert isinstance(request.user, User)
    return request.user


def _out(row: Document) -> dict[str, Any]:
    return {"kind": row.kind, "key": row.key, "version": row.version, "spec": row.spec, "merged": row.merged}


@router.get("/documents", response={200: Documents, **ERRORS}, operation_id="listDocuments")
def list_documents(request: HttpRequest, project_id: Path[int]) -> dict[str, Any]:
    """Every document, small as they are."""
    project = project_for(request, project_id)
    edits = EditRecord.objects.filter(project=project, user=_user(request))
    undo = edits.filter(state=EditRecord.State.DONE).order_by("-id").first()
    redo = edits.filter(state=EditRecord.State.UNDONE).order_by("id").first()
    rows = {(row.kind, row.key): row for row in Document.objects.filter(project=project).order_by("kind", "id")}
    specs = {name: spec_of(row) for name, row in rows.items()}
    return {
        "documents": [{**_out(row), "spec": specs[name]} for name, row in rows.items()],
        "used": {" ".join(name): [titled(by[0], specs[by]) for by in found] for name, found in users(specs).items()},
        "undo": undo.title if undo else None,
        "redo": redo.title if redo else None,
    }


class ChangesIn(Schema):
    """Several documents written as one step of the history."""

    title: str = Field(min_length=1, max_length=200)
    documents: list[KeyedIn] = Field(min_length=1, max_length=200)


@router.post("/changes", response={200: list[DocumentOut], **ERRORS}, operation_id="changeDocuments")
def change_several(request: HttpRequest, project_id: Path[int], payload: ChangesIn) -> Any:
    """Write several documents, all or nothing; one undo takes all of them back."""
    project = project_for(request, project_id, Role.DESIGNER)
    for d in payload.documents:
        _check_key(d.kind, d.key)
    changes = [Change(d.kind, d.key, d.spec, d.version) for d in payload.documents]
    return [_out(row) for row in change_documents(project, _user(request), payload.title, changes)]


@router.put("/documents/{kind}/{key}", response={200: DocumentOut, **ERRORS}, operation_id="putDocument")
def put_document(request: HttpRequest, project_id: Path[int], kind: str, key: str, payload: DocumentIn) -> Any:
    """Write a document; version 0 makes a new one."""
    project = project_for(request, project_id, Role.DESIGNER)
    if kind != payload.kind:
        raise Refused(400, f"a document of kind {payload.kind} was sent to the address of a {kind}", "kind")
    _check_key(payload.kind, key)
    change = Change(payload.kind, key, payload.spec, payload.version, payload.base)
    return _out(_present(change_document(project, _user(request), change)))


def _check_key(kind: str, key: str) -> None:
    if KINDS[kind].single and key != MAIN:
        raise Refused(400, f"a project has one {kind}, called {MAIN}", "key")
    if not key.replace("-", "").replace("_", "").isalnum() or len(key) > 80:
        raise Refused(400, "a key is made of letters, digits, - and _", "key")


@router.delete("/documents/{kind}/{key}", response={200: None, **ERRORS}, operation_id="removeDocument")
def remove_document(request: HttpRequest, project_id: Path[int], kind: str, key: str, version: int) -> None:
    """Remove a document that nothing else names."""
    project = project_for(request, project_id, Role.DESIGNER)
    if kind not in KINDS:
        raise Refused(404, f"there is no kind of document called {kind}", "kind")
    if kind == "road" or KINDS[kind].of_road:
        raise Refused(
            400,
            f"{KINDS[kind].words} is removed with all that is decided along the road",
            kind,
            "remove the road in the list of roads",
        )
    if kind == "alignment":
        _refuse_alignment_in_use(project, key)
    change_document(project, _user(request), Change(kind, key, None, version))


def _refuse_alignment_in_use(project: Project, key: str) -> None:
    """A road names its alignment before that is there; whoever takes one away is told all the same."""
    for row in Document.objects.filter(project=project, kind="road", spec__alignment=key)[:1]:
        raise Refused(
            400, f"Alignment is used by {titled('road', row.spec)}", f"alignment {key}", "give that road another one first"
        )


@router.post("/treatments", response={200: DocumentOut, **ERRORS}, operation_id="setTreatment")
def set_treatment(request: HttpRequest, project_id: Path[int], payload: TreatmentRangeIn) -> Any:
    """Lay a treatment over a range, or clear the range."""
    new = payload.work and Treatment(from_chainage=payload.from_chainage, to_chainage=payload.to_chainage, work=payload.work)
    return _lay(request, project_id, "treatments", TreatmentPlan, new or None, payload)


@router.post("/template-ranges", response={200: DocumentOut, **ERRORS}, operation_id="setTemplateRange")
def set_template_range(request: HttpRequest, project_id: Path[int], payload: TemplateRangeIn) -> Any:
    """Apply a template over a range, or clear the range."""
    new = None
    if payload.template is not None:
        if not Document.objects.filter(project_id=project_id, kind="template", key=payload.template).exists():
            raise Refused(400, f"there is no template “{payload.template}”", "template", "choose one of the list")
        new = TemplateRange(
            from_chainage=payload.from_chainage, to_chainage=payload.to_chainage, template=payload.template,
            dimensions=payload.dimensions, transition=payload.transition, left_beyond=payload.left_beyond,
            right_beyond=payload.right_beyond,
        )  # fmt: skip
    return _lay(request, project_id, "template_plan", TemplatePlan, new, payload)


def _lay(request: HttpRequest, project_id: int, kind: str, model: Any, new: Any, payload: RangeIn) -> Any:
    project = project_for(request, project_id, Role.DESIGNER)
    refuse_backward(payload.from_chainage, payload.to_chainage)
    row = Document.objects.filter(project=project, kind=kind, key=payload.road).first()
    if row is None:
        raise Refused(404, "there is no such road", f"road {payload.road}", "choose one of the list of roads")
    plan = model.model_validate(row.spec)
    ranges = put_range(plan.ranges, new, payload.from_chainage, payload.to_chainage)
    changed = change_document(project, _user(request), Change(kind, payload.road, model(ranges=ranges), payload.version))
    return _out(_present(changed))


def _present(row: Document | None) -> Document:
    assert row is not None
    return row


@router.post("/undo", response={200: EditOut, **ERRORS}, operation_id="undo")
def undo(request: HttpRequest, project_id: Path[int], how: How = "exactly") -> EditOut:
    """Take back the person's own last edit; how: where somebody else changed the document since."""
    return _edit(step(project_for(request, project_id, Role.DESIGNER), _user(request), back=True, how=how))


@router.post("/redo", response={200: EditOut, **ERRORS}, operation_id="redo")
def redo(request: HttpRequest, project_id: Path[int], how: How = "exactly") -> EditOut:
    """Do the last undone edit again; how: where somebody else changed the document since."""
    return _edit(step(project_for(request, project_id, Role.DESIGNER), _user(request), back=False, how=how))


@router.get("/history", response={200: list[EditOut], **ERRORS}, operation_id="history")
def history(request: HttpRequest, project_id: Path[int]) -> list[EditOut]:
    """The newest hundred edits."""
    project = project_for(request, project_id)
    return [_edit(e) for e in EditRecord.objects.filter(project=project).select_related("user").order_by("-id")[:100]]


def _edit(edit: EditRecord) -> EditOut:
    who = (edit.user.get_full_name() or edit.user.username) if edit.user else "somebody"
    return EditOut(id=edit.pk, title=edit.title, who=who, at=edit.at.isoformat(timespec="seconds"), state=edit.state)
