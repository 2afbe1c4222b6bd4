"""Floors and walls against the ground after ISO 13370:2017: slabs with edge insulation, cellars heated or not, floors over a void,
and the yearly swing of the heat flow.

The standard's text is not at hand; formulas as commonly printed. The thermal bridge of wall and floor is a joint and not in it. U is to
the outside air: no factor b beside it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from core.case import Strict
from core.errors import OutOfRange
from core.physics.constants import AIR_WH_M3K

Soil = Literal["clay or silt", "sand or gravel", "rock"]
SOIL_CONDUCTIVITY: dict[Soil, float] = {"clay or silt": 1.5, "sand or gravel": 2.0, "rock": 3.5}
SOIL_HEAT_J_M3K: dict[Soil, float] = {"clay or silt": 3.0e6, "sand or gravel": 2.0e6, "rock": 2.0e6}
R_SI_FLOOR, R_SI_WALL, R_SE = 0.17, 0.13, 0.04
YEAR_S = 3.15e7
# ISO 13370: shelter of a vented void from the wind, in a town, a suburb, the open.
Shelter = Literal["sheltered", "average", "exposed"]
WIND_SHIELDING: dict[Shelter, float] = {"sheltered": 0.02, "average": 0.05, "exposed": 0.10}


class GroundPlace(Strict):
    """The floor's size, the exposed part of its perimeter, the walls' thickness, the soil; depth of a cellar floor; R of that floor's layers, for its walls."""

    area_m2: Annotated[float, Field(gt=0)]
    perimeter_m: Annotated[float, Field(gt=0)]
    wall_m: Annotated[float, Field(gt=0, le=3)] = 0.4
    soil: Soil = "sand or gravel"
    depth_m: Annotated[float, Field(ge=0, le=10)] = 0.0
    floor_r_m2k_w: Annotated[float, Field(ge=0, le=30)] = 0.0

    @property
    def characteristic_m(self) -> float:
        """B′ = A / (P / 2)."""
        return self.area_m2 / (0.5 * self.perimeter_m)


class EdgeInsulation(Strict):
    """A strip of insulation along the edge of a slab: flat under or over it (width), or upright at the footing (depth)."""

    upright: bool = False
    reach_m: Annotated[float, Field(gt=0, le=5)]
    thickness_m: Annotated[float, Field(gt=0, le=0.5)]
    conductivity_w_mk: Annotated[float, Field(gt=0, le=0.2)] = 0.036

    def added_m(self, soil: float) -> float:
        """d′ [m]: the thickness of soil that gives the resistance the strip has over the soil it replaces."""
        return max(self.thickness_m / self.conductivity_w_mk - self.thickness_m / soil, 0.0) * soil


def edge_psi(place: GroundPlace, resistance_m2k_w: float, edge: EdgeInsulation) -> float:
    """Ψ of edge insulation [W/(m K)], negative: −λ/π (ln(D/d_t + 1) − ln(D/(d_t + d′) + 1)); an upright strip counts twice its depth."""
    soil = SOIL_CONDUCTIVITY[place.soil]
    d_t = equivalent_m(place, resistance_m2k_w)
    reach = edge.reach_m * (2.0 if edge.upright else 1.0)
    return -soil / math.pi * (math.log(reach / d_t + 1.0) - math.log(reach / (d_t + edge.added_m(soil)) + 1.0))


def equivalent_m(place: GroundPlace, resistance_m2k_w: float) -> float:
    """d_t [m]: thickness of soil with the resistance of the slab and its surfaces, and the wall's width."""
    if resistance_m2k_w < 0.0:
        raise OutOfRange(f"a resistance of {resistance_m2k_w:g} m²K/W is below 0")
    return place.wall_m + SOIL_CONDUCTIVITY[place.soil] * (R_SI_FLOOR + resistance_m2k_w + R_SE)


def slab_transmittance(place: GroundPlace, resistance_m2k_w: float) -> float:
    """U of a slab [W/(m² K)]. resistance: R of its layers without surface resistances.

    d_t = w + λ (R_si + R_f + R_se), and half the depth below ground where it is a cellar floor; less insulated than the
    soil is deep (d_t < B′): U = 2λ/(πB′ + d_t) ln(πB′/d_t + 1); else U = λ/(0.457 B′ + d_t).
    """
    soil, b = SOIL_CONDUCTIVITY[place.soil], place.characteristic_m
    d_t = equivalent_m(place, resistance_m2k_w)
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


