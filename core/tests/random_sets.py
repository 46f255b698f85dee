"""Random divided roads: two carriageways on the ground of a random road, on one alignment or each on its own, whose median opens and
closes, at levels of their own; with a median from edge to edge by its shapes, or with slopes that meet at the middle."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from saddle.alignment.alignment import build
from saddle.guides.evaluate import RoadLines
from saddle.guides.spec import FollowPlan, GuideSpec, OfRoad
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan
from saddle.pipeline import lines_of
from saddle.road.model import RoadInputs
from saddle.road.spec import EndsBeside, TemplatePlan, ToMiddle, TreatmentPlan
from saddle.template.starter import TEMPLATES
from saddle.template.starter_medians import CARRIAGEWAYS, KERBS, MEDIANS, SHAPES
from tests.random_roads import random_road

LEFT, RIGHT = "a", "b"


@dataclass(frozen=True)
class Divided:
    """left, right: inputs of the carriageways by what they follow of each other; median: whether one reaches from edge to edge, which the
    left carriageway builds."""

    left: RoadInputs
    right: RoadInputs
    median: bool


def random_divided(rng: np.random.Generator, *, median: bool | None = None) -> Divided:
    """Two carriageways whose hinges part and come together, so that the gap between their pavements is from nothing to 9 m."""
    base = random_road(rng)
    a = build(base.alignment)
    median = bool(rng.random() < 0.6) if median is None else median
    # From the hinges to the pavements' inner ends it is 4 m.
    bends = np.linspace(a.start - 1, a.end + 1, int(rng.integers(2, 6)))
    gaps = rng.choice([0.0, 0.3, 0.7, 1.6, 3.0, 6.0, 9.0], len(bends))
    shift = float(rng.uniform(-2, 2))
    made = {}
    for key, side in ((LEFT, -1), (RIGHT, 1)):
        rows = [{"kind": "taper", "to_offset": shift + side * (4.0 + g / 2), "end": {"by": "chainage", "chainage": float(c)}}
                for c, g in zip(bends[1:], gaps[1:], strict=True)]  # fmt: skip
        hinge = GuideSpec.model_validate(
            {"name": f"Hinge {key}", "use": "other", "side": "left" if side < 0 else "right", "source": {
                "by": "pieces", "start_chainage": float(bends[0]), "start_offset": shift + side * (4.0 + gaps[0] / 2), "pieces": rows}}
        )  # fmt: skip
        levels = LevelTable.model_validate(
            {"rows": [{"chainage": r.chainage, "level": r.level + float(rng.uniform(-0.4, 0.4))} for r in base.levels.rows]}
        )
        work: dict[str, Any] = {
            "kind": str(rng.choice(["overlay", "reconstruct"])), "hinge": {"by": "guide", "guide": "hinge"},
            "left_edge": {"by": "point", "point": "LaneEdge"}, "right_edge": {"by": "point", "point": "LaneEdge"},
            "left_crossfall": {"by": "given", "pct": float(rng.uniform(-4, 3))},
            "right_crossfall": {"by": "given", "pct": float(rng.uniform(-4, 3))}, "governs": {"kind": "level_table"},
        }  # fmt: skip
        beyond: dict[str, Any] = {}
        if median:
            beyond = (
                {"right_beyond": {"kind": "median", "median": "median", "guide": "far"}}
                if side < 0
                else {"left_beyond": {"kind": "ends"}}
            )
        made[key] = replace(
            base,
            treatments=TreatmentPlan.model_validate({"ranges": [{"from_chainage": a.start, "to_chainage": a.end, "work": work}]}),
            template_plan=TemplatePlan.model_validate(
                {"ranges": [{"from_chainage": a.start, "to_chainage": a.end, **beyond,
                             "template": "carriageway-left" if side < 0 else "carriageway-right"}]}
            ),
            templates=TEMPLATES | CARRIAGEWAYS | SHAPES, kerbs=base.kerbs | KERBS, medians=MEDIANS, follow=FollowPlan(),
            guides={"hinge": hinge}, levels=levels, crossfalls=CrossfallTable(), milling=MillingPlan(),
            settings=base.settings.changed(key_points=False, chord_limit_mm=0.0, interval=20.0),
        )  # fmt: skip
    return with_each_other(Divided(made[LEFT], made[RIGHT], median))


def with_each_other(divided: Divided) -> Divided:
    """The carriageways with what they follow of each other, or end at."""
    left, right = divided.left, divided.right
    if divided.median:
        far = GuideSpec.model_validate(
            {"name": "Far", "use": "other", "source": {"by": "road", "road": RIGHT, "line": "left_end"}}
        )
        left = replace(left, guides={**left.guides, "far": far})
    else:
        left, right = replace(left, beside=(_middle("right", RIGHT),)), replace(right, beside=(_middle("left", LEFT),))
    found = linked({LEFT: left, RIGHT: right})
    return Divided(found[LEFT], found[RIGHT], divided.median)


def linked(roads: dict[str, RoadInputs]) -> dict[str, RoadInputs]:
    """Roads by key with the lines of each other that their documents name."""
    lines: dict[str, RoadLines] = {}

    def following(key: str) -> RoadInputs:
        named = {g.source.road for g in roads[key].guides.values() if isinstance(g.source, OfRoad)}
        return replace(roads[key], roads={other: lines_for(other) for other in sorted(named)})

    def lines_for(key: str) -> RoadLines:
        if key not in lines:
            lines[key] = lines_of(following(key)).value
        return lines[key]

    return {
        key: replace(
            following(key), neighbours={b.to.road: lines_for(b.to.road) for b in road.beside if isinstance(b.to, ToMiddle)}
        )
        for key, road in roads.items()
    }


def _middle(side: str, road: str) -> EndsBeside:
    return EndsBeside.model_validate({"side": side, "to": {"by": "middle", "road": road}})
