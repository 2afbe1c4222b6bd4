"""Air through leaks: the power law, and the pressure that stack and wind put on a leak. One physics for the building's ledger and for a wall's year.

A leak lets through q = C_L (ρ0/ρ)^(1−n) Δp^n at an air density ρ (ISO 9972: C_L is of air at 20 °C and 101325 Pa), as mass C_L ρ0 (ρ/ρ0)^n Δp^n,
of the air that moves: the outside's inward, the room's outward. At a leak the pressure is the wind's, less the weight that the column of inside air
has against the same of outside air (ASHRAE Fundamentals, chapter on ventilation; EN 16798-7).
"""

from __future__ import annotations

from dataclasses import dataclass

import numba
import numpy as np
from numpy.typing import NDArray

from core.physics.constants import GAS_CONSTANT_AIR, GRAVITY, ROOM_K, STANDARD_PRESSURE

Array = NDArray[np.float64]
EXPONENT = 0.65
REFERENCE_DENSITY = STANDARD_PRESSURE / (
    GAS_CONSTANT_AIR * ROOM_K
)  # 1.204 kg/m³: of the air that a test's leakage is stated for
LAMINAR_PA = 0.01  # below it a leak is linear, so that calm hours have a slope to find the pressure by
# Pressure coefficients of sheltered low buildings: windward and leeward wall, by the cosine of the wind's angle; suction over roofs and in
# attics, none below a floor. Estimates of ours between published tables.
WINDWARD, LEEWARD, OVER_ROOFS, BELOW_FLOORS = 0.25, -0.25, -0.15, 0.0
WIND_FACTOR = 0.5  # of the wind at 10 m in the open, at the faces of a low building in a suburb or between trees
REACH_SHARE, REACH_MORE_PA = 0.5, 1.0  # how far beyond every outside pressure a fan may press: see `balanced`


@dataclass(frozen=True)
class InsidePressure:
    """What a house keeps inside against outside at its neutral height: what wind leaves there as a share of its dynamic pressure, a mean and a swing by
    where it comes from, and what fans keep [Pa]."""

    coefficient: float = 0.0
    swing: float = 0.0
    swing_from_deg: float = 0.0
    steady_pa: float = 0.0

    def at(self, dynamic_pa: Array, from_deg: Array) -> Array:
        """Hourly [Pa], of the wind's dynamic pressure at the house and the direction it comes from."""
        by_wind = self.coefficient + self.swing * np.cos(np.radians(from_deg - self.swing_from_deg))
        return np.asarray(by_wind * dynamic_pa + self.steady_pa)


def dynamic_pressure(outside_density: Array, wind_m_s: Array) -> Array:
    """ρ v²/2 [Pa], of outside air [kg/m³] and the wind at the house."""
    return np.asarray(0.5 * outside_density * wind_m_s**2)


def wind_coefficient(front: Array, windward: float = WINDWARD, leeward: float = LEEWARD) -> Array:
    """C_p of a wall, between windward and leeward by the cosine `front` of the wind's angle to it."""
    return np.asarray(0.5 * (windward + leeward) + 0.5 * (windward - leeward) * front)


def facing_wind(from_deg: Array, facing_deg: float) -> Array:
    """Cosine of the angle between where the wind comes from and where a face looks."""
    return np.asarray(np.cos(np.radians(from_deg - facing_deg)))


def outside_pressure(
    coefficient: Array | float, dynamic_pa: Array, height_m: float, inside: Array, outside: Array
) -> Array:
    """Pressure at a leak from outside against the room's at height 0 [Pa]: the wind's less the weight of the column of inside air against outside air.
    inside, outside: densities [kg/m³]."""
    return np.asarray(coefficient * dynamic_pa - height_m * GRAVITY * (outside - inside))


def mass_flow(q50: float, exponent: float, pressure: Array, inside: Array, outside: Array) -> Array:
    """Mass inward through a leak in the unit of q50 (m³/s to kg/s, m³/h to kg/h), positive where `pressure`, outside less inside [Pa], is. inside, outside:
    densities [kg/m³]."""
    rho = np.where(pressure > 0.0, outside, inside)
    size = np.abs(pressure)
    # power law, linear below LAMINAR_PA
    by_pressure = np.where(size < LAMINAR_PA, size * LAMINAR_PA ** (exponent - 1.0), size**exponent)
    return np.asarray(np.sign(pressure) * leak_coefficient(q50, exponent) * by_pressure * _thickened(rho, exponent))


def leak_coefficient(q50: float, exponent: float) -> float:
    """C_L of q = C_L Δp^n, of the flow at 50 Pa."""
    return float(q50 / 50.0**exponent)


def _thickened(rho: Array, exponent: Array | float) -> Array:
    """Mass for each unit of C_L Δp^n [kg/m³]: ρ0 (ρ/ρ0)^n."""
    return np.asarray(REFERENCE_DENSITY * (rho / REFERENCE_DENSITY) ** exponent)


@numba.njit(cache=True)
def _flow(c: float, n: float, dp: float, mass_in: float, mass_out: float) -> tuple[float, float]:
    """(mass flow inward, its derivative by dp) of one leak at a pressure difference outside − inside [Pa]. mass_in, mass_out: for each unit of C_L Δp^n."""
    mass = mass_in if dp > 0.0 else mass_out
    size = abs(dp)
    if size < LAMINAR_PA:
        slope = c * LAMINAR_PA ** (n - 1.0) * mass
        return slope * dp, slope
    flow = c * size**n * mass
    return (flow if dp > 0.0 else -flow), n * flow / size


@numba.njit(cache=True)
def _balanced(c, n, head, mass_in, mass_out, fan):  # type: ignore[no-untyped-def]
    """(flows [leak, hour], inside pressure [hour]): Newton on the one pressure, kept within its bracket."""
    leaks, hours = head.shape
    flows = np.zeros((leaks, hours))
    inside = np.zeros(hours)
    total_c = 0.0
    for i in range(leaks):
        total_c += c[i]
    if total_c <= 0.0:
        return flows, inside
    for h in range(hours):
        low, high = head[0, h], head[0, h]
        for i in range(leaks):
            low, high = min(low, head[i, h]), max(high, head[i, h])
        # a fan may press beyond every outside pressure: far enough that the smallest power law carries it
        reach = (abs(fan[h]) / (total_c * REACH_SHARE)) ** 2.0 + REACH_MORE_PA
        low, high = low - reach, high + reach
        p = 0.5 * (low + high) if h == 0 else min(max(inside[h - 1], low), high)
        for _ in range(80):
            balance, slope = fan[h], 0.0
            for i in range(leaks):
                flow, derivative = _flow(c[i], n[i], head[i, h] - p, mass_in[i, h], mass_out[i, h])
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
            flows[i, h], _ = _flow(c[i], n[i], head[i, h] - p, mass_in[i, h], mass_out[i, h])
    return flows, inside


def balanced(
    q50: Array, exponent: Array, head: Array, inside: Array, outside: Array, fan: Array
) -> tuple[Array, Array]:
    """The pressure inside at which as much air comes in as goes out, hour by hour.

    q50[leak] in m³/h; head[leak, hour]: `outside_pressure` at each; inside, outside[hour]: densities [kg/m³]; fan[hour]: supplied less extracted [kg/h].
    Returns (flows [leak, hour] in kg/h, positive inward; inside pressure at height 0 [Pa]).
    """
    c = np.array([leak_coefficient(q, n) for q, n in zip(q50, exponent, strict=True)])
    n = exponent[:, None]
    return _balanced(c, exponent, np.ascontiguousarray(head), _thickened(outside, n), _thickened(inside, n), fan)
