"""Every form a case can state, against its own formula; every kind of end, against a hand balance."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np

from core import case as c
from core.case import Constants, case_from_dict, read_case
from core.case.resolve import resolve_material, resolve_series
from core.errors import CaseRefused
from core.moisture.transient import tables
from core.moisture.transient.columns import BY_FILM, ENERGY_STORED, INSIDE
from core.moisture.transient.solve import simulate
from core.moisture.transient.table_grid import Z_MIN, Z_STEP_INVERSE
from core.physics.moist_air import air_permeability_terms, saturation_pressure
from core.quantities import check_thickness
from core.tests.helpers import FIBRE, STONE, case, film, small

DAY = 86400.0
RHO_RV_T = 1000 * 461.5 * 293.15
CLOSED_ENDS = {"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}}


def read(built: tables.MaterialTables, offset: int, suction: float) -> float:
    """One function of a material's table at a suction [Pa]."""
    x = (float(tables.z_from_suction(suction)) - Z_MIN) * Z_STEP_INVERSE
    t = x - int(x)
    a, b, cc, d = built.by_z[int(x), offset : offset + 4]
    return float(a + t * (b + t * (cc + t * d)))


def build(**parts: Any) -> tables.MaterialTables:
    material = c.Material.model_validate({**STONE, **parts})
    return tables.build_tables("m", material, Constants(), True)


class Retention(TestCase):
    def check(self, retention: dict[str, Any], expected: Any) -> None:
        built = build(retention=retention, liquid={"form": "none"})
        for suction in (10.0, 1e3, 2e4, 1e6, 3e7, 2e8):
            with self.subTest(suction=suction):
                self.assertAlmostEqual(read(built, 0, suction), expected(suction), delta=2e-3)

    def test_kuenzel_goes_through_its_two_points(self) -> None:
        w = tables.moisture_content_function(c.Material.model_validate(STONE).retention, Constants())  # type: ignore[arg-type]
        self.assertAlmostEqual(float(w(0.0)), 140.0)
        self.assertAlmostEqual(float(w(-RHO_RV_T * np.log(0.8))), 16.0)

    def test_van_genuchten_with_free_and_tied_m(self) -> None:
        free = {
            "form": "van_genuchten",
            "saturated_kg_m3": 146,
            "terms": [{"share": 1, "a": 8e-8, "n": 1.6, "m": 0.375}],
        }
        tied = {"form": "van_genuchten", "saturated_kg_m3": 146, "terms": [{"share": 1, "a": 8e-8, "n": 1.6}]}
        for stated in (free, tied):
            self.check(stated, lambda s: 146 / (1 + (8e-8 * s) ** 1.6) ** 0.375)

    def test_two_terms_over_suction_head(self) -> None:
        terms = [{"share": 0.3, "a": 0.02, "n": 1.5}, {"share": 0.7, "a": 1e-4, "n": 2.0, "m": 0.4}]
        stated = {"form": "van_genuchten", "argument": "suction_head_m", "saturated_kg_m3": 200, "terms": terms}

        def expected(s: float) -> float:
            h = s / 9810
            return 200 * (0.3 * (1 + (0.02 * h) ** 1.5) ** (-1 / 3) + 0.7 * (1 + (1e-4 * h) ** 2) ** -0.4)

        self.check(stated, expected)

    def test_what_a_retention_may_not_say(self) -> None:
        for bad in (
            {"form": "van_genuchten", "saturated_kg_m3": 100, "terms": [{"share": 0.5, "a": 1, "n": 2}]},
            {"form": "van_genuchten", "saturated_kg_m3": 100, "terms": [{"share": 1, "a": 1, "n": 0.9}]},
            {"form": "kuenzel", "w80_kg_m3": 90, "free_saturation_kg_m3": 100},
            {"form": "table", "argument": "rh", "rows": [[0.2, 1], [0.9, 5]]},
            {"form": "table", "argument": "rh", "rows": [[0.2, 1], [1.2, 5]]},
        ):
            raw = small()
            raw["materials"]["stone"] = {**STONE, "retention": bad}
            with self.subTest(bad), self.assertRaisesRegex(CaseRefused, "materials.stone.retention"):
                case_from_dict(raw)


