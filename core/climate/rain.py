"""Driven rain on a face from hourly rain and wind."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from core.case import DrivenRain
from core.climate.data import Climate

Array = NDArray[np.float64]


def driven_rain(climate: Climate, facing_deg: float, rain: DrivenRain) -> Array:
    """Rain on a wall [kg/(m² h)] per hour, before run-off.

    iso15927_3: 2/9 · v · r^(8/9) · cos(D − θ) · C_R · C_T · O · W (ISO 15927-3, hourly index).
    rate_wind: coefficient · v · r · cos(D − θ) · exposure · deposition (driven-rain rate times wind).
    Only wind from the front brings rain.
    """
    if rain.method == "none":
        return np.zeros(climate.hours)
    speed, amount = climate["wind_speed_m_s"], climate["rain_mm"]
    front = np.maximum(np.cos(np.radians(climate["wind_direction_deg"] - facing_deg)), 0.0)
    if rain.method == "iso15927_3":
        factor = rain.terrain_factor * rain.topography_factor * rain.obstruction_factor * rain.wall_factor
        return np.asarray(2.0 / 9.0 * speed * amount ** (8.0 / 9.0) * front * factor)
    factor = rain.coefficient_s_m * rain.exposure_factor * rain.deposition_factor
    return np.asarray(factor * speed * amount * front)
