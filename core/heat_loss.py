"""Heat loss of a building: ISO 13789 coefficients, degree hours, design load. Loss, not need.

Gains, intermittent heating and joints are not in it yet; every result says so.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.climate.data import Climate, running_daily_mean
from core.physics.constants import AIR_WH_M3K


@dataclass(frozen=True)
class ElementLoss:
    """One element: area [m²], U [W/m²K], factor b, and their product H [W/K] before and after. An area of 0: not in the heated line then."""

    name: str
    kind: str
    area: float
    factor_b: float
    u_before: float
    u_after: float
    area_after: float | None = None
    factor_after: float | None = None

    @property
    def before(self) -> float:
        return self.area * self.u_before * self.factor_b

    @property
    def after(self) -> float:
        area = self.area if self.area_after is None else self.area_after
        return area * self.u_after * (self.factor_b if self.factor_after is None else self.factor_after)

    @property
    def like_for_like(self) -> float:
        """Of the line after the works with its fabric as found; beside a space that only then is there, by the b of then."""
        area = self.area if self.area_after is None else self.area_after
        if self.area == area:
            return self.before
        return area * self.u_before * (self.factor_b if self.factor_after is None else self.factor_after)


@dataclass(frozen=True)
class AirLoss:
    """Air: volume [m³] and air changes [1/h] before and after. volume_after: of another heated line, None where it is the same."""

    volume: float
    rate_before: float
    rate_after: float
    volume_after: float | None = None

    @property
    def before(self) -> float:
        return AIR_WH_M3K * self.volume * self.rate_before

    @property
    def after(self) -> float:
        return AIR_WH_M3K * (self.volume if self.volume_after is None else self.volume_after) * self.rate_after

    @property
    def like_for_like(self) -> float:
        """Of the volume after the works with the air changes as found."""
        return AIR_WH_M3K * (self.volume if self.volume_after is None else self.volume_after) * self.rate_before


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

    @property
    def like_for_like(self) -> float:
        """Of what is heated after the works, with fabric and air as found [W/K]; as before where the line stays."""
        return sum(element.like_for_like for element in self.elements) + self.air.like_for_like

    def yearly_loss(self, coefficient: float) -> float:
        """kWh/a of a coefficient [W/K]."""
        return coefficient * self.degree_hours / 1000.0

    def design_load(self, coefficient: float) -> float:
        """W at the outside design temperature."""
        return coefficient * (self.set_point_c - self.design_c)


HELD_K = 1.0  # above the day's mean outside: a room that is no warmer is not heated


def degree_hours(climate: Climate, set_point_c: float, inside_c: NDArray[np.float64] | None = None) -> float:
    """Σ max(0, set-point − outside temperature) over the hours of the year [K h].

    inside_c: hourly, of a room that is not held at its set-point: then its own temperature up to the set-point, in the hours in which it
    is held warmer than the day outside.
    """
    outside_c = climate["temperature_c"]
    if inside_c is None:
        return float(np.maximum(set_point_c - outside_c, 0.0).sum())
    warm = np.minimum(inside_c, set_point_c)
    held = warm > running_daily_mean(outside_c) + HELD_K
    return float(np.maximum(warm - outside_c, 0.0)[held].sum())
