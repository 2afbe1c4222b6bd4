"""From a build-up in its place to the case of its hourly years, and the planes that are watched."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Literal

import numpy as np

from core import case as c
from core.buildup.anatomy import INERT, Anatomy
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
    Metal,
    Place,
    absorptance_of,
)
from core.climate.data import shipped
from core.climate.ground import BARE_EARTH_SD_M
from core.errors import CaseRefused, CoreError, NotAvailableYet
from core.materials.library import (
    DATA_SHEET,
    AirLayer,
    MouldClass,
    Sheet,
    Solid,
    case_material,
    coat_material,
    still_air_material,
)
from core.moisture.gaps import opened_by
from core.moisture.sorptivity import liquid_part
from core.physics.constants import AIR_DENSITY, AIR_HEAT
from core.physics.leak import BELOW_FLOORS, EXPONENT, LEEWARD, OVER_ROOFS, WIND_FACTOR, WINDWARD
from core.thermal.air_layers import HeatFlow
from core.thermal.as_built import as_built_conductivity, as_built_density
from core.thermal.iso6946 import heat_flow, resistances

# No rain is driven onto a roof's covering in the runs: what gets through it is a leak, computed at its plane.
NO_RAIN = c.DrivenRain(method="none")
MOULD_RANK: list[MouldClass] = ["resistant", "medium_resistant", "sensitive", "very_sensitive"]
THIN_OUTER_M, THIN_CELLS, THIN_STRETCH = 0.04, 18, 1.3
COAT_CELLS = 2
SETTLED_WATER = 0.003  # of the water, from year to year: a wall that gathers a hundredth a year is not settled
SENSITIVE_TO_SOIL: tuple[MouldClass, ...] = ("very_sensitive", "sensitive")
BEHIND_RENDER = "between a thin render and the boards it lies on: algae outside, cracks, and the water behind the boards count there"
Role = Literal["face", "masonry", "inside", "cavity", "room"]
# Depth of the undisturbed soil and the soil before it [m]: a cellar wall, a slab. Estimates.
GROUND_WALL, GROUND_FLOOR = (1.5, 1.0), (2.5, 2.0)
SOIL_RH = {"moist": 0.99, "wet": 1.0}
START_C, DELIVERED_RH = 15.0, 0.6  # new layers: in balance at 60 % RH, unless they are wet trades


def drawing_material(solid: Solid, measured_kg_m2s05: float | None = None) -> c.Material:
    """The solid as a case states it. An uptake that somebody measured, or a data sheet states, holds what arrives as vapour too: the liquid is the rest of it, as the
    library's own entries are."""
    drawn = measured_kg_m2s05
    if drawn is None and solid.sources.get("a_value_kg_m2s05", "").startswith(DATA_SHEET):
        drawn = solid.a_value_kg_m2s05
    if drawn is None:
        return case_material(solid)
    whole = case_material(solid, drawn)
    liquid = liquid_part(whole.model_dump_json(), drawn)
    return (
        case_material(solid, liquid) if liquid > 0.0 else whole.model_copy(update={"liquid": c.LiquidNone(form="none")})
    )


def _as_built(layer: BuildUpLayer, entry: Solid, flow: HeatFlow) -> Solid:
    """The solid as it is built in: squeezed, aged, settled; what it holds of water by its density then."""
    if layer.product is None:
        return entry
    conductivity, density = as_built_conductivity(layer, flow), as_built_density(layer)
    by = conductivity / entry.conductivity_w_mk
    rows = entry.conductivity_by_temperature_c
    return entry.model_copy(
        update={
            "conductivity_w_mk": conductivity,
            "conductivity_by_temperature_c": [(t, value * by) for t, value in rows] if rows else None,
            "density_kg_m3": density,
            "w80_kg_m3": entry.w80_kg_m3 * density / entry.density_kg_m3,
            "w50_kg_m3": None if entry.w50_kg_m3 is None else entry.w50_kg_m3 * density / entry.density_kg_m3,
        }
    )


@dataclass(frozen=True)
class WatchPoint:
    """A plane of the case and how mould is judged there. role: weathered face, inside masonry, inside, a cavity toward
    the room, room face. bonded: in full contact in lime, reported and not judged."""

    name: str
    role: Role
    mould_class: MouldClass
    judged: bool
    why_not: str
    after_layer_id: str
    bonded: bool = False


