"""Thermal and steady rules, criteria, climate, typed units: against hand-worked figures."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from core.__main__ import main
from core.assembly.to_case import model_of, why_no_transient
from core.buildup.growth import datum_layer, growth
from core.buildup.model import BuildUp, BuildUpLayer, Framing, Limits, Place
from core.buildup.planes import sensitive_plane
from core.case import DrivenRain
from core.climate.data import HOURS_PER_YEAR, first_hour, monthly_means, shipped
from core.climate.generator import CLIMATES, as_csv
from core.climate.indoor import indoor_air, indoor_relative_humidity, indoor_state, indoor_temperature_c
from core.climate.rain import driven_rain
from core.climate.sun import radiation_on_face
from core.criteria.findings import longest_spell
from core.criteria.judging import Stated, checked_limits
from core.criteria.mould import mould_index
from core.criteria.registry import LIMITS
from core.criteria.run_findings import find_all
from core.criteria.verdict import verdict
from core.errors import CaseRefused, NotAvailableYet, OutOfRange
from core.heat_loss import AirLoss, ElementLoss, HeatLoss, degree_hours
from core.materials.library import Solid, case_material, library
from core.moisture.steady import condensation, drying_ability
from core.moisture.transient.solve import simulate
from core.physics.moist_air import SATURATION_FORMULAS, dew_point_from_vapour_pressure, saturation_pressure
from core.preview import preview
from core.proposals.propose import propose
from core.proposals.situation import Stand, situation
from core.quantities import parse_length, parse_thickness
from core.runs import asked, fixed_years
from core.thermal.iso6946 import air_layer_resistance, transmittance


def layer(id_: str, material: str, mm: float | None = None, **more: object) -> BuildUpLayer:
    return BuildUpLayer(id=id_, material=material, thickness_mm=mm, **more)  # type: ignore[arg-type]


STONE = [layer("stone", "sandstone_rubble", 500, existing=True), layer("plaster", "lime_plaster", 20, existing=True)]
FIBRE = [layer("fibre", "mineral_fibre_035", 80), layer("board", "gypsum_board", 12.5)]


class Air(TestCase):
    def test_saturation_at_known_points(self) -> None:
        for formula in SATURATION_FORMULAS:
            self.assertAlmostEqual(float(saturation_pressure(293.15, formula)), 2337.0, delta=4.0)  # type: ignore[arg-type]
        self.assertLess(saturation_pressure(263.15, "iso13788_ice"), saturation_pressure(263.15))
        with self.assertRaises(OutOfRange):
            saturation_pressure(150.0)

    @given(st.floats(min_value=233.0, max_value=330.0))
    def test_dew_point_is_the_inverse(self, temperature: float) -> None:
        self.assertAlmostEqual(
            float(dew_point_from_vapour_pressure(saturation_pressure(temperature))), temperature, places=6
        )


class Thermal(TestCase):
    def test_air_layers_of_the_table(self) -> None:
        self.assertAlmostEqual(air_layer_resistance(0.025, "horizontal"), 0.18)
        self.assertAlmostEqual(air_layer_resistance(0.050, "down"), 0.21)
        with self.assertRaises(CaseRefused):
            air_layer_resistance(0.4, "up")

    def test_a_ventilated_cavity_ends_the_build_up(self) -> None:
        inner = [layer("board", "wood_fibre_board", 100), layer("osb", "osb", 15)]
        clad = BuildUp(layers=[layer("larch", "larch_boards", 22), layer("gap", "air_ventilated", 30), *inner])
        self.assertAlmostEqual(1 / transmittance(clad, "wall").u_effective, 0.13 + 0.1 / 0.043 + 0.015 / 0.13 + 0.13)

    def test_combined_method_is_refused_with_words(self) -> None:
        bridged = layer("s", "mineral_fibre_035", 200, framing=Framing(material="steel_sheet", share=0.01))
        with self.assertRaisesRegex(CaseRefused, "two-dimensional"):
            transmittance(BuildUp(layers=[bridged]), "wall")
        wide = layer("s", "pur_foam", 300, framing=Framing(material="granite", share=0.2))
        with self.assertRaisesRegex(CaseRefused, "further apart"):
            transmittance(BuildUp(layers=[layer("a", "eps_035", 200), wide]), "wall")

    def test_limits_bracket_the_value(self) -> None:
        t = transmittance(
            BuildUp(
                layers=[
                    *STONE,
                    layer("s", "mineral_fibre_040", 100, framing=Framing(material="softwood", share=0.12)),
                    FIBRE[1],
                ]
            ),
            "wall",
        )
        self.assertGreater(t.upper_limit, t.r_effective)
        self.assertGreater(t.r_effective, t.lower_limit)
        self.assertGreater(t.r_total_clear, t.r_effective)
        self.assertAlmostEqual(t.r_insulation, 2.5)

    def test_growth_is_measured_about_the_datum(self) -> None:
        found = BuildUp(layers=STONE)
        inside = BuildUp(layers=[*STONE, *FIBRE])
        outside = BuildUp(layers=[layer("render", "lime_render", 15), layer("w", "wood_fibre_board", 100), *STONE])
        stripped = BuildUp(layers=[STONE[0], layer("new", "insulating_lime_plaster", 45)])
        self.assertEqual([round(x * 1000, 1) for x in growth(found, inside, Place())], [0.0, 92.5])
        self.assertEqual([round(x * 1000, 1) for x in growth(found, outside, Place())], [115.0, 0.0])
        self.assertEqual([round(x * 1000, 1) for x in growth(found, stripped, Place())], [0.0, 25.0])

    def test_the_datum_of_a_roof_is_a_layer_that_stays_and_not_its_air(self) -> None:
        rafters = layer("air", "air_unventilated", 150, existing=True)
        deck, ceiling = (
            layer("deck", "sarking_boards", 22, existing=True),
            layer("c", "lime_plaster", 20, existing=True),
        )
        found = BuildUp(layers=[deck, rafters, ceiling])
        self.assertEqual(datum_layer(found, Place()).id, "deck")
        above = BuildUp(layers=[layer("w", "wood_fibre_board", 40), deck, layer("b", "wood_fibre_batt", 150), ceiling])
        self.assertEqual([round(x * 1000, 1) for x in growth(found, above, Place())], [40.0, 0.0])

    def test_heat_loss_by_hand(self) -> None:
        wall, floor = ElementLoss("w", "wall", 40.0, 1.0, 2.0, 0.5), ElementLoss("f", "floor", 50.0, 0.5, 1.0, 0.4)
        air = AirLoss(300.0, 0.5, 0.2)
        loss = HeatLoss([wall, floor], air, 100_000.0, 20.0, -5.0)
        self.assertAlmostEqual(loss.coefficient(False), 80.0 + 25.0 + 300 * 0.5 * 1.2 * 1006 / 3600)
        self.assertAlmostEqual(loss.coefficient(True), 20.0 + 10.0 + 300 * 0.2 * 1.2 * 1006 / 3600)
        self.assertAlmostEqual(loss.yearly_loss(100.0), 10_000.0)
        self.assertAlmostEqual(loss.design_load(100.0), 2_500.0)


class SteadyMoisture(TestCase):
    place = Place(facing_deg=315)
    climate = shipped("corrie")

    def roof(self, *inner: BuildUpLayer) -> BuildUp:
        return BuildUp(layers=[layer("deck", "osb", 22), layer("fibre", "mineral_fibre_035", 200), *inner])

    def test_condensation_where_it_must_be_and_none_behind_a_sheet(self) -> None:
        roof = Place(kind="roof", slope_deg=40)
        board = layer("board", "gypsum_board", 12.5)
        bare = condensation(self.roof(board), roof, self.climate)
        tight = condensation(self.roof(layer("sheet", "membrane_tight"), board), roof, self.climate)
        self.assertTrue(bare.judged)
        self.assertGreater(bare.peak_g_m2, 100.0)
        self.assertEqual(bare.planes, ["deck"])
        self.assertIn(bare.peak_month, (1, 2, 3, 4))
        self.assertEqual(tight.peak_g_m2, 0.0)

    def test_one_month_by_hand(self) -> None:
        """January by hand: Δp over the two resistances at the deck's inner face, 31 days."""
        from core.moisture.steady import DELTA_AIR, conditions

        roof = Place(kind="roof", slope_deg=40, climate="ostmoor")
        climate = shipped("ostmoor")
        air = conditions(roof, climate)
        r_out, r_all = 0.04 + 0.022 / 0.13, 0.04 + 0.022 / 0.13 + 0.2 / 0.035 + 0.0125 / 0.23 + 0.10
        face = air.outside_c[0] + (air.inside_c[0] - air.outside_c[0]) * r_out / r_all
        saturated = 610.5 * np.exp(21.875 * face / (265.5 + face))  # below 0 °C over ice
        self.assertLess(face, 0.0)
        arriving = DELTA_AIR * (air.inside_pa[0] - saturated) / (0.2 * 1.2 + 0.0125 * 8)
        leaving = DELTA_AIR * (saturated - air.outside_pa[0]) / (0.022 * 200)
        by_hand = (arriving - leaving) * 31 * 86400 * 1000
        got = condensation(self.roof(layer("board", "gypsum_board", 12.5)), roof, climate).accumulated_g_m2[0]
        self.assertAlmostEqual(got[0] - got[11], by_hand, delta=0.02 * by_hand + 0.5)

    def test_it_does_not_judge_rained_or_capillary_active_walls(self) -> None:
        rained = condensation(BuildUp(layers=[*STONE, *FIBRE]), self.place, self.climate)
        active = condensation(
            BuildUp(
                layers=[
                    layer("g", "granite", 400),
                    layer("bed", "lime_adhesive", 8),
                    layer("w", "wood_fibre_board", 60),
                ]
            ),
            self.place,
            self.climate,
        )
        for result in (rained, active):
            self.assertFalse(result.judged)
            self.assertIn("does not judge this wall", result.why_not)

    def test_drying_ability_by_hand(self) -> None:
        stone = sensitive_plane(BuildUp(layers=STONE), Place())
        assert stone is not None
        bare = drying_ability(BuildUp(layers=STONE), self.place, self.climate, stone)
        lined = drying_ability(
            BuildUp(layers=[*STONE, layer("v", "membrane_retarder"), FIBRE[1]]), self.place, self.climate, stone
        )
        self.assertAlmostEqual(bare.inward.sd_m, 0.008 + 8 * 0.02)
        self.assertAlmostEqual(lined.inward.sd_m, 0.008 + 8 * 0.02 + 5.0 + 8 * 0.0125)
        self.assertGreater(bare.inward.g_m2 / lined.inward.g_m2, 20)
        self.assertAlmostEqual(bare.outward.sd_m, 0.008 + 18 * 0.5)
        self.assertEqual((bare.outward.to, bare.inward.to), ("outside air", "the room"))
        self.assertTrue(bare.inward.liquid, "the plaster that touches the stone draws too")

    def test_preview_names_the_limits_that_are_passed(self) -> None:
        result = preview(
            BuildUp(layers=STONE), BuildUp(layers=[*STONE, *FIBRE]), self.place, Limits(room_mm=90, outside_mm=0)
        )
        self.assertEqual(len(result.over_limits), 1)
        self.assertIn("92.5 mm of the room; the limit is 90 mm", result.over_limits[0].metric)
        self.assertNotIn("mm", result.over_limits[0].inch)

    def test_what_is_not_available_says_so(self) -> None:
        cavity = BuildUp(
            layers=[layer("larch", "larch_boards", 22), layer("gap", "air_ventilated", 30), layer("osb", "osb", 15)]
        )
        self.assertEqual(why_no_transient(cavity, self.place), "")
        stone = BuildUp(layers=STONE)
        self.assertEqual(why_no_transient(stone, Place(kind="roof", slope_deg=30)), "")
        self.assertEqual(why_no_transient(stone, Place(kind="floor", adjoining="ground", factor_b=0.5)), "")
        self.assertEqual(why_no_transient(stone, Place(kind="roof", adjoining="unheated", factor_b=0.8)), "")
        bare = BuildUp(layers=[*STONE, layer("gap", "air_unventilated", 30)])
        self.assertEqual(why_no_transient(bare, self.place), "", "a bay open to the room is the room's air")
        nothing = BuildUp(layers=[layer("gap", "air_unventilated", 30), layer("sheet", "membrane_tight")])
        self.assertIn("nothing but air and sheets", why_no_transient(nothing, self.place))
        with self.assertRaises(NotAvailableYet):
            model_of(BuildUp(layers=[]), self.place)


