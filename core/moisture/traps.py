"""Traps: something that can hold water between two sides that let none out, found by rule and said in words."""

from __future__ import annotations

from dataclasses import dataclass

from core.buildup.anatomy import Anatomy
from core.buildup.model import BuildUp, BuildUpLayer, Place, is_metal_framed
from core.materials.library import AirLayer, Sheet, Solid
from core.moisture.gaps import both_ways, gap_sd
from core.moisture.steady import STILL_AIR_SD, sd_of
from core.say import Said, say, vapour_length

TIGHT_SD_M, THROTTLED_SD_M = 10.0, 2.0
DRY = 0.3
# Families that hold next to no water themselves.
HOLDS_NONE = frozenset({"foam", "faced foam", "cellular glass", "metal sheet", "glass", "tiles"})


@dataclass(frozen=True)
class Trap:
    """Ids of the planes that close either side and what lies between; tight: a trap, else throttled both ways.

    holds_wood: what lies between could rot or mould.
    """

    outer: str
    inner: str
    between: list[str]
    tight: bool
    holds_wood: bool
    sentence: Said


def _sd(layer: BuildUpLayer) -> float:
    """sd [m] of a layer as one side of a trap: a variable membrane at its most open, foams by thickness times μ.

    Capillary masonry and plaster count nothing: what is behind them dries by liquid too. A lapped covering breathes through its laps.
    """
    entry = layer.entry
    if isinstance(entry, Sheet):
        return entry.sd_most_open
    if isinstance(entry, AirLayer):
        return STILL_AIR_SD
    if entry.group in ("masonry", "plaster") and entry.a_value_kg_m2s05 is not None:
        return 0.0
    return sd_of(layer, DRY)


def _holds_water(layer: BuildUpLayer) -> bool:
    entry = layer.entry
    return isinstance(entry, Solid) and entry.family not in HOLDS_NONE and not entry.lapped


def traps(build_up: BuildUp, place: Place) -> list[Trap]:
    """Every pair of sides that close something in: 10 m or more on both, or 2 m or more on both (throttled).

    A gap lets out what its air carries away, however tight what stands before it: little openings, a flat slope and no wind make it a
    tight one. What lies in the weather itself, soil and ballast, and all that is the earth's side, is no part of a trap.
    """
    layers = build_up.layers
    if not layers:
        return []
    anatomy = Anatomy(build_up, place)
    values = [_sd(layer) for layer in layers]
    gaps = {
        i: gap_sd(layer, place)
        for i, layer in enumerate(layers)
        if isinstance(layer.entry, AirLayer) and layer.entry.drains
    }
    found: list[Trap] = []
    first = anatomy.judged_from
    for index in range(first, len(layers)):
        if not _holds_water(layers[index]):
            continue
        outward, outer = _way(list(range(index - 1, -1, -1)), values, gaps)
        inward, inner = _way(list(range(index + 1, len(layers))), values, gaps)
        if outer is None or inner is None or min(outward, inward) < THROTTLED_SD_M:
            continue
        found.append(_trap(layers, outer, inner, outward, inward))
    tight = [trap for trap in found if trap.tight]
    kept: dict[tuple[str, str], Trap] = {}
    for trap in tight or found:
        kept.setdefault((trap.outer, trap.inner), trap)
    return list(kept.values())


def _way(path: list[int], values: list[float], gaps: dict[int, float]) -> tuple[float, int | None]:
    """(sd of a way out, the layer that closes it most). A gap on it is a second way beside what lies beyond."""
    if not path:
        return 0.0, None
    here, rest = path[0], path[1:]
    beyond, closes = _way(rest, values, gaps)
    if here in gaps:
        through = both_ways(beyond, gaps[here])
        return values[here] + through, (closes if closes is not None else here)
    total = values[here] + beyond
    return total, here if closes is None or values[here] >= values[closes] else closes


def _trap(stretch: list[BuildUpLayer], outer: int, inner: int, outward: float, inward: float) -> Trap:
    between = [layer for layer in stretch[outer + 1 : inner] if _holds_water(layer)]
    names = ", ".join(dict.fromkeys(layer.entry.name for layer in between))
    tight = min(outward, inward) >= TIGHT_SD_M
    template = (
        "A trap: {names} between {first} (sd {out} outward) and {second} (sd {into} inward). What gets in by rain, leak or air "
        "hardly gets out."
        if tight
        else "Throttled both ways: {names} between {first} (sd {out} outward) and {second} (sd {into} inward). It dries slowly."
    )
    sentence = say(
        template, names=names, first=stretch[outer].entry.name, second=stretch[inner].entry.name,
        out=vapour_length(outward), into=vapour_length(inward),
    )  # fmt: skip
    wood = any(
        (layer.framing is not None and not is_metal_framed(layer))
        or (isinstance(layer.entry, Solid) and (layer.entry.timber is not None or layer.entry.wood_fibre))
        for layer in between
    )
    return Trap(stretch[outer].id, stretch[inner].id, [layer.id for layer in between], tight, wood, sentence)