@dataclass(frozen=True)
class WoodLayer:
    """A wood-based layer: which entry of the case, what kind of wood, its dry density [kg/m³], whether it is judged, its durability (EN 350)."""

    entry: int
    layer_id: str
    name: str
    kind: Literal["solid", "sheet", "fibre"]
    density: float
    judged: bool
    durability: int | None = None


@dataclass(frozen=True)
class MetalPlace:
    """Stated metal at a watch point."""

    plane: str
    layer_id: str
    metal: Metal


@dataclass(frozen=True)
class Model:
    """A case with what the criteria need to know about it."""

    case: c.Case
    watch_points: list[WatchPoint]
    wood: list[WoodLayer]
    layer_of_entry: list[str]
    groups: list[str]
    judged_from: int = 0
    frost_proof: frozenset[str] = frozenset()
    metal: tuple[MetalPlace, ...] = ()

    def masonry(self, entry: int) -> bool:
        """Whether an entry of the case is masonry or plaster in its place outside."""
        return self.groups[entry] in ("masonry", "plaster")

    @property
    def insulation(self) -> list[int]:
        """Entries of the case that insulate, inboard of the weather."""
        return [index for index, group in enumerate(self.groups) if group == "insulation" and index >= self.judged_from]


@dataclass(frozen=True)
class LayerState:
    """Depth from the layer's outer face [m], temperature [°C] and suction [Pa] of one layer at the day of the works."""

    depth_m: tuple[float, ...]
    temperature_c: tuple[float, ...]
    suction_pa: tuple[float, ...]


StartState = dict[str, LayerState]
"""By layer id: how the layers that are there already stand on the day of the works."""


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


class _Stack:
    """The entries of a case as they are laid on one another, with what the criteria need of each."""

    def __init__(self, place: Place, start: StartState | None, new: bool) -> None:
        self.place, self.start, self.new = place, start, new
        self.entries: list[c.Layer | c.Membrane] = []
        self.layer_of_entry: list[str] = []
        self.entry_of: dict[str, int] = {}
        self.groups: list[str] = []
        self.wood: list[WoodLayer] = []
        self.materials: dict[str, c.Material] = {}

    def _add(self, layer: BuildUpLayer, entry: c.Layer | c.Membrane, group: str) -> None:
        self.entry_of[layer.id] = len(self.entries)
        self.entries.append(entry)
        self.layer_of_entry.append(layer.id)
        self.groups.append(group)

    def _initial(self, layer: BuildUpLayer) -> c.Initial | None:
        return _initial(layer, self.place, self.start, self.new, _reach(self.entries))

    def coat(self, layer: BuildUpLayer) -> None:
        """A mineral coat in the rain, as the thin capillary layer it is."""
        sheet = layer.entry
        assert isinstance(sheet, Sheet) and sheet.mineral is not None
        self.materials[layer.material] = coat_material(sheet.name, sheet.mineral)
        entry = c.Layer(
            name=sheet.name, material=layer.material, thickness_m=sheet.mineral.thickness_mm / 1000.0, cells=COAT_CELLS, stretch=1.0,
            initial=self._initial(layer),
        )  # fmt: skip
        self._add(layer, entry, "plaster")

    def sheet(self, layer: BuildUpLayer) -> None:
        """A membrane; one that lies on another is one with it, as thick to vapour as both."""
        sheet = layer.entry
        assert isinstance(sheet, Sheet)
        entry = c.Membrane(kind="membrane", name=sheet.name, sd_m=sheet.sd_m, sd_by_rh=sheet.sd_by_rh, rh_of="mean")
        if self.entries and isinstance(self.entries[-1], c.Membrane):
            self.entries[-1] = _together(self.entries[-1], entry)
            self.layer_of_entry[-1] = layer.id
            self.entry_of[layer.id] = len(self.entries) - 1
            return
        self._add(layer, entry, sheet.group)

    def air(self, layer: BuildUpLayer, resistance: float) -> None:
        """A cavity: one material for each layer, since conductivity and μ follow from thickness and faces."""
        entry = layer.entry
        assert isinstance(entry, AirLayer)
        own = f"{layer.material}@{layer.id}"
        still = resistance * (2.0 if 500.0 < entry.opening_mm2_m <= 1500.0 else 1.0)
        self.materials[own] = still_air_material(entry.name, layer.thickness, still)
        # Air stores next to nothing: three cells hold its straight line, and the one in the middle what moves.
        made = c.Layer(
            name=entry.name,
            material=own,
            thickness_m=layer.thickness,
            cells=3,
            stretch=1.0,
            initial=self._initial(layer),
        )
        self._add(layer, made, entry.group)

    def film(self) -> None:
        """A few millimetres of still air on a variable sheet that is a face itself: it needs the air it follows on both sides."""
        self.materials[FILM_NAME] = still_air_material("air at the face", FILM_M, FILM_R)
        self.entries.append(
            c.Layer(name="air at the face", material=FILM_NAME, thickness_m=FILM_M, cells=3, stretch=1.0)
        )
        self.layer_of_entry.append(FILM_NAME)
        self.groups.append("air")

    def solid(self, layer: BuildUpLayer, judged: bool) -> None:
        entry = layer.entry
        assert isinstance(entry, Solid)
        otherwise = layer.a_value_kg_m2s05 is not None or layer.product is not None
        own = f"{layer.material}@{layer.id}" if otherwise else layer.material
        self.materials[own] = drawing_material(
            _as_built(layer, entry, heat_flow(self.place.kind)), layer.a_value_kg_m2s05
        )
        made = c.Layer(name=entry.name, material=own, thickness_m=layer.thickness, initial=self._initial(layer))
        self._add(layer, made, entry.group)
        kind = "fibre" if entry.wood_fibre else entry.timber
        if kind is not None:
            self.wood.append(
                WoodLayer(
                    len(self.entries) - 1,
                    layer.id,
                    entry.name,
                    kind,
                    entry.density_kg_m3,
                    judged,
                    entry.durability_class,
                )
            )


