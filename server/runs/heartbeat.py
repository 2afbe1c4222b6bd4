"""What the runner tells of itself: a small file it writes every few seconds, read by /health and by what waits."""

from __future__ import annotations

import json
import os
import time
from contextlib import suppress
from pathlib import Path

from django.conf import settings
from pydantic import BaseModel, ValidationError

from server.files import write_whole

EVERY_S = 4.0
GONE_AFTER_S = 15.0


class Heartbeat(BaseModel):
    """Of a runner: its process, when it was seen [s since 1970], its workers, and what hinders it ("" when nothing does)."""

    pid: int
    at: float
    workers: int
    hindered: str = ""


def _path() -> Path:
    return Path(settings.DATA) / "runner.json"


def beat(workers: int, hindered: str = "") -> None:
    """Say that the runner is at work. A full disk is no reason to stop it."""
    text = Heartbeat(pid=os.getpid(), at=time.time(), workers=workers, hindered=hindered).model_dump_json()
    with suppress(OSError):
        write_whole(_path(), text.encode())


def last() -> Heartbeat | None:
    """The runner that is at work, or None: none was started, or it has not been heard of."""
    try:
        found = Heartbeat.model_validate_json(_path().read_text())
        os.kill(found.pid, 0)
    except (OSError, ValidationError, json.JSONDecodeError):
        return None
    return found if time.time() - found.at < GONE_AFTER_S else None
