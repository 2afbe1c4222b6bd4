"""The other path through an element with members: through stud, joist or rafter, with its own cover."""

from __future__ import annotations

from core.buildup.model import BuildUp, BuildUpLayer, is_metal_framed
from core.materials.library import Solid, entry_of


def member_path(build_up: BuildUp) -> BuildUp | None:
    """The build-up through its timber members: each framed layer is the member's own material. None without one.

    One-dimensional: what a member takes from the bay beside it is left out, so that it is the harsher of the two for the cold side of a
    member, and the milder one for its warm side.
    """
    if not any(_is_member(layer) for layer in build_up.layers):
        return None
    layers = [
        layer.model_copy(
            update={"material": layer.framing.material, "framing": None, "product": None, "fixings": None, "gaps": 0, "inverted": None,
                    "a_value_kg_m2s05": None, "uneven": None, "role": "", "goes_round": False}
        )
        if layer.framing is not None and _is_member(layer)
        else layer
        for layer in build_up.layers
    ]  # fmt: skip
    return build_up.model_copy(update={"layers": layers})


def _is_member(layer: BuildUpLayer) -> bool:
    if layer.framing is None or is_metal_framed(layer):
        return False
    entry = entry_of(layer.framing.material)
    return isinstance(entry, Solid) and entry.timber is not None