@dataclass(frozen=True)
class GroundHeat:
    """Steady coefficient H [W/K], and the swing of the heat flow with the inside (H_pi) and outside (H_pe) yearly waves [W/K], with
    the months by which they are early (α) and late (β)."""

    steady: float
    periodic_inside: float
    periodic_outside: float
    inside_months: float
    outside_months: float

    def flow_w(
        self, inside_c: tuple[float, float], outside_c: tuple[float, float], coldest_month: float
    ) -> list[float]:
        """Heat flow of each month [W]: (mean, amplitude) of both temperatures; months counted from 1 in January.

        Φ_m = H (θ̄i − θ̄e) − H_pi θ̂i cos(2π (m − τ + α)/12) + H_pe θ̂e cos(2π (m − τ − β)/12)
        """
        steady = self.steady * (inside_c[0] - outside_c[0])
        found = []
        for month in range(1, 13):
            turn = 2.0 * math.pi / 12.0
            inner = self.periodic_inside * inside_c[1] * math.cos(turn * (month - coldest_month + self.inside_months))
            outer = (
                self.periodic_outside * outside_c[1] * math.cos(turn * (month - coldest_month - self.outside_months))
            )
            found.append(steady - inner + outer)
        return found


def _penetration_m(soil: Soil) -> float:
    """δ [m]: how deep the yearly wave goes, √(3.15e7 λ / (π ρc))."""
    return math.sqrt(YEAR_S * SOIL_CONDUCTIVITY[soil] / (math.pi * SOIL_HEAT_J_M3K[soil]))


def slab_heat(place: GroundPlace, resistance_m2k_w: float, edge: EdgeInsulation | None = None) -> GroundHeat:
    """A slab on the ground with its swing: H = A U + P Ψ of the edge.

    H_pi = A λ/d_t √(2/((1 + δ/d_t)² + 1)), H_pe = 0.37 P λ ln(δ/d_t + 1), less where the edge is insulated; α and β as printed.
    """
    soil, delta = SOIL_CONDUCTIVITY[place.soil], _penetration_m(place.soil)
    d_t = equivalent_m(place, resistance_m2k_w)
    steady = place.area_m2 * slab_transmittance(place, resistance_m2k_w)
    bare = math.log(delta / d_t + 1.0)
    outside = bare
    if edge is not None:
        steady += place.perimeter_m * edge_psi(place, resistance_m2k_w, edge)
        reach = edge.reach_m * (2.0 if edge.upright else 1.0)
        kept = math.exp(-reach / delta)
        outside = (1.0 - kept) * math.log(delta / (d_t + edge.added_m(soil)) + 1.0) + kept * bare
    return GroundHeat(
        steady,
        place.area_m2 * soil / d_t * math.sqrt(2.0 / ((1.0 + delta / d_t) ** 2 + 1.0)),
        0.37 * place.perimeter_m * soil * outside,
        1.5 - 12.0 / (2.0 * math.pi) * math.atan(d_t / (d_t + delta)),
        1.5 - 0.42 * math.log(delta / (d_t + 1.0)),
    )


def heated_cellar(place: GroundPlace, floor_resistance: float, wall_resistance: float) -> GroundHeat:
    """Floor and walls below ground of a heated cellar together: H = A U_bf + z P U_bw, with their swing."""
    soil, delta, z = SOIL_CONDUCTIVITY[place.soil], _penetration_m(place.soil), place.depth_m
    d_t = equivalent_m(place, floor_resistance)
    d_w = soil * (R_SI_WALL + wall_resistance + R_SE)
    floor = slab_transmittance(place, floor_resistance)
    wall = cellar_wall_transmittance(place, wall_resistance, floor_resistance)
    a, p = place.area_m2, place.perimeter_m
    kept = math.exp(-z / delta)
    inside = a * soil / d_t * math.sqrt(2.0 / ((1.0 + delta / d_t) ** 2 + 1.0)) + z * p * soil / d_w * math.sqrt(
        2.0 / ((1.0 + delta / d_w) ** 2 + 1.0)
    )
    outside = 0.37 * p * soil * (kept * math.log(delta / d_t + 1.0) + 2.0 * (1.0 - kept) * math.log(delta / d_w + 1.0))
    return GroundHeat(
        a * floor + z * p * wall,
        inside,
        outside,
        1.5 - 12.0 / (2.0 * math.pi) * math.atan(d_t / (d_t + delta)),
        1.5 - 0.42 * math.log(delta / (d_t + 1.0)),
    )


