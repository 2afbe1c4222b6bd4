"""Roofs in the weather, and still air layers in the hourly years: against ISO 6946, and as they are known to behave."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.buildup.variants import membrane_variants
from core.case import Case, case_from_dict
from core.errors import OutOfRange
from core.materials.library import still_air_material
from core.moisture.transient.columns import BY_FILM, INSIDE, OFFERED, OUTSIDE, VAPOUR
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate
from core.moisture.traps import traps
from core.thermal.iso6946 import air_layer_resistance

DAY = 86400.0


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


def year(layers: list[BuildUpLayer], place: Place) -> Outcome:
    case = model_of(BuildUp(layers=layers), place).case
    return simulate(case.model_copy(update={"time": case.time.model_copy(update={"repeat": "once"})}))


class StillAir(TestCase):
    def steady(self, thickness: float) -> tuple[Outcome, float]:
        """Boards with a still air layer between, constant climates, to a standstill; and the R of the air layer."""
        resistance = air_layer_resistance(thickness, "horizontal")
        board = {
            "retention": {"form": "kuenzel", "w80_kg_m3": 0.05, "free_saturation_kg_m3": 2},
            "liquid": {"form": "none"},
            "vapour": {"permeability_kg_mspa": 4e-12},
            "heat": {"density_kg_m3": 40, "specific_heat_j_kgk": 900, "conductivity_w_mk": 0.13},
        }
        air = still_air_material("still air layer", thickness, resistance).model_dump(mode="json")
        names = (("outer", "board", 0.02), ("air", "air", thickness), ("inner", "board", 0.02))
        case: Case = case_from_dict(
            {
                "materials": {"board": board, "air": air},
                "initial": {"temperature_c": 12, "rh": 0.5},
                "layers": [{"kind": "layer", "name": n, "material": m, "thickness_m": d} for n, m, d in names],
                "outside": {
                    "type": "separate",
                    "heat": {"type": "film", "coefficient_w_m2k": 25, "air_temperature_c": 0},
                    "moisture": {"type": "film", "coefficient_s_m": 2e-7, "air_rh": 0.8},
                },
                "inside": {
                    "type": "separate",
                    "heat": {"type": "film", "coefficient_w_m2k": 7.7, "air_temperature_c": 20},
                    "moisture": {"type": "film", "coefficient_s_m": 2.5e-8, "air_rh": 0.4},
                },
                "switches": {"enthalpy_carried_by_flow": False},
                "time": {"length_s": 60 * DAY},
            }
        )
        return simulate(case), resistance

    def test_heat_is_that_of_iso_6946_and_vapour_that_of_10_mm_of_air(self) -> None:
        for thickness in (0.01, 0.05, 0.15):
            with self.subTest(thickness):
                outcome, resistance = self.steady(thickness)
                expected = 20.0 / (1 / 25 + 2 * 0.02 / 0.13 + resistance + 1 / 7.7)
                self.assertAlmostEqual(outcome.flux[-1, INSIDE, BY_FILM] / expected, 1.0, delta=0.001)
                pressures = 0.8 * 611.0, 0.4 * 2338.5
                resistances = 1 / 2e-7 + 2 * 0.02 / 4e-12 + 0.01 / 1.9e-10 + 1 / 2.5e-8
                vapour = (pressures[1] - pressures[0]) / resistances
                self.assertAlmostEqual(outcome.flux[-1, INSIDE, VAPOUR] / vapour, 1.0, delta=0.003)


class Traps(TestCase):
    def found(self, *names: tuple[str, float | None]) -> list[str]:
        layers = [layer(f"l{i}", material, mm) for i, (material, mm) in enumerate(names)]
        return [
            trap.sentence.metric
            for trap in traps(BuildUp(layers=layers), Place(kind="roof", slope_deg=2.0, climate="ostmoor"))
            if trap.tight
        ]

    def test_what_lies_between_two_tight_planes_is_named(self) -> None:
        (sentence,) = self.found(
            ("steel_sheet", 1), ("mineral_fibre_035", 100), ("membrane_tight", None), ("gypsum_board", 12.5)
        )
        self.assertIn(
            "mineral fibre slab 035 between steel sheet, painted (sd 1000 m outward) and vapour-tight sheet (sd 100 m inward)",
            sentence,
        )
        masonry = (("oil_paint", None), ("brick_old", 330), ("lime_plaster", 20), ("vinyl_wallcovering", None))
        (throttled,) = traps(
            BuildUp(layers=[layer(f"l{i}", name, mm) for i, (name, mm) in enumerate(masonry)]), Place()
        )
        self.assertFalse(throttled.tight)
        self.assertIn("Throttled both ways", throttled.sentence.metric)

    def test_foam_counts_by_its_thickness_and_wood_is_named(self) -> None:
        foam = (
            ("xps_034", 120),
            ("osb", 15),
            ("mineral_fibre_035", 140),
            ("membrane_tight", None),
            ("gypsum_board", 12.5),
        )
        layers = [layer(f"l{i}", name, mm) for i, (name, mm) in enumerate(foam)]
        found = traps(BuildUp(layers=layers), Place(kind="roof", slope_deg=2.0, climate="ostmoor"))
        self.assertTrue(found and all(trap.tight and trap.holds_wood for trap in found[:1]))
        self.assertIn("oriented strand board", found[0].sentence.metric)

    def test_no_trap_where_one_side_is_open_variable_or_vented(self) -> None:
        for names in (
            (("steel_sheet", 1), ("mineral_fibre_035", 100), ("gypsum_board", 12.5)),
            (
                ("steel_sheet", 1),
                ("mineral_fibre_035", 100),
                ("membrane_variable_strong", None),
                ("gypsum_board", 12.5),
            ),
            (
                ("steel_sheet", 1),
                ("air_ventilated", 50),
                ("mineral_fibre_035", 100),
                ("membrane_tight", None),
                ("osb", 15),
            ),
            (("concrete", 300), ("mineral_fibre_035", 100), ("membrane_tight", None), ("osb", 15)),
            (("brick_old", 330), ("membrane_tight", None), ("steel_sheet", 1)),
        ):
            with self.subTest(names):
                self.assertEqual(self.found(*names), [])


class Membranes(TestCase):
    BASE = [layer("brick", "brick_old", 380), layer("slab", "mineral_fibre_035", 100)]

    def test_every_choice_but_the_one_that_is_there(self) -> None:
        lining = layer("lining", "gypsum_board", 12.5)
        there = BuildUp(layers=[*self.BASE, layer("sheet", "membrane_variable_medium"), lining])
        variants = membrane_variants(there)
        materials = [[entry.material for entry in build_up.layers] for _, build_up in variants]
        self.assertEqual(materials[0], ["brick_old", "mineral_fibre_035", "gypsum_board"])
        self.assertEqual(
            [row[2] for row in materials[1:]], ["membrane_variable_weak", "membrane_variable_strong", "membrane_tight"]
        )
        without = membrane_variants(BuildUp(layers=[*self.BASE, lining]))
        self.assertEqual(len(without), 4)
        self.assertNotIn("no membrane", [words for words, _ in without])

    def test_where_there_is_nothing_to_put_it_before(self) -> None:
        for layers, word in ((self.BASE[:1], "no insulation"), (self.BASE, "closes the insulation")):
            with self.assertRaises(OutOfRange) as caught:
                membrane_variants(BuildUp(layers=layers))
            self.assertIn(word, str(caught.exception))


class Roofs(TestCase):
    DECK = [
        layer("slate", "slate", 10),
        layer("boards", "sarking_boards", 22),
        layer("fibre", "mineral_fibre_035", 150),
    ]
    LINING = [layer("lining", "gypsum_board", 12.5)]
    NORTH = Place(kind="roof", slope_deg=40.0, facing_deg=0.0, start_rh=0.7)

    def face(self, outcome: Outcome) -> np.ndarray:
        return np.asarray(outcome.temperature_c(next(iter(outcome.planes.values()))))

    def test_clear_nights_cool_a_roof_below_the_air_and_below_a_wall(self) -> None:
        flat = year([*self.DECK, *self.LINING], Place(kind="roof", slope_deg=0.0))
        wall = year([*self.DECK, *self.LINING], Place(kind="wall", slope_deg=90.0))
        cold = [float(np.quantile(self.face(o), 0.01)) for o in (flat, wall)]
        self.assertLess(cold[0], cold[1] - 1.0)

    def test_no_rain_gets_through_a_covering(self) -> None:
        outcome = year([*self.DECK, *self.LINING], self.NORTH)
        self.assertEqual(outcome.driven_rain_kg_m2, 0.0)
        self.assertEqual(float(outcome.flux[:, OUTSIDE, OFFERED].max()), 0.0)

    def test_the_deck_is_wetter_without_an_inner_membrane_and_wetter_to_the_north(self) -> None:
        bare = year([*self.DECK, *self.LINING], self.NORTH)
        tight = year([*self.DECK, layer("sheet", "membrane_variable_medium"), *self.LINING], self.NORTH)
        south = year([*self.DECK, *self.LINING], self.NORTH.model_copy(update={"facing_deg": 180.0}))
        water = [float(o.layer_water[:, 1].max()) for o in (bare, tight, south)]
        self.assertGreater(water[0], water[1])
        self.assertGreater(water[0], water[2])
