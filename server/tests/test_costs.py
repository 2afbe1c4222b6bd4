"""Prices: the project's own first, then of the person's other projects, then the supplier's; works; sums of schemes; carried."""

from __future__ import annotations

import io
from typing import Any

from django.test import TestCase

from server.exchange.bring import import_file
from server.exchange.write import document, write
from server.projects.models import HistoryEntry, Option, Project
from server.tests.helpers import client_of, corrie, person, send


class Costs(TestCase):
    def setUp(self) -> None:
        self.user = person("anna")
        self.client = client_of(self.user)  # type: ignore[assignment]
        self.project = self.unpriced()
        self.face = self.project.elements.get(name="Garden face")

    def unpriced(self) -> Project:
        """The demo project with no price and no work in it."""
        project = corrie(self.user)
        project.prices = []
        project.save()
        Option.objects.filter(element__project=project).update(works=[])
        return project

    def costs(self) -> Any:
        page = self.client.get(f"/api/elements/{self.face.pk}/costs").json()
        return next(one for one in page["options"] if one["option_id"] == self.face.chosen_id)

    def price(self, project: Project, material: str, low: float, status: int = 204, **more: Any) -> Any:
        body = {
            "price": {
                "material": material,
                "low": low,
                "high": low + 4,
                "currency": self.project.current_brief.currency,
                **more,
            }
        }
        answer = send(self.client, "PUT", f"/api/projects/{project.pk}/prices/{material}", body)
        self.assertEqual(answer.status_code, status, answer.content)
        return answer

    def line(self, material_name: str) -> Any:
        return next(one for one in self.costs()["cost"]["lines"] if one["name"].startswith(material_name))

    def whose(self, material_name: str) -> Any:
        return self.line(material_name)["prices"][0]["whose"]

    def test_whose_price_counts(self) -> None:
        self.assertIn("made up", self.whose("wood-fibre board"))
        other = self.unpriced()
        Project.objects.filter(pk=other.pk).update(name="The mill")
        self.price(other, "wood_fibre_board", 30, mm=100, on="2026-03-01", source="a quote")
        self.assertEqual(self.whose("wood-fibre board"), "of The mill")
        self.price(self.project, "wood_fibre_board", 26, mm=100, on="2026-05-01", source="their list")
        found = self.line("wood-fibre board")
        self.assertEqual((self.whose("wood-fibre board"), found["low"], found["high"]), ("own", 26.0, 30.0))
        self.price(self.project, "wood_fibre_board", 27, mm=100, source="their list")
        self.assertEqual(self.line("wood-fibre board")["low"], 27.0, "one price a source")
        entry = HistoryEntry.objects.filter(action="set price").first()
        assert entry is not None and entry.before is not None and entry.after is not None
        self.assertEqual((entry.before["price"]["low"], entry.after["price"]["low"]), (26.0, 27.0))
        send(self.client, "PUT", f"/api/projects/{self.project.pk}/prices/wood_fibre_board", {"price": None})
        self.assertEqual(self.whose("wood-fibre board"), "of The mill")
        strange = person("bert")
        self.assertNotIn("The mill", str(client_of(strange).get(f"/api/elements/{self.face.pk}/costs").content))

    def test_two_merchants_prices_stay_both(self) -> None:
        self.price(self.project, "wood_fibre_board", 26, mm=100, source="North Yard")
        self.price(self.project, "wood_fibre_board", 31, mm=100, source="South Yard")
        found = self.line("wood-fibre board")
        self.assertEqual((found["low"], found["high"], len(found["prices"])), (26.0, 35.0, 2))
        where = f"/api/projects/{self.project.pk}/prices/wood_fibre_board"
        renamed = {**found["prices"][1]["price"], "source": "South Yard, by lorry", "low": 33.0}
        send(self.client, "PUT", where, {"price": renamed, "in_place_of": "South Yard"})
        sources = [one["price"]["source"] for one in self.line("wood-fibre board")["prices"]]
        self.assertEqual(sources, ["North Yard", "South Yard, by lorry"])
        send(self.client, "PUT", where, {"price": None, "in_place_of": "North Yard"})
        self.assertEqual(self.line("wood-fibre board")["low"], 33.0)

    def test_what_is_refused(self) -> None:
        self.price(self.project, "air_vented", 3, 422)
        self.price(self.project, "unobtainium", 3, 422)
        self.price(self.project, "softwood", -3, 422)
        body = {"price": {"material": "softwood", "low": 3, "high": 4}}
        self.assertEqual(send(self.client, "PUT", f"/api/projects/{self.project.pk}/prices/lime_render", body).status_code, 422)  # fmt: skip
        found = send(self.client, "PUT", f"/api/options/{self.face.as_found.pk}/works", {"works": []})
        self.assertEqual(found.json()["code"], "as_found")

    def test_a_scheme_adds_up_one_money(self) -> None:
        """Without a money in the brief that of the project's own prices counts, and another is left out."""
        self.project.brief = {**self.project.brief, "currency": ""}
        self.project.save()
        self.price(self.project, "lime_render", 10, currency="GBP")
        works = [{"what": "scaffold", "low": 1000, "high": 1000, "currency": "EUR"}]
        send(self.client, "PUT", f"/api/options/{self.face.chosen_id}/works", {"works": works})
        found = self.costs()["cost"]
        self.assertEqual((found["currency"], found["low"]), ("GBP", 10.0))
        self.assertIn("scaffold", found["foreign"])
        row = self.client.get(f"/api/projects/{self.project.pk}/schemes").json()["schemes"][0]
        self.assertEqual(row["currency"], "GBP")
        self.assertLess(row["cost_low"], 1000 * self.face.area_m2)

    def test_works_and_how_it_is_built(self) -> None:
        before = self.costs()["cost"]
        self.assertTrue(before["unpriced"])
        works = [
            {
                "what": "scaffold and render",
                "low": 90,
                "high": 140,
                "currency": self.project.current_brief.currency,
                "source": "builder",
            }
        ]
        answer = send(self.client, "PUT", f"/api/options/{self.face.chosen_id}/works", {"works": works})
        self.assertEqual(answer.status_code, 200, answer.content)
        after = self.costs()
        self.assertAlmostEqual(after["cost"]["low"], before["low"] + 90)
        self.assertAlmostEqual(after["cost"]["high"], before["high"] + 140)
        self.assertEqual(after["built"]["way"], "outside_render")
        self.assertIn("scaffold", after["built"]["takes"]["metric"])

    def test_schemes_add_them_up_and_the_file_carries_them(self) -> None:
        works = [{"what": "all of it", "low": 100, "high": 150, "currency": self.project.current_brief.currency}]
        self.price(self.project, "wood_fibre_board", 30, mm=100)
        before = self.client.get(f"/api/projects/{self.project.pk}/schemes").json()["schemes"][0]
        send(self.client, "PUT", f"/api/options/{self.face.chosen_id}/works", {"works": works})
        after = self.client.get(f"/api/projects/{self.project.pk}/schemes").json()["schemes"][0]
        self.assertAlmostEqual(after["cost_low"] - before["cost_low"], 100 * self.face.area_m2)
        self.assertAlmostEqual(after["cost_high"] - before["cost_high"], 150 * self.face.area_m2)
        self.assertEqual(after["currency"], self.project.current_brief.currency)
        self.assertGreater(after["carbon_high"], after["carbon_low"])
        with write(Project.objects.get(pk=self.project.pk)) as stream:
            raw = stream.read()
        copy = import_file(person("bert"), io.BytesIO(raw), len(raw))
        self.assertEqual(document(Project.objects.get(pk=copy.pk)), document(Project.objects.get(pk=self.project.pk)))
        self.assertEqual(copy.prices[0]["material"], "wood_fibre_board")
