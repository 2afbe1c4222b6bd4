"""manage.py restore FILE.zip: a backup into a data folder that holds nothing yet."""

from __future__ import annotations

import shutil
import sqlite3
import zipfile
from argparse import ArgumentParser
from pathlib import Path, PurePosixPath
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection

from server.exchange.management.commands.backup import DATABASE, FOLDERS


class Command(BaseCommand):
    help = "Bring a backup into an empty data folder, and its database up to this version of the program."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        target = Path(str(connection.settings_dict["NAME"]))
        if target.exists() and _accounts(target):
            raise CommandError(f"{settings.DATA} holds accounts already; restore into an empty folder (WENDRICK_DATA)")
        connection.close()
        try:
            with zipfile.ZipFile(options["file"]) as archive:
                places = {info.filename: _place(info.filename) for info in archive.infolist()}
                if DATABASE not in places:
                    raise CommandError(f"{options['file']} holds no database: it is no backup of this program")
                part = target.with_suffix(".part")
                with archive.open(DATABASE) as source, open(part, "wb") as out:
                    shutil.copyfileobj(source, out)
                _check(part)
                for name, place in places.items():
                    if place is not None:
                        place.parent.mkdir(parents=True, exist_ok=True)
                        with archive.open(name) as source, open(place, "wb") as out:
                            shutil.copyfileobj(source, out)
        except (OSError, zipfile.BadZipFile) as error:
            raise CommandError(f"{options['file']} cannot be read: {error}") from error
        for tail in ("-wal", "-shm"):
            Path(f"{target}{tail}").unlink(missing_ok=True)
        part.replace(target)
        call_command("migrate", verbosity=0)
        self.stdout.write(f"restored into {settings.DATA}; accounts, projects, photos and climates are as they were")


def _accounts(database: Path) -> int:
    with sqlite3.connect(database) as rows:
        try:
            return int(rows.execute("SELECT COUNT(*) FROM auth_user").fetchone()[0])
        except sqlite3.Error:
            return 0


def _check(database: Path) -> None:
    with sqlite3.connect(database) as rows:
        try:
            if rows.execute("PRAGMA integrity_check").fetchone()[0] == "ok":
                return
        except sqlite3.Error:
            pass
    database.unlink()
    raise CommandError("the database in the backup is damaged; nothing was restored")


def _place(name: str) -> Path | None:
    """Where a file of the backup goes; None for the database. Any other name is refused."""
    if name == DATABASE:
        return None
    parts = PurePosixPath(name).parts
    if len(parts) < 2 or parts[0] not in FOLDERS or ".." in parts:
        raise CommandError(f"the backup holds “{name}”, which does not belong there; nothing was restored")
    return Path(getattr(settings, FOLDERS[parts[0]])).joinpath(*parts[1:])
