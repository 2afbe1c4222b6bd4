"""The wetting test: the water adds up, and it stays the longer the more is put before the stone."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.criteria.wetting import WettingTest, wetting_test
from core.errors import OutOfRange

PLACE = Place(facing_deg=45, climate="corrie", exposure="sheltered", start_rh=0.75, rain_factors=(0.0, 0.0, 0.0, 0.0))


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


def wall(insulation_mm: float, membrane: str = "membrane_variable_medium") -> BuildUp:
    stone = [layer("stone", "sandstone_rubble", 500), layer("plaster", "lime_plaster", 20)]
    if not insulation_mm:
        return BuildUp(layers=stone)
    inside = [
        layer("slab", "mineral_fibre_035", insulation_mm),
        layer("m", membrane),
        layer("board", "gypsum_board", 12.5),
    ]
    return BuildUp(layers=[*stone, *inside])


def tested(build_up: BuildUp, **options: float | int) -> WettingTest:
    return wetting_test(build_up, PLACE, "stone", years_before=1, **options)  # type: ignore[arg-type]


class Wetting(TestCase):
    def test_all_of_the_water_is_there_at_first_and_goes(self) -> None:
        found = tested(wall(0))
        self.assertEqual((found.dose_kg_m2, found.drained_kg_m2), (1.0, 0.0))
        left = [found.left_g_m2[days] for days in (30, 90, 365)]
        self.assertTrue(1000.0 > left[0] > left[1] > left[2] > 0.0, left)
        assert found.days is not None
        self.assertTrue(5 < found.days < 60, found.days)
        self.assertTrue(found.back_before_heating)
        self.assertEqual((found.rh.shape, found.rh_twin.shape), ((365,), (365,)))
        self.assertGreater(found.rh[0], found.rh_twin[0] + 0.05)
        self.assertIn("is back after", found.sentence)

    def test_hardly_any_is_lost_behind_a_tight_sheet(self) -> None:
        found = tested(wall(60, "membrane_tight"))
        self.assertAlmostEqual(found.left_g_m2[30], 1000.0, delta=6.0)

    def test_inside_insulation_keeps_it_and_more_keeps_more_for_the_season(self) -> None:
        bare, thin, thick = (tested(wall(mm)) for mm in (0, 40, 160))
        assert bare.days is not None
        for insulated in (thin, thick):
            self.assertTrue(insulated.days is None or insulated.days > 3 * bare.days)
        self.assertTrue(bare.left_g_m2[90] < thin.left_g_m2[90] < thick.left_g_m2[90])

    def test_what_does_not_fit_drains_and_is_counted(self) -> None:
        found = tested(wall(0), dose_kg_m2=20.0)
        self.assertGreater(found.drained_kg_m2, 5.0)
        self.assertAlmostEqual(found.dose_kg_m2 + found.drained_kg_m2, 20.0)
        self.assertIn("did not fit and drained", found.sentence)
        self.assertTrue(np.isfinite(found.rh).all())

    def test_what_cannot_be_wetted_is_refused(self) -> None:
        for build_up, place in ((wall(60), "m"), (wall(60), "nowhere")):
            with self.assertRaises(OutOfRange):
                wetting_test(build_up, PLACE, place, years_before=1)
