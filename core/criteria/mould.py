"""Mould growth index M, Hukka & Viitanen 1999 with the classes and decline of Ojanen et al. 2010.

Coefficients from memory of those papers, cross-checked; core/cases/reference/mould.md lists them.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from core.materials.library import MouldClass

Array = NDArray[np.float64]

# class: k1 below M = 1, k1 from M = 1, A, B, C, RH_min, decline factor C_mat
CLASSES: dict[MouldClass, tuple[float, ...]] = {
    "very_sensitive": (1.0, 2.0, 1.0, 7.0, 2.0, 80.0, 1.0),
    "sensitive": (0.578, 0.386, 0.3, 6.0, 1.0, 80.0, 0.5),
    "medium_resistant": (0.072, 0.097, 0.0, 5.0, 1.5, 85.0, 0.25),
    "resistant": (0.033, 0.014, 0.0, 3.0, 1.0, 85.0, 0.1),
}


@njit(cache=True)
def _index(temperature, humidity, hours, start, k_low, k_high, a, b, c, rh_min, decline):
    n = temperature.shape[0]
    out = np.empty(n)
    m = start
    unfavourable = 0.0
    days = hours / 24.0
    for i in range(n):
        t = temperature[i]
        rh = min(humidity[i], 100.0)
        critical = rh_min
        if t <= 20.0:
            critical = max(rh_min, -0.00267 * t**3 + 0.160 * t**2 - 3.13 * t + 100.0)
        if rh > critical and 0.0 < t <= 50.0:
            unfavourable = 0.0
            weeks = np.exp(-0.68 * np.log(t) - 13.9 * np.log(rh) + 66.02)
            r = (critical - rh) / (critical - 100.0)
            largest = max(0.0, a + b * r - c * r * r)
            # M rises over the step by the exact solution of dM/dt = k (1 − exp(2.3 (M − M_max))):
            # split where k1 changes at M = 1.
            left = days
            while left > 1e-12 and m < largest:
                k = (k_low if m < 1.0 else k_high) / (7.0 * weeks)
                target = _grow(m, largest, k, left)
                if m < 1.0 and target > 1.0 and largest > 1.0:
                    need = _time_to(m, 1.0, largest, k)
                    m = 1.0
                    left -= min(need, left)
                else:
                    m = target
                    left = 0.0
        else:
            before = unfavourable
            unfavourable += hours
            # −0.032 a day for the first 6 h, none to 24 h, −0.016 a day after; only the part in each span.
            first = max(0.0, min(unfavourable, 6.0) - before)
            late = max(0.0, unfavourable - max(before, 24.0))
            m = max(0.0, m - decline * (0.032 * first + 0.016 * late) / 24.0)
        out[i] = m
    return out


@njit(cache=True)
def _grow(m, largest, k, days):
    """M after so many days: u = exp(2.3 (M − M_max)) obeys u' = 2.3 k u (1 − u)."""
    u = np.exp(2.3 * (m - largest))
    if u >= 1.0:
        return m
    ratio = u / (1.0 - u) * np.exp(min(2.3 * k * days, 500.0))
    return largest + np.log(ratio / (1.0 + ratio)) / 2.3


@njit(cache=True)
def _time_to(m, target, largest, k):
    u0, u1 = np.exp(2.3 * (m - largest)), np.exp(2.3 * (target - largest))
    return (np.log(u1 / (1.0 - u1)) - np.log(u0 / (1.0 - u0))) / (2.3 * k)


def mould_index(
    temperature_c: Array, relative_humidity: Array, mould_class: MouldClass, step_s: float = 3600.0
) -> Array:
    """M after every step. temperature [°C], RH 0 to 1 (over 1 counts as 1), start M 0."""
    coefficients = CLASSES[mould_class]
    return np.asarray(
        _index(
            np.ascontiguousarray(temperature_c, float),
            100.0 * np.ascontiguousarray(relative_humidity, float),
            step_s / 3600.0,
            0.0,
            *coefficients,
        )
    )


def growth_1999(temperature_c: float, relative_humidity: float, days: float) -> float:
    """M of sawn pine under constant conditions, the 1999 form (for verification only).

    k1 = 1 below M = 1, then 2/(t_v/t_m − 1); M_max from A, B, C = 1, 7, 2; RH_min 80.
    """
    t, rh = temperature_c, 100.0 * relative_humidity
    critical = 80.0 if t > 20 else max(80.0, -0.00267 * t**3 + 0.160 * t**2 - 3.13 * t + 100.0)
    t_m = np.exp(-0.68 * np.log(t) - 13.9 * np.log(rh) + 66.02)
    t_v = np.exp(-0.74 * np.log(t) - 12.72 * np.log(rh) + 61.50)
    r = (critical - rh) / (critical - 100.0)
    largest = 1.0 + 7.0 * r - 2.0 * r * r
    k_low, k_high = 1.0 / (7.0 * t_m), 2.0 / (t_v / t_m - 1.0) / (7.0 * t_m)
    to_one = float(_time_to(0.0, 1.0, largest, k_low))
    if days <= to_one:
        return float(_grow(0.0, largest, k_low, days))
    return float(_grow(1.0, largest, k_high, days - to_one))
