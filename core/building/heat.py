"""Heat loss of a building: ISO 13789 coefficients, degree hours, design load. Loss, not need.

Gains, intermittent heating and joints are not in it yet; every result says so.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from core.climate.data import Climate

AIR_HEAT = 1200.0 / 3600.0  # Wh/(m³ K): ρ c of air, 1200 J/(m³ K), ISO 13789
N50_DIVISOR = 20.0
"""Natural air changes are taken as n50 / 20, a rule of thumb, until leakage is computed by stack and wind."""


@dataclass(frozen=True)
class ElementLoss:
    """One element: area [m²], U [W/m²K], factor b, and their product H [W/K] before and after."""

    name: str
    kind: str
    area: float
    factor_b: float
    u_before: float
    u_after: float

    @property
    def before(self) -> float:
        return self.area * self.u_before * self.factor_b

    @property
    def after(self) -> float:
        return self.area * self.u_after * self.factor_b


@dataclass(frozen=True)
class AirLoss:
    """Air: volume [m³] and air changes [1/h] before and after."""

    volume: float
    rate_before: float
    rate_after: float

    @property
    def before(self) -> float:
        return AIR_HEAT * self.volume * self.rate_before

    @property
    def after(self) -> float:
        return AIR_HEAT * self.volume * self.rate_after


@dataclass(frozen=True)
class HeatLoss:
    """Coefficients [W/K], yearly loss [kWh/a] and design load [W], before and after."""

    elements: list[ElementLoss]
    air: AirLoss
    degree_hours: float  # K h
    set_point_c: float
    design_c: float

    def coefficient(self, after: bool) -> float:
        parts = [element.after if after else element.before for element in self.elements]
        return sum(parts) + (self.air.after if after else self.air.before)

    def yearly_loss(self, coefficient: float) -> float:
        """kWh/a of a coefficient [W/K]."""
        return coefficient * self.degree_hours / 1000.0

    def design_load(self, coefficient: float) -> float:
        """W at the outside design temperature."""
        return coefficient * (self.set_point_c - self.design_c)


def degree_hours(climate: Climate, set_point_c: float) -> float:
    """Σ max(0, set-point − outside temperature) over the hours of the year [K h]."""
    return float(np.maximum(set_point_c - climate["temperature_c"], 0.0).sum())


def natural_air_change(kind: Literal["n50", "natural"], value: float) -> float:
    """Air changes [1/h] of a stated value: as it is, or n50 / 20."""
    return value / N50_DIVISOR if kind == "n50" else value