class Liquid(TestCase):
    def conductivity(self, liquid: dict[str, Any], suction: float) -> float:
        """K from the slope of Θ: −dΘ/dp."""
        built = build(liquid=liquid)
        step = 0.01 * suction
        return (read(built, 4, suction - step) - read(built, 4, suction + step)) / (2 * step)

    def test_polynomials_in_every_variable(self) -> None:
        w_of = tables.moisture_content_function(c.Material.model_validate(STONE).retention, Constants())  # type: ignore[arg-type]
        at = 2e5
        w = float(w_of(at))
        for variable, x, low, high in (
            ("w", w, 0, 141),
            ("saturation", w / 140, 0, 1.01),
            ("log10_suction_pa", np.log10(at), -4, 11),
        ):
            for output, value in (("ln_k", lambda y: np.exp(y)), ("log10_k", lambda y: 10**y)):
                with self.subTest(variable=variable, output=output):
                    stated = {
                        "form": "conductivity_polynomial",
                        "variable": variable,
                        "output": output,
                        "shift": x,
                        "scale": 2.0,
                        "coefficients": [-12.0, 0.05],
                        "valid_from": low,
                        "valid_to": high,
                    }
                    self.assertAlmostEqual(self.conductivity(stated, at) / float(value(-12.0)), 1.0, delta=0.02)

    def test_tables_by_suction_in_every_output(self) -> None:
        for output, rows in (
            ("k_s", [[0, 1e-9], [1e6, 1e-9], [1e10, 1e-9]]),
            ("ln_k", [[0, np.log(1e-9)], [1e10, np.log(1e-9)]]),
            ("log10_k", [[0, -9], [1e10, -9]]),
        ):
            stated = {"form": "conductivity_table", "variable": "suction_pa", "output": output, "rows": rows}
            self.assertAlmostEqual(self.conductivity(stated, 3e4) / 1e-9, 1.0, delta=0.01)

    def test_kuenzel_at_saturation_and_at_half(self) -> None:
        built = build()
        for w in (70.0, 126.0):
            b = 0.8 * (1 - 16 / 140) / (0.8 - 16 / 140)
            phi = b * w / (140 * (b - 1) + w)
            suction = -RHO_RV_T * np.log(phi)
            step = 1e-3 * suction
            slope = (read(built, 0, suction + step) - read(built, 0, suction - step)) / (2 * step)
            diffusivity = self.conductivity(STONE["liquid"], suction) / -slope
            self.assertAlmostEqual(diffusivity / (3.8 * (0.05 / 140) ** 2 * 1000 ** (w / 140 - 1)), 1.0, delta=0.02)

    def test_one_statement_and_no_more(self) -> None:
        for bad in (
            {"form": "diffusivity"},
            {"form": "diffusivity", "constant_m2_s": 1e-9, "exponential": [1e-9, 0.1]},
        ):
            raw = small()
            raw["materials"]["stone"] = {**STONE, "liquid": bad}
            with self.assertRaisesRegex(CaseRefused, "exactly one"):
                case_from_dict(raw)


