"""What does not come out between roads: medians without a far side or without room, roads that lie on each other."""

from functools import partial

import numpy as np

from saddle import tolerances
from saddle.figures import slack, written
from saddle.geometry.polylines import Bools, Floats
from saddle.guides.evaluate import Sources, sound_guides
from saddle.problem import Problem, problems_where
from saddle.road.beyond import NO_LINE, NONE_FITS, SIDES, facing
from saddle.road.model import RoadModel
from saddle.road.mouths import crossing
from saddle.road.spec import Leave, MedianBeyond, ToMiddle


def medians(model: RoadModel) -> list[Problem]:
    """Medians that find nothing to reach to, have no room, or do not end where they are to."""
    found: list[Problem] = []
    c = model.chainage
    short = {side: np.full(len(c), np.nan) for side in SIDES}
    for group in model.groups:
        for side, half in zip(SIDES, (group.left, group.right), strict=True):
            if half.half.edge is not None:
                short[side][group.rows] = model.taken.width[side][group.rows] - (
                    half.u[:, half.half.outer] - half.u[:, half.half.edge]
                )
    for i, item in enumerate(model.inputs.template_plan.ranges):
        here = (model.stations.template == i) & model.worked_on()
        for side in SIDES:
            beyond, word = item.beyond(side), "left" if side < 0 else "right"
            if not isinstance(beyond, MedianBeyond):
                continue
            median, guide = model.inputs.medians.get(beyond.median), model.inputs.guides.get(beyond.guide)
            names = (median.name if median else beyond.median), (guide.name if guide else beyond.guide), word
            shape, width = model.taken.shape[side], model.taken.width[side]
            found += problems_where(
                here & (shape == NO_LINE) & np.isfinite(model.lines.hinge), c, code="no_far_side", severity="caution",
                subject="Templates", message=partial(_no_far_side, *names),
            )  # fmt: skip
            built = here & (shape >= 0) & _built(model, side)
            found += problems_where(
                built & np.isnan(model.taken.level[side]), c, code="no_far_level", severity="fault", subject="Templates",
                message=partial(_no_far_level, *names),
            )  # fmt: skip
            found += problems_where(
                here & (shape == NONE_FITS), c, code="no_room", severity="fault", subject="Templates",
                message=partial(_no_room, *names), measured=width, worst="least",
            )  # fmt: skip
            found += problems_where(
                built & (np.abs(short[side]) > tolerances.SAME_EDGE), c, code="median_ends",
                severity="caution", subject="Templates", message=partial(_ends_elsewhere, *names), measured=np.abs(short[side]),
            )  # fmt: skip
    return found


def _built(model: RoadModel, side: int) -> Bools:
    """Sections on whose side a shape of a median stands, (n,)."""
    out: Bools = np.zeros(len(model.chainage), dtype=bool)
    for group in model.groups:
        half = group.left if side < 0 else group.right
        out[group.rows] = half.half.edge is not None and half.half.edge != half.half.outer
    return out


def overlaps(model: RoadModel) -> list[Problem]:
    """Roads that are to end at each other's middle and lie on each other, or cannot be found."""
    found: list[Problem] = []
    c, hinge = model.chainage, model.lines.hinge
    ends = _ends(model)
    for item in model.inputs.beside:
        if not isinstance(item.to, ToMiddle):
            continue
        side = -1 if item.side == "left" else 1
        other = model.inputs.neighbours.get(item.to.road)
        if other is None:
            words = f"the road on the {item.side} cannot be computed, so that nothing is cut off towards it: see the problems of that road"
            found.append(Problem("no_neighbour", "fault", model.alignment.start, model.alignment.end, "Sections", words))
            continue
        over = ends[side] - facing(other, model.frames, hinge, side)
        found += problems_where(
            over > slack("offset"), c, code="roads_overlap", severity="fault", subject="Sections",
            message=partial(_overlap, item.side), measured=over,
        )  # fmt: skip
    return found


def mouths(model: RoadModel) -> list[Problem]:
    """Treatments that are to meet a line and do not."""
    found: list[Problem] = []
    inputs = model.inputs
    sources = Sources(model.alignment, inputs.lines, sound_guides(inputs.guides)[0], inputs.roads)
    for item in inputs.treatments.ranges:
        if isinstance(item.work, Leave):
            continue
        for tie, at in ((item.work.begin, item.from_chainage), (item.work.end, item.to_chainage)):
            if tie is None or tie.guide is None:
                continue
            guide = inputs.guides.get(tie.guide)
            name, met = guide.name if guide else tie.guide, crossing(tie.guide, item.work.hinge, at, model.alignment, sources)
            if met is None:
                words = f"the hinge does not cross “{name}” near here: the treatment ends where it is written, and meets nothing"
                found.append(Problem("no_mouth", "fault", at, at, "Overlay", words))
    return found


def _ends(model: RoadModel) -> dict[int, Floats]:
    """Outward offsets of the outermost points of the templates, by side (n,)."""
    out: dict[int, Floats] = {side: np.full(len(model.chainage), np.nan) for side in SIDES}
    for group in model.groups:
        for side, half in zip(SIDES, (group.left, group.right), strict=True):
            out[side][group.rows] = half.u[:, half.half.outer]
    return out


def _no_far_side(median: str, guide: str, side: str, _: float | None) -> str:
    return f"median “{median}” on the {side} finds no line “{guide}” here to reach to: the slopes of the template hold"


def _no_far_level(median: str, guide: str, side: str, _: float | None) -> str:
    return f"median “{median}” on the {side} ends at “{guide}”, which has no level here: it lies as high as its template says without one"


def _no_room(median: str, guide: str, side: str, width: float | None) -> str:
    if width is not None and width < 0:
        return f"“{guide}” lies up to {written(-width, 'offset')} m inside this road's edge on the {side}: the roads lie on each other"
    return f"no shape of median “{median}” on the {side} has room in {written(width, 'offset')} m: add one for less"


def _ends_elsewhere(median: str, guide: str, side: str, by: float | None) -> str:
    return f"median “{median}” on the {side} ends up to {written(by, 'offset')} m beside “{guide}”: let its outermost point follow the far side"


def _overlap(side: str, by: float | None) -> str:
    return f"the template of the road on the {side} lies up to {written(by, 'offset')} m on this one: what lies on both is counted twice"
