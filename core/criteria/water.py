"""Free water on faces, hours of wetness of metal, and what water takes of an insulation's R."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.moisture.transient.kernel import FILM_STORAGE
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.tables import SUCTION_UNIT
from core.resolve import resolve_material

Array = NDArray[np.float64]
CONDENSATE_LIMIT_G_M2, DRY_G_M2 = 200.0, 1.0
METAL_RH, METAL_C = 0.80, 0.0
METAL_TOLERANCE_H = 500  # hours a year more than as found that are still called the same; ours
R_LOSS_LIMIT = 0.05
LABEL_RH = 0.5


@dataclass(frozen=True)
class Condensate:
    """Free water at a face [g/m²]: the most, when, and whether the face is dry once in the settled year."""

    most_g_m2: float
    record: int
    dries: bool


def condensate(outcome: Outcome, node: int) -> Condensate:
    """Free water that a face holds beyond saturation, over all years."""
    film = 1000.0 * FILM_STORAGE * np.maximum(-SUCTION_UNIT * np.sinh(np.asarray(outcome.z[:, node], float)), 0.0)
    return Condensate(float(film.max()), int(film.argmax()), bool(film[outcome.last_pass].min() < DRY_G_M2))


def hours_of_wetness(outcome: Outcome, node: int) -> int:
    """Hours above 80 % RH and above 0 °C at a face in the settled year (time of wetness as in ISO 9223)."""
    wet = (outcome.rh(node, outcome.last_pass) > METAL_RH) & (outcome.temperature_c(node, outcome.last_pass) > METAL_C)
    return int(round(wet.sum() * outcome.record_step_s / 3600.0))


def conductivity_of(material: c.Material, water: Array) -> Array:
    """λ(w) [W/(m K)] of a case's material at 10 °C."""
    heat = material.heat
    assert heat is not None
    if heat.conductivity_by_w is not None:
        rows = heat.conductivity_by_w
        return np.interp(water, [row[0] for row in rows], [row[1] for row in rows])
    divisor = heat.density_kg_m3 / heat.conductivity_w_mk if heat.supplement_form == "relative_to_density" else 1.0
    return np.asarray(heat.conductivity_w_mk + heat.moisture_supplement * water / divisor)


def loss_of_resistance(outcome: Outcome, entry: int) -> float:
    """Share of a layer's R that water takes, mean of the settled year, against the layer at 50 % RH."""
    layer = outcome.case.layers[entry]
    assert isinstance(layer, c.Layer)
    material = resolve_material(outcome.case, layer.material)
    nodes = outcome.cells_of(entry)
    records = range(outcome.last_pass.start, len(outcome.z), 24)
    water = np.stack([outcome.moisture_content(int(node), list(records)) for node in nodes], axis=1)
    widths = outcome.volume[nodes]
    wet = (widths / conductivity_of(material, water)).sum(axis=1).mean()
    label = widths.sum() / float(conductivity_of(material, np.array(outcome.water_at_rh(int(nodes[0]), LABEL_RH))))
    return float(1.0 - wet / label)
