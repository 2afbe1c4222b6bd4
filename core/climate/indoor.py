"""Indoor air from outdoor air, EN 15026 Annex C (curves as remembered; the text is not at hand)."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from core.climate.data import Climate, running_daily_mean

Array = NDArray[np.float64]
Occupancy = Literal["normal", "high"]


def indoor_relative_humidity(outdoor_daily_mean_c: Array, occupancy: Occupancy) -> Array:
    """RH 0 to 1: normal 30 % at −10 °C and below, 60 % at 20 °C and above; high 10 points more."""
    base = np.interp(outdoor_daily_mean_c, [-10.0, 20.0], [0.30, 0.60])
    return base + (0.10 if occupancy == "high" else 0.0)


def indoor_temperature_c(outdoor_daily_mean_c: Array, winter_set_point_c: float, summer_c: float) -> Array:
    """°C: the set-point up to 10 °C outside, rising to the summer temperature at 20 °C."""
    return np.interp(outdoor_daily_mean_c, [10.0, 20.0], [winter_set_point_c, max(summer_c, winter_set_point_c)])


def indoor_air(
    climate: Climate, occupancy: Occupancy, winter_set_point_c: float, summer_c: float = 25.0
) -> tuple[Array, Array]:
    """Hourly indoor temperature [°C] and RH from the running daily mean outdoors."""
    mean = running_daily_mean(climate["temperature_c"])
    return indoor_temperature_c(mean, winter_set_point_c, summer_c), indoor_relative_humidity(mean, occupancy)
