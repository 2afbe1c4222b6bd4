"""Ask for the hourly years of an option; cancel them."""

from __future__ import annotations

from django.db import transaction
from django.http import Http404

from core.buildup.to_case import model_of
from server.projects.actions import User, visible_option
from server.projects.models import HistoryEntry
from server.runs.models import Run


@transaction.atomic
def ask_run(user: User, option_id: int) -> Run:
    """A run of the option as committed; the one under way or done for the same case when there is one.

    Raises NotAvailableYet for what the solver does not do yet.
    """
    option = visible_option(user, option_id)
    element = option.element
    case_hash = model_of(option.current, element.place).case.hash
    known = option.runs.years().filter(case_hash=case_hash, status__in=(Run.WAITING, Run.RUNNING, Run.DONE)).first()
    if known is not None:
        return known
    run = Run.objects.create(
        option=option,
        case_hash=case_hash,
        build_up=option.build_up,
        place=element.place.model_dump(mode="json"),
    )
    HistoryEntry.write(element.project, user, "run years", f"asked for the hourly years of “{option.name}”")
    return run


def visible_run(user: User, run_id: int) -> Run:
    """The run, or 404 whether it is missing or somebody else's."""
    run = Run.objects.visible_to(user).select_related("option__element__project").filter(pk=run_id).first()
    if run is None:
        raise Http404
    return run


@transaction.atomic
def cancel_run(user: User, run_id: int) -> Run:
    """Waiting runs stop at once; a running one is asked to, and stops within a block of time."""
    run = visible_run(user, run_id)
    if run.status == Run.WAITING:
        run.mark_cancelled()
    elif run.status == Run.RUNNING:
        Run.objects.filter(pk=run.pk).update(cancel_asked=True)
        run.refresh_from_db()
    HistoryEntry.write(run.option.element.project, user, "cancel run", f"cancelled the years of “{run.option.name}”")
    return run
