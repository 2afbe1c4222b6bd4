"""What is taken in on site: photos, evidence, measurements, and the water items that follow.

Each row carries a `uid` made where it was written, so that an entry sent twice after a lost connection is one entry.
"""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any

from django.conf import settings
from django.db import models
from django.utils import timezone

from core.readiness.reason import Pin
from server.problems import Problem
from server.projects.models import Element, GuardedRow, OfProject, Project
from server.survey.photos import file_name

if TYPE_CHECKING:
    from django.db.models.fields.related_descriptors import ManyRelatedManager


def photos_of(project_id: int) -> Path:
    """Where the files of a project's photos lie."""
    return Path(settings.PHOTOS) / str(project_id)


class SiteRow(GuardedRow):
    """A row of a project with its own uid, unique within the project."""

    uid = models.CharField(max_length=40)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)

    objects = OfProject.as_manager()

    class Meta:
        abstract = True


class Photo(SiteRow):
    """A photo, kept shrunk as a file in the data folder; EXIF is not kept."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="photos")
    caption = models.CharField(max_length=300, default="", blank=True)
    taken_on = models.DateField(null=True)
    width = models.PositiveIntegerField(default=0)
    height = models.PositiveIntegerField(default=0)
    size = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["project", "uid"], name="one_photo_a_uid")]

    def path(self, small: bool = False) -> Path:
        return photos_of(self.project_id) / file_name(self.uid, small)


class Evidence(SiteRow):
    """A pin: what was seen (core `Pin`), where, and which mechanism was confirmed for it."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="evidence")
    element = models.ForeignKey(Element, on_delete=models.SET_NULL, null=True, related_name="evidence")
    pin = models.JSONField()
    photos = models.JSONField(default=list)
    cause = models.CharField(max_length=30, default="", blank=True)
    cause_reason = models.TextField(default="", blank=True)
    cause_by = models.CharField(max_length=150, default="", blank=True)
    cause_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["project", "uid"], name="one_piece_of_evidence_a_uid")]

    @property
    def seen(self) -> Pin:
        return Pin.model_validate(self.pin)

    def confirm(self, mechanism: str, reason: str, by: str) -> None:
        """The consultant names the mechanism; an empty one takes the confirmation back."""
        self.cause, self.cause_reason = mechanism, reason.strip() if mechanism else ""
        self.cause_by = by if mechanism else ""
        self.cause_at = timezone.now() if mechanism else None
        self.revision += 1


class WaterItem(SiteRow):
    """Something that must be dry, tight or drained before elements are covered."""

    OPEN, CLOSED, NOT_NEEDED, PLANNED = "open", "closed", "not needed", "planned"

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="water_items")
    elements: ManyRelatedManager[Element, Any] = models.ManyToManyField(Element, related_name="water_items")  # type: ignore[assignment]
    evidence: ManyRelatedManager[Evidence, Any] = models.ManyToManyField(Evidence, related_name="water_items")  # type: ignore[assignment]
    remedy = models.CharField(max_length=40, default="", blank=True)
    stage = models.CharField(max_length=20)
    title = models.CharField(max_length=300)
    shown_by = models.CharField(max_length=400, default="", blank=True)
    who = models.CharField(max_length=120, default="", blank=True)
    due = models.DateField(null=True)
    state = models.CharField(max_length=12, default=OPEN)
    closed_by = models.CharField(max_length=150, default="", blank=True)
    closed_on = models.DateField(null=True)
    reason = models.TextField(default="", blank=True)
    photos = models.JSONField(default=list)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["project", "uid"], name="one_water_item_a_uid")]

    def close(self, by: str, on: date | None) -> None:
        self.state, self.closed_by, self.closed_on = self.CLOSED, by, on or timezone.localdate()

    def strike_out(self, by: str, reason: str) -> None:
        """Not needed here; refused without the reason."""
        if not reason.strip():
            raise Problem(
                422, "reason_missing", "Striking an item out needs its reason.", "Write why it is not needed."
            )
        self.state, self.closed_by, self.closed_on = self.NOT_NEEDED, by, timezone.localdate()

    def plan(self, by: str, options: str) -> None:
        """An airtight layer is planned in the chosen options; they close it once built and tested."""
        self.state, self.closed_by, self.closed_on = self.PLANNED, by, timezone.localdate()
        self.reason = f"planned in {options}" if not self.reason.strip() else self.reason

    def reopen(self) -> None:
        self.state, self.closed_by, self.closed_on = self.OPEN, "", None


class Measurement(SiteRow):
    """A blower-door test or a reading of the survey; `data` is the core's model of its kind."""

    BLOWER_DOOR, THERMAL, MOISTURE, UPTAKE = "blower_door", "thermal", "moisture", "uptake"

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="measurements")
    element = models.ForeignKey(Element, on_delete=models.SET_NULL, null=True, related_name="measurements")
    kind = models.CharField(max_length=12)
    measured_on = models.DateField(null=True)
    place = models.CharField(max_length=200, default="", blank=True)
    instrument = models.CharField(max_length=120, default="", blank=True)
    stage = models.CharField(max_length=20, default="as found")  # of the works, for a blower-door test
    note = models.TextField(default="", blank=True)
    data = models.JSONField()
    leaks = models.JSONField(default=list)

    class Meta:
        ordering = ["measured_on", "pk"]
        constraints = [models.UniqueConstraint(fields=["project", "uid"], name="one_measurement_a_uid")]
