"""Deterministic weather with the shape of weather: spells, fronts, clear cold nights, gusty rain.

Nothing here is measured. `python -m core.climate.generator` writes the shipped files anew; a test
compares them with what it would write.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.climate.data import FOLDER, GENERATED, HOURS_PER_YEAR
from core.physics.constants import STEFAN_BOLTZMANN, ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Recipe:
    """What sets a generated climate apart. Means over the year unless said otherwise."""

    name: str
    label: str
    seed: int
    latitude: float
    longitude: float
    utc_offset: float
    mean_c: float
    annual_swing_c: float
    daily_swing_c: float
    spell_swing_c: float
    wet_share: float
    rain_mm: float
    wind_m_s: float
    wet_wind_from_deg: float
    dry_wind_from_deg: float
    dew_gap_c: float
    cloud_mean: float = 0.66
    snow_below_c: float | None = None  # what falls in colder air is snow and left out; None: all of it counts as rain


CORRIE = Recipe(
    "corrie", "Corrie", 1897, 56.9, -4.7, 0.0, 7.2, 5.6, 3.6, 2.3, 0.22, 1720.0, 4.8, 290.0, 210.0, 1.6, 0.83
)  # fmt: skip


MILLRACE = Recipe(
    "millrace", "Millrace", 1883, 41.2, -79.0, -5.0, 11.4, 13.4, 5.2, 3.4, 0.13, 980.0, 3.1, 230.0, 320.0, 2.4, 0.50, 0.0
)  # fmt: skip
TARN = Recipe(
    "tarn", "Tarn", 1928, 61.3, -114.0, -7.0, -1.6, 18.2, 4.8, 5.0, 0.08, 360.0, 2.4, 190.0, 340.0, 1.9, 0.56, 0.0
)  # fmt: skip
OSTMOOR = Recipe(
    "ostmoor", "Ostmoor", 1851, 53.1, 39.5, 3.0, 4.9, 14.2, 4.3, 4.4, 0.11, 570.0, 3.7, 250.0, 110.0, 2.3, 0.60, 0.0
)  # fmt: skip
SOLLERA = Recipe(
    "sollera", "Sollera", 1742, 36.8, -3.2, 1.0, 18.2, 9.2, 6.6, 2.2, 0.05, 330.0, 3.1, 240.0, 60.0, 8.5, 0.26, 0.0
)  # fmt: skip
KARRENTAL = Recipe(
    "karrental", "Karrental", 1779, 46.8, 9.9, 1.0, 3.9, 8.9, 4.9, 3.0, 0.17, 1430.0, 2.7, 300.0, 180.0, 2.0, 0.52, 0.0
)  # fmt: skip
CLIMATES = (CORRIE, MILLRACE, TARN, OSTMOOR, SOLLERA, KARRENTAL)


def _memory(rng: np.random.Generator, hours: float) -> Array:
    """A standard-normal series whose memory fades by 1/e in so many hours, closed over the year."""
    keep = float(np.exp(-1.0 / hours))
    noise = rng.standard_normal(2 * HOURS_PER_YEAR) * np.sqrt(1.0 - keep * keep)
    value, series = 0.0, np.empty(2 * HOURS_PER_YEAR)
    for i, step in enumerate(noise):
        value = keep * value + step
        series[i] = value
    year = series[HOURS_PER_YEAR:]
    blend = np.linspace(0.0, 1.0, 120)  # the last five days bend towards the day before 1 January
    year[-120:] = year[-120:] * np.sqrt(1 - blend**2) + series[HOURS_PER_YEAR - 120 : HOURS_PER_YEAR] * blend
    return year


def generate(recipe: Recipe) -> dict[str, Array]:
    """Hourly columns of one year, rounded as they are written."""
    import pandas as pd
    import pvlib

    from core.climate.sun import solar_position

    rng = np.random.Generator(np.random.PCG64(recipe.seed))
    hour = np.arange(HOURS_PER_YEAR)
    season = np.cos(2 * np.pi * (hour / 24.0 - 201.0) / 365.0)  # 1 in late July, −1 in late January
    front, warm, gust, veer, shower = (_memory(rng, h) for h in (38.0, 80.0, 9.0, 14.0, 3.0))

    edge = np.quantile(front, 1.0 - recipe.wet_share * 2.1)
    wetness = np.clip((front - edge) / 1.2, 0.0, 1.0)
    raining = (wetness > 0.0) & (shower > np.quantile(shower, 0.5) - 0.6 * wetness)
    amount = np.where(raining, rng.gamma(0.8, 1.0, HOURS_PER_YEAR) * (0.35 + wetness) * (1.0 - 0.22 * season), 0.0)
    amount = np.where(amount * recipe.rain_mm / amount.sum() < 0.1, 0.0, amount)
    rain = amount * recipe.rain_mm / amount.sum()

    cloud = np.clip(recipe.cloud_mean + 0.34 * front + 0.16 * gust + 0.25 * wetness, 0.0, 1.0)
    zenith, azimuth = solar_position(recipe.latitude, recipe.longitude, recipe.utc_offset, HOURS_PER_YEAR)
    clear = pvlib.clearsky.haurwitz(pd.Series(zenith))["ghi"].to_numpy()
    horizontal = clear * (1.0 - 0.75 * cloud**3.4)  # Kasten & Czeplak 1980
    split = pvlib.irradiance.erbs(horizontal, zenith, np.repeat(np.arange(1, 366), 24))
    low = zenith > 87.0
    beam = np.where(low, 0.0, np.nan_to_num(np.asarray(split["dni"])))
    diffuse = np.where(low, np.where(zenith < 90.0, horizontal, 0.0), np.nan_to_num(np.asarray(split["dhi"])))

    day = np.cos(2 * np.pi * ((hour % 24) - 15.0) / 24.0)
    swing = recipe.daily_swing_c * (1.25 - cloud) * (1.0 + 0.35 * season)
    temperature = (
        recipe.mean_c
        + recipe.annual_swing_c * season
        + swing * day
        + recipe.spell_swing_c * warm * (1.0 - 0.25 * season)
        - 1.2 * front * season
    )
    gap = recipe.dew_gap_c * (1.15 + 0.5 * season) * np.exp(-0.32 * front - 0.9 * wetness) + 0.6 * swing * (day + 1.0)
    gap = np.where(raining, 0.45 * gap, gap)
    dew = temperature - gap
    humidity = saturation_pressure(dew + ZERO_CELSIUS) / saturation_pressure(temperature + ZERO_CELSIUS)

    speed = np.exp(0.42 * gust + 0.30 * front - 0.16 * season) * (1.0 + 0.18 * day * (1 - cloud))
    speed = speed * recipe.wind_m_s / speed.mean()
    toward_wet = np.clip(0.5 + 0.5 * front, 0.0, 1.0)
    direction = recipe.dry_wind_from_deg + toward_wet * (recipe.wet_wind_from_deg - recipe.dry_wind_from_deg)
    direction = (direction + 34.0 * veer) % 360.0

    kelvin = temperature + ZERO_CELSIUS
    if recipe.snow_below_c is not None:
        rain = np.where(temperature < recipe.snow_below_c, 0.0, rain)

    vapour_hpa = humidity * saturation_pressure(kelvin) / 100.0
    clear_sky = 0.55 + 0.065 * np.sqrt(vapour_hpa)  # Brunt 1932, coefficients for hPa
    emissivity = clear_sky * (1.0 - 0.84 * cloud) + 0.84 * cloud  # Unsworth & Monteith 1975
    longwave = emissivity * STEFAN_BOLTZMANN * kelvin**4

    return {
        "temperature_c": np.round(temperature, 2),
        "relative_humidity": np.round(humidity, 4),
        "beam_normal_w_m2": np.round(beam, 1),
        "diffuse_horizontal_w_m2": np.round(diffuse, 1),
        "wind_speed_m_s": np.round(speed, 2),
        "wind_direction_deg": np.round(direction, 0) % 360.0,
        "rain_mm": np.round(rain, 2),
        "sky_longwave_w_m2": np.round(longwave, 1),
        "cloud_share": np.round(cloud, 2),
        "sun_zenith_deg": np.round(zenith, 2),
        "sun_azimuth_deg": np.round(azimuth, 2),
    }


def as_csv(recipe: Recipe) -> str:
    """The shipped file: a header that says what it is, then one row an hour from 1 January 00:00."""
    columns = generate(recipe)
    head = {
        "label": recipe.label,
        "origin": GENERATED,
        "latitude_deg": recipe.latitude,
        "longitude_deg": recipe.longitude,
        "utc_offset_h": recipe.utc_offset,
        "rows": "hours of a 365-day year from 1 January 00:00, each value for the hour that starts then",
    }
    lines = [f"# {key}: {value}" for key, value in head.items()]
    lines.append(",".join(columns))
    for row in zip(*columns.values(), strict=True):
        lines.append(",".join(f"{value:g}" for value in row))
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    for each in CLIMATES:
        (FOLDER / f"{each.name}.csv").write_text(as_csv(each))
