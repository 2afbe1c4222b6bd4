"""Zones hour by hour: against closed forms, refinement, their own balances, and what practice knows."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
from numpy.typing import NDArray

from core.cases.buffers import HABITS, SURFACES, fine_swing, zone_swing
from core.climate.data import shipped
from core.errors import OutOfRange
from core.physics.constants import AIR_HEAT, STANDARD_PRESSURE, ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure, saturation_pressure_over_ice, vapour_by_air
from core.zones.hourly import zone_year
from core.zones.model import VAPOUR_FILM, AirFlow, Buffer, Building, Chain, ColdSurface, WetSource, Zone

HOURS = 8760
Array = NDArray[np.float64]


def flat(value: float) -> Array:
    return np.full(HOURS, value)


def building(zone: Zone, chains: list[Chain], flows: list[AirFlow], outside: float = 0.0, rh: float = 0.8) -> Building:
    return Building([zone], chains, flows, flat(outside), flat(rh))


def brick(outer: Array, key: str = "wall", area: float = 100.0) -> Chain:
    """300 mm of brick in six slices between the usual films."""
    part = 0.3 / 0.7 / 6
    return Chain(
        key, area, 0, (0.04 + part / 2, *[part] * 5, part / 2 + 0.13), (0.05 * 1700 * 900.0,) * 6, outer_c=outer
    )


class Heat(TestCase):
    def test_a_step_of_one_capacity(self) -> None:
        """C dT/dt = −K (T − T_o) + Φ: T goes to T_o + Φ/K by exp(−t K/C); with 60 steps an hour."""
        c, k, gain = 3.6e7, 250.0, 2000.0
        air = 10.0 * 1.2 * AIR_HEAT
        zone = Zone("z", 10.0, gains_w=np.r_[np.zeros(24), np.full(HOURS - 24, gain)], furniture_j_k=c - air)
        found = zone_year(building(zone, [Chain("u", 100.0, 0, (1.0 / 2.5,), outer_c=flat(5.0))], [], 5.0), 60, years=1)
        for hour in (30, 48, 72, 120):
            t = (hour + 0.5 - 24) * 3600.0  # the mean of the hour, nearly its middle
            self.assertAlmostEqual(found.celsius[0, hour], 5.0 + gain / k * (1.0 - np.exp(-t * k / c)), delta=0.02)
        self.assertLess(found.heat_closure, 1e-9)

    def test_a_steady_hour_agrees_with_the_u_value(self) -> None:
        walls = [brick(flat(-5.0)), Chain("window", 10.0, 0, (1.0 / 2.8,), outer_c=flat(-5.0))]
        air = AirFlow("air", -1, 0, flat(120.0), heat_recovered=0.75)
        found = zone_year(building(Zone("z", 250.0, heat_to_c=flat(20.0)), walls, [air], -5.0))
        u = 1.0 / (0.04 + 0.3 / 0.7 + 0.13)
        expected = (100.0 * u + 10.0 * 2.8 + 0.25 * 120.0 / 3600.0 * AIR_HEAT) * 25.0
        self.assertAlmostEqual(found.heating_w[0, -1], expected, delta=1e-4 * expected)
        self.assertLess(found.heat_closure, 1e-9)

    def test_two_zones_share_a_wall_as_iso_13789_says(self) -> None:
        """b = H_ue / (H_iu + H_ue) of an unheated space, in a steady winter."""
        between = Chain("ceiling", 80.0, 1, (0.1, 0.3, 0.1), (2e4, 3e4), side=0)
        roof = Chain("roof", 110.0, 1, (0.04, 0.2), (1e4,), outer_c=flat(-10.0))
        vents = AirFlow("vents", -1, 1, flat(300.0))
        two = Building(
            [Zone("house", 200.0, heat_to_c=flat(20.0)), Zone("attic", 90.0)],
            [between, roof],
            [vents],
            flat(-10.0),
            flat(0.8),
        )
        found = zone_year(two)
        inner, outer = 80.0 / 0.5, 110.0 / 0.24 + 300.0 / 3600.0 * AIR_HEAT
        b = outer / (inner + outer)
        self.assertAlmostEqual((20.0 - found.celsius[1, -1]) / 30.0, b, places=6)
        self.assertAlmostEqual(found.heating_w[0, -1], inner * b * 30.0, delta=0.01)
        self.assertLess(found.heat_closure, 1e-9)

    def test_hours_against_a_finer_step(self) -> None:
        climate = shipped("corrie")
        wall = brick(climate["temperature_c"])
        zone = Zone(
            "z",
            250.0,
            heat_to_c=flat(20.0),
            cool_to_c=flat(26.0),
            gains_w=400.0 + 3000.0 * (np.arange(HOURS) % 24 == 13),
            furniture_j_k=3e6,
        )
        one = Building(
            [zone], [wall], [AirFlow("air", -1, 0, flat(150.0))], climate["temperature_c"], climate["relative_humidity"]
        )
        coarse, fine = zone_year(one), zone_year(one, 6)
        self.assertAlmostEqual(coarse.heating_w.sum() / fine.heating_w.sum(), 1.0, delta=0.01)
        self.assertLess(np.abs(coarse.celsius - fine.celsius).mean(), 0.1)
        for year in (coarse, fine):
            self.assertLess(year.heat_closure, 1e-6)
            self.assertLess(year.water_closure, 1e-6)

    def test_what_cannot_be_is_refused(self) -> None:
        wall = brick(flat(0.0))
        good = Zone("z", 100.0)
        for bad in (
            building(replace(good, volume_m3=0.0), [wall], []),
            building(good, [replace(wall, outer_c=None)], []),
            building(good, [replace(wall, capacities=(1.0,))], []),
            building(good, [replace(wall, area_m2=-1.0)], []),
            building(good, [replace(wall, side=3)], []),
            building(good, [wall], [AirFlow("a", -1, 0, flat(-1.0))]),
            building(replace(good, heat_to_c=flat(22.0), cool_to_c=flat(20.0)), [wall], []),
        ):
            with self.assertRaises(OutOfRange):
                zone_year(bad)


class Vapour(TestCase):
    def test_steps_of_source_and_of_ventilation(self) -> None:
        """p = p_o + G / (m 0.622/P), reached by exp(−t m 0.622/P / (V/(R T))): a step of the source, then twice the air."""
        source = np.r_[np.zeros(100), np.full(HOURS - 100, 0.2)]
        flow = np.r_[np.full(4000, 60.0), np.full(HOURS - 4000, 120.0)]
        zone = Zone("z", 300.0, heat_to_c=flat(20.0), vapour_kg_h=source)
        found = zone_year(building(zone, [brick(flat(5.0))], [AirFlow("air", -1, 0, flow)], 5.0, 0.7), 60)
        psat = float(saturation_pressure(20.0 + ZERO_CELSIUS))
        out = 0.7 * float(saturation_pressure(5.0 + ZERO_CELSIUS))
        pressure = found.rh[0] * psat
        per_pa = 60.0 * vapour_by_air(STANDARD_PRESSURE)
        self.assertAlmostEqual(pressure[3900], out + 0.2 / per_pa, delta=0.05)
        self.assertAlmostEqual(pressure[8000], out + 0.1 / per_pa, delta=0.05)
        holds = 300.0 / (461.5 * 293.15)
        for hour in (101, 103, 106):
            t = hour + 0.5 - 100
            self.assertAlmostEqual(pressure[hour], out + 0.2 / per_pa * (1.0 - np.exp(-t * per_pa / holds)), delta=2.0)
        self.assertLess(found.water_closure, 1e-9)

    def test_storage_evens_the_day_and_keeps_the_year(self) -> None:
        bursts = np.where(np.arange(HOURS) % 24 < 2, 1.2, 0.0)
        air = [AirFlow("air", -1, 0, flat(90.0))]
        plain = Zone("z", 250.0, heat_to_c=flat(20.0), vapour_kg_h=bursts)
        bare, plastered = (
            zone_year(building(zone, [brick(flat(5.0))], air, 5.0, 0.7))
            for zone in (plain, replace(plain, buffers=(Buffer(300.0),)))
        )
        self.assertLess(np.ptp(plastered.rh[0, -48:]), 0.6 * np.ptp(bare.rh[0, -48:]))
        self.assertAlmostEqual(plastered.rh.mean(), bare.rh.mean(), delta=0.002)
        self.assertLess(plastered.water_closure, 1e-9)

    def test_moisture_recovery_keeps_some(self) -> None:
        zone = Zone("z", 250.0, heat_to_c=flat(20.0), vapour_kg_h=flat(0.25))
        rh = [
            zone_year(
                building(zone, [brick(flat(0.0))], [AirFlow("unit", -1, 0, flat(100.0), 0.8, share)], 0.0, 0.8)
            ).rh.mean()
            for share in (0.0, 0.5)
        ]
        self.assertGreater(rh[1], rh[0] + 0.05)

    def test_new_glass_raises_the_rh_where_the_old_one_dried_the_room(self) -> None:
        zone = Zone("z", 250.0, heat_to_c=flat(20.0), vapour_kg_h=flat(0.45), cold=(ColdSurface("glass", keeps=False),))
        air = [AirFlow("air", -1, 0, flat(60.0))]
        old, new = (
            zone_year(
                building(zone, [brick(flat(-5.0)), Chain("glass", 20.0, 0, (1.0 / u,), outer_c=flat(-5.0))], air, -5.0)
            )
            for u in (5.0, 1.1)
        )
        self.assertGreater(old.ran_off_kg.sum(), 100.0)
        self.assertGreater(new.rh[0, -1], old.rh[0, -1] + 0.1)
        for year in (old, new):
            self.assertLess(year.water_closure, 1e-9)

    def test_two_decks_in_frost_hold_the_air_between_their_ice(self) -> None:
        """Vapour given off leaves with the air and settles on both faces over ice: p by hand from the steady balance."""
        decks = [
            Chain(key, area, 0, (1.0 / u,), outer_c=flat(-12.0))
            for key, area, u in (("n", 40.0, 5.0), ("s", 20.0, 3.5))
        ]
        zone = Zone(
            "z",
            90.0,
            heat_to_c=flat(2.0),
            vapour_kg_h=flat(0.5),
            cold=tuple(ColdSurface(d.key, keeps=True) for d in decks),
        )
        found = zone_year(building(zone, decks, [AirFlow("air", -1, 0, flat(50.0))], -12.0, 0.8))
        ice = [float(saturation_pressure_over_ice(found.inner_face_c[i, -1] + ZERO_CELSIUS)) for i in range(2)]
        self.assertLess(max(found.inner_face_c[:, -1]), 0.0)
        air, films = 50.0 / 3600.0 * vapour_by_air(STANDARD_PRESSURE), [deck.area_m2 * VAPOUR_FILM for deck in decks]
        outside = 0.8 * float(saturation_pressure(-12.0 + ZERO_CELSIUS))
        given = 0.5 / 3600.0 + air * outside + sum(k * p for k, p in zip(films, ice, strict=True))
        by_hand = given / (air + sum(films))
        self.assertAlmostEqual(found.rh[0, -1] * float(saturation_pressure(2.0 + ZERO_CELSIUS)), by_hand, places=6)
        self.assertGreater(by_hand, max(ice), "it settles on both")
        settled = 3600.0 * sum(k * (by_hand - p) for k, p in zip(films, ice, strict=True))
        self.assertAlmostEqual(found.condensed_kg[0, -1] - found.condensed_kg[0, -2], settled, places=9)

    def test_a_finely_divided_surface_says_the_same(self) -> None:
        for surface in SURFACES:
            for habit in HABITS[::2]:
                periods = 12 if habit.period_h == 24 else 4
                with self.subTest(surface=surface, habit=habit.name):
                    ratio = zone_swing(surface, habit, periods) / fine_swing(surface, habit, periods)
                    self.assertAlmostEqual(ratio, 1.0, delta=0.06)

    def test_cooling_that_dries_holds_its_rh(self) -> None:
        zone = Zone("z", 250.0, cool_to_c=flat(24.0), gains_w=flat(3000.0), vapour_kg_h=flat(0.3), dry_to=0.55)
        found = zone_year(building(zone, [brick(flat(28.0))], [AirFlow("air", -1, 0, flat(200.0))], 28.0, 0.8))
        self.assertAlmostEqual(found.rh[0, -1], 0.55, places=6)
        supply = (
            200.0
            * vapour_by_air(STANDARD_PRESSURE)
            * (0.8 * float(saturation_pressure(301.15)) - 0.55 * float(saturation_pressure(297.15)))
        )
        self.assertAlmostEqual(found.drying_kg_h[0, -1], 0.3 + supply, places=6)
        self.assertLess(found.water_closure, 1e-9)


class Spaces(TestCase):
    """What practice knows of attics and voids."""

    def attic(self, ceiling_r: float, leak: float):  # type: ignore[no-untyped-def]
        climate = shipped("tarn")
        t, rh = climate["temperature_c"], climate["relative_humidity"]
        house = Zone("house", 250.0, heat_to_c=flat(20.0), vapour_kg_h=flat(0.35))
        attic = Zone("attic", 90.0, cold=(ColdSurface("deck", keeps=True),), buffers=(Buffer(150.0, 50.0, 60.0),))
        chains = [
            brick(t, "wall", 120.0),
            Chain("ceiling", 80.0, 0, (0.1, ceiling_r, 0.1), (5e3, 2e4), side=1),
            Chain("deck", 110.0, 1, (0.06, 0.2), (2.5e4,), outer_c=t - 1.0),
        ]
        air = [
            AirFlow("in", -1, 0, flat(150.0)),
            AirFlow("hatch", 0, 1, flat(leak)),
            AirFlow("vents", -1, 1, flat(100.0)),
        ]
        return zone_year(Building([house, attic], chains, air, t, rh))

    def test_insulating_a_leaky_ceiling_cools_and_wets_the_attic(self) -> None:
        before, after, tight = self.attic(0.4, 60.0), self.attic(8.0, 60.0), self.attic(8.0, 3.0)
        winter = slice(0, 59 * 24)
        self.assertLess(after.celsius[1, winter].mean(), before.celsius[1, winter].mean() - 1.0)
        self.assertGreater(after.rh[1, winter].mean(), before.rh[1, winter].mean())
        self.assertGreater(after.condensed_kg[1].max(), before.condensed_kg[1].max())
        self.assertLess(tight.condensed_kg[1].max(), 0.2 * after.condensed_kg[1].max())
        for year in (before, after, tight):
            self.assertLess(year.heat_closure, 1e-6)
            self.assertLess(year.water_closure, 1e-6)

    def test_a_sheet_on_the_earth_dries_a_void_and_humid_summer_air_wets_a_cool_one(self) -> None:
        climate = shipped("millrace")
        t, rh = climate["temperature_c"], climate["relative_humidity"]
        earth = Chain("earth", 60.0, 0, (1.0, 0.17), (2e6,), outer_c=flat(float(t.mean())))

        def void(sd: float, air: float):  # type: ignore[no-untyped-def]
            zone = Zone("void", 40.0, sources=(WetSource("earth", 60.0, "earth", sd),))
            return zone_year(Building([zone], [earth], [AirFlow("vents", -1, 0, flat(air))], t, rh))

        summer = slice(181 * 24, 243 * 24)
        bare, sheet = void(0.3, 40.0), void(100.0, 40.0)
        self.assertGreater(bare.rh.mean(), sheet.rh.mean() + 0.03)
        closed, vented = void(100.0, 5.0), void(100.0, 100.0)
        drops = [year.ran_off_kg[0, summer].sum() for year in (closed, vented)]
        self.assertGreater(drops[1], 3.0 * drops[0] + 1.0, "outside air wets the cool void; it does not dry it")
