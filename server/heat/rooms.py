"""Rooms: what bounds each, its heat load and its fresh air, as found and after the works of the scheme that is shown."""

from __future__ import annotations

from django.db import transaction

from core.climate.data import shipped
from core.errors import CoreError
from core.rooms import RoomLoads, Rooms, RoomStated, proposed, room_loads, words_of_left
from core.zones.assemble import State
from core.zones.stated import AirStated, RoomAir
from server.heat.figures import air_of, heat, states
from server.heat.schemas import BoundOut, LeftOut, RoomsBody, RoomsOut, RoomsState, RoomsStated
from server.problems import Problem
from server.projects.models import HistoryEntry, Project
from server.projects.permissions import User, editable_project
from server.states.state import air_lines, rows_of, shown_of


def rooms_of(project: Project) -> RoomsOut:
    """Everything of the Rooms sheet. Raises ClimateGone."""
    shown = shown_of(project)
    found, after, made, _, _ = states(shown)
    stated = project.current_rooms
    before, then = rows_of(shown, False), rows_of(shown, True)
    names = {row.key: row.element.name for row in [*before, *then]}
    areas = {row.key: row.area_m2 for row in [*then, *before]}
    total = heat(project).total
    refused, sides = "", []
    for state, rows, others, whole in ((found, before, then, total.before_w), (after, then, before, total.after_w)):
        try:
            here = {row.key: row.element.name for row in rows}
            loads = room_loads(
                stated, state, shipped(project.climate), air_of(state, project.climate),
                {row.key: row.area_m2 for row in before}, here, frozenset(row.key for row in others) - here.keys(),
            )  # fmt: skip
            sides.append(_side(loads, state, whole))
        except CoreError as error:
            refused = error.message
    own = [row for row in made.rows if row.key not in names] if made is not None else []
    return RoomsOut(
        stated=_stated(project),
        refused=refused,
        before=sides[0] if len(sides) == 2 else None,
        after=sides[1] if len(sides) == 2 else None,
        bounds=[BoundOut(key=key, name=name, area_m2=areas[key]) for key, name in names.items()],
        leaks=[BoundOut(key=row.key, name=row.name, area_m2=0.0) for row in own],
        moved=shown.found != shown.after,
    )


def _side(loads: RoomLoads, state: State, whole_w: float) -> RoomsState:
    left = [LeftOut(words=words_of_left(one), watts=one.watts) for one in loads.left]
    return RoomsState(loads=loads, left=left, whole_w=whole_w, usual_c=state.heat_to_c)


def proposal(project: Project) -> Rooms:
    """Rooms by storey, out of both shapes; nothing is kept. What is in one of them only stands there only."""
    shown = shown_of(project)
    before = proposed(shown.found, shown.both.found) if shown.found.bodies else []
    if not before:
        raise Problem(
            422, "no_shape", shown.refused or "There is no shape to take rooms from.", "Draw the shape, or add rooms."
        )
    after = proposed(shown.after, shown.both.after)
    then = {room.name: room for room in after}
    rooms = [
        _of_both(room, then[room.name]) if room.name in then else room.model_copy(update={"stands": "before"})
        for room in before
    ]
    known = {room.name for room in before}
    ids = {room.id for room in before}
    for room in after:
        if room.name not in known:
            new = room.id if room.id not in ids else f"{room.id}-new"[:40]
            rooms.append(room.model_copy(update={"stands": "after", "id": new}))
    return Rooms(rooms=rooms, design_c=project.current_rooms.design_c)


def _of_both(room: RoomStated, then: RoomStated) -> RoomStated:
    """A room that stands before and after, with what bounds it in either."""
    known = {face.key for face in room.faces}
    return room.model_copy(update={"faces": [*room.faces, *(face for face in then.faces if face.key not in known)]})


@transaction.atomic
def change_rooms(user: User, project_id: int, body: RoomsBody) -> Project:
    """409 where they were changed since one began."""
    project = editable_project(user, project_id)
    now = _stated(project)
    if body.began is not None and body.began != now:
        raise Problem(
            409,
            "changed_meanwhile",
            "The rooms were changed in another window since you began.",
            "Load the page anew to see theirs, then type yours again.",
        )
    ids = {room.id for room in body.stated.rooms.rooms}
    project.rooms = body.stated.rooms.model_dump(mode="json")
    scheme = project.shown_scheme()
    after = _of(scheme.current_air, body.stated.air_after, ids)
    found = _of(project.current_air, body.stated.air_found, ids)
    # a scheme of which nothing is stated follows what is as found, until the two differ
    if after != scheme.current_air if scheme.air else after.rooms != found.rooms:
        scheme.air = air_lines(after).model_dump(mode="json")
        scheme.save(update_fields=["air"])
    if found != project.current_air:
        project.air = air_lines(found).model_dump(mode="json")
    project.save()
    HistoryEntry.write(
        project, user, "change rooms", "changed the rooms", project, now.model_dump(mode="json"),
        body.stated.model_dump(mode="json"),
    )  # fmt: skip
    return project


def _of(stated: AirStated, airs: list[RoomAir], ids: set[str]) -> AirStated:
    """With the air of these rooms; what says nothing of a room, or is of none, is left out."""
    said = [air for air in airs if air.id in ids and air != RoomAir(id=air.id)]
    return AirStated.model_validate({**stated.model_dump(), "rooms": [air.model_dump() for air in said]})


def _stated(project: Project) -> RoomsStated:
    return RoomsStated(
        rooms=project.current_rooms,
        air_found=project.current_air.rooms,
        air_after=project.shown_scheme().current_air.rooms,
    )
