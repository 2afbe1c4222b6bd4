"""./run kills 200: web server, runner and workers killed again and again under edits and runs, and a disk that fills.

A data folder of its own, real processes, `./run serve` in front. At the end: every edit that was answered is there, every run
is done once, none failed for having been interrupted. Where a small disk can be mounted (as root) it fills and empties too.
"""

from __future__ import annotations

import http.cookiejar
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections import Counter
from pathlib import Path
from typing import Any

from server.tests.processes import children, command

ROOT = Path(__file__).resolve().parents[1]
WALL = [{"id": "a", "material": "brick_old", "thickness_mm": 220, "existing": True}]
DISK_MB = 300


class Visitor:
    """A signed-in person who tries again when the server does not answer."""

    def __init__(self, port: int) -> None:
        self.root = f"http://127.0.0.1:{port}"
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        """(status, answer); status 0 where there was none."""
        token = next((one.value for one in self.jar if one.name == "csrftoken"), "") or ""
        request = urllib.request.Request(self.root + path, method=method, headers={"X-CSRFToken": token, "Content-Type": "application/json", "Referer": self.root})  # fmt: skip
        try:
            with self.opener.open(
                request, json.dumps(body).encode() if body is not None else None, timeout=30
            ) as answer:
                return answer.status, json.loads(answer.read() or b"null")
        except urllib.error.HTTPError as error:
            words = error.read()
            try:
                return error.code, json.loads(words or b"null")
            except ValueError as wrong:
                raise AssertionError(f"{method} {path}: {error.code}, no problem: {words[:300]!r}") from wrong
        except (OSError, ValueError):
            return 0, None

    def surely(self, method: str, path: str, body: Any = None, seconds: float = 180) -> Any:
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            status, answer = self.ask(method, path, body)
            if 200 <= status < 300:
                return answer
            if status not in (0, 503, 507, 500, 502):
                raise AssertionError(f"{method} {path}: {status} {answer}")
            time.sleep(0.3)
        raise AssertionError(f"{method} {path}: no answer for {seconds} s")


def of_kind(root: int) -> dict[str, list[int]]:
    """Living processes of the program by what they are."""
    found: dict[str, list[int]] = {"web": [], "runner": [], "worker": []}
    for pid in children(root):
        words = command(pid)
        if "manage.py runner" in words and "bash" not in words:
            found["runner"].append(pid)
        elif "gunicorn" in words and "bash" not in words:
            found["web"].append(pid)
        elif "spawn_main" in words:
            found["worker"].append(pid)
    return found


def main(kills: int, seed: int = 5) -> int:
    folder = tempfile.mkdtemp(prefix="wendrick-kills-")
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m", "tmpfs", folder], capture_output=True).returncode == 0  # fmt: skip
    port = 8077
    env = {**os.environ, "WENDRICK_DATA": folder, "WENDRICK_PORT": str(port), "WENDRICK_WORKERS": "2", "WENDRICK_CLIMATES": f"{folder}/climates", "WENDRICK_CACHE": "/tmp/wendrick-kills-cache"}  # fmt: skip
    password = "a slate roof of 1890"
    subprocess.run(["./run", "createuser", "kay", "--password-stdin"], cwd=ROOT, env=env, input=password, text=True, check=True)  # fmt: skip
    program = subprocess.Popen(["./run", "serve"], cwd=ROOT, env=env, start_new_session=True)
    try:
        return _under_fire(Visitor(port), program.pid, kills, random.Random(seed), Path(folder), password, mounted)
    finally:
        for pid in [*children(program.pid), program.pid]:
            try:
                os.kill(pid, signal.SIGKILL)
            except ProcessLookupError:
                continue
        program.wait()
        time.sleep(1)
        if mounted:
            subprocess.run(["umount", "-l", folder], check=False)
        shutil.rmtree(folder, ignore_errors=True)


