"""Reports that were made, and names under them."""

from __future__ import annotations

from pathlib import Path

from django.conf import settings
from django.db import models

from server.projects.models import GuardedRow, OfProject, Project
from server.runs.models import Run


class Report(GuardedRow):
    """One report: how it was asked for, the hash of what it was made from, and its file. run: the job that makes it."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="reports")
    run = models.OneToOneField(Run, on_delete=models.SET_NULL, null=True, related_name="made_report")
    kind = models.CharField(max_length=10)
    system = models.CharField(max_length=6, default="metric")
    sheet = models.CharField(max_length=6, default="a4")
    asked_by = models.CharField(max_length=150)
    asked_at = models.DateTimeField(auto_now_add=True)
    made_at = models.DateTimeField(null=True)
    hash = models.CharField(max_length=64, default="", blank=True)
    since = models.DateTimeField(null=True)  # of the report of its kind made before: what changed is said
    pages = models.PositiveIntegerField(default=0)
    size = models.PositiveIntegerField(default=0)
    sha256 = models.CharField(max_length=64, default="", blank=True)  # of the file

    objects = OfProject.as_manager()

    class Meta:
        ordering = ["-pk"]

    @property
    def path(self) -> Path:
        return reports_of(self.project_id) / f"{self.pk}.pdf"

    @property
    def is_made(self) -> bool:
        return self.made_at is not None and self.path.exists()


class OfReport(OfProject):
    owner = "report__project__owner"


class Signature(GuardedRow):
    """A name, role and date under one report: signed here means a name over the hash of its file, and no more."""

    report = models.ForeignKey(Report, on_delete=models.CASCADE, related_name="signatures")
    name = models.CharField(max_length=150)
    role = models.CharField(max_length=120)
    on = models.DateField()
    sha256 = models.CharField(max_length=64)
    by = models.CharField(max_length=150)  # who was signed in
    at = models.DateTimeField(auto_now_add=True)

    objects = OfReport.as_manager()

    class Meta:
        ordering = ["pk"]


def reports_of(project_id: int) -> Path:
    """Where the files of a project's reports lie."""
    return Path(settings.REPORTS) / str(project_id)
