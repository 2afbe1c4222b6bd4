"""manage.py bench_reports: time and memory of each report and list of the large project, in a database thrown away."""

from __future__ import annotations

import io
import json
import resource
import tempfile
import time
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand
from django.db import transaction
from django.test import override_settings
from django.utils import timezone

from server.dossier.asked import Asked
from server.dossier.documents import DOCUMENTS, write
from server.dossier.gather import Gathered, hash_of
from server.dossier.lists import LISTS, as_xlsx, list_of
from server.exchange.management.commands.bench_views import Undo, fill


class Command(BaseCommand):
    help = "Measure every report of a large project; nothing is kept."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("--json", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        rows: list[dict[str, Any]] = []
        with tempfile.TemporaryDirectory() as folder, override_settings(PHOTOS=Path(folder)):
            try:
                with transaction.atomic():
                    rows = self._measure()
                    raise Undo
            except Undo:
                pass
        if options["json"]:
            self.stdout.write(json.dumps(rows, indent=1))
            return
        self.stdout.write("Reports of the large project: time, pages, size, and the most memory the process ever had")
        for row in rows:
            self.stdout.write(f"  {row['what']:<22}{row['seconds']:7.2f} s {row['pages']:5} pages {row['kB']:8} kB {row['MB']:5} MB")  # fmt: skip

    def _measure(self) -> list[dict[str, Any]]:
        project = fill(User.objects.create_user("bench-of-reports", password=None))
        rows = []

        def row(what: str, began: float, pages: int, size: int) -> dict[str, Any]:
            most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
            return {"what": what, "seconds": round(time.perf_counter() - began, 2), "pages": pages, "kB": size // 1024, "MB": most}  # fmt: skip

        for kind in DOCUMENTS:
            out, began = io.BytesIO(), time.perf_counter()
            pages = write(Gathered(project), Asked(kind, by="bench", at=timezone.now(), hash=hash_of(project)), out)
            rows.append(row(f"report, {kind}", began, pages, out.tell()))
        began = time.perf_counter()
        g = Gathered(project)
        raw = as_xlsx([list_of(g, key) for key in LISTS], "metric")
        rows.append(row("lists, XLSX", began, 0, len(raw)))
        return rows
