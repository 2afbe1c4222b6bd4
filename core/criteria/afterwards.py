"""What a build-up must not meet after the works: the paint, the hole, the blocked gutter that its figures did not reckon with."""

from __future__ import annotations

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.materials.library import AirLayer, Sheet, Solid
from core.moisture.steady import DryingAbility
from core.say import Said, said

COUNTS = 0.1  # a side that carries at least a tenth of the drying is not to be closed
OPEN_SD_M = 2.0  # below it a membrane lets enough through to be one of the ways out


def afterwards(build_up: BuildUp, place: Place, drying: DryingAbility | None) -> list[Said]:
    """Sentences in the order outside, inside, upkeep; empty where nothing is stated."""
    if not build_up.layers:
        return []
    return [*_outside(build_up, place, drying), *_inside(build_up, place, drying), *_upkeep(build_up, place)]


def _share(drying: DryingAbility | None, inward: bool) -> float:
    """Of what dries at the plane that could suffer, what leaves by this side. 0 where it is not known."""
    if drying is None or drying.total_g_m2 <= 0.0:
        return 0.0
    side = drying.inward if inward else drying.outward
    return max(side.g_m2, 0.0) / drying.total_g_m2


def _ways(drying: DryingAbility | None, inward: bool) -> bool:
    """Whether what dries counts on this side: by liquid, by a tenth of the vapour at least, or nobody knows."""
    if drying is None:
        return True
    return bool((drying.inward if inward else drying.outward).liquid) or _share(drying, inward) >= COUNTS


def _outside(build_up: BuildUp, place: Place, drying: DryingAbility | None) -> list[Said]:
    """By what the face is: lime and old masonry, render on insulation, boards and logs."""
    solids = [layer for layer in build_up.layers if not isinstance(layer.entry, Sheet)]
    if place.adjoining != "outside" or place.kind != "wall" or not solids or not isinstance(solids[0].entry, Solid):
        return []
    face = solids[0].entry
    name = f"Outside, {face.name}"
    drinks = face.a_value_kg_m2s05 is not None and face.group in ("masonry", "plaster")
    if face.group == "plaster" and len(solids) > 1 and solids[1].entry.group == "insulation":
        return [
            said(
                f"{name} on insulation: paint stays open to vapour; cracks and open joints at sills and reveals are closed in "
                "the same year. What gets in behind it dries slowly."
            )
        ]
    if drinks and _ways(drying, inward=False):
        lime = "; pointing and repairs in lime" if face.lime_bound or face.family in ("earth wall", "soil") else ""
        cement = ", no cement render" if lime else ""
        dries = "It dries through its face." if drying is not None else "It was computed open."
        return [said(f"{name}: no film-forming paint, no water repellent without a test{cement}{lime}. {dries}")]
    if face.timber is not None and not any(isinstance(layer.entry, AirLayer) for layer in solids[1:2]):
        return [
            said(
                f"{name}: no film-forming paint; it dries through its face. Checks, ledges and joints that hold water are seen to "
                "in the same year."
            )
        ]
    return []


def _is_tight(layer: BuildUpLayer) -> bool:
    """A covering that is closed already: nothing is to be kept open."""
    return layer.entry.family in ("tiles", "glass", "metal sheet")


def _inside(build_up: BuildUp, place: Place, drying: DryingAbility | None) -> list[Said]:
    found = []
    insulated = [at for at, layer in enumerate(build_up.layers) if layer.entry.group == "insulation"]
    behind = [layer for layer in build_up.layers[min(insulated, default=0) :] if isinstance(layer.entry, Sheet)]
    tight = any(isinstance(layer.entry, Sheet) and layer.entry.sd_most_open >= OPEN_SD_M for layer in behind)
    if not tight and build_up.layers and _ways(drying, inward=True) and not _is_tight(build_up.layers[-1]):
        face = {"roof": "Ceiling", "floor": "Floor"}.get(place.kind, "Room face")
        cover = (
            "no vinyl, no laminate on a tight foil" if place.kind == "floor" else "no vinyl paper, oil paint or tiles"
        )
        dries = "It dries into the room." if drying is not None else "It was computed open."
        found.append(said(f"{face}: {cover}; what goes on it stays open to vapour. {dries}"))
    barrier = next((layer for layer in build_up.layers if layer.air_barrier), None)
    membrane = barrier or next((layer for layer in reversed(behind) if layer.entry.hatch == "membrane"), None)
    if membrane is not None:
        found.append(
            said(
                f"{membrane.entry.name[:1].upper()}{membrane.entry.name[1:]}: not pierced. Cables, pipes and hooks stay in front "
                "of it; a hole is sealed on the day it is made."
            )
        )
    return found


def _upkeep(build_up: BuildUp, place: Place) -> list[Said]:
    found = []
    aired = next((x for x in build_up.layers if isinstance(x.entry, AirLayer) and x.entry.drains), None)
    if aired is not None:
        found.append(
            said(f"The openings of the {aired.entry.name} stay free at foot and head: no foam, nothing pushed in.")
        )
    if place.adjoining == "outside" and place.kind == "wall":
        found.append(
            said(
                "Gutters, downpipes, sills and flashings are looked at every autumn: water that runs down the wall is not in "
                "the figures."
            )
        )
    if place.adjoining == "outside" and place.kind == "roof":
        found.append(said("Covering, flashings and gutters are looked at every autumn: a leak is not in the figures."))
    if place.adjoining == "ground":
        found.append(
            said("Ground and paving stay below the floor, drains run free: standing water is not in the figures.")
        )
    return found
