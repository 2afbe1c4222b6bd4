"""Which layer of a build-up controls rain, air, vapour and heat, with the reason, or that none does."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from core.buildup.anatomy import Anatomy
from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.materials.library import AirLayer, Sheet, Solid
from core.moisture.steady import sd_of
from core.say import Said, resistance, said, say, vapour_length

INSULATING_W_MK = 0.09
VAPOUR_SD_M = 2.0
DRY = 0.3
# Materials beside plasters and membranes that stop air when they are whole and joined at their edges.
AIRTIGHT = frozenset({"concrete", "osb", "plywood", "pur_foam", "spray_foam_closed"})


Why = Literal["", "not against rain", "nothing sheds"]


@dataclass(frozen=True)
class Control:
    """layer_id is None when nothing in the build-up does it; why: a key for what decides by it, beside the sentence."""

    layer_id: str | None
    because: Said
    why: Why = ""


@dataclass(frozen=True)
class ControlLayers:
    rain: Control
    air: Control
    vapour: Control
    heat: Control


def control_layers(build_up: BuildUp, place: Place) -> ControlLayers:
    """The four control layers of a build-up, outside to inside. Rules, not measurements: tightness needs a test."""
    anatomy = Anatomy(build_up, place)
    inboard = list(build_up.layers[anatomy.weather_side :])
    line = build_up.layers[anatomy.line] if anatomy.line is not None else None
    if line is not None and line not in inboard:
        inboard.insert(0, line)  # it ends the weather's side, and may be the air line or the vapour line itself
    return ControlLayers(
        rain=_rain(anatomy), air=_air(inboard), vapour=_vapour(inboard), heat=_heat(list(build_up.layers))
    )


def _rain(anatomy: Anatomy) -> Control:
    """What is declared to shed water; else the line that ends the weather's side; behind a cladding or covering what sheds there, for it
    only slows the rain; a deck of felt, bitumen, rubber or metal; else the outermost layer."""
    layers, place = anatomy.layers, anatomy.place
    declared = next((layer for layer in layers if layer.sheds_water), None)
    if declared is not None:
        words = "declared to be the line that sheds water; not shown: a hose on its laps and edges does"
        return Control(declared.id, said(f"{declared.entry.name}, {words}"))
    if place.kind == "floor" or place.adjoining != "outside":
        return Control(None, said("not against rain"), "not against rain")
    if anatomy.line is not None:
        line = layers[anatomy.line]
        over = next((o.entry.name for o in layers[: anatomy.line] if isinstance(o.entry, Solid)), "")
        what = f"sheds the water that gets behind {over}" if over else "sheds rain, where its laps and edges are tight"
        return Control(line.id, said(f"{line.entry.name} {what}"))
    solid = next(layer for layer in layers if isinstance(layer.entry, Solid))
    assert isinstance(solid.entry, Solid)
    clad = layers[anatomy.skin] if anatomy.skin is not None else solid
    seamed = clad.entry.family in ("metal sheet", "glass") and clad is solid
    lets_through = not seamed and (anatomy.weather_side > 0 or solid.entry.lapped)
    start = max(anatomy.weather_side, anatomy.build_up.index(solid.id) + 1) if lets_through else 0
    for layer in layers[start:]:
        entry = layer.entry
        if isinstance(entry, Sheet):
            if lets_through and entry.kind == "membrane":
                return Control(
                    layer.id,
                    say("{name} sheds the water that gets behind {clad}", name=entry.name, clad=solid.entry.name),
                )
            continue
        if isinstance(entry, AirLayer):
            continue
        if entry.weather == "must be covered":
            break
        words = "takes rain up and dries again" if entry.weather == "soaks and dries" else "sheds rain"
        return Control(layer.id, said(f"{entry.name} {words}"))
    if lets_through:
        return Control(None, said(f"nothing sheds the water that gets behind {solid.entry.name}"), "nothing sheds")
    return Control(None, said("nothing outside sheds rain"), "nothing sheds")


def _air(layers: list[BuildUpLayer]) -> Control:
    for layer in layers:
        if layer.air_barrier:
            words = "declared to be the air barrier; not tested: a blower door with this layer whole and its edges shown proves it"
            return Control(layer.id, said(f"{layer.entry.name}, {words}"))
    for layer in reversed(layers):
        entry = layer.entry
        if isinstance(entry, Sheet) and entry.kind == "membrane":
            return Control(layer.id, said(f"{entry.name}, when its laps and edges are taped"))
        if isinstance(entry, Solid) and entry.group == "plaster":
            return Control(layer.id, said(f"{entry.name}, where it is whole and meets floor and ceiling"))
        if isinstance(entry, Solid) and layer.material in AIRTIGHT:
            return Control(layer.id, said(f"{entry.name}, when its joints are taped or poured"))
    boards = [layer for layer in layers if isinstance(layer.entry, Solid) and layer.entry.group == "board"]
    if boards:
        words = "could be the air barrier when its joints and edges are sealed: declare it, and test it"
        return Control(None, said(f"{boards[-1].entry.name} {words}"))
    return Control(None, said("open joints let air through"))


def _vapour(layers: list[BuildUpLayer]) -> Control:
    """Inboard of the weather; a lapped covering breathes through its laps and is none."""
    inside = [
        o for o in layers if not (isinstance(o.entry, Solid) and (o.entry.lapped or o.entry.family == "soil"))
    ] or layers
    values = [(sd_of(layer, DRY), layer) for layer in inside]  # a variable membrane at its tightest
    total = sum(sd for sd, _ in values)
    sd, layer = max(values, key=lambda pair: pair[0])
    if (sd < VAPOUR_SD_M and sd < 0.5 * total) or (isinstance(layer.entry, Solid) and layer.entry.lapped):
        return Control(
            None,
            say(
                "open: no layer above sd {most}, {total} in all",
                most=vapour_length(VAPOUR_SD_M),
                total=vapour_length(total),
            ),
        )
    return Control(
        layer.id,
        say("{name}, sd {sd} of {total}", name=layer.entry.name, sd=vapour_length(sd), total=vapour_length(total)),
    )


def _heat(layers: list[BuildUpLayer]) -> Control:
    best: tuple[float, BuildUpLayer] | None = None
    for layer in layers:
        entry = layer.entry
        if isinstance(entry, Solid) and entry.conductivity_w_mk <= INSULATING_W_MK:
            value = layer.thickness / entry.conductivity_w_mk
            if best is None or value > best[0]:
                best = (value, layer)
    if best is None:
        return Control(None, said("no insulation"))
    return Control(best[1].id, say("{name}, R {value}", name=best[1].entry.name, value=_r(best[0])))


def _r(value: float) -> Said:
    """R without its letter twice."""
    pair = resistance(value)
    return Said(metric=pair.metric, inch=pair.inch.removeprefix("R "))
