"""Water first: readiness, items, who looked."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Path, Router

from server.projects.permissions import viewable_project
from server.survey.schemas import Uid
from server.water.actions import delete_water_item as do_delete_water_item
from server.water.actions import keep_water_item as do_keep_water_item
from server.water.actions import note_looked_at as do_note_looked_at
from server.water.actions import override_readiness as do_override_readiness
from server.water.figures import item_out, water_page
from server.water.schemas import LookedAtBody, OverrideBody, WaterItemBody, WaterItemOut, WaterPage

router = Router(tags=["water"])


@router.get("/projects/{project_id}/water", response=WaterPage)
def read_water(request: HttpRequest, project_id: int) -> WaterPage:
    return water_page(viewable_project(request.user, project_id))


@router.put("/projects/{project_id}/water/{uid}", response=WaterItemOut)
def keep_water_item(request: HttpRequest, project_id: int, uid: Path[Uid], body: WaterItemBody) -> WaterItemOut:
    return item_out(do_keep_water_item(request.user, project_id, uid, body))


@router.delete("/projects/{project_id}/water/{uid}", response={204: None})
def delete_water_item(request: HttpRequest, project_id: int, uid: Path[Uid]) -> tuple[int, None]:
    do_delete_water_item(request.user, project_id, uid)
    return 204, None


@router.put("/elements/{element_id}/looked-at", response=WaterPage)
def note_looked_at(request: HttpRequest, element_id: int, body: LookedAtBody) -> WaterPage:
    return water_page(do_note_looked_at(request.user, element_id, body).project)


@router.put("/elements/{element_id}/override", response=WaterPage)
def override_readiness(request: HttpRequest, element_id: int, body: OverrideBody) -> WaterPage:
    return water_page(do_override_readiness(request.user, element_id, body).project)
