"""Published figures that projects begin with. All are quoted from memory; check them against the paper.

A new set is one more entry of VERTICAL or SUPERELEVATION.
"""

import itertools
from collections.abc import Mapping
from typing import Literal

from saddle.standards.curves import FRICTION
from saddle.standards.spec import Figure, SpeedTable, Standards, SuperelevationStandard, VerticalStandard


def table(source: str, figures: Mapping[int, float] | Mapping[float, float]) -> SpeedTable:
    """A table from speed -> figure."""
    return SpeedTable(source=source, rows=[Figure(speed_kmh=v, value=x) for v, x in figures.items()])


def _steps(source: str, figures: Mapping[int, float] | Mapping[float, float]) -> SpeedTable:
    """Figures that hold from their speed up to the next one."""
    known = {float(s): x for s, x in figures.items()}
    held = {s - 0.001: known[before] for before, s in itertools.pairwise(known)}
    return table(source, dict(sorted({**held, **known, 140.0: list(known.values())[-1]}.items())))


def _stepped(source: str, below: float, limit: float, above: float) -> SpeedTable:
    return _steps(source, {20: below, limit: above})


SetName = Literal["austroads", "aashto", "texas", "uk"]
GREEN_BOOK = "AASHTO, A Policy on Geometric Design of Highways and Streets, 2011"
GUIDE = "Austroads, Guide to Road Design Part 3"
CD109 = "CD 109 Highway link design"
#: Stopping sight distance of AGRD3 with a reaction of 2.5 s (2 s at 40 km/h), m.
_STOPPING = {40: 40, 50: 62, 60: 81, 70: 102, 80: 126, 90: 151, 100: 179, 110: 209, 120: 241, 130: 275}
#: 200 (sqrt 1.10 + sqrt 0.20)2 and V2 / (1296 x 0.49): crest for sight, sag for comfort.
_CREST, _COMFORT = 447.62, 1296 * 0.49
GRADE_CHANGE = table(
    f"{GUIDE}, table of grade change that needs no vertical curve; 0.5 % at 90 km/h is common practice too",
    {40: 1.0, 50: 0.9, 60: 0.8, 70: 0.7, 80: 0.6, 90: 0.5, 100: 0.4, 110: 0.3, 120: 0.2},
)

_KMH = 1.609344
FLORIDA = table(
    "Florida DOT design manual, greatest change of grade without a vertical curve, 30 to 70 mph",
    {round(v * _KMH, 2): x for v, x in {30: 1.0, 35: 0.9, 40: 0.8, 45: 0.7, 50: 0.6, 55: 0.5, 60: 0.4, 65: 0.3, 70: 0.2}.items()},
)
TEXAS = _stepped(
    "Texas DOT Roadway Design Manual, vertical curves: 1.0 % up to 45 mph, 0.5 % above", 1.0, round(45 * _KMH, 2) + 0.01, 0.5
)

VERTICAL: dict[str, VerticalStandard] = {
    "austroads": VerticalStandard(
        name="Austroads",
        stopping=table(f"{GUIDE}, 2016, table 5.5, reaction 2.5 s (2 s at 40 km/h), d = 0.36", _STOPPING),
        crest_k=table(
            f"{GUIDE}: S2 / 447.6 of the stopping distances, computed", {v: round(s * s / _CREST, 1) for v, s in _STOPPING.items()}
        ),
        sag_k=table(
            f"{GUIDE}: comfort, 0.05 g, computed as V2 / 635", {v: round(v * v / _COMFORT, 1) for v in _STOPPING}
        ),
        most_grade=table("common practice in rolling country, no source", {40: 10, 60: 8, 80: 6, 100: 5, 120: 4}),
        grade_change=GRADE_CHANGE,
        eye=1.10,
        thing=0.20,
    ),
    "aashto": VerticalStandard(
        name="AASHTO",
        stopping=table(
            f"{GREEN_BOOK}, table 3-1",
            {20: 20, 30: 35, 40: 50, 50: 65, 60: 85, 70: 105, 80: 130, 90: 160, 100: 185, 110: 220, 120: 250, 130: 285},
        ),
        crest_k=table(
            f"{GREEN_BOOK}, table 3-34",
            {20: 1, 30: 2, 40: 4, 50: 7, 60: 11, 70: 17, 80: 26, 90: 39, 100: 52, 110: 74, 120: 95, 130: 124},
        ),
        sag_k=table(
            f"{GREEN_BOOK}, table 3-36",
            {20: 3, 30: 6, 40: 9, 50: 13, 60: 18, 70: 23, 80: 30, 90: 38, 100: 45, 110: 55, 120: 63, 130: 73},
        ),
        most_grade=table(f"{GREEN_BOOK}, rural arterials in rolling terrain", {60: 6, 70: 6, 80: 5, 90: 5, 100: 4, 130: 4}),
        grade_change=FLORIDA,
        eye=1.08,
        thing=0.60,
        deceleration=3.4 / 9.81,
    ),
    "uk": VerticalStandard(
        name="CD 109",
        stopping=table(f"{CD109}, table 2.10, desirable minimum", {50: 70, 60: 90, 70: 120, 85: 160, 100: 215, 120: 295}),
        crest_k=table(f"{CD109}, table 2.10, desirable minimum", {50: 10, 60: 17, 70: 30, 85: 55, 100: 100, 120: 182}),
        sag_k=table(f"{CD109}, table 2.10, absolute minimum", {50: 9, 60: 13, 70: 20, 85: 20, 100: 26, 120: 37}),
        most_grade=table(f"{CD109}, desirable maximum of single carriageways", {50: 6, 120: 6}),
        grade_change=GRADE_CHANGE,
        eye=1.05,
        thing=0.26,
        reaction=2.0,
        deceleration=0.25,
    ),
}  # fmt: skip

