"""Running the program: accounts, backup and restore while edits go on, results within a size."""

from __future__ import annotations

import io
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import threading
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase
from unittest import mock

from django.conf import settings
from django.contrib.auth import authenticate
from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.http import HttpResponse
from django.test import Client, RequestFactory, TestCase, override_settings

from server.accounts.doors import BehindProxies
from server.runs import keeping
from server.tests.helpers import PASSWORD, client_of, person, send
from server.tests.processes import data_folder, manage

ROOT = Path(__file__).resolve().parents[2]


class Accounts(TestCase):
    def make(self, password: str, *more: str) -> None:
        with mock.patch("sys.stdin", io.StringIO(password + "\n")):
            call_command("createuser", "hanna", "--password-stdin", *more, stdout=io.StringIO())

    def test_an_account_is_made_and_gets_a_new_password(self) -> None:
        self.make("a slate roof 1890", "--first", "Hanna", "--last", "Lind")
        self.assertEqual(User.objects.get().get_full_name(), "Hanna Lind")
        with self.assertRaisesMessage(CommandError, "already"):
            self.make("a slate roof 1891")
        self.make("a slate roof 1891", "--again")
        request = RequestFactory().post("/")
        self.assertIsNone(authenticate(request, username="hanna", password="a slate roof 1890"))
        self.assertIsNotNone(authenticate(request, username="hanna", password="a slate roof 1891"))

    def test_weak_passwords_are_refused(self) -> None:
        for weak in ("short", "1234567890", "password123"):
            with self.subTest(weak=weak), self.assertRaises(CommandError):
                self.make(weak, "--first", "Hanna")
        self.assertEqual(User.objects.count(), 0)

    def test_sign_in_slows_after_wrong_passwords_and_keeps_nobody_else_out(self) -> None:
        person("owner"), person("other")
        client = Client()
        for _ in range(8):
            answer = send(client, "POST", "/api/session", {"username": "owner", "password": "wrong"})
        right = {"username": "owner", "password": PASSWORD}
        answer = send(client, "POST", "/api/session", right)
        self.assertEqual((answer.status_code, answer.json()["code"]), (429, "too_many_tries"))
        self.assertEqual(send(client, "POST", "/api/session", {**right, "username": "other"}).status_code, 200)
        elsewhere = Client(REMOTE_ADDR="10.0.0.9")
        self.assertEqual(send(elsewhere, "POST", "/api/session", right).status_code, 200)

    def test_a_device_that_one_signed_in_from_is_never_locked_out(self) -> None:
        """Others' wrong passwords, from one address or from everywhere, keep out whoever is new, and not the person who was there."""
        owner = person("owner")
        right = {"username": "owner", "password": PASSWORD}
        mine, stranger = Client(), Client()
        self.assertEqual(send(mine, "POST", "/api/session", right).status_code, 200)
        send(mine, "DELETE", "/api/session")
        for _ in range(9):
            send(stranger, "POST", "/api/session", {**right, "password": "wrong"})
        self.assertEqual(
            send(stranger, "POST", "/api/session", right).status_code, 429, "the same address, a new device"
        )
        self.assertEqual(send(mine, "POST", "/api/session", right).status_code, 200)
        for number in range(settings.MOST_TRIES_OF_A_NAME // 5 + 1):
            for _ in range(5):
                send(Client(REMOTE_ADDR=f"10.1.0.{number}"), "POST", "/api/session", {**right, "password": "wrong"})
        far = Client(REMOTE_ADDR="10.9.9.9")
        self.assertEqual(
            send(far, "POST", "/api/session", right).status_code, 429, "a name that is tried from everywhere"
        )
        self.assertEqual(send(mine, "POST", "/api/session", right).status_code, 200)
        owner.set_password("another slate roof")
        owner.save()
        self.assertEqual(send(mine, "POST", "/api/session", right).status_code, 429, "known until the password changes")

    def test_one_address_with_many_names_waits(self) -> None:
        person("owner")
        right = {"username": "owner", "password": PASSWORD}
        for number in range(settings.MOST_TRIES_OF_AN_ADDRESS):
            send(
                Client(REMOTE_ADDR="10.2.0.1"),
                "POST",
                "/api/session",
                {"username": f"name {number}", "password": "wrong"},
            )
        self.assertEqual(send(Client(REMOTE_ADDR="10.2.0.1"), "POST", "/api/session", right).status_code, 429)
        self.assertEqual(send(Client(REMOTE_ADDR="10.2.0.2"), "POST", "/api/session", right).status_code, 200)

    def test_behind_proxies_the_client_is_whom_the_outermost_saw(self) -> None:
        """With one proxy the last entry is true and what stands before it may be anything; without, nothing that is sent counts."""
        for proxies, sent, address in (
            (0, "10.3.0.1", "127.0.0.1"),
            (1, "6.6.6.6, 10.3.0.1", "10.3.0.1"),
            (2, "6.6.6.6, 10.3.0.1, 10.0.0.2", "10.3.0.1"),
            (2, "10.0.0.2", "127.0.0.1"),
            (1, "", "127.0.0.1"),
        ):
            asked = RequestFactory().get("/", HTTP_X_FORWARDED_FOR=sent)
            with self.subTest(proxies=proxies, sent=sent), override_settings(PROXIES=proxies):
                BehindProxies(lambda request: HttpResponse())(asked)
                self.assertEqual(asked.META["REMOTE_ADDR"], address)

    def test_behind_a_proxy_wrong_passwords_from_elsewhere_keep_nobody_out(self) -> None:
        person("owner")
        right = {"username": "owner", "password": PASSWORD}
        with override_settings(PROXIES=1):
            attacker, owner = (Client(HTTP_X_FORWARDED_FOR=address) for address in ("10.4.0.1", "10.4.0.2"))
            for _ in range(9):
                send(attacker, "POST", "/api/session", {**right, "password": "wrong"})
            self.assertEqual(send(attacker, "POST", "/api/session", right).status_code, 429)
            self.assertEqual(send(owner, "POST", "/api/session", right).status_code, 200)

    def test_sign_ins_are_listed_and_ended(self) -> None:
        owner, other = person("owner"), person("other")
        here, there, foreign = client_of(owner), client_of(owner), client_of(other)
        rows = here.get("/api/sessions").json()
        self.assertEqual(sorted(row["here"] for row in rows), [False, True])
        elsewhere = next(row["key"] for row in rows if not row["here"])
        self.assertEqual(send(foreign, "DELETE", f"/api/sessions/{elsewhere}").status_code, 404)
        self.assertEqual(there.get("/api/projects").status_code, 200)
        self.assertEqual(len(send(here, "DELETE", f"/api/sessions/{elsewhere}").json()), 1)
        self.assertEqual(there.get("/api/projects").status_code, 401)
        self.assertNotIn(here.session.session_key, json.dumps(rows), "the key of a cookie is told to nobody")

    def test_a_window_of_one_person_does_not_work_for_the_next(self) -> None:
        client = client_of(person("owner"))
        self.assertEqual(client.get("/api/projects", headers={"X-Person": "owner"}).status_code, 200)
        answer = client.get("/api/projects", headers={"X-Person": "somebody"})
        self.assertEqual((answer.status_code, answer.json()["code"]), (401, "another_person"))

    def test_a_project_changed_in_two_windows(self) -> None:
        client = client_of(person("owner"))
        began = {"name": "House", "volume_m3": 200.0, "floor_area_m2": 80.0}
        path = f"/api/projects/{send(client, 'POST', '/api/projects', began).json()['id']}"
        mine, theirs = {**began, "volume_m3": 250.0}, {**began, "floor_area_m2": 90.0}
        self.assertEqual(send(client, "PUT", path, {**theirs, "began_from": began}).status_code, 200)
        kept = send(client, "PUT", path, {**mine, "began_from": began}).json()
        self.assertEqual((kept["volume_m3"], kept["floor_area_m2"]), (250.0, 90.0), "neither loses what it typed")
        clash = send(client, "PUT", path, {**began, "volume_m3": 300.0, "began_from": began})
        self.assertEqual((clash.status_code, clash.json()["code"]), (409, "changed_meanwhile"))
        self.assertIn("heated volume", clash.json()["message"])


class Kept(TestCase):
    def test_the_oldest_unneeded_results_go_first(self) -> None:
        with tempfile.TemporaryDirectory() as folder, override_settings(RESULTS=Path(folder)):
            for number, key in enumerate(("needed", "old", "newer")):
                place = Path(folder) / "solver-3" / key[:2] / key
                place.mkdir(parents=True)
                (place / "outcome.json").write_bytes(b"x" * 1000)
                os.utime(place, (number, number))
            half = Path(folder) / "solver-3" / "ab" / "abc.1.tmp"
            half.mkdir(parents=True)
            os.utime(half, (0, 0))
            with mock.patch.object(keeping, "needed", return_value={"needed"}), mock.patch.object(keeping, "SOLVER", 3):
                self.assertEqual(keeping.keep_within(2500), 1)
                left = {path.name for path in Path(folder).glob("solver-*/*/*")}
                self.assertEqual(left, {"needed", "newer"})
                self.assertEqual(keeping.keep_within(10), 1, "what a page draws stays, whatever its size")
                self.assertEqual({path.name for path in Path(folder).glob("solver-*/*/*")}, {"needed"})


class Backup(PlainTestCase):
    """Real data folders; edits go on in one while it is copied."""

    def setUp(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="wendrick-backup-"))
        self.addCleanup(shutil.rmtree, self.folder, True)

    def manage(self, data: str, *words: str, code: int = 0) -> str:
        return manage(self.folder / data, *words, code=code)

    def test_a_backup_taken_while_edits_go_on_is_restored_whole(self) -> None:
        data_folder(self.folder / "one")
        edits = (
            "import time; from server.projects.models import HistoryEntry, Project; p = Project.objects.all()[0]\n"
            "for n in range(400): HistoryEntry.objects.create(project=p, person='x', action='edit', what=str(n))"
        )
        writer = threading.Thread(target=self.manage, args=("one", "shell", "--verbosity", "0", "-c", edits))
        writer.start()
        backup = str(self.folder / "backup.zip")
        self.manage("one", "backup", backup)
        writer.join()
        self.assertEqual(os.stat(backup).st_mode & 0o077, 0, "readable by its owner only")
        self.manage("two", "restore", backup)
        count = (
            "from server.projects.models import *; from server.survey.models import Photo\n"
            "rows = [int(e.what) for e in HistoryEntry.objects.filter(action='edit')]\n"
            "print(Project.objects.count(), Option.objects.count(), Photo.objects.count(), "
            "all(p.path().exists() for p in Photo.objects.all()), sorted(rows) == list(range(len(rows))))"
        )
        before = self.manage("one", "shell", "--verbosity", "0", "-c", count).split()
        after: list[Any] = self.manage("two", "shell", "--verbosity", "0", "-c", count).split()
        self.assertEqual(after, before)
        self.assertEqual(after[3:], ["True", "True"])
        self.assertGreater(int(after[2]), 0)
        self.assertIn("holds accounts already", self.manage("one", "restore", backup, code=1))
        self.assertIn("is there already", self.manage("one", "backup", backup, code=1))
        Path(backup).write_bytes(Path(backup).read_bytes()[:5000])
        self.assertIn("cannot be read", self.manage("three", "restore", backup, code=1))


