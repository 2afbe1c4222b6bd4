"""The compiled time loop: fully implicit finite volumes, block-tridiagonal Newton, adaptive steps.

Unknowns at every node: z = asinh(p_suc / 1 kPa) and T. Nodes are cell centres *and* faces: a face is
a node without volume, shared by two materials or standing alone at a film or a membrane, so that vapour
and liquid both bring water to it, the interface suction is found by the same Newton iteration, and a
result at a face needs no reconstruction. Water on a face over saturation is kept as a film.

Balances per node over a step (EN 15026, enthalpy form):
    Δ(w V + film) = dt (Σ g + S_w V),   Δ(H V) = dt (Σ q + Σ h_v g_v + h_l g_l + S_h V).
What Newton leaves of a step's residual is carried into the next, so the closure error never adds up.

Ice: below 0 °C the water whose suction lies under that of ice in equilibrium (Clausius-Clapeyron, generalised) is
frozen. It gives off its latent heat and closes the pores to liquid; its own expansion and its lower specific heat
are left out. Ports set water free at a node, or let air of a given state exchange with it: cavities, leaks of room
air, rain that gets in. A flow of air through the whole build-up carries heat and vapour across every edge.

A step is solved with little work: what did not change is not reckoned again. Nodes keep their looked-up state, edges their
fluxes, rows their residual until a node beside them moves, and after the first iteration a node whose step would change
no row by a share of its tolerance stays where it is. Every row is tested before a step is taken, as if all had moved.
What is compiled without reference counts makes no array: the scratch comes from `begin`.

One file on purpose: Numba's compile cache follows changes in the file of a compiled function only. Any part in a file
of its own would leave an old kernel in use after it changes, and a wrong number is the worst fault here. Within it,
`advance` is the loop over time, `_solve` a step of it in one stage or two, `_newton` a stage, `assemble` the residual and its
Jacobian.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from core.moisture.transient.columns import (
    ABSORBED,
    BETA,
    BY_FILM,
    ENERGY_IN,
    ENERGY_STORED,
    ENERGY_TURNED,
    FILM,
    G_GIVEN,
    GIVEN,
    H_FILM,
    HEAT_EXCHANGE,
    LIQUID,
    OFF,
    OFFERED,
    PORT_HEAT,
    PORT_VAPOUR,
    PORT_WATER,
    PRESCRIBED,
    PV_AIR,
    PV_ENV,
    Q_GIVEN,
    RAIN,
    T_AIR,
    T_ENV,
    T_RAIN,
    T_WATER,
    VAPOUR,
    VAPOUR_EXCHANGE,
    WATER,
    WATER_IN,
    WATER_STORED,
    WATER_TURNED,
)
from core.moisture.transient.table_grid import (
    PHI_INTERVALS,
    T_INTERVALS,
    T_MAX,
    T_MIN,
    T_STEP_INVERSE,
    Z_MAX,
    Z_MIN,
    Z_STEP_INVERSE,
)
from core.physics.constants import AIR_HEAT, ZERO_CELSIUS

Floats = NDArray[np.float64]
Integers = NDArray[np.int64]

# `nnan` and `ninf` are left out: they would let the compiler remove the checks for broken states.
FAST = {"nsz", "arcp", "contract", "afn", "reassoc"}
# What is asked for each node or edge is written into its caller; a part of a step is called. `_nrt=False`: without counts of
# references, which for arrays in named tuples took half the time.
COMPILED: dict[str, Any] = {"cache": True, "fastmath": FAST, "error_model": "numpy"}
UNCOUNTED: dict[str, Any] = {**COMPILED, "_nrt": False}
inlined = njit(**COMPILED, inline="always")
part = njit(**UNCOUNTED)

SATURATED = int(-Z_MIN * Z_STEP_INVERSE)  # the row of `Materials.by_z` at no suction
# e^z and e^−a by steps, for `_tabled`. a = p_suc/(ρ_w R_v T) from over-saturation at Z_MIN to Z_MAX at the coldest T.
E_STEP = 0.01
E_OF_Z = np.exp(Z_MIN + E_STEP * np.arange(2302))
A_LEAST = -0.05
E_OF_A = np.exp(-(A_LEAST + E_STEP * np.arange(1706)))
ZERO = ZERO_CELSIUS
PA = 1000.0
FILM_STORAGE = 1.0e-4  # kg/(m² Pa): condensate held on a face per Pa of over-saturation
RUN_OFF = 1.0e-3  # kg/(m² s Pa): how fast water in excess leaves a rained face
# Water beyond what a cell (10 kg/m³ over saturation) or a face (0.5 kg/m²) holds drains away and is counted.
DRAIN_CELL_PA, DRAIN_CELL = 1.0e5, 1.0e-6  # Pa; kg/(m³ s Pa)
DRAIN_FACE_PA, DRAIN_FACE = 5.0e3, 1.0e-3  # Pa; kg/(m² s Pa)
NO_WEIGHT = 0.05  # share of a tolerance that a node which stays may leave in a row; three of them lie below one
MAX_ITERATIONS = 24  # a step from saturation over a flat retention is clipped, and takes two dozen to come back
MOST_TRIES = 2000  # steps, taken and refused, within one boundary step: beyond it a run only crawls
BUDGET = 20000  # iterations in one call, about half a second: then the caller is asked whether to go on
FILM_ROUND = 50.0  # Pa: how far the corner is rounded where a film on a face begins

# Two stages of γ dt, the second with (1 − γ) dt of the first one's fluxes: a diagonally implicit Runge-Kutta method. At
# γ = 1 − √½ it is of second order (Alexander 1977), and a sheet that follows the weather in minutes rings; at ½ it is two
# steps of backward Euler. At 0.36 a fifth of the error of one such step is left, and half of the ringing.
GAMMA = 0.36
# A step is made longer after FEW_ITERATIONS a stage (Newton was in its quadratic reach from the start), shorter after more than MANY (a longer one would
# be refused soon), and SHRINK times as long where it was refused: a third lies within Newton's reach where a half often does not. They decide how long a year takes,
# and its figures only within the tolerances.
FEW_ITERATIONS, MANY_ITERATIONS = 5, 10
LONGER, HALVED, SHRINK = 2.0, 0.5, 0.3
# Where two stages will not do, the rest of a boundary step is done in one, with steps so many times shorter.
SHORTER = 3.0
# Tolerances for the first of two stages: what it leaves is not passed on to the second, so that no balance feels it.
FIRST_ALLOWED = 100.0
# kg/m²: how far beyond nothing, or beyond saturation, the water of a node may be extrapolated between stages.
OVERSHOOT = 1e-4
CARRY_S = 60.0  # s: over which a step's remainder is carried into the next ones
LEAST_ALLOWED = 1e-2  # share of the tolerance that the shortest steps may leave; MOST_TRIES of them leave 20 tolerances
FREEZING_SUCTION = 1.2209e6  # Pa/K: ρ_w L_f / T0, suction of water in equilibrium with ice for each K below 0 °C
FREEZING_ROUND = 5.0e3  # Pa: how far the corner where ice begins is rounded
BLOCKING = 3  # power of the unfrozen share with which ice closes the pores to liquid; an estimate

OK, FAILED, PAUSED = 0, 1, 2

# Columns of a node's state: value, then its derivatives by z and by T.
(W, W_Z, W_T, THETA, THETA_Z, DELTA, DELTA_Z, DELTA_T, LAMBDA, LAMBDA_Z, LAMBDA_T, PHI, PHI_Z, PHI_T,
 PV, PV_Z, PV_T, DELTA_AIR, ICE, ICE_Z, ICE_T, OPEN, OPEN_Z, OPEN_T) = range(24)  # fmt: skip
# Columns of `Materials.scalars`. Reference T: where w is tabled by suction. Kelvin T: 0, or the T at which φ is read.
HEAT_CAPACITY, HOLDS_RH, FACTOR_BY_PHI, REFERENCE_T, KELVIN_T, CAPILLARY = range(6)
# Columns of `Work.edges`: water and energy from node i to node j, each with its derivatives by z and T of both.
M, M_ZI, M_TI, M_ZJ, M_TJ, E, E_ZI, E_TI, E_ZJ, E_TJ = range(10)
# Rows of `State.stats`, `State.control`; the other columns are in `columns`.
STEPS, ITERATIONS, REFUSED, FAILED_AT, FAILED_NODE, FAILED_RESIDUAL, BEYOND_TABLES = range(7)
NEXT_STEP_S, GO_ON_FROM = range(2)


class Stage(NamedTuple):
    """What an implicit step came to: worst residual in units of what is allowed, its node, T [K] that left the tables or 0."""

    converged: bool
    iterations: int
    worst: float
    worst_at: int
    left_t: float


class Step(NamedTuple):
    """A step in one stage or two: as Stage, with the iterations of both; the length [s] that was solved, which is the first stage alone where more cannot be
    extrapolated; the share of the remainder that was paid in it."""

    stage: Stage
    length: float
    paid: float


class Grid(NamedTuple):
    """Nodes and edges. volume 0: a face. edge_kind 0: inside a material, 1: across a resistance."""

    volume: Floats
    material_left: Integers
    material_right: Integers
    edge_kind: Integers
    edge_length: Floats
    edge_heat: Floats
    edge_sd: Floats
    edge_table: Integers
    edge_rh_of: Integers
    edge_liquid: Floats
    node_layer: Integers
    layer_count: int


class Materials(NamedTuple):
    """Tables by z, φ and T for each material; scalars in the columns named above; membranes' sd by φ; humid air by T."""

    by_z: Floats
    by_phi: Floats
    by_t: Floats
    scalars: Floats
    membranes: Floats
    air: Floats


