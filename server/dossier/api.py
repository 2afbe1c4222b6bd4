"""The dossier over the API: what is in it and missing, reports as jobs, lists, the open package."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from ninja import Router

from core.say import Said, said
from server.dossier import actions
from server.dossier.asked import TITLES
from server.dossier.gather import Gathered, hash_of
from server.dossier.lacks import missing
from server.dossier.lists import LISTS, ListKey, Value, as_csv, as_xlsx, list_of, sums
from server.dossier.models import Report
from server.dossier.package import package
from server.dossier.paper.page import System
from server.dossier.schemas import (
    Content,
    DossierOut,
    KindOut,
    ListColumn,
    ListOut,
    ReportBody,
    ReportOut,
    SignatureBody,
    SignatureOut,
)
from server.files import slug
from server.projects.models import Project
from server.projects.permissions import viewable_project
from server.runs.models import Run

router = Router(tags=["dossier"])
STATES = {Run.WAITING: "waiting", Run.RUNNING: "making", Run.FAILED: "failed", Run.CANCELLED: "cancelled"}


def _out(report: Report, now: str) -> ReportOut:
    run = report.run
    state: Any = "made" if report.is_made else STATES.get(run.status if run is not None else "", "lost")
    return ReportOut(
        id=report.pk,
        kind=report.kind,  # type: ignore[arg-type]
        title=TITLES[report.kind],  # type: ignore[index]
        system=report.system,  # type: ignore[arg-type]
        sheet=report.sheet,  # type: ignore[arg-type]
        asked_by=report.asked_by,
        asked_at=report.asked_at,
        made_at=report.made_at,
        state=state,
        progress=run.progress if run is not None else 0.0,
        doing=run.doing if run is not None else "",
        error=run.error if run is not None else "",
        current=report.is_made and report.hash == now,
        hash=report.hash,
        sha256=report.sha256,
        pages=report.pages,
        size=report.size,
        signatures=[
            SignatureOut(
                id=one.pk,
                name=one.name,
                role=one.role,
                on=one.on,
                by=one.by,
                sha256=one.sha256,
                holds=one.sha256 == report.sha256,
            )
            for one in report.signatures.all()
        ],
    )


@router.get("/projects/{project_id}/dossier", response=DossierOut)
def read_dossier(request: HttpRequest, project_id: int) -> DossierOut:
    project = viewable_project(request.user, project_id)
    g, now = Gathered(project), hash_of(project)
    chosen = sum(one.chosen is not None for one in g.layered)
    signs = [pin for _, pin in g.pins if pin.pin.kind != "nothing_found"]
    contents = [
        Content(name="Brief", words=f"{len(g.brief.missing)} things not asked" if g.brief.missing else "complete"),
        Content(name="Elements", words=f"{len(g.elements)}, {len(g.layered)} with layers"),
        Content(name="Evidence", words=f"{len(signs)} signs, {sum(bool(pin.cause) for pin in signs)} explained; {len(g.evidence.photos)} photos"),
        Content(name="Readings", words=str(len(g.measurements.measurements))),
        Content(name="Water items", words=f"{len(g.water.items)}, {sum(i.state == 'open' for i in g.water.items)} open"),
        Content(name="Options", words=f"{sum(len(one.rejected) + (one.chosen is not None) for one in g.layered)}, {chosen} of {len(g.layered)} elements chosen"),
        Content(name="Heat", words="of the known parts only" if g.heat is None or not g.heat.complete else "complete"),
    ]  # fmt: skip
    return DossierOut(
        hash=now,
        contents=contents,
        missing=missing(g),
        roles=g.brief.brief.roles,
        kinds=[KindOut(kind=kind, title=title) for kind, title in TITLES.items()],
    )


@router.get("/projects/{project_id}/reports", response=list[ReportOut])
def list_reports(request: HttpRequest, project_id: int) -> list[ReportOut]:
    """The reports of a project, newest first; asked again and again while one is made."""
    project = viewable_project(request.user, project_id)
    now = hash_of(project)
    rows = Report.objects.filter(project=project).select_related("run").prefetch_related("signatures")
    return [_out(report, now) for report in rows]


@router.post("/projects/{project_id}/reports", response={202: ReportOut})
def ask_report(request: HttpRequest, project_id: int, body: ReportBody) -> tuple[int, ReportOut]:
    return 202, _out(actions.ask_report(request.user, project_id, body), "")


@router.get("/reports/{report_id}", response=ReportOut)
def read_report(request: HttpRequest, report_id: int) -> ReportOut:
    report = actions.report_among(Report.objects.viewable_by(request.user), report_id)
    return _out(report, hash_of(report.project))


@router.get("/reports/{report_id}/file")
def report_file(request: HttpRequest, report_id: int) -> FileResponse:
    report = actions.report_among(Report.objects.viewable_by(request.user), report_id)
    if not report.is_made:
        raise Http404
    name = f"{slug(report.project.name)}-{report.kind}.pdf"
    return FileResponse(open(report.path, "rb"), filename=name, content_type="application/pdf")  # noqa: SIM115


@router.post("/reports/{report_id}/cancel", response=ReportOut)
def cancel_report(request: HttpRequest, report_id: int) -> ReportOut:
    return _out(actions.cancel_report(request.user, report_id), "")


@router.delete("/reports/{report_id}", response={204: None})
def remove_report(request: HttpRequest, report_id: int) -> tuple[int, None]:
    actions.remove_report(request.user, report_id)
    return 204, None


@router.post("/reports/{report_id}/signatures", response=ReportOut)
def sign_report(request: HttpRequest, report_id: int, body: SignatureBody) -> ReportOut:
    report = actions.sign(request.user, report_id, body.name, body.role, body.on)
    return _out(report, hash_of(report.project))


@router.delete("/signatures/{signature_id}", response=ReportOut)
def take_back_signature(request: HttpRequest, signature_id: int) -> ReportOut:
    report = actions.take_back(request.user, signature_id)
    return _out(report, hash_of(report.project))


# --- lists ---------------------------------------------------------------------------------------------


@router.get("/projects/{project_id}/lists/{list_key}", response=ListOut)
def read_list(request: HttpRequest, project_id: int, list_key: ListKey) -> ListOut:
    one = list_of(Gathered(viewable_project(request.user, project_id)), list_key)
    totals = sums(one) if one.total and one.rows else []

    def cell(at: int, value: Value) -> Said:
        return one.columns[at].words(value)

    return ListOut(
        key=one.key,
        name=one.name,
        columns=[
            ListColumn(head=column.heads, figure=column.figure, wide=column.wide)
            for column in one.columns
        ],
        rows=[[cell(at, value) for at, value in enumerate(row)] for row in one.rows],
        elements=one.elements,
        totals=[said(one.total) if at == 0 else cell(at, total) if total is not None else said("") for at, total in enumerate(totals)],
        note=one.note,
        empty=one.empty,
    )  # fmt: skip


def _attached(raw: bytes, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(raw, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get("/projects/{project_id}/lists/{list_key}/csv")
def list_csv(request: HttpRequest, project_id: int, list_key: ListKey, system: System = "metric") -> HttpResponse:
    project = viewable_project(request.user, project_id)
    raw = as_csv(list_of(Gathered(project), list_key), system)
    return _attached(raw, "text/csv; charset=utf-8", f"{ascii_slug(project)}-{list_key}.csv")


@router.get("/projects/{project_id}/workbook")
def lists_xlsx(request: HttpRequest, project_id: int, system: System = "metric") -> HttpResponse:
    """Every list as a sheet of one workbook, totals as live formulas."""
    project = viewable_project(request.user, project_id)
    g = Gathered(project)
    raw = as_xlsx([list_of(g, key) for key in LISTS], system)
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return _attached(raw, kind, f"{ascii_slug(project)}-lists.xlsx")


@router.get("/projects/{project_id}/package")
def read_package(request: HttpRequest, project_id: int, system: System = "metric") -> FileResponse:
    """Everything in one zip: project file, cases, results, lists, pictures, reports."""
    project = viewable_project(request.user, project_id)
    return FileResponse(package(project, system), as_attachment=True, filename=f"{ascii_slug(project)}-dossier.zip")


def ascii_slug(project: Project) -> str:
    return slug(project.name).encode("ascii", "ignore").decode().strip("-") or "project"
