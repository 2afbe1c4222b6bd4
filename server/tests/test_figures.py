"""Figures of the sheet and of the building, the engine's bookkeeping, the worker's end."""

from __future__ import annotations

import errno
from typing import Any
from unittest import mock

from django.core.management import call_command
from django.test import TestCase, override_settings

from core.brief import facing_word
from core.errors import Cancelled, NotConverged
from server.heat.figures import heat as heat_of
from server.options import figures
from server.projects.models import Element, Option, Project
from server.runs import worker
from server.runs.actions import ask_run
from server.runs.engine import AHEAD, Engine
from server.runs.models import Run
from server.tests.helpers import client_of, corrie, person, send


class FakeFuture:
    """What Dask gives for a run that was handed over."""

    def __init__(self) -> None:
        self.status, self.answer = "pending", "done"

    def result(self) -> str:
        return self.answer

    def done(self) -> bool:
        return self.status != "pending"

    def exception(self) -> Exception:
        return RuntimeError("its worker was killed too often")


class FakeClient:
    """Stands in for a cluster of two workers: keeps what was submitted, lets a test finish or lose it."""

    def __init__(self) -> None:
        self.futures: dict[int, FakeFuture] = {}

    def submit(self, function: Any, run_id: int, **words: Any) -> FakeFuture:
        self.futures[run_id] = FakeFuture()
        return self.futures[run_id]

    def nthreads(self) -> dict[str, int]:
        return {"one": 1, "two": 1}


class EngineBooks(TestCase):
    def setUp(self) -> None:
        user = person("owner")
        project = corrie(user)
        walls = Option.objects.filter(element__project=project, element__name="Platform face, upper")
        for option in walls:
            ask_run(user, option.pk)
        self.client_of_cluster = FakeClient()
        with mock.patch.object(Engine, "_connect", lambda engine, workers: self.client_of_cluster):
            self.engine = Engine(workers=2)

    def test_it_keeps_one_more_under_way_than_there_are_workers(self) -> None:
        self.engine.step()
        self.assertEqual(len(self.engine.under_way), 1, "the options wait for as found, from which they start")
        first = min(self.client_of_cluster.futures)
        self.assertEqual(Run.objects.get(pk=first).option.role, Option.AS_FOUND)
        Run.objects.get(pk=first).mark_done(1.0)
        self.client_of_cluster.futures[first].status = "finished"
        self.engine.step()
        self.assertEqual(len(self.engine.under_way), 2 + AHEAD)
        self.assertEqual(Run.objects.filter(status=Run.RUNNING).count(), 2 + AHEAD)
        self.assertEqual(Run.objects.filter(status=Run.WAITING).count(), 0)

    def test_a_run_whose_worker_is_lost_waits_again(self) -> None:
        self.engine.step()
        lost = max(self.client_of_cluster.futures)
        Run.objects.filter(pk=lost).update(begun=True)
        self.client_of_cluster.futures[lost].status = "error"
        with self.assertLogs("server.runs.engine", "ERROR"):
            self.engine.step()
        run = Run.objects.get(pk=lost)
        self.assertEqual((run.status, run.attempts, run.begun), (Run.RUNNING, 1, False), "taken up again at once")

    def test_a_full_disk_is_held_against_no_run(self) -> None:
        self.engine.step()
        stopped = max(self.client_of_cluster.futures)
        with mock.patch.object(worker, "_compute", side_effect=OSError(errno.ENOSPC, "no space")):
            self.assertEqual(worker.execute(stopped), worker.INTERRUPTED)
        future = self.client_of_cluster.futures[stopped]
        future.status, future.answer = "finished", worker.INTERRUPTED
        self.engine.step()
        run = Run.objects.get(pk=stopped)
        self.assertEqual((run.status, run.attempts), (Run.WAITING, 0))
        self.assertEqual(self.engine.under_way, {}, "nothing new is begun for a while")

    def test_two_runners_do_not_claim_the_same_run(self) -> None:
        Run.objects.update(found_key="")
        claimed = [Run.objects.claim_next() for _ in range(4)]
        ids = [run.pk for run in claimed if run is not None]
        self.assertEqual(len(ids), 4)
        self.assertEqual(len(set(ids)), 4)

    def test_how_a_run_can_end(self) -> None:
        for error, status in ((Cancelled(), Run.CANCELLED), (NotConverged(3600.0, "50 mm", 2.0), Run.FAILED)):
            run = Run.objects.claim_next()
            assert run is not None
            with mock.patch.object(worker, "_compute", side_effect=error):
                self.assertEqual(worker.execute(run.pk), status)
        run = Run.objects.claim_next()
        assert run is not None
        with (
            mock.patch.object(worker, "_compute", side_effect=ZeroDivisionError("bug")),
            self.assertRaises(ZeroDivisionError),
        ):
            worker.execute(run.pk)
        run.refresh_from_db()
        self.assertEqual(run.status, Run.FAILED)
        self.assertIn("ZeroDivisionError", run.error)


