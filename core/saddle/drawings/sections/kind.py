"""Cross-sections packed onto sheets in road order."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from saddle.chainage import format_chainage
from saddle.drawings.body import Body, OnDemand, Task
from saddle.drawings.display import MEDIUM, PLUM, Item, Text
from saddle.drawings.legend import Meaning, of_materials
from saddle.drawings.packed import pressed, released
from saddle.drawings.sections.blocks import BOUNDARY, CUT, FILL, block_size, draw_block
from saddle.drawings.sections.names import window_for
from saddle.drawings.sections.packing import PACKINGS, Fitted
from saddle.drawings.sections.setting import About, Setting, hinge_at, others_of, setting_for, widened, window_of
from saddle.drawings.sections.shape import LINES, draw_shape
from saddle.drawings.spec import SectionSheets
from saddle.drawings.title import scale_words
from saddle.errors import SaddleError
from saddle.geometry.polylines import Floats
from saddle.lines.place import CutLine, place_group
from saddle.road.sources import cut_at, widths_of
from saddle.road.spec import Leave
from saddle.terrain.tin import Tin
from saddle.views.earth import earth_on
from saddle.views.line import ground_of, line_view
from saddle.views.section import SectionView, runs, section_view

#: Words for surfaces.
SURFACES = {"existing": "Existing surface", "milled": "Milled surface", "design": "Finished surface"}


@dataclass(frozen=True, slots=True, eq=False)
class Shown:
    """A section of the drawing, kept small until it is drawn. shown: its chainage as it is called."""

    chainage: float
    shown: float
    kept: bytes
    plan: Callable[[Floats], Floats] | None

    @classmethod
    def of(cls, view: SectionView, about: About) -> "Shown":
        """The section with what is known of it."""
        return cls(view.chainage, view.shown, pressed((view, about.earth, about.others)), about.plan)

    def again(self) -> tuple[SectionView, About]:
        """The section with what is known of it, once more."""
        view, earth, others = released(self.kept)
        return view, About(earth, self.plan, others)


def draw_sections(task: Task) -> Sequence[Body]:
    """The sections that the drawing shows, on as many sheets as they need."""
    model, room = task.model, task.room
    assert isinstance(task.style.sheets, SectionSheets)
    look = task.style.sheets
    others = {name: tin for name in sorted(others_of(look)) if (tin := task.of.surface(name)) is not None}
    source = _of_lines(task, others) if task.drawing.lines else _of_design(task, others, hatching=look.hatching)
    shown: list[Shown] = []

    def gathered() -> Iterator[SectionView]:
        for view, about in source:
            shown.append(Shown.of(view, about))
            yield view

    place = float(np.abs(model.frames.origin).max(initial=0.0)) + 1000.0
    setting = setting_for(gathered(), look, task.style.text_height, model.inputs.materials, place)
    shown.sort(key=lambda one: one.chainage)  # those at one place stay in their order
    order = {id(one): k for k, one in enumerate(shown)}
    pages = PACKINGS[look.packing]([_fitted(one, setting, task) for one in shown], room)
    task.refuse_more_than_are_made(len(pages))
    missing = sorted(others_of(look) - set(others))

    def body_of(k: int) -> Body:
        page = pages[k]
        body = Body(
            scale=scale_words(look.scale, look.vertical_scale), begin=page[0].fitted.one.shown, end=page[-1].fitted.one.shown
        )
        drawn = []
        taken = 0.0
        for placed in page:
            one = placed.fitted.one
            view, about = one.again()
            window = widened(view, placed.fitted.window, *(s * look.scale / 1000 for s in placed.spare))
            corner = (placed.x - hinge_at(view, setting, window), placed.top)
            items, left_out = draw_block(view, setting, corner, about, window)
            body.items += items
            body.space += _at_true_size(view, setting, order[id(one)], about)
            body.left_out += [f"{format_chainage(view.shown)}: {name}" for name in left_out]
            width, height = block_size(view, setting, window)
            taken += width * height
            drawn.append((view, about))
        body.used = taken / (room.width * room.height)
        body.meanings = _meanings(drawn, setting)
        if k == 0:
            body.left_out += [f"surface “{name}”: the project has none of this name" for name in missing]
        task.progress(0.5 + 0.5 * k / len(pages))
        return body

    return OnDemand(len(pages), body_of)


def _fitted(one: Shown, setting: Setting, task: Task) -> Fitted[Shown]:
    """Raises SaddleError for one that goes on no sheet."""
    view, _ = one.again()
    window = window_for(view, setting)
    size = block_size(view, setting, window)
    _refuse_too_large(view, size, task)
    return Fitted(one, window, size, hinge_at(view, setting, window))


#: From section to section at true size, m; height of their chainages, m.
APART, CHAINAGE_HEIGHT = 60.0, 0.5


def _at_true_size(view: SectionView, setting: Setting, number: int, about: About) -> list[Item]:
    """The section in metres: offsets to the right, levels as they are, each section so far beside the one before."""
    x, w = number * APART, window_of(view, setting.look)
    source = f"section {format_chainage(view.chainage)} {view.side}"
    others = about.others
    items = draw_shape(
        view, setting.materials, lambda v: (x + v[0], v[1]), (w.low, w.high), source, setting.look.surfaces, others
    )
    at = (x + w.low, w.top + 1.0)
    return [*items, Text("headings", at, format_chainage(view.shown), CHAINAGE_HEIGHT, font="bold", source=source)]


def _of_design(task: Task, others: Mapping[str, Tin], *, hatching: bool) -> Iterator[tuple[SectionView, About]]:
    """The design's own sections. others: surfaces to be cut too, by name."""
    model = task.model
    treated = [not isinstance(model.work_at(i), Leave) for i in range(len(model.chainage))]
    rows = task.drawing.shown(model.chainage.tolist(), treated)
    frames = model.alignment.frames(model.chainage[rows])
    cuts = {name: cut_at(tin, frames, widths_of(model.inputs.settings)) for name, tin in others.items()}
    for k, i in enumerate(rows):
        earth = earth_on(model, i) if hatching else []
        yield (
            section_view(model, i, task.of.others),
            About(
                earth,
                lambda offsets, i=i: model.frames.plan(i, offsets),  # type: ignore[misc]
                {name: runs(*cut.row(k)) for name, cut in cuts.items()},
            ),
        )
        task.progress(0.5 * k / len(rows))


