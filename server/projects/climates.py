"""Imported weather and indoor air: read by the core, kept as a file under the hash of its hours, remembered by its make."""

from __future__ import annotations

import hashlib
import os
from dataclasses import asdict
from pathlib import Path

from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser, AnonymousUser
from django.db import transaction
from django.http import Http404
from ninja import UploadedFile

from core.climate.data import parse_climate
from core.climate.importer import Mapping, look, read
from server.problems import Problem
from server.projects.models import ClimateFile, Project, signed_in

User = AbstractBaseUser | AnonymousUser
LARGEST = 30 * 1024 * 1024


def path_of(name: str) -> Path:
    """Where the hours of an imported climate are kept."""
    return Path(settings.CLIMATES) / f"{name}.csv"


def read_upload(file: UploadedFile) -> bytes:
    """The bytes of an uploaded file, at most LARGEST. Raises Problem beyond it or for an empty file."""
    if (file.size or 0) > LARGEST:
        raise Problem(
            413, "file_too_large", f"The file is larger than {LARGEST // 1024**2} MB.", "A year by the hour is less."
        )
    raw = file.read()
    if not raw.strip():
        raise Problem(422, "file_empty", "The file is empty.", "Choose another file.")
    return raw


def remembered(user: User, signature: str) -> Mapping | None:
    """How the newest file of the same make was read, or None."""
    row = ClimateFile.objects.visible_to(user).filter(signature=signature, mapping__isnull=False).first()
    return Mapping.model_validate(row.mapping) if row is not None else None


def import_climate(user: User, raw: bytes, mapping: Mapping, file_name: str) -> ClimateFile:
    """Read as mapped and keep it. The same file read the same way is the same climate."""
    text, report = read(raw, mapping)
    name = f"own-{hashlib.sha256(text).hexdigest()[:12]}"
    return keep(
        user,
        text,
        mapping.kind,
        name,
        file_name=file_name[:200],
        signature=look(raw).signature,
        mapping=mapping.model_dump(mode="json"),
        report=asdict(report),
    )


@transaction.atomic
def keep(user: User, text: bytes, kind: str, name: str, **values: object) -> ClimateFile:
    """Check a climate file of the program and keep it under its name; its name must be its hash."""
    climate = parse_climate(name, text)
    if name != f"own-{hashlib.sha256(text).hexdigest()[:12]}":
        raise Problem(422, "climate_changed", f"The climate “{name}” was changed after it was made.", "Import it anew.")
    path = path_of(name)
    path.parent.mkdir(parents=True, exist_ok=True)
    temporary = path.with_suffix(f".{os.getpid()}.tmp")
    temporary.write_bytes(text)
    temporary.replace(path)
    row, _ = ClimateFile.objects.update_or_create(
        owner=signed_in(user), name=name, defaults={"kind": kind, "label": climate.label[:80], **values}
    )
    return row


@transaction.atomic
def forget(user: User, climate_id: int) -> None:
    """Take an imported climate off the list; refused while a project uses it. Its hours stay for finished runs."""
    row = ClimateFile.objects.visible_to(user).filter(pk=climate_id).first()
    if row is None:
        raise Http404
    used = Project.objects.visible_to(user)
    users = [*used.filter(climate=row.name), *used.filter(occupancy=row.name)]
    if users:
        raise Problem(
            409, "climate_in_use", f"“{users[0].name}” uses this file.", "Give the project another one first."
        )
    row.delete()
