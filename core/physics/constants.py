"""Constants that stand once. A case file may state its own of some of them (`core.case.material.Constants`); these are what it takes where it is silent."""

from __future__ import annotations

ZERO_CELSIUS = 273.15  # K
GRAVITY = 9.81  # m/s²
STEFAN_BOLTZMANN = 5.670374419e-8  # W/(m² K⁴)
STANDARD_PRESSURE = 101325.0  # Pa
ROOM_K = 293.15  # K, 20 °C: where airtightness is stated and vapour diagrams are drawn

GAS_CONSTANT_AIR = 287.055  # J/(kg K), dry air
GAS_CONSTANT_VAPOUR = 461.5  # J/(kg K)
RATIO_OF_MASSES = 0.622  # of vapour to dry air

AIR_DENSITY, AIR_HEAT = 1.2, 1006.0  # kg/m³, J/(kg K): dry air of a room; one figure for every sheet
AIR_WH_M3K = AIR_DENSITY * AIR_HEAT / 3600.0  # Wh/(m³ K): 0.335, between the 0.33 and 0.34 that standards print
AIR_KWH_KGK = AIR_HEAT / 3.6e6  # kWh/(kg K)

WATER_HEAT = 4187.0  # J/(kg K)
EVAPORATION = 2.501e6  # J/kg at 0 °C

STILL_AIR_PERMEABILITY = 2.0e-10  # kg/(m s Pa), ISO 13788
ROOM_VAPOUR_FILM = 2.5e-8  # kg/(m² s Pa): a surface in a room, after Lewis with 3.5 W/(m² K) of convection
