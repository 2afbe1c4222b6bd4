"""Materials of people's own, each in editions that never change."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.contrib.auth.models import User
from django.db import models

from server.projects.models import Guarded, GuardedRow

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import RelatedManager


class OwnMaterial(GuardedRow):
    """A material somebody entered. retired: not offered any more; build-ups that have it keep it."""

    owner = models.ForeignKey(User, on_delete=models.CASCADE, related_name="materials")
    retired = models.BooleanField(default=False)
    editions: RelatedManager[Edition]

    objects = Guarded.as_manager()

    class Meta:
        ordering = ["pk"]


class OfMaterial(Guarded):
    owner = "material__owner"


class Edition(GuardedRow):
    """One state of a material. key: its id in build-ups, the hash of the entry. sheet: what was typed (core `DataSheet`), null where it
    came with a project file."""

    material = models.ForeignKey(OwnMaterial, on_delete=models.CASCADE, related_name="editions")
    number = models.PositiveIntegerField(default=1)
    key = models.CharField(max_length=24, db_index=True)
    entry = models.JSONField()
    sheet = models.JSONField(null=True)
    filled = models.JSONField(default=dict)
    by = models.CharField(max_length=150, default="", blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    objects = OfMaterial.as_manager()

    class Meta:
        ordering = ["material", "number"]
        constraints = [models.UniqueConstraint(fields=["material", "number"], name="one_edition_a_number")]
