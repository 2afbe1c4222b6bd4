"""A background that is not flat: what stays hollow behind a lining, what levels it, and what a proud foot takes of the room."""

from __future__ import annotations

from dataclasses import dataclass

from core.buildup.growth import growth
from core.buildup.model import FIBROUS, BuildUp, BuildUpLayer, Place, brought, is_insulation, mass
from core.materials.library import Solid
from core.say import Said, mass_per_area, percent, say, thickness

LEVELLER = "parge_coat"
PLACED_WET = ("spray_foam_closed", "spray_foam_open", "hemp_lime")
SOFT_KG_M3 = 80.0  # a batt lighter than this goes into the hollows by itself
LEAST_M = 0.003
HOLLOW_GAP_LEVEL = 2  # ISO 6946 Annex F: air that goes round the warm side
ROUND_W_M2K = 0.04  # of heat that such air carries at most: ΔU″ of that level


@dataclass(frozen=True)
class Ground:
    """The uneven layer, what lies on it toward the room, and what is between: “levelled”, “filled” (a soft batt goes in), “hollow”."""

    layer: BuildUpLayer
    on_it: BuildUpLayer | None
    state: str


def ground_of(build_up: BuildUp) -> Ground | None:
    """The innermost uneven layer; None where the background is flat."""
    at = max((i for i, layer in enumerate(build_up.layers) if layer.uneven is not None), default=None)
    if at is None:
        return None
    layer = build_up.layers[at]
    assert layer.uneven is not None
    level = 0.0
    for inner in build_up.layers[at + 1 :]:
        if isinstance(inner.entry, Solid) and inner.entry.group == "plaster":
            level += inner.thickness
            continue
        if level + 1e-9 >= layer.uneven.mean_m or layer.uneven.mean_m < LEAST_M:
            return Ground(layer, inner, "levelled")
        return Ground(layer, inner, "filled" if _goes_in(inner) else "hollow")
    return Ground(layer, None, "levelled" if level + 1e-9 >= layer.uneven.mean_m else "open")


def _goes_in(layer: BuildUpLayer) -> bool:
    """Whether it fills the hollows by itself: what is sprayed, poured or blown, and soft batts."""
    entry = layer.entry
    if not isinstance(entry, Solid):
        return False
    if layer.material in PLACED_WET or entry.family == "loose mineral fill":
        return True
    return entry.family in FIBROUS and entry.density_kg_m3 <= SOFT_KG_M3


def gap_level(build_up: BuildUp, layer: BuildUpLayer) -> int:
    """Level of ISO 6946 of an insulation: as stated, and the highest where air goes round behind it, in hollows or in a stated gap."""
    if is_insulation(layer) and any(one.goes_round for one in build_up.layers[: build_up.index(layer.id)]):
        return max(layer.gaps, HOLLOW_GAP_LEVEL)
    ground = ground_of(build_up)
    hollow = ground is not None and ground.state == "hollow" and ground.on_it is not None
    if hollow and ground is not None and ground.on_it is not None and ground.on_it.id == layer.id:
        return max(layer.gaps, HOLLOW_GAP_LEVEL) if is_insulation(layer) else layer.gaps
    return layer.gaps


def foot_m(as_found: BuildUp, option: BuildUp, place: Place) -> tuple[float, float]:
    """What a proud foot or plinth takes outside and of the room, beyond the layers [m], where what is put on runs straight over it."""
    uneven = next((layer.uneven for layer in reversed(option.layers) if layer.uneven is not None), None)
    if uneven is None or uneven.chamfered:
        return 0.0, 0.0
    outside, room = growth(as_found, option, place)
    return (
        uneven.proud_outside_mm / 1000.0 if outside > LEAST_M else 0.0,
        uneven.proud_mm / 1000.0 if room > LEAST_M else 0.0,
    )


def background_words(as_found: BuildUp, option: BuildUp, place: Place) -> list[Said]:
    """What an uneven background asks of an option; nothing where it is flat, or nothing new lies on it."""
    ground = ground_of(option)
    if ground is None or ground.layer.uneven is None:
        return []
    uneven, found = ground.layer.uneven, []
    new = {layer.id for layer in brought(as_found, option)}
    if ground.state == "hollow" and ground.on_it is not None and ground.on_it.id in new:
        parge = BuildUp(layers=[BuildUpLayer(id="x", material=LEVELLER, thickness_mm=max(uneven.mean_m * 1000.0, 1.0))])
        found.append(
            say(
                "The ground stands back by {deep} over {share} of the face: behind {what} it stays hollow, room air goes round and its "
                "water with it. Level it with {mean} of parge on the mean ({weight}), or pack the deepest with stone in lime first.",
                deep=thickness(uneven.hollow_mm / 1000.0), share=percent(uneven.share), what=ground.on_it.entry.name,
                mean=thickness(uneven.mean_m), weight=mass_per_area(mass(parge)),
            )
        )  # fmt: skip
    if ground.state == "filled" and ground.on_it is not None and ground.on_it.id in new:
        found.append(
            say(
                "The ground stands back by {deep} over {share} of the face: {what} {does}.",
                deep=thickness(uneven.hollow_mm / 1000.0), share=percent(uneven.share), what=ground.on_it.entry.name,
                does="fills the hollows as it is placed, and takes as much more of it"
                if ground.on_it.material in PLACED_WET or ground.on_it.entry.family == "loose mineral fill"
                else "has to be pressed into the hollows, or cut in",
            )
        )  # fmt: skip
    plinth, foot = foot_m(as_found, option, place)
    if foot > 0.0:
        found.append(
            say(
                "The foot stands {proud} proud: a lining that runs straight over it takes as much more of the room, counted here. It may "
                "follow with a chamfer; dressing the foot back is the engineer’s.",
                proud=thickness(foot),
            )
        )  # fmt: skip
    if plinth > 0.0:
        found.append(
            say(
                "The plinth stands {proud} proud: what runs straight over it grows as much more outside, counted here. It may end above it on a "
                "drip, or follow it; dressing the plinth back is the engineer’s.",
                proud=thickness(plinth),
            )
        )  # fmt: skip
    return found
