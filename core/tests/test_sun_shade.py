"""What stands before a window, by the hour, against geometry by hand; measures against the summer."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np

from core.climate.data import shipped
from core.climate.sun import Shade, radiation_on_face, seen_from_pane, shaded_on_face
from core.tests.test_whole import INSULATED, state
from core.zones.assemble import Part, building_year, window_sun
from core.zones.summer import summer

TARN = shipped("tarn")
SOUTH = 180.0


def beam_of(shade: Shade, hour: int) -> tuple[float, float]:
    """(beam on the bare window, sunlit share that the shade leaves) at one hour."""
    zenith, azimuth = TARN["sun_zenith_deg"][hour], TARN["sun_azimuth_deg"][hour]
    cosine = np.sin(np.radians(zenith)) * np.cos(np.radians(azimuth - SOUTH))
    beam = float(TARN["beam_normal_w_m2"][hour] * max(cosine, 0.0))
    bare = Shade(shade.width_m, shade.height_m)
    lost = shaded_on_face(TARN, SOUTH, 90.0, 0.2, bare)[hour] - shaded_on_face(TARN, SOUTH, 90.0, 0.2, shade)[hour]
    sky = 0.5 * TARN["diffuse_horizontal_w_m2"][hour]
    ground = radiation_on_face(TARN, SOUTH, 90.0, 0.2)[hour] - beam - sky
    above, below = seen_from_pane(shade)
    return beam, 1.0 - float(lost - sky * (1.0 - above) - ground * (1.0 - below)) / beam


class BeforeAWindow(TestCase):
    def hour(self, low: float, high: float) -> int:
        """An hour with strong beam from near south, the sun between two altitudes."""
        altitude = 90.0 - TARN["sun_zenith_deg"]
        near = np.abs(TARN["sun_azimuth_deg"] - SOUTH) < 20.0
        good = (altitude > low) & (altitude < high) & near & (TARN["beam_normal_w_m2"] > 200.0)
        return int(np.argmax(good))

    def test_nothing_in_front_is_the_bare_face(self) -> None:
        bare = shaded_on_face(TARN, SOUTH, 90.0, 0.2, Shade(1.0, 1.5))
        np.testing.assert_allclose(bare, radiation_on_face(TARN, SOUTH, 90.0, 0.2), atol=1e-9)

    def test_sky_and_ground_past_what_stands_before_the_pane(self) -> None:
        """More in front is never more sky; an overhang takes no ground, reveals take both alike; a pane in the face sees all."""
        np.testing.assert_allclose(seen_from_pane(Shade(1.0, 1.5)), (1.0, 1.0), rtol=1e-12)
        for grown in ("recess_m", "overhang_m", "horizon_deg"):
            shares = [seen_from_pane(Shade(1.0, 1.5, **{grown: value}))[0] for value in (0.0, 0.1, 0.3, 0.6, 1.2)]
            self.assertEqual(shares, sorted(shares, reverse=True), grown)
        sky, ground = seen_from_pane(Shade(1.0, 1.5, overhang_m=0.5))
        self.assertAlmostEqual(ground, 1.0, places=12)
        self.assertLess(sky, 0.8)
        sky, ground = seen_from_pane(Shade(0.9, 1.4, recess_m=0.25))
        self.assertAlmostEqual(sky, ground, places=9)
        self.assertTrue(0.55 < sky < 0.72, "an old wall's window")

    def test_an_overhang_by_the_profile_angle(self) -> None:
        hour = self.hour(30.0, 40.0)
        shade = Shade(1.2, 1.5, overhang_m=0.8)
        _, lit = beam_of(shade, hour)
        altitude = np.radians(90.0 - TARN["sun_zenith_deg"][hour])
        aside = np.radians(TARN["sun_azimuth_deg"][hour] - SOUTH)
        self.assertAlmostEqual(lit, max(1.0 - 0.8 * np.tan(altitude) / np.cos(aside) / 1.5, 0.0), places=6)

    def test_a_recess_shades_from_above_and_from_the_side(self) -> None:
        hour = self.hour(20.0, 30.0)
        _, lit = beam_of(Shade(1.2, 1.5, recess_m=0.3), hour)
        altitude = np.radians(90.0 - TARN["sun_zenith_deg"][hour])
        aside = np.radians(TARN["sun_azimuth_deg"][hour] - SOUTH)
        above = 0.3 * np.tan(altitude) / np.cos(aside) / 1.5
        self.assertAlmostEqual(lit, (1.0 - above) * (1.0 - 0.3 * abs(np.tan(aside)) / 1.2), places=6)

    def test_a_skyline_takes_the_low_sun_and_leaves_the_high(self) -> None:
        shade = Shade(1.2, 1.5, horizon_deg=25.0)
        self.assertAlmostEqual(beam_of(shade, self.hour(10.0, 20.0))[1], 0.0, places=9)
        self.assertAlmostEqual(beam_of(shade, self.hour(30.0, 40.0))[1], 1.0, places=9)

    def test_shutters_close_in_warm_sun_only(self) -> None:
        part = Part("w", "Window", "window", "outside", 2.0, SOUTH, 90.0, u_w_m2k=1.0, g_value=0.6)
        open_, shut = window_sun(TARN, part), window_sun(TARN, replace(part, shutters=True))
        cold = TARN["temperature_c"] <= 18.0
        np.testing.assert_array_equal(open_[cold], shut[cold])
        warm = ~cold & (open_ > 150.0)
        self.assertTrue(warm.any())
        np.testing.assert_allclose(shut[warm], 0.25 * open_[warm])


class Summers(TestCase):
    def test_each_measure_alone_and_what_it_costs_in_heat(self) -> None:
        use = {"appliances_w_m2": 6.0, "warm_c": 24.0}
        made = state(after=True, target=150.0, ceiling=INSULATED, glass=1.1)
        made = replace(made, stated=made.stated.model_copy(update={"use": made.stated.use.model_copy(update=use)}))
        rows = {row.what.metric: row for row in summer(made, TARN)}
        first = rows["as it is"]
        self.assertAlmostEqual(first.heating_kwh, building_year(made, TARN).heating_kwh, places=6)
        self.assertGreater(first.warm_h, 0.0)
        for words in ("shutters", "half as much sun", "wide open", "heavy inner"):
            row = next(row for what, row in rows.items() if words in what)
            self.assertLessEqual(row.warm_h, first.warm_h, words)
            self.assertLess(row.warmest_c, first.warmest_c, words)
        half = next(row for what, row in rows.items() if "half as much sun" in what)
        self.assertGreater(half.heating_kwh, first.heating_kwh, "less sun in winter too")

    def test_more_insulation_over_a_bare_ceiling_saves_heat(self) -> None:
        rows = {row.what.metric: row for row in summer(state(), TARN)}
        more = next(row for what, row in rows.items() if what.startswith("roofs and ceilings"))
        self.assertLess(more.heating_kwh, rows["as it is"].heating_kwh * 0.95)
