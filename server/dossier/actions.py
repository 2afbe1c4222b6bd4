"""Ask for a report, cancel it, put a name under it, remove it."""

from __future__ import annotations

from datetime import date

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from server.dossier.asked import TITLES
from server.dossier.models import Report, Signature
from server.dossier.schemas import ReportBody
from server.dossier.work import REPORT
from server.problems import Problem
from server.projects.models import HistoryEntry, OfProject, name_of
from server.projects.permissions import User, editable_project
from server.runs.actions import check_room
from server.runs.models import Run

MOST_REPORTS = 200  # of a project


def report_among(rows: OfProject, report_id: int) -> Report:
    """The report, or 404 whether it is missing or somebody else's."""
    found: Report | None = rows.select_related("project", "run").filter(pk=report_id).first()
    if found is None:
        raise Http404
    return found


@transaction.atomic
def ask_report(user: User, project_id: int, body: ReportBody) -> Report:
    """A report waiting to be made; the one that waits already when it is the same."""
    project = editable_project(user, project_id)
    reports = Report.objects.filter(project=project)
    waiting = reports.filter(
        kind=body.kind, system=body.system, sheet=body.sheet, run__status__in=(Run.WAITING, Run.RUNNING)
    ).first()
    if waiting is not None:
        return waiting
    if reports.count() >= MOST_REPORTS:
        raise Problem(
            429, "too_many_reports", f"{MOST_REPORTS} reports are kept already.", "Remove some that nobody needs."
        )
    check_room(user, 1)
    before = reports.filter(kind=body.kind, made_at__isnull=False).first()
    run = Run.objects.create(
        project=project,
        kind=REPORT,
        label=TITLES[body.kind],
        case_hash=f"report {project.pk} {timezone.now().timestamp()}",
        looked_at=True,
    )
    return Report.objects.create(
        project=project, run=run, kind=body.kind, system=body.system, sheet=body.sheet, asked_by=name_of(user),
        since=before.made_at if before is not None else None,
    )  # fmt: skip


@transaction.atomic
def cancel_report(user: User, report_id: int) -> Report:
    """A waiting one stops at once, one that is made within a page."""
    report = report_among(Report.objects.editable_by(user), report_id)
    if report.run is not None and report.run.status == Run.WAITING:
        report.run.mark_cancelled()
    elif report.run is not None and report.run.status == Run.RUNNING:
        Run.objects.filter(pk=report.run.pk).update(cancel_asked=True)
        report.run.refresh_from_db()
    return report


def remove_report(user: User, report_id: int) -> None:
    """The report with its file; refused while a name stands under it."""
    report = report_among(Report.objects.editable_by(user), report_id)
    if report.signatures.exists():
        raise Problem(
            409, "signed", "A name stands under this report.", "Take the name back first, or keep the report."
        )
    if report.run is not None and report.run.status in (Run.WAITING, Run.RUNNING):
        cancel_report(user, report_id)
    report.delete()


@transaction.atomic
def sign(user: User, report_id: int, name: str, role: str, on: date) -> Report:
    """A name over the hash of the report's file. Refused for one that is not made."""
    report = report_among(Report.objects.editable_by(user), report_id)
    if not report.is_made:
        raise Problem(409, "not_made", "This report is not made.", "Make it first.")
    Signature.objects.create(
        report=report, name=name.strip(), role=role.strip(), on=on, sha256=report.sha256, by=name_of(user)
    )
    HistoryEntry.write(report.project, user, "sign report", f"put {name.strip()}’s name under “{TITLES[report.kind]}”")  # type: ignore[index]
    return report


@transaction.atomic
def take_back(user: User, signature_id: int) -> Report:
    found = Signature.objects.editable_by(user).select_related("report__project").filter(pk=signature_id).first()
    if found is None:
        raise Http404
    report: Report = found.report
    HistoryEntry.write(report.project, user, "take back a name", f"took back {found.name}’s name under a report")
    found.delete()
    return report
