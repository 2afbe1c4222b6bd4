"""How much water a material draws by its case: liquid and vapour together, as the run would.

The flux-concentration method of Philip and Knight 1974 (Soil Science 117): an exact solution of uptake into a half-space, by quadrature, for any D(w).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from core import case as c
from core.moisture.transient.tables import (
    liquid_increments,
    moisture_content_function,
    monotone_curve,
    suction_from_rh,
    suction_from_z,
    z_from_suction,
)
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import air_permeability_terms, saturation_pressure

CELSIUS, START_RH, POINTS, ROUNDS = 20.0, 0.5, 6000, 60
FULL_PA = 1.0  # suction at the wetted face


def sorptivity(material: c.Material, start_rh: float = START_RH) -> float:
    """kg/(m² √s) drawn by a face at saturation, at 20 °C from `start_rh`. The material's parts are all given."""
    assert material.retention and material.liquid and material.vapour
    constants = c.Constants()
    kelvin = CELSIUS + ZERO_CELSIUS
    w_of = moisture_content_function(material.retention, constants)
    dry = float(z_from_suction(suction_from_rh(start_rh, kelvin, constants)))
    suction = suction_from_z(np.linspace(float(z_from_suction(FULL_PA)), dry, POINTS))
    w = w_of(suction)
    passed = liquid_increments(material.liquid, w, suction)
    rh = np.exp(-suction / (constants.water_density_kg_m3 * constants.vapour_gas_constant * kelvin))
    if material.vapour.mu is not None:
        factor, power = air_permeability_terms(constants.air_permeability, constants.air_pressure_pa)
        by_rh = material.vapour.factor_by_rh
        share = monotone_curve(by_rh)(rh) if by_rh and len(by_rh) > 1 else np.ones_like(rh)
        permeability = factor * kelvin**power / material.vapour.mu * 0.5 * (share[1:] + share[:-1])
        passed = passed + permeability * float(saturation_pressure(kelvin)) * -np.diff(rh)
    held = w - w[-1]
    span = float(held[0])
    if span <= 0.0:
        return 0.0
    middle = 0.5 * (held[1:] + held[:-1])
    falls = -np.diff(held)
    share_of_flux = 2.0 * middle / (span + middle)  # Parlange 1971: near the truth where D rises steeply
    for _ in range(ROUNDS):
        along = passed / np.maximum(share_of_flux, 1e-12)  # D dw / F
        depth = np.concatenate(([0.0], np.cumsum(along)))  # to a constant: how far in each water content stands
        inside = 0.5 * (depth[1:] + depth[:-1]) * falls
        # F(w) = ∫ depth dw from dry to w, over all of it
        below = np.cumsum(inside[::-1])[::-1]
        whole = float(below[0])
        after = (below - 0.5 * inside) / whole if whole > 0.0 else share_of_flux
        moved = float(np.max(np.abs(after - share_of_flux)))
        share_of_flux = after
        if moved < 1e-6:
            break
    return float(np.sqrt(2.0 * np.sum(middle * passed / np.maximum(share_of_flux, 1e-12))))


@lru_cache(maxsize=512)
def liquid_part(material_json: str, drawn: float) -> float:
    """A-value of the liquid alone [kg/(m² √s)] with which a material draws as much as was measured; 0 where vapour alone brings as much.

    material_json: with a liquid of the form of Künzel. By bisection.
    """
    material = c.Material.model_validate_json(material_json)
    assert isinstance(material.liquid, c.LiquidKuenzel)

    def with_a(value: float) -> c.Material:
        assert material.liquid is not None
        return material.model_copy(update={"liquid": material.liquid.model_copy(update={"a_value_kg_m2s05": value})})

    none = material.model_copy(update={"liquid": c.LiquidNone(form="none")})
    if sorptivity(none) >= drawn:
        return 0.0
    low, high = 0.0, drawn
    for _ in range(24):  # to a ten-millionth of it
        value = 0.5 * (low + high)
        low, high = (low, value) if sorptivity(with_a(value)) > drawn else (value, high)
    return 0.5 * (low + high)
