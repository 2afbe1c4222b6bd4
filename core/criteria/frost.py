"""Frost in masonry: wet cycles of freezing and thawing at each depth. Whether the stone stands them is not known here."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.moisture.transient.outcome import Outcome

Array = NDArray[np.float64]
FREEZE_C, THAW_C = -2.0, 0.0
WET_DEGREE = 0.8  # of free saturation; a critical degree of the stone would refer to its open porosity
TOLERANCE = 3  # wet cycles a year more than as found that are still called the same


@dataclass(frozen=True)
class FrostCycles:
    """Of the settled year, at the depth with most wet cycles: all cycles, wet ones, depth from outside, worst degree."""

    entry: int
    cycles: int
    wet: int
    depth_mm: float
    degree: float
    hour: int


def falls(temperature_c: Array) -> list[NDArray[np.int64]]:
    """Records at which each column falls below −2 °C after having been above 0 °C. temperature_c: (records, nodes)."""
    state = np.where(temperature_c > THAW_C, 1, np.where(temperature_c < FREEZE_C, -1, 0))
    found = []
    for column in state.T:
        told = np.flatnonzero(column)
        turns = np.flatnonzero((column[told[:-1]] == 1) & (column[told[1:]] == -1)) if len(told) else told
        found.append(told[turns + 1] if len(turns) else np.zeros(0, np.int64))
    return found


def frost_cycles(outcome: Outcome, entry: int) -> FrostCycles:
    """Cycles of one layer of the case in its last year. degree: water over free saturation when it froze."""
    nodes = outcome.cells_of(entry)
    columns = falls(outcome.temperature_c(nodes, outcome.last_pass))
    best = FrostCycles(entry, 0, 0, 0.0, 0.0, 0)
    for node, records in zip(nodes, columns, strict=True):
        if not len(records):
            continue
        water = outcome.moisture_content(int(node), outcome.last_pass)[records]
        degree = water / outcome.free_saturation(int(node))
        wet = int((degree > WET_DEGREE).sum())
        if (wet, len(records)) > (best.wet, best.cycles):
            top = int(degree.argmax())
            depth = float(outcome.depth[node] * 1000.0)
            best = FrostCycles(entry, len(records), wet, depth, float(degree[top]), int(records[top]))
    return best
