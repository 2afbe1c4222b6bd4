"""Steps of two stages: what they make of a sheet, their order, the balances, and where they are not taken."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np
from numpy.typing import NDArray

from core.assembly.model import Model
from core.assembly.to_case import model_of
from core.buildup.model import Place
from core.case import Case
from core.cases.practice import build_up
from core.cases.refine import LIMIT_POINTS, points_apart
from core.cases.stress import random_case
from core.moisture.transient import kernel
from core.moisture.transient.columns import LIQUID, OUTSIDE
from core.moisture.transient.outcome import Outcome
from core.moisture.transient.solve import runner_of, simulate
from core.tests.helpers import case, film

HOUR = 3600.0
SHEET: dict[str, Any] = {
    "retention": {"form": "kuenzel", "w80_kg_m3": 1e-4, "free_saturation_kg_m3": 1e-3},
    "liquid": {"form": "none"},
    "vapour": {"mu": 1e6},
    "heat": {"density_kg_m3": 7800, "specific_heat_j_kgk": 450, "conductivity_w_mk": 50},
}
# Coverings and coats of 1 to 20 mm over timber, fibre and stone, that the demo has not.
COVERED: dict[str, tuple[Place, list[tuple[str, float]]]] = {
    "barn of sheet steel": (
        Place(kind="roof", slope_deg=20, facing_deg=180, climate="ostmoor"),
        [("steel_sheet", 0.7)],
    ),
    "slates on boards": (
        Place(kind="roof", slope_deg=45, facing_deg=270, climate="karrental"),
        [("fibre_cement_slates", 5), ("sarking_boards", 25), ("cellulose_dense", 220), ("gypsum_board", 12.5)],
    ),
    "boarded stone": (
        Place(facing_deg=135, climate="sollera"),
        [("larch_boards", 18), ("wood_fibre_board", 60), ("sandstone_rubble", 300)],
    ),
    "rendered": (
        Place(facing_deg=225, climate="corrie", exposure="severe"),
        [("lime_render", 20), ("wood_fibre_board", 100), ("sandstone_rubble", 500)],
    ),
}


def model(name: str) -> Model:
    place, layers = COVERED[name]
    return model_of(
        build_up(*((material, material, mm) for material, mm in layers)), place.model_copy(update={"works_on": "10-01"})
    )


def once(of: Case, days: float) -> Case:
    return of.model_copy(update={"time": of.time.model_copy(update={"repeat": "once", "length_s": days * 86400.0})})


def stepped(of: Case, largest_s: float, stages: int, **more: Any) -> Outcome:
    time = of.time.model_copy(update={"largest_step_s": largest_s, "stages": stages, "repeat": "once", **more})
    return simulate(of.model_copy(update={"time": time}))


def sheet(hours: list[float], **time: Any) -> Case:
    """A steel sheet of 1 mm under air that jumps from hour to hour, dry on both sides."""
    outside = film({"step_s": HOUR, "values": hours}, 0.5, h=20.0, beta=1e-12)
    return case(
        materials={"sheet": SHEET},
        layers=[{"kind": "layer", "name": "sheet", "material": "sheet", "thickness_m": 1e-3}],
        initial={"temperature_c": 0.0, "rh": 0.5},
        outside=outside,
        inside=film(0.0, 0.5, h=5.0, beta=1e-12),
        time={"length_s": len(hours) * HOUR, **time},
        output={"planes": [{"name": "face", "after_layer": 0}]},
    )


class Sheet(TestCase):
    def test_a_jump_leaves_what_the_method_says(self) -> None:
        """One node in effect: (1 − (1 − 2γ) k) / (1 + γ k)² of a jump is left after a step of k time constants."""
        capacity = 7800 * 450 * 1e-3
        for largest in (HOUR, 720.0, 120.0):
            # the first hour settles at 16 °C and lets the steps grow; the second jumps back to rest
            outcome = stepped(sheet([20.0] * 6 + [0.0] * 2), largest, 2)
            k = 25.0 * largest / capacity
            left = ((1.0 - (1.0 - 2.0 * kernel.GAMMA) * k) / (1.0 + kernel.GAMMA * k) ** 2) ** (HOUR / largest)
            found = outcome.temperature[6, 0] - 273.15
            self.assertAlmostEqual(found, 16.0 * left, delta=0.02)

    def test_the_jump_dies_where_smaller_steps_see_it_die(self) -> None:
        jump = sheet([20.0] * 6 + [0.0] * 2)
        ringing = abs(stepped(jump, HOUR, 2).temperature[6, 0] - 273.15)
        self.assertLess(ringing, 0.08 * 16.0, "a fifteenth of the jump; the second-order method leaves twice that")
        self.assertGreater(ringing, 0.01 * 16.0)
        self.assertLess(abs(stepped(jump, 60.0, 2).temperature[6, 0] - 273.15), 0.01)


class Order(TestCase):
    def test_two_stages_leave_a_fraction_of_what_one_leaves(self) -> None:
        """A stone that cools over days: the error of the first order is 2γ − γ² − ½ against ½."""
        cooling = case(time={"length_s": 3 * 86400}, inside=film(3.0, 0.85))

        def temperature(step: float, stages: int) -> NDArray[np.float64]:
            return stepped(cooling, step, stages).temperature[23, :].astype(float)

        fine = temperature(60.0, 2)
        one, two = (np.abs(temperature(HOUR, stages) - fine).max() for stages in (1, 2))
        expected = (2.0 * kernel.GAMMA - kernel.GAMMA**2 - 0.5) / 0.5
        self.assertGreater(one, 0.02)
        self.assertAlmostEqual(two / one, expected, delta=0.05)


class Balances(TestCase):
    def test_water_and_energy_close_on_walls_with_everything_in_them(self) -> None:
        for seed in range(1, 24, 2):
            of = random_case(seed)
            self.assertEqual(of.time.stages, 2)
            with self.subTest(seed=seed):
                outcome = stepped(of, HOUR, 2, length_s=10 * 86400.0)
                self.assertLess(outcome.water_balance_error, 1e-6)
                self.assertLess(outcome.energy_balance_error, 1e-6)

    def test_what_the_second_stage_left_is_what_is_owed(self) -> None:
        """Its residual, reckoned again from nothing with what the first stage brought."""
        taken = 0
        for seed in range(1, 24, 2):
            of = random_case(seed)
            run = runner_of(of)
            state, steps = run.state, run.time._replace(step_s=300.0)
            state.control[kernel.NEXT_STEP_S] = 300.0
            records = kernel.Records(
                np.zeros((1, len(state.z)), np.float32), np.zeros((1, len(state.z)), np.float32),
                np.zeros((1, run.nodes.layer_count + 1)), np.zeros((1, 2, 6)),
                np.zeros((1, len(run.openings.node) + 1, 2)),
            )  # fmt: skip
            parts = (run.nodes, run.materials, run.constants)
            work = kernel.begin(*parts, run.openings, state)
            again = kernel.begin(*parts, run.openings, state)
            kernel.advance(0, 1, 0, *parts, run.ends, run.openings, steps, state, records, work)
            if state.stats[kernel.STEPS] != 1:
                continue
            taken += 1
            again.owed[:] = work.owed
            again.ends[:] = run.ends.series[0, :, :, 1]
            kernel.assemble(0, kernel.GAMMA * 300.0, True, state.z, state.T, *parts, run.ends, run.openings, again)
            for owed, column, tolerance in (
                (state.carry_mass, 0, steps.tolerance_mass),
                (state.carry_energy, 1, steps.tolerance_energy),
            ):
                with self.subTest(seed=seed, column=column):
                    self.assertLessEqual(np.abs(again.rhs[:, column]).max(), tolerance * (1.0 + 1e-3))
                    np.testing.assert_allclose(owed, -again.rhs[:, column], atol=1e-2 * tolerance)
            self.assertGreater(np.abs(work.owed).max(), 0.0)
        self.assertGreater(taken, 4)

    def test_held_ends_take_what_the_wall_takes(self) -> None:
        """A surface whose temperature and RH are given: its fluxes are the wall's balance, over both stages."""
        held = {
            "type": "separate",
            "heat": {"type": "surface", "temperature_c": 20},
            "moisture": {"type": "surface", "rh": 0.4},
        }
        outcome = stepped(case(inside=held), HOUR, 2)
        self.assertLess(outcome.water_balance_error, 2e-8)
        self.assertLess(outcome.energy_balance_error, 1e-9)
        one = stepped(case(inside=held), 300.0, 1)
        for column in (0, 2):  # heat, vapour
            self.assertAlmostEqual(outcome.flux[-1, 1, column] / one.flux[-1, 1, column], 1.0, delta=2e-5)


