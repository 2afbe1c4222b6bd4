"""The durable queue of runs: one row a request, results by the hash of the case. Batches are runs asked for together."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from typing import Any, Self

from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser, AnonymousUser
from django.db import models
from django.utils import timezone

from server.projects.models import Element, Option, signed_in

STALE_AFTER = timedelta(seconds=20)
MOST_ATTEMPTS = 3


class BatchQuerySet(models.QuerySet["Batch"]):
    def visible_to(self, user: AbstractBaseUser | AnonymousUser | None) -> Self:
        return self.filter(element__project__owner=signed_in(user))


class RunQuerySet(models.QuerySet["Run"]):
    def visible_to(self, user: AbstractBaseUser | AnonymousUser | None) -> Self:
        return self.filter(option__element__project__owner=signed_in(user))

    def years(self) -> Self:
        """Runs of the hourly years of an option as it is, not those of a batch."""
        return self.filter(batch=None)

    def active(self) -> Self:
        return self.filter(status__in=(Run.WAITING, Run.RUNNING))

    def claim_next(self) -> Run | None:
        """Take the oldest waiting run whose case nobody computes now; None when there is none.

        Short batches, for which somebody sits and waits, come before the years of options, studies after them.

        The conditional UPDATE makes sure that of two runners only one gets it.
        """
        study = models.When(batch__kind=Batch.STUDY, then=2)
        priority = models.Case(study, models.When(batch=None, then=1), default=0)
        busy = self.filter(status=Run.RUNNING).values("case_hash")
        for run in self.filter(status=Run.WAITING).exclude(case_hash__in=busy).order_by(priority, "pk")[:5]:
            taken = self.filter(pk=run.pk, status=Run.WAITING).update(
                status=Run.RUNNING, attempts=models.F("attempts") + 1, heartbeat=timezone.now(), doing="starting"
            )
            if taken:
                run.refresh_from_db()
                return run
        return None

    def release_orphans(self, everything: bool = False) -> int:
        """Rows of a runner that is gone wait again, or fail after too many attempts. Returns how many."""
        orphans = self.filter(status=Run.RUNNING)
        if not everything:
            orphans = orphans.filter(heartbeat__lt=timezone.now() - STALE_AFTER)
        too_often = orphans.filter(attempts__gte=MOST_ATTEMPTS).update(
            status=Run.FAILED, error=f"stopped {MOST_ATTEMPTS} times without finishing; run it again"
        )
        return too_often + orphans.update(status=Run.WAITING, doing="waiting again", progress=0.0)


class Batch(models.Model):
    """Runs asked for together: a study, the eight facings, an outboard curve, a bad year, the wetting test."""

    STUDY, FACINGS, OUTBOARD, BAD_YEAR, WETTING = "study", "facings", "outboard", "bad year", "wetting"

    element = models.ForeignKey(Element, on_delete=models.CASCADE, related_name="batches")
    option = models.ForeignKey(Option, on_delete=models.CASCADE, related_name="batches", null=True)
    kind = models.CharField(max_length=12)
    settings = models.JSONField()
    build_up = models.JSONField(null=True)  # of the option when it was asked: tells whether it is out of date
    place = models.JSONField(null=True)  # of the element then
    asked_by = models.CharField(max_length=150)
    asked_at = models.DateTimeField(auto_now_add=True)

    objects = BatchQuerySet.as_manager()
    runs: models.Manager[Run]

    class Meta:
        ordering = ["-pk"]

    @property
    def out_of_date(self) -> bool:
        """The option or the place of the element has changed since."""
        changed = self.option is not None and self.option.build_up != self.build_up
        return changed or self.element.place.model_dump(mode="json") != self.place


class Run(models.Model):
    """One request for the hourly years of an option, with its exact inputs.

    In a batch: `kind` says what is computed (brief: the years without their arrays; wetting: the test), `inputs` what differs
    in this run, `case_hash` also covers what is looked at, and `result` holds the small answer.
    """

    YEARS, BRIEF, WETTING = "years", "brief", "wetting"

    WAITING, RUNNING, DONE, FAILED, CANCELLED = "waiting", "running", "done", "failed", "cancelled"

    option = models.ForeignKey(Option, on_delete=models.CASCADE, related_name="runs")
    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="runs", null=True)
    kind = models.CharField(max_length=8, default=YEARS)
    label = models.CharField(max_length=120, default="", blank=True)
    inputs = models.JSONField(default=dict)
    result = models.JSONField(null=True)
    case_hash = models.CharField(max_length=64, db_index=True)
    build_up = models.JSONField()
    place = models.JSONField()
    status = models.CharField(max_length=10, default=WAITING, db_index=True)
    progress = models.FloatField(default=0.0)
    doing = models.CharField(max_length=120, default="waiting")
    cancel_asked = models.BooleanField(default=False)
    attempts = models.PositiveIntegerField(default=0)
    heartbeat = models.DateTimeField(null=True)
    error = models.TextField(default="", blank=True)
    verdict = models.JSONField(null=True)
    summary = models.JSONField(null=True)
    asked_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)

    objects = RunQuerySet.as_manager()

    class Meta:
        ordering = ["-pk"]

    @property
    def folder(self) -> Path:
        """Where the arrays of this case are kept."""
        return Path(settings.RESULTS) / self.case_hash[:2] / self.case_hash

    def _leave(self, *states: str) -> None:
        if self.status not in states:
            raise ValueError(f"run {self.pk} is {self.status}; it cannot leave {' or '.join(states)}")

    def report(self, share: float, doing: str) -> bool:
        """Write progress and heartbeat; returns whether somebody asked to cancel."""
        Run.objects.filter(pk=self.pk, status=Run.RUNNING).update(
            progress=share, doing=doing[:120], heartbeat=timezone.now()
        )
        return bool(Run.objects.filter(pk=self.pk).values_list("cancel_asked", flat=True).first() is not False)

    def mark_done(self, verdict: dict[str, Any], summary: dict[str, Any]) -> None:
        self._leave(Run.RUNNING)
        self.verdict, self.summary, self.status = verdict, summary, Run.DONE
        self.progress, self.doing, self.finished_at = 1.0, "done", timezone.now()
        self.save(update_fields=["verdict", "summary", "status", "progress", "doing", "finished_at"])

    def mark_answered(self, result: dict[str, Any]) -> None:
        """Done, with the small answer of a run in a batch."""
        self._leave(Run.RUNNING)
        self.result, self.status = result, Run.DONE
        self.progress, self.doing, self.finished_at = 1.0, "done", timezone.now()
        self.save(update_fields=["result", "status", "progress", "doing", "finished_at"])

    def mark_waiting_again(self) -> None:
        """A cancelled or failed run of a batch is taken up again."""
        self._leave(Run.CANCELLED, Run.FAILED)
        self.status, self.error, self.doing, self.attempts, self.cancel_asked = Run.WAITING, "", "waiting", 0, False
        self.save(update_fields=["status", "error", "doing", "attempts", "cancel_asked"])

    def mark_failed(self, reason: str) -> None:
        self._leave(Run.RUNNING, Run.WAITING)
        self.status, self.error, self.finished_at = Run.FAILED, reason, timezone.now()
        self.save(update_fields=["status", "error", "finished_at"])

    def mark_cancelled(self) -> None:
        self._leave(Run.RUNNING, Run.WAITING)
        self.status, self.doing, self.finished_at = Run.CANCELLED, "cancelled", timezone.now()
        self.save(update_fields=["status", "doing", "finished_at"])
