"""Long work that follows from a state of the project and changes nothing: volumes by other methods, depth between surfaces. A new
kind is a handler here and its name in output.work."""

from ninja import Schema

from config.memory import run
from jobs.models import Job
from jobs.run import Report, handles
from road.bodies import DepthMapOut, depth_map_out
from road.model import depth_bands_of, road_model
from saddle.documents import MAIN
from saddle.pipeline import solve
from saddle.quantities.check import VolumeCheck, check_volumes
from saddle.quantities.overlay_check import OverlayCheck, overlay_check


class VolumeReport(Schema):
    """Volumes by other methods, and the overlay's between sections and between triangulated surfaces."""

    check: VolumeCheck
    overlay: OverlayCheck


@handles("volume_check", VolumeReport, minutes=20)
def volume_check(job: Job, report: Report) -> VolumeReport:
    """Every volume by other methods, and whether all adds up."""
    model, _ = road_model(job.project, job.params.get("road", MAIN))
    report(0.2)
    halved = solve(model.inputs, run(), middles=True)
    found = check_volumes(model, halved)
    report(0.5)
    return VolumeReport(check=found, overlay=overlay_check(model))


@handles("depth_surfaces", DepthMapOut, minutes=10, quick=True)
def depth_surfaces(job: Job, report: Report) -> DepthMapOut:
    """The overlay's depth between the triangles of the survey and of the design."""
    bands, area = depth_bands_of(job.project, job.params.get("road", MAIN), "surfaces")
    report(0.9)
    return depth_map_out(bands, area)
