"""The house section."""

from __future__ import annotations

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from server.house.figures import house as house_of
from server.house.schemas import HouseOut
from server.projects.permissions import viewable_project

router = Router(tags=["house"])
Level = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]


@router.get("/projects/{project_id}/house", response=HouseOut)
def read_house(
    request: HttpRequest, project_id: int, axis: Literal["x", "y"] | None = None, at: Level | None = None
) -> HouseOut:
    return house_of(viewable_project(request.user, project_id), axis, at)
