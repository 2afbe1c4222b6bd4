"""Indoor air by profile: EN 15026 and ISO 13788 classes, a cooled summer, a room with a bath, or as measured.

EN 15026 Annex C and ISO 13788 Annex A as remembered; the texts are not at hand.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from core.case import IndoorProfile
from core.climate.data import Climate, running_daily_mean
from core.errors import OutOfRange
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure

Array = NDArray[np.float64]

# ISO 13788 Annex A: upper limits of the vapour pressure excess [Pa] at 0 °C and below, none left at 20 °C.
CLASS_EXCESS_PA = {"iso13788_1": 270.0, "iso13788_2": 540.0, "iso13788_3": 810.0, "iso13788_4": 1080.0, "iso13788_5": 1360.0}  # fmt: skip
# A cooled summer: 23 °C, and what a cooling unit usually leaves; ours.
COOLED_C, COOLED_MOST_RH = 23.0, 0.55
# A room with a bath: EN 15026 high, and two hours a day of 25 points more; ours.
BATH_HOURS, BATH_RH = (7, 20), 0.25
MOST_RH = 0.95
# Heated now and then: Wednesday evening and Sunday, kept above frost between, the outside's vapour and that of
# people while it is used; ours.
USED_HOURS = {2: range(17, 21), 6: range(7, 15)}  # by day of the week, from the first of January on
EMPTY_C, USED_CLASS = 8.0, "iso13788_3"
USED_SHARE = sum(len(hours) for hours in USED_HOURS.values()) / 168.0


def indoor_relative_humidity(outdoor_daily_mean_c: Array, occupancy: str) -> Array:
    """EN 15026, RH 0 to 1: normal 30 % at −10 °C and below, 60 % at 20 °C and above; high 10 points more."""
    base = np.interp(outdoor_daily_mean_c, [-10.0, 20.0], [0.30, 0.60])
    return base + (0.10 if occupancy == "high" else 0.0)


def indoor_temperature_c(outdoor_daily_mean_c: Array, winter_set_point_c: float, summer_c: float) -> Array:
    """°C: the set-point up to 10 °C outside, rising to the summer temperature at 20 °C."""
    return np.interp(outdoor_daily_mean_c, [10.0, 20.0], [winter_set_point_c, max(summer_c, winter_set_point_c)])


def indoor_state(
    profile: IndoorProfile, outside_c: Array, outside_pa: Array, set_point_c: float, summer_c: float
) -> tuple[Array, Array]:
    """Indoor T [°C] and RH for means of the outdoor air: days in the hourly years, months in ISO 13788.

    A class of ISO 13788 is never taken over MOST_RH, whatever the set-point.
    """
    if profile == "cooled":
        inside_c = indoor_temperature_c(outside_c, set_point_c, max(set_point_c, COOLED_C))
        return inside_c, np.minimum(indoor_relative_humidity(outside_c, "normal"), COOLED_MOST_RH)
    if profile == "now_and_then":
        return _now_and_then(outside_c, outside_pa, set_point_c, USED_SHARE)
    inside_c = indoor_temperature_c(outside_c, set_point_c, summer_c)
    if profile in CLASS_EXCESS_PA:
        excess = CLASS_EXCESS_PA[profile] * np.clip((20.0 - outside_c) / 20.0, 0.0, 1.0)
        humidity = (outside_pa + excess) / saturation_pressure(inside_c + ZERO_CELSIUS)
        # A class on top of muggy air may pass saturation: that water runs down the windows and not into the wall.
        humidity = np.minimum(humidity, MOST_RH)
        return inside_c, humidity
    humidity = indoor_relative_humidity(outside_c, "normal" if profile == "en15026_normal" else "high")
    if profile == "bath":
        humidity = humidity + BATH_RH * len(BATH_HOURS) / 24.0
    return inside_c, humidity


def _now_and_then(outside_c: Array, outside_pa: Array, set_point_c: float, used: Array | float) -> tuple[Array, Array]:
    """Indoor T [°C] and RH of a room that is heated for hours. used: 1 in the hours of use and 0 between, or their share of a mean."""
    empty_c = np.maximum(EMPTY_C, outside_c)
    inside_c = empty_c + used * np.maximum(set_point_c - empty_c, 0.0)
    pressure = outside_pa + used * CLASS_EXCESS_PA[USED_CLASS] * np.clip((20.0 - outside_c) / 20.0, 0.0, 1.0)
    return inside_c, np.minimum(pressure / saturation_pressure(inside_c + ZERO_CELSIUS), MOST_RH)


def is_used(hours: int) -> Array:
    """1 in the hours in which a room that is heated now and then is used, 0 between."""
    hour = np.arange(hours)
    day = (hour // 24) % 7
    return np.asarray(sum((day == d) & np.isin(hour % 24, list(at)) for d, at in USED_HOURS.items()), float)


def indoor_air(
    climate: Climate,
    profile: IndoorProfile,
    winter_set_point_c: float,
    summer_c: float = 25.0,
    extra_rh: float = 0.0,
    measured: Climate | None = None,
) -> tuple[Array, Array]:
    """Hourly indoor temperature [°C] and RH. measured: the series of the profile “measured”."""
    if measured is not None:
        inside_c, humidity = measured["temperature_c"], measured["relative_humidity"]
        if len(inside_c) != climate.hours:
            raise OutOfRange(
                f"the indoor series has {len(inside_c)} hours, the climate {climate.hours}", "indoor profile"
            )
    else:
        mean = running_daily_mean(climate["temperature_c"])
        pressure = running_daily_mean(climate.vapour_pressure)
        # The share of the bath's two hours in the daily mean is taken out again and put where it belongs.
        if profile == "now_and_then":
            inside_c, humidity = _now_and_then(mean, pressure, winter_set_point_c, is_used(climate.hours))
        else:
            inside_c, humidity = indoor_state(profile, mean, pressure, winter_set_point_c, summer_c)
        if profile == "bath":
            bathing = np.isin(np.arange(climate.hours) % 24, BATH_HOURS)
            humidity = humidity + BATH_RH * (bathing - len(BATH_HOURS) / 24.0)
            humidity = np.minimum(humidity, MOST_RH)
    humidity = humidity + extra_rh
    if humidity.max() > 1.0 or humidity.min() <= 0.0:
        worst = float(humidity.max() if humidity.max() > 1.0 else humidity.min())
        raise OutOfRange(f"indoor RH would be {worst * 100:.0f} %; lower the humidity added", "indoor profile")
    return inside_c, humidity
