"""Imported weather and indoor air: read by the core, kept as a file under the hash of its hours, remembered by its make."""

from __future__ import annotations

import hashlib
from dataclasses import asdict, dataclass
from pathlib import Path

from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser, AnonymousUser
from django.db import transaction
from django.db.models import Q
from django.http import Http404
from ninja import UploadedFile

from core.climate.data import parse_climate
from core.climate.importer import Mapping, look, read
from server.files import write_whole
from server.problems import Problem
from server.projects.models import ClimateFile, Project, signed_in

User = AbstractBaseUser | AnonymousUser
SHORT_HASH = 12  # of a name made before names had the whole hash


def path_of(name: str) -> Path:
    """Where the hours of an imported climate are kept."""
    return Path(settings.CLIMATES) / f"{name}.csv"


def there(name: str) -> bool:
    """Whether the hours of an imported climate are still on disk."""
    return path_of(name).exists()


def read_upload(file: UploadedFile) -> bytes:
    """The bytes of an uploaded file, at most LARGEST. Raises Problem beyond it or for an empty file."""
    if (file.size or 0) > settings.LARGEST_CLIMATE:
        raise Problem(
            413,
            "file_too_large",
            f"The file is larger than {settings.LARGEST_CLIMATE // 1024**2} MB.",
            "A year by the hour is less.",
        )
    raw = file.read()
    if not raw.strip():
        raise Problem(422, "file_empty", "The file is empty.", "Choose another file.")
    return raw


def remembered(user: User, signature: str) -> Mapping | None:
    """How the newest file of the same make was read, or None."""
    row = ClimateFile.objects.viewable_by(user).filter(signature=signature, mapping__isnull=False).first()
    return Mapping.model_validate(row.mapping) if row is not None else None


def import_climate(user: User, raw: bytes, mapping: Mapping, file_name: str) -> ClimateFile:
    """Read as mapped and keep it. The same file read the same way is the same climate."""
    text, report = read(raw, mapping)
    return keep_row(
        user,
        checked(text, mapping.kind),
        file_name=file_name[:200],
        signature=look(raw).signature,
        mapping=mapping.model_dump(mode="json"),
        report=asdict(report),
    )


@dataclass(frozen=True)
class Hours:
    """A climate file of this program, checked and not yet kept."""

    name: str
    kind: str
    label: str
    text: bytes


def checked(text: bytes, kind: str, name: str | None = None) -> Hours:
    """A climate file of this program, whose name is the hash of its hours; another name than that is refused. Files of before have the first 12 of its 64 figures."""
    own = f"own-{hashlib.sha256(text).hexdigest()}"
    if name is not None and name not in (own, own[: len("own-") + SHORT_HASH]):
        raise Problem(422, "climate_changed", f"The climate “{name}” was changed after it was made.", "Import it anew.")
    return Hours(name or own, kind, parse_climate(own, text).label[:80], text)


def keep_row(user: User, hours: Hours, **values: object) -> ClimateFile:
    """The hours on disk, where they may lie already, and this person's row for them. What lies there is never written over: a name that is short enough to be met
    twice could give one person's weather to another. Raises Problem where it is met."""
    path = path_of(hours.name)
    if not path.exists():
        write_whole(path, hours.text)
    elif path.read_bytes() != hours.text:
        raise Problem(
            409,
            "climate_name_taken",
            f"Other hours lie here under the name “{hours.name}”.",
            "Import the weather file itself: it gets a name of its own.",
        )
    row, _ = ClimateFile.objects.update_or_create(
        owner=signed_in(user), name=hours.name, defaults={"kind": hours.kind, "label": hours.label, **values}
    )
    return row


@transaction.atomic
def forget(user: User, climate_id: int) -> None:
    """Take an imported climate off the list; refused while a project uses it. Its hours stay for finished runs."""
    row = ClimateFile.objects.editable_by(user).filter(pk=climate_id).first()
    if row is None:
        raise Http404
    used = Project.objects.editable_by(user)
    beside = Q(elements__beside_found=row.name) | Q(elements__beside_after=row.name)
    users = [*used.filter(climate=row.name), *used.filter(occupancy=row.name), *used.filter(beside)]
    if users:
        raise Problem(
            409, "climate_in_use", f"“{users[0].name}” uses this file.", "Give the project another one first."
        )
    row.delete()
