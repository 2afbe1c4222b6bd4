"""The open project file over the API: out as a zip, in as a new project."""

from __future__ import annotations

from typing import IO, cast

from django.http import FileResponse, HttpRequest
from ninja import File, Router, UploadedFile

from server.exchange.bring import import_file
from server.exchange.write import write
from server.files import slug
from server.projects.models import Project
from server.projects.permissions import viewable_project
from server.projects.schemas import ProjectOut

router = Router(tags=["exchange"])


@router.post("/projects/import", response={201: ProjectOut})
def import_project(request: HttpRequest, file: File[UploadedFile]) -> tuple[int, Project]:
    """A new project from an open project file; the file is checked before anything is written."""
    return 201, import_file(request.user, cast(IO[bytes], file.file), file.size or 0)


@router.get("/projects/{project_id}/export")
def export_project(request: HttpRequest, project_id: int) -> FileResponse:
    project = viewable_project(request.user, project_id)
    return FileResponse(write(project), as_attachment=True, filename=f"{slug(project.name)}.wendrick.zip")
