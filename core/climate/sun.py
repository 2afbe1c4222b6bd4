"""Sun: position, and radiation on a face, by pvlib.

pvlib is imported only when needed (it costs a second); what it gives for a face is kept on disk by the
hash of the climate, so that a second run starts at once.
"""

from __future__ import annotations

import hashlib
import os
from dataclasses import dataclass
from functools import lru_cache
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


@dataclass(frozen=True)
class Shade:
    """What stands before one window: its width and height [m], how deep the pane lies behind the face, how far something juts out over it at its head,
    and the altitude of the skyline in front [°]."""

    width_m: float
    height_m: float
    recess_m: float = 0.0
    overhang_m: float = 0.0
    horizon_deg: float = 0.0


def shaded_on_face(
    climate: Climate, facing_deg: float, slope_deg: float, ground_reflectance: float, shade: Shade
) -> Array:
    """Short-wave that reaches a window [W/m²], hourly: the beam on its sunlit share, the sky and the lit ground that its pane sees.

    The sunlit share is that of a rectangle under an overhang (profile angle) between fins as deep as the recess; a window that leans back is
    shaded by the skyline only. Sky and ground are isotropic, what they lose to overhang, reveals and sill is found by rays (`seen_from_pane`);
    what the reveals throw back is left out.
    """
    total = radiation_on_face(climate, facing_deg, slope_deg, ground_reflectance)
    zenith, azimuth = climate["sun_zenith_deg"], climate["sun_azimuth_deg"]
    altitude = np.radians(90.0 - zenith)
    aside = np.radians(azimuth - facing_deg)
    tilt = np.radians(slope_deg)
    incidence = np.cos(np.radians(zenith)) * np.cos(tilt) + np.sin(np.radians(zenith)) * np.sin(tilt) * np.cos(aside)
    beam = np.where(altitude > 0.0, climate["beam_normal_w_m2"] * np.maximum(incidence, 0.0), 0.0)
    sky = climate["diffuse_horizontal_w_m2"] * 0.5 * (1.0 + np.cos(tilt))
    ground = np.maximum(total - beam - sky, 0.0)
    lit = (altitude > np.radians(shade.horizon_deg)).astype(float)
    seen = (
        (1.0 - np.sin(np.radians(shade.horizon_deg)))
        if slope_deg > 45.0
        else np.cos(np.radians(shade.horizon_deg)) ** 2
    )
    if slope_deg > 60.0:
        ahead = np.maximum(np.cos(aside), 1e-6)
        depth = shade.recess_m + shade.overhang_m
        low = np.clip(depth * np.tan(np.clip(altitude, 0.0, 1.55)) / ahead / shade.height_m, 0.0, 1.0)
        across = np.clip(shade.recess_m * np.abs(np.tan(np.clip(aside, -1.55, 1.55))) / shade.width_m, 0.0, 1.0)
        lit = lit * np.where(np.cos(aside) > 0.0, (1.0 - low) * (1.0 - across), 0.0)
        seen, below = seen_from_pane(shade)
        ground = ground * below
    return np.asarray(beam * lit + sky * seen + ground)


RAYS = (45, 90)  # directions by altitude and azimuth, of a half hemisphere each
POINTS = 12  # across and up the pane


@lru_cache(maxsize=256)
def seen_from_pane(shade: Shade) -> tuple[float, float]:
    """(share of the isotropic sky, share of the ground) that an upright pane receives past what stands before it, of what it would bare.

    Rays from the middles of 12 by 12 fields of the pane, weighed by the cosine of their incidence: one that rises above the head before it has
    passed recess and overhang is lost, as is one that meets a reveal, falls below the sill within the recess, or lies under the skyline.
    """
    rows, columns = RAYS
    altitude = (np.arange(rows) + 0.5) * (np.pi / 2.0 / rows)
    aside = (np.arange(columns) + 0.5) * (np.pi / columns) - np.pi / 2.0
    up, side = np.meshgrid(np.tan(altitude), aside, indexing="ij")
    weight = np.cos(altitude)[:, None] ** 2 * np.cos(side)  # cos of the incidence times the solid angle
    rise, slip = up / np.cos(side), np.tan(side)  # for each metre out of the wall
    at = (np.arange(POINTS) + 0.5) / POINTS
    over = rise > np.tan(np.radians(shade.horizon_deg))  # a row opposite: below its profile angle
    sky = ground = 0.0
    for x in at * shade.width_m:
        beside = (shade.recess_m * slip < shade.width_m - x) & (shade.recess_m * slip > -x)
        for y in at * shade.height_m:
            free = (shade.recess_m + shade.overhang_m) * rise < shade.height_m - y
            sky += float((weight * (beside & free & over)).sum())
            ground += float((weight * (beside & (shade.recess_m * rise < y))).sum())
    whole = POINTS**2 * float(weight.sum())
    return sky / whole, ground / whole