class VapourAndHeat(TestCase):
    def test_still_air_formulas(self) -> None:
        for name, expected in (
            ("kuenzel1994", 1.96e-10),
            ("schirmer1938", 1.93e-10),
            ("constant_2e-10", 2e-10),
            ("en15026_annex_a", 1.93e-10),
        ):
            factor, power = air_permeability_terms(name, 101325.0)  # type: ignore[arg-type]
            self.assertAlmostEqual(factor * 293.15**power / expected, 1.0, delta=0.02)

    def test_reduction_by_water_and_by_rh(self) -> None:
        reduced = build(vapour={"mu": 200, "reduction": {"w_max_kg_m3": 146}})
        suction = 1e6
        u = 1 - read(reduced, 0, suction) / 146
        self.assertAlmostEqual(read(reduced, 8, suction), u / (0.503 * u * u + 0.497), places=4)
        by_rh = build(vapour={"mu": 10, "factor_by_rh": [[0, 1], [0.6, 1], [1, 4]]})
        self.assertTrue(by_rh.factor_by_phi)
        self.assertAlmostEqual(float(by_rh.by_phi[0, 0]), 1.0)
        self.assertAlmostEqual(float(by_rh.by_phi[-1].sum()), 4.0)

    def test_conductivity_in_its_three_forms(self) -> None:
        wet = 1e3
        heat = {"density_kg_m3": 1000, "specific_heat_j_kgk": 900, "conductivity_w_mk": 0.5}
        plain = build(heat={**heat, "moisture_supplement": 0.002})
        share = build(heat={**heat, "moisture_supplement": 8.0, "supplement_form": "relative_to_density"})
        table = build(heat={**heat, "conductivity_by_w": [[0, 0.5], [140, 1.2]]})
        w = read(plain, 0, wet)
        self.assertAlmostEqual(read(plain, 12, wet), 0.5 + 0.002 * w, places=4)
        self.assertAlmostEqual(read(share, 12, wet), 0.5 * (1 + 8 * w / 1000), places=4)
        self.assertAlmostEqual(read(table, 12, wet), 0.5 + 0.7 * w / 140, places=3)

    def test_conductivity_by_temperature_changes_the_heat_through(self) -> None:
        raw = small(layers=[{"kind": "layer", "material": "fibre", "thickness_m": 0.1}], time={"length_s": 5 * DAY})
        raw["output"] = {"planes": [{"name": "p", "after_layer": 0}]}
        base = simulate(case_from_dict(raw))
        raw["materials"]["fibre"] = {
            **FIBRE,
            "heat": {**FIBRE["heat"], "factor_by_temperature_c": [[-20, 1.5], [60, 1.5]]},
        }
        more = simulate(case_from_dict(raw))
        r_film = 1 / 20 + 1 / 8
        expected = (r_film + 0.1 / 0.035) / (r_film + 0.1 / (1.5 * 0.035))
        self.assertAlmostEqual(more.flux[-1, INSIDE, BY_FILM] / base.flux[-1, INSIDE, BY_FILM], expected, delta=0.01)


