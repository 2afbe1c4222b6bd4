"""`verify`: air and zones of a building, and the evenness of a room’s humidity."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from core.air_flow.leaks import Leak, air_through
from core.cases.buffers import HABITS, SURFACES, fine_swing, zone_swing
from core.cases.compared import Found, row_of
from core.physics.constants import AIR_HEAT as AIR_HEAT_J
from core.physics.constants import GRAVITY
from core.physics.moist_air import dry_air_density as density
from core.physics.moist_air import saturation_pressure
from core.zones.hourly import zone_year
from core.zones.model import AirFlow, Chain, Zone
from core.zones.model import Building as ZonesBuilding
from core.zones.monthly import utilisation


def _hour(*values: float) -> list[NDArray[np.float64]]:
    return [np.array([value]) for value in values]


def building() -> Iterator[Found]:
    """Air by stack and wind in closed form; a zone's temperature and vapour after a step; two zones as ISO 13789; their closure."""
    source = "closed form of the power law"
    zero, warm = float(density(0.0)), float(density(20.0))
    still = _hour(20.0, 0.0, 0.0, 0.0)
    holes = [Leak("low", 100.0, 0.0, 0.0), Leak("high", 100.0, 5.0, 0.0)]
    found = air_through(holes, still[0], still[1], still[2], still[3], 100.0)
    # both holes pass the same mass, ρ0 (ρ/ρ0)^n C Δp^n: Δp_low (1 + ρ_o/ρ_i) = H g (ρ_o − ρ_i)
    below = 5.0 * GRAVITY * (zero - warm) / (1.0 + zero / warm)
    expected = 100.0 * (below / 50.0) ** 0.65 * warm * (zero / warm) ** 0.65
    yield row_of(
        "Air, stack through two holes 5 m apart", "flow", "kg/h", float(found.flows[0, 0]), expected, 1e-6, source, True
    )
    windy = _hour(10.0, 10.0, 8.0, 270.0)
    faces = [Leak("west", 100.0, 1.0, 270.0), Leak("east", 100.0, 1.0, 90.0)]
    found = air_through(faces, windy[0], windy[1], windy[2], windy[3], 100.0)
    half = 0.5 * 0.5 * 0.5 * float(density(10.0)) * 16.0
    expected = 100.0 * (half / 50.0) ** 0.65 * warm * (float(density(10.0)) / warm) ** 0.65
    yield row_of("Air, wind through two faces", "flow", "kg/h", float(found.flows[0, 0]), expected, 1e-6, source, True)
    hours = 8760
    flat = np.ones(hours)
    gain = np.r_[np.zeros(24), np.full(hours - 24, 2000.0)]
    vapour = np.r_[np.zeros(100), np.full(hours - 100, 0.2)]
    room = Zone("room", 300.0, gains_w=gain, vapour_kg_h=vapour, furniture_j_k=3.6e7 - 300.0 * 1.2 * AIR_HEAT_J)
    wall = Chain("wall", 100.0, 0, (0.5,), outer_c=5.0 * flat)
    air = AirFlow("air", -1, 0, 60.0 * flat)
    year = zone_year(ZonesBuilding([room], [wall], [air], 5.0 * flat, 0.7 * flat), 60, years=1)
    k = 200.0 + 60.0 / 3600.0 * AIR_HEAT_J
    t = (72.5 - 24.0) * 3600.0
    expected = 5.0 + 2000.0 / k * (1.0 - np.exp(-t * k / 3.6e7))
    source = "closed form of one capacity"
    yield row_of("Zone, step of heat after 48 h", "T", "°C", float(year.celsius[0, 72]), expected, 0.02, source)
    pressure = year.rh[0, 8000] * float(saturation_pressure(year.celsius[0, 8000] + 273.15))
    expected = 0.7 * float(saturation_pressure(278.15)) + 0.2 / (60.0 * 0.622 / 101325.0)
    yield row_of(
        "Zone, step of vapour, settled", "p_v", "Pa", float(pressure), expected, 1e-4, "closed form of one zone", True
    )
    # η at γ 0.5, a 3: (1 − 0.125)/(1 − 0.0625); at γ 2, a 3: (1 − 8)/(1 − 16)
    source = "worked here by hand"
    yield row_of(
        "ISO 52016-1 by months, half as much gained as lost",
        "η",
        "-",
        utilisation(0.5, 3.0),
        0.933333,
        1e-6,
        source,
        True,
    )
    yield row_of(
        "ISO 52016-1 by months, twice as much gained as lost",
        "η",
        "-",
        utilisation(2.0, 3.0),
        0.466667,
        1e-6,
        source,
        True,
    )
    yield row_of(
        "ISO 52016-1 by months, as much gained as lost", "η", "-", utilisation(1.0, 3.0), 0.75, 1e-9, source, True
    )
    between = Chain("ceiling", 80.0, 1, (0.1, 0.3, 0.1), (2e4, 3e4), side=0)
    roof = Chain("roof", 110.0, 1, (0.04, 0.2), (1e4,), outer_c=-10.0 * flat)
    vents = AirFlow("vents", -1, 1, 300.0 * flat)
    house = Zone("house", 200.0, heat_to_c=20.0 * flat)
    both = zone_year(ZonesBuilding([house, Zone("attic", 90.0)], [between, roof], [vents], -10.0 * flat, 0.8 * flat))
    inner, outer = 160.0, 110.0 / 0.24 + 300.0 / 3600.0 * AIR_HEAT_J
    b = float((20.0 - both.celsius[1, -1]) / 30.0)
    yield row_of(
        "Two zones, factor b of the cold one", "b", "–", b, outer / (inner + outer), 1e-6, "ISO 13789, steady", True
    )
    yield row_of("Two zones, a year", "heat closure", "of turnover", both.heat_closure, 0.0, 1e-6, "its own account")
    yield row_of("Two zones, a year", "water closure", "of turnover", both.water_closure, 0.0, 1e-6, "its own account")


def buffers() -> Iterator[Found]:
    """The swing of a room's humidity beside a hygroscopic surface, two layers against fine cells."""
    for surface in SURFACES:
        for habit in HABITS:
            periods = 20 if habit.period_h == 24 else 6
            fine, zone = (swing(surface, habit, periods) for swing in (fine_swing, zone_swing))
            name = f"Room, {surface.area_m2:g} m² at μ {surface.mu:g}: {habit.name}"
            yield row_of(name, "swing of RH", "-", zone, fine, 0.06, "60 cells, five minutes", True)
