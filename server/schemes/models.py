"""What a decision rests on: trials, tests, samples, letters, and who was asked for a specification and what they answered."""

from __future__ import annotations

from pathlib import Path
from typing import ClassVar

from django.conf import settings
from django.db import models

from server.projects.models import Element, GuardedRow, OfProject, Option, Project


class Basis(GuardedRow):
    """One thing a decision rests on. option null: the element as a whole; element null: the building.

    kind “specification”: whom was asked, on which day, what for; answer and answered_on: what came back.
    document: the name of an attached PDF, kept as a file; photos: uids of the project's.
    """

    KINDS: ClassVar = ("trial panel", "pull test", "sample", "letter", "calculation", "specification", "other")

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="bases")
    element = models.ForeignKey(Element, on_delete=models.CASCADE, null=True, related_name="bases")
    option = models.ForeignKey(Option, on_delete=models.SET_NULL, null=True, related_name="bases")
    uid = models.CharField(max_length=40)
    kind = models.CharField(max_length=20)
    who = models.CharField(max_length=150, default="", blank=True)  # who did it, wrote it, or was asked
    on = models.DateField(null=True)
    text = models.TextField(default="", blank=True)
    answer = models.TextField(default="", blank=True)
    answered_on = models.DateField(null=True)
    photos = models.JSONField(default=list)
    document = models.CharField(max_length=200, default="", blank=True)
    size = models.PositiveIntegerField(default=0)
    sha256 = models.CharField(max_length=64, default="", blank=True)
    by = models.CharField(max_length=150, default="", blank=True)
    revision = models.PositiveIntegerField(default=1)

    objects = OfProject.as_manager()

    class Meta:
        ordering = ["-on", "-pk"]
        constraints = [models.UniqueConstraint(fields=["project", "uid"], name="one_basis_a_uid")]

    @property
    def path(self) -> Path:
        """Where its document lies."""
        return document_path(self.project_id, self.uid)


def document_path(project_id: int, uid: str) -> Path:
    return Path(settings.DOCUMENTS) / str(project_id) / f"{uid}.pdf"
