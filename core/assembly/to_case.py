"""From a build-up in its place to the case of its hourly years, and the planes that are watched."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Literal

from core import case as c
from core.assembly.model import MetalPlace, Model, StartState, WatchPoint
from core.assembly.stack import START_C, Stack, is_variable
from core.assembly.watch import watch_points
from core.buildup.anatomy import Anatomy
from core.buildup.background import ROUND_W_M2K
from core.buildup.leaks import Leaks
from core.buildup.model import (
    ABOVE_NEUTRAL_M,
    BAD_YEAR_RAIN,
    BAD_YEAR_RH,
    BAD_YEAR_SHIFT_K,
    OPEN_FACE_SD_M,
    AirLeakage,
    BuildUp,
    BuildUpLayer,
    Place,
    absorptance_of,
)
from core.climate.data import shipped
from core.climate.ground import BARE_EARTH_SD_M
from core.errors import CaseRefused, CoreError, NotAvailableYet
from core.materials.library import (
    AirLayer,
    Sheet,
    Solid,
)
from core.moisture.gaps import opened_by
from core.physics.constants import AIR_DENSITY, AIR_HEAT
from core.physics.leak import BELOW_FLOORS, EXPONENT, LEEWARD, OVER_ROOFS, WIND_FACTOR, WINDWARD
from core.thermal.iso6946 import heat_flow, resistances

# No rain is driven onto a roof's covering in the runs: what gets through it is a leak, computed at its plane.
NO_RAIN = c.DrivenRain(method="none")
THIN_OUTER_M, THIN_CELLS, THIN_STRETCH = 0.04, 18, 1.3
SETTLED_WATER = 0.003  # of the water, from year to year: a wall that gathers a hundredth a year is not settled
# Depth of the undisturbed soil and the soil before it [m]: a cellar wall, a slab. Estimates.
GROUND_WALL, GROUND_FLOOR = (1.5, 1.0), (2.5, 2.0)
SOIL_RH = {"moist": 0.99, "wet": 1.0}


def why_no_transient(build_up: BuildUp, place: Place) -> str:
    """A sentence where the hourly years are not available, or ""."""
    if not build_up.is_stated:
        return "the construction is not stated"
    if not any(isinstance(layer.entry, Solid) for layer in build_up.layers):
        return "nothing but air and sheets is stated; add what bears or closes it"
    return ""


def open_faces(build_up: BuildUp) -> tuple[list[BuildUpLayer], list[BuildUpLayer]]:
    """Air layers that lie open on a face, outside and inside, with the sheets outside of them: bays that nothing closes.

    They are the air of their side: the runs begin at what stands behind them, with that side's film.
    """
    layers = build_up.layers
    solid = [i for i, layer in enumerate(layers) if isinstance(layer.entry, Solid)]
    if not solid:
        return [], []

    def cut(end: list[BuildUpLayer]) -> int:
        """How many of the layers of one end, counted from its face, are open: up to the innermost air that no board closes."""
        return max((i + 1 for i, layer in enumerate(end) if isinstance(layer.entry, AirLayer)), default=0)

    outer = list(layers[: solid[0]])
    inner = list(reversed(layers[solid[-1] + 1 :]))
    closed = any(isinstance(layer.entry, Sheet) and layer.entry.kind == "membrane" for layer in inner[: cut(inner)])
    open_out, open_in = cut(outer), 0 if closed else cut(inner)
    return outer[:open_out], list(reversed(inner[:open_in]))


def run_key(case: c.Case, as_found: c.Case | None) -> str:
    """Identity of a run: its case, and the as-found case from whose settled state its existing layers start."""
    if as_found is None:
        return case.hash
    return hashlib.sha256(f"{case.hash}|from|{as_found.hash}".encode()).hexdigest()


@dataclass(frozen=True)
class _Faces:
    """The layers between the faces, and what lies on these: mineral coats in the rain as layers, films that join the surface [sd in m], the share of rain
    that an outer one lets in."""

    layers: list[BuildUpLayer]
    coats: list[BuildUpLayer]
    outer_sd: float
    rain_factor: float
    inner_sd: float


def _faces(build_up: BuildUp, place: Place) -> _Faces:
    open_out, open_in = open_faces(build_up)
    layers = list(build_up.layers[len(open_out) : len(build_up.layers) - len(open_in)])
    rained = place.adjoining == "outside" and place.kind == "wall"
    outer_sd, rain_factor, inner_sd = 0.0, 1.0, 0.0
    coats: list[BuildUpLayer] = []
    while isinstance(outermost := layers[0].entry, Sheet) and outermost.sd_m is not None:
        if outermost.mineral is not None and rained:
            coats.append(layers[0])
        else:
            outer_sd += outermost.sd_m
            rain_factor *= outermost.rain_factor
        layers.pop(0)
    while isinstance(innermost := layers[-1].entry, Sheet) and innermost.sd_m is not None:
        inner_sd += innermost.sd_m
        layers.pop()
    return _Faces(layers, coats, outer_sd, rain_factor, inner_sd)


def model_of(
    build_up: BuildUp, place: Place, title: str = "", start: StartState | None = None, new: bool = False
) -> Model:
    """The case of a build-up. Raises NotAvailableYet for what this version does not compute.

    Framing is left out: the case is the clear path (`core.runs.member_path` is the other). Film-forming coats on either face join the
    film there; mineral ones outside are thin capillary layers; bays that nothing closes are the air of their side. new: layers that are
    not there yet start as they are delivered; start: how those that are there stand. Without both everything starts at the place's RH.
    """
    reason = why_no_transient(build_up, place)
    if reason:
        raise NotAvailableYet(reason)
    faces = _faces(build_up, place)
    stack, behind, judged_from = _laid(build_up, place, faces, start, new)
    thin = _thin_outside(place, stack.entries[behind])
    if thin:
        stack.entries[behind] = stack.entries[behind].model_copy(update={"cells": THIN_CELLS, "stretch": THIN_STRETCH})
    watch = watch_points(build_up, faces.layers, place, judged_from, behind, stack.entry_of)
    beside = (place.beside_after if new else place.beside_found) if place.adjoining == "unheated" else ""
    indoor = _indoor(place, faces.inner_sd)
    absorptance = absorptance_of(build_up, place, new)
    case = c.Case(
        title=title,
        climates=_climates(place, beside),
        materials=stack.materials,
        initial=c.Initial(temperature_c=START_C, rh=place.start_rh),
        layers=stack.entries,
        outside=_outside(place, indoor, faces.outer_sd, faces.rain_factor, absorptance, beside),
        inside=indoor,
        air=_air(build_up, place, faces.layers, stack),
        switches=c.Switches(freezing=True),
        time=c.TimeControl(
            start=place.works_on,
            repeat="until_settled",
            least_passes=3,
            most_passes=12,
            settled_water_share=SETTLED_WATER,
            stages=2 if thin or faces.coats else 1,
        ),
        output=c.Output(
            planes=[c.Plane(name=point.name, after_layer=index, side=side) for point, index, side in watch]
        ),
    )
    return Model(
        case,
        [point for point, _, _ in watch],
        stack.wood,
        stack.layer_of_entry,
        stack.groups,
        judged_from + behind,
        frozenset(layer.id for layer in faces.layers if layer.frost_proof),
        _metal_at(build_up, [point for point, _, _ in watch]),
    )


def _laid(
    build_up: BuildUp, place: Place, faces: _Faces, start: StartState | None, new: bool
) -> tuple[Stack, int, int]:
    """(the stack, how many coats and films stand before the layers, index of the first layer that is judged)."""
    layers = faces.layers
    stack = Stack(place, start, new)
    for coat in faces.coats:
        stack.coat(coat)
    if is_variable(layers[0]):
        stack.film()
    behind = len(stack.entries)
    judged_from = _judged_from(build_up, place, layers)
    resistance = resistances(layers, heat_flow(place.kind))
    for index, layer in enumerate(layers):
        if isinstance(layer.entry, Sheet):
            stack.sheet(layer)
        elif isinstance(layer.entry, AirLayer):
            stack.air(layer, resistance[index])
        else:
            stack.solid(layer, index >= judged_from)
    if is_variable(layers[-1]):
        stack.film()
    return stack, behind, judged_from


def _metal_at(build_up: BuildUp, points: list[WatchPoint]) -> tuple[MetalPlace, ...]:
    """Where metal is stated, at the plane behind its layer."""
    by_id = {layer.id: layer for layer in build_up.layers}
    return tuple(
        MetalPlace(point.name, point.after_layer_id, stated)
        for point in points
        if point.after_layer_id in by_id and (stated := by_id[point.after_layer_id].metal) is not None
    )


def _climates(place: Place, beside: str) -> dict[str, c.ShippedClimate | c.ClimateColumns]:
    """The weather, in a bad year harsher, and the series of the room's and of a cold space's air. beside: the latter's name."""
    found: dict[str, c.ShippedClimate | c.ClimateColumns] = {
        place.climate: c.ShippedClimate(
            shipped=place.climate,
            sha256=shipped(place.climate).sha256,
            temperature_shift_k=BAD_YEAR_SHIFT_K if place.bad_year else 0.0,
            rain_factor=BAD_YEAR_RAIN if place.bad_year else 1.0,
        )
    }
    for name in (place.occupancy if place.profile == "measured" else "", beside):
        if name:
            found[name] = c.ShippedClimate(shipped=name, sha256=shipped(name).sha256)
    return found


