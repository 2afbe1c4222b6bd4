"""Batches: asked, computed, cancelled, resumed, taken from one another; and a cluster of outside workers, one killed."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase

from django.test import TestCase, override_settings

from core.buildup.model import BuildUp
from server.exchange.write import document
from server.projects.models import HistoryEntry, Option, Project
from server.runs import worker
from server.runs.models import Batch, Run
from server.tests.helpers import client_of, person, send
from server.tests.processes import data_folder, manage, rows

ROOT = Path(__file__).resolve().parents[2]
WALL = {
    "layers": [
        {"id": "stone", "material": "sandstone_rubble", "thickness_mm": 120, "existing": True},
        {"id": "board", "material": "calcium_silicate", "thickness_mm": 30},
    ]
}
RAIN = {"name": "rain exposure", "low": 0.5, "high": 2.0}
YEAR = {"name": "weather year", "low": 0, "high": 1}
STUDY = {"inputs": [RAIN, YEAR], "runs": 5, "plane": "stone"}


class Batches(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        override = override_settings(RESULTS=Path(folder.name))
        override.enable()
        self.addCleanup(override.disable)
        self.client = client_of(person("owner"))
        project = send(self.client, "POST", "/api/projects", {"name": "Byre", "volume_m3": 300}).json()["id"]
        element = {"name": "W", "kind": "wall", "area_m2": 9, "facing_deg": 225, "build_up": WALL}
        self.element = send(self.client, "POST", f"/api/projects/{project}/elements", element).json()["id"]
        self.option = self.client.get(f"/api/elements/{self.element}/sheet").json()["options"][0]["id"]

    def ask(self, kind: str, settings: dict[str, Any], status: int = 202, option: bool = True) -> Any:
        field = kind if kind in ("study", "outboard", "wetting") else "plane"
        body = {"kind": kind, field: settings, "option_id": self.option if option else None}
        answer = send(self.client, "POST", f"/api/elements/{self.element}/batches", body)
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def work(self, most: int = 100) -> int:
        """Compute what waits, up to so many runs; returns how many."""
        for count in range(most):
            run = Run.objects.claim_next()
            if run is None:
                return count
            worker.execute(run.pk)
        return most

    def read(self, batch: int) -> Any:
        return self.client.get(f"/api/batches/{batch}").json()

    def test_a_study_cancelled_and_resumed_keeps_what_is_done(self) -> None:
        before = HistoryEntry.objects.count()
        study = self.ask("study", STUDY)
        self.assertEqual((study["total"], study["status"]), (5, "waiting"))
        self.assertEqual(HistoryEntry.objects.count(), before + 1)
        self.work(2)
        send(self.client, "POST", f"/api/batches/{study['id']}/cancel")
        halted = self.read(study["id"])
        self.assertEqual((halted["status"], halted["done"]), ("cancelled", 2))
        self.assertEqual(halted["study"]["runs"], 2, "what is done is summed up")
        self.assertEqual(self.work(), 0, "nothing of it is computed on")
        send(self.client, "POST", f"/api/batches/{study['id']}/resume")
        self.assertEqual(self.work(), 3)
        done = self.read(study["id"])
        self.assertEqual((done["status"], done["done"]), ("done", 5))
        summary = done["study"]
        self.assertLessEqual(summary["low"], summary["share"])
        self.assertLessEqual(summary["share"], summary["high"])
        self.assertEqual({one["name"] for one in summary["influences"]}, {"rain exposure", "weather year"})
        self.assertEqual({len(run["brief"]["answer"]["daily_rh"]) for run in done["runs"]}, {365})
        self.assertIn("With 5 draws nothing can be said", summary["words"]["metric"])
        refused = send(self.client, "POST", f"/api/batches/{study['id']}/resume")
        self.assertEqual(refused.json()["code"], "nothing_to_resume")

    def test_the_same_case_is_not_computed_again(self) -> None:
        self.ask("study", STUDY)
        self.work()
        again = self.ask("study", STUDY)
        began = time.monotonic()
        self.work()
        took = time.monotonic() - began
        runs = Run.objects.filter(batch_id=again["id"])
        first = Run.objects.exclude(batch_id=again["id"])
        computed = sum(run.result["seconds"] for run in first if run.result)
        self.assertEqual([run.result for run in runs.order_by("pk")], [run.result for run in first.order_by("pk")])
        self.assertLess(took, computed, "answers were taken over")

    def test_a_search_answers_and_a_point_of_it_becomes_an_option(self) -> None:
        lined = {"layers": [*WALL["layers"], {"id": "wool", "material": "mineral_fibre_035", "thickness_mm": 60}, {"id": "lining", "material": "gypsum_board", "thickness_mm": 12.5}]}  # fmt: skip
        made = send(
            self.client, "POST", f"/api/elements/{self.element}/options", {"name": "Lined", "build_up": lined}
        ).json()["id"]
        steps = self.client.get(f"/api/options/{made}/search-steps").json()
        self.assertEqual((steps["layer_id"], steps["thicknesses"][2]), ("wool", 60.0))
        found = self.client.get(f"/api/options/{self.option}/search-steps")
        self.assertEqual(found.status_code, 422)
        self.assertIn("brings no insulation", found.json()["message"])
        body = {"kind": "search", "option_id": made, "search": {"thicknesses": [40, 80], "membranes": False}}
        search = send(self.client, "POST", f"/api/elements/{self.element}/batches", body).json()
        self.assertEqual(
            [(run["thickness_mm"], run["membrane"]) for run in search["runs"]],
            [(40, "no membrane"), (80, "no membrane")],
        )
        self.assertIn("No run of the search", search["answer"]["metric"])
        self.assertFalse(Run.objects.filter(batch_id=search["id"], looked_at=True).exists(), "nobody waits for it")
        self.assertGreater(search["runs"][0]["u_w_m2k"], search["runs"][1]["u_w_m2k"])
        self.work()
        done = self.read(search["id"])
        states = [run["brief"]["state"] for run in done["runs"]]
        words = done["answer"]["metric"]
        if all(state == "over a limit" for state in states):
            self.assertIn("None of them stays within limits", words)
        else:
            least = min(run["thickness_mm"] for run in done["runs"] if run["brief"]["state"] != "over a limit")
            self.assertIn(f"{least:g} mm with no membrane", words)
        taken = send(self.client, "POST", f"/api/batches/{search['id']}/take/{done['runs'][1]['id']}").json()
        self.assertEqual(taken["name"], "Lined: 80 mm, no membrane")
        kept = self.client.get(f"/api/options/{taken['option_id']}").json()["build_up"]["layers"]
        self.assertEqual(next(layer["thickness_mm"] for layer in kept if layer["id"] == "wool"), 80)
        self.assertEqual(send(self.client, "POST", f"/api/batches/{search['id']}/take/{10**6}").status_code, 404)
        many = {**body, "search": {"thicknesses": [700], "membranes": False}}
        self.assertEqual(send(self.client, "POST", f"/api/elements/{self.element}/batches", many).status_code, 422)

    def test_what_stands_in_between_leaves_its_water_to_the_option(self) -> None:
        bare = {"layers": [WALL["layers"][0]]}
        lined = {"layers": [WALL["layers"][0], {"id": "wool", "material": "mineral_fibre_035", "thickness_mm": 60}, {"id": "lining", "material": "gypsum_board", "thickness_mm": 12.5}]}  # fmt: skip
        path = f"/api/elements/{self.element}/options"
        first, second = (
            send(self.client, "POST", path, {"name": name, "build_up": build_up}).json()["id"]
            for name, build_up in (("Bare", bare), ("Lined", lined))
        )

        def ask(option: int, between: int, years: int) -> Any:
            body = {"kind": "in between", "option_id": option, "between": {"option_id": between, "years": years}}
            return send(self.client, "POST", f"/api/elements/{self.element}/batches", body)

        for option, between in ((second, second), (second, self.option), (self.option, first)):
            self.assertEqual(ask(option, between, 2).json()["code"], "no_between")
        self.assertEqual(ask(second, first, 99).status_code, 422)
        answer = ask(second, first, 2)
        self.assertEqual(answer.status_code, 202, answer.content)
        self.work()
        done = self.read(answer.json()["id"])
        self.assertEqual((done["status"], done["between"]["name"], done["between"]["years"]), ("done", "Bare", 2))
        stands, after, at_once = done["runs"]
        self.assertEqual((stands["option_id"], after["option_id"]), (first, second))
        self.assertEqual(stands["label"], "in between: Bare")
        self.assertNotEqual(after["brief"]["answer"]["seconds"], at_once["brief"]["answer"]["seconds"])
        run = Run.objects.get(pk=after["id"])
        self.assertEqual(run.inputs["between"], {"build_up": BuildUp.model_validate(bare).model_dump(mode="json"), "years": 2})  # fmt: skip
        body = {"build_up": {"layers": [{**WALL["layers"][0], "thickness_mm": 100}]}, "revision": 1}
        send(self.client, "PUT", f"/api/options/{first}", body)
        self.assertTrue(self.read(done["id"])["out_of_date"], "what stands in between was changed")

    def test_a_search_grows_another_option_beside(self) -> None:
        path = f"/api/elements/{self.element}/options"
        wool = {"id": "wool", "material": "mineral_fibre_035", "thickness_mm": 60}
        inside = {"layers": [*WALL["layers"], wool, {"id": "lining", "material": "gypsum_board", "thickness_mm": 12.5}]}
        outside = {"layers": [{"id": "render", "material": "lime_render", "thickness_mm": 15}, {"id": "out", "material": "wood_fibre_board", "thickness_mm": 60}, *WALL["layers"]]}  # fmt: skip
        first, second = (
            send(self.client, "POST", path, {"name": name, "build_up": made}).json()["id"]
            for name, made in (("Inside", inside), ("Outside", outside))
        )

        def ask(beside: list[int]) -> Any:
            search = {"thicknesses": [60, 100], "membranes": False, "beside": beside}
            body = {"kind": "search", "option_id": first, "search": search}
            return send(self.client, "POST", f"/api/elements/{self.element}/batches", body)

        self.assertEqual(ask([first]).json()["code"], "no_option")
        self.assertEqual(ask([10**6]).json()["code"], "no_option")
        runs = ask([second]).json()["runs"]
        self.assertEqual([run["option_id"] for run in runs], [first, first, second, second])
        self.assertEqual([run["thickness_mm"] for run in runs], [60, 100, 60, 100])
        self.assertTrue(runs[2]["membrane"].startswith("Outside: "))
        self.assertGreater(runs[2]["drying_left"] or 0, runs[0]["drying_left"] or 0)

    def test_the_facings_differ_and_the_rain_face_is_wettest(self) -> None:
        facings = self.ask("facings", {})
        self.work()
        results = {run["label"]: run["brief"]["answer"] for run in self.read(facings["id"])["runs"]}
        self.assertEqual(len(results), 8)
        most = max(results, key=lambda word: results[word]["driven_rain_mm"])
        least = min(results, key=lambda word: results[word]["driven_rain_mm"])
        self.assertGreater(results[most]["worst_month_rh"], results[least]["worst_month_rh"])

    def test_a_bad_year_is_wetter(self) -> None:
        asked = self.ask("bad year", {})
        self.work()
        usual, bad = (run["brief"]["answer"] for run in self.read(asked["id"])["runs"])
        self.assertAlmostEqual(bad["driven_rain_mm"] / usual["driven_rain_mm"], 1.3 ** (8 / 9), places=6)
        self.assertGreater(bad["worst_month_rh"], usual["worst_month_rh"])

    def test_the_wetting_test_of_every_option(self) -> None:
        body = {"name": "bare", "build_up": {"layers": WALL["layers"][:1]}}
        send(self.client, "POST", f"/api/elements/{self.element}/options", body)
        asked = self.ask("wetting", {"layer": "stone", "on": "04-01"}, option=False)
        self.assertEqual([run["label"] for run in asked["runs"]], ["As found", "bare"])
        self.work()
        for run in self.read(asked["id"])["runs"]:
            test = run["wetting"]
            self.assertEqual((len(test["e"]), len(test["rh"])), (365, 365))
            self.assertIn("inner face of sandstone rubble", test["plane"])
            gone = test["outward_g"] + test["inward_g"] + test["left_g"]
            self.assertAlmostEqual(gone, 1000.0, delta=15.0, msg="all of the water is accounted for")
        sheet = self.client.get(f"/api/elements/{self.element}/sheet").json()
        told = {option["name"]: option["tests"]["wetting"] for option in sheet["options"]}
        self.assertGreater(told["As found"]["mean_stay_days"], told["bare"]["mean_stay_days"])

    def test_the_outboard_curve_has_five_thicknesses(self) -> None:
        steady = send(
            self.client, "POST", f"/api/options/{self.option}/outboard", {"material": "wood_fibre_board"}
        ).json()
        self.assertEqual(steady["plane"], "stone")
        self.assertGreater(steady["peak_rh_now"], steady["curve"][-1][1])
        asked = self.ask("outboard", {"material": "wood_fibre_board", "most_mm": 200})
        self.assertEqual([run["thickness_mm"] for run in asked["runs"]], [0, 50, 100, 150, 200])

    def test_bad_settings_are_refused_and_leave_nothing(self) -> None:
        for kind, settings in (
            ("study", {**STUDY, "inputs": [{**RAIN, "low": 3.0}]}),
            ("study", {**STUDY, "inputs": [RAIN, RAIN]}),
            ("study", {**STUDY, "plane": "nowhere"}),
            ("study", {**STUDY, "method": "grid", "steps": 20, "inputs": [RAIN, {"name": "A-value", "low": 0.5, "high": 2}, {"name": "start water", "low": 0.5, "high": 0.9}]}),
            ("outboard", {"material": "air_unventilated"}),
            ("wetting", {"layer": "nowhere"}),
            ("wetting", {"on": "2-30"}),
        ):  # fmt: skip
            with self.subTest(kind=kind, settings=settings):
                self.assertIn("message", self.ask(kind, settings, status=422))
        self.assertEqual(Batch.objects.count(), 0)
        self.assertEqual(Run.objects.count(), 0)

    def test_a_batch_of_somebody_else_is_not_found(self) -> None:
        batch = self.ask("facings", {})["id"]
        stranger = client_of(person("stranger"))
        for method, path in (("GET", ""), ("POST", "/cancel"), ("POST", "/resume")):
            self.assertEqual(send(stranger, method, f"/api/batches/{batch}{path}").status_code, 404)
        self.assertEqual(send(stranger, "GET", f"/api/elements/{self.element}/batches").status_code, 404)

    def test_short_batches_come_before_the_years_and_studies_after(self) -> None:
        self.ask("study", STUDY)
        send(self.client, "POST", f"/api/options/{self.option}/runs")
        self.ask("bad year", {})
        kinds = []
        for _ in range(4):
            run = Run.objects.claim_next()
            assert run is not None
            kinds.append(run.batch.kind if run.batch is not None else run.kind)
        self.assertEqual(kinds, ["bad year", "bad year", "years", "study"])

    def test_runs_of_a_batch_leave_the_years_of_the_sheet_alone(self) -> None:
        self.ask("facings", {})
        sheet = self.client.get(f"/api/elements/{self.element}/sheet").json()
        self.assertEqual(sheet["options"][0]["run"]["state"], "not run")

    def test_a_study_is_counted_by_verdicts_as_they_are_now(self) -> None:
        """The kept findings are judged when they are read: an edited limit moves the count without a run."""
        study = self.ask("study", STUDY)
        self.work()
        project = self.client.get("/api/projects").json()[0]["id"]

        def shown() -> tuple[int, int]:
            tests = self.client.get(f"/api/elements/{self.element}/sheet").json()["options"][0]["tests"]
            return tests["study_over"], tests["study_runs"]

        over, runs = shown()
        self.assertEqual(runs, 5)
        self.assertEqual(over, self.read(study["id"])["study"]["over"])
        strict = {"limits": [{"key": "mould.inside", "value": 0.5}, {"key": "mould.room", "value": 0.3}]}
        ran = Run.objects.count()
        answer = send(self.client, "PUT", f"/api/projects/{project}/limits", strict)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertGreaterEqual(shown()[0], over)
        self.assertEqual(Run.objects.count(), ran)
        self.assertEqual(shown()[0], self.read(study["id"])["study"]["over"])

    def test_a_condition_is_looked_at_later_and_holds_or_not(self) -> None:
        """Twelve draws with little rain and twelve with much, from two runs that were computed."""
        two = {"inputs": [RAIN], "method": "grid", "steps": 2, "plane": "stone"}
        batch = Batch.objects.get(pk=self.ask("study", two)["id"])
        self.work()
        for run in list(batch.runs.order_by("pk")):
            for number in range(11):
                value = run.inputs["draw"]["rain exposure"]
                run.pk, run.label = None, f"more {number}"
                run.inputs = {**run.inputs, "draw": {"rain exposure": value + 0.001 * (number % 3)}}
                run.save(force_insert=True)
        page = self.client.get(f"/api/elements/{self.element}/conditions").json()
        [stands] = page[0]["stands"]
        condition = stands["condition"]
        self.assertEqual(stands["offers"], [], "no reading speaks of driven rain")
        self.assertEqual((page[0]["runs"], condition["name"], condition["at_most"]), (24, "rain exposure", True))
        self.assertEqual((stands["check"], stands["holds"]), (None, None))
        path = f"/api/options/{self.option}/conditions/rain%20exposure"
        for measured, holds in ((condition["measure"] - 0.1, True), (condition["measure"] + 0.5, False)):
            body = {"measured": measured, "proof": "gutters mended", "on": "2026-03-01"}
            answer = send(self.client, "PUT", path, body)
            self.assertEqual(answer.status_code, 200, answer.content)
            row = answer.json()[0]["stands"][0]
            self.assertEqual(
                (row["holds"], row["check"]["proof"], row["check"]["by"]), (holds, "gutters mended", "Owner")
            )
        for body in ({"measured": 1e6}, {"measured": 1, "note": "x" * 2000}, {"measured": 1, "on": "soon"}):
            self.assertEqual(send(self.client, "PUT", path, body).status_code, 422, body)
        self.assertEqual(send(self.client, "PUT", path.replace("rain", "other"), {"measured": 1}).status_code, 422)
        kept = document(Project.objects.get())["elements"][0]["options"][0]["checks"]
        self.assertEqual([one["name"] for one in kept], ["rain exposure"])
        answer = self.client.delete(path).json()[0]["stands"][0]
        self.assertEqual((answer["check"], HistoryEntry.objects.first().before), (None, {"measured": condition["measure"] + 0.5}))  # type: ignore[union-attr]  # fmt: skip

    def test_what_changed_since_the_last_run(self) -> None:
        path = f"/api/options/{self.option}"

        def since(build_up: Any) -> Any:
            return send(self.client, "POST", f"{path}/since", {"build_up": build_up}).json()

        self.assertEqual(since(WALL), {"changed": [], "was": None, "at": None})
        send(self.client, "POST", f"{path}/runs")
        self.work()
        self.assertIsNone(since(WALL)["was"], "the run is of what is drawn")
        thinner = {"layers": [WALL["layers"][0], {**WALL["layers"][1], "thickness_mm": 20}]}
        said = since(thinner)
        self.assertEqual(
            [one["metric"] for one in said["changed"]], ["calcium silicate board: 30 mm before, 20 mm now"]
        )
        self.assertTrue(said["was"]["metric"])
        send(self.client, "PUT", f"/api/elements/{self.element}", {"name": "W", "kind": "wall", "area_m2": 9, "facing_deg": 90})  # fmt: skip
        self.assertEqual([one["metric"] for one in since(WALL)["changed"]], ["where it faces"])

    def test_a_trial_of_other_layers_keeps_nothing(self) -> None:
        other = {"layers": [WALL["layers"][0], {"id": "board", "material": "wood_fibre_board", "thickness_mm": 60}]}
        before = Option.objects.get(pk=self.option).build_up
        body = {"kind": "trial", "option_id": self.option, "trial": {"build_up": other}}
        answer = send(self.client, "POST", f"/api/elements/{self.element}/batches", body)
        self.assertEqual(answer.status_code, 202, answer.content)
        self.work()
        done = self.read(answer.json()["id"])
        self.assertEqual([run["label"] for run in done["runs"]], ["with it", "as it is"])
        self.assertNotEqual(*(run["brief"]["sentence"]["metric"] for run in done["runs"]))
        self.assertEqual(Option.objects.get(pk=self.option).build_up, before)

    def test_a_changed_option_makes_a_batch_out_of_date(self) -> None:
        batch = self.ask("facings", {})["id"]
        self.assertFalse(self.read(batch)["out_of_date"])
        option = self.client.get(f"/api/elements/{self.element}/sheet").json()["options"][0]
        body = {"revision": option["revision"], "build_up": {"layers": WALL["layers"][:1]}}
        send(self.client, "PUT", f"/api/options/{self.option}", body)
        self.assertTrue(self.read(batch)["out_of_date"])


class OutsideCluster(PlainTestCase):
    """A scheduler and two workers started by hand; one worker is killed in mid-run and every run finishes."""

    def test_one_of_two_workers_is_killed(self) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        address = f"tcp://127.0.0.1:{port}"
        with tempfile.TemporaryDirectory(prefix="wendrick-cluster-") as data:
            env = {**os.environ, "WENDRICK_DATA": data, "WENDRICK_SCHEDULER": address, "PYTHONPATH": str(ROOT)}

            def start(*words: str) -> subprocess.Popen[bytes]:
                quiet = subprocess.DEVNULL
                return subprocess.Popen(
                    [sys.executable, *words], cwd=ROOT, env=env, start_new_session=True, stdout=quiet, stderr=quiet
                )

            asked = (
                "from server.projects.models import Element; from server.runs.batches import PlaneSettings, ask_batch; "
                "e = Element.objects.get(name='Garden face'); "
                "ask_batch(e.project.owner, e.pk, 'facings', e.as_found.pk, PlaneSettings())"
            )
            manage(data_folder(Path(data)), "shell", "--verbosity", "0", "-c", asked)
            dask = (
                "-m",
                "distributed.cli.dask_scheduler",
                "--host",
                "127.0.0.1",
                "--port",
                str(port),
                "--no-dashboard",
            )
            worker_words = (
                "-m",
                "distributed.cli.dask_worker",
                address,
                "--nthreads",
                "1",
                "--no-dashboard",
                "--no-nanny",
            )
            started = [start(*dask)]
            time.sleep(2.0)
            started += [start(*worker_words), start(*worker_words), start("manage.py", "runner")]
            try:
                self._wait(Path(data), lambda done, running: running >= 2)
                os.killpg(started[1].pid, signal.SIGKILL)
                self._wait(Path(data), lambda done, running: done == 8)
            finally:
                for process in started:
                    if process.poll() is None:
                        os.killpg(process.pid, signal.SIGKILL)
                    process.wait()

    def _wait(self, data: Path, wanted: Any, seconds: float = 120.0) -> None:
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            seen = [status for (status,) in rows(data, f"SELECT status FROM {Run._meta.db_table}")]
            self.assertNotIn("failed", seen)
            if wanted(seen.count("done"), seen.count("running")):
                return
            time.sleep(0.1)
        raise AssertionError(f"after {seconds} s: {seen}")
