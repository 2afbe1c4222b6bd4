"""One element in two windows: the second is told and nothing is lost, whether a person or the shape changed it."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from server.projects.models import Element, HistoryEntry, Project
from server.projects.schemas import ElementFields
from server.tests.helpers import client_of, person, send

WALL: dict[str, Any] = {"name": "Back wall", "kind": "wall", "area_m2": 20.0}


class TwoWindows(TestCase):
    def setUp(self) -> None:
        self.owner = person("owner")
        self.client = client_of(self.owner)
        self.project = Project.objects.create(owner=self.owner, name="Byre")
        made = send(self.client, "POST", f"/api/projects/{self.project.pk}/elements", WALL)
        self.pk = made.json()["id"]
        self.began = {name: made.json()[name] for name in ElementFields.model_fields}

    def put(self, status: int = 200, began: Any = None, **changed: Any) -> Any:
        body = {**self.began, **changed, "began_from": began}
        answer = send(self.client, "PUT", f"/api/elements/{self.pk}", body)
        self.assertEqual(answer.status_code, status, answer.content[:300])
        return answer.json()

    def test_nobody_else_changed_it(self) -> None:
        self.assertEqual(self.put(began=self.began, area_m2=25.0)["area_m2"], 25.0)

    def test_the_second_window_is_told_and_writes_nothing(self) -> None:
        self.put(began=self.began, area_m2=25.0)
        before = HistoryEntry.objects.count()
        told = self.put(409, began=self.began, name="Rear wall")
        self.assertEqual(told["code"], "changed_meanwhile")
        self.assertIn("Take theirs", told["remedy"])
        element = Element.objects.get(pk=self.pk)
        self.assertEqual((element.name, element.area_m2), ("Back wall", 25.0))
        self.assertEqual(HistoryEntry.objects.count(), before)

    def test_written_over_on_purpose(self) -> None:
        self.put(began=self.began, area_m2=25.0)
        self.assertEqual(self.put(name="Rear wall")["name"], "Rear wall")
        self.assertEqual(Element.objects.get(pk=self.pk).area_m2, 20.0)

    def test_every_field_that_another_changed_is_noticed(self) -> None:
        others = {
            "facing_deg": 90.0,
            "exposure": "exposed",
            "occupancy": "bath",
            "set_point_c": 24.0,
            "absorptance": 0.8,
            "room_limit_mm": 60.0,
            "outside_limit_mm": 0.0,
            "target_u_w_m2k": 0.3,
        }
        for name, value in others.items():
            with self.subTest(name=name):
                began = {n: self.client.get(self.listed).json()["elements"][0][n] for n in ElementFields.model_fields}
                self.put(**{**began, name: value})
                self.put(409, began=began, **began)

    @property
    def listed(self) -> str:
        return f"/api/projects/{self.project.pk}"

    def test_a_shape_that_moved_the_area_is_noticed_too(self) -> None:
        body: dict[str, Any] = {
            "id": "main",
            "name": "House",
            "outline": [[0, 0], [10, 0], [10, 7], [0, 7]],
            "storeys": [{"name": "ground floor", "height_m": 2.6}],
            "wall_mm": 500,
        }
        path = f"/api/projects/{self.project.pk}/shape"
        first = send(self.client, "PUT", path, {"revision": None, "shape": {"bodies": [body]}})
        self.assertEqual(first.status_code, 200, first.content[:300])
        wall = Element.objects.filter(project=self.project, kind="wall").exclude(shape_key="").first()
        assert wall is not None
        self.pk = wall.pk
        page = self.client.get(self.listed).json()["elements"]
        self.began = {n: next(e for e in page if e["id"] == wall.pk)[n] for n in ElementFields.model_fields}
        body["storeys"][0]["height_m"] = 3.0
        send(self.client, "PUT", path, {"revision": None, "shape": {"bodies": [body]}})
        self.put(409, began=self.began, name="Mine")
        wall.refresh_from_db()
        self.assertNotIn("area_m2", wall.corrected)

    def test_fields_that_are_none_are_refused(self) -> None:
        self.put(422, began={**self.began, "owner": 1})
