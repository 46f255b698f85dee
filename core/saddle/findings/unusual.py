"""What can be meant and seldom is: figures outside the bands of common practice, asked about and never refused. Bands without a source
are common practice of the trade."""

from functools import partial

import numpy as np

from saddle.figures import written
from saddle.geometry.polylines import Floats
from saddle.problem import Problem, problems_where
from saddle.road.model import RoadModel, TemplateSections
from saddle.road.spec import Overlay
from saddle.template.compiled import StripSpan
from saddle.template.half import HalfSections
from saddle.template.parts import thickness_values
from saddle.template.values import value_of

#: Width of a lane, m.
LANE = (2.0, 6.0)
#: Thickness of a course, mm.
COURSE = (15.0, 500.0)
#: Saw cut back from the old edge, m, at most.
SAW_CUT = 1.0
#: Sections off by less than this are not asked about: a tie's rounding, not somebody's hand, m.
HAIR = 1e-6


def unusual(model: RoadModel) -> list[Problem]:
    """Lanes, courses, saw cuts and limits of depth that look like a slip of the finger."""
    found: list[Problem] = []
    for group in model.groups:
        for half in (group.left, group.right):
            found += _lanes(model, group, half)
    found += _courses(model)
    for treatment in model.inputs.treatments.ranges:
        work = treatment.work
        if not isinstance(work, Overlay):
            continue
        at = treatment.from_chainage, treatment.to_chainage
        if work.saw_cut > SAW_CUT:
            words = f"the saw cut of {written(work.saw_cut, 'offset')} m is more than {SAW_CUT:g} m: is it meant?"
            found.append(Problem("unusual", "caution", *at, "Overlay", words, work.saw_cut, SAW_CUT))
        if work.look_again_mm < work.least_cover_mm:
            words = (
                f"too deep begins at {work.look_again_mm:g} mm, below the least cover of {work.least_cover_mm:g} mm: "
                "all of it is too deep"
            )
            found.append(Problem("unusual", "caution", *at, "Overlay", words, work.look_again_mm, work.least_cover_mm))
    return found


def _lanes(model: RoadModel, group: TemplateSections, half: HalfSections) -> list[Problem]:
    found = []
    side = "left" if half.side < 0 else "right"
    for span in half.half.spans:
        if not isinstance(span, StripSpan) or span.strip.kind != "lane":
            continue
        wide: Floats = half.u[:, span.end] - half.u[:, span.start]
        with np.errstate(invalid="ignore"):
            # A lane that runs out to nothing is a taper.
            off = (wide > HAIR) & ((wide < LANE[0] - HAIR) | (wide > LANE[1] + HAIR))
        # The whole lane is narrow or wide wherever it is known, not the end of a taper.
        known = np.isfinite(wide)
        if not known.any() or not off[known].all():
            continue
        found += problems_where(
            off, model.chainage[group.rows], code="unusual", severity="caution", subject="Templates",
            message=partial(_lane, span.strip.name, side), measured=wide, worst="least" if (wide < LANE[0]).any() else "greatest",
        )  # fmt: skip
    return found


def _lane(name: str, side: str, wide: float | None) -> str:
    return f"{name} on the {side} is {written(wide, 'offset')} m wide, usual are {LANE[0]:g} to {LANE[1]:g} m: is it meant?"


def _courses(model: RoadModel) -> list[Problem]:
    """Of the make-ups in use, where a template first uses them."""
    found, asked = [], set()
    for group in model.groups:
        at = float(model.chainage[group.rows[0]]), float(model.chainage[group.rows[-1]])
        for half in (group.left, group.right):
            for span in half.half.spans:
                if not isinstance(span, StripSpan):
                    continue
                # The last course over the old pavement fills up to it: its thickness is the least one.
                over = [(span.over_existing, span.over_existing.courses[:-1])] if span.over_existing else []
                for make_up, courses in ((span.new, span.new.courses), *over):
                    for course in courses:
                        for thickness in thickness_values(course):
                            mm = value_of(thickness, group.dimensions, len(group.rows))
                            mm = mm[np.isfinite(mm)]
                            if not mm.size:
                                continue
                            worst = float(mm[np.argmax(np.maximum(COURSE[0] - mm, mm - COURSE[1]))])
                            key = (make_up.name, course.name)
                            if COURSE[0] <= worst <= COURSE[1] or key in asked:
                                continue
                            asked.add(key)
                            words = (
                                f"{course.name} of {key[0]} is {worst:g} mm thick, usual are {COURSE[0]:g} to {COURSE[1]:g} mm: "
                                "is it meant?"
                            )
                            found.append(Problem("unusual", "caution", *at, "Templates", words, worst))
    return found