def _of_lines(task: Task, others: Mapping[str, Tin]) -> Iterator[tuple[SectionView, About]]:
    """The lines of a group that meet the road within the drawing's range. Raises SaddleError where the group is not there."""
    key, drawing = task.drawing.lines or "", task.drawing
    group = task.of.lines.get(key)
    if group is None:
        raise SaddleError("the group of section lines of this drawing is not there", "drawing", "choose another one")
    lines = place_group(group, ground_of(task.model)).lines
    for part, line in enumerate(lines):
        view = line_view(task.model, group, key, part, line, others, task.of.others)
        low, high = drawing.from_chainage, drawing.to_chainage
        if (low is None or view.chainage >= low - 5e-4) and (high is None or view.chainage <= high + 5e-4):
            yield view, About((), lambda at, line=line: _along(line, at), view.others)  # type: ignore[misc]
        task.progress(0.5 * part / len(lines))


def _along(line: CutLine, distances: Floats) -> Floats:
    """Plan points at distances along a line (k,), (k, 2)."""
    return np.column_stack([np.interp(distances, line.along, line.path[:, k]) for k in (0, 1)])


def _refuse_too_large(view: SectionView, size: tuple[float, float], task: Task) -> None:
    room = task.room
    if size[0] > room.width or size[1] > room.height:
        raise SaddleError(
            f"the section at {format_chainage(view.shown)} needs {size[0]:.0f} x {size[1]:.0f} mm, "
            f"but a sheet of {task.style.paper} has {room.width:.0f} x {room.height:.0f} mm",
            subject="drawing style",
            hint="choose a smaller scale (a larger number) or larger paper",
        )


def _meanings(drawn: Sequence[tuple[SectionView, About]], setting: Setting) -> list[Meaning]:
    views = [view for view, _ in drawn]
    courses = list(dict.fromkeys((layer.name, layer.material) for v in views for layer in v.layers))
    if setting.letters:
        found = [
            Meaning(name, m.colour, m.pattern, letter=setting.letters[name, key])
            for name, key in courses
            if (m := setting.materials.get(key))
        ]
    else:
        found = of_materials([material for _, material in courses], setting.materials)
    there = {"existing": True, "milled": any(v.milled for v in views), "design": any(v.design for v in views)}
    for surface in setting.look.surfaces:
        if there[surface.of] if surface.of != "other" else any(about.others.get(surface.name) for _, about in drawn):
            words = SURFACES.get(surface.of, surface.name)
            found.append(Meaning(words, surface.colour, width=surface.width, dashes=LINES[surface.line]))
    if setting.look.boundary and any(v.boundaries for v in views):
        found.append(Meaning("Boundary", PLUM, width=MEDIUM, dashes=BOUNDARY))
    if setting.look.hatching:
        found += [Meaning("Cut", CUT, "falling"), Meaning("Fill", FILL, "rising")]
    return found