class Constants(NamedTuple):
    """rho_rv: ρ_w R_v. c_w: of water. h_v = hv0 + hv1 (T − T0), h_l = hl1 (T − T0). carried: flow carries its enthalpy.

    air_vapour: kg of vapour in a kg of air for each Pa. fusion: latent heat of ice [J/kg], 0 with freezing off.
    """

    rho_rv: float
    c_w: float
    hv0: float
    hv1: float
    hl1: float
    carried: bool
    heat_on: bool
    air_vapour: float
    fusion: float


class Boundary(NamedTuple):
    """kinds[end, 0 heat | 1 moisture]; series[step, end, quantity, start | end]; sources[step, layer, heat | water].

    Quantities: T_env [K], h [W/m²K], q absorbed or given [W/m²], p_v or surface RH, β [s/m], vapour flux given, rain
    [kg/m²s], T of rain [K]. emission: ε σ of the face, 0 without long-wave exchange.
    """

    kinds: Integers
    runoff_on: NDArray[np.bool_]
    emission: Floats
    series: Floats
    sources: Floats


class Ports(NamedTuple):
    """series[step, port, quantity] at `node`; through[step]: kg/m²s of air through everything, positive inward.

    Quantities: water [kg/m²s], its T [K], exchange of heat [W/m²K], of vapour [kg/m²s Pa], T of the air [K], its p_v [Pa].
    """

    node: Integers
    series: Floats
    through: Floats


class Steps(NamedTuple):
    """step_s: of the series. largest, smallest: of a time step [s]. Tolerances of a balance [kg/m², J/m²]."""

    step_s: float
    largest: float
    smallest: float
    tolerance_mass: float
    tolerance_energy: float
    record_every: int
    stages: int


class State(NamedTuple):
    """Changed in place. carry: what Newton left of the balances so far. seen: least and largest z of each node.

    totals: water and energy that came in, that were turned over, that are stored. stats: steps, iterations, refused
    steps, then of a failure its time, node, residual, and T beyond the tables [K] or 0. control: wish for the next
    step [s], the boundary step to go on from.
    """

    z: Floats
    T: Floats
    carry_mass: Floats
    carry_energy: Floats
    seen: Floats
    control: Floats
    totals: Floats
    stats: Floats


class Records(NamedTuple):
    """By record: z, T; water by layer, last the films on faces; means of the end's fluxes (0 heat by film or given,
    1 absorbed radiation, 2 vapour, 3 liquid taken up, 4 rain offered, 5 run-off; positive into the wall); water set free
    and vapour gained at each port [kg/m²s], its last row what drained away (negative)."""

    z: NDArray[np.float32]
    T: NDArray[np.float32]
    water: Floats
    flux: Floats
    port: Floats


class FirstStage(NamedTuple):
    """What the first of two stages let through: the same arrays as in `Work`."""

    flux: Floats
    energy: Floats
    drain: Floats
    drain_heat: Floats
    port_flux: Floats


class Work(NamedTuple):
    """Scratch of one call. left, right: state of a node in the material before and after it, as last looked up; moved: those
    that were looked up anew, touched: rows that were built anew for it. edges: fluxes as last reckoned, with flow_seen.
    lower, diagonal, upper, rhs: Jacobian and residual; step: Newton's. ends: boundary at dt's end."""

    left: Floats
    right: Floats
    z_seen: Floats
    T_seen: Floats
    moved: NDArray[np.bool_]
    touched: NDArray[np.bool_]
    edges: Floats
    flow_seen: Floats
    lower: Floats
    diagonal: Floats
    upper: Floats
    rhs: Floats
    eliminated: Floats
    step: Floats
    z_old: Floats
    T_old: Floats
    w_old: Floats
    film_old: Floats
    ice_old: Floats
    drain: Floats
    drain_heat: Floats
    port_flux: Floats
    ends: Floats
    flux: Floats
    energy: Floats
    owed: Floats
    first: FirstStage
    sums: Floats
    port_sums: Floats


@inlined
def _cubic(row, offset, t):
    a, b, c, d = row[offset], row[offset + 1], row[offset + 2], row[offset + 3]
    return a + t * (b + t * (c + t * d)), b + t * (2.0 * c + 3.0 * t * d)


@inlined
def _tabled(row, x, step, exponent):
    """e^exponent to 3e-14, from the row's nearest value and a series over what is left; x counts its steps. Beyond it, exp."""
    if not (x > 0.0 and x < row.shape[0] - 1.0):
        return np.exp(exponent)
    k = int(x + 0.5)
    d = (x - k) * step
    return row[k] * (1.0 + d * (1.0 + d * (0.5 + d * (1.0 / 6.0 + d * (1.0 / 24.0)))))


@inlined
def _film(p):
    """Free water on a face [kg/m²] at a suction [Pa], and its slope: ½ (√(p² + p₀²) − p) in place of max(−p, 0).

    With the corner at p = 0 a film that runs dry made two answers of one step, and Newton went from one to the other.
    """
    root = np.sqrt(p * p + FILM_ROUND * FILM_ROUND)
    # over zero the same without the difference of two large numbers
    held = 0.5 * FILM_ROUND * FILM_ROUND / (root + p) if p > 0.0 else 0.5 * (root - p)
    return FILM_STORAGE * held, -FILM_STORAGE * held / root


@inlined
def _film_at(z):
    """Free water on a face [kg/m²] at its z."""
    return _film(PA * np.sinh(z))[0]


@inlined
def _properties(z, T, m, by_z, by_phi, by_t, scalars, air, rho_rv, out):
    """Fill `out`, W to DELTA_AIR, with the state of material m at (z, T)."""
    x = (z - Z_MIN) * Z_STEP_INVERSE
    e = _tabled(E_OF_Z, x, E_STEP, z)
    ei = 1.0 / e
    p = 0.5 * PA * (e - ei)
    p_z = 0.5 * PA * (e + ei)
    i = min(max(int(x), 0), by_z.shape[1] - 1)
    t = x - i
    row = by_z[m, i]
    theta, theta_z = _cubic(row, 4, t)
    factor, factor_z = _cubic(row, 8, t)
    lam, lam_z = _cubic(row, 12, t)
    if scalars[m, HOLDS_RH] > 0.0:  # w of RH is held: read w at the suction the same RH has at the reference T
        ratio = scalars[m, REFERENCE_T] / T
        pe = p * ratio
        u = pe / PA
        root = np.sqrt(u * u + 1.0)
        ze = np.log(u + root) if u > 0.0 else -np.log(-u + root)
        xe = (ze - Z_MIN) * Z_STEP_INVERSE
        ie = min(max(int(xe), 0), by_z.shape[1] - 1)
        w, w_e = _cubic(by_z[m, ie], 0, xe - ie)
        w_e *= Z_STEP_INVERSE / (PA * root)
        out[W] = w
        out[W_Z] = w_e * p_z * ratio
        out[W_T] = -w_e * pe / T
    else:
        w, w_z = _cubic(row, 0, t)
        out[W] = w
        out[W_Z] = w_z * Z_STEP_INVERSE
        out[W_T] = 0.0
    out[THETA] = theta
    out[THETA_Z] = theta_z * Z_STEP_INVERSE
    xt = (T - T_MIN) * T_STEP_INVERSE
    it = min(max(int(xt), 0), T_INTERVALS - 1)
    tt = xt - it
    ps, ps_t = _cubic(air[it], 0, tt)
    ps_t *= T_STEP_INVERSE
    da, da_t = _cubic(air[it], 4, tt)
    kelvin = scalars[m, KELVIN_T]
    by = 1.0 / (rho_rv * (kelvin if kelvin > 0.0 else T))
    a = p * by
    phi = _tabled(E_OF_A, (a - A_LEAST) * (1.0 / E_STEP), -E_STEP, -a)
    phi_z = -phi * p_z * by
    phi_t = 0.0 if kelvin > 0.0 else phi * a * by * rho_rv
    rt = by_t[m, it]
    dry, dry_t = _cubic(rt, 0, tt)
    dry_t *= T_STEP_INVERSE
    heat, heat_t = _cubic(rt, 4, tt)
    heat_t *= T_STEP_INVERSE
    factor_z *= Z_STEP_INVERSE
    factor_t = 0.0
    if scalars[m, FACTOR_BY_PHI] > 0.0:
        xp = min(phi, 1.0) * PHI_INTERVALS
        ip = min(int(xp), PHI_INTERVALS - 1)
        factor, slope = _cubic(by_phi[m, ip], 0, xp - ip)
        slope *= PHI_INTERVALS
        if phi >= 1.0:
            slope = 0.0
        factor_z = slope * phi_z
        factor_t = slope * phi_t
    out[DELTA] = dry * factor
    out[DELTA_Z] = dry * factor_z
    out[DELTA_T] = dry_t * factor + dry * factor_t
    out[LAMBDA] = lam * heat
    out[LAMBDA_Z] = lam_z * Z_STEP_INVERSE * heat
    out[LAMBDA_T] = lam * heat_t
    out[PHI] = phi
    out[PHI_Z] = phi_z
    out[PHI_T] = phi_t
    out[PV] = phi * ps
    out[PV_Z] = phi_z * ps
    out[PV_T] = phi_t * ps + phi * ps_t
    out[DELTA_AIR] = da


