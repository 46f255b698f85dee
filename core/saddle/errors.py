"""Errors that a person can act on: what, where, and what to do."""


class SaddleError(Exception):
    """Bad input. `subject` names the place (a document, field, row, chainage); `hint` says what to do."""

    def __init__(self, message: str, subject: str = "", hint: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.subject = subject
        self.hint = hint


class ImportProblem(SaddleError):
    """A file that cannot be taken in."""


class TemplateError(SaddleError):
    """A template that cannot be built."""


class GeometryError(SaddleError):
    """Geometry that has no answer."""
