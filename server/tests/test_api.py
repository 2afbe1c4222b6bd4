"""Privacy over the list of routes, CSRF, actions with their effect and one history entry, bad input."""

from __future__ import annotations

import re
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase

from core.materials.own import DataSheet
from server.api import api
from server.dossier.models import Report, Signature
from server.library.own import make
from server.projects.models import ClimateFile, Element, HistoryEntry, Option, Project
from server.runs.models import Batch, Run
from server.survey.models import Evidence
from server.tests.helpers import PASSWORD, client_of, corrie, person, send

BUILD_UP = {"layers": [{"id": "a", "material": "brick_old", "thickness_mm": 215}]}
PROJECT = {"name": "Byre", "volume_m3": 300, "floor_area_m2": 100, "air_kind": "n50", "air_value": 8}
ELEMENT = {"name": "Wall", "kind": "wall", "area_m2": 20}
BODIES: dict[tuple[str, str], Any] = {
    ("PUT", "/api/projects/{project_id}"): PROJECT,
    ("POST", "/api/projects/{project_id}/elements"): ELEMENT,
    ("PUT", "/api/elements/{element_id}"): ELEMENT,
    ("POST", "/api/elements/{element_id}/preview"): {"build_up": BUILD_UP},
    ("POST", "/api/elements/{element_id}/options"): {"name": "x", "build_up": BUILD_UP},
    ("PUT", "/api/options/{option_id}"): {"revision": 1, "build_up": BUILD_UP},
    ("PUT", "/api/options/{option_id}/draft"): {"build_up": BUILD_UP},
    ("PUT", "/api/elements/{element_id}/choice"): {"option_id": None, "reason": ""},
    ("GET", "/api/runs/{run_id}/moment"): None,
    ("POST", "/api/elements/{element_id}/batches"): {"kind": "facings", "option_id": 1},
    ("PUT", "/api/projects/{project_id}/limits"): {"limits": [{"key": "mould.room", "value": 2}]},
    ("POST", "/api/projects/{project_id}/constructions"): {"from_element": 1, "to_elements": [1]},
    ("POST", "/api/options/{option_id}/lever"): {"key": "coat"},
    ("POST", "/api/options/{option_id}/outboard"): {"material": "cork_board"},
    ("PUT", "/api/projects/{project_id}/brief"): {"revision": None, "brief": {"aims": "dry and warm"}},
    ("PUT", "/api/projects/{project_id}/shape"): {"revision": None, "shape": {}},
    ("POST", "/api/projects/{project_id}/shape/preview"): {"shape": {}},
    ("PUT", "/api/elements/{element_id}/rain"): {"rain": {}},
    ("PUT", "/api/elements/{element_id}/looked-at"): {"looked_at": True},
    ("PUT", "/api/elements/{element_id}/override"): {"reason": "x", "name": "y"},
    ("PUT", "/api/projects/{project_id}/evidence/{uid}"): {"pin": {"kind": "stain"}},
    ("PUT", "/api/projects/{project_id}/evidence/{uid}/cause"): {"mechanism": "rain"},
    ("PUT", "/api/projects/{project_id}/water/{uid}"): {"elements": [1], "stage": "site", "title": "x"},
    ("POST", "/api/projects/{project_id}/reports"): {"kind": "client"},
    ("POST", "/api/options/{option_id}/spread"): {"elements": [1]},
    ("POST", "/api/projects/{project_id}/schemes"): {"name": "x"},
    ("PUT", "/api/schemes/{scheme_id}"): {"name": "x"},
    ("PUT", "/api/schemes/{scheme_id}/phases"): {"revision": 1, "phases": []},
    ("PUT", "/api/schemes/{scheme_id}/shape"): {"revision": None, "shape": {}},
    ("POST", "/api/schemes/{scheme_id}/shape/preview"): {"shape": {}},
    ("POST", "/api/schemes/{scheme_id}/line"): {"move": {"body": "main", "space": "attic", "inside": True}},
    ("PUT", "/api/schemes/{scheme_id}/line-phase"): {"phase_id": None},
    ("PUT", "/api/projects/{project_id}/air"): {"after": False, "air": {}},
    ("PUT", "/api/projects/{project_id}/rooms"): {"stated": {"rooms": {}}},
    ("POST", "/api/projects/{project_id}/air/take-house-air"): {"after": True},
    ("POST", "/api/projects/{project_id}/air/within"): {"most_rh": 0.5},
    ("POST", "/api/projects/{project_id}/air/try"): {"n50": 3},
    ("PUT", "/api/projects/{project_id}/energy"): {"energy": {}},
    ("POST", "/api/projects/{project_id}/footing"): {"before": {"founding_m": 1}, "after": {"founding_m": 1}},
    ("PUT", "/api/projects/{project_id}/shown-scheme"): {"scheme_id": 1},
    ("PUT", "/api/elements/{element_id}/phase"): {"phase_id": None},
    ("PUT", "/api/options/{option_id}/conditions/{name}"): {"measured": 1.0},
    ("POST", "/api/options/{option_id}/since"): {"build_up": {"layers": []}},
    ("POST", "/api/elements/{element_id}/joints"): {"build_up": {"layers": []}},
    ("PUT", "/api/projects/{project_id}/prices/{material}"): {"price": None},
    ("PUT", "/api/options/{option_id}/works"): {"works": []},
    ("PUT", "/api/elements/{element_id}/between"): {"option_id": None},
    ("PUT", "/api/options/{option_id}/rejection"): {"reason": "x"},
    ("PUT", "/api/projects/{project_id}/bases/{uid}"): {"kind": "letter"},
    ("PUT", "/api/elements/{element_id}/access"): {
        "outside_untouchable": True,
        "plaster_off": False,
        "inside_untouchable": False,
        "escape_route": False,
    },
    ("PUT", "/api/library/materials/{material_id}"): {"sheet": {"name": "x", "family": "foam"}, "base_edition": 1},
    ("PUT", "/api/library/materials/{material_id}/listed"): {"retired": True},
    ("POST", "/api/reports/{report_id}/signatures"): {"name": "x", "role": "y", "on": "2026-01-01"},
    ("PUT", "/api/projects/{project_id}/measurements/{uid}"): {
        "kind": "moisture",
        "moisture": {"shown_percent": 20},
    },
}
UPLOADS = (
    ("POST", "/api/projects/{project_id}/photos/{uid}"),
    ("POST", "/api/projects/{project_id}/bases/{uid}/document"),
)


