"""Behaviours that physics decides, as comparisons and hand figures; grid, weather end and documents."""

from __future__ import annotations

import json
from typing import Any
from unittest import TestCase

import numpy as np

from core.assembly.to_case import model_of
from core.buildup.model import BuildUp, BuildUpLayer, Place
from core.case import Case, ClimateColumns, Layer, Plane, case_from_dict
from core.cases.examples import rained_wall
from core.cases.vode import vode_month
from core.climate.data import first_hour, shipped
from core.climate.sun import radiation_on_face
from core.errors import CaseRefused, OutOfRange
from core.moisture.transient.boundary import build_boundary
from core.moisture.transient.columns import BY_FILM, INSIDE, OFFERED, OUTSIDE, RAIN, VAPOUR
from core.moisture.transient.grid import build_grid, cell_sizes, plane_place
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import simulate
from core.physics.constants import STEFAN_BOLTZMANN, ZERO_CELSIUS
from core.physics.moist_air import saturation_pressure
from core.tests.helpers import FIBRE, case, film, small

DAY = 86400.0
HALF_YEAR = 182 * DAY


def layer(id_: str, material: str, mm: float | None = None) -> BuildUpLayer:
    return BuildUpLayer(id=id_, material=material, thickness_mm=mm)


BRICK = [layer("brick", "brick_old", 330), layer("plaster", "lime_plaster", 15)]


def years(layers: list[BuildUpLayer], passes: int = 2, rain: bool = True, **place: Any) -> tuple[Case, Outcome]:
    """The hourly years of a wall for a fixed number of passes, with or without rain on it."""
    built = model_of(BuildUp(layers=layers), Place(**{"facing_deg": 270, "exposure": "exposed", **place})).case
    outside = built.outside
    if not rain:
        dry = outside.rain.model_copy(update={"method": "none"})  # type: ignore[union-attr]
        outside = outside.model_copy(update={"rain": dry})
    timed = built.time.model_copy(update={"repeat": "fixed", "fixed_passes": passes})
    changed = built.model_copy(update={"outside": outside, "time": timed})
    return changed, simulate(changed)


def mean_water(outcome: Outcome, index: int = 0) -> float:
    return float(outcome.layer_water[outcome.last_pass, index].mean())


def mean_rh(outcome: Outcome, plane: str) -> float:
    return float(outcome.rh(outcome.planes[plane], outcome.last_pass).mean())


