"""./run crowd [PEOPLE]: so many people edit for a minute on a server of their own, while another imports 200 MB.

Prints how long answers took. Never a test: machines differ. Exit 1 when anybody was refused or locked out.
"""

from __future__ import annotations

import io
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from e2e.kills import ROOT, WALL, Visitor
from server.tests.processes import children

PORT, SECONDS, PASSWORD = 8078, 60.0, "a slate roof of 1890"
LINED = [*WALL, {"id": "b", "material": "wood_fibre_board", "thickness_mm": 60}]
MAKE = (
    "from django.contrib.auth.models import User\n"
    "for n in range({people} + 1): User.objects.create_user(f'p{{n}}', password='{password}')"
)


def project_file(like: bytes, megabytes: int) -> bytes:
    """An open project file like this one, with photos nobody took, of about this size."""
    rng = np.random.default_rng(1)
    raw, size = io.BytesIO(), 0
    photos: list[dict[str, str]] = []
    with zipfile.ZipFile(io.BytesIO(like)) as found:
        document = json.loads(found.read("project.json"))
    with zipfile.ZipFile(raw, "w", zipfile.ZIP_STORED) as out:
        while size < megabytes * 1_000_000:
            picture = io.BytesIO()
            Image.fromarray(rng.integers(0, 255, (1100, 1500, 3), np.uint8)).save(picture, "JPEG", quality=88)
            uid = f"photo-{len(photos):05d}"
            out.writestr(f"photos/{uid}.jpg", picture.getvalue())
            photos.append({"uid": uid, "caption": "noise"})
            size += picture.getbuffer().nbytes
        out.writestr("project.json", json.dumps({**document, "photos": photos}))
    return raw.getvalue()


class Editor:
    """One person at one wall: types, keeps a draft, commits, looks."""

    def __init__(self, number: int) -> None:
        self.chance = random.Random(number)
        self.who = Visitor(PORT)
        self.who.surely("GET", "/api/session")
        self.who.surely("POST", "/api/session", {"username": f"p{number}", "password": PASSWORD})
        self.project = self.who.surely("POST", "/api/projects", {"name": f"House {number}", "volume_m3": 100})["id"]
        made = {"name": "W", "kind": "wall", "area_m2": 9, "build_up": {"layers": WALL}}
        self.element = self.who.surely("POST", f"/api/projects/{self.project}/elements", made)["id"]
        body = {"name": "lined", "build_up": {"layers": LINED}}
        self.option = self.who.surely("POST", f"/api/elements/{self.element}/options", body)
        self.took: list[tuple[str, float, int]] = []

    def once(self) -> None:
        layers = [*WALL, {**LINED[1], "thickness_mm": self.chance.randint(20, 200)}]
        build_up = {"layers": layers}
        option = f"/api/options/{self.option['id']}"
        kind = self.chance.choices(["type", "draft", "commit", "sheet", "project"], [6, 2, 1, 1, 1])[0]
        method, path, body = {
            "type": ("POST", f"/api/elements/{self.element}/preview", {"build_up": build_up}),
            "draft": ("PUT", f"{option}/draft", {"build_up": build_up}),
            "commit": ("PUT", option, {"revision": self.option["revision"], "build_up": build_up}),
            "sheet": ("GET", f"/api/elements/{self.element}/sheet", None),
            "project": ("GET", f"/api/projects/{self.project}", None),
        }[kind]
        began = time.monotonic()
        status, answer = self.who.ask(method, path, body)
        self.took.append((kind, time.monotonic() - began, status))
        if kind == "commit" and status == 200:
            self.option = answer

    def work(self, until: float) -> None:
        while time.monotonic() < until:
            self.once()
            time.sleep(self.chance.uniform(0.3, 1.2))


def told(name: str, took: list[tuple[str, float, int]]) -> None:
    seconds = np.array([one[1] for one in took])
    print(f"{name:<34} {len(seconds):>5} answers, half under {np.median(seconds):.3f} s, "
          f"95 of 100 under {np.quantile(seconds, 0.95):.3f} s, longest {seconds.max():.3f} s")  # fmt: skip


def crowd(people: int) -> int:
    editors = [Editor(number) for number in range(people)]
    imported: dict[str, Any] = {}
    path = Path(tempfile.mkstemp(suffix=".zip")[1])
    one = Editor(people)
    with one.who.opener.open(f"{one.who.root}/api/projects/{one.project}/export") as like:
        path.write_bytes(project_file(like.read(), 200))

    def bring() -> None:
        token = next(cookie.value for cookie in one.who.jar if cookie.name == "csrftoken")
        cookies = "; ".join(f"{cookie.name}={cookie.value}" for cookie in one.who.jar)
        began = time.monotonic()
        words = ["curl", "-s", "-w", "%{http_code}", "-F", f"file=@{path}", "-H", f"X-CSRFToken: {token}",
                 "-H", f"Cookie: {cookies}", "-H", f"Referer: {one.who.root}", f"{one.who.root}/api/projects/import"]  # fmt: skip
        answer = subprocess.run(words, capture_output=True, text=True).stdout
        imported["status"], imported["words"] = answer[-3:], answer[:-3][:300]
        imported["seconds"] = time.monotonic() - began

    bad = 0
    for name, beside in (("alone", None), ("beside an import of 200 MB", bring)):
        for editor in editors:
            editor.took.clear()
        until = time.monotonic() + SECONDS
        threads = [threading.Thread(target=editor.work, args=(until,)) for editor in editors]
        threads += [threading.Thread(target=beside)] if beside else []
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        took = [one for editor in editors for one in editor.took]
        told(f"{people} people {name}", took)
        for kind in ("type", "draft", "commit", "sheet", "project"):
            told(f"  {kind}", [one for one in took if one[0] == kind])
        bad += sum(not 200 <= status < 300 for _, _, status in took)
    path.unlink()
    print(f"refused or not answered: {bad}; the import: {imported['status']} after {imported['seconds']:.1f} s")
    if imported["status"] != "201":
        print(imported["words"])
    return int(bad > 0 or imported["status"] != "201")


def main(people: int) -> int:
    folder = tempfile.mkdtemp(prefix="wendrick-crowd-")
    env = {**os.environ, "WENDRICK_DATA": folder, "WENDRICK_PORT": str(PORT)}
    subprocess.run([sys.executable, "manage.py", "migrate", "--verbosity", "0"], cwd=ROOT, env=env, check=True)
    code = MAKE.format(people=people, password=PASSWORD)
    subprocess.run(
        [sys.executable, "manage.py", "shell", "--verbosity", "0", "-c", code], cwd=ROOT, env=env, check=True
    )
    program = subprocess.Popen(["./run", "serve"], cwd=ROOT, env=env, start_new_session=True)
    try:
        return crowd(people)
    finally:
        for pid in [*children(program.pid), program.pid]:
            try:
                os.kill(pid, signal.SIGKILL)
            except ProcessLookupError:
                continue
        program.wait()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 20))
