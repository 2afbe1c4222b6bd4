"""What moves through a build-up besides diffusion and suction: cavity air, leaks of air, leaks of rain, a steady draught.

Each becomes ports of the kernel: a node, the water set free there, and the exchange with air of a given state.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.climate.data import Climate, climate_of_case, first_hour
from core.climate.rain import driven_rain, falling_rain
from core.climate.sun import radiation_on_face
from core.errors import CaseRefused, OutOfRange
from core.moisture.transient.boundary import Boundary, lay, value_of
from core.moisture.transient.columns import (
    FILM,
    HEAT_EXCHANGE,
    OUTSIDE,
    PV_AIR,
    PV_ENV,
    T_AIR,
    T_ENV,
    T_RAIN,
    T_WATER,
    VAPOUR_EXCHANGE,
    WATER,
)
from core.moisture.transient.grid import Grid
from core.physics.constants import AIR_DENSITY, AIR_HEAT, GRAVITY, ROOM_K, ZERO_CELSIUS
from core.physics.leak import (
    InsidePressure,
    dynamic_pressure,
    facing_wind,
    mass_flow,
    outside_pressure,
    wind_coefficient,
)
from core.physics.moist_air import dry_air_density, vapour_by_air

Array = NDArray[np.float64]
PortKind = Literal["cavity", "air leak", "rain leak"]


@dataclass(frozen=True)
class Ports:
    """series[step, port, quantity] at node[port]; kind says which account a port belongs to. through [kg/m²s]."""

    node: NDArray[np.int64]
    series: Array
    kind: list[PortKind]
    through: Array


def cavity_changes_per_h(climate: Climate, wind_sun: c.WindAndSun, depth_m: float) -> Array:
    """Air changes an hour of a cavity, hourly: wind and stack pressure against the losses of openings and path.

    Bernoulli with the loss coefficients added up, as in Straube & Burnett 2005; half of the sol-air excess of the
    cladding as the warmth of the cavity's air is ours. Reversed air (cooler than outside) counts as much as warm air.
    """
    wind = wind_sun.wind_factor * climate["wind_speed_m_s"]
    sun = radiation_on_face(climate, wind_sun.facing_deg, wind_sun.slope_deg, 0.2)
    film = 4.0 + 4.0 * wind + 5.0
    warmer = 0.5 * wind_sun.absorptance * sun / film
    rise = wind_sun.height_m * np.sin(np.radians(min(wind_sun.slope_deg, 180.0 - wind_sun.slope_deg)))
    kelvin = climate["temperature_c"] + ZERO_CELSIUS
    pressure = wind_sun.pressure_coefficient * 0.5 * AIR_DENSITY * wind**2
    pressure = pressure + AIR_DENSITY * GRAVITY * rise * warmer / kelvin
    speed = np.sqrt(2.0 * pressure / (AIR_DENSITY * wind_sun.loss_coefficient))
    flow = speed * wind_sun.opening_mm2_m * 1e-6  # m³/s for each metre of width
    return np.asarray(3600.0 * flow / (wind_sun.height_m * depth_m))


def leak_flow(leak: c.StackAndWind, inside_k: Array, outside_k: Array, wind_m_s: Array, from_deg: Array) -> Array:
    """Air through leaks [kg/m²s], positive from the room: `core.physics.leak` at the pressure of stack, wind and what the house keeps inside.

    inside_k, outside_k: air that makes the stack [K]; wind_m_s, from_deg: at 10 m in the open.
    """
    inside, outside = dry_air_density(inside_k - ZERO_CELSIUS), dry_air_density(outside_k - ZERO_CELSIUS)
    wind = dynamic_pressure(outside, leak.wind_factor * wind_m_s)
    coefficient = wind_coefficient(
        facing_wind(from_deg, leak.facing_deg), leak.windward_coefficient, leak.leeward_coefficient
    )
    keeps = InsidePressure(
        leak.inside_coefficient, leak.inside_swing, leak.inside_swing_from_deg, leak.inside_steady_pa
    )
    pressure = outside_pressure(coefficient, wind, leak.above_neutral_m, inside, outside) - keeps.at(wind, from_deg)
    return -mass_flow(leak.q50_m3_m2h / 3600.0, leak.exponent, pressure, inside, outside)


class _Builder:
    def __init__(self, case: c.Case, grid: Grid, boundary: Boundary) -> None:
        self.case, self.grid, self.boundary = case, grid, boundary
        self.ratio = vapour_by_air(case.constants.air_pressure_pa)
        self.nodes: list[int] = []
        self.columns: list[Array] = []
        self.kinds: list[PortKind] = []

    def hourly(self, values: Array) -> Array:
        """An hourly climate year on the boundary's steps, from the case's first day on."""
        rolled = np.roll(values, -first_hour(self.case.time.start))
        hour = np.floor(np.arange(self.boundary.steps) * self.boundary.step_s / 3600.0 + 1e-9).astype(int)
        return np.asarray(rolled[hour % len(rolled)])

    def given(self, value: c.SeriesValue) -> Array:
        b = self.boundary
        repeats = self.case.time.repeat != "once"
        return lay(value_of(self.case, value), b.step_s, b.steps, repeats, held=True)[:, 0]

    def air_at(self, end: int) -> tuple[Array, Array]:
        """T [K] and p_v [Pa] of the air at an end. Refused where the end has no air of its own."""
        if tuple(self.boundary.kinds[end]) != (FILM, FILM):
            side = "outside" if end == 0 else "inside"
            raise CaseRefused("cavities and leaks need air with a film at this end", side)
        return self.boundary.series[:, end, T_ENV, 0], self.boundary.series[:, end, PV_ENV, 0]

    def add(self, node: int, kind: PortKind) -> Array:
        column = np.zeros((self.boundary.steps, 6))
        column[:, (T_WATER, T_AIR)] = ROOM_K
        self.nodes.append(node)
        self.columns.append(column)
        self.kinds.append(kind)
        return column

    def cavity(self, cavity: c.CavityAir, where: str) -> None:
        layer = self.case.layers[cavity.layer]
        assert isinstance(layer, c.Layer)
        if not isinstance(layer.thickness_m, float):
            raise CaseRefused("a cavity has a thickness", where)
        if cavity.by_wind_and_sun is not None:
            climate = climate_of_case(self.case, cavity.by_wind_and_sun.climate)
            changes = self.hourly(cavity_changes_per_h(climate, cavity.by_wind_and_sun, layer.thickness_m))
        else:
            assert cavity.changes_per_h is not None
            changes = self.given(cavity.changes_per_h)
        if changes.min() < 0.0:
            raise OutOfRange("air changes below 0", where)
        kelvin, pressure = self.air_at(0 if cavity.of == "outside" else 1)
        flow = AIR_DENSITY * changes * layer.thickness_m / 3600.0
        solid = self.grid.solid_entries.index(cavity.layer)
        outer, inner = self.grid.entry_faces[cavity.layer]
        cells = np.flatnonzero((self.grid.node_layer == solid) & (self.grid.volume > 0.0))
        # The air in the middle is what moves; half of the layer's resistance lies between it and each face.
        part = (self.grid.depth[cells] - self.grid.depth[outer]) / (self.grid.depth[inner] - self.grid.depth[outer])
        cells = cells[np.abs(part - 0.5) < 1.0 / 6.0 + 1e-9]
        for node in cells:
            share = self.grid.volume[node] / self.grid.volume[cells].sum()
            column = self.add(int(node), "cavity")
            column[:, HEAT_EXCHANGE] = AIR_HEAT * flow * share
            column[:, VAPOUR_EXCHANGE] = self.ratio * flow * share
            column[:, T_AIR], column[:, PV_AIR] = kelvin, pressure

    def air_leak(self, leak: c.AirLeak) -> None:
        outside, inside = self.air_at(0), self.air_at(1)
        if leak.by_stack_and_wind is not None:
            climate = climate_of_case(self.case, leak.by_stack_and_wind.climate)
            # the stack is the house's, against the outside even where this element faces a cold space
            names = ("temperature_c", "wind_speed_m_s", "wind_direction_deg")
            celsius, wind, from_deg = (self.hourly(climate[name]) for name in names)
            flow = leak_flow(leak.by_stack_and_wind, inside[0], celsius + ZERO_CELSIUS, wind, from_deg)
        else:
            assert leak.flow_kg_m2s is not None
            flow = self.given(leak.flow_kg_m2s)
        column = self.add(self.grid.entry_faces[leak.after_layer][1], "air leak")
        column[:, VAPOUR_EXCHANGE] = self.ratio * np.abs(flow)
        column[:, HEAT_EXCHANGE] = AIR_HEAT * np.abs(flow)
        for quantity, index in ((T_AIR, 0), (PV_AIR, 1)):
            column[:, quantity] = np.where(flow > 0.0, inside[index], outside[index])

    def rain_leak(self, leak: c.RainLeak) -> None:
        weather = self.case.outside
        if isinstance(weather, c.WeatherEnd):
            climate = climate_of_case(self.case, weather.climate)
            if leak.of == "falling":
                hourly = falling_rain(climate, weather.slope_deg)
            else:
                hourly = driven_rain(climate, weather.facing_deg, weather.rain)
            rain = self.hourly(hourly) / 3600.0
        else:
            assert isinstance(weather, c.OpenEnd) and weather.rain_kg_m2s is not None
            rain = self.given(weather.rain_kg_m2s)
        column = self.add(self.grid.entry_faces[leak.after_layer][1], "rain leak")
        column[:, WATER] = leak.share * rain
        column[:, T_WATER] = self.boundary.series[:, OUTSIDE, T_RAIN, 0]


def build_ports(case: c.Case, grid: Grid, boundary: Boundary) -> Ports:
    """Ports and draught of a case. Raises CaseRefused where air has no known state."""
    builder = _Builder(case, grid, boundary)
    for index, cavity in enumerate(case.air.cavities):
        builder.cavity(cavity, f"air.cavities.{index}")
    for leak in case.air.leaks:
        builder.air_leak(leak)
    for rain in case.air.rain_leaks:
        builder.rain_leak(rain)
    series = np.stack(builder.columns, axis=1) if builder.columns else np.zeros((boundary.steps, 0, 6))
    return Ports(
        np.array(builder.nodes, np.int64),
        np.ascontiguousarray(series),
        builder.kinds,
        np.ascontiguousarray(builder.given(case.air.through_kg_m2s)),
    )