@inlined
def _frozen(z, T, m, by_z, scalars, out):
    """Ice [kg/m³] of material m at (z, T) and how open the pores are left to liquid (0 to 1), with derivatives.

    Fills ICE to OPEN_T of `out`, where W to W_T are filled already.
    """
    # far from freezing, whatever the suction: d below is beyond the corner
    if T > ZERO + 1.0 and z > -6.0:
        for k in range(ICE, OPEN_T + 1):
            out[k] = 0.0
        out[OPEN] = 1.0
        return
    e = np.exp(z)
    ei = 1.0 / e
    p = 0.5 * PA * (e - ei)
    d = p - FREEZING_SUCTION * (ZERO - T)
    if d >= FREEZING_ROUND:
        for k in range(ICE, OPEN_T + 1):
            out[k] = 0.0
        out[OPEN] = 1.0
        return
    if d > -FREEZING_ROUND:
        pl = p + (FREEZING_ROUND - d) ** 2 / (4.0 * FREEZING_ROUND)
        by_d = -(FREEZING_ROUND - d) / (2.0 * FREEZING_ROUND)
    else:
        pl = p - d
        by_d = -1.0
    pl_z = (1.0 + by_d) * 0.5 * PA * (e + ei)
    pl_t = by_d * FREEZING_SUCTION
    ratio = 1.0
    if scalars[m, HOLDS_RH] > 0.0:
        ratio = scalars[m, REFERENCE_T] / T
    u = pl * ratio / PA
    root = np.sqrt(u * u + 1.0)
    zl = np.log(u + root) if u > 0.0 else -np.log(-u + root)
    x = (zl - Z_MIN) * Z_STEP_INVERSE
    i = min(max(int(x), 0), by_z.shape[1] - 1)
    wl, slope = _cubic(by_z[m, i], 0, x - i)
    by_p = slope * Z_STEP_INVERSE / (PA * root) * ratio
    wl_z = by_p * pl_z
    wl_t = by_p * pl_t
    if scalars[m, HOLDS_RH] > 0.0:
        wl_t -= by_p * pl / T
    w = out[W]
    out[ICE] = w - wl
    out[ICE_Z] = out[W_Z] - wl_z
    out[ICE_T] = out[W_T] - wl_t
    if w > 1e-12:
        s = min(wl / w, 1.0)
        out[OPEN] = s**BLOCKING
        if wl < w:
            out[OPEN_Z] = BLOCKING * s ** (BLOCKING - 1) * (wl_z - s * out[W_Z]) / w
            out[OPEN_T] = BLOCKING * s ** (BLOCKING - 1) * (wl_t - s * out[W_T]) / w
        else:
            out[OPEN_Z] = 0.0
            out[OPEN_T] = 0.0
    else:
        out[OPEN] = 1.0
        out[OPEN_Z] = 0.0
        out[OPEN_T] = 0.0


@inlined
def _upstream(peclet):
    """Weight of the upstream value that makes steady flow with conduction exact (exponential scheme, Patankar 1980)."""
    if abs(peclet) < 1e-3:
        return 0.5 + peclet / 12.0
    if peclet > 30.0:
        return 1.0 - 1.0 / peclet
    if peclet < -30.0:
        return -1.0 / peclet
    return 1.0 / (1.0 - np.exp(-peclet)) - 1.0 / peclet


@inlined
def _between_nodes(A, B, length, v_i, v_j, t_i, t_j, freezes):
    """Fluxes inside a material from a node with state A to the next one with state B.

    Vapour gv, liquid gl and heat q, each with its derivatives by z and T of both nodes; then the conductances of vapour
    and heat, which the draught's upstream weight asks for.
    """
    inv = 1.0 / length
    d = 0.5 * (A[DELTA] + B[DELTA]) * inv
    drop = A[PV] - B[PV]
    gv = d * drop
    gv_zi = 0.5 * A[DELTA_Z] * inv * drop + d * A[PV_Z]
    gv_ti = 0.5 * A[DELTA_T] * inv * drop + d * A[PV_T]
    gv_zj = 0.5 * B[DELTA_Z] * inv * drop - d * B[PV_Z]
    gv_tj = 0.5 * B[DELTA_T] * inv * drop - d * B[PV_T]
    gl = (A[THETA] - B[THETA]) * inv
    gl_zi = A[THETA_Z] * inv
    gl_zj = -B[THETA_Z] * inv
    gl_ti = 0.0
    gl_tj = 0.0
    # A half cell conducts, and is blocked by ice, as its cell: a face alone has no thickness.
    part_i = 0.0 if v_i == 0.0 else (1.0 if v_j == 0.0 else 0.5)
    part_j = 1.0 - part_i
    if freezes and gl != 0.0:
        open_i, open_iz, open_it = A[OPEN], A[OPEN_Z], A[OPEN_T]
        open_j, open_jz, open_jt = B[OPEN], B[OPEN_Z], B[OPEN_T]
        if part_i == 0.0:
            open_i, open_iz, open_it = 1.0, 0.0, 0.0
        elif part_j == 0.0:
            open_j, open_jz, open_jt = 1.0, 0.0, 0.0
        both = open_i * open_j
        gl_ti = gl * open_it * open_j
        gl_tj = gl * open_i * open_jt
        gl_zi = gl_zi * both + gl * open_iz * open_j
        gl_zj = gl_zj * both + gl * open_i * open_jz
        gl *= both
    lam = (part_i * A[LAMBDA] + part_j * B[LAMBDA]) * inv
    dT = t_i - t_j
    q = lam * dT
    q_zi = part_i * A[LAMBDA_Z] * inv * dT
    q_zj = part_j * B[LAMBDA_Z] * inv * dT
    q_ti = part_i * A[LAMBDA_T] * inv * dT + lam
    q_tj = part_j * B[LAMBDA_T] * inv * dT - lam
    return gv, gv_zi, gv_ti, gv_zj, gv_tj, gl, gl_zi, gl_ti, gl_zj, gl_tj, q, q_zi, q_ti, q_zj, q_tj, d, lam