class Sheets(TestCase):
    def setUp(self) -> None:
        self.user = person("owner")
        self.project = corrie(self.user)

    def test_the_demo_shows_every_kind_of_answer(self) -> None:
        for element in self.project.elements.all():
            if not element.has_build_up:
                continue
            sheet = figures.sheet(element)
            self.assertEqual(sheet.options[0].role, Option.AS_FOUND)
            for option in sheet.options:
                with self.subTest(element=element.name, option=option.name):
                    assert option.figures.thermal is not None, option.figures.refused
                    self.assertGreater(option.figures.thermal.u_effective, 0.05)
                    if element.kind == "wall" and "Shed" not in element.name:
                        self.assertEqual(len(option.figures.case_hash), 64)

    def test_conditions_in_words(self) -> None:
        face = self.project.elements.get(name="Platform face, upper")
        shown = figures.conditions(face, face.place)
        self.assertEqual((shown.facing, shown.climate_origin), ("NW", "generated, not measured"))
        self.assertAlmostEqual(shown.driven_rain_mm, 399, delta=1)
        self.assertEqual(
            [facing_word(d) for d in (0, 22, 23, 180, 337, 338, 359)], ["N", "N", "NE", "S", "NW", "N", "N"]
        )

    def test_heat_adds_up_and_names_what_is_missing(self) -> None:
        heat = heat_of(self.project)
        self.assertEqual(heat.missing, [])
        for part in ("before_w_k", "after_w_k", "before_kwh", "after_kwh", "before_w", "after_w"):
            self.assertAlmostEqual(sum(getattr(row, part) for row in heat.rows), getattr(heat.total, part), places=6)
        windows = next(row for row in heat.rows if row.name == "Sash windows, garden")
        self.assertAlmostEqual(windows.before_w_k, 5.32 * 4.59)
        self.assertAlmostEqual(windows.after_w_k, 5.32 * 1.7)
        floor = next(row for row in heat.rows if row.kind == "floor")
        assert floor.u_before is not None
        assert floor.factor_b is not None and floor.factor_after is not None
        self.assertAlmostEqual(floor.before_w_k, 59.53 * floor.factor_b * floor.u_before)
        [void] = heat.spaces_before
        self.assertAlmostEqual(floor.factor_b, void.outer_w_k / (void.inner_w_k + void.outer_w_k))
        self.assertGreater(floor.factor_after, floor.factor_b, "the better the floor, the colder the void")
        self.assertAlmostEqual(heat.total.before_w, heat.total.before_w_k * (20 - heat.design_c), places=6)
        Element.objects.filter(name="Sash windows, garden").update(u_w_m2k=None)
        Project.objects.update(volume_m3=None)
        missing = heat_of(Project.objects.get()).missing
        self.assertEqual(len(missing), 2)
        self.assertIn("Sash windows, garden: no U-value", missing[0])

    def test_a_build_up_that_iso_6946_refuses_says_so(self) -> None:
        face = self.project.elements.get(name="Garden face")
        layers = [
            {
                "id": "f",
                "material": "pur_foam",
                "thickness_mm": 200,
                "framing": {"material": "steel_sheet", "share": 0.02},
            }
        ]
        answer = send(
            client_of(self.user), "POST", f"/api/elements/{face.pk}/preview", {"build_up": {"layers": layers}}
        ).json()
        self.assertIsNone(answer["thermal"])
        self.assertIn("two-dimensional", answer["refused"])
        self.assertIsNone(answer["loss_kwh_m2a"])

    def test_history_tells_who_did_what(self) -> None:
        client = client_of(self.user)
        face = self.project.elements.get(name="Platform face, upper")
        option = face.options.get(name__contains="thin insulating")
        send(client, "PUT", f"/api/elements/{face.pk}/choice", {"option_id": option.pk, "reason": "dries inward"})
        page = client.get(f"/api/projects/{self.project.pk}").json()
        self.assertEqual(page["history"][0]["person"], "Owner")
        self.assertIn("dries inward", page["history"][0]["what"])
        self.assertEqual(len(page["elements"]), 21)

    def test_the_library_tells_where_values_are_from(self) -> None:
        answer = client_of(self.user).get("/api/library").json()
        stone = next(m for m in answer["materials"] if m["id"] == "sandstone_rubble")
        self.assertEqual(stone["sources"]["a_value_kg_m2s05"], "estimate")
        self.assertEqual(answer["climates"][0]["origin"], "generated, not measured")

    def test_the_demo_is_loaded_once(self) -> None:
        with override_settings():
            call_command("load_demo", "--no-runs")
            count = Project.objects.count()
            call_command("load_demo", "--no-runs")
        self.assertEqual(Project.objects.count(), count)
