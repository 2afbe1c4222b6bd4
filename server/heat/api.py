"""Heat before and after, the air of the building, its balance."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from core.rooms import Rooms
from core.which_figure import WhichFigure
from core.zones.summer import Summer
from server.heat import actions, rooms
from server.heat import air as airs
from server.heat import balance as balances
from server.heat.figures import heat as heat_of
from server.heat.footing import asked_of, footing_of
from server.heat.schemas import (
    AirBody,
    AiringBody,
    AiringOut,
    AirOut,
    BalanceOut,
    BillsBody,
    FootingAsked,
    FootingOut,
    HeatOut,
    HouseAirBody,
    RoomsBody,
    RoomsOut,
    Taken,
    TryBody,
    TryOut,
)
from server.heat.which import which_of
from server.projects.models import Project
from server.projects.permissions import viewable_project
from server.projects.schemas import ProjectOut

router = Router(tags=["heat"])


@router.get("/projects/{project_id}/heat", response=HeatOut)
def read_heat(request: HttpRequest, project_id: int) -> HeatOut:
    return heat_of(viewable_project(request.user, project_id))


@router.get("/projects/{project_id}/air", response=AirOut)
def read_air(request: HttpRequest, project_id: int) -> AirOut:
    """Tests in their line, the leak ledger and what flows through it, what is stated of air and use."""
    return airs.air_of_project(viewable_project(request.user, project_id))


@router.put("/projects/{project_id}/air", response=AirOut)
def change_air(request: HttpRequest, project_id: int, body: AirBody) -> AirOut:
    """What is stated as found, or after the works of the scheme that is shown."""
    return airs.air_of_project(actions.change_air(request.user, project_id, body))


@router.post("/projects/{project_id}/air/take-leaks", response=Taken)
def take_leaks(request: HttpRequest, project_id: int) -> Taken:
    """Every element's hourly years take their leak from the ledger."""
    return Taken(changed=actions.take_leaks(request.user, project_id))


@router.post("/projects/{project_id}/air/take-space-air", response=Taken)
def take_space_air(request: HttpRequest, project_id: int) -> Taken:
    """Elements that face a cold space run with its air, as found and after."""
    return Taken(changed=actions.take_space_air(request.user, project_id))


@router.post("/projects/{project_id}/air/take-house-air", response=ProjectOut)
def take_house_air(request: HttpRequest, project_id: int, body: HouseAirBody) -> Project:
    """The rooms' air as it was reckoned becomes the indoor air of every wall's hourly years."""
    return actions.take_house_air(request.user, project_id, body.after)


@router.post("/projects/{project_id}/air/within", response=AiringOut)
def airing_within(request: HttpRequest, project_id: int, body: AiringBody) -> AiringOut:
    """The least airing that keeps the rooms after the works at or below an RH."""
    return airs.airing(viewable_project(request.user, project_id), body)


@router.post("/projects/{project_id}/air/try", response=TryOut)
def try_tightness(request: HttpRequest, project_id: int, body: TryBody) -> TryOut:
    """Another tightness, or leaks closed, and what it does to heat, humidity and fresh air; nothing is kept."""
    return airs.tried(viewable_project(request.user, project_id), body)


@router.get("/projects/{project_id}/rooms", response=RoomsOut)
def read_rooms(request: HttpRequest, project_id: int) -> RoomsOut:
    """Rooms with their heat load and fresh air, as found and after."""
    return rooms.rooms_of(viewable_project(request.user, project_id))


@router.get("/projects/{project_id}/rooms/proposal", response=Rooms)
def propose_rooms(request: HttpRequest, project_id: int) -> Rooms:
    """Rooms by storey out of the shape; nothing is kept."""
    return rooms.proposal(viewable_project(request.user, project_id))


@router.put("/projects/{project_id}/rooms", response=RoomsOut)
def change_rooms(request: HttpRequest, project_id: int, body: RoomsBody) -> RoomsOut:
    """All rooms, with what bounds each."""
    return rooms.rooms_of(rooms.change_rooms(request.user, project_id, body))


@router.get("/projects/{project_id}/balance", response=BalanceOut)
def read_balance(request: HttpRequest, project_id: int) -> BalanceOut:
    """Hourly years of the building before and after: needs, peaks, zones, fresh air, warnings, bills."""
    return balances.balance_of(viewable_project(request.user, project_id))


@router.get("/projects/{project_id}/which-figures", response=list[WhichFigure])
def read_which(request: HttpRequest, project_id: int) -> list[WhichFigure]:
    """Peaks and yearly figures of all sheets of heat, which one each is and why they differ."""
    return which_of(viewable_project(request.user, project_id))


@router.get("/projects/{project_id}/balance/summer", response=list[Summer])
def read_summer(request: HttpRequest, project_id: int) -> list[Summer]:
    """Hours too warm after the works as they are, then with one measure each."""
    return balances.summer_of(viewable_project(request.user, project_id))


@router.get("/projects/{project_id}/footing", response=FootingAsked)
def read_footing(request: HttpRequest, project_id: int) -> FootingAsked:
    """What is known of the foot of the outer wall."""
    return asked_of(viewable_project(request.user, project_id))


@router.post("/projects/{project_id}/footing", response=FootingOut)
def frost_at_footing(request: HttpRequest, project_id: int, body: FootingAsked) -> FootingOut:
    """The soil there through the year, as found and after, with snow and without."""
    return footing_of(viewable_project(request.user, project_id), body)


@router.put("/projects/{project_id}/energy", response=BalanceOut)
def change_energy(request: HttpRequest, project_id: int, body: BillsBody) -> BalanceOut:
    return balances.balance_of(balances.change_energy(request.user, project_id, body))
