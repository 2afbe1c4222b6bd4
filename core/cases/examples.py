"""The example cases that ship: built here, written as JSON by `python -m core.cases.examples`.

en15026_annex_a and isothermal_drying are the benchmarks of the same name; rained_wall is a made-up wall.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.case import Case, case_from_dict

FOLDER = Path(__file__).parent
REFERENCE = FOLDER / "reference"
DAY = 86400.0


def reference(name: str) -> dict[str, Any]:
    """Reference data kept verbatim with its source."""
    return dict(json.loads((REFERENCE / f"{name}.json").read_text(encoding="utf-8")))


def _end(heat: dict[str, Any], moisture: dict[str, Any]) -> dict[str, Any]:
    return {"type": "separate", "heat": heat, "moisture": moisture}


CLOSED = _end({"type": "adiabatic"}, {"type": "tight"})


def en15026_annex_a(days: float) -> Case:
    """EN 15026 Annex A with the constants of the reference solution."""
    return case_from_dict(
        {
            "title": f"EN 15026 Annex A, {days:g} days",
            "constants": {
                "gas_constant_j_molk": 8.314,
                "molar_mass_water_kg_mol": 0.018,
                "water_heat_j_kgk": 4180,
                "latent_heat_j_kg": 2.5e6,
                "latent_heat_form": "constant",
                "air_permeability": "en15026_annex_a",
            },
            "materials": {
                "annex_a": {
                    "name": "material of Annex A",
                    "retention": {
                        "form": "van_genuchten",
                        "argument": "suction_pa",
                        "saturated_kg_m3": 146,
                        "terms": [{"share": 1, "a": 8e-8, "n": 1.6, "m": 0.375}],
                    },
                    "liquid": {
                        "form": "conductivity_polynomial",
                        "variable": "w",
                        "output": "ln_k",
                        "shift": 73,
                        "coefficients": [-39.2619, 0.0704, -1.7420e-4, -2.7953e-6, -1.1566e-7, 2.5969e-9],
                        "valid_from": 0,
                        "valid_to": 146,
                    },
                    "vapour": {"mu": 200, "reduction": {"w_max_kg_m3": 146}},
                    "heat": {
                        "density_kg_m3": 1824,
                        "specific_heat_j_kgk": 1000,
                        "conductivity_w_mk": 1.5,
                        "moisture_supplement": 0.0158,
                    },
                }
            },
            "initial": {"temperature_c": 20, "rh": 0.5},
            "layers": [
                {"kind": "layer", "material": "annex_a", "thickness_m": "semi_infinite", "cells": 300, "stretch": 1.03}
            ],
            "outside": _end({"type": "surface", "temperature_c": 30}, {"type": "surface", "rh": 0.95}),
            "inside": CLOSED,
            "switches": {"enthalpy_carried_by_flow": False},
            "time": {"length_s": DAY * days, "mass_tolerance_kg_m2": 1e-8},
            "output": {
                "planes": [{"name": "surface", "after_layer": -1}],
                "profile_times_s": [DAY * days],
                "profile_depths_m": reference("en15026_annex_a")["profiles"]["x_m"],
            },
        }
    )


def isothermal_drying() -> Case:
    """Isothermal redistribution and drying of 200 mm: constant D_w, van Genuchten with free m, heat off."""
    hours = (100, 300, 1000)
    film = {"type": "film", "coefficient_s_m": 1e-3, "air_temperature_c": 20}
    return case_from_dict(
        {
            "title": "Isothermal drying, 200 mm",
            "constants": {"gas_constant_vapour_j_kgk": 461.89},
            "materials": {
                "layer": {
                    "retention": {
                        "form": "van_genuchten",
                        "argument": "suction_pa",
                        "saturated_kg_m3": 116,
                        # w = 116 (1 − ln φ / 0.118)^−0.869 with ln φ = −p / (ρ_w R_v 293.15 K)
                        "terms": [{"share": 1, "a": 1.0 / (0.118 * 1000 * 461.89 * 293.15), "n": 1, "m": 0.869}],
                        "kelvin_temperature_c": 20,
                    },
                    "liquid": {"form": "diffusivity", "constant_m2_s": 6e-10},
                    "vapour": {"permeability_kg_mspa": 1e-15},
                    "heat": {"density_kg_m3": 2000, "specific_heat_j_kgk": 1000, "conductivity_w_mk": 1},
                }
            },
            "initial": {"temperature_c": 20, "rh": 0.95},
            "layers": [{"kind": "layer", "material": "layer", "thickness_m": 0.2, "cells": 160, "stretch": 1.02}],
            "outside": _end({"type": "adiabatic"}, {**film, "air_rh": 0.45}),
            "inside": _end({"type": "adiabatic"}, {**film, "air_rh": 0.65}),
            "switches": {"heat": False},
            "time": {"length_s": 3600 * 1000, "largest_step_s": 1800},
            "output": {
                "planes": [{"name": "45 % face", "after_layer": -1}],
                "profile_times_s": [3600 * h for h in hours],
                "profile_depths_m": reference("isothermal_drying")["result"]["x_m"],
            },
        }
    )


def conduction(kind: str) -> Case:
    """Heat alone in a dry solid. kind: "step" (semi-infinite) or "periodic" (300 mm slab, 24 h sine)."""
    data = reference("conduction")["step" if kind == "step" else "periodic_slab"]
    material = {
        "retention": {"form": "kuenzel", "w80_kg_m3": 1e-6, "free_saturation_kg_m3": 1e-5},
        "liquid": {"form": "none"},
        "vapour": {"permeability_kg_mspa": 1e-18},
        "heat": {
            "density_kg_m3": data["density_kg_m3"],
            "specific_heat_j_kgk": data["specific_heat_J_kgK"],
            "conductivity_w_mk": data["conductivity_W_mK"],
        },
    }
    base: dict[str, Any] = {"materials": {"solid": material}, "initial": {"temperature_c": 20, "rh": 0.5}}
    tight = {"type": "tight"}
    if kind == "step":
        return case_from_dict(
            {
                **base,
                "title": "Semi-infinite solid, surface stepped to 30 °C",
                "layers": [{"kind": "layer", "material": "solid", "thickness_m": 2.5, "cells": 500, "stretch": 1.01}],
                "outside": _end({"type": "surface", "temperature_c": 30}, tight),
                "inside": CLOSED,
                "time": {"length_s": DAY, "largest_step_s": 15},
                "output": {"step_s": 3600, "profile_times_s": [3600, 21600, 86400], "profile_depths_m": data["x_m"]},
            }
        )
    from math import pi, sin

    sine = {
        "step_s": 60,
        "between": "linear",
        "stamp": "end",
        "values": [20 + 10 * sin(2 * pi * (i + 1) / 1440) for i in range(1440)],
    }
    return case_from_dict(
        {
            **base,
            "title": "300 mm slab, 24 h sine outside, room air constant",
            "series": {"sine": sine},
            "layers": [{"kind": "layer", "material": "solid", "thickness_m": 0.3, "cells": 80}],
            "outside": _end(
                {"type": "film", "coefficient_w_m2k": 1 / data["Rse"], "air_temperature_c": {"ref": "sine"}}, tight
            ),
            "inside": _end({"type": "film", "coefficient_w_m2k": 1 / data["Rsi"], "air_temperature_c": 20}, tight),
            "time": {"length_s": DAY, "repeat": "fixed", "fixed_passes": 12, "largest_step_s": 60},
            "output": {"step_s": 60, "planes": [{"name": "inner surface", "after_layer": 0, "side": "inner"}]},
        }
    )


def steady_layers(membrane: dict[str, Any] | None) -> Case:
    """Two dry layers between constant climates, with a membrane between them or none; run to a standstill."""

    def material(conductivity: float, permeability: float) -> dict[str, Any]:
        return {
            "retention": {"form": "kuenzel", "w80_kg_m3": 0.05, "free_saturation_kg_m3": 2},
            "liquid": {"form": "none"},
            "vapour": {"permeability_kg_mspa": permeability},
            "heat": {"density_kg_m3": 40, "specific_heat_j_kgk": 900, "conductivity_w_mk": conductivity},
        }

    layers: list[dict[str, Any]] = [
        {"kind": "layer", "name": "outer", "material": "outer", "thickness_m": 0.05, "cells": 20},
        {"kind": "layer", "name": "inner", "material": "inner", "thickness_m": 0.10, "cells": 30},
    ]
    if membrane is not None:
        layers.insert(1, {"kind": "membrane", "name": "membrane", **membrane})

    def end(temperature: float, rh: float, h: float, beta: float) -> dict[str, Any]:
        return _end(
            {"type": "film", "coefficient_w_m2k": h, "air_temperature_c": temperature},
            {"type": "film", "coefficient_s_m": beta, "air_rh": rh},
        )

    return case_from_dict(
        {
            "title": "Steady heat and vapour through layers",
            "constants": {"air_permeability": "constant_2e-10"},
            "materials": {"outer": material(0.2, 2e-11), "inner": material(0.04, 1e-10)},
            "initial": {"temperature_c": 12, "rh": 0.55},
            "layers": layers,
            "outside": end(2, 0.80, 25, 2e-7),
            "inside": end(20, 0.32, 7.7, 2.5e-8),
            "switches": {"enthalpy_carried_by_flow": False},
            "time": {"length_s": 400 * DAY},
            "output": {"planes": [{"name": "between", "after_layer": 0}, {"name": "beyond", "after_layer": 1}]},
        }
    )


def rained_wall() -> Case:
    """A rained rubble wall with mineral fibre and a variable membrane inside, in the Corrie climate."""
    layers = [
        BuildUpLayer(id="stone", material="sandstone_rubble", thickness_mm=500, existing=True),
        BuildUpLayer(id="plaster", material="lime_plaster", thickness_mm=20, existing=True),
        BuildUpLayer(id="fibre", material="mineral_fibre_035", thickness_mm=80),
        BuildUpLayer(id="membrane", material="membrane_variable_medium"),
        BuildUpLayer(id="board", material="gypsum_board", thickness_mm=12.5),
    ]
    place = Place(facing_deg=315, exposure="exposed", works_on="10-01")
    return model_of(BuildUp(layers=layers), place, "Rained rubble wall with a variable membrane").case


EXAMPLES = {
    "en15026_annex_a": lambda: en15026_annex_a(365),
    "isothermal_drying": isothermal_drying,
    "rained_wall": rained_wall,
}


def example_path(name: str) -> Path:
    """The JSON file of an example."""
    return FOLDER / f"{name}.json"


def example_text(name: str) -> str:
    """The file's text, every default written out."""
    return json.dumps(EXAMPLES[name]().model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    for each in EXAMPLES:
        example_path(each).write_text(example_text(each), encoding="utf-8")
