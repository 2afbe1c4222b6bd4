"""Bad input on the survey's routes: what, where and what to do, and nothing changed; and the demo as it is loaded."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import date, timedelta
from typing import Any

from django.test import TestCase
from PIL import Image

from core.readiness.rules import rules
from demo.people import PEOPLE
from demo.photos import jpeg
from demo.scenarios import WRITTEN_FOR, project_file
from server.projects.models import Element, HistoryEntry, Project
from server.survey.models import Evidence, Measurement, Photo, WaterItem
from server.tests.helpers import client_of, corrie, person, send


def without(value: dict[str, Any], key: str) -> dict[str, Any]:
    return {k: v for k, v in value.items() if k != key}


class Refusals(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner = person("owner")
        cls.project = corrie(cls.owner)
        cls.wall = cls.project.elements.get(name="Garden face")

    def counts(self) -> tuple[int, ...]:
        return tuple(
            model.objects.count() for model in (Element, Evidence, WaterItem, Measurement, Photo, HistoryEntry)
        )

    def refused(self, path: str, body: Any, *words: str, status: int = 422) -> None:
        before = self.counts()
        answer = send(client_of(self.owner), "PUT", f"/api/projects/{self.project.pk}/{path}", body)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        problem = answer.json()
        for word in words:
            self.assertIn(word, problem["message"])
        self.assertTrue(problem["remedy"])
        self.assertEqual(self.counts(), before)

    def test_evidence(self) -> None:
        pin = {"kind": "stain", "place": {"body": "main", "face": "a", "x_m": 1, "y_m": 1}}
        for change, *words in (
            ({"pin": {**pin, "kind": "ghost"}}, "pin.kind"),
            ({"pin": without(pin, "kind")}, "pin.kind", "required"),
            ({"pin": {**pin, "extent": "huge"}}, "pin.extent"),
            ({"pin": {**pin, "size_m2": -1}}, "pin.size_m2"),
            ({"pin": {**pin, "seen_on": "yesterday"}}, "pin.seen_on"),
            ({"pin": {**pin, "readings": {"air_rh": 60}}}, "pin.readings.air_rh"),
            ({"pin": {**pin, "readings": {"wood": {"shown_percent": 18, "species": "bog oak"}}}}, "no species"),
            (
                {"pin": {**pin, "readings": {"wood": {"shown_percent": 18, "wood_temperature_c": -30}}}},
                "wood_temperature_c",
            ),
            ({"pin": {**pin, "note": "x" * 2001}}, "pin.note"),
            ({"pin": pin, "photos": ["../../etc/passwd"]}, "photos.0"),
            ({"pin": pin, "colour": "red"}, "colour"),
            ({"pin": pin, "element_id": 10**9}, "not part of this project"),
        ):
            with self.subTest(words=words):
                self.refused("evidence/pin-of-a-test", change, *words)

    def test_shape(self) -> None:
        body = {
            "id": "b",
            "name": "Barn",
            "outline": [[0, 0], [8, 0], [8, 6], [0, 6]],
            "storeys": [{"name": "floor", "height_m": 3}],
        }
        two = {**body, "id": "c", "name": "Byre", "outline": [[4, 2], [12, 2], [12, 5], [4, 5]]}
        window = {"id": "w", "name": "Light", "body": "b", "face": "a", "width_m": 1, "height_m": 1}
        for shape, *words in (
            ({"bodies": [{**body, "outline": [[0, 0], [1, 0]]}]}, "outline"),
            ({"bodies": [{**body, "storeys": []}]}, "storeys"),
            ({"bodies": [body, body]}, "two bodies share one id"),
            ({"bodies": [body, two]}, "“Barn” and “Byre” overlap"),
            ({"bodies": [{**body, "roof": {"form": "lean_to"}}]}, "letter of its low side"),
            ({"bodies": [{**body, "roof": {"form": "mansard", "pitch_deg": 60}}]}, "height of its break"),
            ({"bodies": [body], "openings": [{**window, "face": "f"}]}, "has no face f"),
            ({"bodies": [body], "openings": [{**window, "storey": 3}]}, "has no storey 3"),
            ({"bodies": [body], "openings": [{**window, "body": "z"}]}, "no body “z”"),
            ({"bodies": [body], "openings": [window, window]}, "two openings share one id"),
            (
                {
                    "bodies": [body],
                    "parts": [
                        {
                            "body": "b",
                            "face": "a",
                            "parts": [{"id": "x", "name": "X", "share": 0.5}, {"id": "y", "name": "Y", "share": 0.4}],
                        }
                    ],
                },
                "90%",
            ),
            ({"bodies": [{**body, "wall_mm": 5000}]}, "wall_mm"),
        ):
            with self.subTest(words=words):
                self.refused("shape", {"revision": None, "shape": shape}, *words)

    def test_measurements(self) -> None:
        point = {"direction": "pressurise", "pressure_pa": 50, "flow_m3_h": 2000}
        leak = {"place": "sill", "element_id": 10**9}
        for body, *words in (
            ({"kind": "blower_door", "blower_door": {"points": [{**point, "pressure_pa": -50}]}}, "pressure_pa"),
            ({"kind": "blower_door", "blower_door": {"points": [{**point, "direction": "sideways"}]}}, "direction"),
            ({"kind": "blower_door", "blower_door": {"points": [], "barometer_pa": 100}}, "barometer_pa"),
            ({"kind": "blower_door", "blower_door": {"points": []}, "leaks": [leak]}, "not part of this project"),
            ({"kind": "thermal", "thermal": {"inside_air_c": 20}}, "outside_air_c"),
            ({"kind": "moisture", "moisture": {"shown_percent": 900}}, "shown_percent"),
            ({"kind": "sonar"}, "kind"),
        ):
            with self.subTest(words=words):
                self.refused("measurements/test-0001", body, *words)

    def test_water_brief_and_rain(self) -> None:
        item = {"elements": [self.wall.pk], "stage": "site", "title": "Clear it"}
        self.refused("water/item-0001", {**item, "title": ""}, "title")
        self.refused("water/item-0001", {**item, "state": "perhaps"}, "state")
        self.refused("water/item-0001", {**item, "due": "soon"}, "due")
        self.refused("water/item-0001", {**item, "state": "not needed"}, "needs its reason")
        self.refused("brief", {"revision": None, "brief": {"limits": [{"kind": "colour"}]}}, "limits.0.kind")
        self.refused("brief", {"revision": None, "brief": {"targets": {"u_w_m2k": {"wall": -1}}}}, "u_w_m2k")
        self.refused("brief", {"revision": None, "brief": {"roles": [{"role": "wizard"}]}}, "roles.0.role")
        self.refused("brief", {"revision": 77, "brief": {}}, "another window", status=409)
        answer = send(client_of(self.owner), "PUT", f"/api/elements/{self.wall.pk}/rain", {"rain": {"height_m": -2}})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("height_m", answer.json()["message"])

    def test_what_is_deleted_is_told_and_gone_only_once(self) -> None:
        client = client_of(self.owner)
        base = f"/api/projects/{self.project.pk}"
        for path, model in (
            ("evidence/corrie_rust", Evidence),
            ("measurements/corrie_wood_3", Measurement),
            (f"water/{WaterItem.objects.filter(project=self.project)[0].uid}", WaterItem),
        ):
            before, entries = model.objects.count(), HistoryEntry.objects.count()
            self.assertEqual(client.delete(f"{base}/{path}").status_code, 204)
            self.assertEqual((model.objects.count(), HistoryEntry.objects.count()), (before - 1, entries + 1), path)
            self.assertEqual(client.delete(f"{base}/{path}").status_code, 404)

    def test_a_deleted_element_leaves_its_pins_to_the_survey(self) -> None:
        pins = set(Evidence.objects.filter(element__name="Shed wall, garden side").values_list("uid", flat=True))
        self.assertTrue(pins)
        Element.objects.get(name="Shed wall, garden side").delete()
        self.assertEqual(set(Evidence.objects.filter(element=None).values_list("uid", flat=True)), pins)
        page = client_of(self.owner).get(f"/api/projects/{self.project.pk}/evidence")
        self.assertEqual(page.status_code, 200)

    def test_a_deleted_project_takes_its_photo_files_along(self) -> None:
        folder = Photo.objects.filter(project=self.project)[0].path().parent
        self.assertTrue(list(folder.glob("*.jpg")))
        with self.captureOnCommitCallbacks(execute=True):
            self.assertEqual(client_of(self.owner).delete(f"/api/projects/{self.project.pk}").status_code, 204)
        self.assertFalse(folder.exists())


class Demo(TestCase):
    FILES = [file for *_, files in PEOPLE for file in files]

    def content(self, file: str, today: date) -> dict[str, Any]:
        with project_file(file, today) as stream, zipfile.ZipFile(stream) as archive:
            return json.loads(archive.read("project.json"))  # type: ignore[no-any-return]

    def test_dates_move_with_the_day_it_is_loaded(self) -> None:
        for file in self.FILES:
            today = date(2027, 5, 4)
            then, now = self.content(file, WRITTEN_FOR), self.content(file, today)
            for before, after in zip(then.get("evidence", []), now.get("evidence", []), strict=True):
                moved = date.fromisoformat(after["pin"]["seen_on"]) - date.fromisoformat(before["pin"]["seen_on"])
                with self.subTest(file, uid=before["uid"]):
                    self.assertEqual(moved, today - WRITTEN_FOR)
                    self.assertLess(date.fromisoformat(after["pin"]["seen_on"]), today)
            for item in now.get("water", []):
                if item["due"]:
                    self.assertGreater(date.fromisoformat(item["due"]), today - timedelta(days=1))

    def test_photos_are_drawings_that_say_so_the_same_for_the_same_uid(self) -> None:
        for kind in (*(rule.id for rule in rules().kinds), ""):
            first, again = jpeg("uid-of-a-photo", kind, "A wall"), jpeg("uid-of-a-photo", kind, "A wall")
            with self.subTest(kind), Image.open(io.BytesIO(first)) as picture:
                self.assertEqual(first, again)
                self.assertEqual(picture.size, (1200, 900))
                self.assertGreater(len(set(picture.convert("L").resize((60, 45)).tobytes())), 3)

    def test_every_demo_photo_stands_somewhere(self) -> None:
        for file in self.FILES:
            content = self.content(file, WRITTEN_FOR)
            named = {photo["uid"] for photo in content.get("photos", [])}
            used = {uid for row in (*content.get("evidence", []), *content.get("water", [])) for uid in row["photos"]}
            with self.subTest(file):
                self.assertEqual(named, used)

    def test_the_second_person_sees_nothing_of_the_first(self) -> None:
        first, second = person("first"), person("second")
        project = corrie(first)
        self.assertFalse(Project.objects.viewable_by(second).exists())
        self.assertEqual(
            client_of(second).get(f"/api/projects/{project.pk}/photos/corrie_salts_photo").status_code, 404
        )
        self.assertEqual(client_of(first).get(f"/api/projects/{project.pk}/photos/corrie_salts_photo").status_code, 200)
