"""What the hour of a house is reckoned from: zones, the chains and air between them, what gives off and takes up vapour; and its answer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.physics.constants import (
    ROOM_VAPOUR_FILM,
    STILL_AIR_PERMEABILITY,
)

Array = NDArray[np.float64]
HOUR = 3600.0
VAPOUR_FILM, DELTA_AIR = ROOM_VAPOUR_FILM, STILL_AIR_PERMEABILITY
R_SI = 0.13  # the film at an inner face [m²K/W], for its temperature
OUTSIDE = -1


@dataclass(frozen=True)
class Chain:
    """One element. side: its other side, OUTSIDE or a zone; zone: its inner side. resistances [m²K/W]: from the outer to the inner air, one more than
    capacities [J/(m² K)]; outer_c: what it borders on where it is no zone (sol-air, soil), hourly [°C]; film: of its inner face, for its temperature."""

    key: str
    area_m2: float
    zone: int
    resistances: tuple[float, ...]
    capacities: tuple[float, ...] = ()
    side: int = OUTSIDE
    outer_c: Array | None = None
    film: float = R_SI

    @property
    def u(self) -> float:
        return 1.0 / sum(self.resistances)


@dataclass(frozen=True)
class AirFlow:
    """Dry air from one zone to another (or outside), hourly [kg/h]. recovered: shares of heat and of moisture given back on the way in."""

    key: str
    source: int
    target: int
    kg_h: Array
    heat_recovered: float = 0.0
    moisture_recovered: float = 0.0


@dataclass(frozen=True)
class Buffer:
    """Hygroscopic surfaces of a zone: area, μ, slope of the sorption curve [kg/m³ per 1 of RH]; a layer as deep as a wave of hours goes, another behind it."""

    area_m2: float
    mu: float = 9.0
    slope_kg_m3: float = 25.0


@dataclass(frozen=True)
class WetSource:
    """A wet surface: the inner face of a chain, which is as warm as it, with its area and the sd of what lies on it [m]."""

    key: str
    area_m2: float
    chain: str
    sd_m: float = 0.0


@dataclass(frozen=True)
class ColdSurface:
    """Where vapour condenses: a chain's inner face, over ice below 0 °C. keeps: what condenses stays and dries again (a deck); else it runs off (a pane)."""

    chain: str
    keeps: bool


@dataclass(frozen=True)
class Zone:
    """heat_to_c, cool_to_c: what is held, None where it is not. gains_w: into the air, hourly; vapour_kg_h: given off, hourly. furniture_j_k: light
    mass in it. dry_to: RH that cooling keeps below, None where it does not dry."""

    name: str
    volume_m3: float
    heat_to_c: Array | None = None
    cool_to_c: Array | None = None
    gains_w: Array | None = None
    vapour_kg_h: Array | None = None
    furniture_j_k: float = 0.0
    buffers: tuple[Buffer, ...] = ()
    sources: tuple[WetSource, ...] = ()
    cold: tuple[ColdSurface, ...] = ()
    dry_to: float | None = None


@dataclass(frozen=True)
class Building:
    zones: list[Zone]
    chains: list[Chain]
    flows: list[AirFlow]
    outside_c: Array
    outside_rh: Array


@dataclass(frozen=True)
class ZoneYear:
    """Hourly of each zone: celsius, rh, heating [W], cooling [W], drying [kg/h]; condensed [kg] now on the cold surface; losses [W] by chain and flow
    into the zone (positive: the zone gains). closure: heat and water that a year does not account for, over their turnover."""

    celsius: Array
    rh: Array
    heating_w: Array
    cooling_w: Array
    drying_kg_h: Array
    condensed_kg: Array
    ran_off_kg: Array
    by_chain_w: Array
    by_flow_w: Array
    inner_face_c: Array
    wet_kg_h: Array
    heat_closure: float
    water_closure: float