def _indoor(place: Place, inner_sd: float) -> c.IndoorEnd:
    return c.IndoorEnd(
        type="indoor",
        climate=place.climate,
        profile=place.profile,
        measured=place.occupancy if place.profile == "measured" else None,
        extra_rh=place.extra_rh + (BAD_YEAR_RH if place.bad_year else 0.0),
        coefficient_w_m2k={"roof": 10.0, "floor": 6.0}.get(place.kind, 8.0),
        winter_set_point_c=place.set_point_c,
        summer_temperature_c=max(25.0, place.set_point_c),
        coating_sd_m=inner_sd,
    )


def found_model(as_found: BuildUp | None, place: Place) -> Model | None:
    """As found as a model; None where it cannot be run, and an option is judged alone."""
    if as_found is None or why_no_transient(as_found, place):
        return None
    try:
        return model_of(as_found, place, "as found")
    except CoreError:
        return None


def _judged_from(build_up: BuildUp, place: Place, layers: list[BuildUpLayer]) -> int:
    """Index in `layers` (coats outside taken off) of the first layer that is judged and not only reported.

    Outside lie cladding and battens up to the gap or sheet that ends the weather's side, what is the earth's, and what stands outside a
    drained space (`Anatomy.judged_from`).
    """
    ids = [layer.id for layer in layers]
    first = build_up.layers[Anatomy(build_up, place).judged_from].id
    return ids.index(first) if first in ids else 0


