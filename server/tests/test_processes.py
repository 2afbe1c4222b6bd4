"""The program as processes: a server that slow visitors do not stop, a cluster that only its own runner reaches, workers that die."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import socket
import ssl
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import TestCase, skipUnless

from distributed.security import Security

from server.runs.models import Run
from server.tests.processes import children, command, data_folder, manage, rows

ROOT = Path(__file__).resolve().parents[2]
NOBODY, STRANGERS_PYTHON = 65534, "/usr/bin/python3"
# What another account tries: a handshake with keys of its own and with none, the memory and words of each process, the data.
STRANGER = """
import json, os, socket, ssl, sys
asked, got, tried = json.load(sys.stdin), [], 0
for address, port in asked["ports"]:
    for own in (True, False):
        tried += 1
        context = ssl.create_default_context()
        context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
        if own:
            context.load_cert_chain(asked["keys"])
        try:
            with context.wrap_socket(socket.create_connection((address, port), timeout=3)) as line:
                line.settimeout(3)
                line.sendall(b"x" * 64)
                if line.recv(1):
                    got.append(f"an answer at {port}")
        except OSError:
            pass
for pid in asked["pids"]:
    for name in ("environ", "mem", "fd"):
        tried += 1
        try:
            os.listdir(f"/proc/{pid}/{name}") if name == "fd" else open(f"/proc/{pid}/{name}", "rb").read(1)
            got.append(f"{name} of {pid}")
        except OSError:
            pass
tried += 1
try:
    got += os.listdir(asked["data"])
except OSError:
    pass
print(json.dumps({"tried": tried, "got": got}))
"""


def waited(what: Callable[[], Any], seconds: float = 120.0) -> Any:
    """The first answer that is true. On a busy machine all takes longer: this waits long, and ends at once."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        try:
            if found := what():
                return found
        except OSError:
            pass
        time.sleep(0.1)
    raise AssertionError(f"still nothing after {seconds} s")


class Processes(TestCase):
    """A data folder of its own, thrown away afterwards."""

    with_demo = False

    def setUp(self) -> None:
        self.data = data_folder(Path(tempfile.mkdtemp(prefix="wendrick-processes-")), self.with_demo)
        self.addCleanup(shutil.rmtree, self.data, True)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.env = {
            **os.environ,
            "WENDRICK_DATA": str(self.data),
            "WENDRICK_WORKERS": "1",
            "WENDRICK_PORT": str(self.port),
            "WENDRICK_PATIENCE": "0.3",
        }

    def start(self, *words: str) -> subprocess.Popen[bytes]:
        process = subprocess.Popen([sys.executable, *words], cwd=ROOT, env=self.env, start_new_session=True)

        def end() -> None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)
            process.wait()

        self.addCleanup(end)
        return process

    def health(self) -> dict[str, Any]:
        with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/health", timeout=20) as answer:
            return dict(json.loads(answer.read()))


class Visitors(Processes):
    def test_slow_and_idle_connections_do_not_stop_the_site_and_are_closed(self) -> None:
        self.start("-m", "gunicorn", "server.wsgi", "--config", "server/gunicorn.conf.py")
        waited(self.health)
        sent = [
            b"",
            b"GET /health HTTP/1.1\r\nHost: x\r\n",
            b"POST /api/session HTTP/1.1\r\nHost: localhost\r\nContent-Length: 900\r\n\r\n{",
        ]
        slow = []
        for start in sent * 10:
            one = socket.create_connection(("127.0.0.1", self.port))
            one.sendall(start)
            slow.append(one)
        began = time.monotonic()
        self.assertEqual(self.health()["web"], "ok")
        self.assertLess(time.monotonic() - began, 10.0, "thirty that send nothing more keep nobody out")
        for one in slow:
            one.settimeout(60)
            with one:
                try:
                    while one.recv(4096):
                        pass  # an answer to what was cut off, then the end
                except ConnectionResetError:
                    pass
        self.assertLess(time.monotonic() - began, 60.0)

    def test_a_refusal_before_the_body_is_read_ends_the_connection_and_says_so(self) -> None:
        self.start("-m", "gunicorn", "server.wsgi", "--config", "server/gunicorn.conf.py")
        waited(self.health)
        for path, status in (("/api/projects/import", b"401"), ("/somewhere", b"405")):
            with self.subTest(path=path), socket.create_connection(("127.0.0.1", self.port), timeout=20) as one:
                head = f"POST {path} HTTP/1.1\r\nHost: localhost\r\nContent-Length: 100000\r\n\r\n"
                one.sendall(head.encode() + b"x" * 1000)
                answer = one.recv(65536)
                self.assertIn(status, answer.split(b"\r\n")[0])
                self.assertIn(b"connection: close", answer.lower())
        with socket.create_connection(("127.0.0.1", self.port), timeout=20) as one:
            one.sendall(b"GET /health HTTP/1.1\r\nHost: localhost\r\n\r\n")
            self.assertIn(b"connection: keep-alive", one.recv(65536).lower())

    def test_health_tells_of_the_runner(self) -> None:
        self.start("-m", "gunicorn", "server.wsgi", "--config", "server/gunicorn.conf.py")
        self.assertEqual(waited(self.health)["runner"], "not at work")
        runner = self.start("manage.py", "runner")
        waited(lambda: self.health()["runner"] == "ok" and self.health()["workers"] == 1)
        os.killpg(runner.pid, signal.SIGKILL)
        runner.wait()
        waited(lambda: self.health()["runner"] == "not at work")


