"""Products as they are: squeezed, settled, aged, between members of wood and steel; every figure worked out by hand here."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from pydantic import ValidationError

from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, BuildUpLayer, Framing, Place, Product
from core.errors import CaseRefused
from core.thermal.as_built import as_built_conductivity, as_built_density, compression_factor
from core.thermal.iso6946 import stud_layer_resistance, transmittance
from core.thermal.ladder import ladder, winter_mean

STUD = {"material": "steel_plate", "spacing_mm": 600, "flange_mm": 50, "web_mm": 0.6}


def layer(material: str, mm: float | None = None, **more: Any) -> BuildUpLayer:
    return BuildUpLayer.model_validate({"id": f"{material}-{mm}", "material": material, "thickness_mm": mm, **more})


def wall(*middle: BuildUpLayer) -> BuildUp:
    return BuildUp(layers=[layer("brick_old", 215), *middle, layer("gypsum_board", 12.5)])


class Squeezed(TestCase):
    def test_a_batt_loses_less_than_in_proportion(self) -> None:
        """038, 140 into 90 mm: the curve has 0.038 at 15.526 kg/m³; λ(24.152) 0.0346043, so R 2.6008."""
        batt = layer("mineral_fibre_038", 90, product={"labelled_mm": 140})
        self.assertAlmostEqual(as_built_density(batt), 33.0 * 140.0 / 90.0)
        by_hand = (0.0275 + 2.5e-5 * 24.1521 + 0.157 / 24.1521) / 0.038
        self.assertAlmostEqual(compression_factor(batt), by_hand, places=6)
        r = 0.09 / as_built_conductivity(batt)
        self.assertAlmostEqual(r, 2.6008, delta=0.0002)
        self.assertGreater(r, 0.14 / 0.038 * 90.0 / 140.0)
        self.assertLess(r, 0.14 / 0.038)

    def test_squeezed_far_it_gets_worse_again(self) -> None:
        factors = [
            compression_factor(layer("mineral_fibre_032", mm, product={"labelled_mm": 200}))
            for mm in (200, 150, 100, 70)
        ]
        self.assertEqual(factors[0], 1.0)
        self.assertGreater(factors[3], factors[1], "beyond its best density the fibres conduct")

    def test_other_fibre_keeps_its_conductivity_and_boards_are_not_squeezed(self) -> None:
        wool = layer("wood_fibre_batt", 80, product={"labelled_mm": 100})
        self.assertEqual(as_built_conductivity(wool), 0.038)
        with self.assertRaisesRegex(ValidationError, "only fibre is"):
            layer("eps_035", 80, product={"labelled_mm": 100})
        with self.assertRaisesRegex(ValidationError, "cannot be pulled thicker"):
            layer("mineral_fibre_035", 80, product={"labelled_mm": 60})
        with self.assertRaisesRegex(ValidationError, "belong to one"):
            layer("brick_old", 215, product={"ageing": 1.1})

    def test_settled_and_aged(self) -> None:
        """A tenth sunk of 200 mm: 0.9 × 0.039 + 0.1 × 0.2 / 0.18 = 0.14621; 15 % aged: 0.027 × 1.15."""
        sunk = layer("cellulose_loose", 200, product={"settled": 0.1})
        self.assertAlmostEqual(as_built_conductivity(sunk), 0.9 * 0.039 + 0.1 * 0.2 / 0.18)
        self.assertAlmostEqual(as_built_conductivity(sunk, settled=False), 0.039)
        foam = layer("spray_foam_closed", 75, product={"ageing": 1.15})
        self.assertAlmostEqual(as_built_conductivity(foam), 0.027 * 1.15)

    def test_a_fill_that_settles_lying_down_has_a_gap_over_it(self) -> None:
        """200 mm with a tenth gone: 0.18/0.039 + 0.16 (20 mm of air, upward) = 4.7754; with 0.10 + 0.04 of surfaces U 0.2034."""
        sunk = layer("cellulose_loose", 200, product={"settled": 0.1})
        lying = 0.18 / 0.039 + 0.16
        self.assertAlmostEqual(0.2 / as_built_conductivity(sunk, "up"), lying, places=9)
        ceiling = BuildUp(layers=[sunk])
        self.assertAlmostEqual(transmittance(ceiling, "roof").u_effective, 1.0 / (0.14 + lying), places=9)
        self.assertGreater(transmittance(ceiling, "wall").u_effective, 0.5, "in a wall the empty head loses much")
        self.assertGreater(0.2 / as_built_conductivity(sunk, "down"), lying, "warm air above it stays")
        for kind, expected in (("roof", "up"), ("wall", "horizontal")):
            place = Place(kind=kind)
            case = model_of(
                wall(sunk)
                if kind == "wall"
                else BuildUp(layers=[layer("softwood", 20), sunk, layer("gypsum_board", 12.5)]),
                place,
            ).case
            made = case.materials[f"cellulose_loose@{sunk.id}"].heat.conductivity_w_mk
            self.assertAlmostEqual(made, as_built_conductivity(sunk, expected), msg=kind)  # type: ignore[arg-type]

    def test_deep_steel_studs_are_bounded_by_what_a_stud_carries(self) -> None:
        """ASHRAE 90.1, appendix A: cavity R in m²K/W to effective R of the stud layer, 406 and 610 mm apart, within 4 %."""
        printed = {
            (0.089, 2.29): (1.057, 1.268), (0.089, 2.64): (1.127, 1.374), (0.152, 3.35): (1.250, 1.514),
            (0.152, 3.70): (1.303, 1.585), (0.203, 4.40): (1.374, 1.691),
        }  # fmt: skip
        for (depth, cavity), rows in printed.items():
            for spacing, value in zip((406, 610), rows, strict=True):
                self.assertAlmostEqual(stud_layer_resistance(cavity, depth, spacing, 1.1) / value, 1.0, delta=0.04)
        deep = wall(
            layer(
                "mineral_fibre_035",
                203,
                framing={"material": "steel_plate", "spacing_mm": 406, "flange_mm": 41, "web_mm": 1.1},
            )
        )
        found = transmittance(deep, "wall")
        others = 0.13 + 0.215 / 0.72 + 0.0125 / 0.23 + 0.04
        self.assertAlmostEqual(found.r_effective, others + stud_layer_resistance(5.8, 0.203, 406, 1.1), places=9)
        thick = [
            transmittance(wall(layer("mineral_fibre_035", mm, framing={**STUD, "spacing_mm": 406})), "wall").r_effective
            for mm in (90, 120, 152, 180, 203)
        ]
        self.assertEqual(thick, sorted(thick), "deeper is never worse")

    def test_the_hourly_years_take_it_as_it_is(self) -> None:
        plain, squeezed = (wall(layer("mineral_fibre_038", 90, product=p)) for p in (None, {"labelled_mm": 140}))
        of = {
            name: model_of(build_up, Place()).case.materials
            for name, build_up in (("plain", plain), ("squeezed", squeezed))
        }
        heat = next(m.heat for key, m in of["squeezed"].items() if key.startswith("mineral_fibre_038@"))
        assert heat is not None
        self.assertAlmostEqual(heat.conductivity_w_mk, 0.034604, places=5)
        self.assertAlmostEqual(heat.density_kg_m3, 33.0 * 140.0 / 90.0)
        self.assertIn("mineral_fibre_038", of["plain"])


class Members(TestCase):
    def test_the_share_follows_from_spacing_and_width(self) -> None:
        framing = Framing.model_validate({"material": "softwood", "spacing_mm": 400, "width_mm": 45, "plates": 0.03})
        self.assertAlmostEqual(framing.share, 45.0 / 400.0 + 0.03)
        typed = Framing.model_validate({"material": "softwood", "spacing_mm": 600, "width_mm": 38, "share": 0.5})
        self.assertAlmostEqual(typed.share, 38.0 / 600.0)
        self.assertEqual(Framing(material="softwood", share=0.12).share, 0.12)
        for wrong in (
            {"spacing_mm": 600},
            {"share": 0.1, "flange_mm": 50},
            {"share": 0.1, "flange_mm": 50, "web_mm": 0.6},
            {"spacing_mm": "far", "width_mm": 45},
        ):
            with self.assertRaises(ValidationError):
                Framing.model_validate({"material": "softwood", **wrong})

    def test_a_light_steel_stud(self) -> None:
        """Brick 0.29861, fibre 2.0, board 0.05435, surfaces 0.17: clear 2.52296. By the method 1.9484; the stud itself resists
        1/0.21 − 0.07/0.055 + 0.07/0.03 = 5.8225 mK/W, its layer 1/(0.5 + 1/(0.6 × 5.8225)) = 1.2719, with 0.52296 of the others 1.7949."""
        found = transmittance(wall(layer("mineral_fibre_035", 70, framing=STUD)), "wall")
        others = 0.13 + 0.215 / 0.72 + 0.0125 / 0.23 + 0.04
        stud = 1.0 / 0.21 - 0.07 / 0.055 + 0.07 / 0.03
        self.assertAlmostEqual(found.r_effective, others + 1.0 / (0.5 + 1.0 / (0.6 * stud)), places=9)
        self.assertAlmostEqual(found.r_effective, 1.7949, delta=0.0002)
        self.assertLess(found.r_effective, 1.9484)

    def test_the_lower_of_method_and_bound_is_taken(self) -> None:
        taken = set()
        for mm, spacing in ((20, 300), (30, 300), (70, 600), (203, 406)):
            found = transmittance(wall(layer("mineral_fibre_035", mm, framing={**STUD, "spacing_mm": spacing})), "wall")
            others = 0.13 + 0.215 / 0.72 + 0.0125 / 0.23 + 0.04
            bound = others + stud_layer_resistance(mm / 35.0, mm / 1000.0, spacing, 0.6)
            p = 0.8 * found.lower_limit / found.upper_limit + 0.44 - 0.125 - 120.0 / spacing - 0.04 * mm / 100.0
            method = p * found.upper_limit + (1.0 - p) * found.lower_limit
            self.assertAlmostEqual(found.r_effective, min(method, bound), places=9)
            taken.add(method < bound)
        self.assertEqual(taken, {True, False})

    def test_closer_studs_are_worse_and_what_is_outside_of_the_method_is_refused(self) -> None:
        values = [
            transmittance(wall(layer("mineral_fibre_035", 70, framing={**STUD, "spacing_mm": s})), "wall").u_effective
            for s in (600, 400, 300)
        ]
        self.assertEqual(values, sorted(values))
        for change in ({"spacing_mm": 200}, {"web_mm": 6}, {"flange_mm": 100}):
            with self.assertRaisesRegex(CaseRefused, "two-dimensional"):
                transmittance(wall(layer("mineral_fibre_035", 70, framing={**STUD, **change})), "wall")
        two = wall(layer("mineral_fibre_035", 70, framing=STUD), layer("mineral_fibre_035", 50, framing=STUD))
        with self.assertRaisesRegex(CaseRefused, "one layer of studs"):
            transmittance(two, "wall")
        with self.assertRaisesRegex(CaseRefused, "state the spacing, flange and web"):
            transmittance(
                wall(layer("mineral_fibre_035", 70, framing={"material": "steel_plate", "share": 0.01})), "wall"
            )

    def test_a_profiled_sheet_is_flat_unless_insulation_fills_its_ribs_too(self) -> None:
        deck, quilt = layer("profiled_sheet", 0.7), layer("mineral_fibre_035", 100)
        flat = transmittance(BuildUp(layers=[quilt, deck]), "roof")
        self.assertAlmostEqual(flat.r_effective, 0.04 + 0.1 / 0.035 + 0.0007 / 50.0 + 0.10, places=6)
        with self.assertRaisesRegex(CaseRefused, "between two insulations.*liner tray"):
            transmittance(BuildUp(layers=[quilt, deck, layer("mineral_fibre_035", 40)]), "roof")


class TheLadder(TestCase):
    def test_every_step_by_hand(self) -> None:
        """Boards 20, batt 038 140 in 90 mm between 45 mm at 400 mm with 3 % plates, board 12.5."""
        batt = layer(
            "mineral_fibre_038",
            90,
            product={"labelled_mm": 140},
            gaps=1,
            framing={"material": "softwood", "spacing_mm": 400, "width_mm": 45, "plates": 0.03},
        )
        build_up = BuildUp(layers=[layer("softwood", 20), batt, layer("gypsum_board", 12.5)])
        rest = 0.13 + 0.02 / 0.12 + 0.0125 / 0.23 + 0.04
        found = ladder(build_up, Place(climate="karrental"))
        assert found is not None
        rungs = {rung.name: rung for rung in found.rungs}
        self.assertEqual(
            [rung.name for rung in found.rungs][:4], ["labelled", "squeezed", "framed", "fixed and fitted"]
        )
        self.assertAlmostEqual(rungs["labelled"].r, rest + 0.14 / 0.038)
        self.assertAlmostEqual(rungs["squeezed"].r, rest + 2.6008, delta=0.0003)
        share, wood, fibre = 0.1425, 0.09 / 0.12, 2.6008
        high = 1.0 / ((1.0 - share) / (rest + fibre) + share / (rest + wood))
        low = rest + 1.0 / ((1.0 - share) / fibre + share / wood)
        framed = 0.5 * (high + low)
        self.assertAlmostEqual(rungs["framed"].r, framed, delta=0.0003)
        gap = 0.01 * (fibre / (rest + fibre)) ** 2
        self.assertAlmostEqual(rungs["fixed and fitted"].r, 1.0 / (1.0 / framed + gap), delta=0.0003)
        for rung in found.rungs:
            self.assertAlmostEqual(rung.share, rung.r / rungs["labelled"].r)
            self.assertTrue(rung.cause.metric and rung.cause.inch)
        self.assertAlmostEqual(transmittance(build_up, "wall").r_effective, rungs["fixed and fitted"].r)
        self.assertTrue(found.low < rungs["fixed and fitted"].r < found.high)

    def test_cold_fibre_is_better_and_cold_foam_worse(self) -> None:
        place = Place(climate="tarn")
        outside = winter_mean("tarn")
        self.assertLess(outside, 0.0)
        fibre, foam = (ladder(wall(layer(name, 120)), place) for name in ("mineral_fibre_035", "pur_foam"))
        assert fibre is not None and foam is not None
        by = {
            name: rungs[-1]
            for name, rungs in (
                ("fibre", [r for r in fibre.rungs if r.name == "in winter"]),
                ("foam", [r for r in foam.rungs if r.name == "in winter"]),
            )
        }
        self.assertGreater(by["fibre"].share, 1.0)
        self.assertLess(by["foam"].share, 1.0)
        clear = 0.13 + 0.215 / 0.72 + 0.12 / 0.035 + 0.0125 / 0.23 + 0.04
        middle = outside + (20.0 - outside) * (0.04 + 0.215 / 0.72 + 0.06 / 0.035) / clear
        self.assertAlmostEqual(
            by["fibre"].r - (clear - 0.12 / 0.035), 0.12 / (0.035 * math.exp(0.0045 * (middle - 10.0))), delta=0.001
        )

    def test_wet_insulation_and_walls_without_any(self) -> None:
        board = ladder(wall(layer("wood_fibre_board", 100)), Place())
        assert board is not None
        self.assertIn("with its water", [rung.name for rung in board.rungs])
        self.assertIsNone(ladder(BuildUp(layers=[layer("brick_old", 215)]), Place()))

    def test_a_plain_product(self) -> None:
        self.assertEqual(Product(), Product(labelled_mm=None, settled=0.0, ageing=1.0))
