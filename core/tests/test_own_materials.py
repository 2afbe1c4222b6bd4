"""Data sheets into materials: each way of stating a value by an example worked out here, what is filled, refused and doubted."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np

from core.errors import CaseRefused, OutOfRange
from core.materials.library import Sheet, Solid, attach_shelf, entry_of, know, library
from core.materials.own import DataSheet, Made, material_from, own_id, rests_on, sealed
from core.materials.ranges import RANGED, range_of, ranges
from core.materials.stated import read_stated
from core.moisture.curves import RH, curves, functions


def made(**values: Any) -> Made:
    return material_from(DataSheet.model_validate({"name": "Of one's own", **values}))


def solid(**values: Any) -> Solid:
    entry = made(**values).entry
    assert isinstance(entry, Solid)
    return entry


class Stated(TestCase):
    """Worked by hand; air's δ at 23 °C by 2e-7 T^0.81/P is 1.9826e-10 kg/(m s Pa)."""

    AIR = 2.0e-7 * 296.15**0.81 / 101325.0

    def near(self, what: Any, text: str, value: float, of: str = "material") -> None:
        found = read_stated(what, text)
        self.assertAlmostEqual(found.value / value, 1.0, delta=2e-4, msg=text)
        self.assertEqual(found.of, of, text)

    def test_heat(self) -> None:
        for text in ("0.038", "0,038 W/mK", "λ 0.038", "38 mW/mK"):
            self.near("conductivity", text, 0.038)
        # 1 Btu in/(h ft² °F) = 1055.056 J × 0.0254 m / (3600 s × 0.09290304 m² × 5/9 K)
        btu_in = 1055.056 * 0.0254 / (3600.0 * 0.09290304 * 5.0 / 9.0)
        for text in ("k 0.26 Btu in", "0.26 Btu in/(h ft² °F)", "0.26 Btu-in/(h·ft²·°F)"):
            self.near("conductivity", text, 0.26 * btu_in)
        self.near("conductivity", "R3.7/in", 1.0 / 3.7 * btu_in)
        self.near("conductivity", "R-13", 13.0 * 0.176110, "product")
        self.near("conductivity", "RSI 2.2", 2.2, "product")
        self.near("conductivity", "2.2 m²K/W", 2.2, "product")

    def test_vapour(self) -> None:
        self.near("vapour", "5", 5.0)
        both = read_stated("vapour", "μ 50/20")
        self.assertEqual((both.value, both.second), (50.0, 20.0))
        self.near("vapour", "sd 2 m", 2.0, "product")
        self.near("vapour", "6.56 ft", 1.9995, "product")
        # a US perm is a grain (64.79891 mg) an hour, square foot and inch of mercury (3386.38 Pa)
        perm = 64.79891e-6 / (3600.0 * 0.09290304 * 3386.38)
        self.near("vapour", "1 perm", self.AIR / perm, "product")
        self.near("vapour", "0.1 perm dry cup", self.AIR / (0.1 * perm), "product")
        self.near("vapour", "57.2 ng/(Pa s m²)", self.AIR / 57.2e-12, "product")
        self.near("vapour", "15 MNs/g", self.AIR * 15e9, "product")
        self.near("vapour", "2 perm in", self.AIR / (2.0 * perm * 0.0254))
        # 20 g/(m² d) from 85 to 0 % at 23 °C, 2808 Pa saturated: 20e-3/86400/(0.85 × 2808) kg/(m² s Pa)
        self.near("vapour", "20 g/m²d at 23 °C, 85/0 %", self.AIR / (20e-3 / 86400.0 / (0.85 * 2808.0)), "product")

    def test_water_mass_and_size(self) -> None:
        self.near("density", "3.7 pcf", 3.7 * 0.45359237 / 0.3048**3)
        self.near("specific_heat", "0.2 Btu/lb°F", 0.2 * 1055.056 / (0.45359237 * 5.0 / 9.0))
        self.near("water_80", "12", 12.0)
        self.near("water_80", "2 %", 0.02, "dry mass")
        self.near("free_water", "30 vol-%", 300.0)
        self.near("uptake", "2.4", 2.4 / 60.0)
        self.near("uptake", "0.04 kg/m²√s", 0.04)
        self.near("uptake", "1.5 kg/(m² min)", 1.5 / 60.0**0.5)  # what one minute took: A √60
        self.near("uptake", "20 g/30in²/min", 0.020 / (30.0 * 0.0254**2) / 60.0**0.5)
        self.near("thickness", "1 1/2 in", 0.0381, "product")

    def test_what_is_not_understood_says_what_may_be_typed(self) -> None:
        for what, text, words in (
            ("conductivity", "warm", "begin with a number"),
            ("conductivity", "3 furlongs", "use W/mK"),
            ("vapour", "9**9 m", "not a unit"),
            ("vapour", "μ 0.5", "at least 1"),
            ("vapour", "μ 10/20", "wet cup not above"),
            ("vapour", "400 perm in", "more open than still air"),
            ("vapour", "20 g/m²d at 23 °C, 0/85 %", "fall from wet to dry"),
            ("conductivity", "-0.04", "above 0"),
            ("uptake", "-1", "below 0"),
            ("water_80", "3 stone", "use kg/m³"),
            ("conductivity", "1" * 70, "too long"),
            ("thickness", "4 m", "above 3 m"),
        ):
            with self.subTest(text), self.assertRaisesRegex(OutOfRange, words):
                read_stated(what, text)  # type: ignore[arg-type]


