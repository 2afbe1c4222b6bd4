"""Which layer of a build-up controls rain, air, vapour and heat, with the reason, or that none does."""

from __future__ import annotations

from dataclasses import dataclass

from core.buildup.model import BuildUp, BuildUpLayer, Kind
from core.materials.library import AirLayer, Sheet, Solid
from core.moisture.steady import sd_of

INSULATING_W_MK = 0.09
VAPOUR_SD_M = 2.0
DRY = 0.3
# Materials beside plasters and membranes that stop air when they are whole and joined at their edges.
AIRTIGHT = frozenset({"concrete", "osb", "plywood", "pur_foam"})


@dataclass(frozen=True)
class Control:
    """layer_id is None when nothing in the build-up does it."""

    layer_id: str | None
    because: str


@dataclass(frozen=True)
class ControlLayers:
    rain: Control
    air: Control
    vapour: Control
    heat: Control


def control_layers(build_up: BuildUp, kind: Kind, against_outside: bool = True) -> ControlLayers:
    """The four control layers of a build-up, outside to inside. Rules, not measurements: tightness needs a test."""
    layers = list(build_up.layers)
    return ControlLayers(
        rain=_rain(layers, kind, against_outside),
        air=_air(layers),
        vapour=_vapour(layers),
        heat=_heat(layers),
    )


def _rain(layers: list[BuildUpLayer], kind: Kind, against_outside: bool) -> Control:
    if kind == "floor" or not against_outside:
        return Control(None, "not against rain")
    for layer in layers:
        entry = layer.entry
        if isinstance(entry, AirLayer):
            break
        if isinstance(entry, Solid):
            if entry.group == "insulation":
                break
            words = "takes rain up and dries again" if entry.group == "masonry" else "sheds rain"
            return Control(layer.id, f"{entry.name} {words}")
    return Control(None, "nothing outside sheds rain")


def _air(layers: list[BuildUpLayer]) -> Control:
    for layer in reversed(layers):
        entry = layer.entry
        if isinstance(entry, Sheet) and entry.kind == "membrane":
            return Control(layer.id, f"{entry.name}, when its laps and edges are taped")
        if isinstance(entry, Solid) and entry.group == "plaster":
            return Control(layer.id, f"{entry.name}, where it is whole and meets floor and ceiling")
        if isinstance(entry, Solid) and layer.material in AIRTIGHT:
            return Control(layer.id, f"{entry.name}, when its joints are taped or poured")
    return Control(None, "boards and open joints let air through")


def _vapour(layers: list[BuildUpLayer]) -> Control:
    values = [(sd_of(layer, DRY), layer) for layer in layers]  # a variable membrane at its tightest
    total = sum(sd for sd, _ in values)
    sd, layer = max(values, key=lambda pair: pair[0])
    if sd < VAPOUR_SD_M and sd < 0.5 * total:
        return Control(None, f"open: no layer above sd {VAPOUR_SD_M:g} m, {total:.1f} m in all")
    return Control(layer.id, f"{layer.entry.name}, sd {sd:.1f} of {total:.1f} m")


def _heat(layers: list[BuildUpLayer]) -> Control:
    best: tuple[float, BuildUpLayer] | None = None
    for layer in layers:
        entry = layer.entry
        if isinstance(entry, Solid) and entry.conductivity_w_mk <= INSULATING_W_MK:
            resistance = layer.thickness / entry.conductivity_w_mk
            if best is None or resistance > best[0]:
                best = (resistance, layer)
    if best is None:
        return Control(None, "no insulation")
    return Control(best[1].id, f"{best[1].entry.name}, R {best[0]:.2f} m²K/W")
