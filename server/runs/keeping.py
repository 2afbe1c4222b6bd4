"""Results on disk within a size: the oldest that nobody needs go first. Findings stay, and every result can be run again."""

from __future__ import annotations

import shutil
import time
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings

from core.moisture.transient.outcome import SOLVER
from server.runs.models import Run

HALF_WRITTEN_S = 3600.0


@dataclass(frozen=True)
class Kept:
    """One result: its folder, when it was written [s], its size [bytes]."""

    folder: Path
    at: float
    size: int


def needed() -> set[str]:
    """Identities of the results that a page draws: the newest years of every option, and as found beneath them."""
    keys: set[str] = set()
    seen: set[int] = set()
    rows = Run.objects.years().filter(status=Run.DONE, solver=SOLVER).order_by("-pk")
    for option, key, found_key in rows.values_list("option_id", "case_hash", "found_key"):
        if option not in seen:
            seen.add(option)
            keys |= {key, found_key}
    return keys | set(Run.objects.active().values_list("found_key", flat=True))


def results() -> list[Kept]:
    """Everything that was kept, the oldest first. What a worker left half-written an hour ago is cleared away."""
    found = []
    for folder in Path(settings.RESULTS).glob("solver-*/*/*"):
        try:
            at = folder.stat().st_mtime
            if folder.name.endswith(".tmp"):
                if time.time() - at > HALF_WRITTEN_S:
                    shutil.rmtree(folder, ignore_errors=True)
                continue
            found.append(Kept(folder, at, sum(file.stat().st_size for file in folder.iterdir())))
        except FileNotFoundError:
            continue  # taken away meanwhile
    return sorted(found, key=lambda one: one.at)


def keep_within(limit: int) -> int:
    """Remove unneeded results until all take at most `limit` bytes; how many went. 0: no limit."""
    kept = results()
    total, gone = sum(one.size for one in kept), 0
    if not limit or total <= limit:
        return 0
    wanted = needed()
    for one in kept:
        if total <= limit:
            break
        if one.folder.name in wanted and one.folder.parent.parent.name == f"solver-{SOLVER}":
            continue
        shutil.rmtree(one.folder, ignore_errors=True)
        total, gone = total - one.size, gone + 1
    return gone