class BuildUps(TestCase):
    def test_nonsense_is_refused(self) -> None:
        for bad in (
            {"id": "a", "material": "osb"},
            {"id": "a", "material": "osb", "thickness_mm": 0},
            {"id": "a", "material": "osb", "thickness_mm": -5},
            {"id": "a", "material": "osb", "thickness_mm": 3001},
            {"id": "a", "material": "unobtainium", "thickness_mm": 10},
            {"id": "a", "material": "membrane_tight", "thickness_mm": 10},
            {"id": "a", "material": "osb", "thickness_mm": 10, "framing": {"material": "limewash", "share": 0.1}},
        ):
            with self.subTest(bad), self.assertRaises(ValidationError):
                BuildUpLayer.model_validate(bad)
        with self.assertRaises(ValidationError):
            BuildUp(layers=[layer("a", "osb", 10), layer("a", "osb", 10)])

    def test_the_library_is_whole(self) -> None:
        self.assertGreaterEqual(len(library()), 25)
        for entry in library().values():
            self.assertTrue(entry.sources, entry.id)
            self.assertTrue(all(text.strip() for text in entry.sources.values()))
            if isinstance(entry, Solid):
                case_material(entry)
                given = {
                    "density_kg_m3",
                    "specific_heat_j_kgk",
                    "conductivity_w_mk",
                    "mu",
                    "w80_kg_m3",
                    "a_value_kg_m2s05",
                }
                self.assertLessEqual(given, set(entry.sources), entry.id)

    def test_coatings_join_the_films_and_bonded_planes_are_not_judged(self) -> None:
        board = [layer("bed", "lime_adhesive", 8), layer("wf", "wood_fibre_board", 60)]
        painted = BuildUp(layers=[layer("p", "silicate_paint"), *STONE, *board, layer("in", "emulsion_paint")])
        model = model_of(painted, Place())
        self.assertEqual(model.layer_of_entry[0], "p", "a mineral coat is a thin layer that draws")
        self.assertEqual(model.case.inside.coating_sd_m, 0.2)  # type: ignore[union-attr]
        judged = {point.name: point.judged for point in model.watch_points}
        self.assertFalse(judged["lime adhesive bed / wood-fibre board, capillary-active"])
        self.assertTrue(judged["room face of wood-fibre board, capillary-active"])


