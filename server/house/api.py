"""The house section."""

from __future__ import annotations

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router
from pydantic import Field

from core.buildup.model import BuildUp
from server.house.figures import house as house_of
from server.house.figures import joints_of
from server.house.schemas import HouseOut, JointLine
from server.projects.permissions import viewable_element, viewable_project
from server.projects.schemas import Body

router = Router(tags=["house"])
Level = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]


class WithLayers(Body):
    build_up: BuildUp


@router.post("/elements/{element_id}/joints", response=list[JointLine])
def joints_with(request: HttpRequest, element_id: int, body: WithLayers) -> list[JointLine]:
    """The joints of an element as they would be with these layers."""
    return joints_of(viewable_element(request.user, element_id), body.build_up)


@router.get("/projects/{project_id}/house", response=HouseOut)
def read_house(
    request: HttpRequest,
    project_id: int,
    axis: Literal["x", "y"] | None = None,
    at: Level | None = None,
    after: bool = False,
) -> HouseOut:
    """after: the section of the shape that the shown scheme makes, in place of as found."""
    return house_of(viewable_project(request.user, project_id), axis, at, after)
