"""Runs from the settled wall, what wets a plane, drying in; planes at a depth, films, cancel, leaks at any end."""

from __future__ import annotations

import time
from typing import Any
from unittest import TestCase

import numpy as np

from core import case as c
from core.assembly.model import Model
from core.buildup.model import AirLeakage, BuildUp, Place, RainLeakage
from core.case import case_from_dict
from core.cases.practice import build_up as of
from core.criteria.findings import Run
from core.criteria.run_findings import FOUND_WITH, RunFindings, drying_in, find_all
from core.errors import Cancelled, CaseRefused
from core.moisture.attribution import arriving
from core.moisture.transient.columns import INSIDE, LIQUID, OUTSIDE, VAPOUR
from core.moisture.transient.kernel import FILM_ROUND, FILM_STORAGE, _film
from core.moisture.transient.outcome import SOLVER, Outcome
from core.moisture.transient.solve import simulate
from core.runs import after_years_between, asked, carried, fixed_years, run_years, start_from, started_model
from core.tests.helpers import STONE, case, film, small

STONE_WALL = of(("stone", "sandstone_rubble", 300), ("plaster", "lime_plaster", 20))
LINED = BuildUp(
    layers=[*STONE_WALL.layers, *of(("wool", "mineral_fibre_035", 60), ("sheet", "membrane_tight"), ("board", "gypsum_board", 12.5)).layers]
)  # fmt: skip
RAINED = Place(facing_deg=290, exposure="exposed", climate="corrie")
DRY = Place(facing_deg=45, exposure="sheltered", climate="ostmoor")


def settled(build_up: BuildUp, place: Place, years: int = 2) -> tuple[Model, Outcome]:
    model = fixed_years(asked(build_up, place, None).model, years)
    return model, simulate(model.case)


