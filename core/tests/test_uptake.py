"""Water uptake measured on a face: what spread sideways taken off, readings that say nothing refused, what a study asks."""

from __future__ import annotations

import math
from unittest import TestCase

from pydantic import ValidationError

from core.buildup.model import BuildUp, BuildUpLayer
from core.errors import OutOfRange
from core.materials.library import Solid, entry_of
from core.materials.ranges import range_of
from core.measure.uptake import SIDEWAYS, UptakeReading, measured_uptake, together
from core.study import MEASURED_RANGE, StudySettings, first_inputs

W_F = 200.0
TUBE, PAD = 5.7, 500.0


def drawn(a_value: float, area_cm2: float, minutes: list[float]) -> UptakeReading:
    """What a face of this A-value draws, by the formula, in ml."""
    area = area_cm2 * 1e-4
    radius = math.sqrt(area / math.pi)
    rows = []
    for one in minutes:
        t = one * 60.0
        rows.append((one, 1e3 * area * (a_value * math.sqrt(t) + SIDEWAYS * a_value**2 * t / (radius * W_F))))
    return UptakeReading(layer="stone", area_cm2=area_cm2, rows=rows)


class Tube(TestCase):
    def test_the_a_value_comes_back_whatever_the_area(self) -> None:
        for a_value in (0.003, 0.02, 0.1, 0.4):
            for area in (TUBE, PAD):
                with self.subTest(a=a_value, area=area):
                    found = measured_uptake(drawn(a_value, area, [5, 10, 15]), W_F)
                    self.assertAlmostEqual(found.a_value_kg_m2s05 / a_value, 1.0, delta=1e-4)
                    self.assertGreater(found.as_read_kg_m2s05, a_value)

    def test_water_that_spreads_sideways_counts_more_for_a_small_tube(self) -> None:
        small = measured_uptake(drawn(0.1, TUBE, [15]), W_F)
        large = measured_uptake(drawn(0.1, 10000.0, [15]), W_F)
        self.assertGreater(small.as_read_kg_m2s05 / small.a_value_kg_m2s05, 1.5)
        self.assertLess(large.as_read_kg_m2s05 / large.a_value_kg_m2s05, 1.1)
        self.assertIn("sideways", " ".join(note.metric for note in small.notes))
        self.assertNotIn("sideways", " ".join(note.metric for note in large.notes))

    def test_by_hand_without_sideways(self) -> None:
        """1 ml on 5.7 cm² in 15 min is 1.754 kg/m² over √900 s: 0.058; what spread sideways only lowers it."""
        found = measured_uptake(UptakeReading(layer="stone", area_cm2=5.7, rows=[(15, 1)]), W_F)
        self.assertAlmostEqual(found.as_read_kg_m2s05, 0.05848, places=4)
        self.assertLess(found.a_value_kg_m2s05, found.as_read_kg_m2s05)
        # its own quadratic: A √t + γ A² t/(R w_f) = i
        radius = math.sqrt(5.7e-4 / math.pi)
        a = found.a_value_kg_m2s05
        self.assertAlmostEqual(a * 30.0 + SIDEWAYS * a * a * 900.0 / (radius * W_F), 1e-3 / 5.7e-4, places=4)

    def test_readings_that_leave_the_root_of_time_say_so(self) -> None:
        steady = measured_uptake(drawn(0.05, PAD, [1, 4, 9, 16]), W_F)
        leaking = measured_uptake(UptakeReading(layer="stone", area_cm2=PAD, rows=[(1, 5), (4, 40), (9, 300)]), W_F)
        self.assertEqual(steady.notes, [])
        self.assertIn("leaking seal", leaking.notes[0].metric)

    def test_one_reading_says_that_it_is_one(self) -> None:
        notes = measured_uptake(drawn(0.01, PAD, [15]), W_F).notes
        self.assertEqual(
            [note.metric for note in notes], ["one reading: whether it follows the root of time is not known"]
        )

    def test_more_than_any_stone_draws_is_refused(self) -> None:
        with self.assertRaisesRegex(OutOfRange, "more than any stone draws"):
            measured_uptake(UptakeReading(layer="stone", area_cm2=PAD, rows=[(0.1, 9000)]), W_F)

    def test_a_layer_that_holds_nothing_is_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            measured_uptake(drawn(0.05, PAD, [5]), 0.0)

    def test_rows_out_of_order_are_refused_with_both_rows(self) -> None:
        for rows in ([(5, 1), (5, 2)], [(5, 2), (10, 1)], [(10, 1), (5, 2)]):
            with self.subTest(rows=rows), self.assertRaisesRegex(ValidationError, "in their order"):
                UptakeReading(layer="stone", rows=rows)

    def test_bounds(self) -> None:
        for wrong in (
            {"rows": []},
            {"rows": [(2000, 5)]},
            {"rows": [(5, 20000)]},
            {"rows": [(5, -1)]},
            {"area_cm2": 0},
        ):
            with self.subTest(wrong=wrong), self.assertRaises(ValidationError):
                UptakeReading.model_validate({"layer": "stone", "rows": [(5, 1)], **wrong})

    def test_several_places_count_by_their_geometric_mean(self) -> None:
        self.assertAlmostEqual(together([0.01, 0.04]), 0.02)
        self.assertAlmostEqual(together([0.03]), 0.03)
        for nothing in ([], [0.0, 0.1]):
            with self.subTest(nothing=nothing), self.assertRaises(OutOfRange):
                together(nothing)