def _thin_outside(place: Place, entry: c.Layer | c.Membrane) -> bool:
    """A thin outer layer in the weather: it follows the sun within the hour, and rain goes through it as a front."""
    assert isinstance(entry, c.Layer) and isinstance(entry.thickness_m, float)
    return place.adjoining == "outside" and entry.thickness_m <= THIN_OUTER_M


def _outside(
    place: Place,
    indoor: c.IndoorEnd,
    coating_sd_m: float,
    coating_rain_factor: float,
    absorptance: float,
    beside: str = "",
) -> c.End:
    """What lies outside: weather, soil, or an unheated space. beside: the series of that space's air."""
    if beside:
        return c.IndoorEnd(
            type="indoor", climate=place.climate, profile="measured", measured=beside, coating_sd_m=coating_sd_m,
        )  # fmt: skip
    if place.adjoining == "ground":
        depth, soil = GROUND_WALL if place.kind == "wall" else GROUND_FLOOR
        return c.GroundEnd(
            type="ground",
            climate=place.climate,
            depth_m=depth,
            soil_m=soil,
            soil_rh=SOIL_RH[place.ground],
            coating_sd_m=coating_sd_m,
        )
    if place.adjoining == "unheated":
        return c.UnheatedEnd(
            type="unheated",
            indoor=indoor.model_copy(update={"coating_sd_m": 0.0}),
            factor_b=place.factor_b,
            earth_sd_m=BARE_EARTH_SD_M if place.kind == "floor" else None,
            coating_sd_m=coating_sd_m,
        )
    return c.WeatherEnd(
        type="weather",
        climate=place.climate,
        facing_deg=place.facing_deg,
        slope_deg=place.slope_deg,
        absorptance=absorptance,
        coating_sd_m=coating_sd_m,
        coating_rain_factor=coating_rain_factor,
        rain=place.driven_rain if place.kind == "wall" else NO_RAIN,
    )


