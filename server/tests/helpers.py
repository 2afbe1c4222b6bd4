"""People, projects and a signed-in client for tests."""

from __future__ import annotations

import atexit
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from functools import cache
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.test import Client

from demo.scenarios import project_file
from server.exchange.bring import import_file
from server.projects.models import Project

ROOT = Path(__file__).resolve().parents[2]
DEMO = ROOT / "demo" / "corrie-halt.json"
PASSWORD = "a-long-password-1"


def person(name: str) -> User:
    return User.objects.create_user(name, password=PASSWORD, first_name=name.title())


def client_of(user: User, csrf: bool = False) -> Client:
    client = Client(enforce_csrf_checks=csrf)
    client.force_login(user)
    return client


def corrie(user: User) -> Project:
    """The demo project, without its runs."""
    with project_file(DEMO.name) as stream:
        return import_file(user, stream, stream.seek(0, 2))


def send(client: Client, method: str, path: str, body: Any = None, **extra: Any) -> Any:
    """A JSON request; returns the response."""
    return client.generic(
        method, path, json.dumps(body) if body is not None else "", content_type="application/json", **extra
    )


def manage(data: Path, *words: str, code: int = 0, **more: str) -> str:
    """What one of the program's commands says, as a process of its own on a data folder; it ends with `code`."""
    env = {**os.environ, "WENDRICK_DATA": str(data), "WENDRICK_CLIMATES": str(data / "climates"), **more}
    done = subprocess.run([sys.executable, "manage.py", *words], cwd=ROOT, env=env, capture_output=True, text=True)
    assert done.returncode == code, f"{words} ended with {done.returncode}: {done.stdout[-2000:]}{done.stderr[-4000:]}"
    return done.stdout + done.stderr


@cache
def _prepared(demo: bool) -> Path:
    data = Path(tempfile.mkdtemp(prefix="wendrick-prepared-"))
    atexit.register(shutil.rmtree, data, True)
    if demo:
        shutil.copytree(_prepared(False), data, dirs_exist_ok=True)
        manage(data, "load_demo", "--no-runs")
    else:
        manage(data, "migrate", "--verbosity", "0")
    return data


def data_folder(into: Path, demo: bool = True) -> Path:
    """A data folder for processes that are tested, migrated and with the demo: a copy of one that is made once."""
    return Path(shutil.copytree(_prepared(demo), into, dirs_exist_ok=True))


def rows(data: Path, query: str) -> list[tuple[Any, ...]]:
    """Read beside the processes that work on it: asking by a command would take seconds of a core each time."""
    with closing(sqlite3.connect(f"file:{data / 'wendrick.sqlite3'}?mode=ro", uri=True, timeout=30)) as database:
        return database.execute(query).fetchall()
