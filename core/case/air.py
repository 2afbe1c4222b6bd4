"""Air and rain that get in: flow through everything, vented cavities, leaks by stack and wind, leaks of rain."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from core.case.parts import NonNegative, Positive, Strict
from core.case.series import SeriesValue


class WindAndSun(Strict):
    """Air through a cavity with openings at top and bottom, from wind and from the warmth of the sun.

    V = A √(2 (ΔC_p ρ v²/2 + ρ g H ΔT/T) / (ρ Σζ)) per metre of width, with ΔT half of what the sun warms the cladding.
    """

    climate: str
    facing_deg: Annotated[float, Field(ge=0, lt=360)]
    slope_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    height_m: Positive = 2.6
    opening_mm2_m: Positive = 5000.0
    pressure_coefficient: NonNegative = 0.1
    wind_factor: NonNegative = 0.5
    loss_coefficient: Positive = 3.0
    absorptance: Annotated[float, Field(ge=0, le=1)] = 0.6


class CavityAir(Strict):
    """Air exchanged with an air layer: changes an hour as given, or by wind and sun. of: whose air, from outside or from the room."""

    layer: Annotated[int, Field(ge=0)]
    of: Literal["outside", "inside"] = "outside"
    changes_per_h: SeriesValue | None = None
    by_wind_and_sun: WindAndSun | None = None

    @model_validator(mode="after")
    def _one(self) -> CavityAir:
        if (self.changes_per_h is None) == (self.by_wind_and_sun is None):
            raise ValueError("give exactly one of changes_per_h, by_wind_and_sun")
        if self.of == "inside" and self.changes_per_h is None:
            raise ValueError("the room's air in a cavity is given by its changes an hour")
        return self


class StackAndWind(Strict):
    """Air through leaks: flow = q50 (Δp / 50 Pa)^n (ρ0/ρ)^(1−n); Δp from stack above the neutral plane, from wind on the face, and from what the house keeps inside.

    inside_…: pressure inside at the neutral plane against outside: a share of the wind's dynamic pressure, a swing of it by where the wind comes from, and what
    fans keep.
    """

    climate: str
    facing_deg: Annotated[float, Field(ge=0, lt=360)]
    q50_m3_m2h: NonNegative
    exponent: Annotated[float, Field(ge=0.5, le=1)] = 0.65
    above_neutral_m: float = 2.0
    windward_coefficient: float = 0.25
    leeward_coefficient: float = -0.25
    wind_factor: NonNegative = 0.5
    inside_coefficient: float = 0.0
    inside_swing: NonNegative = 0.0
    inside_swing_from_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    inside_steady_pa: float = 0.0


class AirLeak(Strict):
    """Air that leaks to a plane and leaves it in equilibrium: the room's when it flows outward, outside air inward.

    flow_kg_m2s is positive from the room. Water and warmth that the air gives off at the plane are in the balances.
    """

    after_layer: Annotated[int, Field(ge=0)]
    flow_kg_m2s: SeriesValue | None = None
    by_stack_and_wind: StackAndWind | None = None

    @model_validator(mode="after")
    def _one(self) -> AirLeak:
        if (self.flow_kg_m2s is None) == (self.by_stack_and_wind is None):
            raise ValueError("give exactly one of flow_kg_m2s, by_stack_and_wind")
        return self


class RainLeak(Strict):
    """A share of the rain that gets in to a plane, on top of what the face takes up.

    of: “driven”, the rain driven onto the face (at a `separate` end its rain series); “falling”, what falls on the slope
    of a roof, whatever the end says of driven rain.
    """

    of: Literal["driven", "falling"] = "driven"
    after_layer: Annotated[int, Field(ge=0)]
    share: Annotated[float, Field(gt=0, le=1)]


class Air(Strict):
    """Flow of air through everything [kg/m²s, positive inward], air in cavities, leaks of air and of rain."""

    through_kg_m2s: SeriesValue = 0.0
    cavities: list[CavityAir] = []
    leaks: list[AirLeak] = []
    rain_leaks: list[RainLeak] = []
