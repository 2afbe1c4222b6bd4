"""manage.py backup FILE.zip: database, photos, imported climates, documents and reports in one file, while people go on working.

Results of runs are not in it: they are computed again from what is.
"""

from __future__ import annotations

import os
import sqlite3
import tempfile
import zipfile
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import connection

DATABASE = "wendrick.sqlite3"
FOLDERS = {"photos": "PHOTOS", "climates": "CLIMATES", "reports": "REPORTS", "documents": "DOCUMENTS"}


class Command(BaseCommand):
    help = "Write database, photos, imported climates and reports into a zip, while the program runs."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        target: Path = options["file"]
        if target.exists():
            raise CommandError(f"{target} is there already; name another file")
        part = target.with_name(f"{target.name}.{os.getpid()}.part")
        try:
            os.close(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
            with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as archive:
                count = self._write(archive)
            part.replace(target)
        finally:
            part.unlink(missing_ok=True)
        self.stdout.write(f"{target}: the database and {count} files")

    @staticmethod
    def _write(archive: zipfile.ZipFile) -> int:
        """The database first, as it is at one moment: a photo is on disk before its row, so none of its rows lacks one."""
        with tempfile.TemporaryDirectory(dir=settings.DATA) as folder:
            copy = Path(folder) / DATABASE
            with sqlite3.connect(copy) as into, sqlite3.connect(str(connection.settings_dict["NAME"])) as source:
                source.backup(into)
            into.close()
            source.close()
            archive.write(copy, DATABASE)
        count = 0
        for name, setting in FOLDERS.items():
            root = Path(getattr(settings, setting))
            for path in sorted(root.rglob("*")):
                if not path.is_file() or path.suffix == ".part":
                    continue
                try:
                    archive.write(path, f"{name}/{path.relative_to(root)}", zipfile.ZIP_STORED)
                    count += 1
                except FileNotFoundError:
                    continue  # removed since the database was copied
        return count
