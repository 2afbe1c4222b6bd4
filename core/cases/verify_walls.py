"""`verify`: heat and moisture of walls, and mould, against standards, closed forms and conservation."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from scipy.optimize import brentq

from core.assembly.stack import drawing_material
from core.case import Case, Material, case_from_dict
from core.cases import examples
from core.cases.compared import Found, Row, picture, row_of, worst
from core.criteria.mould import growth_1999, mould_index
from core.materials.library import Solid, case_material, entry_of
from core.moisture.sorptivity import sorptivity
from core.moisture.transient.columns import BY_FILM, INSIDE, VAPOUR
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate
from core.physics.constants import ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure

DAY = 86400.0


def _balance(case: str, outcome: Outcome) -> Iterator[Row]:
    source = "conservation: what is stored equals what came in"
    yield Row(
        case,
        "water balance closure",
        "of turnover",
        outcome.water_balance_error,
        0.0,
        outcome.water_balance_error,
        1e-6,
        source,
    )
    if outcome.case.switches.heat:
        error = outcome.energy_balance_error
        yield Row(case, "energy balance closure", "of turnover", error, 0.0, error, 1e-6, source)


def en15026() -> Iterator[Found]:
    data = examples.reference("en15026_annex_a")
    source = "similarity solution of EN 15026 Annex A (core/cases/reference/en15026_annex_a.json)"
    for days in (7, 30, 365):
        outcome = simulate(examples.en15026_annex_a(days))
        profile = outcome.as_document()["profiles"][0]
        expected = data["profiles"]["profiles"][str(days)]
        name = f"EN 15026 Annex A, {days} days"
        yield worst(name, "temperature, worst depth", "°C", profile["temperature_c"], expected["T_C"], 0.05, source)
        yield worst(name, "water content, worst depth", "kg/m³", profile["w_kg_m3"], expected["w"], 0.5, source)
        depth = [1000.0 * x for x in data["profiles"]["x_m"]]
        yield picture(name, "depth, mm", "T, °C", depth, profile["temperature_c"], expected["T_C"])
        yield picture(name, "depth, mm", "water, kg/m³", depth, profile["w_kg_m3"], expected["w"])
        yield from _balance(name, outcome)


def drying() -> Iterator[Found]:
    outcome = simulate(examples.isothermal_drying())
    source = "Fourier series (core/cases/reference/isothermal_drying.json)"
    expected = examples.reference("isothermal_drying")["result"]["profiles_at_hours"]
    for profile in outcome.as_document()["profiles"]:
        hours = int(profile["time_s"] / 3600)
        wanted = expected[str(hours)]
        name = f"Isothermal drying, {hours} h"
        yield worst(name, "water content, worst depth", "kg/m³", profile["w_kg_m3"], wanted["w_kg_m3"], 0.3, source)
        depth = [1000.0 * x for x in profile["depth_m"]]
        yield picture(name, "depth, mm", "water, kg/m³", depth, profile["w_kg_m3"], wanted["w_kg_m3"])
    yield from _balance("Isothermal drying", outcome)


def conduction() -> Iterator[Found]:
    data = examples.reference("conduction")
    source = "closed form (core/cases/reference/conduction.json)"
    outcome = simulate(examples.conduction("step"))
    for profile in outcome.as_document()["profiles"]:
        hours = int(profile["time_s"] / 3600)
        expected = data["step"]["T_C"][f"{hours} h"]
        name = f"Step in a semi-infinite solid, {hours} h"
        yield worst(name, "temperature, worst depth", "°C", profile["temperature_c"], expected, 0.05, source)
        depth = [1000.0 * x for x in profile["depth_m"]]
        yield picture(name, "depth, mm", "T, °C", depth, profile["temperature_c"], expected)
    yield from _balance("Step in a semi-infinite solid", outcome)
    outcome = simulate(examples.conduction("periodic"))
    heat = -outcome.flux[outcome.last_pass, INSIDE, BY_FILM]  # into the room per K of outdoor swing
    surface = outcome.temperature_c(outcome.planes["inner surface"], outcome.last_pass)
    slab = data["periodic_slab"]
    pairs = (
        ("periodic transmittance Y12", "W/m²K", heat, slab["periodic_transmittance_Y12 [W/m2K, lag h], room air constant"]),
        ("inner surface temperature", "K/K", surface, slab["inner_surface_temperature_amplitude / outdoor_air_amplitude, room air constant"]),
    )  # fmt: skip
    for quantity, unit, series, wanted in pairs:
        amplitude, lag = _first_harmonic(series, instant=series is surface)
        name = "Slab under a 24 h sine"
        yield row_of(
            name, f"{quantity}, amplitude", unit, amplitude / 10.0, wanted["amplitude"], 0.005, source, relative=True
        )
        yield row_of(name, f"{quantity}, lag", "h", lag, wanted["lag_h"], 0.05, source)


def _first_harmonic(series: np.ndarray, instant: bool) -> tuple[float, float]:
    """Amplitude and lag [h] behind a sine that starts at 0; records end their step, means lie mid-step."""
    n = len(series)
    when = (np.arange(n) + (1.0 if instant else 0.5)) / n
    z = 2.0 / n * np.sum(series * np.exp(-2j * np.pi * when))
    phase = np.angle(z) + np.pi / 2.0  # of a sine
    return float(abs(z)), float((-phase / (2 * np.pi) * 24.0) % 24.0)


def steady() -> Iterator[Row]:
    heat_expected = 18.0 / (1 / 25 + 0.05 / 0.2 + 0.10 / 0.04 + 1 / 7.7)
    source = "series resistances by hand, membrane by root finding; worked here, not from a standard"
    variable = {"sd_by_rh": [(0.0, 8.0), (0.4, 8.0), (0.8, 1.0), (1.0, 0.2)]}
    for name, membrane in (
        ("without membrane", None),
        ("constant membrane", {"sd_m": 3.0}),
        ("variable membrane", variable),
    ):
        outcome = simulate(examples.steady_layers(membrane))
        case = f"Steady layers, {name}"
        flux = outcome.flux[-1]
        yield row_of(case, "heat flux", "W/m²", flux[INSIDE, BY_FILM], heat_expected, 0.001, source, relative=True)
        yield row_of(
            case,
            "vapour flux",
            "kg/m²s",
            flux[INSIDE, VAPOUR],
            _steady_vapour(outcome.case, heat_expected),
            0.001,
            source,
            relative=True,
        )
        yield from _balance(case, outcome)


def _steady_vapour(case: Case, heat: float) -> float:
    """Vapour flux outward through the layers of `steady_layers`, by resistances alone."""
    pressure_out = 0.80 * float(saturation_pressure(2 + ZERO_CELSIUS))
    pressure_in = 0.32 * float(saturation_pressure(20 + ZERO_CELSIUS))
    outer, inner = 1 / 2e-7 + 0.05 / 2e-11, 0.10 / 1e-10 + 1 / 2.5e-8
    membrane = next((layer for layer in case.layers if layer.kind == "membrane"), None)
    if membrane is None:
        return (pressure_in - pressure_out) / (outer + inner)
    face_c = 2.0 + heat * (1 / 25 + 0.05 / 0.2)
    saturation = float(saturation_pressure(face_c + ZERO_CELSIUS))

    def flux_for(sd: float) -> float:
        return (pressure_in - pressure_out) / (outer + inner + sd / 2e-10)

    if membrane.sd_m is not None:
        return flux_for(membrane.sd_m)
    # sd over RH as the core reads it: monotone cubic pieces through the given rows
    from scipy.interpolate import PchipInterpolator

    rows = membrane.sd_by_rh or []
    curve = PchipInterpolator([row[0] for row in rows], [row[1] for row in rows])

    def mismatch(sd: float) -> float:
        flux = flux_for(sd)
        mean = 0.5 * ((pressure_out + flux * outer) + (pressure_in - flux * inner)) / saturation
        return float(curve(mean)) - sd

    return flux_for(brentq(mismatch, 0.05, 20.0))


def mould() -> Iterator[Found]:
    source = "Hukka & Viitanen 1999, Ojanen et al. 2010, coefficients from memory (core/cases/reference/mould.md)"
    pine = (0.719, 1.877, 4.685, 5.505, 5.505, 5.505, 5.505)
    sensitive = (0.416, 0.831, 1.442, 2.550, 3.623, 4.677, 4.678)
    for weeks, old, new in zip((1, 2, 4, 8, 12, 26, 52), pine, sensitive, strict=True):
        hours = weeks * 168
        series = mould_index(np.full(hours, 22.0), np.full(hours, 0.97), "sensitive")
        case = f"Mould at 22 °C, 97 %, {weeks} weeks"
        yield row_of(case, "index, 1999 form, pine sawn", "–", growth_1999(22.0, 0.97, weeks * 7.0), old, 0.01, source)
        yield row_of(case, "index, class sensitive", "–", series[-1], new, 0.01, source)
    at = (1, 2, 4, 8, 12, 26, 52)
    series = mould_index(np.full(52 * 168, 22.0), np.full(52 * 168, 0.97), "sensitive")
    computed = [series[week * 168 - 1] for week in at]
    yield picture("Mould at 22 °C, 97 %", "weeks", "index, class sensitive", at, computed, sensitive)


def drawn_water() -> Iterator[Row]:
    """Uptake of a face at saturation by the run, against the similarity solution of Philip and Knight 1974; and a typed A-value that it gives back."""
    source = "flux-concentration relation, Philip & Knight 1974"
    for name, hours in (("sandstone_rubble", 3), ("brick_old", 2), ("calcium_silicate", 2), ("wood_fibre_board", 12), ("gypsum_board", 3), ("softwood", 12)):  # fmt: skip
        solid = entry_of(name)
        assert isinstance(solid, Solid)
        material = case_material(solid)
        yield row_of(
            f"Uptake of {solid.name}", "A", "kg/m²√s", drawn(uptake_case(material, hours), hours), sorptivity(material), 0.01, source, True,
        )  # fmt: skip
    for name, typed in (("wood_fibre_board", 0.005), ("wood_fibre_sheathing", 0.0025), ("softboard", 0.004)):
        solid = entry_of(name)
        assert isinstance(solid, Solid)
        made = drawing_material(solid, typed)
        source = "A as it is typed, of liquid and vapour together"
        yield row_of(f"{solid.name[0].upper()}{solid.name[1:]}, A typed", "A", "kg/m²√s", drawn(uptake_case(made, 12), 12), typed, 0.01, source, True)  # fmt: skip


def uptake_case(material: Material, hours: float, length_m: float = 0.1) -> Case:
    """Free uptake: one face at saturation, 20 °C, from 50 % RH."""
    return case_from_dict(
        {
            "materials": {"m": material.model_dump(mode="json")},
            "initial": {"temperature_c": 20, "rh": 0.5},
            "layers": [{"kind": "layer", "material": "m", "thickness_m": length_m, "cells": 160, "stretch": 1.02}],
            "outside": {
                "type": "separate",
                "heat": {"type": "surface", "temperature_c": 20},
                "moisture": {"type": "surface", "rh": 1.0},
            },
            "inside": {"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}},
            "switches": {"heat": False},
            "time": {"length_s": hours * 3600, "largest_step_s": 60},
            "output": {"step_s": 3600},
        }
    )


def drawn(case: Case, hours: float) -> float:
    """kg/(m² √s) over the time: what was taken up over the root of it."""
    outcome = simulate(case)
    taken = float(outcome.layer_water.sum(axis=1)[-1] - outcome.start_layer_water.sum())
    return taken / math.sqrt(hours * 3600.0)


def air_flow() -> Iterator[Found]:
    """Heat and vapour carried by a draught through one layer: T and p by (exp(Pe x/L) − 1)/(exp(Pe) − 1)."""
    source = "closed form of steady conduction with flow (Patankar 1980, 5.2)"
    thickness, flow = 0.1, 1e-3
    raw = examples.isothermal_drying().model_dump(mode="json")
    raw["materials"]["layer"]["liquid"] = {"form": "none"}
    raw["materials"]["layer"]["vapour"] = {"permeability_kg_mspa": 6e-10}
    raw["materials"]["layer"]["retention"]["kelvin_temperature_c"] = None
    raw["materials"]["layer"]["heat"] = {"density_kg_m3": 30, "specific_heat_j_kgk": 800, "conductivity_w_mk": 0.04}
    ends = ((0.0, 0.8), (20.0, 0.5))
    for side, (celsius, rh) in zip(("outside", "inside"), ends, strict=True):
        heat = {"type": "surface", "temperature_c": celsius}
        raw[side] = {"type": "separate", "heat": heat, "moisture": {"type": "surface", "rh": rh}}
    raw |= {
        "layers": [{"kind": "layer", "material": "layer", "thickness_m": thickness, "cells": 40}],
        "air": {"through_kg_m2s": flow},
        "initial": {"temperature_c": 10, "rh": 0.6},
        "switches": {"heat": True, "latent_heat": False, "enthalpy_carried_by_flow": False},
        "time": {"length_s": 400 * DAY},
        "output": {"planes": [{"name": "middle", "after_layer": 0, "depth_m": 0.05125}]},
    }
    outcome = simulate(case_from_dict(raw))
    node = outcome.planes["middle"]
    part = float(outcome.depth[node]) / thickness
    heat_number = 1006.0 * flow * thickness / 0.04
    kelvin = float(20.0 * np.expm1(heat_number * part) / np.expm1(heat_number))
    depths = outcome.depth / thickness
    line = 20.0 * np.expm1(heat_number * depths) / np.expm1(heat_number)
    field = outcome.temperature_c(np.arange(len(depths)), -1)
    yield picture("Draught through a layer", "depth, mm", "T, °C", 1000.0 * outcome.depth, field, line)
    yield row_of(
        "Draught through a layer", "T in the middle", "K", float(outcome.temperature_c(node)[-1]), kelvin, 0.02, source
    )
    vapour_number = flow * 0.622 / 101325.0 * thickness / 6e-10
    first, last = (rh * float(saturation_pressure(t + ZERO_CELSIUS)) for t, rh in ends)
    pressure = first + (last - first) * float(np.expm1(vapour_number * part) / np.expm1(vapour_number))
    computed = float(outcome.rh(node)[-1] * saturation_pressure(outcome.temperature_c(node)[-1] + ZERO_CELSIUS))
    yield row_of("Draught through a layer", "p_v in the middle", "Pa", computed, pressure, 0.002, source, True)
    yield from _balance("Draught through a layer", outcome)


def ice() -> Iterator[Row]:
    """A thin closed layer loses heat at a steady rate: what it must be at by hand, with the latent heat of its ice."""
    source = (
        "worked here: heat lost = sensible heat + latent heat of the water frozen (Clausius-Clapeyron, generalised)"
    )
    thickness, flux, hours = 0.01, -20.0, 6
    raw = examples.isothermal_drying().model_dump(mode="json")
    raw["materials"]["layer"]["retention"] = {
        "form": "van_genuchten", "argument": "suction_pa", "saturated_kg_m3": 150,
        "terms": [{"share": 1, "a": 1e-6, "n": 1.5}],
    }  # fmt: skip
    raw["materials"]["layer"]["heat"] = {"density_kg_m3": 1800, "specific_heat_j_kgk": 850, "conductivity_w_mk": 50}
    start = 1.0e4
    raw |= {
        "outside": {
            "type": "separate", "heat": {"type": "flux", "into_wall_w_m2": flux}, "moisture": {"type": "tight"},
        },
        "inside": {"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}},
        "layers": [{"kind": "layer", "material": "layer", "thickness_m": thickness, "cells": 10}],
        "initial": {"temperature_c": 4, "suction_pa": start},
        "switches": {"heat": True, "freezing": True},
        "time": {"length_s": hours * 3600, "largest_step_s": 300},
        "output": {"planes": [{"name": "face", "after_layer": -1}]},
    }  # fmt: skip
    outcome = simulate(case_from_dict(raw))

    def water(suction: float) -> float:
        return float(150.0 * (1.0 + (1e-6 * suction) ** 1.5) ** (-1.0 / 3.0))

    held = water(start)

    def heat_left(celsius: float) -> float:
        frozen = held - water(max(start, 1000.0 * 3.335e5 / ZERO_CELSIUS * -celsius))
        sensible = (1800.0 * 850.0 + 4187.0 * held) * (celsius - 4.0)
        return (sensible - 3.335e5 * frozen) * thickness - flux * hours * 3600.0

    expected = float(brentq(heat_left, -30.0, 3.0))
    yield row_of(
        "Ice in a wet layer", f"T after {hours} h", "K", float(outcome.temperature_c(0)[-1]), expected, 0.02, source
    )
    yield from _balance("Ice in a wet layer", outcome)


def closure() -> Iterator[Row]:
    outcome = simulate(examples.rained_wall())
    yield from _balance(f"Rained wall with variable membrane, {outcome.passes} years", outcome)
