"""Levers against the rain: what could be tried on a soaked face before anything is lined, each as a changed build-up."""

from __future__ import annotations

from typing import Literal

from core.buildup.model import BuildUp, BuildUpLayer, is_insulation
from core.errors import OutOfRange
from core.materials.library import Sheet

LeverKey = Literal["coat", "render", "cladding"]
LEVERS: dict[LeverKey, str] = {
    "coat": "a lime shelter coat, 4 mm, on the sound and repointed face",
    "render": "a lime render, 20 mm",
    "cladding": "boards before a ventilated gap, with an underlay",
}
_LAYERS: dict[LeverKey, list[tuple[str, str, float | None]]] = {
    "coat": [("lever-coat", "lime_shelter_coat", 4.0)],
    "render": [("lever-render", "lime_render", 20.0)],
    "cladding": [
        ("lever-boards", "larch_boards", 22.0),
        ("lever-gap", "air_ventilated", 30.0),
        ("lever-underlay", "membrane_open", None),
    ],
}


def with_lever(build_up: BuildUp, key: LeverKey) -> BuildUp:
    """The build-up with the lever outside. Coats that are on the face now are taken off it first.

    Raises OutOfRange where the outermost layer is no masonry, or it has the lever already.
    """
    layers = list(build_up.layers)
    if any(layer.id.startswith("lever-") for layer in layers):
        raise OutOfRange("this build-up keeps the rain out already", "try another lever on the one without")
    while layers and isinstance(layers[0].entry, Sheet) and layers[0].entry.kind == "coating":
        layers.pop(0)
    if not layers or is_insulation(layers[0]) or layers[0].entry.group not in ("masonry", "plaster"):
        raise OutOfRange("its outer face is no masonry or render", "draw the lever by hand")
    new = [BuildUpLayer(id=own, material=material, thickness_mm=mm) for own, material, mm in _LAYERS[key]]
    return build_up.model_copy(update={"layers": [*new, *layers]})
