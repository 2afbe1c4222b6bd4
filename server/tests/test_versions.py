"""Project files of every version that was ever written: what they say, what they left unsaid, and what a newer one refuses."""

from __future__ import annotations

import copy
import io
import json
from typing import Any

from django.test import TestCase

from server.exchange.bring import import_file
from server.exchange.write import document
from server.problems import Problem
from server.projects.models import Project
from server.tests.helpers import person

LAYERS = [{"id": "a", "material": "brick_old", "thickness_mm": 220, "existing": True}]


def file(version: int | None, leaks: dict[str, Any] | None = None, **more: Any) -> dict[str, Any]:
    """A project of one wall with an option, as an older program would have written it."""
    build_up = {"layers": LAYERS, **(leaks or {})}
    raw: dict[str, Any] = {
        "format": "wendrick-project",
        "project": {"name": "Byre", "climate": "corrie"},
        "elements": [
            {
                "name": "W",
                "kind": "wall",
                "area_m2": 10.0,
                "options": [
                    {"role": "as_found", "name": "As found", "build_up": copy.deepcopy(build_up)},
                    {
                        "role": "option",
                        "name": "Lined",
                        "build_up": copy.deepcopy(build_up),
                        "draft": copy.deepcopy(build_up),
                    },
                ],
            }
        ],
        **more,
    }
    if version is not None:
        raw["version"] = version
    return raw


class Versions(TestCase):
    def setUp(self) -> None:
        self.owner = person("owner")

    def bring(self, raw: dict[str, Any]) -> Project:
        data = json.dumps(raw).encode()
        return import_file(self.owner, io.BytesIO(data), len(data))

    def leaks(self, project: Project) -> list[tuple[str, float | None]]:
        found = []
        for option in project.elements.get().options.all():
            for body in (option.build_up, option.draft):
                if body is not None:
                    found.append((body["air_leak"]["preset"], body["rain_leak"]["share"]))
        return found

    NONE = {"air_leak": {"preset": "none"}, "rain_leak": {"share": 0.0}}
    TYPED = {"air_leak": {"preset": "careful"}, "rain_leak": {"share": 0.01}}

    def test_up_to_version_2_a_leak_of_none_was_nobodys_word(self) -> None:
        for version in (1, 2):
            with self.subTest(version=version):
                self.assertEqual(set(self.leaks(self.bring(file(version, self.NONE)))), {("by rule", None)})

    def test_from_version_3_on_none_is_what_somebody_chose(self) -> None:
        self.assertEqual(set(self.leaks(self.bring(file(3, self.NONE)))), {("none", 0.0)})

    def test_leaks_that_were_typed_stay_in_every_version(self) -> None:
        for version in (1, 2, 3):
            with self.subTest(version=version):
                self.assertEqual(set(self.leaks(self.bring(file(version, self.TYPED)))), {("careful", 0.01)})

    def test_what_says_nothing_of_leaks_is_by_rule(self) -> None:
        for version in (1, 2, 3):
            with self.subTest(version=version):
                self.assertEqual({preset for preset, _ in self.leaks(self.bring(file(version)))}, {"by rule"})

    def test_what_is_written_now_is_version_4_and_reads_the_same(self) -> None:
        first = self.bring(file(3, self.TYPED))
        written = document(first)
        self.assertEqual(written["version"], 4)
        again = self.bring(json.loads(json.dumps(written)))
        self.assertEqual(document(again), written)

    def test_a_version_of_the_future_is_refused_whole(self) -> None:
        before = Project.objects.count()
        with self.assertRaises(Problem) as caught:
            self.bring(file(5))
        self.assertIn("version", str(caught.exception))
        self.assertEqual(Project.objects.count(), before)

    def test_fields_that_are_none_of_ours_are_refused_with_their_place(self) -> None:
        raw = file(3)
        raw["elements"][0]["owner_id"] = 1
        with self.assertRaises(Problem) as caught:
            self.bring(raw)
        self.assertIn("owner_id", str(caught.exception))

    def test_an_option_without_its_element_or_two_as_found_are_refused(self) -> None:
        raw = file(3)
        raw["elements"][0]["options"][1]["role"] = "as_found"
        with self.assertRaises(Problem):
            self.bring(raw)
        self.assertEqual(Project.objects.count(), 0)

    def test_a_material_that_is_not_in_the_library_is_named(self) -> None:
        raw = file(3)
        raw["elements"][0]["options"][0]["build_up"]["layers"][0]["material"] = "unobtainium"
        with self.assertRaises(Problem) as caught:
            self.bring(raw)
        self.assertIn("unobtainium", str(caught.exception))

    def test_numbers_that_are_none_are_refused(self) -> None:
        for bad in ("NaN", "Infinity", "1e999"):
            text = json.dumps(file(3)).replace('"area_m2": 10.0', f'"area_m2": {bad}')
            with self.subTest(bad=bad), self.assertRaises(Problem):
                import_file(self.owner, io.BytesIO(text.encode()), len(text))
        self.assertEqual(Project.objects.count(), 0)

    def test_measured_facts_of_a_layer_come_back(self) -> None:
        raw = file(3)
        layer = raw["elements"][0]["options"][0]["build_up"]["layers"][0]
        layer.update({"a_value_kg_m2s05": 0.05, "frost_proof": True, "metal": {"kind": "iron", "part": "ties"}})
        found = self.bring(raw).elements.get().as_found.current.layers[0]
        self.assertEqual((found.a_value_kg_m2s05, found.frost_proof), (0.05, True))
        assert found.metal is not None
        self.assertEqual(found.metal.part, "ties")