@inlined
def _through_resistance(A, B, z_i, z_j, t_i, t_j, heat, resistance, table, rh_of, liquid, membranes):
    """The same across a membrane, a foil or a contact: sd [m] as given or by RH, heat m²K/W, liquid Pa m² s/kg (0: none)."""
    da = 0.5 * (A[DELTA_AIR] + B[DELTA_AIR])
    slope_i = 0.0
    slope_j = 0.0
    if table >= 0:
        if rh_of == 0:
            phi = 0.5 * (A[PHI] + B[PHI])
        elif rh_of == 1:
            phi = A[PHI]
        else:
            phi = B[PHI]
        xp = min(phi, 1.0) * PHI_INTERVALS
        ip = min(int(xp), PHI_INTERVALS - 1)
        sd, slope = _cubic(membranes[table, ip], 0, xp - ip)
        slope *= PHI_INTERVALS
        if phi >= 1.0:
            slope = 0.0
        if rh_of == 0:
            slope_i = 0.5 * slope
            slope_j = 0.5 * slope
        elif rh_of == 1:
            slope_i = slope
        else:
            slope_j = slope
    else:
        sd = resistance
    g = da / sd
    drop = A[PV] - B[PV]
    gv = g * drop
    gv_zi = g * A[PV_Z] - gv / sd * slope_i * A[PHI_Z]
    gv_ti = g * A[PV_T] - gv / sd * slope_i * A[PHI_T]
    gv_zj = -g * B[PV_Z] - gv / sd * slope_j * B[PHI_Z]
    gv_tj = -g * B[PV_T] - gv / sd * slope_j * B[PHI_T]
    d = g
    lam = 1.0 / heat
    gl = 0.0
    gl_zi = 0.0
    gl_zj = 0.0
    gl_ti = 0.0
    gl_tj = 0.0
    if liquid > 0.0:
        ei = np.exp(z_i)
        ej = np.exp(z_j)
        gl = 0.5 * PA * ((ej - 1.0 / ej) - (ei - 1.0 / ei)) / liquid
        gl_zi = -0.5 * PA * (ei + 1.0 / ei) / liquid
        gl_zj = 0.5 * PA * (ej + 1.0 / ej) / liquid
    u = 1.0 / heat
    q = u * (t_i - t_j)
    q_zi = 0.0
    q_zj = 0.0
    q_ti = u
    q_tj = -u
    return gv, gv_zi, gv_ti, gv_zj, gv_tj, gl, gl_zi, gl_ti, gl_zj, gl_tj, q, q_zi, q_ti, q_zj, q_tj, d, lam


@inlined
def _emitted_beyond(emission, air, face):
    """Long-wave [W/m²] that a face gives off beyond 4 ε σ T_air³ (T − T_air), which its film carries; with its slope."""
    d = face - air
    lost = emission * d * d * (6.0 * air * air + 4.0 * air * d + d * d)
    return lost, emission * d * (12.0 * air * air + 12.0 * air * d + 4.0 * d * d)


@part
def _drain_away(z, T, volume, dt, hl1, touched, drain, drain_heat, rhs, diagonal):
    """Water that a cell or a face no longer holds leaves the wall; `drain` [kg/(m² s)] and the balances of the step."""
    for i in range(z.shape[0]):
        if not touched[i]:
            continue
        drain[i] = 0.0
        drain_heat[i] = 0.0
        if z[i] < -2.0:  # suction below −3.6 kPa
            e = np.exp(z[i])
            over = -0.5 * PA * (e - 1.0 / e)
            rate = DRAIN_CELL * volume[i]
            if volume[i] > 0.0:
                over -= DRAIN_CELL_PA
            else:
                over -= DRAIN_FACE_PA
                rate = DRAIN_FACE
            if over > 0.0:
                drain[i] = rate * over
                drain_heat[i] = hl1 * drain[i] * (T[i] - ZERO)
                by_z_drain = -rate * 0.5 * PA * (e + 1.0 / e)
                rhs[i, 0] += dt * drain[i]
                diagonal[i, 0] += dt * by_z_drain
                rhs[i, 1] += dt * drain_heat[i]
                diagonal[i, 2] += dt * hl1 * by_z_drain * (T[i] - ZERO)
                diagonal[i, 3] += dt * hl1 * drain[i]


@part
def _largest(rhs, tolerance_mass, tolerance_energy, allowed):
    """The largest residual in units of its tolerance, and its node; not finite when any residual is broken."""
    worst = 0.0
    worst_at = 0
    for i in range(rhs.shape[0]):
        size = max(abs(rhs[i, 0]) / tolerance_mass, abs(rhs[i, 1]) / tolerance_energy) / allowed
        if not (size <= worst):
            worst = size
            worst_at = i
    return worst, worst_at


@part
def _solve_blocks(lower, diagonal, upper, rhs, eliminated, step):
    """Block Thomas on 2 × 2 blocks: `step` becomes the solution, `eliminated` is scratch. False when it is not finite."""
    n = rhs.shape[0]
    u0, u1, u2, u3, r0, r1 = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
    for i in range(n):
        # the block before, eliminated, is in u and r; lower[0] is zero
        l0, l1, l2, l3 = lower[i, 0], lower[i, 1], lower[i, 2], lower[i, 3]
        a0 = diagonal[i, 0] - (l0 * u0 + l1 * u2)
        a1 = diagonal[i, 1] - (l0 * u1 + l1 * u3)
        a2 = diagonal[i, 2] - (l2 * u0 + l3 * u2)
        a3 = diagonal[i, 3] - (l2 * u1 + l3 * u3)
        b0 = rhs[i, 0] - (l0 * r0 + l1 * r1)
        b1 = rhs[i, 1] - (l2 * r0 + l3 * r1)
        inv = 1.0 / (a0 * a3 - a1 * a2)
        i0, i1, i2, i3 = a3 * inv, -a1 * inv, -a2 * inv, a0 * inv
        v0, v1, v2, v3 = upper[i, 0], upper[i, 1], upper[i, 2], upper[i, 3]
        u0 = i0 * v0 + i1 * v2
        u1 = i0 * v1 + i1 * v3
        u2 = i2 * v0 + i3 * v2
        u3 = i2 * v1 + i3 * v3
        r0 = i0 * b0 + i1 * b1
        r1 = i2 * b0 + i3 * b1
        eliminated[i, 0], eliminated[i, 1], eliminated[i, 2], eliminated[i, 3] = u0, u1, u2, u3
        step[i, 0], step[i, 1] = r0, r1
    r0, r1 = 0.0, 0.0
    sound = True
    for k in range(n):
        i = n - 1 - k
        # upper[n − 1] is zero
        b0 = step[i, 0] - (eliminated[i, 0] * r0 + eliminated[i, 1] * r1)
        b1 = step[i, 1] - (eliminated[i, 2] * r0 + eliminated[i, 3] * r1)
        r0, r1 = b0, b1
        step[i, 0], step[i, 1] = r0, r1
        if not (np.isfinite(r0) and np.isfinite(r1)):
            sound = False
            break
    return sound


@inlined
def _of_no_weight(i, work, small_mass, small_energy):
    """Whether node i may stay where it is: its row is balanced, and its step would change no row by more than what is small."""
    rhs, step, lower, diagonal, upper = work.rhs, work.step, work.lower, work.diagonal, work.upper
    if abs(rhs[i, 0]) > small_mass or abs(rhs[i, 1]) > small_energy:
        return False
    dz, dt = step[i, 0], step[i, 1]
    mass = abs(diagonal[i, 0] * dz + diagonal[i, 1] * dt)
    energy = abs(diagonal[i, 2] * dz + diagonal[i, 3] * dt)
    if i > 0:
        mass = max(mass, abs(upper[i - 1, 0] * dz + upper[i - 1, 1] * dt))
        energy = max(energy, abs(upper[i - 1, 2] * dz + upper[i - 1, 3] * dt))
    if i < rhs.shape[0] - 1:
        mass = max(mass, abs(lower[i + 1, 0] * dz + lower[i + 1, 1] * dt))
        energy = max(energy, abs(lower[i + 1, 2] * dz + lower[i + 1, 3] * dt))
    return mass <= small_mass and energy <= small_energy


@part
def _shortened_step(z, T, reach, choosing, small_mass, small_energy, work):
    """Newton's step −work.step on z and T, none longer than `reach` in z or 15 K; the node whose T leaves the tables, or −1.

    choosing: nodes whose step weighs nothing stay, and need not be looked up again; their rows are tested all the same.
    """
    left_at = -1
    for i in range(z.shape[0]):
        if choosing and _of_no_weight(i, work, small_mass, small_energy):
            continue
        dz = min(max(-work.step[i, 0], -reach), reach)
        new = z[i] + dz
        # Crossing into over-saturation overshoots from the flat dry side: land just beyond it.
        if z[i] > 0.0 and new < -0.01:
            new = -0.01
        elif z[i] < -0.5 and new > 0.5:
            new = 0.01
        new = min(max(new, Z_MIN + 1e-6), Z_MAX - 1e-6)
        # A shortened step in z shortens the step in T: the direction is of both together.
        share = (new - z[i]) / -work.step[i, 0] if abs(work.step[i, 0]) > 0.05 else 1.0
        z[i] = new
        T[i] += min(max(-work.step[i, 1] * share, -15.0), 15.0)
        if not (T[i] > T_MIN and T[i] < T_MAX):
            left_at = i
            break
    return left_at


