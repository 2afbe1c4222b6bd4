"""Condensate, wet insulation, hours of wetness, frost and metal: against hand figures, and in the verdict's words."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.buildup.to_case import Model, model_of
from core.criteria.frost import TOLERANCE, frost_cycles
from core.criteria.timber import days_over_rh
from core.criteria.verdict import REASONS, judge
from core.criteria.water import METAL_TOLERANCE_H, condensate, conductivity_of, hours_of_wetness, loss_of_resistance
from core.moisture.transient.kernel import FILM_STORAGE
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate

HOURS = 8760


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


class OfOneWall(TestCase):
    """Rained stone with a fibre lining, two years; single nodes are then set to states whose figures are known."""

    model: Model
    outcome: Outcome

    @classmethod
    def setUpClass(cls) -> None:
        layers = [
            layer("stone", "sandstone_rubble", 300),
            layer("wool", "mineral_fibre_035", 80),
            layer("sheet", "membrane_tight"),
            layer("board", "gypsum_board", 12.5),
        ]
        cls.model = model_of(BuildUp(layers=layers), Place(facing_deg=290, climate="karrental", start_rh=0.9))
        time = cls.model.case.time.model_copy(update={"repeat": "fixed", "fixed_passes": 2})
        cls.outcome = simulate(cls.model.case.model_copy(update={"time": time}))

    def with_node(self, node: int, suction_pa: np.ndarray | float, kelvin: np.ndarray | float) -> Outcome:
        """The outcome with one node at given suctions and temperatures."""
        z, temperature = np.array(self.outcome.z), np.array(self.outcome.temperature)
        z[:, node] = np.arcsinh(np.asarray(suction_pa) / 1000.0)
        temperature[:, node] = kelvin
        return replace(self.outcome, z=z, temperature=temperature)

    def frozen_wet(self, times: int) -> Outcome:
        """One cell of the stone at free saturation, which falls to −5 °C so many times in the last year."""
        suction, kelvin = 1.0, np.full(2 * HOURS, 283.15)
        for number in range(times):
            kelvin[9000 + 200 * number : 9024 + 200 * number] = 268.15
        return self.with_node(int(self.outcome.cells_of(0)[3]), suction, kelvin)

    def plane(self, start: str) -> int:
        return next(node for name, node in self.outcome.planes.items() if name.startswith(start))

    def test_free_water_is_the_film_of_the_kernel(self) -> None:
        """2000 Pa over saturation for a week: 2000 · 1e-4 kg/m²; the face dries before and after."""
        node = self.plane("sandstone rubble in lime / ")
        suction = np.full(2 * HOURS, 1.0e6)
        suction[9000 : 9000 + 168] = -2000.0
        found = condensate(self.with_node(node, suction, 285.0), node)
        self.assertAlmostEqual(found.most_g_m2, 2000.0 * FILM_STORAGE * 1000.0, delta=0.1)
        self.assertTrue(9000 <= found.record < 9168 and found.dries)
        self.assertFalse(condensate(self.with_node(node, -2000.0, 285.0), node).dries)
        self.assertEqual(condensate(self.with_node(node, 1.0e6, 285.0), node).most_g_m2, 0.0)

    def test_wetness_counts_hours_that_are_humid_and_above_zero(self) -> None:
        node = self.plane("sandstone rubble in lime / ")
        suction = np.full(2 * HOURS, 1.0e8)  # about 48 % RH
        suction[HOURS : HOURS + 500] = 1.0e6  # over 99 %
        kelvin = np.full(2 * HOURS, 283.15)
        kelvin[HOURS : HOURS + 100] = 268.15
        self.assertEqual(hours_of_wetness(self.with_node(node, suction, kelvin), node), 400)

    def test_the_loss_of_r_is_that_of_its_conductivity(self) -> None:
        """At 50 % RH throughout nothing is lost; wetter, the share is 1 − λ(50 %)/λ(w) of the material."""
        cells = self.outcome.cells_of(1)
        z, temperature = np.array(self.outcome.z), np.array(self.outcome.temperature)
        material = self.model.case.materials["mineral_fibre_035"]
        for rh in (0.5, 0.97):
            z[:, cells] = np.arcsinh(-1000.0 * 461.5 * 293.15 * np.log(rh) / 1000.0)
            temperature[:, cells] = 293.15
            changed = replace(self.outcome, z=z, temperature=temperature)
            dry, wet = (self.outcome.water_at_rh(int(cells[0]), value) for value in (0.5, rh))
            ratio = float(conductivity_of(material, np.array(dry))) / float(conductivity_of(material, np.array(wet)))
            self.assertAlmostEqual(loss_of_resistance(changed, 1), 1.0 - ratio, places=5)

    def test_wet_frost_cycles_are_counted_where_the_stone_is_wet(self) -> None:
        cells = self.outcome.cells_of(0)
        z, temperature = np.array(self.outcome.z), np.array(self.outcome.temperature)
        z[:, cells], temperature[:, cells] = np.arcsinh(1.0e5), 283.15  # dry and mild everywhere
        wet = cells[3]
        z[:, wet] = np.arcsinh(1.0e-3)  # at free saturation
        for start in (9000, 9500, 10000):
            temperature[start : start + 24, wet] = 268.15
        temperature[9700:9724, wet] = 272.15  # not cold enough
        found = frost_cycles(replace(self.outcome, z=z, temperature=temperature), 0)
        self.assertEqual((found.cycles, found.wet), (3, 3))
        self.assertAlmostEqual(found.depth_mm, float(self.outcome.depth[wet] * 1000.0), places=3)
        self.assertAlmostEqual(found.degree, 1.0, places=3)
        z[:, wet] = np.arcsinh(1.0e5)
        dry = frost_cycles(replace(self.outcome, z=z, temperature=temperature), 0)
        self.assertEqual((dry.cycles, dry.wet), (3, 0))

    def test_without_as_found_frost_and_metal_are_not_judged(self) -> None:
        verdict = judge(self.model, self.outcome)
        self.assertFalse({"frost", "metal"} & {j.criterion for j in verdict.judgements})
        self.assertTrue(any("run its years first" in words for words in verdict.not_judged))

    def test_a_rise_against_as_found_is_marginal_and_never_over(self) -> None:
        outcome = self.frozen_wet(TOLERANCE + 1)
        own = judge(self.model, outcome).compared
        self.assertEqual(own["frost"]["stone"], TOLERANCE + 1)
        dry = {"frost": {"stone": 0}, "metal": dict.fromkeys(own["metal"], 0)}
        found = {
            j.criterion: j for j in judge(self.model, outcome, dry).judgements if j.criterion in ("frost", "metal")
        }
        self.assertEqual({j.state for j in found.values()}, {"marginal"})
        self.assertEqual(found["frost"].value, own["frost"]["stone"])
        self.assertIn("never", found["frost"].sentence)

    def test_as_many_as_found_is_no_claim_of_an_unknown_stone(self) -> None:
        outcome = self.frozen_wet(TOLERANCE + 1)
        own = judge(self.model, outcome).compared
        verdict = judge(self.model, outcome, own)
        self.assertFalse({"frost", "metal"} & {j.criterion for j in verdict.judgements})
        self.assertTrue(any("frost resistance" in words for words in verdict.not_judged))

    def test_the_metal_tolerance_is_what_it_says(self) -> None:
        own = judge(self.model, self.outcome).compared
        hours = own["metal"]["stone"]
        for rise, said in ((METAL_TOLERANCE_H, False), (METAL_TOLERANCE_H + 1, True)):
            before = {"frost": own["frost"], "metal": {"stone": hours - rise}}
            judged = judge(self.model, self.outcome, before).judgements
            self.assertEqual(any(j.criterion == "metal" for j in judged), said)

    def test_every_judgement_names_place_date_and_has_a_reason(self) -> None:
        dry = {"frost": {"stone": 0}, "metal": {"stone": 0}}
        verdict = judge(self.model, self.outcome, dry)
        for judgement in verdict.judgements:
            with self.subTest(judgement.criterion):
                self.assertIn(judgement.criterion, REASONS)
                self.assertTrue(judgement.place and "year" in judgement.when and judgement.sentence.endswith("."))
        shares = [judgement.share for judgement in verdict.judgements]
        self.assertEqual(shares, sorted(shares, reverse=True))
        self.assertEqual(verdict.second, verdict.judgements[1])

    def test_fixed_years_that_do_not_repeat_are_not_judged_on_accumulation(self) -> None:
        for settled in (True, False):
            verdict = judge(self.model, replace(self.outcome, settled=settled))
            judged = any(j.criterion == "accumulation" for j in verdict.judgements)
            self.assertEqual(judged, settled)
            self.assertEqual(any("do not repeat yet" in words for words in verdict.not_judged), not settled)

    def test_the_rh_limit_of_wood_falls_with_warmth(self) -> None:
        """94 % is under the limit at 0 °C (95 %) and over it at 20 °C (89 %)."""
        cells = self.outcome.cells_of(1)
        days = 2 * 365
        for kelvin, wanted in ((273.15, 0), (293.15, 365)):
            z, temperature = np.array(self.outcome.z), np.array(self.outcome.temperature)
            z[:, cells] = np.arcsinh(-1000.0 * 461.5 * kelvin * np.log(0.94) / 1000.0)
            temperature[:, cells] = kelvin
            changed = replace(self.outcome, z=z, temperature=temperature)
            self.assertEqual(days_over_rh(changed, cells, 24, days), wanted)
