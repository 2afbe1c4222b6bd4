"""Moisture of timber and wood-based sheets: daily mean mass-% of the wettest 10 mm."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core.buildup.to_case import TimberLayer
from core.moisture.transient.outcome import Outcome

Array = NDArray[np.float64]
WINDOW = 0.010
SOLID_LIMIT, SHEET_LIMIT = 20.0, 18.0
NEVER_ABOVE, WARM_C = 25.0, 10.0
LONGEST_SPELL_DAYS = 56


@dataclass(frozen=True)
class TimberMoisture:
    """Daily series over all passes: mass-% and °C of the wettest 10 mm, with what the limits look at."""

    limit: float
    daily_percent: Array
    daily_temperature_c: Array
    days_above: int
    longest_spell_days: int
    spell_ends_day: int
    warm_peak_percent: float
    warm_peak_day: int
    days_over_rh: int


def timber_moisture(outcome: Outcome, layer: TimberLayer) -> TimberMoisture:
    """Moisture of one wood-based layer. A layer thinner than 10 mm is taken whole."""
    nodes = outcome.cells_of(layer.entry)
    per_day = int(round(86400.0 / outcome.record_step_s))
    days = len(outcome.z) // per_day
    water = np.stack([outcome.moisture_content(int(node)) for node in nodes], axis=1)
    percent = (100.0 / layer.density * water)[: days * per_day].reshape(days, per_day, -1).mean(axis=1)
    warmth = outcome.temperature_c(nodes)[: days * per_day].reshape(days, per_day, -1).mean(axis=1)
    widths = outcome.volume[nodes]
    best, temperature = np.full(days, -np.inf), np.zeros(days)
    for first in range(len(nodes)):
        share = np.clip(WINDOW - np.concatenate(([0.0], np.cumsum(widths[first:])[:-1])), 0.0, widths[first:])
        if share.sum() < WINDOW * 0.999 and first > 0:
            break
        mean = percent[:, first:] @ share / share.sum()
        warm = warmth[:, first:] @ share / share.sum()
        temperature = np.where(mean > best, warm, temperature)
        best = np.maximum(best, mean)
    limit = SHEET_LIMIT if layer.sheet else SOLID_LIMIT
    spell, ends = longest_spell(best > limit)
    warm_percent = np.where(temperature > WARM_C, best, -np.inf)
    peak = int(warm_percent.argmax())
    return TimberMoisture(
        limit, best, temperature, int((best > limit).sum()), spell, ends, float(max(warm_percent[peak], 0.0)), peak,
        days_over_rh(outcome, nodes, per_day, days),
    )  # fmt: skip


def days_over_rh(outcome: Outcome, nodes: NDArray[np.int64], per_day: int, days: int) -> int:
    """Days of the last year on which the daily mean RH in the wood passes 95 % at 0 °C falling to 86 % at 30 °C.

    The limit some codes use for the air in the pores of wood, linear between; as remembered, the texts are not at hand.
    """
    humidity = outcome.rh(nodes)[: days * per_day].reshape(days, per_day, -1).mean(axis=1)
    warmth = outcome.temperature_c(nodes)[: days * per_day].reshape(days, per_day, -1).mean(axis=1)
    over = (humidity > np.interp(warmth, [0.0, 30.0], [0.95, 0.86])).any(axis=1)
    return int(over[-365:].sum())


def longest_spell(above: NDArray[np.bool_]) -> tuple[int, int]:
    """(length, last index) of the longest run of True; (0, 0) when there is none."""
    longest = current = ends = 0
    for index, value in enumerate(above):
        current = current + 1 if value else 0
        if current > longest:
            longest, ends = current, index
    return longest, ends
