"""Bills for heating against degree days, and against the computed need, which is never tuned to them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.climate.data import DAYS_IN_MONTHS, Climate
from core.errors import OutOfRange
from core.say import Said, said
from core.zones.stated import Bill

Array = NDArray[np.float64]


@dataclass(frozen=True)
class BillFit:
    """fuel = base + slope × degree days by least squares, with the half width of the 95 % interval of the slope; heating: what the slope says of a usual year.

    computed: the need over the efficiency that was stated. agrees: whether it lies within the interval.
    """

    base_kwh_month: float
    slope_kwh_kd: float
    half_width: float
    r_squared: float
    heating_kwh: float
    low_kwh: float
    high_kwh: float
    computed_kwh: float
    agrees: bool
    words: Said


def degree_days(climate: Climate, base_c: float) -> list[float]:
    """Of each month: Σ max(0, base − daily mean)."""
    days = climate["temperature_c"].reshape(-1, 24).mean(axis=1)
    below = np.maximum(base_c - days, 0.0)
    ends = np.cumsum(DAYS_IN_MONTHS)
    return [float(below[end - n : end].sum()) for end, n in zip(ends, DAYS_IN_MONTHS, strict=True)]


def fit_bills(bills: list[Bill], climate: Climate, need_kwh: float, efficiency: float, base_c: float = 15.5) -> BillFit:
    """The bills against degree days, and against the computed need, which is never tuned to them. Raises OutOfRange with fewer than 4 months."""
    if len(bills) < 4:
        raise OutOfRange(f"{len(bills)} months say too little; a line needs four or more", "add months")
    if not 0.2 <= efficiency <= 6.0:
        raise OutOfRange("the efficiency of the heating lies between 0.2 and 6", "efficiency")
    usual = degree_days(climate, base_c)
    x = np.array([bill.degree_days if bill.degree_days is not None else usual[bill.month - 1] for bill in bills])
    y = np.array([bill.kwh for bill in bills])
    if float(np.ptp(x)) < 20.0:
        raise OutOfRange("all these months are as cold as each other: no line can be laid through them", "add others")
    from scipy.stats import t as student

    slope, base = np.polyfit(x, y, 1)
    rest = y - (base + slope * x)
    count = len(x)
    spread = math.sqrt(float((rest**2).sum()) / (count - 2) / float(((x - x.mean()) ** 2).sum()))
    half = float(student.ppf(0.975, count - 2)) * spread
    total = sum(usual)
    low, mid, high = ((slope + sign * half) * total for sign in (-1.0, 0.0, 1.0))
    computed = need_kwh / efficiency
    agrees = bool(low <= computed <= high)
    r2 = 1.0 - float((rest**2).sum()) / max(float(((y - y.mean()) ** 2).sum()), 1e-9)
    words = said(
        f"The bills say {mid:.0f} kWh of fuel for heating in a usual year ({low:.0f} to {high:.0f}, 95 %); computed {computed:.0f} kWh. "
        + (
            "They agree within what the bills can say."
            if agrees
            else "They do not agree: set-point, hours heated, people, air or the stated layers differ from what is lived. Nothing was tuned."
        )
    )
    return BillFit(float(base), float(slope), half, r2, mid, low, high, computed, agrees, words)
