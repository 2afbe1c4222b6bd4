"""What the rules need to know of how an element is made: what bears it, what stands before it, the gap between."""

from __future__ import annotations

from core.buildup.model import LOAD_BEARING_M, BuildUp, BuildUpLayer
from core.materials.library import AirLayer, Sheet, Solid
from core.readiness.reason import Cladding, Gap, Made


def made_of(build_up: BuildUp) -> tuple[Made, Cladding, Gap]:
    """(what bears it, cladding, gap behind it) from the layers as found; nothing is taken for granted without them."""
    if not build_up.is_stated:
        return "not stated", "none", "none"
    solids = [layer for layer in build_up.layers if isinstance(layer.entry, Solid)]
    outer = solids[0].entry if solids else None
    gap: Gap = "none"
    for layer in build_up.layers:
        if isinstance(layer.entry, AirLayer) and layer.entry.drains:
            gap = "ventilated" if layer.entry.ventilated else "drained"
            break
    behind = solids[1:]
    cladding: Cladding = "none"
    if isinstance(outer, Solid):
        if build_up.is_leaf(build_up.index(solids[0].id)):
            cladding = "leaf"
        elif outer.family == "metal sheet":
            cladding = "metal"
        elif outer.lapped and outer.timber is not None:
            cladding = "boards"
        elif (
            outer.group == "plaster"
            and behind
            and isinstance(behind[0].entry, Solid)
            and behind[0].entry.group == "insulation"
        ):
            cladding = "render"
    bearing = behind if cladding != "none" and behind else solids
    made = _bears(build_up, bearing)
    return ("metal" if made == "not stated" and cladding == "metal" else made), cladding, gap


def _bears(build_up: BuildUp, bearing: list[BuildUpLayer]) -> Made:
    for layer in bearing:
        entry = layer.entry
        if isinstance(entry, Sheet | AirLayer) or entry.family == "soil":
            continue
        if layer.framing is not None:
            return "frame"
        if layer.material == "logs":
            return "log"
        if entry.family == "concrete" and layer.thickness >= LOAD_BEARING_M:
            return "concrete"
        if entry.group == "masonry" and layer.thickness >= LOAD_BEARING_M:
            return "masonry"
        if entry.timber is not None:
            return "frame"
        if entry.family == "metal sheet":
            return "metal"
    if any(layer.framing is not None for layer in build_up.layers):
        return "frame"
    return "not stated"
