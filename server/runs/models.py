"""The durable queue of runs: one row a request, results by the hash of the case. Batches are runs asked for together."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Self

from django.conf import settings
from django.db import models
from django.utils import timezone

from core.criteria.run_findings import FOUND_WITH, RunFindings
from core.moisture.transient.outcome import SOLVER
from server.projects.models import Element, GuardedRow, OfElement, OfProject, Option, Project

MOST_ATTEMPTS = 3


def folder_of(key: str, solver: int = SOLVER) -> Path:
    """Where the arrays of a run are kept: under the solver that made them, and its identity."""
    return Path(settings.RESULTS) / f"solver-{solver}" / key[:2] / key


def is_whole(folder: Path) -> bool:
    """Whether a result is there and complete: this file is written last."""
    return (folder / "outcome.json").exists()


class RunQuerySet(OfProject):
    def years(self) -> Self:
        """Runs of the hourly years of an option as it is, not those of a batch."""
        return self.filter(kind=Run.YEARS)

    def of_options(self) -> Self:
        """Runs of a build-up, whatever is asked of it; others belong to the project alone."""
        return self.exclude(option=None)

    def active(self) -> Self:
        return self.filter(status__in=(Run.WAITING, Run.RUNNING))

    def claim_next(self) -> Run | None:
        """Take the next waiting run whose case nobody computes now; None when there is none.

        Somebody who asked for little comes before somebody with much under way (people take turns); a person's short
        batches, for which they sit and wait, come before the years of options, studies after them; what starts from an
        as-found run that is under way waits for it.

        The conditional UPDATE makes sure that of two runners only one gets it.
        """
        busy = self.filter(status=Run.RUNNING).values("case_hash")
        waiting = self.filter(status=Run.WAITING).exclude(case_hash__in=busy).exclude(found_key__in=busy)
        for pk in waiting.in_turn()[:5]:
            taken = self.filter(pk=pk, status=Run.WAITING).update(
                status=Run.RUNNING, begun=False, heartbeat=timezone.now(), doing="starting"
            )
            if taken:
                return self.get(pk=pk)
        return None

    def in_turn(self) -> list[int]:
        """Ids of these waiting runs in the order they will be taken: the person who waits longest for least first.

        Each person's runs stand in their own order (what is looked at first, then what belongs to no option and short batches,
        as found before its options, studies last); the queue takes one from each person in turn, the one with fewest runs under way first.
        """
        study = models.When(batch__kind=Batch.STUDY, then=3)
        found = models.When(kind=Run.YEARS, option__role=Option.AS_FOUND, then=1)
        priority = models.Case(study, found, models.When(kind=Run.YEARS, then=2), default=0)
        rows = (
            self.filter(status=Run.WAITING)
            .order_by("-looked_at", priority, "pk")
            .values_list("pk", "behind", "project__owner_id")
        )
        running = dict(
            Run.objects.filter(status=Run.RUNNING)
            .order_by()
            .values_list("project__owner_id")
            .annotate(count=models.Count("pk"))
        )
        lines: dict[bool, dict[int, list[int]]] = {False: {}, True: {}}
        for pk, behind, owner in rows:
            lines[behind].setdefault(owner, []).append(pk)
        return [pk for behind in (False, True) for pk in _one_from_each(lines[behind], running)]

    def wait_again(self) -> int:
        """Running rows whose runner, machine or disk gave out wait again: it was no fault of theirs. Returns how many."""
        return self.filter(status=Run.RUNNING).update(
            status=Run.WAITING, doing="waiting again", progress=0.0, begun=False
        )

    def lost_their_worker(self) -> None:
        """Running rows whose worker died: what was never begun waits again; the others too, but only so often."""
        self.filter(begun=False).wait_again()
        lost = self.filter(status=Run.RUNNING)
        lost.update(attempts=models.F("attempts") + 1)
        lost.filter(attempts__gte=MOST_ATTEMPTS).update(
            status=Run.FAILED,
            finished_at=timezone.now(),
            error=f"its worker died {MOST_ATTEMPTS} times in the middle of it; run it again",
        )
        lost.wait_again()


def _one_from_each(own: dict[int, list[int]], running: dict[int, int]) -> list[int]:
    """A person's runs after another's, the one with fewest under way first. own: by person, each in their order."""
    people = sorted(own, key=lambda owner: (running.get(owner, 0), own[owner][0]))
    turns = max((len(line) for line in own.values()), default=0)
    return [own[owner][turn] for turn in range(turns) for owner in people if turn < len(own[owner])]


class Batch(GuardedRow):
    """Runs asked for together: a study, the eight facings, an outboard curve, a bad year, the wetting test."""

    STUDY, FACINGS, OUTBOARD, BAD_YEAR, WETTING = "study", "facings", "outboard", "bad year", "wetting"
    LESS_RAIN, SEARCH, IN_BETWEEN, TRIAL = "less rain", "search", "in between", "trial"
    PROPOSALS = "proposals"

    element = models.ForeignKey(Element, on_delete=models.CASCADE, related_name="batches")
    option = models.ForeignKey(Option, on_delete=models.CASCADE, related_name="batches", null=True)
    kind = models.CharField(max_length=12)
    settings = models.JSONField()
    build_up = models.JSONField(null=True)  # of the option when it was asked: tells whether it is out of date
    place = models.JSONField(null=True)  # of the element then
    as_found = models.JSONField(null=True)  # what the runs start from
    asked_by = models.CharField(max_length=150)
    asked_at = models.DateTimeField(auto_now_add=True)

    objects = OfElement.as_manager()
    runs: models.Manager[Run]

    class Meta:
        ordering = ["-pk"]

    @property
    def out_of_date(self) -> bool:
        """The option, as found or the place of the element has changed since."""
        changed = self.option is not None and self.option.build_up != self.build_up
        changed = changed or self.element.as_found.build_up != self.as_found
        if self.kind == Batch.IN_BETWEEN:
            between = self.element.options.filter(pk=self.settings["option_id"]).first()
            first = self.runs.order_by("pk").first()
            changed = changed or between is None or first is None or between.build_up != first.build_up
        return changed or self.element.place.model_dump(mode="json") != self.place


class Run(GuardedRow):
    """One request for something that takes time, with its exact inputs: most of all the hourly years of an option.

    A kind that another room brings (`server/runs/kinds.py`) may belong to a project and no option. In a batch: `kind` says what is computed (brief: the years without their arrays; wetting: the test), `inputs` what differs
    in this run, `case_hash` also covers what is looked at, and `result` holds the small answer.
    """

    YEARS, BRIEF, WETTING = "years", "brief", "wetting"

    WAITING, RUNNING, DONE, FAILED, CANCELLED = "waiting", "running", "done", "failed", "cancelled"

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="runs")
    option = models.ForeignKey(Option, on_delete=models.CASCADE, related_name="runs", null=True)
    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="runs", null=True)
    kind = models.CharField(max_length=8, default=YEARS)
    label = models.CharField(max_length=120, default="", blank=True)
    inputs = models.JSONField(default=dict)
    result = models.JSONField(null=True)
    case_hash = models.CharField(max_length=64, db_index=True)
    build_up = models.JSONField(default=dict)
    place = models.JSONField(default=dict)
    status = models.CharField(max_length=10, default=WAITING, db_index=True)
    progress = models.FloatField(default=0.0)
    doing = models.CharField(max_length=120, default="waiting")
    cancel_asked = models.BooleanField(default=False)
    attempts = models.PositiveIntegerField(default=0)  # workers that died while they computed it
    begun = models.BooleanField(default=False)  # a worker has begun it; before that it is only handed over
    heartbeat = models.DateTimeField(null=True)
    error = models.TextField(default="", blank=True)
    as_found = models.JSONField(null=True)  # the as-found layers its existing layers start from
    found_key = models.CharField(max_length=64, default="", blank=True)  # identity of that as-found run
    solver = models.PositiveIntegerField(default=1)  # number of the solver it was computed with
    looked_at = models.BooleanField(default=False)  # somebody looks at it while it waits
    behind = models.BooleanField(default=False)  # after everything that anybody waits for
    seconds = models.FloatField(null=True)
    asked_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)

    objects = RunQuerySet.as_manager()

    class Meta:
        ordering = ["-pk"]

    @property
    def of_option(self) -> Option:
        """The option it is of. ValueError for a run that belongs to the project alone."""
        if self.option is None:
            raise ValueError(f"run {self.pk} ({self.kind}) is of no option")
        return self.option

    @property
    def folder(self) -> Path:
        """Where the arrays of this run are kept."""
        return folder_of(self.case_hash, self.solver)

    @property
    def arrays_there(self) -> bool:
        return is_whole(self.folder)

    def _leave(self, *states: str) -> None:
        if self.status not in states:
            raise ValueError(f"run {self.pk} is {self.status}; it cannot leave {' or '.join(states)}")

    def report(self, share: float, doing: str) -> bool:
        """Write progress and heartbeat; returns whether somebody asked to cancel."""
        Run.objects.filter(pk=self.pk, status=Run.RUNNING).update(
            progress=share, doing=doing[:120], heartbeat=timezone.now()
        )
        return bool(Run.objects.filter(pk=self.pk).values_list("cancel_asked", flat=True).first() is not False)

    def mark_done(self, seconds: float) -> None:
        self._leave(Run.RUNNING)
        self.status, self.seconds, self.solver = Run.DONE, seconds, SOLVER
        self.progress, self.doing, self.finished_at = 1.0, "done", timezone.now()
        self.save(update_fields=["status", "seconds", "solver", "progress", "doing", "finished_at"])

    def mark_answered(self, result: dict[str, Any]) -> None:
        """Done, with the small answer of a run in a batch."""
        self._leave(Run.RUNNING)
        self.result, self.status, self.solver = result, Run.DONE, SOLVER
        self.progress, self.doing, self.finished_at = 1.0, "done", timezone.now()
        self.save(update_fields=["result", "status", "solver", "progress", "doing", "finished_at"])

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


class FindingsQuerySet(models.QuerySet["Findings"]):
    def newest_of(self, key: str) -> Findings | None:
        """The findings of a run as the program is now, else those of an older one."""
        rows = list(self.filter(key=key).order_by("-pk"))
        return next((row for row in rows if row.found_with == FOUND_WITH), rows[0] if rows else None)


class Findings(models.Model):
    """What the criteria found in one run, under its identity and the versions of solver and criteria. Never a verdict."""

    key = models.CharField(max_length=64)
    found_with = models.CharField(max_length=200)
    document = models.JSONField()

    objects = FindingsQuerySet.as_manager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["key", "found_with"], name="one_finding_a_run_and_version")]

    @staticmethod
    def keep(key: str, found: RunFindings) -> None:
        """Once for each run and version."""
        document = found.model_dump(mode="json")
        Findings.objects.update_or_create(key=key, found_with=found.found_with, defaults={"document": document})
