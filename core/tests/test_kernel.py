"""The Jacobian of the kernel against finite differences, on walls with everything in them."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from numpy.typing import NDArray

from core.case import Case
from core.cases.stress import random_case
from core.moisture.transient import kernel
from core.moisture.transient.solve import runner_of, simulate
from core.moisture.transient.table_grid import Z_MAX, Z_MIN
from core.tests.helpers import case

Floats = NDArray[np.float64]


class Assembled:
    """The residual of a step of a case as a function of its state."""

    def __init__(self, of: Case, step: int, dt: float) -> None:
        self.run = runner_of(of)
        self.step, self.dt = step, dt
        r = self.run
        self.work = kernel.begin(r.nodes, r.materials, r.constants, r.openings, r.state)
        self.work.ends[:] = r.ends.series[step, :, :, 1]

    def at(self, z: Floats, T: Floats, fresh: bool = True) -> kernel.Work:
        r = self.run
        kernel.assemble(
            self.step, self.dt, fresh, z, T, r.nodes, r.materials, r.constants, r.ends, r.openings, self.work
        )
        return self.work

    def jacobian(self, z: Floats, T: Floats) -> Floats:
        work, n = self.at(z, T), len(z)
        full = np.zeros((2 * n, 2 * n))
        for band, shift in ((work.lower, -1), (work.diagonal, 0), (work.upper, 1)):
            for i in range(max(0, -shift), min(n, n - shift)):
                full[2 * i : 2 * i + 2, 2 * (i + shift) : 2 * (i + shift) + 2] = band[i].reshape(2, 2)
        return full

    def differences(self, z: Floats, T: Floats) -> Floats:
        """Central ones; a column for each unknown, z and T of a node after another."""
        n = len(z)
        full = np.zeros((2 * n, 2 * n))
        for column in range(2 * n):
            node, of_t = divmod(column, 2)
            h = 2e-4 if of_t else 1e-3
            sides = []
            for sign in (1.0, -1.0):
                zz, tt = z.copy(), T.copy()
                (tt if of_t else zz)[node] += sign * h
                sides.append(self.at(zz, tt).rhs.copy().ravel())
            full[:, column] = (sides[0] - sides[1]) / (2.0 * h)
        return full


def off(by_hand: Floats, by_differences: Floats) -> Floats:
    """Differences in units of the largest entry of the row, by z and by T apart."""
    found = np.abs(by_hand - by_differences)
    for of_t in range(2):
        scale = np.abs(by_differences[:, of_t::2]).max(axis=1, keepdims=True)
        found[:, of_t::2] /= np.maximum(scale, 1e-30)
    return found


class Compiled(TestCase):
    def test_one_compilation_serves_every_case(self) -> None:
        """Another layout of an array would be another minute of a core, at the first wall that has it."""
        hour = {"length_s": 3600}
        by_depth = {"temperature_c": [[0, 0], [0.26, 20]], "rh": [[0, 0.9], [0.26, 0.5]]}
        drawn = {"through_kg_m2s": {"step_s": 3600, "values": [1e-5] * 240}}
        for of in (
            case(),
            case(time=hour),
            case(initial=by_depth, time=hour),
            case(air=drawn),
            case(switches={"heat": False}),
        ):
            simulate(of)
        for seed in range(4):
            simulate(random_case(seed))
        self.assertEqual(len(kernel.advance.signatures), 1)


class Jacobian(TestCase):
    def check(self, of: Case, step: int, dt: float, spread: float, seed: int) -> None:
        """Each row to a thousandth of its largest entry. T is spread little: across a tight contact the balance of energy
        would be so large that differences of it say nothing."""
        one = Assembled(of, step, dt)
        rng = np.random.default_rng(seed)
        z = one.run.state.z + rng.normal(0.0, spread, one.run.state.z.shape)
        T = one.run.state.T + rng.normal(0.0, 0.01 * spread, z.shape)
        found = off(one.jacobian(z, T), one.differences(z, T))
        worst = np.unravel_index(found.argmax(), found.shape)
        self.assertLess(found.max(), 1e-3, f"row {worst[0]}, column {worst[1]} of {len(z)} nodes")

    def test_on_random_walls(self) -> None:
        for seed in range(12):
            with self.subTest(seed=seed):
                self.check(random_case(seed), 5, 300.0, 0.05, seed)

    def test_with_frost(self) -> None:
        cold = case(initial={"rh": 0.95, "temperature_c": -4.0}, switches={"freezing": True})
        self.check(cold, 0, 600.0, 0.02, 1)

    def test_without_heat(self) -> None:
        self.check(case(switches={"heat": False}), 0, 600.0, 0.05, 2)

    def test_a_wrong_entry_would_be_found(self) -> None:
        one = Assembled(case(), 0, 600.0)
        z, T = one.run.state.z, one.run.state.T
        by_hand, by_differences = one.jacobian(z, T), one.differences(z, T)
        by_hand[4, 5] *= 1.01
        self.assertGreater(off(by_hand, by_differences).max(), 1e-3)


class Exponentials(TestCase):
    def test_humidity_is_that_of_kelvin_over_all_suctions_and_temperatures(self) -> None:
        """And with other constants than water's, where the tabled range ends before the suctions do."""
        rng = np.random.default_rng(5)
        for of in (case(), case(constants={"water_density_kg_m3": 300.0})):
            one = Assembled(of, 0, 300.0)
            self.assertFalse(one.run.materials.scalars[:, kernel.KELVIN_T].any())
            z, T = one.run.state.z, one.run.state.T
            for _ in range(200):
                z[:] = rng.uniform(Z_MIN, Z_MAX, z.shape)
                T[:] = rng.uniform(213.2, 373.1, T.shape)
                rh = np.exp(-1000.0 * np.sinh(z) / (one.run.constants.rho_rv * T))
                np.testing.assert_allclose(one.at(z, T).left[:, kernel.PHI], rh, rtol=1e-11)


