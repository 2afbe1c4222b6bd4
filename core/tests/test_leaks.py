"""Air by stack and wind against closed forms, and what sealing the top does to the foot."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.air import saturation_pressure
from core.building.leaks import GRAVITY, WIND_FACTOR, Leak, air_through, air_year, carried, density, potential
from core.climate.data import shipped
from core.errors import OutOfRange


def hour(leaks: list[Leak], inside: float, outside: float, wind: float = 0.0, from_deg: float = 0.0, fan: float = 0.0):  # type: ignore[no-untyped-def]
    one = [np.array([value]) for value in (inside, outside, wind, from_deg)]
    return air_through(leaks, one[0], one[1], one[2], one[3], 100.0, fan)


class Closed(TestCase):
    def test_two_equal_holes_and_the_stack(self) -> None:
        """Same hole at 0 and 5 m, 20 °C over 0 °C: both see the stack of H g Δρ, shared so that ρ C Δp^n is equal."""
        low, high = Leak("low", 100.0, 0.0, 0.0), Leak("high", 100.0, 5.0, 0.0)
        found = hour([low, high], 20.0, 0.0)
        stack = 5.0 * GRAVITY * float(density(0.0) - density(20.0))
        ratio = (float(density(0.0)) / float(density(20.0))) ** (1.0 / 0.65)  # Δp above / Δp below
        below = stack / (1.0 + ratio)
        flow = 100.0 * (below / 50.0) ** 0.65 * float(density(0.0))
        self.assertAlmostEqual(found.flows[0, 0], flow, places=6)
        self.assertAlmostEqual(found.flows[1, 0], -flow, places=6)
        self.assertAlmostEqual(found.neutral_m[0], below / (GRAVITY * float(density(0.0) - density(20.0))), places=6)

    def test_wind_through_two_faces(self) -> None:
        """No stack: Δp = ½ ΔC_p ρ v²/2 at each face; the wind blows straight through."""
        found = hour([Leak("w", 100.0, 1.0, 270.0), Leak("e", 100.0, 1.0, 90.0)], 10.0, 10.0, 8.0, 270.0)
        half = 0.5 * 0.5 * 0.5 * float(density(10.0)) * (WIND_FACTOR * 8.0) ** 2
        flow = 100.0 * (half / 50.0) ** 0.65 * float(density(10.0))
        self.assertAlmostEqual(found.flows[0, 0], flow, places=6)
        self.assertAlmostEqual(found.flows[1, 0], -flow, places=6)

    def test_a_fan_presses_as_the_test_does(self) -> None:
        """What a leak lets through at 50 Pa is what a fan needs for 50 Pa."""
        fan = -300.0 * float(density(20.0))
        found = hour([Leak("a", 200.0, 1.0, 0.0), Leak("b", 100.0, 1.0, 180.0)], 20.0, 20.0, fan=fan)
        self.assertAlmostEqual(found.inside_pa[0], -50.0, places=4)
        strong = hour([Leak("a", 1.0, 1.0, 0.0)], 20.0, 20.0, fan=-80.0)
        self.assertAlmostEqual(strong.flows.sum(), 80.0, places=6)

    def test_mass_is_kept_in_every_hour_of_a_year(self) -> None:
        climate = shipped("corrie")
        leaks = [Leak(f"{f}{z}", 60.0 + z, z, f) for f in (0.0, 90.0, 180.0, 270.0) for z in (0.5, 3.0)]
        leaks += [Leak("ceiling", 300.0, 5.5), Leak("floor", 250.0, 0.0, over=False)]
        year = air_year(leaks, climate, 20.0, 400.0, -30.0)
        self.assertLess(np.abs(year.flows.sum(axis=0) - 30.0).max(), 1e-5)
        self.assertTrue(0.05 < year.changes.mean() < 1.0)

    def test_no_leaks_are_refused(self) -> None:
        for leaks in ([], [Leak("a", 0.0, 1.0)], [Leak("a", -1.0, 1.0), Leak("b", 3.0, 1.0)]):
            with self.assertRaises(OutOfRange):
                hour(leaks, 20.0, 0.0)


class Behaviour(TestCase):
    def test_sealing_the_attic_raises_the_cellars_share_and_lowers_what_it_draws_in(self) -> None:
        climate = shipped("tarn")
        foot = [Leak("cellar", 200.0, 0.2, f) for f in (0.0, 180.0)]
        rest = [Leak("wall", 300.0, 3.0, f) for f in (0.0, 90.0, 180.0, 270.0)]
        before = air_year([*foot, *rest, Leak("ceiling", 900.0, 6.0)], climate, 20.0, 400.0)
        after = air_year([*foot, *rest, Leak("ceiling", 90.0, 6.0)], climate, 20.0, 400.0)
        share = [400.0 / (1600.0 + q) for q in (900.0, 90.0)]
        self.assertGreater(share[1], share[0])
        self.assertLess(after.outward_m3_h("cellar")[0], before.outward_m3_h("cellar")[0])
        # the neutral plane sinks toward the foot, so that the lee side lets a little more out: a tenth of what comes in, still
        self.assertLess(after.outward_m3_h("cellar")[1], 0.1 * after.outward_m3_h("cellar")[0])
        # less blows out at the top, so less is drawn in at the foot
        self.assertLess(np.median(after.neutral_m), np.median(before.neutral_m))


class WhatAirCarries(TestCase):
    def test_by_hand_over_a_year_of_one_flow(self) -> None:
        climate = shipped("tarn")
        outside = climate["temperature_c"]
        rh = np.full(climate.hours, 0.4)

        def ratio(pressure):  # type: ignore[no-untyped-def]
            return 0.622 * pressure / (101325.0 - pressure)

        inward = carried(np.full(climate.hours, 2.0), potential(climate, 20.0, rh))
        middle = ratio(saturation_pressure(0.5 * (20.0 + outside) + 273.15))
        own = ratio(climate["relative_humidity"] * saturation_pressure(outside + 273.15))
        self.assertAlmostEqual(inward.dries_kg, float(2.0 * np.maximum(middle - own, 0.0).sum()), places=6)
        self.assertEqual(inward.wets_kg, 0.0)
        outward = carried(np.full(climate.hours, -2.0), potential(climate, 20.0, rh))
        held = ratio(saturation_pressure(np.minimum(outside, 20.0) + 273.15))
        room = ratio(0.4 * saturation_pressure(293.15))
        self.assertAlmostEqual(outward.wets_kg, float(2.0 * np.maximum(room - held, 0.0).sum()), places=6)
        self.assertEqual(outward.dries_kg, 0.0)
        self.assertGreater(
            carried(np.full(climate.hours, -2.0), potential(climate, 20.0, rh + 0.2)).wets_kg, outward.wets_kg
        )

    def test_a_closed_leak_carries_nothing(self) -> None:
        climate = shipped("tarn")
        year = air_year([Leak("open", 100.0, 0.0), Leak("top", 100.0, 5.0)], climate, 20.0, 200.0)
        nothing = carried(year.parts_of("closed"), potential(climate, 20.0, np.full(climate.hours, 0.9)))
        self.assertEqual((nothing.dries_kg, nothing.wets_kg), (0.0, 0.0))
