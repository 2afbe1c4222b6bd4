"""In which order the leaks of a house are closed, so that no wall is left without drying; what air carries of heat."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.air_flow.leaks import COLD_C, AirYear
from core.air_flow.ledger import LedgerRow
from core.climate.data import Climate
from core.physics.constants import AIR_KWH_KGK


@dataclass(frozen=True)
class SealStep:
    """The next leak to close: saves heat [kWh], and why it may come now or has to wait."""

    key: str
    name: str
    saves_kwh: float
    waits: bool
    words: str


def order_of_sealing(
    rows: list[LedgerRow], year: AirYear, wet: Mapping[str, str], climate: Climate, inside_c: float
) -> list[SealStep]:
    """Leaks in the order in which sealing leaves no wall without drying: first where room air goes out at the top, which wets and dries nothing;
    then what draws air in; last what belongs to an element whose water items are open: its draught dries it until they are closed.

    year: of the house with none of them closed; wet: elements that may not be covered yet, each with its state in words.
    """
    below = np.maximum(inside_c - climate["temperature_c"], 0.0)
    found = []
    for row in rows:
        flows = year.parts_of(row.key)
        if not flows.any():
            continue
        inward, outward = year.outward_m3_h(row.key)
        waits = row.key in wet and inward > outward
        if waits:
            words = f"its water items are not closed ({wet[row.key]}): the air it draws in dries it until they are"
        elif outward >= inward:
            words = "room air goes out here and wets what it cools at; nothing dries by it"
        else:
            words = "outside air is drawn in here; nothing is known that needs it to dry"
        # as much comes in elsewhere as goes out here: half of the heat is counted for each
        saves = 0.5 * (carried_kwh(np.maximum(flows, 0.0), below) + carried_kwh(np.maximum(-flows, 0.0), below))
        found.append((waits, inward - outward, SealStep(row.key, row.name, saves, waits, words)))
    return [step for _, _, step in sorted(found, key=lambda one: (one[0], one[1]))]


def carried_kwh(flow_kg_h: NDArray[np.float64], kelvin: NDArray[np.float64]) -> float:
    """Heat that air carries over a year [kWh]: hourly flow, or its parts [part, hour], times hourly kelvin."""
    return float((flow_kg_h * kelvin).sum()) * AIR_KWH_KGK


def neutral_height(year: AirYear, climate: Climate) -> float:
    """Median over the hours below COLD_C of the height at which as much presses in as out [m above the common zero]; of all hours where none is so cold."""
    cold = climate["temperature_c"] < COLD_C
    return float(np.median(year.neutral_m[cold] if cold.any() else year.neutral_m))


def changes_in_the_cold(year: AirYear, climate: Climate, set_point_c: float) -> float:
    """Mean air changes [1/h], each hour weighted by its degrees below the set-point."""
    below = (set_point_c - climate["temperature_c"]).clip(min=0.0)
    total = float(below.sum())
    return float((year.changes * below).sum() / total) if total > 0.0 else float(year.changes.mean())
