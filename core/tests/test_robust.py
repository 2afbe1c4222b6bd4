"""Random build-ups must not fail, and a finer grid must not change the answer."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np

from core.case import Case, case_from_dict
from core.cases.examples import rained_wall
from core.climate.data import shipped
from core.materials.library import Sheet, Solid, case_material, library
from core.moisture.transient.solve import simulate


def random_case(seed: int) -> Case:
    """A build-up nobody would build, anywhere in the weather, for a quarter year."""
    rng = np.random.default_rng(seed)
    solids = [e for e in library().values() if isinstance(e, Solid)]
    sheets = [e for e in library().values() if isinstance(e, Sheet) and e.kind == "membrane"]
    layers: list[dict[str, Any]] = []
    materials: dict[str, Any] = {}
    for index in range(int(rng.integers(1, 6))):
        solid = solids[int(rng.integers(len(solids)))]
        materials[solid.id] = case_material(solid).model_dump(mode="json")
        if index and rng.random() < 0.3:
            sheet = sheets[int(rng.integers(len(sheets)))]
            layers.append({"kind": "membrane", "sd_m": sheet.sd_m, "sd_by_rh": sheet.sd_by_rh})
        thickness = float(10 ** rng.uniform(-3, -0.3))
        layers.append({"kind": "layer", "name": solid.name, "material": solid.id, "thickness_m": thickness})
        if rng.random() < 0.15:
            layers[-1]["initial"] = {"temperature_c": float(rng.uniform(-5, 30)), "rh": float(rng.uniform(0.2, 1.0))}
        if rng.random() < 0.1:
            layers[-1]["source"] = {"water_kg_m3s": float(10 ** rng.uniform(-9, -6.5))}
    climate = {"shipped": "corrie", "sha256": shipped("corrie").sha256}
    month = int(rng.integers(1, 13))
    return case_from_dict(
        {
            "climates": {"corrie": climate},
            "materials": materials,
            "initial": {"temperature_c": 12.0, "rh": float(rng.uniform(0.3, 1.0))},
            "layers": layers,
            "outside": {
                "type": "weather",
                "climate": "corrie",
                "facing_deg": float(rng.uniform(0, 359)),
                "absorptance": float(rng.uniform(0.1, 0.95)),
                "coating_sd_m": float(rng.choice([0.0, 0.1, 5.0])),
                "rain": {"wall_factor": float(rng.choice([0.0, 0.4, 3.0]))},
            },
            "inside": {"type": "en15026", "climate": "corrie", "occupancy": str(rng.choice(["normal", "high"]))},
            "time": {"start": f"{month:02d}-01", "length_s": 90 * 86400},
        }
    )


class Stress(TestCase):
    def test_forty_random_walls(self) -> None:
        worst = 0.0
        for seed in range(40):
            with self.subTest(seed=seed):
                outcome = simulate(random_case(seed))
                self.assertTrue(np.isfinite(outcome.temperature).all() and np.isfinite(outcome.z).all())
                self.assertLess(outcome.water_balance_error, 1e-6)
                self.assertLess(outcome.energy_balance_error, 1e-6)
                worst = max(worst, outcome.water_balance_error)
        self.assertGreater(worst, 0.0, "a closure of exactly nothing was not measured")


class Refinement(TestCase):
    def test_watch_points_hold_still(self) -> None:
        """Double cells and a quarter of the step move RH at the watch points by less than 0.5 points rms."""
        case = rained_wall()
        year = case.model_copy(update={"time": case.time.model_copy(update={"repeat": "once"})})
        fine = year.model_copy(update={"time": year.time.model_copy(update={"largest_step_s": 900.0})})
        coarse, exact = simulate(year), simulate(fine, refine=2)
        for name in list(coarse.planes)[1:]:  # the weathered outer face is no watch point
            with self.subTest(name):
                gap = coarse.rh(coarse.planes[name]) - exact.rh(exact.planes[name])
                self.assertLess(100 * float(np.sqrt(np.mean(gap**2))), 0.5)