class FromTheSettledWall(TestCase):
    """An option starts from how as found stands on the day of the works; new layers as they are delivered."""

    model: Model
    option: Outcome
    found: Outcome

    @classmethod
    def setUpClass(cls) -> None:
        one = asked(LINED, RAINED, STONE_WALL)
        cls.one = one
        cls.model, cls.option, found = run_years(one)
        assert found is not None
        cls.found = found

    def test_existing_layers_start_where_as_found_ended(self) -> None:
        at_the_works = [float(x) for x in self.found.layer_water[-1]]
        start = [float(x) for x in self.option.start_layer_water]
        for layer in range(2):
            self.assertAlmostEqual(start[layer] / at_the_works[layer], 1.0, delta=0.02)

    def test_new_layers_start_as_they_are_delivered(self) -> None:
        first = int(self.option.cells_of(self.model.layer_of_entry.index("board"))[0])
        rh = float(self.option.rh(first, 0))
        self.assertTrue(0.3 < rh < 0.85, rh)

    def test_both_runs_begin_on_the_day_of_the_works(self) -> None:
        self.assertEqual(self.model.case.time.start, RAINED.works_on)
        assert self.one.found_model is not None
        self.assertEqual(self.one.found_model.case.time.start, RAINED.works_on)

    def test_the_case_that_was_run_stands_alone(self) -> None:
        """Written and read again it gives the same start and the same hours."""
        again = simulate(c.read_case(self.model.case.model_dump_json()))
        self.assertEqual(again.case.hash, self.model.case.hash)
        np.testing.assert_allclose(again.layer_water, self.option.layer_water, rtol=0, atol=1e-9)

    def test_a_given_outcome_of_as_found_is_not_computed_again(self) -> None:
        said: list[str] = []
        model, outcome, found = run_years(self.one, self.found, lambda share, what: said.append(what))
        self.assertIs(found, self.found)
        self.assertFalse(any("as found first" in what for what in said))
        self.assertEqual(model.case.hash, self.model.case.hash)
        np.testing.assert_array_equal(outcome.z, self.option.z)

    def test_the_key_names_both_cases(self) -> None:
        other = of(("stone", "sandstone_rubble", 310), ("plaster", "lime_plaster", 20))
        self.assertNotEqual(self.one.key, asked(LINED, RAINED, other).key)
        self.assertEqual(self.one.key, asked(LINED, RAINED, STONE_WALL).key)
        alone = asked(STONE_WALL, RAINED, None)
        self.assertIsNone(alone.found_key)
        self.assertEqual(alone.key, alone.model.case.hash)

    def test_the_start_is_of_every_layer_and_lies_within_it(self) -> None:
        assert self.one.found_model is not None
        state = start_from(self.one.found_model, self.found)
        self.assertEqual(set(state), {"stone", "plaster"})
        for layer, mm in (("stone", 300), ("plaster", 20)):
            depths = state[layer].depth_m
            self.assertAlmostEqual(depths[0], 0.0)
            self.assertAlmostEqual(depths[-1], mm / 1000.0, places=5)
            self.assertEqual(len(depths), len(state[layer].temperature_c))
            self.assertTrue(all(s >= 0.0 for s in state[layer].suction_pa))

    def test_without_an_outcome_the_models_own_start_stands(self) -> None:
        self.assertEqual(started_model(self.one, None).case.hash, self.one.model.case.hash)

    def test_drying_in_ends_where_the_cycle_repeats(self) -> None:
        state = drying_in(Run(self.model, self.option))
        self.assertIsNotNone(state.dry_by)
        start = float(self.option.start_layer_water.sum())
        end = float(self.option.layer_water[-24:].sum(axis=1).mean())
        self.assertAlmostEqual(state.extra_kg_m2, start - end, places=6)

    def test_findings_tell_two_stretches_of_time(self) -> None:
        found = find_all(self.model, self.option)
        self.assertEqual((found.solver, found.found_with), (SOLVER, FOUND_WITH))
        mould = found.of("mould")
        self.assertTrue(mould and all(row.drying_in is not None for row in mould))  # type: ignore[attr-defined]
        once = find_all(*settled(STONE_WALL, RAINED, 1))
        self.assertTrue(all(row.drying_in is None for row in once.of("mould")))  # type: ignore[attr-defined]

    def test_what_was_kept_of_a_criterion_that_is_gone_is_left_out(self) -> None:
        found = find_all(self.model, self.option)
        raw = found.model_dump(mode="json")
        raw["findings"].append({"criterion": "ghosts", "place": "attic", "layer_id": "", "boo": 3})
        again = RunFindings.model_validate(raw)
        self.assertEqual(len(again.findings), len(found.findings))
        self.assertFalse(RunFindings.model_validate({**raw, "found_with": "solver 1"}).current)


class BetweenPhases(TestCase):
    """What stands between two phases leaves its water to what comes after."""

    def test_as_found_that_stays_leaves_the_settled_state(self) -> None:
        """Years of the settled wall change nothing of it: its cycle repeats."""
        model, outcome = settled(STONE_WALL, DRY, 3)
        start = start_from(model, outcome)
        after = after_years_between(STONE_WALL, DRY, start, 1, STONE_WALL)
        self.assertEqual(set(after), {"stone", "plaster"})
        for layer in after:
            for before, now in zip(start[layer].suction_pa, after[layer].suction_pa, strict=True):
                self.assertAlmostEqual(np.log(max(now, 1.0)), np.log(max(before, 1.0)), delta=0.05)

    def test_rain_kept_off_for_two_years_leaves_a_drier_stone(self) -> None:
        model, outcome = settled(STONE_WALL, RAINED, 3)
        start = start_from(model, outcome)
        clad = BuildUp(
            layers=[*of(("boards", "larch_boards", 20), ("gap", "air_ventilated", 30)).layers, *STONE_WALL.layers]
        )
        one, two = (after_years_between(clad, RAINED, start, years, LINED) for years in (1, 2))
        self.assertEqual(set(two), {"stone", "plaster"}, "boards and gap are gone when the lining comes")
        suction = [np.median(state["stone"].suction_pa) for state in (start, one, two)]
        self.assertLess(suction[0], suction[1])
        self.assertLess(suction[1], suction[2])

    def test_a_layer_of_another_material_starts_anew(self) -> None:
        start = start_from(*settled(STONE_WALL, DRY, 1))
        other = of(("stone", "sandstone_rubble", 300), ("plaster", "clay_plaster", 20))
        self.assertEqual(set(carried(start, STONE_WALL, other)), {"stone"})


