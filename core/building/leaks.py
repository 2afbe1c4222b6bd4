"""Air through the leaks of a building, hour by hour: one zone, each leak with its height, face and size, stack and wind together.

The pressure inside is the one at which as much air comes in as goes out (as in ASHRAE Fundamentals, chapter on ventilation, and EN 16798-7);
each leak is a power law q = C Δp^n.
"""

from __future__ import annotations

from dataclasses import dataclass

import numba
import numpy as np
from numpy.typing import NDArray

from core.air import ZERO_CELSIUS, saturation_pressure
from core.climate.data import Climate
from core.errors import OutOfRange

Array = NDArray[np.float64]
GRAVITY, GAS_CONSTANT_AIR, PRESSURE = 9.81, 287.055, 101325.0
EXPONENT = 0.65
LAMINAR_PA = 0.01  # below it a leak is linear, so that calm hours have a slope to find the pressure by
# Pressure coefficients of sheltered low buildings: windward and leeward wall as the hourly years of walls take them, by the cosine of
# the wind's angle; suction over roofs and in attics, none below a floor. Estimates of ours between published tables.
WINDWARD, LEEWARD, OVER_ROOFS, BELOW_FLOORS = 0.25, -0.25, -0.15, 0.0
WIND_FACTOR = 0.5  # of the wind at 10 m in the open, at the faces of a low building in a suburb or between trees
BY_TERRAIN = {"I": 0.75, "II": 0.65, "III": 0.5, "IV": 0.35}  # the same by the terrain of ISO 15927-3; ours


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
        flow = self.parts_of(key) / 1.2
        return float(np.maximum(flow, 0.0).sum(axis=0).mean()), float(np.maximum(-flow, 0.0).sum(axis=0).mean())


def density(celsius: Array | float) -> Array:
    """Dry air at a temperature [kg/m³]."""
    return np.asarray(PRESSURE / (GAS_CONSTANT_AIR * (np.asarray(celsius) + ZERO_CELSIUS)))


@numba.njit(cache=True)
def _flow(c: float, n: float, dp: float, rho_in: float, rho_out: float) -> tuple[float, float]:
    """(mass flow inward [kg/h], its derivative by dp) of one leak at a pressure difference outside − inside [Pa]."""
    rho = rho_out if dp > 0.0 else rho_in
    size = abs(dp)
    if size < LAMINAR_PA:
        slope = c * LAMINAR_PA ** (n - 1.0) * rho
        return slope * dp, slope
    flow = c * size**n * rho
    return (flow if dp > 0.0 else -flow), n * flow / size


@numba.njit(cache=True)
def _solve(c, n, head, rho_in, rho_out, fan):  # type: ignore[no-untyped-def]
    """(flows [leak, hour], inside pressure [hour]): Newton on the one pressure, kept within its bracket.

    head[leak, hour]: outside pressure at the leak less the weight of the inside column; fan [kg/h]: supplied less extracted.
    """
    leaks, hours = head.shape
    flows = np.zeros((leaks, hours))
    inside = np.zeros(hours)
    for h in range(hours):
        total_c = 0.0
        for i in range(leaks):
            total_c += c[i]
        if total_c <= 0.0:
            continue
        low, high = head[0, h], head[0, h]
        for i in range(leaks):
            low, high = min(low, head[i, h]), max(high, head[i, h])
        # a fan may press beyond every outside pressure: far enough that the smallest power law carries it
        reach = (abs(fan[h]) / (total_c * 0.5)) ** 2.0 + 1.0
        low, high = low - reach, high + reach
        p = 0.5 * (low + high) if h == 0 else min(max(inside[h - 1], low), high)
        for _ in range(80):
            balance, slope = fan[h], 0.0
            for i in range(leaks):
                flow, derivative = _flow(c[i], n[i], head[i, h] - p, rho_in[h], rho_out[h])
                balance += flow
                slope += derivative
            if abs(balance) < 1e-9 * total_c or high - low < 1e-12:
                break
            if balance > 0.0:
                low = p
            else:
                high = p
            step = p + balance / slope
            p = step if low < step < high else 0.5 * (low + high)
        inside[h] = p
        for i in range(leaks):
            flows[i, h], _ = _flow(c[i], n[i], head[i, h] - p, rho_in[h], rho_out[h])
    return flows, inside


def pressure_coefficients(leaks: list[Leak], from_deg: Array) -> Array:
    """C_p [leak, hour] by the direction the wind comes from."""
    rows = []
    for leak in leaks:
        if leak.facing_deg is None:
            rows.append(np.full(len(from_deg), OVER_ROOFS if leak.over else BELOW_FLOORS))
            continue
        front = np.cos(np.radians(from_deg - leak.facing_deg))
        rows.append(0.5 * (WINDWARD + LEEWARD) + 0.5 * (WINDWARD - LEEWARD) * front)
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
    c = np.array([leak.q50_m3_h / 50.0**leak.exponent for leak in leaks])
    n = np.array([leak.exponent for leak in leaks])
    z = np.array([leak.height_m for leak in leaks])
    rho_in, rho_out = density(inside_c), density(outside_c)
    speed = wind_factor * wind_m_s
    head = pressure_coefficients(leaks, from_deg) * 0.5 * rho_out * speed**2 - z[:, None] * GRAVITY * (rho_out - rho_in)
    fan = np.broadcast_to(np.asarray(fan_kg_h, float), rho_in.shape).copy()
    flows, inside = _solve(c, n, np.ascontiguousarray(head), rho_in, rho_out, fan)
    come_in = np.maximum(flows, 0.0).sum(axis=0) + np.maximum(fan, 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        neutral = -inside / (GRAVITY * (rho_out - rho_in))
    return AirYear(leaks, flows, come_in / rho_out / volume_m3, inside, neutral)


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
    out_w = _ratio(climate["relative_humidity"] * saturation_pressure(outside + ZERO_CELSIUS))
    in_w = _ratio(inside_rh * saturation_pressure(inside + ZERO_CELSIUS))
    middle = _ratio(saturation_pressure(0.5 * (inside + outside) + ZERO_CELSIUS))
    cold = _ratio(saturation_pressure(np.minimum(outside, inside) + ZERO_CELSIUS))
    return Potential(np.maximum(middle - out_w, 0.0), np.maximum(in_w - cold, 0.0))


def carried(flow_kg_h: Array, air: Potential) -> Carried:
    """Upper limits over a year. flow_kg_h: hourly, or in parts [part, hour], positive inward."""
    dries = np.maximum(flow_kg_h, 0.0) * air.dries
    wets = np.maximum(-flow_kg_h, 0.0) * air.wets
    return Carried(float(dries.sum()), float(wets.sum()))


def _ratio(pressure: Array) -> Array:
    """kg of vapour for each kg of dry air."""
    return 0.622 * pressure / (PRESSURE - pressure)