class Behaviour(TestCase):
    def test_rain_wets_the_wall_and_its_absence_dries_it(self) -> None:
        _, wet = years(BRICK)
        _, dry = years(BRICK, rain=False)
        self.assertGreater(mean_water(wet), 3.0 * mean_water(dry))
        self.assertEqual(float(dry.flux[:, OUTSIDE, OFFERED].sum()), 0.0)

    def test_without_rain_north_is_wetter_than_south(self) -> None:
        _, north = years(BRICK, rain=False, facing_deg=0)
        _, south = years(BRICK, rain=False, facing_deg=180)
        self.assertGreater(mean_water(north), mean_water(south))

    def test_with_rain_the_weather_face_is_wetter_than_the_lee(self) -> None:
        _, west = years(BRICK, facing_deg=270)
        _, east = years(BRICK, facing_deg=90)
        self.assertGreater(mean_water(west), 1.5 * mean_water(east))

    def test_inside_insulation_leaves_the_masonry_wetter(self) -> None:
        _, bare = years(BRICK)
        _, lined = years(
            [
                *BRICK,
                layer("f", "mineral_fibre_035", 80),
                layer("m", "membrane_retarder"),
                layer("b", "gypsum_board", 12.5),
            ]
        )
        self.assertGreater(mean_water(lined), 1.1 * mean_water(bare))
        self.assertLess(lined.temperature_c(0, lined.last_pass).mean(), bare.temperature_c(0, bare.last_pass).mean())

    def test_outside_insulation_leaves_it_drier_and_warmer(self) -> None:
        _, bare = years(BRICK)
        _, clad = years([layer("r", "cement_render", 15), layer("e", "eps_035", 100), *BRICK])
        brick = 2
        self.assertLess(mean_water(clad, brick), 0.6 * mean_water(bare))
        self.assertGreater(
            clad.temperature_c(clad.cells_of(brick), clad.last_pass).min(),
            bare.temperature_c(bare.cells_of(0), bare.last_pass).min() + 5,
        )

    def test_a_tight_inner_sheet_collects_water_on_its_outer_face_in_a_humid_cooled_summer_and_not_in_winter(
        self,
    ) -> None:
        def wall(outside: tuple[float, float], inside: tuple[float, float]) -> float:
            raw = small(
                layers=[
                    {"kind": "layer", "material": "stone", "thickness_m": 0.2},
                    {"kind": "layer", "material": "fibre", "thickness_m": 0.08},
                    {"kind": "membrane", "sd_m": 200},
                    {"kind": "layer", "material": "stone", "thickness_m": 0.012},
                ],
                initial={"temperature_c": 22, "rh": 0.85},
                outside=film(*outside, h=20, beta=1e-7),
                inside=film(*inside),
                output={"planes": [{"name": "sheet", "after_layer": 2, "side": "outer"}]},
                time={"length_s": 60 * DAY},
            )
            outcome = simulate(case_from_dict(raw))
            return float(outcome.rh(outcome.planes["sheet"], -1))

        self.assertGreater(wall((32, 0.75), (21, 0.55)), 0.97)
        self.assertLess(wall((-5, 0.85), (20, 0.45)), 0.6)

    def test_a_variable_membrane_is_tight_in_winter_and_open_in_summer(self) -> None:
        """No constant sheet lets out as much in summer for as little let in in winter."""

        def balance(sheet: dict[str, Any]) -> tuple[float, float]:
            def half(out: tuple[float, float], room: tuple[float, float], wet: bool) -> float:
                raw = small(
                    layers=[
                        {
                            "kind": "layer",
                            "material": "stone",
                            "thickness_m": 0.02,
                            "initial": {"temperature_c": 15, "rh": 0.98 if wet else 0.8},
                        },
                        {"kind": "layer", "material": "fibre", "thickness_m": 0.1},
                        {"kind": "membrane", **sheet},
                        {"kind": "layer", "material": "stone", "thickness_m": 0.012},
                    ],
                    outside={"type": "separate", "heat": film(*out, h=20)["heat"], "moisture": {"type": "tight"}},
                    inside=film(*room),
                    output={"planes": [{"name": "p", "after_layer": 0}]},
                    time={"length_s": 30 * DAY},
                )
                outcome = simulate(case_from_dict(raw))
                between = outcome.layer_water[:, :2].sum(axis=1)
                return float(between[-1] - between[0])

            return half((0, 0.85), (20, 0.45), False), -half((24, 0.7), (23, 0.5), True)

        variable_in, variable_out = balance(
            {"sd_by_rh": [[0, 10], [0.4, 10], [0.6, 4], [0.75, 1.2], [0.9, 0.4], [1, 0.25]]}
        )
        for sd in (0.1, 0.3, 1.0, 3.0, 10.0, 30.0):
            constant_in, constant_out = balance({"sd_m": sd})
            with self.subTest(sd=sd):
                self.assertTrue(constant_in > variable_in or constant_out < variable_out)

    def test_evaporation_cools_a_wet_face_to_its_wet_bulb(self) -> None:
        """A wet adiabatic slab in moving air: h (T_air − T) = L β (p_sat(T) − p_air), within 0.05 K."""
        h, beta, air, rh = 15.0, 1.05e-7, 20.0, 0.5
        raw = small(
            layers=[{"kind": "layer", "material": "stone", "thickness_m": 0.02}],
            initial={"temperature_c": 20, "w_kg_m3": 139.0},
            outside=film(air, rh, h=h, beta=beta),
            inside={"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}},
            output={"planes": [{"name": "face", "after_layer": -1}]},
            time={"length_s": 3 * 3600},
        )
        outcome = simulate(case_from_dict(raw))
        seen, wet = float(outcome.temperature_c(0, -1)), float(outcome.rh(0, -1))
        low, high = 0.0, air
        for _ in range(60):
            middle = 0.5 * (low + high)
            vapour = beta * (
                wet * float(saturation_pressure(middle + ZERO_CELSIUS))
                - rh * float(saturation_pressure(air + ZERO_CELSIUS))
            )
            low, high = (
                (middle, high) if h * (air - middle) > (2.501e6 + (1840 - 4187) * middle) * vapour else (low, middle)
            )
        self.assertAlmostEqual(seen, low, delta=0.05)

    def test_wet_masonry_dries_through_a_film_at_the_films_rate_at_first(self) -> None:
        """Liquid brings water to the face: the first hours lose β (p_sat − p_air), not what vapour alone could carry."""
        beta = 5e-8
        raw = small(
            layers=[{"kind": "layer", "material": "stone", "thickness_m": 0.2}],
            initial={"temperature_c": 20, "w_kg_m3": 130.0},
            outside=film(20, 0.5, h=1000.0, beta=beta),
            inside={"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}},
            output={"planes": [{"name": "face", "after_layer": -1}]},
            time={"length_s": 6 * 3600},
        )
        outcome = simulate(case_from_dict(raw))
        rate = -float(outcome.flux[2:, OUTSIDE, VAPOUR].mean())
        potential = beta * 0.5 * float(saturation_pressure(293.15))
        self.assertAlmostEqual(rate / potential, 1.0, delta=0.05)

    def test_our_solver_and_a_general_integrator_agree(self) -> None:
        rows = {row["what"]: row["measured"] for row in vode_month(rained_wall(), 2 * DAY)}
        for what in ("ours at the end", "vode at the end, rtol 1e-05", "vode at the end, rtol 1e-06"):
            self.assertLess(rows[f"one month without rain, RH error of {what}"], 0.25)


class WeatherEnd(TestCase):
    def test_film_radiation_and_rain_of_an_hour_by_hand(self) -> None:
        built = build_boundary(rained_wall())
        climate = shipped("corrie")
        at = (first_hour("10-01") + 5000) % 8760
        kelvin = climate["temperature_c"][at] + ZERO_CELSIUS
        convective = 4 + 4 * 0.5 * climate["wind_speed_m_s"][at]
        series = built.series[5000, 0, :, 0]
        self.assertAlmostEqual(series[0], kelvin)
        self.assertAlmostEqual(series[1], convective + 4 * 0.9 * STEFAN_BOLTZMANN * kelvin**3)
        sun = radiation_on_face(climate, 315, 90, 0.2)[at]
        sky = 0.9 * 0.5 * (climate["sky_longwave_w_m2"][at] - STEFAN_BOLTZMANN * kelvin**4)
        self.assertAlmostEqual(series[2], 0.6 * sun + sky)
        self.assertAlmostEqual(series[4], 7e-9 * convective)
        self.assertAlmostEqual(
            float(built.series[:, OUTSIDE, RAIN, 0].sum() * 3600), 0.7 * built.driven_rain_kg_m2, places=6
        )
        self.assertTrue(built.runoff_on[0] and not built.runoff_on[1])

    def steady_face(
        self, diffuse: float, sky: float, wind: float = 0.0, absorptance: float = 0.95, air: float = 25.0
    ) -> tuple[float, float]:
        """T of a flat insulated face [K] under an even sky after two days, and what its balance leaves over [W/m²]."""
        hours = 48
        given = {
            "latitude_deg": 40.0,
            "longitude_deg": 0.0,
            "temperature_c": [air] * hours,
            "relative_humidity": [0.4] * hours,
            "beam_normal_w_m2": [0.0] * hours,
            "diffuse_horizontal_w_m2": [diffuse] * hours,
            "wind_speed_m_s": [wind] * hours,
            "wind_direction_deg": [0.0] * hours,
            "rain_mm": [0.0] * hours,
            "sky_longwave_w_m2": [sky] * hours,
        }
        built = case(
            climates={"even": given},
            materials={"fibre": FIBRE},
            initial={"temperature_c": air, "rh": 0.2},
            layers=[{"kind": "layer", "material": "fibre", "thickness_m": 0.1}],
            outside={
                "type": "weather",
                "climate": "even",
                "facing_deg": 0,
                "slope_deg": 0,
                "absorptance": absorptance,
                "coating_sd_m": 1000.0,
            },
            inside={"type": "separate", "heat": {"type": "adiabatic"}, "moisture": {"type": "tight"}},
            time={"start": "01-01", "length_s": hours * 3600},
            output={},
        )
        face = float(simulate(built).temperature[-1, 0])
        kelvin = air + ZERO_CELSIUS
        emitted = 0.9 * STEFAN_BOLTZMANN * face**4
        left = absorptance * diffuse + 0.9 * sky - emitted - (4.0 + 4.0 * 0.5 * wind) * (face - kelvin)
        return face, left

    def test_a_face_in_still_sun_gives_off_the_fourth_power(self) -> None:
        """760 W/m² on a black insulated face in still air: 86 °C, not the 98 °C of a film at the air's temperature."""
        face, left = self.steady_face(800.0, 380.0)
        self.assertAlmostEqual(left, 0.0, delta=0.5)
        linear = (760.0 + 0.9 * (380.0 - STEFAN_BOLTZMANN * 298.15**4)) / (4.0 + 3.6 * STEFAN_BOLTZMANN * 298.15**3)
        self.assertGreater(25.0 + linear, 95.0)
        self.assertLess(face - ZERO_CELSIUS, 88.0)

    def test_a_face_beyond_100_degrees_is_refused_with_the_degrees(self) -> None:
        with self.assertRaisesRegex(OutOfRange, "the computation holds from −60 to 100 °C"):
            self.steady_face(1200.0, 450.0)
        with self.assertRaisesRegex(OutOfRange, r"sun and sky give it \d+ W/m² in air of 25 °C. Check its colour"):
            self.steady_face(1200.0, 450.0)

    def test_a_face_under_60_degrees_of_frost_ends_with_its_cause(self) -> None:
        with self.assertRaisesRegex(
            OutOfRange, r"−6\d °C there.*the air outside is −52 °C then, and the sky takes \d+ W/m²"
        ):
            self.steady_face(0.0, 40.0, air=-52.0)

    def test_a_face_under_a_clear_night_sky(self) -> None:
        for wind in (0.0, 2.0, 8.0):
            with self.subTest(wind=wind):
                face, left = self.steady_face(0.0, 300.0, wind)
                self.assertAlmostEqual(left, 0.0, delta=0.2)
                self.assertLess(face, 25.0 + ZERO_CELSIUS)

    def test_only_an_end_in_the_weather_emits_on_its_own(self) -> None:
        self.assertAlmostEqual(build_boundary(rained_wall()).emission[0], 0.9 * STEFAN_BOLTZMANN)
        self.assertEqual(build_boundary(rained_wall()).emission[1], 0.0)
        self.assertEqual(build_boundary(case()).emission.tolist(), [0.0, 0.0])

    def test_weather_given_in_the_case_equals_the_shipped_one(self) -> None:
        climate = shipped("corrie")
        names = [
            n
            for n in ClimateColumns.model_fields
            if n.endswith(("_c", "_humidity", "_m2", "_m_s", "_deg", "_mm")) and n in climate.columns
        ]
        columns = {name: climate[name].tolist() for name in names}
        given = {"latitude_deg": climate.latitude, "longitude_deg": climate.longitude, "utc_offset_h": 0.0, **columns}
        document = rained_wall().model_dump(mode="json")
        document["time"] = {"length_s": 5 * DAY}
        own = json.loads(json.dumps(document))
        own["climates"] = {"corrie": given}
        first, second = simulate(case_from_dict(document)), simulate(case_from_dict(own))
        self.assertLess(np.abs(first.temperature[-1] - second.temperature[-1]).max(), 0.02)

    def test_a_climate_of_another_program_version_is_refused(self) -> None:
        document = rained_wall().model_dump(mode="json")
        document["climates"]["corrie"]["sha256"] = "0" * 64
        with self.assertRaisesRegex(CaseRefused, "differs from the one the case was made with"):
            build_boundary(case_from_dict(document))
        document["climates"]["corrie"]["shipped"] = "../secret"
        with self.assertRaisesRegex(CaseRefused, "no climate"):
            build_boundary(case_from_dict(document))

    def test_temperatures_and_rain_out_of_range(self) -> None:
        with self.assertRaises(OutOfRange):
            build_boundary(case(outside=film({"values": [200.0] * 240}, 0.5)))
        with self.assertRaises(OutOfRange):
            build_boundary(case(outside=film(5, 0.5, rain_kg_m2s={"values": [-1e-4] * 240})))


class GridAndPlanes(TestCase):
    def test_cells_fill_the_layer_and_are_small_at_its_faces(self) -> None:
        for thickness in (0.001, 0.0125, 0.08, 0.5, 2.0):
            sizes = cell_sizes(Layer(material="m", thickness_m=thickness), thickness)
            self.assertAlmostEqual(float(sizes.sum()), thickness)
            self.assertLessEqual(sizes[0], 0.0015)
            self.assertTrue(np.allclose(sizes, sizes[::-1]))
            self.assertEqual(len(cell_sizes(Layer(material="m", thickness_m=thickness), thickness, 3)), 3 * len(sizes))

    def test_planes_find_their_face_or_depth(self) -> None:
        built = case()
        grid = build_grid(built, {"stone": 0, "fibre": 1})
        self.assertEqual(plane_place(built, grid, Plane(name="o", after_layer=-1)).node, 0)
        between = plane_place(built, grid, Plane(name="b", after_layer=0))
        self.assertAlmostEqual(grid.depth[between.node], 0.2)
        self.assertEqual(grid.volume[between.node], 0.0)
        self.assertNotEqual(grid.material_left[between.node], grid.material_right[between.node])
        inside = plane_place(built, grid, Plane(name="d", after_layer=0, depth_m=0.05))
        first, second = grid.depth[inside.node], grid.depth[inside.next_node]
        self.assertAlmostEqual(first + (second - first) * inside.share, 0.05, places=9)
        with self.assertRaisesRegex(CaseRefused, "deeper"):
            plane_place(built, grid, Plane(name="x", after_layer=0, depth_m=0.3))

    def test_water_on_either_side_of_a_face(self) -> None:
        """Stone and fibre share a face and its RH; each side has the water of its own material, and a profile both."""
        planes = [
            {"name": "stone side", "after_layer": 0, "side": "outer"},
            {"name": "fibre side", "after_layer": 0, "side": "inner"},
            {"name": "in the stone", "after_layer": 0, "depth_m": 0.1999},
        ]
        outcome = simulate(case(output={"planes": planes}, time={"length_s": 86400}))
        stone, fibre, near = (outcome.plane_series(plane["name"]) for plane in planes)
        self.assertEqual(stone[1].tolist(), fibre[1].tolist())
        self.assertGreater(stone[2][-1], 30.0 * fibre[2][-1])
        self.assertAlmostEqual(float(near[2][-1]), float(stone[2][-1]), delta=0.2)
        profile = outcome.profile(-1)
        both = [w for depth, w in zip(profile["depth_m"], profile["w_kg_m3"], strict=True) if abs(depth - 0.2) < 1e-12]
        self.assertEqual([round(w, 6) for w in both], [round(float(s[2][-1]), 6) for s in (stone, fibre)])
        at = outcome.profile_at(-1, [0.19999, 0.20001])["w_kg_m3"]
        self.assertAlmostEqual(at[0], both[0], delta=0.05)
        self.assertAlmostEqual(at[1], both[1], delta=0.01)

    def test_result_document_says_it_all(self) -> None:
        built = case(
            output={
                "planes": [{"name": "between", "after_layer": 0}],
                "profile_times_s": [5 * DAY],
                "profile_depths_m": [0.0, 0.1],
            }
        )
        document = simulate(built).as_document()
        self.assertEqual(case_from_dict(document["case"]), built)
        self.assertEqual(len(document["profiles"][0]["w_kg_m3"]), 2)
        self.assertEqual(len(document["time_s"]), 240)
        self.assertEqual(
            set(document["fluxes"]["outside"]), {"heat_film", "radiation", "vapour", "liquid", "rain", "run_off"}
        )
        sums = document["summary"]["last_pass_sums"]
        taken = sums["outside"]["vapour_in_kg_m2"] + sums["inside"]["vapour_in_kg_m2"]
        self.assertAlmostEqual(taken, document["summary"]["balances"]["water_stored_kg_m2"], places=8)

    def test_recording_by_the_day(self) -> None:
        daily = simulate(case(output={"step_s": DAY, "planes": [{"name": "between", "after_layer": 0}]}))
        hourly = simulate(case())
        self.assertEqual(len(daily.z), 10)
        self.assertAlmostEqual(
            float(daily.rh(daily.planes["between"], -1)), float(hourly.rh(hourly.planes["between"], -1)), places=6
        )
        self.assertAlmostEqual(
            float(daily.flux[:, INSIDE, BY_FILM].mean()), float(hourly.flux[:, INSIDE, BY_FILM].mean()), places=6
        )