class FromADataSheet(TestCase):
    def test_what_is_stated_stays_and_the_rest_is_filled_and_marked(self) -> None:
        batt = made(
            family="fibrous insulation",
            thickness="140 mm",
            conductivity="4.1 m²K/W",
            density="22",
            source="Maker",
            dated="2025-03-01",
        )
        entry = batt.entry
        assert isinstance(entry, Solid)
        self.assertAlmostEqual(entry.conductivity_w_mk, 0.140 / 4.1)
        self.assertEqual((entry.density_kg_m3, entry.usual_thickness_mm, entry.mu), (22.0, 140.0, 1.1))
        self.assertEqual(entry.sources["conductivity_w_mk"], "data sheet: Maker, 2025-03-01")
        self.assertEqual(batt.filled["mu"], "filled from mineral fibre quilt 040")
        self.assertNotIn("density_kg_m3", batt.filled)
        self.assertIn("by the density", batt.filled["w80_kg_m3"])
        self.assertEqual(batt.odd, [])

    def test_which_verdicts_rest_on_what_was_filled_is_said(self) -> None:
        bare = made(family="plant and animal fibre", conductivity="0.04", density="40")
        words = rests_on(bare.filled, "hemp batt").metric
        self.assertIn("mould (its class)", words)
        self.assertNotIn("U and heat", words)
        self.assertEqual(rests_on({}, "hemp batt").metric, "")
        stated = made(family="plant and animal fibre", conductivity="0.04", density="40", vapour="2")
        self.assertNotIn("μ", rests_on(stated.filled, "hemp batt").metric)
        self.assertIn("μ", words)

    def test_wood_keeps_the_curve_of_wood_through_what_is_stated(self) -> None:
        wood = solid(family="timber", density="600", water_80="14 %", free_water="550")
        rows = dict(wood.sorption_rh_mass_percent or [])
        self.assertAlmostEqual(rows[0.8], 14.0)
        self.assertAlmostEqual(wood.w80_kg_m3, 84.0)
        self.assertAlmostEqual(rows[1.0] / 100.0 * 600.0, 550.0)
        values = list(rows.values())
        self.assertEqual(values, sorted(values))
        water = functions(wood)["water"]
        self.assertAlmostEqual(float(np.interp(0.8, RH, water)), 84.0, delta=0.01)

    def test_a_permeance_needs_the_thickness(self) -> None:
        board = solid(family="gypsum board", thickness="12.5 mm", vapour="0.12 m")
        self.assertAlmostEqual(board.mu, 9.6)
        for stated in ({"vapour": "0.12 m"}, {"conductivity": "R13"}):
            with self.assertRaisesRegex(OutOfRange, "thickness as sold"):
                made(family="gypsum board", **stated)

    def test_a_sheet_has_an_sd(self) -> None:
        felt = made(family="sheet", vapour="0.3 MNs/g").entry
        assert isinstance(felt, Sheet)
        self.assertAlmostEqual(felt.sd_m or 0.0, 0.0595, delta=0.0001)
        fixed = made(family="sheet", vapour="2 m", nearest="membrane_variable_medium").entry
        assert isinstance(fixed, Sheet)
        self.assertEqual((fixed.sd_m, fixed.sd_by_rh), (2.0, None))
        with self.assertRaisesRegex(OutOfRange, "needs its thickness"):
            made(family="sheet", vapour="μ 100")

    def test_impossible_values_are_refused_and_odd_ones_said(self) -> None:
        for values, words in (
            ({"family": "stone", "density": "21500"}, "cannot be"),
            ({"family": "stone", "density": "215"}, "density 215 is outside"),
            ({"family": "foam", "conductivity": "0.0026"}, "cannot be"),
            ({"family": "brick", "water_80": "250", "free_water": "200"}, "outside|above the water"),
            ({"family": "timber", "free_water": "60"}, "below the water"),
            ({"family": "brick", "nearest": "softwood"}, "no material of the family"),
        ):
            with self.subTest(values), self.assertRaisesRegex(OutOfRange, words):
                made(**values)
        odd = made(family="foam", conductivity="0.05")
        self.assertEqual(len(odd.odd), 1)
        self.assertIn("conductivity 0.05 is outside", odd.odd[0].metric)

    def test_the_id_is_the_content(self) -> None:
        one, same, other = (made(family="foam", conductivity=text).entry for text in ("0.03", "30 mW/mK", "0.031"))
        self.assertEqual((one.id, one.id == other.id), (same.id, False))
        self.assertEqual(one.id, own_id(one))
        self.assertEqual(sealed(one.model_dump(mode="json")), one)

    def test_a_shelf_is_asked_for_what_is_not_at_hand(self) -> None:
        entry = made(family="foam", conductivity="0.0333").entry
        with self.assertRaises(CaseRefused):
            entry_of(entry.id)
        asked: list[str] = []

        def find(key: str) -> Solid | Sheet | None:
            asked.append(key)
            return entry if key == entry.id else None

        from core.materials import library as room

        before = list(room._shelf)
        attach_shelf(find)
        try:
            self.assertIs(entry_of(entry.id), entry)
            self.assertIs(entry_of(entry.id), entry)
            self.assertEqual(asked, [entry.id], "kept once it is known")
            with self.assertRaises(CaseRefused):
                entry_of("own-0123456789abcdef")
        finally:
            room._shelf[:] = before
        know(entry)


