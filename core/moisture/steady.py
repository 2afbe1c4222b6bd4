"""ISO 13788 by month: mould at the inner surface, interstitial condensation; and the drying ability.

All of it is steady vapour diffusion between monthly means. It knows nothing of rain, liquid transport
or storage, and says where it does not judge.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.buildup.anatomy import Anatomy
from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.buildup.planes import SensitivePlane
from core.climate.data import DAYS_IN_MONTHS, Climate, monthly_means, shipped
from core.climate.indoor import indoor_state
from core.errors import OutOfRange
from core.materials.library import AirLayer, Sheet, Solid
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import SaturationFormula, saturation_pressure
from core.thermal.iso6946 import EXTERNAL_SURFACE, INTERNAL_SURFACE, heat_flow, resistances

Array = NDArray[np.float64]
Indices = NDArray[np.int64]

FORMULA: SaturationFormula = "iso13788_ice"  # the standard's own: over ice below 0 °C
DRAINED_ONLY_MM2_M = 400.0  # a gap open less than this drains and hardly changes its air
DELTA_AIR = 2.0e-10  # kg/(m s Pa), ISO 13788
STILL_AIR_SD = 0.01
MOULD_SURFACE_RH = 0.8
HUMID_SIDE_SPLIT = 0.25  # thick layers are cut so that no piece has more R than this (ISO 13788, 6.4.2)
DRYING_MONTHS = (3, 4, 5, 6, 7, 8)  # April to September
R_SURFACE_MOULD = 0.25  # ISO 13788: inner surface resistance for mould, opaque elements


@dataclass(frozen=True)
class Conditions:
    """Monthly means, 12 values each. Temperatures °C, pressures Pa."""

    outside_c: Array
    outside_pa: Array
    inside_c: Array
    inside_pa: Array


@dataclass(frozen=True)
class Piece:
    """A slice of a layer: R [m²K/W], sd [m] and the layer it belongs to."""

    layer_id: str
    resistance: float
    sd: float


@dataclass(frozen=True)
class Condensation:
    """ISO 13788, 6.4. Amounts g/m² by month, January first; planes named by the layer outside them."""

    judged: bool
    why_not: str
    planes: list[str]
    accumulated_g_m2: list[list[float]]
    peak_g_m2: float
    peak_month: int
    dries_each_year: bool
    surface_factor: float
    surface_factor_needed: float | None
    surface_month: int


@dataclass(frozen=True)
class DryingSide:
    """One way out of a plane held at 100 % RH: steady vapour, April to September [g/m²]; sd [m] in September.

    to: where the vapour goes. liquid: names of capillary layers that touch the plane on this way: they dry it by liquid
    too, which this figure leaves out.
    """

    g_m2: float
    sd_m: float
    to: str
    liquid: list[str]


@dataclass(frozen=True)
class DryingAbility:
    """Outward and inward apart. vapour_only: liquid dries it too and is not in the figure."""

    plane: str
    outward: DryingSide
    inward: DryingSide

    @property
    def total_g_m2(self) -> float:
        """What leaves on both sides; a side that brings water counts nothing."""
        return max(self.outward.g_m2, 0.0) + max(self.inward.g_m2, 0.0)


def conditions(place: Place, climate: Climate) -> Conditions:
    """Monthly outdoor means and the indoor profile at them; a measured series by its own monthly means."""
    outside = monthly_means(climate["temperature_c"])
    pressure = monthly_means(climate.vapour_pressure)
    if place.profile == "measured":
        measured = shipped(place.occupancy)
        return Conditions(
            outside, pressure, monthly_means(measured["temperature_c"]), monthly_means(measured.vapour_pressure)
        )
    inside, humidity = indoor_state(place.profile, outside, pressure, place.set_point_c, max(25.0, place.set_point_c))
    return Conditions(outside, pressure, inside, humidity * saturation_pressure(inside + ZERO_CELSIUS))


def sd_of(layer: BuildUpLayer, rh: float) -> float:
    """sd [m] of a layer at an RH; a still air layer has 0.01 m whatever its thickness."""
    entry = layer.entry
    if isinstance(entry, Sheet):
        return entry.sd_at(rh)
    if isinstance(entry, AirLayer):
        return STILL_AIR_SD
    return max(entry.mu * layer.thickness, 1e-4)


def steady_layers(build_up: BuildUp) -> list[BuildUpLayer]:
    """The layers that count: what lies outside a ventilated cavity is left out."""
    layers = list(build_up.layers)
    for index in range(len(layers) - 1, -1, -1):
        entry = layers[index].entry
        if isinstance(entry, AirLayer) and entry.ventilated:
            return layers[index + 1 :]
    return layers


def pieces(build_up: BuildUp, kind: str, rh: float = 0.6) -> list[Piece]:
    """Slices from outside to inside, thick insulation cut; variable sheets at the given RH."""
    flow = heat_flow(kind)
    out: list[Piece] = []
    layers = steady_layers(build_up)
    for layer, resistance in zip(layers, resistances(layers, flow), strict=True):
        sd = sd_of(layer, rh)
        count = max(1, int(np.ceil(resistance / HUMID_SIDE_SPLIT)))
        out += [Piece(layer.id, resistance / count, sd / count)] * count
    return out


def why_not_judged(build_up: BuildUp, place: Place) -> str:
    """A sentence where ISO 13788 does not judge, or "".

    Liquid is what it leaves out: rain in a capillary face, and linings that move it. A roof or floor that nothing
    capillary is rained on is judged, wood-fibre boards or not.
    """
    if place.adjoining == "ground":
        return "does not judge this element: wet soil, which ISO 13788 leaves out"
    if place.kind != "wall" or place.adjoining != "outside":
        return ""
    anatomy = Anatomy(build_up, place)
    masonry = anatomy.masonry
    lining = build_up.layers[masonry + 1 :] if masonry is not None else []
    if any(isinstance(layer.entry, Solid) and layer.entry.capillary_active for layer in lining):
        return "does not judge this wall: a capillary-active lining moves liquid water, which ISO 13788 leaves out"
    first = build_up.layers[anatomy.weather_side :]
    outer = next((layer.entry for layer in first if isinstance(layer.entry, Solid)), None)
    if anatomy.weather_side == 0 and outer is not None and (outer.a_value_kg_m2s05 or 0.0) > 0.0:
        return "does not judge this wall: rain soaks into its face, which ISO 13788 leaves out"
    return ""


def condensation(build_up: BuildUp, place: Place, climate: Climate) -> Condensation:
    """ISO 13788, 6.4: condensation and evaporation month by month until the year repeats."""
    air = conditions(place, climate)
    rse, rsi = EXTERNAL_SURFACE, INTERNAL_SURFACE[heat_flow(place.kind)]
    slices = pieces(build_up, place.kind)
    resistances = np.array([piece.resistance for piece in slices])
    sd = np.array([piece.sd for piece in slices])
    depth_r = rse + np.concatenate(([0.0], np.cumsum(resistances)))  # R from outside to every slice face
    depth_sd = np.concatenate(([0.0], np.cumsum(sd)))
    total = depth_r[-1] + rsi
    inner: Indices = np.arange(1, len(slices), dtype=np.int64)  # planes between slices
    water = np.zeros(len(slices) + 1)
    history = np.zeros((12, len(water)))
    start = _first_wet_month(air, depth_r, depth_sd, total)
    order = [(start + i) % 12 for i in range(12)]
    dries = True
    for year in range(2):
        for month in order:
            face_c = air.outside_c[month] + (air.inside_c[month] - air.outside_c[month]) * depth_r / total
            saturation = saturation_pressure(face_c + ZERO_CELSIUS, FORMULA)
            seconds = DAYS_IN_MONTHS[month] * 86400.0
            water = _one_month(water, inner, depth_sd, saturation, air.outside_pa[month], air.inside_pa[month], seconds)
            history[month] = water
        if year == 0:
            dries = bool(water.max() < 1e-6)
            if dries:
                break
    wet = [int(plane) for plane in inner if history[:, plane].max() > 1e-5]
    peak = history.max()
    month_needed, factor, needed = _surface(build_up, place, air)
    reason = why_not_judged(build_up, place)
    return Condensation(
        judged=not reason,
        why_not=reason,
        planes=[slices[plane - 1].layer_id for plane in wet],
        accumulated_g_m2=[[round(float(x) * 1000.0, 2) for x in history[:, plane]] for plane in wet],
        peak_g_m2=float(peak * 1000.0),
        peak_month=int(np.unravel_index(history.argmax(), history.shape)[0]),
        dries_each_year=dries,
        surface_factor=factor,
        surface_factor_needed=needed,
        surface_month=month_needed,
    )


def _first_wet_month(air: Conditions, depth_r: Array, depth_sd: Array, total: float) -> int:
    """ISO 13788, 6.4.4: the first month with condensation after one without; October when there is none."""
    wet = []
    for month in range(12):
        face_c = air.outside_c[month] + (air.inside_c[month] - air.outside_c[month]) * depth_r / total
        line = air.outside_pa[month] + (air.inside_pa[month] - air.outside_pa[month]) * depth_sd / depth_sd[-1]
        wet.append(bool(np.any(line[1:-1] > saturation_pressure(face_c[1:-1] + ZERO_CELSIUS, FORMULA))))
    for month in range(12):
        if wet[month] and not wet[month - 1]:
            return month
    return 9


def _one_month(
    water: Array, inner: Indices, depth_sd: Array, saturation: Array, outside: float, inside: float, seconds: float
) -> Array:
    """Water at every plane after one month. Planes that dry out within the month free their plane."""
    water, left = water.copy(), seconds
    for _ in range(40):
        pinned = _pinned_planes(water, inner, depth_sd, saturation, outside, inside)
        nodes = [0, *pinned, len(depth_sd) - 1]
        pressure = [outside, *(saturation[plane] for plane in pinned), inside]
        rate = np.zeros_like(water)
        for i in range(1, len(nodes) - 1):
            arriving = (pressure[i + 1] - pressure[i]) / (depth_sd[nodes[i + 1]] - depth_sd[nodes[i]])
            leaving = (pressure[i] - pressure[i - 1]) / (depth_sd[nodes[i]] - depth_sd[nodes[i - 1]])
            rate[nodes[i]] = DELTA_AIR * (arriving - leaving)
        drying = [plane for plane in pinned if rate[plane] < 0.0 and water[plane] > 0.0]
        dry_after = [water[plane] / -rate[plane] for plane in drying]
        span = min([left, *dry_after])
        water = np.maximum(water + rate * span, 0.0)  # a plane without water cannot give any
        water[water < 1e-12] = 0.0
        left -= span
        if left <= 1.0:
            break
    return water


def _pinned_planes(
    water: Array, inner: Indices, depth_sd: Array, saturation: Array, outside: float, inside: float
) -> list[int]:
    """Planes at saturation: those with water, and the taut string under the saturation line."""
    pinned = sorted(int(plane) for plane in inner if water[plane] > 0.0)
    while True:
        nodes = [0, *pinned, len(depth_sd) - 1]
        values = [outside, *(saturation[plane] for plane in pinned), inside]
        line = np.interp(depth_sd, depth_sd[nodes], values)
        excess = line[inner] - saturation[inner]
        excess[[i for i, plane in enumerate(inner) if plane in pinned]] = 0.0
        if len(excess) == 0 or excess.max() <= 1e-6:
            return pinned
        pinned = sorted([*pinned, int(inner[int(excess.argmax())])])


def _surface(build_up: BuildUp, place: Place, air: Conditions) -> tuple[int, float, float | None]:
    """(critical month, f_Rsi of the clear wall, f_Rsi needed against 80 % RH), ISO 13788, 5. None where the room is never 1 K warmer than outside."""
    flow = heat_flow(place.kind)
    total = EXTERNAL_SURFACE + sum(resistances(steady_layers(build_up), flow)) + R_SURFACE_MOULD
    factor = 1.0 - R_SURFACE_MOULD / total
    grid = np.linspace(-30.0, 40.0, 7001)
    curve = np.asarray(saturation_pressure(grid + ZERO_CELSIUS, FORMULA))
    needed_surface = np.interp(air.inside_pa / MOULD_SURFACE_RH, curve, grid)
    cold = air.inside_c - air.outside_c > 1.0
    needed = np.where(
        cold, (needed_surface - air.outside_c) / np.where(cold, air.inside_c - air.outside_c, 1.0), -np.inf
    )
    month = int(needed.argmax())
    return month, factor, float(needed[month]) if cold.any() else None


def drying_ability(build_up: BuildUp, place: Place, climate: Climate, plane: SensitivePlane) -> DryingAbility:
    """Steady vapour from a plane held at 100 % RH, outward and inward apart, by monthly means.

    A way ends where the air is: outside, in the room, or in a vented or ventilated gap. Months in which vapour would
    flow to the plane count against it. Variable sheets at the mean of 100 % and the air's RH on their side.
    """
    air = conditions(place, climate)
    flow = heat_flow(place.kind)
    layers = list(build_up.layers)
    split = build_up.index(plane.layer_id) + (1 if plane.face == "inner" else 0)
    outer, outer_gap = _until_gap(list(reversed(layers[:split])))
    inner, inner_gap = _until_gap(layers[split:])
    resistance = np.array(resistances(layers, flow))
    # the thermal picture ends at a ventilated gap, whose air is that outside
    first = next((i + 1 for i in range(split - 1, -1, -1) if _ventilated(layers[i])), 0)
    last = next((i for i in range(split, len(layers)) if _ventilated(layers[i])), len(layers))
    r_out = EXTERNAL_SURFACE + resistance[first:split].sum()
    r_in = resistance[split:last].sum() + (INTERNAL_SURFACE[flow] if last == len(layers) else EXTERNAL_SURFACE)
    inside_c = air.inside_c if last == len(layers) else air.outside_c
    out_rh = air.outside_pa / saturation_pressure(air.outside_c + ZERO_CELSIUS, FORMULA)
    room_rh = air.inside_pa / saturation_pressure(air.inside_c + ZERO_CELSIUS, FORMULA)
    plane_c = air.outside_c + (inside_c - air.outside_c) * r_out / (r_out + r_in)
    pressure = saturation_pressure(plane_c + ZERO_CELSIUS, FORMULA)
    cold = {"outside": "outside air", "unheated": "the unheated space", "ground": "the soil"}[place.adjoining]

    def side(path: list[BuildUpLayer], air_pa: Array, air_rh: Array, to: str) -> DryingSide:
        total, sd = 0.0, 0.0
        for month in DRYING_MONTHS:
            # 0.008 m of still air stands for the film at the end of the way (1/β at the usual coefficients).
            sd = 0.008 + sum(sd_of(layer, 0.5 * (1.0 + float(air_rh[month]))) for layer in path)
            total += DELTA_AIR * float(pressure[month] - air_pa[month]) / sd * DAYS_IN_MONTHS[month] * 86400.0
        return DryingSide(total * 1000.0, sd, to, _liquid_from_plane(path))

    outward = side(outer, air.outside_pa, out_rh, "air of the gap" if outer_gap else cold)
    inward_pa, inward_rh = (air.outside_pa, out_rh) if inner_gap else (air.inside_pa, room_rh)
    inward = side(inner, inward_pa, inward_rh, "air of the gap" if inner_gap else "the room")
    return DryingAbility(plane.words, outward, inward)


def _ventilated(layer: BuildUpLayer) -> bool:
    return isinstance(layer.entry, AirLayer) and layer.entry.ventilated


def _until_gap(path: list[BuildUpLayer]) -> tuple[list[BuildUpLayer], bool]:
    """The layers of a way out up to the first vented or ventilated gap, and whether it ends there."""
    for index, layer in enumerate(path):
        if isinstance(layer.entry, AirLayer) and layer.entry.opening_mm2_m > DRAINED_ONLY_MM2_M:
            return path[:index], True
    return path, False


def _liquid_from_plane(path: list[BuildUpLayer]) -> list[str]:
    """Names of the capillary layers of a way that touch one another from the plane to the air; none where it is cut off.

    Coats at its end are no cut: liquid reaches them, and vapour passes.
    """
    found = []
    for layer in path:
        entry = layer.entry
        if isinstance(entry, Sheet) and entry.kind == "coating":
            continue
        if not isinstance(entry, Solid) or entry.a_value_kg_m2s05 is None or entry.timber is not None:
            return []
        found.append(entry.name)
    return found


FILM_ONLY_M = 0.02  # sd of a way that is hardly more than the film at its end


@dataclass(frozen=True)
class DryingLeft:
    """Drying ability of an option over that of as found, or why there is no such figure."""

    share: float | None
    why_not: str


def drying_left(option: DryingAbility | None, as_found: DryingAbility | None, why_not: str = "") -> DryingLeft:
    """The share that is left at the same material plane. None where one of both dries inward by liquid and the other not."""
    if option is None or as_found is None:
        return DryingLeft(None, why_not or "the plane exists in only one of them")
    if bool(option.inward.liquid) != bool(as_found.inward.liquid):
        who = "as found dries" if as_found.inward.liquid else "the option dries"
        return DryingLeft(None, f"{who} inward by liquid too, which vapour figures leave out: see the wetting test")
    if as_found.total_g_m2 <= 0.0:
        return DryingLeft(None, "as found it dries on neither side")
    if min(as_found.outward.sd_m, as_found.inward.sd_m) < FILM_ONLY_M:
        return DryingLeft(
            None,
            "as found the plane faces air with only a film: any cover is less, and no share of it says how much it needs",
        )
    return DryingLeft(option.total_g_m2 / as_found.total_g_m2, "")


@dataclass(frozen=True)
class FreeDrying:
    """Months until water put into the middle of a layer has left the build-up by diffusion; None beyond MOST_MONTHS."""

    layer_id: str
    months: int | None
    left_g_m2: list[float]


FREE_DRYING_DOSE, MOST_MONTHS, FIRST_DRYING_MONTH = 1.0, 120, 9


def free_drying(build_up: BuildUp, place: Place, climate: Climate, layer_id: str) -> FreeDrying:
    """ISO 13788, drying of built-in water: 1 kg/m² in the middle of a layer, from October, month by month, up to ten years.

    Steady vapour only; what condenses at another plane on the way is still in. Raises OutOfRange for a layer that is not inside the cavity.
    """
    slices = pieces(build_up, place.kind)
    inside = [index for index, piece in enumerate(slices) if piece.layer_id == layer_id]
    if not inside:
        raise OutOfRange(f"layer “{layer_id}” is not inside the ventilated cavity", "choose another layer")
    middle = inside[len(inside) // 2]
    half = Piece(layer_id, slices[middle].resistance / 2.0, slices[middle].sd / 2.0)
    slices[middle : middle + 1] = [half, half]
    air = conditions(place, climate)
    rse, rsi = EXTERNAL_SURFACE, INTERNAL_SURFACE[heat_flow(place.kind)]
    depth_r = rse + np.concatenate(([0.0], np.cumsum([piece.resistance for piece in slices])))
    depth_sd = np.concatenate(([0.0], np.cumsum([piece.sd for piece in slices])))
    total = depth_r[-1] + rsi
    inner: Indices = np.arange(1, len(slices), dtype=np.int64)
    water = np.zeros(len(slices) + 1)
    water[middle + 1] = FREE_DRYING_DOSE
    left: list[float] = []
    for step in range(MOST_MONTHS):
        month = (FIRST_DRYING_MONTH + step) % 12
        face_c = air.outside_c[month] + (air.inside_c[month] - air.outside_c[month]) * depth_r / total
        saturation = saturation_pressure(face_c + ZERO_CELSIUS, FORMULA)
        seconds = DAYS_IN_MONTHS[month] * 86400.0
        water = _one_month(water, inner, depth_sd, saturation, air.outside_pa[month], air.inside_pa[month], seconds)
        left.append(float(water.sum() * 1000.0))
        if left[-1] < 0.5:
            return FreeDrying(layer_id, step + 1, left)
    return FreeDrying(layer_id, None, left)


@dataclass(frozen=True)
class ProfilePlane:
    """The inner face of a layer: sd cumulated to the outer and to the room side [m], variable sheets at 60 % RH."""

    layer_id: str
    outward_sd_m: float
    inward_sd_m: float


def vapour_profile(build_up: BuildUp, rh: float = 0.6) -> list[ProfilePlane]:
    """sd to each side of every plane, from outside to inside; what lies outside a ventilated cavity is left out."""
    layers = steady_layers(build_up)
    sd = [sd_of(layer, rh) for layer in layers]
    return [
        ProfilePlane(layer.id, float(sum(sd[: index + 1])), float(sum(sd[index + 1 :])))
        for index, layer in enumerate(layers)
    ]
