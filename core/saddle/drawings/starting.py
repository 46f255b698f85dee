"""The drawing styles that the library begins with, and the drawings that a new project has."""

from saddle.drawings.spec import (
    Drawing,
    DrawingStyle,
    LongSheets,
    PlanSheets,
    RegisterSheets,
    ScheduleSheets,
    SectionSheets,
    TypicalSheets,
    section_rows,
)

STYLES: dict[str, DrawingStyle] = {
    "sections_a3": DrawingStyle(name="Sections, A3", sheets=SectionSheets()),
    "sections_dense": DrawingStyle(name="Sections, dense A3", sheets=SectionSheets(scale=200, vertical_scale=200, points="figures")),
    "sections_a1": DrawingStyle(
        name="Sections with areas, A1",
        paper="A1",
        text_height=2.5,
        sheets=SectionSheets(areas=True, rows=section_rows("point", "offset", "existing", "design", "depth", "crossfall")),
    ),
    "figures_a3": DrawingStyle(
        name="Sections, all figures, A3",
        sheets=SectionSheets(
            scale=200, vertical_scale=200,
            rows=section_rows("offset", "distance", "existing", "milled", "design", "difference", "depth", "crossfall"),
        ),
    ),
    "sections_us": DrawingStyle(name="Sections, 34 x 22 in", paper="ANSI D", sheets=SectionSheets(areas=True)),
    "long_a3": DrawingStyle(name="Long section, A3", sheets=LongSheets(plan=True)),
    "plan_a3": DrawingStyle(name="Plan, A3", sheets=PlanSheets()),
    "typical_a3": DrawingStyle(name="Typical sections, A3", sheets=TypicalSheets()),
    "quantities_a4": DrawingStyle(name="Layer quantities, A4", paper="A4", sheets=ScheduleSheets()),
    "register_a4": DrawingStyle(name="Register of drawings, A4", paper="A4", sheets=RegisterSheets()),
}  # fmt: skip

DRAWINGS: dict[str, Drawing] = {
    "plan": Drawing(name="Plan {from} to {to}", number="PL", style="plan_a3", place=1),
    "long": Drawing(name="Long section {from} to {to}", number="LS", style="long_a3", place=2),
    "typical": Drawing(name="Typical cross-sections", number="TS", style="typical_a3", place=3),
    "sections": Drawing(name="Cross-sections {from} to {to}", number="XS", style="sections_a3", place=4),
    "quantities": Drawing(name="Layer quantities", number="QS", style="quantities_a4", place=5),
}
