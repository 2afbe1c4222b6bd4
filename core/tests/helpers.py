"""Small cases for tests."""

from __future__ import annotations

from typing import Any

from core.case import Case, case_from_dict

STONE: dict[str, Any] = {
    "retention": {"form": "kuenzel", "w80_kg_m3": 16, "free_saturation_kg_m3": 140},
    "liquid": {"form": "kuenzel", "a_value_kg_m2s05": 0.05, "free_saturation_kg_m3": 140},
    "vapour": {"mu": 18},
    "heat": {"density_kg_m3": 2000, "specific_heat_j_kgk": 900, "conductivity_w_mk": 1.6, "moisture_supplement": 0.004},
}
FIBRE: dict[str, Any] = {
    "retention": {"form": "kuenzel", "w80_kg_m3": 0.3, "free_saturation_kg_m3": 300},
    "liquid": {"form": "none"},
    "vapour": {"mu": 1.2},
    "heat": {"density_kg_m3": 60, "specific_heat_j_kgk": 1030, "conductivity_w_mk": 0.035},
}


def film(temperature: Any, rh: Any, h: float = 8.0, beta: float = 2.5e-8, **more: Any) -> dict[str, Any]:
    """An end with films in air."""
    return {
        "type": "separate",
        "heat": {"type": "film", "coefficient_w_m2k": h, "air_temperature_c": temperature},
        "moisture": {"type": "film", "coefficient_s_m": beta, "air_rh": rh},
        **more,
    }


def small(**changes: Any) -> dict[str, Any]:
    """Plain data of a small wall for ten days, to be changed by a test."""
    raw: dict[str, Any] = {
        "materials": {"stone": STONE, "fibre": FIBRE},
        "initial": {"temperature_c": 12, "rh": 0.7},
        "layers": [
            {"kind": "layer", "name": "stone", "material": "stone", "thickness_m": 0.2},
            {"kind": "layer", "name": "fibre", "material": "fibre", "thickness_m": 0.06},
        ],
        "outside": film(3, 0.85, h=20, beta=1e-7),
        "inside": film(20, 0.5),
        "time": {"length_s": 10 * 86400},
        "output": {"planes": [{"name": "between", "after_layer": 0}]},
    }
    raw.update(changes)
    return raw


def case(**changes: Any) -> Case:
    return case_from_dict(small(**changes))