class Short(TestCase):
    """Where two stages would extrapolate what is not there, the hour goes on in short steps."""

    def test_a_film_that_dries(self) -> None:
        plain = stepped(sheet([20.0] * 48), HOUR, 2)
        self.assertLess(plain.steps, 48 + 12, "an hour at once where nothing dries")
        made = model("barn of sheet steel")
        of = once(made.case, 90)
        dewy, before, fine = simulate(of), stepped(of, 1200.0, 1), stepped(of, 30.0, 1)
        self.assertGreater(dewy.steps, 24 * 90 + 50)
        face = made.watch_points[-1].name
        self.assertLess(
            points_apart(dewy, fine, face), 0.8 * points_apart(before, fine, face), "what three steps an hour leave"
        )

    def test_a_rained_render_drains_nothing(self) -> None:
        """Extrapolated beyond saturation it gave back a little rain that a wall had taken up."""
        outcome = simulate(once(model("rendered").case, 60))
        self.assertGreater(float(outcome.flux[:, OUTSIDE, LIQUID].sum()) * HOUR, 5.0)
        self.assertEqual(float(outcome.gained[:, 3].min()), 0.0)
        self.assertGreaterEqual(float(outcome.flux[:, OUTSIDE, LIQUID].min()), 0.0)


class ThinCovers(TestCase):
    def test_they_take_two_stages_and_come_within_the_limit(self) -> None:
        """RH at every watched face within, against steps of a minute, over a quarter of a year: half the limit."""
        for name in list(COVERED)[1:]:  # a bare sheet follows its films to the minute, see above
            with self.subTest(name):
                made = model(name)
                self.assertEqual((made.case.time.stages, made.case.time.largest_step_s), (2, HOUR))
                of = once(made.case, 90)
                usual, fine = simulate(of), stepped(of, 60.0, 1)
                for watch in made.watch_points:
                    if watch.role == "face":
                        continue
                    self.assertLess(points_apart(usual, fine, watch.name), 0.5 * LIMIT_POINTS, watch.name)