def _under_fire(
    who: Visitor, root: int, kills: int, chance: random.Random, data: Path, password: str, disk: bool
) -> int:
    who.surely("GET", "/api/session")
    who.surely("POST", "/api/session", {"username": "kay", "password": password})
    project = who.surely("POST", "/api/projects", {"name": "Under fire", "volume_m3": 100})["id"]
    element = who.surely("POST", f"/api/projects/{project}/elements", {"name": "W", "kind": "wall", "area_m2": 9, "build_up": {"layers": WALL}})["id"]  # fmt: skip
    kept: dict[str, float] = {}
    asked: set[int] = set()
    counts: Counter[str] = Counter()
    option = who.surely("GET", f"/api/elements/{element}/sheet")["options"][0]["id"]
    asked.add(who.surely("POST", f"/api/options/{option}/runs")["id"])
    last = 0
    for number in range(kills):
        volume = 100.0 + number
        who.surely("PUT", f"/api/projects/{project}", {"name": "Under fire", "volume_m3": volume})
        kept["volume"] = volume
        if number % 10 == 0 and len(asked) < 16:
            name = f"lined {number}"
            layers = [*WALL, {"id": "b", "material": "wood_fibre_board", "thickness_mm": 40 + number}]
            body = {"name": name, "build_up": {"layers": layers}}
            options = who.surely("GET", f"/api/elements/{element}/sheet")["options"]
            mine = next((one["id"] for one in options if one["name"] == name), None)
            mine = mine or who.surely("POST", f"/api/elements/{element}/options", body)["id"]
            asked.add(who.surely("POST", f"/api/options/{mine}/runs")["id"])
        if disk and number % 50 == 25:
            _fill_and_empty(who, project, data, volume)
            counts["full disk"] += 1
        living = of_kind(root)
        kind = chance.choice([kind for kind, pids in living.items() if pids] or ["web"])
        victims = living[kind] or [0]
        # now and then the same again: what took its place
        target = max(victims) if chance.random() < 0.3 and last in victims else chance.choice(victims)
        if target:
            try:
                os.kill(target, signal.SIGKILL)
                counts[kind] += 1
                last = target
            except ProcessLookupError:
                pass
        time.sleep(chance.random() * 1.5)
        print(f"\r{number + 1} of {kills}: {dict(counts)}", end="", flush=True)
    print()
    page = who.surely("GET", f"/api/projects/{project}")
    lost = page["project"]["volume_m3"] != kept["volume"]
    states = _until_done(who, asked)
    twice = len({run["id"] for run in states}) != len(states)
    print(f"edits kept: {not lost}; runs: {dict(Counter(run['status'] for run in states))} of {len(asked)} asked")
    good = (
        not lost
        and not twice
        and {run["status"] for run in states} == {"done"}
        and asked <= {run["id"] for run in states}
    )
    print(
        "all well"
        if good
        else f"NOT WELL: {[(run['id'], run['status'], run['error']) for run in states if run['status'] != 'done']}"
    )
    return 0 if good else 1


def _until_done(who: Visitor, asked: set[int], seconds: float = 600) -> list[dict[str, Any]]:
    until = time.monotonic() + seconds
    while True:
        runs = [run for run in who.surely("GET", "/api/runs") if run["id"] in asked]
        if all(run["status"] in ("done", "failed", "cancelled") for run in runs) or time.monotonic() > until:
            return runs
        time.sleep(2)


def _fill_and_empty(who: Visitor, project: int, data: Path, volume: float) -> None:
    """The disk to the last byte: edits are refused in words, or kept; then there is room again and all goes on."""
    stuffing = data / "stuffing"
    with open(stuffing, "wb") as out:
        try:
            while True:
                out.write(b"0" * 1024 * 1024)
                out.flush()
        except OSError:
            pass
    for _ in range(4):
        status, answer = who.ask("PUT", f"/api/projects/{project}", {"name": "Under fire", "volume_m3": volume})
        if status not in (0, 200, 503, 507):
            raise AssertionError(f"on a full disk: {status} {answer}")
        time.sleep(0.5)
    stuffing.unlink()
    who.surely("PUT", f"/api/projects/{project}", {"name": "Under fire", "volume_m3": volume})


if __name__ == "__main__":
    raise SystemExit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 200))
