"""What the sections of a set have in common, and the part of each that is shown."""

import itertools
import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from saddle.drawings.lettering import width_of
from saddle.drawings.sections.rows import Reach, RowAt, rows_at
from saddle.drawings.sections.shape import clipped
from saddle.drawings.spec import SectionSheets
from saddle.geometry.polylines import Floats
from saddle.template.parts import Material
from saddle.template.polygons import Vertex
from saddle.template.view import PointView
from saddle.views.earth import EarthView
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: Least width of the column with the rows' titles, mm; the same where it holds the areas; the most that titles get.
TITLES, AREAS, WIDEST = 21.0, 42.0, 48.0
#: Shown of a road of which nothing is known, on either side, m.
USUAL_HALF = 6.5


@dataclass(frozen=True, slots=True)
class Window:
    """The part of a section that its block shows: offsets and levels, m. datum: level of the upper figure line; names: how far above
    it the lettering over the section reaches, mm."""

    low: float
    high: float
    datum: float
    top: float
    names: float = 0.0


#: A course by its name and material.
Course = tuple[str, str]


@dataclass(frozen=True, slots=True)
class Setting:
    """What the sections of a set have in common. text_height: of figures, mm; rows: of figures; letters: of courses, where they get some;
    titles: width of the column with the rows' titles, mm."""

    look: SectionSheets
    text_height: float
    materials: Mapping[str, Material]
    rows: tuple[RowAt, ...]
    letters: Mapping[Course, str]
    titles: float

    @property
    def lines(self) -> tuple[float, ...]:
        """Distances of those between the figure rows below the datum line, mm."""
        return tuple(itertools.accumulate((row.laid.height for row in self.rows), initial=0.0))


@dataclass(frozen=True, slots=True, eq=False)
class About:
    """What is known of a section besides its view. earth: what is dug and filled, to be hatched; plan: where offsets (k,) lie, (k, 2)
    east and north; others: other surfaces by name, in runs."""

    earth: Sequence[EarthView] = ()
    plan: Callable[[Floats], Floats] | None = None
    others: Mapping[str, list[list[Vertex]]] = field(default_factory=dict)


def others_of(look: SectionSheets) -> set[str]:
    """Names of the other surfaces that a style asks for."""
    return {s.name for s in look.surfaces if s.of == "other"} | {row.of for row in look.rows if row.kind == "surface"}


def setting_for(
    views: Iterable[SectionView], look: SectionSheets, text_height: float, materials: Mapping[str, Material], place: float = 0.0
) -> Setting:
    """The setting of some sections, each of which is met once. place: the greatest coordinate on them, m."""
    windows: list[Window] = []
    names: set[str] = set()
    found: dict[Course, None] = {}
    for view in views:
        windows.append(window_of(view, look))
        names.update(p.name for p in figured(view, look))
        found.update(dict.fromkeys((layer.name, layer.material) for layer in view.layers))
    level = max((max(abs(w.datum), abs(w.top)) for w in windows), default=0.0)
    reach = Reach(
        offset=max((max(-w.low, w.high) for w in windows), default=0.0),
        level=-level if any(w.datum < 0 for w in windows) else level,
        name=max(sorted(names), key=len, default=""),
        place=place,
    )
    courses = list(found)
    rows = rows_at(look.rows, reach, text_height, list(dict.fromkeys(name for name, _ in courses)))
    letters = {course: letter_of(k) for k, course in enumerate(courses)} if look.letters else {}
    longest = max((width_of(row.laid.title, row.laid.lettering) + 2.5 for row in rows), default=0.0)
    titles = max(AREAS if look.areas else TITLES, min(WIDEST, longest))
    return Setting(look, text_height, materials, rows, letters, titles)


def figured(view: SectionView, look: SectionSheets) -> list[PointView]:
    """The points that get a column of figures."""
    return [p for p in view.points if look.points == "all" or p.on_sheets != "nothing"]


def named(view: SectionView, look: SectionSheets) -> list[PointView]:
    """The points whose names are written over the section."""
    return [p for p in view.points if look.points == "all" or (look.points == "template" and p.on_sheets == "name")]


def letter_of(k: int) -> str:
    """A to Z, then AA to AZ and so on, of a number from 0."""
    return (letter_of(k // 26 - 1) if k >= 26 else "") + chr(ord("A") + k % 26)


def hinge_at(view: SectionView, setting: Setting, window: Window | None = None) -> float:
    """Where the hinge lies on the block, mm from its left; of a section without one the alignment. window: what it shows, as usual where
    none is given."""
    low = (window or window_of(view, setting.look)).low
    return setting.titles + ((view.hinge[0] if view.hinge else 0.0) - low) * 1000 / setting.look.scale


def window_of(view: SectionView, look: SectionSheets) -> Window:
    """From a little beyond one catch point to the other; where nothing is designed, of the road as it is."""
    vertices = list(view.design) or _untouched(view)
    if not vertices:
        vertices = [(-5.0, 0.0), (5.0, 0.0)]
    low = math.floor(10 * (min(o for o, _ in vertices) - look.beyond)) / 10
    high = math.ceil(10 * (max(o for o, _ in vertices) + look.beyond)) / 10
    if isinstance(view, LineView):
        low, high = math.floor(2 * view.start) / 2, math.ceil(2 * view.end) / 2
    levels = [z for _, z in vertices]
    levels += [z for layer in view.layers for _, z in layer.polygon]
    levels += [z for run in view.existing for _, z in clipped(run, low, high)]
    levels += [z for s in view.structures for o, z in s.outline if low <= o <= high]
    levels += [z for s in view.structures if low <= s.offset <= high for z in (s.top, s.bottom) if z is not None]
    datum = math.floor(min(levels) * 2) / 2
    return Window(low, high, datum, max(levels))


def _untouched(view: SectionView) -> list[Vertex]:
    """What is surveyed from edge to edge, or about the hinge or the alignment where edges are not known."""
    middle = view.hinge[0] if view.hinge else 0.0
    low = view.left_edge if view.left_edge is not None else middle - USUAL_HALF
    high = view.right_edge if view.right_edge is not None else middle + USUAL_HALF
    return [v for run in view.existing for v in run if low <= v[0] <= high]


def widened(view: SectionView, window: Window, left: float, right: float) -> Window:
    """The window with so much more to both sides, m, as far as there is ground whose levels it shows. Section lines keep their ends."""
    if isinstance(view, LineView):
        return window
    return replace(
        window,
        low=-_shown_to([[(-o, z) for o, z in reversed(run)] for run in view.existing], -window.low, left, window),
        high=_shown_to(view.existing, window.high, right, window),
    )


def _shown_to(runs: Sequence[Sequence[Vertex]], end: float, more: float, window: Window) -> float:
    """How far out of an end the ground goes on within the window's levels, at most so much more."""
    run = next((run for run in runs if run and run[0][0] <= end < run[-1][0]), None)
    if run is None or more <= 0:
        return end
    most = min(end + more, run[-1][0])
    for (o, z), (p, w) in itertools.pairwise(run):
        if p <= end or o >= most:
            continue
        for limit, beyond in ((window.datum, w < window.datum), (window.top, w > window.top)):
            if beyond and z != w:
                most = min(most, max(end, o + (limit - z) / (w - z) * (p - o)))
    return most