@part
def _states(z, T, grid, materials, constants, work):
    """The state of every node in the materials at its sides. A node within one material has but one, in `left`.

    A node that did not move since it was looked up, as at the first look of every step, is not looked up again.
    """
    freezes = constants.fusion > 0.0
    for i in range(z.shape[0]):
        work.moved[i] = z[i] != work.z_seen[i] or T[i] != work.T_seen[i]
        if not work.moved[i]:
            continue
        work.z_seen[i] = z[i]
        work.T_seen[i] = T[i]
        ml, mr = grid.material_left[i], grid.material_right[i]
        _properties(z[i], T[i], ml, materials.by_z, materials.by_phi, materials.by_t, materials.scalars, materials.air,
                    constants.rho_rv, work.left[i])  # fmt: skip
        if freezes and grid.volume[i] > 0.0:
            _frozen(z[i], T[i], ml, materials.by_z, materials.scalars, work.left[i])
        if mr != ml:
            _properties(z[i], T[i], mr, materials.by_z, materials.by_phi, materials.by_t, materials.scalars,
                        materials.air, constants.rho_rv, work.right[i])  # fmt: skip


@part
def _rows(step, dt, fresh, z, T, grid, materials, constants, sources, work):
    """Residual and Jacobian of a node: what it stores over the step, less what is given to it and what its edges bring.

    A row is built where its node or one beside it moved, and everywhere when `fresh`.
    """
    left, rhs, diagonal, lower, upper, edges = work.left, work.rhs, work.diagonal, work.lower, work.upper, work.edges
    w_old, film_old, T_old, owed = work.w_old, work.film_old, work.T_old, work.owed
    c_w, hl1, fusion = constants.c_w, constants.hl1, constants.fusion
    last = z.shape[0] - 1
    for i in range(last + 1):
        touched = fresh or work.moved[i] or (i > 0 and work.moved[i - 1]) or (i < last and work.moved[i + 1])
        work.touched[i] = touched
        if not touched:
            continue
        v = grid.volume[i]
        if v > 0.0:
            w, w_z, w_t = left[i, W], left[i, W_Z], left[i, W_T]
            rc = materials.scalars[grid.material_left[i], HEAT_CAPACITY]
            r0 = (w - w_old[i]) * v - owed[i, 0] - sources[step, grid.node_layer[i], 1] * v * dt
            r1 = -owed[i, 1] - sources[step, grid.node_layer[i], 0] * v * dt
            d0 = w_z * v
            d1 = w_t * v
            from_t = ZERO if constants.carried else T_old[i]
            d2 = v * c_w * w_z * (T[i] - from_t)
            d3 = v * (rc + c_w * w + c_w * w_t * (T[i] - from_t))
            if constants.carried:
                r1 += v * ((rc + c_w * w) * (T[i] - ZERO) - (rc + c_w * w_old[i]) * (T_old[i] - ZERO))
            else:
                r1 += v * (rc + c_w * w) * (T[i] - T_old[i])
            if fusion > 0.0:
                r1 -= fusion * v * (left[i, ICE] - work.ice_old[i])
                d2 -= fusion * v * left[i, ICE_Z]
                d3 -= fusion * v * left[i, ICE_T]
        else:
            e = np.exp(z[i])
            film, film_z = _film(0.5 * PA * (e - 1.0 / e))
            film_z *= 0.5 * PA * (e + 1.0 / e)
            r0 = film - film_old[i] - owed[i, 0]
            d0 = film_z
            d1 = 0.0
            # The film's own heat: carried water changes place at the node's temperature.
            r1 = hl1 * (film * (T[i] - ZERO) - film_old[i] * (T_old[i] - ZERO)) - owed[i, 1]
            d2 = hl1 * film_z * (T[i] - ZERO)
            d3 = hl1 * film
        if i > 0:  # what comes over the edge before
            r0 -= dt * edges[i - 1, M]
            r1 -= dt * edges[i - 1, E]
            d0 -= dt * edges[i - 1, M_ZJ]
            d1 -= dt * edges[i - 1, M_TJ]
            d2 -= dt * edges[i - 1, E_ZJ]
            d3 -= dt * edges[i - 1, E_TJ]
            lower[i, 0] = -dt * edges[i - 1, M_ZI]
            lower[i, 1] = -dt * edges[i - 1, M_TI]
            lower[i, 2] = -dt * edges[i - 1, E_ZI]
            lower[i, 3] = -dt * edges[i - 1, E_TI]
        if i < last:  # what goes over the edge behind
            r0 += dt * edges[i, M]
            r1 += dt * edges[i, E]
            d0 += dt * edges[i, M_ZI]
            d1 += dt * edges[i, M_TI]
            d2 += dt * edges[i, E_ZI]
            d3 += dt * edges[i, E_TI]
            upper[i, 0] = dt * edges[i, M_ZJ]
            upper[i, 1] = dt * edges[i, M_TJ]
            upper[i, 2] = dt * edges[i, E_ZJ]
            upper[i, 3] = dt * edges[i, E_TJ]
        rhs[i, 0], rhs[i, 1] = r0, r1
        diagonal[i, 0], diagonal[i, 1], diagonal[i, 2], diagonal[i, 3] = d0, d1, d2, d3


@part
def _edges(flow, z, T, grid, materials, constants, work):
    """Water and energy from node to node, where one of the two moved. flow: air through everything [kg/m²s], positive inward."""
    left, edges = work.left, work.edges
    same = flow == work.flow_seen[0]
    work.flow_seen[0] = flow
    hv0, hv1, hl1 = constants.hv0, constants.hv1, constants.hl1
    freezes = constants.fusion > 0.0
    for i in range(z.shape[0] - 1):
        j = i + 1
        if same and not work.moved[i] and not work.moved[j]:
            continue
        A = left[i] if grid.material_right[i] == grid.material_left[i] else work.right[i]
        B = left[j]
        # taken apart in either branch: one tuple for both, taken apart once, costs 8 % of the whole run
        if grid.edge_kind[i] == 0:
            gv, gv_zi, gv_ti, gv_zj, gv_tj, gl, gl_zi, gl_ti, gl_zj, gl_tj, q, q_zi, q_ti, q_zj, q_tj, d, lam = (
                _between_nodes(A, B, grid.edge_length[i], grid.volume[i], grid.volume[j], T[i], T[j], freezes)
            )
        else:
            gv, gv_zi, gv_ti, gv_zj, gv_tj, gl, gl_zi, gl_ti, gl_zj, gl_tj, q, q_zi, q_ti, q_zj, q_tj, d, lam = \
                _through_resistance(A, B, z[i], z[j], T[i], T[j], grid.edge_heat[i], grid.edge_sd[i], grid.edge_table[i],
                                    grid.edge_rh_of[i], grid.edge_liquid[i], materials.membranes)  # fmt: skip
        if flow != 0.0:
            weight = _upstream(AIR_HEAT * flow / lam)
            q += AIR_HEAT * flow * (weight * (T[i] - ZERO) + (1.0 - weight) * (T[j] - ZERO))
            q_ti += AIR_HEAT * flow * weight
            q_tj += AIR_HEAT * flow * (1.0 - weight)
            carry = flow * constants.air_vapour
            weight = _upstream(carry / d)
            gv += carry * (weight * A[PV] + (1.0 - weight) * B[PV])
            gv_zi += carry * weight * A[PV_Z]
            gv_ti += carry * weight * A[PV_T]
            gv_zj += carry * (1.0 - weight) * B[PV_Z]
            gv_tj += carry * (1.0 - weight) * B[PV_T]
        # energy carried: the mean temperature of the edge
        mean = 0.5 * (T[i] + T[j]) - ZERO
        hv = hv0 + hv1 * mean
        hl = hl1 * mean
        half = 0.5 * (hv1 * gv + hl1 * gl)
        edges[i, M] = gv + gl
        edges[i, M_ZI] = gv_zi + gl_zi
        edges[i, M_TI] = gv_ti + gl_ti
        edges[i, M_ZJ] = gv_zj + gl_zj
        edges[i, M_TJ] = gv_tj + gl_tj
        edges[i, E] = q + hv * gv + hl * gl
        edges[i, E_ZI] = q_zi + hv * gv_zi + hl * gl_zi
        edges[i, E_TI] = q_ti + hv * gv_ti + hl * gl_ti + half
        edges[i, E_ZJ] = q_zj + hv * gv_zj + hl * gl_zj
        edges[i, E_TJ] = q_tj + hv * gv_tj + hl * gl_tj + half


