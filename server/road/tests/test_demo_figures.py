"""The quantities of the three demo roads are those of docs/guide/examples, to the last printed digit: what a change does to figures is
read in its difference. Where figures are meant to change, `TIN_SADDLE_FIGURES=write` writes the files anew, and the changelog says why."""

import os
from collections.abc import Callable

from django.conf import settings
from django.test import TestCase

from demo.load import load_demo, load_divided_road, load_hill_road
from design.specs import read_specs
from projects.models import Project
from road.inputs import roads_of
from road.model import road_model
from saddle.exchange.tables import quantities_csv
from saddle.quantities.takeoff import take_off

FOLDER = settings.ROOT / "docs" / "guide" / "examples"


class Figures(TestCase):
    def check(self, load: Callable[[], Project]) -> None:
        project = load()
        for key in roads_of(read_specs(project, "road").specs):
            text = quantities_csv(take_off(road_model(project, key)[0]))
            path = FOLDER / f"{project.name.lower().replace(' ', '-')}_{key}.csv"
            if os.environ.get("TIN_SADDLE_FIGURES") == "write":
                FOLDER.mkdir(exist_ok=True)
                path.write_text(text, newline="")
            self.assertEqual(text.splitlines(), path.read_text().splitlines(), f"{path.name} is no longer what the road gives")

    def test_fennick_vale(self) -> None:
        self.check(load_demo)

    def test_tarrow_hill(self) -> None:
        self.check(load_hill_road)

    def test_larkmoor(self) -> None:
        self.check(load_divided_road)
