"""Materials of one's own: made, changed into an edition, whose they are, carried in project files and lists."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from core.buildup.model import BuildUp
from core.materials.library import entry_of
from server.exchange.bring import import_file
from server.exchange.write import write
from server.library.models import Edition, OwnMaterial
from server.projects.models import Option
from server.tests.helpers import client_of, corrie, person, send

SHEET: dict[str, Any] = {
    "name": "Batt 034",
    "family": "fibrous insulation",
    "thickness": "140 mm",
    "conductivity": "4.1 m²K/W",
    "density": "22",
    "source": "a maker",
}


class OwnMaterials(TestCase):
    def setUp(self) -> None:
        self.user = person("anna")
        self.client = client_of(self.user)  # type: ignore[assignment]

    def made(self, **changes: Any) -> Any:
        answer = send(self.client, "POST", "/api/library/materials", {**SHEET, **changes})
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def listed(self) -> dict[str, Any]:
        return {m["id"]: m for m in self.client.get("/api/library").json()["materials"] if m["own"]}

    def option_with(self, key: str) -> Option:
        option = Option.objects.filter(role=Option.UPGRADE, element__project__owner=self.user).first()
        assert option is not None
        layers = option.build_up["layers"]
        at = next(i for i, layer in enumerate(layers) if entry_of(layer["material"]).group == "insulation")
        layers[at]["material"] = key
        body = {"revision": option.revision, "build_up": {"layers": layers}}
        self.assertEqual(send(self.client, "PUT", f"/api/options/{option.pk}", body).status_code, 200)
        option.refresh_from_db()
        return option

    def test_a_sheet_is_read_as_one_types_and_nothing_is_kept(self) -> None:
        seen = send(self.client, "POST", "/api/library/look", SHEET).json()
        self.assertAlmostEqual(seen["material"]["conductivity_w_mk"], 0.14 / 4.1)
        self.assertIn("filled from", seen["filled"]["mu"])
        self.assertEqual(
            [c["name"] for c in seen["curves"]["curves"]], ["water held", "heat conductivity", "vapour resistance"]
        )
        self.assertEqual(OwnMaterial.objects.count(), 0)
        refused = send(self.client, "POST", "/api/library/look", {**SHEET, "conductivity": "4 furlongs"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("use W/mK", refused.json()["message"])

    def test_a_change_is_a_new_edition_and_what_stands_on_the_old_one_stays(self) -> None:
        corrie(self.user)
        first = self.made()
        option = self.option_with(first["id"])
        number = first["own"]["material_id"]
        body = {"sheet": {**SHEET, "conductivity": "0.036"}, "base_edition": 1}
        second = send(self.client, "PUT", f"/api/library/materials/{number}", body).json()
        self.assertEqual((second["own"]["edition"], second["own"]["newest"]), (2, second["id"]))
        self.assertNotEqual(first["id"], second["id"])
        old = self.listed()[first["id"]]
        self.assertEqual((old["own"]["newest"], old["own"]["newest_edition"]), (second["id"], 2))
        self.assertAlmostEqual(old["conductivity_w_mk"], first["conductivity_w_mk"])
        option.refresh_from_db()
        self.assertIn(first["id"], json.dumps(option.build_up))
        late = send(self.client, "PUT", f"/api/library/materials/{number}", body)
        self.assertEqual(late.status_code, 409)
        same = send(self.client, "PUT", f"/api/library/materials/{number}", {**body, "base_edition": 2})
        self.assertEqual(same.json()["own"]["edition"], 2, "nothing changed: no edition more")
        places = self.client.get(f"/api/library/materials/{number}/used").json()["places"]
        self.assertEqual(len(places), 1)
        self.assertIn(option.name, places[0])
        send(self.client, "PUT", f"/api/library/materials/{number}/listed", {"retired": True})
        self.assertTrue(self.listed()[second["id"]]["own"]["retired"])
        self.assertTrue(Option.objects.get(pk=option.pk).current.is_stated)

    def test_somebody_elses_is_not_there(self) -> None:
        mine = self.made()
        other = person("bert")
        project = corrie(other)
        theirs = client_of(other)
        element = project.elements.filter(kind="wall").first()
        assert element is not None
        layers = [{"id": "a", "material": mine["id"], "thickness_mm": 100}]
        for method, path, body in (
            ("POST", f"/api/elements/{element.pk}/options", {"name": "Theirs", "build_up": {"layers": layers}}),
            ("POST", f"/api/elements/{element.pk}/preview", {"build_up": {"layers": layers}}),
            ("PUT", f"/api/options/{element.as_found.pk}/draft", {"build_up": {"layers": layers}}),
            ("PUT", f"/api/options/{element.as_found.pk}", {"build_up": {"layers": layers}, "revision": 1}),
            (
                "POST",
                f"/api/projects/{project.pk}/elements",
                {"name": "W", "kind": "wall", "area_m2": 1, "build_up": {"layers": layers}},
            ),
        ):
            with self.subTest(path):
                answer = send(theirs, method, path, body)
                self.assertEqual(answer.status_code, 422)
                self.assertIn("not in the library", answer.json()["message"])
        number = mine["own"]["material_id"]
        for method, path, body in (
            ("PUT", f"/api/library/materials/{number}", {"sheet": SHEET, "base_edition": 1}),
            ("PUT", f"/api/library/materials/{number}/listed", {"retired": True}),
            ("GET", f"/api/library/materials/{number}/used", None),
            ("GET", f"/api/library/curves/{mine['id']}", None),
        ):
            self.assertEqual(send(theirs, method, path, body).status_code, 404, path)
        self.assertEqual([m for m in theirs.get("/api/library").json()["materials"] if m["own"]], [])
        self.assertEqual(self.client.get(f"/api/library/curves/{mine['id']}").status_code, 200)

    def test_a_project_file_carries_them_and_refuses_one_that_was_changed(self) -> None:
        project = corrie(self.user)
        key = self.made()["id"]
        option = self.option_with(key)
        with write(project) as stream:
            raw = stream.read()
        other = person("bert")
        copy = import_file(other, io.BytesIO(raw), len(raw))
        theirs = Edition.objects.get(material__owner=other)
        self.assertEqual((theirs.key, theirs.number, (theirs.sheet or {})["name"]), (key, 1, "Batt 034"))
        kept = Option.objects.get(element__project=copy, name=option.name, element__name=option.element.name)
        self.assertEqual(kept.current, option.current)
        import_file(other, io.BytesIO(raw), len(raw))
        self.assertEqual(Edition.objects.filter(material__owner=other).count(), 1, "known already")
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            content = json.loads(archive.read("project.json"))
        forged = json.loads(json.dumps(content))
        forged["materials"][0]["entry"]["conductivity_w_mk"] = 0.01
        missing = {**content, "materials": []}
        carl = client_of(person("carl"))
        for body, words in ((forged, "changed after it was exported"), (missing, "not in the library")):
            file = SimpleUploadedFile(
                "project.json", json.dumps({**body, "photos": [], "evidence": [], "water": []}).encode()
            )
            answer = carl.post("/api/projects/import", {"file": file})
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, json.dumps(answer.json(), ensure_ascii=False))

    def test_lists_go_out_and_come_in(self) -> None:
        self.made()
        self.made(name="=SUM(1)", family="sheet", vapour="2 m", thickness="", conductivity="", density="")
        table = self.client.get("/api/library/export?form=csv").content.decode()
        self.assertIn("'=SUM(1)", table)
        for form in ("csv", "json"):
            raw = self.client.get(f"/api/library/export?form={form}").content
            other = person(f"reader of {form}")
            answer = client_of(other).post("/api/library/bring", {"file": SimpleUploadedFile(f"m.{form}", raw)})
            self.assertEqual(answer.json(), {"made": 2, "known": 0}, answer.content)
            keys = Edition.objects.filter(material__owner=other).values_list("key", flat=True)
            self.assertEqual(set(keys), set(self.listed()))
            again = client_of(other).post("/api/library/bring", {"file": SimpleUploadedFile(f"m.{form}", raw)})
            self.assertEqual(again.json(), {"made": 0, "known": 2})

    def test_a_list_with_a_fault_says_its_row_and_leaves_everything(self) -> None:
        for raw, words in (
            (b"name,family,density\nA,foam,30\nB,foam,heavy\n", "Row 3"),
            (b"name;family;conductivity\nA;fome;0,03\n", "Row 2"),
            (b"colour\nred\n", "name"),
            (b"\xff\xfe\x00", "UTF-8"),
            (b'{"materials": 3}', "Export it again"),
            (b"[" * 100_000, "Export it again"),
        ):
            with self.subTest(raw[:20]):
                answer = self.client.post("/api/library/bring", {"file": SimpleUploadedFile("m.csv", raw)})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, f"{answer.json()['message']} {answer.json()['remedy']}")
        self.assertEqual(OwnMaterial.objects.count(), 0)

    def test_a_build_up_with_one_is_computed_like_any(self) -> None:
        project = corrie(self.user)
        option = self.option_with(self.made()["id"])
        sheet = self.client.get(f"/api/elements/{option.element_id}/sheet").json()
        shown = next(o for o in sheet["options"] if o["id"] == option.pk)
        self.assertTrue(shown["figures"]["case_hash"])
        self.assertEqual(BuildUp.model_validate(shown["build_up"]), option.current)
        self.assertEqual(self.client.get(f"/api/projects/{project.pk}/lists/constructions/csv").status_code, 200)

    def test_the_simulated_list_has_only_what_the_library_knows_and_says_that_it_is_made_up(self) -> None:
        [supplier] = self.client.get("/api/library/suppliers").json()
        self.assertIn("made up", supplier["name"])
        self.assertGreaterEqual(len(supplier["articles"]), 25)
        for article in supplier["articles"]:
            entry = entry_of(article["material"])
            self.assertEqual(bool(article["thicknesses_mm"]), entry.kind == "solid", article["name"])
            self.assertTrue(article["price_m2"] > 0 and article["pack"] >= 1 and article["lead_weeks"] > 0)
            self.assertEqual(article["thicknesses_mm"], sorted(article["thicknesses_mm"]))
