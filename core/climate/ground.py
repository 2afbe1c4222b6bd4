"""Ground temperature by depth and season."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from core.climate.data import Climate
from core.physics.constants import ZERO_CELSIUS

Array = NDArray[np.float64]
YEAR_S = 365.0 * 86400.0


def yearly_wave(climate: Climate) -> tuple[float, float, float]:
    """Mean [°C], amplitude [K] and phase [rad] of the first yearly harmonic of the outdoor air: mean + A cos(ωt − φ)."""
    values = climate["temperature_c"]
    angle = 2.0 * np.pi * np.arange(len(values)) / len(values)
    a = 2.0 * float(np.mean(values * np.cos(angle)))
    b = 2.0 * float(np.mean(values * np.sin(angle)))
    return float(values.mean()), float(np.hypot(a, b)), float(np.arctan2(b, a))


def months_wave(climate: Climate) -> tuple[float, float, float]:
    """Mean [°C] and amplitude [K] of the same wave, and its coldest time in months from the start of January, which is 1."""
    mean, amplitude, phase = yearly_wave(climate)
    return mean, amplitude, (phase / (2.0 * np.pi) * 12.0 + 6.0) % 12.0 + 0.5


def ground_temperature_c(climate: Climate, depth_m: float, diffusivity_m2_s: float) -> Array:
    """Undisturbed soil [°C] by the hour: the air's yearly wave damped and late by exp(−z/d), d = √(2α/ω).

    Source: Kusuda & Achenbach 1965, with the mean of the ground taken as that of the air.
    """
    mean, amplitude, phase = yearly_wave(climate)
    damping = depth_m / np.sqrt(diffusivity_m2_s * YEAR_S / np.pi)
    angle = 2.0 * np.pi * np.arange(climate.hours) / climate.hours
    return np.asarray(mean + amplitude * np.exp(-damping) * np.cos(angle - phase - damping))


# The earth under a void: how deep what is under it keeps its own year [m], in soil of ISO 13370's middle class, and the film over it. Bare earth has a crust that
# resists as so much still air does [m]; vents of a usual size change the air of a void so often an hour. Estimates of ours, the same for a void's own balance.
EARTH_DEPTH_M, EARTH_CONDUCTIVITY, EARTH_DIFFUSIVITY, EARTH_FILM_R = 1.0, 2.0, 7e-7, 0.17
BARE_EARTH_SD_M, VOID_CHANGES = 0.3, 1.5


def earth_face_k(climate: Climate, air_k: Array) -> Array:
    """Temperature of the open earth under a void [K], hourly: between the air over it and the soil below."""
    soil = ground_temperature_c(climate, EARTH_DEPTH_M, EARTH_DIFFUSIVITY) + ZERO_CELSIUS
    up, down = 1.0 / EARTH_FILM_R, EARTH_CONDUCTIVITY / EARTH_DEPTH_M
    return np.asarray((up * air_k + down * soil) / (up + down))