# What is opened of a database that is old, by its own user; run in a process of its own, with that database.
OPEN = """
import json
from django.contrib.auth.models import User
from django.http import HttpResponse
from django.test import Client
seen = []
for user in User.objects.all():
    client = Client()
    client.force_login(user)
    for row in client.get("/api/projects").json():
        path = f"/api/projects/{row['id']}"
        page = client.get(path).json()
        views = ["", "/heat", "/house", "/brief", "/shape", "/rain", "/made", "/evidence", "/water", "/measurements", "/limits"]
        asked = [path + view for view in views]
        asked += [f"/api/elements/{e['id']}/sheet" for e in page["elements"] if e["kind"] not in ("window", "door")]
        for one in asked:
            answer = client.get(one)
            seen.append((one, answer.status_code))
            assert answer.status_code == 200, (one, answer.content[:400])
        whole = client.get(path + "/heat").json()
        seen.append((row["name"], round(whole["total"]["before_w_k"])))
        exported = b"".join(client.get(path + "/export").streaming_content)
        seen.append(("export", len(exported) > 1000))
print(json.dumps(seen))
"""


class FirstSlice(PlainTestCase):
    """A database as the first version left it, kept as its own dump."""

    def test_it_migrates_and_opens(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            with sqlite3.connect(Path(folder) / "wendrick.sqlite3") as kept:
                kept.executescript((ROOT / "server/tests/kept/first_slice.sql").read_text(encoding="utf-8"))
            kept.close()
            env = {**os.environ, "WENDRICK_DATA": folder}
            env.pop("WENDRICK_DATABASE", None)
            for words in (["migrate", "--verbosity", "0"], ["shell", "--verbosity", "0", "-c", OPEN]):
                done = subprocess.run([sys.executable, "manage.py", *words], cwd=ROOT, env=env, capture_output=True, text=True)  # fmt: skip
                self.assertEqual(done.returncode, 0, done.stderr[-2000:])
            seen = [tuple(row) for row in json.loads(done.stdout.strip().splitlines()[-1])]
        self.assertGreater(len(seen), 30)
        heat = {name: value for name, value in seen if isinstance(value, int) and not str(name).startswith("/")}
        self.assertEqual(set(heat) - {"export"}, {"Corrie Halt", "Millrace workshop"})
        self.assertTrue(all(value > 0 for value in heat.values()), heat)


class StandIns(PlainTestCase):
    def test_a_real_installation_has_no_made_up_prices_and_no_made_up_gauge(self) -> None:
        """Off unless the setting asks for them; the demo does."""
        code = (
            "import django; django.setup(); from server.library.suppliers import attached; from django.conf import settings; "
            "from server.survey import gauges; print(settings.STAND_INS, attached() is not None, len(gauges._attached))"
        )
        for asked, told in (("", "False False 0"), ("1", "True True 1")):
            env = {**os.environ, "DJANGO_SETTINGS_MODULE": "server.settings", "WENDRICK_STAND_INS": asked}
            done = subprocess.run([sys.executable, "-c", code], cwd=ROOT, env=env, capture_output=True, text=True)
            self.assertEqual(done.stdout.strip(), told, done.stderr[-2000:])