FILM_NAME, FILM_M, FILM_R = (
    "air at the face",
    0.005,
    0.002,
)  # R as good as nothing: the film of the end is there already


def _together(outer: c.Membrane, inner: c.Membrane) -> c.Membrane:
    """Two sheets on each other: their sd added, at every RH where one of them follows it."""
    name = f"{outer.name} and {inner.name}"
    if outer.sd_m is not None and inner.sd_m is not None:
        return c.Membrane(kind="membrane", name=name, sd_m=outer.sd_m + inner.sd_m, sd_by_rh=None, rh_of="mean")

    def at(sheet: c.Membrane, rh: float) -> float:
        if sheet.sd_m is not None:
            return sheet.sd_m
        rows = sheet.sd_by_rh or []
        return float(np.interp(rh, [row[0] for row in rows], [row[1] for row in rows]))

    grid = sorted({row[0] for sheet in (outer, inner) for row in sheet.sd_by_rh or []})
    return c.Membrane(
        kind="membrane",
        name=name,
        sd_m=None,
        sd_by_rh=[(rh, at(outer, rh) + at(inner, rh)) for rh in grid],
        rh_of="mean",
    )


def _is_variable(layer: BuildUpLayer) -> bool:
    return isinstance(layer.entry, Sheet) and layer.entry.sd_m is None


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
    watch = _watch_points(build_up, faces.layers, place, judged_from, behind, stack.entry_of)
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
) -> tuple[_Stack, int, int]:
    """(the stack, how many coats and films stand before the layers, index of the first layer that is judged)."""
    layers = faces.layers
    stack = _Stack(place, start, new)
    for coat in faces.coats:
        stack.coat(coat)
    if _is_variable(layers[0]):
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
    if _is_variable(layers[-1]):
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


def _reach(entries: list[c.Layer | c.Membrane]) -> float:
    """Depth at which the next layer begins [m]: a case counts depths from the outer face of the wall."""
    total = 0.0
    for entry in entries:
        if isinstance(entry, c.Layer):
            assert isinstance(entry.thickness_m, float)
            total += entry.thickness_m
    return total


def _initial(layer: BuildUpLayer, place: Place, start: StartState | None, new: bool, begins: float) -> c.Initial | None:
    """How one layer starts: as typed; as it stands; as delivered; None for as the place says. begins: its depth [m]."""
    if layer.start_rh is not None:
        return c.Initial(temperature_c=START_C, rh=layer.start_rh)
    if start is not None and layer.id in start:
        state = start[layer.id]
        depth = layer.thickness or state.depth_m[-1]
        scale = depth / state.depth_m[-1] if state.depth_m[-1] > 0.0 else 1.0
        return c.Initial(
            temperature_c=[(begins + d * scale, t) for d, t in zip(state.depth_m, state.temperature_c, strict=True)],
            suction_pa=[
                (begins + d * scale, max(s, 0.0)) for d, s in zip(state.depth_m, state.suction_pa, strict=True)
            ],
        )
    if not new or (start is None and layer.existing):
        return None
    entry = layer.entry
    if isinstance(entry, Solid) and entry.fresh_water_kg_m3 is not None:
        return c.Initial(temperature_c=START_C, w_kg_m3=entry.fresh_water_kg_m3)
    return c.Initial(temperature_c=START_C, rh=DELIVERED_RH)


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


