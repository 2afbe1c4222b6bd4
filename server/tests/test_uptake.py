"""Water uptake as a reading: kept, taken into the runs of every option that has the layer, exported, refused."""

from __future__ import annotations

import json
import math
from typing import Any

from django.test import TestCase

from server.exchange.bring import import_file
from server.exchange.write import write
from server.projects.models import Element, HistoryEntry
from server.runs.conditions import _offers
from server.survey.models import Measurement
from server.tests.helpers import client_of, corrie, person, send


class Uptake(TestCase):
    def setUp(self) -> None:
        self.owner = person("owner")
        self.client = client_of(self.owner)
        self.project = corrie(self.owner)
        self.path = f"/api/projects/{self.project.pk}/measurements"
        self.element = Element.objects.get(project=self.project, name="Garden face")
        self.layer = next(
            one for one in self.element.as_found.current.layers if getattr(one.entry, "a_value_kg_m2s05", None)
        )

    def keep(self, uid: str, ml: float, status: int = 200, **changed: Any) -> Any:
        body = {
            "kind": "uptake",
            "element_id": self.element.pk,
            "place": f"stone {uid}",
            "uptake": {"layer": self.layer.id, "area_cm2": 50.0, "rows": [[5, ml / 2], [20, ml]]},
            **changed,
        }
        answer = send(self.client, "PUT", f"{self.path}/{uid}", body)
        self.assertEqual(answer.status_code, status, answer.content[:500])
        return answer.json()

    def take(self, uid: str, status: int = 200) -> Any:
        answer = send(self.client, "POST", f"{self.path}/{uid}/take-uptake")
        self.assertEqual(answer.status_code, status, answer.content[:500])
        return answer.json()

    def a_values(self) -> dict[str, float | None]:
        return {
            option.name: layer.a_value_kg_m2s05
            for option in self.element.options.all()
            for layer in option.current.layers
            if layer.id == self.layer.id
        }

    def test_a_reading_is_kept_with_what_it_means_and_changes_no_run(self) -> None:
        before = self.a_values()
        kept = self.keep("uptake-1", 4.0)
        self.assertGreater(kept["measured"]["as_read_kg_m2s05"], kept["measured"]["a_value_kg_m2s05"])
        self.assertEqual(kept["layer"], self.layer.entry.name)
        self.assertEqual(kept["refused"], "")
        self.assertEqual(self.a_values(), before)
        self.assertTrue(HistoryEntry.objects.filter(project=self.project, what="noted a water uptake").exists())

    def test_taken_it_is_in_every_option_that_keeps_the_layer(self) -> None:
        kept = self.keep("uptake-1", 4.0)
        revisions = {option.pk: option.revision for option in self.element.options.all()}
        page = self.take("uptake-1")
        expected = float(f"{kept['measured']['a_value_kg_m2s05']:.4g}")
        self.assertEqual(set(self.a_values().values()), {expected})
        mine = next(one for one in page["measurements"] if one["uid"] == "uptake-1")
        self.assertEqual(mine["in_runs_kg_m2s05"], expected)
        self.assertTrue(all(option.revision == revisions[option.pk] + 1 for option in self.element.options.all()))

    def test_readings_of_one_layer_count_together(self) -> None:
        first = self.keep("uptake-1", 2.0)["measured"]["a_value_kg_m2s05"]
        second = self.keep("uptake-2", 8.0)["measured"]["a_value_kg_m2s05"]
        self.take("uptake-1")
        (taken,) = set(self.a_values().values())
        assert taken is not None
        self.assertAlmostEqual(taken / math.sqrt(first * second), 1.0, delta=0.01)

    def test_readings_are_offered_where_an_option_stands_on_them(self) -> None:
        kept = self.keep("uptake-1", 4.0)["measured"]["a_value_kg_m2s05"]
        taken = getattr(self.layer.entry, "a_value_kg_m2s05", 0.0)
        [offer] = _offers(self.element)["A-value"]
        self.assertAlmostEqual(offer.measured, kept / taken, delta=0.005 * kept / taken)
        self.assertIn(self.layer.entry.name, offer.proof)
        other = Element.objects.exclude(pk=self.element.pk).filter(project=self.project)[0]
        self.assertNotIn("A-value", _offers(other))
        self.take("uptake-1")
        self.element = Element.objects.get(pk=self.element.pk)
        self.assertAlmostEqual(_offers(self.element)["A-value"][0].measured, 1.0, delta=0.005)
        test = self.client.get(f"/api/projects/{self.project.pk}/gauge").json()["test"]
        door = {"kind": "blower_door", "blower_door": test, "measured_on": "2026-03-02"}
        shell = send(self.client, "PUT", f"{self.path}/door-0001", door).json()["airtightness"]["q_envelope_50"]
        offer = _offers(self.element)["air leakage"][-1]
        self.assertEqual((offer.measured, str(offer.on)), (float(f"{shell['value']:.3g}"), "2026-03-02"))
        self.assertIn("this element alone was not measured", offer.note)

    def test_years_computed_before_are_out_of_date_and_a_draft_takes_it_too(self) -> None:
        sheet = f"/api/elements/{self.element.pk}/sheet"
        before = {o["id"]: o["figures"]["case_hash"] for o in self.client.get(sheet).json()["options"]}
        option = self.element.options.exclude(role="as_found").first()
        assert option is not None
        option.draft = json.loads(json.dumps(option.build_up))
        option.save()
        self.keep("uptake-1", 0.1)
        self.take("uptake-1")
        after = {o["id"]: o["figures"]["case_hash"] for o in self.client.get(sheet).json()["options"]}
        self.assertTrue(all(after[pk] != before[pk] for pk in before))
        option.refresh_from_db()
        assert option.draft is not None
        self.assertIsNotNone(next(x for x in option.draft["layers"] if x["id"] == self.layer.id)["a_value_kg_m2s05"])

    def test_a_study_opens_with_it(self) -> None:
        sheet = f"/api/elements/{self.element.pk}/sheet"
        wide = self.client.get(sheet).json()["options"][0]["study"]
        self.keep("uptake-1", 2.0)
        self.take("uptake-1")
        narrow = self.client.get(sheet).json()["options"][0]["study"]
        self.assertEqual(wide[0]["name"], "A-value")
        self.assertLess(narrow[0]["high"] / narrow[0]["low"], wide[0]["high"] / wide[0]["low"])

    def test_a_layer_that_is_not_there_is_said_and_cannot_be_taken(self) -> None:
        kept = self.keep("uptake-1", 4.0, uptake={"layer": "gone", "area_cm2": 50.0, "rows": [[5, 1]]})
        self.assertIn("no longer there", kept["refused"])
        self.assertEqual(self.take("uptake-1", 422)["code"], "no_uptake")

    def test_a_reading_without_an_element_cannot_be_taken(self) -> None:
        self.keep("uptake-1", 4.0, element_id=None)
        self.assertIn("choose it again", self.take("uptake-1", 422)["message"])

    def test_no_reading_of_its_kind_is_refused(self) -> None:
        self.assertEqual(self.keep("uptake-1", 4.0, 422, uptake=None)["code"], "no_data")
        self.assertFalse(Measurement.objects.filter(uid="uptake-1").exists())

    def test_a_stranger_finds_nothing(self) -> None:
        self.keep("uptake-1", 4.0)
        other = client_of(person("other"))
        self.assertEqual(send(other, "POST", f"{self.path}/uptake-1/take-uptake").status_code, 404)

    def test_another_kind_of_reading_is_no_uptake(self) -> None:
        self.keep("uptake-1", 4.0, kind="moisture", uptake=None, moisture={"shown_percent": 15.0})
        self.take("uptake-1", 404)

    def test_it_survives_the_project_file(self) -> None:
        self.keep("uptake-1", 4.0)
        self.take("uptake-1")
        written = write(self.project)
        again = import_file(self.owner, written, written.seek(0, 2))
        row = Measurement.objects.get(project=again, uid="uptake-1")
        self.assertEqual(row.kind, Measurement.UPTAKE)
        self.assertEqual(row.data["rows"], [[5.0, 2.0], [20.0, 4.0]])
        page = self.client.get(f"/api/projects/{again.pk}/measurements").json()
        mine = next(one for one in page["measurements"] if one["uid"] == "uptake-1")
        self.assertIsNotNone(mine["in_runs_kg_m2s05"])
        self.assertEqual(mine["refused"], "")

    def test_only_layers_that_draw_are_offered(self) -> None:
        layers = self.client.get(self.path).json()["layers"]
        self.assertIn(self.layer.id, [one["layer_id"] for one in layers if one["element_id"] == self.element.pk])
        from core.materials.library import Solid, entry_of

        found = {layer.id: layer.material for layer in self.element.as_found.current.layers}
        for one in layers:
            if one["element_id"] == self.element.pk:
                entry = entry_of(found[one["layer_id"]])
                self.assertTrue(isinstance(entry, Solid) and entry.a_value_kg_m2s05)
