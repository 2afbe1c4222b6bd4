"""Every shipped climate: columns within what weather can be, the sun where it belongs, a year that closes."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.case import DrivenRain
from core.climate.data import HOURS_PER_YEAR, shipped, shipped_names
from core.climate.rain import RAIN_FACE_MM, driven_rain, falling_rain, is_rain_face, rain_weighted_wind
from core.climate.sun import radiation_on_face
from core.physics.constants import STEFAN_BOLTZMANN, ZERO_CELSIUS


class EveryClimate(TestCase):
    def each(self) -> list[str]:
        names = shipped_names()
        self.assertEqual(len(names), 6)
        return names

    def test_columns_are_whole_and_within_what_weather_can_be(self) -> None:
        for name in self.each():
            climate = shipped(name)
            with self.subTest(name):
                for column, values in climate.columns.items():
                    self.assertEqual(len(values), HOURS_PER_YEAR, column)
                    self.assertTrue(np.isfinite(values).all(), column)
                self.assertTrue(climate["temperature_c"].min() > -45 and climate["temperature_c"].max() < 46)
                self.assertTrue(climate["relative_humidity"].min() > 0.03 and climate["relative_humidity"].max() <= 1.0)
                for column in ("rain_mm", "wind_speed_m_s", "beam_normal_w_m2", "diffuse_horizontal_w_m2"):
                    self.assertGreaterEqual(climate[column].min(), 0.0, column)
                self.assertLess(climate["wind_speed_m_s"].max(), 35.0)
                self.assertTrue((climate["wind_direction_deg"] < 360).all())

    def test_the_sky_is_colder_than_the_air_and_the_sun_shines_by_day(self) -> None:
        for name in self.each():
            climate = shipped(name)
            with self.subTest(name):
                black = STEFAN_BOLTZMANN * (climate["temperature_c"] + ZERO_CELSIUS) ** 4
                self.assertTrue((climate["sky_longwave_w_m2"] < black + 0.2).all())
                night = climate["sun_zenith_deg"] > 91
                self.assertEqual(float(climate["beam_normal_w_m2"][night].max()), 0.0)
                self.assertEqual(float(climate["diffuse_horizontal_w_m2"][night].max()), 0.0)
                self.assertLess(float(climate["beam_normal_w_m2"].max()), 1150.0)

    def test_the_year_closes_without_a_jump(self) -> None:
        for name in self.each():
            temperature = shipped(name)["temperature_c"]
            steps = np.abs(np.diff(temperature))
            with self.subTest(name):
                self.assertLess(abs(temperature[0] - temperature[-1]), steps.max() + 2.0)

    def test_south_gets_more_sun_than_north_and_a_flat_roof_most_in_summer(self) -> None:
        for name in self.each():
            climate = shipped(name)
            with self.subTest(name):
                sums = {f: float(radiation_on_face(climate, f, 90.0, 0.2).sum()) for f in (0.0, 90.0, 180.0, 270.0)}
                self.assertEqual(min(sums, key=lambda f: sums[f]), 0.0)
                self.assertGreater(sums[180.0], 1.2 * sums[0.0])
                july = slice(181 * 24, 212 * 24)
                flat = radiation_on_face(climate, 0.0, 0.0, 0.2)[july].sum()
                self.assertTrue(all(flat > radiation_on_face(climate, f, 90.0, 0.2)[july].sum() for f in sums))

    def test_rain_sides_take_more_than_the_mean_and_no_face_takes_all(self) -> None:
        for name in self.each():
            climate = shipped(name)
            by_facing = {f: float(driven_rain(climate, float(f), DrivenRain()).sum()) for f in range(0, 360, 45)}
            mean = sum(by_facing.values()) / 8
            with self.subTest(name):
                self.assertGreater(max(by_facing.values()), 1.3 * mean)
                self.assertGreater(rain_weighted_wind(name, float(max(by_facing, key=lambda f: by_facing[f]))), 1.0)
                twice = driven_rain(climate, 270.0, DrivenRain(wall_factor=0.8)).sum()
                self.assertAlmostEqual(float(twice), 2.0 * by_facing[270], places=6)
                self.assertEqual(float(driven_rain(climate, 270.0, DrivenRain(method="none")).sum()), 0.0)

    def test_a_rain_face_is_one_by_millimetres_and_rain_falls_on_slopes(self) -> None:
        self.assertTrue(is_rain_face(RAIN_FACE_MM) and not is_rain_face(RAIN_FACE_MM - 1.0))
        dry = shipped("sollera")
        moderate = DrivenRain(terrain_factor=0.75, obstruction_factor=0.5)
        most = max(float(driven_rain(dry, 45.0 * i, moderate).sum()) for i in range(8))
        self.assertFalse(is_rain_face(most), "the wettest face of a dry place is no rain face")
        flat, steep, upright = (float(falling_rain(dry, slope).sum()) for slope in (0.0, 60.0, 90.0))
        self.assertAlmostEqual(flat, float(dry["rain_mm"].sum()))
        self.assertAlmostEqual(steep, 0.5 * flat)
        self.assertAlmostEqual(upright, 0.0, places=9)