class Ends(TestCase):
    def test_given_fluxes_arrive_whole(self) -> None:
        ends = {
            "type": "separate",
            "heat": {"type": "flux", "into_wall_w_m2": 12.0},
            "moisture": {"type": "flux", "into_wall_kg_m2s": 2e-8},
        }
        outcome = simulate(
            case(outside=ends, inside=CLOSED_ENDS, switches={"enthalpy_carried_by_flow": False, "latent_heat": False})
        )
        gained = float(outcome.layer_water[-1].sum() - outcome.start_layer_water.sum())
        self.assertAlmostEqual(gained, 2e-8 * 10 * DAY, places=8)
        self.assertAlmostEqual(outcome.totals[ENERGY_STORED], 12.0 * 10 * DAY, delta=1.0)

    def test_a_given_surface_holds(self) -> None:
        surface = {
            "type": "separate",
            "heat": {"type": "surface", "temperature_c": 7.5},
            "moisture": {"type": "surface", "rh": 0.9},
        }
        outcome = simulate(case(outside=surface))
        self.assertAlmostEqual(float(outcome.temperature_c(0, -1)), 7.5, places=4)
        self.assertAlmostEqual(float(outcome.rh(0, -1)), 0.9, places=4)
        self.assertLess(outcome.water_balance_error, 1e-6)
        self.assertLess(outcome.energy_balance_error, 1e-6)

    def test_a_closed_box_keeps_what_it_has(self) -> None:
        raw = small(outside=CLOSED_ENDS, inside=CLOSED_ENDS, initial={"temperature_c": [[0, 5], [0.26, 25]], "rh": 0.7})
        outcome = simulate(case_from_dict(raw))
        self.assertAlmostEqual(float(outcome.layer_water[-1].sum()), float(outcome.start_layer_water.sum()), places=6)
        self.assertLess(np.ptp(outcome.temperature_c(np.arange(len(outcome.depth)), -1)), 3.0)

    def test_vapour_pressure_or_rh_of_the_air_are_the_same(self) -> None:
        pressure = 0.85 * float(saturation_pressure(276.15))
        stated = film(3, 0.85, h=20, beta=1e-7)
        stated["moisture"] = {"type": "film", "coefficient_s_m": 1e-7, "air_vapour_pressure_pa": pressure}
        first, second = simulate(case()), simulate(case(outside=stated))
        self.assertTrue(np.allclose(first.z, second.z, atol=1e-6))

    def test_absorbed_radiation_warms_as_an_equivalent_temperature_does(self) -> None:
        warm = simulate(case(outside=film(8, 0.5, h=20)))
        raw = film(3, 0.5, h=20)
        raw["heat"]["absorbed_radiation_w_m2"] = 100.0
        raw["moisture"]["air_temperature_c"] = 8
        sun = simulate(case(outside=raw))
        self.assertAlmostEqual(float(warm.temperature_c(0, -1)), float(sun.temperature_c(0, -1)), places=3)

    def test_semi_infinite_on_either_side(self) -> None:
        deep = {"kind": "layer", "material": "stone", "thickness_m": "semi_infinite", "cells": 60, "stretch": 1.12}
        end = {
            "type": "separate",
            "heat": {"type": "surface", "temperature_c": 30},
            "moisture": {"type": "surface", "rh": 0.8},
        }
        plane = {"planes": [{"name": "p", "after_layer": 0}]}
        right = simulate(case(layers=[FIBRE_LAYER, deep], outside=end, inside=CLOSED_ENDS, output=plane))
        left = simulate(case(layers=[deep, FIBRE_LAYER], outside=CLOSED_ENDS, inside=end, output=plane))
        self.assertAlmostEqual(float(right.rh(right.planes["p"], -1)), float(left.rh(left.planes["p"], -1)), places=5)

    def test_rain_needs_a_temperature(self) -> None:
        end = {"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}, "rain_kg_m2s": 1e-4}
        with self.assertRaisesRegex(CaseRefused, "rain_temperature_c"):
            simulate(case(outside=end))


FIBRE_LAYER = {"kind": "layer", "material": "fibre", "thickness_m": 0.02}


class References(TestCase):
    def test_like_fills_in_what_is_not_given(self) -> None:
        raw = small()
        raw["materials"]["wet stone"] = {"like": "stone", "name": "wet stone", "vapour": {"mu": 99}}
        resolved = resolve_material(case_from_dict(raw), "wet stone")
        assert resolved.vapour and resolved.heat
        self.assertEqual((resolved.vapour.mu, resolved.heat.density_kg_m3), (99, 2000))
        raw["materials"]["half"] = {"vapour": {"mu": 9}}
        with self.assertRaisesRegex(CaseRefused, "lacks retention, liquid, heat"):
            case_from_dict(raw)

    def test_series_by_name(self) -> None:
        built = case(
            series={"t": {"values": [3.0] * 240}, "also": {"ref": "t"}},
            outside=film({"ref": "also"}, 0.85, h=20, beta=1e-7),
        )
        self.assertIsInstance(resolve_series(built, c.SeriesRef(ref="also")), c.Series)
        self.assertTrue(np.allclose(simulate(built).temperature, simulate(case()).temperature, atol=1e-4))

    def test_constants_by_r_and_m(self) -> None:
        self.assertAlmostEqual(
            Constants(gas_constant_j_molk=8.314, molar_mass_water_kg_mol=0.018).vapour_gas_constant, 461.8889, places=3
        )
        with self.assertRaises(CaseRefused):
            case(constants={"gas_constant_j_molk": 8.314})

    def test_a_case_survives_its_own_json(self) -> None:
        built = case(title="round")
        self.assertEqual(read_case(built.model_dump_json()), built)
        self.assertEqual(check_thickness(0.08), 0.08)
