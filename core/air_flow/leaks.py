"""Air through the leaks of a building, hour by hour: one zone, each leak with its height, face and size, stack and wind together.

The pressure inside is the one at which as much air comes in as goes out (as in ASHRAE Fundamentals, chapter on ventilation, and EN 16798-7);
each leak is a power law q = C Δp^n.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq

from core.climate.data import Climate
from core.errors import OutOfRange
from core.physics.constants import AIR_DENSITY, GRAVITY, ZERO_CELSIUS
from core.physics.leak import (
    BELOW_FLOORS,
    EXPONENT,
    OVER_ROOFS,
    WIND_FACTOR,
    InsidePressure,
    balanced,
    dynamic_pressure,
    facing_wind,
    mass_flow,
    outside_pressure,
    wind_coefficient,
)
from core.physics.moist_air import dry_air_density, humidity_ratio, saturation_pressure

Array = NDArray[np.float64]
BY_TERRAIN = {
    "I": 0.75,
    "II": 0.65,
    "III": 0.5,
    "IV": 0.35,
}  # of the wind at 10 m in the open, by the terrain of ISO 15927-3; ours
COLD_C, LEAST_HOURS = 10.0, 500  # the hours in which room air that goes out wets; all hours where there are fewer
MOST_OFF_PA = 3.0  # how far the steady pressure may lie from its fit


@dataclass(frozen=True)
class Leak:
    """q50_m3_h: what it lets through at 50 Pa; height_m above any common zero; facing_deg of its wall, None where it lies in a roof,
    ceiling or floor; over: it lies at the top (suction of the wind), else below."""

    key: str
    q50_m3_h: float
    height_m: float
    facing_deg: float | None = None
    over: bool = True
    exponent: float = EXPONENT


@dataclass(frozen=True)
class AirYear:
    """flows[leak, hour] in kg/h, positive inward. changes: of the volume, by what comes in [1/h]; inside_pa: at the common zero, against outside."""

    leaks: list[Leak]
    flows: Array
    changes: Array
    inside_pa: Array
    neutral_m: Array

    def parts_of(self, key: str) -> Array:
        """Hourly flow [part, hour] of a leak in its parts, the lowest first [kg/h], positive inward; one part of nothing where it is closed."""
        rows = [self.flows[index] for index, leak in enumerate(self.leaks) if leak.key == key]
        return np.array(rows) if rows else np.zeros((1, self.flows.shape[1]))

    def outward_m3_h(self, key: str) -> tuple[float, float]:
        """(mean inward, mean outward) flow of a leak over the year [m³/h of 1.2 kg/m³]."""
        flow = self.parts_of(key) / AIR_DENSITY
        return float(np.maximum(flow, 0.0).sum(axis=0).mean()), float(np.maximum(-flow, 0.0).sum(axis=0).mean())


def pressure_coefficients(leaks: list[Leak], from_deg: Array) -> Array:
    """C_p [leak, hour] by the direction the wind comes from."""
    rows = []
    for leak in leaks:
        if leak.facing_deg is None:
            rows.append(np.full(len(from_deg), OVER_ROOFS if leak.over else BELOW_FLOORS))
            continue
        rows.append(wind_coefficient(facing_wind(from_deg, leak.facing_deg)))
    return np.array(rows)


def air_through(
    leaks: list[Leak],
    inside_c: Array,
    outside_c: Array,
    wind_m_s: Array,
    from_deg: Array,
    volume_m3: float,
    fan_kg_h: Array | float = 0.0,
    wind_factor: float = WIND_FACTOR,
) -> AirYear:
    """Flow through every leak for every hour. fan: what fans supply less what they extract [kg/h].

    Raises OutOfRange without leaks, or with a volume or a leak below 0.
    """
    if not leaks or sum(leak.q50_m3_h for leak in leaks) <= 0.0:
        raise OutOfRange("there are no leaks to share the air over", "add the leakage of a test")
    if volume_m3 <= 0.0 or min(leak.q50_m3_h for leak in leaks) < 0.0:
        raise OutOfRange("a volume, and each leak, is above 0")
    rho_in, rho_out = dry_air_density(inside_c), dry_air_density(outside_c)
    wind = dynamic_pressure(rho_out, wind_factor * wind_m_s)
    coefficients = pressure_coefficients(leaks, from_deg)
    head = np.array(
        [
            outside_pressure(cp, wind, leak.height_m, rho_in, rho_out)
            for cp, leak in zip(coefficients, leaks, strict=True)
        ]
    )
    fan = np.broadcast_to(np.asarray(fan_kg_h, float), rho_in.shape).copy()
    q50 = np.array([leak.q50_m3_h for leak in leaks])
    flows, inside = balanced(q50, np.array([leak.exponent for leak in leaks]), head, rho_in, rho_out, fan)
    come_in = np.maximum(flows, 0.0).sum(axis=0) + np.maximum(fan, 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        neutral = -inside / (GRAVITY * (rho_out - rho_in))
    return AirYear(leaks, flows, come_in / rho_out / volume_m3, inside, neutral)


@dataclass(frozen=True)
class HouseAt:
    """Where a leak stands in its house: its height above the neutral height, the share of the open wind at the house, and the pressure the house keeps."""

    above_neutral_m: float
    wind_factor: float
    inside: InsidePressure


def house_at(
    year: AirYear, key: str, climate: Climate, inside_c: Array | float, wind_factor: float = WIND_FACTOR
) -> HouseAt:
    """What the highest part of a leak, where room air goes out and wets, takes of the whole house: the pressure inside in five figures, so that a wall's year
    lets through what the ledger states.

    Fitted over the hours below COLD_C by least squares (neutral height, wind inside by direction, fans); then the steady pressure is the one with which that part
    lets out as much as it does in the ledger. Hour by hour the flow is within a tenth of its mean, within a quarter where fans
    press the neutral height out of a tight house; its mean is the ledger's.
    Raises OutOfRange where the leak is not in the year.
    """
    index = max(
        (i for i, leak in enumerate(year.leaks) if leak.key == key), key=lambda i: year.leaks[i].height_m, default=None
    )
    if index is None:
        raise OutOfRange(f"nothing leaks at “{key}”", "take it from a ledger that has it")
    leak = year.leaks[index]
    outside_c, from_deg = climate["temperature_c"], climate["wind_direction_deg"]
    hours = outside_c < COLD_C
    if hours.sum() < LEAST_HOURS:
        hours = np.ones_like(hours)
    outside = dry_air_density(outside_c[hours])
    inside = dry_air_density(np.broadcast_to(np.asarray(inside_c, float), outside_c.shape)[hours])
    wind = dynamic_pressure(outside, wind_factor * climate["wind_speed_m_s"][hours])
    from_deg = from_deg[hours]
    angle = np.radians(from_deg)
    columns = (-GRAVITY * (outside - inside), wind, wind * np.cos(angle), wind * np.sin(angle), np.ones_like(wind))
    neutral, mean, north, east, steady = np.linalg.lstsq(np.stack(columns, axis=1), year.inside_pa[hours], rcond=None)[
        0
    ]
    above = round(leak.height_m - float(neutral), 2)
    keeps = InsidePressure(
        round(float(mean), 4), round(float(np.hypot(north, east)), 4),
        round(float(np.degrees(np.arctan2(east, north))) % 360.0, 1) % 360.0, float(steady),
    )  # fmt: skip
    stated = float(np.maximum(-year.flows[index][hours], 0.0).mean())
    pressure = outside_pressure(pressure_coefficients([leak], from_deg)[0], wind, above, inside, outside)
    by_wind = replace(keeps, steady_pa=0.0).at(wind, from_deg)

    def more_goes_out(steady_pa: float) -> float:
        flow = mass_flow(leak.q50_m3_h, leak.exponent, pressure - by_wind - steady_pa, inside, outside)
        return float(np.maximum(-flow, 0.0).mean()) - stated

    low, high = keeps.steady_pa - MOST_OFF_PA, keeps.steady_pa + MOST_OFF_PA
    if more_goes_out(low) < 0.0 < more_goes_out(high):
        keeps = replace(keeps, steady_pa=float(brentq(more_goes_out, low, high, xtol=1e-5)))
    return HouseAt(above, wind_factor, replace(keeps, steady_pa=round(keeps.steady_pa, 4)))


def air_year(
    leaks: list[Leak],
    climate: Climate,
    inside_c: Array | float,
    volume_m3: float,
    fan_kg_h: Array | float = 0.0,
    wind_factor: float = WIND_FACTOR,
) -> AirYear:
    """The same over a year of a climate. inside_c: hourly, or one temperature."""
    inside = np.broadcast_to(np.asarray(inside_c, float), (climate.hours,)).copy()
    return air_through(
        leaks, inside, climate["temperature_c"], climate["wind_speed_m_s"], climate["wind_direction_deg"], volume_m3, fan_kg_h, wind_factor
    )  # fmt: skip


@dataclass(frozen=True)
class Carried:
    """What passing air could do to what it passes through, in a year at most [kg]: dries, by outside air that warms to the middle of it and leaves it
    saturated; wets, by room air that cools to outside and leaves there what it cannot hold."""

    dries_kg: float
    wets_kg: float


@dataclass(frozen=True)
class Potential:
    """What each kg of passing air could take up, and leave, hour by hour [kg/kg]; the same for every leak of a building."""

    dries: Array
    wets: Array


def potential(climate: Climate, inside_c: Array | float, inside_rh: Array | float) -> Potential:
    """inside_rh: hourly, or one value, 0 to 1."""
    outside = climate["temperature_c"]
    inside = np.broadcast_to(np.asarray(inside_c, float), outside.shape)
    out_w = humidity_ratio(climate["relative_humidity"] * saturation_pressure(outside + ZERO_CELSIUS))
    in_w = humidity_ratio(inside_rh * saturation_pressure(inside + ZERO_CELSIUS))
    middle = humidity_ratio(saturation_pressure(0.5 * (inside + outside) + ZERO_CELSIUS))
    cold = humidity_ratio(saturation_pressure(np.minimum(outside, inside) + ZERO_CELSIUS))
    return Potential(np.maximum(middle - out_w, 0.0), np.maximum(in_w - cold, 0.0))


def carried(flow_kg_h: Array, air: Potential) -> Carried:
    """Upper limits over a year. flow_kg_h: hourly, or in parts [part, hour], positive inward."""
    dries = np.maximum(flow_kg_h, 0.0) * air.dries
    wets = np.maximum(-flow_kg_h, 0.0) * air.wets
    return Carried(float(dries.sum()), float(wets.sum()))
