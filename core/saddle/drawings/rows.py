"""Rows of figures beneath drawings: how a figure is written, and how much room its row takes."""

from collections.abc import Sequence
from dataclasses import dataclass

from saddle.drawings.figures import figure_text
from saddle.drawings.lettering import width_of
from saddle.drawings.spec import FigureRow


@dataclass(frozen=True, slots=True)
class Laid:
    """A row as it stands. decimals: None of a row of words; signed: with a plus too; lettering, height: mm."""

    title: str
    decimals: int | None
    signed: bool
    lettering: float
    height: float

    def text(self, found: float | str | None) -> str:
        """A figure, or words, as it stands in the row; nothing for what is not known."""
        return _text(found, self.decimals, signed=self.signed)


def laid(
    row: FigureRow,
    title: str,
    decimals: int | None,
    longest: Sequence[float | str],
    usual: float,
    padding: float,
    *,
    signed: bool,
) -> Laid:
    """A row by what its document says, else as is usual. longest: the figures, or words, that need most room; usual: lettering of the
    style, mm; padding: room at both ends of a figure together, in heights of lettering."""
    h = row.lettering or usual
    places = decimals if decimals is None or row.decimals is None else row.decimals
    needed = max((width_of(_text(v, places, signed=signed), h, "mono") for v in longest), default=0.0) + padding * h
    return Laid(row.title or title, places, signed, h, max(needed, row.height or 0.0))


def _text(found: float | str | None, decimals: int | None, *, signed: bool) -> str:
    if isinstance(found, str):
        return found
    return figure_text(found, decimals or 0, signed=signed)