class Criteria(TestCase):
    def test_decline_in_its_three_spans(self) -> None:
        warm, wet = np.full(2000, 22.0), np.full(2000, 0.97)
        grown = mould_index(warm, wet, "very_sensitive")[-1]
        dry = np.concatenate((wet, np.full(48, 0.5)))
        series = mould_index(np.full(2048, 22.0), dry, "very_sensitive")
        self.assertAlmostEqual(series[2005] - grown, -0.032 * 6 / 24, places=6)
        self.assertAlmostEqual(series[2023] - grown, -0.032 * 6 / 24, places=6)
        self.assertAlmostEqual(series[2047] - grown, -0.032 * 6 / 24 - 0.016, places=6)
        self.assertTrue(np.all(mould_index(np.full(900, -3.0), np.full(900, 0.99), "sensitive") == 0.0))

    @given(st.floats(min_value=0.3, max_value=1.0), st.floats(min_value=-10, max_value=40))
    @settings(deadline=None)
    def test_index_is_bounded_and_ordered_by_class(self, rh: float, temperature: float) -> None:
        t, h = np.full(3000, temperature), np.full(3000, rh)
        values = [
            mould_index(t, h, kind)[-1] for kind in ("very_sensitive", "sensitive", "medium_resistant", "resistant")
        ]  # type: ignore[arg-type]
        self.assertTrue(all(0.0 <= v <= 6.0 for v in values))
        self.assertEqual(values, sorted(values, reverse=True))

    def test_longest_spell(self) -> None:
        self.assertEqual(longest_spell(np.array([0, 1, 1, 0, 1, 1, 1], bool)), (3, 6))
        self.assertEqual(longest_spell(np.zeros(4, bool)), (0, 0))

    def test_verdict_of_a_wall_names_place_date_driver(self) -> None:
        wood = BuildUp(layers=[layer("wood", "logs", 60, existing=True), layer("fibre", "mineral_fibre_035", 60)])
        model = fixed_years(asked(wood, Place(facing_deg=290, exposure="severe"), None).model, 2)
        found = verdict(find_all(model, simulate(model.case)), None, Stated(as_found=False), checked_limits(LIMITS, {}))
        self.assertEqual(found.state, "over a limit")
        self.assertIn("rain", found.driver.metric)
        assert found.worst is not None
        self.assertEqual(found.worst.phase, "for good")
        self.assertRegex(found.worst.on.words, r"^\d{1,2} [A-Z][a-z]+$")
        self.assertTrue(any("rain leaks (none stated)" in words.metric for words in found.not_judged))