def below_ground(
    place: GroundPlace, kind: str, resistance: float, area_m2: float, edge: EdgeInsulation | None = None
) -> GroundHeat:
    """One element against the ground: a slab or the floor of a heated cellar, or a wall of it below ground (its own area, depth of the place).

    The floor of a cellar has the outer swing e^(−z/δ) of a slab's, its walls 2 (1 − e^(−z/δ)) on their length, as in `heated_cellar`.
    edge: along a slab at ground level; a cellar's floor has none.
    """
    if kind != "wall":
        flat = slab_heat(place, resistance, edge if place.depth_m == 0.0 else None)
        kept = math.exp(-place.depth_m / _penetration_m(place.soil))
        return GroundHeat(
            flat.steady, flat.periodic_inside, flat.periodic_outside * kept, flat.inside_months, flat.outside_months
        )
    soil, delta, z = SOIL_CONDUCTIVITY[place.soil], _penetration_m(place.soil), place.depth_m
    u = cellar_wall_transmittance(place, resistance, place.floor_r_m2k_w)
    d_w = soil * (R_SI_WALL + resistance + R_SE)
    swing = 0.37 * (area_m2 / z) * soil * 2.0 * (1.0 - math.exp(-z / delta)) * math.log(delta / d_w + 1.0)
    inside = area_m2 * soil / d_w * math.sqrt(2.0 / ((1.0 + delta / d_w) ** 2 + 1.0))
    return GroundHeat(
        u * area_m2,
        inside,
        swing,
        1.5 - 6.0 / math.pi * math.atan(d_w / (d_w + delta)),
        1.5 - 0.42 * math.log(delta / (d_w + 1.0)),
    )


class Void(Strict):
    """A void under a suspended floor: height of the floor above the outside ground, U of the void's walls, vent openings.

    openings_m2_m: area of the vents for each metre of perimeter; 0.0015 is usual where codes ask for vents. ground_resistance: of what lies
    on the earth [m²K/W].
    """

    height_m: Annotated[float, Field(ge=0, le=5)] = 0.5
    wall_u_w_m2k: Annotated[float, Field(gt=0, le=10)] = 1.7
    openings_m2_m: Annotated[float, Field(ge=0, le=0.1)] = 0.0015
    wind_m_s: Annotated[float, Field(ge=0, le=15)] = 4.0
    shelter: Shelter = "average"
    ground_resistance: Annotated[float, Field(ge=0, le=20)] = 0.0


def void_ground_transmittance(place: GroundPlace, void: Void) -> tuple[float, float]:
    """(U_g through the earth of the void, U_x through its walls and vents), both on the area of the floor [W/(m² K)].

    U_g = 2λ/(πB′ + d_g) ln(πB′/d_g + 1), d_g = w + λ (R_si + R_g + R_se); U_x = 2 h U_w/B′ + 1450 ε v f_w/B′.
    """
    soil, b = SOIL_CONDUCTIVITY[place.soil], place.characteristic_m
    d_g = place.wall_m + soil * (R_SI_FLOOR + void.ground_resistance + R_SE)
    earth = 2.0 * soil / (math.pi * b + d_g) * math.log(math.pi * b / d_g + 1.0)
    walls = 2.0 * void.height_m * void.wall_u_w_m2k / b
    vents = 1450.0 * void.openings_m2_m * void.wind_m_s * WIND_SHIELDING[void.shelter] / b
    return earth, walls + vents


def over_void(place: GroundPlace, floor_u: float, void: Void) -> float:
    """U of a suspended floor to the outside air [W/(m² K)]: 1/U = 1/U_f + 1/(U_g + U_x)."""
    earth, air = void_ground_transmittance(place, void)
    return 1.0 / (1.0 / floor_u + 1.0 / (earth + air))


def over_unheated_cellar(
    place: GroundPlace, floor_u: float, cellar_floor_r: float, cellar_wall_r: float, wall_above_u: float,
    height_above_m: float, volume_m3: float, air_changes: float,
) -> float:  # fmt: skip
    """U of the floor over a cellar that is not heated [W/(m² K)].

    1/U = 1/U_f + A/(A U_bf + z P U_bw + h P U_w + ρ c n V), where the standard prints 0.33 for ρ c.
    """
    a, p, z = place.area_m2, place.perimeter_m, place.depth_m
    below = a * slab_transmittance(place, cellar_floor_r)
    if z > 0.0:
        below += z * p * cellar_wall_transmittance(place, cellar_wall_r, cellar_floor_r)
    below += height_above_m * p * wall_above_u + AIR_WH_M3K * air_changes * volume_m3
    return 1.0 / (1.0 / floor_u + a / below)
