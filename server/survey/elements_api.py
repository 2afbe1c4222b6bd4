"""Elements by hand."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from server.projects.schemas import ElementOut
from server.survey.elements import change_element as do_change_element
from server.survey.elements import create_element as do_create_element
from server.survey.elements import delete_element as do_delete_element
from server.survey.elements import give_construction as do_give_construction
from server.survey.elements import take_construction_back as do_take_construction_back
from server.survey.schemas import ElementBody, GiveBody, NewElement

router = Router(tags=["survey"])


class Given(Schema):
    """To how many elements; the history entry that takes it back."""

    given: int
    entry: int


@router.post("/projects/{project_id}/constructions", response=Given)
def give_construction(request: HttpRequest, project_id: int, body: GiveBody) -> Given:
    """One construction to many elements at once."""
    entry = do_give_construction(request.user, project_id, body)
    return Given(given=len(entry.after or {}), entry=entry.pk)


@router.delete("/projects/{project_id}/constructions/{entry_id}", response=Given)
def take_construction_back(request: HttpRequest, project_id: int, entry_id: int) -> Given:
    """What stood before a construction was given, again."""
    return Given(given=do_take_construction_back(request.user, project_id, entry_id), entry=entry_id)


@router.post("/projects/{project_id}/elements", response={201: ElementOut})
def create_element(request: HttpRequest, project_id: int, body: NewElement) -> tuple[int, Any]:
    return 201, do_create_element(request.user, project_id, body)


@router.put("/elements/{element_id}", response=ElementOut)
def change_element(request: HttpRequest, element_id: int, body: ElementBody) -> Any:
    return do_change_element(request.user, element_id, body)


@router.delete("/elements/{element_id}", response={204: None})
def delete_element(request: HttpRequest, element_id: int) -> tuple[int, None]:
    do_delete_element(request.user, element_id)
    return 204, None
