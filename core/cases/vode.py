"""The same wall by a stiff general-purpose integrator, to compare speed and error in one run.

SciPy's `ode('vode', method='bdf')` with a banded Jacobian by differences integrates (z, T) of every node with the
fluxes of the same tables, its right-hand side compiled as the solver is. Faces without volume are given a skin of 0.05 mm so that
the system is one of ordinary differential equations; no rain, because vode cannot hold its complementarity
at the outer face; the error of both is against our solver at four times the cells and a sixteenth of the step.
"""

from __future__ import annotations

import time
from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.integrate import ode

from core.case import Case, DrivenRain, Layer, WeatherEnd
from core.case.resolve import resolve_material
from core.moisture.transient.boundary import build_boundary
from core.moisture.transient.grid import build_grid
from core.moisture.transient.solve import simulate, start_state
from core.moisture.transient.table_grid import T_MIN, T_STEP_INVERSE, Z_MIN, Z_STEP_INVERSE
from core.moisture.transient.tables import air_table, build_tables, phi_table

Array = NDArray[np.float64]
SKIN = 5e-5


@njit(cache=True, error_model="numpy")
def _cubic(table: Array, x: float, offset: int) -> float:
    index = min(max(int(x), 0), len(table) - 1)
    t = x - index
    return float(
        table[index, offset]
        + t * (table[index, offset + 1] + t * (table[index, offset + 2] + t * table[index, offset + 3]))
    )


class Wall(NamedTuple):
    """What the right-hand side reads. left and right: rows of the tables for the two sides of each node."""

    left: NDArray[np.int64]
    right: NDArray[np.int64]
    by_z: Array
    by_temperature: Array
    heat: Array
    air: Array
    membrane: Array
    edge_kind: NDArray[np.int64]
    edge_length: Array
    volume: Array
    emission: Array
    rho_rv: float
    c_w: float
    c_v: float
    latent: float


SLOPE = 1e-5


@njit(cache=True, error_model="numpy")
def _rates(y: Array, weather: Array, wall: Wall) -> Array:
    """dz/dt and dT/dt of every node, by turns. weather: one hour of the two ends."""
    n = len(wall.volume)
    into_mass, into_energy = np.zeros(n), np.zeros(n)
    pressure, phi = np.empty(n), np.empty(n)
    right, left = np.empty((n, 3)), np.empty((n, 3))
    for i in range(n):
        z, kelvin = y[2 * i], y[2 * i + 1]
        x, xt = (z - Z_MIN) * Z_STEP_INVERSE, (kelvin - T_MIN) * T_STEP_INVERSE
        phi[i] = np.exp(-1000.0 * np.sinh(z) / (wall.rho_rv * kelvin))
        pressure[i] = phi[i] * _cubic(wall.air, xt, 0)
        for side, flows in ((wall.right[i], right), (wall.left[i], left)):
            flows[i, 0] = _cubic(wall.by_temperature[side], xt, 0) * _cubic(wall.by_z[side], x, 8)
            flows[i, 1] = _cubic(wall.by_z[side], x, 4)
            flows[i, 2] = _cubic(wall.by_z[side], x, 12)
    for e in range(n - 1):
        warm, cold = y[2 * e + 1], y[2 * e + 3]
        if wall.edge_kind[e] == 0:
            inverse = 1.0 / wall.edge_length[e]
            gv = 0.5 * (right[e, 0] + left[e + 1, 0]) * inverse * (pressure[e] - pressure[e + 1])
            gl = (right[e, 1] - left[e + 1, 1]) * inverse
            q = 0.5 * (right[e, 2] + left[e + 1, 2]) * inverse * (warm - cold)
        else:
            sd = _cubic(wall.membrane, min(0.5 * (phi[e] + phi[e + 1]), 1.0) * 500.0, 0)
            gv = _cubic(wall.air, (warm - T_MIN) * 16.0, 4) / sd * (pressure[e] - pressure[e + 1])
            gl = 0.0
            q = (warm - cold) / 1e-3  # a softer contact: vode stalls on the kernel's 1e-6
        energy = q + (wall.latent + wall.c_v * (0.5 * (warm + cold) - 273.15)) * gv
        energy += wall.c_w * (0.5 * (warm + cold) - 273.15) * gl
        into_mass[e] -= gv + gl
        into_mass[e + 1] += gv + gl
        into_energy[e] -= energy
        into_energy[e + 1] += energy
    for end in range(2):
        node = 0 if end == 0 else n - 1
        b, kelvin = weather[end], float(y[2 * node + 1])
        vapour = b[4] * (b[3] - pressure[node])
        into_mass[node] += vapour
        beyond = kelvin**4 - b[0] ** 4 - 4.0 * b[0] ** 3 * (kelvin - b[0])
        into_energy[node] += b[1] * (b[0] - kelvin) + b[2] - wall.emission[end] * beyond
        into_energy[node] += (wall.latent + wall.c_v * (0.5 * (b[0] + kelvin) - 273.15)) * vapour
    out = np.empty(2 * n)
    for i in range(n):
        own, z = wall.by_z[wall.left[i]], y[2 * i]
        w = _cubic(own, (z - Z_MIN) * Z_STEP_INVERSE, 0)
        beside = _cubic(own, (z + SLOPE - Z_MIN) * Z_STEP_INVERSE, 0) - _cubic(
            own, (z - SLOPE - Z_MIN) * Z_STEP_INVERSE, 0
        )
        out[2 * i] = into_mass[i] / (wall.volume[i] * min(beside / (2.0 * SLOPE), -1e-9))
        warm = (y[2 * i + 1] - 273.15) * into_mass[i]
        out[2 * i + 1] = (into_energy[i] - wall.c_w * warm) / (wall.volume[i] * (wall.heat[i] + wall.c_w * w))
    return out