class Privacy(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner, cls.other = person("owner"), person("other")
        cls.project = corrie(cls.owner)
        element = cls.project.elements.first()
        assert element
        option = element.options.first()
        assert option
        run = Run.objects.create(
            project=option.element.project, option=option, case_hash="0" * 64, build_up={}, place={}, status=Run.WAITING
        )
        batch = Batch.objects.create(element=element, option=option, kind=Batch.FACINGS, settings={}, asked_by="owner")
        climate = ClimateFile.objects.create(owner=cls.owner, name="own-0", kind=ClimateFile.WEATHER, label="x")
        Evidence.objects.create(
            project=cls.project, uid="evidence1", element=element, pin={"kind": "stain", "place": {}}
        )
        report = Report.objects.create(project=cls.project, kind="client", asked_by="owner")
        signature = Signature.objects.create(report=report, name="x", role="x", on="2026-01-01", by="owner")
        material = make(cls.owner, DataSheet(name="x", family="foam"))
        cls.ids = {
            "scheme_id": cls.project.shown_scheme().pk,
            "material_id": material.material_id,
            "material_key": material.key,
            "project_id": cls.project.pk,
            "element_id": element.pk,
            "option_id": option.pk,
            "run_id": run.pk,
            "uid": "evidence1",
            "material": "softwood",
            "entry_id": HistoryEntry.write(
                cls.project, cls.owner, "choose option", "x", element, {"option": None}, {}
            ).pk,
            "name": "air leakage",
            "batch_id": batch.pk,
            "climate_id": climate.pk,
            "report_id": report.pk,
            "signature_id": signature.pk,
            "way": "inside_lime",
            "list_key": "water",
            "field": "area_m2",
            "key": "0123456789abcdef",
        }

    def routes(self) -> list[tuple[str, str]]:
        """Every route of the API that names something of somebody's."""
        paths = api.get_openapi_schema()["paths"]
        return [(method.upper(), path) for path, item in paths.items() for method in item if "{" in path]

    def call(self, client: Client, method: str, path: str) -> Any:
        filled = path.format(**self.ids)
        if path.endswith("/moment"):
            filled += "?hour=0"
        if (method, path) in UPLOADS:
            return client.post(filled, {"file": SimpleUploadedFile("p.jpg", b"x")})
        return send(client, method, filled, BODIES.get((method, path)))

    def test_another_persons_things_answer_404_on_every_route(self) -> None:
        routes = self.routes()
        self.assertGreaterEqual(len(routes), 20)
        before = (
            Project.objects.count(),
            Element.objects.count(),
            Option.objects.count(),
            HistoryEntry.objects.count(),
        )
        for method, path in routes:
            with self.subTest(f"{method} {path}"):
                response = self.call(client_of(self.other), method, path)
                self.assertEqual(response.status_code, 404, response.content[:200])
                self.assertEqual(response.json()["code"], "not_found")
        after = (Project.objects.count(), Element.objects.count(), Option.objects.count(), HistoryEntry.objects.count())
        self.assertEqual(before, after)

    def test_signed_out_is_401_everywhere(self) -> None:
        for method, path in self.routes():
            with self.subTest(f"{method} {path}"):
                self.assertEqual(self.call(Client(), method, path).status_code, 401)
        self.assertEqual(Client().get("/api/projects").status_code, 401)

    def test_another_persons_material_is_named_in_no_body_and_no_path(self) -> None:
        """In every body that the API takes, wherever in it and however written, and in every path; one's own passes this door."""
        theirs = self.ids["material_key"]
        client = client_of(self.other)
        escaped = theirs.replace("o", "\\u006f", 1)
        bodies = 0
        for path, item in api.get_openapi_schema()["paths"].items():
            for method, operation in item.items():
                if "application/json" not in operation.get("requestBody", {}).get("content", {}):
                    continue
                bodies += 1
                filled = path.format(**{**self.ids, "material_key": "x"})
                for raw in (
                    f'{{"a": [{{"b": "{theirs}"}}]}}',
                    f'{{"{theirs}": 1}}',
                    f'{{"a": "{escaped}"}}',
                    f'{{"a": "{theirs}@layer"}}',
                ):
                    answer = client.generic(method.upper(), filled, raw, content_type="application/json")
                    with self.subTest(f"{method} {path}", raw=raw):
                        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "no_such_material"))
        self.assertGreater(bodies, 40)
        project = corrie(self.other)
        for method, path in (
            ("PUT", "/api/projects/{}/prices/{}"),
            ("GET", "/api/projects/{}/prices/{}"),
            ("GET", "/api/library/materials/{1}/curves"),
        ):
            answer = send(client, method, path.format(project.pk, theirs), {"price": None} if method == "PUT" else None)
            self.assertIn(answer.status_code, (404, 405), path)
        mine = make(self.other, DataSheet(name="y", family="foam")).key
        self.assertEqual(
            send(client, "PUT", f"/api/projects/{project.pk}/prices/{mine}", {"price": None}).status_code, 204
        )

    def test_lists_hold_only_my_own(self) -> None:
        self.assertEqual(client_of(self.other).get("/api/projects").json(), [])
        self.assertEqual(client_of(self.other).get("/api/runs").json(), [])
        self.assertEqual(len(client_of(self.owner).get("/api/projects").json()), 1)

    def test_permission_without_a_person_raises(self) -> None:
        with self.assertRaises(ValueError):
            Project.objects.viewable_by(None)
        with self.assertRaises(ValueError):
            self.project.viewable_by(None)
        self.assertTrue(self.project.viewable_by(self.owner))
        self.assertFalse(self.project.viewable_by(self.other))

    def test_changes_without_a_csrf_token_are_refused(self) -> None:
        client = client_of(self.owner, csrf=True)
        for method, path in self.routes():
            if method != "GET":
                with self.subTest(f"{method} {path}"):
                    self.assertEqual(self.call(client, method, path).status_code, 403)
        self.assertEqual(send(client, "POST", "/api/projects", PROJECT).status_code, 403)
        stranger = Client(enforce_csrf_checks=True)
        login = {"username": "owner", "password": PASSWORD}
        self.assertEqual(send(stranger, "POST", "/api/session", login).status_code, 403)

    def test_sign_in_with_a_token_and_out(self) -> None:
        client = Client(enforce_csrf_checks=True)
        token = client.get("/api/session").json()["csrf_token"]
        login = {"username": "owner", "password": PASSWORD}
        answer = send(client, "POST", "/api/session", login, HTTP_X_CSRFTOKEN=token)
        self.assertEqual(answer.json()["person"]["username"], "owner")
        wrong = send(
            client, "POST", "/api/session", {**login, "password": "x"}, HTTP_X_CSRFTOKEN=answer.json()["csrf_token"]
        )
        self.assertEqual((wrong.status_code, wrong.json()["code"]), (401, "wrong_login"))
        out = send(client, "DELETE", "/api/session", HTTP_X_CSRFTOKEN=answer.json()["csrf_token"])
        self.assertIsNone(out.json()["person"])


