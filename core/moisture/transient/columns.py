"""Names of the columns that the solver, what is laid for it and what reads its outcome share. Each stands here once."""

from __future__ import annotations

# How an end is held, for heat and for moisture: at a value, through a film, by a given flux, or closed.
PRESCRIBED, FILM, GIVEN, CLOSED = range(4)
# Of `Boundary.series`: environment [K], film [W/m²K], given heat [W/m²], vapour pressure [Pa], vapour film [kg/m²sPa], given vapour, rain [kg/m²s], its temperature [K].
T_ENV, H_FILM, Q_GIVEN, PV_ENV, BETA, G_GIVEN, RAIN, T_RAIN = range(8)
# Of `Ports.series`: water set free [kg/m²s] and its temperature [K], exchange of heat [W/m²K] and of vapour [kg/m²sPa], temperature [K] and vapour pressure [Pa] of the air.
WATER, T_WATER, HEAT_EXCHANGE, VAPOUR_EXCHANGE, T_AIR, PV_AIR = range(6)
# Of the fluxes at an end, positive into the wall: heat by the film and absorbed [W/m²]; vapour, liquid, rain offered and run off [kg/m²s].
BY_FILM, ABSORBED, VAPOUR, LIQUID, OFFERED, OFF = range(6)
# Of what a port lets in.
PORT_WATER, PORT_VAPOUR, PORT_HEAT = range(3)
# Of `State.totals` and `Outcome.totals` [kg/m², J/m²].
WATER_IN, ENERGY_IN, WATER_TURNED, ENERGY_TURNED, WATER_STORED, ENERGY_STORED = range(6)
OUTSIDE, INSIDE = 0, 1  # the ends
