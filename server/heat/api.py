"""Heat loss before and after."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from server.heat.figures import heat as heat_of
from server.heat.schemas import HeatOut
from server.projects.permissions import viewable_project

router = Router(tags=["heat"])


@router.get("/projects/{project_id}/heat", response=HeatOut)
def read_heat(request: HttpRequest, project_id: int) -> HeatOut:
    return heat_of(viewable_project(request.user, project_id))
