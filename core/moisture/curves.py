"""Pictures of what a material does: water it holds, liquid it moves, heat it conducts, vapour it lets through.

Each by RH (λ and liquid by the water held there), with the span of its family behind it.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from core import case as c
from core.errors import OutOfRange
from core.materials.library import Sheet, Solid, case_material, library
from core.moisture.transient.table_grid import T_INTERVALS, T_MAX, T_MIN, Z_MAX, Z_MIN
from core.moisture.transient.tables import build_tables, suction_from_rh
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import air_permeability_terms

Array = NDArray[np.float64]
RH: Array = np.array(
    [0.001, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.85, 0.9, 0.93, 0.95, 0.97, 0.98, 0.99, 0.995, 0.998, 0.999, 0.9995, 0.9999]
)  # fmt: skip
KELVIN = 293.15


@dataclass(frozen=True)
class Curve:
    """One function: values at each RH; low and high of the family there, None where it has no other member. unit in words."""

    name: str
    unit: str
    values: list[float]
    low: list[float] | None
    high: list[float] | None
    logarithmic: bool


@dataclass(frozen=True)
class Curves:
    """The four functions of a solid, or the one of a sheet, at these RH."""

    rh: list[float]
    curves: list[Curve]


def functions(solid: Solid, temperature_c: float = 20.0) -> dict[str, Array]:
    """Water [kg/m³], liquid diffusivity [m²/s], λ [W/(m K)] and μ at every RH, by the tables a run takes."""
    kelvin = temperature_c + ZERO_CELSIUS
    constants = c.Constants()
    material = case_material(solid)
    assert material.retention is not None and material.heat is not None and material.vapour is not None
    tables = build_tables(solid.name, material, constants, liquid_on=True)
    suction = suction_from_rh(RH, KELVIN if tables.held_rh else kelvin, constants)
    z = np.arcsinh(suction / 1000.0)
    step = (Z_MAX - Z_MIN) / len(tables.by_z)
    at = np.clip(((z - Z_MIN) / step).astype(int), 0, len(tables.by_z) - 1)
    t = (z - Z_MIN) / step - at
    powers = np.stack([np.ones_like(t), t, t * t, t**3], axis=1)
    rows = tables.by_z[at].reshape(len(RH), 4, 4)
    water, _, vapour_factor, conductivity = np.einsum("ijk,ik->ij", rows, powers).T
    slopes = np.stack([np.zeros_like(t), np.ones_like(t), 2.0 * t, 3.0 * t * t], axis=1)
    water_slope, potential_slope = (np.einsum("ik,ik->i", rows[:, column], slopes) for column in (0, 1))
    moves = tables.capillary & (water_slope < 0.0)
    liquid = np.where(moves, potential_slope / np.where(moves, water_slope, -1.0), 0.0)  # D_w = dΘ/dw
    by_t = tables.by_temperature[min(int((kelvin - T_MIN) / (T_MAX - T_MIN) * T_INTERVALS), T_INTERVALS - 1)]
    if tables.factor_by_phi:
        place = np.clip(RH * len(tables.by_phi), 0, len(tables.by_phi) - 1e-9)
        index = place.astype(int)
        part = place - index
        vapour_factor = np.einsum(
            "ik,ik->i", tables.by_phi[index], np.stack([np.ones_like(part), part, part**2, part**3], axis=1)
        )
    factor, power = air_permeability_terms(constants.air_permeability, constants.air_pressure_pa)
    permeability = by_t[0] * vapour_factor
    return {
        "water": water,
        "liquid": liquid,
        "conductivity": conductivity * by_t[4],
        "mu": factor * kelvin**power / permeability,
    }


@lru_cache(maxsize=64)
def _span(family: str) -> dict[str, tuple[Array, Array]]:
    """Lowest and highest of every generic material of a family at every RH."""
    members = [functions(one) for one in library().values() if isinstance(one, Solid) and one.family == family]
    names = members[0] if members else {}
    return {
        name: (np.min([m[name] for m in members], axis=0), np.max([m[name] for m in members], axis=0)) for name in names
    }


UNITS = {
    "water": ("water held", "kg/m³", True),
    "liquid": ("liquid transport", "m²/s", True),
    "conductivity": ("heat conductivity", "W/(m K)", False),
    "mu": ("vapour resistance", "μ", True),
}


def curves(entry: Solid | Sheet) -> Curves:
    """The functions of an entry with the span of its family."""
    if isinstance(entry, Sheet):
        values = [float(entry.sd_at(float(rh))) for rh in RH]
        return Curves([float(rh) for rh in RH], [Curve("vapour resistance", "sd, m", values, None, None, True)])
    found = []
    span = _span(entry.family)
    for name, values_of in functions(entry).items():
        title, unit, logarithmic = UNITS[name]
        if name == "liquid" and not np.any(values_of > 0.0):
            continue
        low, high = span.get(name, (None, None))
        found.append(
            Curve(
                title,
                unit,
                _plain(values_of),
                None if low is None else _plain(low),
                None if high is None else _plain(high),
                logarithmic,
            )
        )
    return Curves([float(rh) for rh in RH], found)


def _plain(values: Array) -> list[float]:
    """Rounded to four digits, so that an answer stays small."""
    if not np.all(np.isfinite(values)):
        raise OutOfRange("a function of the material has no finite value")
    return [float(f"{value:.4g}") for value in values]
