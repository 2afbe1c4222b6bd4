"""Air by stack and wind against closed forms, and what sealing the top does to the foot."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np

from core import case as c
from core.air_flow.leaks import HouseAt, Leak, air_through, air_year, carried, house_at, potential
from core.climate.data import shipped
from core.errors import OutOfRange
from core.moisture.transient.airflow import leak_flow
from core.physics.constants import GRAVITY
from core.physics.leak import BELOW_FLOORS, LEEWARD, OVER_ROOFS, REFERENCE_DENSITY, WIND_FACTOR, WINDWARD
from core.physics.moist_air import dry_air_density as density
from core.physics.moist_air import saturation_pressure


def hour(leaks: list[Leak], inside: float, outside: float, wind: float = 0.0, from_deg: float = 0.0, fan: float = 0.0):  # type: ignore[no-untyped-def]
    one = [np.array([value]) for value in (inside, outside, wind, from_deg)]
    return air_through(leaks, one[0], one[1], one[2], one[3], 100.0, fan)


def moved(celsius: float) -> float:
    """Mass for each m³ of the flow that is stated for 20 °C [kg/m³]: ρ0 (ρ/ρ0)^n."""
    return REFERENCE_DENSITY * (float(density(celsius)) / REFERENCE_DENSITY) ** 0.65


class Closed(TestCase):
    def test_two_equal_holes_and_the_stack(self) -> None:
        """Same hole at 0 and 5 m, 20 °C over 0 °C: both see the stack of H g Δρ, shared so that ρ^n Δp^n is equal: as the densities."""
        low, high = Leak("low", 100.0, 0.0, 0.0), Leak("high", 100.0, 5.0, 0.0)
        found = hour([low, high], 20.0, 0.0)
        stack = 5.0 * GRAVITY * float(density(0.0) - density(20.0))
        ratio = float(density(0.0)) / float(density(20.0))  # Δp above / Δp below
        below = stack / (1.0 + ratio)
        flow = 100.0 * (below / 50.0) ** 0.65 * moved(0.0)
        self.assertAlmostEqual(found.flows[0, 0], flow, places=6)
        self.assertAlmostEqual(found.flows[1, 0], -flow, places=6)
        self.assertAlmostEqual(found.neutral_m[0], below / (GRAVITY * float(density(0.0) - density(20.0))), places=6)

    def test_wind_through_two_faces(self) -> None:
        """No stack: Δp = ½ ΔC_p ρ v²/2 at each face; the wind blows straight through."""
        found = hour([Leak("w", 100.0, 1.0, 270.0), Leak("e", 100.0, 1.0, 90.0)], 10.0, 10.0, 8.0, 270.0)
        half = 0.5 * 0.5 * 0.5 * float(density(10.0)) * (WIND_FACTOR * 8.0) ** 2
        flow = 100.0 * (half / 50.0) ** 0.65 * moved(10.0)
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


class OnePhysics(TestCase):
    """What a wall's year lets through is what the ledger of its house states."""

    def house(self, number: int) -> tuple[list[Leak], str, float, float]:
        """(leaks, climate, fan [kg/h], wind factor) of a random house: four faces unevenly leaky in four heights, roof and floor, sometimes a fan."""
        rng = np.random.default_rng(number)
        high = float(rng.uniform(4.0, 12.0))
        leaks = [
            Leak(f"wall {facing:.0f}", float(share), float(height), facing)
            for facing, share in zip((20.0, 110.0, 200.0, 290.0), rng.uniform(0.05, 1.0, 4), strict=True)
            for height in np.linspace(0.8, high - 0.8, 4)
        ]
        leaks += [
            Leak("roof", float(rng.uniform(0.2, 4.0)), high),
            Leak("floor", float(rng.uniform(0.1, 2.0)), 0.0, None, False),
        ]
        total = 500.0 * 10.0 ** rng.uniform(0.2, 1.0) / sum(leak.q50_m3_h for leak in leaks)
        scaled = [replace(leak, q50_m3_h=leak.q50_m3_h * total) for leak in leaks]
        return scaled, ("corrie", "tarn")[number % 2], -36.0 * (number % 3), float(rng.choice((0.35, 0.5, 0.65, 0.75)))

    def wall(self, leak: Leak, at: HouseAt) -> c.StackAndWind:
        """The leak as a wall's case states it."""
        wind = {"windward_coefficient": WINDWARD, "leeward_coefficient": LEEWARD}
        if leak.facing_deg is None:
            flat = OVER_ROOFS if leak.over else BELOW_FLOORS
            wind = {"windward_coefficient": flat, "leeward_coefficient": flat}
        return c.StackAndWind(
            climate="corrie", facing_deg=leak.facing_deg or 0.0, q50_m3_m2h=leak.q50_m3_h, above_neutral_m=at.above_neutral_m,
            wind_factor=at.wind_factor, inside_coefficient=at.inside.coefficient, inside_swing=at.inside.swing,
            inside_swing_from_deg=at.inside.swing_from_deg, inside_steady_pa=at.inside.steady_pa, **wind,
        )  # fmt: skip

    def test_a_walls_year_lets_out_what_the_ledger_states(self) -> None:
        """In the cold hours as much to a hundredth where anything counts, and hour by hour within a tenth of its mean, within a quarter where a fan presses a tight house."""
        for number in range(9):
            leaks, name, fan, wind_factor = self.house(number)
            climate = shipped(name)
            year = air_year(leaks, climate, 20.0, 500.0, fan, wind_factor)
            outside, wind, from_deg = (
                climate[one] for one in ("temperature_c", "wind_speed_m_s", "wind_direction_deg")
            )
            cold = outside < 10.0
            most = max(
                float(np.maximum(-flow, 0.0)[cold].mean() / leak.q50_m3_h)
                for flow, leak in zip(year.flows, leaks, strict=True)
            )
            for key in {leak.key for leak in leaks}:
                index = max((i for i, leak in enumerate(leaks) if leak.key == key), key=lambda i: leaks[i].height_m)
                at = house_at(year, key, climate, 20.0, wind_factor)
                made = leak_flow(
                    self.wall(leaks[index], at), 293.15 * np.ones(climate.hours), outside + 273.15, wind, from_deg
                )
                made = 3600.0 * np.maximum(made, 0.0)[cold]
                stated = np.maximum(-year.flows[index], 0.0)[cold]
                with self.subTest(house=number, key=key):
                    counts = max(float(stated.mean()), 0.02 * most * leaks[index].q50_m3_h)
                    self.assertLess(abs(made.mean() - stated.mean()), 0.01 * counts)
                    by_hour = float(np.sqrt(np.mean((made - stated) ** 2)))
                    most_off = 0.25 if fan else 0.1
                    self.assertLess(by_hour, most_off * max(counts, 0.1 * most * leaks[index].q50_m3_h))

    def test_without_an_inside_pressure_a_leak_stands_alone(self) -> None:
        """Two equal holes on opposite faces and no fan: nothing is kept inside but the weight of the air."""
        leaks = [Leak(f"{f:.0f}{z}", 50.0, z, f) for f in (0.0, 90.0, 180.0, 270.0) for z in (1.0, 4.0)]
        at = house_at(air_year(leaks, shipped("corrie"), 20.0, 300.0), "04.0", shipped("corrie"), 20.0)
        self.assertAlmostEqual(at.above_neutral_m, 1.5, delta=0.1)
        self.assertLess(abs(at.inside.steady_pa), 0.1)
        self.assertLess(at.inside.swing, 0.02)

    def test_what_does_not_leak_is_refused(self) -> None:
        year = air_year([Leak("a", 100.0, 1.0, 0.0)], shipped("corrie"), 20.0, 300.0)
        with self.assertRaises(OutOfRange):
            house_at(year, "b", shipped("corrie"), 20.0)
