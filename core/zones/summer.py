"""What one measure each does for rooms that are too warm in summer."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from core.climate.data import Climate
from core.say import Said, air_flow, resistance, said, say
from core.zones.assemble import HOUSE, Part, State, building_year

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Summer:
    """What one measure does for the rooms after the works: hours above the temperature that was chosen, the warmest hour, cooling and its peak."""

    what: Said
    warm_h: float
    warmest_c: float
    cooling_kwh: float
    cooling_peak_w: float
    heating_kwh: float


NIGHT_AIR_M3_H_M2 = 5.0  # of floor: windows wide open at night
ROOF_R, MASS_J_M2K = 3.0, 100e3


def summer(state: State, climate: Climate) -> list[Summer]:
    """The state as it is, then with one measure each, where it applies: shutters, less sun through glass, windows wide open, mass inside, insulated roofs, light roofs."""
    rows: list[Summer] = []
    for what, changed, mass in _measures(state):
        made = building_year(changed, climate, more_mass_j_m2k=mass)
        celsius = made.year.celsius[HOUSE]
        warm = float((celsius > state.stated.use.warm_c).sum())
        rows.append(Summer(what, warm, float(celsius.max()), made.cooling_kwh, made.cooling_peak_w, made.heating_kwh))
    return rows


def _measures(state: State) -> list[tuple[Said, State, float]]:
    found = [(said("as it is"), state, 0.0)]
    glazed = [part.kind == "window" and part.side == "outside" and bool(part.g_value) for part in state.parts]
    if any(glazed):
        found.append(
            (
                said("shutters outside, closed in warm sun"),
                _with(state, lambda p: replace(p, shutters=True), glazed),
                0.0,
            )
        )
        found.append(
            (
                said("glass that lets half as much sun in"),
                _with(state, lambda p: replace(p, g_value=0.5 * (p.g_value or 0.0)), glazed),
                0.0,
            )
        )
    most = max(NIGHT_AIR_M3_H_M2 * state.floor_m2, state.stated.ventilation.summer_airing_m3_h)
    if most > state.stated.ventilation.summer_airing_m3_h:
        air = state.stated.ventilation.model_copy(update={"summer_airing_m3_h": most})
        stated = state.stated.model_copy(update={"ventilation": air})
        words = say("windows wide open while it is cooler outside, {flow}", flow=air_flow(most))
        found.append((words, replace(state, stated=stated, night_air=True), 0.0))
    heavy = Said(
        metric="heavy inner walls and floors, 100 kJ/K more for each m² of floor",
        inch="heavy inner walls and floors, 4.9 Btu/°F more for each ft² of floor",
    )
    found.append((heavy, state, MASS_J_M2K))
    roofs = [part.kind == "roof" and part.build_up is not None for part in state.parts]
    if any(roofs):
        found.append(
            (
                say("roofs and ceilings with {r} more", r=resistance(ROOF_R)),
                _with(state, lambda p: replace(p, more_r=ROOF_R), roofs),
                0.0,
            )
        )
        sunny = [
            is_roof and part.side == "outside" and part.absorptance > 0.45
            for part, is_roof in zip(state.parts, roofs, strict=True)
        ]
        if any(sunny):
            found.append(
                (said("roofs in a light colour"), _with(state, lambda p: replace(p, absorptance=0.3), sunny), 0.0)
            )
    return found


def _with(state: State, change: Callable[[Part], Part], which: list[bool]) -> State:
    return replace(state, parts=[change(part) if hit else part for part, hit in zip(state.parts, which, strict=True)])
