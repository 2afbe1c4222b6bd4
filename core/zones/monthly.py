"""The need for heat by months, with the utilisation factor of gains (ISO 52016-1 monthly, as ISO 13790 printed it): a second opinion beside the hourly year.

It knows no cold space but by its factor b, no sun on walls and roofs, no hour and no peak. Where the two lie far apart, something of the building needs the hours.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.buildup.model import BuildUp, is_insulation
from core.climate.data import DAYS_IN_MONTHS, Climate
from core.climate.ground import months_wave
from core.errors import OutOfRange
from core.materials.library import Solid
from core.physics.constants import AIR_HEAT
from core.thermal.iso6946 import transmittance
from core.zones.assemble import FURNITURE_J_M2K, BuildingYear, Part, ground_heat
from core.zones.balance import monthly
from core.zones.factors import part_u, space_losses
from core.zones.stated import Ventilation

Array = NDArray[np.float64]
A0, TAU0_H = 1.0, 15.0
REACH_M = 0.10  # of a layer's mass that follows the day, at most, and never beyond insulation (ISO 13786, simple)
AIR_WH_KG = AIR_HEAT / 3600.0


def utilisation(gamma: float, a: float) -> float:
    """η of gains for heating where there are losses (γ = gains over losses, not below 0): (1 − γ^a)/(1 − γ^(a+1)); a/(a+1) where they are equal."""
    if gamma < 0.0 or a <= 0.0:
        raise OutOfRange("the utilisation factor is of gains over losses, both of them gains and losses")
    if abs(gamma - 1.0) < 1e-9:
        return a / (a + 1.0)
    if gamma > 1.0:  # the same, divided through by γ^(a+1), so that nothing overflows where hardly anything is lost
        return (1.0 - gamma**-a) / (1.0 - gamma ** (-a - 1.0)) / gamma
    return (1.0 - gamma**a) / (1.0 - gamma ** (a + 1.0))


def capacity(build_up: BuildUp) -> float:
    """κ of the room's side [J/(m² K)]: mass within 10 cm, up to the first insulation."""
    left, total = REACH_M, 0.0
    for layer in reversed(build_up.layers):
        entry = layer.entry
        if left <= 0.0 or is_insulation(layer):
            break
        depth = min(layer.thickness, left)
        if isinstance(entry, Solid):
            total += entry.density_kg_m3 * entry.specific_heat_j_kgk * depth
        left -= layer.thickness
    return total


@dataclass(frozen=True)
class MonthlyNeed:
    """need, losses, gains [kWh] and η of each month, 0 where nothing is lost; h_w_k: transmission and air, mean of the year; tau_h: time constant."""

    need_kwh: list[float]
    losses_kwh: list[float]
    gains_kwh: list[float]
    eta: list[float]
    h_w_k: float
    tau_h: float

    @property
    def heating_kwh(self) -> float:
        return sum(self.need_kwh)


def monthly_need(made: BuildingYear, climate: Climate) -> MonthlyNeed:
    """Of a state whose hourly year is there: its air and its gains are summed by month; transmission is reckoned anew from U, b and ISO 13370."""
    state = made.state
    inside = state.heat_to_c
    factors = {key: one.b for key, one in space_losses(state).items()}
    direct = 0.0
    ground = np.zeros(12)
    mean, amplitude, coldest = months_wave(climate)
    for part in state.parts:
        if part.build_up is not None and part.ground is not None:
            heat = ground_heat(part, transmittance(part.build_up, part.kind))
            if heat is not None:
                ground += np.array(heat.flow_w((inside, 0.0), (mean, amplitude), coldest))
                continue
        u = part_u(part)
        if u is not None:
            direct += part.area_m2 * u * _b(part, factors)
    mass = FURNITURE_J_M2K * max(state.floor_m2, 1.0)
    mass += sum(capacity(part.build_up) * part.area_m2 for part in state.parts if part.build_up is not None)
    outside = _months(climate["temperature_c"])
    air = _months(_air_w_k(made, state.stated.ventilation))
    difference = inside - outside
    hours = np.array(DAYS_IN_MONTHS) * 24.0
    losses = ((direct + air) * difference + ground) * hours / 1000.0
    gains = _months(made.solar_w + made.inner_w) * hours / 1000.0
    h = direct + float(air.mean()) + float(ground.mean()) / max(float(difference.mean()), 1e-9)
    tau = mass / 3600.0 / h
    a = A0 + tau / TAU0_H
    eta = [utilisation(g / q, a) if q > 0.0 else 0.0 for g, q in zip(gains, losses, strict=True)]
    need = [max(float(q - n * g), 0.0) if q > 0.0 else 0.0 for q, g, n in zip(losses, gains, eta, strict=True)]
    return MonthlyNeed(need, losses.tolist(), gains.tolist(), [float(n) for n in eta], h, tau)


def _b(part: Part, spaces: dict[str, float]) -> float:
    if part.side in spaces:
        return spaces[part.side]
    return part.b if part.b is not None else 1.0


def _months(values: Array) -> Array:
    return np.array(monthly(values))


def _air_w_k(made: BuildingYear, ventilation: Ventilation) -> Array:
    """Heat that outside air takes for each degree, hourly [W/K]: leaks, airing, the unit less what it gives back, what is drawn through cold spaces."""
    total = np.zeros(len(made.solar_w))
    for key, rate in zip(made.flow_keys, made.flows, strict=True):
        if key in ("leaks", "airing") or key.endswith(":down"):
            total += rate * AIR_WH_KG
        elif key == "balanced":
            total += rate * AIR_WH_KG * (1.0 - ventilation.heat_recovered)
    return total
