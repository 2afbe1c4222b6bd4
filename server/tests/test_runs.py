"""Runs: states in words, one computation a case, cancel, illegal transitions; the runner killed in mid-run."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase

from django.test import TestCase, override_settings

from server.projects.models import HistoryEntry
from server.runs import worker
from server.runs.models import MOST_ATTEMPTS, Findings, Run
from server.tests.helpers import client_of, person, send
from server.tests.processes import data_folder, manage, rows

ROOT = Path(__file__).resolve().parents[2]
THIN = {"layers": [{"id": "stone", "material": "sandstone_rubble", "thickness_mm": 120, "existing": True}]}
PROJECT = {"name": "Byre", "volume_m3": 300, "air_value": 8}


class Runs(TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, self.folder)
        override = override_settings(RESULTS=Path(self.folder))
        override.enable()
        self.addCleanup(override.disable)
        self.user = person("owner")
        self.client = client_of(self.user)
        project = send(self.client, "POST", "/api/projects", PROJECT).json()["id"]
        element = {"name": "W", "kind": "wall", "area_m2": 9, "build_up": THIN}
        self.element = send(self.client, "POST", f"/api/projects/{project}/elements", element).json()["id"]
        self.option = self.sheet()["id"]

    def sheet(self) -> Any:
        return self.client.get(f"/api/elements/{self.element}/sheet").json()["options"][0]

    def ask(self) -> Any:
        return send(self.client, "POST", f"/api/options/{self.option}/runs").json()

    def work(self) -> str:
        run = Run.objects.claim_next()
        assert run is not None
        return worker.execute(run.pk)

    def commit(self, mm: float) -> None:
        layers = [{**THIN["layers"][0], "thickness_mm": mm}]
        body = {"revision": self.sheet()["revision"], "build_up": {"layers": layers}}
        self.assertEqual(send(self.client, "PUT", f"/api/options/{self.option}", body).status_code, 200)

    def test_from_not_run_to_current_out_of_date_and_back(self) -> None:
        self.assertEqual(self.sheet()["run"]["state"], "not run")
        run = self.ask()
        self.assertEqual(self.sheet()["run"]["state"], "waiting")
        self.assertEqual(self.ask()["id"], run["id"], "asked twice, queued once")
        self.assertEqual(self.work(), Run.DONE)
        state = self.sheet()["run"]
        self.assertEqual(state["state"], "current")
        self.assertIn(state["verdict"]["state"], ("within limits", "marginal", "over a limit"))
        self.assertLess(state["balances"]["water_closure"], 1e-6)
        self.commit(130)
        self.assertEqual(self.sheet()["run"]["state"], "out of date")
        self.assertIsNotNone(self.sheet()["run"]["verdict"])
        self.commit(120)
        self.assertEqual(self.sheet()["run"]["state"], "current", "an edit taken back is current again")
        self.check_views(run["id"])

    def test_the_verdict_is_the_same_whichever_run_ends_first(self) -> None:
        lined = {"layers": [*THIN["layers"], {"id": "foam", "material": "pur_foam", "thickness_mm": 60}]}
        body = {"name": "foam", "build_up": lined}
        other = send(self.client, "POST", f"/api/elements/{self.element}/options", body).json()["id"]
        said = []
        for order in ((self.option, other), (other, self.option)):
            Run.objects.all().delete()
            Findings.objects.all().delete()
            for option in order:
                send(self.client, "POST", f"/api/options/{option}/runs")
                self.assertEqual(self.work(), Run.DONE)
            sheet = self.client.get(f"/api/elements/{self.element}/sheet").json()["options"]
            said.append([option["run"]["verdict"] for option in sheet])
        self.assertEqual(said[0], said[1])
        self.assertIsNotNone(said[0][1])
        words = " ".join(row["metric"] for row in said[0][1]["not_judged"])
        self.assertNotIn("not run", words)

    def test_a_limit_edited_changes_the_verdict_without_a_run(self) -> None:
        self.ask()
        self.work()
        before = self.sheet()["run"]
        project = Run.objects.get().option.element.project_id
        page = self.client.get(f"/api/projects/{project}/limits").json()
        edited = [{"key": r["key"], "value": r["least"]} for r in page["limits"] if r["key"].startswith("mould")]
        self.assertTrue(edited)
        changed = send(self.client, "PUT", f"/api/projects/{project}/limits", {"limits": edited})
        self.assertEqual(changed.status_code, 200, changed.content)
        after = self.sheet()["run"]
        self.assertEqual(Run.objects.count(), 1)
        self.assertEqual(after["run_id"], before["run_id"])
        shares = [
            {j["place"]: j["share"] for j in run["verdict"]["judgements"] if j["criterion"] == "mould"}
            for run in (before, after)
        ]
        self.assertNotEqual(shares[0], shares[1])

    def test_what_an_older_solver_computed_says_so_and_is_run_again(self) -> None:
        self.ask()
        self.work()
        self.assertFalse(self.sheet()["run"]["older"])
        project = Run.objects.get().option.element.project_id
        Run.objects.update(solver=1)
        Findings.objects.update(found_with="solver 1")
        self.assertTrue(self.sheet()["run"]["older"])
        again = send(self.client, "POST", f"/api/projects/{project}/runs/again").json()
        self.assertEqual(again["asked"], 1)
        self.assertEqual(self.work(), Run.DONE)
        self.assertFalse(self.sheet()["run"]["older"])

    def check_views(self, run: int) -> None:
        year = self.client.get(f"/api/runs/{run}/year").json()
        self.assertEqual(year["hours"], year["passes"] * 8760)
        self.assertTrue({"rh", "mould", "water"} <= {line["kind"] for line in year["lines"]})
        field = self.client.get(f"/api/runs/{run}/field?columns=100")
        self.assertEqual(len(field.content), 2 * int(field["X-Columns"]) * year["rows"])
        moment = self.client.get(f"/api/runs/{run}/moment?hour=100").json()
        self.assertEqual(moment["date"], "5 May of year 1, 04:00")
        self.assertEqual(len(moment["rh"]), len(moment["depth_mm"]))
        csv = self.client.get(f"/api/runs/{run}/hourly.csv").content.decode().splitlines()
        self.assertEqual(len(csv), 1 + year["hours"])
        case = self.client.get(f"/api/options/{self.option}/case.json").content
        from core.case import read_case

        self.assertEqual(read_case(case).hash, Run.objects.get(pk=run).case_hash)

    def test_the_command_line_computes_the_same_numbers(self) -> None:
        run = self.ask()
        self.work()
        case = Path(self.folder) / "case.json"
        case.write_bytes(self.client.get(f"/api/options/{self.option}/case.json").content)
        result = Path(self.folder) / "hours.csv"
        command = [sys.executable, "-m", "core", "simulate", str(case), "--csv", str(result)]
        subprocess.run(command, check=True, cwd=ROOT, capture_output=True)
        self.assertEqual(
            result.read_text().splitlines(),
            self.client.get(f"/api/runs/{run['id']}/hourly.csv").content.decode().splitlines(),
        )

    def test_the_same_case_is_computed_once(self) -> None:
        self.ask()
        other = send(
            self.client, "POST", f"/api/elements/{self.element}/options", {"name": "same", "build_up": THIN}
        ).json()["id"]
        send(self.client, "POST", f"/api/options/{other}/runs")
        first = Run.objects.claim_next()
        assert first is not None
        self.assertIsNone(Run.objects.claim_next(), "its twin waits until the first is done")
        worker.execute(first.pk)
        stamp = (first.folder / "outcome.json").stat().st_mtime_ns
        self.assertEqual(self.work(), Run.DONE)
        self.assertEqual((first.folder / "outcome.json").stat().st_mtime_ns, stamp)

    def test_cancel_waiting_and_running(self) -> None:
        run = self.ask()
        before = HistoryEntry.objects.count()
        self.assertEqual(send(self.client, "POST", f"/api/runs/{run['id']}/cancel").json()["status"], "cancelled")
        self.assertEqual(HistoryEntry.objects.count(), before + 1)
        self.assertEqual(self.sheet()["run"]["state"], "cancelled")
        again = self.ask()
        claimed = Run.objects.claim_next()
        assert claimed is not None
        answer = send(self.client, "POST", f"/api/runs/{again['id']}/cancel").json()
        self.assertEqual(answer["doing"], "stopping")
        self.assertTrue(claimed.report(0.1, "year 1"), "the worker hears of it at its next report")
        claimed.refresh_from_db()
        claimed.mark_cancelled()
        self.assertEqual(self.client.get(f"/api/runs/{again['id']}/year").json()["code"], "no_result")

    def test_a_failed_run_says_why(self) -> None:
        self.ask()
        run = Run.objects.get()
        run.build_up = {"layers": [{"id": "a", "material": "air_ventilated", "thickness_mm": 30}]}
        run.save()
        self.assertEqual(self.work(), Run.FAILED)
        self.assertIn("nothing but air and sheets", self.sheet()["run"]["error"])

    def test_illegal_transitions_raise(self) -> None:
        self.ask()
        run = Run.objects.get()
        with self.assertRaises(ValueError):
            run.mark_done(1.0)
        run.mark_cancelled()
        for leave in (run.mark_cancelled, lambda: run.mark_failed("x")):
            with self.assertRaises(ValueError):
                leave()

    def test_only_a_run_that_kills_its_worker_fails_for_it(self) -> None:
        self.ask()

        def taken(begun: bool) -> Run:
            run = Run.objects.claim_next()
            assert run is not None
            Run.objects.filter(pk=run.pk).update(begun=begun)
            return run

        for _ in range(9):  # the machine went down, the disk was full, the worker died before it began
            taken(begun=True)
            self.assertEqual(Run.objects.all().wait_again(), 1)
            taken(begun=False)
            Run.objects.all().lost_their_worker()
        self.assertEqual(Run.objects.get().attempts, 0)
        for _ in range(MOST_ATTEMPTS):
            run = taken(begun=True)
            Run.objects.all().lost_their_worker()
        run.refresh_from_db()
        self.assertEqual((run.status, run.attempts), (Run.FAILED, MOST_ATTEMPTS))
        self.assertIn("run it again", run.error)


class KilledRunner(PlainTestCase):
    """Real processes on a data folder of their own: kill -9 in mid-run, start again, the run finishes."""

    def setUp(self) -> None:
        self.data = data_folder(Path(tempfile.mkdtemp(prefix="wendrick-kill-")))
        self.addCleanup(shutil.rmtree, self.data, True)
        self.env = {**os.environ, "WENDRICK_DATA": str(self.data), "WENDRICK_WORKERS": "1"}
        asked = (
            "from server.projects.models import Option; from server.runs.actions import ask_run; "
            "o = Option.objects.filter(element__name='Garden face', role='option').first(); "
            "ask_run(o.element.project.owner, o.pk)"
        )
        manage(self.data, "shell", "--verbosity", "0", "-c", asked)

    def state(self) -> tuple[str, float, int]:
        [(status, progress, attempts)] = rows(self.data, f"SELECT status, progress, attempts FROM {Run._meta.db_table}")
        return status, progress, attempts

    def start(self) -> subprocess.Popen[bytes]:
        return subprocess.Popen([sys.executable, "manage.py", "runner"], cwd=ROOT, env=self.env, start_new_session=True)

    def wait_for(self, wanted: Any, seconds: float) -> tuple[str, float, int]:
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            seen = self.state()
            if wanted(seen):
                return seen
            time.sleep(0.1)
        raise AssertionError(f"still {self.state()} after {seconds} s")

    def test_the_run_finishes_after_the_runner_was_killed(self) -> None:
        runner = self.start()
        try:
            self.wait_for(lambda s: s[0] == "running" and s[1] > 0.0, 60)
        finally:
            os.kill(runner.pid, signal.SIGKILL)
            runner.wait()
        time.sleep(1.0)  # the orphaned worker notices at its next report and ends
        status, _, attempts = self.state()
        self.assertEqual((status, attempts), ("running", 0))
        again = self.start()
        try:
            seen = self.wait_for(lambda s: s[0] in ("done", "failed"), 90)
        finally:
            os.killpg(again.pid, signal.SIGTERM)
            again.wait()
        self.assertEqual((seen[0], seen[2]), ("done", 0), "a runner that dies is no fault of the run")
