"""Every figure of every project's bill as text, to hold one database against another: before and after an upgrade or a restore."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from config.errors import Refused
from design.specs import read_specs
from projects.models import Project
from road.inputs import roads_of
from road.model import road_model
from saddle.documents import MAIN
from saddle.errors import SaddleError
from saddle.quantities.takeoff import take_off


class Command(BaseCommand):
    help = "Print all quantities of all projects to the last digit, as JSON."
    requires_system_checks = ()

    def handle(self, **_: Any) -> None:
        found = {}
        for project in Project.objects.order_by("id"):
            for key, road in roads_of(read_specs(project).specs).items():
                name = f"{project.pk} {project.name}" + ("" if key == MAIN else f", {road.name}")
                try:
                    found[name] = take_off(road_model(project, key)[0]).model_dump(mode="json")
                except Refused as refused:
                    found[name] = {"missing": refused.body.message}
                except SaddleError as error:
                    found[name] = {"error": error.message}
        self.stdout.write(json.dumps(found, indent=1, sort_keys=True))