def vode_month(case: Case, length: float) -> list[dict[str, Any]]:
    """Rows for the bench: seconds and RH error of both on one month of the case without rain."""
    assert isinstance(case.outside, WeatherEnd)
    no_rain = case.outside.model_copy(update={"rain": DrivenRain(method="none")})
    dry = case.model_copy(
        update={"outside": no_rain, "time": case.time.model_copy(update={"length_s": length, "repeat": "once"})}
    )
    ours = simulate(dry)
    began = time.perf_counter()
    ours = simulate(dry)
    our_seconds = time.perf_counter() - began
    fine = simulate(dry.model_copy(update={"time": dry.time.model_copy(update={"largest_step_s": 225.0})}), refine=4)
    nodes = list(ours.planes.values())[1:]
    exact = np.array([fine.rh(fine.planes[name], -1) for name in list(ours.planes)[1:]])

    def row(what: str, measured: float, unit: str) -> dict[str, Any]:
        return {"what": f"one month without rain, {what}", "measured": measured, "unit": unit, "target": None}

    rows = [
        row("ours", our_seconds, "s"),
        row("RH error of ours at the end", float(np.abs(ours.rh(np.array(nodes), -1) - exact).max() * 100), "points"),
    ]
    for rtol in (1e-5, 1e-6):
        seconds, profile = _integrate(dry, rtol)
        error = float(np.abs(profile[nodes] - exact).max() * 100)
        rows += [
            row(f"SciPy vode BDF banded, compiled right-hand side, rtol {rtol:g}", seconds, "s"),
            row(f"RH error of vode at the end, rtol {rtol:g}", error, "points"),
            row(f"vode over ours, rtol {rtol:g}", seconds / our_seconds, "times"),
        ]
    return rows


def _integrate(case: Case, rtol: float) -> tuple[float, Array]:
    """(seconds, RH at every node at the end) by vode on the nodes of our grid."""
    names = sorted({layer.material for layer in case.layers if isinstance(layer, Layer)})
    tables = [build_tables(name, resolve_material(case, name), case.constants, True) for name in names]
    grid = build_grid(case, {name: i for i, name in enumerate(names)})
    boundary = build_boundary(case)
    state = start_state(case, grid, tables)
    n = grid.size
    constants = case.constants
    rho_rv = constants.water_density_kg_m3 * constants.vapour_gas_constant
    wall = Wall(
        left=np.asarray(grid.material_left, dtype=np.int64),
        right=np.asarray(grid.material_right, dtype=np.int64),
        by_z=np.stack([table.by_z for table in tables]),
        by_temperature=np.stack([table.by_temperature for table in tables]),
        heat=np.array([table.volumetric_heat for table in tables])[grid.material_left],
        air=air_table(constants),
        membrane=phi_table(grid.membranes[0]),
        edge_kind=np.asarray(grid.edge_kind, dtype=np.int64),
        edge_length=grid.edge_length,
        volume=np.where(grid.volume > 0.0, grid.volume, SKIN),
        emission=np.asarray(boundary.emission, dtype=float),
        rho_rv=rho_rv,
        c_w=constants.water_heat_j_kgk,
        c_v=constants.vapour_heat_j_kgk,
        latent=constants.latent_heat_j_kg,
    )
    hours = np.ascontiguousarray(boundary.series[:, :, :, 0])

    def rates(t: float, y: Array) -> Array:
        return _rates(y, hours[min(int(t / boundary.step_s), boundary.steps - 1)], wall)

    y = np.empty(2 * n)
    y[0::2], y[1::2] = state.z, state.T
    solver = ode(rates).set_integrator("vode", method="bdf", lband=3, uband=3, rtol=rtol, atol=rtol, nsteps=100000)
    rates(0.0, y)  # compiled before the clock starts
    began = time.perf_counter()
    solver.set_initial_value(y, 0.0)
    for step in range(boundary.steps):
        solver.integrate((step + 1) * boundary.step_s)
        if not solver.successful():
            raise RuntimeError(f"vode gave up at hour {step + 1}")
        if step + 1 < boundary.steps:  # the weather jumps every hour: start the integrator anew
            solver.set_initial_value(solver.y, solver.t)
    seconds = time.perf_counter() - began
    z, kelvin = solver.y[0::2], solver.y[1::2]
    return seconds, np.exp(-1000.0 * np.sinh(z) / (rho_rv * kelvin))
