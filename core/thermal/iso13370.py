"""Floors and walls against the ground, simple form of ISO 13370: U by the size of the floor, its perimeter and the soil.

The standard's text is not at hand; formulas as commonly printed. Edge insulation, thermal bridges at the edge and the monthly
swing are not in it. U is to the outside air: no factor b beside it.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from core.case import Strict
from core.errors import OutOfRange

Soil = Literal["clay or silt", "sand or gravel", "rock"]
SOIL_CONDUCTIVITY: dict[Soil, float] = {"clay or silt": 1.5, "sand or gravel": 2.0, "rock": 3.5}
R_SI_FLOOR, R_SI_WALL, R_SE = 0.17, 0.13, 0.04


class GroundPlace(Strict):
    """The floor's size, the exposed part of its perimeter, the walls' thickness, the soil; depth of a cellar floor."""

    area_m2: Annotated[float, Field(gt=0)]
    perimeter_m: Annotated[float, Field(gt=0)]
    wall_m: Annotated[float, Field(gt=0, le=3)] = 0.4
    soil: Soil = "sand or gravel"
    depth_m: Annotated[float, Field(ge=0, le=10)] = 0.0

    @property
    def characteristic_m(self) -> float:
        """B′ = A / (P / 2)."""
        return self.area_m2 / (0.5 * self.perimeter_m)


def slab_transmittance(place: GroundPlace, resistance_m2k_w: float) -> float:
    """U of a slab [W/(m² K)]. resistance: R of its layers without surface resistances.

    d_t = w + λ (R_si + R_f + R_se), and half the depth below ground where it is a cellar floor; less insulated than the
    soil is deep (d_t < B′): U = 2λ/(πB′ + d_t) ln(πB′/d_t + 1); else U = λ/(0.457 B′ + d_t).
    """
    if resistance_m2k_w < 0.0:
        raise OutOfRange(f"a resistance of {resistance_m2k_w:g} m²K/W is below 0")
    soil, b = SOIL_CONDUCTIVITY[place.soil], place.characteristic_m
    d_t = place.wall_m + soil * (R_SI_FLOOR + resistance_m2k_w + R_SE)
    depth = d_t + 0.5 * place.depth_m
    if depth < b:
        return 2.0 * soil / (math.pi * b + depth) * math.log(math.pi * b / depth + 1.0)
    return soil / (0.457 * b + depth)


def cellar_wall_transmittance(place: GroundPlace, wall_resistance: float, floor_resistance: float = 0.0) -> float:
    """U of a cellar wall below ground [W/(m² K)], mean over its depth.

    U = 2λ/(πz) (1 + 0.5 d_t/(d_t + z)) ln(z/d_w + 1), d_w = λ (R_si + R_w + R_se), d_t of the floor (not over d_w).
    """
    if place.depth_m <= 0.0:
        raise OutOfRange("a cellar wall needs the depth of its foot below ground", "state the depth")
    soil, z = SOIL_CONDUCTIVITY[place.soil], place.depth_m
    d_w = soil * (R_SI_WALL + wall_resistance + R_SE)
    d_t = min(place.wall_m + soil * (R_SI_FLOOR + floor_resistance + R_SE), d_w)
    return 2.0 * soil / (math.pi * z) * (1.0 + 0.5 * d_t / (d_t + z)) * math.log(z / d_w + 1.0)