def wall(**of_the_stone: object) -> BuildUp:
    return BuildUp(
        layers=[
            BuildUpLayer.model_validate(
                {"id": "stone", "material": "sandstone_rubble", "thickness_mm": 500, "existing": True, **of_the_stone}
            ),
            BuildUpLayer(id="board", material="calcium_silicate", thickness_mm=80),
        ]
    )


class Opening(TestCase):
    """What *How sure* asks first."""

    def test_a_rained_stone_wall_opens_with_uptake_and_rain(self) -> None:
        found = first_inputs(wall(), True)
        self.assertEqual([one.name for one in found][:2], ["A-value", "rain exposure"])
        self.assertEqual((found[0].low, found[0].high), self.librarys())

    def test_a_measured_uptake_narrows_its_range(self) -> None:
        found = first_inputs(wall(a_value_kg_m2s05=0.02), True)
        self.assertEqual((found[0].low, found[0].high), MEASURED_RANGE)

    def test_readings_that_lie_far_apart_widen_it_again(self) -> None:
        found = first_inputs(wall(a_value_kg_m2s05=0.02), True, {"stone": [0.01, 0.04]})
        self.assertEqual((found[0].low, found[0].high), (0.5, 2.0))

    def test_stone_and_joint_are_not_one_spread(self) -> None:
        found = first_inputs(wall(a_value_kg_m2s05=0.02), True, {"stone": [0.02, 0.02], "bed": [0.2, 0.2]})
        self.assertEqual((found[0].low, found[0].high), MEASURED_RANGE)

    def test_readings_that_were_not_taken_do_not_narrow_the_librarys(self) -> None:
        found = first_inputs(wall(), True, {"stone": [0.02, 0.02]})
        self.assertEqual((found[0].low, found[0].high), self.librarys())

    def librarys(self) -> tuple[float, float]:
        """The widest of what the library says of the layers that draw, as factors."""
        spans = []
        for layer in wall().layers:
            entry = layer.entry
            if isinstance(entry, Solid) and entry.a_value_kg_m2s05:
                low, high = range_of(entry, "a_value_kg_m2s05") or (0.0, 0.0)
                spans.append((low / entry.a_value_kg_m2s05, high / entry.a_value_kg_m2s05))
        return round(min(low for low, _ in spans), 3), round(max(high for _, high in spans), 3)

    def test_a_membrane_opens_with_the_range_of_its_entry(self) -> None:
        lined = BuildUp(layers=[*wall().layers, BuildUpLayer(id="sheet", material="membrane_tight"), BuildUpLayer(id="b", material="gypsum_board", thickness_mm=12.5)])  # fmt: skip
        found = {one.name: one for one in first_inputs(lined, False)}["membrane"]
        low, high = range_of(entry_of("membrane_tight"), "sd_m") or (0.0, 0.0)
        self.assertEqual((found.low, found.high), (round(low / 100.0, 3), round(high / 100.0, 3)))

    def test_a_roof_opens_with_air_and_its_membrane(self) -> None:
        roof = BuildUp(
            layers=[
                BuildUpLayer(id="deck", material="softwood", thickness_mm=25, existing=True),
                BuildUpLayer(id="wool", material="mineral_fibre_035", thickness_mm=200),
                BuildUpLayer(id="sheet", material="membrane_tight"),
            ]
        )
        names = [one.name for one in first_inputs(roof, False)]
        self.assertEqual(names, ["indoor moisture", "moisture-active share", "air leakage", "membrane"])

    def test_what_opens_is_a_study_that_may_be_asked(self) -> None:
        for rained in (True, False):
            for build_up in (wall(), wall(a_value_kg_m2s05=0.001)):
                found = first_inputs(build_up, rained, {"stone": [0.0001, 0.05]})
                with self.subTest(rained=rained):
                    self.assertEqual(StudySettings(inputs=found, plane="stone").inputs, found)