class Cluster(Processes):
    def test_nobody_else_reaches_it(self) -> None:
        runner = self.start("manage.py", "runner")
        waited(lambda: (self.data / "runner.json").exists())
        ports = waited(lambda: _listening([runner.pid, *children(runner.pid)]))
        self.assertGreaterEqual(len(ports), 2)
        for address, port in ports:
            with self.subTest(port=port):
                self.assertEqual(address, "127.0.0.1")
                with socket.create_connection((address, port), timeout=20) as plain:
                    plain.settimeout(20)
                    plain.sendall(b"GET / HTTP/1.0\r\n\r\n")
                    try:
                        answer = plain.recv(400)
                    except ConnectionResetError:
                        answer = b""
                self.assertFalse(b"200 OK" in answer, "it has no pages")
                if answer.startswith(b"HTTP/"):
                    self.assertIn(b"404", answer)
                    continue
                anybody = ssl.create_default_context()
                anybody.check_hostname, anybody.verify_mode = False, ssl.CERT_NONE
                with (
                    socket.create_connection((address, port), timeout=20) as raw,
                    self.assertRaises((ssl.SSLError, OSError)),
                    anybody.wrap_socket(raw) as encrypted,
                ):  # without the keys of the runner
                    encrypted.settimeout(20)
                    encrypted.sendall(b"x" * 64)
                    if not encrypted.recv(1):
                        raise OSError("closed")

    @skipUnless(
        os.geteuid() == 0 and Path(STRANGERS_PYTHON).exists(), "another account needs root and a Python it may read"
    )
    def test_another_account_of_the_machine(self) -> None:
        """It has keys of the same making, looks for those of the runner, and gets neither code nor a file."""
        runner = self.start("manage.py", "runner")
        waited(lambda: (self.data / "runner.json").exists())
        pids = [runner.pid, *children(runner.pid)]
        with tempfile.TemporaryDirectory(prefix="wendrick-stranger-") as theirs:
            keys = Path(theirs) / "keys.pem"
            made: Any = Security.temporary()  # type: ignore[no-untyped-call]
            keys.write_text(made.tls_client_cert + made.tls_client_key)
            for path, mode in ((Path(theirs), 0o755), (keys, 0o644)):
                path.chmod(mode)
            asked = {"ports": waited(lambda: _listening(pids)), "pids": pids, "keys": str(keys), "data": str(self.data)}
            told = subprocess.run(
                [STRANGERS_PYTHON, "-c", STRANGER],
                input=json.dumps(asked),
                capture_output=True,
                text=True,
                user=NOBODY,
                group=NOBODY,
                extra_groups=[],
                env={},
                cwd="/",
                timeout=120,
            )
        self.assertEqual(told.returncode, 0, told.stderr)
        answer = json.loads(told.stdout)
        self.assertEqual(answer["tried"], 2 * len(asked["ports"]) + 3 * len(pids) + 1)
        self.assertEqual(answer["got"], [])


class KilledWorker(Processes):
    with_demo = True

    def test_it_comes_back_though_killed_again_and_again(self) -> None:
        asked = (
            "from server.projects.models import Option; from server.runs.actions import ask_run; "
            "o = Option.objects.filter(element__name='Garden face', role='as_found').first(); "
            "ask_run(o.element.project.owner, o.pk)"
        )
        manage(self.data, "shell", "--verbosity", "0", "-c", asked)
        runner = self.start("manage.py", "runner")

        def workers() -> list[int]:
            return [pid for pid in children(runner.pid) if "spawn_main" in command(pid)]

        waited((self.data / "runner.json").exists)
        killed: set[int] = set()
        for _ in range(2):
            for pid in waited(lambda: set(workers()) - killed):
                killed.add(pid)
                os.kill(pid, signal.SIGKILL)
        seen = f"SELECT status, attempts FROM {Run._meta.db_table}"
        status, attempts = waited(lambda: (row := rows(self.data, seen)[0])[0] not in ("running", "waiting") and row)
        self.assertEqual(status, "done")
        self.assertLess(attempts, 3)


def _listening(pids: list[int]) -> list[tuple[str, int]]:
    """(address, port) on which these processes listen, over IPv4."""
    sockets = set()
    for pid in pids:
        for link in Path(f"/proc/{pid}/fd").glob("*"):
            try:
                target = os.readlink(link)
            except OSError:
                continue
            if target.startswith("socket:["):
                sockets.add(target[8:-1])
    found = []
    for line in Path("/proc/net/tcp").read_text().splitlines()[1:]:
        fields = line.split()
        if fields[3] == "0A" and fields[9] in sockets:
            address, _, port = fields[1].partition(":")
            found.append((socket.inet_ntoa(bytes.fromhex(address)[::-1]), int(port, 16)))
    return sorted(set(found))
