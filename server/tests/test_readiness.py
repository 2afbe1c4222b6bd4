"""Readiness counts what is still open: overdue, closed without what had to be shown, wet readings, assumed layers, overrides."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.test import TestCase
from django.utils import timezone

from server.projects.models import Element, Option, Project
from server.survey.models import Evidence, Measurement, WaterItem
from server.tests.helpers import client_of, person, send

STATED = {"layers": [{"id": "a", "material": "brick_old", "thickness_mm": 220, "existing": True, "known": "seen"}]}
PIN = {"kind": "damp", "place": {"view": "elevation", "body": "main", "face": "a", "x_m": 1.0, "y_m": 1.0}}


class Ready(TestCase):
    """A wall that is ready, and one thing after another that takes it away."""

    def setUp(self) -> None:
        self.client = client_of(owner := person("owner"))
        self.project = Project.objects.create(owner=owner, name="Byre")
        self.element = Element.objects.create(
            project=self.project, name="W", kind="wall", area_m2=10, looked_at_by="Owner"
        )
        self.found = Option.objects.create(element=self.element, role=Option.AS_FOUND, name="As found", build_up=STATED)
        self.uids = 0

    def state(self) -> tuple[str, list[str]]:
        page = self.client.get(f"/api/projects/{self.project.pk}").json()
        one = page["readiness"][str(self.element.pk)]
        return one["state"], one["reasons"]

    def item(self, **fields: Any) -> WaterItem:
        self.uids += 1
        row = WaterItem.objects.create(
            project=self.project, uid=f"item-{self.uids:04d}", stage="rain", title="Clear the gutter", **fields
        )
        row.elements.add(self.element)
        return row

    def opened_by(self, words: str) -> None:
        state, reasons = self.state()
        self.assertEqual(state, "open", reasons)
        self.assertTrue(any(words in reason for reason in reasons), reasons)

    def test_looked_at_stated_and_with_nothing_found_it_is_ready(self) -> None:
        self.assertEqual(self.state()[0], "ready")

    def test_nobody_looked(self) -> None:
        Element.objects.filter(pk=self.element.pk).update(looked_at_by="")
        self.assertEqual(self.state()[0], "not looked at")

    def test_nobody_looked_and_yet_it_was_read_wet(self) -> None:
        """A wet reading and an open item are told whether or not somebody looked; that nobody did stands beside them."""
        Element.objects.filter(pk=self.element.pk).update(looked_at_by="")
        reading = {"shown_percent": 27.0, "wood_temperature_c": 15.0, "species": "pine"}
        Measurement.objects.create(
            project=self.project, uid="wet-12345", kind="moisture", element=self.element, place="plate", data=reading
        )
        self.opened_by("1 reading wet")
        self.opened_by("nobody has noted evidence here")
        Measurement.objects.all().delete()
        self.assertEqual(self.state()[0], "not looked at")
        self.item()
        self.opened_by("1 water item open")

    def test_a_pin_that_says_nothing_found_is_a_look(self) -> None:
        Element.objects.filter(pk=self.element.pk).update(looked_at_by="")
        Evidence.objects.create(
            project=self.project, uid="nothing-1", element=self.element, pin={**PIN, "kind": "nothing_found"}
        )
        self.assertEqual(self.state()[0], "ready")

    def test_evidence_without_a_cause_opens_it(self) -> None:
        Evidence.objects.create(project=self.project, uid="damp-0001", element=self.element, pin=PIN)
        self.opened_by("1 piece of evidence without a confirmed cause")

    def test_a_cause_without_an_item_opens_it(self) -> None:
        Evidence.objects.create(
            project=self.project, uid="damp-0001", element=self.element, pin=PIN, cause="rain", cause_by="Owner"
        )
        self.opened_by("1 confirmed cause without a water item")

    def test_an_open_item_opens_it_and_closing_it_closes_it(self) -> None:
        row = self.item()
        self.opened_by("1 water item open")
        row.state = WaterItem.CLOSED
        row.save()
        self.assertEqual(self.state()[0], "ready")

    def test_an_overdue_item_is_counted_as_such(self) -> None:
        self.item(due=timezone.localdate() - timedelta(days=1))
        self.opened_by("1 water item past their date")

    def test_an_item_due_today_is_not_overdue(self) -> None:
        self.item(due=timezone.localdate())
        self.assertFalse(any("past their date" in reason for reason in self.state()[1]))

    def test_an_item_closed_without_the_photo_it_had_to_show_opens_it(self) -> None:
        row = self.item(state=WaterItem.CLOSED, shown_by="a photo of the outlet running")
        self.opened_by("closed without what had to be shown")
        row.photos = ["photo-1"]
        row.save()
        self.assertEqual(self.state()[0], "ready")

    def reading(self, percent: float, days_ago: int, place: str = "joist 3") -> None:
        self.uids += 1
        Measurement.objects.create(
            project=self.project,
            uid=f"reading-{self.uids:04d}",
            element=self.element,
            kind=Measurement.MOISTURE,
            measured_on=timezone.localdate() - timedelta(days=days_ago),
            place=place,
            data={"shown_percent": percent},
        )

    def test_a_wet_reading_opens_it_until_a_dry_one_at_the_same_place(self) -> None:
        self.reading(27.0, 30)
        self.opened_by("1 reading wet, with no later dry one")
        self.reading(14.0, 1, "joist 4")
        self.opened_by("1 reading wet")
        self.reading(14.0, 1)
        self.assertEqual(self.state()[0], "ready")

    def test_an_assumed_layer_opens_it(self) -> None:
        self.found.build_up = {"layers": [{**STATED["layers"][0], "known": "assumed"}]}
        self.found.save()
        self.opened_by("1 layer only assumed")

    def test_no_construction_is_not_ready(self) -> None:
        self.found.build_up = {"layers": []}
        self.found.save()
        self.assertNotEqual(self.state()[0], "ready")

    def test_an_override_says_who_and_why(self) -> None:
        self.item()
        body = {"reason": "the owner opens it up on Monday", "name": "Isla Marr"}
        answer = send(self.client, "PUT", f"/api/elements/{self.element.pk}/override", body)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        state, reasons = self.state()
        self.assertEqual(state, "ready by override")
        self.assertIn("the owner opens it up on Monday", reasons[0])

    def test_another_elements_items_do_not_count_here(self) -> None:
        self.add(0)
        other = Element.objects.get(name="E0")
        row = WaterItem.objects.create(project=self.project, uid="other-001", stage="rain", title="x")
        row.elements.add(other)
        self.assertEqual(self.state()[0], "ready")

    def test_the_page_asks_as_often_for_sixty_elements_as_for_six(self) -> None:
        def asked() -> int:
            from django.db import connection
            from django.test.utils import CaptureQueriesContext

            with CaptureQueriesContext(
                connection,
            ) as queries:
                self.client.get(f"/api/projects/{self.project.pk}")
            return len(queries)

        for index in range(5):
            self.add(index)
        few = asked()
        for index in range(5, 60):
            self.add(index)
        self.assertLessEqual(asked(), few + 2)

    def add(self, index: int) -> None:
        one = Element.objects.create(project=self.project, name=f"E{index}", kind="wall", area_m2=1)
        Option.objects.create(element=one, role=Option.AS_FOUND, name="As found", build_up=STATED)
