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


def falling_rain(climate: Climate, slope_deg: float) -> Array:
    """Rain that falls on a slope [kg/(m² h)] per hour of its own area, without wind: r cos(slope); none from 90° on."""
    return np.asarray(climate["rain_mm"] * max(float(np.cos(np.radians(slope_deg))), 0.0))


@lru_cache(maxsize=256)
def rain_weighted_wind(climate_name: str, facing_deg: float) -> float:
    """Mean wind onto a face weighted by the driven rain it brings [m/s]; 0 where no rain is driven onto it."""
    climate = shipped(climate_name)
    rain = driven_rain(climate, facing_deg, DrivenRain())
    if rain.sum() <= 0.0:
        return 0.0
    front = np.maximum(np.cos(np.radians(climate["wind_direction_deg"] - facing_deg)), 0.0)
    return float((climate["wind_speed_m_s"] * front * rain).sum() / rain.sum())


RAIN_FACE_MM = 100.0
"""Driven rain on a face in a year from which it is called a rain face; ours. The mean of a dry place is none."""


def is_rain_face(driven_rain_mm: float) -> bool:
    """Whether a face with so much driven rain a year, with its factors, is a rain face."""
    return driven_rain_mm >= RAIN_FACE_MM


@lru_cache(maxsize=512)
def yearly_driven_rain(climate: str, facing: float, factors: DrivenRain) -> float:
    """kg/m² (mm) of driven rain offered to a face [° from north] in the year of a climate, by its name."""
    return float(driven_rain(shipped(climate), facing, factors).sum())
