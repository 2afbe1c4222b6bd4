"""A climate year: hourly columns of 365 days from 1 January, with the position of the sun.

Shipped climates are CSV files beside this module; their SHA-256 is part of every case that uses them.
"""

from __future__ import annotations

import csv
import hashlib
import io
import os
import re
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.errors import CaseRefused, ClimateGone
from core.physics.constants import STEFAN_BOLTZMANN, ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure

Array = NDArray[np.float64]
FOLDER = Path(__file__).parent / "data"
HOURS_PER_YEAR = 8760
GENERATED = "generated, not measured"  # origin of the weather that ships
MONTHS = (
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
)  # fmt: skip
DAYS_IN_MONTHS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


@dataclass(frozen=True)
class Climate:
    """Hourly weather. Temperatures in °C, RH 0 to 1, radiation W/m², wind m/s, rain mm per hour."""

    name: str
    label: str
    origin: str  # GENERATED, or what a file says of itself
    latitude: float
    longitude: float
    utc_offset: float
    sha256: str
    columns: dict[str, Array]

    def __getitem__(self, column: str) -> Array:
        return self.columns[column]

    @property
    def hours(self) -> int:
        return len(self.columns["temperature_c"])

    @property
    def vapour_pressure(self) -> Array:
        """Pa, from temperature and RH over water."""
        return np.asarray(self["relative_humidity"] * saturation_pressure(self["temperature_c"] + ZERO_CELSIUS))

    @property
    def design_temperature_c(self) -> float:
        """Outside design temperature: the coldest running mean of 24 hours [°C]."""
        return float(running_daily_mean(self["temperature_c"]).min())


def running_daily_mean(values: Array) -> Array:
    """Centred mean over 24 hours, the year closed to a ring."""
    kernel = np.ones(24) / 24.0
    ring = np.concatenate((values[-12:], values, values[:11]))
    return np.convolve(ring, kernel, mode="valid")


def month_of_hours(hours: int = HOURS_PER_YEAR) -> NDArray[np.int64]:
    """Month 0 to 11 of each hour of a 365-day year."""
    months = np.repeat(np.arange(12), np.array(DAYS_IN_MONTHS) * 24)
    return np.resize(months, hours)


def monthly_means(values: Array) -> Array:
    """Twelve means of an hourly year."""
    months = month_of_hours(len(values))
    return np.array([values[months == month].mean() for month in range(12)])


def first_hour(month_day: str) -> int:
    """Hour of the year at which a day "MM-DD" starts; raises CaseRefused for a day that is none."""
    month, day = int(month_day[:2]), int(month_day[3:])
    if not 1 <= month <= 12 or not 1 <= day <= DAYS_IN_MONTHS[month - 1]:
        raise CaseRefused(f"“{month_day}” is not a day of a 365-day year; write MM-DD", "time.start")
    return 24 * (sum(DAYS_IN_MONTHS[: month - 1]) + day - 1)


def folders() -> list[Path]:
    """Where climates are: those that ship, and those imported (WENDRICK_CLIMATES)."""
    own = os.environ.get("WENDRICK_CLIMATES")
    return [FOLDER, *([Path(own)] if own else [])]


def shipped_names() -> list[str]:
    """Names of the climates that ship with the program."""
    return sorted(path.stem for path in FOLDER.glob("*.csv"))


def shipped(name: str) -> Climate:
    """A climate the program holds, shipped or imported, by name. Raises CaseRefused when there is none."""
    if re.fullmatch(r"[a-z0-9-]{1,70}", name):
        for folder in folders():
            path = folder / f"{name}.csv"
            if path.exists():
                return _read(path)
    if name.startswith("own-"):
        raise ClimateGone(
            "the hours of an imported climate, or of measured indoor air, are not on the server any more; import the file again "
            "under Climates, or choose another for the project",
            "climate",
        )
    raise CaseRefused(f"there is no climate “{name}”; shipped are: {', '.join(shipped_names())}", "climate")


@lru_cache(maxsize=32)
def _read(path: Path) -> Climate:
    return parse_climate(path.stem, path.read_bytes())


def parse_climate(name: str, raw: bytes) -> Climate:
    """A climate file of this program: lines “# key: value”, one heading, 8760 rows. Raises CaseRefused."""
    try:
        lines = raw.decode().splitlines()
        head = dict(line[2:].split(": ", 1) for line in lines if line.startswith("# "))
        body = [line for line in lines if not line.startswith("#")]
        if len(body) < 2:
            raise ValueError("it holds no hours")
        names = next(csv.reader(body[:1]))
        values = np.loadtxt(io.StringIO("\n".join(body[1:])), delimiter=",", ndmin=2)
        climate = Climate(
            name=name,
            label=head["label"],
            origin=head["origin"],
            latitude=float(head["latitude_deg"]),
            longitude=float(head["longitude_deg"]),
            utc_offset=float(head["utc_offset_h"]),
            sha256=hashlib.sha256(raw).hexdigest(),
            columns={column: np.ascontiguousarray(values[:, i]) for i, column in enumerate(names)},
        )
    except (ValueError, KeyError, StopIteration, IndexError) as error:
        raise CaseRefused(f"this is no climate file of the program: {error}", f"climates/{name}.csv") from error
    if len(values) != HOURS_PER_YEAR or not np.isfinite(values).all():
        raise CaseRefused(f"a climate holds {HOURS_PER_YEAR} whole hours, this one {len(values)}", name)
    return climate


def derived(climate: Climate, temperature_shift_k: float, rain_factor: float) -> Climate:
    """The same year colder or warmer by so many K at the same RH, and with more or less rain in every hour of rain.

    The long-wave of the sky follows the air: 4 σ T³ ΔT. The hash is of the source and of both numbers.
    """
    if temperature_shift_k == 0.0 and rain_factor == 1.0:
        return climate
    columns = dict(climate.columns)
    kelvin = climate["temperature_c"] + ZERO_CELSIUS
    columns["temperature_c"] = climate["temperature_c"] + temperature_shift_k
    columns["rain_mm"] = climate["rain_mm"] * rain_factor
    sky = climate["sky_longwave_w_m2"] + 4.0 * STEFAN_BOLTZMANN * kelvin**3 * temperature_shift_k
    columns["sky_longwave_w_m2"] = np.maximum(sky, 0.0)
    digest = hashlib.sha256(f"{climate.sha256}|{temperature_shift_k}|{rain_factor}".encode()).hexdigest()
    return replace(climate, sha256=digest, columns=columns)


def climate_of_case(case: c.Case, name: str) -> Climate:
    """The climate a case names: shipped (its hash must agree) or given in the case itself."""
    entry = case.climates[name]
    if isinstance(entry, c.ShippedClimate):
        climate = shipped(entry.shipped)
        if climate.sha256 != entry.sha256:
            raise CaseRefused(
                f"the climate “{entry.shipped}” of this program differs from the one the case was made with",
                f"climates.{name}.sha256",
            )
        return derived(climate, entry.temperature_shift_k, entry.rain_factor)
    columns = {column: np.array(getattr(entry, column)) for column in c.CLIMATE_COLUMNS}
    digest = hashlib.sha256(entry.model_dump_json().encode()).hexdigest()
    climate = Climate(
        name,
        entry.label,
        "given in the case",
        entry.latitude_deg,
        entry.longitude_deg,
        entry.utc_offset_h,
        digest,
        columns,
    )
    from core.climate.sun import solar_position

    zenith, azimuth = solar_position(climate.latitude, climate.longitude, climate.utc_offset, climate.hours)
    columns["sun_zenith_deg"], columns["sun_azimuth_deg"] = zenith, azimuth
    return climate