def _air(build_up: BuildUp, place: Place, layers: list[BuildUpLayer], stack: Stack) -> c.Air:
    """Cavities by their openings, and the leaks of air and rain the build-up states."""
    cavities, leaks, rain = [], [], []
    inlets = Leaks(build_up, place)
    for layer in layers:
        entry = layer.entry
        if isinstance(entry, AirLayer) and entry.opening_mm2_m > 0.0 and place.adjoining != "ground":
            cavities.append(c.CavityAir(layer=stack.entry_of[layer.id], by_wind_and_sun=opened_by(entry, place)))
        if layer.goes_round and layer.id in stack.entry_of:
            an_hour = 3600.0 * ROUND_W_M2K / (AIR_HEAT * AIR_DENSITY * layer.thickness)
            cavities.append(c.CavityAir(layer=stack.entry_of[layer.id], of="inside", changes_per_h=round(an_hour, 4)))

    def at(wanted: str) -> int:
        if wanted not in stack.entry_of:
            raise CaseRefused("a leak goes to a coating on a face; choose a layer inside", f"layer {wanted}")
        return stack.entry_of[wanted]

    def inside(wanted: str, stated: bool) -> bool:
        """Whether there is a plane behind a layer for a leak to reach. Refused where somebody stated the leak.

        By rule none to an open sheet that lies on the cold face: what leaks there is outside.
        """
        if not stated and wanted not in stack.entry_of:
            entry = build_up.layers[build_up.index(wanted)].entry
            if isinstance(entry, AirLayer) or (isinstance(entry, Sheet) and entry.sd_most_open <= OPEN_FACE_SD_M):
                return False
        if at(wanted) < len(stack.entries) - 1:
            return True
        if stated:
            raise CaseRefused("a leak goes to a plane inside the build-up; this one has none there", f"layer {wanted}")
        return False

    active = inlets.q50 * place.active_share
    stated = build_up.air_leak.after_layer is not None
    if active > 0.0 and place.adjoining != "ground" and inside(inlets.air_leak_layer(), stated):
        leaks.append(
            c.AirLeak(
                after_layer=at(inlets.air_leak_layer()), by_stack_and_wind=_leaking(build_up.air_leak, place, active)
            )
        )
    share = inlets.rain_share * place.rain_scale
    if share > 0.0 and place.adjoining == "outside" and place.kind != "floor":
        of: Literal["driven", "falling"] = "falling" if place.kind == "roof" else "driven"
        if inside(inlets.rain_leak_layer(), build_up.rain_leak.after_layer is not None):
            rain.append(c.RainLeak(of=of, after_layer=at(inlets.rain_leak_layer()), share=share))
    return c.Air(cavities=cavities, leaks=leaks, rain_leaks=rain)


def _leaking(stated: AirLeakage, place: Place, q50: float) -> c.StackAndWind:
    """Air through a leak of an element. Wind presses on a wall by where it comes from, draws at a roof or ceiling, and does neither below a floor, as in the
    ledger of the house; without it a leak is taken 2 m above the neutral height, where room air goes out most hours of the year."""
    flat = {"roof": OVER_ROOFS, "floor": BELOW_FLOORS}.get(place.kind)
    made = c.StackAndWind(
        climate=place.climate,
        facing_deg=place.facing_deg,
        q50_m3_m2h=q50,
        exponent=EXPONENT,
        above_neutral_m=stated.above_neutral_m if stated.above_neutral_m is not None else ABOVE_NEUTRAL_M,
        windward_coefficient=WINDWARD if flat is None else flat,
        leeward_coefficient=LEEWARD if flat is None else flat,
        wind_factor=WIND_FACTOR,
    )
    house = stated.house
    if house is None:
        return made
    return made.model_copy(
        update={
            "wind_factor": house.wind_factor,
            "inside_coefficient": house.coefficient,
            "inside_swing": house.swing,
            "inside_swing_from_deg": house.swing_from_deg,
            "inside_steady_pa": house.steady_pa,
        }
    )
