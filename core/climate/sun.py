"""Sun: position, and radiation on a face, by pvlib.

pvlib is imported only when needed (it costs a second); what it gives for a face is kept on disk by the
hash of the climate, so that a second run starts at once.
"""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from core.climate.data import Climate

Array = NDArray[np.float64]


def cache_folder() -> Path:
    """Where derived series are kept: WENDRICK_CACHE, or var/cache beside the program."""
    return Path(os.environ.get("WENDRICK_CACHE", Path(__file__).parents[2] / "var" / "cache"))


def solar_position(latitude: float, longitude: float, utc_offset: float, hours: int) -> tuple[Array, Array]:
    """Apparent zenith and azimuth [°] at the middle of every hour of a year without leap day (2023)."""
    import pandas as pd
    import pvlib

    middle = pd.date_range("2023-01-01 00:30", periods=hours, freq="h", tz="UTC") - pd.Timedelta(hours=utc_offset)
    position = pvlib.solarposition.get_solarposition(middle, latitude, longitude)
    return position["apparent_zenith"].to_numpy(), position["azimuth"].to_numpy()


def radiation_on_face(climate: Climate, facing_deg: float, slope_deg: float, ground_reflectance: float) -> Array:
    """Short-wave on a face [W/m²], hourly: beam, isotropic sky diffuse and ground-reflected (pvlib).

    facing_deg: clockwise from north; slope_deg: 90 for a wall.
    """
    key = f"{climate.sha256}|{facing_deg}|{slope_deg}|{ground_reflectance}|isotropic1"
    path = cache_folder() / f"face-{hashlib.sha256(key.encode()).hexdigest()[:32]}.npy"
    if path.exists():
        return np.asarray(np.load(path))
    import pvlib

    zenith = climate["sun_zenith_deg"]
    cosine = np.maximum(np.cos(np.radians(zenith)), 0.0)
    total = pvlib.irradiance.get_total_irradiance(
        slope_deg,
        facing_deg,
        zenith,
        climate["sun_azimuth_deg"],
        climate["beam_normal_w_m2"],
        climate["beam_normal_w_m2"] * cosine + climate["diffuse_horizontal_w_m2"],
        climate["diffuse_horizontal_w_m2"],
        albedo=ground_reflectance,
        model="isotropic",
    )
    values = np.nan_to_num(np.asarray(total["poa_global"], float), nan=0.0)
    path.parent.mkdir(parents=True, exist_ok=True)
    temporary = path.with_suffix(f".{os.getpid()}.npy")
    np.save(temporary, values)
    temporary.replace(path)
    return values
