"""What a worker does for a report: lays it out beside and renames it, so that there is all of it or nothing."""

from __future__ import annotations

import hashlib
import os
from typing import TYPE_CHECKING, Any

from core.errors import Cancelled

if TYPE_CHECKING:
    from server.runs.kinds import Watch
    from server.runs.models import Run

REPORT = "report"


def make(run: Run, watch: Watch) -> dict[str, Any]:
    """Make the report of a run and keep it. Raises Cancelled when it is asked to stop."""
    from django.utils import timezone

    from server.dossier.asked import Asked
    from server.dossier.documents import write
    from server.dossier.gather import Gathered, hash_of
    from server.dossier.models import Report

    report = Report.objects.get(run=run)

    def tell(share: float, what: str) -> None:
        watch.progress(share, what)
        if watch.cancelled():
            raise Cancelled

    now = timezone.now()
    made_from = hash_of(run.project)
    asked = Asked(report.kind, report.system, report.sheet, report.asked_by, now, made_from, report.since)  # type: ignore[arg-type]
    report.path.parent.mkdir(parents=True, exist_ok=True)
    beside = report.path.with_suffix(".tmp")
    try:
        pages = write(Gathered(run.project), asked, beside, tell)
        raw = beside.read_bytes()
        with open(beside, "rb") as written:
            os.fsync(written.fileno())
        beside.replace(report.path)
    finally:
        beside.unlink(missing_ok=True)
    report.pages, report.size, report.sha256 = pages, len(raw), hashlib.sha256(raw).hexdigest()
    report.hash, report.made_at = made_from, now
    report.save()
    return {"report": report.pk, "pages": pages}
