"""Problems that the designers leave as they are, with their reason. One that has grown or become worse since is a problem again."""

import re
from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from saddle import tolerances
from saddle.documents_base import Chainage, Document, Number
from saddle.problem import Problem


class LeftProblem(Document):
    """A problem as it was when it was left. measured, limit: as in the problem."""

    code: Annotated[str, Field(min_length=1, max_length=60)]
    subject: Annotated[str, Field(max_length=60)]
    from_chainage: Chainage
    to_chainage: Chainage
    message: Annotated[str, Field(max_length=2000)]
    measured: Number | None = None
    limit: Number | None = None
    reason: Annotated[str, Field(min_length=1, max_length=300)]


class LeftProblems(Document):
    """The problems that are left."""

    rows: Annotated[list[LeftProblem], Field(max_length=2000)] = []


def reason_for(problem: Problem, left: Sequence[LeftProblem]) -> str | None:
    """Why a problem is left, None where it is not: it lies within one that was left, and says the same or no worse of it."""
    return next((row.reason for row in left if _covers(row, problem)), None)


def _worded(message: str) -> str:
    """A message without its figures; digits of a name stay."""
    return re.sub(r"(?<![\w“-])[-+]?\d+(?:[.,]\d+)?(?!\w)", "#", message)


def _covers(row: LeftProblem, problem: Problem) -> bool:
    within = (
        problem.chainage_from >= row.from_chainage - tolerances.CHAINAGE_MERGE
        and problem.chainage_to <= row.to_chainage + tolerances.CHAINAGE_MERGE
    )
    if (row.code, row.subject) != (problem.code, problem.subject) or not within:
        return False
    if _worded(row.message) != _worded(problem.message):
        return False  # of another side, point or name
    if row.measured is None or row.limit is None or problem.measured is None or problem.limit is None:
        return row.message == problem.message
    return abs(problem.measured - problem.limit) <= abs(row.measured - row.limit) + tolerances.COINCIDENT
