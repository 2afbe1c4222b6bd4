"""A room's air beside a hygroscopic surface divided finely: what the two layers of `core.zones.hourly` are held to.

One room at 20 °C with a source of vapour, air from outside, and a surface of 60 mm in 60 cells that grow inward, implicit in steps of
five minutes: nothing of it is shared with the zones but the constants.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.physics.constants import GAS_CONSTANT_VAPOUR, ROOM_K, STANDARD_PRESSURE, ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure, vapour_by_air
from core.zones.hourly import zone_year
from core.zones.model import DELTA_AIR, HOUR, VAPOUR_FILM, AirFlow, Buffer, Building, Chain, Zone

CELLS, GROWS, DEEP_M, STEP_S = 60, 1.12, 0.06, 300.0
VOLUME_M3, AIR_KG_H, WARM_C, OUTSIDE_PA = 250.0, 90.0, 20.0, 1170.0
Array = NDArray[np.float64]


@dataclass(frozen=True)
class Bursts:
    """A habit: kg/h of vapour by the hour of the run, and the period that repeats [h]."""

    name: str
    gives: Callable[[int], float]
    period_h: int


HABITS = (
    Bursts("a burst of an hour", lambda h: 1.2 if h % 24 < 1 else 0.0, 24),
    Bursts("a bath and cooking, two hours", lambda h: 1.2 if h % 24 < 2 else 0.0, 24),
    Bursts("a damp weekend", lambda h: 0.5 if h % 168 < 48 else 0.05, 168),
)
SURFACES = (Buffer(300.0), Buffer(625.0), Buffer(150.0, 50.0, 60.0))


def fine_swing(buffer: Buffer, habit: Bursts, periods: int) -> float:
    """Highest less lowest hourly RH (0 to 1) of the last period."""
    full = float(saturation_pressure(WARM_C + ZERO_CELSIUS))
    permeability = DELTA_AIR / buffer.mu
    cells = DEEP_M * (GROWS - 1.0) / (GROWS**CELLS - 1.0) * GROWS ** np.arange(CELLS)
    between = permeability / (0.5 * (cells[:-1] + cells[1:])) * full
    outer = 1.0 / (1.0 / VAPOUR_FILM + 0.5 * cells[0] / permeability)
    holds, air = VOLUME_M3 / (GAS_CONSTANT_VAPOUR * ROOM_K), AIR_KG_H / HOUR * vapour_by_air(STANDARD_PRESSURE)
    stores = cells * buffer.slope_kg_m3 / STEP_S
    matrix = np.zeros((CELLS + 1, CELLS + 1))
    matrix[0, :2] = holds / STEP_S + air + buffer.area_m2 * outer, -buffer.area_m2 * outer * full
    matrix[1, 0] = -outer
    matrix[1:, 1:] = np.diag(stores) + np.diag(np.r_[outer * full, between]) + np.diag(np.r_[between, 0.0])
    matrix[1:, 1:] -= np.diag(between, 1) + np.diag(between, -1)
    inverse = np.linalg.inv(matrix)
    pressure, rh = OUTSIDE_PA, np.full(CELLS, OUTSIDE_PA / full)
    each = round(HOUR / STEP_S)
    hourly = np.zeros(periods * habit.period_h)
    for hour in range(len(hourly)):
        for _ in range(each):
            given = holds / STEP_S * pressure + air * OUTSIDE_PA + habit.gives(hour) / HOUR
            answer = inverse @ np.r_[given, stores * rh]
            pressure, rh = float(answer[0]), answer[1:]
            hourly[hour] += pressure / full / each
    return float(np.ptp(hourly[-habit.period_h :]))


def zone_swing(buffer: Buffer, habit: Bursts, periods: int) -> float:
    """The same of a zone with its two layers."""
    hours = periods * habit.period_h
    flat = np.ones(hours)
    outside = OUTSIDE_PA / float(saturation_pressure(WARM_C + ZERO_CELSIUS))
    room = Zone(
        "room",
        VOLUME_M3,
        heat_to_c=WARM_C * flat,
        vapour_kg_h=np.array([habit.gives(h) for h in range(hours)]),
        buffers=(buffer,),
    )
    wall = Chain("wall", 10.0, 0, (0.5,), outer_c=WARM_C * flat)
    year = zone_year(
        Building([room], [wall], [AirFlow("air", -1, 0, AIR_KG_H * flat)], WARM_C * flat, outside * flat), 12, years=1
    )
    return float(np.ptp(year.rh[0, -habit.period_h :]))
