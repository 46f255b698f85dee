"""What is told of drawings, issues and their differences."""

from typing import Literal

from ninja import Schema

from saddle.quantities.compared import ItemChange, LevelChange

Status = Literal["comment", "approval", "construction", "as_built"]
#: In plain words, as sheets and lists say it.
STATUS: dict[str, str] = {
    "comment": "for comment",
    "approval": "for approval",
    "construction": "for construction",
    "as_built": "as built",
}


class SheetOut(Schema):
    """A sheet. number, title: as registered; content: a hash of what is drawn; used: share of the paper's room; left_out: names for
    which there was no room."""

    number: str
    title: str
    content: str
    used: float
    left_out: list[str]


class SheetList(Schema):
    """The sheets of a drawing, in order, and their size in mm. The files of the job are the sheets as SVG."""

    sheets: list[SheetOut]
    width: float
    height: float


class Registered(Schema):
    """A drawing in the register. revision: of the last issue that it is in, empty before; changed: how many of its sheets are not
    what they were then, or were not there; fault: why it cannot be drawn, empty where it can."""

    key: str
    kind: str
    number: str
    style: str
    sheets: list[SheetOut]
    revision: str
    status: str
    changed: list[str]
    gone: int
    fault: str


class Register(Schema):
    """All drawings in order; open_problems: that nobody left as they are."""

    drawings: list[Registered]
    open_problems: int


class IssuedSheet(Schema):
    """A sheet of an issue: file: number of its SVG among the issue's files."""

    number: str
    title: str
    content: str
    file: int


class IssuedDrawing(Schema):
    """A drawing of an issue. pdf, dxf: numbers of its files."""

    key: str
    kind: str
    number: str
    width: float
    height: float
    sheets: list[IssuedSheet]
    pdf: int
    dxf: int


class FileOut(Schema):
    """A file of an issue. size: bytes."""

    number: int
    path: str
    sha256: str
    size: int


class IssueOut(Schema):
    """An issue as the list shows it. frozen: the project in which it is looked at as it was."""

    id: int
    revision: str
    status: str
    reason: str
    by: str
    at: str
    drawings: int
    sheets: int
    frozen: int


class AcceptedProblems(Schema):
    """The problems that were open when it was issued, and why that was accepted."""

    reason: str
    problems: list[str]


class IssueDetail(IssueOut):
    """An issue with what it holds."""

    holds: list[IssuedDrawing]
    files: list[FileOut]
    accepted: AcceptedProblems


class IssueMade(Schema):
    """An issue that a job made."""

    id: int
    revision: str
    frozen: int


class DocumentChange(Schema):
    """What changed in a document, in words; who changed it last and when, empty where nobody is known to have."""

    what: str
    who: str
    at: str


class SheetChange(Schema):
    """A sheet that is not the same in both states. before, after: number of its SVG among the files of the issue, or of the
    comparison for a state that was not issued; None where a state does not have it."""

    drawing: str
    number: str
    what: Literal["changed", "new", "gone"]
    before: int | None
    after: int | None


class Comparison(Schema):
    """What differs between an issue and another one, or the project as it is now. compared: sections that both have; apart: drawings that one of the two does not have, in words."""

    before: str
    after: str
    documents: list[DocumentChange]
    items: list[ItemChange]
    sections: list[LevelChange]
    compared: int
    sheets: list[SheetChange]
    same_sheets: int
    apart: list[str]
