"""Figures as tables show them, on the screen and on paper: units, digits and rounding of `web/src/shared/units.ts`, which a test holds to this."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from core.say import R_PER_M2K_W, Said


@dataclass(frozen=True)
class Unit:
    """One unit of one system. to: from the metric value that is kept."""

    unit: str
    digits: int
    to: Callable[[float], float]


def _times(unit: str, digits: int, factor: float) -> Unit:
    return Unit(unit, digits, lambda x: x * factor)


METRIC: dict[str, Unit] = {
    "thickness": _times("mm", 0, 1),
    "length": _times("m", 2, 1),
    "flow": _times("m³/h", 0, 1),
    "airFlowArea": _times("m³/(h m²)", 1, 1),
    "pressure": _times("Pa", 1, 1),
    "transmittance": _times("W/m²K", 2, 1),
    "conductivity": _times("W/mK", 3, 1),
    "resistance": _times("m²K/W", 2, 1),
    "area": _times("m²", 1, 1),
    "volume": _times("m³", 0, 1),
    "coefficient": _times("W/K", 0, 1),
    "power": _times("kW", 1, 0.001),
    "energy": _times("kWh/a", 0, 1),
    "energyPerArea": _times("kWh/m²a", 0, 1),
    "temperature": _times("°C", 1, 1),
    "water": _times("kg/m²", 1, 1),
    "smallWater": _times("g/m²", 0, 1),
    "rain": _times("mm", 0, 1),
    "degreeHours": _times("kKh", 1, 1),
    "sd": _times("m", 2, 1),
    "uptake": _times("kg/(m²√h)", 1, 60),
}
INCH: dict[str, Unit] = {
    "thickness": _times("in", 2, 1 / 25.4),
    "length": _times("ft", 2, 1 / 0.3048),
    "flow": _times("cfm", 0, 0.588578),
    "airFlowArea": _times("cfm/ft²", 2, 0.0546807),
    "pressure": _times("Pa", 1, 1),
    "transmittance": Unit("R", 1, lambda u: R_PER_M2K_W / u),
    "conductivity": Unit("R/in", 2, lambda k: 0.144228 / k),
    "resistance": _times("R", 1, R_PER_M2K_W),
    "area": _times("ft²", 0, 10.76391),
    "volume": _times("ft³", 0, 35.31467),
    "coefficient": _times("Btu/h°F", 0, 1.895634),
    "power": _times("kBtu/h", 1, 0.00341214),
    "energy": _times("kBtu/a", 0, 3.412142),
    "energyPerArea": _times("kBtu/ft²a", 1, 0.316998),
    "temperature": Unit("°F", 0, lambda c: c * 1.8 + 32),
    "water": _times("lb/ft²", 2, 0.204816),
    "smallWater": _times("oz/ft²", 2, 0.00327706),
    "rain": _times("in", 1, 1 / 25.4),
    "degreeHours": _times("k°Fh", 1, 1.8),
    "sd": _times("ft", 1, 3.28084),
    "uptake": _times("kg/(m²√h)", 1, 60),
}
NOTHING = Said(metric="–", inch="–")


def number(value: float, digits: int) -> str:
    """Half away from zero on the exact value, a true minus sign, no minus before nothing."""
    text = f"{Decimal(value).quantize(Decimal(1).scaleb(-digits), ROUND_HALF_UP):f}"
    return (f"{0:.{digits}f}" if float(text) == 0.0 else text).replace("-", "−")


def bare(value: float | None, quantity: str, digits: int | None = None) -> Said:
    """The figure alone, for a column whose head names the unit; “–” for nothing."""
    if value is None or not math.isfinite(value):
        return NOTHING
    metric, inch = METRIC[quantity], INCH[quantity]
    return Said(
        metric=number(metric.to(value), metric.digits if digits is None else digits),
        inch=number(inch.to(value), inch.digits if digits is None else digits),
    )


def shown(value: float | None, quantity: str, digits: int | None = None) -> Said:
    """“412 mm”, “R 12.6”, “–” for nothing."""
    if value is None or not math.isfinite(value):
        return NOTHING
    figures = bare(value, quantity, digits)
    inch = INCH[quantity].unit
    return Said(
        metric=f"{figures.metric} {METRIC[quantity].unit}",
        inch=f"R {figures.inch}" if inch == "R" else f"{figures.inch} {inch}",
    )


def unit_of(quantity: str) -> Said:
    """The unit, for the head of a column."""
    return Said(metric=METRIC[quantity].unit, inch=INCH[quantity].unit)
