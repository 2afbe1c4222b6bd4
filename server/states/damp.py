"""Wet ground that evidence shows, as the building's year takes it."""

from __future__ import annotations

from core.readiness.reason import Pin
from core.readiness.rules import rules
from core.survey.cold import ColdSpace
from core.zones.assemble import DampGround
from server.projects.models import Project
from server.survey.models import Evidence, WaterItem

SHOWS = ("standing_water", "tide_mark")
GROUND = "ground"
STANDING_M2 = 2.0  # of water that stands, where nobody measured it: an estimate


def damp_ground(project: Project, spaces: list[ColdSpace], after: bool) -> tuple[DampGround, ...]:
    """Standing water and tide marks, and what was confirmed as ground water, each at the space or the rooms they belong to.

    Another confirmed cause takes a pin out. After the works a pin counts until every water item that answers it is closed.
    """
    found = []
    for row in project.evidence.select_related("element").prefetch_related("water_items"):
        pin = row.seen
        if row.cause not in ("", GROUND) or not (pin.kind in SHOWS or row.cause == GROUND):
            continue
        if after and _answered(row):
            continue
        where = _where(row, pin, spaces)
        if where is not None:
            standing = (pin.size_m2 or STANDING_M2) if pin.kind == "standing_water" else 0.0
            key = row.element.shape_key if row.element is not None else ""
            found.append(DampGround(where, key, standing, rules().kind_name(pin.kind)))
    return tuple(found)


def _answered(row: Evidence) -> bool:
    items = [item for item in row.water_items.all() if item.state != WaterItem.NOT_NEEDED]
    return bool(items) and all(item.state == WaterItem.CLOSED for item in items)


def _where(row: Evidence, pin: Pin, spaces: list[ColdSpace]) -> str | None:
    """Id of the cold space, "" for the heated rooms on the ground, None where it is seen from outside or belongs to neither."""
    if pin.side != "inside":
        return None
    element = row.element
    key = element.shape_key if element is not None else ""
    for space in spaces:
        if key and key in {*space.borders, *(skin.key for skin in space.skins)}:
            return space.id
        at = pin.place
        if at.view != "plan" and at.body == space.body and space.low_m - 0.1 <= at.y_m < space.high_m - 0.1:
            return space.id
    return "" if element is not None and element.adjoining == "ground" else None
