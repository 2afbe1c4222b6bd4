"""python manage.py report "Corrie Halt" --kind client|whole|condition|heating|builder --units metric|inch --out FILE"""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any, get_args

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from server.dossier.asked import Asked, Kind
from server.dossier.documents import write
from server.dossier.gather import Gathered, hash_of
from server.dossier.paper.page import Sheet, System
from server.projects.models import Project


class Command(BaseCommand):
    help = "Write a report of a project as PDF."
    requires_system_checks: list[str] = []  # they would read every room first

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("project", help="its name, or its number")
        parser.add_argument("--kind", choices=get_args(Kind), default="client")
        parser.add_argument("--units", choices=get_args(System), default="metric")
        parser.add_argument("--sheet", choices=get_args(Sheet), default="a4")
        parser.add_argument("--by", default="", help="who made it")
        parser.add_argument("--out", type=Path, required=True)

    def handle(
        self, *args: Any, project: str, kind: Kind, units: System, sheet: Sheet, by: str, out: Path, **options: Any
    ) -> None:
        rows = Project.objects.filter(name=project) or Project.objects.filter(
            pk=int(project) if project.isdigit() else 0
        )
        if len(rows) != 1:
            raise CommandError(f"{len(rows)} projects are called “{project}”; give the number of one.")
        row = rows[0]
        asked = Asked(kind, units, sheet, by, timezone.now(), hash_of(row))
        beside = out.with_name(f"{out.name}.tmp")
        try:
            pages = write(Gathered(row), asked, beside)
            os.replace(beside, out)
        except OSError as error:
            raise CommandError(f"{out} cannot be written: {error.strerror}") from error
        finally:
            beside.unlink(missing_ok=True)
        self.stdout.write(f"{out}: {pages} {'page' if pages == 1 else 'pages'}")
