"""From a build-up in its place to the case of its hourly years, and the planes that are watched."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from core import case as c
from core.buildup.model import (
    BAD_YEAR_RAIN,
    BAD_YEAR_RH,
    BAD_YEAR_SHIFT_K,
    AirLeakage,
    BuildUp,
    BuildUpLayer,
    Place,
    RainLeakage,
)
from core.climate.data import shipped
from core.errors import CaseRefused, NotAvailableYet
from core.materials.library import AirLayer, MouldClass, Sheet, Solid, case_material, still_air_material
from core.thermal.iso6946 import heat_flow, resistances

# A roof covering is taken as tight: its rain runs off. Leaks are evidence, not weather.
NO_RAIN = c.DrivenRain(method="none")
MOULD_RANK: list[MouldClass] = ["resistant", "medium_resistant", "sensitive", "very_sensitive"]
THIN_OUTER_M, THIN_STEP_S, THIN_CELLS, THIN_STRETCH = 0.04, 1200.0, 18, 1.3
Role = Literal["face", "masonry", "inside", "cavity", "room"]
# Depth of the undisturbed soil and the soil before it [m]: a cellar wall, a slab. Estimates.
GROUND_WALL, GROUND_FLOOR = (1.5, 1.0), (2.5, 2.0)
VOID_RH = 0.8  # air of a void over bare soil is never drier; an estimate
CAVITY_HEIGHT_M = {"wall": 2.6, "roof": 5.0}


@dataclass(frozen=True)
class WatchPoint:
    """A plane of the case and how mould is judged there. role: weathered face, inside masonry, inside, a cavity toward
    the room, room face."""

    name: str
    role: Role
    mould_class: MouldClass
    judged: bool
    why_not: str
    after_layer_id: str


@dataclass(frozen=True)
class TimberLayer:
    """A wood-based layer: which entry of the case, and its dry density [kg/m³]."""

    entry: int
    layer_id: str
    name: str
    sheet: bool
    density: float


@dataclass(frozen=True)
class Model:
    """A case with what the criteria need to know about it."""

    case: c.Case
    watch_points: list[WatchPoint]
    timber: list[TimberLayer]
    layer_of_entry: list[str]
    groups: list[str]

    def masonry(self, entry: int) -> bool:
        """Whether an entry of the case is masonry or plaster in its place outside."""
        return self.groups[entry] in ("masonry", "plaster")

    @property
    def insulation(self) -> list[int]:
        """Entries of the case that insulate."""
        return [index for index, group in enumerate(self.groups) if group == "insulation"]


def why_no_transient(build_up: BuildUp, place: Place) -> str:
    """A sentence where the hourly years are not available, or ""."""
    entries = [layer.entry for layer in build_up.layers]
    if isinstance(entries[0], AirLayer) or isinstance(entries[-1], AirLayer):
        return "an air layer lies on a face: close it with a layer"
    return ""


def model_of(build_up: BuildUp, place: Place, title: str = "") -> Model:
    """The case of a build-up. Raises NotAvailableYet for what this version does not compute.

    Framing is left out: the case is the clear path. Coatings on either face join the film there.
    """
    reason = why_no_transient(build_up, place)
    if reason:
        raise NotAvailableYet(reason)
    layers = list(build_up.layers)
    outer_sd, rain_factor, inner_sd = 0.0, 1.0, 0.0
    while isinstance(layers[0].entry, Sheet):
        sheet = layers.pop(0).entry
        assert isinstance(sheet, Sheet)
        outer_sd += _constant_sd(sheet)
        rain_factor *= sheet.rain_factor
    while isinstance(layers[-1].entry, Sheet):
        sheet = layers.pop().entry
        assert isinstance(sheet, Sheet)
        inner_sd += _constant_sd(sheet)

    entries: list[c.Layer | c.Membrane] = []
    layer_of_entry: list[str] = []
    timber: list[TimberLayer] = []
    materials: dict[str, c.Material] = {}
    resistance = resistances(layers, heat_flow(place.kind))
    for index, layer in enumerate(layers):
        entry = layer.entry
        if isinstance(entry, Sheet):
            if entries and isinstance(entries[-1], c.Membrane):
                raise CaseRefused(
                    "two membranes lie on each other; put a layer between or keep one", f"layer {layer.id}"
                )
            entries.append(
                c.Membrane(kind="membrane", name=entry.name, sd_m=entry.sd_m, sd_by_rh=entry.sd_by_rh, rh_of="mean")
            )
        elif isinstance(entry, AirLayer):
            # one material for each layer: conductivity and μ follow from thickness and faces
            own = f"{layer.material}@{layer.id}"
            still = resistance[index] * (2.0 if 0.0 < entry.opening_mm2_m <= 1500.0 else 1.0)
            materials[own] = still_air_material(entry.name, layer.thickness, still)
            # Air stores next to nothing: three cells hold its straight line, and the one in the middle what moves.
            entries.append(c.Layer(name=entry.name, material=own, thickness_m=layer.thickness, cells=3, stretch=1.0))
        else:
            assert isinstance(entry, Solid)
            materials[layer.material] = case_material(entry)
            initial = c.Initial(temperature_c=15.0, rh=layer.start_rh) if layer.start_rh is not None else None
            entries.append(
                c.Layer(name=entry.name, material=layer.material, thickness_m=layer.thickness, initial=initial)
            )
            if entry.timber is not None:
                timber.append(
                    TimberLayer(len(entries) - 1, layer.id, entry.name, entry.timber == "sheet", entry.density_kg_m3)
                )
        layer_of_entry.append(layer.id)
    if _thin_outside(place, entries[0]):
        entries[0] = entries[0].model_copy(update={"cells": THIN_CELLS, "stretch": THIN_STRETCH})
    watch = _watch_points(layers, bool(inner_sd))
    planes = []
    for point, index, side in watch:
        planes.append(c.Plane(name=point.name, after_layer=index, side=side))
    climate = shipped(place.climate)
    climates = {
        place.climate: c.ShippedClimate(
            shipped=place.climate,
            sha256=climate.sha256,
            temperature_shift_k=BAD_YEAR_SHIFT_K if place.bad_year else 0.0,
            rain_factor=BAD_YEAR_RAIN if place.bad_year else 1.0,
        )
    }
    if place.profile == "measured":
        climates[place.occupancy] = c.ShippedClimate(shipped=place.occupancy, sha256=shipped(place.occupancy).sha256)
    indoor = c.IndoorEnd(
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
    case = c.Case(
        title=title,
        climates=climates,
        materials=materials,
        initial=c.Initial(temperature_c=15.0, rh=place.start_rh),
        layers=entries,
        outside=_outside(place, indoor, outer_sd, rain_factor),
        inside=indoor,
        air=_air(build_up, place, layers, layer_of_entry),
        switches=c.Switches(freezing=True),
        time=c.TimeControl(
            start="10-01",
            repeat="until_settled",
            least_passes=3,
            most_passes=8,
            largest_step_s=THIN_STEP_S if _thin_outside(place, entries[0]) else 3600.0,
        ),
        output=c.Output(planes=planes),
    )
    groups = [layer.entry.group for layer in layers]
    return Model(case, [point for point, _, _ in watch], timber, layer_of_entry, groups)


def _thin_outside(place: Place, entry: c.Layer | c.Membrane) -> bool:
    """A thin outer layer in the weather: it follows the sun within the hour, and rain goes through it as a front."""
    assert isinstance(entry, c.Layer) and isinstance(entry.thickness_m, float)
    return place.adjoining == "outside" and entry.thickness_m <= THIN_OUTER_M


def _outside(place: Place, indoor: c.IndoorEnd, coating_sd_m: float, coating_rain_factor: float) -> c.End:
    """What lies outside: weather, soil, or an unheated space."""
    if place.adjoining == "ground":
        depth, soil = GROUND_WALL if place.kind == "wall" else GROUND_FLOOR
        return c.GroundEnd(type="ground", climate=place.climate, depth_m=depth, soil_m=soil, coating_sd_m=coating_sd_m)
    if place.adjoining == "unheated":
        return c.UnheatedEnd(
            type="unheated",
            indoor=indoor.model_copy(update={"coating_sd_m": 0.0}),
            factor_b=place.factor_b,
            least_rh=VOID_RH if place.kind == "floor" else 0.0,
            coating_sd_m=coating_sd_m,
        )
    return c.WeatherEnd(
        type="weather",
        climate=place.climate,
        facing_deg=place.facing_deg,
        slope_deg=place.slope_deg,
        coating_sd_m=coating_sd_m,
        coating_rain_factor=coating_rain_factor,
        rain=place.driven_rain if place.kind == "wall" else NO_RAIN,
    )


def _air(build_up: BuildUp, place: Place, layers: list[BuildUpLayer], layer_of_entry: list[str]) -> c.Air:
    """Cavities by their openings, and the leaks of air and rain the build-up states."""
    cavities, leaks, rain = [], [], []
    for index, layer in enumerate(layers):
        entry = layer.entry
        if isinstance(entry, AirLayer) and entry.opening_mm2_m > 0.0 and place.adjoining != "ground":
            by_wind = c.WindAndSun(
                climate=place.climate,
                facing_deg=place.facing_deg,
                slope_deg=place.slope_deg,
                height_m=CAVITY_HEIGHT_M["roof" if place.kind == "roof" else "wall"],
                opening_mm2_m=entry.opening_mm2_m,
            )
            cavities.append(c.CavityAir(layer=index, by_wind_and_sun=by_wind))

    def at(leak: AirLeakage | RainLeakage) -> int:
        wanted = build_up.leak_layer(leak)
        if wanted not in layer_of_entry:
            raise CaseRefused("a leak goes to a coating on a face; choose a layer inside", f"layer {wanted}")
        return layer_of_entry.index(wanted)

    if build_up.air_leak.q50 > 0.0 and place.adjoining != "ground":
        by_wind_and_stack = c.StackAndWind(
            climate=place.climate, facing_deg=place.facing_deg, q50_m3_m2h=build_up.air_leak.q50
        )
        leaks.append(c.AirLeak(after_layer=at(build_up.air_leak), by_stack_and_wind=by_wind_and_stack))
    if build_up.rain_leak.share > 0.0 and place.adjoining == "outside" and place.kind == "wall":
        rain.append(c.RainLeak(after_layer=at(build_up.rain_leak), share=build_up.rain_leak.share))
    return c.Air(cavities=cavities, leaks=leaks, rain_leaks=rain)


def _constant_sd(sheet: Sheet) -> float:
    if sheet.sd_m is None:
        raise CaseRefused(f"{sheet.name} lies on a face; a variable membrane needs a layer on both sides")
    return sheet.sd_m


def _watch_points(layers: list, painted_inside: bool) -> list[tuple[WatchPoint, int, Literal["outer", "inner"]]]:  # type: ignore[type-arg]
    """Every face between layers, both sides of a membrane, and the room face."""
    out: list[tuple[WatchPoint, int, Literal["outer", "inner"]]] = []
    first = layers[0].entry
    out.append(
        (
            WatchPoint(f"outer face of {first.name}", "face", first.mould_class, False, "a weathered face", ""),
            -1,
            "outer",
        )
    )
    names: dict[str, int] = {}
    vented = [i for i, layer in enumerate(layers) if isinstance(layer.entry, AirLayer) and layer.entry.ventilated]
    insulation = [i for i, layer in enumerate(layers) if layer.entry.group == "insulation"]

    def unique(name: str) -> str:
        names[name] = names.get(name, 0) + 1
        return name if names[name] == 1 else f"{name} ({names[name]})"

    for index in range(len(layers) - 1):
        here, beyond = layers[index].entry, layers[index + 1].entry
        if isinstance(here, Sheet):
            name = unique(f"room side of {here.name}")
        elif isinstance(beyond, Sheet):
            name = unique(f"outer side of {beyond.name}")
        else:
            name = unique(f"{here.name} / {beyond.name}")
        bonded = _bonded(here, beyond)
        why = "bonded in lime without air" if bonded else ""
        role: Role = "inside"
        if here.group == beyond.group == "masonry":
            role, bonded, why = "masonry", True, "inside the masonry"
        if vented and index < vented[-1]:
            role, bonded, why = "face", True, "outside the ventilated cavity"
        elif role == "inside" and insulation and index > insulation[-1] and AirLayer in (type(here), type(beyond)):
            role = "cavity"
        point = WatchPoint(name, role, _worse(here.mould_class, beyond.mould_class), not bonded, why, layers[index].id)
        out.append((point, index, "inner"))
    last = layers[-1].entry
    room = WatchPoint(f"room face of {last.name}", "room", last.mould_class, True, "", layers[-1].id)
    out.append((room, len(layers) - 1, "inner"))
    return out


def _worse(first: MouldClass, second: MouldClass) -> MouldClass:
    return max(first, second, key=MOULD_RANK.index)


def _bonded(here: Solid | Sheet | AirLayer, beyond: Solid | Sheet | AirLayer) -> bool:
    """Full contact in lime: one side lime-bound, the other mineral or a capillary-active board."""
    if not (isinstance(here, Solid) and isinstance(beyond, Solid)):
        return False
    pairs = ((here, beyond), (beyond, here))
    return any(a.lime_bound and (b.lime_bound or b.capillary_active) for a, b in pairs)