class Actions(TestCase):
    def setUp(self) -> None:
        self.owner = person("owner")
        self.client = client_of(self.owner)

    def make(self, **element: Any) -> tuple[int, int]:
        project = send(self.client, "POST", "/api/projects", PROJECT).json()["id"]
        made = send(self.client, "POST", f"/api/projects/{project}/elements", {**ELEMENT, **element})
        self.assertEqual(made.status_code, 201, made.content)
        return project, made.json()["id"]

    def entries(self) -> int:
        return HistoryEntry.objects.count()

    def sheet(self, element: int) -> Any:
        return self.client.get(f"/api/elements/{element}/sheet").json()

    def test_an_element_without_layers_is_not_stated_and_heat_is_not_known(self) -> None:
        project, element = self.make()
        found = self.sheet(element)["options"][0]
        self.assertEqual((found["build_up"]["layers"], found["run"]["state"]), ([], "not available"))
        heat = self.client.get(f"/api/projects/{project}/heat").json()
        self.assertFalse(heat["complete"])
        self.assertIn("not stated", heat["missing"][0])

    def test_a_draft_is_bounded_and_its_sheet_always_opens(self) -> None:
        _, element = self.make(build_up=BUILD_UP)
        made = send(self.client, "POST", f"/api/elements/{element}/options", {"name": "x", "build_up": BUILD_UP})
        path = f"/api/options/{made.json()['id']}/draft"
        for millimetres, status in ((5e-324, 422), (1e-9, 422), (0.0, 422), (1e308, 422), (0.001, 204), (3000.0, 204)):
            layers = [{**BUILD_UP["layers"][0], "thickness_mm": millimetres}, *BUILD_UP["layers"][1:]]
            with self.subTest(mm=millimetres):
                self.assertEqual(send(self.client, "PUT", path, {"build_up": {"layers": layers}}).status_code, status)
                self.assertEqual(self.client.get(f"/api/elements/{element}/sheet").status_code, 200)

    def test_one_construction_to_many(self) -> None:
        project, first = self.make(build_up=BUILD_UP)
        others = [
            send(self.client, "POST", f"/api/projects/{project}/elements", {**ELEMENT, "name": name}).json()["id"]
            for name in ("B", "C")
        ]
        path = f"/api/projects/{project}/constructions"
        before = self.entries()
        given = send(self.client, "POST", path, {"from_element": first, "to_elements": [*others, first]})
        self.assertEqual(given.json()["given"], 2)
        self.assertEqual(self.entries(), before + 1)
        for other in others:
            layers = self.sheet(other)["options"][0]["build_up"]["layers"]
            self.assertEqual(layers[0]["material"], BUILD_UP["layers"][0]["material"])
            self.assertEqual({layer["known"] for layer in layers}, {"assumed"}, "nobody looked at it there")
        back = send(self.client, "DELETE", f"{path}/{given.json()['entry']}")
        self.assertEqual(back.json()["given"], 2)
        self.assertEqual(self.sheet(others[0])["options"][0]["build_up"]["layers"], [])
        # what was typed and not committed is what one sees, so it is what is given
        found = self.sheet(first)["options"][0]["id"]
        thicker = {"layers": [{**BUILD_UP["layers"][0], "thickness_mm": 333}]}
        self.assertEqual(
            send(self.client, "PUT", f"/api/options/{found}/draft", {"build_up": thicker}).status_code, 204
        )
        given = send(self.client, "POST", path, {"from_element": first, "to_elements": others})
        for element in (first, others[1]):
            self.assertEqual(self.sheet(element)["options"][0]["build_up"]["layers"][0]["thickness_mm"], 333)
        # changed since: refused, and nothing is lost
        mine = self.sheet(others[0])["options"][0]
        body = {"revision": mine["revision"], "build_up": BUILD_UP}
        self.assertEqual(send(self.client, "PUT", f"/api/options/{mine['id']}", body).status_code, 200)
        late = send(self.client, "DELETE", f"{path}/{given.json()['entry']}")
        self.assertEqual((late.status_code, late.json()["code"]), (409, "changed_meanwhile"))
        self.assertEqual(self.sheet(others[1])["options"][0]["build_up"]["layers"][0]["thickness_mm"], 333)
        self.assertEqual(send(self.client, "DELETE", f"{path}/999999").status_code, 404)
        option = {"name": "x", "build_up": BUILD_UP}
        send(self.client, "POST", f"/api/elements/{others[0]}/options", option)
        refused = send(self.client, "POST", path, {"from_element": first, "to_elements": others})
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "has_options"))

    def test_every_action_has_its_effect_and_one_entry(self) -> None:
        project, element = self.make(build_up=BUILD_UP)
        found = self.sheet(element)["options"][0]
        new = {
            "name": "Inside",
            "build_up": {
                "layers": [
                    *found["build_up"]["layers"],
                    {"id": "w", "material": "wood_fibre_board", "thickness_mm": 60},
                ]
            },
        }
        steps: list[tuple[str, str, Any, int]] = [
            ("PUT", f"/api/projects/{project}", {**PROJECT, "name": "Barn"}, 200),
            ("PUT", f"/api/elements/{element}", {**ELEMENT, "area_m2": 25}, 200),
            ("POST", f"/api/elements/{element}/options", new, 201),
        ]
        for method, path, body, status in steps:
            before = self.entries()
            self.assertEqual(send(self.client, method, path, body).status_code, status)
            self.assertEqual(self.entries(), before + 1, path)
        option = self.sheet(element)["options"][1]
        before = self.entries()
        choice = send(
            self.client, "PUT", f"/api/elements/{element}/choice", {"option_id": option["id"], "reason": "dry wall"}
        )
        self.assertEqual(choice.json()["chosen_reason"], "dry wall")
        self.assertEqual(self.entries(), before + 1)
        heat = self.client.get(f"/api/projects/{project}/heat").json()
        wall = heat["rows"][0]
        self.assertAlmostEqual(wall["before_w_k"], 25 / (0.17 + 0.215 / 0.72), places=6)
        self.assertAlmostEqual(wall["after_w_k"], 25 / (0.17 + 0.215 / 0.72 + 0.06 / 0.043), places=6)
        self.assertAlmostEqual(heat["rows"][-1]["before_w_k"], 300 * 8 / 20 * 1.2 * 1006 / 3600, places=6)
        self.assertAlmostEqual(
            heat["total"]["before_kwh"], heat["total"]["before_w_k"] * heat["degree_hours_kh"], places=4
        )

    def test_a_choice_needs_a_reason_and_an_option_of_the_element(self) -> None:
        _, element = self.make()
        found = self.sheet(element)["options"][0]["id"]
        option = send(
            self.client, "POST", f"/api/elements/{element}/options", {"name": "x", "build_up": BUILD_UP}
        ).json()["id"]
        path = f"/api/elements/{element}/choice"
        self.assertEqual(
            send(self.client, "PUT", path, {"option_id": option, "reason": " "}).json()["code"], "reason_missing"
        )
        self.assertEqual(send(self.client, "PUT", path, {"option_id": found, "reason": "y"}).status_code, 404)

    def test_membranes_side_by_side_once(self) -> None:
        _, element = self.make()
        layers = [
            *BUILD_UP["layers"],
            {"id": "w", "material": "mineral_fibre_035", "thickness_mm": 80},
            {"id": "m", "material": "membrane_tight"},
            {"id": "l", "material": "gypsum_board", "thickness_mm": 12.5},
        ]
        made = send(
            self.client, "POST", f"/api/elements/{element}/options", {"name": "Inside", "build_up": {"layers": layers}}
        ).json()
        before = self.entries()
        path = f"/api/options/{made['id']}/membranes"
        sheet = send(self.client, "POST", path).json()
        names = [option["name"] for option in sheet["options"][2:]]
        self.assertEqual(names[0], "Inside: no membrane")
        self.assertEqual((len(names), self.entries()), (4, before + 1))
        again = send(self.client, "POST", path).json()
        self.assertEqual((len(again["options"]), self.entries()), (6, before + 1))
        bare = send(self.client, "POST", f"/api/options/{sheet['options'][0]['id']}/membranes")
        self.assertEqual(bare.status_code, 422)
        self.assertIn("no insulation", bare.json()["message"])

    def test_two_windows_do_not_overwrite_each_other(self) -> None:
        _, element = self.make()
        option = self.sheet(element)["options"][0]
        path = f"/api/options/{option['id']}"
        body = {"revision": option["revision"], "build_up": BUILD_UP}
        self.assertEqual(send(self.client, "PUT", path, body).status_code, 200)
        second = send(self.client, "PUT", path, body)
        self.assertEqual((second.status_code, second.json()["code"]), (409, "changed_meanwhile"))
        self.assertIn("another window", second.json()["message"])

    def test_a_draft_comes_back_and_goes_with_the_commit(self) -> None:
        _, element = self.make()
        option = self.sheet(element)["options"][0]
        draft = {"layers": [{"id": "structure", "material": "brick_old", "thickness_mm": 330, "existing": True}]}
        before = self.entries()
        self.assertEqual(
            send(self.client, "PUT", f"/api/options/{option['id']}/draft", {"build_up": draft}).status_code, 204
        )
        self.assertEqual(self.entries(), before)
        again = self.sheet(element)["options"][0]
        self.assertEqual(again["draft"]["layers"][0]["thickness_mm"], 330)
        self.assertAlmostEqual(again["figures"]["thermal"]["u_effective"], 1 / (0.17 + 0.33 / 0.72), places=9)
        send(self.client, "PUT", f"/api/options/{option['id']}", {"revision": 1, "build_up": draft})
        self.assertIsNone(self.sheet(element)["options"][0]["draft"])

    def test_what_is_typed_is_parsed_by_the_core(self) -> None:
        _, element = self.make()
        path = f"/api/elements/{element}/preview"
        for text, unit, mm in (("80", "mm", 80), ("3", "in", 76.2), ("3 in", "mm", 76.2), ("R13", "mm", 1648.391)):
            with self.subTest(text):
                answer = send(
                    self.client,
                    "POST",
                    path,
                    {"build_up": BUILD_UP, "typing": {"layer_id": "a", "text": text, "unit": unit}},
                )
                self.assertAlmostEqual(answer.json()["build_up"]["layers"][0]["thickness_mm"], mm, places=2)
        for text in ("0", "-4", "abc", "3.5 m"):
            with self.subTest(text):
                answer = send(
                    self.client, "POST", path, {"build_up": BUILD_UP, "typing": {"layer_id": "a", "text": text}}
                )
                self.assertEqual((answer.status_code, answer.json()["code"]), (422, "out_of_range"))

    def test_bad_bodies_are_named(self) -> None:
        project, element = self.make()
        for path, body, word in (
            (f"/api/projects/{project}/elements", {**ELEMENT, "area_m2": -1}, "area_m2"),
            (f"/api/projects/{project}/elements", {**ELEMENT, "colour": "red"}, "colour"),
            (f"/api/projects/{project}/elements", {"name": "W", "kind": "window", "area_m2": 2}, "U-value"),
            (f"/api/projects/{project}/elements", {**ELEMENT, "factor_b": 0.5}, "b"),
            ("/api/projects", {**PROJECT, "climate": "atlantis"}, "atlantis"),
            (f"/api/elements/{element}/options", {"name": "x", "build_up": {"layers": []}}, "layers"),
            (
                f"/api/elements/{element}/preview",
                {"build_up": {"layers": [{"id": "a", "material": "moon", "thickness_mm": 1}]}},
                "moon",
            ),
        ):
            with self.subTest(path=path, word=word):
                answer = send(self.client, "POST", path, body)
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertEqual(answer["Content-Type"], "application/problem+json")
                self.assertIn(word, answer.json()["message"])

    def test_the_as_found_build_up_and_windows(self) -> None:
        _, element = self.make()
        found = self.sheet(element)["options"][0]["id"]
        self.assertEqual(self.client.delete(f"/api/options/{found}").status_code, 422)
        _, window = self.make(kind="window", u_w_m2k=2.0, g_value=0.6)
        self.assertEqual(self.client.get(f"/api/elements/{window}/sheet").json()["code"], "no_build_up")

    def test_what_the_years_do_not_take_says_why(self) -> None:
        _, roof = self.make(kind="roof", slope_deg=40, build_up=BUILD_UP)
        self.assertEqual(self.sheet(roof)["options"][0]["run"]["state"], "not run")
        _, floor = self.make(kind="floor", adjoining="ground", factor_b=0.5, build_up=BUILD_UP)
        self.assertEqual(self.sheet(floor)["options"][0]["run"]["state"], "not run")
        gap = {"id": "gap", "material": "air_unventilated", "thickness_mm": 30}
        _, open_bay = self.make(build_up={"layers": [*BUILD_UP["layers"], gap]})
        self.assertEqual(self.sheet(open_bay)["options"][0]["run"]["state"], "not run", "an open bay is the room's air")
        _, bare = self.make(build_up={"layers": [gap, {"id": "sheet", "material": "membrane_tight"}]})
        option = self.sheet(bare)["options"][0]
        self.assertEqual(option["run"]["state"], "not available")
        self.assertIn("nothing but air and sheets", option["figures"]["transient_refused"])
        answer = send(self.client, "POST", f"/api/options/{option['id']}/runs")
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "not_available_yet"))

    def test_the_page_ships_everything_itself(self) -> None:
        page = self.client.get("/projects")
        self.assertIn("default-src 'self'", page["Content-Security-Policy"])
        self.assertNotIn("unsafe", page["Content-Security-Policy"])
        html = b"".join(page.streaming_content).decode()  # type: ignore[attr-defined]
        self.assertEqual(re.findall(r"https?://", html), [])
