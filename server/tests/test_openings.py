"""Windows and doors of the shape: removed they leave no hole, vanished ones go unless work hangs on them, none on another."""

from __future__ import annotations

import copy
from typing import Any

from django.test import TestCase

from core.survey.drawings import elevation_of, overlap, overlapping
from core.survey.shape import Shape
from server.projects.models import Element, Project
from server.tests.helpers import client_of, person, send

WINDOW: dict[str, Any] = {
    "id": "w1", "name": "Windows", "body": "main", "face": "a", "count": 3, "width_m": 1.0, "height_m": 1.4,
}  # fmt: skip
DOOR: dict[str, Any] = {
    "id": "d1", "name": "Door", "kind": "door", "body": "main", "face": "a", "width_m": 1.0, "height_m": 2.1, "sill_m": 0,
}  # fmt: skip
SHAPE: dict[str, Any] = {
    "bodies": [
        {
            "id": "main",
            "name": "House",
            "outline": [[0, 0], [10, 0], [10, 7], [0, 7]],
            "storeys": [{"name": "ground floor", "height_m": 2.6}],
            "wall_mm": 500,
        }
    ],
    "openings": [WINDOW, DOOR],
}


def shape(*openings: dict[str, Any]) -> Shape:
    return Shape.model_validate({**copy.deepcopy(SHAPE), "openings": list(openings)})


class Drawn(TestCase):
    def test_a_door_stands_beside_the_windows_of_its_storey(self) -> None:
        face = elevation_of(shape(WINDOW, DOOR), "main", "a")
        self.assertEqual(len(face.openings), 4)
        for i, first in enumerate(face.openings):
            for second in face.openings[i + 1 :]:
                self.assertFalse(overlap(first, second), (first, second))

    def test_one_entry_alone_is_spread_evenly(self) -> None:
        lefts = [one.rect[0] for one in elevation_of(shape(WINDOW), "main", "a").openings]
        gap = (elevation_of(shape(), "main", "a").width - 3.0) / 4.0
        for i, left in enumerate(lefts):
            self.assertAlmostEqual(left, gap + i * (1.0 + gap))

    def test_what_has_its_place_keeps_it_and_the_others_give_way(self) -> None:
        face = elevation_of(shape({**DOOR, "at_m": 4.5}, WINDOW), "main", "a")
        (door,) = [one for one in face.openings if one.kind == "door"]
        self.assertAlmostEqual(door.rect[0], 4.5)
        self.assertFalse(any(overlap(door, one) for one in face.openings if one is not door))

    def test_openings_of_different_storeys_may_stand_above_each_other(self) -> None:
        two = copy.deepcopy(SHAPE)
        two["bodies"][0]["storeys"].append({"name": "upper", "height_m": 2.6})
        two["openings"] = [WINDOW, {**WINDOW, "id": "w2", "storey": 1}]
        face = elevation_of(Shape.model_validate(two), "main", "a")
        lefts = {one.id: [] for one in face.openings}  # type: dict[str, list[float]]
        for one in face.openings:
            lefts[one.id].append(round(one.rect[0], 6))
        self.assertEqual(lefts["w1"], lefts["w2"])

    def test_those_typed_onto_each_other_are_told(self) -> None:
        self.assertEqual(overlapping(shape(WINDOW, DOOR)), [])
        told = overlapping(shape({**DOOR, "at_m": 2.0}, {**WINDOW, "count": 1, "at_m": 2.5}))
        self.assertEqual(told, ["“Door” and “Windows” lie on each other in face a: type their places"])

    def test_a_fanlight_over_a_door_is_no_overlap(self) -> None:
        light = {**WINDOW, "count": 1, "at_m": 2.0, "sill_m": 2.1, "height_m": 0.4}
        self.assertEqual(overlapping(shape({**DOOR, "at_m": 2.0}, light)), [])


class Removed(TestCase):
    def setUp(self) -> None:
        self.client = client_of(owner := person("owner"))
        self.project = Project.objects.create(owner=owner, name="Byre")
        self.path = f"/api/projects/{self.project.pk}/shape"
        self.draw(SHAPE)

    def draw(self, body: dict[str, Any]) -> Any:
        answer = send(self.client, "PUT", self.path, {"revision": None, "shape": body})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def wall(self) -> Element:
        return Element.objects.get(project=self.project, shape_key="main/a")

    def opening(self, key: str) -> Element:
        return Element.objects.get(project=self.project, shape_key=f"opening/{key}")

    def test_a_removed_window_leaves_no_hole(self) -> None:
        before = self.wall().area_m2
        answer = send(self.client, "DELETE", f"/api/elements/{self.opening('w1').pk}")
        self.assertEqual(answer.status_code, 204)
        self.assertAlmostEqual(self.wall().area_m2, before + 3 * 1.4, places=2)
        self.project.refresh_from_db()
        self.assertEqual([one["id"] for one in self.project.shape["openings"]], ["d1"])
        self.assertEqual(self.project.shape_revision, 3)

    def test_a_removed_wall_leaves_the_shape_as_it_is(self) -> None:
        send(self.client, "DELETE", f"/api/elements/{self.wall().pk}")
        self.project.refresh_from_db()
        self.assertEqual(len(self.project.shape["openings"]), 2)
        self.assertEqual(self.project.shape_revision, 2)

    def test_one_taken_out_of_the_shape_goes_where_nothing_hangs_on_it(self) -> None:
        self.draw({**SHAPE, "openings": [DOOR]})
        self.assertFalse(Element.objects.filter(project=self.project, shape_key="opening/w1").exists())

    def test_one_with_a_planned_u_stays_marked_and_out_of_the_heat(self) -> None:
        window = self.opening("w1")
        window.planned_u_w_m2k = 1.2
        window.save()
        answer = self.draw({**SHAPE, "openings": [DOOR]})
        self.assertEqual(answer["gone"], [window.pk])
        heat = self.client.get(f"/api/projects/{self.project.pk}/heat").json()
        self.assertNotIn(window.pk, [row["element_id"] for row in heat["rows"]])
        self.assertTrue([words for words in heat["missing"] if "no longer in the shape" in words])

    def test_one_drawn_again_counts_again(self) -> None:
        window = self.opening("w1")
        window.planned_u_w_m2k = 1.2
        window.save()
        self.draw({**SHAPE, "openings": [DOOR]})
        self.draw(SHAPE)
        heat = self.client.get(f"/api/projects/{self.project.pk}/heat").json()
        self.assertIn(window.pk, [row["element_id"] for row in heat["rows"]])

    def test_a_wall_with_a_stated_construction_stays_when_its_part_goes(self) -> None:
        wing = {**copy.deepcopy(SHAPE["bodies"][0]), "id": "wing", "name": "Wing"}
        wing["outline"] = [[10, 0], [14, 0], [14, 4], [10, 4]]
        self.draw({**SHAPE, "bodies": [*SHAPE["bodies"], wing]})
        walls = Element.objects.filter(project=self.project, shape_key__startswith="wing/", kind="wall")
        stated = walls.first()
        assert stated is not None
        option = stated.as_found
        option.build_up = {"layers": [{"id": "a", "material": "brick_old", "thickness_mm": 230, "existing": True}]}
        option.save()
        self.draw(SHAPE)
        left = list(Element.objects.filter(project=self.project, shape_key__startswith="wing/"))
        self.assertEqual([one.pk for one in left], [stated.pk])
