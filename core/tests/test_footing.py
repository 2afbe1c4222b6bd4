"""The soil at a footing: far from the house the closed wave, and what insulating, snow and a skirt do."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.climate.data import shipped
from core.climate.ground import ground_temperature_c
from core.footing import Footing, footing_year
from core.thermal.iso13370 import SOIL_CONDUCTIVITY, SOIL_HEAT_J_M3K


class TheSoil(TestCase):
    def test_without_a_house_it_is_the_wave_of_kusuda(self) -> None:
        """So much insulation inside that the house is not felt: the soil at 1.2 m follows the damped wave of the air's first harmonic."""
        climate = shipped("tarn")
        found = footing_year(
            Footing(founding_m=1.2, wall_r=20.0, floor_r=20.0, inside_c=float(climate["temperature_c"].mean())),
            climate,
            False,
        )
        alpha = SOIL_CONDUCTIVITY["sand or gravel"] / SOIL_HEAT_J_M3K["sand or gravel"]
        wave = ground_temperature_c(climate, 1.2, alpha).reshape(-1, 24).mean(axis=1)
        self.assertAlmostEqual(float(found.daily_c.mean()), float(wave.mean()), delta=0.5)
        # half of the foot's surroundings lies under the floor, which keeps the season out: the swing is less, never more
        self.assertLess(np.ptp(found.daily_c), np.ptp(wave) + 1.0)
        self.assertGreater(np.ptp(found.daily_c), 0.3 * np.ptp(wave))

    def test_insulating_cellar_walls_inside_cools_the_footing(self) -> None:
        climate = shipped("tarn")
        bare = Footing(founding_m=1.4, floor_m=1.2, inside_c=12.0)
        found = footing_year(bare, climate, False)
        lined = footing_year(bare.model_copy(update={"wall_r": 3.0, "floor_r": 3.0}), climate, False)
        self.assertLess(lined.coldest_c, found.coldest_c - 0.5)
        self.assertGreaterEqual(lined.frost_m, found.frost_m)

    def test_snow_and_a_skirt_keep_it_warmer(self) -> None:
        climate = shipped("tarn")
        lined = Footing(founding_m=0.9, floor_m=0.8, wall_r=3.0, floor_r=3.0, inside_c=15.0)
        bare = footing_year(lined, climate, False)
        snow = footing_year(lined, climate, True)
        skirt = footing_year(lined.model_copy(update={"skirt_m": 1.2, "skirt_r": 2.5}), climate, False)
        self.assertGreater(snow.coldest_c, bare.coldest_c + 0.5)
        self.assertGreater(skirt.coldest_c, bare.coldest_c + 0.5)
        self.assertLess(skirt.frost_m, bare.frost_m)

    def test_a_mild_place_needs_no_frost(self) -> None:
        found = footing_year(Footing(founding_m=0.8, inside_c=18.0), shipped("corrie"), True)
        self.assertGreater(found.coldest_c, 0.0)
        self.assertLess(found.frost_m, 0.5)
