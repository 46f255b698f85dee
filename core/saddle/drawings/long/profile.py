"""What is written of a profile on a long section: grades, and at each IP its level, K and length."""

import itertools
from collections.abc import Callable

from saddle.alignment.profile import ProfileSpec
from saddle.drawings.display import INK, THIN, TIN, Item, Polyline
from saddle.drawings.figures import level_text
from saddle.drawings.placer import Name
from saddle.overlay.spec import ProfileGoverns
from saddle.road.model import RoadModel

#: Half a side of the mark at an IP, mm.
MARK = 0.9


def governing_profiles(model: RoadModel) -> list[ProfileSpec]:
    """The profiles that set levels somewhere."""
    works = (r.work for r in model.inputs.treatments.ranges)
    rules = (getattr(w, "governs", None) for w in works)
    keys = dict.fromkeys(rule.profile for rule in rules if isinstance(rule, ProfileGoverns))
    return [model.inputs.profiles[k] for k in keys if k in model.inputs.profiles]


def profile_names(
    spec: ProfileSpec, low: float, high: float, x_of: Callable[[float], float], y_of: Callable[[float], float],
    reach: tuple[float, float], h: float, items: list[Item],
) -> list[Name]:  # fmt: skip
    """Names of the IPs and grades within a range; the marks of the IPs are drawn. reach: places upward between which there is room, mm."""
    out: list[Name] = []
    p = spec.points
    grades = [100 * (b.level - a.level) / (b.chainage - a.chainage) for a, b in itertools.pairwise(p)]
    for i, ip in enumerate(p):
        x, y = x_of(ip.chainage), y_of(ip.level)
        if not low <= ip.chainage <= high or not reach[0] + MARK <= y <= reach[1] - MARK:
            continue
        corners = ((x - MARK, y - MARK), (x + MARK, y - MARK), (x, y + MARK), (x - MARK, y - MARK))
        items.append(Polyline("marks", corners, THIN, INK, source=f"IP {i + 1}"))
        length = ip.length_in + ip.length_out
        words = f"IP {level_text(ip.level)}"
        if 0 < i < len(p) - 1 and length:
            change = abs(grades[i] - grades[i - 1])
            words += f", L {length:.1f} m" + (f", K {length / change:.1f}" if change > 1e-6 else "")
        out.append(Name(words, (x, y), h, 2.5, INK))
    for i, grade in enumerate(grades):
        a, b = max(low, p[i].chainage), min(high, p[i + 1].chainage)
        if b <= a:
            continue
        middle = (a + b) / 2
        level = p[i].level + grade / 100 * (middle - p[i].chainage)
        out.append(Name(f"{grade:+.3f} %", (x_of(middle), y_of(level)), h, 1.5, TIN, "mono"))
    return out
