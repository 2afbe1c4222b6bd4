"""Traps: two vapour-tight planes with something between that can hold water, found by rule and said in words."""

from __future__ import annotations

from dataclasses import dataclass

from core.buildup.model import BuildUp, BuildUpLayer
from core.materials.library import AirLayer, Sheet
from core.moisture.steady import sd_of

TIGHT_SD_M = 10.0
# Thicker than this a layer is no plane: it holds the water itself.
THICKEST_PLANE_M = 0.03
DRY = 0.3


@dataclass(frozen=True)
class Trap:
    """Ids of the two planes and what lies between, and the sentence."""

    outer: str
    inner: str
    between: list[str]
    sentence: str


def _sd(layer: BuildUpLayer) -> float:
    """sd of a plane [m], a variable membrane at its most open; 0 for what is no plane."""
    entry = layer.entry
    if isinstance(entry, Sheet):
        return entry.sd_most_open
    if isinstance(entry, AirLayer) or layer.thickness > THICKEST_PLANE_M:
        return 0.0
    return sd_of(layer, DRY)


def traps(build_up: BuildUp) -> list[Trap]:
    """Neighbouring planes of sd 10 m or more with a layer between them; a ventilated cavity between lets the water out."""
    layers = build_up.layers
    tight = [index for index, layer in enumerate(layers) if _sd(layer) >= TIGHT_SD_M]
    found = []
    for outer, inner in zip(tight, tight[1:], strict=False):
        between = [layer for layer in layers[outer + 1 : inner] if not isinstance(layer.entry, Sheet)]
        vented = any(isinstance(layer.entry, AirLayer) and layer.entry.ventilated for layer in between)
        if not between or vented:
            continue
        first, second = layers[outer], layers[inner]
        names = ", ".join(dict.fromkeys(layer.entry.name for layer in between))
        found.append(
            Trap(
                first.id,
                second.id,
                [layer.id for layer in between],
                f"A trap: {names} between {first.entry.name} (sd {_sd(first):.0f} m) and {second.entry.name} "
                f"(sd {_sd(second):.0f} m). What gets in by rain, leak or air hardly gets out.",
            )
        )
    return found
