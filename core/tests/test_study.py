"""Studies: what is drawn, what a draw changes, what the runs say together; and the criteria of frost and water."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import settings as how
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy.stats import spearmanr

from core.assembly.to_case import model_of
from core.buildup.leaks import Leaks
from core.buildup.model import ACTIVE_SHARE, AirLeakage, BuildUp, BuildUpLayer, Place
from core.case import LiquidKuenzel, Membrane
from core.climate.data import monthly_means, shipped
from core.climate.ground import ground_temperature_c, yearly_wave
from core.climate.indoor import CLASS_EXCESS_PA, indoor_air, indoor_state
from core.criteria.frost import falls
from core.errors import OutOfRange
from core.moisture.steady import free_drying, vapour_profile
from core.moisture.transient.columns import OUTSIDE, T_ENV
from core.study import (
    INPUTS,
    PROOFS,
    STANDS_WHILE,
    ConditionCheck,
    StudySettings,
    UncertainInput,
    coldest_month_rh,
    conditions,
    drawn_model,
    draws,
    summarise,
    wilson,
)
from core.thermal.iso6946 import faced_air_layer_resistance, resistances, transmittance


def layer(id: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id, material=material, thickness_mm=mm)


WALL = BuildUp(
    layers=[
        layer("stone", "sandstone_rubble", 400),
        layer("wool", "mineral_fibre_035", 80),
        layer("sheet", "membrane_variable_medium"),
        layer("board", "gypsum_board", 12.5),
    ]
)


class Draws(TestCase):
    def test_a_latin_hypercube_puts_one_draw_into_every_slice(self) -> None:
        settings = StudySettings(
            inputs=[
                UncertainInput(name="start water", low=0.5, high=0.9),
                UncertainInput(name="A-value", low=0.5, high=2.0),
            ],
            runs=40,
            plane="stone",
        )
        found = draws(settings)
        flat = np.sort([(draw["start water"] - 0.5) / 0.4 for draw in found])
        logs = np.sort([np.log(draw["A-value"] / 0.5) / np.log(4.0) for draw in found])
        for values in (flat, logs):
            self.assertEqual([int(v * 40) for v in values], list(range(40)))
        self.assertEqual(found, draws(settings), "the same seed draws the same")
        self.assertNotEqual(found, draws(settings.model_copy(update={"seed": 2})))

    def test_a_grid_holds_every_combination(self) -> None:
        settings = StudySettings(
            inputs=[
                UncertainInput(name="start water", low=0.5, high=0.9),
                UncertainInput(name="weather year", low=0, high=1),
            ],
            method="grid",
            steps=3,
            plane="stone",
        )
        pairs = {(round(d["start water"], 6), d["weather year"]) for d in draws(settings)}
        self.assertEqual(pairs, {(w, y) for w in (0.5, 0.7, 0.9) for y in (0.0, 1.0)})

    def test_what_cannot_be_drawn_is_refused(self) -> None:
        for name, low, high in (("A-value", 2.0, 0.5), ("start water", 0.1, 0.9), ("rain leak", 0.0, 0.5)):
            with self.assertRaises(ValidationError):
                UncertainInput(name=name, low=low, high=high)  # type: ignore[arg-type]
        with self.assertRaises(OutOfRange):
            drawn_model(WALL, Place(), {"moon": 1.0})

    def test_every_input_changes_the_case_and_only_its_own_part(self) -> None:
        base = drawn_model(WALL, Place(), {}).case
        for name, kind in INPUTS.items():
            with self.subTest(name):
                case = drawn_model(WALL, Place(), {name: kind.high}).case
                self.assertNotEqual(case.hash, base.hash)
        wetter = drawn_model(WALL, Place(), {"A-value": 2.0}).case
        for key, material in base.materials.items():
            changed = wetter.materials[key]
            if isinstance(material.liquid, LiquidKuenzel) and isinstance(changed.liquid, LiquidKuenzel):
                self.assertAlmostEqual(changed.liquid.a_value_kg_m2s05, 2 * material.liquid.a_value_kg_m2s05)
            else:
                self.assertEqual(changed, material)
        thick = drawn_model(WALL, Place(), {"membrane": 2.0}).case
        sheets = [next(x for x in c.layers if isinstance(x, Membrane)).sd_by_rh or [] for c in (base, thick)]
        self.assertEqual([sd for _, sd in sheets[1]], [2 * sd for _, sd in sheets[0]])
        leaky = drawn_model(WALL, Place(), {"air leakage": 2.0}).case
        assert leaky.air.leaks[0].by_stack_and_wind is not None
        self.assertEqual(leaky.air.leaks[0].by_stack_and_wind.q50_m3_m2h, 2.0 * ACTIVE_SHARE)


class Summaries(TestCase):
    @how(deadline=None, max_examples=40)
    @given(st.lists(st.tuples(st.integers(0, 6), st.floats(0, 3)), min_size=6, max_size=40))
    def test_rank_correlations_are_those_of_scipy(self, pairs: list[tuple[int, float]]) -> None:
        x, y = [float(a) for a, _ in pairs], [b for _, b in pairs]
        summary = summarise([{"A-value": v} for v in x], [v > 1.0 for v in y], y)
        if len(set(x)) > 1 and len(set(y)) > 1:
            self.assertAlmostEqual(summary.influences[0].correlation, float(spearmanr(x, y).statistic), places=9)
        else:
            self.assertEqual(summary.influences[0].correlation, 0.0)

    def test_the_interval_is_wilsons(self) -> None:
        for sound, runs in ((0, 10), (3, 12), (50, 100), (100, 100)):
            z, p = 1.959964, sound / runs
            middle = (p + z * z / (2 * runs)) / (1 + z * z / runs)
            half = z / (1 + z * z / runs) * float(np.sqrt(p * (1 - p) / runs + z * z / (4 * runs**2)))
            low, high = wilson(sound, runs)
            self.assertAlmostEqual(low, middle - half, places=6)
            self.assertAlmostEqual(high, middle + half, places=6)

    def test_words_are_of_draws_and_of_what_can_be_said(self) -> None:
        rising = [0.01 * n for n in range(60)]
        said = summarise([{"A-value": v} for v in rising], [v > 0.55 for v in rising], rising)
        self.assertEqual((said.over, said.sound, said.decided_by), (4, 56, "A-value"))
        self.assertIn("draws from the ranges typed", said.words.metric)
        self.assertIn("What decides most: A-value (water uptake of every capillary layer", said.words.metric)
        self.assertNotIn("such walls", said.words.metric)
        few = summarise([{"A-value": v} for v in rising[:10]], [False] * 10, rising[:10])
        self.assertIn("nothing can be said", few.words.metric)
        self.assertEqual(few.decided_by, "")
        flat = summarise([{"A-value": v} for v in rising], [False] * 60, [0.5 + 1e-4 * v for v in rising])
        self.assertIn("none of the inputs typed has an effect", flat.words.metric)

    def test_the_conditions_it_stands_on(self) -> None:
        rng = np.random.default_rng(3)
        draws = [
            {"air leakage": float(a), "A-value": float(b)}
            for a, b in zip(rng.uniform(0.1, 3.0, 80), rng.uniform(0.5, 2.0, 80), strict=True)
        ]
        over = [draw["air leakage"] > 1.2 for draw in draws]
        [one] = conditions(draws, over)
        stood = [draw["air leakage"] for draw, failed in zip(draws, over, strict=True) if not failed]
        self.assertEqual((one.name, one.at_most, one.value, one.runs), ("air leakage", True, max(stood), len(stood)))
        self.assertIn("stands while air through the element is at most 1.19 m³/(h m²) at 50 Pa", one.words.metric)
        self.assertIn("cfm/ft²", one.words.inch)
        least = conditions([{"membrane": draw["A-value"]} for draw in draws], [draw["A-value"] < 1.0 for draw in draws])
        self.assertEqual((least[0].at_most, least[0].value >= 1.0), (False, True))
        self.assertIn("at least", least[0].words.metric)

    def test_no_condition_where_nothing_can_be_said(self) -> None:
        draws = [{"A-value": 0.01 * n, "weather year": float(n % 2)} for n in range(60)]
        for over in ([False] * 60, [True] * 60, [n % 2 == 0 for n in range(60)], [n > 5 for n in range(60)]):
            self.assertEqual([one for one in conditions(draws, over) if one.name == "A-value"], [])
        rooms = [{"indoor moisture": n / 200.0 - 0.1} for n in range(40)]
        [dry] = conditions(rooms, [row["indoor moisture"] > -0.0301 for row in rooms])
        self.assertTrue(dry.at_most)
        self.assertIn("the rooms are at least 3.5 points of RH below their profile", dry.words.metric)
        [humid] = conditions(rooms, [row["indoor moisture"] > 0.0401 for row in rooms])
        self.assertIn("the rooms are at most 4.0 points of RH above their profile", humid.words.metric)
        self.assertEqual(conditions(draws[:10], [n > 5 for n in range(10)]), [])
        self.assertEqual(
            conditions(draws, [draw["weather year"] > 0.5 for draw in draws]), [], "a year is no condition"
        )
        self.assertEqual(set(STANDS_WHILE), set(INPUTS) - {"weather year"})
        self.assertEqual(set(PROOFS), set(STANDS_WHILE))

    def test_the_rooms_are_said_by_their_coldest_month(self) -> None:
        """Millrace, EN 15026 normal: 30 % at −10 °C rising to 60 % at 20 °C, by the mean of January."""
        place = Place(climate="millrace")
        month, rh = coldest_month_rh(place)
        outside = float(monthly_means(shipped("millrace")["temperature_c"]).min())
        self.assertEqual(month, "January")
        self.assertAlmostEqual(rh, 0.3 + 0.01 * (outside + 10.0), delta=0.01)
        rooms = [{"indoor moisture": n / 200.0 - 0.1} for n in range(40)]
        [one] = conditions(rooms, [row["indoor moisture"] > 0.0401 for row in rooms], place=place)
        self.assertEqual(one.words.metric[: one.words.metric.index("(")].strip(), f"stands while the rooms are at most {(rh + 0.04) * 100:.0f} % RH on average in January, 4.0 points above their profile")  # fmt: skip
        self.assertAlmostEqual(one.measure, (rh + 0.04) * 100, places=2)
        held, broken = (ConditionCheck(name="indoor moisture", measured=one.measure + more) for more in (-1.0, 1.0))
        self.assertEqual((held.holds(one), broken.holds(one), held.words().metric[-1]), (True, False, "%"))

    def test_where_no_draw_failed_the_end_that_was_tried_is_said(self) -> None:
        rng = np.random.default_rng(4)
        draws = [{"air leakage": float(a), "membrane": float(b)} for a, b in rng.uniform(0.5, 2.0, (60, 2))]
        near = [draw["air leakage"] / 4.0 for draw in draws]
        said = summarise(draws, [False] * 60, near)
        [one] = said.conditions
        self.assertEqual((one.name, one.at_most, one.tried), ("air leakage", True, True))
        self.assertEqual(one.value, max(draw["air leakage"] for draw in draws))
        self.assertIn("no draw of 60 failed; more was not tried", one.words.metric)
        tight = summarise(draws, [False] * 60, [1.0 - draw["air leakage"] / 4.0 for draw in draws]).conditions[0]
        self.assertEqual((tight.at_most, tight.value), (False, min(draw["air leakage"] for draw in draws)))
        self.assertIn("less was not tried", tight.words.metric)
        leak = ConditionCheck(name="air leakage", measured=one.value * 1.001)
        self.assertTrue(leak.holds(one), "to the last digit shown")
        self.assertIn("m³/(h m²)", leak.words().metric)
        self.assertFalse(ConditionCheck(name="air leakage", measured=tight.value * 0.9).holds(tight))

    def test_nothing_finished_says_so(self) -> None:
        with self.assertRaises(OutOfRange):
            summarise([], [], [])


class FrostCriterion(TestCase):
    def test_a_fall_counts_after_a_thaw_and_once(self) -> None:
        column = np.array([5, -1, -3, -1, -5, 0.5, -2.5, -1, 1, -1, 2, -9], float)
        self.assertEqual(list(falls(column[:, None])[0]), [2, 6, 11])

    def test_never_cold_or_never_warm_is_no_cycle(self) -> None:
        for value in (3.0, -8.0):
            self.assertEqual(len(falls(np.full((50, 1), value))[0]), 0)


class Insides(TestCase):
    def test_iso13788_classes_by_hand(self) -> None:
        """Class 3 at 10 °C outside and 1000 Pa: 1000 + 810/2 = 1405 Pa in a room at 20 °C."""
        inside_c, humidity = indoor_state("iso13788_3", np.array([10.0]), np.array([1000.0]), 20.0, 25.0)
        self.assertEqual(inside_c[0], 20.0)
        self.assertAlmostEqual(float(humidity[0]), 1405.0 / 2337.0, places=3)
        rising = [float(indoor_state(name, np.array([0.0]), np.array([500.0]), 20.0, 25.0)[1][0]) for name in CLASS_EXCESS_PA]  # type: ignore[arg-type]  # fmt: skip
        self.assertEqual(rising, sorted(rising))

    def test_a_bath_adds_two_humid_hours_and_keeps_the_rest(self) -> None:
        climate = shipped("corrie")
        plain, bath = (indoor_air(climate, name, 20.0)[1] for name in ("en15026_high", "bath"))
        extra = (bath - plain).reshape(-1, 24)
        self.assertAlmostEqual(float(extra[:, 12].max()), 0.0, places=9)
        self.assertGreater(float(extra[:, 7].min()), 0.2)

    def test_a_cooled_summer_is_cool_and_dry(self) -> None:
        temperature, humidity = indoor_air(shipped("millrace"), "cooled", 20.0)
        self.assertLessEqual(temperature.max(), 23.0)
        self.assertLessEqual(humidity.max(), 0.55)

    def test_too_much_added_humidity_is_refused(self) -> None:
        with self.assertRaises(OutOfRange):
            indoor_air(shipped("corrie"), "bath", 20.0, extra_rh=0.3)


class Ground(TestCase):
    def test_the_yearly_wave_is_damped_and_late(self) -> None:
        """At z = d the wave has 1/e of its swing and comes a twelfth-and-half of a year, 365/2π days, later."""
        climate, alpha = shipped("corrie"), 1.0e-6
        mean, amplitude, phase = yearly_wave(climate)
        depth = float(np.sqrt(alpha * 365 * 86400 / np.pi))
        deep = ground_temperature_c(climate, depth, alpha)
        self.assertAlmostEqual(float(deep.max() - mean), amplitude / np.e, places=3)
        late = (int(deep.argmax()) - 8760 * phase / (2 * np.pi)) / 24 % 365
        self.assertAlmostEqual(late % 365, 365 / (2 * np.pi), delta=0.2)

    def test_a_slab_against_wet_soil_runs(self) -> None:
        from core.moisture.transient.solve import simulate

        slab = BuildUp(
            layers=[layer("slab", "concrete", 120), layer("board", "cork_board", 60), layer("oak", "oak_floor", 22)]
        )
        case = model_of(slab, Place(kind="floor", adjoining="ground", factor_b=0.5)).case
        time = case.time.model_copy(update={"repeat": "once", "length_s": 90 * 86400.0})
        outcome = simulate(case.model_copy(update={"time": time}))
        self.assertGreater(float(outcome.rh(0, -1)), 0.98)
        self.assertLess(outcome.water_balance_error, 1e-6)

    def test_a_roof_under_an_unheated_space_lies_between(self) -> None:
        from core.moisture.transient.boundary import build_boundary

        case = model_of(WALL, Place(adjoining="unheated", factor_b=0.5)).case
        series = build_boundary(case).series
        weather = build_boundary(model_of(WALL, Place()).case).series
        middle = 0.5 * (weather[:, 0, 0, 0] + weather[:, 1, 0, 0])
        self.assertLess(float(np.abs(series[:, OUTSIDE, T_ENV, 0] - middle).max()), 1e-9)


class Airs(TestCase):
    def test_a_reflective_face_nearly_doubles_an_air_layer(self) -> None:
        """ISO 6946 Annex D, 25 mm, horizontal: 1/(1.25 + 0.05·5.15) = 0.66 against 0.18 of the table."""
        self.assertAlmostEqual(faced_air_layer_resistance(0.025, "horizontal", (0.05, 0.9)), 0.664, delta=0.01)
        plain = [layer("a", "brick_old", 100), layer("gap", "air_unventilated", 25), layer("b", "gypsum_board", 12.5)]
        foil = [plain[0], plain[1], layer("foil", "foil_reflective"), plain[2]]
        self.assertAlmostEqual(resistances(plain, "horizontal")[1], 0.18, places=6)
        self.assertGreater(resistances(foil, "horizontal")[1], 0.6)
        vented = [plain[0], layer("gap", "air_vented", 25), plain[2]]
        self.assertAlmostEqual(resistances(vented, "horizontal")[1], 0.09, places=6)
        self.assertLess(transmittance(BuildUp(layers=foil), "wall").u_clear, transmittance(BuildUp(layers=plain), "wall").u_clear)  # fmt: skip

    def test_a_leak_goes_where_air_cools(self) -> None:
        self.assertEqual(Leaks(WALL, Place()).air_leak_layer(), "stone")
        other = WALL.model_copy(update={"air_leak": AirLeakage(preset="leaky", after_layer="wool")})
        self.assertEqual(Leaks(other, Place()).air_leak_layer(), "wool")
        with self.assertRaises(ValidationError):
            BuildUp.model_validate({**WALL.model_dump(), "air_leak": {"preset": "leaky", "after_layer": "nowhere"}})
        with self.assertRaises(ValidationError):
            AirLeakage(preset="q50")


class BuiltInWater(TestCase):
    def test_a_layer_put_in_wet_starts_wet_and_the_rest_does_not(self) -> None:
        from core.moisture.transient.solve import simulate

        wet = WALL.model_copy(
            update={"layers": [WALL.layers[0], WALL.layers[1].model_copy(update={"start_rh": 0.98}), *WALL.layers[2:]]}
        )
        case = model_of(wet, Place(start_rh=0.7)).case
        time = case.time.model_copy(update={"repeat": "once", "length_s": 86400.0})
        outcome = simulate(case.model_copy(update={"time": time}))
        plain = simulate(model_of(WALL, Place(start_rh=0.7)).case.model_copy(update={"time": time}))
        self.assertGreater(outcome.start_layer_water[1], 1.5 * plain.start_layer_water[1])
        self.assertAlmostEqual(outcome.start_layer_water[0], plain.start_layer_water[0])


class SteadyMore(TestCase):
    def test_the_vapour_profile_adds_up(self) -> None:
        profile = vapour_profile(WALL)
        totals = {round(p.outward_sd_m + p.inward_sd_m, 9) for p in profile}
        self.assertEqual(len(totals), 1)
        self.assertAlmostEqual(profile[0].outward_sd_m, 18 * 0.4)

    def test_free_drying_takes_longer_behind_a_tight_sheet(self) -> None:
        place, climate = Place(), shipped("corrie")
        open_ = free_drying(WALL, place, climate, "wool")
        tight = WALL.model_copy(update={"layers": [*WALL.layers[:2], layer("sheet", "membrane_tight"), WALL.layers[3]]})
        closed = free_drying(tight, place, climate, "wool")
        assert open_.months is not None
        self.assertTrue(closed.months is None or closed.months > open_.months)
        self.assertLess(open_.left_g_m2[-1], 0.5)
        with self.assertRaises(OutOfRange):
            free_drying(WALL, place, climate, "nowhere")