class ClimateData(TestCase):
    climate = shipped("corrie")

    def test_the_shipped_file_is_what_the_generator_makes(self) -> None:
        for recipe in CLIMATES:
            path = Path(__file__).parents[1] / "climate" / "data" / f"{recipe.name}.csv"
            self.assertEqual(path.read_text(), as_csv(recipe), recipe.name)

    def test_snow_is_not_rain_where_winters_are_cold(self) -> None:
        for name in ("millrace", "tarn"):
            c = shipped(name)
            self.assertEqual(c["rain_mm"][c["temperature_c"] < 0].sum(), 0.0, name)
            self.assertGreater(c["rain_mm"].sum(), 100.0, name)

    def test_the_six_climates_differ_in_kind(self) -> None:
        def month(column: np.ndarray, number: int) -> float:
            return float(column[number * 730 : (number + 1) * 730].mean())

        kinds = {name: shipped(name) for name in (recipe.name for recipe in CLIMATES)}
        january = {name: month(c["temperature_c"], 0) for name, c in kinds.items()}
        july = {name: month(c["temperature_c"], 6) for name, c in kinds.items()}
        self.assertGreater(kinds["corrie"]["rain_mm"].sum(), 1500)
        self.assertLess(july["corrie"] - january["corrie"], 12)  # maritime
        self.assertLess(january["ostmoor"], -5)
        self.assertGreater(july["ostmoor"], 18)  # cold continental
        self.assertLess(january["tarn"], -15)
        self.assertLess(kinds["tarn"]["rain_mm"].sum(), 300)  # very cold, dry
        self.assertGreater(month(kinds["millrace"].vapour_pressure, 6), 2000)
        self.assertLess(january["millrace"], 0)  # humid hot summer, cold winter
        self.assertLess(month(kinds["sollera"]["relative_humidity"], 6), 0.45)
        self.assertGreater(july["sollera"], 25)  # warm, dry
        self.assertLess(july["karrental"], 14)
        self.assertGreater(kinds["karrental"]["rain_mm"].sum(), 1000)  # alpine
        for c in kinds.values():
            self.assertEqual(c.origin, "generated, not measured")

    def test_it_looks_like_a_wet_maritime_upland(self) -> None:
        c = self.climate
        self.assertEqual(c.hours, HOURS_PER_YEAR)
        self.assertIn("generated, not measured", c.origin)
        means = monthly_means(c["temperature_c"])
        self.assertTrue(-1 < means.min() < 5 and 11 < means.max() < 16)
        self.assertAlmostEqual(c["rain_mm"].sum(), 1720, delta=20)
        self.assertTrue(0.78 < c["relative_humidity"].mean() < 0.9)
        wet = c["rain_mm"] > 0
        self.assertGreater(c["cloud_share"][wet].mean(), c["cloud_share"][~wet].mean() + 0.15)
        spells = np.diff(np.flatnonzero(np.diff(wet.astype(int)) != 0))
        self.assertGreater(spells.max(), 5 * 24, "dry spells of days")
        day = c["temperature_c"].reshape(365, 24)
        self.assertGreater(day[:, 15].mean(), day[:, 4].mean() + 1.0)
        self.assertEqual(c["beam_normal_w_m2"].reshape(365, 24)[:, 0].max(), 0.0)

    def test_driven_rain_by_hand(self) -> None:
        c = self.climate
        hour = int(np.argmax((c["rain_mm"] > 1) & (c["wind_direction_deg"] > 280) & (c["wind_direction_deg"] < 350)))
        v, r, d = c["wind_speed_m_s"][hour], c["rain_mm"][hour], c["wind_direction_deg"][hour]
        front = np.cos(np.radians(d - 315))
        iso = driven_rain(c, 315, DrivenRain(wall_factor=0.4))[hour]
        self.assertAlmostEqual(iso, 2 / 9 * v * r ** (8 / 9) * front * 0.4)
        other = driven_rain(c, 315, DrivenRain(method="rate_wind"))[hour]
        self.assertAlmostEqual(other, 0.2 * v * r * front * 0.5)
        self.assertEqual(driven_rain(c, 135, DrivenRain())[hour], 0.0)

    def test_sun_on_faces(self) -> None:
        south, north = (radiation_on_face(self.climate, f, 90, 0.2).sum() for f in (180, 0))
        self.assertGreater(south, 1.6 * north)
        flat = radiation_on_face(self.climate, 0, 0, 0.2)
        cosine = np.maximum(np.cos(np.radians(self.climate["sun_zenith_deg"])), 0)
        expected = self.climate["beam_normal_w_m2"] * cosine + self.climate["diffuse_horizontal_w_m2"]
        self.assertLess(np.abs(flat - expected).max(), 0.5)

    def test_indoor_curves(self) -> None:
        outside = np.array([-20.0, -10.0, 5.0, 20.0, 30.0])
        self.assertTrue(np.allclose(indoor_relative_humidity(outside, "normal"), [0.3, 0.3, 0.45, 0.6, 0.6]))
        self.assertTrue(np.allclose(indoor_relative_humidity(outside, "high"), [0.4, 0.4, 0.55, 0.7, 0.7]))
        self.assertTrue(np.allclose(indoor_temperature_c(outside, 18, 25), [18, 18, 18, 25, 25]))
        self.assertEqual(first_hour("10-01"), 273 * 24)
        self.assertGreater(degree_hours(self.climate, 20.0), 100_000)

    def test_a_room_heated_now_and_then(self) -> None:
        """Twelve hours a week at the set-point, 8 °C or the day outside between; its degree hours are those in which it is heated."""
        inside, humidity = indoor_air(self.climate, "now_and_then", 18.0)
        week = inside[: 7 * 24]
        self.assertEqual(int((week == 18.0).sum()), 12)
        self.assertAlmostEqual(float(week.min()), 8.0)
        self.assertLessEqual(float(humidity.max()), 0.95)
        hours, held = degree_hours(self.climate, 18.0, inside), degree_hours(self.climate, 18.0)
        self.assertLess(hours, 0.6 * held)
        constant = degree_hours(self.climate, 18.0, np.full(self.climate.hours, 18.0))
        self.assertLess(constant, held + 1e-6)
        self.assertGreater(constant, 0.95 * held)
        means, rh = indoor_state("now_and_then", np.array([0.0, 15.0]), np.array([500.0, 1400.0]), 20.0, 25.0)
        self.assertTrue(np.allclose(means, [8.0 + 12.0 / 14.0, 15.0 + 5.0 / 14.0]))
        self.assertAlmostEqual(float(rh[0] * saturation_pressure(means[0] + 273.15)), 500.0 + 810.0 / 14.0, places=6)
        stone = BuildUp(layers=[BuildUpLayer(id="s", material="sandstone_rubble", thickness_mm=500, existing=True)])
        doubts = {}
        for room in ("normal", "now_and_then"):
            at = situation(stone, Stand(Place(climate="corrie", facing_deg=90, occupancy=room), Limits()))
            doubts[room] = " ".join(
                d.metric for one in propose(at).offered if one.way == "outside_clad" for d in one.doubts
            )
        self.assertNotIn("heated for hours", doubts["normal"])
        self.assertIn("heated for hours", doubts["now_and_then"])

    def test_dates_that_are_none(self) -> None:
        with self.assertRaises(CaseRefused):
            first_hour("02-30")


