"""The years of proposals as rows of the queue: asked for once, answered, kept while nothing changes, given up when nobody looks."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path
from typing import Any

from django.test import TestCase, override_settings

from server.projects.models import HistoryEntry, Option
from server.runs import worker
from server.runs.models import Batch, Run
from server.tests.helpers import client_of, person, send

BRICK = {"layers": [{"id": "brick", "material": "brick_old", "thickness_mm": 120, "existing": True}]}
DRAWN = {"layers": [*BRICK["layers"], {"id": "board", "material": "calcium_silicate", "thickness_mm": 50}]}
PLACE = {"facing_deg": 45, "exposure": "sheltered", "outside_limit_mm": 0, "room_limit_mm": 60, "target_u_w_m2k": 0.9}


class Standing(TestCase):
    def setUp(self) -> None:
        folder = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, folder)
        override = override_settings(RESULTS=Path(folder))
        override.enable()
        self.addCleanup(override.disable)
        self.client = client_of(person("owner"))
        project = send(self.client, "POST", "/api/projects", {"name": "Byre", "climate": "sollera"}).json()["id"]
        element = {"name": "W", "kind": "wall", "area_m2": 9, "build_up": BRICK, **PLACE}
        self.element = send(self.client, "POST", f"/api/projects/{project}/elements", element).json()["id"]
        self.path = f"/api/elements/{self.element}/proposals"

    def ask(self) -> Any:
        answer = send(self.client, "POST", f"{self.path}/years")
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def stands(self, way: str) -> Any:
        offered = self.client.get(self.path).json()["proposals"]["offered"]
        return next(one["stands"] for one in offered if one["way"] == way)

    def test_asked_once_answered_kept_and_taken(self) -> None:
        before = self.client.get(self.path).json()
        self.assertEqual((before["runs"], before["proposals"]["open"]), ([], len(before["proposals"]["offered"])))
        first = self.ask()
        self.assertEqual({run["status"] for run in first["runs"]}, {Run.WAITING})
        self.assertEqual({run["way"] for run in first["runs"]}, {one["way"] for one in first["proposals"]["offered"]})
        count = Run.objects.count()
        self.ask()
        self.assertEqual(Run.objects.count(), count, "what is under way is not asked for again")
        self.assertEqual(HistoryEntry.objects.filter(action="run proposals").count(), 1)
        run = Run.objects.get(inputs__way="inside_lime")
        Run.objects.exclude(pk=run.pk).delete()
        claimed = Run.objects.claim_next()
        assert claimed is not None
        self.assertEqual(worker.execute(claimed.pk), Run.DONE)
        said = self.stands("inside_lime")
        self.assertIn(said["state"], ("stands", "stands only if", "does not stand"))
        self.assertGreaterEqual(said["runs"], 2)
        taken = send(self.client, "POST", f"{self.path}/inside_lime").json()["build_up"]["layers"]
        self.assertIn(said["mm"], [layer["thickness_mm"] for layer in taken])
        self.assertEqual(
            self.client.get(f"/api/elements/{self.element}/batches").json(), [], "it is no test of an option"
        )
        found = Option.objects.get(element=self.element, role=Option.AS_FOUND)
        layers = [{**BRICK["layers"][0], "thickness_mm": 130}]
        body = {"revision": found.revision, "build_up": {"layers": layers}}
        self.assertEqual(send(self.client, "PUT", f"/api/options/{found.pk}", body).status_code, 200)
        self.assertIsNone(self.stands("inside_lime"), "another wall as found is another answer")

    def test_nobody_looks_any_more(self) -> None:
        self.ask()
        self.assertEqual(send(self.client, "POST", f"{self.path}/leave").status_code, 204)
        self.assertEqual(set(Run.objects.values_list("status", flat=True)), {Run.CANCELLED})
        again = self.ask()
        self.assertEqual({run["status"] for run in again["runs"]}, {Run.WAITING}, "and somebody looks again")

    def test_it_is_nobody_elses(self) -> None:
        other = client_of(person("other"))
        for method, path in (("GET", self.path), ("POST", f"{self.path}/years"), ("POST", f"{self.path}/leave")):
            self.assertEqual(send(other, method, path).status_code, 404)
        self.assertEqual(Batch.objects.count(), 0)

    def test_an_option_is_judged_where_as_found_cannot_be_run(self) -> None:
        """Only air and sheets as found: no years of it; the option beside has its own, and a verdict."""
        found = Option.objects.get(element=self.element, role=Option.AS_FOUND)
        bare = {
            "layers": [
                {"id": "gap", "material": "air_unventilated", "thickness_mm": 30},
                {"id": "foil", "material": "membrane_tight"},
            ]
        }
        found.build_up = bare
        found.save()
        option = send(
            self.client, "POST", f"/api/elements/{self.element}/options", {"name": "brick", "build_up": DRAWN}
        ).json()["id"]
        self.assertEqual(send(self.client, "POST", f"/api/options/{option}/runs").status_code, 202)
        run = Run.objects.get(option=option)
        Run.objects.claim_next()
        self.assertEqual(worker.execute(run.pk), Run.DONE)
        self.assertEqual(self.client.get(self.path).status_code, 200, "and its ways are asked for")
        self.assertEqual({one["status"] for one in self.ask()["runs"]} - {Run.WAITING}, set())
        sheet = self.client.get(f"/api/elements/{self.element}/sheet").json()["options"][1]
        self.assertEqual(sheet["run"]["state"], "current")
        verdict = sheet["run"]["verdict"]
        self.assertTrue(verdict["headline"]["metric"])
        self.assertIn("comparison with as found", " ".join(words["metric"] for words in verdict["not_judged"]))

    def test_read_wet_and_computed_dry(self) -> None:
        from core.criteria.judging import Stated
        from server.projects.models import Element
        from server.runs.verdicts import read_wet
        from server.survey.models import Evidence

        element = Element.objects.get(pk=self.element)
        self.assertEqual(read_wet(element), [])
        pin = {"kind": "soft_timber", "place": {}, "readings": {"wood": {"shown_percent": 25.0}}}
        Evidence.objects.create(project=element.project, element=element, uid="u" * 32, pin=pin, cause="rain")
        again = read_wet(Element.objects.get(pk=self.element))
        self.assertEqual([words.metric for words in again], ["25 % read in the wood", "rain confirmed as a cause"])
        self.assertEqual(Stated(as_found=False, read_wet=again).read_wet, again)
