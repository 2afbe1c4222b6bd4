"""What changed since a run: layers, leaks and place in words, and nothing where nothing did."""

from __future__ import annotations

from unittest import TestCase

from core.buildup.changes import OTHERWISE, PLACE_WORDS, changes, place_changes
from core.buildup.model import AirLeakage, BuildUp, BuildUpLayer, Framing, Place, RainLeakage
from core.cases.practice import build_up as of

WALL = of(("stone", "sandstone_rubble", 400), ("wool", "mineral_fibre_035", 80), ("sheet", "membrane_variable_medium"), ("board", "gypsum_board", 12.5))  # fmt: skip


def metric(before: BuildUp, after: BuildUp) -> list[str]:
    return [one.metric for one in changes(before, after)]


class Changes(TestCase):
    def test_nothing_changed_nothing_said(self) -> None:
        self.assertEqual(changes(WALL, WALL), [])
        self.assertEqual(place_changes(Place(), Place()), [])

    def test_layers_that_come_go_and_change(self) -> None:
        stone, wool, sheet, board = WALL.layers
        self.assertEqual(metric(WALL, BuildUp(layers=[stone, wool, board])), ["variable membrane, medium is gone"])
        self.assertEqual(metric(BuildUp(layers=[stone, board]), BuildUp(layers=[stone, wool, board])), ["mineral fibre slab 035 80 mm is new"])  # fmt: skip
        thicker = wool.model_copy(update={"thickness_mm": 100.0})
        [one] = changes(WALL, BuildUp(layers=[stone, thicker, sheet, board]))
        self.assertEqual(one.metric, "mineral fibre slab 035: 80 mm before, 100 mm now")
        self.assertIn("in", one.inch)
        other = BuildUpLayer(id="wool", material="wood_fibre_board", thickness_mm=60)
        self.assertTrue(metric(WALL, BuildUp(layers=[stone, other, sheet, board]))[0].startswith("mineral fibre slab 035 80 mm before, "))  # fmt: skip
        framed = wool.model_copy(update={"framing": Framing(material="softwood", share=0.1), "gaps": 1})
        said = metric(WALL, BuildUp(layers=[stone, framed, sheet, board]))
        self.assertEqual(said, ["mineral fibre slab 035: its members, its gaps"])
        self.assertEqual(metric(WALL, BuildUp(layers=[wool, stone, sheet, board])), ["the order of the layers"])

    def test_leaks_and_place(self) -> None:
        leaky = WALL.model_copy(update={"air_leak": AirLeakage(preset="leaky"), "rain_leak": RainLeakage(share=0.01)})
        self.assertEqual(metric(WALL, leaky), ["the leaks of air", "the leaks of rain"])
        moved = Place(climate="tarn", occupancy="high", facing_deg=90, works_on="10-01")
        said = [one.metric for one in place_changes(Place(), moved)]
        self.assertEqual(len(said), 4)
        self.assertIn("high occupancy", said[1])
        self.assertEqual(said[2:], ["where it faces", "the day of the works"])

    def test_every_field_that_a_run_feels_has_words(self) -> None:
        silent = {"id", "material", "thickness_mm", "known", "existing", "photo", "carries"}
        self.assertEqual(set(BuildUpLayer.model_fields) - silent, set(OTHERWISE))
        self.assertEqual(set(Place.model_fields) - {"climate", "occupancy"}, set(PLACE_WORDS))
