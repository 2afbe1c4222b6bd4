"""Projects: the list, one as a whole."""

from __future__ import annotations

from typing import Any

from django.db.models import Count, F, Q
from django.http import HttpRequest
from ninja import Router

from server.overview.actions import change_project as do_change_project
from server.overview.actions import create_project as do_create_project
from server.overview.actions import delete_project as do_delete_project
from server.overview.figures import project_page
from server.overview.schemas import ProjectBody, ProjectListed, ProjectPage
from server.projects.models import Project
from server.projects.permissions import viewable_project
from server.projects.schemas import ProjectFields, ProjectOut

# choices of the scheme that is shown; of the first where none was picked
SHOWN_CHOICE = Q(elements__choices__scheme=F("scheme")) | Q(scheme=None, elements__choices__scheme__position=0)

router = Router(tags=["projects"])


@router.get("/projects", response=list[ProjectListed])
def list_projects(request: HttpRequest) -> list[ProjectListed]:
    found: Any = Project.objects.viewable_by(request.user).annotate(
        element_count=Count("elements", distinct=True),
        chosen_count=Count("elements__choices__option", distinct=True, filter=SHOWN_CHOICE),
    )
    return [
        ProjectListed(
            id=p.pk,
            name=p.name,
            climate=p.climate,
            elements=p.element_count,
            chosen=p.chosen_count,
            changed_at=p.changed_at,
        )
        for p in found
    ]


@router.post("/projects", response={201: ProjectOut})
def create_project(request: HttpRequest, body: ProjectFields) -> tuple[int, Project]:
    return 201, do_create_project(request.user, body)


@router.get("/projects/{project_id}", response=ProjectPage)
def read_project(request: HttpRequest, project_id: int) -> dict[str, Any]:
    project = viewable_project(request.user, project_id)
    return project_page(project)


@router.put("/projects/{project_id}", response=ProjectOut)
def change_project(request: HttpRequest, project_id: int, body: ProjectBody) -> Project:
    return do_change_project(request.user, project_id, body)


@router.delete("/projects/{project_id}", response={204: None})
def delete_project(request: HttpRequest, project_id: int) -> tuple[int, None]:
    do_delete_project(request.user, project_id)
    return 204, None
