"""Blower-door test: multi-point regression of air flow against pressure after ISO 9972.

The standard's text is not at hand; the regression is its Annex C (ordinary least squares on logarithms), checked
against generated data with known C and n, and against an example worked here.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.special import stdtrit

from core.case import Celsius, Positive, Strict
from core.errors import OutOfRange
from core.physics.constants import GAS_CONSTANT_AIR, STANDARD_PRESSURE, ZERO_CELSIUS
from core.physics.leak import REFERENCE_DENSITY
from core.say import Said, read_quantities

Direction = Literal["pressurise", "depressurise"]
STANDARD_DENSITY = REFERENCE_DENSITY
LEAST_POINTS = 5


class FlowPoint(Strict):
    """One reading: the pressure difference across the envelope as shown (its size), and the fan's flow."""

    direction: Direction
    pressure_pa: Annotated[float, Field(gt=0, le=500)]
    flow_m3_h: Annotated[float, Field(gt=0, le=1e6)]


class BlowerDoorTest(Strict):
    """A test with its conditions. zero_*: mean pressure with the fan covered [Pa], before and after."""

    points: Annotated[list[FlowPoint], Field(max_length=200)]
    inside_c: Celsius = 20.0
    outside_c: Celsius = 10.0
    barometer_pa: Annotated[float, Field(ge=60000, le=110000)] = STANDARD_PRESSURE
    zero_before_pa: Annotated[float, Field(ge=-50, le=50)] = 0.0
    zero_after_pa: Annotated[float, Field(ge=-50, le=50)] = 0.0
    wind_m_s: Annotated[float, Field(ge=0, le=40)] | None = None
    height_m: Positive | None = None


@dataclass(frozen=True)
class Interval:
    """A value with the bounds of its 95 % confidence interval."""

    value: float
    low: float
    high: float


@dataclass(frozen=True)
class Fit:
    """q = C Δp^n in one direction. C [m³/(h Pa^n)] is the air leakage coefficient C_L at 20 °C and 101325 Pa."""

    direction: Direction
    points: list[tuple[float, float]]
    coefficient: Interval
    exponent: Interval
    r_squared: float
    q50: Interval


@dataclass(frozen=True)
class Check:
    """One condition of a valid test, met or not, in words."""

    name: str
    met: bool
    words: Said


@dataclass(frozen=True)
class AirtightnessResult:
    """Mean of both directions where both were measured. q50 [m³/h], n50 [1/h], q_e50 [m³/(h m²)], areas [cm²]."""

    fits: list[Fit]
    q50: Interval
    n50: Interval | None
    q_envelope_50: Interval | None
    leakage_area_4pa_cm2: float
    leakage_area_10pa_cm2: float
    leakage_area_50pa_cm2: float
    checks: list[Check]

    @property
    def valid(self) -> bool:
        return all(check.met for check in self.checks)


def air_density(temperature_c: float, barometer_pa: float) -> float:
    """Dry-air density [kg/m³]; ISO 9972 Annex A leaves the humidity term out for the usual accuracy."""
    return barometer_pa / (GAS_CONSTANT_AIR * (temperature_c + ZERO_CELSIUS))


def fit_direction(test: BlowerDoorTest, direction: Direction) -> Fit:
    """The regression of one direction. Raises OutOfRange with fewer than 3 usable points.

    Pressures are corrected by the mean zero-flow pressure, flows to the density of the air that leaks (inside air
    goes out under pressurisation, outside air comes in under depressurisation), then to standard conditions.
    Source: ISO 9972, Annex C: n = s_xy / s_x²; ln C = ȳ − n x̄; intervals with Student's t for N − 2.
    """
    zero = (test.zero_before_pa + test.zero_after_pa) / 2.0
    sign = 1.0 if direction == "pressurise" else -1.0
    points = [(sign * (sign * p.pressure_pa - zero), p.flow_m3_h) for p in test.points if p.direction == direction]
    points = sorted((dp, q) for dp, q in points if dp > 0.5)
    if len({round(dp, 3) for dp, _ in points}) < 3:
        raise OutOfRange(
            f"{len(points)} usable points {'up' if sign > 0 else 'down'}; a line needs three or more pressures",
            "read more pressures",
        )
    inside, outside = (air_density(t, test.barometer_pa) for t in (test.inside_c, test.outside_c))
    # the fan moves outside air in (pressurise) or inside air out; the leaks carry the other one
    through_fan, through_leaks = (outside, inside) if sign > 0 else (inside, outside)
    x = np.log([dp for dp, _ in points])
    y = np.log([q * through_fan / through_leaks for _, q in points])
    count = len(points)
    sxx, sxy = float(((x - x.mean()) ** 2).sum()), float(((x - x.mean()) * (y - y.mean())).sum())
    exponent = sxy / sxx
    ln_c = float(y.mean() - exponent * x.mean())
    residual = float(((y - ln_c - exponent * x) ** 2).sum())
    variance = residual / (count - 2)
    t = float(stdtrit(count - 2, 0.975))
    s_n = math.sqrt(variance / sxx)
    s_ln_c = s_n * math.sqrt(float((x**2).sum()) / count)
    standard = math.pow(through_leaks / STANDARD_DENSITY, 1.0 - exponent)
    x50 = math.log(50.0)
    s_50 = math.sqrt(variance * (1.0 / count + (x50 - x.mean()) ** 2 / sxx))
    q50 = standard * math.exp(ln_c + exponent * x50)
    total = float(((y - y.mean()) ** 2).sum())
    return Fit(
        direction,
        [(dp, float(math.exp(v)) * standard) for (dp, _), v in zip(points, y, strict=True)],
        _interval(standard * math.exp(ln_c), t * s_ln_c),
        Interval(exponent, exponent - t * s_n, exponent + t * s_n),
        1.0 - residual / total if total > 0 else 1.0,
        _interval(q50, t * s_50),
    )