def _air(build_up: BuildUp, place: Place, layers: list[BuildUpLayer], stack: _Stack) -> c.Air:
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


def _watch_points(
    build_up: BuildUp, layers: list[BuildUpLayer], place: Place, judged_from: int, behind: int, entry_of: dict[str, int]
) -> list[tuple[WatchPoint, int, Literal["outer", "inner"]]]:
    """Every face between layers, both sides of a membrane, and the room face, with their entry in the case.

    judged_from: the first layer that is judged; behind: how many coats stand before the layers in the case; entry_of: where each layer
    lies in it.
    """
    render = Anatomy(build_up, place).thin_render
    rendered = build_up.layers[render].id if render is not None else None
    out: list[tuple[WatchPoint, int, Literal["outer", "inner"]]] = []
    first = layers[0].entry
    weathered = "a weathered face" if place.adjoining == "outside" else "the cold side's own face"
    outer_name = f"outer face of {first.name}"
    out.append((WatchPoint(outer_name, "face", first.mould_class, False, weathered, ""), behind - 1, "outer"))
    names: dict[str, int] = {}
    insulation = [i for i, layer in enumerate(layers) if layer.entry.group == "insulation"]
    outside = (
        "on the earth's side"
        if place.adjoining == "ground"
        else "outside the gap or sheet that ends the weather's side"
    )

    def unique(name: str) -> str:
        names[name] = names.get(name, 0) + 1
        return name if names[name] == 1 else f"{name} ({names[name]})"

    for index in range(len(layers) - 1):
        here, beyond = layers[index].entry, layers[index + 1].entry
        if isinstance(here, Sheet) and isinstance(beyond, Sheet):
            continue  # two sheets on each other are one
        if isinstance(here, Sheet):
            name = unique(f"room side of {here.name}")
        elif isinstance(beyond, Sheet):
            name = unique(f"outer side of {beyond.name}")
        else:
            name = unique(f"{here.name} / {beyond.name}")
        bonded = _bonded(here, beyond)
        why = "bonded in lime without air" if bonded else ""
        judged = not bonded
        role: Role = "inside"
        if here.group == beyond.group == "masonry":
            role, judged, why, bonded = "masonry", False, "inside the masonry", False
        # the face between a gap or a sheet that ends a side and what lies inboard of it belongs to what lies inboard
        if index < judged_from - 1:
            role, judged, why, bonded = "face", False, outside, False
        elif here.family == "soil" and beyond.mould_class not in SENSITIVE_TO_SOIL:
            role, judged, why, bonded = "face", False, "against the soil", False
        elif index == judged_from - 1 and place.adjoining == "ground" and beyond.family in INERT:
            role, judged, why, bonded = "face", False, "between the sheet and what holds no water", False
        elif layers[index].id == rendered:
            role, judged, why, bonded = "face", False, BEHIND_RENDER, False
        elif role == "inside" and insulation and index > insulation[-1] and AirLayer in (type(here), type(beyond)):
            role = "cavity"
        mould = _worse(here.mould_class, beyond.mould_class)
        if index == judged_from - 1:
            mould = beyond.mould_class
        point = WatchPoint(name, role, mould, judged, why, layers[index].id, bonded and not judged)
        out.append((point, entry_of[layers[index].id], "inner"))
    last = layers[-1].entry
    room = WatchPoint(f"room face of {last.name}", "room", last.mould_class, True, "", layers[-1].id)
    out.append((room, entry_of[layers[-1].id] + (1 if _is_variable(layers[-1]) else 0), "inner"))
    return out


def _worse(first: MouldClass, second: MouldClass) -> MouldClass:
    return max(first, second, key=MOULD_RANK.index)


def _bonded(here: Solid | Sheet | AirLayer, beyond: Solid | Sheet | AirLayer) -> bool:
    """Full contact in lime: one side lime-bound, the other mineral or a capillary-active board."""
    if not (isinstance(here, Solid) and isinstance(beyond, Solid)):
        return False
    pairs = ((here, beyond), (beyond, here))
    return any(a.lime_bound and (b.lime_bound or b.capillary_active) for a, b in pairs)
