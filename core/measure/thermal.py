"""A U-value estimated from a surface temperature, its uncertainty, and the conditions under which it is worth nothing."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from core.case import Celsius, Strict
from core.say import Said, read_quantities, said

# Inside surface resistance and how far it may lie from that on a real wall [m²K/W].
R_SI = {"wall": (0.13, 0.03), "roof": (0.10, 0.02), "floor": (0.17, 0.04)}


class ThermalReading(Strict):
    """Temperatures at one place [°C] with the conditions they were taken in."""

    inside_air_c: Celsius
    outside_air_c: Celsius
    surface_c: Celsius
    surface_error_k: Annotated[float, Field(gt=0, le=5)] = 0.5
    air_error_k: Annotated[float, Field(gt=0, le=5)] = 0.5
    hours_since_sun: Annotated[float, Field(ge=0, le=1000)] | None = None
    steady_hours: Annotated[float, Field(ge=0, le=1000)] | None = None
    wet_or_raining: bool = False
    shiny: bool = False
    near_heater: bool = False


@dataclass(frozen=True)
class EstimatedU:
    """U [W/(m² K)] with its standard uncertainty ×2, or the reasons why it is worth nothing."""

    u_w_m2k: float | None
    low: float | None
    high: float | None
    worth_nothing: list[Said]
    f_rsi: float | None


def estimated_u(reading: ThermalReading, kind: str = "wall") -> EstimatedU:
    """U = (Ti − Tsi) / (Rsi (Ti − Te)), uncertainties added in squares (two standard deviations shown).

    A spot value of a steady state that never quite is: for heavy walls it swings with the day.
    """
    r_si, r_error = R_SI.get(kind, R_SI["wall"])
    inside, outside, surface = reading.inside_air_c, reading.outside_air_c, reading.surface_c
    difference, step = inside - outside, inside - surface
    reasons: list[Said] = []
    if abs(difference) < 10.0:
        reasons.append(
            read_quantities(f"only {{{abs(difference):.1f} K}} between inside and outside; {{10 K}} is the least")
        )
    if reading.hours_since_sun is not None and reading.hours_since_sun < 12.0:
        reasons.append(said(f"sun on the face {reading.hours_since_sun:.0f} h ago; wait 12 h"))
    if reading.steady_hours is not None and reading.steady_hours < 24.0:
        reasons.append(said(f"heating steady for {reading.steady_hours:.0f} h only; 24 h is the least"))
    if reading.wet_or_raining:
        reasons.append(said("the face is wet or it rains"))
    if reading.shiny:
        reasons.append(said("a shiny surface shows the room's reflection, not its own temperature"))
    if reading.near_heater:
        reasons.append(said("a heater warms the place"))
    if difference * step <= 0:
        reasons.append(said("the surface is not between the two air temperatures' order; check the readings"))
    f_rsi = (surface - outside) / difference if abs(difference) >= 1.0 else None
    if difference * step <= 0 or abs(difference) < 1.0:
        return EstimatedU(None, None, None, reasons, f_rsi)
    u = step / (r_si * difference)
    relative = math.sqrt(
        (r_error / r_si) ** 2
        + (math.hypot(reading.surface_error_k, reading.air_error_k) / step) ** 2
        + (math.hypot(reading.air_error_k, reading.air_error_k) / difference) ** 2
    )
    return EstimatedU(u, max(u * (1.0 - 2.0 * relative), 0.0), u * (1.0 + 2.0 * relative), reasons, f_rsi)
