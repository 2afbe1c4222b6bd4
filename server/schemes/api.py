"""Schemes, phases, rejections, and what decisions rest on."""

from __future__ import annotations

from typing import IO, cast

from django.http import FileResponse, Http404, HttpRequest
from ninja import File, Router, UploadedFile

from server.problems import Problem
from server.projects.models import Project
from server.projects.permissions import viewable_project
from server.projects.schemas import ProjectOut
from server.schemes import actions
from server.schemes.figures import schemes_of
from server.schemes.models import Basis
from server.schemes.schemas import (
    BasisBody,
    BasisOut,
    BetweenBody,
    InPhase,
    NewScheme,
    PhasesBody,
    RejectBody,
    SchemeBody,
    SchemesOut,
    ShownBody,
    StagesOut,
)
from server.schemes.stages import stages_of
from server.survey.schemas import Uid

router = Router(tags=["schemes"])


@router.get("/projects/{project_id}/schemes", response=SchemesOut)
def read_schemes(request: HttpRequest, project_id: int) -> SchemesOut:
    """Every scheme with its figures, the phases with their heat stair, and what the shown one chooses."""
    return schemes_of(viewable_project(request.user, project_id))


@router.get("/projects/{project_id}/stages", response=StagesOut)
def read_stages(request: HttpRequest, project_id: int) -> StagesOut:
    """Need, air and humidity of the rooms as found and after each phase of the scheme that is shown."""
    return stages_of(viewable_project(request.user, project_id))


@router.post("/projects/{project_id}/schemes", response={201: SchemesOut})
def make_scheme(request: HttpRequest, project_id: int, body: NewScheme) -> tuple[int, SchemesOut]:
    return 201, schemes_of(actions.make_scheme(request.user, project_id, body).project)


@router.put("/schemes/{scheme_id}", response=SchemesOut)
def change_scheme(request: HttpRequest, scheme_id: int, body: SchemeBody) -> SchemesOut:
    return schemes_of(actions.change_scheme(request.user, scheme_id, body).project)


@router.delete("/schemes/{scheme_id}", response=SchemesOut)
def remove_scheme(request: HttpRequest, scheme_id: int) -> SchemesOut:
    return schemes_of(actions.remove_scheme(request.user, scheme_id))


@router.put("/projects/{project_id}/shown-scheme", response=ProjectOut)
def show_scheme(request: HttpRequest, project_id: int, body: ShownBody) -> Project:
    return actions.show_scheme(request.user, project_id, body.scheme_id)


@router.put("/schemes/{scheme_id}/line-phase", response=SchemesOut)
def put_line_in_phase(request: HttpRequest, scheme_id: int, body: InPhase) -> SchemesOut:
    """The phase in which the heated line is moved."""
    return schemes_of(actions.put_line_in_phase(request.user, scheme_id, body.phase_id).project)


@router.put("/schemes/{scheme_id}/phases", response=SchemesOut)
def set_phases(request: HttpRequest, scheme_id: int, body: PhasesBody) -> SchemesOut:
    return schemes_of(actions.set_phases(request.user, scheme_id, body).project)


@router.put("/elements/{element_id}/phase", response=SchemesOut)
def put_in_phase(request: HttpRequest, element_id: int, body: InPhase) -> SchemesOut:
    return schemes_of(actions.put_in_phase(request.user, element_id, body.phase_id))


@router.put("/elements/{element_id}/between", response=SchemesOut)
def put_between(request: HttpRequest, element_id: int, body: BetweenBody) -> SchemesOut:
    return schemes_of(actions.put_between(request.user, element_id, body))


@router.put("/options/{option_id}/rejection", response={204: None})
def reject_option(request: HttpRequest, option_id: int, body: RejectBody) -> tuple[int, None]:
    actions.reject_option(request.user, option_id, body.reason)
    return 204, None


@router.get("/projects/{project_id}/bases", response=list[BasisOut])
def list_bases(request: HttpRequest, project_id: int) -> list[Basis]:
    """What decisions rest on, newest first."""
    return list(viewable_project(request.user, project_id).bases.all())


@router.put("/projects/{project_id}/bases/{uid}", response=BasisOut)
def write_basis(request: HttpRequest, project_id: int, uid: Uid, body: BasisBody) -> Basis:
    return actions.write_basis(request.user, project_id, uid, body)


@router.delete("/projects/{project_id}/bases/{uid}", response={204: None})
def remove_basis(request: HttpRequest, project_id: int, uid: Uid) -> tuple[int, None]:
    actions.remove_basis(request.user, project_id, uid)
    return 204, None


@router.post("/projects/{project_id}/bases/{uid}/document", response=BasisOut)
def attach_document(request: HttpRequest, project_id: int, uid: Uid, file: File[UploadedFile]) -> Basis:
    stream = cast(IO[bytes], file.file)
    return actions.attach_document(request.user, project_id, uid, stream, file.size or 0, file.name or "")


@router.get("/projects/{project_id}/bases/{uid}/document")
def read_document(request: HttpRequest, project_id: int, uid: Uid) -> FileResponse:
    row = viewable_project(request.user, project_id).bases.filter(uid=uid).exclude(document="").first()
    if row is None:
        raise Http404
    if not row.path.exists():
        raise Problem(410, "document_gone", f"The file of “{row.document}” is missing.", "Attach it again.")
    return FileResponse(open(row.path, "rb"), as_attachment=True, filename=row.document, content_type="application/pdf")  # noqa: SIM115
