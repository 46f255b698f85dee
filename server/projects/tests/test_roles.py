"""Who may do what, for every endpoint of the API, from one table."""

import re
from typing import Any, ClassVar

from django.core.files.uploadedfile import SimpleUploadedFile

from design.models import Document, EditRecord
from front.api import api
from jobs.models import Job
from projects.models import Role
from projects.tests.cases import DemoCase
from saddle.exchange import starting
from saddle.exchange.bundle import bundle_of, write_bundle
from saddle.template import starter
from survey.models import Survey, Upload

MAPPING = {"delimiter": ",", "header": True, "number": 0, "east": 1, "north": 2, "level": 3}
ALIGNMENT = {"start_east": 0, "start_north": 0, "start_bearing_deg": 0, "elements": [{"kind": "straight", "length": 50}]}
LEAVE = {"kind": "leave"}
MATERIAL = {"name": "Sand", "density": 1.7, "colour": "#EEDDAA", "pattern": "dotted"}
PREVIEWED = {"kind": "material", "key": "sand", "spec": MATERIAL, "version": 0}
#: (method, path, body): whether it changes the project, and the status a person with the right gets.
TEMPLATE = starter.TEMPLATES["rural"].model_dump(mode="json")
BUNDLE = write_bundle(bundle_of(starting.LIBRARY, [("template", "rural")]))
ENDPOINTS: dict[tuple[str, str], tuple[Any, bool, int]] = {
    ("GET", "/api/projects/{project_id}"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/since-release"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/since-release"): (None, True, 204),
    ("GET", "/api/projects/{project_id}/documents"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/roads"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/roads/quantities"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/roads"): ({"name": "Second road", "alignment": "main"}, True, 200),
    ("DELETE", "/api/projects/{project_id}/roads/{key}"): (None, True, 404),
    ("PUT", "/api/projects/{project_id}/documents/{kind}/{key}"): ({"kind": "material", "spec": MATERIAL, "version": 0}, True, 200),
    ("DELETE", "/api/projects/{project_id}/documents/{kind}/{key}"): (None, True, 409),
    ("GET", "/api/projects/{project_id}/model/starting-work"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/treatments"): (
        {"version": 2, "from_chainage": 0, "to_chainage": 10, "work": LEAVE}, True, 200,
    ),
    ("POST", "/api/projects/{project_id}/template-ranges"): (
        {"version": 2, "from_chainage": 0, "to_chainage": 10, "template": None}, True, 200,
    ),
    ("POST", "/api/projects/{project_id}/undo"): (None, True, 400),
    ("POST", "/api/projects/{project_id}/redo"): (None, True, 400),
    ("GET", "/api/projects/{project_id}/history"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/pulse"): (
        {"tab": "6a1ff3d8-0e0f-4f2a-9b1e-4a4f3a3f0a11", "stop": "overlay"}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/uploads"): ("file", True, 200),
    ("GET", "/api/projects/{project_id}/uploads/{upload_id}"): (None, True, 404),
    ("POST", "/api/projects/{project_id}/uploads/{upload_id}/codes"): (MAPPING, True, 404),
    ("POST", "/api/projects/{project_id}/uploads/{upload_id}/check"): ({"mapping": MAPPING}, True, 404),
    ("POST", "/api/projects/{project_id}/uploads/{upload_id}/import"): ({"mapping": MAPPING}, True, 404),
    ("GET", "/api/projects/{project_id}/survey"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/surveys"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/surveys/changes"): (None, False, 404),
    ("GET", "/api/projects/{project_id}/survey/surfaces"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/systems"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/structures"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/survey/compare"): ({"first": "main", "second": "main"}, True, 200),
    ("GET", "/api/projects/{project_id}/files/survey.csv"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/survey-original"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/alignment/look"): (ALIGNMENT, False, 200),
    ("POST", "/api/projects/{project_id}/alignment/from-ips"): (
        {"alignment": ALIGNMENT, "points": [{"east": 0, "north": 0}, {"east": 0, "north": 50}]}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/alignment/reversed"): (ALIGNMENT, False, 200),
    ("POST", "/api/projects/{project_id}/alignment/shape"): (
        {"lines": [["CL", "CL0"]], "from_chainage": 250, "to_chainage": 400}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/alignment/part"): (
        {"alignment": ALIGNMENT, "from_chainage": 1, "to_chainage": 2, "name": "Part"}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/alignment/start"): ({"start_chainage": 5, "version": 99}, True, 409),
    ("POST", "/api/projects/{project_id}/alignment/fit"): ({"lines": [["CL", "CL0"]]}, True, 200),
    ("POST", "/api/projects/{project_id}/construct"): ({"how": {"by": "chainage", "chainage": 5, "offset": 1}}, False, 200),
    ("POST", "/api/projects/{project_id}/guides/ready-made"): (
        {"what": {"kind": "lay_by", "name": "L", "base_offset": 3, "from_chainage": 10}}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/guides"): (
        {"key": "beside", "guide": {"name": "Beside", "source": {"by": "line", "code": "EDGE"}}, "built": True}, True, 200,
    ),
    ("GET", "/api/projects/{project_id}/guides/diagram"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/guides/followed"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/lines"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/line"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/lines"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/lines/{key}/parts/{part}"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/lines/{key}/file"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/lines/angle"): ({"first": [412300, 286540], "last": [412301, 286538]}, False, 200),
    ("POST", "/api/projects/{project_id}/lines/square"): ({"at": [412310, 286545]}, False, 200),
    ("POST", "/api/projects/{project_id}/lines/read"): ("file", False, 200),
    ("GET", "/api/projects/{project_id}/survey/points"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/background"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/edges"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/contours"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/survey/find"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/model"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/model/sections/{index}"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/model/preview/sections"): ({"documents": [PREVIEWED], "sections": [0]}, False, 200),
    ("POST", "/api/projects/{project_id}/model/preview/along"): ({"documents": [PREVIEWED]}, False, 200),
    ("GET", "/api/projects/{project_id}/model/points"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/model/between"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/model/plan"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/model/depth-map"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/model/long-section"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/model/quantities"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/overlay.csv"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/overlay.xlsx"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/demo-road"): (None, True, 409),
    ("GET", "/api/projects/{project_id}/files/problems.xlsx"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/quantities.csv"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/quantities.xlsx"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/roads.csv"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/roads.xlsx"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/jobs/{kind}"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/reports/{key}"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/files/reports/{key}.{ending}"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/issues"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/issues"): (
        {"drawings": ["long"], "status": "comment", "reason": "x", "accepted": "known"}, True, 200,
    ),
    ("GET", "/api/projects/{project_id}/issues/{issue_id}"): (None, False, 404),
    ("GET", "/api/projects/{project_id}/issues/{issue_id}/files/{number}"): (None, False, 404),
    ("POST", "/api/projects/{project_id}/issues/{issue_id}/compare"): ({"after": 0}, False, 404),
    ("POST", "/api/projects/{project_id}/issues/{issue_id}/package"): (None, False, 404),
    ("GET", "/api/projects/{project_id}/crossfalls"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/crossfalls/apply"): (
        {"operation": {"kind": "straight"}, "from_chainage": 0, "to_chainage": 10, "table": {"rows": []}}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/crossfalls/superelevation"): ({"kind": "superelevate"}, False, 200),
    ("POST", "/api/projects/{project_id}/levels/apply"): (
        {"operation": {"kind": "design"}, "from_chainage": 500, "to_chainage": 600, "table": {"rows": []}}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/profiles/try"): (
        {"spec": {"points": [{"chainage": 0, "level": 80}, {"chainage": 100, "level": 81}]}}, False, 200,
    ),
    ("GET", "/api/projects/{project_id}/standards/published"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/drives"): (
        {"rows": [{"chainage": 620, "side": "right", "width": 4, "kind": "drive"}]}, True, 200,
    ),
    ("POST", "/api/projects/{project_id}/side-roads"): (
        {"name": "Mill Lane", "side": "left", "from_chainage": 540, "to_chainage": 550}, True, 200,
    ),
    ("POST", "/api/projects/{project_id}/roads/of-mouth"): (
        {"name": "Mill Lane", "side": "left", "from_chainage": 540, "to_chainage": 546}, True, 200,
    ),
    ("POST", "/api/projects/{project_id}/changes"): (
        {"title": "x", "documents": [{"kind": "material", "key": "together", "spec": MATERIAL, "version": 0}]}, True, 200,
    ),
    ("POST", "/api/projects/{project_id}/crossfalls/read"): ("file", False, 200),
    ("GET", "/api/projects/{project_id}/files/crossfalls.csv"): (None, False, 200),
    ("GET", "/api/projects/{project_id}/levels"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/variants/compare"): (
        {"plan": {"variants": []}, "from_chainage": 500, "to_chainage": 600}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/variants/treatments"): (
        {"variant": {"name": "Thin"}, "from_chainage": 500, "to_chainage": 600}, False, 200,
    ),
    ("POST", "/api/projects/{project_id}/levels/best"): ({"from_chainage": 500, "to_chainage": 600}, True, 200),
    ("GET", "/api/projects/{project_id}/files/levels.xlsx"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/levels/read"): ("file", True, 400),
    ("POST", "/api/projects/{project_id}/bench"): ({"template": TEMPLATE, "trial": {}}, False, 200),
    ("GET", "/api/projects/{project_id}/bundle"): (None, False, 200),
    ("POST", "/api/projects/{project_id}/bundle/check"): ({"text": BUNDLE}, False, 200),
    ("POST", "/api/projects/{project_id}/bundle"): ({"text": BUNDLE}, True, 200),
    ("GET", "/api/jobs/{job_id}"): (None, False, 200),
    ("GET", "/api/jobs/{job_id}/files/{number}"): (None, False, 404),
    ("POST", "/api/jobs/{job_id}/cancel"): (None, True, 200),
}  # fmt: skip
#: Endpoints that belong to no project.
OPEN = {
    ("GET", "/api/session"),
    ("POST", "/api/session"),
    ("DELETE", "/api/session"),
    ("POST", "/api/session/password"),
    ("POST", "/api/session/reset"),
    ("POST", "/api/session/reset/confirm"),
    ("POST", "/api/session/second-factor"),
    ("POST", "/api/session/second-factor/confirm"),
    ("POST", "/api/session/second-factor/off"),
    ("GET", "/api/session/open"),
    ("DELETE", "/api/session/open/{session_id}"),
    ("GET", "/api/projects"),
    ("POST", "/api/projects"),
    ("GET", "/api/library"),
    ("GET", "/api/library/bundle"),
    ("POST", "/api/library"),
    ("POST", "/api/library/check"),
    ("PUT", "/api/library/favourites/{kind}/{key}"),
    ("DELETE", "/api/library/{kind}/{key}"),
    ("GET", "/api/library/{kind}/{key}/versions"),
    ("POST", "/api/library/{kind}/{key}/versions/{number}"),
}
BOX = "?west=412000&south=286000&east=414000&north=288000"


class EveryEndpoint(DemoCase):
    job: ClassVar[Job]

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        cls.job = Job.objects.create(project=cls.project, kind="check_survey", state=Job.State.WAITING)

    def call(self, method: str, path: str, body: Any) -> int:
        numbers = {
            "project_id": self.project.pk,
            "upload_id": 999_999,
            "issue_id": 999_999,
            "index": 5,
            "number": 1,
            "key": "sand",
            "kind": "material",
        }
        if path.endswith("/jobs/{kind}"):
            numbers["kind"] = "volume_check"
        if "/reports/" in path:
            numbers |= {"key": "layers", "ending": "csv"}
        if "/lines/{key}" in path:
            numbers |= {"key": "drainage", "part": 0}
        url = re.sub(r"\{(\w+)\}", lambda m: str({**numbers, "job_id": self.job.pk}[m[1]]), path)
        if path.endswith(("survey/points", "survey/edges", "survey/background", "survey/contours")):
            url += BOX
        if path.endswith("/survey/find"):
            url += "?number=1"
        if path.endswith("/survey/line"):
            url += "?code=none&name=1"
        if path.endswith("/uploads/{upload_id}"):
            url += "?delimiter=;"
        if path.endswith("/surveys/changes"):
            url += "?first=999999&second=999998"
        if path.endswith("/starting-work"):
            url += "?from_chainage=0&to_chainage=100"
        if path.endswith("/between"):
            url += "?from_side=hinge&from_name=hinge&to_side=old&to_name=left%20edge"
        if method == "DELETE":
            url += "?version=5"
        if body == "file":
            return int(self.client.post(url, {"file": SimpleUploadedFile("s.csv", b"number,x,y,z\n1,0,0,0\n")}).status_code)
        return int(self.ask(method, url, body).status_code)

    def test_the_table_is_complete(self) -> None:
        schema = api.get_openapi_schema(path_prefix="/api/")
        there = {(method.upper(), path.rstrip("/")) for path, methods in schema["paths"].items() for method in methods}
        self.assertEqual(there, set(ENDPOINTS) | OPEN)

    def test_every_role_on_every_endpoint(self) -> None:
        for (method, path), (body, changes, status) in ENDPOINTS.items():
            for name in ("owner", "designer", "checker", "viewer", "stranger", None):
                self.client.logout()
                if name:
                    self.sign_in(name)
                expected = status
                if name is None:
                    expected = 401
                elif name == "stranger":
                    expected = 404
                elif changes and name in ("checker", "viewer"):
                    expected = 403
                with self.subTest(path=path, method=method, who=name):
                    found = self.call(method, path, body)
                    if changes and expected in (200, 400):
                        self.assertIn(found, (200, 400, 409))  # the owner may have done it just before
                    else:
                        self.assertEqual(found, expected)

    def test_a_viewer_changes_nothing_at_all(self) -> None:
        def everything() -> list[Any]:
            rows = [list(m.objects.order_by("pk").values_list()) for m in (Document, EditRecord, Upload, Survey)]
            # What follows from the project may be computed for anybody who may look; it changes nothing of it.
            return [*rows, list(Job.objects.filter(key="").values_list("id", "state", "cancel_requested"))]

        before = everything()
        self.sign_in("viewer")
        for (method, path), (body, _, _) in ENDPOINTS.items():
            self.call(method, path, body)
        self.assertEqual(everything(), before)

    def test_lists_show_only_ones_own(self) -> None:
        self.sign_in("stranger")
        self.assertEqual(self.ask("GET", "/api/projects").json(), [])
        made = self.ask("POST", "/api/projects", {"name": "Mine"}).json()
        self.assertEqual(made["role"], Role.OWNER)
        self.assertEqual([p["id"] for p in self.ask("GET", "/api/projects").json()], [made["id"]])


class Signing(DemoCase):
    def test_in_and_out(self) -> None:
        self.assertIsNone(self.ask("GET", "/api/session").json()["name"])
        wrong = self.ask("POST", "/api/session", {"name": "designer", "password": "no"})
        self.assertEqual(wrong.status_code, 401)
        self.assertIn("wrong", wrong.json()["message"])
        right = self.ask("POST", "/api/session", {"name": "designer", "password": "designer"})
        self.assertEqual(right.json()["full_name"], "Dana Noll")
        self.assertEqual(self.ask("GET", "").json()["role"], Role.DESIGNER)
        self.ask("DELETE", "/api/session")
        self.assertEqual(self.ask("GET", "").status_code, 401)

    def test_demo_names_are_shown_in_demo_mode_only(self) -> None:
        self.assertEqual(self.ask("GET", "/api/session").json()["demo_names"], [])
        with self.settings(DEMO=True):
            self.assertEqual(self.ask("GET", "/api/session").json()["demo_names"], ["designer", "checker", "viewer"])

    def test_changes_need_the_csrf_token(self) -> None:
        from django.test import Client

        strict = Client(enforce_csrf_checks=True)
        answer = strict.post("/api/session", {"name": "designer", "password": "designer"}, content_type="application/json")
        self.assertEqual(answer.status_code, 403)