@part
def _let_in(step, dt, T, ports, constants, work):
    """Water set free at the ports, and their exchange with air of a given state."""
    rhs, diagonal = work.rhs, work.diagonal
    hv0, hv1, hl1 = constants.hv0, constants.hv1, constants.hl1
    for k in range(ports.node.shape[0]):
        i = ports.node[k]
        if not work.touched[i]:
            continue
        S = work.left[i]
        now = ports.series[step, k]
        gx = now[VAPOUR_EXCHANGE] * (now[PV_AIR] - S[PV])
        hv = hv0 + hv1 * (0.5 * (T[i] + now[T_AIR]) - ZERO)
        water = now[WATER]
        e_in = now[HEAT_EXCHANGE] * (now[T_AIR] - T[i]) + hv * gx + hl1 * water * (now[T_WATER] - ZERO)
        rhs[i, 0] -= dt * (water + gx)
        rhs[i, 1] -= dt * e_in
        diagonal[i, 0] += dt * now[VAPOUR_EXCHANGE] * S[PV_Z]
        diagonal[i, 1] += dt * now[VAPOUR_EXCHANGE] * S[PV_T]
        diagonal[i, 2] += dt * hv * now[VAPOUR_EXCHANGE] * S[PV_Z]
        diagonal[i, 3] += dt * (now[HEAT_EXCHANGE] + hv * now[VAPOUR_EXCHANGE] * S[PV_T] - 0.5 * hv1 * gx)
        work.port_flux[k, PORT_WATER] = water
        work.port_flux[k, PORT_VAPOUR] = gx
        work.port_flux[k, PORT_HEAT] = e_in


@part
def _end(end, dt, flow, z, T, materials, material, boundary, constants, work):
    """Heat, vapour, rain and air at an end of the wall (0 outside, 1 inside); the row of a prescribed one is replaced."""
    rhs, diagonal, lower, upper, flux = work.rhs, work.diagonal, work.lower, work.upper, work.flux
    hv0, hv1, hl1, air_vapour = constants.hv0, constants.hv1, constants.hl1, constants.air_vapour
    b = work.ends[end]
    i = 0 if end == 0 else z.shape[0] - 1
    S = work.left[i]
    hk = boundary.kinds[end, 0]
    mk = boundary.kinds[end, 1]
    q_film = 0.0
    q_given = 0.0
    dq = 0.0
    if hk == FILM:
        q_film = b[H_FILM] * (b[T_ENV] - T[i])
        dq = -b[H_FILM]
        q_given = b[Q_GIVEN]
        beyond, beyond_t = _emitted_beyond(boundary.emission[end], b[T_ENV], T[i])
        q_film -= beyond
        dq -= beyond_t
    elif hk == GIVEN:
        q_given = b[Q_GIVEN]
    gv = 0.0
    gv_z = 0.0
    gv_t = 0.0
    if mk == FILM:
        gv = b[BETA] * (b[PV_ENV] - S[PV])
        gv_z = -b[BETA] * S[PV_Z]
        gv_t = -b[BETA] * S[PV_T]
    elif mk == GIVEN:
        gv = b[G_GIVEN]
    entering = flow if end == 0 else -flow  # air, positive into the wall
    air_heat = 0.0
    air_heat_t = 0.0
    if entering > 0.0:
        if mk == FILM:
            gv += entering * air_vapour * b[PV_ENV]
        else:
            gv += entering * air_vapour * S[PV]
            gv_z += entering * air_vapour * S[PV_Z]
            gv_t += entering * air_vapour * S[PV_T]
        air_heat = AIR_HEAT * entering * ((b[T_ENV] if hk < GIVEN else T[i]) - ZERO)
        air_heat_t = 0.0 if hk < GIVEN else AIR_HEAT * entering
    elif entering < 0.0:
        gv += entering * air_vapour * S[PV]
        gv_z += entering * air_vapour * S[PV_Z]
        gv_t += entering * air_vapour * S[PV_T]
        air_heat = AIR_HEAT * entering * (T[i] - ZERO)
        air_heat_t = AIR_HEAT * entering
    rain = b[RAIN]
    off = 0.0
    off_z = 0.0
    if materials.scalars[material, CAPILLARY] == 0.0:
        off = rain  # nothing draws liquid in: all of it runs off
    elif boundary.runoff_on[end] and z[i] < 0.0:
        e = np.exp(z[i])
        off = -RUN_OFF * 0.5 * PA * (e - 1.0 / e)
        off_z = -RUN_OFF * 0.5 * PA * (e + 1.0 / e)
    gl = rain - off
    # vapour crosses the film at the mean of air and surface; water leaves at the surface's T
    t_env = b[T_ENV] if hk == FILM else T[i]
    half_env = 0.5 if hk == FILM else 1.0
    t_v = (0.5 * (t_env + T[i]) if hk == FILM else T[i]) - ZERO
    hv = hv0 + hv1 * t_v
    t_s = T[i] - ZERO
    e_liquid = hl1 * (rain * (b[T_RAIN] - ZERO) - off * t_s)
    e_in = q_film + q_given + air_heat + hv * gv + e_liquid
    rhs[i, 0] -= dt * (gv + gl)
    rhs[i, 1] -= dt * e_in
    diagonal[i, 0] -= dt * (gv_z - off_z)
    diagonal[i, 1] -= dt * gv_t
    diagonal[i, 2] -= dt * (hv * gv_z - hl1 * off_z * t_s)
    diagonal[i, 3] -= dt * (dq + air_heat_t + hv * gv_t + hv1 * half_env * gv - hl1 * off)
    flux[end, BY_FILM] = q_film + air_heat + (q_given if hk == GIVEN else 0.0)
    flux[end, ABSORBED] = q_given if hk == FILM else 0.0
    flux[end, VAPOUR] = gv
    flux[end, LIQUID] = gl
    flux[end, OFFERED] = rain
    flux[end, OFF] = off
    work.energy[end] = e_in
    if mk == PRESCRIBED:  # surface RH: the water it takes arrives as vapour
        for k in range(2):
            lower[i, 2 + k] -= hv * lower[i, k]
            upper[i, 2 + k] -= hv * upper[i, k]
            diagonal[i, 2 + k] -= hv * diagonal[i, k]
        diagonal[i, 3] -= hv1 * rhs[i, 0]
        rhs[i, 1] -= hv * rhs[i, 0]
        flux[end, VAPOUR] += rhs[i, 0] / dt
        work.energy[end] += hv * rhs[i, 0] / dt
        kelvin = materials.scalars[material, KELVIN_T]
        u = -constants.rho_rv * (kelvin if kelvin > 0.0 else T[i]) * np.log(b[PV_ENV]) / PA
        rhs[i, 0] = z[i] - np.log(u + np.sqrt(u * u + 1.0))
        diagonal[i, 0] = 1.0
        diagonal[i, 1] = 0.0 if kelvin > 0.0 else -u / (T[i] * np.sqrt(u * u + 1.0))
        for k in range(2):
            lower[i, k] = 0.0
            upper[i, k] = 0.0
    if hk == PRESCRIBED:  # surface temperature: what the wall takes is the flux in
        excess = rhs[i, 1] / dt
        flux[end, BY_FILM] = excess
        work.energy[end] += excess
        _hold_temperature(i, T[i] - b[T_ENV], work)


@inlined
def _hold_temperature(i, off, work):
    """The balance of energy at a node replaced by its temperature, which is `off` from where it is held."""
    work.rhs[i, 1] = off
    work.diagonal[i, 2] = 0.0
    work.diagonal[i, 3] = 1.0
    for k in range(2, 4):
        work.lower[i, k] = 0.0
        work.upper[i, k] = 0.0


@part
def assemble(step, dt, fresh, z, T, grid, materials, constants, boundary, ports, work):
    """Residual of the balances at the end of a step dt, in work.rhs, and its Jacobian, in the three bands.

    paid: share of the carried remainder that enters. fresh: something else than z and T changed since the last call, and
    every row is built; otherwise those that a node which moved touches. work.ends holds the boundary at the end of the
    step; work.*_old the state at its beginning. Rows and columns of a block: moisture by z and T, energy by z and T.
    """
    flow = ports.through[step]
    _states(z, T, grid, materials, constants, work)
    _edges(flow, z, T, grid, materials, constants, work)
    _rows(step, dt, fresh, z, T, grid, materials, constants, boundary.sources, work)
    _drain_away(
        z, T, grid.volume, dt, constants.hl1, work.touched, work.drain, work.drain_heat, work.rhs, work.diagonal
    )
    _let_in(step, dt, T, ports, constants, work)
    for end in range(2):
        i = 0 if end == 0 else z.shape[0] - 1
        if work.touched[i]:
            _end(end, dt, flow, z, T, materials, grid.material_left[i], boundary, constants, work)
    if not constants.heat_on:
        for i in range(z.shape[0]):
            if work.touched[i]:
                _hold_temperature(i, T[i] - work.T_old[i], work)