VERTICAL["texas"] = VERTICAL["aashto"].changed(name="AASHTO, Texas changes of grade", grade_change=TEXAS.model_dump())

_AASHTO_GRADIENT = {20: 0.80, 30: 0.75, 40: 0.70, 50: 0.65, 60: 0.60, 70: 0.55, 80: 0.50, 90: 0.47, 100: 0.44, 110: 0.41, 120: 0.38, 130: 0.35}  # fmt: skip
_GREEN_FRICTION = table(f"{GREEN_BOOK}, table 3-7", FRICTION)
_SHARE = _stepped(f"{GREEN_BOOK}, table 3-18, one lane that turns", 0.80, 80, 0.70)
_HALF = "half before the curve: common practice, no source"

SUPERELEVATION: dict[str, SuperelevationStandard] = {
    "aashto": SuperelevationStandard(
        name="AASHTO, shared by curvature",
        most_pct=6,
        friction=_GREEN_FRICTION,
        relative_grade=[table(f"{GREEN_BOOK}, table 3-15", _AASHTO_GRADIENT)],
        lane_factor=True,
        share_before=_SHARE,
    ),
    "austroads": SuperelevationStandard(
        name="Austroads",
        most_pct=6,
        friction=table(
            f"{GUIDE}, 2016, table 7.5, absolute maximum of cars",
            {50: 0.35, 60: 0.33, 70: 0.31, 80: 0.26, 90: 0.20, 100: 0.16, 110: 0.12, 120: 0.11, 130: 0.11},
        ),
        relative_grade=[
            table(f"{GUIDE}, relative grade, one lane", {40: 0.9, 60: 0.6, 80: 0.5, 100: 0.4, 120: 0.4}),
            table(f"{GUIDE}, relative grade, two lanes", {40: 1.3, 60: 1.0, 80: 0.8, 100: 0.7, 120: 0.6}),
            table(f"{GUIDE}, relative grade, more lanes", {40: 1.7, 60: 1.3, 80: 1.0, 100: 0.9, 120: 0.8}),
        ],
        rotation_rate=_stepped(f"{GUIDE}, rate of rotation", 2.5, 80, 2.0),
        share_before=table(_HALF, {20: 0.5, 140: 0.5}),
    ),
    "uk": SuperelevationStandard(
        name="CD 109",
        divisor=2.828,
        most_pct=7,
        friction=_GREEN_FRICTION,
        relative_grade=[table(f"{CD109}, edges against the axis on all-purpose roads", {20: 1.0, 140: 1.0})],
        share_before=table(_HALF, {20: 0.5, 140: 0.5}),
    ),
    "ras": SuperelevationStandard(
        name="RAS-L, lengths",
        most_pct=7,
        friction=_GREEN_FRICTION,
        relative_grade=[
            _steps(
                "RAS-L 1995, greatest relative grade for every metre from the axis, up to 4 m",
                {20: 0.50, 60: 0.40, 80: 0.25, 100: 0.225},
            )
        ],
        grade_per_metre_up_to=4.0,
        flat_grade_per_metre=0.10,
        share_before=table(_HALF, {20: 0.5, 140: 0.5}),
    ),
    "irc": SuperelevationStandard(
        name="IRC 38",
        divisor=2.25,
        most_pct=7,
        friction=table("IRC:38-1988", {20: 0.15, 140: 0.15}),
        relative_grade=[table("IRC:38-1988, 1 in 150 in plain and rolling terrain", {20: 0.667, 140: 0.667})],
        share_before=_SHARE,
    ),
}

#: What a project may begin with; each part can be changed for another one later.
SETS: dict[SetName, Standards] = {
    "austroads": Standards(vertical=VERTICAL["austroads"], superelevation=SUPERELEVATION["austroads"]),
    "aashto": Standards(vertical=VERTICAL["aashto"], superelevation=SUPERELEVATION["aashto"]),
    "texas": Standards(vertical=VERTICAL["texas"], superelevation=SUPERELEVATION["aashto"]),
    "uk": Standards(vertical=VERTICAL["uk"], superelevation=SUPERELEVATION["uk"]),
}
STARTING = Standards(vertical=VERTICAL["austroads"], superelevation=SUPERELEVATION["aashto"])
