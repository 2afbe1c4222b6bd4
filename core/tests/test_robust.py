"""Random build-ups must not fail, and a finer grid must not change the answer."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.cases.examples import rained_wall
from core.cases.stress import run_one
from core.moisture.transient.solve import simulate


class Stress(TestCase):
    def test_forty_random_walls(self) -> None:
        worst = 0.0
        for seed in range(40):
            with self.subTest(seed=seed):
                result = run_one(seed)
                self.assertEqual(result.failure, "")
                self.assertLess(result.water_closure, 1e-6)
                self.assertLess(result.energy_closure, 1e-6)
                worst = max(worst, result.water_closure)
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