class WhatWets(TestCase):
    """The source that reaches a plane most, on walls where there is no doubt."""

    def sources(self, build_up: BuildUp, place: Place, plane: str) -> dict[str, float]:
        model, outcome = settled(build_up, place)
        node = next(node for name, node in outcome.planes.items() if plane in name)
        return {row.source: row.kg_m2 for row in arriving(outcome, node, node)}

    def first(self, build_up: BuildUp, place: Place, plane: str) -> str:
        found = self.sources(build_up, place, plane)
        return next(iter(found), "")

    def test_rain_through_stone(self) -> None:
        self.assertTrue(self.first(STONE_WALL, RAINED, "sandstone rubble in lime / lime plaster").startswith("rain"))

    def test_room_air_behind_a_lining_without_a_retarder_in_the_cold(self) -> None:
        frame = of(("clad", "larch_boards", 22), ("gap", "air_ventilated", 30), ("osb", "osb", 18), ("fill", "mineral_fibre_035", 140), ("board", "gypsum_board", 12.5))  # fmt: skip
        self.assertTrue(self.first(frame, DRY, "oriented strand board / mineral fibre").startswith("room air"))

    def test_leaking_air_is_told_apart_from_what_diffuses(self) -> None:
        layers = of(("clad", "larch_boards", 22), ("gap", "air_ventilated", 30), ("osb", "osb", 18), ("fill", "mineral_fibre_035", 140), ("sheet", "membrane_tight"), ("board", "gypsum_board", 12.5)).layers  # fmt: skip
        leaky = BuildUp(layers=layers, air_leak=AirLeakage(preset="leaky"))
        tight = BuildUp(layers=layers, air_leak=AirLeakage(preset="none"))
        plane = "oriented strand board / mineral fibre"
        self.assertEqual(self.first(leaky, DRY, plane), "room air through leaks")
        self.assertNotIn("room air through leaks", self.sources(tight, DRY, plane))

    def test_rain_that_leaks_in_is_told_where_it_arrives(self) -> None:
        layers = of(("render", "lime_render", 15), ("foam", "eps_035", 60), ("osb", "osb", 15), ("fill", "mineral_fibre_035", 140), ("board", "gypsum_board", 12.5)).layers  # fmt: skip
        leaky = BuildUp(layers=layers, rain_leak=RainLeakage(share=0.02), air_leak=AirLeakage(preset="none"))
        found = self.sources(leaky, RAINED, "expanded polystyrene 035 / oriented strand board")
        self.assertIn("rain that leaks in", found)
        sound = BuildUp(layers=layers, rain_leak=RainLeakage(share=0.0), air_leak=AirLeakage(preset="none"))
        self.assertNotIn("rain that leaks in", self.sources(sound, RAINED, "expanded polystyrene 035 / oriented"))

    def test_behind_a_ventilated_gap_it_is_the_air_of_the_gap(self) -> None:
        """Rained cladding, but no rain is driven inward through a gap that takes its vapour away."""
        frame = of(("clad", "larch_boards", 22), ("gap", "air_ventilated", 30), ("boards", "sarking_boards", 22), ("fill", "mineral_fibre_035", 140), ("sheet", "membrane_tight"), ("board", "gypsum_board", 12.5))  # fmt: skip
        no_leak = frame.model_copy(update={"air_leak": AirLeakage(preset="none")})
        found = self.sources(no_leak, RAINED, "sarking boards, softwood / mineral fibre")
        self.assertIn("air of the gap", found)
        self.assertNotIn("rain driven inward by the sun", found)

    def test_soil_wets_what_lies_on_it(self) -> None:
        slab = of(("earth", "earth", 300), ("slab", "concrete", 100), ("floor", "oak_floor", 22))
        ground = Place(kind="floor", adjoining="ground", factor_b=0.5, slope_deg=0, climate="ostmoor", ground="wet")
        self.assertEqual(self.first(slab, ground, "concrete, normal / floor boards"), "soil")

    def test_water_that_the_room_lent_to_a_slab_does_not_come_from_the_soil(self) -> None:
        """A tight sheet under the foam: soil gives grams, while the concrete takes and returns kilograms to the room."""
        slab = of(("sheet", "membrane_tight"), ("foam", "xps_034", 100), ("slab", "concrete", 100))
        ground = Place(kind="floor", adjoining="ground", factor_b=0.5, slope_deg=0, climate="ostmoor", ground="wet")
        found = self.sources(slab, ground, "room face of concrete")
        self.assertEqual(next(iter(found)), "room air")
        self.assertLess(found.get("soil", 0.0), 0.05)

    def test_no_side_counts_for_more_than_its_end_took_in(self) -> None:
        for build_up, place in ((STONE_WALL, RAINED), (LINED, RAINED), (LINED, DRY)):
            model, outcome = settled(build_up, place)
            last = outcome.last_pass
            step = outcome.record_step_s
            outer = np.maximum(outcome.flux[last, OUTSIDE, VAPOUR : LIQUID + 1], 0.0).sum() * step
            inner = np.maximum(outcome.flux[last, INSIDE, VAPOUR : LIQUID + 1], 0.0).sum() * step
            inner += np.maximum(outcome.gained[last], 0.0).sum() * step
            for name, node in outcome.planes.items():
                rows = {row.source: row.kg_m2 for row in arriving(outcome, node, node)}
                with self.subTest(place=place.exposure, plane=name):
                    self.assertLessEqual(rows.get("room air", 0.0), float(inner) * 1.001 + 1e-9)
                    from_outside = sum(
                        rows.get(one, 0.0) for one in ("rain", "rain driven inward by the sun", "outside air")
                    )
                    self.assertLessEqual(from_outside, float(outer) * 1.001 + 1e-9)

    def test_the_list_is_in_order_and_has_no_nothing(self) -> None:
        found = self.sources(LINED, RAINED, "lime plaster / mineral fibre")
        self.assertEqual(list(found.values()), sorted(found.values(), reverse=True))
        self.assertTrue(all(kilograms > 0.0 for kilograms in found.values()))


