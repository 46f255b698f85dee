"""The kinds of drawings: another one is a module that draws its bodies, its settings in spec.Sheets, and an entry here."""

from dataclasses import dataclass

from saddle.drawings.body import DrawingKind
from saddle.drawings.long.kind import draw_long
from saddle.drawings.plan.kind import draw_plan
from saddle.drawings.register import draw_register
from saddle.drawings.schedule import draw_schedule
from saddle.drawings.sections.kind import draw_sections
from saddle.drawings.spec import KindOfDrawing
from saddle.drawings.typical import draw_typical


@dataclass(frozen=True, slots=True)
class Kind:
    """title: as it is called in the title block and the register."""

    title: str
    draw: DrawingKind


KINDS: dict[KindOfDrawing, Kind] = {
    "long": Kind("Long section", draw_long),
    "plan": Kind("Plan", draw_plan),
    "sections": Kind("Cross-sections", draw_sections),
    "typical": Kind("Typical cross-sections", draw_typical),
    "schedule": Kind("Schedule", draw_schedule),
    "register": Kind("Register", draw_register),
}
