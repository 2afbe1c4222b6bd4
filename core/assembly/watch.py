"""The planes of a case that are watched: every face between layers, both sides of a membrane, the room face; which are judged, and why not."""

from __future__ import annotations

from typing import Literal

from core.assembly.model import Role, WatchPoint
from core.assembly.stack import is_variable
from core.buildup.anatomy import INERT, Anatomy
from core.buildup.model import (
    BuildUp,
    BuildUpLayer,
    Place,
)
from core.materials.library import (
    AirLayer,
    MouldClass,
    Sheet,
    Solid,
)

MOULD_RANK: list[MouldClass] = ["resistant", "medium_resistant", "sensitive", "very_sensitive"]
SENSITIVE_TO_SOIL: tuple[MouldClass, ...] = ("very_sensitive", "sensitive")
BEHIND_RENDER = "between a thin render and the boards it lies on: algae outside, cracks, and the water behind the boards count there"


def watch_points(
    build_up: BuildUp, layers: list[BuildUpLayer], place: Place, judged_from: int, behind: int, entry_of: dict[str, int]
) -> list[tuple[WatchPoint, int, Literal["outer", "inner"]]]:
    """Every face between layers, both sides of a membrane, and the room face, with their entry in the case.

    judged_from: the first layer that is judged; behind: how many coats stand before the layers in the case; entry_of: where each layer
    lies in it.
    """
    render = Anatomy(build_up, place).thin_render
    rendered = build_up.layers[render].id if render is not None else None
    out: list[tuple[WatchPoint, int, Literal["outer", "inner"]]] = []
    first = layers[0].entry
    weathered = "a weathered face" if place.adjoining == "outside" else "the cold side's own face"
    outer_name = f"outer face of {first.name}"
    out.append((WatchPoint(outer_name, "face", first.mould_class, False, weathered, ""), behind - 1, "outer"))
    names: dict[str, int] = {}
    insulation = [i for i, layer in enumerate(layers) if layer.entry.group == "insulation"]
    outside = (
        "on the earth's side"
        if place.adjoining == "ground"
        else "outside the gap or sheet that ends the weather's side"
    )

    def unique(name: str) -> str:
        names[name] = names.get(name, 0) + 1
        return name if names[name] == 1 else f"{name} ({names[name]})"

    for index in range(len(layers) - 1):
        here, beyond = layers[index].entry, layers[index + 1].entry
        if isinstance(here, Sheet) and isinstance(beyond, Sheet):
            continue  # two sheets on each other are one
        if isinstance(here, Sheet):
            name = unique(f"room side of {here.name}")
        elif isinstance(beyond, Sheet):
            name = unique(f"outer side of {beyond.name}")
        else:
            name = unique(f"{here.name} / {beyond.name}")
        bonded = _bonded(here, beyond)
        why = "bonded in lime without air" if bonded else ""
        judged = not bonded
        role: Role = "inside"
        if here.group == beyond.group == "masonry":
            role, judged, why, bonded = "masonry", False, "inside the masonry", False
        # the face between a gap or a sheet that ends a side and what lies inboard of it belongs to what lies inboard
        if index < judged_from - 1:
            role, judged, why, bonded = "face", False, outside, False
        elif here.family == "soil" and beyond.mould_class not in SENSITIVE_TO_SOIL:
            role, judged, why, bonded = "face", False, "against the soil", False
        elif index == judged_from - 1 and place.adjoining == "ground" and beyond.family in INERT:
            role, judged, why, bonded = "face", False, "between the sheet and what holds no water", False
        elif layers[index].id == rendered:
            role, judged, why, bonded = "face", False, BEHIND_RENDER, False
        elif role == "inside" and insulation and index > insulation[-1] and AirLayer in (type(here), type(beyond)):
            role = "cavity"
        mould = _worse(here.mould_class, beyond.mould_class)
        if index == judged_from - 1:
            mould = beyond.mould_class
        point = WatchPoint(name, role, mould, judged, why, layers[index].id, bonded and not judged)
        out.append((point, entry_of[layers[index].id], "inner"))
    last = layers[-1].entry
    room = WatchPoint(f"room face of {last.name}", "room", last.mould_class, True, "", layers[-1].id)
    out.append((room, entry_of[layers[-1].id] + (1 if is_variable(layers[-1]) else 0), "inner"))
    return out


def _worse(first: MouldClass, second: MouldClass) -> MouldClass:
    return max(first, second, key=MOULD_RANK.index)


def _bonded(here: Solid | Sheet | AirLayer, beyond: Solid | Sheet | AirLayer) -> bool:
    """Full contact in lime: one side lime-bound, the other mineral or a capillary-active board."""
    if not (isinstance(here, Solid) and isinstance(beyond, Solid)):
        return False
    pairs = ((here, beyond), (beyond, here))
    return any(a.lime_bound and (b.lime_bound or b.capillary_active) for a, b in pairs)
