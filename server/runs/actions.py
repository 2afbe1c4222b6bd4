"""Ask for the hourly years of an option; cancel them."""

from __future__ import annotations

from django.db import transaction
from django.db.models import Q
from django.http import Http404

from core.criteria.run_findings import FOUND_WITH
from core.errors import CoreError
from core.moisture.transient.outcome import SOLVER
from core.runs import asked
from server.problems import Problem
from server.projects.models import HistoryEntry, Option
from server.projects.permissions import User, editable_option, editable_project
from server.runs.models import Findings, Run, RunQuerySet

MOST_WAITING = 1000


def check_room(user: User, more: int) -> None:
    """A person's queue is bounded: what is asked beyond it would be waited for for days."""
    waiting = Run.objects.editable_by(user).filter(status=Run.WAITING).count()
    if waiting + more > MOST_WAITING:
        raise Problem(
            429,
            "queue_full",
            f"{waiting} of your runs wait already; at most {MOST_WAITING} can.",
            "Wait until some are done, or cancel what is not needed.",
        )


@transaction.atomic
def ask_run(user: User, option_id: int, looked_at: bool = True, behind: bool = False) -> Run:
    """A run of the option as committed; the one under way or done for the same case when there is one.

    One that an older solver computed does not count. looked_at: somebody waits for it. behind: it comes after everything
    that anybody waits for. Raises NotAvailableYet for what the solver does not do yet.
    """
    option = editable_option(user, option_id)
    element = option.element
    as_found = None if option.role == Option.AS_FOUND else element.as_found.current
    wanted = asked(option.current, element.place, as_found)
    under_way = Q(status__in=(Run.WAITING, Run.RUNNING)) | Q(status=Run.DONE, solver=SOLVER)
    known = option.runs.years().filter(under_way, case_hash=wanted.key).first()
    if known is not None and (known.status != Run.DONE or _whole(known)):
        if known.behind and looked_at:
            Run.objects.filter(pk=known.pk).update(behind=False, looked_at=True)
        return known
    check_room(user, 1)
    run = Run.objects.create(
        project=element.project,
        option=option,
        case_hash=wanted.key,
        build_up=option.build_up,
        place=element.place.model_dump(mode="json"),
        as_found=as_found.model_dump(mode="json") if as_found is not None else None,
        found_key=wanted.found_key or "",
        solver=SOLVER,
        looked_at=looked_at,
        behind=behind,
    )
    HistoryEntry.write(element.project, user, "run years", f"asked for the hourly years of “{option.name}”")
    return run


def _whole(run: Run) -> bool:
    """Findings as the program is now, and the arrays on disk."""
    found = Findings.objects.filter(key=run.case_hash, found_with=FOUND_WITH).exists()
    return found and run.arrays_there


@transaction.atomic
def ask_again(user: User, project_id: int) -> int:
    """Run everything anew that an older solver computed; how many were asked for."""
    project = editable_project(user, project_id)
    count = 0
    for option in Option.objects.filter(element__project=project).order_by("element__position", "position"):
        if option.runs.years().filter(status=Run.DONE).exclude(solver=SOLVER).exists():
            try:
                count += ask_run(user, option.pk, looked_at=False).status == Run.WAITING
            except CoreError:
                continue  # the sheet says why it does not run any more
    return count


def look_at(user: User, element_id: int) -> None:
    """Somebody looks at an element's sheet: its waiting runs come before those nobody waits for."""
    waiting = Run.objects.editable_by(user).filter(option__element=element_id, status=Run.WAITING, looked_at=False)
    if waiting.exists():
        waiting.update(looked_at=True, behind=False)


def run_among(rows: RunQuerySet, run_id: int) -> Run:
    """The run of an option, or 404 whether it is missing or somebody else's."""
    run: Run | None = rows.of_options().select_related("option__element__project").filter(pk=run_id).first()
    if run is None:
        raise Http404
    return run


@transaction.atomic
def cancel_run(user: User, run_id: int) -> Run:
    """Waiting runs stop at once; a running one is asked to, and stops within a block of time."""
    run = run_among(Run.objects.editable_by(user), run_id)
    if run.status == Run.WAITING:
        run.mark_cancelled()
    elif run.status == Run.RUNNING:
        Run.objects.filter(pk=run.pk).update(cancel_asked=True)
        run.refresh_from_db()
    HistoryEntry.write(run.project, user, "cancel run", f"cancelled the years of “{run.of_option.name}”")
    return run
