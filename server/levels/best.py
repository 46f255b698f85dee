"""Best levels as a job."""

from config.memory import variants_run
from jobs.models import Job
from jobs.run import Report, handles
from levels.bodies import BestIn, BestOut, BindingOut, ConflictOut
from road.model import road_model
from saddle.documents import MAIN
from saddle.overlay.best_levels import Conflict
from saddle.overlay.level_needs import Limits
from saddle.quantities.adopted import judge
from saddle.road.levels import best_on


@handles("best_levels", BestOut, minutes=30)
def best_levels(job: Job, report: Report) -> BestOut:
    """Best levels over a range; the result is a BestOut, nothing is written. Limits in conflict are a result too."""
    asked = BestIn.model_validate({k: v for k, v in job.params.items() if k != "road"})
    report(0.05)
    model, _ = road_model(job.project, job.params.get("road", MAIN))
    report(0.3)
    free = (
        (asked.crossfall_low, asked.crossfall_high)
        if asked.crossfall_low is not None and asked.crossfall_high is not None
        else None
    )
    limits = Limits(model.inputs.standards.vertical.grade_change.at(asked.speed_kmh), free, asked.crossfall_rate)
    try:
        found = best_on(model, asked.from_chainage, asked.to_chainage, limits, fix_ends=asked.fix_ends, keep_lips=asked.keep_lips)
    except Conflict as conflict:
        places = [ConflictOut(chainage=c, what=what, by_mm=mm) for c, what, mm in conflict.places[:50]]
        return BestOut(
            chainage=[],
            level=[],
            left_pct=[],
            right_pct=[],
            free=False,
            saved_m3=0,
            saved_tonnes=0,
            unknown_length=0,
            off_m3=0,
            binding=[],
            conflicts=places,
        )
    report(0.7)
    judged = judge(model, found, variants_run(), crossfalls=free is not None)
    report(0.95)
    c = found.chainage.tolist()
    return BestOut(
        chainage=c, level=found.best.level.tolist(), left_pct=found.best.pct[:, 0].tolist(), right_pct=found.best.pct[:, 1].tolist(),
        free=free is not None, saved_m3=judged.volume, saved_tonnes=judged.mass, unknown_length=judged.unknown_length, off_m3=found.best.off,
        binding=[BindingOut(kind=kind, chainages=[c[i] for i in rows]) for kind, rows in found.best.binding.items() if rows], conflicts=[],
    )  # fmt: skip