class Planes(TestCase):
    """Planes inside a layer, and either side of a face."""

    def with_planes(self, *planes: dict[str, Any]) -> Outcome:
        return simulate(case_from_dict(small(output={"planes": list(planes)})))

    def test_a_plane_at_a_depth_lies_between_its_nodes(self) -> None:
        outcome = self.with_planes({"name": "deep", "after_layer": 0, "depth_m": 0.1234})
        at = outcome.places["deep"]
        self.assertTrue(0.0 <= at.share <= 1.0)
        low, high = outcome.depth[at.node], outcome.depth[at.next_node]
        self.assertAlmostEqual(float(low + at.share * (high - low)), 0.1234, places=9)
        t, rh, w = outcome.plane_series("deep", slice(-1, None))
        for value, series in ((t, outcome.temperature_c), (rh, outcome.rh)):
            ends = [float(series(node, -1)) for node in (at.node, at.next_node)]
            self.assertTrue(min(ends) - 1e-9 <= float(value[0]) <= max(ends) + 1e-9)
        self.assertGreater(float(w[0]), 0.0)

    def test_a_depth_that_is_not_in_its_layer_is_refused(self) -> None:
        with self.assertRaisesRegex(CaseRefused, "depth|layer"):
            self.with_planes({"name": "deep", "after_layer": 0, "depth_m": 0.5})

    def test_either_side_of_a_face_has_its_own_water_and_one_humidity(self) -> None:
        outcome = self.with_planes(
            {"name": "stone side", "after_layer": 0, "side": "outer"},
            {"name": "fibre side", "after_layer": 0, "side": "inner"},
        )
        stone, fibre = (outcome.plane_series(name, slice(-1, None)) for name in ("stone side", "fibre side"))
        self.assertAlmostEqual(float(stone[1][0]), float(fibre[1][0]))
        self.assertGreater(float(stone[2][0]), 5.0 * float(fibre[2][0]), "stone holds more at the same humidity")

    def test_a_profile_gives_a_face_twice_and_never_mixes_materials(self) -> None:
        outcome = self.with_planes({"name": "between", "after_layer": 0})
        profile = outcome.profile(-1)
        depths = np.array(profile["depth_m"])
        self.assertEqual(int((np.abs(depths - 0.2) < 1e-12).sum()), 2)
        water = np.array(profile["w_kg_m3"])[np.abs(depths - 0.2) < 1e-12]
        self.assertNotAlmostEqual(float(water[0]), float(water[1]), places=2)
        just_inside = outcome.profile_at(-1, [0.2 - 1e-6, 0.2 + 1e-6])["w_kg_m3"]
        self.assertAlmostEqual(just_inside[0], float(water[0]), delta=0.2)
        self.assertAlmostEqual(just_inside[1], float(water[1]), delta=0.2)

    def test_a_repeating_run_without_output_planes_says_what_it_needs(self) -> None:
        raw = small(output={}, time={"length_s": 365 * 86400, "repeat": "until_settled", "largest_step_s": 86400})
        with self.assertRaisesRegex(CaseRefused, "at least one watch plane"):
            simulate(case_from_dict(raw))

    def test_a_run_without_output_planes_goes_through(self) -> None:
        outcome = simulate(case_from_dict(small(output={})))
        self.assertEqual(outcome.planes, {})
        self.assertLess(outcome.water_balance_error, 1e-6)