class Functions(TestCase):
    def test_every_function_is_monotone_and_finite_from_dry_to_wet_and_from_frost_to_heat(self) -> None:
        for entry in library().values():
            if not isinstance(entry, Solid):
                continue
            for celsius in (-40.0, -10.0, 0.0, 20.0, 50.0, 80.0):
                with self.subTest(entry.id, celsius=celsius):
                    found = functions(entry, celsius)
                    for values in found.values():
                        self.assertTrue(np.all(np.isfinite(values)) and np.all(values >= 0.0))
                    for name in ("water", "liquid", "conductivity"):
                        self.assertTrue(np.all(np.diff(found[name]) >= -1e-9 * found[name].max()), name)
                    self.assertTrue(np.all(np.diff(found["mu"]) <= 1e-9 * found["mu"].max()))

    def test_a_picture_stands_within_the_span_of_its_family(self) -> None:
        brick = entry_of("brick_ordinary")
        assert isinstance(brick, Solid)
        for curve in curves(brick).curves:
            assert curve.low is not None and curve.high is not None
            for value, low, high in zip(curve.values, curve.low, curve.high, strict=True):
                self.assertTrue(low <= value <= high, curve.name)
        foam, sheet = entry_of("eps_035"), entry_of("membrane_variable_strong")
        assert isinstance(foam, Solid) and isinstance(sheet, Sheet)
        self.assertNotIn("liquid transport", [one.name for one in curves(foam).curves])
        self.assertGreater(curves(sheet).curves[0].values[0], curves(sheet).curves[0].values[-1])


class Ranges(TestCase):
    def test_every_value_has_a_range_that_holds_it_and_leaves_no_bound(self) -> None:
        for entry in library().values():
            found = ranges(entry)
            if isinstance(entry, Solid):
                self.assertLessEqual(
                    {"density_kg_m3", "conductivity_w_mk", "mu", "w80_kg_m3", "free_saturation_kg_m3"}, set(found)
                )
            for name, (low, high) in found.items():
                with self.subTest(entry.id, value=name):
                    self.assertTrue(low <= getattr(entry, name) <= high)
                    if name not in ("rain_factor",) and getattr(entry, name) > 0.001 and not isinstance(entry, Sheet):
                        self.assertTrue(low < high or entry.family in ("metal sheet", "glass"))

    def test_an_entry_may_say_its_own(self) -> None:
        worn = entry_of("repellent_ten_years")
        self.assertEqual(range_of(worn, "rain_factor"), (0.1, 0.6))
        self.assertEqual(range_of(entry_of("membrane_tight"), "rain_factor"), (1.0, 1.0))
        self.assertIsNone(range_of(entry_of("air_vented"), "mu"))
        rubble = entry_of("sandstone_rubble")
        uptake = range_of(rubble, "a_value_kg_m2s05")
        assert isinstance(rubble, Solid) and uptake is not None and rubble.a_value_kg_m2s05
        self.assertAlmostEqual(uptake[1] / rubble.a_value_kg_m2s05, 2.5)
        self.assertEqual(len(set(RANGED)), len(RANGED))