@part
def _ends_at(share, step, boundary, work):
    """The boundary at a share of its step."""
    for end in range(2):
        for k in range(8):
            at_start, at_end = boundary.series[step, end, k, 0], boundary.series[step, end, k, 1]
            work.ends[end, k] = at_start + share * (at_end - at_start)


@part
def _newton(step, dt, allowed, grid, materials, constants, boundary, ports, steps, state, work):
    """One implicit step, to a number of tolerances that is allowed. Returns its Stage."""
    small = NO_WEIGHT * allowed
    z, T = state.z, state.T
    worst = 0.0
    worst_at = 0
    for iteration in range(MAX_ITERATIONS):
        assemble(step, dt, iteration == 0, z, T, grid, materials, constants, boundary, ports, work)  # fmt: skip
        worst, worst_at = _largest(work.rhs, steps.tolerance_mass, steps.tolerance_energy, allowed)
        if worst <= 1.0:
            return Stage(True, iteration + 1, worst, worst_at, 0.0)
        if not np.isfinite(worst):
            return Stage(False, iteration + 1, worst, worst_at, 0.0)
        # Two points whose tangents lead to each other would be visited for ever: shorten the steps.
        reach = 2.5 if iteration < 9 else max(2.5 * 0.6 ** (iteration - 8), 0.1)
        if not _solve_blocks(work.lower, work.diagonal, work.upper, work.rhs, work.eliminated, work.step):
            return Stage(False, iteration + 1, worst, worst_at, 0.0)
        left_at = _shortened_step(z, T, reach, iteration > 0, small * steps.tolerance_mass, small * steps.tolerance_energy, work)  # fmt: skip
        if left_at >= 0:
            return Stage(False, iteration + 1, worst, left_at, T[left_at])
    return Stage(False, MAX_ITERATIONS, worst, worst_at, 0.0)


@part
def _owe(paid, state, work):
    """What a stage is given beside its own fluxes: the part that is paid of what the steps before left."""
    for i in range(state.z.shape[0]):
        work.owed[i, 0] = paid * state.carry_mass[i]
        work.owed[i, 1] = paid * state.carry_energy[i]


@part
def _stored(i, T, grid, materials, constants, work):
    """Water [kg/m²] and energy [J/m²] that node i has stored since the step began."""
    v = grid.volume[i]
    if v > 0.0:
        w = work.left[i, W]
        rc = materials.scalars[grid.material_left[i], HEAT_CAPACITY]
        c_w = constants.c_w
        if constants.carried:
            heat = v * ((rc + c_w * w) * (T[i] - ZERO) - (rc + c_w * work.w_old[i]) * (work.T_old[i] - ZERO))
        else:
            heat = v * (rc + c_w * w) * (T[i] - work.T_old[i])
        if constants.fusion > 0.0:
            heat -= constants.fusion * v * (work.left[i, ICE] - work.ice_old[i])
        return (w - work.w_old[i]) * v, heat
    film = _film_at(work.z_seen[i])
    return film - work.film_old[i], constants.hl1 * (film * (T[i] - ZERO) - work.film_old[i] * (work.T_old[i] - ZERO))


@part
def _begin_second(grid, materials, constants, boundary, state, work):
    """After the first stage: what its fluxes bring to a node is owed to the second, and is kept to be added up.

    False, with nothing owed, where a node has less water than that takes, or no room for what it brings: a film that dries,
    a face that is soaked by rain.
    """
    n = state.z.shape[0]
    share = (1.0 - GAMMA) / GAMMA
    _held_leave_nothing(constants, boundary, work)
    for i in range(n):
        water, heat = _stored(i, state.T, grid, materials, constants, work)
        v = grid.volume[i]
        held = (work.w_old[i] * v if v > 0.0 else work.film_old[i]) + share * water
        if held < -OVERSHOOT or (
            v > 0.0 and held > OVERSHOOT + v * materials.by_z[grid.material_left[i], SATURATED, 0]
        ):
            return False
        work.step[i, 0] = share * (water - work.owed[i, 0] - work.rhs[i, 0])
        work.step[i, 1] = share * (heat - work.owed[i, 1] - work.rhs[i, 1])
    for i in range(n):
        work.owed[i, 0] += work.step[i, 0]
        work.owed[i, 1] += work.step[i, 1]
    first = work.first
    for end in range(2):
        first.energy[end] = work.energy[end]
        for k in range(6):
            first.flux[end, k] = work.flux[end, k]
    for i in range(n):
        first.drain[i] = work.drain[i]
        first.drain_heat[i] = work.drain_heat[i]
    for k in range(work.port_flux.shape[0]):
        for c in range(3):
            first.port_flux[k, c] = work.port_flux[k, c]
    return True


@part
def _dried(z, film_old, volume):
    """Whether a film that lay on a face when the step began is gone: when it went is not to be seen at the step's end."""
    for i in range(z.shape[0]):
        lay = volume[i] == 0.0 and film_old[i] > FILM_STORAGE * FILM_ROUND
        if lay and _film_at(z[i]) < 0.5 * FILM_STORAGE * FILM_ROUND:
            return True
    return False


@part
def _mean_of_stages(work):
    """Fluxes of both stages by their weights, in place of those of the second."""
    first = work.first
    a, b = 1.0 - GAMMA, GAMMA
    for end in range(2):
        work.energy[end] = a * first.energy[end] + b * work.energy[end]
        for k in range(6):
            work.flux[end, k] = a * first.flux[end, k] + b * work.flux[end, k]
    for i in range(work.drain.shape[0]):
        work.drain[i] = a * first.drain[i] + b * work.drain[i]
        work.drain_heat[i] = a * first.drain_heat[i] + b * work.drain_heat[i]
    for k in range(work.port_flux.shape[0]):
        for c in range(3):
            work.port_flux[k, c] = a * first.port_flux[k, c] + b * work.port_flux[k, c]


@part
def _held_leave_nothing(constants, boundary, work):
    """A row that is prescribed is no balance: nothing of it is left over."""
    n = work.rhs.shape[0]
    for end in range(2):
        i = 0 if end == 0 else n - 1
        if boundary.kinds[end, 0] == PRESCRIBED:
            work.rhs[i, 1] = 0.0
        if boundary.kinds[end, 1] == PRESCRIBED:
            work.rhs[i, 0] = 0.0
    if not constants.heat_on:
        for i in range(n):
            work.rhs[i, 1] = 0.0


@part
def _carry_over(paid, constants, boundary, state, work):
    """What Newton left of the balances is owed to the next steps."""
    _held_leave_nothing(constants, boundary, work)
    for i in range(state.z.shape[0]):
        state.carry_mass[i] = state.carry_mass[i] * (1.0 - paid) - work.rhs[i, 0]
        state.carry_energy[i] = state.carry_energy[i] * (1.0 - paid) - work.rhs[i, 1]


