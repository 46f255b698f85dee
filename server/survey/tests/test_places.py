"""Files in degrees and in other systems, through the API: asked about, converted, and the project keeps its system."""

from projects.models import Project
from survey.store import in_use, survey_of
from survey.tests.test_formats import FormatCase

#: A short piece of a road near 13.8 degrees east: about 7.5 m and 11 m apart.
DEGREES = "".join(f"{k},{13.8266 + k % 5 * 1e-4:.6f},{47.7213 + k // 5 * 1e-4:.6f},{500 + k % 3}\n" for k in range(20)).encode()
MAPPING = {"header": False, "number": 0, "east": 1, "north": 2, "level": 3}


class Places(FormatCase):
    def setUp(self) -> None:
        super().setUp()
        made = self.client.post("/api/projects", {"name": "Somewhere"}, content_type="application/json").json()
        self.project = Project.objects.get(pk=made["id"])

    def test_degrees_are_asked_about_and_converted_into_a_chosen_grid(self) -> None:
        """Taken for metres they are one point, of which no surface can be made; it is asked all the same."""
        checked = self.run_job("check", "gnss.csv", DEGREES, mapping=MAPPING).result
        assert checked is not None
        self.assertIn("degrees", [d["kind"] for d in checked["placing"]["doubts"]])
        said = {"mapping": MAPPING, "system": "EPSG:4326", "into": "EPSG:25833"}
        report = self.run_job("check", "gnss.csv", DEGREES, **said).result
        assert report is not None
        self.assertEqual((report["system"], report["grid"]), ("WGS 84 (EPSG:4326)", "ETRS89 / UTM zone 33N (EPSG:25833)"))
        self.assertTrue(report["degrees"] and not report["gridded"])
        job = self.run_job("import", "gnss.csv", DEGREES, **said, sure=["northing first"])
        self.assertEqual(job.state, "done", job.error)
        self.assertEqual(in_use(self.project).system, "EPSG:25833")
        survey = survey_of(self.project)
        assert survey is not None
        self.assertTrue((abs(survey.xyz[:, 0] - 412_000) < 100).all() and (abs(survey.xyz[:, 1] - 5_286_000) < 100).all())
        # What comes next comes into the same grid, whatever is asked for.
        again = self.run_job("check", "gnss.csv", DEGREES, **(said | {"into": "EPSG:32632"})).result
        assert again is not None
        self.assertEqual((again["grid"], again["gridded"]), ("ETRS89 / UTM zone 33N (EPSG:25833)", True))

    def test_systems_are_offered_and_what_is_none_is_refused(self) -> None:
        found = self.ask("GET", "/survey/systems?words=etrs89 utm 33n").json()
        self.assertIn({"code": "EPSG:25833", "name": "ETRS89 / UTM zone 33N"}, found)
        job = self.run_job("check", "gnss.csv", DEGREES, mapping=MAPPING, system="EPSG:999999")
        assert job.error is not None
        self.assertIn("EPSG:999999 is not known", job.error["message"])
