"""Photos: kept, forgotten, taken off what named them."""

from __future__ import annotations

import shutil
from datetime import date
from typing import IO, Any

from django.db import IntegrityError, transaction
from django.http import Http404

from server.projects.models import Option, Project
from server.projects.permissions import User, editable_project
from server.projects.photos_named import forget_photo
from server.survey import photos
from server.survey.models import Photo, photos_of


def keep_photo(
    user: User, project_id: int, uid: str, stream: IO[bytes], size: int, caption: str, taken_on: date | None
) -> Photo:
    """A photo, once: the same uid sent again, or twice at once, changes its words only. Files first, then the row."""
    project = editable_project(user, project_id)
    if not Photo.objects.filter(project=project, uid=uid).exists():
        picture = photos.shrink(stream, size, photos_of(project.pk), uid)
        try:
            return Photo.objects.create(project=project, uid=uid, caption=caption, taken_on=taken_on, **picture.sizes)
        except IntegrityError:
            pass  # the other of two that were sent at once was quicker
    known: Photo = Photo.objects.get(project=project, uid=uid)
    known.caption, known.taken_on = caption or known.caption, taken_on or known.taken_on
    known.save()
    return known


@transaction.atomic
def delete_photo(user: User, project_id: int, uid: str) -> None:
    project = editable_project(user, project_id)
    photo = Photo.objects.filter(project=project, uid=uid).first()
    if photo is None:
        raise Http404
    paths = [photo.path(), photo.path(small=True)]
    photo.delete()
    _forget_in_rows(project, uid)
    transaction.on_commit(lambda: [path.unlink(missing_ok=True) for path in paths])


def _forget_in_rows(project: Project, uid: str) -> None:
    """Pins, water items and layers that named the photo name it no more."""
    rows: list[Any] = [*project.evidence.all(), *project.water_items.all()]
    for row in rows:
        if uid in row.photos:
            row.photos = [name for name in row.photos if name != uid]
            row.revision += 1
            row.save()
    for option in Option.objects.filter(element__project=project):
        if forget_photo(option.build_up, uid) | forget_photo(option.draft, uid):
            option.revision += 1
            option.save()


def forget_photos(project_pk: int) -> None:
    """The files of a deleted project."""
    shutil.rmtree(photos_of(project_pk), ignore_errors=True)
