"""Random templates that are sound: strips, kerbs, ends, floors and ladders of every kind."""

from typing import Any

import numpy as np

from saddle.template import starter
from saddle.template.compiled import Parts
from saddle.template.parts import Course, MakeUp
from saddle.template.spec import TemplateSpec


def _end(rng: np.random.Generator, *, outer: bool, kerb: bool) -> dict[str, Any]:
    kinds = ["flush", "flush", "carry", "batter"] + (["to_slope"] if outer else []) + (["under_kerb"] if kerb else [])
    kind = str(rng.choice(kinds))
    return {
        "carry": {"kind": kind, "distance": float(rng.uniform(0.05, 0.8))},
        "batter": {"kind": kind, "one_in": float(rng.uniform(0.3, 2))},
        "under_kerb": {"kind": kind, "behind": float(rng.uniform(0, 0.3))},
    }.get(kind, {"kind": kind})


def _make_up(rng: np.random.Generator, name: str, *, inner_kerb: bool, outer_kerb: bool) -> MakeUp:
    courses = []
    for j in range(int(rng.integers(1, 5))):
        more = {"outer_thickness_mm": float(rng.uniform(30, 250))} if rng.random() < 0.2 else {}
        courses.append(
            Course.model_validate(
                {
                    "name": f"C{j}", "material": "rock", "thickness_mm": float(rng.uniform(30, 250)),
                    "inner": _end(rng, outer=False, kerb=inner_kerb), "outer": _end(rng, outer=True, kerb=outer_kerb), **more,
                }
            )
        )  # fmt: skip
    bottom = str(rng.choice(["parallel", "parallel", "onto", "down_to"]))
    measured = "square" if rng.random() < 0.3 else "vertical"
    return MakeUp.model_validate({"name": name, "courses": courses, "bottom": {"kind": bottom}, "measured": measured})


def _ladder(rng: np.random.Generator) -> list[dict[str, Any]]:
    links: list[list[dict[str, Any]]] = [
        [{"kind": "v_drain", "depth": float(rng.uniform(0.2, 0.8))}, {"kind": "to_ground", "one_in": 1.5, "direction": "up"}],
        [{"kind": "benched", "one_in": 0.7, "direction": "up", "height": 1.0, "bench_width": 1.2}],
        [{"kind": "toe_drain"}, {"kind": "to_ground", "one_in": 1.0, "direction": "up"}],
        [{"kind": "run", "width": 0.6, "fall_pct": -8}, {"kind": "to_ground", "one_in": 2, "direction": "down"}],
        [{"kind": "flat_drain"}, {"kind": "to_ground", "one_in": 2, "direction": "up"}],
        [{"kind": "step", "width": 0.0, "rise": -0.3}, {"kind": "to_ground", "one_in": 1, "direction": "down"}],
    ]
    chosen = [links[int(i)] for i in rng.permutation(len(links))[: int(rng.integers(1, 5))]]
    rungs = [{"name": f"Rung {i}", "when": "either", "links": item} for i, item in enumerate(chosen)]
    rungs.append({"name": "Cut", "when": "cut", "links": [{"kind": "to_ground", "one_in": 0.5, "direction": "up"}]})
    rungs.append({"name": "Fill", "when": "fill", "links": [{"kind": "to_ground", "one_in": 0.5, "direction": "down"}]})
    return rungs


def random_template(rng: np.random.Generator) -> tuple[TemplateSpec, Parts]:
    """One half of two to five strips, with kerbs between them now and then, floors below all courses, and a ladder."""
    make_ups: dict[str, MakeUp] = dict(starter.MAKE_UPS)
    points: list[dict[str, Any]] = []
    strips: list[dict[str, Any]] = []
    kerbs: list[dict[str, Any]] = []
    here, count = "hinge", int(rng.integers(2, 6))
    has_kerb = [False] + [bool(rng.random() < 0.3) for _ in range(count - 1)] + [False]
    for i in range(count):
        if has_kerb[i]:
            kerbs.append({"name": f"K{i}", "profile": str(rng.choice(list(starter.KERBS))), "at": here})
            here = f"K{i}.back"
        name = f"P{i}"
        level: dict[str, Any] = {"kind": "fall", "parent": here, "crossfall_pct": None if i == 0 else float(rng.uniform(-8, 8))}
        if rng.random() < 0.15:
            level = {"kind": "rise", "parent": here, "rise": float(rng.uniform(-0.2, 0.2))}
        points.append(
            {"name": name, "offset": {"kind": "width", "parent": here, "width": float(rng.uniform(0.4, 4))}, "level": level}
        )
        key = f"m{i}"
        make_ups[key] = _make_up(rng, key, inner_kerb=has_kerb[i], outer_kerb=has_kerb[i + 1])
        over = "lane-overlay" if i == 0 else None
        strips.append({"name": f"S{i}", "kind": "lane", "from_point": here, "to_point": name, "new": key, "over_existing": over})
        here = name
    floors = []
    if rng.random() < 0.6:
        zones = [
            {"to": {"point": f"P{i}"}, "depth_mm": float(rng.uniform(900, 1600)), "joins": str(rng.choice(["cross", "step"])),
             "lie": {"kind": str(rng.choice(["parallel", "level"]))}}
            for i in range(count)
        ]  # fmt: skip
        end = {"kind": str(rng.choice(["wall", "rise"]))}
        floors.append({"name": "Subgrade", "zones": zones, "end": end})
    half = {"points": points, "strips": strips, "kerbs": kerbs, "floors": floors, "ladder": _ladder(rng)}
    return TemplateSpec.model_validate({"name": "Random", "right": half}), Parts(make_ups, starter.KERBS)