class Typed(TestCase):
    def test_what_people_type(self) -> None:
        for text, mm in (
            ("80", 80),
            ("80 mm", 80),
            ("3 in", 76.2),
            ("2 1/2 in", 63.5),
            ('4"', 101.6),
            ("0,5 m", 500),
            ("8cm", 80),
        ):
            with self.subTest(text):
                self.assertAlmostEqual(parse_length(text) * 1000, mm, places=6)
        self.assertAlmostEqual(parse_length("3", "in") * 1000, 76.2)
        self.assertAlmostEqual(parse_thickness("R13", 0.035) * 1000, 13 / 5.678263 * 35, delta=0.01)

    def test_what_is_refused(self) -> None:
        for text in ("0", "-5", "abc", "3001", "3.1 m", "5 kg", "", "5 1/0 in", "1e9"):
            with self.subTest(text), self.assertRaises(OutOfRange) as caught:
                parse_length(text)
            self.assertGreater(len(str(caught.exception)), 15)


class CommandLine(TestCase):
    def test_simulate_gives_the_numbers_of_the_core(self) -> None:
        from core.tests.helpers import case, small

        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stdout(io.StringIO()) as said:
            source, result = Path(folder) / "case.json", Path(folder) / "result.json"
            source.write_text(json.dumps(small()))
            self.assertEqual(main(["simulate", str(source), "--out", str(result), "--csv", f"{folder}/h.csv"]), 0)
            document = json.loads(result.read_text())
        direct = simulate(case())
        self.assertEqual(
            document["planes"]["between"]["rh"][-1], round(float(direct.rh(direct.planes["between"], -1)), 6)
        )
        self.assertEqual(json.loads(said.getvalue())["case_sha256"], case().hash)

    def test_bad_files_are_refused_in_words(self) -> None:
        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stderr(io.StringIO()) as said:
            bad = Path(folder) / "case.json"
            bad.write_text('{"materials": {')
            self.assertEqual(main(["simulate", str(bad)]), 2)
            self.assertEqual(main(["simulate", str(Path(folder) / "none.json")]), 2)
        self.assertIn("not complete JSON", said.getvalue())
        self.assertIn("no such file", said.getvalue())