def _interval(value: float, log_half_width: float) -> Interval:
    return Interval(value, value * math.exp(-log_half_width), value * math.exp(log_half_width))


def airtightness(test: BlowerDoorTest, volume_m3: float | None, envelope_m2: float | None) -> AirtightnessResult:
    """The result of a test; volume and envelope area turn q50 into n50 and q_E50."""
    present: list[Direction] = [d for d in ("pressurise", "depressurise") if any(p.direction == d for p in test.points)]  # type: ignore[misc]
    if not present:
        raise OutOfRange("no readings yet", "paste or read at least five pressures")
    fits = [fit_direction(test, direction) for direction in present]
    q50 = _mean([fit.q50 for fit in fits])
    at_4, at_10, at_50 = (sum(_leakage_area(fit, dp) for fit in fits) / len(fits) for dp in (4.0, 10.0, 50.0))
    return AirtightnessResult(
        fits,
        q50,
        _scaled(q50, volume_m3),
        _scaled(q50, envelope_m2),
        at_4,
        at_10,
        at_50,
        _checks(test, fits, present),
    )


def _mean(values: list[Interval]) -> Interval:
    """Mean of the directions; its half width from the two as independent."""
    value = sum(v.value for v in values) / len(values)
    low = math.sqrt(sum((v.value - v.low) ** 2 for v in values)) / len(values)
    high = math.sqrt(sum((v.high - v.value) ** 2 for v in values)) / len(values)
    return Interval(value, value - low, value + high)


def _scaled(q: Interval, by: float | None) -> Interval | None:
    return Interval(q.value / by, q.low / by, q.high / by) if by else None


def _leakage_area(fit: Fit, pressure: float) -> float:
    """Effective leakage area [cm²]: the sharp-edged hole that passes the same flow, without contraction (ISO 9972)."""
    flow = fit.coefficient.value * pressure**fit.exponent.value / 3600.0
    return flow * math.sqrt(STANDARD_DENSITY / (2.0 * pressure)) * 1e4


def _checks(test: BlowerDoorTest, fits: list[Fit], present: list[Direction]) -> list[Check]:
    zero = max(abs(test.zero_before_pa), abs(test.zero_after_pa))
    checks: list[Check] = []

    def add(name: str, met: bool, words: str) -> None:
        checks.append(Check(name, met, read_quantities(words)))

    for fit in fits:
        pressures = [dp for dp, _ in fit.points]
        way = "up" if fit.direction == "pressurise" else "down"
        gaps = [b - a for a, b in zip(pressures, pressures[1:], strict=False)]
        lowest = max(10.0, 5.0 * zero)
        add(f"points {way}", len(pressures) >= LEAST_POINTS, f"{len(pressures)} points; five are the least")
        add(
            f"range {way}",
            pressures[0] <= lowest + 3.0 and pressures[-1] >= 50.0 - 3.0,
            f"{pressures[0]:.1f} to {pressures[-1]:.1f} Pa; the lowest {lowest:.0f} Pa, the highest at least 50 Pa, "
            "each within 3 Pa",
        )
        add(
            f"spacing {way}",
            max(gaps) <= 10.0 + 3.0,
            f"largest step {max(gaps):.1f} Pa; 10 Pa is the most, within 3 Pa",
        )
        add(f"fit {way}", fit.r_squared >= 0.98, f"r² {fit.r_squared:.4f}; 0.98 is the least")
        add(f"exponent {way}", 0.5 <= fit.exponent.value <= 1.0, f"n {fit.exponent.value:.3f}; between 0.5 and 1")
    add("both directions", len(present) == 2, "up and down" if len(present) == 2 else f"only {present[0]}d")
    add("zero-flow pressure", zero <= 5.0, f"{zero:.1f} Pa; 5 Pa is the most")
    if test.height_m is not None:
        product = test.height_m * abs(test.inside_c - test.outside_c)
        words = "{product} m·K; above 250 the zero pressure is too large"
        inch = f"{product * 3.28084 * 1.8:.0f} ft·°F; above 1476 the zero pressure is too large"
        said_both = Said(metric=words.format(product=f"{product:.0f}"), inch=inch)
        checks.append(Check("height × temperature", product <= 250.0, said_both))
    if test.wind_m_s is not None:
        add("wind", test.wind_m_s <= 6.0, f"{{{test.wind_m_s:.1f} m/s}}; {{6 m/s}} is the most")
    return checks
