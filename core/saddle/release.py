"""This release, and the rules that releases changed: a figure that is another one after an upgrade is told with the rule behind it."""

from dataclasses import dataclass

#: As the changelog heads it.
RELEASE = "0.26"


@dataclass(frozen=True, slots=True)
class RuleChange:
    """release: the first one that reckons so; words: as the changelog says it, to its first full stop or colon; units: of the figures
    that it may have changed."""

    release: str
    words: str
    units: tuple[str, ...]


VOLUMES = ("m3", "t")
#: Newest first. What changes a figure is written here and in the changelog at once.
RULES = (
    RuleChange("0.25", "Where nothing is overlaid and the ground at the hinge has a step, the higher ground counts", VOLUMES),
    RuleChange("0.25", "A profile about an edge that is the hinge itself gives its own level, and no longer none", VOLUMES),
    RuleChange(
        "0.24", "Where one segment of a line ends without a level and the next begins with one, the level there is known", VOLUMES
    ),
    RuleChange("0.24", "On the side slope beyond its template a road gives no level to others that follow it", VOLUMES),
    RuleChange("0.22", "Kerb to kerb over a side without width has no crossfall, and no longer an endless one", VOLUMES),
    RuleChange("0.20", "A half without width (hinge and edge on one line) asks for no level", VOLUMES),
    RuleChange(
        "0.20",
        "Rows of level and crossfall tables, of dimensions along the road and ends of transitions are sections where something takes its values from them",
        (*VOLUMES, "m", "m2"),
    ),
    RuleChange("0.20", "Lengths of kerbs over what is not known are not known, and no longer nothing", ("m", "m not known")),
    RuleChange("0.20", "Square metres of every course are measured", ("m2",)),
    RuleChange("0.20", "Bills add up as they are printed", (*VOLUMES, "m", "m2", "m not known")),
)


def order_of(release: str) -> tuple[int, ...]:
    """Releases in order: 0.6 comes before 0.12."""
    return tuple(int(part) for part in release.split("."))


def rules_since(release: str, unit: str) -> list[str]:
    """Words of the rules that came after a release and may have changed figures of a unit, newest first."""
    return [r.words for r in RULES if order_of(r.release) > order_of(release) and unit in r.units]