@part
def _accept(step, dt, paid, grid, materials, constants, boundary, ports, state, work):
    """The state of the step becomes the old one; what it stored and what came in is added up."""
    z, T, totals = state.z, state.T, state.totals
    _carry_over(paid, constants, boundary, state, work)
    for i in range(z.shape[0]):
        water, heat = _stored(i, T, grid, materials, constants, work)
        totals[WATER_STORED] += water
        totals[ENERGY_STORED] += heat
        v = grid.volume[i]
        if v > 0.0:
            work.w_old[i] = work.left[i, W]
            work.ice_old[i] = work.left[i, ICE]
            totals[WATER_IN] += boundary.sources[step, grid.node_layer[i], 1] * v * dt
            totals[ENERGY_IN] += boundary.sources[step, grid.node_layer[i], 0] * v * dt
        else:
            work.film_old[i] = _film_at(z[i])
        if z[i] < state.seen[i, 0]:
            state.seen[i, 0] = z[i]
        if z[i] > state.seen[i, 1]:
            state.seen[i, 1] = z[i]
        work.z_old[i] = z[i]
        work.T_old[i] = T[i]
    for end in range(2):
        water = work.flux[end, VAPOUR] + work.flux[end, LIQUID]
        totals[WATER_IN] += water * dt
        totals[WATER_TURNED] += (abs(work.flux[end, VAPOUR]) + abs(work.flux[end, LIQUID])) * dt
        totals[ENERGY_IN] += work.energy[end] * dt
        totals[ENERGY_TURNED] += (abs(work.energy[end])) * dt
        for k in range(6):
            work.sums[end, k] += work.flux[end, k] * dt
    drained = ports.node.shape[0]  # their last row
    for i in range(z.shape[0]):
        if work.drain[i] > 0.0:
            totals[WATER_IN] -= work.drain[i] * dt
            totals[WATER_TURNED] += work.drain[i] * dt
            totals[ENERGY_IN] -= work.drain_heat[i] * dt
            work.port_sums[drained, 0] -= work.drain[i] * dt
    for k in range(ports.node.shape[0]):
        gained = work.port_flux[k, PORT_WATER] + work.port_flux[k, PORT_VAPOUR]
        totals[WATER_IN] += gained * dt
        totals[WATER_TURNED] += abs(gained) * dt
        totals[ENERGY_IN] += work.port_flux[k, PORT_HEAT] * dt
        totals[ENERGY_TURNED] += abs(work.port_flux[k, PORT_HEAT]) * dt
        work.port_sums[k, 0] += work.port_flux[k, PORT_WATER] * dt
        work.port_sums[k, 1] += work.port_flux[k, PORT_VAPOUR] * dt


@part
def _record(at, grid, steps, state, records, work):
    """One record: the state, the water by layer, and the means since the record before."""
    n = state.z.shape[0]
    for i in range(n):
        records.z[at, i] = state.z[i]
        records.T[at, i] = state.T[i]
    for k in range(grid.layer_count + 1):
        records.water[at, k] = 0.0
    for i in range(n):
        if grid.volume[i] > 0.0:
            records.water[at, grid.node_layer[i]] += work.w_old[i] * grid.volume[i]
        else:
            records.water[at, grid.layer_count] += work.film_old[i]
    for end in range(2):
        for k in range(6):
            records.flux[at, end, k] = work.sums[end, k] / (steps.step_s * steps.record_every)
            work.sums[end, k] = 0.0
    for k in range(work.port_sums.shape[0]):
        for gain in range(2):
            records.port[at, k, gain] = work.port_sums[k, gain] / (steps.step_s * steps.record_every)
            work.port_sums[k, gain] = 0.0


@part
def _solve(step, done, dt, two, grid, materials, constants, boundary, ports, steps, state, work):
    """A step from `done` seconds into the boundary step, in one stage or in two. Returns its Step."""
    part_dt = GAMMA * dt if two else dt
    # Over a short step the remainder of the steps before would be an enormous flux: it is paid in parts.
    paid = min(1.0, part_dt / CARRY_S)
    allowed = max(paid, LEAST_ALLOWED)
    _owe(paid, state, work)
    _ends_at((done + part_dt) / steps.step_s, step, boundary, work)
    first = _newton(
        step,
        part_dt,
        FIRST_ALLOWED * allowed if two else allowed,
        grid,
        materials,
        constants,
        boundary,
        ports,
        steps,
        state,
        work,
    )
    if not (two and first.converged):
        return Step(first, dt, paid)
    if not _begin_second(grid, materials, constants, boundary, state, work):
        return Step(first, part_dt, paid)
    _ends_at((done + dt) / steps.step_s, step, boundary, work)
    second = _newton(step, part_dt, allowed, grid, materials, constants, boundary, ports, steps, state, work)
    _mean_of_stages(work)
    converged = second.converged and not _dried(state.z, work.film_old, grid.volume)
    iterations = first.iterations + second.iterations
    return Step(Stage(converged, iterations, second.worst, second.worst_at, second.left_t), dt, paid)


@njit(**COMPILED)
def begin(grid, materials, constants, ports, state):
    """Scratch for a call, with the state as it is now taken for the old one."""
    n = state.z.shape[0]
    work = Work(
        np.zeros((n, 24)), np.zeros((n, 24)), np.full(n, np.inf), np.full(n, np.inf),
        np.zeros(n, np.bool_), np.zeros(n, np.bool_), np.zeros((n - 1, 10)), np.full(1, np.nan),
        np.zeros((n, 4)), np.zeros((n, 4)), np.zeros((n, 4)), np.zeros((n, 2)), np.zeros((n, 4)), np.zeros((n, 2)),
        state.z.copy(), state.T.copy(), np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n),
        np.zeros((ports.node.shape[0], 3)), np.zeros((2, 8)), np.zeros((2, 6)), np.zeros(2), np.zeros((n, 2)),
        FirstStage(np.zeros((2, 6)), np.zeros(2), np.zeros(n), np.zeros(n), np.zeros((ports.node.shape[0], 3))), np.zeros((2, 6)),
        np.zeros((ports.node.shape[0] + 1, 2)),
    )  # fmt: skip
    work.left[:, OPEN] = 1.0
    work.right[:, OPEN] = 1.0
    _states(state.z, state.T, grid, materials, constants, work)
    for i in range(n):
        work.w_old[i] = work.left[i, W]
        if grid.volume[i] > 0.0:
            work.ice_old[i] = work.left[i, ICE]
        else:
            work.film_old[i] = _film_at(state.z[i])
    return work


@njit(**UNCOUNTED, nogil=True)
def advance(first, last, record_at, grid, materials, constants, boundary, ports, steps, state, records, work):
    """Advance the state over boundary steps first … last − 1; records are filled from index `record_at`.

    returns: OK, FAILED, or PAUSED after much work within a block: at a record, to be called again from
    control[GO_ON_FROM].
    """
    stats, control = state.stats, state.control
    dt_wish = control[NEXT_STEP_S]
    began = stats[ITERATIONS]
    recorded = record_at
    for step in range(first, last):
        done = 0.0
        tries = 0
        worst = 0.0
        worst_at = 0
        single = False  # the rest of this boundary step goes in steps of one stage
        while done < steps.step_s * (1.0 - 1e-12):
            tries += 1
            if tries > MOST_TRIES:  # asked of every try: a step taken with many iterations is halved too
                stats[FAILED_AT] = step * steps.step_s + done
                stats[FAILED_NODE] = worst_at
                stats[FAILED_RESIDUAL] = worst
                return FAILED
            two = steps.stages == 2 and not single
            dt = min(dt_wish, steps.largest / SHORTER if single else steps.largest, steps.step_s - done)
            if steps.step_s - done - dt < 1e-9 * steps.step_s:
                dt = steps.step_s - done
            taken = _solve(step, done, dt, two, grid, materials, constants, boundary, ports, steps, state, work)
            worst, worst_at, iterations = taken.stage.worst, taken.stage.worst_at, taken.stage.iterations
            stats[ITERATIONS] += iterations
            if not taken.stage.converged:
                stats[REFUSED] += 1
                single = steps.stages == 2
                for i in range(state.z.shape[0]):
                    state.z[i] = work.z_old[i]
                    state.T[i] = work.T_old[i]
                dt_wish = SHRINK * dt
                if dt_wish < steps.smallest:
                    stats[FAILED_AT] = step * steps.step_s + done
                    stats[FAILED_NODE] = worst_at
                    stats[FAILED_RESIDUAL] = worst
                    stats[BEYOND_TABLES] = taken.stage.left_t
                    return FAILED
                continue
            stats[STEPS] += 1
            if taken.length < dt:  # the first stage alone
                two, single, dt = False, True, taken.length
            _accept(step, dt, taken.paid, grid, materials, constants, boundary, ports, state, work)
            done += dt
            longer = SHORTER if single else LONGER
            stages = 2 if two else 1
            if iterations <= FEW_ITERATIONS * stages:
                dt_wish = max(dt_wish, min(longer * dt, steps.largest)) if dt < dt_wish else longer * dt
            elif iterations > MANY_ITERATIONS * stages:
                dt_wish = max(HALVED * dt, steps.smallest)
            else:
                dt_wish = dt
        if (step + 1) % steps.record_every == 0:
            _record(recorded, grid, steps, state, records, work)
            recorded += 1
            if stats[ITERATIONS] - began > BUDGET and step + 1 < last:
                control[NEXT_STEP_S] = dt_wish
                control[GO_ON_FROM] = step + 1
                return PAUSED
    control[NEXT_STEP_S] = dt_wish
    control[GO_ON_FROM] = last
    return OK
