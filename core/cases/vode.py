"""The same wall by a stiff general-purpose integrator, to compare speed and error in one run.

SciPy's `ode('vode', method='bdf')` with a banded Jacobian by differences integrates (w or film, H) of every
cell with the fluxes of the tables in plain NumPy. Faces without volume are given a skin of 0.05 mm so that
the system is one of ordinary differential equations; no rain, because vode cannot hold its complementarity
at the outer face; the error of both is against our solver at four times the cells and a sixteenth of the step.
"""

from __future__ import annotations

import time
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.integrate import ode

from core.case import Case, DrivenRain, Layer, WeatherEnd
from core.case.resolve import resolve_material
from core.moisture.transient.boundary import build_boundary
from core.moisture.transient.grid import build_grid
from core.moisture.transient.solve import simulate, start_state
from core.moisture.transient.tables import (
    T_MIN,
    Z_MIN,
    air_table,
    build_tables,
    phi_table,
)

Array = NDArray[np.float64]
SKIN = 5e-5


def _cubic(table: Array, x: Array, offset: int) -> Array:
    index = np.clip(x.astype(int), 0, len(table) - 1)
    t = x - index
    a, b, c, d = table[index, offset : offset + 4].T
    return a + t * (b + t * (c + t * d))


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
    vode_seconds, profile = _integrate(dry)
    nodes = list(ours.planes.values())[1:]
    exact = np.array([fine.rh(fine.planes[name], -1) for name in list(ours.planes)[1:]])
    our_error = float(np.abs(ours.rh(np.array(nodes), -1) - exact).max() * 100)
    vode_error = float(np.abs(profile[nodes] - exact).max() * 100)
    return [
        {"what": "one month without rain, ours", "measured": our_seconds, "unit": "s", "target": None},
        {
            "what": "one month without rain, SciPy vode BDF banded",
            "measured": vode_seconds,
            "unit": "s",
            "target": None,
        },
        {"what": "ratio of times, vode over ours", "measured": vode_seconds / our_seconds, "unit": "–", "target": None},
        {
            "what": "RH error at the watch points at the end, ours",
            "measured": our_error,
            "unit": "points",
            "target": None,
        },
        {
            "what": "RH error at the watch points at the end, vode",
            "measured": vode_error,
            "unit": "points",
            "target": None,
        },
    ]


def _integrate(case: Case) -> tuple[float, Array]:
    """(seconds, RH at every node at the end) by vode on the nodes of our grid."""
    names = sorted({layer.material for layer in case.layers if isinstance(layer, Layer)})
    tables = [build_tables(name, resolve_material(case, name), case.constants, True) for name in names]
    grid = build_grid(case, {name: i for i, name in enumerate(names)})
    boundary = build_boundary(case)
    state = start_state(case, grid, tables)
    n = grid.size
    volume = np.where(grid.volume > 0.0, grid.volume, SKIN)
    rho_rv = case.constants.water_density_kg_m3 * case.constants.vapour_gas_constant
    air = air_table(case.constants)
    masks = [
        (np.flatnonzero(grid.material_left == i), np.flatnonzero(grid.material_right == i)) for i in range(len(tables))
    ]
    heat = np.array([table.volumetric_heat for table in tables])[grid.material_left]
    membrane = phi_table(grid.membranes[0])
    bulk, resistance = np.flatnonzero(grid.edge_kind == 0), np.flatnonzero(grid.edge_kind == 1)
    c_w, c_v, latent = (
        case.constants.water_heat_j_kgk,
        case.constants.vapour_heat_j_kgk,
        case.constants.latent_heat_j_kg,
    )

    def sided(side: int, z: Array, kelvin: Array, offset: int) -> Array:
        out = np.empty(n)
        x, xt = (z - Z_MIN) * 100.0, (kelvin - T_MIN) * 16.0
        for i, table in enumerate(tables):
            nodes = masks[i][side]
            if offset == -1:
                out[nodes] = _cubic(table.by_temperature, xt[nodes], 0) * _cubic(table.by_z, x[nodes], 8)
            else:
                out[nodes] = _cubic(table.by_z, x[nodes], offset)
        return out

    slope_eps = 1e-5

    def rates(t: float, y: Array) -> Array:
        z, kelvin = y[0::2], y[1::2]
        suction = 1000.0 * np.sinh(z)
        phi = np.exp(-suction / (rho_rv * kelvin))
        xt = (kelvin - T_MIN) * 16.0
        pressure = phi * _cubic(air, xt, 0)
        right = [sided(1, z, kelvin, k) for k in (-1, 4, 12)]
        left = [sided(0, z, kelvin, k) for k in (-1, 4, 12)]
        gv, gl, q = np.zeros(n - 1), np.zeros(n - 1), np.zeros(n - 1)
        e = bulk
        inverse = 1.0 / grid.edge_length[e]
        gv[e] = 0.5 * (right[0][e] + left[0][e + 1]) * inverse * (pressure[e] - pressure[e + 1])
        gl[e] = (right[1][e] - left[1][e + 1]) * inverse
        q[e] = 0.5 * (right[2][e] + left[2][e + 1]) * inverse * (kelvin[e] - kelvin[e + 1])
        for r in resistance:
            sd = float(_cubic(membrane, np.array([min(0.5 * (phi[r] + phi[r + 1]), 1.0) * 500.0]), 0)[0])
            gv[r] = _cubic(air, xt[r : r + 1], 4)[0] / sd * (pressure[r] - pressure[r + 1])
            q[r] = (kelvin[r] - kelvin[r + 1]) / 1e-3  # a softer contact: vode stalls on the kernel's 1e-6
        mean = 0.5 * (kelvin[:-1] + kelvin[1:]) - 273.15
        energy = q + (latent + c_v * mean) * gv + c_w * mean * gl
        step = min(int(t / boundary.step_s), boundary.steps - 1)
        into_mass, into_energy = np.zeros(n), np.zeros(n)
        into_mass[:-1] -= gv + gl
        into_mass[1:] += gv + gl
        into_energy[:-1] -= energy
        into_energy[1:] += energy
        for end, node in ((0, 0), (1, n - 1)):
            b = boundary.series[step, end, :, 0]
            vapour = b[4] * (b[3] - pressure[node])
            into_mass[node] += vapour
            beyond = kelvin[node] ** 4 - b[0] ** 4 - 4.0 * b[0] ** 3 * (kelvin[node] - b[0])
            into_energy[node] += b[1] * (b[0] - kelvin[node]) + b[2] - boundary.emission[end] * beyond
            into_energy[node] += (latent + c_v * (0.5 * (b[0] + kelvin[node]) - 273.15)) * vapour
        w = sided(0, z, kelvin, 0)
        w_z = (sided(0, z + slope_eps, kelvin, 0) - sided(0, z - slope_eps, kelvin, 0)) / (2 * slope_eps)
        z_rate = into_mass / (volume * np.minimum(w_z, -1e-9))
        warm = kelvin - 273.15
        kelvin_rate = (into_energy - c_w * warm * into_mass) / (volume * (heat + c_w * w))
        out = np.empty(2 * n)
        out[0::2], out[1::2] = z_rate, kelvin_rate
        return out

    y = np.empty(2 * n)
    y[0::2], y[1::2] = state.z, state.T
    solver = ode(rates).set_integrator("vode", method="bdf", lband=3, uband=3, rtol=1e-5, atol=1e-5, nsteps=100000)
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
