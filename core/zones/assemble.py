"""A building put together for its hourly year: elements as chains, cold spaces as zones, leaks as flows, people, sun, ground.

One heated zone. What it leaves out is said: the mass of inner walls beyond a stated figure, joints, the sun through glass onto one wall.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from core.air_flow.leaks import AirYear, Leak, air_year
from core.air_flow.ledger import Ledger, LedgerRow
from core.buildup.model import BuildUp, BuildUpLayer
from core.climate.data import Climate
from core.climate.ground import (
    BARE_EARTH_SD_M,
    EARTH_DIFFUSIVITY,
    VOID_CHANGES,
    ground_temperature_c,
    months_wave,
)
from core.climate.sun import Shade, radiation_on_face, shaded_on_face
from core.errors import CaseRefused
from core.materials.library import AirLayer, Solid
from core.moisture.steady import sd_of
from core.physics.constants import AIR_DENSITY, EVAPORATION, STEFAN_BOLTZMANN, ZERO_CELSIUS
from core.physics.leak import LEEWARD, WINDWARD
from core.survey.cold import ColdSpace, Skin
from core.thermal.iso6946 import Transmittance, transmittance
from core.thermal.iso13370 import (
    R_SE,
    R_SI_FLOOR,
    SOIL_CONDUCTIVITY,
    SOIL_HEAT_J_M3K,
    EdgeInsulation,
    GroundHeat,
    GroundPlace,
    Soil,
    below_ground,
    slab_heat,
)
from core.zones.hourly import zone_year
from core.zones.model import AirFlow, Buffer, Building, Chain, ColdSurface, WetSource, Zone, ZoneYear
from core.zones.stated import PERSON_W, AirStated, SpaceStated, vapour_kg_day

Array = NDArray[np.float64]
HOUSE = 0
SLICE_M = 0.05
MOST_SLICES = 8
# Skins of cold spaces whose layers nobody stated: (U, heat stored [kJ/(m² K)]), estimates of ours.
SKIN = {"roof": (3.5, 20.0), "wall": (1.7, 200.0)}
# ISO 13789, air changes of unheated spaces by how tight they are: 0.1, 0.5, 1, 3, 10. What is taken where nobody stated it.
USUAL_CHANGES = {"attic": 3.0, "void": VOID_CHANGES, "cellar": 0.5, "part": 3.0}
CHANGES_WORDS = {
    "attic": "laps and eaves that breathe",
    "void": "vents of a usual size",
    "cellar": "closed windows",
    "part": "doors and boards with gaps",
}
SHEET_SD_M = 50.0
FURNITURE_J_M2K = 20e3  # of the floor: light mass and inner leaves, ISO 52016-1 takes 10 kJ/(m² K) for furniture alone
FRAME_SHARE = 0.3
SOIL_DEPTH_M = 0.5
WET_LAYERS_RH = 0.9  # humidity at which the face of a wall on wet ground passes vapour
DISCHARGE = 0.6  # of a sharp opening
NEAR_GROUND = 0.6  # of the wind at the faces, for vents at the foot; the flow then comes near to ISO 13370 for a void of average shelter
MEAN_ROOT_COSINE = 0.763  # mean of √|cos| over all directions of the wind
NIGHT_FROM_C = 18.0  # mean of a day from which windows stand open through its night; ours
WARM_OUT_C = 18.0  # windows stand open in hours warmer than this outside, where it is cooler than inside
SHUTTERS_FROM_C, SHUTTERS_FROM_W, SHUTTERS_PASS = 18.0, 150.0, 0.25  # habits and boards or louvres outside; ours
GLASS_G = 0.9  # to the mean of all angles, ISO 52016-1 F_w


@dataclass(frozen=True)
class Part:
    """One element of the heated line in one state. side: "outside", "ground", or the id of a cold space; b: a typed factor, None where it follows.

    sun: share of the sun that reaches a window (trees, buildings); shade: what stands before it, by the hour; shutters: closed in warm sun; more_r: insulation outside of its build-up, tried [m²K/W]; cellar: it is a wall or floor of a heated cellar below ground.
    """

    key: str
    name: str
    kind: str
    side: str
    area_m2: float
    facing_deg: float
    slope_deg: float
    build_up: BuildUp | None = None
    u_w_m2k: float | None = None
    g_value: float | None = None
    sun: float = 1.0
    absorptance: float = 0.6
    b: float | None = None
    ground: GroundPlace | None = None
    edge: EdgeInsulation | None = None
    shade: Shade | None = None
    shutters: bool = False
    more_r: float = 0.0


@dataclass(frozen=True)
class DampGround:
    """Evidence of wet ground at a place. space: id of a cold space, "" for the heated rooms; part: key of the element there; standing_m2: of water that stands; seen: in words."""

    space: str
    part: str
    standing_m2: float
    seen: str


@dataclass(frozen=True)
class State:
    """A building in one state: as found, between phases, after. volume and floor are of the heated line.

    wind_factor: of the wind at 10 m, at its faces; wind_m_s: its mean; natural_1_h: air changes where there is no ledger. skins: layers of what faces outside of a cold space. damp: where evidence says that the ground is wet. night_air: windows stand
    open in every hour of the warm season that is cooler than the rooms.
    """

    parts: list[Part]
    spaces: list[ColdSpace]
    ledger: Ledger | None
    after: bool
    stated: AirStated
    volume_m3: float
    floor_m2: float
    set_point_c: float
    soil: Soil
    wind_factor: float = 0.5
    natural_1_h: float = 0.0
    skins: dict[str, BuildUp] = field(default_factory=dict)
    night_air: bool = False
    wind_m_s: float = 4.0
    damp: tuple[DampGround, ...] = ()

    @property
    def heat_to_c(self) -> float:
        return self.stated.use.heat_to_c if self.stated.use.heat_to_c is not None else self.set_point_c


@dataclass(frozen=True)
class BuildingYear:
    """The year of a state: zones in the order of names; by_part [W into the house], air the infiltration, needs in kWh and W."""

    names: list[str]
    ids: list[str]
    year: ZoneYear
    air: AirYear | None
    chain_keys: list[str]
    flow_keys: list[str]
    solar_w: Array
    inner_w: Array
    state: State
    flows: list[Array]

    @property
    def heating_kwh(self) -> float:
        return float(self.year.heating_w[HOUSE].sum()) / 1000.0

    @property
    def cooling_kwh(self) -> float:
        return float(self.year.cooling_w[HOUSE].sum()) / 1000.0

    @property
    def latent_kwh(self) -> float:
        return float(self.year.drying_kg_h[HOUSE].sum()) * EVAPORATION / 3.6e6

    @property
    def heating_peak_w(self) -> float:
        return float(self.year.heating_w[HOUSE].max())

    @property
    def cooling_peak_w(self) -> float:
        return float(self.year.cooling_w[HOUSE].max())

    def fresh_m3_h(self) -> Array:
        """Outside air that reaches the rooms by leaks, windows, machines and through cold spaces, hourly [m³/h of 1.2 kg/m³]."""
        found = [
            rate
            for key, rate in zip(self.flow_keys, self.flows, strict=True)
            if key in ("leaks", "airing", "balanced") or key.endswith(":down")
        ]
        return np.asarray(sum(found, np.zeros(len(self.solar_w))) / AIR_DENSITY)


def chain_of(
    key: str, area: float, zone: int, made: Transmittance, build_up: BuildUp, kind: str, side: int, outer_c: Array | None,
    total_r: float | None = None,
) -> Chain:  # fmt: skip
    """The chain of a build-up between its films, scaled so that its U is the effective one. total_r: scaled to this instead."""
    layers = inside_of_cavity(build_up)
    films = made.external_surface, made.internal_surface
    own = [max(made.layers.get(layer.id, 0.0), 0.0) for layer in layers]
    wanted = (total_r if total_r is not None else made.r_effective) - sum(films)
    scale = max(wanted, 1e-3) / max(sum(own), 1e-3)
    resistances, capacities = [films[0]], []
    for layer, r in zip(layers, own, strict=True):
        r *= scale
        heat = _stores(layer)
        if heat <= 0.0:
            resistances[-1] += r
            continue
        count = min(max(math.ceil(layer.thickness / SLICE_M), 1), MOST_SLICES)
        for _ in range(count):
            resistances[-1] += r / count / 2.0
            capacities.append(heat / count)
            resistances.append(r / count / 2.0)
    resistances[-1] += films[1]
    return Chain(key, area, zone, tuple(resistances), tuple(capacities), side, outer_c)


def inside_of_cavity(build_up: BuildUp) -> list[BuildUpLayer]:
    """The layers inside of a well-ventilated cavity; all where there is none."""
    layers = list(build_up.layers)
    for index in range(len(layers) - 1, -1, -1):
        entry = layers[index].entry
        if isinstance(entry, AirLayer) and entry.ventilated:
            return layers[index + 1 :]
    return layers


def _stores(layer: BuildUpLayer) -> float:
    entry = layer.entry
    if not isinstance(entry, Solid):
        return 0.0
    return entry.density_kg_m3 * entry.specific_heat_j_kgk * layer.thickness


def sol_air_c(climate: Climate, facing: float, slope: float, absorptance: float, emissivity: float = 0.9) -> Array:
    """Sol-air temperature [°C]: T_o + R_se (a I − ε F_sky (σ T_o⁴ − L_sky)), F_sky = (1 + cos slope)/2."""
    t = climate["temperature_c"]
    sun = radiation_on_face(climate, facing, slope, 0.2)
    sky = 0.5 * (1.0 + math.cos(math.radians(slope)))
    lost = emissivity * sky * (STEFAN_BOLTZMANN * (t + ZERO_CELSIUS) ** 4 - climate["sky_longwave_w_m2"])
    return np.asarray(t + 0.04 * (absorptance * sun - lost))


def window_sun(climate: Climate, part: Part) -> Array:
    """Sun that reaches a window [W/m²], hourly, behind what shades it. Shutters stand closed while it is warm outside and the sun shines on them."""
    if part.shade is None:
        sun = radiation_on_face(climate, part.facing_deg, part.slope_deg, 0.2)
    else:
        sun = shaded_on_face(climate, part.facing_deg, part.slope_deg, 0.2, part.shade)
    if part.shutters:
        closed = (climate["temperature_c"] > SHUTTERS_FROM_C) & (sun > SHUTTERS_FROM_W)
        sun = np.where(closed, SHUTTERS_PASS * sun, sun)
    return sun


def virtual_ground_c(climate: Climate, heat: GroundHeat, inside_c: float) -> Array:
    """Temperature [°C], hourly by month, that gives a ground element with its steady coefficient the heat flow of ISO 13370 in each month."""
    mean, amplitude, coldest = months_wave(climate)
    flows = heat.flow_w((inside_c, 0.0), (mean, amplitude), coldest)
    monthly = np.array([inside_c - flow / heat.steady for flow in flows])
    middles = (np.arange(12) + 0.5) * climate.hours / 12.0
    hours = np.arange(climate.hours)
    return np.asarray(np.interp(hours, middles, monthly, period=climate.hours))


def ground_heat(part: Part, made: Transmittance) -> GroundHeat | None:
    """What ISO 13370 says of an element on the ground; None where its size is not known, or it stands elsewhere."""
    if part.ground is None or part.side != "ground":
        return None
    layers = max(made.r_effective - made.internal_surface - made.external_surface, 0.0)
    return below_ground(part.ground, part.kind, layers, part.area_m2, part.edge)


class _Maker:
    def __init__(self, state: State, climate: Climate, vents: dict[str, Array]) -> None:
        self.state, self.climate, self.vents = state, climate, vents
        self.ids = ["house", *(space.id for space in state.spaces)]
        self.index = {space_id: number for number, space_id in enumerate(self.ids)}
        self.chains: list[Chain] = []
        self.solar = np.zeros(climate.hours)
        self.zones: list[Zone] = []
        self.flows: list[AirFlow] = []

    def part(self, part: Part) -> None:
        climate = self.climate
        side = self.index.get(part.side, -1)
        outer: Array | None = None
        if part.build_up is None:
            assert part.u_w_m2k is not None
            u = part.u_w_m2k
            if side < 0:
                outer = climate["temperature_c"]
                g = part.g_value or 0.0
                if g > 0.0:
                    sun = window_sun(climate, part)
                    self.solar += part.area_m2 * (1.0 - FRAME_SHARE) * g * GLASS_G * part.sun * sun
            self.chains.append(Chain(part.key, part.area_m2, HOUSE, (1.0 / u,), (), side, outer))
            return
        made = transmittance(part.build_up, part.kind)
        if part.side == "ground":
            self._ground(part, made)
            return
        if side < 0:
            outer = sol_air_c(climate, part.facing_deg, part.slope_deg, part.absorptance)
            if part.b is not None and part.b < 1.0:
                outer = part.b * climate["temperature_c"] + (1.0 - part.b) * self.state.heat_to_c
        chain = chain_of(part.key, part.area_m2, HOUSE, made, part.build_up, part.kind, side, outer)
        if part.more_r:
            chain = replace(chain, resistances=(chain.resistances[0] + part.more_r, *chain.resistances[1:]))
        self.chains.append(chain)

    def _ground(self, part: Part, made: Transmittance) -> None:
        assert part.build_up is not None
        heat = ground_heat(part, made)
        if heat is None:  # nothing to reckon it from: a typed factor b, said in the table
            b = part.b if part.b is not None else 0.5
            outer = b * self.climate["temperature_c"] + (1.0 - b) * self.state.heat_to_c
            self.chains.append(chain_of(part.key, part.area_m2, HOUSE, made, part.build_up, part.kind, -1, outer))
            return
        u = heat.steady / part.area_m2
        outer = virtual_ground_c(self.climate, heat, self.state.heat_to_c)
        self.chains.append(
            chain_of(
                part.key,
                part.area_m2,
                HOUSE,
                made,
                part.build_up,
                part.kind,
                -1,
                outer,
                total_r=max(1.0 / u, made.r_effective),
            )
        )

    def space(self, space: ColdSpace, drawn: Array | float) -> None:
        """drawn: air that the house draws from it [kg/h], which outside air replaces."""
        state, climate = self.state, self.climate
        number = self.index[space.id]
        stated = state.stated.space(space.id)
        roofs: list[str] = []
        earth = ""
        damp = [one for one in state.damp if one.space == space.id]
        sources: list[WetSource] = []
        for order, skin in enumerate(space.skins):
            key = f"{space.id}:{skin.kind}:{order}"
            if skin.kind in ("earth floor", "earth wall"):
                self._earth(space, skin, key, number)
                earth = key if skin.kind == "earth floor" else earth
                if skin.kind == "earth wall" and damp:
                    sources.append(WetSource(key, skin.area_m2, key, BARE_EARTH_SD_M))
                continue
            self.chains.append(self._skin(skin, key, number, stated))
            if skin.kind == "roof":
                roofs.append(key)
        bare = space.area("earth floor")
        if space.kind in ("void", "cellar", "part") and bare > 0.0:
            covered = stated.sheet if stated.sheet is not None else space.kind != "void" and not damp
            sources.append(WetSource(f"{space.id}:earth", bare, earth, SHEET_SD_M if covered else BARE_EARTH_SD_M))
            standing = min(sum(one.standing_m2 for one in damp), bare)
            if standing > 0.0:
                sources.append(WetSource(f"{space.id}:water", standing, earth))
        wood = space.area("roof") if space.kind in ("attic", "part") else space.floor_m2
        vented = self.vents.get(space.id)
        if vented is None:
            changes = stated.air_changes if stated.air_changes is not None else USUAL_CHANGES[space.kind]
            wind = climate["wind_speed_m_s"]
            by_wind = 0.3 + 0.7 * wind / max(float(wind.mean()), 1e-9)
            vented = AIR_DENSITY * space.volume_m3 * changes * by_wind
        self.flows.append(AirFlow(f"{space.id}:vents", -1, number, vented + drawn))
        self.zones.append(
            Zone(
                space.name,
                max(space.volume_m3, 1.0),
                furniture_j_k=5e3 * space.floor_m2,
                vapour_kg_h=np.full(climate.hours, stated.stored_kg_day / 24.0),
                buffers=(Buffer(max(wood, 1.0), 50.0, 60.0),),
                sources=tuple(sources),
                cold=tuple(ColdSurface(key, keeps=True) for key in roofs),
            )  # fmt: skip
        )

    def damp_rooms(self) -> tuple[WetSource, ...]:
        """Wet ground that the heated rooms themselves lie against: through the layers of the element, and water that stands."""
        by_key = {part.key: part for part in self.state.parts if part.side == "ground" and part.build_up is not None}
        sources = []
        for number, one in enumerate(one for one in self.state.damp if not one.space and one.part in by_key):
            part = by_key[one.part]
            if one.standing_m2 > 0.0:
                sources.append(WetSource(f"{part.key}:water:{number}", min(one.standing_m2, part.area_m2), part.key))
            elif not any(source.chain == part.key for source in sources):
                assert part.build_up is not None
                sd = sum(sd_of(layer, WET_LAYERS_RH) for layer in part.build_up.layers[-1:])
                sources.append(WetSource(f"{part.key}:damp", part.area_m2, part.key, max(sd, BARE_EARTH_SD_M)))
        return tuple(sources)

    def _skin(self, skin: Skin, key: str, number: int, stated: SpaceStated) -> Chain:
        outer = sol_air_c(self.climate, skin.facing_deg, skin.slope_deg, 0.7 if skin.kind == "roof" else 0.6)
        build_up = self.state.skins.get(skin.key)
        kind = "roof" if skin.kind == "roof" else "wall"
        typed = stated.roof_u_w_m2k if kind == "roof" else stated.wall_u_w_m2k
        if typed is None and build_up is not None and build_up.is_stated:
            try:
                return chain_of(key, skin.area_m2, number, transmittance(build_up, kind), build_up, kind, -1, outer)
            except CaseRefused:
                pass
        u, stores = SKIN[kind]
        u = typed if typed is not None else u
        inner = 0.10 if kind == "roof" else 0.13
        middle = max(1.0 / u - inner - 0.04, 0.01)
        return Chain(key, skin.area_m2, number, (0.04 + middle / 2.0, middle / 2.0 + inner), (stores * 1e3,), -1, outer)

    def _earth(self, space: ColdSpace, skin: Skin, key: str, number: int) -> None:
        """Half a metre of soil before what ISO 13370 says of the rest."""
        soil = SOIL_CONDUCTIVITY[self.state.soil]
        mean = float(self.climate["temperature_c"].mean())
        deep = 0.5 * space.depth_m + 1.0 if skin.kind == "earth wall" else space.depth_m + 1.0
        outer = ground_temperature_c(self.climate, deep, EARTH_DIFFUSIVITY)
        if skin.kind == "earth floor" and space.perimeter_m > 0.0:
            place = GroundPlace(
                area_m2=skin.area_m2,
                perimeter_m=space.perimeter_m,
                wall_m=space.wall_m,
                soil=self.state.soil,
                depth_m=space.depth_m,
            )
            heat = slab_heat(place, 0.0)
            total = skin.area_m2 / heat.steady
            outer = virtual_ground_c(self.climate, heat, mean)
        else:
            total = R_SI_FLOOR + R_SE + (0.5 * space.depth_m + 0.5) / soil
        first = R_SI_FLOOR + SOIL_DEPTH_M / soil / 2.0
        stores = (SOIL_HEAT_J_M3K[self.state.soil] * SOIL_DEPTH_M,)
        rest = max(total - first, 0.05)
        self.chains.append(Chain(key, skin.area_m2, number, (rest, first), stores, -1, outer, R_SI_FLOOR))


def leaks_of(rows: list[LedgerRow], after: bool) -> list[Leak]:
    """The rows of one state as leaks of the one zone."""
    here = [(row.key, at) for row in rows for at in (row.at(after),) if at is not None and at.q50_m3_h > 0.0]
    return [
        Leak(key, at.q50_m3_h / len(at.slices), height, at.facing_deg, at.over)
        for key, at in here
        for height in at.slices
    ]


def infiltration(state: State, climate: Climate) -> AirYear | None:
    """Air through the leaks of a state; None without a ledger."""
    if state.ledger is None or state.volume_m3 <= 0.0:
        return None
    leaks = leaks_of(state.ledger.rows, state.after)
    if not leaks:
        return None
    fan = -AIR_DENSITY * state.stated.ventilation.extract_m3_h
    return air_year(leaks, climate, state.heat_to_c, state.volume_m3, fan, state.wind_factor)


def house_gains(state: State, hours: int) -> tuple[Array, Array]:
    """(W, kg/h) of people and what they do, hourly: people through the day, cooking at noon and evening, baths in the morning."""
    use = state.stated.use
    clock = np.arange(hours) % 24
    people = np.full(hours, use.people * PERSON_W * use.hours_home / 24.0)
    warmth = people + use.appliances_w_m2 * state.floor_m2
    vapour = dict(vapour_kg_day(use))
    names = list(vapour)
    at = [
        np.ones(24),
        np.isin(np.arange(24), (7, 12, 18, 19)),
        np.isin(np.arange(24), (7, 20)),
        np.ones(24),
        np.ones(24),
        np.ones(24),
    ]
    given = np.zeros(hours)
    for name, when in zip(names, at, strict=True):
        share = np.asarray(when, float) / float(np.sum(when))
        given += vapour[name] * share[clock]
    return np.asarray(warmth, float), given


def building_year(state: State, climate: Climate, steps_an_hour: int = 1, more_mass_j_m2k: float = 0.0) -> BuildingYear:
    """The hourly year of a state. more_mass: inside, for each m² of floor. Raises CaseRefused where a layer's U cannot be reckoned, OutOfRange for what
    cannot be.

    Spaces whose vents are stated are run twice: the stack in them needs their temperature, which is that of a year with usual air changes.
    """
    vented = [space for space in state.spaces if state.stated.space(space.id).vents_m2 is not None]
    first = _building_year(state, climate, steps_an_hour, more_mass_j_m2k, {})
    if not vented:
        return first
    vents = {
        space.id: vent_flow(
            space,
            state.stated.space(space.id),
            climate,
            first.year.celsius[first.ids.index(space.id)],
            state.wind_factor,
        )
        for space in vented
    }
    return _building_year(state, climate, steps_an_hour, more_mass_j_m2k, vents)


def vents_of(space: ColdSpace, stated: SpaceStated) -> list[Leak]:
    """The vents as four holes: on two opposite sides, a half of each lower than the other. q = C_d A √(2 Δp/ρ)."""
    q50 = DISCHARGE * (stated.vents_m2 or 0.0) / 4.0 * math.sqrt(2.0 * 50.0 / AIR_DENSITY) * 3600.0
    return [
        Leak(f"{facing}:{height}", q50, height, facing, exponent=0.5)
        for facing in (0.0, 180.0)
        for height in (0.0, stated.vents_apart_m)
    ]


def vent_flow(space: ColdSpace, stated: SpaceStated, climate: Climate, celsius: Array, wind_factor: float) -> Array:
    """Outside air through the vents of a space [kg/h], hourly, by stack and wind."""
    leaks = vents_of(space, stated)
    if leaks[0].q50_m3_h <= 0.0:
        return np.zeros(climate.hours)
    near = NEAR_GROUND if space.kind in ("void", "cellar") else 1.0
    year = air_year(leaks, climate, celsius, max(space.volume_m3, 1.0), 0.0, wind_factor * near)
    return np.asarray(np.maximum(year.flows, 0.0).sum(axis=0))


def vent_changes(space: ColdSpace, stated: SpaceStated, wind_m_s: float, wind_factor: float) -> float:
    """Mean air changes by the vents in the season [1/h]: wind from every side alike, without a stack, as the table of losses takes it."""
    near = NEAR_GROUND if space.kind in ("void", "cellar") else 1.0
    side = DISCHARGE * (stated.vents_m2 or 0.0) / 2.0 / math.sqrt(2.0)
    flow = 3600.0 * side * math.sqrt(WINDWARD - LEEWARD) * MEAN_ROOT_COSINE * wind_factor * near * wind_m_s
    return flow / max(space.volume_m3, 1.0)


def _building_year(
    state: State, climate: Climate, steps_an_hour: int, more_mass_j_m2k: float, vents: dict[str, Array]
) -> BuildingYear:
    maker = _Maker(state, climate, vents)
    hours = climate.hours
    for part in state.parts:
        maker.part(part)
    warmth, vapour = house_gains(state, hours)
    air = infiltration(state, climate)
    ventilation = state.stated.ventilation
    flows: list[AirFlow] = []
    to_space: dict[str, Array] = {}
    from_space: dict[str, Array] = {}
    if air is not None and state.ledger is not None:
        sides = {row.key: at.to for row in state.ledger.rows for at in (row.at(state.after),) if at is not None}
        outside = np.zeros(hours)
        for leak, flow in zip(air.leaks, air.flows, strict=True):
            side = sides[leak.key]
            if side in maker.index:
                from_space[side] = from_space.get(side, np.zeros(hours)) + np.maximum(flow, 0.0)
                to_space[side] = to_space.get(side, np.zeros(hours)) + np.maximum(-flow, 0.0)
            else:
                outside += np.maximum(flow, 0.0)
        flows.append(AirFlow("leaks", -1, HOUSE, outside))
        for side in to_space:
            flows.append(AirFlow(f"{side}:up", HOUSE, maker.index[side], to_space[side]))
            flows.append(AirFlow(f"{side}:down", maker.index[side], HOUSE, from_space[side]))
    else:
        rate = AIR_DENSITY * (state.natural_1_h * state.volume_m3 + ventilation.extract_m3_h)
        flows.append(AirFlow("leaks", -1, HOUSE, np.full(hours, rate)))
    t = climate["temperature_c"]
    open_windows = (t > WARM_OUT_C) & (t < 26.0)
    if state.night_air:
        days = np.repeat(t.reshape(-1, 24).mean(axis=1), 24)
        open_windows |= (days > NIGHT_FROM_C) & (t < state.stated.use.warm_c - 1.0)
    airing = np.where(open_windows, ventilation.summer_airing_m3_h, ventilation.airing_m3_h) * AIR_DENSITY
    flows.append(AirFlow("airing", -1, HOUSE, airing))
    flows.append(
        AirFlow(
            "balanced",
            -1,
            HOUSE,
            np.full(hours, AIR_DENSITY * ventilation.balanced_m3_h),
            ventilation.heat_recovered,
            ventilation.moisture_recovered,
        )  # fmt: skip
    )
    panes = [c for c, p in zip(maker.chains, state.parts, strict=True) if p.kind == "window" and c.side < 0]
    coldest = max(panes, key=lambda c: c.u, default=None)
    use = state.stated.use
    solar = maker.solar
    house = Zone(
        "house", max(state.volume_m3, 1.0), np.full(hours, state.heat_to_c),
        None if use.cool_to_c is None else np.full(hours, max(use.cool_to_c, state.heat_to_c)), warmth + solar, vapour,
        (FURNITURE_J_M2K + more_mass_j_m2k) * max(state.floor_m2, 1.0), (Buffer(2.5 * max(state.floor_m2, 1.0)),),
        cold=(ColdSurface(coldest.key, keeps=False),) if coldest is not None else (), dry_to=0.6 if use.cool_to_c is not None else None,
    )  # fmt: skip
    house = replace(house, sources=maker.damp_rooms())
    for space in state.spaces:
        maker.space(space, from_space.get(space.id, 0.0))
    flows += maker.flows
    built = Building([house, *maker.zones], maker.chains, flows, t, climate["relative_humidity"])
    year = zone_year(built, steps_an_hour)
    return BuildingYear(
        ["house", *(space.name for space in state.spaces)], maker.ids, year, air, [c.key for c in maker.chains], [f.key for f in flows],
        solar, warmth, state, [f.kg_h for f in flows],
    )  # fmt: skip


def with_airing(state: State, m3_h: float) -> State:
    """The same with another mean airing in winter."""
    ventilation = state.stated.ventilation.model_copy(update={"airing_m3_h": m3_h})
    return replace(state, stated=state.stated.model_copy(update={"ventilation": ventilation}))
