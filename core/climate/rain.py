"""Driven rain on a face from hourly rain and wind."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from core.case import DrivenRain
from core.climate.data import Climate, shipped

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


@lru_cache(maxsize=256)
def rain_weighted_wind(climate_name: str, facing_deg: float) -> float:
    """Mean wind onto a face weighted by the driven rain it brings [m/s]; 0 where no rain is driven onto it."""
    climate = shipped(climate_name)
    rain = driven_rain(climate, facing_deg, DrivenRain())
    if rain.sum() <= 0.0:
        return 0.0
    front = np.maximum(np.cos(np.radians(climate["wind_direction_deg"] - facing_deg)), 0.0)
    return float((climate["wind_speed_m_s"] * front * rain).sum() / rain.sum())


@lru_cache(maxsize=64)
def takes_more_than_the_mean(climate_name: str, facing_deg: float) -> bool:
    """A rain face: its yearly driven rain lies above the mean of the eight facings, with equal factors."""
    climate = shipped(climate_name)
    sums = [float(driven_rain(climate, 45.0 * i, DrivenRain()).sum()) for i in range(8)]
    return float(driven_rain(climate, facing_deg, DrivenRain()).sum()) > sum(sums) / 8.0
