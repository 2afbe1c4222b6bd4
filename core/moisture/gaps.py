"""How much of a way out a gap is: the still air that would let as much vapour through as its own air carries away."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from core import case as c
from core.buildup.model import BuildUpLayer, Place
from core.climate.data import shipped
from core.errors import CoreError
from core.materials.library import AirLayer
from core.moisture.transient.airflow import cavity_changes_per_h

CAVITY_HEIGHT_M = {"wall": 2.6, "roof": 5.0}
DIFFUSION_M2_S = 2.5e-5  # of vapour in air at 10 to 20 °C
CLOSED_M = 1e4


def gap_sd(layer: BuildUpLayer, place: Place) -> float:
    """sd [m] of the way from a gap to the air outside: D / q, with q the air that it changes on the mean of the year for each m² of face.

    Openings, height, slope, wind and sun decide (`cavity_changes_per_h`); a still gap is no way out. Steady, and for a gap whose air is
    mixed along its height: an estimate.
    """
    entry = layer.entry
    if not isinstance(entry, AirLayer) or not entry.drains or place.adjoining == "ground":
        return CLOSED_M
    if place.adjoining == "unheated":
        return DIFFUSION_M2_S / (layer.thickness * 1.0 / 3600.0)  # the air of the space beside, once an hour
    try:
        changes = _changes(opened_by(entry, place), layer.thickness)
    except CoreError:
        return CLOSED_M  # its climate is gone, which every page of the project says
    return DIFFUSION_M2_S / max(changes * layer.thickness / 3600.0, DIFFUSION_M2_S / CLOSED_M)


def opened_by(entry: AirLayer, place: Place) -> c.WindAndSun:
    """What moves the air of a gap in its place: its openings, in wind and sun."""
    return c.WindAndSun(
        climate=place.climate,
        facing_deg=place.facing_deg,
        slope_deg=place.slope_deg,
        height_m=CAVITY_HEIGHT_M["roof" if place.kind == "roof" else "wall"],
        opening_mm2_m=entry.opening_mm2_m,
    )


@lru_cache(maxsize=512)
def _changes(by: c.WindAndSun, depth_m: float) -> float:
    return float(np.mean(cavity_changes_per_h(shipped(by.climate), by, depth_m)))


def both_ways(straight: float, gap: float) -> float:
    """sd of two ways out side by side: through what stands before the gap, and with the gap's air."""
    return straight * gap / (straight + gap) if straight + gap > 0.0 else 0.0
