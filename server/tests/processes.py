"""Processes that are tested: commands, data folders, what their database says meanwhile, what runs below them. No model is loaded."""

from __future__ import annotations

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

ROOT = Path(__file__).resolve().parents[2]


def manage(data: Path, *words: str, code: int = 0, **more: str) -> str:
    """What one of the program's commands says, as a process of its own on a data folder; it ends with `code`."""
    env = {**os.environ, "WENDRICK_DATA": str(data), "WENDRICK_CLIMATES": str(data / "climates"), **more}
    done = subprocess.run([sys.executable, "manage.py", *words], cwd=ROOT, env=env, capture_output=True, text=True)
    assert done.returncode == code, f"{words} ended with {done.returncode}: {done.stdout[-2000:]}{done.stderr[-4000:]}"
    return done.stdout + done.stderr


@cache
def _prepared(demo: bool) -> Path:
    data = Path(tempfile.mkdtemp(prefix="prepared-", dir=os.environ["WENDRICK_TEST_FOLDER"]))  # thrown away at the end
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


def children(pid: int) -> list[int]:
    """Processes below one, nearest first."""
    found = []
    for entry in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = entry.read_text().rpartition(")")[2].split()
        except OSError:
            continue
        if int(fields[1]) == pid and fields[0] != "Z":
            found.append(int(entry.parent.name))
    return found + [below for one in found for below in children(one)]


def command(pid: int) -> str:
    try:
        return Path(f"/proc/{pid}/cmdline").read_text().replace("\0", " ")
    except OSError:
        return ""
