"""The solver: equal answers from equal statements, conservation, order of convergence, forced failure."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import TestCase

import numpy as np
from scipy.interpolate import PchipInterpolator

from core.case import Case, Constants, case_from_dict
from core.errors import Cancelled, NotConverged
from core.moisture.transient import tables
from core.moisture.transient.boundary import build_boundary
from core.moisture.transient.columns import LIQUID, OFF, OUTSIDE, RAIN
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate
from core.tests.helpers import STONE, case, film, small

DAY = 86400.0


def at_end(outcome: Outcome, plane: str = "between") -> float:
    return float(outcome.rh(outcome.planes[plane], -1))


class SameThingSaidDifferently(TestCase):
    def check(self, changed: dict[str, Any], tolerance: float = 2e-3) -> None:
        raw = small()
        raw["materials"]["stone"] = {**STONE, **changed}
        self.assertAlmostEqual(at_end(simulate(case_from_dict(raw))), at_end(simulate(case())), delta=tolerance)

    def kuenzel_rows(self) -> list[tuple[float, float]]:
        ratio = 16 / 140
        b = 0.8 * (1 - ratio) / (0.8 - ratio)
        phi = np.concatenate((np.linspace(0.0, 0.95, 60), 1 - np.logspace(-1.31, -7, 80), [1.0]))
        return [(float(p), float(140 * (b - 1) * p / (b - p))) for p in np.unique(phi)]

    def test_retention_as_table_over_rh(self) -> None:
        self.check({"retention": {"form": "table", "argument": "rh", "rows": self.kuenzel_rows()}})

    def test_retention_as_table_over_suction_in_every_argument(self) -> None:
        scale = 1000 * 461.5 * 293.15
        pairs = [(-scale * np.log(p), w) for p, w in self.kuenzel_rows() if 1e-4 < p < 1.0][::-1]
        for argument, change in (
            ("suction_pa", lambda s: s),
            ("suction_head_m", lambda s: s / 9810),
            ("log10_suction_pa", np.log10),
            ("log10_suction_head_m", lambda s: np.log10(s / 9810)),
        ):
            with self.subTest(argument):
                rows = [(float(change(s)), w) for s, w in pairs]
                self.check({"retention": {"form": "table", "argument": argument, "rows": rows}}, 6e-3)

    def test_liquid_as_diffusivity_table(self) -> None:
        w = np.linspace(0, 140, 400)
        diffusivity = 3.8 * (0.05 / 140) ** 2 * 1000 ** (w / 140 - 1)
        rows = [(float(a), float(b)) for a, b in zip(w, diffusivity, strict=True)]
        self.check({"liquid": {"form": "diffusivity", "rows": rows}})

    def test_liquid_as_exponential(self) -> None:
        a, b = 3.8 * (0.05 / 140) ** 2 / 1000, float(np.log(1000) / 140)
        self.check({"liquid": {"form": "diffusivity", "exponential": [a, b]}})

    def test_vapour_as_permeability_by_temperature(self) -> None:
        rows = [(t, 2e-7 * (t + 273.15) ** 0.81 / 101325 / 18) for t in range(-20, 41, 4)]
        self.check({"vapour": {"permeability_by_temperature_c": rows}})

    def test_a_layer_cut_in_two_and_a_contact_without_resistance(self) -> None:
        raw = small()
        half = {"kind": "layer", "material": "stone", "thickness_m": 0.1}
        raw["layers"] = [half, half, raw["layers"][1]]
        raw["output"] = {"planes": [{"name": "between", "after_layer": 1}]}
        whole = at_end(simulate(case()))
        self.assertAlmostEqual(at_end(simulate(case_from_dict(raw))), whole, delta=1e-3)
        raw["layers"][0] = {**half, "contact": {"liquid_pa_m2s_kg": 1e6}}
        self.assertAlmostEqual(at_end(simulate(case_from_dict(raw))), whole, delta=1e-3)

    def test_held_rh_equals_held_suction_at_the_reference_temperature(self) -> None:
        isothermal = dict(outside=film(20, 0.9), inside=film(20, 0.5), initial={"temperature_c": 20, "rh": 0.7})
        raw = small(**isothermal)
        raw["materials"]["stone"] = {**STONE, "retention": {**STONE["retention"], "held_with_temperature": "rh"}}
        self.assertAlmostEqual(at_end(simulate(case_from_dict(raw))), at_end(simulate(case(**isothermal))), delta=2e-4)

    def test_mirror_image(self) -> None:
        raw = small()
        turned = small(layers=raw["layers"][::-1], outside=raw["inside"], inside=raw["outside"])
        there, back = simulate(case_from_dict(raw)), simulate(case_from_dict(turned))
        self.assertAlmostEqual(at_end(there), at_end(back), delta=1e-7)


class Physics(TestCase):
    def test_contact_resistances_hold_back(self) -> None:
        open_wall = simulate(case(layers=self.two({}), outside=film(3, 0.99, beta=1e-7), time={"length_s": 40 * DAY}))
        dry_joint = simulate(
            case(
                layers=self.two({"hydraulic": False, "heat_m2k_w": 0.2}),
                outside=film(3, 0.99, beta=1e-7),
                time={"length_s": 40 * DAY},
            )
        )
        self.assertLess(dry_joint.temperature_c(0, -1), open_wall.temperature_c(0, -1) - 0.3)

    def two(self, contact: dict[str, Any]) -> list[dict[str, Any]]:
        layer = {"kind": "layer", "material": "stone", "thickness_m": 0.1}
        return [{**layer, "contact": contact}, layer]

    def test_membrane_by_one_face_or_the_mean(self) -> None:
        results = []
        for which in ("outer", "mean", "inner"):
            raw = small()
            membrane = {"kind": "membrane", "sd_by_rh": [[0, 10], [0.5, 10], [0.8, 0.5], [1, 0.2]], "rh_of": which}
            raw["layers"].insert(1, membrane)
            raw["output"] = {"planes": [{"name": "between", "after_layer": 1, "side": "outer"}]}
            results.append(at_end(simulate(case_from_dict(raw))))
        self.assertEqual(len({round(r, 5) for r in results}), 3)

    def test_a_membrane_at_an_end_is_a_coating(self) -> None:
        painted = small()
        painted["inside"]["moisture"]["coating_sd_m"] = 2.0
        wrapped = small()
        wrapped["layers"].append({"kind": "membrane", "sd_m": 2.0})
        first, second = simulate(case_from_dict(painted)), simulate(case_from_dict(wrapped))
        self.assertAlmostEqual(at_end(first), at_end(second), delta=2e-4)
        variable = small()
        variable["layers"].insert(0, {"kind": "membrane", "sd_by_rh": [[0, 5], [0.9, 5], [1, 0.1]], "rh_of": "outer"})
        variable["output"] = {"planes": [{"name": "between", "after_layer": 1}]}
        self.assertLess(simulate(case_from_dict(variable)).water_balance_error, 1e-6)

    def test_rain_on_a_saturated_wall_runs_off(self) -> None:
        rain = 1e-3
        raw = small(
            layers=[{"kind": "layer", "material": "stone", "thickness_m": 0.1}],
            initial={"temperature_c": 10, "suction_pa": 0.0},
            outside=film(10, 0.95, beta=1e-7, rain_kg_m2s=rain),
            inside={"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}},
            output={"planes": [{"name": "face", "after_layer": -1}]},
            time={"length_s": 5 * DAY},
        )
        outcome = simulate(case_from_dict(raw))
        off = outcome.flux[:, OUTSIDE, OFF].mean()
        self.assertAlmostEqual(off, rain, delta=0.02 * rain)
        self.assertLess(outcome.water_balance_error, 1e-6)
        self.assertLessEqual(float(outcome.rh(0).max()), 1.0005)

    def test_rain_is_taken_up_at_the_rate_of_the_a_value(self) -> None:
        """Free uptake for a day from 50 % RH: A √t, within the 15 % the A-value approximation is good for."""
        raw = small(
            layers=[{"kind": "layer", "material": "stone", "thickness_m": 0.4}],
            initial={"temperature_c": 20, "rh": 0.5},
            outside=film(20, 0.5, beta=1e-12, rain_kg_m2s=1e-2),
            inside={"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}},
            time={"length_s": DAY, "largest_step_s": 300},
            output={"planes": [{"name": "face", "after_layer": -1}]},
        )
        outcome = simulate(case_from_dict(raw))
        taken = float((outcome.flux[:, OUTSIDE, LIQUID]).sum() * 3600)
        self.assertAlmostEqual(taken / (0.05 * np.sqrt(DAY)), 1.0, delta=0.15)

    def test_condensate_gathers_on_a_tight_sheet_and_is_counted(self) -> None:
        raw = small(
            layers=[
                {"kind": "layer", "name": "fibre", "material": "fibre", "thickness_m": 0.1},
                {"kind": "membrane", "sd_m": 1000},
                {"kind": "layer", "name": "fibre", "material": "fibre", "thickness_m": 0.01},
            ],
            initial={"temperature_c": 10, "rh": 0.5},
            outside=film(25, 0.9),
            inside=film(10, 0.5),
            output={"planes": [{"name": "outer side", "after_layer": 0}]},
            time={"length_s": 20 * DAY},
        )
        outcome = simulate(case_from_dict(raw))
        self.assertGreater(outcome.layer_water[-1].sum(), 0.2)
        self.assertLess(float(outcome.rh(outcome.planes["outer side"]).max()), 1.01)
        self.assertLess(outcome.water_balance_error, 1e-6)

    def test_sources_are_in_the_balance(self) -> None:
        raw = small()
        raw["layers"][0]["source"] = {"water_kg_m3s": 1e-6}
        outcome = simulate(case_from_dict(raw))
        without = simulate(case())
        gained = outcome.layer_water[-1].sum() - without.layer_water[-1].sum()
        self.assertGreater(gained, 0.05)
        self.assertLess(gained, 1e-6 * 0.2 * 10 * DAY)
        raw["layers"][0]["source"] = {"heat_w_m3": 50.0}
        warmed = simulate(case_from_dict(raw))
        self.assertGreater(float(warmed.temperature_c(0, -1)), float(without.temperature_c(0, -1)) + 0.2)
        self.assertLess(outcome.water_balance_error, 1e-6)
        self.assertLess(outcome.energy_balance_error, 1e-6)

    def test_switches(self) -> None:
        for name in ("heat", "liquid", "latent_heat", "enthalpy_carried_by_flow"):
            with self.subTest(name):
                outcome = simulate(case(switches={name: False}))
                self.assertLess(outcome.water_balance_error, 1e-6)
                self.assertLess(outcome.energy_balance_error, 1e-6)
        still = simulate(case(switches={"heat": False}))
        self.assertTrue(np.allclose(still.temperature, 285.15))

    def test_start_by_depth_and_by_water(self) -> None:
        raw = small(initial={"temperature_c": [[0, 0], [0.26, 20]], "rh": [[0, 0.9], [0.26, 0.5]]})
        raw["time"] = {"length_s": 3600}
        outcome = simulate(case_from_dict(raw))
        self.assertLess(outcome.temperature_c(0, 0), outcome.temperature_c(len(outcome.depth) - 1, 0))
        raw = small()
        raw["layers"][0]["initial"] = {"temperature_c": 12, "w_kg_m3": 60}
        self.assertAlmostEqual(float(simulate(case_from_dict(raw)).start_layer_water[0]), 60 * 0.2, places=3)


class SeriesReading(TestCase):
    def line(self, stamp: str, between: str) -> list[float]:
        series = {"step_s": 3600, "values": [0.0, 10.0, 20.0], "stamp": stamp, "between": between}
        built = build_boundary(case(outside=film(series, 0.8), time={"length_s": 3 * 3600}))
        step = built.step_s
        values = built.series[:, 0, 0, :] - 273.15
        return [float(np.interp(t, np.arange(len(values)) * step + 1e-6, values[:, 0])) for t in (0.0, 5400.0)]

    def test_stamps(self) -> None:
        self.assertEqual(self.line("start", "linear")[0], 0.0)
        self.assertAlmostEqual(self.line("start", "linear")[1], 15.0, places=3)
        self.assertAlmostEqual(self.line("middle", "linear")[1], 10.0, places=3)
        self.assertAlmostEqual(self.line("end", "linear")[1], 5.0, places=3)

    def test_rain_is_held(self) -> None:
        rain = {"values": [0.0, 1e-3, 0.0], "between": "linear"}
        built = build_boundary(case(outside=film(5, 0.8, rain_kg_m2s=rain), time={"length_s": 3 * 3600}))
        self.assertTrue(np.allclose(built.series[:, OUTSIDE, RAIN, 0], built.series[:, OUTSIDE, RAIN, 1]))


class Numerics(TestCase):
    def error(self, refine: int, step: float, exact: Outcome) -> float:
        raw = small()
        raw["time"] = {"length_s": 10 * DAY, "largest_step_s": step}
        return abs(at_end(simulate(case_from_dict(raw), refine=refine)) - at_end(exact))

    def test_order_of_convergence(self) -> None:
        raw = small()
        raw["time"] = {"length_s": 10 * DAY, "largest_step_s": 100}
        exact = simulate(case_from_dict(raw), refine=8)
        in_space = [self.error(refine, 100, exact) for refine in (1, 2)]
        self.assertGreater(in_space[0] / in_space[1], 2.6, "second order in space")
        steps = [3600.0, 1800.0]
        coarse, fine = (self.error(8, step, exact) for step in steps)
        self.assertGreater(coarse / fine, 1.7, "first order in time")

    def test_iterations_stay_few(self) -> None:
        outcome = simulate(case())
        self.assertLess(outcome.iterations / outcome.steps, 6.0)

    def test_a_step_that_cannot_converge_ends_with_place_and_time(self) -> None:
        raw = small()
        raw["time"] = {"length_s": 10 * DAY, "mass_tolerance_kg_m2": 1e-30, "smallest_step_s": 600}
        with self.assertRaises(NotConverged) as caught:
            simulate(case_from_dict(raw))
        self.assertIn("mm from outside", str(caught.exception))
        self.assertIn("hour", str(caught.exception))

    def test_cancel_and_progress(self) -> None:
        seen: list[float] = []
        with self.assertRaises(Cancelled):
            simulate(case(), progress=lambda share, what: seen.append(share), cancelled=lambda: len(seen) > 1)
        simulate(case(), progress=lambda share, what: seen.append(share))
        self.assertEqual(seen[-1], 1.0)

    def test_years_until_settled(self) -> None:
        outcome = simulate(
            case(
                time={"length_s": 40 * DAY, "repeat": "until_settled", "least_passes": 2, "most_passes": 12},
                initial={"temperature_c": 12, "rh": 0.9},
            )
        )
        self.assertTrue(outcome.settled)
        self.assertLess(outcome.changes[-1][0], 0.002)
        self.assertLess(outcome.changes[-1][1], 0.01)

    def test_saved_and_loaded(self) -> None:
        outcome = simulate(case())
        with TemporaryDirectory() as folder:
            outcome.save(Path(folder) / "r")
            again = Outcome.load(Path(folder) / "r")
        self.assertEqual(again.case, outcome.case)
        self.assertEqual(again.summary(), outcome.summary())
        self.assertTrue(np.array_equal(again.z, outcome.z))

    def test_csv_has_a_row_for_every_hour(self) -> None:
        text = simulate(case()).as_csv().splitlines()
        self.assertEqual(len(text), 1 + 240)
        self.assertIn("between: RH [%]", text[0])


class Tables(TestCase):
    def test_monotone_slopes_are_scipys(self) -> None:
        x = np.array([0.0, 1.0, 1.5, 3.0, 4.0, 4.2])
        for y in ([0, 1, 4, 4, 5, 9], [5, 4, 3.9, 1, 1, -2], [0, 2, 1, 3, 2, 2]):
            with self.subTest(y):
                expected = PchipInterpolator(x, np.array(y, float)).derivative()(x)
                self.assertTrue(np.allclose(tables.monotone_slopes(x, np.array(y, float)), expected))

    def test_tables_are_monotone_and_true_to_the_function(self) -> None:
        built = self.stone()
        z = np.linspace(0.0, 14.0, 5000)
        x = (z - tables.Z_MIN) * 100.0
        index, t = x.astype(int), x - x.astype(int)
        a, b, c, d = built.by_z[index, 0:4].T
        w = a + t * (b + t * (c + t * d))
        self.assertTrue(np.all(np.diff(w) <= 1e-9))
        self.assertLess(np.abs(w - built.moisture_content(tables.suction_from_z(z))).max(), 2e-4)
        theta = built.by_z[:, 4]
        self.assertTrue(np.all(np.diff(theta) <= 0.0))

    def stone(self) -> tables.MaterialTables:
        material = case().materials["stone"]
        return tables.build_tables("stone", material, Constants(), True)

    def test_a_layer_without_liquid_has_no_potential(self) -> None:
        fibre = Case.model_validate(small()).materials["fibre"]
        self.assertFalse(tables.build_tables("fibre", fibre, Constants(), True).capillary)
