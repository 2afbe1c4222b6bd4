"""Figures that people read, by hand: each was once changed in the program while every test passed."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from core.buildup.planes import SensitivePlane
from core.cases.practice import build_up, wall
from core.climate.data import shipped
from core.criteria.verdict import driver_words
from core.criteria.wetting import PLANE, sliced
from core.measure.uptake import UptakeReading, measured_uptake
from core.moisture.attribution import Arriving
from core.tests.test_whole import layers
from core.thermal.iso6946 import transmittance
from core.zones.assemble import HOUSE, Part, State, building_year
from core.zones.balance import balance
from core.zones.stated import AirStated

STONE = layers(("sandstone_rubble", 500), ("lime_plaster", 20))


def house(*parts: Part) -> State:
    return State(
        list(parts), [], None, False, AirStated(), 250.0, 100.0, 20.0, "sand or gravel",
    )  # fmt: skip


def glass(u: float) -> Part:
    return Part("w", "windows", "window", "outside", 40.0, 180.0, 90.0, None, u, 0.0)


class TheHourlyBalance(TestCase):
    def test_a_house_of_windows(self) -> None:
        """Nothing is stored in glass: every hour A U (T_out − T_in), U as it was typed."""
        climate = shipped("corrie")
        year = building_year(house(glass(2.4)), climate).year
        expected = 40.0 * 2.4 * (climate["temperature_c"] - year.celsius[HOUSE])
        np.testing.assert_allclose(year.by_chain_w[0], expected, rtol=1e-9, atol=1e-6)

    def test_ground_with_a_typed_b_and_no_size(self) -> None:
        """Over a year what is stored comes back: A U times the mean of b T_out + (1 − b) T_set − T_in."""
        climate = shipped("corrie")
        floor = Part("f", "floor", "floor", "ground", 80.0, 0.0, 0.0, STONE, None, None, b=0.3)
        made = building_year(house(glass(2.4), floor), climate)
        outer = 0.3 * climate["temperature_c"] + 0.7 * 20.0
        u = float(-made.year.by_chain_w[1].sum() / (80.0 * (made.year.celsius[HOUSE] - outer).sum()))
        self.assertAlmostEqual(u / (1.0 / transmittance(STONE, "floor").r_effective), 1.0, delta=0.01)

    def test_months_add_up_to_the_year(self) -> None:
        climate = shipped("tarn")
        found = balance(building_year(house(glass(1.1)), climate), climate, {})
        self.assertEqual(len(found.heating_monthly_kwh), 12)
        self.assertAlmostEqual(sum(found.heating_monthly_kwh) / found.heating_kwh, 1.0, places=9)
        self.assertGreater(found.heating_monthly_kwh[0], 3.0 * found.heating_monthly_kwh[6])


class TheWettingTest(TestCase):
    def test_a_face_is_watched_where_it_lies(self) -> None:
        """Outer face of the board: the plane before the wetted slice; inner face: the one behind it."""
        made = build_up(
            ("stone", "sandstone_rubble", 400), ("fibre", "wood_fibre_board", 80), ("plaster", "lime_plaster", 10)
        )
        depth = {}
        for face in ("outer", "inner"):
            case, entry = sliced(made, wall("corrie"), SensitivePlane("fibre", "wood fibre", face, ""), 0.02)
            plane = next(one for one in case.output.planes if one.name == PLANE)
            self.assertEqual(plane.after_layer, entry - 1 if face == "outer" else entry)
            self.assertAlmostEqual(case.layers[entry].thickness_m, 0.02)  # type: ignore[union-attr]
            depth[face] = sum(one.thickness_m for one in case.layers[: plane.after_layer + 1])  # type: ignore[union-attr, misc]
        self.assertAlmostEqual(depth["outer"], 0.4)
        self.assertAlmostEqual(depth["inner"], 0.48)


class WhatWetsAPlane(TestCase):
    def test_one_source_alone_has_no_next(self) -> None:
        words = driver_words("the plane", [Arriving(source="rain", kg_m2=2.0)]).metric
        self.assertIn("is rain", words)
        self.assertNotIn("Next is", words)

    def test_two_sources_name_the_next(self) -> None:
        words = driver_words(
            "the plane", [Arriving(source="rain", kg_m2=2.0), Arriving(source="room air", kg_m2=1.0)]
        ).metric
        self.assertIn("Next is room air", words)


class Uptake(TestCase):
    def test_readings_leave_the_root_of_time_by_a_share_of_the_last(self) -> None:
        """A face that stops drawing after a quarter of an hour is told; one that keeps to the root of time is not."""

        def read(*rows: tuple[float, float]) -> str:
            found = measured_uptake(UptakeReading(layer="stone", area_cm2=100.0, rows=list(rows)), 200.0)
            return " ".join(one.metric for one in found.notes)

        root = [(t, 10.0 * t**0.5) for t in (1.0, 4.0, 9.0, 16.0, 25.0)]
        self.assertNotIn("leave the root", read(*root))
        self.assertIn("leave the root", read((1.0, 10.0), (4.0, 20.0), (9.0, 30.0), (36.0, 31.0), (64.0, 31.0)))