class NothingReckonedTwice(TestCase):
    """Rows that are built only where a node moved, and nodes that stay, leave the balances as they are."""

    def test_rows_beside_what_moved_are_as_if_all_were_built(self) -> None:
        for seed in range(12):
            of = random_case(seed)
            with self.subTest(seed=seed):
                one, other = Assembled(of, 5, 300.0), Assembled(of, 5, 300.0)
                rng = np.random.default_rng(seed)
                z, T = one.run.state.z.copy(), one.run.state.T.copy()
                one.at(z, T)
                for _ in range(4):
                    moved = rng.random(z.shape) < 0.2
                    z += moved * rng.normal(0.0, 0.02, z.shape)
                    T += moved * rng.normal(0.0, 0.02, z.shape)
                    part, whole = one.at(z, T, fresh=False), other.at(z, T)
                    for name in ("rhs", "lower", "diagonal", "upper", "flux", "port_flux", "drain"):
                        np.testing.assert_array_equal(getattr(part, name), getattr(whole, name), name)

    def test_what_a_step_left_is_what_it_owes_and_below_the_tolerance(self) -> None:
        """The residual of a step taken, reckoned again from nothing, on walls with everything in them."""
        taken = 0
        for seed in range(12):
            of = random_case(seed)
            with self.subTest(seed=seed):
                one = Assembled(of, 0, 300.0)
                state, steps = one.run.state, one.run.time._replace(step_s=300.0, stages=1)
                state.control[kernel.NEXT_STEP_S] = 300.0
                hourly = one.run.ends
                still = hourly._replace(series=np.repeat(hourly.series[..., 1:], 2, axis=3))
                records = kernel.Records(
                    np.zeros((1, len(state.z)), np.float32), np.zeros((1, len(state.z)), np.float32),
                    np.zeros((1, one.run.nodes.layer_count + 1)), np.zeros((1, 2, 6)),
                    np.zeros((1, len(one.run.openings.node) + 1, 2)),
                )  # fmt: skip
                work = kernel.begin(one.run.nodes, one.run.materials, one.run.constants, one.run.openings, state)
                r = one.run
                kernel.advance(
                    0, 1, 0, r.nodes, r.materials, r.constants, still, r.openings, steps, state, records, work
                )
                if state.stats[kernel.STEPS] != 1:  # halved: the whole step was refused
                    continue
                taken += 1
                rhs = one.at(state.z, state.T).rhs
                held = r.ends.kinds == kernel.PRESCRIBED
                for owed, column, tolerance in (
                    (state.carry_mass, 0, steps.tolerance_mass),
                    (state.carry_energy, 1, steps.tolerance_energy),
                ):
                    self.assertLessEqual(np.abs(rhs[:, column]).max(), tolerance * (1.0 + 1e-6))
                    inner = slice(int(held[0].any()), len(rhs) - int(held[1].any()))
                    # as exact as the energy of a cell, a million times the tolerance, can be told
                    np.testing.assert_allclose(owed[inner], -rhs[inner, column], atol=1e-3 * tolerance)
        self.assertGreater(taken, 6)
