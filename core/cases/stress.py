"""The stress set: random build-ups nobody would build, in any weather, leaking and wet, a quarter of a year each.

`python -m core stress 1000` runs them on all cores; forty seeded ones are in the suite.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context
from typing import Any

import numpy as np

from core.case import Case, case_from_dict
from core.climate.data import shipped, shipped_names
from core.errors import CoreError
from core.materials.library import Sheet, Solid, case_material, entry_of, library, still_air_material
from core.moisture.transient.solve import simulate

DAYS = 90


@dataclass(frozen=True)
class StressResult:
    """One random case: closure errors, refused steps, seconds; `failure` is the message of an aborted run, or ""."""

    seed: int
    failure: str
    water_closure: float
    energy_closure: float
    refused_steps: int
    seconds: float


def random_case(seed: int) -> Case:
    """A build-up nobody would build, anywhere in the weather, for a quarter year."""
    rng = np.random.default_rng(seed)
    entries = library().values()
    solids = [e for e in entries if isinstance(e, Solid)]
    sheets = [e for e in entries if isinstance(e, Sheet) and e.kind == "membrane"]
    layers: list[dict[str, Any]] = []
    materials: dict[str, Any] = {}
    cavities: list[int] = []
    for index in range(int(rng.integers(1, 6))):
        solid = solids[int(rng.integers(len(solids)))]
        materials[solid.id] = case_material(solid).model_dump(mode="json")
        if rng.random() < 0.3:  # pores that empty within a few kPa or over decades, with or without liquid in them
            materials[solid.id]["retention"] = _pores(rng, solid.free_saturation_kg_m3)
        if index and rng.random() < 0.3:
            sheet = sheets[int(rng.integers(len(sheets)))] if rng.random() < 0.7 else entry_of("foil_reflective")
            assert isinstance(sheet, Sheet)
            layers.append({"kind": "membrane", "sd_m": sheet.sd_m, "sd_by_rh": sheet.sd_by_rh})
        elif index and rng.random() < 0.25:
            thickness = float(rng.uniform(0.01, 0.15))
            name = f"air{index}"
            materials[name] = still_air_material(name, thickness, 0.17).model_dump(mode="json")
            cavities.append(len(layers))
            layers.append({"kind": "layer", "name": name, "material": name, "thickness_m": thickness})
        thickness = float(10 ** rng.uniform(-3, -0.3))
        layers.append({"kind": "layer", "name": solid.name, "material": solid.id, "thickness_m": thickness})
        if rng.random() < 0.15:
            layers[-1]["initial"] = {"temperature_c": float(rng.uniform(-5, 30)), "rh": float(rng.uniform(0.2, 1.0))}
        if rng.random() < 0.1:
            layers[-1]["source"] = {"water_kg_m3s": float(10 ** rng.uniform(-9, -6.5))}
    climate = str(rng.choice(shipped_names()))
    facing = float(rng.uniform(0, 359))
    slope = float(rng.choice([90.0, 90.0, 35.0, 0.0]))
    air: dict[str, Any] = {"cavities": [], "leaks": [], "rain_leaks": []}
    for cavity in cavities:
        if rng.random() < 0.6:
            method = {"climate": climate, "facing_deg": facing, "slope_deg": slope}
            opening = float(10 ** rng.uniform(2, 4))
            air["cavities"].append({"layer": cavity, "by_wind_and_sun": {**method, "opening_mm2_m": opening}})
    if len(layers) > 1:
        if rng.random() < 0.4:
            leak = {"climate": climate, "facing_deg": facing, "q50_m3_m2h": float(10 ** rng.uniform(-1, 1))}
            air["leaks"].append({"after_layer": int(rng.integers(len(layers) - 1)), "by_stack_and_wind": leak})
        if rng.random() < 0.3:
            share = float(10 ** rng.uniform(-3, -1))
            air["rain_leaks"].append({"after_layer": int(rng.integers(len(layers) - 1)), "share": share})
    if rng.random() < 0.1:
        air["through_kg_m2s"] = float(rng.uniform(-1e-3, 1e-3))
    profile = str(rng.choice(["en15026_normal", "en15026_high", "iso13788_4", "cooled", "bath"]))
    return case_from_dict(
        {
            "title": f"stress {seed}",
            "climates": {climate: {"shipped": climate, "sha256": shipped(climate).sha256}},
            "materials": materials,
            "initial": {"temperature_c": 12.0, "rh": float(rng.uniform(0.3, 1.0))},
            "layers": layers,
            "outside": {
                "type": "weather",
                "climate": climate,
                "facing_deg": facing,
                "slope_deg": slope,
                "absorptance": float(rng.uniform(0.1, 0.95)),
                "coating_sd_m": float(rng.choice([0.0, 0.1, 5.0])),
                "rain": {"wall_factor": float(rng.choice([0.0, 0.4, 3.0]))},
            },
            "inside": {"type": "indoor", "climate": climate, "profile": profile},
            "air": air,
            "switches": {"freezing": bool(rng.random() < 0.8), "liquid": bool(rng.random() < 0.95)},
            "time": {"start": f"{int(rng.integers(1, 13)):02d}-01", "length_s": DAYS * 86400, "stages": 1 + seed % 2},
        }
    )


def _pores(rng: np.random.Generator, saturated: float) -> dict[str, Any]:
    """One or two van Genuchten terms, with n from almost no corner to a sharp one."""
    terms = [{"share": 1.0, "a": float(10 ** rng.uniform(-7, -3)), "n": float(rng.uniform(1.3, 5.0))}]
    if rng.random() < 0.5:
        terms[0]["share"] = float(rng.uniform(0.1, 0.9))
        second = {"a": float(10 ** rng.uniform(-8, -5)), "n": float(rng.uniform(1.3, 2.5))}
        terms.append({"share": 1.0 - terms[0]["share"], **second})
    return {"form": "van_genuchten", "saturated_kg_m3": max(saturated, 1.0), "terms": terms}


def run_one(seed: int) -> StressResult:
    """Run one random case; what the core refuses or gives up is told, not raised."""
    try:
        outcome = simulate(random_case(seed))
    except CoreError as error:
        return StressResult(seed, f"{error}", 0.0, 0.0, 0, 0.0)
    broken = not (np.isfinite(outcome.temperature).all() and np.isfinite(outcome.z).all())
    return StressResult(
        seed,
        "a value that is no number" if broken else "",
        outcome.water_balance_error,
        outcome.energy_balance_error,
        outcome.refused_steps,
        outcome.seconds,
    )


def stress(count: int, tell: Callable[[StressResult], None] | None = None, first: int = 0) -> list[StressResult]:
    """Run `count` random cases on all cores, in order of their seeds."""
    results = []
    with ProcessPoolExecutor(os.cpu_count(), mp_context=get_context("spawn")) as pool:
        for result in pool.map(run_one, range(first, first + count), chunksize=4):
            results.append(result)
            if tell is not None:
                tell(result)
    return results


def report(results: list[StressResult]) -> str:
    """The closing table: aborted, worst closure with its seed, refused steps, seconds."""
    aborted = [r for r in results if r.failure]
    sound = [r for r in results if not r.failure]
    lines = [f"{len(results)} random cases of {DAYS} days: {len(aborted)} aborted, 0 steps accepted unconverged"]
    lines += [f"  seed {r.seed}: {r.failure}" for r in aborted]
    if sound:
        water, energy = max(sound, key=lambda r: r.water_closure), max(sound, key=lambda r: r.energy_closure)
        slow = max(sound, key=lambda r: r.seconds)
        lines.append(f"  worst closure of water {water.water_closure:.1e} (seed {water.seed}), of the turnover")
        lines.append(f"  worst closure of energy {energy.energy_closure:.1e} (seed {energy.seed}), of the turnover")
        lines.append(
            f"  refused steps {sum(r.refused_steps for r in sound)}; slowest {slow.seconds:.1f} s (seed {slow.seed})"
        )
    return "\n".join(lines)