class Films(TestCase):
    def test_the_film_is_smooth_and_is_the_old_one_away_from_its_corner(self) -> None:
        suctions = np.linspace(-5000.0, 5000.0, 2001)
        held = np.array([_film(p)[0] for p in suctions])
        slopes = np.array([_film(p)[1] for p in suctions])
        self.assertTrue(np.all(held > 0.0) and np.all(np.diff(held) < 0.0))
        self.assertTrue(np.all((slopes >= -FILM_STORAGE) & (slopes <= 0.0)))
        old = FILM_STORAGE * np.maximum(-suctions, 0.0)
        self.assertAlmostEqual(float(np.abs(held - old).max()), 0.5 * FILM_ROUND * FILM_STORAGE, places=6)
        far = np.abs(suctions) > 20 * FILM_ROUND
        self.assertLess(float(np.abs(held - old)[far].max()), 0.03 * FILM_ROUND * FILM_STORAGE)

    def test_its_slope_is_its_derivative(self) -> None:
        for p in (-2000.0, -50.0, -1.0, 0.0, 3.0, 80.0, 4000.0):
            step = 1e-3
            numeric = (_film(p + step)[0] - _film(p - step)[0]) / (2 * step)
            self.assertAlmostEqual(_film(p)[1], numeric, delta=1e-9)

    def test_fibre_that_condenses_on_a_foil_and_runs_dry_goes_through(self) -> None:
        """A van Genuchten fibre before a foil, warm and humid, then cold and dry, ten times: the walls that had stopped."""
        fibre = {
            "retention": {
                "form": "van_genuchten",
                "saturated_kg_m3": 300,
                "terms": [{"share": 1, "a": 2e-4, "n": 2.5}],
            },
            "liquid": {"form": "none"},
            "vapour": {"mu": 1.2},
            "heat": {
                "density_kg_m3": 60,
                "specific_heat_j_kgk": 1030,
                "conductivity_w_mk": 0.035,
                "moisture_supplement": 0,
            },
        }
        days = [1.0 if (day // 2) % 2 == 0 else 0.2 for day in range(40)]
        inside = film({"step_s": 86400, "values": [24.0] * 40}, {"step_s": 86400, "values": [0.9 * d for d in days]})
        layers = [
            {"kind": "layer", "material": "fibre", "thickness_m": 0.1},
            {"kind": "membrane", "sd_m": 1500},
            {"kind": "layer", "material": "fibre", "thickness_m": 0.02},
        ]
        raw = small(
            materials={"fibre": fibre},
            layers=layers[::-1],
            inside=inside,
            time={"length_s": 40 * 86400},
            output={"step_s": 86400},
        )
        outcome = simulate(case_from_dict(raw))
        self.assertLess(outcome.water_balance_error, 1e-6)
        self.assertLess(outcome.refused_steps, outcome.steps)

    def test_freezing_with_liquid_off(self) -> None:
        for liquid in (True, False):
            raw = small(
                switches={"freezing": True, "liquid": liquid},
                initial={"temperature_c": 8, "rh": 0.995},
                outside=film(-12, 0.8, h=20, beta=1e-7),
            )
            with self.subTest(liquid=liquid):
                outcome = simulate(case_from_dict(raw))
                self.assertLess(float(outcome.temperature_c(0, -1)), -8.0)
                self.assertLess(outcome.energy_balance_error, 1e-6)


class CancelAndLeaks(TestCase):
    def test_cancel_is_heard_inside_a_block(self) -> None:
        """A run asked to stop at once ends within seconds, and says that it was cancelled."""
        asked_for = 0

        def stop() -> bool:
            nonlocal asked_for
            asked_for += 1
            return asked_for > 1

        began = time.perf_counter()
        with self.assertRaises(Cancelled):
            simulate(case(time={"length_s": 3650 * 86400, "largest_step_s": 60}), None, stop)
        self.assertLess(time.perf_counter() - began, 60.0)
        self.assertGreaterEqual(asked_for, 2)

    def test_a_rain_leak_at_a_separate_end_takes_its_share_of_the_series(self) -> None:
        outside = film(6, 0.85, h=20, beta=1e-7)
        outside["rain_kg_m2s"] = 2e-5
        raw = small(outside=outside, air={"rain_leaks": [{"after_layer": 0, "share": 0.05}]})
        outcome = simulate(case_from_dict(raw))
        self.assertAlmostEqual(
            float(outcome.gained.sum() * outcome.record_step_s), 0.05 * 2e-5 * 10 * 86400, delta=2e-3
        )
        self.assertLess(outcome.water_balance_error, 1e-6)

    def test_no_share_is_no_leak(self) -> None:
        with self.assertRaises(CaseRefused):
            case(air={"rain_leaks": [{"after_layer": 0, "share": 0.0}]})

    def test_leaking_air_warms_the_plane_it_reaches(self) -> None:
        """Room air that leaks to the cold face of a fill brings its heat: the plane is warmer than without."""
        warmth = {}
        for flow in (0.0, 5e-4):
            leaks = [{"after_layer": 0, "flow_kg_m2s": flow}] if flow else []
            outcome = simulate(case(air={"leaks": leaks}))
            warmth[flow] = float(outcome.temperature_c(outcome.planes["between"], -1))
            self.assertLess(outcome.energy_balance_error, 1e-6)
        self.assertGreater(warmth[5e-4], warmth[0.0] + 0.3)

    def test_materials_are_those_of_the_helpers(self) -> None:
        self.assertEqual(case().materials["stone"].retention.model_dump()["w80_kg_m3"], STONE["retention"]["w80_kg_m3"])  # type: ignore[union-attr]
